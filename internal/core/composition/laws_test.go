package composition_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/units"
)

// aThing draws any thing that can be on a board of 500 × 400 mm.
func aThing(t *rapid.T, name string) composition.Thing {
	point := rapid.Custom(func(t *rapid.T) geom.Point {
		return geom.Point{X: rapid.Float64Range(0, 500).Draw(t, "x"), Y: rapid.Float64Range(0, 400).Draw(t, "y")}
	})
	return rapid.Custom(func(t *rapid.T) composition.Thing {
		rule := rapid.SampledFrom(composition.Kinds).Draw(t, "kind")
		thing := composition.Thing{Kind: rule.Kind,
			Points: rapid.SliceOfN(point, rule.Points, min(rule.Most, rule.Points+3)).Draw(t, "points"),
			Share:  rapid.Float64Range(0.0005, 0.3).Draw(t, "share"), Count: rapid.IntRange(0, 6).Draw(t, "count"),
			Gap: units.Length(rapid.Float64Range(-40, 80).Draw(t, "gap")),
			Mirror: rapid.SampledFrom([]composition.Mirror{composition.NoMirror, composition.LeftRight, composition.TopBottom,
				composition.BothMirrors}).Draw(t, "mirror")}
		if rule.Pours {
			thing.Cup = rapid.SampledFrom([]string{"c1", "c2", "c3"}).Draw(t, "cup")
		}
		return thing
	}).Filter(func(x composition.Thing) bool { return x.Check() == nil }).Draw(t, name)
}

func someThings(t *rapid.T) []composition.Thing {
	things := []composition.Thing{{ID: "t1", Kind: composition.Bed, Cup: "c1"}}
	for i := range rapid.IntRange(0, 8).Draw(t, "n") {
		x := aThing(t, fmt.Sprint("thing ", i))
		x.ID = composition.NextID(things)
		things = append(things, x)
	}
	return things
}

// Over a bed every square of the face shows exactly one colour, whatever lies
// on it; borders and overlaps are never negative nor larger than the board.
func TestEverySquareShowsOneColour(t *testing.T) {
	b := board(t, 500, 400)
	rapid.Check(t, func(rt *rapid.T) {
		things := composition.Settle(b, someThings(rt))
		windows := false
		for _, x := range things {
			windows = windows || x.Kind == composition.Window
		}
		cover := composition.NewCover(b, composition.Draw(b, things))
		sum := 0.0
		for cup, share := range cover.Visible() {
			require.Positive(rt, share, cup)
			sum += share
		}
		require.LessOrEqual(rt, sum, 1+1e-9)
		if !windows {
			require.InDelta(rt, 1, sum, 1e-9)
		}
		for _, c := range cover.Contacts() {
			require.NotEqual(rt, c.A, c.B)
			require.GreaterOrEqual(rt, float64(c.Border), 0.0)
			require.LessOrEqual(rt, float64(c.AOnB+c.BOnA), 500.0*400*float64(len(things)))
		}
	})
}

// A width that is asked for is given back, and asking for the width it has
// changes nothing.
func TestWidthAndShareAreOneThing(t *testing.T) {
	b := board(t, 500, 400)
	rapid.Check(t, func(rt *rapid.T) {
		x := aThing(rt, "thing")
		was := x.Width(b)
		if was <= 0 {
			return
		}
		require.InDelta(rt, x.Share, x.WithWidth(b, was).Share, 1e-9)
		want := was * units.Length(rapid.Float64Range(0.1, 1.2).Draw(rt, "factor"))
		if wide := x.WithWidth(b, want); wide.Share < 1 {
			require.InEpsilon(rt, float64(want), float64(wide.Width(b)), 1e-9)
		}
	})
}

// What is moved there and back lies where it lay, what is fitted to another
// board and back too, and a copy shares nothing with its original.
func TestThingsComeBack(t *testing.T) {
	b, other := board(t, 500, 400), board(t, 1300, 700)
	rapid.Check(t, func(rt *rapid.T) {
		x := aThing(rt, "thing")
		dx, dy := rapid.Float64Range(-300, 300).Draw(rt, "dx"), rapid.Float64Range(-300, 300).Draw(rt, "dy")
		back := x.Moved(dx, dy).Moved(-dx, -dy)
		for i, p := range x.Points {
			require.InDelta(rt, p.X, back.Points[i].X, 1e-9)
			require.InDelta(rt, p.Y, back.Points[i].Y, 1e-9)
		}
		things := composition.Settle(b,
			[]composition.Thing{{ID: "t1", Kind: composition.Bed, Cup: "c1"},
				func() composition.Thing { x.ID = "t2"; return x }()})
		fitted := composition.Fit(composition.Fit(things, b, other), other, b)
		for i := range things {
			require.InDelta(rt, things[i].Share, fitted[i].Share, 1e-6)
			for j, p := range things[i].Points {
				require.InDelta(rt, p.X, fitted[i].Points[j].X, 1e-6)
				require.InDelta(rt, p.Y, fitted[i].Points[j].Y, 1e-6)
			}
		}
		if copied := composition.Clone(things); len(x.Points) > 0 {
			copied[1].Points[0].X = -77
			require.NotEqual(rt, -77.0, things[1].Points[0].X)
		}
	})
}

// No point is moved farther than its reach or half a step of the grid, and
// without a grid one that was snapped stays where it is.
func TestSnappingIsSettled(t *testing.T) {
	b := board(t, 500, 400)
	rapid.Check(t, func(rt *rapid.T) {
		things := someThings(rt)
		grid := rapid.SampledFrom([]float64{0, 5, 10}).Draw(rt, "grid")
		p := geom.Point{X: rapid.Float64Range(-20, 520).Draw(rt, "x"), Y: rapid.Float64Range(-20, 420).Draw(rt, "y")}
		once := composition.Snap(p, b, things, "", 6, grid)
		require.LessOrEqual(rt, abs(once.X-p.X), 6+1e-9)
		require.LessOrEqual(rt, abs(once.Y-p.Y), 6+1e-9)
		free := composition.Snap(p, b, nil, "", 6, grid)
		if grid == 0 {
			require.Equal(rt, free, composition.Snap(free, b, nil, "", 6, grid))
		}
	})
}

func abs(v float64) float64 { return max(v, -v) }

// Every id is new, also after things were taken out.
func TestIDsAreNeverGivenTwice(t *testing.T) {
	things := []composition.Thing{{ID: "t1"}, {ID: "t7"}, {ID: "t3"}}
	for range 5 {
		id := composition.NextID(things)
		for _, x := range things {
			assert.NotEqual(t, x.ID, id)
		}
		things = append(things, composition.Thing{ID: id})
	}
}
