package flow

import (
	"math"
	"slices"

	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

// Cells open where a heavier colour lies on a lighter one: two viscous layers on a
// board are unstable (handbook of the film: film.Stack), too short a wave for a
// long-wave film to show. How fast and how far apart is calculated, which cell is
// where is one possible draw.

// Grown is after how many e-folds a cell is first seen.
const Grown = 5

// An Opening is where one colour lies on another and cells grow.
type Opening struct {
	Upper, Under int
	Spacing      float64 // m
	Rate         float64 // 1/s, now
	Seen         float64 // s; NaN before
}

// openings holds the openings that grow in all cells.
type openings struct {
	grown []float32 // e-folds
	pair  []uint16  // upper and lower cup; 0 for none
	upper []float64 // film of the upper one, m
	all   []Opening
	sums  map[uint16]*meeting
}

// A meeting is a pair of colours, upper on lower.
type meeting struct {
	cells        int
	upper, under float64 // films, m
	at           [2]float64
	found        film.Cells
	viscous      float64 // at which it was found, Pa·s
}

func newOpenings(n int) *openings {
	return &openings{
		grown: make([]float32, n),
		pair:  make([]uint16, n),
		upper: make([]float64, n),
		sums:  map[uint16]*meeting{},
	}
}

// fewCells is on how many cells a pair has to meet before its cells are calculated,
// thinLayer the film below which a layer is not one.
const (
	fewCells  = 6
	thinLayer = 3e-5
)

// grow lets the cells grow for dt seconds by the films as they lie.
func (o *openings) grow(r *Run, dt float64) {
	o.meet(r)
	var rates [MostCups + 1][MostCups + 1]float64
	for _, pair := range o.pairs() {
		m := o.sums[pair]
		if m.cells < fewCells {
			continue
		}
		if g := o.rate(r, pair, m); g > 0 {
			rates[pair>>8][pair&255] = g
			o.note(pair, m, g)
		}
	}
	var told uint16
	for i, pair := range o.pair {
		g := rates[pair>>8][pair&255]
		if g == 0 {
			o.grown[i] = 0
			continue
		}
		if r.coat.warm != nil {
			g *= r.coat.warm[i]
		}
		before := o.grown[i]
		o.grown[i] += float32(g * dt)
		if r.coat.skin != nil && before < Grown && o.grown[i] >= Grown {
			r.coat.skin.opens(i)
		}
		if o.grown[i] >= Grown && pair != told {
			o.seen(pair, r.at+dt)
			told = pair
		}
	}
}

func (o *openings) pairs() []uint16 {
	out := make([]uint16, 0, len(o.sums))
	for p := range o.sums {
		out = append(out, p)
	}
	slices.Sort(out)
	return out
}

// meet finds which colour lies on which, with what films.
func (o *openings) meet(r *Run) {
	for _, m := range o.sums {
		m.cells, m.upper, m.under = 0, 0, 0
	}
	f := r.coat.film
	f.byRows(f.grid.whole(), func(y int, _ part) {
		for i := y * f.grid.NX; i < (y+1)*f.grid.NX; i++ {
			pair, upper := o.pairAt(r, i)
			if pair != o.pair[i] {
				o.pair[i], o.grown[i] = pair, 0
			}
			o.upper[i] = upper
		}
	})
	var last uint16
	var m *meeting
	for i, pair := range o.pair {
		if pair == 0 {
			continue
		}
		if pair != last {
			last, m = pair, o.sums[pair]
		}
		if m == nil {
			m = &meeting{}
			o.sums[pair] = m
		}
		m.cells++
		m.upper += o.upper[i]
		m.under += f.h[i]*f.per[i] - o.upper[i]
	}
}

// pairAt is which colour lies on a lighter one in a cell, 0 for none, with its film.
func (o *openings) pairAt(r *Run, i int) (pair uint16, film float64) {
	upper, under, two := r.coat.topTwo(i)
	if !two || upper.Cup == Mixed || under.Cup == Mixed ||
		r.scene.Cups[upper.Cup].Density <= r.scene.Cups[under.Cup].Density {
		return 0, 0
	}
	return uint16(upper.Cup+1)<<8 | uint16(under.Cup+1), upper.Film
}

// topTwo is the uppermost layer that counts as one and the next of another cup.
func (c *Coat) topTwo(i int) (upper, under Layer, two bool) {
	row := i * c.most
	for k := int(c.now.n[i]) - 1; k >= 0; k-- {
		l := Layer{int(c.now.cup[row+k]), c.thick(i, k)}
		switch {
		case c.powder(c.now.cup[row+k]):
			continue
		case upper.Film == 0 && l.Film >= thinLayer:
			upper = l
		case upper.Film > 0 && l.Cup == upper.Cup:
			continue
		case upper.Film > 0 && l.Film >= thinLayer:
			return upper, l, true
		}
	}
	return upper, under, false
}

// rate is how fast a pair grows now: found anew when a film has changed by a
// twentieth, and else as the viscosity went.
func (o *openings) rate(r *Run, pair uint16, m *meeting) float64 {
	films := [2]float64{m.upper / float64(m.cells), m.under / float64(m.cells)}
	viscous := r.scene.Clock.Viscosity(r.at)
	if !alike(films[0], m.at[0]) || !alike(films[1], m.at[1]) || m.viscous == 0 {
		layer := func(thick float64, cup int) film.Layer {
			c := r.scene.Cups[cup]
			mu := viscous
			if c.Fluid != nil {
				mu /= c.Fluid(r.at)
			}
			return film.Layer{
				Film:      units.Length(1000 * thick),
				Viscosity: units.Viscosity(1000 * mu),
				Density:   units.Density(c.Density),
			}
		}
		s := film.Stack{
			Upper:            layer(films[0], int(pair>>8)-1),
			Lower:            layer(films[1], int(pair&255)-1),
			InterfaceTension: r.scene.Between,
			SurfaceTension:   1000 * r.scene.Tension,
		}
		found, err := s.Fastest()
		if err != nil {
			found = film.Cells{}
		}
		m.at, m.found, m.viscous = films, found, viscous
	}
	return m.found.Growth * m.viscous / viscous
}

func alike(a, b float64) bool { return math.Abs(a-b) <= 0.05*b }

// note keeps what is told of a pair.
func (o *openings) note(pair uint16, m *meeting, rate float64) {
	k := o.index(pair)
	if k < 0 {
		o.all = append(o.all, Opening{Upper: int(pair>>8) - 1, Under: int(pair&255) - 1, Seen: math.NaN()})
		k = len(o.all) - 1
	}
	o.all[k].Spacing, o.all[k].Rate = m.found.Spacing.Metres(), rate
}

func (o *openings) seen(pair uint16, at float64) {
	if k := o.index(pair); k >= 0 && math.IsNaN(o.all[k].Seen) {
		o.all[k].Seen = at
	}
}

func (o *openings) index(pair uint16) int {
	return slices.IndexFunc(o.all, func(p Opening) bool { return p.Upper == int(pair>>8)-1 && p.Under == int(pair&255)-1 })
}

// Openings are the pairs of which cells grow or grew.
func (r *Run) Openings() []Opening { return slices.Clone(r.seen().opens.all) }
