package colour

import (
	"context"
	"math"
	"math/rand/v2"
	"sort"

	"jevvo/internal/core/refusal"
)

// A Pixel is one sample of a picture in sRGB, 0..255 a channel.
type Pixel [3]uint8

// RGB returns the pixel in linear light.
func (p Pixel) RGB() RGB {
	return RGB{linearByte[p[0]], linearByte[p[1]], linearByte[p[2]]}
}

var linearByte = func() (t [256]float64) {
	for i := range t {
		t[i] = linear(float64(i) / 255)
	}
	return t
}()

// A PictureColour is one colour of a palette with the share of the picture it
// stands for; shares add up to 1.
type PictureColour struct {
	RGB   RGB
	Lab   Lab
	Share float64
}

// Limits of a palette.
const (
	FewestColours = 3
	MostColours   = 8
	// tooAlike is the CIEDE2000 below which two colours of a palette are one.
	tooAlike = 2.5
)

// Palette returns up to n colours that stand for the pixels, largest share
// first: k-means in CIELAB (Lloyd 1982) from well-spread beginnings (Arthur &
// Vassilvitskii 2007, k-means++), always the same for the same picture. A
// picture with fewer colours than n gives fewer. It ends with ctx.
func Palette(ctx context.Context, pixels []Pixel, n int) ([]PictureColour, error) {
	if len(pixels) == 0 {
		return nil, refusal.New("the picture shows nothing: it is transparent all over")
	}
	if n < 1 || n > MostColours {
		return nil, refusal.New("a palette has between 1 and 8 colours")
	}
	points := make([]labPoint, len(pixels))
	for i, p := range pixels {
		rgb := p.RGB()
		points[i] = labPoint{rgb.XYZ().Lab(), rgb}
	}
	groups, err := lloyd(ctx, points, beginnings(points, n))
	return alike(groups, len(points)), err
}

type labPoint struct {
	lab Lab
	rgb RGB
}

// A group gathers the points nearest to one centre; light is averaged
// linearly, as the eye does from afar.
type group struct {
	lab Lab
	rgb RGB
	n   int
}

func (c Lab) squared(d Lab) float64 {
	l, a, b := c.L-d.L, c.A-d.A, c.B-d.B
	return l*l + a*a + b*b
}

// beginnings picks centres far from one another.
func beginnings(points []labPoint, n int) []Lab {
	random := rand.New(rand.NewPCG(2007, 1)) // fixed: a palette must not jump about
	centres := []Lab{points[random.IntN(len(points))].lab}
	away := make([]float64, len(points))
	for i := range away {
		away[i] = math.Inf(1)
	}
	for len(centres) < n {
		sum := 0.0
		for i, p := range points {
			away[i] = math.Min(away[i], p.lab.squared(centres[len(centres)-1]))
			sum += away[i]
		}
		if sum < 1e-9 {
			break // fewer colours than asked for
		}
		at := random.Float64() * sum
		next := len(points) - 1
		for i := range points {
			if at -= away[i]; at <= 0 {
				next = i
				break
			}
		}
		centres = append(centres, points[next].lab)
	}
	return centres
}

// mostRounds ends a search that still creeps.
const mostRounds = 40

func lloyd(ctx context.Context, points []labPoint, centres []Lab) ([]group, error) {
	groups := make([]group, len(centres))
	for range mostRounds {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		clear(groups)
		for _, p := range points {
			best, at := math.Inf(1), 0
			for i, c := range centres {
				if d := p.lab.squared(c); d < best {
					best, at = d, i
				}
			}
			g := &groups[at]
			g.lab.L, g.lab.A, g.lab.B = g.lab.L+p.lab.L, g.lab.A+p.lab.A, g.lab.B+p.lab.B
			g.rgb.R, g.rgb.G, g.rgb.B = g.rgb.R+p.rgb.R, g.rgb.G+p.rgb.G, g.rgb.B+p.rgb.B
			g.n++
		}
		moved := 0.0
		for i := range groups {
			g := &groups[i]
			if g.n == 0 {
				continue
			}
			f := 1 / float64(g.n)
			g.lab = Lab{g.lab.L * f, g.lab.A * f, g.lab.B * f}
			g.rgb = RGB{g.rgb.R * f, g.rgb.G * f, g.rgb.B * f}
			moved = math.Max(moved, g.lab.squared(centres[i]))
			centres[i] = g.lab
		}
		if moved < 0.01 {
			break
		}
	}
	return groups, nil
}

// alike merges groups the eye does not tell apart and sorts by share.
func alike(groups []group, n int) []PictureColour {
	sort.SliceStable(groups, func(i, j int) bool { return groups[i].n > groups[j].n })
	var out []PictureColour
	for _, g := range groups {
		if g.n == 0 {
			continue
		}
		share := float64(g.n) / float64(n)
		lab := g.rgb.XYZ().Lab()
		merged := false
		for i := range out {
			if Difference(out[i].Lab, lab) < tooAlike {
				out[i].Share += share
				merged = true
				break
			}
		}
		if !merged {
			out = append(out, PictureColour{g.rgb, lab, share})
		}
	}
	return out
}
