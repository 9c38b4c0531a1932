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

// Film prints a film-sized length: millimetres to two places, or thousandths
// of an inch.
func (l Length) Film(s System) msg.Figure {
	if s == US {
		return msg.Figure(Fixed(float64(l/Mil), 0) + " mil")
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
	return msg.Figure(strconv.FormatFloat(zero(float64(m)), 'f', 1, 64) + " g")
}

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
	case a > 0 && a < 0.1:
		return strconv.FormatFloat(v, 'f', 3, 64)
	case a < 10:
		return strconv.FormatFloat(zero(v), 'f', 2, 64)
	case a < 100:
		return strconv.FormatFloat(v, 'f', 1, 64)
	default:
		return strconv.FormatFloat(v, 'f', 0, 64)
	}
}

// inches prints sixteenths as a mixed fraction and anything else in decimals.
func inches(v float64) string {
	sixteenths := math.Round(v * 16)
	if math.Abs(v*16-sixteenths) > 0.01 {
		return Fixed(v, 2)
	}
	whole, part := math.Floor(math.Abs(sixteenths)/16), int(math.Mod(math.Abs(sixteenths), 16))
	sign := ""
	if sixteenths < 0 {
		sign = "-"
	}
	if part == 0 {
		return sign + Fixed(whole, 0)
	}
	den := 16
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
