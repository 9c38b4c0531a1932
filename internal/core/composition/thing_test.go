package composition_test

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
)

func board(t testing.TB, w, h float64) surface.Shape {
	t.Helper()
	b, err := surface.Outline(fmt.Sprintf("M0 0H%gV%gH0Z", w, h))
	require.NoError(t, err)
	return b
}

func loopArea(loop []geom.Point) float64 {
	twice := 0.0
	for i, p := range loop {
		q := loop[(i+1)%len(loop)]
		twice += p.X*q.Y - p.Y*q.X
	}
	return math.Abs(twice) / 2
}

// A line that takes a tenth of the coat covers a tenth of the face: drawn
// widths are plain geometry.
func TestThingsAreDrawnAtTheirShare(t *testing.T) {
	b := board(t, 400, 300)
	for _, thing := range []composition.Thing{
		{Kind: composition.Ribbon, Points: []geom.Point{{X: 50, Y: 50}, {X: 350, Y: 50}}, Share: 0.1},
		{Kind: composition.Ribbon, Points: []geom.Point{{X: 50, Y: 50}, {X: 350, Y: 60}}, Share: 0.1, Count: 3, Gap: 60},
		{Kind: composition.Puddle, Points: []geom.Point{{X: 100, Y: 80}}, Share: 0.1, Mirror: composition.BothMirrors},
		{Kind: composition.Dots, Points: []geom.Point{{X: 40, Y: 40}, {X: 360, Y: 40}}, Share: 0.1, Count: 12},
	} {
		thing.ID, thing.Cup = "t1", "c1"
		require.NoError(t, thing.Check())
		sum := 0.0
		for _, r := range composition.Draw(b, []composition.Thing{thing}) {
			for _, loop := range r.Loops {
				sum += loopArea(loop)
			}
		}
		assert.InDelta(t, 0.1*400*300, sum, 0.03*0.1*400*300, "%s", thing.Kind) // a round is drawn with straight pieces
		wide := thing.WithWidth(b, 30)
		assert.InDelta(t, 30, float64(wide.Width(b)), 1e-6)
	}
}

func TestADividingLineHasItsSideOfTheFace(t *testing.T) {
	b := board(t, 400, 300)
	things := composition.Settle(b, []composition.Thing{
		{ID: "t1", Kind: composition.Bed, Cup: "c1"},
		{ID: "t2", Kind: composition.Zone, Cup: "c2", Points: []geom.Point{{X: 100, Y: 0}, {X: 100, Y: 300}}},
		{ID: "t3", Kind: composition.Zone, Cup: "c3", Points: []geom.Point{{X: 400, Y: 150}, {X: 0, Y: 150}}},
	})
	// Looking along the first line, down the page, the left is what lies east.
	assert.InDelta(t, 0.75, things[1].Share, 1e-9)
	// The second looks west: its left lies below it, and only west of the first.
	assert.InDelta(t, 0.25*0.5, things[2].Share, 1e-9)
	moved, ok := composition.Reshare(b, things, "c2", 0.5)
	require.True(t, ok)
	assert.InDelta(t, 200, moved[1].Points[0].X, 1e-6, "the line moves with the share")
	shares, over := composition.Shares(moved)
	assert.InDelta(t, 0.5, shares["c2"], 1e-9)
	assert.Zero(t, over)
}

// Shares always add up to one, and a share that is asked for is given.
func TestSharesAreConserved(t *testing.T) {
	b := board(t, 500, 400)
	rapid.Check(t, func(rt *rapid.T) {
		n := rapid.IntRange(1, 9).Draw(rt, "n")
		things := []composition.Thing{{ID: "bed", Kind: composition.Bed, Cup: "c0"}}
		if rapid.Bool().Draw(rt, "no bed") {
			things = nil
		}
		for i := range n {
			things = append(things, composition.Thing{ID: fmt.Sprint("t", i), Kind: composition.Ribbon,
				Cup:    fmt.Sprint("c", 1+i%4),
				Points: []geom.Point{{X: 10, Y: 10 + 30*float64(i)}, {X: 480, Y: 20 + 30*float64(i)}},
				Share:  rapid.Float64Range(0.001, 0.1).Draw(rt, "share")})
		}
		shares, _ := composition.Shares(things)
		sum := 0.0
		for _, v := range shares {
			sum += v
		}
		require.InDelta(rt, 1, sum, 1e-9)
		want := rapid.Float64Range(0.01, 0.5).Draw(rt, "want")
		if len(shares) == 1 {
			return
		}
		moved, ok := composition.Reshare(b, things, "c1", want)
		if !ok {
			return
		}
		got, over := composition.Shares(moved)
		if over == 0 {
			require.InDelta(rt, want, got["c1"], 1e-9)
		}
	})
}

func TestCopiesAndMirrors(t *testing.T) {
	b := board(t, 400, 300)
	line := composition.Thing{Kind: composition.Ribbon, Points: []geom.Point{{X: 50, Y: 20}, {X: 150, Y: 20}}, Share: 0.1,
		Count: 2, Gap: 40, Mirror: composition.LeftRight}
	assert.InDelta(t, 400, float64(line.Length(b)), 1e-9, "two lines and their images")
	assert.InDelta(t, 1400, float64(composition.Thing{Kind: composition.Edging}.Length(b)), 1e-9)
}

func TestRefusesThingsThatCannotBe(t *testing.T) {
	for _, bad := range []composition.Thing{
		{Kind: "star"},
		{Kind: composition.Ribbon, Points: []geom.Point{{X: 1, Y: 1}}},
		{Kind: composition.Ribbon, Points: []geom.Point{{X: 1, Y: 1}, {X: 1, Y: 1}}},
		{Kind: composition.Puddle, Points: []geom.Point{{X: 1}, {X: 2}}},
		{Kind: composition.Bed, Share: 1.2},
		{Kind: composition.Puddle, Points: []geom.Point{{X: math.NaN()}}},
		{Kind: composition.Edging, Count: 1000},
	} {
		assert.Error(t, bad.Check(), "%+v", bad)
	}
}

// Every beginning, on every board, keeps the shares of the cups.
func TestStartsKeepTheShares(t *testing.T) {
	round, err := surface.Circle(500)
	require.NoError(t, err)
	for _, b := range []surface.Shape{board(t, 600, 300), round} {
		for _, s := range composition.Starts {
			things := s.Lay(b, colours)
			require.NotEmpty(t, things, s.ID)
			for _, thing := range things {
				require.NoError(t, thing.Check(), s.ID)
			}
			shares, over := composition.Shares(things)
			assert.Zero(t, over, s.ID)
			if s.ID != "shore" { // its dividing line has what lies beyond it
				assert.InDelta(t, 0.5, shares["base"], 1e-6, s.ID)
				assert.InDelta(t, 0.3, shares["sea"], 1e-6, s.ID)
				assert.InDelta(t, 0.2, shares["white"], 1e-6, s.ID)
			}
		}
	}
	assert.Equal(t, technique.LayoutCells, composition.StartsFor(technique.LayoutCells)[0].Layout)
}

func TestCoverKnowsWhoTouchesWhom(t *testing.T) {
	b := board(t, 400, 400)
	things := composition.Settle(b, []composition.Thing{
		{ID: "t1", Kind: composition.Bed, Cup: "bed"},
		{ID: "t2", Kind: composition.Zone, Cup: "east", Points: []geom.Point{{X: 200, Y: 0}, {X: 200, Y: 400}}},
		{ID: "t3", Kind: composition.Puddle, Cup: "pool", Points: []geom.Point{{X: 80, Y: 200}}, Share: 0.03},
	})
	cover := composition.NewCover(b, composition.Draw(b, things))
	seen := cover.Visible()
	assert.InDelta(t, 0.5, seen["east"], 0.01)
	assert.InDelta(t, 0.03, seen["pool"], 0.005)
	assert.InDelta(t, 0.47, seen["bed"], 0.01)
	touching := map[string]composition.Contact{}
	for _, c := range cover.Contacts() {
		touching[c.A+c.B] = c
	}
	assert.InDelta(t, 400*math.Pi/4, float64(touching["bedeast"].Border), 10, "a straight border counts π/4 of itself")
	assert.InDelta(t, math.Pi*2*math.Sqrt(0.03*160000/math.Pi), float64(touching["bedpool"].Border), 12)
	assert.NotContains(t, touching, "eastpool")
	assert.InDelta(t, 0.03*160000, float64(touching["bedpool"].BOnA), 300)
}

func TestSnapping(t *testing.T) {
	b := board(t, 300, 300)
	things := []composition.Thing{{ID: "t1", Kind: composition.Puddle, Points: []geom.Point{{X: 77, Y: 133}}}}
	assert.Equal(t, geom.Point{X: 77, Y: 133}, composition.Snap(geom.Point{X: 79, Y: 130}, b, things, "", 6, 10))
	assert.Equal(t, geom.Point{X: 150, Y: 300}, composition.Snap(geom.Point{X: 147, Y: 296}, b, things, "", 6, 10),
		"middle and edge")
	assert.Equal(t, geom.Point{X: 80, Y: 130}, composition.Snap(geom.Point{X: 79, Y: 130}, b, things, "t1", 6, 10),
		"not to itself: the grid")
}

func TestFitKeepsPlaceAndShare(t *testing.T) {
	small, large := board(t, 100, 100), board(t, 600, 300)
	things, _ := composition.FindStart("current")
	laid := things.Lay(small, colours)
	fitted := composition.Fit(laid, small, large)
	assert.InDelta(t, laid[1].Points[0].X*6, fitted[1].Points[0].X, 1e-9)
	before, _ := composition.Shares(laid)
	after, _ := composition.Shares(fitted)
	assert.InDeltaMapValues(t, before, after, 1e-9)
}

func BenchmarkCover(b *testing.B) {
	round, err := surface.Circle(500)
	require.NoError(b, err)
	s, _ := composition.FindStart("scatter")
	things := s.Lay(round, colours)
	for b.Loop() {
		composition.NewCover(round, composition.Draw(round, things)).Contacts()
	}
}

// In the reverse order beds stay under the rest; twice turned is as before.
func TestTurnedTwiceIsAsBefore(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kinds := rapid.SliceOfN(rapid.SampledFrom([]composition.Kind{composition.Bed, composition.Ribbon,
			composition.Puddle}), 0, 8).Draw(t, "kinds")
		things := make([]composition.Thing, len(kinds))
		for k, kind := range kinds {
			things[k] = composition.Thing{ID: fmt.Sprint(k), Kind: kind}
		}
		turned := composition.Clone(things)
		composition.Turn(turned)
		var on, back []string
		for k := range things {
			require.Equal(t, things[k].Kind == composition.Bed, turned[k].Kind == composition.Bed)
			if things[k].Kind == composition.Bed {
				require.Equal(t, things[k].ID, turned[k].ID)
				continue
			}
			on, back = append(on, things[k].ID), append([]string{turned[k].ID}, back...)
		}
		require.Equal(t, on, back)
		composition.Turn(turned)
		require.Equal(t, things, turned)
	})
}

// In an order of cups beds stay where they are, every cup's things follow one another as they
// were, and nothing is lost; in the order there is nothing changes.
func TestInTheOrderOfTheirCups(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cups := []string{"a", "b", "c"}
		n := rapid.IntRange(0, 9).Draw(t, "n")
		things := make([]composition.Thing, n)
		for k := range things {
			kind := rapid.SampledFrom([]composition.Kind{composition.Bed, composition.Ribbon}).Draw(t, "kind")
			things[k] = composition.Thing{ID: fmt.Sprint(k), Kind: kind, Cup: rapid.SampledFrom(cups).Draw(t, "cup")}
		}
		order := rapid.Permutation(cups).Draw(t, "order")
		sorted := composition.Clone(things)
		composition.InOrder(sorted, order)
		require.ElementsMatch(t, things, sorted)
		last, seen := 0, map[string]string{}
		for k, thing := range sorted {
			require.Equal(t, things[k].Kind == composition.Bed, thing.Kind == composition.Bed)
			if thing.Kind == composition.Bed {
				require.Equal(t, things[k], thing)
				continue
			}
			rank := slices.Index(order, thing.Cup)
			require.GreaterOrEqual(t, rank, last)
			last = rank
			require.Greater(t, thing.ID, seen[thing.Cup])
			seen[thing.Cup] = thing.ID
		}
		again := composition.Clone(sorted)
		composition.InOrder(again, order)
		require.Equal(t, sorted, again)
		composition.InOrder(again, nil)
		require.Equal(t, sorted, again)
	})
}
