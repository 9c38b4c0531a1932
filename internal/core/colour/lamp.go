package colour

import "math"

// warmLamp is CIE standard illuminant A, a lamp of 2848 K by its own formula
// (CIE 15, published): the light of most living rooms in the evening.
var warmLamp = func() (s Spectrum) {
	const c2, t = 1.435e7, 2848.0
	for i := range s {
		l := 380 + 10*float64(i)
		s[i] = 100 * math.Pow(560/l, 5) * (math.Exp(c2/(t*560)) - 1) / (math.Exp(c2/(t*l)) - 1)
	}
	return s
}()

// UnderWarmLamp returns the colour of a reflectance under CIE A to an eye that
// is used to that light.
func (s Spectrum) UnderWarmLamp() Lab { return s.underWarmLamp().Lab() }

func (s Spectrum) underWarmLamp() XYZ {
	var c, white XYZ
	for i, o := range observer {
		w := warmLamp[i]
		white.X, white.Y, white.Z = white.X+o.X*w, white.Y+o.Y*w, white.Z+o.Z*w
		c.X, c.Y, c.Z = c.X+o.X*w*s[i], c.Y+o.Y*w*s[i], c.Z+o.Z*w*s[i]
	}
	return XYZ{c.X / white.X * White.X, c.Y / white.Y * White.Y, c.Z / white.Z * White.Z}
}

// WarmSwatch returns it as a screen shows what that eye sees.
func (s Spectrum) WarmSwatch() RGB { return s.underWarmLamp().RGB() }

// LampShift returns how far a colour goes, in CIEDE2000, from daylight to a
// warm lamp.
func (s Spectrum) LampShift() float64 { return Difference(s.Lab(), s.UnderWarmLamp()) }
