package frame

import (
	"errors"
	"fmt"
	"html/template"
	"math"
	"reflect"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/words"
)

// funcs are the words templates may use.
func funcs(icons map[string]template.HTML) template.FuncMap {
	return template.FuncMap{
		"icon": func(name string) (template.HTML, error) {
			svg, ok := icons[name]
			if !ok {
				return "", fmt.Errorf("no icon %q is shipped", name)
			}
			return svg, nil
		},
		"dict":    dict,
		"list":    func(v ...any) []any { return v },
		"pct":     func(v float64) string { return units.Fixed(v*100, 2) + " %" },
		"pct0":    func(v float64) string { return units.Fixed(v*100, 0) + " %" },
		"long":    words.Long,
		"between": words.Between,
		"num":     decimals,
		"fixed":   units.Fixed,
		"spoken":  spoken,
		"said":    said,
		"own":     func(text string) words.Own { return words.Own(text) },
		"filled":  words.Filled,
		"figures": func(text string) words.Own { return words.Own(words.Figures(text)) },
		"format":  words.F,
		"date":    words.Date,
		"day":     func(t time.Time) string { return words.Date(t, "Mon 2 Jan") },
		"dated": func(date string) string {
			if t, err := time.Parse(time.DateOnly, date); err == nil {
				return words.Date(t, "Mon 2 Jan")
			}
			return date
		},
		"hour":    func(t time.Time) string { return words.Date(t, "15:04") },
		"stamp":   func(t time.Time) string { return words.Date(t, "Mon 2 Jan 15:04") },
		"iso":     func(t time.Time) string { return t.Format(time.RFC3339) },
		"finite":  func(v float64) bool { return !math.IsInf(v, 0) && !math.IsNaN(v) },
		"add":     func(a, b int) int { return a + b },
		"safety":  func(keys []string) []technique.Safety { return technique.SafetyNotes(keys...) },
		"lower":   words.Lower,
		"capital": words.Capital,
		"refused": func(err error) string { return words.Capital(words.Error(err)) },
		"join":    words.Join,
		"plural":  words.Plural,
		"coat":    words.Coat,
		"other":   func(q interface{ Text(units.System) string }, sys units.System) string { return q.Text(sys.Other()) },
		"say": func(p *plan.Plan, part plan.Part, coat string, sys units.System) []words.Sentence {
			return words.SayAll(p, part, coat, sys)
		},
		"verdict": words.Verdict,
		"follows": words.Follows,
		"tints": func(p *plan.Plan, c *plan.Coat, i int, sys units.System) []string {
			return words.Carried(p.Colours(c, i), sys)
		},
		"plain": words.Plain,
		"task":  words.Task,
		"cells": words.Cells,
		"drift": words.Drift,
	}
}

// said is a text of the program's in the studio's language, and a number as that writes it;
// anything else stays.
func said(v any) any {
	switch v := v.(type) {
	case nil, template.HTML, template.HTMLAttr, template.URL, template.CSS, template.JS, words.Own:
		return v
	case string:
		return words.Figures(words.T(v))
	case error:
		return words.Figures(words.Error(v))
	}
	switch r := reflect.ValueOf(v); r.Kind() {
	case reflect.String:
		return words.Figures(words.T(r.String()))
	case reflect.Float64:
		return words.Figures(fmt.Sprint(v))
	}
	return v
}

// spoken says a number of minutes or a duration.
func spoken(v any) string {
	if d, ok := v.(time.Duration); ok {
		return words.Spoken(d.Minutes())
	}
	return words.Spoken(reflect.ValueOf(v).Convert(reflect.TypeFor[float64]()).Float())
}

// decimals prints v with n decimals and never a negative zero.
func decimals(v any, n int) string {
	f := reflect.ValueOf(v).Convert(reflect.TypeFor[float64]()).Float()
	text := strconv.FormatFloat(f, 'f', n, 64)
	if strings.Trim(text, "-0.") == "" {
		return strings.TrimPrefix(text, "-")
	}
	return text
}

// dict makes a map for a template call: dict "key" value ….
func dict(pairs ...any) (map[string]any, error) {
	if len(pairs)%2 != 0 {
		return nil, errors.New("dict takes pairs")
	}
	m := make(map[string]any, len(pairs)/2)
	for i := 0; i < len(pairs); i += 2 {
		key, ok := pairs[i].(string)
		if !ok {
			return nil, errors.New("dict keys are strings")
		}
		m[key] = pairs[i+1]
	}
	return m, nil
}
