package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// resin is the 45-minute product in a room at 25 °C.
type resin struct{ clock *cure.Clock }

func newResin(t require.TestingT) resin {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	return resin{cure.NewClock(k, cure.Constant(25))}
}

func (r resin) Fluidity(from, to float64) float64 {
	return r.clock.Flow(from/60, to/60, 1000, 1100)
}
func (r resin) Viscosity(at float64) float64 {
	return float64(r.clock.Viscosity(at/60, 1000)) / 1000
}

// afternoon is a 60 cm board with eight cups and twenty moves.
func afternoon(b require.TestingT, cells int) flow.Scene {
	s := board(600, cells, 1100, 1110, 1120, 1160, 1105, 1115, 1090, 1130)
	s.Clock, s.Contact.EdgeHeight, s.Edge, s.Tension, s.Cells = newResin(b), 1.63e-3, 2.72e-3, 0.04, true
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3}}
	for k := range 10 {
		y := 50 + 55*float64(k)
		s.Moves = append(
			s.Moves,
			flow.Move{
				Kind:   flow.Ribbon,
				At:     60 + 25*float64(k),
				Cup:    1 + k%7,
				Points: []geom.Point{at(30, y), at(300, y+20), at(570, y)},
				Volume: 18e-6,
				For:    10,
			},
		)
	}
	s.Moves = append(
		s.Moves,
		flow.Move{Kind: flow.Tilting, At: 400, TiltX: 4, For: 15},
		flow.Move{Kind: flow.Tilting, At: 420, TiltY: -4, For: 15},
	)
	for k := range 3 {
		x := 150 + 150*float64(k)
		s.Moves = append(
			s.Moves,
			flow.Move{
				Kind:   flow.Swipe,
				At:     500 + 30*float64(k),
				Points: []geom.Point{at(x, 20), at(x, 580)},
				Width:  0.14,
				Gap:    2.6e-3,
				Speed:  0.1,
			},
		)
	}
	s.Moves = append(
		s.Moves,
		flow.Move{
			Kind:   flow.Drag,
			At:     900,
			Points: []geom.Point{at(100, 100), at(500, 500)},
			Width:  0.01,
			Depth:  8e-4,
			Speed:  0.1,
		},
		flow.Move{Kind: flow.Blow, At: 1000, Points: []geom.Point{at(100, 500), at(300, 400)}, Width: 0.08, Shear: 6, For: 8},
		flow.Move{Kind: flow.Warm, At: 1100, Points: []geom.Point{at(300, 300)}, Radius: 0.15, To: 60, For: 20},
		flow.Move{
			Kind:   flow.Drops,
			At:     1200,
			Cup:    3,
			Points: []geom.Point{at(300, 300)},
			Radius: 0.2,
			Count:  12,
			Volume: 6e-6,
		},
	)
	return s
}

func benchmarkAfternoon(b *testing.B, cells int) {
	s := afternoon(b, cells)
	b.ReportAllocs()
	for b.Loop() {
		play(b, s, 2400)
	}
}

func BenchmarkAfternoon128(b *testing.B) { benchmarkAfternoon(b, 128) }
func BenchmarkAfternoon256(b *testing.B) { benchmarkAfternoon(b, 256) }
func BenchmarkAfternoon512(b *testing.B) { benchmarkAfternoon(b, 512) }

// BenchmarkScenes are scenes of a 60 cm board, eight cups and some twenty moves on the page's
// cells: poured at once and over seconds, eighteen ribbons, tilted late, blown throughout.
func BenchmarkScenes(b *testing.B) {
	ribbons := func(n int, takes float64) (out []flow.Move) {
		for k := range n {
			y := 40 + 520*float64(k)/float64(n)
			line := []geom.Point{at(30, y), at(300, y+15), at(570, y)}
			out = append(out, flow.Move{
				Kind: flow.Ribbon, At: 60 + 20*float64(k), Cup: 1 + k%7, Points: line, Volume: 10e-6, For: takes,
			})
		}
		return out
	}
	repeated := func(n int, each float64, m flow.Move) (out []flow.Move) {
		for k := range n {
			m.At = 500 + each*float64(k)
			out = append(out, m)
		}
		return out
	}
	air := flow.Move{
		Kind: flow.Blow, Points: []geom.Point{at(100, 500), at(500, 100)}, Width: 0.08, Shear: 6, For: 8,
	}
	for name, moves := range map[string][]flow.Move{
		"at-once":          ribbons(19, 0),
		"over-seconds":     ribbons(19, 10),
		"eighteen-ribbons": append(ribbons(18, 10), flow.Move{Kind: flow.Tilting, At: 500, TiltX: 4, For: 15}),
		"late-tilts": append(ribbons(8, 5),
			repeated(12, 100, flow.Move{Kind: flow.Tilting, TiltX: 4, TiltY: -3, For: 15})...),
		"blown": append(ribbons(8, 5), repeated(12, 30, air)...),
	} {
		b.Run(name, func(b *testing.B) {
			s := afternoon(b, 112)
			s.Points, s.Moves = 11, append([]flow.Move{{Kind: flow.Bed, Film: 1e-3}}, moves...)
			for b.Loop() {
				play(b, s, 2400)
			}
		})
	}
}

// BenchmarkFilmStep is a film on a wet, closed board alone, for testdata/kernel.c.
func BenchmarkFilmStep(b *testing.B) {
	const n = 256
	f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: 0.6 / n}, flow.Wetted)
	require.NoError(b, err)
	pour(b, f, func(i int) float64 {
		x, y := (float64(i%n)+0.5)/n-0.5, (float64(i/n)+0.5)/n-0.5
		return 1e-3 + 3e-3*math.Exp(-40*(x*x+y*y))
	})
	b.ReportAllocs()
	for b.Loop() {
		require.NoError(b, f.Advance(b.Context(), 20))
	}
	b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(f.Steps())/n/n, "ns/cell-step")
}

func BenchmarkPicture(b *testing.B) {
	s := afternoon(b, 256)
	r := play(b, s, 330)
	var cups []colour.Optics
	for range s.Cups {
		cups = append(cups, colour.Optics{K: colour.Flat(0.2), S: colour.Flat(4)})
	}
	p, err := flow.NewPainter(colour.Flat(0.8), cups, colour.Finish(1))
	require.NoError(b, err)
	b.ReportAllocs()
	for b.Loop() {
		_, err := p.Picture(b.Context(), r, 2)
		require.NoError(b, err)
	}
}

// BenchmarkSharpPicture is a picture of 1 232 points of an afternoon on the page's cells,
// and BenchmarkPagePicture one of the page's 672.
func BenchmarkSharpPicture(b *testing.B) { benchmarkPicture(b, 11) }
func BenchmarkPagePicture(b *testing.B)  { benchmarkPicture(b, 6) }

func benchmarkPicture(b *testing.B, scale int) {
	s := afternoon(b, 112)
	s.Points = 11
	r := play(b, s, 2400)
	p := painter(b, "#f0f0f0", "#101010", "#3050a0", "#d04020", "#80a060", "#c0a030", "#505050", "#a0c0d0")
	for b.Loop() {
		_, err := p.Picture(b.Context(), r, scale)
		require.NoError(b, err)
	}
}
