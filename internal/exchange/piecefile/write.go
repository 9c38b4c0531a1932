package piecefile

import (
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
)

var timeZero time.Time

// Names are the names of resins and pigments in a document, by id.
type Names struct {
	Resins, Pigments map[int64]string
}

// Of returns the document of a piece. Its composition, its days and what belongs
// to a studio alone are not in it.
func Of(s plan.Spec, names Names) Document {
	d := Document{
		Version:    Version,
		Name:       s.Name,
		Board:      boardOf(s.Board),
		Count:      max(1, s.Count),
		Edge:       Edge(s.Edge),
		EdgeHeight: float64(s.EdgeHeight),
		Sides:      string(s.Sides),
		Ground:     s.Ground,
	}
	for name, support := range supports {
		if support == s.Support && name != "other" {
			d.Support = name
		}
	}
	if s.Asked {
		d.Sealed = &s.Sealed
	}
	if s.Support.Rule().Cast {
		d.EdgeHeight = float64(s.MouldDepth)
	}
	for _, l := range s.Layers {
		switch {
		case l.Kind == plan.Resin && l.Coat != nil:
			d.Layers = append(d.Layers, coatOf(l, names))
		case l.Kind == plan.Between:
			what := l.What
			if l.Step != nil {
				what = "own"
			}
			d.Layers = append(d.Layers, Layer{ID: l.ID, Kind: "work", What: what})
		}
	}
	return d
}

func boardOf(b plan.Board) Board {
	w, h := float64(b.Width), float64(b.Height)
	out := Board{Shape: "rectangle", Width: &w, Height: &h, Side: float64(b.Depth)}
	switch b.Outline {
	case plan.Round:
		return Board{Shape: "circle", Diameter: &w, Side: out.Side}
	case plan.Oval:
		out.Shape = "ellipse"
	case plan.Polygon, plan.Regular:
		shape, err := b.Shape()
		out = Board{Shape: "polygon", Side: out.Side}
		if err != nil || len(shape.Loops()) == 0 {
			return out
		}
		for _, p := range shape.Loops()[0] {
			out.Points = append(out.Points, []float64{p.X, p.Y})
		}
	case plan.Drawn:
		out = Board{Shape: "outline", Path: &b.Path, Side: out.Side}
	}
	return out
}

func coatOf(l plan.Layer, names Names) Layer {
	c := l.Coat
	out := Layer{
		ID:        l.ID,
		Kind:      "coat",
		Technique: l.What,
		Resin:     names.Resins[c.Product],
		Mixing:    c.Mixing,
		Keeps:     l.Keeps,
		Reserve:   float64(c.Reserve),
		Options:   c.Options,
		Volume:    float64(c.Amount.Volume),
		Mass:      float64(c.Amount.Mass),
	}
	if out.Volume == 0 && out.Mass == 0 {
		out.Film = float64(c.Amount.Film)
	}
	if c.Warm > 0 {
		warm := float64(c.Warm)
		out.Warm = &warm
	}
	if c.Silicone {
		drops := max(1, c.Drops)
		out.Drops = &drops
	}
	for _, col := range c.Colours {
		out.Cups = append(out.Cups, cupOf(col, names))
	}
	for _, r := range c.Rounds {
		var round Round
		for _, m := range r.Moves {
			round.Moves = append(round.Moves, moveOf(m))
		}
		out.Rounds = append(out.Rounds, round)
	}
	return out
}

func cupOf(c plan.Colour, names Names) Cup {
	out := Cup{ID: c.ID, Name: c.Name, Role: string(c.Role), Swatch: c.Swatch}
	if c.Volume > 0 {
		v := float64(c.Volume)
		out.Volume = &v
	} else {
		out.Share = &c.Share
	}
	if name := names.Pigments[c.Pigment]; name != "" {
		out.Pigment = &name
	}
	if c.Load > 0 {
		out.Load = &c.Load
	}
	return out
}

func moveOf(m technique.Move) Move {
	out := Move{Move: string(m.Kind), Place: string(m.Place), Where: m.Where, Optional: m.Optional}
	if m.Technique != "" {
		out.Like = m.Technique + "/" + m.Step
	}
	set := func(to **float64, v float64) {
		if v > 0 {
			*to = &v
		}
	}
	if m.Cup != "" {
		out.Cup = &m.Cup
	}
	if m.Material != "" {
		out.Material = &m.Material
		set(&out.Grams, m.Amount)
	}
	set(&out.Part, m.Part)
	set(&out.Minutes, m.Minutes)
	set(&out.After, m.After)
	set(&out.Area, m.Area)
	return out
}
