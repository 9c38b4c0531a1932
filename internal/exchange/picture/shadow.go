package picture

import (
	"image"
	"math"

	"golang.org/x/image/draw"
)

// shadowStep is how fine a shadow is, in mm.
const shadowStep = 4.0

// A shadow is how much of the light a board takes from the wall about it, by its own
// outline: that of a round board is round.
type shadow struct {
	w, h int
	dark []float64
}

// shadowBox is how many cells a box reaches to each side: three of them blur over about
// shadowReach.
const shadowBox = 3

// shadowMargin is how far a shadow is calculated beyond its board, in mm.
const shadowMargin = 3 * shadowReach

// castBy blurs the outline of a board.
func castBy(b Hung) shadow {
	cells := func(v float64) int { return min(2000, max(1, int(math.Ceil(v/shadowStep)))) }
	m := cells(shadowMargin)
	inner := image.NewAlpha(image.Rect(0, 0, cells(b.Width), cells(b.Height)))
	draw.ApproxBiLinear.Scale(inner, inner.Rect, b.Picture, b.Picture.Bounds(), draw.Src, nil)
	s := shadow{w: inner.Rect.Dx() + 2*m, h: inner.Rect.Dy() + 2*m}
	s.dark = make([]float64, s.w*s.h)
	for y := range inner.Rect.Dy() {
		for x := range inner.Rect.Dx() {
			s.dark[(y+m)*s.w+x+m] = float64(inner.AlphaAt(x, y).A) / 255
		}
	}
	for range 3 { // three boxes come close to a Gaussian
		s.blur(1, s.w, s.h, s.w)
		s.blur(s.w, s.h, s.w, 1)
	}
	return s
}

// blur runs a box along lines of n cells a step apart; the lines lie across apart.
func (s shadow) blur(step, n, lines, across int) {
	const half = shadowBox
	line := make([]float64, n)
	for l := range lines {
		at := l * across
		sum := 0.0
		for i := -half; i < n; i++ {
			if j := i + half; j < n {
				sum += s.dark[at+j*step]
			}
			if j := i - half - 1; j >= 0 {
				sum -= s.dark[at+j*step]
			}
			if i >= 0 {
				line[i] = sum / (2*half + 1)
			}
		}
		for i, v := range line {
			s.dark[at+i*step] = v
		}
	}
}

// at is the share of light left at a place from the board's upper left corner, in mm;
// the shadow falls a little lower than the board.
func (s shadow) at(x, y float64) float64 {
	x, y = (x+shadowMargin)/shadowStep-0.5, (y-shadowFall+shadowMargin)/shadowStep-0.5
	x0, y0 := int(math.Floor(x)), int(math.Floor(y))
	if x0 < 0 || y0 < 0 || x0+1 >= s.w || y0+1 >= s.h {
		return 1
	}
	fx, fy := x-float64(x0), y-float64(y0)
	i := y0*s.w + x0
	return 1 - shadowDark*((1-fy)*((1-fx)*s.dark[i]+fx*s.dark[i+1])+fy*((1-fx)*s.dark[i+s.w]+fx*s.dark[i+s.w+1]))
}
