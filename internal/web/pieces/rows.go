package pieces

import (
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/words"
)

// A layerRow is a layer of the coat plan with what can be typed for it.
type layerRow struct {
	plan.Layer
	Name   msg.Text
	Coat   *plan.Coat
	Shown  bool
	Fields []form.View
	Uses   []msg.Text // materials as they are meant
}

// cupFields are the fields of one cup.
type cupFields struct {
	ID                                        string
	Name                                      msg.Text
	Label, Role, Share, Load, Swatch, Pigment form.View
	Doses                                     int
	Fill                                      string // as its film will look
}

// Made says what colours the cup, nil for none.
func (c cupFields) Made() msg.Text {
	switch {
	case c.Doses > 1:
		return msg.F("mixed of %s", msg.N(c.Doses, "pigment", "pigments"))
	case c.Doses == 1 && c.Pigment.Value != "":
		return msg.F("%s %s", c.Load.Value, c.Pigment.Shown())
	}
	return nil
}

func (p *piecePage) row(l plan.Layer, book *materials.Book) layerRow {
	row := layerRow{Layer: l, Shown: l.ID == p.CoatID, Name: msg.Own(l.What)}
	if t, ok := book.Techniques().Find(l.What); ok {
		row.Name = t.Name
		for _, n := range t.Needs {
			row.add(p.Fields[pieces.UseKey(l.ID, n.Material)])
		}
		if p.Plan != nil {
			for _, m := range p.Plan.Materials(l, t) {
				if m.Amount > 0 {
					row.Uses = append(row.Uses, msg.F("%s %s", msg.Lower(m.Title()), words.Material(m)))
				}
			}
		}
	} else if p.Plan != nil {
		row.Name = p.Plan.NameOf(l)
	}
	if l.Step != nil {
		row.Name = msg.Own(l.Step.Name)
		for _, name := range []string{"name", "note", "minutes", "dry", "swatch", "caution"} {
			row.add(p.Fields[pieces.OwnStepKey(l.ID, name)])
		}
	}
	row.add(p.Fields["layer."+l.ID+".times"])
	row.add(p.Fields["layer."+l.ID+".keeps"])
	if p.Plan != nil && p.Broken == nil {
		row.Coat = p.Plan.Coat(l.ID)
	}
	return row
}

func (r *layerRow) add(f form.View) {
	if f.Key != "" {
		r.Fields = append(r.Fields, f)
	}
}

// cupsOf gathers the fields of a coat's cups; the coat is nil of a broken plan.
func cupsOf(fields map[string]form.View, l plan.Layer, coat *plan.Coat) []cupFields {
	var out []cupFields
	for _, c := range l.Coat.Colours {
		fill := c.Swatch
		if coat != nil && coat.Cup(c.ID) != nil {
			fill = coat.Cup(c.ID).Swatch()
		}
		at := func(name string, label msg.ID) form.View {
			v := fields[pieces.CupKey(l.ID, c.ID, name)]
			v.Label = msg.F(label, words.Filled(c.Name)) // which cup, for those who do not see the row
			return v
		}
		out = append(out, cupFields{ID: c.ID, Name: words.Filled(c.Name), Doses: len(c.Doses()), Fill: fill,
			Label: at("name", "Name of %s"),
			Role:  at("role", "Role of %s"),
			Share: at("share", "Share of %s"), Load: at("load", "Pigment in %s"), Swatch: at("swatch", "Swatch of %s"),
			Pigment: at("pigment", "Pigment of %s")})
	}
	return out
}
