package sums

import (
	"strconv"
	"strings"

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

// readKind reads a typed value into what the calculator takes.
func readKind(kind, text string, sys units.System) (v any, note msg.Text, err error) {
	bare := map[bool][3]string{false: {"cm", "ml", "C"}, true: {"in", "floz", "F"}}[sys == units.US]
	switch kind {
	case "length":
		r, err := units.ParseLength(text, bare[0])
		return float64(r.Value), r.Note, err
	case "film":
		r, err := units.ParseLength(text, "mm")
		return float64(r.Value), r.Note, err
	case "size":
		w, h, err := units.ParseSize(text, bare[0])
		return float64(w.Value.Times(h.Value)), w.Note, err
	case "volume":
		r, err := units.ParseVolume(text, bare[1])
		return float64(r.Value), r.Note, err
	case "mass":
		r, err := units.ParseMass(text, "g")
		return float64(r.Value), r.Note, err
	case "density":
		r, err := units.ParseDensity(text, "kg/m3")
		return float64(r.Value), r.Note, err
	case "viscosity":
		r, err := units.ParseViscosity(text, "mpas")
		return float64(r.Value), r.Note, err
	case "angle":
		r, err := units.ParseAngle(text, "deg")
		return float64(r.Value), r.Note, err
	case "temperature":
		r, err := units.ParseTemperature(text, bare[2])
		return float64(r.Value), r.Note, err
	case "room":
		r, err := units.ParseTemperature(text, bare[2])
		return []any{map[string]any{"at_min": 0, "temp_c": float64(r.Value)}}, r.Note, err
	case "share":
		v, err := units.ParseShare(text)
		return v, nil, err
	case "number":
		v, err := units.ParseNumber(text)
		return v, nil, err
	case "seconds":
		r, err := units.ParseMinutes(text, "s")
		return r.Value * 60, r.Note, err
	case "times":
		return readTimes(text)
	case "points":
		return readPoints(text)
	case "cups":
		return readCups(text)
	}
	return text, nil, nil
}

func readTimes(text string) (any, msg.Text, error) {
	var out []float64
	for part := range strings.SplitSeq(text, ",") {
		r, err := units.ParseMinutes(part, "s")
		if err != nil {
			return nil, nil, err
		}
		out = append(out, r.Value*60)
	}
	return out, nil, nil
}

func readPoints(text string) (any, msg.Text, error) {
	points, err := pieces.ParsePoints(text)
	if err != nil {
		return nil, nil, err
	}
	out := make([][2]float64, len(points))
	for i, p := range points {
		out[i] = [2]float64{p.X, p.Y}
	}
	return out, nil, nil
}

// readCups reads "base 50; sea 30; white 20".
func readCups(text string) (any, msg.Text, error) {
	var out []map[string]any
	for part := range strings.SplitSeq(text, ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		i := strings.LastIndexByte(part, ' ')
		share, err := units.ParseShare(part[i+1:])
		if i < 0 || err != nil {
			return nil, nil, refusal.New("%q is not a cup; write cups as base 50; sea 30; white 20", part)
		}
		out = append(out, map[string]any{"name": strings.TrimSpace(part[:i]), "share": share})
	}
	return out, nil, nil
}

// showKind prints values of the answer in both systems.
func showKind(kind string, values []any, sys units.System) []value {
	out := make([]value, len(values))
	for i, v := range values {
		out[i] = showOne(kind, v, sys)
	}
	return out
}

func showOne(kind string, v any, sys units.System) value {
	f, isNumber := v.(float64)
	if !isNumber {
		switch x := v.(type) {
		case bool:
			return value{Text: map[bool]msg.ID{true: "yes", false: "no"}[x]}
		case string:
			return value{Text: msg.Own(x)}
		}
		return value{Text: msg.ID("–")}
	}
	both := func(text func(units.System) msg.Figure) value { return value{text(sys), text(sys.Other())} }
	switch kind {
	case "length":
		return both(units.Length(f).Text)
	case "film":
		return both(units.Length(f).Film)
	case "micron":
		return both((units.Length(f) * units.Micrometre).Film)
	case "area":
		return both(units.Area(f).Text)
	case "volume":
		return both(units.Volume(f).Text)
	case "mass":
		return value{msg.F("%.2f g", f), msg.Figure(units.Mass(f).Ounces())}
	case "temperature":
		return both(units.Temperature(f).Text)
	case "density":
		return value{Text: msg.Figure(units.Fixed(f, 1) + " kg/m³")}
	case "minutes":
		return value{Text: words.Spoken(f)}
	case "seconds":
		return value{Text: words.Spoken(f / 60)}
	case "signed":
		return value{Text: msg.F("%+.1f %%", f*100)}
	}
	return value{Text: msg.Own(strconv.FormatFloat(f, 'g', 4, 64))}
}
