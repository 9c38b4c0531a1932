package flow

import (
	"math"

	"jevvo/internal/core/geom"
)

// A Sample is the state of a run at a moment. Volumes are in m³, by cup.
type Sample struct {
	At                      float64 // s
	OnBoard, Sides, Below   []float64
	Thinnest, Mean, Deepest float64 // film on the face, m
	Bare                    float64 // share of the face with no film
	ThinAt                  int     // the cell where it is thinnest
}

// Sample takes stock.
func (r *Run) Sample() Sample {
	r = r.seen()
	s := Sample{At: r.at, OnBoard: r.coat.OnBoard(), Sides: r.coat.OnSides(), Below: r.coat.Below(), Thinnest: math.Inf(1)}
	on, bare := 0.0, 0.0
	for i, h := range r.coat.film.H() {
		if !r.scene.Grid.On(i) {
			continue
		}
		share := r.coat.film.area[i]
		on += share
		if h < nothing {
			bare += share
		}
		s.Mean += h * share
		s.Deepest = math.Max(s.Deepest, h)
		if h < s.Thinnest {
			s.Thinnest, s.ThinAt = h, i
		}
	}
	s.Mean /= on
	s.Bare = bare / on
	return s
}

// FilmAt is the film at a point of the board in mm from its corner, between the
// middles of cells; 0 beside the face.
func (r *Run) FilmAt(p geom.Point) float64 {
	r = r.seen()
	g := r.scene.Grid
	fx, fy := p.X/(1000*g.Cell)-0.5, p.Y/(1000*g.Cell)-0.5
	i, j := int(math.Floor(fx)), int(math.Floor(fy))
	sum, weight := 0.0, 0.0
	for k := range 4 {
		u, v := i+k&1, j+k>>1
		if u < 0 || v < 0 || u >= g.NX || v >= g.NY || !g.On(v*g.NX+u) {
			continue
		}
		w := (1 - math.Abs(fx-float64(u))) * (1 - math.Abs(fy-float64(v)))
		sum += w * r.coat.film.h[v*g.NX+u] * r.coat.film.per[v*g.NX+u]
		weight += w
	}
	if weight == 0 {
		return 0
	}
	return sum / weight
}

// CellAt is the cell of the face at a point in mm from the board's corner; −1
// beside it.
func (g Grid) CellAt(p geom.Point) int {
	x, y := int(math.Floor(p.X/(1000*g.Cell))), int(math.Floor(p.Y/(1000*g.Cell)))
	if x < 0 || y < 0 || x >= g.NX || y >= g.NY || !g.On(y*g.NX+x) {
		return -1
	}
	return y*g.NX + x
}

// SurfaceSpeed is how fast the surface of a cell moves, in m/s: h²/2ν of what
// drives it, and h/μ of what drags at it.
func (r *Run) SurfaceSpeed(i int) (x, y float64) {
	r = r.seen()
	f, g := r.coat.film, r.scene.Grid
	f.lift(g.whole())
	nu := r.scene.Clock.Viscosity(r.at) / r.scene.Density / f.easeAt(i)
	slope := func(stride int, low, high bool) float64 {
		a, b, n := i, i, 0.0
		if low {
			a, n = i-stride, n+1
		}
		if high {
			b, n = i+stride, n+1
		}
		if n == 0 {
			return 0
		}
		return (f.high[b] - f.high[a]) / (n * g.Cell)
	}
	speed := func(along int, slope float64) float64 {
		v := f.high[i] * f.high[i] / (2 * nu) * (f.pull[along] - Gravity*slope)
		if f.wind[along] != nil {
			v += f.wind[along][i] * f.high[i] / nu
		}
		return v
	}
	col, row := i%g.NX, i/g.NX
	x = speed(0, slope(1, col > 0 && f.lx[i-1] > 0, f.lx[i] > 0))
	y = speed(1, slope(g.NX, row > 0 && f.ly[i-g.NX] > 0, f.ly[i] > 0))
	return x, y
}

// A Snapshot is the compact content of all cells at a moment.
type Snapshot struct {
	from []int32 // where each cell's layers begin
	cup  []uint8
	film []float32
}

// Snapshot returns the coat as it is now.
func (c *Coat) Snapshot() Snapshot {
	s := Snapshot{from: make([]int32, len(c.now.n)+1)}
	for i, n := range c.now.n {
		s.from[i+1] = s.from[i] + int32(n)
	}
	all := s.from[len(c.now.n)]
	s.cup, s.film = make([]uint8, 0, all), make([]float32, 0, all)
	for i, n := range c.now.n {
		for k := i * c.most; k < i*c.most+int(n); k++ {
			s.cup, s.film = append(s.cup, c.now.cup[k]), append(s.film, float32(c.now.d[k]*c.film.per[i]))
		}
	}
	return s
}

// Column is a cell's layers at that moment, lowest first.
func (s Snapshot) Column(i int) []Layer {
	var out []Layer
	for k := s.from[i]; k < s.from[i+1]; k++ {
		out = append(out, Layer{int(s.cup[k]), float64(s.film[k])})
	}
	return out
}
