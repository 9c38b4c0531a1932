package calc

import (
	"encoding/json"
	"net/http"
	"strings"

	"github.com/swaggest/openapi-go"
	"github.com/swaggest/openapi-go/openapi31"
)

// An Operation is something else that answers JSON and stands in the same
// description.
type Operation struct {
	Method, Path, ID, Summary, Tag string
	Key                            string         // which key opens it
	Request, Query, Header, Answer any            // nil for none
	Problems                       map[int]string // why it refuses, by status
}

// OpenAPI returns the OpenAPI 3.1 description of all calculators, generated
// from the request and answer types, and of what else there is.
func OpenAPI(version string, others ...Operation) ([]byte, error) {
	r := openapi31.NewReflector()
	r.Spec.Info.WithTitle("Jevvo").WithVersion(version).
		WithDescription("The sums of the resin bench, and what a studio keeps for programs with a key. Units are in the " +
			"field names; numbers are not rounded; errors are application/problem+json.")
	for _, name := range Names() {
		c := registry[name]
		op, err := r.NewOperationContext(http.MethodPost, "/api/v1/calc/"+name)
		if err != nil {
			return nil, err
		}
		op.SetID(name)
		op.SetSummary(c.Summary)
		op.SetTags("calc")
		op.AddReqStructure(c.Request)
		op.AddRespStructure(c.Answer)
		for status, why := range map[int]string{400: "Not JSON", 413: "Too large",
			422: "A value is missing or out of range"} {
			op.AddRespStructure(new(ProblemObject), openapi.WithHTTPStatus(status),
				openapi.WithContentType("application/problem+json"),
				func(cu *openapi.ContentUnit) { cu.Description = why })
		}
		if err := r.AddOperation(op); err != nil {
			return nil, err
		}
	}
	for _, o := range others {
		if err := o.describe(r); err != nil {
			return nil, err
		}
	}
	return json.MarshalIndent(r.Spec, "", "  ")
}

// describe adds an operation that is opened by a key.
func (o Operation) describe(r *openapi31.Reflector) error {
	op, err := r.NewOperationContext(o.Method, o.Path)
	if err != nil {
		return err
	}
	op.SetID(o.ID)
	op.SetSummary(o.Summary)
	op.SetTags(o.Tag)
	op.AddSecurity(o.Tag)
	r.Spec.SetHTTPBearerTokenSecurity(o.Tag, "", o.Key)
	for _, in := range []any{o.Request, o.Query, o.Header} {
		if in != nil {
			op.AddReqStructure(in)
		}
	}
	if strings.Contains(o.Path, "{id}") {
		op.AddReqStructure(new(struct {
			ID int64 `path:"id"`
		}))
	}
	switch {
	case o.Answer == nil:
		op.AddRespStructure(nil, openapi.WithHTTPStatus(http.StatusNoContent))
	case o.Method == http.MethodPost:
		op.AddRespStructure(o.Answer, openapi.WithHTTPStatus(http.StatusCreated))
	default:
		op.AddRespStructure(o.Answer)
	}
	for status, why := range o.Problems {
		op.AddRespStructure(new(ProblemObject), openapi.WithHTTPStatus(status),
			openapi.WithContentType("application/problem+json"),
			func(cu *openapi.ContentUnit) { cu.Description = why })
	}
	return r.AddOperation(op)
}
