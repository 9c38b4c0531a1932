package words

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
)

// A Sentence is the verdict, with the number, and then what to do.
type Sentence struct {
	Weight verdict.Weight
	Text   msg.Text
	Advice msg.Text
}

// An entry of a catalogue: text and advice with {name} or {name|how} for the
// arguments of the code.
type entry struct{ text, advice msg.ID }

// Say puts a diagnostic of a plan into words.
func Say(d verdict.Diagnostic, p *plan.Plan, sys units.System) Sentence {
	e, ok := english[d.Code]
	if !ok {
		return Sentence{Weight: d.Weight, Text: msg.Own(d.Code)}
	}
	text := entryText(e.text, d.Args, sys)
	if d.Coat != "" && p != nil && len(p.Coats) > 1 {
		if c := p.Coat(d.Coat); c != nil {
			text = msg.F("%s: %s", Coat(c), msg.Lower(text))
		}
	}
	return Sentence{Weight: d.Weight, Text: text, Advice: entryText(e.advice, d.Args, sys)}
}

// SayAll puts the diagnostics of a part of a plan into words.
func SayAll(p *plan.Plan, part verdict.Part, coat string, sys units.System) []Sentence {
	var out []Sentence
	for _, d := range p.Diagnostics().Of(part, coat) {
		out = append(out, Say(d, p, sys))
	}
	return out
}

// Verdict returns the one sentence to say of the whole plan.
func Verdict(p *plan.Plan, sys units.System) Sentence {
	if d, ok := p.Diagnostics().Gravest(); ok {
		return Say(d, p, sys)
	}
	if p.Spec.State == plan.Done && slices.ContainsFunc(p.Coats, func(c plan.Coat) bool { return !c.Made }) {
		return Sentence{Weight: verdict.Mind, Text: msg.ID("Marked done, with coats that were never poured.")}
	}
	return Sentence{Weight: verdict.Settled, Text: msg.ID("The plan works.")}
}

// Plain returns a sentence about a pair or a thing, without naming the coat.
func Plain(d verdict.Diagnostic, sys units.System) msg.Text {
	return entryText(english[d.Code].text, d.Args, sys)
}

// said is a text of an entry with its arguments.
type said struct {
	id   msg.ID
	args verdict.Args
	sys  units.System
}

func entryText(id msg.ID, args verdict.Args, sys units.System) msg.Text {
	if id == "" {
		return nil
	}
	return said{id, args, sys}
}

// String is the text in English.
func (s said) String() string { return s.In(msg.English) }

// In implements msg.Text.
func (s said) In(l msg.Lang) string {
	text := l.Text(string(s.id))
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
		b.WriteString(msg.Say(argument(s.args[name], how, s.sys), l))
		text = after
	}
}

// argument is one argument the way a text asks for it.
func argument(v any, how string, sys units.System) msg.Text {
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
			return msg.Figure(units.Fixed(f*100, 0) + " %")
		}
	case "pct1":
		if f, ok := v.(float64); ok {
			return msg.Figure(units.Fixed(f*100, 1) + " %")
		}
	case "hours":
		if h, ok := v.(float64); ok {
			return Long(h)
		}
	case "lower":
		if t, ok := v.(msg.Text); ok {
			return msg.Lower(t)
		}
	case "number":
		return msg.Own(fmt.Sprint(v))
	case "suits":
		if name, ok := v.(string); ok && name != "" {
			return msg.F(" %s would suit.", name)
		}
		return nil
	case "drops":
		if n, ok := v.(int); ok {
			return msg.N(n, "drop", "drops")
		}
	case "shuts":
		if t, ok := v.(time.Time); ok && !t.IsZero() {
			return msg.F(", and the studio closes at %s", msg.Date(t.Local(), "15:04"))
		}
		return msg.ID("; the studio is closed by then")
	case "coats":
		if n, ok := v.(int); ok {
			return msg.N(n, "coat was never made", "coats were never made")
		}
	case "day":
		if t, ok := v.(time.Time); ok {
			return msg.Date(t.Local(), "Mon 2 Jan")
		}
	}
	switch v := v.(type) {
	case msg.Text:
		return v
	case interface {
		Text(units.System) msg.Figure
	}:
		return v.Text(sys)
	case time.Time:
		return msg.Date(v.Local(), "15:04")
	case float64:
		return msg.Figure(units.Fixed(math.Round(v), 0))
	case string: // a cup, a pigment, a resin: a name somebody gave, or the one it came with
		return Filled(v)
	case nil:
		return msg.Own("–")
	}
	return msg.Own(fmt.Sprint(v))
}
