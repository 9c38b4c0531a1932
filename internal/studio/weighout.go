package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// WeighStep is where a cup stands on the scale.
type WeighStep string

// The steps of one cup.
const (
	WeighTare    WeighStep = "tare"
	WeighPour    WeighStep = "pour" // part A, part B or a correction
	WeighPigment WeighStep = "pigment"
	WeighDone    WeighStep = "done"
)

// A Weighing takes the cups of one coat over the scale, one after the other.
// It is kept after every step, so that a reload, a second screen or a restart
// goes on where the hands are.
type Weighing struct {
	ID      int64     `json:"-"`
	Rev     int64     `json:"-"`
	PieceID int64     `json:"-"`
	Coat    string    `json:"-"`
	Done    bool      `json:"-"`
	At      time.Time `json:"-"`

	Piece   string
	Name    string // of the coat
	Product Product
	Step    units.Mass // of the scale
	Cups    []WeighCup
	Cup     int // the one on the scale
	Stage   WeighStep
	Base    units.Mass // reading when the current pour began
}

// A WeighCup is one cup with what was planned and what lies in it.
type WeighCup struct {
	Name   string
	Swatch string
	PlanA  units.Mass
	PlanB  units.Mass
	Load   float64 // of the first pigment, or of all where their names are not kept
	Dyes   []WeighDye
	// Flammable says that the pigment burns while wet.
	Flammable bool
	A, B      units.Mass
	Pigment   units.Mass
	Pours     []WeighPoured
	Finished  bool
}

// A WeighDye is one pigment of a cup.
type WeighDye struct {
	Name string
	Load float64
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

// A WeighPoured is one confirmed amount.
type WeighPoured struct {
	What  string // "A", "B" or pigmentPour
	Grams units.Mass
	Typed bool
	At    time.Time
}

const pigmentPour = "pigment"

// leastPour is how many steps of the scale make a pour: less is its flicker.
const leastPour = 2

// StartWeighing begins the weigh-out of a coat. A cup larger than the
// product's largest lot is weighed in several.
func (s *Studio) StartWeighing(ctx context.Context, piece int64, coat string) (Weighing, error) {
	plan, err := s.Plan(ctx, piece)
	if err != nil {
		return Weighing{}, err
	}
	pigments, err := s.PigmentsByID(ctx)
	if err != nil {
		return Weighing{}, err
	}
	for _, c := range plan.Coats {
		if c.Key != coat {
			continue
		}
		w := Weighing{PieceID: piece, Coat: coat, Piece: plan.Piece.Name, Name: c.Name, Product: plan.Product,
			Step: plan.Settings.ScaleStep, Stage: WeighTare}
		for _, cup := range c.Cups {
			w.Cups = append(w.Cups, lotsOf(cup, dyesOf(cup.Colour, pigments), c.LotMax)...)
		}
		id, err := s.store.StartWeighing(ctx, piece, coat, w, s.now())
		if err != nil {
			return w, err
		}
		return s.Weighing(ctx, id)
	}
	return Weighing{}, store.ErrNotFound
}

// lotsOf divides a cup into equal lots no larger than most.
func lotsOf(c CupPlan, dyes []WeighDye, most units.Volume) []WeighCup {
	n := int(math.Ceil(float64(c.Volume/most) - 1e-9))
	n = max(1, n)
	out := make([]WeighCup, n)
	for i := range out {
		name := c.Colour.Name
		if n > 1 {
			name = fmt.Sprintf("%s, lot %d of %d", name, i+1, n)
		}
		out[i] = WeighCup{Name: name, Swatch: c.Swatch(), Load: c.Colour.TotalLoad(), Dyes: dyes, Flammable: c.Look.Flammable,
			PlanA: c.A.Mass / units.Mass(n), PlanB: c.B.Mass / units.Mass(n)}
	}
	return out
}

// dyesOf names the pigments of a cup in the order they go in.
func dyesOf(c Colour, shelf map[int64]Pigment) []WeighDye {
	var out []WeighDye
	for _, d := range c.Doses() {
		out = append(out, WeighDye{shelf[d.Pigment].Name, d.Load})
	}
	return out
}

func decodeWeighing(row store.WeighingRow) (Weighing, error) {
	var w Weighing
	if err := json.Unmarshal(row.Doc, &w); err != nil {
		return w, fmt.Errorf("read the weigh-out: %w", err)
	}
	w.ID, w.Rev, w.PieceID, w.Coat, w.Done, w.At = row.ID, row.Rev, row.PieceID, row.Coat, row.Done, row.At
	return w, nil
}

// Weighing returns a weigh-out as it stands.
func (s *Studio) Weighing(ctx context.Context, id int64) (Weighing, error) {
	row, err := s.store.Weighing(ctx, id)
	if err != nil {
		return Weighing{}, err
	}
	return decodeWeighing(row)
}

// Weighings returns a piece's weigh-outs, newest first.
func (s *Studio) Weighings(ctx context.Context, piece int64) ([]Weighing, error) {
	rows, err := s.store.WeighingsOf(ctx, piece)
	if err != nil {
		return nil, err
	}
	out := make([]Weighing, len(rows))
	for i, row := range rows {
		if out[i], err = decodeWeighing(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// mixed is how many cups hold both parts: from the first on the clock runs.
func (w Weighing) mixed() int {
	n := 0
	for _, c := range w.Cups {
		if c.A > 0 && c.B > 0 {
			n++
		}
	}
	return n
}

// Current returns the cup on the scale.
func (w Weighing) Current() WeighCup { return w.Cups[min(w.Cup, len(w.Cups)-1)] }

// Need returns what the scale waits for.
func (w Weighing) Need() resin.Need {
	c := w.Current()
	n, err := w.Product.Next(c.PlanA, c.A, c.B)
	if err != nil {
		return resin.Need{Satisfied: true}
	}
	return n
}

// A Dial is one look at the scale: what the screen says in large letters.
type Dial struct {
	Stage    WeighStep
	What     string // "Part A", "Part B", "Pigment"
	Net      units.Mass
	Target   units.Mass
	Left     units.Mass
	Share    float64 // of the target, for the bar
	Pour     resin.Pour
	OffRatio float64 // of the cup as it would be if this were confirmed; NaN unknown
	Within   bool
	Verdict  string
	Advice   string
	Stable   bool
}

// Look judges a reading.
func (w Weighing) Look(reading units.Mass, stable bool) Dial {
	c := w.Current()
	d := Dial{Stage: w.Stage, Net: reading - w.Base, Stable: stable, OffRatio: w.Product.OffRatio(c.A, c.B)}
	switch w.Stage {
	case WeighTare:
		d.What, d.Net = "empty cup", reading
		d.Verdict, d.Advice = "Set the empty cup on the scale and tare.", "Put on gloves and eye protection before you open the bottles."
		return d
	case WeighDone:
		d.What, d.Verdict = "All cups", "Everything is weighed."
		return d
	case WeighPigment:
		dye, _ := c.dye()
		d.What, d.Target = "pigment", (c.A+c.B)*units.Mass(dye.Load)
		if dye.Name != "" {
			d.What = dye.Name
		}
	default:
		need := w.Need()
		d.What, d.Target = "part "+string(need.Part), need.Target
		if need.Corrects {
			d.What += ", correction"
		}
		a, b := c.A, c.B
		if need.Part == resin.PartA {
			a += d.Net
		} else {
			b += d.Net
		}
		d.OffRatio = w.Product.OffRatio(a, b)
	}
	d.Left = d.Target - d.Net
	if d.Target > 0 {
		d.Share = float64(d.Net / d.Target)
	}
	d.Pour = resin.JudgePour(d.Net, d.Target, w.Step)
	d.Within = math.Abs(d.OffRatio) <= w.Product.Tolerance
	d.judge(w)
	return d
}

func (d *Dial) judge(w Weighing) {
	switch d.Pour {
	case resin.PourOn:
		d.Verdict = "Pour"
	case resin.PourSlow:
		d.Verdict = "Almost: slow down"
	case resin.PourStop:
		d.Verdict = "Stop: on the line"
	case resin.PourOver:
		d.Verdict = fmt.Sprintf("Over by %s", (-d.Left).Text(units.Metric))
	}
	if w.Stage == WeighPigment {
		switch {
		case w.Current().Flammable:
			d.Advice = "Flammable while wet: no flame near this cup."
		case d.Pour == resin.PourOver:
			d.Advice = "A little more colour does no harm below the product's load limit."
		}
		return
	}
	need := w.Need()
	switch {
	case d.Pour == resin.PourOver && need.Part == resin.PartA && !need.Corrects:
		d.Advice = "Confirm: part B will be reckoned from what was really poured."
	case d.Pour == resin.PourOver && d.Within:
		d.Advice = fmt.Sprintf("Within the ±%s %% this product forgives.", units.Fixed(w.Product.Tolerance*100, 1))
	case d.Pour == resin.PourOver:
		c := w.Current()
		a, b := c.A, c.B
		if need.Part == resin.PartA {
			a += d.Net
		} else {
			b += d.Net
		}
		if fix, err := w.Product.Correct(a, b); err == nil {
			part, add := "A", fix.AddA
			if fix.AddB > 0 {
				part, add = "B", fix.AddB
			}
			d.Advice = fmt.Sprintf("Confirm, then add %s of part %s: the cup becomes %s. Scooping out is allowed only before the parts touch.",
				add.Text(units.Metric), part, fix.Total.Text(units.Metric))
		}
	}
}

// ErrStale means another screen was faster; the newer state is returned.
var ErrStale = errors.New("another screen has just done this step")

// UndoWeighing takes back the last confirmed amount of the current cup, or
// reopens the cup before.
func (s *Studio) UndoWeighing(ctx context.Context, id, rev int64) (Weighing, error) {
	return s.step(ctx, id, rev, func(w *Weighing) error {
		w.undo()
		return nil
	})
}

// step changes the state the screen was showing, rev. When another screen was
// faster nothing is doubled: the newer state comes back with ErrStale.
func (s *Studio) step(ctx context.Context, id, rev int64, f func(*Weighing) error) (Weighing, error) {
	w, err := s.Weighing(ctx, id)
	if err != nil {
		return w, err
	}
	if w.Rev != rev {
		return w, ErrStale
	}
	before := w.mixed()
	if err := f(&w); err != nil {
		return w, err
	}
	err = s.store.SaveWeighing(ctx, id, rev, w, w.Stage == WeighDone)
	if errors.Is(err, store.ErrConflict) {
		err = ErrStale
	} else if err != nil {
		return w, err
	}
	fresh, readErr := s.Weighing(ctx, id)
	s.weighings.publish(id)
	if err == nil && before == 0 && fresh.mixed() == 1 {
		readErr = errors.Join(readErr, s.partsMetByWeighing(ctx, fresh.PieceID, fresh.Coat))
	}
	return fresh, errors.Join(err, readErr)
}

// WatchWeighing returns a channel that gets a value whenever a step of the
// weigh-out is done, on any screen, until stop is called.
func (s *Studio) WatchWeighing(id int64) (changes <-chan struct{}, stop func()) {
	return s.weighings.subscribe(id)
}

// ErrMoving means the scale has not come to rest.
var ErrMoving = errors.New("the scale is still moving; wait until it rests, then press again")

// TareWeighing sets the scale to zero under the empty cup and goes on, once it
// rests. The scale is touched only when the step shown still is the tare: a
// late press on another screen must not zero it under a cup that is filling.
func (s *Studio) TareWeighing(ctx context.Context, id, rev int64) (Weighing, error) {
	return s.step(ctx, id, rev, func(w *Weighing) error {
		if w.Stage != WeighTare {
			return errors.New("this cup is tared already")
		}
		if !s.scale.Read().Stable {
			return ErrMoving
		}
		s.scale.Tare()
		return w.confirm(s.scale.Read().Grams, false, s.now())
	})
}

// ConfirmScale takes what the scale shows for the current step, once it rests.
func (s *Studio) ConfirmScale(ctx context.Context, id, rev int64) (Weighing, error) {
	return s.step(ctx, id, rev, func(w *Weighing) error {
		r := s.scale.Read()
		if !r.Stable {
			return ErrMoving
		}
		return w.confirm(r.Grams, false, s.now())
	})
}

// ConfirmTyped takes what a painter read off another scale for this pour.
func (s *Studio) ConfirmTyped(ctx context.Context, id, rev int64, text string) (Weighing, error) {
	return s.step(ctx, id, rev, func(w *Weighing) error {
		r, err := units.ParseMass(text, "g")
		if err != nil {
			return err
		}
		if r.Value < 0 || r.Value > 50*units.Kilogram {
			return errors.New("a reading is between 0 and 50 kg")
		}
		return w.confirm(w.Base+r.Value, true, s.now())
	})
}

func (w *Weighing) confirm(reading units.Mass, typed bool, now time.Time) error {
	c := &w.Cups[w.Cup]
	net := reading - w.Base
	note := func(what string) { c.add(WeighPoured{what, net, typed, now}) }
	switch w.Stage {
	case WeighTare:
		w.Stage, w.Base = WeighPour, reading
		return nil
	case WeighDone:
		return errors.New("all cups are weighed")
	case WeighPigment:
		if net < 0 {
			return errors.New("the scale shows less than before; set the cup back on it")
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
		return errors.New("nothing has been poured yet; the scale shows no more than before")
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
func (c *WeighCup) add(p WeighPoured) {
	c.Pours = append(c.Pours, p)
	c.recount()
}

func (c *WeighCup) recount() {
	c.A, c.B, c.Pigment = 0, 0, 0
	for _, p := range c.Pours {
		switch p.What {
		case string(resin.PartA):
			c.A += p.Grams
		case string(resin.PartB):
			c.B += p.Grams
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

// undo takes the last amount back. The pour begins again from what the record
// says lies in the cup, so it does not matter what stands on the scale now.
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
	w.Base = c.A + c.B + c.Pigment
}

// barFull is where the target line stands on a bar of 1000.
const barFull = 800

// Bar returns how far the bar is filled, of 1000; the target is at 800.
func (d Dial) Bar() float64 { return min(max(d.Share*barFull, 0), 1000) }

// HasRatio reports whether both parts are known.
func (d Dial) HasRatio() bool { return !math.IsNaN(d.OffRatio) }

// RatioText prints the off-ratio with its sign.
func (d Dial) RatioText() string { return offText(d.OffRatio) }

func offText(off float64) string {
	if math.IsNaN(off) {
		return "–"
	}
	return fmt.Sprintf("%+.1f %%", off*100)
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
