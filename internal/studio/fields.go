package studio

import (
	"fmt"
	"math"
	"regexp"
	"strings"
	"time"

	"jevvo/internal/core/units"
)

// A Field is one typed value of a T: how it reads in a system of units, and
// how typed text is understood. Set leaves the T alone when it refuses.
type Field[T any] struct {
	Key, Label string
	Get        func(t *T, sys units.System) string
	Set        func(t *T, text string, sys units.System) (note string, err error)
}

// Fields is the table of all typed values of a T.
type Fields[T any] []Field[T]

func (fs Fields[T]) find(key string) (Field[T], bool) {
	for _, f := range fs {
		if f.Key == key {
			return f, true
		}
	}
	return Field[T]{}, false
}

// values prints every field.
func (fs Fields[T]) values(t *T, sys units.System) map[string]string {
	out := make(map[string]string, len(fs))
	for _, f := range fs {
		out[f.Key] = f.Get(t, sys)
	}
	return out
}

// apply sets every field that was typed. Text that still reads as the field
// is shown leaves the exact value alone, so that rounding for display never
// creeps into what is kept.
func (fs Fields[T]) apply(t *T, typed map[string]string, sys units.System) Notices {
	n := newNotices()
	for _, f := range fs {
		text, ok := typed[f.Key]
		if !ok || text == f.Get(t, sys) {
			continue
		}
		note, err := f.Set(t, text, sys)
		if err != nil {
			n.Errors[f.Key] = err.Error()
		} else if note != "" {
			n.Notes[f.Key] = note
		}
	}
	return n
}

func between[V ~float64](v, lo, hi V, print func(V) string) error {
	if math.IsNaN(float64(v)) || v < lo || v > hi {
		return fmt.Errorf("must be between %s and %s", print(lo), print(hi))
	}
	return nil
}

// bareLength is the unit a board length without one is taken in.
func bareLength(sys units.System) string {
	if sys == units.US {
		return "in"
	}
	return "cm"
}

func bareVolume(sys units.System) string {
	if sys == units.US {
		return "floz"
	}
	return "ml"
}

func bareTemperature(sys units.System) string {
	if sys == units.US {
		return "F"
	}
	return "C"
}

func lengthField[T any](key, label string, at func(*T) *units.Length, lo, hi units.Length) Field[T] {
	return Field[T]{key, label,
		func(t *T, sys units.System) string { return at(t).Text(sys) },
		func(t *T, text string, sys units.System) (string, error) {
			bare := bareLength(sys)
			if sys == units.Metric && hi < 200 { // sides and dams are millimetres
				bare = "mm"
			}
			r, err := units.ParseLength(text, bare)
			if err == nil {
				err = between(r.Value, lo, hi, func(l units.Length) string { return l.Text(sys) })
			}
			return keep(at(t), r, err)
		}}
}

// filmField is a length in millimetres to the hundredth, whatever the system:
// films are spoken of in mm or as fractions of an inch.
func filmField[T any](key, label string, at func(*T) *units.Length, lo, hi units.Length) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return units.Fixed(float64(*at(t)), 2) + " mm" },
		func(t *T, text string, _ units.System) (string, error) {
			r, err := units.ParseLength(text, "mm")
			if err == nil {
				err = between(r.Value, lo, hi, func(l units.Length) string { return units.Fixed(float64(l), 2) + " mm" })
			}
			return keep(at(t), r, err)
		}}
}

func volumeField[T any](key, label string, at func(*T) *units.Volume, lo, hi units.Volume) Field[T] {
	print := func(v units.Volume, sys units.System) string {
		if sys == units.US {
			return units.Fixed(v.FluidOunces(), 3) + " fl oz"
		}
		return units.Fixed(float64(v), 2) + " mL"
	}
	return Field[T]{key, label,
		func(t *T, sys units.System) string { return print(*at(t), sys) },
		func(t *T, text string, sys units.System) (string, error) {
			r, err := units.ParseVolume(text, bareVolume(sys))
			if err == nil {
				err = between(r.Value, lo, hi, func(v units.Volume) string { return print(v, sys) })
			}
			return keep(at(t), r, err)
		}}
}

func massField[T any](key, label string, at func(*T) *units.Mass, lo, hi units.Mass) Field[T] {
	print := func(m units.Mass) string { return units.Fixed(float64(m), 3) + " g" }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			r, err := units.ParseMass(text, "g")
			if err == nil {
				err = between(r.Value, lo, hi, print)
			}
			return keep(at(t), r, err)
		}}
}

func densityField[T any](key, label string, at func(*T) *units.Density) Field[T] {
	return rangedDensity(key, label, at, 500, 3000)
}

func rangedDensity[T any](key, label string, at func(*T) *units.Density, lo, hi units.Density) Field[T] {
	print := func(d units.Density) string { return units.Fixed(float64(d), 1) + " kg/m³" }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			r, err := units.ParseDensity(text, "kg/m3")
			if err == nil {
				err = between(r.Value, lo, hi, print)
			}
			return keep(at(t), r, err)
		}}
}

func viscosityField[T any](key, label string, at func(*T) *units.Viscosity) Field[T] {
	print := func(v units.Viscosity) string { return units.Fixed(float64(v), 1) + " mPa·s" }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			r, err := units.ParseViscosity(text, "mpas")
			if err == nil {
				err = between(r.Value, 1, 1e6, print)
			}
			return keep(at(t), r, err)
		}}
}

func temperatureField[T any](key, label string, at func(*T) *units.Temperature, lo, hi units.Temperature) Field[T] {
	return Field[T]{key, label,
		func(t *T, sys units.System) string { return at(t).Text(sys) },
		func(t *T, text string, sys units.System) (string, error) {
			r, err := units.ParseTemperature(text, bareTemperature(sys))
			if err == nil {
				err = between(r.Value, lo, hi, func(x units.Temperature) string { return x.Text(sys) })
			}
			return keep(at(t), r, err)
		}}
}

// minutesField is a span of time kept in minutes; bare is the unit of a bare
// number and of the text shown.
func minutesField[T any](key, label, bare string, at func(*T) *float64, lo, hi float64) Field[T] {
	per := map[string]float64{"min": 1, "h": 60, "d": 1440}[bare]
	print := func(m float64) string { return units.Fixed(m/per, 2) + " " + bare }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			r, err := units.ParseMinutes(text, bare)
			if err == nil {
				err = between(r.Value, lo, hi, print)
			}
			return keep(at(t), r, err)
		}}
}

func shareField[T any](key, label string, at func(*T) *float64, hi float64) Field[T] {
	print := func(v float64) string { return units.Fixed(v*100, 2) + " %" }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			v, err := units.ParseShare(text)
			if err == nil {
				err = between(v, 0, hi, print)
			}
			return keep(at(t), units.Reading[float64]{Value: v}, err)
		}}
}

func countField[T any](key, label string, at func(*T) *int, lo, hi int) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return fmt.Sprint(max(lo, *at(t))) }, // a count never set is the least
		func(t *T, text string, _ units.System) (string, error) {
			v, err := units.ParseNumber(text)
			if err != nil || v != math.Trunc(v) || v < float64(lo) || v > float64(hi) {
				return "", fmt.Errorf("must be a whole number between %d and %d", lo, hi)
			}
			*at(t) = int(v)
			return "", nil
		}}
}

// parsedField keeps words as they were typed once they can be read.
func parsedField[T, V any](key, label string, at func(*T) *string, parse func(string) (V, error)) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return *at(t) },
		func(t *T, text string, _ units.System) (string, error) {
			if _, err := parse(text); err != nil {
				return "", err
			}
			*at(t) = strings.TrimSpace(text)
			return "", nil
		}}
}

func textField[T any](key, label string, at func(*T) *string, most int, required bool) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return *at(t) },
		func(t *T, text string, _ units.System) (string, error) {
			text = strings.TrimSpace(text)
			switch {
			case required && text == "":
				return "", fmt.Errorf("needs a name")
			case len([]rune(text)) > most:
				return "", fmt.Errorf("is longer than %d letters", most)
			}
			*at(t) = text
			return "", nil
		}}
}

func choiceField[T any, V ~string](key, label string, at func(*T) *V, choices ...V) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return string(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			for _, c := range choices {
				if string(c) == text {
					*at(t) = c
					return "", nil
				}
			}
			return "", fmt.Errorf("%q is not one of the choices", text)
		}}
}

func boolField[T any](key, label string, at func(*T) *bool) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string {
			if *at(t) {
				return "yes"
			}
			return "no"
		},
		func(t *T, text string, _ units.System) (string, error) {
			if text != "yes" && text != "no" {
				return "", fmt.Errorf("is yes or no")
			}
			*at(t) = text == "yes"
			return "", nil
		}}
}

func clockField[T any](key, label string, at func(*T) *string) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return *at(t) },
		func(t *T, text string, _ units.System) (string, error) {
			v, err := time.Parse("15:04", strings.TrimSpace(text))
			if err != nil {
				return "", fmt.Errorf("%q is not a time of day; write 08:30", text)
			}
			*at(t) = v.Format("15:04")
			return "", nil
		}}
}

const momentLayout = "2006-01-02T15:04"

func momentField[T any](key, label string, at func(*T) *time.Time) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return at(t).Local().Format(momentLayout) },
		func(t *T, text string, _ units.System) (string, error) {
			v, err := time.ParseInLocation(momentLayout, strings.TrimSpace(text), time.Local)
			if err != nil || v.Year() < 2000 || v.Year() > 2200 {
				return "", fmt.Errorf("%q is not a day and hour", text)
			}
			*at(t) = v
			return "", nil
		}}
}

// dayField is a day whose end counts; empty for none.
func dayField[T any](key, label string, at func(*T) *time.Time) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string {
			if at(t).IsZero() {
				return ""
			}
			return at(t).Local().Format(time.DateOnly)
		},
		func(t *T, text string, _ units.System) (string, error) {
			if strings.TrimSpace(text) == "" {
				*at(t) = time.Time{}
				return "", nil
			}
			v, err := time.ParseInLocation(time.DateOnly, strings.TrimSpace(text), time.Local)
			if err != nil || v.Year() < 2000 || v.Year() > 2200 {
				return "", fmt.Errorf("%q is not a day; write 2026-03-14", text)
			}
			y, m, d := v.Date()
			*at(t) = time.Date(y, m, d, 18, 0, 0, 0, time.Local)
			return "", nil
		}}
}

var swatchPattern = regexp.MustCompile(`^#[0-9a-f]{6}$`)

func swatchField[T any](key, label string, at func(*T) *string) Field[T] {
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return *at(t) },
		func(t *T, text string, _ units.System) (string, error) {
			text = strings.ToLower(strings.TrimSpace(text))
			if !swatchPattern.MatchString(text) {
				return "", fmt.Errorf("%q is not a colour; write it as #2a6f97", text)
			}
			*at(t) = text
			return "", nil
		}}
}

// keep stores a reading unless it was refused.
func keep[V ~float64](at *V, r units.Reading[V], err error) (string, error) {
	if err != nil {
		return "", err
	}
	*at = r.Value
	return r.Note, nil
}
