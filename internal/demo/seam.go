package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand/v2"
)

// The colours of the seam study and of the table it lies on.
var (
	seamSand  = [3]float64{164, 141, 117}
	seamBands = []seamBand{{0.12, 0.33, [3]float64{62, 74, 84}}, {0.45, 0.58, [3]float64{82, 115, 92}},
		{0.70, 0.88, [3]float64{218, 218, 215}}}
	seamTable = [3]float64{104, 101, 97}
)

// A seamBand is a ribbon across the board, from and to in shares of its height.
type seamBand struct {
	from, to float64
	colour   [3]float64
}

// photograph is a made-up one of a swipe on a square board that laced along its seams,
// under a grey card; cured it is a little darker and yellower.
func photograph(light [3]float64, cured bool) ([]byte, error) {
	const w, h = 640, 480
	r := rand.New(rand.NewPCG(7, 4))
	cells := seamCells(r)
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := onTable(float64(x)/w, float64(y)/h, cells)
			grain := 1 + 0.012*r.NormFloat64() // of a sensor
			for k, cure := range [3]float64{0.94, 0.94, 0.9} {
				if cured && y >= h/9 {
					c[k] *= cure
				}
				c[k] = math.Min(255, c[k]*light[k]*grain)
			}
			out.SetRGBA(x, y, color.RGBA{uint8(c[0]), uint8(c[1]), uint8(c[2]), 255})
		}
	}
	var data bytes.Buffer
	err := jpeg.Encode(&data, out, &jpeg.Options{Quality: 88})
	return data.Bytes(), err
}

// onTable is the colour at a place of the photograph, in shares of its sides: the grey card
// above, the board in the middle.
func onTable(x, y float64, cells []seamCell) [3]float64 {
	u, v := (x-0.19)/0.62, (y-0.15)/0.82
	switch {
	case y < 1.0/9:
		return [3]float64{118, 118, 118}
	case u < 0 || u > 1 || v < 0 || v > 1:
		return seamTable
	}
	return onSeam(u, v, cells)
}

// A seamCell is an opening in a ribbon, through which the sand shows.
type seamCell struct{ u, v, r float64 }

// seamCells are those along the lower edges of the ribbons, the larger the nearer.
func seamCells(r *rand.Rand) []seamCell {
	var out []seamCell
	for _, b := range seamBands {
		for range 46 {
			above := 0.11 * r.Float64()
			out = append(out, seamCell{r.Float64(), b.to - above, (0.022 - 0.13*above) * (0.5 + r.Float64())})
		}
	}
	return out
}

// onSeam is the colour at a place of the board.
func onSeam(u, v float64, cells []seamCell) [3]float64 {
	v += 0.011*math.Sin(7*u+1) + 0.006*math.Sin(19*u+2) // the hand that pulled
	c := seamSand
	for _, b := range seamBands {
		if v > b.from && v < b.to {
			c = b.colour
		}
	}
	for _, cell := range cells {
		away := math.Hypot(u-cell.u, 1.6*(v-cell.v)) / cell.r
		switch {
		case away < 0.8:
			c = seamSand
		case away < 1: // its rim of lace
			c = [3]float64{196, 190, 178}
		}
	}
	shine := 24 * math.Exp(-(math.Pow(u-0.2, 2)+math.Pow(v-0.1, 2))/0.03)
	return [3]float64{c[0] + shine, c[1] + shine, c[2] + shine}
}
