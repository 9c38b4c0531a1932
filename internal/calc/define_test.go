package calc

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A calculator is its request, its answer and its sum: defaults, refusals, the description and its
// page follow from their types.
func TestACalculatorIsDefined(t *testing.T) {
	type request struct {
		Film  float64 `json:"film_mm" default:"1.6" exclusiveMinimum:"0" maximum:"150" description:"How thick it lies." ask:"Film" as:"film"`
		Coats int     `json:"coats" default:"1" minimum:"1" ask:"Coats" start:"2"`
	}
	type answer struct {
		Stack float64 `json:"stack_mm" description:"All coats together." say:"Stack" lead:"true"`
	}
	define("stack", "How high coats build up",
		func(r request) (answer, error) { return answer{r.Film * float64(r.Coats)}, nil }).
		asks(Page{Group: HowMuch, Question: "How high do coats build up?"})
	t.Cleanup(func() {
		delete(registry, "stack")
		ordered = ordered[:len(ordered)-1]
	})

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
	pages := Pages()[HowMuch]
	page := pages[len(pages)-1].Page
	assert.Equal(t, []Field{{Key: "film_mm", Label: "Film", Kind: "film", Default: "1.6"},
		{Key: "coats", Label: "Coats", Kind: Number, Default: "1", Start: "2"}}, page.Fields)
	assert.Equal(t, []Figure{{Path: "stack_mm", Label: "Stack", Kind: "length", Lead: true}}, page.Figures)
}
