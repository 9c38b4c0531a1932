package bench

import (
	"fmt"
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/studio/session"
	"jevvo/internal/words"
)

// A Score is how a rehearsal went.
type Score struct {
	Hit, Windows int     // steps done inside their windows
	Heat, Heats  int     // heat passes done in time, of those there were
	Wasted       float64 // minutes longer than the steps needed
	Points       int     // of 100
	Words        []string
}

// Weights of a score's parts, and what counts as dawdling (common practice).
const (
	windowPoints = 60
	heatPoints   = 25
	timePoints   = 15
	wastedAll    = 20   // minutes
	slackFactor  = 1.25 // of a step's minutes
	slackMinutes = 0.5
)

// ScoreOf judges what was done so far: windows hit, heat passes, minutes wasted.
func ScoreOf(b session.Bench) Score {
	var s Score
	lots := b.LotsMet()
	if len(lots) == 0 {
		return s
	}
	clock := b.Clock(cure.Constant(b.Room))
	last := lots[0]
	for _, e := range b.Events {
		if e.Undone || (e.What != session.Did && e.What != session.Skip) || e.Step >= len(b.Steps) || e.At.Before(lots[0]) {
			continue
		}
		step := b.Steps[e.Step]
		met := lots[0]
		if step.Lot >= 1 && step.Lot <= len(lots) {
			met = lots[step.Lot-1]
		}
		took := e.At.Sub(last).Minutes()
		last = e.At
		s.judge(step, e.What == session.Did, e.At.Sub(met).Minutes(), clock.Window(step.Window))
		if step.Kind == plan.StepHands || step.Kind == plan.StepMix {
			s.Wasted += math.Max(0, took-slackFactor*step.Minutes-slackMinutes)
		}
	}
	s.Points = int(math.Round(windowPoints*part(s.Hit, s.Windows) + heatPoints*part(s.Heat, s.Heats) + timePoints*math.Max(0, 1-s.Wasted/wastedAll)))
	return s
}

func (s *Score) judge(step session.Step, done bool, at float64, w cure.Window) {
	timely := done && at >= w.From && at <= w.To
	if step.Window != "" {
		s.Windows++
		switch {
		case timely:
			s.Hit++
		case done:
			s.Words = append(s.Words, fmt.Sprintf("%s: %s", step.Name, missed(at, w)))
		default:
			s.Words = append(s.Words, step.Name+": left out")
		}
	}
	if step.Heats {
		s.Heats++
		if timely {
			s.Heat++
		}
	}
}

func missed(at float64, w cure.Window) string {
	if at < w.From {
		return words.Spoken(w.From-at) + " too early"
	}
	return words.Spoken(at-w.To) + " too late"
}

func part(n, of int) float64 {
	if of == 0 {
		return 1
	}
	return float64(n) / float64(of)
}
