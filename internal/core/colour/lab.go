package colour

import "math"

// Lab is a colour in CIELAB under D65.
type Lab struct{ L, A, B float64 }

// Lab converts by CIE 15 (published), white point D65.
func (c XYZ) Lab() Lab {
	f := func(t float64) float64 {
		const d = 6. / 29
		if t > d*d*d {
			return math.Cbrt(t)
		}
		return t/(3*d*d) + 4./29
	}
	x, y, z := f(c.X/White.X), f(c.Y/White.Y), f(c.Z/White.Z)
	return Lab{116*y - 16, 500 * (x - y), 200 * (y - z)}
}

// Lab returns the colour of a reflectance.
func (s Spectrum) Lab() Lab { return s.XYZ().Lab() }

// XYZ is the way back.
func (c Lab) XYZ() XYZ {
	fy := (c.L + 16) / 116
	back := func(f float64) float64 {
		if f > 6.0/29 {
			return f * f * f
		}
		return 3 * (6.0 / 29) * (6.0 / 29) * (f - 4.0/29)
	}
	return XYZ{White.X * back(fy+c.A/500), White.Y * back(fy), White.Z * back(fy-c.B/200)}
}

// Chroma returns how far the colour is from grey.
func (c Lab) Chroma() float64 { return math.Hypot(c.A, c.B) }

// Difference returns CIEDE2000 with unit weights (Sharma, Wu & Dalal 2005,
// published).
func Difference(c, d Lab) float64 {
	chroma := (c.Chroma() + d.Chroma()) / 2
	g := 0.5 * (1 - math.Sqrt(pow7(chroma)/(pow7(chroma)+pow7(25))))
	a1, a2 := c.A*(1+g), d.A*(1+g)
	c1, c2 := math.Hypot(a1, c.B), math.Hypot(a2, d.B)
	h1, h2 := hue(a1, c.B), hue(a2, d.B)

	dl, dc := d.L-c.L, c2-c1
	dh := h2 - h1
	switch {
	case c1*c2 == 0:
		dh = 0
	case dh > 180:
		dh -= 360
	case dh < -180:
		dh += 360
	}
	turn := 2 * math.Sqrt(c1*c2) * sind(dh/2)

	l, cm := (c.L+d.L)/2, (c1+c2)/2
	h := h1 + h2
	if c1*c2 != 0 {
		switch {
		case math.Abs(h1-h2) <= 180:
			h /= 2
		case h < 360:
			h = (h + 360) / 2
		default:
			h = (h - 360) / 2
		}
	}
	t := 1 - 0.17*cosd(h-30) + 0.24*cosd(2*h) + 0.32*cosd(3*h+6) - 0.20*cosd(4*h-63)
	sl := 1 + 0.015*(l-50)*(l-50)/math.Sqrt(20+(l-50)*(l-50))
	sc, sh := 1+0.045*cm, 1+0.015*cm*t
	rotate := 30 * math.Exp(-((h-275)/25)*((h-275)/25))
	rt := -2 * math.Sqrt(pow7(cm)/(pow7(cm)+pow7(25))) * sind(2*rotate)
	x, y, z := dl/sl, dc/sc, turn/sh
	return math.Sqrt(math.Max(0, x*x+y*y+z*z+rt*y*z))
}

func pow7(v float64) float64 { return v * v * v * v * v * v * v }
func sind(d float64) float64 { return math.Sin(d * math.Pi / 180) }
func cosd(d float64) float64 { return math.Cos(d * math.Pi / 180) }

// hue returns the angle of (a, b) in degrees of 0..360, 0 for grey.
func hue(a, b float64) float64 {
	if a == 0 && b == 0 {
		return 0
	}
	h := math.Atan2(b, a) * 180 / math.Pi
	if h < 0 {
		h += 360
	}
	return h
}
