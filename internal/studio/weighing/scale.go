package weighing

import (
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// A Event is one step at the scale, as it is logged.
type Event struct {
	At      time.Time
	What    string // "take", "undo" or "tares"
	Reading units.Mass
	Typed   bool
	Way     string `json:",omitempty"` // of the scale's zero, see Weighing.Tares
}

// Decode reads a weigh-out.
func Decode(row store.Session) (Weighing, error) {
	var w Weighing
	if err := json.Unmarshal(row.Setup, &w); err != nil {
		return w, fmt.Errorf("read the weigh-out: %w", err)
	}
	if w.Name.Text == nil { // of days before
		w.Name = msg.Store(msg.Own(w.Listed))
	}
	w.ID, w.Rev, w.PieceID, w.Coat, w.Done, w.At = row.ID, row.Rev, row.PieceID, row.Coat, row.Done, row.At
	for _, doc := range row.Events {
		var e Event
		if err := json.Unmarshal(doc, &e); err != nil {
			return w, fmt.Errorf("read the weigh-out: %w", err)
		}
		if err := w.Apply(e); err != nil {
			return w, fmt.Errorf("read the weigh-out: %w", err)
		}
	}
	return w, nil
}

func (w *Weighing) Apply(e Event) error {
	switch e.What {
	case "undo":
		w.undo()
		return nil
	case "tares":
		w.Tares = e.Way
		return nil
	}
	return w.take(e.Reading, e.Typed, e.At)
}

// dye returns the pigment to weigh next; false when all are in.
func (c Cup) dye() (Dye, bool) {
	dyes := c.Dyes
	if len(dyes) == 0 && c.Load > 0 && c.Only == "" {
		dyes = []Dye{{Load: c.Load}}
	}
	in := len(c.dyed())
	if in >= len(dyes) {
		return Dye{}, false
	}
	return dyes[in], true
}

// BatchesMixed is how many batches hold both parts: from its first cup on a batch's
// clock runs.
func (w Weighing) BatchesMixed() int {
	batches := map[int]bool{}
	for _, c := range w.Cups {
		if c.A > 0 && c.B > 0 {
			batches[max(1, c.BatchNo)] = true
		}
	}
	return len(batches)
}

// Begun reports whether anything was weighed.
func (w Weighing) Begun() bool {
	return slices.ContainsFunc(w.Cups, func(c Cup) bool { return len(c.Pours) > 0 })
}

// Met returns when the parts of each batch met, batch by batch as far as they did: at the
// later of the first pours of A and B into one cup.
func (w Weighing) Met() []time.Time {
	batches := map[int]time.Time{}
	for _, c := range w.Cups {
		batch := max(1, c.BatchNo)
		at, both := c.met()
		if first, known := batches[batch]; both && (!known || at.Before(first)) {
			batches[batch] = at
		}
	}
	var out []time.Time
	for batch := 1; ; batch++ {
		at, met := batches[batch]
		if !met {
			return out
		}
		out = append(out, at)
	}
}

// met is when both parts lay in the cup.
func (c Cup) met() (at time.Time, both bool) {
	seen := map[string]bool{}
	for _, p := range c.Pours {
		if (p.What == string(resin.PartA) || p.What == string(resin.PartB)) && !seen[p.What] {
			seen[p.What] = true
			at = p.At
		}
	}
	return at, c.A > 0 && c.B > 0 && len(c.Pours) > 0
}

// Current returns the cup on the scale.
func (w Weighing) Current() Cup { return w.Cups[min(w.Cup, len(w.Cups)-1)] }

// Need returns what the scale waits for.
func (w Weighing) Need() resin.Need {
	c := w.Current()
	switch {
	case c.Only == OnlyDyes || (c.Only == OnlyA && c.A > 0):
		return resin.Need{Satisfied: true}
	case c.Split > 0:
		return resin.Need{Part: resin.Mixed, Target: c.Split, Satisfied: c.Mixed > 0}
	}
	n, err := w.Product.Next(c.PlanA, c.A, c.B)
	if err != nil {
		return resin.Need{Satisfied: true}
	}
	return n
}

// errLess is said of a display that shows less than what is already in the cup.
var errLess = form.Refusef("", "the scale shows less than before: the cup is off it, or it was zeroed with "+
	"something in it. Set it back, then type what it shows")

// take confirms a reading of the scale for the stage in hand.
func (w *Weighing) take(reading units.Mass, typed bool, now time.Time) error {
	c := &w.Cups[w.Cup]
	net := reading - w.Base
	note := func(what string) { c.add(Poured{what, net, typed, now}) }
	switch w.Stage {
	case Tare:
		if reading < 0 {
			return errLess
		}
		c.Empty, w.Base = reading, reading
		w.Stage = Pouring
		if c.Only == OnlyDyes {
			w.Stage = Pigmenting
		}
		return nil
	case Done:
		return form.Refusef("", "all cups are weighed")
	case Pigmenting:
		if net < 0 {
			return errLess
		}
		note(pigmentPour)
		if _, more := c.dye(); more {
			w.Base = reading
			return nil
		}
		w.finishCup()
		return nil
	}
	switch {
	case net <= -leastPour*w.Step:
		return errLess
	case net < leastPour*w.Step:
		return form.Refusef("", "nothing has been poured yet; the scale shows no more than before")
	}
	note(string(w.Need().Part))
	w.Base = reading
	if w.Need().Satisfied {
		if _, dyed := c.dye(); dyed {
			w.Stage = Pigmenting
		} else {
			w.finishCup()
		}
	}
	return nil
}

// add keeps a confirmed amount and sums the cup up afresh, so that taking an
// amount back leaves no rounding behind.
func (c *Cup) add(p Poured) {
	c.Pours = append(c.Pours, p)
	c.recount()
}

func (c *Cup) recount() {
	c.A, c.B, c.Mixed, c.Pigment = c.Held, 0, 0, 0
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
	c := &w.Cups[w.Cup]
	c.Finished = true
	w.Base = 0
	if c.Only == OnlyA { // B will be poured on what is really in it
		for i := range w.Cups {
			if w.Cups[i].Onto == w.Cup+1 {
				w.Cups[i].Held = c.A
				w.Cups[i].recount()
			}
		}
	}
	if w.Cup == len(w.Cups)-1 {
		w.Stage = Done
		return
	}
	w.Cup++
	w.Stage = Tare
}

// undo takes back the last confirmed amount of the current cup, or reopens the
// cup before. It goes on from what the record says is in the cup, whatever
// stands on the scale now.
func (w *Weighing) undo() {
	c := &w.Cups[w.Cup]
	if w.Stage == Tare && w.Cup > 0 {
		w.Cup--
		c = &w.Cups[w.Cup]
	}
	if len(c.Pours) == 0 {
		w.Stage, w.Base = Tare, 0
		return
	}
	last := c.Pours[len(c.Pours)-1]
	c.Pours = c.Pours[:len(c.Pours)-1]
	c.recount()
	c.Finished = false
	w.Stage = Pouring
	if last.What == pigmentPour {
		w.Stage = Pigmenting
	}
	w.Base = c.Empty + c.Content()
}
