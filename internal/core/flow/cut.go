package flow

import (
	"math"
	"slices"

	"jevvo/internal/core/geom"
)

// A cell that the outline crosses has the area that lies within: the film is told as the
// volume over a whole cell, so that all that is moved and summed needs to know nothing of
// it, and its height is that over the cell's share.

// Cut gives the cells of a grid their true areas, of an outline in mm from the corner and
// its area in mm². What lies in a cell whose middle does not, is its neighbour's.
func (g Grid) Cut(outline [][]geom.Point, area float64) Grid {
	c := coverage{g: g, of: make([]float64, (g.NX+2)*(g.NY+1))}
	for k, loop := range outline {
		c.loop(loop, turn(outline, k))
	}
	shares := c.shares()
	g.slivers(shares)
	g.scaled(shares, area/(1e6*g.Cell*g.Cell))
	g.Area = shares
	return g
}

// Share is which part of a cell lies on the face.
func (g Grid) Share(i int) float64 {
	if g.Area == nil {
		return 1
	}
	return g.Area[i]
}

// turn is which way a loop counts: its own sense, the other way round for a hole.
func turn(outline [][]geom.Point, k int) float64 {
	within := 0
	for j, other := range outline {
		if j != k && geom.Contains(other, outline[k][0]) {
			within++
		}
	}
	sense := 1.0
	if geom.SignedArea(outline[k]) < 0 {
		sense = -1
	}
	if within%2 == 1 {
		return -sense
	}
	return sense
}

// A coverage sums up what of each cell lies to the right of the edges of an outline: exactly,
// edge by edge (as fonts are drawn). A row of it is two cells wider than the grid.
type coverage struct {
	g  Grid
	of []float64
}

func (c *coverage) loop(points []geom.Point, sense float64) {
	per := 1 / (1000 * c.g.Cell)
	for k, p := range points {
		q := points[(k+1)%len(points)]
		c.edge(p.Scale(per), q.Scale(per), sense)
	}
}

// edge adds a straight edge, in cells, cut where it goes from cell to cell.
func (c *coverage) edge(p, q geom.Point, sense float64) {
	cuts := []float64{0, 1}
	cross := func(from, to float64) {
		low, high := math.Min(from, to), math.Max(from, to)
		for v := math.Ceil(low); v <= high; v++ {
			if t := (v - from) / (to - from); t > 0 && t < 1 {
				cuts = append(cuts, t)
			}
		}
	}
	cross(p.X, q.X)
	cross(p.Y, q.Y)
	slices.Sort(cuts)
	wide := c.g.NX + 2
	for k := 1; k < len(cuts); k++ {
		a, b := geom.Lerp(p, q, cuts[k-1]), geom.Lerp(p, q, cuts[k])
		x := math.Min(math.Max((a.X+b.X)/2, 0), float64(c.g.NX))
		y0, y1 := math.Min(math.Max(a.Y, 0), float64(c.g.NY)), math.Min(math.Max(b.Y, 0), float64(c.g.NY))
		i, j := int(x), min(int((y0+y1)/2), c.g.NY)
		c.of[j*wide+i] += sense * (y1 - y0) * (float64(i) + 1 - x)
		c.of[j*wide+i+1] += sense * (y1 - y0) * (x - float64(i))
	}
}

// shares are the parts of the cells within.
func (c *coverage) shares() []float64 {
	out := make([]float64, c.g.Len())
	for y := range c.g.NY {
		sum := 0.0
		for x := range c.g.NX {
			sum += c.of[y*(c.g.NX+2)+x]
			out[y*c.g.NX+x] = math.Min(1, math.Abs(sum))
		}
	}
	return out
}

// slivers gives what lies in cells that are not on the face to the neighbour that has most.
func (g Grid) slivers(shares []float64) {
	was := slices.Clone(shares)
	for i, share := range was {
		if g.On(i) || share == 0 {
			continue
		}
		shares[i] = 0
		to, x, y := -1, i%g.NX, i/g.NX
		for v := max(0, y-1); v <= min(g.NY-1, y+1); v++ {
			for u := max(0, x-1); u <= min(g.NX-1, x+1); u++ {
				if j := v*g.NX + u; g.On(j) && (to < 0 || was[j] > was[to]) {
					to = j
				}
			}
		}
		if to >= 0 {
			shares[to] += share
		}
	}
}

// leastShare is how much of a cell on the face there is at least.
const leastShare = 0.05

// scaled brings the sum of all to what it is, by the cells that are cut: an outline is drawn
// in straight bits.
func (g Grid) scaled(shares []float64, all float64) {
	whole, cut := 0.0, 0.0
	for i, s := range shares {
		switch {
		case !g.On(i):
		case s == 1:
			whole++
		default:
			shares[i] = math.Max(leastShare, s)
			cut += shares[i]
		}
	}
	if cut == 0 || all <= whole {
		return
	}
	for i, s := range shares {
		if g.On(i) && s != 1 {
			shares[i] *= (all - whole) / cut
		}
	}
}
