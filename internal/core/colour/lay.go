package colour

import "math"

// A Light is what of a spectrum reaches the eye through a surface: the way from
// many reflectances to colours on a screen, without the detours of [Spectrum.XYZ]
// and [XYZ.RGB]. Make one with NewLight.
type Light struct {
	surface Surface
	bytes   [brightest + 1]byte
}

// brightest is in how many steps linear light is looked up.
const brightest = 1 << 14

// NewLight returns the light of films with a surface.
func NewLight(s Surface) *Light {
	l := &Light{surface: s}
	for k := range l.bytes {
		l.bytes[k] = byte(math.Round(255 * encoded(float64(k)/brightest)))
	}
	return l
}

// Lay lays a film of k and s in 1/mm over what is under it, inside the resin, band
// by band: Kubelka's film as [Optics.Over] has it, quick enough for pictures.
func (o *Optics) Lay(under *Spectrum, mm float64) {
	for i := range under {
		under[i] = tinted(math.Max(o.K[i], leastAbsorbed), o.S[i], mm, under[i])
	}
}

// leastAbsorbed keeps the root of k(k + 2s) from nothing, in 1/mm.
const leastAbsorbed = 1e-7

// Seen is the sRGB of a reflectance inside the resin.
func (l *Light) Seen(inside *Spectrum) [3]byte {
	var c [3]float64
	for i, r := range inside {
		r = l.surface.out(r)
		c[0] += toLinear[0][i] * r
		c[1] += toLinear[1][i] * r
		c[2] += toLinear[2][i] * r
	}
	var out [3]byte
	for k, v := range c {
		out[k] = l.bytes[int(clampUnit(v)*brightest+0.5)]
	}
	return out
}
