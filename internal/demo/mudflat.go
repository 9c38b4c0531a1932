package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"io"
	"math"
	"math/rand/v2"
)

// mudflat draws an invented picture a client might send: sky over wet sand,
// water left standing in bands, a strip of weed.
func mudflat() (io.Reader, error) {
	const w, h = 300, 200
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	r := rand.New(rand.NewPCG(3, 9))
	for y := range h {
		for x := range w {
			m.SetNRGBA(x, y, ashore(float64(x)/w, float64(y)/h, 0.02*r.NormFloat64()))
		}
	}
	var b bytes.Buffer
	err := png.Encode(&b, m)
	return &b, err
}

// ashore is the colour at a place of the picture, brighter or darker by its grain.
func ashore(x, y, grain float64) color.NRGBA {
	wave := 0.02*math.Sin(9*x+2) + 0.012*math.Sin(23*x)
	mix := func(r, g, b float64) color.NRGBA {
		f := 1 + grain
		c := func(v float64) uint8 { return uint8(math.Max(0, math.Min(255, v*f))) }
		return color.NRGBA{c(r), c(g), c(b), 255}
	}
	switch {
	case y < 0.34+wave:
		return mix(188-60*y, 203-50*y, 208-30*y)
	case y < 0.40+wave:
		return mix(61, 84, 92)
	case math.Sin(40*(y+wave)+3*x) > 0.82:
		return mix(126, 152, 160)
	case y > 0.86+2*wave:
		return mix(72, 88, 62)
	}
	return mix(166-70*(y-0.4), 140-62*(y-0.4), 108-56*(y-0.4))
}
