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
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// funcs are the words templates in a language may use.
func funcs(l *words.Catalogue) template.FuncMap {
	at := func(layout string) func(time.Time) string {
		return func(t time.Time) string { return l.Date(t, layout) }
	}
	return template.FuncMap{
		"icon":        icon,
		"dict":        dict,
		"list":        func(v ...any) []any { return v },
		"pct":         func(v float64) msg.Figure { return msg.Figure(units.Fixed(v*100, 2) + " %") },
		"pct0":        func(v float64) msg.Figure { return msg.Figure(units.Fixed(v*100, 0) + " %") },
		"long":        words.Long,
		"between":     words.Between,
		"num":         decimals,
		"fixed":       func(v float64, n int) msg.Figure { return msg.Figure(units.Fixed(v, n)) },
		"spoken":      minutes,
		"t":           func(id string) msg.ID { return msg.ID(id) },
		"said":        func(v any) any { return said(v, l) },
		"told":        func(v any) any { return told(v, l) },
		"filled":      words.Filled,
		"figure":      func(text string) msg.Figure { return msg.Figure(text) },
		"format":      func(id string, values ...any) string { return msg.F(msg.ID(id), values...).In(l) },
		"date":        l.Date,
		"decimalmark": func() msg.Figure { return msg.Figure(l.DecimalMark()) },
		"day":         at("Mon 2 Jan"),
		"dated": func(date string) string {
			if t, err := time.Parse(time.DateOnly, date); err == nil {
				return l.Date(t, "Mon 2 Jan")
			}
			return date
		},
		"hour":    at("15:04"),
		"stamp":   at("Mon 2 Jan 15:04"),
		"iso":     func(t time.Time) string { return t.Format(time.RFC3339) },
		"finite":  func(v float64) bool { return !math.IsInf(v, 0) && !math.IsNaN(v) },
		"add":     func(a, b int) int { return a + b },
		"sum":     func(a, b float64) float64 { return a + b },
		"safety":  func(keys []string) []technique.Safety { return technique.SafetyNotes(keys...) },
		"lower":   func(v any) string { return msg.Lower(text(v)).In(l) },
		"capital": func(v any) string { return msg.Capital(text(v)).In(l) },
		"refused": func(err error) string { return msg.Capital(msg.Of(err)).In(l) },
		"join":    func(list any, sep string) string { return msg.Say(msg.Join(sep, texts(list)...), l) },
		"plural":  func(n int, one, many string) string { return msg.N(n, msg.ID(one), msg.ID(many)).In(l) },
		"coat":    words.Coat,
		"other": func(q interface {
			Text(units.System) msg.Figure
		}, sys units.System) msg.Figure {
			return q.Text(sys.Other())
		},
		"say": func(p *plan.Plan, part verdict.Part, coat string, sys units.System) []words.Sentence {
			return words.SayAll(p, part, coat, sys)
		},
		"verdict": words.Verdict,
		"follows": words.Follows,
		"tints": func(p *plan.Plan, c *plan.Coat, i int, sys units.System) []msg.Text {
			return words.Carried(p.Colours(c, i), sys)
		},
		"plain": words.Plain,
		"task":  words.Task,
		"cells": words.Cells,
		"drift": words.Drift,
	}
}

// said is a value's text in a language: a text, a number, a word of one of the program's
// own kinds. A string is a painter's and stays, as does anything else.
func said(v any, l msg.Lang) any {
	switch v := v.(type) {
	case nil, string, template.HTML, template.HTMLAttr, template.URL, template.CSS, template.JS:
		return v
	case msg.Text:
		return v.In(l)
	case error:
		return msg.Error(v, l)
	case float64:
		return l.Figures(fmt.Sprint(v))
	}
	if r := reflect.ValueOf(v); r.Kind() == reflect.String {
		return l.Text(r.String())
	}
	return v
}

// told is a text in a language; figures keep their point for the program that reads
// them, anything else stays.
func told(v any, l msg.Lang) any {
	if _, figure := v.(msg.Figure); figure {
		return v
	}
	if t, ok := v.(msg.Text); ok {
		return t.In(l)
	}
	return v
}

// text is a value of a template as a text.
func text(v any) msg.Text {
	switch v := v.(type) {
	case nil:
		return nil
	case msg.Text:
		return v
	case string:
		return msg.Own(v)
	case error:
		return msg.Of(v)
	}
	if r := reflect.ValueOf(v); r.Kind() == reflect.String {
		return msg.ID(r.String())
	}
	return msg.Own(fmt.Sprint(v))
}

// texts are the values of a list.
func texts(list any) []msg.Text {
	r := reflect.ValueOf(list)
	out := make([]msg.Text, r.Len())
	for i := range out {
		out[i] = text(r.Index(i).Interface())
	}
	return out
}

// minutes says a number of minutes or a duration.
func minutes(v any) msg.Text {
	if d, ok := v.(time.Duration); ok {
		return words.Spoken(d.Minutes())
	}
	return words.Spoken(reflect.ValueOf(v).Convert(reflect.TypeFor[float64]()).Float())
}

// decimals prints v with n decimals and never a negative zero.
func decimals(v any, n int) msg.Figure {
	f := reflect.ValueOf(v).Convert(reflect.TypeFor[float64]()).Float()
	text := strconv.FormatFloat(f, 'f', n, 64)
	if strings.Trim(text, "-0.") == "" {
		return msg.Figure(strings.TrimPrefix(text, "-"))
	}
	return msg.Figure(text)
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
