package calc

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A calculator is its request, its answer and its sum: defaults, refusals and the description
// follow from their types.
func TestACalculatorIsDefined(t *testing.T) {
	type request struct {
		Film  float64 `json:"film_mm" default:"1.6" exclusiveMinimum:"0" maximum:"150" description:"How thick it lies."`
		Coats int     `json:"coats" default:"1" minimum:"1"`
	}
	type answer struct {
		Stack float64 `json:"stack_mm" description:"All coats together."`
	}
	define("stack", "How high coats build up",
		func(r request) (answer, error) { return answer{r.Film * float64(r.Coats)}, nil })
	t.Cleanup(func() { delete(registry, "stack") })

	out, err := Run(t.Context(), "stack", strings.NewReader(`{"coats": 3}`))
	require.NoError(t, err)
	assert.JSONEq(t, `{"stack_mm": 4.8}`, strings.ReplaceAll(string(out), "4.800000000000001", "4.8"))
	_, err = Run(t.Context(), "stack", strings.NewReader(`{"film_mm": 0}`))
	var p *Problem
	require.ErrorAs(t, err, &p)
	assert.Equal(t, "film_mm", p.Errors[0].Field)
	raw, err := OpenAPI("test")
	require.NoError(t, err)
	require.True(t, json.Valid(raw))
	assert.Contains(t, string(raw), "/api/v1/calc/stack")
}
