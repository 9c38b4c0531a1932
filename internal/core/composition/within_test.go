package composition_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/technique"
)

// A place has its share of the box and touches the side it is named for.
func TestAPlaceHasItsShare(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		box := geom.Box{MinX: rapid.Float64Range(-10, 10).Draw(t, "x"), MinY: rapid.Float64Range(-10, 10).Draw(t, "y")}
		box.MaxX, box.MaxY = box.MinX+rapid.Float64Range(
			10,
			900,
		).Draw(
			t,
			"w",
		), box.MinY+rapid.Float64Range(
			10,
			900,
		).Draw(
			t,
			"h",
		)
		rule := rapid.SampledFrom(technique.Places[1:]).Draw(t, "place")
		share := rapid.Float64Range(0.01, 0.99).Draw(t, "share")
		in := composition.Within(box, rule.Place, share)
		all := float64(box.Width()) * float64(box.Height())
		assert.InEpsilon(t, share, float64(in.Width())*float64(in.Height())/all, 1e-9)
		assert.True(
			t,
			in.MinX >= box.MinX-1e-9 && in.MaxX <= box.MaxX+1e-9 && in.MinY >= box.MinY-1e-9 && in.MaxY <= box.MaxY+1e-9,
		)
		for side, gap := range map[int]float64{-1: in.MinX - box.MinX, 1: box.MaxX - in.MaxX} {
			if rule.X == side {
				assert.InDelta(t, 0, gap, 1e-9, "%s", rule.Place)
			}
		}
		for side, gap := range map[int]float64{-1: in.MinY - box.MinY, 1: box.MaxY - in.MaxY} {
			if rule.Y == side {
				assert.InDelta(t, 0, gap, 1e-9, "%s", rule.Place)
			}
		}
	})
}
