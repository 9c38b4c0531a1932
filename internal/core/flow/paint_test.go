package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/units"
)

// unitsLength is a film in mm.
func unitsLength(mm float64) units.Length { return units.Length(mm) }

func reflectance(t require.TestingT, hex string) colour.Spectrum {
	c, err := colour.ParseHex(hex)
	require.NoError(t, err)
	s, err := c.Reflectance()
	require.NoError(t, err)
	return s
}

// shown is the colour of a reflectance as near as a screen comes to it.
func shown(t require.TestingT, s colour.Spectrum) colour.Lab {
	if c := s.XYZ().RGB(); !c.InGamut() {
		return reflectance(t, c.Hex()).Lab()
	}
	return s.Lab()
}

func paste(t require.TestingT, hex string, scatter float64) colour.Optics {
	o, err := colour.FromMasstone(reflectance(t, hex), scatter, colour.Finish(1))
	require.NoError(t, err)
	return o
}

func lab(c [3]byte) colour.Lab {
	p := colour.Pixel(c).RGB()
	return p.XYZ().Lab()
}

// A film of one cup looks as the mixer has it, within 0.5 CIEDE2000, whatever it
// lies on; a bare face looks as the ground.
func TestAFilmLooksAsTheMixerHasIt(t *testing.T) {
	finish := colour.Finish(1)
	for _, ground := range []string{"#ffffff", "#202020", "#a08060"} {
		for _, hex := range []string{"#3050a0", "#d04020", "#f2f0ea", "#101418", "#808080"} {
			for _, mm := range []float64{0.05, 0.3, 1.6} {
				cup := paste(t, hex, 0.04)
				under := finish.In(reflectance(t, ground))
				p, err := flow.NewPainter(under, []colour.Optics{cup}, finish)
				require.NoError(t, err)
				p.ShowBare(reflectance(t, ground))
				s := board(50, 10, 1100)
				s.Moves = []flow.Move{{Kind: flow.Bed, At: 5, Film: mm / 1000}}
				r := play(t, s, 1)
				assert.Less(t, colour.Difference(lab(p.Colour(r, 0)), reflectance(t, ground).Lab()), 0.5, "bare %s", ground)
				require.NoError(t, r.To(t.Context(), 6))
				want := finish.Out(cup.Over(under, unitsLength(mm)))
				assert.Less(t, colour.Difference(lab(p.Colour(r, 0)), shown(t, want)), 0.5, "%s on %s, %g mm", hex, ground, mm)
			}
		}
	}
}

// What is stirred is mixed as a cup of both would be, and shows as much of each.
func TestWhatIsStirredIsMixed(t *testing.T) {
	finish := colour.Finish(1)
	blue, yellow := paste(t, "#2040b0", 0.05), paste(t, "#f0c810", 0.05)
	under := finish.In(colour.Flat(0.8))
	p, err := flow.NewPainter(under, []colour.Optics{blue, yellow}, finish)
	require.NoError(t, err)
	s := board(50, 10, 1100, 1100)
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1e-3},
		{Kind: flow.Bed, Cup: 1, Film: 1e-3},
		{Kind: flow.Stir, At: 1, Points: []geom.Point{at(25, 25)}, Radius: 0.1},
	}
	r := play(t, s, 2)
	want := finish.Out(colour.Optics{}.Add(blue, 0.5).Add(yellow, 0.5).Over(under, 2))
	assert.Less(t, colour.Difference(lab(p.Colour(r, 0)), want.Lab()), 0.5)
	shows, ground := p.Visible(r)
	assert.InDelta(t, 0.5, shows[0], 1e-6)
	assert.InDelta(t, 0.5, shows[1], 1e-6)
	assert.Zero(t, ground)
}

// What shows adds up to the face, an opaque layer leaves nothing of what is under
// it, and a clear one hides nothing.
func TestWhatShowsAddsUp(t *testing.T) {
	finish := colour.Finish(1)
	p, err := flow.NewPainter(
		finish.In(colour.Flat(0.5)),
		[]colour.Optics{paste(t, "#3050a0", 0.2), colour.Cup(nil), paste(t, "#f2f0ea", 0.01)},
		finish,
	)
	require.NoError(t, err)
	s := board(100, 20, 1100, 1100, 1100)
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1e-3, Within: func(p geom.Point) bool { return p.X < 50 }},
		{Kind: flow.Bed, Cup: 1, Film: 1e-3},
	}
	s.Clock = flow.Constant{Viscous: 1e9, Density: 1100}
	r := play(t, s, 1)
	shows, ground := p.Visible(r)
	assert.InDelta(t, 0.5, shows[0], 0.01)
	assert.Less(t, shows[1], 0.02, "clear")
	assert.InDelta(t, 1, shows[0]+shows[1]+shows[2]+ground, 1e-9)
	for _, mm := range []float64{0.01, 0.1, 0.7, 2, 6} {
		exact := p.Hiding(2, mm/1000)
		over := func(chart float64) float64 {
			return paste(t, "#f2f0ea", 0.01).Over(colour.Flat(chart), unitsLength(mm)).Luminance()
		}
		assert.InDelta(t, 1-(over(colour.ChartWhite)-over(0))/colour.ChartWhite, exact, 0.01, "%g mm", mm)
	}
	assert.InDelta(t, 1, p.Hiding(0, 0.05), 1e-3, "beyond the table")
}

// Cells in the picture stand as far apart as was calculated, within 20 %: as many
// open places as the area over the square of the spacing. They are there only when
// they have been seen, and the picture is clear beside the face.
func TestCellsInThePicture(t *testing.T) {
	finish := colour.Finish(1)
	p, err := flow.NewPainter(colour.Flat(0.5), []colour.Optics{paste(t, "#102040", 1), paste(t, "#f4f3ee", 1)}, finish)
	require.NoError(t, err)
	s := board(80, 40, 1100, 1160)
	s.Cells, s.Tension, s.Seed = true, 0.04, 3
	s.Grid, err = flow.NewGrid(80, 80, 40, func(q geom.Point) bool { return q.X > 10 })
	require.NoError(t, err)
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1.2e-3}, {Kind: flow.Bed, Cup: 1, Film: 4e-4}}
	r := play(t, s, 60)
	dark := func(scale int) (places int, seen []byte) {
		seen, err = p.Picture(t.Context(), r, scale)
		require.NoError(t, err)
		side := 40 * scale
		open := make([]bool, side*side)
		for i := range open {
			open[i] = seen[4*i+3] > 0 && int(seen[4*i])+int(seen[4*i+1])+int(seen[4*i+2]) < 380
		}
		for i := range open { // count what hangs together
			if !open[i] {
				continue
			}
			places++
			heap := []int{i}
			for len(heap) > 0 {
				k := heap[len(heap)-1]
				heap = heap[:len(heap)-1]
				if k < 0 || k >= len(open) || !open[k] {
					continue
				}
				open[k] = false
				heap = append(heap, k-side, k+side)
				if k%side > 0 {
					heap = append(heap, k-1)
				}
				if k%side < side-1 {
					heap = append(heap, k+1)
				}
			}
		}
		return places, seen
	}
	none, _ := dark(4)
	assert.Zero(t, none, "before they are seen")
	require.NoError(t, r.To(t.Context(), 210))
	places, seen := dark(12)
	apart := math.Sqrt(0.07 * 0.08 / float64(places))
	assert.InEpsilon(t, r.Openings()[0].Spacing, apart, 0.2)
	assert.Zero(t, seen[3], "beside the face")
}
