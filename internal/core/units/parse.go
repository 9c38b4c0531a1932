package units

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// A Reading is a quantity as understood from what was typed. Note says in
// plain words what had to be assumed; it is empty when nothing was.
type Reading[T ~float64] struct {
	Value T
	Note  msg.Text
}

// A ParseError says why a typed quantity was not understood, in words meant
// for the person who typed it.
type ParseError struct {
	Input string
	Why   error
}

func (e *ParseError) Error() string { return e.Why.Error() }
func (e *ParseError) Unwrap() error { return e.Why }

// ErrEmpty is wrapped by the error for an empty entry.
var ErrEmpty = refusal.New("empty")

func (e *ParseError) Is(target error) bool {
	return target == ErrEmpty && strings.TrimSpace(e.Input) == ""
}

// maxMagnitude bounds every typed number: nothing on a bench is larger, and
// beyond it sums lose meaning.
const maxMagnitude = 1e9

// dimension describes how one kind of quantity is written.
type dimension struct {
	name    msg.ID             // "a length"
	example msg.ID             // shown in messages
	factors map[string]float64 // unit spelling → size in the base unit
	notes   map[string]msg.ID  // spellings that are ambiguous → what was taken
	asked   map[string]msg.ID  // spellings that nobody can take → what to write instead
	spans   bool               // leaflets give ranges of it
}

var lengths = dimension{
	name: "a length", example: "18 in, 46 cm or 1.7 mm",
	factors: spell(map[string]float64{
		"µm um micron microns micrometre micrometer":                  float64(Micrometre),
		"mm millimetre millimetres millimeter millimeters":            float64(Millimetre),
		"cm centimetre centimetres centimeter centimeters zentimeter": float64(Centimetre),
		"m metre metres meter meters":                                 float64(Metre),
		"in inch inches zoll \" ″ ''":                                 float64(Inch),
		"ft foot feet fuß ' ′":                                        float64(Foot),
		"mil mils thou":                                               float64(Mil),
	}),
}

var volumes = dimension{
	name: "a volume", example: "300 mL, 12 fl oz or 1/4 tsp",
	factors: spell(map[string]float64{
		"ml millilitre millilitres milliliter milliliters cc cm3 cm³":  float64(Millilitre),
		"cl centilitre centilitres":                                    float64(Centilitre),
		"dl decilitre decilitres deciliter deciliters":                 float64(10 * Centilitre),
		"l litre litres liter liters":                                  float64(Litre),
		"floz fl.oz fl.oz. fluidounce fluidounces oz oz. ounce ounces": float64(FluidOunce),
		"usfloz usfl.oz. flozus usoz":                                  float64(FluidOunce),
		"tsp teaspoon teaspoons tl teelöffel":                          float64(Teaspoon),
		"tbsp tablespoon tablespoons el esslöffel":                     float64(Tablespoon),
		"pint pints pt":      float64(Pint),
		"quart quarts qt":    float64(Quart),
		"gal gallon gallons": float64(Gallon),
		"drop drops tropfen": float64(Drop),
	}),
	notes: spell(map[string]msg.ID{
		"oz oz. ounce ounces": "taken as US fluid ounces (a volume), not ounces of weight",
		"drop drops tropfen":  "taken as 20 drops to the mL",
		"pint pints pt":       "taken as US pints of 473 mL",
		"quart quarts qt":     "taken as US quarts of 946 mL",
		"gal gallon gallons":  "taken as US gallons of 3.785 L",
	}),
	asked: spell(map[string]msg.ID{
		"cup cups": "a cup here is a mixing cup; write how much is in it, in mL or fl oz",
	}),
}

var masses = dimension{
	name: "a weight", example: "30 g, 1.2 kg or 4 oz wt",
	factors: spell(map[string]float64{
		"mg milligram milligrams":                    float64(Milligram),
		"g gram grams gr gramm":                      float64(Gram),
		"kg kilo kilos kilogram kilograms kilogramm": float64(Kilogram),
		"oz oz. ounce ounces ozwt ozwt. ozav wtoz":   float64(Ounce),
		"lb lbs pound pounds":                        float64(Pound),
	}),
	notes: spell(map[string]msg.ID{
		"oz oz. ounce ounces": "taken as ounces of weight (28.35 g), not fluid ounces",
	}),
}

var viscosities = dimension{
	name: "a viscosity", example: "1000 mPa·s or 1000 cP", spans: true,
	factors: spell(map[string]float64{
		"mpas mpa·s mpa.s mpa*s cp cps centipoise": 1,
		"pas pa·s pa.s pa*s":                       1000,
		"p poise":                                  100,
	}),
}

var densities = dimension{
	name: "a density", example: "1.13 g/mL or 1130 kg/m³",
	factors: spell(map[string]float64{
		"kg/m3 kg/m³ kgm3 g/l":          1,
		"g/ml g/cm3 g/cm³ g/cc kg/l sg": 1000,
		"lb/gal":                        float64(Pound) / float64(Gallon) * 1000,
	}),
}

var angles = dimension{
	name: "an angle", example: "0.2°",
	factors: spell(map[string]float64{
		"° deg degree degrees grad": 1,
		"rad":                       180 / math.Pi,
		"mrad":                      0.18 / math.Pi,
		"mm/m":                      0.18 / math.Pi,
	}),
}

var minutes = dimension{
	name: "a time", example: "45 min, 1 h 30 min or 24 h", spans: true,
	factors: spell(map[string]float64{
		"s sec secs second seconds sek sekunde sekunden": 1.0 / 60,
		"min mins minute minutes m minuten":              1,
		"h hr hrs hour hours std stunde stunden":         60,
		"d day days tag tage tagen":                      24 * 60,
	}),
}

// spell expands "a b c": v into one entry a spelling.
func spell[V any](in map[string]V) map[string]V {
	out := make(map[string]V, 4*len(in))
	for names, v := range in {
		for name := range strings.FieldsSeq(names) {
			out[name] = v
		}
	}
	return out
}

// ParseLength reads a length such as "18in", "33 cm", `1 1/2 in`, "1 ft 6 in".
// A bare number is taken in the unit named bare, with a note saying so.
func ParseLength(s, bare string) (Reading[Length], error) { return read[Length](s, lengths, bare) }

// ParseVolume reads a volume such as "12 fl oz", "1/4 tsp", "3 drops". Plain
// "oz" in a volume is taken as US fluid ounces, with a note saying so.
func ParseVolume(s, bare string) (Reading[Volume], error) { return read[Volume](s, volumes, bare) }

// ParseVolumeOf reads a volume of a liquid of the density, as a volume or by what it weighs.
func ParseVolumeOf(s, bare string, of Density) (Reading[Volume], error) {
	r, err := ParseVolume(s, bare)
	if err == nil || of <= 0 {
		return r, err
	}
	m, wrong := ParseMass(s, "g")
	if wrong != nil {
		return r, err
	}
	return Reading[Volume]{m.Value.Filling(of),
		msg.F("%s at %s", msg.Figure(Fixed(m.Value.Grams(), 1)+" g"), msg.Figure(Fixed(float64(of)/1000, 3)+" g/mL"))}, nil
}

// ParseMass reads a mass such as "31 g" or "4 oz wt". Plain "oz" in a mass is
// the avoirdupois ounce, with a note saying so.
func ParseMass(s, bare string) (Reading[Mass], error) { return read[Mass](s, masses, bare) }

// ParseViscosity reads a viscosity such as "1000 mPa·s" or "1000 cP".
func ParseViscosity(s, bare string) (Reading[Viscosity], error) {
	return read[Viscosity](s, viscosities, bare)
}

// ParseDensity reads a density such as "1.13 g/mL".
// A bare number below 20 is in g/mL: nothing poured is that light in kg/m³.
func ParseDensity(s, bare string) (Reading[Density], error) {
	if v, err := ParseNumber(s); err == nil && v < 20 {
		bare = "g/ml"
	}
	return read[Density](s, densities, bare)
}

// ParseAngle reads an angle such as "-0.2°"; angles alone may be negative.
func ParseAngle(s, bare string) (Reading[Angle], error) { return read[Angle](s, angles, bare) }

// ParseMinutes reads a span of time such as "1 h 30 min" into minutes.
func ParseMinutes(s, bare string) (Reading[float64], error) { return read[float64](s, minutes, bare) }

// ParseNumber reads a plain number: decimal point or comma, fractions.
func ParseNumber(s string) (float64, error) {
	rest, v, err := number(strings.TrimSpace(s))
	if err != nil || strings.TrimSpace(rest) != "" {
		return 0, refuse(s, "%q is not a number", s)
	}
	return v, nil
}

// ParseTemperature reads "75F", "24 °C", "297 K". A bare number is taken in
// the unit named bare ("C" or "F").
func ParseTemperature(s, bare string) (Reading[Temperature], error) {
	var none Reading[Temperature]
	text := strings.TrimSpace(s)
	if text == "" {
		return none, refuse(s, "needs a temperature, for example 21 °C or 70F")
	}
	rest, v, err := number(text)
	if err != nil {
		return none, refuse(s, "%q is not a temperature; write 21 °C or 70F", s)
	}
	unit := strings.TrimPrefix(strings.TrimPrefix(strings.ToLower(strings.TrimSpace(rest)), "°"), "º")
	unit = strings.TrimPrefix(strings.TrimSpace(unit), "deg")
	var note msg.Text
	if unit == "" {
		unit = strings.ToLower(bare)
		note = msg.F("taken in °%s", strings.ToUpper(bare))
	}
	var t Temperature
	switch strings.TrimSpace(unit) {
	case "c", "celsius":
		t = Temperature(v)
	case "f", "fahrenheit":
		t = FromFahrenheit(v)
	case "k", "kelvin":
		t = Temperature(v) + AbsoluteZero
	default:
		return none, refuse(s, "%q is not a temperature; write 21 °C or 70F", s)
	}
	if t < AbsoluteZero {
		return none, refuse(s, "%s is colder than anything can be", strings.TrimSpace(s))
	}
	return Reading[Temperature]{t, note}, nil
}

// ParseRatio reads a mixing ratio A:B such as "2:1", "100 to 45" or "3/1".
func ParseRatio(s string) (a, b float64, err error) {
	text := strings.ToLower(strings.TrimSpace(s))
	for _, sep := range []string{":", " to ", "/"} {
		left, right, found := strings.Cut(text, sep)
		if !found {
			continue
		}
		restA, a, errA := decimal(strings.TrimSpace(left))
		restB, b, errB := decimal(strings.TrimSpace(right))
		if errA != nil || errB != nil || restA != "" || strings.TrimSpace(restB) != "" || a <= 0 || b <= 0 {
			break
		}
		return a, b, nil
	}
	return 0, 0, refuse(s, "%q is not a ratio; write it as 2:1", s)
}

// ParseShare reads a share: "30%", or "30" (taken as per cent).
func ParseShare(s string) (float64, error) {
	text := strings.TrimSpace(s)
	if text == "" {
		return 0, refuse(s, "needs a share, for example 30%%")
	}
	rest, v, err := number(text)
	rest = strings.TrimSpace(rest)
	if err != nil || (rest != "" && rest != "%") {
		return 0, refuse(s, "%q is not a share; write it as 30%%", s)
	}
	if v < 0 {
		return 0, refuse(s, "a share cannot be negative")
	}
	return v / 100, nil
}

// ParseSize reads a board size: "18 x 24 in", "40×60cm", "18in x 2 ft". A
// single length is a square. The last unit serves the sides that have none.
func ParseSize(s, bare string) (w, h Reading[Length], err error) {
	parts := strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return r == 'x' || r == '×' || r == '*' })
	switch len(parts) {
	case 1:
		w, err = ParseLength(parts[0], bare)
		return w, w, err
	case 2:
		h, err = ParseLength(parts[1], bare)
		if err != nil {
			return w, h, err
		}
		w, err = ParseLength(parts[0], lastUnit(parts[1], bare))
		if h.Note == nil {
			w.Note = nil
		}
		return w, h, err
	}
	return w, h, refuse(s, "%q is not a size; write it as 18 x 24 in", s)
}

// CutCount reads a count before something, as 6 of 60 x 60 cm; German's "von" is taken in
// whatever language the studio speaks.
func CutCount(s string) (count, of string, ok bool) {
	if count, of, ok = strings.Cut(s, " of "); ok {
		return count, of, ok
	}
	return strings.Cut(s, " von ")
}

// lastUnit returns the unit a size ends in, or bare when it has none.
func lastUnit(s, bare string) string {
	unit := strings.TrimSpace(strings.TrimLeftFunc(strings.TrimSpace(s), func(r rune) bool {
		return unicode.IsDigit(r) || strings.ContainsRune(" .,/-½¼¾⅛⅜⅝⅞⅓⅔", r)
	}))
	if _, ok := lengths.factors[unit]; ok {
		return unit
	}
	return bare
}

// read parses a sum of numbers with units ("1 ft 6 in") of one dimension.
func read[T ~float64](s string, d dimension, bare string) (Reading[T], error) {
	var none Reading[T]
	text := grouped.ReplaceAllStringFunc(strings.ToLower(strings.TrimSpace(s)), ungroup)
	if text == "" {
		return none, refuse(s, "needs %s, for example %s", d.name, d.example)
	}
	total, first := 0.0, true
	var note msg.Text
	for text != "" {
		rest, v, err := number(text)
		if err != nil {
			return none, refuse(s, "%q is not %s; write %s", s, d.name, d.example)
		}
		if until, to, ok := span(rest, d, first); ok {
			if to <= v || v < 0 {
				return none, refuse(s, "%q is not %s; write %s", s, d.name, d.example)
			}
			note = msg.F("taken as the middle of %s and %s", msg.Figure(Fixed(v, 3)), msg.Figure(Fixed(to, 3)))
			v, rest = (v+to)/2, until
		}
		unit, rest := unitWord(rest)
		if unit == "" {
			if !first || rest != "" {
				return none, refuse(s, "%q is not %s; write %s", s, d.name, d.example)
			}
			unit = bare
			if note == nil {
				note = msg.F("taken in %s", bare)
			}
		}
		if ask, ok := d.asked[strings.ReplaceAll(unit, " ", "")]; ok {
			return none, &ParseError{Input: s, Why: refusal.New(ask)}
		}
		factor, ok := d.factors[strings.ReplaceAll(unit, " ", "")]
		if !ok {
			return none, refuse(s, "%q is not a unit for %s; write %s", unit, d.name, d.example)
		}
		if n, ok := d.notes[unit]; ok {
			note = n
		}
		if !first && v < 0 {
			return none, refuse(s, "%q is not %s; write %s", s, d.name, d.example)
		}
		total += v * factor
		text, first = rest, false
	}
	if math.Abs(total) > maxMagnitude {
		return none, refuse(s, "%s is larger than anything on a bench", strings.TrimSpace(s))
	}
	return Reading[T]{T(total), note}, nil
}

// grouped is a number whose thousands stand apart: 1 000, 12 500.
var grouped = regexp.MustCompile(`(?:^|[^\d.,])\d{1,3}(?:[ \x{a0}\x{2009}\x{202f}]\d{3})+(?:[^\d]|$)`)

func ungroup(number string) string {
	return thousands.ReplaceAllString(number, "$1$2")
}

var thousands = regexp.MustCompile(`(\d)[ \x{a0}\x{2009}\x{202f}](\d{3})`)

// span reads the other end of a range after its first: "-45", "– 45", "to 45", "bis 45".
func span(rest string, d dimension, first bool) (after string, to float64, ok bool) {
	if !d.spans || !first {
		return rest, 0, false
	}
	for _, word := range []string{"-", "–", "to ", "bis "} {
		if t, found := strings.CutPrefix(strings.TrimSpace(rest), word); found {
			after, to, err := decimal(strings.TrimSpace(t))
			return after, to, err == nil
		}
	}
	return rest, 0, false
}

// unitWord takes the unit off the front of s: everything up to the next digit.
func unitWord(s string) (unit, rest string) {
	s = strings.TrimSpace(s)
	end := len(s)
	for i, r := range s {
		// "cm3", "kg/m3" carry their digit; "1 ft 6 in" has a space before it.
		if unicode.IsDigit(r) && (i == 0 || s[i-1] == ' ') {
			end = i
			break
		}
	}
	// "5'6" style: a quote ends its unit at once.
	if i := strings.IndexAny(s[:end], "'\"′″"); i == 0 {
		_, size := utf8.DecodeRuneInString(s)
		if strings.HasPrefix(s, "''") {
			size = 2
		}
		end = size
	}
	return strings.TrimSpace(s[:end]), strings.TrimSpace(s[end:])
}

var vulgar = map[rune]float64{'½': 1. / 2, '¼': 1. / 4, '¾': 3. / 4, '⅛': 1. / 8, '⅜': 3. / 8, '⅝': 5. / 8, '⅞': 7. / 8,
	'⅓': 1. / 3, '⅔': 2. / 3}

// number reads "12", "1.5", "1,5", "1/4", "1 1/2", "1-1/2", "1½", "-0.2".
func number(s string) (rest string, v float64, err error) {
	sign := 1.0
	if t, ok := strings.CutPrefix(s, "-"); ok {
		s, sign = t, -1
	} else if t, ok := strings.CutPrefix(s, "−"); ok {
		s, sign = t, -1
	}
	for r, f := range vulgar {
		if t, ok := strings.CutPrefix(s, string(r)); ok {
			return t, sign * f, nil
		}
	}
	rest, whole, err := decimal(s)
	if err != nil {
		return s, 0, err
	}
	for r, f := range vulgar {
		if t, ok := strings.CutPrefix(strings.TrimPrefix(rest, " "), string(r)); ok {
			return t, sign * (whole + f), nil
		}
	}
	if t, f, ok := over(rest, whole); ok {
		return t, sign * f, nil
	}
	// A whole number followed by a fraction: "1 1/2" or "1-1/2".
	if whole == math.Trunc(whole) && rest != "" && (rest[0] == ' ' || rest[0] == '-') {
		if after, num, err := decimal(strings.TrimLeft(rest[1:], " ")); err == nil {
			if t, f, ok := over(after, num); ok && f < 1 {
				return t, sign * (whole + f), nil
			}
		}
	}
	return rest, sign * whole, nil
}

// over reads "/n" after a numerator.
func over(rest string, num float64) (string, float64, bool) {
	t, ok := strings.CutPrefix(rest, "/")
	if !ok {
		return rest, 0, false
	}
	after, den, err := decimal(t)
	if err != nil || den == 0 {
		return rest, 0, false
	}
	return after, num / den, true
}

// decimal reads plain digits with one decimal point or comma.
func decimal(s string) (rest string, v float64, err error) {
	end, seen := 0, false
	for end < len(s) {
		c := s[end]
		if c >= '0' && c <= '9' {
			end++
			continue
		}
		nextDigit := end+1 < len(s) && s[end+1] >= '0' && s[end+1] <= '9'
		if (c == '.' || c == ',') && !seen && nextDigit {
			seen = true
			end++
			continue
		}
		break
	}
	if end == 0 {
		return s, 0, refusal.New("no digits in %q", s)
	}
	v, err = strconv.ParseFloat(strings.Replace(s[:end], ",", ".", 1), 64)
	if err != nil || math.IsInf(v, 0) {
		return s, 0, refusal.New("%q is not a number", s[:end])
	}
	// "1,000" reads as a thousand to one painter and as one to another; "0,125" to none.
	if i := strings.IndexByte(s[:end], ','); i > 0 && end-i == 4 && s[0] != '0' {
		return s, 0, refusal.New("%q may be a thousand or a decimal", s[:end])
	}
	return s[end:], v, nil
}

func refuse(input string, format msg.ID, args ...any) error {
	return &ParseError{Input: input, Why: refusal.New(format, args...)}
}
