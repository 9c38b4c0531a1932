package colour

import "jevvo/internal/core/refusal"

// Encoded is the colour of a picture's three bytes.
func Encoded(r, g, b uint8) RGB {
	return RGB{linear(float64(r) / 255), linear(float64(g) / 255), linear(float64(b) / 255)}
}

// Plus adds light.
func (c RGB) Plus(d RGB) RGB { return RGB{c.R + d.R, c.G + d.G, c.B + d.B} }

// Times makes it so many times as bright.
func (c RGB) Times(k float64) RGB { return RGB{k * c.R, k * c.G, k * c.B} }

// GreyCard is the reflectance of a photographer's grey card (published: 18 %).
const GreyCard = 0.18

// A Balance takes a picture's light out of its colours: the gains of its three
// channels (von Kries 1902, in the primaries of the picture).
type Balance struct{ r, g, b float64 }

// NewBalance is that of a picture in which a patch of a known colour looks as
// measured. It fails for a patch that is blown out or nearly black.
func NewBalance(measured, known RGB) (Balance, error) {
	const least, most = 0.004, 0.985
	for _, v := range []float64{measured.R, measured.G, measured.B} {
		if !(v >= least && v <= most) {
			return Balance{}, refusal.New("the patch is too dark or blown out in the picture; choose one that shows its grey")
		}
	}
	for _, v := range []float64{known.R, known.G, known.B} {
		if !(v > 0 && v <= 1) {
			return Balance{}, refusal.New("the known colour of a patch must lie between black and white")
		}
	}
	return Balance{known.R / measured.R, known.G / measured.G, known.B / measured.B}, nil
}

// Unbalanced leaves a picture as it is.
var Unbalanced = Balance{1, 1, 1}

// Of is a colour of the picture as it would be in daylight.
func (b Balance) Of(c RGB) RGB {
	return RGB{clampUnit(b.r * c.R), clampUnit(b.g * c.G), clampUnit(b.b * c.B)}
}
