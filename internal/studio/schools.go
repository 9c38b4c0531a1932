package studio

import (
	"fmt"
	"slices"

	"jevvo/internal/core/units"
)

// A School is a question painters answer differently (handbook 10), with a
// default and its reason.
type School struct {
	Key, Question string
	Ways          []Way
	Default       string
	Reason        string
}

// A Way is one answer.
type Way struct{ Key, Words string }

// The keys of schools that plans ask for.
const (
	SchoolMeasure  = "measure"
	SchoolPrime    = "prime"
	SchoolMakers   = "makers"
	SchoolSides    = "sides"
	SchoolTape     = "tape"
	SchoolPour     = "pour"
	SchoolBed      = "bed"
	SchoolSilicone = "silicone"
)

// Schools holds the questions; how the next coat is laid stands with them as a
// setting of its own.
var Schools = []School{
	{SchoolMeasure, "Measure resin", []Way{{"weigh", "by weight on a scale"}, {"volume", "by volume in a jug"}}, "weigh", "a gram is easier to hit than a line seen aslant"},
	{SchoolPrime, "Prime bare wood", []Way{{"always", "always"}, {"skip", "skip it under two or more coats"}}, "always", "wood breathes and makes bubbles without end"},
	{SchoolMakers, "Pigments of one piece", []Way{{"same", "of one maker"}, {"mixed", "of several, on purpose"}}, "same", "pastes of one maker flow alike; unlike ones repel and open more cells"},
	{SchoolSides, "Sides", []Way{{"run-over", "run over and painted near the colour"}, {"taped", "taped off"}, {"painted", "painted after"}}, "run-over", "no edge of tape to lift, and the paint covers what stays thin"},
	{SchoolTape, "Tape comes off", []Way{{"soft", "at soft set"}, {"hour", "after an hour"}, {"next", "next day with warm air"}}, "soft", "the edge rounds over and nothing tears"},
	{SchoolPour, "Pour", []Way{{"technique", "as the technique wants"}, {"once", "at once"}, {"thicken", "when it has thickened"}}, "technique", "some moves want it runny, some want it rested"},
	{SchoolBed, "Under a swipe", []Way{{"bed", "a clear or base bed"}, {"none", "no bed"}}, "bed", "the sheet glides and the white has something to lace on"},
	{SchoolSilicone, "Silicone", []Way{{"none", "none"}, {"few", "a few drops in the accents"}}, "none", "it leaves fish eyes in the next coat"},
}

// School returns the studio's way of a question.
func (s Settings) School(key string) string {
	if way, ok := s.Ways[key]; ok {
		return way
	}
	for _, q := range Schools {
		if q.Key == key {
			return q.Default
		}
	}
	return ""
}

func schoolFields() Fields[Settings] {
	var out Fields[Settings]
	for _, q := range Schools {
		out = append(out, Field[Settings]{"school." + q.Key, q.Question,
			func(s *Settings, _ units.System) string { return s.School(q.Key) },
			func(s *Settings, text string, _ units.System) (string, error) {
				if !slices.ContainsFunc(q.Ways, func(w Way) bool { return w.Key == text }) {
					return "", fmt.Errorf("%q is not one of the ways", text)
				}
				ways := map[string]string{q.Key: text}
				for k, v := range s.Ways {
					if k != q.Key {
						ways[k] = v
					}
				}
				s.Ways = ways
				return "", nil
			}})
	}
	return out
}

// DefaultWords is the default in words.
func (q School) DefaultWords() string {
	for _, w := range q.Ways {
		if w.Key == q.Default {
			return w.Words
		}
	}
	return q.Default
}
