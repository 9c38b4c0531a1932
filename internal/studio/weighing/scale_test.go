package weighing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/msg"
)

// A batch runs from when its parts first met in one cup. Another cup of it, more of a part in the
// same one, or a part that is weighed again, does not start it anew; another batch has its own.
func TestABatchRunsFromItsFirstMeeting(t *testing.T) {
	noon := time.Date(2026, 3, 2, 12, 0, 0, 0, time.UTC)
	pour := func(what resin.PartName, minute int) Poured {
		return Poured{What: string(what), At: noon.Add(time.Duration(minute) * time.Minute)}
	}
	cup := func(batch int, pours ...Poured) Cup {
		c := Cup{BatchNo: batch, Pours: pours}
		for _, p := range pours {
			if p.What == string(resin.PartA) {
				c.A += 20
			} else {
				c.B += 10
			}
		}
		return c
	}
	first := cup(1, pour(resin.PartA, 1), pour(resin.PartB, 3))
	met := func(cups ...Cup) []time.Time { return Weighing{Cups: cups}.Met() }
	at := func(minutes ...int) (out []time.Time) {
		for _, m := range minutes {
			out = append(out, noon.Add(time.Duration(m)*time.Minute))
		}
		return out
	}
	assert.Empty(t, met(cup(1, pour(resin.PartA, 1))), "one part alone meets nothing")
	assert.Equal(t, at(3), met(first))
	assert.Equal(t, at(3), met(cup(1, append(first.Pours, pour(resin.PartB, 9), pour(resin.PartA, 12))...)), "topped up")
	second := cup(1, pour(resin.PartA, 5), pour(resin.PartB, 6))
	assert.Equal(t, at(3), met(first, second), "its second cup")
	assert.Equal(t, at(3), met(second, first), "in whatever order they stand")
	other := cup(2, pour(resin.PartB, 20), pour(resin.PartA, 25))
	assert.Equal(t, at(3, 25), met(first, other, second))
	assert.Empty(t, met(other), "the second lot is no first")
	assert.Equal(t, at(3), met(cup(0, first.Pours...)), "what is in no lot is in the first")
}

// What was weighed stands beside what was planned, a short dose too; no ratio is off by a negative nothing.
func TestTheReportSetsWhatWasPlannedBeside(t *testing.T) {
	p := material.Product{Product: resin.Product{RatioA: 2, RatioB: 1, By: resin.ByWeight}}
	w := Weighing{Product: p, Cups: []Cup{
		{A: 200, B: 99.98, Pigment: 12.9, Dyes: []Dye{{Load: 0.05}}},
		{A: 200, B: 110},
		{Mixed: 100, Pigment: 4.5, Dyes: []Dye{{Load: 0.03}, {Load: 0.015}}},
	}}
	r := w.Report()
	said := []string{}
	for _, c := range r {
		said = append(said, msg.Say(c.Off, msg.English))
	}
	assert.Equal(t, []string{"0.0 %", "+10.0 %", "–"}, said)
	assert.InDelta(t, 15.0, float64(r[0].PlanPigment), 0.01)
	assert.Zero(t, r[1].PlanPigment)
	assert.InDelta(t, 4.5, float64(r[2].PlanPigment), 1e-9)
}
