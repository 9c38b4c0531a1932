// Package flow pours a coat on a board before it is poured: a film on a regular
// grid that spreads, drains and levels as lubrication has it,
//
//	∂h/∂F = ∇·(h³/3·(g∇h − g_t)), F = ∫dt/ν,
//
// where g_t is the part of gravity along a tilted board. Fluidity time F stands
// for t/ν of a resin that thickens: minutes 0 to 40 of a 45-minute resin are 1 249
// s of a fresh one, 12 to 40 only 672 s, and the film does not know the difference.
//
//	f, err := flow.NewFilm(grid, flow.Wetted)
//	f.Pour(disc)                    // metres of film a cell
//	err = f.Advance(ctx, fluidity)  // s²/m²
//	f.Balance()                     // on the board, over the edges: all of it
//
// What lies is conserved to rounding: all changes are fluxes between cells, or
// over an open edge, where they are counted.
package flow

import (
	"math"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// Gravity is the standard acceleration in m/s² (CODATA, exact by definition).
const Gravity = 9.80665

// Limits of a grid: more cells than a screen shows, or fewer than a film needs,
// say nothing.
const (
	mostCells  = 1024
	fewest     = 1
	smallest   = 1e-5 // m
	largestLen = 20.0 // m
)

// A Grid divides a board into square cells, row by row from its corner.
type Grid struct {
	NX, NY int
	Cell   float64   // m
	Inside []bool    // on the face; nil for all
	Area   []float64 // which part of each cell is; nil for all of it
}

// NewGrid lays a grid of cells over a board's outline, measured from the corner of
// its box in millimetres; a cell is on the face when its middle is.
func NewGrid(width, height float64, cells int, inside func(geom.Point) bool) (Grid, error) {
	if !(width > 0) || !(height > 0) || width > 1000*largestLen || height > 1000*largestLen {
		return Grid{}, refusal.New("a board must measure more than 0 and at most 20 m")
	}
	if cells < 8 || cells > mostCells {
		return Grid{}, refusal.New("a board is divided into 8 to %d cells on its longer side", mostCells)
	}
	cell := math.Max(width, height) / float64(cells)
	g := Grid{NX: max(1, int(math.Round(width/cell))), NY: max(1, int(math.Round(height/cell))), Cell: cell / 1000}
	g.Inside = make([]bool, g.NX*g.NY)
	any := false
	for i := range g.Inside {
		at := geom.At((float64(i%g.NX)+0.5)*cell, (float64(i/g.NX)+0.5)*cell)
		g.Inside[i] = inside(at)
		any = any || g.Inside[i]
	}
	if !any {
		return Grid{}, refusal.New("the board is smaller than a cell")
	}
	return g, nil
}

// A Side is one of the four ways out of a cell; several are added.
type Side uint8

// The sides: x runs east, y north.
const (
	East Side = 1 << iota
	West
	North
	South
	AllRound = East | West | North | South
)

// Len is the number of cells.
func (g Grid) Len() int { return g.NX * g.NY }

// On reports whether a cell is on the face.
func (g Grid) On(i int) bool { return g.Inside == nil || g.Inside[i] }

func (g Grid) check() error {
	switch {
	case g.NX < fewest || g.NY < fewest || g.NX > mostCells || g.NY > mostCells:
		return refusal.New("a grid has 1 to %d cells a side", mostCells)
	case !(g.Cell >= smallest) || g.Cell*float64(max(g.NX, g.NY)) > largestLen:
		return refusal.New("a cell is at least a hundredth of a millimetre, a board at most 20 m")
	case g.Area != nil && len(g.Area) != g.Len():
		return refusal.New("every cell of a grid has an area")
	case g.Inside != nil && len(g.Inside) != g.Len():
		return refusal.New("every cell of a grid is on the face or not")
	}
	return nil
}
