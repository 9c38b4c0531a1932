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

	"jevvo/internal/words"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
)

// A Problem is a refusal as of RFC 9457.
type Problem struct {
	Type   string       `json:"type" default:"about:blank" description:"Kind of problem."`
	Title  string       `json:"title"`
	Status int          `json:"status"`
	Detail string       `json:"detail,omitempty"`
	Errors []FieldError `json:"errors,omitempty"`
}

// A FieldError says what is wrong with one field.
type FieldError struct {
	Field   string `json:"field"`
	Message string `json:"message"`
}

func (p *Problem) Error() string { return p.Title + ": " + p.Detail }

// JSON returns the problem object.
func (p *Problem) JSON() []byte {
	q := *p
	if q.Type == "" {
		q.Type = "about:blank"
	}
	out, err := json.Marshal(q)
	if err != nil {
		return []byte(`{"type":"about:blank","title":"Internal error","status":500}`)
	}
	return out
}

func (f FieldError) Error() string { return f.Field + ": " + f.Message }

func refused(errs ...FieldError) *Problem {
	p := &Problem{Title: "The input cannot be", Status: http.StatusUnprocessableEntity, Errors: errs}
	if len(errs) > 0 {
		p.Detail = strings.TrimSpace(errs[0].Field + " " + errs[0].Message)
	}
	return p
}

func notJSON(detail string) *Problem {
	return &Problem{Title: "Not JSON", Status: http.StatusBadRequest, Detail: detail}
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
			return nil, refused(FieldError{path, words.T("is larger than any number here can be")})
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
		return []FieldError{{Message: words.Error(err)}}
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
			all = append(all, FieldError{join(path, m), words.T("is missing")})
		}
		return all
	}
	return []FieldError{{path, message(v.ErrorKind)}}
}

func message(k jsonschema.ErrorKind) string {
	switch k := k.(type) {
	case *kind.Type:
		return words.F("must be %s, not %s", strings.Join(k.Want, " or "), k.Got)
	case *kind.Minimum:
		return words.F("must be at least %s", number(k.Want))
	case *kind.ExclusiveMinimum:
		return words.F("must be more than %s", number(k.Want))
	case *kind.Maximum:
		return words.F("must be at most %s", number(k.Want))
	case *kind.ExclusiveMaximum:
		return words.F("must be less than %s", number(k.Want))
	case *kind.Enum:
		return words.F("must be one of %v", k.Want)
	case *kind.MinItems:
		return words.F("needs at least %d entries", k.Want)
	case *kind.MaxItems:
		return words.F("takes at most %d entries", k.Want)
	case *kind.Pattern:
		return words.F("must look like %s", k.Want)
	}
	return words.T("is not valid")
}

func number(r *big.Rat) string {
	f, _ := r.Float64()
	return strconv.FormatFloat(f, 'g', -1, 64)
}
