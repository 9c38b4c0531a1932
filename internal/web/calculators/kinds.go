package calculators

import (
	"strconv"
	"strings"

	"jevvo/internal/calc"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/words"
)

// put sets a value under a dotted key.
func put(m map[string]any, key string, v any) {
	head, rest, nested := strings.Cut(key, ".")
	if !nested {
		m[key] = v
		return
	}
	inner, ok := m[head].(map[string]any)
	if !ok {
		inner = map[string]any{}
		m[head] = inner
	}
	put(inner, rest, v)
}

// dig follows a dotted path; through a list it collects from every entry.
func dig(v any, path string) []any {
	if path == "" {
		if list, ok := v.([]any); ok {
			return list
		}
		return []any{v}
	}
	head, rest, _ := strings.Cut(path, ".")
	switch x := v.(type) {
	case map[string]any:
		return dig(x[head], rest)
	case []any:
		var out []any
		for _, e := range x {
			out = append(out, dig(e, path)...)
		}
		return out
	}
	return nil
}

// inList reports whether a path leads through a list of the answer.
func inList(v any, path string) bool {
	head, rest, nested := strings.Cut(path, ".")
	m, ok := v.(map[string]any)
	if !nested || !ok {
		return false
	}
	_, list := m[head].([]any)
	return list || inList(m[head], rest)
}

// A quantity is a kind of value: how it is read, and what it is printed in.
type quantity struct {
	read func(text string, sys units.System) (any, msg.Text, error)
	unit string // a default is in it
	show func(v float64, sys units.System) value
}

// in is the unit of a bare number, by the studio's units.
func in(sys units.System, metric, us string) string {
	if sys == units.US {
		return us
	}
	return metric
}

// measured reads a quantity that a parser of the core knows.
func measured[T ~float64](parse func(text, unit string) (units.Reading[T], error), metric, us string) func(string,
	units.System) (any, msg.Text, error) {
	return func(text string, sys units.System) (any, msg.Text, error) {
		r, err := parse(text, in(sys, metric, us))
		return float64(r.Value), r.Note, err
	}
}

// both prints a value in the studio's units, and in the others beside it.
func both[T ~float64](text func(T, units.System) msg.Figure) func(float64, units.System) value {
	return func(v float64, sys units.System) value { return value{text(T(v), sys), text(T(v), sys.Other())} }
}

// plain reads a bare number.
func plain(parse func(string) (float64, error)) func(string, units.System) (any, msg.Text, error) {
	return func(text string, _ units.System) (any, msg.Text, error) {
		v, err := parse(text)
		return v, nil, err
	}
}

// listed reads a list.
func listed(parse func(string) (any, error)) func(string, units.System) (any, msg.Text, error) {
	return func(text string, _ units.System) (any, msg.Text, error) {
		v, err := parse(text)
		return v, nil, err
	}
}

// spoken prints a duration of so many units to a minute.
func spoken(each float64) func(float64, units.System) value {
	return func(v float64, _ units.System) value { return value{Text: words.Spoken(v / each)} }
}

var quantities = map[calc.Kind]quantity{
	"length":      {measured(units.ParseLength, "cm", "in"), "mm", both(units.Length.Text)},
	"film":        {measured(units.ParseLength, "mm", "mm"), "mm", both(units.Length.Film)},
	"volume":      {measured(units.ParseVolume, "ml", "floz"), "mL", both(units.Volume.Text)},
	"mass":        {measured(units.ParseMass, "g", "g"), "g", showMass},
	"density":     {measured(units.ParseDensity, "kg/m3", "kg/m3"), "kg/m³", showDensity},
	"viscosity":   {read: measured(units.ParseViscosity, "mpas", "mpas"), unit: "mPa·s"},
	"angle":       {read: measured(units.ParseAngle, "deg", "deg"), unit: "°"},
	"temperature": {measured(units.ParseTemperature, "C", "F"), "°C", both(units.Temperature.Text)},
	"share":       {read: plain(units.ParseShare)},
	calc.Number:   {read: plain(units.ParseNumber)},
	"seconds":     {readSeconds, "s", spoken(60)},
	"minutes":     {show: spoken(1)},
	"area":        {show: both(units.Area.Text)},
	"micron":      {show: both(func(v micrometres, sys units.System) msg.Figure { return v.length().Film(sys) })},
	"signed": {show: func(v float64, _ units.System) value {
		return value{Text: msg.F("%+.1f %%", v*100)}
	}},
	"size":   {read: readSize},
	"room":   {read: readRoom},
	"times":  {read: listed(readTimes)},
	"points": {read: listed(readPoints)},
	"cups":   {read: listed(readCups)},
}

type micrometres float64

func (v micrometres) length() units.Length { return units.Length(v) * units.Micrometre }

// readKind reads a typed value into what the calculator takes.
func readKind(kind calc.Kind, text string, sys units.System) (v any, note msg.Text, err error) {
	if q := quantities[kind]; q.read != nil {
		return q.read(text, sys)
	}
	return text, nil, nil
}

// start is a field's first value in a studio's units: its own example, or the default.
func start(f calc.Field, sys units.System) string {
	text := f.Start
	if unit := quantities[f.Kind].unit; text == "" && f.Default != "" {
		text = strings.TrimSuffix(f.Default+" "+unit, " ")
		if unit == "°" {
			text = f.Default + unit
		}
	}
	kind := f.Kind
	if kind == "room" {
		kind = "temperature"
	}
	q := quantities[kind]
	if sys != units.US || q.read == nil || q.show == nil || text == "" {
		return text
	}
	if v, _, err := q.read(text, sys); err == nil {
		if n, ok := v.(float64); ok {
			return msg.Say(q.show(n, sys).Text, msg.English)
		}
	}
	return text
}

// readSize reads a board's two sides into its face.
func readSize(text string, sys units.System) (any, msg.Text, error) {
	w, h, err := units.ParseSize(text, in(sys, "cm", "in"))
	return float64(w.Value.Times(h.Value)), w.Note, err
}

// readRoom reads one temperature that stays.
func readRoom(text string, sys units.System) (any, msg.Text, error) {
	r, err := units.ParseTemperature(text, in(sys, "C", "F"))
	return []any{map[string]any{"at_min": 0, "temp_c": float64(r.Value)}}, r.Note, err
}

func readSeconds(text string, _ units.System) (any, msg.Text, error) {
	r, err := units.ParseMinutes(text, "s")
	return r.Value * 60, r.Note, err
}

func showMass(v float64, _ units.System) value {
	return value{msg.F("%.2f g", v), msg.Figure(units.Mass(v).Ounces())}
}

func showDensity(v float64, _ units.System) value {
	return value{Text: msg.Figure(units.Fixed(v, 1) + " kg/m³")}
}

func readTimes(text string) (any, error) {
	var out []float64
	for part := range strings.SplitSeq(text, ",") {
		r, err := units.ParseMinutes(part, "s")
		if err != nil {
			return nil, err
		}
		out = append(out, r.Value*60)
	}
	return out, nil
}

func readPoints(text string) (any, error) {
	points, err := pieces.ParsePoints(text)
	if err != nil {
		return nil, err
	}
	out := make([][2]float64, len(points))
	for i, p := range points {
		out[i] = [2]float64{p.X, p.Y}
	}
	return out, nil
}

// readCups reads "base 50; sea 30; white 20".
func readCups(text string) (any, error) {
	var out []map[string]any
	for part := range strings.SplitSeq(text, ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		i := strings.LastIndexByte(part, ' ')
		share, err := units.ParseShare(part[i+1:])
		if i < 0 || err != nil {
			return nil, refusal.New("%q is not a cup; write cups as base 50; sea 30; white 20", part)
		}
		out = append(out, map[string]any{"name": strings.TrimSpace(part[:i]), "share": share})
	}
	return out, nil
}

// showKind prints values of the answer in both systems.
func showKind(kind calc.Kind, values []any, sys units.System) []value {
	out := make([]value, len(values))
	for i, v := range values {
		out[i] = showOne(kind, v, sys)
	}
	return out
}

func showOne(kind calc.Kind, v any, sys units.System) value {
	f, isNumber := v.(float64)
	if !isNumber {
		switch x := v.(type) {
		case bool:
			return value{Text: map[bool]msg.ID{true: "yes", false: "no"}[x]}
		case string:
			if kind == "phase" {
				return value{Text: msg.ID(x)}
			}
			return value{Text: msg.Own(x)}
		}
		return value{Text: msg.ID("–")}
	}
	if show := quantities[kind].show; show != nil {
		return show(f, sys)
	}
	return value{Text: msg.Own(strconv.FormatFloat(f, 'g', 4, 64))}
}
