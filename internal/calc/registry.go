// Package calc serves the sums of the core as JSON: one request type and one
// answer type a calculator, units in the field names, nothing rounded.
//
// The Go types are the single source: their tags give the defaults, the JSON
// Schema that refuses bad input, and the OpenAPI description.
//
//	answer, err := calc.Run(ctx, "puddle-height", strings.NewReader("{}"))
//
// A refusal is a [*Problem] (RFC 9457).
package calc

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"sort"
	"sync"

	"github.com/creasty/defaults"
	"github.com/santhosh-tekuri/jsonschema/v6"
	schemas "github.com/swaggest/jsonschema-go"

	"jevvo/internal/msg"
)

// MaxBody bounds a request.
const MaxBody = 16 << 20

// A Calculator is one sum: what it takes, what it gives.
type Calculator struct {
	Name, Summary   string
	Request, Answer any   // zero values, for the description
	Page            *Page // how it is asked by hand; nil where another page of the program does
	schema          func() *jsonschema.Schema
	run             func(ctx context.Context, body []byte) (any, error)
}

var (
	registry = map[string]*Calculator{}
	ordered  []*Calculator // as they are defined
)

// define adds a calculator.
func define[Req, Ans any](name, summary string, f func(Req) (Ans, error)) *Calculator {
	return defineLong(name, summary, func(_ context.Context, r Req) (Ans, error) { return f(r) })
}

// defineLong adds a calculator that may take seconds, and ends with its context.
func defineLong[Req, Ans any](name, summary string, f func(context.Context, Req) (Ans, error)) *Calculator {
	c := &Calculator{
		Name: name, Summary: summary, Request: new(Req), Answer: new(Ans),
		schema: lazily(name, new(Req)),
		run: func(ctx context.Context, body []byte) (any, error) {
			var req Req
			if err := defaults.Set(&req); err != nil {
				return nil, err
			}
			if err := json.Unmarshal(body, &req); err != nil {
				return nil, err
			}
			return f(ctx, req)
		},
	}
	registry[name] = c
	ordered = append(ordered, c)
	return c
}

// Names returns all calculators in alphabetical order.
func Names() []string {
	names := make([]string, 0, len(registry))
	for n := range registry {
		names = append(names, n)
	}
	sort.Strings(names)
	return names
}

// Find returns the calculator of that name.
func Find(name string) (*Calculator, bool) {
	c, ok := registry[name]
	return c, ok
}

// Run reads a request for the named calculator and returns its answer as
// JSON, or a *Problem.
func Run(ctx context.Context, name string, in io.Reader) ([]byte, error) {
	c, ok := Find(name)
	if !ok {
		return nil, &Problem{Title: "No such calculator", Status: http.StatusNotFound,
			Detail: msg.F("there is no calculator %q", name)}
	}
	body, err := io.ReadAll(io.LimitReader(in, MaxBody+1))
	if err != nil {
		return nil, notJSON("the request could not be read")
	}
	if len(body) > MaxBody {
		return nil, &Problem{Title: "Too large", Status: http.StatusRequestEntityTooLarge,
			Detail: msg.ID("a request is at most 16 MiB")}
	}
	return c.Run(ctx, body)
}

// Run calculates one request.
func (c *Calculator) Run(ctx context.Context, body []byte) ([]byte, error) {
	value, err := parse(body)
	if err != nil {
		return nil, err
	}
	if err := c.schema().Validate(value); err != nil {
		return nil, refused(fieldErrors(err)...)
	}
	answer, err := c.run(ctx, body)
	if err != nil {
		return nil, asProblem(err)
	}
	out, err := json.Marshal(answer)
	if err != nil { // NaN or infinity: an input at the edge of what floats hold
		return nil, refused(FieldError{Message: msg.ID("these values are out of range: the answer is not a finite number")})
	}
	return out, nil
}

// lazily compiles the schema of a request type when it is asked first: there are four dozen.
func lazily(name string, req any) func() *jsonschema.Schema {
	return sync.OnceValue(func() *jsonschema.Schema { return compile(name, req) })
}

// compile makes the schema of a request type; it panics on one that has none, which is a mistake in this
// package that every calculator's test finds.
func compile(name string, req any) *jsonschema.Schema {
	reflector := schemas.Reflector{}
	s, err := reflector.Reflect(req, schemas.InlineRefs)
	if err == nil {
		var raw []byte
		if raw, err = json.Marshal(s); err == nil {
			var doc any
			if doc, err = jsonschema.UnmarshalJSON(bytes.NewReader(raw)); err == nil {
				c := jsonschema.NewCompiler()
				if err = c.AddResource(name+".json", doc); err == nil {
					return c.MustCompile(name + ".json")
				}
			}
		}
	}
	panic(fmt.Sprintf("calculator %s: %v", name, err))
}

// asProblem turns an error of the core into a 422.
func asProblem(err error) error {
	var p *Problem
	if errors.As(err, &p) {
		return p
	}
	var f FieldError
	if errors.As(err, &f) {
		return refused(f)
	}
	var t *json.UnmarshalTypeError
	if errors.As(err, &t) {
		return refused(FieldError{Field: t.Field, Message: msg.ID("has the wrong type")})
	}
	return refused(FieldError{Message: msg.Of(err)})
}

// at names the field an error of the core is about.
func at(field string, err error) error {
	if err == nil {
		return nil
	}
	return FieldError{Field: field, Message: msg.Of(err)}
}
