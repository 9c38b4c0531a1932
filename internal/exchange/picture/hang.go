package picture

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"

	"golang.org/x/image/draw"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/geom"
)

// A Hung is a picture on a wall: where its upper left corner is and how large it is, in
// mm of the wall.
type Hung struct {
	Picture             image.Image
	X, Y, Width, Height float64
}

// Of a shadow: how far it reaches, how far it falls, and how dark it is.
const (
	shadowReach = 22.0 // mm
	shadowFall  = 9.0
	shadowDark  = 0.45
)

// whiteWall is the reflectance a plain wall is taken for: the light that falls on it
// follows from how bright it is.
const whiteWall = 0.8

// Hang lays pictures on the photograph of a room: wall takes mm of the wall to pixels
// of the photograph, pixels back. Each is in perspective, as bright as the wall about
// it, and casts a little shadow. The photograph and the answer are JPEG.
func Hang(photo []byte, wall, back geom.Projection, boards []Hung) ([]byte, error) {
	m, err := jpeg.Decode(bytes.NewReader(photo))
	if err != nil {
		return nil, ErrBroken
	}
	out := image.NewRGBA(image.Rect(0, 0, m.Bounds().Dx(), m.Bounds().Dy()))
	draw.Draw(out, out.Rect, m, m.Bounds().Min, draw.Src)
	light := lightOf(out)
	for _, b := range boards {
		hang(out, light, wall, back, b)
	}
	var w bytes.Buffer
	err = jpeg.Encode(&w, out, &jpeg.Options{Quality: 90})
	return w.Bytes(), err
}

func hang(out *image.RGBA, light *image.RGBA, wall, back geom.Projection, b Hung) {
	area, ok := reach(out.Rect, wall, b)
	if !ok {
		return
	}
	source, cast := fitted(b, area), castBy(b)
	gain := gainOf(light, out.Rect, wall, b)
	for y := area.Min.Y; y < area.Max.Y; y++ {
		for x := area.Min.X; x < area.Max.X; x++ {
			shade(out, source, cast, back, b, gain, x, y)
		}
	}
}

// reach is the part of the photograph a board and its shadow can touch.
func reach(all image.Rectangle, wall geom.Projection, b Hung) (image.Rectangle, bool) {
	lo, hi := geom.At(math.Inf(1), math.Inf(1)), geom.At(math.Inf(-1), math.Inf(-1))
	more := 3*shadowReach + shadowFall
	for _, c := range []geom.Point{geom.At(b.X-more, b.Y-more), geom.At(b.X+b.Width+more, b.Y-more),
		geom.At(b.X+b.Width+more, b.Y+b.Height+more), geom.At(b.X-more, b.Y+b.Height+more)} {
		p, ok := wall.At(c)
		if !ok {
			return all, true
		}
		lo, hi = geom.At(math.Min(lo.X, p.X), math.Min(lo.Y, p.Y)), geom.At(math.Max(hi.X, p.X), math.Max(hi.Y, p.Y))
	}
	box := func(v float64) int { return int(math.Max(-1e6, math.Min(1e6, v))) }
	r := image.Rect(box(lo.X)-1, box(lo.Y)-1, box(hi.X)+2, box(hi.Y)+2).Intersect(all)
	return r, !r.Empty()
}

// fitted is the board's picture at about the size it is seen at, so that no detail is
// skipped over.
func fitted(b Hung, area image.Rectangle) *image.RGBA {
	s := b.Picture.Bounds()
	f := math.Min(1, 1.5*math.Max(float64(area.Dx())/float64(s.Dx()), float64(area.Dy())/float64(s.Dy())))
	out := image.NewRGBA(image.Rect(0, 0, max(1, int(f*float64(s.Dx()))), max(1, int(f*float64(s.Dy())))))
	draw.CatmullRom.Scale(out, out.Rect, b.Picture, s, draw.Src, nil)
	return out
}

// samples are the places in a pixel at which it is looked at.
var samples = [4]geom.Point{{X: 0.25, Y: 0.25}, {X: 0.75, Y: 0.25}, {X: 0.25, Y: 0.75}, {X: 0.75, Y: 0.75}}

// shade paints one pixel: the board where it covers it, its shadow beside it, both in
// linear light.
func shade(out, source *image.RGBA, cast shadow, back geom.Projection, b Hung, gain float64, x, y int) {
	was := out.RGBAAt(x, y)
	var sum [3]float64
	touched := false
	for _, s := range samples {
		r, g, bl := linear[was.R], linear[was.G], linear[was.B]
		if p, ok := back.At(geom.At(float64(x)+s.X, float64(y)+s.Y)); ok {
			dark := cast.at(p.X-b.X, p.Y-b.Y)
			r, g, bl = r*dark, g*dark, bl*dark
			u, v := (p.X-b.X)/b.Width, (p.Y-b.Y)/b.Height
			touched = touched || dark < 0.999
			if u >= 0 && u < 1 && v >= 0 && v < 1 {
				c, a := sample(source, u, v)
				r, g, bl = r*(1-a)+gain*c[0], g*(1-a)+gain*c[1], bl*(1-a)+gain*c[2]
				touched = true
			}
		}
		sum[0], sum[1], sum[2] = sum[0]+r/4, sum[1]+g/4, sum[2]+bl/4
	}
	if touched {
		r, g, bl := colour.RGB{R: sum[0], G: sum[1], B: sum[2]}.Bytes()
		out.SetRGBA(x, y, color.RGBA{r, g, bl, 255})
	}
}

// sample is a place of a picture between its pixels: light of each channel, weighed by
// how much it covers.
func sample(m *image.RGBA, u, v float64) (c [3]float64, alpha float64) {
	x, y := u*float64(m.Rect.Dx())-0.5, v*float64(m.Rect.Dy())-0.5
	x0, y0 := math.Floor(x), math.Floor(y)
	for _, k := range [4][3]float64{{0, 0, (1 - x + x0) * (1 - y + y0)}, {1, 0, (x - x0) * (1 - y + y0)},
		{0, 1, (1 - x + x0) * (y - y0)}, {1, 1, (x - x0) * (y - y0)}} {
		px := m.RGBAAt(min(max(int(x0+k[0]), 0), m.Rect.Dx()-1), min(max(int(y0+k[1]), 0), m.Rect.Dy()-1))
		a := k[2] * float64(px.A) / 255
		if px.A == 0 {
			continue
		}
		whole := 255 / float64(px.A)
		at := func(v uint8) float64 { return linear[uint8(math.Min(255, float64(v)*whole))] }
		c[0], c[1], c[2], alpha = c[0]+a*at(px.R), c[1]+a*at(px.G), c[2]+a*at(px.B), alpha+a
	}
	return c, alpha
}

// lightSide is the longer side of the blurred photograph light is read from.
const lightSide = 24

func lightOf(m *image.RGBA) *image.RGBA {
	f := lightSide / math.Max(float64(m.Rect.Dx()), float64(m.Rect.Dy()))
	out := image.NewRGBA(image.Rect(0, 0, max(2, int(f*float64(m.Rect.Dx()))), max(2, int(f*float64(m.Rect.Dy())))))
	draw.BiLinear.Scale(out, out.Rect, m, m.Rect, draw.Src, nil)
	return out
}

// gainOf is how bright the light on a board is: that of the wall about it, over what a
// plain wall gives back.
func gainOf(light *image.RGBA, all image.Rectangle, wall geom.Projection, b Hung) float64 {
	sum, n := 0.0, 0.0
	for _, at := range []geom.Point{{X: -0.15, Y: 0.5}, {X: 1.15, Y: 0.5}, {X: 0.5, Y: -0.15}, {X: 0.5, Y: 1.15}} {
		p, ok := wall.At(geom.At(b.X+at.X*b.Width, b.Y+at.Y*b.Height))
		if u, v := p.X/float64(all.Dx()), p.Y/float64(all.Dy()); ok && u >= 0 && u < 1 && v >= 0 && v < 1 {
			c, _ := sample(light, u, v)
			sum, n = sum+0.2126*c[0]+0.7152*c[1]+0.0722*c[2], n+1
		}
	}
	if n == 0 {
		return 1
	}
	return math.Max(0.15, math.Min(1.15, sum/n/whiteWall))
}

// linear is the light of each value of sRGB.
var linear = func() (t [256]float64) {
	for i := range t {
		v := uint8(i)
		t[i] = colour.Encoded(v, v, v).R
	}
	return t
}()
