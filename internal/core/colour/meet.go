package colour

import (
	"math"

	"jevvo/internal/core/units"
)

// A Meeting is what two cups do where they touch.
type Meeting struct {
	LightDark  float64 // difference in L*
	Difference float64 // CIEDE2000 of the two films
	Mixed      Spectrum
	Lab        Lab // of the mixture
	Mud        Mud
	Apart      float64 // degrees between the hues; NaN when one is grey
}

// Mud says why two colours go dull where they mix.
type Mud string

// The reasons (common practice; the bounds are this program's reading of it).
const (
	NoMud    Mud = ""
	Cancel   Mud = "hues cancel"    // the mixture keeps less than half of the weaker colour
	Swallow  Mud = "dark swallows"  // a dark one takes the colour of a bright one
	WashesIn Mud = "goes to pastel" // a white takes the colour; no mud, but pale
)

const (
	coloured  = 12.0 // chroma from which the eye calls a film coloured
	dull      = 0.5  // of the weaker chroma left
	darkBelow = 28.0 // L*
	whiteFrom = 88.0
)

// Meet mixes equal parts of two cups as a film over a backing and judges what
// is seen of it. The backing is inside the resin.
func Meet(a, b Optics, backing Spectrum, thick units.Length, s Surface) Meeting {
	half := Optics{}.Add(a, 0.5).Add(b, 0.5)
	seen := func(o Optics) Spectrum { return s.Out(o.Over(backing, thick)) }
	la, lb := seen(a).Lab(), seen(b).Lab()
	m := Meeting{LightDark: math.Abs(la.L - lb.L), Difference: Difference(la, lb), Mixed: seen(half), Apart: math.NaN()}
	m.Lab = m.Mixed.Lab()
	ca, cb, cm := la.Chroma(), lb.Chroma(), m.Lab.Chroma()
	if ca > 3 && cb > 3 {
		m.Apart = math.Abs(hue(la.A, la.B) - hue(lb.A, lb.B))
		m.Apart = math.Min(m.Apart, 360-m.Apart)
	}
	switch {
	case ca > coloured && cb > coloured && cm < dull*math.Min(ca, cb):
		m.Mud = Cancel
	case math.Max(ca, cb) > 2*coloured && cm < 0.35*math.Max(ca, cb) && math.Min(la.L, lb.L) < darkBelow:
		m.Mud = Swallow
	case math.Max(ca, cb) > coloured && cm < dull*math.Max(ca, cb) && math.Max(la.L, lb.L) > whiteFrom:
		m.Mud = WashesIn
	}
	return m
}

// LoadUsed returns how much of their limits pigments take together: above 1
// the cup may stay soft. Loads and limits are by mass of mixed resin.
func LoadUsed(loads, limits []float64) float64 {
	sum := 0.0
	for i, l := range loads {
		if limits[i] > 0 {
			sum += l / limits[i]
		}
	}
	return sum
}
