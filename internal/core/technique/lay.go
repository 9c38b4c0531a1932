package technique

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// A Job holds the quantities the times of a coat depend on.
type Job struct {
	Face    units.Area
	Cups    int     // coloured ones
	Mix     float64 // minutes the product wants to be mixed
	Batches []Batch // none for one batch that feeds everything
	// People are at the bench: two or three share what can be shared, and one
	// mixes further batches beside the work; 0 is one.
	People int
	// Ahead says that all batches of a step are mixed before it begins: cups that
	// are mixed one by one stand ready together.
	Ahead bool
	// Flash is until when something burns that was laid before the technique's own
	// steps.
	Flash float64
}

// A Batch is one batch of a job: how many cups are coloured from it, and what
// part of each pouring step it feeds, by the step's place among those that
// pour.
type Batch struct {
	Cups  int
	Feeds []float64
}

// part is what part of a pouring step the batch at k feeds; one that does not say
// feeds all if it is the first.
func (b Batch) part(place, k int) float64 {
	switch {
	case place < len(b.Feeds):
		return b.Feeds[place]
	case len(b.Feeds) > 0 || k > 0:
		return 0
	}
	return 1
}

// A Timed step has its place on the coat's clock: minutes after the parts of
// its first batch met.
type Timed struct {
	Step
	From, To float64
	Window   cure.Window // of the batches it works on
	Batch    int         // that it mixes, colours or pours; −1 for all that are poured
	// Late is how many minutes of the step fall after its window closes.
	Late float64
	// Early is how many minutes the step would have to wait for its window.
	Early float64
}

// A BatchTime is when a batch's mixing begins, when its first and its last is poured,
// and its clock.
type BatchTime struct {
	Met, From, Poured float64
	Clock             *cure.Clock
}

// Fit is a technique laid on a clock.
type Fit struct {
	Steps   []Timed
	Batches []BatchTime
	Ends    float64 // minute the last hands-on step ends
	Flash   float64 // minute from which nothing laid burns any more
	Spare   float64 // least time between a step's end and its window's close
	Tight   Timed   // the step that has least to spare
}

// Holds reports whether every step falls inside its window.
func (f Fit) Holds() bool { return f.Spare >= 0 }

// LastPour returns when the last cup was emptied.
func (f Fit) LastPour() float64 {
	last := 0.0
	for _, s := range f.Steps {
		if s.Pours {
			last = s.To
		}
	}
	return last
}

// Lay puts the steps one after another on the clock, starting when the parts
// meet. Each batch is mixed and coloured just before the pour it feeds, and from
// then on has a clock of its own; a step is judged by all batches it works on. A
// step whose window has not opened waits for it.
func (t Technique) Lay(j Job, clock *cure.Clock) Fit {
	if len(j.Batches) == 0 {
		j.Batches = []Batch{{Cups: j.Cups}}
	}
	return t.Begin(j, clock).Until(len(j.Batches)).Fit()
}

// A Laying is a technique being laid on a clock. It can stop before a batch is
// mixed, and go on from there in several ways, so that batches are decided along
// the clock.
type Laying struct {
	steps       []Step
	job         Job
	clock       *cure.Clock
	fit         Fit
	at          float64
	mixed       float64 // when the last batch was ready
	mix, colour *Step
	step, place int     // it goes on with, and the place of that among those that pour
	batch       int     // that goes on pouring in it
	aged        float64 // minutes the film is older by the heat that passed over it
}

// passAges is by how many minutes a pass of a flame or of hot air ages the film it
// touches (our model): some 20 kJ/m² warm 1.6 mm by 6 K, which cool away in three
// minutes and hurry the cure by half meanwhile.
const passAges = 1.4

// passes is how often a step warms each place.
func (s Step) passes() int {
	n := 0
	for _, b := range s.Beats {
		if b.Heats {
			n++
		}
	}
	if n == 0 && s.Heats {
		n = 1
	}
	return n
}

// Begin returns a laying before anything is mixed.
func (t Technique) Begin(j Job, clock *cure.Clock) *Laying {
	return &Laying{steps: t.Steps, job: j, clock: clock, fit: Fit{Spare: math.Inf(1), Flash: t.flashBefore(j)}}
}

// Fork returns a laying that goes on from the same moment with other batches.
// Those that are mixed already must be the same in both.
func (l *Laying) Fork(batches []Batch) *Laying {
	f := *l
	f.job.Batches = batches
	f.fit.Steps, f.fit.Batches = slices.Clip(l.fit.Steps), slices.Clone(l.fit.Batches)
	return &f
}

// Fit returns what was laid so far.
func (l *Laying) Fit() Fit {
	fit := l.fit
	fit.Ends = l.at
	return fit
}

// Until goes on until a batch behind the last is needed, or to the end.
func (l *Laying) Until(last int) *Laying {
	for ; l.step < len(l.steps); l.step++ {
		s := l.steps[l.step]
		if s.Together {
			l.allOf(l.place)
		}
		switch {
		case s.BeforeMixing:
		case s.Mixes || s.Colours: // come with the batches
			l.mixing(s)
		case s.Pours:
			if !l.pour(s, last) {
				return l
			}
			l.place++
		case last < 0 && len(l.fit.Batches) == 0:
			return l
		default:
			l.need(0)
			l.add(s, s.Minutes(l.job), -1)
		}
	}
	return l
}

// flashBefore is the minute from which what was laid before mixing burns no
// more: the wipe of a scuffed coat, the test of a spray.
func (t Technique) flashBefore(j Job) float64 {
	until, at := 0.0, 0.0
	for i := len(t.Steps) - 1; i >= 0; i-- {
		if s := t.Steps[i]; s.BeforeMixing {
			until = math.Max(until, at+s.FlashOff)
			at -= s.Minutes(j)
		}
	}
	return math.Max(until, j.Flash)
}

// mixing notes how a batch is made; a technique without resin has no such step.
func (l *Laying) mixing(s Step) {
	if s.Mixes {
		l.mix = &s
	} else {
		l.colour = &s
	}
}

// need mixes and colours batches until the one at i is there.
func (l *Laying) need(i int) {
	for l.mix != nil && len(l.fit.Batches) <= i && len(l.fit.Batches) < len(l.job.Batches) {
		k := len(l.fit.Batches)
		work := []Timed{{Step: *l.mix, To: l.mix.Minutes(l.job)}}
		if cups := l.job.Batches[k].Cups; l.colour != nil && (cups > 0 || l.colour.Fixed > 0) {
			work = append(work, Timed{Step: *l.colour,
				To: l.colour.Minutes(Job{Face: l.job.Face, Cups: cups, Mix: l.job.Mix, People: l.job.People})})
		}
		l.prepare(k, work)
	}
}

// prepare mixes and colours one batch: next in turn, or for a crew beside the work so
// that it is ready when the hands come to it.
func (l *Laying) prepare(k int, work []Timed) {
	hands := l.at
	if beside := l.job.People > 1 && k > 0 && !l.job.Ahead; beside {
		takes := 0.0
		for _, w := range work {
			takes += w.To
		}
		l.at = math.Max(l.mixed, hands-takes)
	}
	l.fit.Batches = append(l.fit.Batches, BatchTime{Met: l.at, From: l.at, Poured: l.at, Clock: l.clock.Later(l.at)})
	for _, w := range work {
		l.add(w.Step, w.To, k)
	}
	l.mixed = l.at
	l.at = math.Max(l.at, hands)
}

// pour empties the cups of a step, batch by batch; false where that stops before a batch
// behind the last.
func (l *Laying) pour(s Step, last int) bool {
	minutes := s.Minutes(l.job)
	fed := l.batch > 0
	if l.job.Ahead && l.batch <= last {
		l.allOf(l.place)
	}
	for k := l.batch; k < len(l.job.Batches); k++ {
		part := l.job.Batches[k].part(l.place, k)
		if part <= 1e-9 {
			continue
		}
		if k > last {
			l.batch = k
			return false
		}
		l.need(k)
		l.add(s, minutes*part, k)
		fed = true
	}
	if l.batch = 0; !fed { // nothing of the coat goes here: the hands move on
		if last < 0 {
			return false
		}
		l.need(0)
	}
	return true
}

// allOf mixes every batch that feeds a pour.
func (l *Laying) allOf(place int) {
	for k, batch := range l.job.Batches {
		if batch.part(place, k) > 1e-9 {
			l.need(k)
		}
	}
}

// Warms reports whether a step brings a flame or hot air near the board.
func (s Step) Warms() bool {
	return s.Heats || slices.ContainsFunc(s.Beats, func(b Beat) bool { return b.Heats })
}

// add lays one step behind the others. A flame waits until what burns has
// flashed off, wherever it was laid.
func (l *Laying) add(s Step, minutes float64, batch int) {
	w := cure.Window{To: math.Inf(1)} // work without resin has no window
	if s.Window != "" && len(l.fit.Batches) > 0 {
		w = l.window(s.Window, batch)
		if !s.Pours && !s.Mixes && !s.Colours { // what is poured now was not warmed
			w.From, w.To = w.From-l.aged, w.To-l.aged
		}
	}
	early := math.Max(0, w.From-l.at)
	if s.AtOnce {
		early = 0
	}
	early = math.Max(early, s.After)
	if s.Warms() {
		early = math.Max(early, l.fit.Flash-l.at)
	}
	ts := Timed{Step: s, From: l.at + early, To: l.at + early + minutes, Window: w, Batch: batch, Early: early}
	if !s.Waiting { // a rest goes on by itself
		l.judge(&ts)
	}
	if s.Pours && batch >= 0 && batch < len(l.fit.Batches) {
		at := &l.fit.Batches[batch]
		if at.From == at.Met {
			at.From = ts.From
		}
		at.Poured = ts.To
	}
	l.aged += passAges * float64(s.passes())
	if s.FlashOff > 0 {
		l.fit.Flash = math.Max(l.fit.Flash, ts.To+s.FlashOff)
	}
	l.at = ts.To
	l.fit.Steps = append(l.fit.Steps, ts)
}

// judge says how much of a step falls after its window.
func (l *Laying) judge(ts *Timed) {
	closes := ts.Window.To
	ts.Late = math.Max(0, ts.To-math.Max(closes, ts.From))
	if spare := closes - ts.To; spare < l.fit.Spare {
		l.fit.Spare, l.fit.Tight = spare, *ts
	}
}

// window is when a phase is open for the batch, or for all batches so far.
func (l *Laying) window(p cure.Phase, batch int) cure.Window {
	w := cure.Window{Phase: p, From: math.Inf(-1), To: math.Inf(1)}
	for k, one := range l.fit.Batches {
		if batch >= 0 && k != batch {
			continue
		}
		v := one.Clock.Window(p)
		w.From, w.To = math.Max(w.From, one.Met+v.From), math.Min(w.To, one.Met+v.To)
	}
	return w
}

// Ways are the schools that change a technique's steps.
type Ways struct {
	NoBed   bool // under a swipe
	Thicken bool // before colours are poured
	AtOnce  bool // pour as soon as it is mixed
	Dosed   bool // pigment waits in the cups
	PartA   bool // pigment is stirred into part A before B is added
}

// thicken is the rest of a studio that pours when the resin has thickened.
var thicken = Step{ID: "let-it-thicken", Name: "Let it thicken", Move: Rest, Window: cure.Holding, Waiting: true,
	Do: "Leave the cups until a line drawn in one begins to hold.", LookFor: "A line that closes slowly."}

// Minutes a cup when it is coloured ahead (common practice): most of the work is
// done before the clock runs.
const (
	doseCup   = 0.6
	stirDosed = 0.25
	colourInA = 0.9
)

// colours returns the steps that stand for colouring after mixing.
func (w Ways) colours(after Step) []Step {
	ahead := Step{ID: "dose-the-cups", Name: "Dose the cups", Doses: true, BeforeMixing: true, PerCup: doseCup,
		Safety: []string{"gloves", "air"},
		Do:     "Weigh or drop each cup's pigment into the empty, labelled cup. Nothing runs yet."}
	if w.PartA {
		ahead.ID, ahead.Name, ahead.PerCup = "colour-part-a", "Colour part A", colourInA
		ahead.Do = "Weigh part A into each cup and stir its pigment in until no streak is left. It keeps until B is added."
		return []Step{ahead}
	}
	stir := after
	stir.ID, stir.Name, stir.PerCup, stir.Doses = "stir-the-doses-in", "Stir the doses in", stirDosed, false
	stir.Do = "Pour the mixed resin on the doses and stir each until no streak is left. White always in a clean cup."
	return []Step{ahead, stir}
}

// With returns the technique as a studio of these schools does it.
func (t Technique) With(w Ways) Technique {
	var out []Step
	for _, s := range t.Steps {
		if s.Bed && w.NoBed && t.BedOptional {
			continue
		}
		if s.Colours && (w.Dosed || w.PartA) {
			out = append(out, w.colours(s)...)
			continue
		}
		if s.Pours && !s.Bed && s.Window == cure.Lacing {
			if w.Thicken && !slices.ContainsFunc(out, func(o Step) bool { return o.ID == thicken.ID }) {
				out = append(out, thicken)
			}
			s.AtOnce = w.AtOnce
		}
		if t.BedOptional && w.NoBed && s.Pours {
			s.Lays = nil // what the bed would have taken lies beside the others
		}
		out = append(out, s)
	}
	t.Steps = out
	return t
}

// Pourings returns for each step that pours the roles it empties; what no
// earlier step took goes into the last.
func (t Technique) Pourings() [][]Role {
	var out [][]Role
	for _, s := range t.Steps {
		if s.Pours {
			out = append(out, s.Lays)
		}
	}
	return out
}

// PourOf returns the place, among the steps that pour, of the one that empties
// a cup of the role: the first that names it, else the last that names none,
// else the last.
func (t Technique) PourOf(r Role) int {
	place := -1
	for i, roles := range t.Pourings() {
		if slices.Contains(roles, r) {
			return i
		}
		if len(roles) == 0 && place < 0 {
			place = i
		}
	}
	if place >= 0 {
		return place
	}
	return max(0, len(t.Pourings())-1)
}
