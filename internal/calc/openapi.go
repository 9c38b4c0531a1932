package calc

import (
	"encoding/json"
	"net/http"

	"github.com/swaggest/openapi-go"
	"github.com/swaggest/openapi-go/openapi31"
)

// OpenAPI returns the OpenAPI 3.1 description of all calculators, generated
// from the request and answer types.
func OpenAPI(version string) ([]byte, error) {
	r := openapi31.NewReflector()
	r.Spec.Info.WithTitle("Jevvo calculators").WithVersion(version).
		WithDescription("The sums of the resin bench. Units are in the field names; numbers are not rounded; errors are application/problem+json.")
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
		for status, why := range map[int]string{400: "Not JSON", 413: "Too large", 422: "A value is missing or out of range"} {
			op.AddRespStructure(new(Problem), openapi.WithHTTPStatus(status), openapi.WithContentType("application/problem+json"),
				func(cu *openapi.ContentUnit) { cu.Description = why })
		}
		if err := r.AddOperation(op); err != nil {
			return nil, err
		}
	}
	return json.MarshalIndent(r.Spec, "", "  ")
}
