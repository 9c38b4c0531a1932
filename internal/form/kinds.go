package form

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Figures writes a typed text as a language does.
func Figures(typed string, l msg.Lang) string { return l.Figures(typed) }

// Filled writes what the program filled in as a language does, until it is typed over.
func Filled(text string, l msg.Lang) string { return l.Preset(text) }

func blank(text string) bool { return strings.TrimSpace(text) == "" }

// Between refuses a value outside its bounds.
func Between[V ~float64, P any](v, lo, hi V, print func(V) P) error {
	if math.IsNaN(float64(v)) || v < lo || v > hi {
		return refusal.New("must be between %s and %s", figure(print(lo)), figure(print(hi)))
	}
	return nil
}

// figure is a printed quantity as a language writes it.
func figure(printed any) any {
	if text, ok := printed.(string); ok {
		return msg.Figure(text)
	}
	return printed
}

// BareLength is the unit a board length without one is taken in.
func BareLength(sys units.System) string {
	if sys == units.US {
		return "in"
	}
	return "cm"
}

// BareVolume is the unit a volume without one is taken in.
func BareVolume(sys units.System) string {
	if sys == units.US {
		return "floz"
	}
	return "ml"
}

// BareTemperature is the unit a temperature without one is taken in.
func BareTemperature(sys units.System) string {
	if sys == units.US {
		return "F"
	}
	return "C"
}

// quantity is a field whose text is read as a quantity within bounds.
func quantity[T any, V ~float64](key string, label msg.ID, at func(*T) *V, lo, hi V, print func(V, units.System) string,
	parse func(string, units.System) (units.Reading[V], error)) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Line, Say: Figures,
		Get: func(t *T, sys units.System) string { return print(*at(t), sys) },
		Set: func(t *T, text string, sys units.System) (msg.Text, error) {
			r, err := parse(text, sys)
			if err == nil {
				err = Between(r.Value, lo, hi, func(v V) string { return print(v, sys) })
			}
			if err != nil {
				return nil, err
			}
			*at(t) = r.Value
			return r.Note, nil
		}}
}

// always prints a quantity the same way in both systems.
func always[V any](print func(V) string) func(V, units.System) string {
	return func(v V, _ units.System) string { return print(v) }
}

// bare parses with one bare unit in both systems.
func bare[V ~float64](unit string, parse func(string, string) (units.Reading[V], error)) func(string,
	units.System) (units.Reading[V], error) {
	return func(text string, _ units.System) (units.Reading[V], error) { return parse(text, unit) }
}

// Length is a board-sized length.
func Length[T any](key string, label msg.ID, at func(*T) *units.Length, lo, hi units.Length) Field[T] {
	return quantity(key, label, at, lo, hi, func(l units.Length, sys units.System) string { return string(l.Text(sys)) },
		func(text string, sys units.System) (units.Reading[units.Length], error) {
			unit := BareLength(sys)
			if sys == units.Metric && hi < 200 { // sides and dams are millimetres
				unit = "mm"
			}
			return units.ParseLength(text, unit)
		})
}

// FilmText prints a film as it is typed: in millimetres to the hundredth, or in inches.
func FilmText(l units.Length, sys units.System) string {
	if sys == units.US {
		return string(l.Film(sys))
	}
	return units.Fixed(float64(l), 2) + " mm"
}

// BareFilm is the unit a film without one is taken in: 1/16 is one of inches, 1.6 of millimetres, since no
// film on a board is an inch thick or a tenth of a millimetre.
func BareFilm(text string, sys units.System) string {
	if v, err := units.ParseNumber(text); err == nil && sys == units.US && v < 0.5 {
		return "in"
	}
	return "mm"
}

// Film is a film-sized length.
func Film[T any](key string, label msg.ID, at func(*T) *units.Length, lo, hi units.Length) Field[T] {
	return quantity(key, label, at, lo, hi, FilmText,
		func(text string, sys units.System) (units.Reading[units.Length], error) {
			return units.ParseLength(text, BareFilm(text, sys))
		})
}

// VolumeText prints a volume as it is typed.
func VolumeText(v units.Volume, sys units.System) string {
	if sys == units.US {
		return units.Fixed(v.FluidOunces(), 3) + " fl oz"
	}
	return units.Fixed(float64(v), 2) + " mL"
}

// Volume is a volume of resin.
func Volume[T any](key string, label msg.ID, at func(*T) *units.Volume, lo, hi units.Volume) Field[T] {
	return quantity(key, label, at, lo, hi, VolumeText,
		func(text string, sys units.System) (units.Reading[units.Volume], error) {
			return units.ParseVolume(text, BareVolume(sys))
		})
}

// VolumeOf is a volume of resin that may be typed by its weight.
func VolumeOf[T any](key string, label msg.ID, at func(*T) *units.Volume, of func(*T) units.Density,
	lo, hi units.Volume) Field[T] {
	f := Volume(key, label, at, lo, hi)
	f.Set = func(t *T, text string, sys units.System) (msg.Text, error) {
		r, err := units.ParseVolumeOf(text, BareVolume(sys), of(t))
		if err == nil {
			err = Between(r.Value, lo, hi, func(v units.Volume) string { return VolumeText(v, sys) })
		}
		if err == nil {
			*at(t) = r.Value
		}
		return r.Note, err
	}
	return f
}

// MassText prints a mass as it is typed.
func MassText(m units.Mass) string { return units.Fixed(float64(m), 3) + " g" }

// Mass is a weight.
func Mass[T any](key string, label msg.ID, at func(*T) *units.Mass, lo, hi units.Mass) Field[T] {
	return quantity(key, label, at, lo, hi, always(MassText), bare("g", units.ParseMass))
}

// Density is that of a part, a pigment or a bottle.
func Density[T any](key string, label msg.ID, at func(*T) *units.Density, lo, hi units.Density) Field[T] {
	return quantity(key, label, at, lo, hi,
		always(func(d units.Density) string { return units.Fixed(float64(d), 1) + " kg/m³" }), bare("kg/m3",
			units.ParseDensity))
}

// Viscosity is that of a mixed resin.
func Viscosity[T any](key string, label msg.ID, at func(*T) *units.Viscosity) Field[T] {
	return quantity(key, label, at, 1, 1e6,
		always(func(v units.Viscosity) string { return units.Fixed(float64(v), 1) + " mPa·s" }), bare("mpas",
			units.ParseViscosity))
}

// Micron is the size of a particle.
func Micron[T any](key string, label msg.ID, at func(*T) *units.Length) Field[T] {
	return quantity(key, label, at, 0.01*units.Micrometre, 20, always(func(l units.Length) string {
		return units.Fixed(float64(l/units.Micrometre), 2) + " µm"
	}), bare("µm", units.ParseLength))
}

// Angle is a tilt.
func Angle[T any](key string, label msg.ID, at func(*T) *units.Angle, most units.Angle) Field[T] {
	return quantity(key, label, at, -most, most,
		always(func(a units.Angle) string { return units.Fixed(float64(a), 3) + "°" }), bare("deg", units.ParseAngle))
}

// Temperature is that of a room.
func Temperature[T any](key string, label msg.ID, at func(*T) *units.Temperature, lo, hi units.Temperature) Field[T] {
	return quantity(key, label, at, lo, hi,
		func(t units.Temperature, sys units.System) string { return string(t.Text(sys)) },
		func(text string, sys units.System) (units.Reading[units.Temperature], error) {
			return units.ParseTemperature(text, BareTemperature(sys))
		})
}

// Minutes is a span of time kept in minutes; unit is that of a bare number and
// of the text shown.
func Minutes[T any](key string, label msg.ID, unit string, at func(*T) *float64, lo, hi float64) Field[T] {
	per := map[string]float64{"min": 1, "h": 60, "d": 1440}[unit]
	return quantity(key, label, at, lo, hi, always(func(m float64) string { return units.Fixed(m/per, 2) + " " + unit }),
		bare(unit, units.ParseMinutes))
}

// Hours is a span of time kept in hours.
func Hours[T any](key string, label msg.ID, at func(*T) *float64, lo, hi float64) Field[T] {
	return quantity(key, label, at, lo, hi, always(func(h float64) string { return units.Fixed(h, 2) + " h" }),
		func(text string, _ units.System) (units.Reading[float64], error) {
			r, err := units.ParseMinutes(text, "h")
			return units.Reading[float64]{Value: r.Value / 60, Note: r.Note}, err
		})
}

// ShareText prints a share as it is typed.
func ShareText(v float64) string { return units.Fixed(v*100, 2) + " %" }

// Share is a part of a whole.
func Share[T any](key string, label msg.ID, at func(*T) *float64, hi float64) Field[T] {
	return quantity(key, label, at, 0, hi, always(ShareText),
		func(text string, _ units.System) (units.Reading[float64], error) {
			v, err := units.ParseShare(text)
			return units.Reading[float64]{Value: v}, err
		})
}

// Number is a plain number to so many decimals.
func Number[T any](key string, label msg.ID, at func(*T) *float64, lo, hi float64, decimals int) Field[T] {
	return quantity(key, label, at, lo, hi, always(func(v float64) string { return units.Fixed(v, decimals) }),
		func(text string, _ units.System) (units.Reading[float64], error) {
			v, err := units.ParseNumber(text)
			return units.Reading[float64]{Value: v}, err
		})
}

// Count is a whole number; one never set is the least.
func Count[T any](key string, label msg.ID, at func(*T) *int, lo, hi int) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Line,
		Get: func(t *T, _ units.System) string { return strconv.Itoa(max(lo, *at(t))) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			v, err := units.ParseNumber(text)
			if err != nil || v != math.Trunc(v) || v < float64(lo) || v > float64(hi) {
				return nil, refusal.New("must be a whole number between %d and %d", lo, hi)
			}
			*at(t) = int(v)
			return nil, nil
		}}
}

// Parsed is words that are kept as what they mean.
func Parsed[T, V any](key string, label msg.ID, at func(*T) *V, print func(V, units.System) string,
	parse func(string) (V, error)) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Line,
		Get: func(t *T, sys units.System) string { return print(*at(t), sys) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			v, err := parse(text)
			if err != nil {
				return nil, err
			}
			*at(t) = v
			return nil, nil
		}}
}

// Text is words of at most so many letters.
func Text[T any, S ~string](key string, label msg.ID, at func(*T) *S, most int, required bool) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Line,
		Get: func(t *T, _ units.System) string { return string(*at(t)) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			text = strings.TrimSpace(text)
			switch {
			case required && text == "":
				return nil, refusal.New("needs a name")
			case len([]rune(text)) > most:
				return nil, refusal.New("is longer than %d characters", most)
			case strings.ContainsAny(text, "\r\n"):
				return nil, refusal.New("must be a single line")
			}
			*at(t) = S(text)
			return nil, nil
		}}
}

// Preset is words the program filled in, in the language until they are typed over.
func Preset[T any](key string, label msg.ID, at func(*T) *msg.Preset, most int, required bool) Field[T] {
	return Text(key, label, at, most, required).Said(Filled)
}

// Words is a longer text.
func Words[T any](key string, label msg.ID, at func(*T) *string, most int) Field[T] {
	f := Text(key, label, at, most, false)
	f.Kind = Long
	f.Set = func(t *T, text string, _ units.System) (msg.Text, error) {
		if text = strings.TrimSpace(text); len([]rune(text)) > most {
			return nil, refusal.New("is longer than %d characters", most)
		}
		*at(t) = text
		return nil, nil
	}
	return f
}

// Choice is one of some ways.
func Choice[T any, V ~string](key string, label msg.ID, at func(*T) *V, options ...Option) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Choose, Options: options,
		Get: func(t *T, _ units.System) string { return string(*at(t)) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			for _, o := range options {
				if o.Value == text {
					*at(t) = V(text)
					return nil, nil
				}
			}
			return nil, refusal.New("%q is not one of the choices", text)
		}}
}

// Plain makes options whose labels are their values.
func Plain[V ~string](values ...V) []Option {
	out := make([]Option, len(values))
	for i, v := range values {
		out[i] = Option{Value: string(v), Label: msg.ID(v)}
	}
	return out
}

// Owned is a choice of something the studio has, by its number; none says
// whether 0, nothing, may be chosen.
func Owned[T any](key string, label msg.ID, of string, at func(*T) *int64, none bool) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Choose, Of: of,
		Get: func(t *T, _ units.System) string { return strconv.FormatInt(*at(t), 10) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			id, err := strconv.ParseInt(text, 10, 64)
			if err != nil || id < 0 || (id == 0 && !none) {
				return nil, refusal.New("choose one of your materials")
			}
			*at(t) = id
			return nil, nil
		}}
}

// Bool is yes or no.
func Bool[T any](key string, label msg.ID, at func(*T) *bool) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Yes,
		Get: func(t *T, _ units.System) string {
			if *at(t) {
				return "yes"
			}
			return "no"
		},
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			if text != "yes" && text != "no" {
				return nil, refusal.New("must be yes or no")
			}
			*at(t) = text == "yes"
			return nil, nil
		}}
}

// MomentLayout is how a day and hour are typed.
const MomentLayout = "2006-01-02T15:04"

// ParseMoment reads a day and hour.
func ParseMoment(text string) (time.Time, error) {
	v, err := time.ParseInLocation(MomentLayout, strings.TrimSpace(text), time.Local)
	if err != nil || v.Year() < 2000 || v.Year() > 2200 {
		return v, refusal.New("%q is not a day and hour", text)
	}
	return v, nil
}

// At is a day and hour.
func At[T any](key string, label msg.ID, at func(*T) *time.Time) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Moment,
		Get: func(t *T, _ units.System) string { return at(t).Local().Format(MomentLayout) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			v, err := ParseMoment(text)
			if err != nil {
				return nil, err
			}
			*at(t) = v
			return nil, nil
		}}
}

// dueHour is when a due day counts as over.
const dueHour = 18

// Due is a day whose end counts; empty for none.
func Due[T any](key string, label msg.ID, at func(*T) *time.Time) Field[T] {
	f := Date(key, label, at)
	set := f.Set
	f.Set = func(t *T, text string, sys units.System) (msg.Text, error) {
		note, err := set(t, text, sys)
		if v := at(t); err == nil && !v.IsZero() {
			y, m, d := v.Date()
			*v = time.Date(y, m, d, dueHour, 0, 0, 0, time.Local)
		}
		return note, err
	}
	return f
}

var swatchPattern = regexp.MustCompile(`^#[0-9a-f]{6}$`)

// Swatch is a colour.
func Swatch[T any](key string, label msg.ID, at func(*T) *string) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Colour,
		Get: func(t *T, _ units.System) string { return *at(t) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			text = strings.ToLower(strings.TrimSpace(text))
			if !swatchPattern.MatchString(text) {
				return nil, refusal.New("%q is not a colour; write it as #2a6f97", text)
			}
			*at(t) = text
			return nil, nil
		}}
}

// Money is an exact amount of the studio's currency.
func Money[T any](key string, label msg.ID, at func(*T) *decimal.Decimal, digits int) Field[T] {
	return Field[T]{Key: key, Label: label, Kind: Line, Say: Figures,
		Get: func(t *T, _ units.System) string { return at(t).StringFixed(int32(digits)) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			v, note, err := money.Parse(text, digits)
			if err != nil {
				return nil, err
			}
			*at(t) = v
			return note, nil
		}}
}

// Part is a share of at most hi, kept as an exact number from 0 to 1.
func Part[T any](key string, label msg.ID, at func(*T) *decimal.Decimal, hi int64) Field[T] {
	hundred := decimal.NewFromInt(100)
	return Field[T]{Key: key, Label: label, Kind: Line, Say: Figures,
		Get: func(t *T, _ units.System) string { return at(t).Mul(hundred).String() + " %" },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			v, _, err := money.Parse(strings.TrimSuffix(strings.TrimSpace(text), "%"), 4)
			if err != nil {
				return nil, refusal.New("%q is not a share; write 19 %%", text)
			}
			if v.GreaterThan(decimal.NewFromInt(hi)) {
				return nil, refusal.New("must be at most %d %%", hi)
			}
			*at(t) = v.Div(hundred)
			return nil, nil
		}}
}

// Date is a day; empty for none.
func Date[T any](key string, label msg.ID, at func(*T) *time.Time) Field[T] {
	f := Field[T]{Key: key, Label: label, Kind: Day,
		Get: func(t *T, _ units.System) string { return at(t).Local().Format(time.DateOnly) },
		Set: func(t *T, text string, _ units.System) (msg.Text, error) {
			v, err := time.ParseInLocation(time.DateOnly, strings.TrimSpace(text), time.Local)
			if err != nil || v.Year() < 2000 || v.Year() > 2200 {
				return nil, refusal.New("%q is not a day; write 2026-03-14", text)
			}
			*at(t) = v
			return nil, nil
		}}
	return f.OrNothing(func(t *T) bool { return at(t).IsZero() }, func(t *T) { *at(t) = time.Time{} })
}
