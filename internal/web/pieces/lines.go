package pieces

import (
	"strings"

	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// A partLine is the summary of a part of the page while it is closed.
type partLine struct {
	ID     string
	Text   msg.Text
	Weight verdict.Weight // "" where nothing judges it
	Live   bool
}

// RecordLine is the recorded use of the coat shown.
func (p piecePage) RecordLine() msg.Text {
	switch use := p.Uses[p.CoatID]; {
	case p.Coat == nil || !p.Coat.Made:
		return nil
	case use.Used > 0:
		return msg.F("%s poured for %s planned", use.Used.Text(p.Sys), use.Planned.Text(p.Sys))
	}
	return msg.ID("what it took is not recorded")
}

// First is the part that is open at first: of a piece that is poured the record, else the
// first that is in trouble or to look at.
func (p piecePage) First() string {
	if p.Poured() {
		return "record"
	}
	for _, w := range []verdict.Weight{verdict.Trouble, verdict.Mind} {
		for _, l := range p.Order {
			if l.Weight == w {
				return string(l.Part)
			}
		}
	}
	return string(verdict.PartSurface)
}

// Line is the summary of a part.
func (p piecePage) Line(id string) partLine {
	l := partLine{ID: id, Live: p.Live}
	if p.Coat == nil {
		return l
	}
	l.Text = p.fact(id)
	for _, o := range p.Order {
		if string(o.Part) != id {
			continue
		}
		l.Weight = o.Weight
		for _, d := range p.Plan.Diagnostics().Of(o.Part, p.partCoat(o.Part)) {
			if o.Weight != verdict.Settled && d.Weight == o.Weight {
				l.Text = words.Say(d, p.Plan, p.Sys).Text
				break
			}
		}
	}
	return l
}

// partCoat is the coat a part is judged for; days are those of the whole piece.
func (p piecePage) partCoat(part verdict.Part) string {
	if part == verdict.PartDays {
		return ""
	}
	return p.CoatID
}

// Lines are those of all parts that have one.
func (p piecePage) Lines() []partLine {
	var out []partLine
	for _, id := range []string{"brief", "surface", "layers", "composition", "moves", "cups", "clock", "days"} {
		out = append(out, p.Line(id))
	}
	return out
}

// fact is what a part comes to where nothing is amiss.
func (p piecePage) fact(id string) msg.Text {
	c, spec := p.Coat, p.Piece.Spec
	switch id {
	case "brief":
		brief, _, _ := strings.Cut(strings.TrimSpace(spec.Brief), "\n") // the page cuts what is too long
		return msg.Own(brief)
	case "surface":
		return msg.F("%s, %s × %s", spec.Support.Rule().Words, spec.Width.Text(p.Sys), spec.Height.Text(p.Sys))
	case "layers":
		return msg.Join(", ", msg.N(len(p.Plan.Coats), "coat", "coats"), msg.N(len(p.Layers), "layer", "layers"))
	case "composition":
		names := make([]msg.Text, len(c.Colours))
		for i, col := range c.Colours {
			names[i] = words.Filled(col.Name)
		}
		return msg.Join(", ", names...)
	case "moves":
		return p.movesFact()
	case "cups":
		return msg.F("%s in %s", c.Total.Text(p.Sys), msg.N(len(c.Cups), "cup", "cups"))
	case "clock":
		return msg.F("%s from mixing to the last step", words.Spoken(c.Fit.Ends))
	}
	return msg.F("ready %s", msg.Date(p.Plan.Deliver, "Mon 2 Jan"))
}
