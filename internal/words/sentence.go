package words

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
)

// A Sentence is the verdict, with the number, and then what to do.
type Sentence struct {
	Weight plan.Weight
	Text   string
	Advice string
}

// An entry of a catalogue: text and advice with {name} or {name|how} for the
// arguments of the code.
type entry struct{ text, advice string }

// Say puts a diagnostic of a plan into words.
func Say(d plan.Diagnostic, p *plan.Plan, sys units.System) Sentence {
	e, ok := english[d.Code]
	if !ok {
		return Sentence{Weight: d.Weight, Text: string(d.Code)}
	}
	text := fill(T(e.text), d.Args, sys)
	if d.Coat != "" && p != nil && len(p.Coats) > 1 {
		if c := p.Coat(d.Coat); c != nil {
			text = Coat(c) + ": " + Lower(text)
		}
	}
	return Sentence{Weight: d.Weight, Text: text, Advice: fill(T(e.advice), d.Args, sys)}
}

// SayAll puts the diagnostics of a part of a plan into words.
func SayAll(p *plan.Plan, part plan.Part, coat string, sys units.System) []Sentence {
	var out []Sentence
	for _, d := range p.Of(part, coat) {
		out = append(out, Say(d, p, sys))
	}
	return out
}

// Verdict returns the one sentence to say of the whole plan.
func Verdict(p *plan.Plan, sys units.System) Sentence {
	if d, ok := p.Verdict(); ok {
		return Say(d, p, sys)
	}
	if p.Spec.State == plan.Done && slices.ContainsFunc(p.Coats, func(c plan.Coat) bool { return !c.Made }) {
		return Sentence{Weight: plan.Mind, Text: T("Marked done, with coats that were never poured.")}
	}
	return Sentence{Weight: plan.Settled, Text: T("The plan holds.")}
}

// Plain returns a sentence about a pair or a thing, without naming the coat.
func Plain(d plan.Diagnostic, sys units.System) string {
	return fill(T(english[d.Code].text), d.Args, sys)
}

// fill puts arguments into a text.
func fill(text string, args plan.Args, sys units.System) string {
	var b strings.Builder
	for {
		before, rest, found := strings.Cut(text, "{")
		b.WriteString(before)
		if !found {
			return b.String()
		}
		name, after, closed := strings.Cut(rest, "}")
		if !closed {
			b.WriteString(rest)
			return b.String()
		}
		name, how, _ := strings.Cut(name, "|")
		if v, ok := args[name].(string); ok && how == "" && painters[name] {
			b.WriteString(string(Filled(v)))
		} else {
			b.WriteString(argument(args[name], how, sys))
		}
		text = after
	}
}

// painters are the arguments a painter names: cups, pigments, resins, makers.
var painters = map[string]bool{
	"cup": true, "a": true, "b": true, "heavy": true, "light": true, "pigment": true, "resin": true, "makers": true,
}

// argument prints one argument the way a text asks for it.
func argument(v any, how string, sys units.System) string {
	switch how {
	case "film":
		if l, ok := v.(units.Length); ok {
			return l.Film(sys)
		}
	case "spoken":
		if m, ok := v.(float64); ok {
			return Spoken(m)
		}
	case "pct":
		if f, ok := v.(float64); ok {
			return units.Fixed(f*100, 0) + " %"
		}
	case "pct1":
		if f, ok := v.(float64); ok {
			return units.Fixed(f*100, 1) + " %"
		}
	case "hours":
		if h, ok := v.(float64); ok {
			return Long(h)
		}
	case "lower":
		return Lower(fmt.Sprint(v))
	case "number":
		return fmt.Sprint(v)
	case "suits":
		if name, ok := v.(string); ok && name != "" {
			return " " + F("%s would suit.", name)
		}
		return ""
	case "drops":
		if n, ok := v.(int); ok {
			return Plural(n, "drop", "drops")
		}
	case "shuts":
		if t, ok := v.(time.Time); ok && !t.IsZero() {
			return F(", and the studio shuts at %s", Date(t.Local(), "15:04"))
		}
		return T("; the studio is shut")
	case "coats":
		if n, ok := v.(int); ok {
			return Plural(n, "coat was never made", "coats were never made")
		}
	case "day":
		if t, ok := v.(time.Time); ok {
			return Date(t.Local(), "Mon 2 Jan")
		}
	}
	switch v := v.(type) {
	case interface{ Text(units.System) string }:
		return v.Text(sys)
	case time.Time:
		return Date(v.Local(), "15:04")
	case float64:
		return units.Fixed(math.Round(v), 0)
	case nil:
		return "–"
	}
	if s, ok := v.(string); ok {
		return T(s)
	}
	return fmt.Sprint(v)
}
