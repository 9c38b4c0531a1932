// Package raster paints closed outlines as a picture, for papers and photographs that
// cannot take drawings.
package raster

import (
	"image"
	"image/color"
	"image/draw"
	"strconv"

	"golang.org/x/image/vector"
)

// A Point is a place in the units of the drawing.
type Point struct{ X, Y float64 }

// A Fill is closed outlines in one colour.
type Fill struct {
	Loops  [][]Point
	Colour string // "#rrggbb"; what is not one is left out
}

// Paint paints fills one over the other into a picture of a drawing w × h, scale pixels
// to a unit, cut to the outlines of shape. Beside it the picture is transparent.
func Paint(w, h, scale float64, shape [][]Point, fills []Fill) *image.RGBA {
	size := image.Rect(0, 0, max(1, int(w*scale+0.5)), max(1, int(h*scale+0.5)))
	inner := image.NewRGBA(size)
	for _, f := range fills {
		if c, ok := Colour(f.Colour); ok {
			fill(inner, f.Loops, scale, image.NewUniform(c))
		}
	}
	out := image.NewRGBA(size)
	fill(out, shape, scale, inner)
	return out
}

func fill(dst *image.RGBA, loops [][]Point, scale float64, src image.Image) {
	z := vector.NewRasterizer(dst.Rect.Dx(), dst.Rect.Dy())
	for _, loop := range loops {
		for i, p := range loop {
			x, y := float32(p.X*scale), float32(p.Y*scale)
			if i == 0 {
				z.MoveTo(x, y)
			} else {
				z.LineTo(x, y)
			}
		}
		z.ClosePath()
	}
	z.DrawOp = draw.Over
	z.Draw(dst, dst.Rect, src, image.Point{})
}

// Colour reads #rrggbb.
func Colour(text string) (color.RGBA, bool) {
	if len(text) != 7 || text[0] != '#' {
		return color.RGBA{}, false
	}
	v, err := strconv.ParseUint(text[1:], 16, 32)
	return color.RGBA{uint8(v >> 16), uint8(v >> 8), uint8(v), 255}, err == nil
}
