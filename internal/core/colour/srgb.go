package colour

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"jevvo/internal/core/refusal"
)

// XYZ are CIE tristimulus values, Y = 1 for white.
type XYZ struct{ X, Y, Z float64 }

// RGB is a colour in linear light with sRGB primaries, 0..1 in gamut.
type RGB struct{ R, G, B float64 }

// ParseHex reads "#rrggbb" (or "rrggbb").
func ParseHex(s string) (RGB, error) {
	text := strings.TrimPrefix(strings.TrimSpace(s), "#")
	v, err := strconv.ParseUint(text, 16, 32)
	if err != nil || len(text) != 6 {
		return RGB{}, refusal.New("%q is not a colour; write it as #2a6f97", s)
	}
	channel := func(shift uint) float64 { return linear(float64(v>>shift&0xff) / 255) }
	return RGB{channel(16), channel(8), channel(0)}, nil
}

// Hex returns the nearest colour a screen can show as "#rrggbb".
func (c RGB) Hex() string {
	r, g, b := c.Bytes()
	return fmt.Sprintf("#%02x%02x%02x", r, g, b)
}

// Bytes is the colour as a picture holds it, cut to what a screen can show.
func (c RGB) Bytes() (r, g, b uint8) {
	channel := func(v float64) uint8 { return uint8(math.Round(255 * encoded(clampUnit(v)))) }
	return channel(c.R), channel(c.G), channel(c.B)
}

// InGamut reports whether a screen can show the colour.
func (c RGB) InGamut() bool {
	const slack = 1e-4
	for _, v := range []float64{c.R, c.G, c.B} {
		if !(v >= -slack && v <= 1+slack) {
			return false
		}
	}
	return true
}

// linear and encoded are the sRGB transfer function (IEC 61966-2-1).
func linear(v float64) float64 {
	if v <= 0.04045 {
		return v / 12.92
	}
	return math.Pow((v+0.055)/1.055, 2.4)
}

func encoded(v float64) float64 {
	if v <= 0.0031308 {
		return 12.92 * v
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

// The sRGB matrix (IEC 61966-2-1, published) and its inverse, which is
// calculated so that the two agree to the last digit.
var (
	fromRGB = [3][3]float64{
		{0.4124564, 0.3575761, 0.1804375},
		{0.2126729, 0.7151522, 0.0721750},
		{0.0193339, 0.1191920, 0.9503041},
	}
	toRGB = invert(fromRGB)
)

func invert(m [3][3]float64) (out [3][3]float64) {
	cofactor := func(i, j int) float64 {
		a, b, c, d := (i+1)%3, (i+2)%3, (j+1)%3, (j+2)%3
		return m[a][c]*m[b][d] - m[a][d]*m[b][c]
	}
	det := m[0][0]*cofactor(0, 0) + m[0][1]*cofactor(0, 1) + m[0][2]*cofactor(0, 2)
	for i := range 3 {
		for j := range 3 {
			out[i][j] = cofactor(j, i) / det
		}
	}
	return out
}

func apply(m [3][3]float64, a, b, c float64) (x, y, z float64) {
	return m[0][0]*a + m[0][1]*b + m[0][2]*c, m[1][0]*a + m[1][1]*b + m[1][2]*c, m[2][0]*a + m[2][1]*b + m[2][2]*c
}

// XYZ returns the colour's tristimulus values.
func (c RGB) XYZ() XYZ {
	x, y, z := apply(fromRGB, c.R, c.G, c.B)
	return XYZ{x, y, z}
}

// RGB returns the colour with sRGB primaries; out of gamut it has parts
// outside 0..1.
func (c XYZ) RGB() RGB {
	r, g, b := apply(toRGB, c.X, c.Y, c.Z)
	return RGB{r, g, b}
}

// errReflectance is returned for a colour no surface can have.
var errReflectance = refusal.New("no surface reflects this colour")
