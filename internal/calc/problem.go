package calc

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"math"
	"math/big"
	"net/http"
	"strconv"
	"strings"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"

	"jevvo/internal/msg"
)

// A Problem is a refusal as of RFC 9457.
type Problem struct {
	Title  msg.ID
	Status int
	Detail msg.Text
	Errors []FieldError
}

// A FieldError says what is wrong with one field.
type FieldError struct {
	Field   string
	Message msg.Text
}

// A ProblemObject is a problem as it is sent.
type ProblemObject struct {
	Type   string       `json:"type" default:"about:blank" description:"Kind of problem."`
	Title  string       `json:"title"`
	Status int          `json:"status"`
	Detail string       `json:"detail,omitempty"`
	Errors []FieldWrong `json:"errors,omitempty"`
}

// A FieldWrong is the error of one field, as it is sent.
type FieldWrong struct {
	Field   string `json:"field"`
	Message string `json:"message"`
}

func (p *Problem) Error() string { return string(p.Title) + ": " + msg.Say(p.Detail, msg.English) }

// JSON returns the problem object in a language.
func (p *Problem) JSON(l msg.Lang) []byte {
	o := ProblemObject{Type: "about:blank", Title: p.Title.In(l), Status: p.Status, Detail: msg.Say(p.Detail, l)}
	for _, e := range p.Errors {
		o.Errors = append(o.Errors, FieldWrong{e.Field, msg.Say(e.Message, l)})
	}
	out, err := json.Marshal(o)
	if err != nil {
		return []byte(`{"type":"about:blank","title":"Internal error","status":500}`)
	}
	return out
}

func (f FieldError) Error() string { return f.Field + ": " + msg.Say(f.Message, msg.English) }

func refused(errs ...FieldError) *Problem {
	p := &Problem{Title: "The input is not valid", Status: http.StatusUnprocessableEntity, Errors: errs}
	if len(errs) > 0 {
		p.Detail = msg.Join(" ", msg.Own(errs[0].Field), errs[0].Message)
	}
	return p
}

func notJSON(detail string) *Problem {
	return &Problem{Title: "Not JSON", Status: http.StatusBadRequest, Detail: msg.Own(detail)}
}

// parse reads one JSON value; numbers beyond a float are refused by name.
func parse(body []byte) (any, error) {
	dec := json.NewDecoder(bytes.NewReader(body))
	dec.UseNumber()
	var v any
	if err := dec.Decode(&v); err != nil {
		return nil, notJSON("the request is not JSON: " + strings.TrimPrefix(err.Error(), "json: "))
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return nil, notJSON("there is something after the JSON value")
	}
	return floats(v, "")
}

// floats turns json.Number into float64 throughout.
func floats(v any, path string) (any, error) {
	var err error
	switch x := v.(type) {
	case json.Number:
		f, perr := strconv.ParseFloat(x.String(), 64)
		if perr != nil || math.IsInf(f, 0) {
			return nil, refused(FieldError{path, msg.ID("is larger than any number here can be")})
		}
		return f, nil
	case map[string]any:
		for k, e := range x {
			if x[k], err = floats(e, join(path, k)); err != nil {
				return nil, err
			}
		}
	case []any:
		for i, e := range x {
			if x[i], err = floats(e, join(path, strconv.Itoa(i))); err != nil {
				return nil, err
			}
		}
	}
	return v, nil
}

// join appends a step to a field name: "cups[0].share".
func join(path, step string) string {
	if _, err := strconv.Atoi(step); err == nil && path != "" {
		return path + "[" + step + "]"
	}
	if path == "" {
		return step
	}
	return path + "." + step
}

// fieldErrors flattens a schema refusal into one line a field.
func fieldErrors(err error) []FieldError {
	var v *jsonschema.ValidationError
	if !errors.As(err, &v) {
		return []FieldError{{Message: msg.Of(err)}}
	}
	if len(v.Causes) > 0 {
		var all []FieldError
		for _, c := range v.Causes {
			all = append(all, fieldErrors(c)...)
		}
		return all
	}
	path := ""
	for _, step := range v.InstanceLocation {
		path = join(path, step)
	}
	if req, ok := v.ErrorKind.(*kind.Required); ok {
		var all []FieldError
		for _, m := range req.Missing {
			all = append(all, FieldError{join(path, m), msg.ID("is missing")})
		}
		return all
	}
	return []FieldError{{path, message(v.ErrorKind)}}
}

func message(k jsonschema.ErrorKind) msg.Text {
	switch k := k.(type) {
	case *kind.Type:
		return msg.F("must be %s, not %s", strings.Join(k.Want, " or "), k.Got)
	case *kind.Minimum:
		return msg.F("must be at least %s", number(k.Want))
	case *kind.ExclusiveMinimum:
		return msg.F("must be more than %s", number(k.Want))
	case *kind.Maximum:
		return msg.F("must be at most %s", number(k.Want))
	case *kind.ExclusiveMaximum:
		return msg.F("must be less than %s", number(k.Want))
	case *kind.Enum:
		return msg.F("must be one of %v", k.Want)
	case *kind.MinItems:
		return msg.F("needs at least %d entries", k.Want)
	case *kind.MaxItems:
		return msg.F("takes at most %d entries", k.Want)
	case *kind.Pattern:
		return msg.F("must look like %s", k.Want)
	}
	return msg.ID("is not valid")
}

func number(r *big.Rat) string {
	f, _ := r.Float64()
	return strconv.FormatFloat(f, 'g', -1, 64)
}
