package weighing

import (
	"math"
	"slices"
	"time"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// Stage is where a cup stands on the scale.
type Stage string

// The stages of one cup.
const (
	Tare       Stage = "tare"
	Pouring    Stage = "pour" // part A, part B or a correction
	Pigmenting Stage = "pigment"
	Done       Stage = "done"
)

// A Weighing takes the cups of one coat over the scale, batch by batch.
type Weighing struct {
	ID      int64     `json:"-"`
	Rev     int64     `json:"-"`
	PieceID int64     `json:"-"`
	Coat    string    `json:"-"`
	Done    bool      `json:"-"`
	At      time.Time `json:"-"`

	Piece    string
	Name     msg.Stored `json:"Said"` // of the coat
	Listed   string     `json:"Name"` // the same in the language of that day, as the journal lists it
	Product  material.Product
	Resin    int64      `json:",omitempty"` // id of the product; 0 in weigh-outs kept before there was a stock
	Step     units.Mass // of the scale
	ByVolume bool       // measured by the marks of a jug
	Tares    string     `json:",omitempty"` // a way of school.Tare; "" before every pour
	Cups     []Cup
	Cup      int // the one on the scale
	Stage    Stage
	Base     units.Mass // what cup and content weighed when the current pour began
}

// A Cup is one cup, as far as one batch feeds it, with what was planned and
// what lies in it.
type Cup struct {
	Name      string // a painter's, or its technique's; none for a jug
	Swatch    string
	BatchNo   int  `json:"Lot,omitempty"`  // from 1
	After     bool `json:",omitempty"`     // the batch before it is poured by then
	Batches   int  `json:"Lots,omitempty"` // of how many; 0 for a cup that is weighed once
	PlanA     units.Mass
	PlanB     units.Mass
	Load      float64 // of the first pigment, or of all where their names are not kept
	Dyes      []Dye
	Flammable bool // the pigment burns while wet
	Jug       bool `json:",omitempty"` // a batch is mixed in it and split
	// Split is the mixed resin it gets out of its batch's jug; 0 for one that is
	// mixed by itself.
	Split units.Mass `json:",omitempty"`
	// Only is the part weighed into it now, where it is filled in two rounds; Onto
	// is the place, from 1, of the cup that B is poured on.
	Only     Only       `json:",omitempty"`
	Onto     int        `json:",omitempty"`
	Held     units.Mass `json:",omitempty"` // part A that stands in it from the first round
	Empty    units.Mass // the cup itself, where its weight is in the readings
	A, B     units.Mass
	Mixed    units.Mass // out of the jug
	Pigment  units.Mass
	Pours    []Poured
	Finished bool
}

// Title says which cup it is, of those that are filled several times.
func (c Cup) Title() msg.Text {
	switch {
	case c.Jug && c.Batches > 1:
		return msg.F("Jug, batch %d of %d", c.BatchNo, c.Batches)
	case c.Jug:
		return msg.ID("Jug")
	case c.Batches > 0:
		return msg.F("%s, batch %d of %d", words.Filled(c.Name), c.BatchNo, c.Batches)
	}
	return words.Filled(c.Name)
}

// Only is a round of a cup that is filled in two.
type Only string

// The rounds.
const (
	OnlyDyes Only = "dyes"   // pigment into the empty cup
	OnlyA    Only = "part-a" // part A and the pigment in it
	OnlyB    Only = "part-b" // part B on the coloured part A
)

// A Dye is one pigment of a cup.
type Dye struct {
	ID   int64 `json:",omitempty"` // of the pigment; 0 for none among the materials
	Name msg.Stored
	Load float64
	// By is how its bottle gives it: "12 drops"; "" when that is not known.
	By     msg.Stored `json:",omitzero"`
	Bottle material.Bottle
	Limit  float64 `json:",omitempty"` // load limit; 0 where nobody knows it
}

// A Poured is one confirmed amount.
type Poured struct {
	What  string // "A", "B", "mixed" or pigmentPour
	Grams units.Mass
	Typed bool
	At    time.Time
}

const pigmentPour = "pigment"

// leastPour is how many steps of the scale make a pour: less is its flicker.
const leastPour = 2

// Resin is the resin in the cup, without pigments.
func (c Cup) Resin() units.Mass { return c.A + c.B + c.Mixed }

// Planned is the mixed resin its pigment is calculated for: what is in it, or for
// one that is coloured ahead what will be.
func (c Cup) Planned() units.Mass {
	switch c.Only {
	case OnlyDyes:
		return c.PlanA + c.PlanB
	case OnlyA:
		return c.A * (1 + c.PlanB/c.PlanA)
	}
	return c.Resin()
}

// Content is all that was weighed into the cup since it was put on the scale.
func (c Cup) Content() units.Mass { return c.Resin() - c.Held + c.Pigment }

// New lays out the weigh-out of a coat. What is coloured ahead comes
// first; then batch by batch the jug where one is mixed and split, and every cup as
// far as the batch feeds it. The coat's name is kept, and listed by the journal in the studio's language;
// drops and spoons are in its units.
func New(p *plan.Plan, c *plan.Coat, name msg.Text, in msg.Lang, sys units.System) Weighing {
	w := Weighing{Piece: p.Spec.Name, Name: msg.Store(name), Listed: name.In(in), Product: c.Product, Resin: c.Product.ID,
		Step:     p.Context.ScaleStep,
		Stage:    Tare,
		ByVolume: p.Context.Schools.Way(school.Measure) == school.MeasureVolume,
		Tares:    p.Context.Schools.Way(school.Tare)}
	l := layout{plan: p, coat: c, sys: sys, fed: map[string]int{}}
	for _, batch := range c.Batches {
		for _, f := range batch.Feeds {
			l.fed[f.Cup]++
		}
	}
	for k := range c.Batches {
		l.batch(k)
	}
	w.Cups = append(l.ahead, l.cups...)
	return w
}

// siliconeDrop is the mass of a drop of silicone (from memory).
const siliconeDrop = 0.048 * units.Gram

// layout gathers the cups of a weigh-out: those filled ahead, then the others.
type layout struct {
	plan        *plan.Plan
	coat        *plan.Coat
	sys         units.System
	fed         map[string]int // from how many batches a cup is fed
	ahead, cups []Cup
}

func (l *layout) batch(k int) {
	batch, first := l.coat.Batches[k], len(l.cups)
	split := l.coat.Split() && len(batch.Feeds) > 1
	if split {
		jug := Cup{Jug: true, Swatch: technique.ClearSwatch, BatchNo: k + 1, PlanA: batch.A.Mass,
			PlanB: batch.B.Mass}
		if len(l.coat.Batches) > 1 {
			jug.Batches = len(l.coat.Batches)
		}
		l.cups = append(l.cups, jug)
	}
	for _, f := range batch.Feeds {
		cup := l.cup(k, f)
		if split {
			cup.Split = cup.PlanA + cup.PlanB
		}
		l.add(cup)
	}
	if k > 0 && first < len(l.cups) && batch.Met >= l.coat.Batches[k-1].Poured-1e-9 {
		l.cups[first].After = true
	}
}

// PourFirst is the batch that is to be poured before the cup that is put on the scale is filled,
// 0 for none.
func (w Weighing) PourFirst() int {
	if w.Stage != Tare || !w.Cups[w.Cup].After {
		return 0
	}
	return w.Cups[w.Cup].BatchNo - 1
}

// cup is one cup as far as a batch feeds it.
func (l *layout) cup(k int, f plan.Feed) Cup {
	cup := l.coat.Cup(f.Cup)
	part := units.Mass(f.Volume / cup.Volume)
	one := Cup{Name: f.Name, Swatch: cup.Swatch(), BatchNo: k + 1, Load: cup.Colour.TotalLoad(),
		Flammable: cup.Look.Flammable,
		PlanA:     cup.A.Mass * part, PlanB: cup.B.Mass * part}
	if l.fed[f.Cup] > 1 || (len(l.coat.Batches) > 1 && l.coat.Mixing == school.MixingJug) {
		one.Batches = len(l.coat.Batches)
	}
	for _, d := range cup.Colour.Doses() {
		dye := Dye{Name: msg.Store(msg.ID("pigment")), Load: d.Load}
		if pig, ok := l.plan.Context.Pigments[d.Pigment]; ok {
			dye.ID, dye.Name, dye.Bottle = pig.ID, msg.Store(msg.Own(pig.Name)), pig.Bottle()
			dye.By = msg.Store(words.Measure(pig, (one.PlanA+one.PlanB)*units.Mass(d.Load), l.sys))
			dye.Limit = pig.LoadLimit
		}
		one.Dyes = append(one.Dyes, dye)
	}
	if n := int(math.Round(float64(l.coat.SiliconeIn(*cup)) * float64(part))); n > 0 {
		one.Dyes = append(one.Dyes,
			Dye{Name: msg.Store(msg.ID("Silicone")), By: msg.Store(msg.N(n, "drop", "drops")),
				Bottle: material.Bottle{Drop: siliconeDrop},
				Load:   float64(units.Mass(n) * siliconeDrop / (one.PlanA + one.PlanB))})
	}
	return one
}

// add puts a cup in its round, or in both.
func (l *layout) add(cup Cup) {
	first, second := cup, cup
	switch {
	case len(cup.Dyes) == 0 || l.coat.Colouring == school.ColourAfter:
		l.cups = append(l.cups, cup)
		return
	case l.coat.Colouring == school.ColourPartA:
		first.Only, second.Only, second.Onto = OnlyA, OnlyB, len(l.ahead)+1
	default:
		first.Only = OnlyDyes
	}
	first.Split, second.Dyes, second.Load = 0, nil, 0
	l.ahead, l.cups = append(l.ahead, first), append(l.cups, second)
}

// dyed is the mass poured of each pigment, in the order of Dyes.
func (c Cup) dyed() []units.Mass {
	var out []units.Mass
	for _, p := range c.Pours {
		if p.What == pigmentPour {
			out = append(out, p.Grams)
		}
	}
	return out
}

// Mixed is the resin that was weighed out.
func (w Weighing) Mixed() units.Volume {
	var sum units.Volume
	for _, c := range w.Cups {
		sum += (c.A - c.Held).Filling(w.Product.DensityA) + c.B.Filling(w.Product.DensityB)
	}
	return sum
}

// Took is the stock it used: resin in mL and each pigment in g, nothing while
// it goes on.
func (w Weighing) Took() stock.Amounts {
	out := stock.Amounts{}
	if w.Stage != Done || w.Resin == 0 {
		return out
	}
	out[stock.Thing{Kind: store.Resins, ID: w.Resin}] = float64(w.Mixed())
	for _, c := range w.Cups {
		for i, grams := range c.dyed() {
			if i < len(c.Dyes) && c.Dyes[i].ID != 0 {
				out[stock.Thing{Kind: store.Pigments, ID: c.Dyes[i].ID}] += float64(grams)
			}
		}
	}
	return out
}

// Recipe is the actual recipe of each cup, over all its batches and rounds.
func (w Weighing) Recipe() []plan.WeighedCup {
	var out []plan.WeighedCup
	for _, c := range w.Cups {
		if c.Jug {
			continue
		}
		at := slices.IndexFunc(out, func(o plan.WeighedCup) bool { return o.Name == c.Name })
		if at < 0 {
			at, out = len(out), append(out, plan.WeighedCup{Name: c.Name})
		}
		out[at].Resin += c.Resin() - c.Held
		for dye, grams := range c.dyed() {
			if dye == len(out[at].Dyes) {
				out[at].Dyes = append(out[at].Dyes, 0)
			}
			out[at].Dyes[dye] += grams
		}
	}
	return out
}

// A CupReport is a weighed cup beside its plan.
type CupReport struct {
	Cup
	Off         msg.Text
	PlanPigment units.Mass // for the resin that is in it
}

// Report returns every cup with its off-ratio and the pigment it should have.
func (w Weighing) Report() []CupReport {
	out := make([]CupReport, len(w.Cups))
	for i, c := range w.Cups {
		out[i] = CupReport{Cup: c, Off: offText(w.Product.OffRatio(c.A, c.B))}
		for _, dye := range c.Dyes {
			out[i].PlanPigment += c.Planned() * units.Mass(dye.Load)
		}
	}
	return out
}

func offText(off float64) msg.Text {
	switch percent := math.Round(off*1000) / 10; {
	case math.IsNaN(off):
		return msg.Figure("–")
	case percent == 0:
		return msg.Figure("0.0 %")
	default:
		return msg.F("%+.1f %%", percent)
	}
}
