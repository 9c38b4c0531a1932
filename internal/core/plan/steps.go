package plan

import (
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
)

// StepKind is a step's effect on the clock.
type StepKind string

// The kinds of steps.
const (
	StepBefore StepKind = "before" // before mixing begins
	StepMix    StepKind = "mix"    // starts a batch's clock
	StepHands  StepKind = "hands"  // work
	StepRest   StepKind = "rest"   // wait, hands free
	StepLook   StepKind = "bubbles"
	StepTape   StepKind = "tape"
)

// A Step is one thing to do on the day of a coat.
type Step struct {
	Name     msg.Text
	Do       msg.Text
	LookFor  msg.Text
	HotDo    msg.Text // instead of Do where no flame may go
	Kind     StepKind
	Window   cure.Phase
	From, To float64 // minutes after the parts of the first batch met; before it, negative
	Minutes  float64
	Batch    int // that it works on, from 0; −1 for all that are poured
	Safety   []string
	Heats    bool
	Pours    bool
	FlashOff float64 // minutes what it lays stays flammable
	Late     float64 // minutes of it that fall after its window closes
	Adds     []string
	Zones    int    // worked zone by zone; 0 for all at once
	Order    string // of the zones
	After    float64
	Round    int      // of a look: the attendance it belongs to
	Hands    int      // who of the crew does it, from 0
	Mixing   bool     // it makes a batch: mixes or colours it
	Doses    bool     // pigment is measured in it
	Cups     []string // that it empties
	Of       string   // id of the technique's step it is, or is a beat of
	Moves    []string // of the coat that it is
	Laid     []technique.Laid
	Optional bool
	Move     technique.MoveKind
	AtOnce   bool // it does not wait for its window
	Place    technique.Place
	Where    string  // on the board, in the painter's words
	Usual    float64 // minutes by the library
	beats    []technique.Beat
	people   int
}

// looks are the passes of the first hour (common practice: bubbles at 15, 30,
// 45 and 60 minutes), and the rounds they are attended in.
var looks = []struct {
	after float64
	round int
}{{15, 1}, {30, 1}, {45, 2}, {60, 2}}

// At returns the time of a minute after the first mixing began.
func (c *Coat) At(minute float64) time.Time { return c.Met.Add(Minutes(minute)) }

// Looks are the minutes, after the first mixing began, of the looks for bubbles
// after the pour; none where hands must be off.
func (c *Coat) Looks() []float64 {
	var out []float64
	for _, l := range looks {
		if at := max(c.Fit.Ends+l.after, c.Fit.Flash); at < c.Clock.Window(cure.Stringy).From {
			out = append(out, at)
		}
	}
	return out
}

// inkFlashOff is how long inks and liquid metal in a cup stay flammable once
// they are poured (common practice).
const inkFlashOff = 10

// Steps lists what is done on the day of a coat, in order: preparation, the
// technique batch by batch, the looks after the pour, the tape.
func (p *Plan) Steps(c *Coat) []Step {
	job := p.job(c)
	var out []Step
	at := -c.Prep.Minutes()
	for _, s := range p.Preparation(c) {
		m := s.Minutes(job)
		step := stepOf(s, StepBefore)
		step.Window, step.From, step.To, step.Minutes, step.Usual = "", at, at+m, m, usual(s, m)
		out = append(out, p.guarded(step))
		at += m
	}
	for _, t := range c.Fit.Steps {
		kind := StepHands
		switch {
		case t.Mixes:
			kind = StepMix
		case t.Waiting:
			kind = StepRest
		}
		step := stepOf(t.Step, kind)
		step.From, step.To, step.Minutes, step.Batch, step.Late = t.From, t.To, t.To-t.From, t.Batch, t.Late
		step.Hands, step.Usual = t.Hands(c.crew()), usual(t.Step, step.Minutes)
		if t.Pours {
			step.Cups = c.emptied(t)
		}
		step.Move, step.AtOnce, step.Optional, step.Place, step.Where, step.Moves, step.Laid = t.Step.Move, t.AtOnce,
			t.Optional, t.Place, t.Where, t.Moves, t.Laid
		if t.Reverse {
			step.Do = msg.Sentences(step.Do, c.stacked())
		}
		if z := t.Zones(job); z > 1 || len(t.Beats) > 0 {
			step.Zones, step.Order, step.beats, step.people = z, t.Order, t.Beats, c.crew()
		}
		if t.Pours && p.pours(c, t.Takes) {
			step.Safety = append(slices.Clone(step.Safety), "ink")
		}
		out = append(out, p.guarded(step))
	}
	return append(out, p.watch(c)...)
}

// usual scales the library's minutes to a studio's own pace.
func usual(s technique.Step, minutes float64) float64 {
	if s.Pace > 0 {
		return minutes / s.Pace
	}
	return minutes
}

// stacked says in which order cups are layered so that they come out in the order
// of the coat: the first in is the last out.
func (c *Coat) stacked() msg.Text {
	var names []string
	for _, cup := range c.Cups {
		if cup.Colour.ID != reserveCup && cup.Colour.Role.Rule().Tints {
			names = append(names, cup.Colour.Name)
		}
	}
	if len(names) < 2 {
		return nil
	}
	out := strings.Join(names, ", ")
	slices.Reverse(names)
	return msg.F("In goes %s; out comes %s.", strings.Join(names, ", "), out)
}

// emptied returns the cups a pouring step takes out of its batch.
func (c *Coat) emptied(t technique.Timed) []string {
	var out []string
	for k, batch := range c.Batches {
		if t.Batch >= 0 && t.Batch != k {
			continue
		}
		for _, f := range batch.Feeds {
			if slices.ContainsFunc(t.Takes, func(x technique.Take) bool { return x.Cup == f.Cup }) &&
				!slices.Contains(out, f.Cup) {
				out = append(out, f.Cup)
			}
		}
	}
	return out
}

func stepOf(s technique.Step, kind StepKind) Step {
	return Step{Name: s.Name, Do: s.Do, LookFor: s.LookFor, HotDo: s.HotDo, Kind: kind, Window: s.Window, Safety: s.Safety,
		Heats: s.Heats,
		Pours: s.Pours, FlashOff: s.FlashOff, Adds: s.Adds, Batch: -1, Mixing: s.Mixes || s.Colours, Doses: s.Doses, Of: s.ID}
}

// guarded says hot air where a step would bring a flame near a tape dam.
func (p *Plan) guarded(s Step) Step {
	if !p.Spec.Edge.Rule().Taped || !s.Heats {
		return s
	}
	if msg.Is(s.HotDo) { // one instruction, not a flame and its exception
		s.Do = s.HotDo
		s.Safety = slices.DeleteFunc(slices.Clone(s.Safety), func(k string) bool { return k == "flame" })
	} else {
		s.Do = msg.Sentences(s.Do, NearDam)
	}
	if !slices.Contains(s.Safety, "hotair") {
		s.Safety = append(slices.Clone(s.Safety), "hotair")
	}
	return s
}

// NearDam is the caution of a step with a flame on a board with a tape dam.
const NearDam msg.ID = "Within a hand of the tape dam use hot air, never a flame."

// watch are the looks after the pour, then the tape by the studio's school.
func (p *Plan) watch(c *Coat) []Step {
	var out []Step
	stringy := c.Clock.Window(cure.Stringy).From
	for _, l := range looks {
		if at := max(c.Fit.Ends+l.after, c.Fit.Flash); at < stringy {
			out = append(out, p.guarded(Step{Name: msg.ID("Look for bubbles"), Kind: StepLook, After: l.after, Round: l.round,
				From: at,
				To:   at + 2, Minutes: 2, Batch: -1, Heats: true,
				Window: cure.Holding, Safety: []string{"flame", "respirator"},
				Do: msg.ID("Lift the cover, look along the light, a quick pass only where a bubble stands. Cover again."),
				HotDo: msg.ID("Lift the cover, look along the light, a breath of hot air only where a bubble stands. " +
					"Cover again.")}))
		}
	}
	if !p.Spec.Taped() {
		return out
	}
	tape := Step{Name: msg.ID("Pull the tape"), Kind: StepTape, Window: cure.SoftSet, Minutes: tapeHands, Batch: -1,
		Do:      msg.ID("Slowly, away from the film, while it is soft-set."),
		LookFor: msg.ID("An edge that rounds over behind the tape.")}
	newest := c.Fit.Batches[len(c.Fit.Batches)-1]
	switch p.tapeWay(c) {
	case school.TapeMinutes:
		tape.Window, tape.After = "", c.Layer.Coat.TapeAfter
		tape.From = c.Fit.Ends + tape.After
	case school.TapeRuns:
		tape.Window, tape.After = "", c.Layer.Coat.TapeAfter
		tape.From, _ = p.LetGo(c)
		tape.Do = msg.ID("While it still runs. Let it go over the side, then feed the bare places by hand from " +
			"what is left " +
			"in the cups.")
		tape.LookFor = msg.ID("A side that is wet from edge to edge, and corners that are covered.")
	case school.TapeHour:
		tape.Window, tape.After = "", 60
		tape.From = c.Fit.Ends + 60
		tape.Do = msg.ID("Slowly, away from the film; it still creeps, so let it round over and look again.")
	case school.TapeNext:
		tape.Window = cure.Hard
		tape.From = newest.Met + newest.Clock.Window(cure.Hard).From
		tape.Do, tape.Safety = msg.ID("Warm the edge with air, then slowly, away from the film."), []string{"hotair"}
	default:
		tape.From = newest.Met + newest.Clock.Window(cure.SoftSet).From
	}
	tape.To = tape.From + tape.Minutes
	if c.Layer.Coat.TapeFirst == "" {
		tape.Do = msg.Sentences(tape.Do, TapeAcross)
	}
	return append(out, tape)
}

// TapeAcross is how tape comes off where no side was chosen to be the first.
const TapeAcross msg.ID = "One side, then the opposite one, the other two last."

// tapeWay is when a coat's tape comes off: as it says itself, else by the
// studio's school, which is given up where it cannot be kept.
func (p *Plan) tapeWay(c *Coat) string {
	if own := c.Layer.Coat.Tape; own != "" {
		return own
	}
	if p.Timing.LooseTape {
		return school.TapeNext
	}
	return p.Context.Schools.Way(school.Tape)
}

// A ZonedStep is a step, or one beat of it in one zone.
type ZonedStep struct {
	Step
	Zone int // from 1; 0 for a step that takes everything at once
}

// Zoned repeats the beats of steps that are worked zone by zone.
func Zoned(steps []Step) []ZonedStep {
	var out []ZonedStep
	for _, s := range steps {
		if s.Zones == 0 {
			out = append(out, ZonedStep{Step: s})
			continue
		}
		beats := s.beats
		if len(beats) == 0 {
			beats = []technique.Beat{{Part: 1, Heats: s.Heats}}
		}
		for z := 1; z <= s.Zones; z++ {
			for _, b := range beats {
				one := ZonedStep{Step: s, Zone: z}
				one.Heats = b.Heats
				if b.Name != "" {
					one.Name, one.Do = b.Name, b.Do
				}
				one.Hands = technique.Step{Heats: b.Heats}.Hands(s.people)
				one.Minutes, one.Usual = s.Minutes/float64(s.Zones)*b.Part, s.Usual/float64(s.Zones)*b.Part
				out = append(out, one)
			}
		}
	}
	return out
}
