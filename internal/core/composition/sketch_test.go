package composition_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
)

var colours = []composition.Colour{{ID: "base", Share: 5, Base: true}, {ID: "sea", Share: 3},
	{ID: "white", Share: 2, White: true}}

// Whatever the layout and the board, a colour's regions cover its share.
func TestRegionsCoverTheShares(t *testing.T) {
	round, err := surface.Circle(300)
	require.NoError(t, err)
	odd, err := surface.Outline("M0 0H300V100L200 250L0 200Z M60 60v30h30v-30z")
	require.NoError(t, err)
	for _, board := range []surface.Shape{round, odd} {
		for _, layout := range []technique.Layout{technique.LayoutStripes, technique.LayoutRibbons} {
			got := map[string]float64{}
			for _, r := range composition.Sketch(layout, board, colours) {
				got[r.Colour] += float64(r.Area / board.Area())
				assert.NotEmpty(t, r.Path(0.1))
			}
			assert.InDelta(t, 0.5, got["base"], 1e-9, layout)
			assert.InDelta(t, 0.3, got["sea"], 1e-9, layout)
			assert.InDelta(t, 0.2, got["white"], 1e-9, layout)
		}
		pools := map[string]float64{}
		for _, r := range composition.Sketch(technique.LayoutCells, board, colours) {
			pools[r.Colour] += float64(r.Area / board.Area())
		}
		assert.InDelta(t, 0.3, pools["sea"], 1e-9)
		assert.InDelta(t, 0.2, pools["white"], 1e-9)
	}
}

// A pool of a sketch begins on the board, however little of its box the board fills.
func TestPoolsLieOnTheBoard(t *testing.T) {
	many := []composition.Colour{{ID: "base", Share: 4, Base: true}, {ID: "a", Share: 3}, {ID: "b", Share: 2},
		{ID: "c", Share: 1}}
	for name, path := range map[string]string{
		"round": "M0 150A150 150 0 0 1 300 150A150 150 0 0 1 0 150Z", "corner": "M0 0H300L0 300Z",
		"frame": "M0 0H300V300H0Z M100 100v100h100v-100z",
	} {
		board, err := surface.Outline(path)
		require.NoError(t, err, name)
		for _, r := range composition.Sketch(technique.LayoutCells, board, many) {
			if r.Colour == "base" {
				continue
			}
			on := slices.ContainsFunc(r.Loops[0], board.Inside)
			assert.True(t, on, "%s: %v", name, r.Loops[0][0])
		}
	}
}

func TestSketchIsSteadyAndForgiving(t *testing.T) {
	board, err := surface.Rectangle(400, 300)
	require.NoError(t, err)
	for _, layout := range []technique.Layout{technique.LayoutStripes, technique.LayoutRibbons, technique.LayoutCells} {
		assert.Equal(t, composition.Sketch(layout, board, colours), composition.Sketch(layout, board, colours),
			"the same board always looks the same")
		assert.Empty(t, composition.Sketch(layout, board, nil))
		assert.Empty(t, composition.Sketch(layout, board, []composition.Colour{{ID: "none"}}))
		assert.NotEmpty(t, composition.Sketch(layout, board, []composition.Colour{{ID: "only", Share: 1}}))
		assert.NotEmpty(t, composition.Sketch(layout, board, []composition.Colour{{ID: "only", Share: 1, Base: true}}))
	}
	assert.Empty(t, composition.Sketch(technique.LayoutStripes, surface.Shape{}, colours))
}
