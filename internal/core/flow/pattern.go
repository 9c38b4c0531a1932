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
		if cup := r.coat.now.cup[i*r.coat.most+top-1]; cup != upper && r.coat.now.d[i*r.coat.most+top-1] >= thinLayer {
			break
		}
	}
	open = widest * (1 - math.Exp(-(g-Grown)/opensIn))
	p = pattern{spacing: r.opens.all[k].Spacing, seed: r.scene.Seed ^ uint64(r.opens.pair[i])<<40, wall: 1 - math.Sqrt(open), gone: math.Max(0, math.Min(coarsest, coarsens*(g-coarseFrom)))}
	return open, top, p
}

// inside is how much of a point of the picture, so large in m, is in an open cell:
// nearer to one site than to the next by more than a wall.
func (p pattern) inside(x, y, size float64) float64 {
	x, y = x/p.spacing, y/p.spacing
	near, next := math.Inf(1), math.Inf(1) // squares
	ix, iy := int(math.Floor(x)), int(math.Floor(y))
	for v := iy - 2; v <= iy+2; v++ {
		for u := ix - 2; u <= ix+2; u++ {
			sx, sy, ok := p.site(u, v)
			if !ok {
				continue
			}
			if d := (sx-x)*(sx-x) + (sy-y)*(sy-y); d < near {
				near, next = d, near
			} else if d < next {
				next = d
			}
		}
	}
	return math.Max(0, math.Min(1, 0.5+(math.Sqrt(next)-math.Sqrt(near)-p.wall)/(2*size/p.spacing)))
}

// site is the middle of a cell of the pattern, in spacings: one in each square,
// never at its rim, so that no two are close.
func (p pattern) site(u, v int) (x, y float64, ok bool) {
	h := mix64(uint64(uint32(u))<<32 | uint64(uint32(v)) ^ p.seed)
	if float64(h>>44)/(1<<20) < p.gone {
		return 0, 0, false
	}
	const rim = 0.12
	part := func(bits uint64) float64 { return rim + (1-2*rim)*float64(bits&0xfffff)/0xfffff }
	return float64(u) + part(h), float64(v) + part(h>>20), true
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
