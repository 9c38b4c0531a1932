package bench

import (
	"cmp"
	"math"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
	"jevvo/internal/studio/session"
	"jevvo/internal/words"
)

// A Score is how a rehearsal went.
type Score struct {
	Hit, Windows int     // steps done inside their windows
	Heat, Heats  int     // heat passes done in time, of those there were
	Wasted       float64 // minutes longer than the steps needed
	Met, Trials  int     // trials answered in time, of those there were
	Points       int     // of 100
	Words        []msg.Text
	Habits       []Habit // those that cost most, dearest first
}

// A Habit is something that cost points again and again, with what to do instead.
type Habit struct {
	Words  msg.Text
	Points float64
	habit  habit
}

// Weights of a score's parts, and what counts as dawdling (common practice).
const (
	windowPoints = 60
	heatPoints   = 25
	timePoints   = 15
	trialPoints  = 20   // taken from the others where there were trials
	lookSlack    = 5    // minutes a look may come before its time
	wastedAll    = 20   // minutes
	slackFactor  = 1.25 // of a step's minutes
	slackMinutes = 0.5
	habits       = 3 // that are named
)

// The habits a step can show.
type habit string

const (
	tooEarly  habit = "early"
	tooLate   habit = "late"
	leftOut   habit = "out"
	heatLate  habit = "heat"
	dawdled   habit = "slow"
	underMix  habit = "mix"
	brokeRest habit = "rest"
	slow      habit = "trial-slow"
	unseen    habit = "trial-unseen"
)

// advice says what to do instead, with how often and how long.
var advice = map[habit]msg.ID{
	tooEarly:  "Too early, %s: wait for the window; until it opens every line closes again.",
	tooLate:   "Too late, %s: lay everything out before mixing, and start the tightest step first.",
	leftOut:   "Steps skipped, %s: plan fewer of them, or a second pair of hands.",
	heatLate:  "Heat at the wrong time, %s: pick up the torch with the sheet, not after it.",
	dawdled:   "Steps took too long, %s: cups in order, tools within reach, one thing at a time.",
	underMix:  "Mixed too short, %s: what is not stirred through never cures.",
	slow:      "Decided late, %s: decide within three minutes, or the film decides for you.",
	unseen:    "Left undecided, %s: say what is wrong and where, even if the answer is hands off.",
	brokeRest: "Rests cut short, %s: set the timer and step away from the table.",
}

// scoring is a score in the making.
type scoring struct {
	Score
	zones  map[int][]msg.Text
	order  []int
	counts map[habit]int
	minute map[habit]float64
	cost   map[habit]float64
}

// ScoreOf judges what was done so far: windows hit, heat passes, minutes wasted;
// then what to do better, zone by zone, and the habits that cost most.
func ScoreOf(b session.Bench) Score {
	batches := b.BatchesMixed()
	if len(batches) == 0 {
		return Score{}
	}
	s := scoring{zones: map[int][]msg.Text{}, counts: map[habit]int{}, minute: map[habit]float64{},
		cost: map[habit]float64{}}
	clock := b.Clock(cure.Constant(b.Room))
	last := batches[0]
	for _, e := range b.Events {
		if e.Undone || (e.What != session.Did && e.What != session.Skip) || e.Step >= len(b.Steps) ||
			e.At.Before(batches[0]) {
			continue
		}
		step := b.Steps[e.Step]
		met := batches[0]
		if step.BatchNo >= 1 && step.BatchNo <= len(batches) {
			met = batches[step.BatchNo-1]
		}
		at, w := e.At.Sub(met).Minutes(), clock.Window(step.Window)
		if ended := pouredBy(b, e.At); step.Kind == plan.StepLook && !ended.IsZero() { // half an hour early is early
			w.From = math.Max(w.From, ended.Sub(met).Minutes()+step.After-lookSlack)
		}
		took := e.At.Sub(last).Minutes()
		last = e.At
		s.judge(step, e.What == session.Did, at, w)
		if step.Kind != plan.StepRest { // waiting for a window is no dawdling
			took = math.Min(took, math.Max(0, at-w.From))
		}
		s.pace(step, e.What == session.Did, took)
	}
	s.trials(b)
	points := windowPoints*part(s.Hit, s.Windows) + heatPoints*part(s.Heat, s.Heats) + timePoints*math.Max(0,
		1-s.Wasted/wastedAll)
	if s.Trials > 0 {
		points = points*(1-trialPoints/100.0) + trialPoints*part(s.Met, s.Trials)
	}
	s.Points = int(math.Round(points))
	s.name()
	return s.Score
}

// pouredBy is when the last work before the looks was over, of what was over by a
// moment.
func pouredBy(b session.Bench, at time.Time) time.Time {
	var last time.Time
	for _, e := range b.Events {
		if e.Undone || e.At.After(at) || e.Step >= len(b.Steps) || e.What != session.Did && e.What != session.Skip {
			continue
		}
		if k := b.Steps[e.Step].Kind; k != plan.StepLook && k != plan.StepTape && e.At.After(last) {
			last = e.At
		}
	}
	return last
}

// trials counts the trials that were answered in their time, and says the others.
func (s *scoring) trials(b session.Bench) {
	for _, a := range b.Answers(b.LastOver()) {
		s.Trials++
		switch {
		case a.Right && a.Took <= wet.TrialTime:
			s.Met++
		case a.Done:
			s.note(slow, a.Took-wet.TrialTime, 1)
		default:
			s.note(unseen, 0, 1)
		}
	}
}

func (s *scoring) judge(step session.Step, done bool, at float64, w cure.Window) {
	timely := done && at >= w.From && at <= w.To
	if step.Heats {
		s.Heats++
		if timely {
			s.Heat++
		}
	}
	if step.Window == "" {
		return
	}
	s.Windows++
	if timely {
		s.Hit++
		return
	}
	h, off := leftOut, 0.0
	text := msg.F("%s: skipped", step.Name)
	if done {
		h, off = tooLate, at-w.To
		text = msg.F("%s: %s too late", step.Name, words.Spoken(off))
		if at < w.From {
			h, off = tooEarly, w.From-at
			text = msg.F("%s: %s too early", step.Name, words.Spoken(off))
		}
	}
	s.note(h, off, 1)
	if step.Heats {
		s.note(heatLate, off, 1)
	}
	if _, seen := s.zones[step.Zone]; !seen {
		s.order = append(s.order, step.Zone)
	}
	s.zones[step.Zone] = append(s.zones[step.Zone], text)
}

// pace looks at how long a step took.
func (s *scoring) pace(step session.Step, done bool, took float64) {
	switch step.Kind {
	case plan.StepHands, plan.StepMix:
		if over := took - slackFactor*step.Minutes - slackMinutes; over > 0 {
			s.Wasted += over
			s.note(dawdled, over, over)
		}
		if step.Kind == plan.StepMix && done && took < step.Minutes-slackMinutes {
			s.note(underMix, step.Minutes-took, step.Minutes-took)
		}
	case plan.StepRest:
		if done && took < step.Minutes-slackMinutes {
			s.note(brokeRest, step.Minutes-took, 1)
		}
	}
}

// note counts a habit; cost is in steps for those of windows and in minutes for
// those of time.
func (s *scoring) note(h habit, minutes, cost float64) {
	s.counts[h]++
	s.minute[h] += minutes
	s.cost[h] += cost
}

// points are the points of a hundred that a habit costs; mixing short costs the coat.
func (s *scoring) points(h habit) float64 {
	switch h {
	case heatLate:
		return heatPoints * s.cost[h] / float64(max(1, s.Heats))
	case dawdled:
		return timePoints * math.Min(1, s.cost[h]/wastedAll)
	case slow, unseen:
		return trialPoints * s.cost[h] / float64(max(1, s.Trials))
	case underMix, brokeRest:
		return timePoints * s.cost[h] / 3
	}
	return windowPoints * s.cost[h] / float64(max(1, s.Windows))
}

// name puts zones and habits in words.
func (s *scoring) name() {
	for _, zone := range s.order {
		text := msg.Join("; ", s.zones[zone]...)
		if zone > 0 {
			text = msg.F("Zone %d. %s", zone, text)
		}
		s.Words = append(s.Words, msg.F("%s.", text))
	}
	for h, n := range s.counts {
		times := msg.N(n, "time", "times")
		if m := s.minute[h]; m > 0 {
			times = msg.F("%s, %s in all", times, words.Spoken(m))
		}
		s.Habits = append(s.Habits, Habit{msg.F(advice[h], times), s.points(h), h})
	}
	slices.SortFunc(s.Habits, func(a, b Habit) int {
		return cmp.Or(cmp.Compare(b.Points, a.Points), cmp.Compare(a.habit, b.habit))
	})
	s.Habits = s.Habits[:min(len(s.Habits), habits)]
}

func part(n, of int) float64 {
	if of == 0 {
		return 1
	}
	return float64(n) / float64(of)
}
