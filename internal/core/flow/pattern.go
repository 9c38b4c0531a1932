package flow

import "math"

// Cells as they are drawn: from the moment they are first seen they open up to
// widest of the face in a few e-folds, the colour that lay there drawn into the
// walls; later some close and their neighbours take their place (our reading of
// common practice).
const (
	widest     = 0.6
	opensIn    = 1.5 // e-folds
	coarsens   = 0.03
	coarsest   = 0.3
	coarseFrom = 9 // e-folds
)

// A pattern is one possible draw of cells at a spacing.
type pattern struct {
	spacing float64 // m
	seed    uint64
	wall    float64 // difference of distances within which a wall stands, in spacings
	gone    float64 // share of the cells that have closed
}

// opening is how much of a cell of the grid is opened, from which layer on it is,
// and where.
func (r *Run) opening(i int) (open float64, top int, p pattern) {
	n := int(r.coat.now.n[i])
	g := float64(r.opens.grown[i])
	if g < Grown {
		return 0, n, p
	}
	k := r.opens.index(r.opens.pair[i])
	if k < 0 || r.opens.all[k].Spacing <= 0 {
		return 0, n, p
	}
	upper := uint8(r.opens.all[k].Upper)
	for top = n; top > 0; top-- { // down to the last layer of the upper colour
		if cup := r.coat.now.cup[i*r.coat.most+top-1]; cup != upper && r.coat.thick(i, top-1) >= thinLayer {
			break
		}
	}
	open = widest * (1 - math.Exp(-(g-Grown)/opensIn))
	p = pattern{
		spacing: r.opens.all[k].Spacing,
		seed:    r.scene.Seed ^ uint64(r.opens.pair[i])<<40,
		wall:    1 - math.Sqrt(open),
		gone:    math.Max(0, math.Min(coarsest, coarsens*(g-coarseFrom))),
	}
	return open, top, p
}

// sites are the middles of a pattern's cells over a part of it, in spacings: worked out once
// for a picture.
type sites struct {
	u, v, nx, ny int
	x, y         []float64
	goes         []float64 // the share of cells that have closed when this one does
}

// reach is how many squares about a place the nearest sites are looked for in.
const reach = 2

// over works out the sites about a part of the board, in m.
func (p pattern) over(x0, y0, x1, y1 float64) *sites {
	low := func(v float64) int { return int(math.Floor(v/p.spacing)) - reach }
	s := &sites{u: low(x0), v: low(y0)}
	s.nx, s.ny = low(x1)+2*reach+1-s.u, low(y1)+2*reach+1-s.v
	n := s.nx * s.ny
	s.x, s.y, s.goes = make([]float64, n), make([]float64, n), make([]float64, n)
	for i := range s.x {
		s.x[i], s.y[i], s.goes[i] = p.site(s.u+i%s.nx, s.v+i/s.nx)
	}
	return s
}

// byNearness are the rows of squares about a place, the nearest first.
var byNearness = [...]int{0, -1, 1, -2, 2}

// apart is how far a place is from a square that begins at 0.
func apart(y float64) float64 { return max(0, -y, y-1) }

// inside is how much of a point of the picture, so large in m, is in an open cell: nearer to
// one site than to the next by more than a wall.
func (p pattern) inside(of *sites, x, y, size float64) float64 {
	x, y = x/p.spacing, y/p.spacing
	near, next := math.Inf(1), math.Inf(1) // squares
	u, v := int(math.Floor(x))-of.u, int(math.Floor(y))-of.v
	for _, by := range byNearness {
		row := v + by
		if off := apart(y - float64(of.v+row)); row < 0 || row >= of.ny || off*off > next {
			continue
		}
		for i := row*of.nx + max(0, u-reach); i <= row*of.nx+min(of.nx-1, u+reach); i++ {
			if of.goes[i] < p.gone {
				continue
			}
			dx, dy := of.x[i]-x, of.y[i]-y
			if d := dx*dx + dy*dy; d < near {
				near, next = d, near
			} else if d < next {
				next = d
			}
		}
	}
	return math.Max(0, math.Min(1, 0.5+(math.Sqrt(next)-math.Sqrt(near)-p.wall)/(2*size/p.spacing)))
}

// site is the middle of a cell of the pattern, in spacings: one in each square, never at its
// rim, so that no two are close; and which share of them has closed when it does.
func (p pattern) site(u, v int) (x, y, goes float64) {
	h := mix64(uint64(uint32(u))<<32 | uint64(uint32(v)) ^ p.seed)
	const rim = 0.12
	part := func(bits uint64) float64 { return rim + (1-2*rim)*float64(bits&0xfffff)/0xfffff }
	return float64(u) + part(h), float64(v) + part(h>>20), float64(h>>44) / (1 << 20)
}

// wavy is a smooth number from −1 to 1 that differs from place to place, about as far as 1
// apart: numbers at whole places, and between them Perlin's fade (2002).
func wavy(x, y float64, seed uint64) float64 {
	at := func(u, v float64) float64 {
		h := mix64(uint64(uint32(int32(u)))<<32 | uint64(uint32(int32(v))) ^ seed)
		return float64(h>>11)/(1<<52) - 1
	}
	fade := func(t float64) float64 { return t * t * t * (t*(6*t-15) + 10) }
	u, v := math.Floor(x), math.Floor(y)
	s, t := fade(x-u), fade(y-v)
	low := at(u, v)*(1-s) + at(u+1, v)*s
	return low*(1-t) + (at(u, v+1)*(1-s)+at(u+1, v+1)*s)*t
}

// mix64 spreads the bits of a number (SplitMix64, Steele et al. 2014).
func mix64(z uint64) uint64 {
	z += 0x9e3779b97f4a7c15
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return z ^ z>>31
}
