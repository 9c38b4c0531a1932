package flow

import (
	"math"
	"slices"
)

// A Glance is the key of a picture, so that the next is made only when something of it
// has changed.
type Glance struct {
	done  int
	high  []float64
	back  drift
	grown []float32
}

// What is no change to an eye: of a film's height in m, of the way of its surface in cells, and
// of how far cells have opened, in e-folds.
const (
	sameFilm  = 5e-7
	sameWay   = 0.02
	sameGrown = 0.1
)

// Glance is the key of the current picture.
func (r *Run) Glance() *Glance {
	r = r.seen()
	g := &Glance{done: r.done, high: slices.Clone(r.coat.film.H()), grown: slices.Clone(r.opens.grown)}
	if r.coat.skin != nil {
		g.back = r.coat.skin.back.clone()
	}
	return g
}

// Same reports whether a picture would be as it was at another glance.
func (g *Glance) Same(was *Glance) bool {
	return was != nil && g.done == was.done && near(g.high, was.high, sameFilm) && near(g.back.x, was.back.x, sameWay) &&
		near(g.back.y, was.back.y, sameWay) && alikeGrown(g.grown, was.grown)
}

func near(a, b []float64, much float64) bool {
	for i, v := range a {
		if math.Abs(v-b[i]) > much {
			return false
		}
	}
	return len(a) == len(b)
}

// alikeGrown compares where cells have opened, or just do.
func alikeGrown(a, b []float32) bool {
	for i, v := range a {
		if max(v, b[i]) >= Grown && math.Abs(float64(v-b[i])) > sameGrown {
			return false
		}
	}
	return len(a) == len(b)
}
