package flow

import (
	"errors"
	"maps"
	"math"
	"math/rand/v2"
	"slices"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// A heap is film to be laid on some cells.
type heap struct {
	cells  []int32
	film   []float64             // volume over a whole cell, m
	within func(geom.Point) bool // its outline in mm; nil for all of its cells
	veil   bool                  // too fine to have one
}

var errBeside = refusal.New("it is off the board")

// heaped divides a volume over the cells of the face by their weights.
func (r *Run) heaped(volume float64, weight map[int]float64) (heap, error) {
	g := r.scene.Grid
	sum := 0.0
	var h heap
	for _, i := range slices.Sorted(maps.Keys(weight)) { // in the order of the grid: sums must not depend on a map's
		if w := weight[i] * g.Share(i); w > 0 && g.On(i) {
			h.cells, h.film = append(h.cells, int32(i)), append(h.film, w)
			sum += w
		}
	}
	if sum == 0 {
		return h, errBeside
	}
	for k, w := range h.film {
		if h.film[k] = volume * w / (sum * g.Cell * g.Cell); h.film[k] > 0.2 {
			return h, refusal.New("more is poured there than a hand's breadth deep")
		}
	}
	return h, nil
}

// lay pours a heap.
func (r *Run) lay(cup int, h heap) { r.coat.heap(uint8(cup), h) }

// bed spreads a film evenly over the face or a part of it; of a cell on the part's
// edge as much counts as lies within.
func (r *Run) bed(m Move) error {
	g, area := r.scene.Grid, 0.0
	weight := map[int]float64{}
	for i := range g.Len() {
		if !g.On(i) {
			continue
		}
		if w := g.covered(i, m.Within); w > 0 {
			weight[i] = w
			area += w * g.Share(i) * g.Cell * g.Cell
		}
	}
	volume := m.Volume
	if volume == 0 {
		volume = m.Film * area
	}
	h, err := r.heaped(volume, weight)
	if err != nil {
		return err
	}
	h.within = m.Within
	r.then(m.At, func() { r.lay(m.Cup, h) })
	return nil
}

// covered is which share of a cell lies within a part of the board, from four by
// four points of it.
func (g Grid) covered(i int, within func(geom.Point) bool) float64 {
	if within == nil {
		return 1
	}
	const side = 4
	in := 0
	mid, cell := g.Middle(i), g.Cell*1000
	for k := range side * side {
		off := geom.At((float64(k%side)+0.5)/side-0.5, (float64(k/side)+0.5)/side-0.5)
		if within(mid.Add(off.Scale(cell))) {
			in++
		}
	}
	return float64(in) / (side * side)
}

// Middle is the middle of a cell, in mm from the board's corner.
func (g Grid) Middle(i int) geom.Point {
	return geom.At((float64(i%g.NX)+0.5)*g.Cell*1000, (float64(i/g.NX)+0.5)*g.Cell*1000)
}

// profile is Huppert's of a liquid that has just been poured, at a share of its
// half width from the middle.
func hump(x float64) float64 { return math.Cbrt(math.Max(0, 1-x*x)) }

// A fresh ribbon stands as high as steepness times its half width, a fresh puddle
// as half its radius (our reading of how resin leaves a cup).
const (
	ribbonSteep = 0.6
	ribbonFull  = 0.8413 // mean of the hump over its width
	puddleSteep = 0.5
	puddleFull  = 0.75
	leastCells  = 1.5 // half of the narrowest that a grid shows
)

// RibbonWidth is how wide a volume in m³ lies at first that is poured along a length
// in m, in m.
func RibbonWidth(volume, length float64) float64 {
	return 2 * math.Sqrt(volume/length/(2*ribbonFull*ribbonSteep))
}

// ribbon pours along a line, all at once or over its time.
func (r *Run) ribbon(m Move) error {
	length := geom.Length(m.Points) / 1000
	if length == 0 {
		return r.puddle(m)
	}
	half := m.Width / 2
	if half == 0 {
		half = RibbonWidth(m.Volume, length) / 2
	}
	half = math.Max(half, leastCells*r.scene.Grid.Cell)
	parts := 1
	if m.For > 0 {
		parts = max(1, min(12, int(math.Ceil(m.For/2))))
	}
	for k := range parts {
		from, to := float64(k)/float64(parts), float64(k+1)/float64(parts)
		line := geom.Part(m.Points, from, to)
		h, err := r.heaped(m.Volume/float64(parts), r.along(line, half))
		if errors.Is(err, errBeside) && parts > 1 {
			continue
		} else if err != nil {
			return err
		}
		h.within = func(p geom.Point) bool { return nearLine(p, line, 1000*half) }
		r.then(m.At+from*m.For, func() { r.lay(m.Cup, h) })
	}
	return nil
}

// nearLine reports whether a point is within reach of a line, in mm.
func nearLine(p geom.Point, line []geom.Point, reach float64) bool {
	for k := 1; k < len(line); k++ {
		if geom.FromSegment(p, line[k-1], line[k]) < reach {
			return true
		}
	}
	return false
}

// along weighs the cells near a line by the hump across it.
func (r *Run) along(line []geom.Point, half float64) map[int]float64 {
	weight := map[int]float64{}
	reach := half * 1000
	for k := 1; k < len(line); k++ {
		a, b := line[k-1], line[k]
		r.near(geom.At((a.X+b.X)/2, (a.Y+b.Y)/2), a.Sub(b).Norm()/2+reach, func(i int, p geom.Point) {
			if w := hump(geom.FromSegment(p, a, b) / reach); w > weight[i] {
				weight[i] = w
			}
		})
	}
	return weight
}

// near visits the cells within a square about a point, both in mm.
func (r *Run) near(at geom.Point, reach float64, do func(i int, p geom.Point)) {
	g := r.scene.Grid
	cell := g.Cell * 1000
	x0, x1 := max(0, int((at.X-reach)/cell)), min(g.NX-1, int((at.X+reach)/cell))
	y0, y1 := max(0, int((at.Y-reach)/cell)), min(g.NY-1, int((at.Y+reach)/cell))
	for y := y0; y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			i := y*g.NX + x
			do(i, g.Middle(i))
		}
	}
}

func (r *Run) disc(at geom.Point, radius float64, weight map[int]float64) {
	reach := math.Max(radius, leastCells*r.scene.Grid.Cell) * 1000
	r.near(at, reach, func(i int, p geom.Point) { weight[i] += hump(p.Sub(at).Norm() / reach) })
}

// pourParts is in how many parts what is poured over a time comes down at most.
const pourParts = 400

// puddle pours on one place, all at once or over its time.
func (r *Run) puddle(m Move) error {
	radius := m.Radius
	if radius == 0 {
		radius = math.Cbrt(m.Volume / (math.Pi * puddleFull * puddleSteep))
	}
	weight := map[int]float64{}
	r.disc(m.Points[0], radius, weight)
	parts := 1
	if m.For > 0 {
		parts = max(1, min(pourParts, int(math.Ceil(m.For))))
	}
	h, err := r.heaped(m.Volume/float64(parts), weight)
	if err != nil {
		return err
	}
	reach := math.Max(radius, leastCells*r.scene.Grid.Cell) * 1000
	h.within = func(p geom.Point) bool { return p.Sub(m.Points[0]).Norm() < reach }
	for k := range parts {
		r.then(m.At+m.For*float64(k)/float64(parts), func() { r.lay(m.Cup, h) })
	}
	return nil
}

// chance is a source of what no sum foretells, the same for the same seed, kind
// and moment.
func (r *Run) chance(m Move) *rand.Rand {
	return rand.New(rand.NewPCG(r.scene.Seed, math.Float64bits(m.At)^uint64(len(m.Kind))<<32))
}

// scattered is a place on the face within a radius of a point, each as likely as
// the other; the point itself when hardly any is on the face.
func (r *Run) scattered(random *rand.Rand, at geom.Point, radius float64) geom.Point {
	for range 50 {
		d, a := radius*1000*math.Sqrt(random.Float64()), 2*math.Pi*random.Float64()
		if p := geom.At(at.X+d*math.Cos(a), at.Y+d*math.Sin(a)); r.scene.Grid.CellAt(p) >= 0 {
			return p
		}
	}
	return at
}

// drops fall here and there within a radius.
func (r *Run) drops(m Move) error {
	random, weight := r.chance(m), map[int]float64{}
	radius := math.Cbrt(m.Volume / float64(m.Count) / (math.Pi * puddleFull * puddleSteep))
	reach := math.Max(radius, leastCells*r.scene.Grid.Cell) * 1000
	var all []geom.Point
	for range m.Count {
		all = append(all, r.scattered(random, m.Points[0], m.Radius))
		r.disc(all[len(all)-1], radius, weight)
	}
	return r.fall(m, weight, func(p geom.Point) bool {
		return slices.ContainsFunc(all, func(at geom.Point) bool { return p.Sub(at).Norm() < reach })
	})
}

// dust falls as powder where the move says: on a part, along a path, about a place,
// or all over; unevenly, as a hand shakes it.
func (r *Run) dust(m Move) error {
	random, weight := r.chance(m), map[int]float64{}
	where := r.dusted(m)
	for i := range r.scene.Grid.Len() {
		if r.scene.Grid.On(i) && where(r.scene.Grid.Middle(i)) {
			weight[i] = random.ExpFloat64()
		}
	}
	return r.fall(m, weight, nil)
}

func (r *Run) dusted(m Move) func(geom.Point) bool {
	switch {
	case m.Within != nil:
		return m.Within
	case len(m.Points) == 1:
		return func(p geom.Point) bool { return p.Sub(m.Points[0]).Norm() <= 1000*m.Radius }
	case len(m.Points) > 1:
		return func(p geom.Point) bool {
			for k := 1; k < len(m.Points); k++ {
				if geom.FromSegment(p, m.Points[k-1], m.Points[k]) <= 500*m.Width {
					return true
				}
			}
			return false
		}
	}
	return func(geom.Point) bool { return true }
}

// fall lays a cup's volume on cells by their weights when the move is due, within an
// outline; nil for what is too fine to have one.
func (r *Run) fall(m Move, weight map[int]float64, within func(geom.Point) bool) error {
	h, err := r.heaped(m.Volume, weight)
	if err != nil {
		return err
	}
	h.within, h.veil = within, within == nil
	r.then(m.At, func() { r.lay(m.Cup, h) })
	return nil
}

// mist falls on every cell within a radius, unevenly: its droplets are counted.
func (r *Run) mist(m Move) error {
	random, weight := r.chance(m), map[int]float64{}
	r.near(m.Points[0], m.Radius*1000, func(i int, p geom.Point) {
		if p.Sub(m.Points[0]).Norm() <= m.Radius*1000 {
			weight[i] = random.ExpFloat64()
		}
	})
	return r.fall(m, weight, nil)
}
