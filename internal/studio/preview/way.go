package preview

import (
	"maps"
	"slices"
	"strings"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
)

// A Way is how a coat is played.
type Way struct {
	Seed   uint64  // which of the possible draws
	Later  float64 // minutes by which everything is poured and done later
	Plain  bool    // without the technique's own moves
	Turned bool    // colours poured in the reverse order
	Bed    float64 `json:",omitempty"` // how much more is spread over the whole face; 0 for as planned
	Wide   float64 `json:",omitempty"` // how much wider ribbons are poured; 0 for as planned
	Fine   bool    `json:",omitempty"` // on twice as many cells a side, which takes its time
	White  int64   `json:",omitempty"` // the pigment that stands in for the white; 0 for as planned
	Order  string  `json:",omitempty"` // colours by id, with commas, as they are poured on the bed; "" for as planned
	Apart  bool    `json:",omitempty"` // two colours part as hard as they may: cells are as wide as they get
	Lean   int     `json:",omitempty"` // quarter turns by which the board is tipped otherwise than planned
}

// order are the colours of the order.
func (w Way) order() []string {
	if w.Order == "" {
		return nil
	}
	return strings.Split(w.Order, ",")
}

// check returns what is wrong with a way, at its field.
func (w Way) check() error {
	switch {
	case !(w.Later >= 0) || w.Later > 120:
		return form.Refusef("later", "a coat is poured at most two hours later")
	case w.Bed != 0 && !(w.Bed >= 0.25 && w.Bed <= 4):
		return form.Refusef("bed", "a bed is between a quarter and four times what is planned")
	case w.Lean < 0 || w.Lean > 3:
		return form.Refusef("lean", "a board is tipped otherwise by one to three quarter turns")
	case len(w.Order) > 400:
		return form.Refusef("order", "the order of cups is too long")
	case w.Wide != 0 && !(w.Wide >= 0.25 && w.Wide <= 8):
		return form.Refusef("wide", "a ribbon is between a quarter and eight times as wide as it falls")
	}
	return nil
}

// A Variant is another way to play a coat, to look at small and choose.
type Variant struct {
	Name msg.Text
	Way  Way
}

// Thicker and wider are by how much the variants change a bed and ribbons.
const (
	Thicker = 1.3
	wider   = 2.0
)

// Variants are the ways a painter would ask for next. What is already so is
// offered back.
func (v View) Variants(ribbons bool) []Variant {
	now := v.Tried.Way
	var out []Variant
	with := func(name msg.Text, change func(*Way)) {
		w := now
		change(&w)
		out = append(out, Variant{name, w})
	}
	pick := func(already bool, back, name msg.ID) msg.ID {
		if already {
			return back
		}
		return name
	}
	with(msg.ID("Ten minutes later"), func(w *Way) { w.Later += 10 })
	other := now.Turned || now.Order != ""
	with(pick(other, "Colours in their own order", "Colours in the reverse order"), func(w *Way) {
		w.Turned, w.Order = !other, ""
	})
	if now.Lean != 0 {
		with(msg.ID("Tipped as planned"), func(w *Way) { w.Lean = 0 })
	}
	with(pick(now.Bed > 1, "Bed as planned", "A third more bed"), func(w *Way) { w.Bed = toggled(w.Bed, Thicker) })
	if ribbons {
		with(
			pick(now.Wide > 1, "Ribbons as they fall", "Ribbons twice as wide"),
			func(w *Way) { w.Wide = toggled(w.Wide, wider) },
		)
	}
	if name, id := v.otherWhite(); id != 0 {
		with(msg.F("With %s", name), func(w *Way) { w.White = id })
	} else if now.White != 0 {
		with(msg.ID("With the white as planned"), func(w *Way) { w.White = 0 })
	}
	if low, high := v.Coat.Tensions(); low != high {
		with(pick(now.Apart, "Cells as close as they may be", "Cells as far apart as they may be"), func(w *Way) {
			w.Apart = !w.Apart
		})
	}
	with(pick(now.Plain, "With the technique’s moves", "Poured only"), func(w *Way) { w.Plain = !w.Plain })
	with(msg.ID("Another random result"), func(w *Way) { w.Seed++ })
	return out
}

func toggled(now, to float64) float64 {
	if now == to {
		return 0
	}
	return to
}

// white reports whether a pigment is one: opaque, and bright in all three primaries.
func white(p material.Pigment) bool {
	const bright = 0.65 // of the light, in each
	c, err := colour.ParseHex(p.Swatch)
	return err == nil && !p.Clear && min(c.R, c.G, c.B) >= bright
}

// otherWhite is the next white among the materials after the one in play; 0 when the coat
// has none, or there is no other.
func (v View) otherWhite() (string, int64) {
	pigments := v.Agenda.Book.Pigments
	var whites []material.Pigment
	for _, id := range slices.Sorted(maps.Keys(pigments)) {
		if p := pigments[id]; white(p) && !p.Retired {
			whites = append(whites, p)
		}
	}
	at := slices.IndexFunc(whites, func(p material.Pigment) bool { return v.uses(p.ID) })
	if at < 0 || at+1 >= len(whites) {
		return "", 0
	}
	return whites[at+1].Name, whites[at+1].ID
}

func (v View) uses(pigment int64) bool {
	return slices.ContainsFunc(v.Coat.Cups, func(c plan.Cup) bool { return c.Colour.Pigment == pigment })
}

// withWhite is the piece with another pigment wherever a white is the first of a
// cup.
func withWhite(spec plan.Spec, coat string, pigments map[int64]material.Pigment, id int64) plan.Spec {
	spec = spec.Clone()
	c := spec.Coat(coat)
	if c == nil {
		return spec
	}
	for k := range c.Colours {
		if p, ok := pigments[c.Colours[k].Pigment]; ok && white(p) {
			c.Colours[k].Pigment = id
		}
	}
	return spec
}
