// Package raster paints closed outlines as a picture, for papers and photographs that
// cannot take drawings.
package raster

import (
	"image"
	"image/color"
	"image/draw"
	"math"
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
	mask := image.NewAlpha(size)
	fill(mask, shape, scale, image.Opaque)
	out := image.NewRGBA(size)
	draw.DrawMask(out, size, inner, image.Point{}, mask, image.Point{}, draw.Src)
	return out
}

// fill paints outlines from src; only the part of dst they reach is gone over.
func fill(dst draw.Image, loops [][]Point, scale float64, src image.Image) {
	box := reach(loops, scale).Intersect(dst.Bounds())
	if box.Empty() {
		return
	}
	z := vector.NewRasterizer(box.Dx(), box.Dy())
	for _, loop := range loops {
		for i, p := range loop {
			x, y := float32(p.X*scale-float64(box.Min.X)), float32(p.Y*scale-float64(box.Min.Y))
			if i == 0 {
				z.MoveTo(x, y)
			} else {
				z.LineTo(x, y)
			}
		}
		z.ClosePath()
	}
	z.DrawOp = draw.Over
	z.Draw(dst, box, src, box.Min)
}

// reach is the box of pixels that outlines touch.
func reach(loops [][]Point, scale float64) image.Rectangle {
	lo, hi := Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	for _, loop := range loops {
		for _, p := range loop {
			lo, hi = Point{min(lo.X, p.X), min(lo.Y, p.Y)}, Point{max(hi.X, p.X), max(hi.Y, p.Y)}
		}
	}
	if !(hi.X >= lo.X && hi.Y >= lo.Y) {
		return image.Rectangle{}
	}
	at := func(v float64) int { return int(max(-1e6, min(1e6, v*scale))) }
	return image.Rect(at(lo.X)-1, at(lo.Y)-1, at(hi.X)+2, at(hi.Y)+2)
}

// Colour reads #rrggbb.
func Colour(text string) (color.RGBA, bool) {
	if len(text) != 7 || text[0] != '#' {
		return color.RGBA{}, false
	}
	v, err := strconv.ParseUint(text[1:], 16, 32)
	return color.RGBA{uint8(v >> 16), uint8(v >> 8), uint8(v), 255}, err == nil
}
