// Package units holds the quantities of the bench: lengths, areas, volumes,
// masses, temperatures, angles and mixing ratios.
//
// Painters mix units freely: inch boards, gram scales, ounce cups, Fahrenheit
// rooms. A quantity is therefore a small named float in one fixed unit (as
// time.Duration is a count of nanoseconds), with constants to multiply by,
// a parser that reads what a painter types and a printer for each [System]:
//
//	board := 18 * units.Inch
//	film := 1.7 * units.Millimetre
//	bed := (board.Times(board)).Times(film) // 355 mL
//	text := bed.Text(units.US)              // "12.0 fl oz"
//
// Parsers never guess in silence: what was assumed (which ounce, which unit a
// bare number was taken in) comes back in [Reading.Note] so it can be shown.
package units

import "math"

// Length is a distance in millimetres.
type Length float64

// Lengths. The inch is 25.4 mm exactly (NIST SP 811, published).
const (
	Micrometre Length = 1e-3
	Millimetre Length = 1
	Centimetre Length = 10
	Metre      Length = 1000
	Inch       Length = 25.4
	Foot       Length = 12 * Inch
	Mil        Length = Inch / 1000
)

// Millimetres returns the length in mm.
func (l Length) Millimetres() float64 { return float64(l) }

// Metres returns the length in m.
func (l Length) Metres() float64 { return float64(l) / 1000 }

// Inches returns the length in inches.
func (l Length) Inches() float64 { return float64(l / Inch) }

// Times returns the area of a rectangle l by m.
func (l Length) Times(m Length) Area { return Area(float64(l) * float64(m)) }

// Area is a surface in square millimetres.
type Area float64

// Areas.
const (
	SquareMillimetre Area = 1
	SquareCentimetre Area = 100
	SquareMetre      Area = 1e6
	SquareInch       Area = Area(Inch * Inch)
)

// SquareMillimetres returns the area in mm².
func (a Area) SquareMillimetres() float64 { return float64(a) }

// SquareMetres returns the area in m².
func (a Area) SquareMetres() float64 { return float64(a) / 1e6 }

// Times returns the volume of a layer of this area and thickness t.
func (a Area) Times(t Length) Volume { return Volume(float64(a) * float64(t) / 1000) }

// Volume is an amount of liquid in millilitres (1 mL = 1000 mm³).
type Volume float64

// Volumes. The US fluid ounce is 29.5735295625 mL and the teaspoon
// 4.92892159375 mL exactly: the gallon is 231 in³ (NIST SP 811, published; the
// digits follow from it). A drop is 0.05 mL unless
// the bottle was calibrated (20 drops per mL, pharmacy convention, from
// memory).
const (
	Millilitre Volume = 1
	Centilitre Volume = 10
	Litre      Volume = 1000
	FluidOunce Volume = 29.5735295625
	Teaspoon   Volume = 4.92892159375
	Tablespoon Volume = 3 * Teaspoon
	Pint       Volume = 16 * FluidOunce
	Quart      Volume = 32 * FluidOunce
	Gallon     Volume = 128 * FluidOunce
	Drop       Volume = 0.05
)

// Millilitres returns the volume in mL.
func (v Volume) Millilitres() float64 { return float64(v) }

// FluidOunces returns the volume in US fluid ounces.
func (v Volume) FluidOunces() float64 { return float64(v / FluidOunce) }

// Over returns the thickness of the volume spread evenly over a. It returns 0
// for an empty area.
func (v Volume) Over(a Area) Length {
	if a <= 0 {
		return 0
	}
	return Length(float64(v) * 1000 / float64(a))
}

// Weighing returns the mass of the volume at density d.
func (v Volume) Weighing(d Density) Mass { return Mass(float64(v) * float64(d) / 1000) }

// Mass is a mass in grams.
type Mass float64

// Masses. The avoirdupois ounce is 28.349523125 g exactly (NIST SP 811,
// published).
const (
	Milligram Mass = 1e-3
	Gram      Mass = 1
	Kilogram  Mass = 1000
	Ounce     Mass = 28.349523125
	Pound     Mass = 16 * Ounce
)

// Grams returns the mass in g.
func (m Mass) Grams() float64 { return float64(m) }

// Filling returns the volume the mass takes at density d, 0 when d is not
// positive.
func (m Mass) Filling(d Density) Volume {
	if d <= 0 {
		return 0
	}
	return Volume(float64(m) * 1000 / float64(d))
}

// Density is a density in kg/m³ (equal to g/L).
type Density float64

// KilogramsPerCubicMetre returns the density in kg/m³.
func (d Density) KilogramsPerCubicMetre() float64 { return float64(d) }

// Viscosity is a dynamic viscosity in mPa·s (equal to centipoise).
type Viscosity float64

// PascalSeconds returns the viscosity in Pa·s.
func (v Viscosity) PascalSeconds() float64 { return float64(v) / 1000 }

// Temperature is a temperature in degrees Celsius.
type Temperature float64

// AbsoluteZero is the lowest temperature there is.
const AbsoluteZero Temperature = -273.15

// Celsius returns the temperature in °C.
func (t Temperature) Celsius() float64 { return float64(t) }

// Kelvin returns the temperature in K.
func (t Temperature) Kelvin() float64 { return float64(t - AbsoluteZero) }

// Fahrenheit returns the temperature in °F.
func (t Temperature) Fahrenheit() float64 { return float64(t)*9/5 + 32 }

// FromFahrenheit converts °F.
func FromFahrenheit(f float64) Temperature { return Temperature((f - 32) * 5 / 9) }

// Angle is an angle in degrees.
type Angle float64

// Degrees returns the angle in degrees.
func (a Angle) Degrees() float64 { return float64(a) }

// Radians returns the angle in radians.
func (a Angle) Radians() float64 { return float64(a) * math.Pi / 180 }

// Tan returns the tangent of the angle.
func (a Angle) Tan() float64 { return math.Tan(a.Radians()) }

// System is the family of units a studio likes to read.
type System string

// The two systems. Weights are shown in grams in both: bench scales read
// grams wherever they stand (common practice).
const (
	Metric System = "metric"
	US     System = "us"
)

// Other returns the system that is not s, for the figure shown on hover.
func (s System) Other() System {
	if s == US {
		return Metric
	}
	return US
}

// Valid reports whether s is one of the two systems.
func (s System) Valid() bool { return s == Metric || s == US }
