package flow

import (
	"cmp"
	"math"
	"slices"

	"jevvo/internal/core/geom"
)

// turnsBack is the cosine of the turn at which a path begins anew: what it crosses before
// and after is passed twice.
const turnsBack = 0.5

// legs are a path cut where it turns back on itself; bits of no length are left out.
func legs(path []geom.Point) [][]geom.Point {
	var out [][]geom.Point
	var leg []geom.Point
	for k, p := range path {
		if k > 0 && p == path[k-1] {
			continue
		}
		if n := len(leg); n > 1 {
			was, is := leg[n-1].Sub(leg[n-2]), p.Sub(leg[n-1])
			if was.Dot(is) < turnsBack*was.Norm()*is.Norm() {
				out, leg = append(out, leg), []geom.Point{leg[n-1]}
			}
		}
		leg = append(leg, p)
	}
	if len(leg) > 1 {
		out = append(out, leg)
	}
	return out
}

// A passing is how a blade comes over a cell: in which lane, how far along, and how far to
// the left of the middle, in mm.
type passing struct {
	cell, lane   int32
	along, aside float64
}

// lanes are the rows of cells along a path, side by side over its width; of a comb those
// under its teeth. On each leg of the path every cell belongs to one lane.
func (r *Run) lanes(path []geom.Point, width float64, teeth int) []Lane {
	g := r.scene.Grid
	rows := map[int32]*Lane{}
	for _, leg := range legs(path) {
		for _, p := range g.passings(leg, width*500) {
			if g.between(p.aside/(1000*width)+0.5, teeth) {
				continue
			}
			l := rows[p.lane]
			if l == nil {
				l = &Lane{}
				rows[p.lane] = l
			}
			l.Cells = append(l.Cells, int(p.cell))
		}
	}
	left := leftOf(path)
	keys := make([]int32, 0, len(rows))
	for lane := range rows {
		keys = append(keys, lane)
	}
	slices.Sort(keys)
	out := make([]Lane, len(keys))
	for k, lane := range keys {
		out[k] = *rows[lane]
		out[k].Off = g.CellAt(path[len(path)-1].Add(left.Scale(float64(lane)*1000*g.Cell))) < 0
	}
	return out
}

// leftOf points to the left of where a path ends.
func leftOf(path []geom.Point) geom.Point {
	for k := len(path) - 1; k > 0; k-- {
		if d := path[k].Sub(path[k-1]); d.Norm() > 0 {
			return geom.At(-d.Y, d.X).Scale(1 / d.Norm())
		}
	}
	return geom.Point{}
}

// between reports whether a share of a comb's width lies between two of its teeth.
func (g Grid) between(share float64, teeth int) bool {
	return int(math.Min(math.Max(share, 0), 1-1e-9)*float64(2*teeth-1))%2 == 1
}

// passings are the cells that a leg of a path goes over, in the order in which it does; one
// row of them where the blade is narrower than a cell.
func (g Grid) passings(leg []geom.Point, reach float64) []passing {
	cell := 1000 * g.Cell
	narrow := 2*reach < cell
	if narrow {
		reach = cell
	}
	best := map[int32]passing{}
	gone := 0.0
	for k := 1; k < len(leg); k++ {
		a, d := leg[k-1], leg[k].Sub(leg[k-1])
		long := d.Norm()
		d = d.Scale(1 / long)
		phase := g.phase(a, d)
		g.inStrip(a, leg[k], reach, func(i int32, p geom.Point) {
			q := p.Sub(a)
			along, aside := q.Dot(d), d.Cross(q)
			if along < -1e-9*cell || along >= long-1e-9*cell || math.Abs(aside) > reach+1e-9*cell {
				return
			}
			lane := int32(math.Floor((aside-phase)/cell + 0.5))
			if narrow && lane != 0 {
				return
			}
			if was, ok := best[i]; !ok || math.Abs(aside) < math.Abs(was.aside) {
				best[i] = passing{i, lane, gone + along, aside}
			}
		})
		gone += long
	}
	out := make([]passing, 0, len(best))
	for _, p := range best {
		out = append(out, p)
	}
	slices.SortFunc(out, func(p, q passing) int {
		return cmp.Or(cmp.Compare(p.along, q.along), cmp.Compare(p.cell, q.cell))
	})
	return out
}

// phase is how far the middle of the cell nearest to a line lies to the left of it: lanes
// along the cells go through their middles, and rounding moves none of them to the next.
func (g Grid) phase(a, d geom.Point) float64 {
	cell := 1000 * g.Cell
	near := geom.At((math.Floor(a.X/cell)+0.5)*cell, (math.Floor(a.Y/cell)+0.5)*cell)
	return d.Cross(near.Sub(a))
}

// inStrip visits the cells of the face about a straight line, in mm.
func (g Grid) inStrip(a, b geom.Point, reach float64, do func(i int32, p geom.Point)) {
	cell := 1000 * g.Cell
	low := func(v float64) int { return max(0, int(math.Floor((v-reach)/cell))) }
	high := func(v float64, n int) int { return min(n-1, int(math.Floor((v+reach)/cell))) }
	for y := low(min(a.Y, b.Y)); y <= high(max(a.Y, b.Y), g.NY); y++ {
		for x := low(min(a.X, b.X)); x <= high(max(a.X, b.X), g.NX); x++ {
			if i := y*g.NX + x; g.On(i) {
				do(int32(i), geom.At((float64(x)+0.5)*cell, (float64(y)+0.5)*cell))
			}
		}
	}
}
