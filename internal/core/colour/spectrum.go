// Package colour calculates what a film of pigmented resin looks like: over
// black, over white, over the coat below, and mixed with its neighbours.
//
// It works in 36 spectral bands, because in RGB blue and yellow do not make
// green:
//
//	blue, err := rgb.Reflectance() // of a swatch read by ParseHex
//	green, err := colour.Blend([]colour.Part{{blue, 1}, {yellow, 1}})
//
// A film is known by its absorption K and scattering S a millimetre, band by
// band (Kubelka & Munk 1931); [Film] gives its reflectance over any backing,
// [Contrast] says how well it hides.
package colour

import "math"

// Bands is the number of spectral bands: 380 to 730 nm by 10 nm.
const Bands = 36

// A Spectrum holds one value a band: a reflectance of 0..1, or K or S in
// 1/mm.
type Spectrum [Bands]float64

// Flat returns a spectrum with the same value in every band.
func Flat(v float64) Spectrum {
	var s Spectrum
	for i := range s {
		s[i] = v
	}
	return s
}

// Plus returns s + f·t band by band.
func (s Spectrum) Plus(t Spectrum, f float64) Spectrum {
	for i := range s {
		s[i] += f * t[i]
	}
	return s
}

// Luminance returns Y of 0..1 under D65 for the 1931 observer.
func (s Spectrum) Luminance() float64 {
	y := 0.0
	for i, r := range s {
		y += weights[i].Y * r
	}
	return y
}

// XYZ returns the tristimulus values under D65, Y = 1 for a perfect white.
func (s Spectrum) XYZ() XYZ {
	var c XYZ
	for i, r := range s {
		c.X += weights[i].X * r
		c.Y += weights[i].Y * r
		c.Z += weights[i].Z * r
	}
	return c
}

// clampUnit keeps a reflectance inside 0..1.
func clampUnit(v float64) float64 { return math.Max(0, math.Min(1, v)) }
