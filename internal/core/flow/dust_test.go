package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// dusted is a bed with powder on a band of it; the powder is the second cup.
func dusted(moves ...flow.Move) flow.Scene {
	s := board(200, 50, 1100, 1500, 1090)
	s.Cups[1].Dry = true
	band := func(p geom.Point) bool { return p.X > 60 && p.X < 90 }
	s.Moves = append(
		[]flow.Move{{Kind: flow.Bed, Film: 2e-3}, {Kind: flow.Dust, At: 1, Cup: 1, Volume: 2e-7, Within: band}},
		moves...)
	return s
}

// onTop is which share of the powder lies on everything else.
func onTop(r *flow.Run) (share, volume float64) {
	top, all := 0.0, 0.0
	for i := range r.Coat().Film().H() {
		column := r.Coat().Column(i)
		for k, l := range column {
			if l.Cup != 1 {
				continue
			}
			all += l.Film
			if k == len(column)-1 {
				top += l.Film
			}
		}
	}
	return top / all, all
}

// Powder dusted on stays on the surface while the film below runs (common practice:
// it lies like leaf), and goes as far as the surface does (Nusselt: h²·g_t/2ν).
func TestDustedPowderStaysOnTop(t *testing.T) {
	s := dusted(flow.Move{Kind: flow.Tilting, At: 2, TiltX: -5})
	middle := func(r *flow.Run) float64 {
		at, all := 0.0, 0.0
		for i := range r.Coat().Film().H() {
			for _, l := range r.Coat().Column(i) {
				if l.Cup == 1 {
					at += l.Film * s.Grid.Middle(i).X / 1000
					all += l.Film
				}
			}
		}
		return at / all
	}
	before, after := play(t, s, 1.5), play(t, s, 12)
	share, _ := onTop(after)
	assert.Greater(t, share, 0.999)
	pull, h := flow.Gravity*math.Sin(5*math.Pi/180), 2e-3
	assert.InEpsilon(t, 10*pull*h*h/2*1100, middle(after)-middle(before), 0.05, "as far as the surface runs")
}

// What is poured on powder covers it; it does not come up again.
func TestPouredOverPowderIsCovered(t *testing.T) {
	r := play(t, dusted(flow.Move{Kind: flow.Bed, At: 3, Cup: 2, Film: 1e-3}), 20)
	share, volume := onTop(r)
	assert.Less(t, share, 1e-9)
	assert.InEpsilon(t, 2e-7/(0.004*0.004), volume, 1e-6, "and none of it is lost")
}

// Powder is dusted along a line, about a place or all over, and nowhere else.
func TestPowderFallsWhereItIsDusted(t *testing.T) {
	line := []geom.Point{at(20, 100), at(180, 100)}
	for name, c := range map[string]struct {
		move flow.Move
		on   func(geom.Point) bool
	}{
		"a line": {flow.Move{Points: line, Width: 0.02},
			func(p geom.Point) bool { return geom.FromSegment(p, line[0], line[1]) <= 10 }},
		"a place": {flow.Move{Points: line[:1], Radius: 0.015},
			func(p geom.Point) bool { return p.Sub(line[0]).Norm() <= 15 }},
		"all over": {flow.Move{}, func(geom.Point) bool { return true }},
	} {
		c.move.Kind, c.move.Cup, c.move.Volume = flow.Dust, 1, 1e-8
		s := board(200, 50, 1100, 1500)
		s.Moves = []flow.Move{c.move}
		r := play(t, s, 1e-9)
		for i := range r.Coat().Film().H() {
			require.Equal(t, c.on(s.Grid.Middle(i)), len(r.Coat().Column(i)) > 0, "%s, %v", name, s.Grid.Middle(i))
		}
	}
	s := board(200, 50, 1100)
	s.Moves = []flow.Move{{Kind: flow.Dust, Volume: 1e-8, Points: []geom.Point{at(-500, 0)}, Radius: 0.01}}
	_, err := flow.Start(s)
	assert.ErrorContains(t, err, "move 1")
}

// Of flakes fallen at random e^(−n) of a face is hit by none (Poisson): with three
// times what covers it once a twentieth is left.
func TestFlakesCoverAsPoissonHasIt(t *testing.T) {
	const once = 6e-7
	s := board(200, 50, 1100, 1500)
	s.Cups[1].Dry = true
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 2e-3}, {Kind: flow.Bed, Cup: 1, Film: 3 * once}}
	r := play(t, s, 1)
	white := colour.Optics{K: colour.Flat(0.001), S: colour.Flat(80)}
	p, err := flow.NewPainter(colour.Flat(0.8), []colour.Optics{white, white}, colour.Surface{})
	require.NoError(t, err)
	p.Powder(1, colour.Flat(0.2), once)
	shows, _ := p.Visible(r)
	assert.InEpsilon(t, 1-math.Exp(-3), shows[1], 1e-6)
	p.Powder(1, colour.Flat(0.2), 1)
	bare := p.Colour(r, 0)
	p.Powder(1, colour.Flat(0.2), 1e-9)
	full := p.Colour(r, 0)
	assert.Greater(t, bare[0], full[0], "the flake's colour is its own")
}
