package colour

import (
	"math"

	"jevvo/internal/core/units"
)

// A Meeting is the contact of two cups.
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
	grey      = 3.0  // chroma up to which a film has no hue
	coloured  = 12.0 // chroma from which the eye calls a film coloured
	swallowed = 0.35 // of the stronger chroma left beside a dark colour
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
	m := Meeting{LightDark: math.Abs(la.L - lb.L), Difference: Difference(la, lb), Mixed: seen(half)}
	m.Lab = m.Mixed.Lab()
	m.Apart, m.Mud = apart(la, lb), mud(la, lb, m.Lab)
	return m
}

// apart is the angle between two hues in degrees; NaN when one is grey.
func apart(a, b Lab) float64 {
	if a.Chroma() <= grey || b.Chroma() <= grey {
		return math.NaN()
	}
	d := math.Abs(hue(a.A, a.B) - hue(b.A, b.B))
	return math.Min(d, 360-d)
}

// mud says why the mixture of two colours is duller than they are.
func mud(a, b, mixed Lab) Mud {
	weaker, stronger := math.Min(a.Chroma(), b.Chroma()), math.Max(a.Chroma(), b.Chroma())
	switch left := mixed.Chroma(); {
	case weaker > coloured && left < dull*weaker:
		return Cancel
	case stronger > 2*coloured && left < swallowed*stronger && math.Min(a.L, b.L) < darkBelow:
		return Swallow
	case stronger > coloured && left < dull*stronger && math.Max(a.L, b.L) > whiteFrom:
		return WashesIn
	}
	return NoMud
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
