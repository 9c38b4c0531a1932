package session

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/words"
)

// WeighStage is where a cup stands on the scale.
type WeighStage string

// The stages of one cup.
const (
	WeighTare    WeighStage = "tare"
	WeighPour    WeighStage = "pour" // part A, part B or a correction
	WeighPigment WeighStage = "pigment"
	WeighDone    WeighStage = "done"
)

// A Weighing takes the cups of one coat over the scale, lot by lot.
type Weighing struct {
	ID      int64     `json:"-"`
	Rev     int64     `json:"-"`
	PieceID int64     `json:"-"`
	Coat    string    `json:"-"`
	Done    bool      `json:"-"`
	At      time.Time `json:"-"`

	Piece    string
	Name     string // of the coat
	Product  plan.Product
	Step     units.Mass // of the scale
	ByVolume bool       // measured by the marks of a jug
	Cups     []WeighCup
	Cup      int // the one on the scale
	Stage    WeighStage
	Base     units.Mass // reading when the current pour began
}

// A WeighCup is one cup, as far as one lot feeds it, with what was planned and
// what lies in it.
type WeighCup struct {
	Name      string
	Swatch    string
	Lot       int `json:",omitempty"` // from 1
	PlanA     units.Mass
	PlanB     units.Mass
	Load      float64 // of the first pigment, or of all where their names are not kept
	Dyes      []WeighDye
	Flammable bool // the pigment burns while wet
	Jug       bool `json:",omitempty"` // a lot is mixed in it and split
	// Split is the mixed resin it gets out of its lot's jug; 0 for one that is
	// mixed by itself.
	Split    units.Mass `json:",omitempty"`
	A, B     units.Mass
	Mixed    units.Mass // out of the jug
	Pigment  units.Mass
	Pours    []Poured
	Finished bool
}

// A WeighDye is one pigment of a cup.
type WeighDye struct {
	Name string
	Load float64
	// By is how its bottle gives it: "12 drops"; "" when that is not known.
	By string `json:",omitempty"`
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

// Resin is what lies in the cup without its pigments.
func (c WeighCup) Resin() units.Mass { return c.A + c.B + c.Mixed }

// NewWeighing lays out the weigh-out of a coat: lot by lot, first the jug where
// one is mixed and split, then every cup as far as the lot feeds it.
func NewWeighing(p *plan.Plan, c *plan.Coat, name string) Weighing {
	w := Weighing{Piece: p.Spec.Name, Name: name, Product: c.Product, Step: p.Context.ScaleStep, Stage: WeighTare,
		ByVolume: p.Context.Schools.Way(plan.SchoolMeasure) == plan.MeasureVolume}
	fed := map[string]int{}
	for _, lot := range c.Lots {
		for _, f := range lot.Feeds {
			fed[f.Cup]++
		}
	}
	for k, lot := range c.Lots {
		split := c.Split() && len(lot.Feeds) > 1
		if split {
			jug := WeighCup{Name: "Jug", Jug: true, Swatch: technique.ClearSwatch, Lot: k + 1, PlanA: lot.A.Mass, PlanB: lot.B.Mass}
			if len(c.Lots) > 1 {
				jug.Name = fmt.Sprintf("Jug %d of %d", k+1, len(c.Lots))
			}
			w.Cups = append(w.Cups, jug)
		}
		for _, f := range lot.Feeds {
			cup := c.Cup(f.Cup)
			part := units.Mass(f.Volume / cup.Volume)
			one := WeighCup{Name: f.Name, Swatch: cup.Swatch(), Lot: k + 1, Load: cup.Colour.TotalLoad(), Flammable: cup.Look.Flammable,
				PlanA: cup.A.Mass * part, PlanB: cup.B.Mass * part}
			if split {
				one.Split = one.PlanA + one.PlanB
			}
			if fed[f.Cup] > 1 || (len(c.Lots) > 1 && c.Mixing == plan.MixingJug) {
				one.Name = fmt.Sprintf("%s, lot %d of %d", f.Name, k+1, len(c.Lots))
			}
			for _, d := range cup.Colour.Doses() {
				dye := WeighDye{Name: "pigment", Load: d.Load}
				if pig, ok := p.Context.Pigments[d.Pigment]; ok {
					dye.Name, dye.By = pig.Name, words.Measure(pig, (one.PlanA+one.PlanB)*units.Mass(d.Load))
				}
				one.Dyes = append(one.Dyes, dye)
			}
			w.Cups = append(w.Cups, one)
		}
	}
	return w
}

// A weighEvent is one step at the scale, as it is logged.
type weighEvent struct {
	At      time.Time
	What    string // "take" or "undo"
	Reading units.Mass
	Typed   bool
}

// DecodeWeighing reads a weigh-out.
func DecodeWeighing(row store.Session) (Weighing, error) {
	var w Weighing
	if err := json.Unmarshal(row.Setup, &w); err != nil {
		return w, fmt.Errorf("read the weigh-out: %w", err)
	}
	w.ID, w.Rev, w.PieceID, w.Coat, w.Done, w.At = row.ID, row.Rev, row.PieceID, row.Coat, row.Done, row.At
	for _, doc := range row.Events {
		var e weighEvent
		if err := json.Unmarshal(doc, &e); err != nil {
			return w, fmt.Errorf("read the weigh-out: %w", err)
		}
		if err := w.apply(e); err != nil {
			return w, fmt.Errorf("read the weigh-out: %w", err)
		}
	}
	return w, nil
}

func (w *Weighing) apply(e weighEvent) error {
	if e.What == "undo" {
		w.undo()
		return nil
	}
	return w.take(e.Reading, e.Typed, e.At)
}

// dye returns the pigment to weigh next; false when all are in.
func (c WeighCup) dye() (WeighDye, bool) {
	dyes := c.Dyes
	if len(dyes) == 0 && c.Load > 0 {
		dyes = []WeighDye{{Load: c.Load}}
	}
	in := 0
	for _, p := range c.Pours {
		if p.What == pigmentPour {
			in++
		}
	}
	if in >= len(dyes) {
		return WeighDye{}, false
	}
	return dyes[in], true
}

// LotsMixed is how many lots hold both parts: from its first cup on a lot's
// clock runs.
func (w Weighing) LotsMixed() int {
	lots := map[int]bool{}
	for _, c := range w.Cups {
		if c.A > 0 && c.B > 0 {
			lots[max(1, c.Lot)] = true
		}
	}
	return len(lots)
}

// Current returns the cup on the scale.
func (w Weighing) Current() WeighCup { return w.Cups[min(w.Cup, len(w.Cups)-1)] }

// Need returns what the scale waits for.
func (w Weighing) Need() resin.Need {
	c := w.Current()
	if c.Split > 0 {
		return resin.Need{Part: resin.Mixed, Target: c.Split, Satisfied: c.Mixed > 0}
	}
	n, err := w.Product.Next(c.PlanA, c.A, c.B)
	if err != nil {
		return resin.Need{Satisfied: true}
	}
	return n
}

// take confirms a reading of the scale for the stage in hand.
func (w *Weighing) take(reading units.Mass, typed bool, now time.Time) error {
	c := &w.Cups[w.Cup]
	net := reading - w.Base
	note := func(what string) { c.add(Poured{what, net, typed, now}) }
	switch w.Stage {
	case WeighTare:
		w.Stage, w.Base = WeighPour, reading
		return nil
	case WeighDone:
		return refuse("all cups are weighed")
	case WeighPigment:
		if net < 0 {
			return refuse("the scale shows less than before; set the cup back on it")
		}
		note(pigmentPour)
		if _, more := c.dye(); more {
			w.Base = reading
			return nil
		}
		w.finishCup()
		return nil
	}
	if net < leastPour*w.Step {
		return refuse("nothing has been poured yet; the scale shows no more than before")
	}
	note(string(w.Need().Part))
	w.Base = reading
	if w.Need().Satisfied {
		if _, dyed := c.dye(); dyed {
			w.Stage = WeighPigment
		} else {
			w.finishCup()
		}
	}
	return nil
}

// add keeps a confirmed amount and sums the cup up afresh, so that taking an
// amount back leaves no rounding behind.
func (c *WeighCup) add(p Poured) {
	c.Pours = append(c.Pours, p)
	c.recount()
}

func (c *WeighCup) recount() {
	c.A, c.B, c.Mixed, c.Pigment = 0, 0, 0, 0
	for _, p := range c.Pours {
		switch p.What {
		case string(resin.PartA):
			c.A += p.Grams
		case string(resin.PartB):
			c.B += p.Grams
		case string(resin.Mixed):
			c.Mixed += p.Grams
		default:
			c.Pigment += p.Grams
		}
	}
}

func (w *Weighing) finishCup() {
	w.Cups[w.Cup].Finished = true
	w.Base = 0
	if w.Cup == len(w.Cups)-1 {
		w.Stage = WeighDone
		return
	}
	w.Cup++
	w.Stage = WeighTare
}

// undo takes back the last confirmed amount of the current cup, or reopens the
// cup before. It goes on from what the record says is in the cup, whatever
// stands on the scale now.
func (w *Weighing) undo() {
	c := &w.Cups[w.Cup]
	if w.Stage == WeighTare && w.Cup > 0 {
		w.Cup--
		c = &w.Cups[w.Cup]
	}
	if len(c.Pours) == 0 {
		w.Stage, w.Base = WeighTare, 0
		return
	}
	last := c.Pours[len(c.Pours)-1]
	c.Pours = c.Pours[:len(c.Pours)-1]
	c.recount()
	c.Finished = false
	w.Stage = WeighPour
	if last.What == pigmentPour {
		w.Stage = WeighPigment
	}
	w.Base = c.Resin() + c.Pigment
}

// A CupReport is a weighed cup beside its plan.
type CupReport struct {
	WeighCup
	Off string
}

// Report returns every cup with its off-ratio.
func (w Weighing) Report() []CupReport {
	out := make([]CupReport, len(w.Cups))
	for i, c := range w.Cups {
		out[i] = CupReport{c, offText(w.Product.OffRatio(c.A, c.B))}
	}
	return out
}

func offText(off float64) string {
	if math.IsNaN(off) {
		return "–"
	}
	return fmt.Sprintf("%+.1f %%", off*100)
}

// Weighing returns a weigh-out as it stands.
func (l *Log) Weighing(ctx context.Context, id int64) (Weighing, error) {
	row, err := l.store.Session(ctx, store.Weighings, id)
	if err != nil {
		return Weighing{}, err
	}
	return DecodeWeighing(row)
}

// WeighingsOf returns a piece's weigh-outs, newest first.
func (l *Log) WeighingsOf(ctx context.Context, piece int64) ([]Weighing, error) {
	rows, err := l.store.SessionsOf(ctx, store.Weighings, piece)
	if err != nil {
		return nil, err
	}
	out := make([]Weighing, len(rows))
	for i, row := range rows {
		if out[i], err = DecodeWeighing(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// StartWeighing begins a weigh-out.
func (l *Log) StartWeighing(ctx context.Context, piece int64, coat string, w Weighing) (Weighing, error) {
	id := int64(0)
	err := l.store.Write(ctx, "start the weigh-out", func(tx *store.Tx) error {
		var err error
		id, err = tx.StartSession(ctx, store.Weighings, piece, coat, w, l.now())
		return err
	})
	if err != nil {
		return w, err
	}
	return l.Weighing(ctx, id)
}

// Take confirms a reading for the state the screen was showing, rev. look is
// asked for the reading only when that state still stands. When the parts of a
// lot meet by it, the clock of an open bench day of the coat starts in the same
// change.
func (l *Log) Take(ctx context.Context, id, rev int64, look func(Weighing) (reading units.Mass, typed bool, err error)) (Weighing, error) {
	return l.weigh(ctx, id, rev, func(w *Weighing) (weighEvent, error) {
		reading, typed, err := look(*w)
		return weighEvent{At: l.now(), What: "take", Reading: reading, Typed: typed}, err
	})
}

// UndoWeighing takes the last confirmed amount back.
func (l *Log) UndoWeighing(ctx context.Context, id, rev int64) (Weighing, error) {
	return l.weigh(ctx, id, rev, func(*Weighing) (weighEvent, error) { return weighEvent{At: l.now(), What: "undo"}, nil })
}

func (l *Log) weigh(ctx context.Context, id, rev int64, f func(*Weighing) (weighEvent, error)) (Weighing, error) {
	var wrong error
	bench := int64(0)
	err := l.store.Write(ctx, "keep the step at the scale", func(tx *store.Tx) error {
		row, err := tx.Session(ctx, store.Weighings, id)
		if err != nil {
			return err
		}
		w, err := DecodeWeighing(row)
		if err != nil {
			return err
		}
		if w.Rev != rev {
			wrong = ErrStale
			return nil
		}
		before := w.LotsMixed()
		e, err := f(&w)
		if err == nil {
			err = w.apply(e)
		}
		if err != nil {
			wrong = err
			return nil
		}
		if err := tx.AppendEvents(ctx, store.Weighings, id, rev, []any{e}, w.Stage == WeighDone); err != nil {
			return err
		}
		if lot := w.LotsMixed(); lot > before {
			bench, err = l.meet(ctx, tx, w, lot)
		}
		return err
	})
	if err != nil {
		return Weighing{}, err
	}
	fresh, err := l.Weighing(ctx, id)
	if wrong == nil && err == nil {
		l.hub.publish(key{store.Weighings, id})
		if bench != 0 {
			l.hub.publish(benchKey(bench, false))
		}
	}
	return fresh, errors.Join(wrong, err)
}

// meet starts the clock of a lot on the open bench day of the coat, if there is
// one, and returns that day.
func (l *Log) meet(ctx context.Context, tx *store.Tx, w Weighing, lot int) (int64, error) {
	rows, err := tx.SessionsOf(ctx, store.Benches, w.PieceID)
	if err != nil {
		return 0, err
	}
	for _, row := range rows {
		if row.Coat != w.Coat || row.Done {
			continue
		}
		b, err := DecodeBench(row, false)
		if err != nil {
			return 0, err
		}
		events, err := MetOnScale(lot)(b, b.Now(l.now()))
		if err != nil {
			return 0, err
		}
		return b.ID, l.append(ctx, tx, b, events)
	}
	return 0, nil
}
