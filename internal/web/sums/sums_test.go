package sums

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
)

// elsewhere are the calculators whose answer a painter finds on other pages.
var elsewhere = map[string]string{
	"blend": "the mixer", "delta-e": "the mixer", "film-colour": "the mixer", "opacity": "the mixer",
	"faults": "faults", "findings": "findings", "flow": "the preview", "plan": "a piece", "price": "a price",
	"schedule": "days", "stock": "stock",
}

// A calculator is shown: by a page of its own, or by one of the program's.
func TestEveryCalculatorIsShown(t *testing.T) {
	for _, name := range calc.Names() {
		_, page := findSum(name)
		assert.True(t, page != (elsewhere[name] != ""), name)
	}
	for _, x := range table {
		assert.Contains(t, calc.Names(), x.Name)
	}
}

// A page of a calculator is a row: its fields are read in the painter's units, its answer is said.
func TestASumIsARow(t *testing.T) {
	was := table
	t.Cleanup(func() { table = was })
	table = append(slices.Clone(table), sum{Name: "opacity", Question: "Does it hide?", Group: groupFilm,
		Fields: []sumField{{Key: "film_mm", Label: "Film", Kind: "film", Start: "1.6 mm"},
			{Key: "k_per_mm", Label: "Absorbs", Kind: "bands", Start: "0.5"}},
		Outputs: []sumOutput{{Path: "contrast", Label: "Hides", Kind: "share", Lead: true}}})
	x, ok := findSum("opacity")
	require.True(t, ok)
	p := page{Sum: x, values: map[string]string{"film_mm": "2 mm"}, notices: form.NewNotices()}
	v, _, err := readKind(x.Fields[0].Kind, p.values["film_mm"], units.Metric)
	require.NoError(t, err)
	assert.InDelta(t, 2, v, 1e-12)
	assert.Contains(t, Questions(), Question{"opacity", "Does it hide?"})
}
