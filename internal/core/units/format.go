package units

import (
	"math"
	"strconv"
	"strings"

	"jevvo/internal/msg"
)

// Text prints a board-sized length: centimetres in the metric system, inches
// (to the sixteenth when the length is one) in the US system.
func (l Length) Text(s System) msg.Figure {
	if s == US {
		return msg.Figure(inches(l.Inches()) + " in")
	}
	if math.Abs(float64(l)) < 99.95 {
		return msg.Figure(Fixed(float64(l), 1) + " mm")
	}
	return msg.Figure(Fixed(float64(l/Centimetre), 1) + " cm")
}

// Film prints a film-sized length: millimetres to two places, or inches, as a fraction where it is one of
// 64 parts.
func (l Length) Film(s System) msg.Figure {
	if s == US {
		return msg.Figure(fraction(l.Inches(), 64, 0.07, 3) + " in")
	}
	return msg.Figure(strconv.FormatFloat(float64(l), 'f', 2, 64) + " mm")
}

// Text prints a volume in mL (or L from ten litres), or US fluid ounces.
func (v Volume) Text(s System) msg.Figure {
	if s == US {
		return msg.Figure(places(v.FluidOunces()) + " fl oz")
	}
	if v >= 10*Litre {
		return msg.Figure(Fixed(float64(v/Litre), 1) + " L")
	}
	return msg.Figure(places(float64(v)) + " mL")
}

// Text prints a mass; both systems weigh in grams, the US figure on hover is
// in ounces of weight.
func (m Mass) Text(System) msg.Figure {
	if m >= 10*Kilogram {
		return msg.Figure(Fixed(float64(m/Kilogram), 2) + " kg")
	}
	decimals := 1
	switch a := math.Abs(float64(m)); {
	case a < 0.005:
		return "0 g"
	case a < 0.095:
		decimals = 2
	}
	return msg.Figure(minus(strconv.FormatFloat(float64(m), 'f', decimals, 64)) + " g")
}

// minus writes a printed number below nothing with its sign, not with a hyphen.
func minus(text string) string { return strings.Replace(text, "-", "−", 1) }

// Ounces prints a mass in avoirdupois ounces.
func (m Mass) Ounces() string { return places(float64(m/Ounce)) + " oz wt" }

// Text prints an area in cm² (m² from one square metre) or square inches.
func (a Area) Text(s System) msg.Figure {
	if s == US {
		return msg.Figure(places(float64(a/SquareInch)) + " in²")
	}
	if a >= SquareMetre {
		return msg.Figure(strconv.FormatFloat(a.SquareMetres(), 'f', 2, 64) + " m²")
	}
	return msg.Figure(places(float64(a/SquareCentimetre)) + " cm²")
}

// Text prints a temperature in °C or °F.
func (t Temperature) Text(s System) msg.Figure {
	if s == US {
		return msg.Figure(Fixed(t.Fahrenheit(), 0) + " °F")
	}
	return msg.Figure(Fixed(float64(t), 1) + " °C")
}

// Fixed prints v with at most n decimals and no trailing zeros.
func Fixed(v float64, n int) string {
	s := strconv.FormatFloat(zero(v), 'f', n, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		return "0"
	}
	return s
}

// places prints small amounts with two decimals, middling ones with one and
// large ones with none: three figures is what a bench can measure.
func places(v float64) string {
	switch a := math.Abs(v); {
	case a == 0:
		return "0"
	case a < 0.1:
		return strconv.FormatFloat(v, 'f', 3, 64)
	case a < 10:
		return strconv.FormatFloat(zero(v), 'f', 2, 64)
	case a < 100:
		return strconv.FormatFloat(v, 'f', 1, 64)
	default:
		return strconv.FormatFloat(v, 'f', 0, 64)
	}
}

// inches prints sixteenths as a mixed fraction and anything else in decimals. From four inches on what
// is within a sixth of a millimetre of one is one: no board is cut closer.
func inches(v float64) string {
	within := 0.01
	if math.Abs(v) >= 4 {
		within = 0.1
	}
	return fraction(v, 16, within, 2)
}

// fraction prints what is a whole number of parts of one, to within so much of a part, as a mixed fraction,
// and anything else in decimals.
func fraction(v float64, den int, within float64, decimals int) string {
	parts := math.Round(v * float64(den))
	if math.Abs(v*float64(den)-parts) > within || parts == 0 {
		return Fixed(v, decimals)
	}
	whole, part := math.Floor(math.Abs(parts)/float64(den)), int(math.Abs(parts))%den
	sign := ""
	if parts < 0 {
		sign = "-"
	}
	if part == 0 {
		return sign + Fixed(whole, 0)
	}
	for part%2 == 0 {
		part, den = part/2, den/2
	}
	frac := strconv.Itoa(part) + "/" + strconv.Itoa(den)
	if whole == 0 {
		return sign + frac
	}
	return sign + Fixed(whole, 0) + " " + frac
}

func zero(v float64) float64 {
	if v == 0 {
		return 0 // never print -0
	}
	return v
}
