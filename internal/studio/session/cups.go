package session

import (
	"slices"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
)

// A Cup is a cup at the bench.
type Cup struct {
	ID     string
	Name   string
	Swatch string
	Doses  []Dose `json:",omitempty"` // its pigments
}

// A Dose is one pigment of a cup.
type Dose struct {
	Pigment int64 `json:",omitempty"` // among the materials; 0 for none
	Name    string
	Load    float64 // by mass of mixed resin
}

// Cups are the cups of a coat.
func Cups(p *plan.Plan, c *plan.Coat) []Cup {
	out := make([]Cup, 0, len(c.Cups))
	for _, cup := range c.Cups {
		one := Cup{ID: cup.Colour.ID, Name: cup.Colour.Name, Swatch: cup.Swatch()}
		for _, d := range cup.Colour.Doses() {
			one.Doses = append(one.Doses, Dose{d.Pigment, p.Context.Pigments[d.Pigment].Name, d.Load})
		}
		out = append(out, one)
	}
	return out
}

// Cup returns the cup with the id.
func (b Bench) Cup(id string) (Cup, bool) {
	if i := slices.IndexFunc(b.Cups, func(c Cup) bool { return c.ID == id }); i >= 0 {
		return b.Cups[i], true
	}
	return Cup{}, false
}

// A CupLeft is the current content of a cup.
type CupLeft struct {
	Cup
	Left    units.Volume
	BatchNo int       // from 1, the newest that fed it; 0 while none is mixed
	Met     time.Time // its parts
}

// leastLeft is the volume below which a cup is empty: it stays on its wall.
const leastLeft units.Volume = 1

// Left returns what is in each cup: what was mixed for it, without what was poured.
func (b Bench) Left() []CupLeft {
	met := b.BatchesMixed()
	out := make([]CupLeft, len(b.Cups))
	for i, c := range b.Cups {
		l := CupLeft{Cup: c}
		for k := range b.Batches {
			if v := b.Batches[k].Feeds[c.ID]; b.hasMet(k+1) && v > 0 {
				l.Left, l.BatchNo, l.Met = l.Left+v, k+1, met[k]
			}
		}
		for k, s := range b.Steps {
			if v := s.Pourings[c.ID]; v > 0 && b.did(k) {
				l.Left -= v
			}
		}
		if b.fell(c.ID) {
			l.Left = 0
		}
		if l.Left < leastLeft {
			l.Left = 0
		}
		out[i] = l
	}
	return out
}

// LeftOf is the content of one cup.
func (b Bench) LeftOf(cup string) CupLeft {
	for _, l := range b.Left() {
		if l.ID == cup {
			return l
		}
	}
	return CupLeft{}
}

// did reports whether a step was done.
func (b Bench) did(step int) bool {
	return slices.ContainsFunc(b.Events, func(e Event) bool { return !e.Undone && e.Step == step && e.What == Did })
}

// fell reports whether a cup fell over after it was last filled.
func (b Bench) fell(cup string) bool {
	gone := false
	for _, e := range b.Events {
		switch {
		case e.Undone:
		case e.What == Happening && e.Text == wet.FellOver && e.Work == cup:
			gone = true
		case e.What == Met && e.BatchNo >= 1 && e.BatchNo <= len(b.Batches) && b.Batches[e.BatchNo-1].Feeds[cup] > 0:
			gone = false
		}
	}
	return gone
}

// mixedShare is the share of its planned batches a day mixed, all of them while it
// goes on.
func (b Bench) mixedShare() float64 {
	if !b.Finished() || len(b.planned.batches) == 0 {
		return 1
	}
	mixed, all := 0.0, 0.0
	for i, batch := range b.planned.batches {
		all += float64(batch.Volume)
		if b.hasMet(b.batchNow(i + 1)) {
			mixed += float64(batch.Volume)
		}
	}
	if all <= 0 {
		return 1
	}
	return mixed / all
}

// Planned is the day's planned mix; 0 for days of before that was kept.
func (b Bench) Planned() units.Volume {
	var v units.Volume
	for _, batch := range b.planned.batches {
		v += batch.Volume
	}
	return v
}

// MixedOver is the volume mixed at the bench beyond the plan, less what of the plan,
// so much in all, was never mixed.
func (b Bench) MixedOver(planned units.Volume) units.Volume {
	v := planned * units.Volume(b.mixedShare()-1)
	for _, s := range b.Steps {
		if s.Added && s.isMix() && b.hasMet(s.BatchNo) && s.BatchNo <= len(b.Batches) {
			v += b.Batches[s.BatchNo-1].Volume
		}
	}
	return v
}
