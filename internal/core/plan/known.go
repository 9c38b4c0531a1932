package plan

import (
	"slices"
	"sync"
)

// A past is the same piece with what was known when its coats were begun: an amount
// that was poured does not change with what later uses teach.
type past struct {
	mu     sync.Mutex
	ratios []float64
	plan   *Plan
}

// asKnown returns the piece as it was calculated when its coats were begun: p itself
// unless something was learnt since.
func (p *Plan) asKnown(t Timing) *Plan {
	ratios, changed := make([]float64, len(p.Coats)), false
	for i := range p.Coats {
		c := &p.Coats[i]
		ratios[i] = p.learnedBy(c, t).Ratio()
		changed = changed || ratios[i] != c.Learned.Ratio()
	}
	if !changed {
		return p
	}
	p.past.mu.Lock()
	defer p.past.mu.Unlock()
	if p.past.plan == nil || !slices.Equal(p.past.ratios, ratios) {
		then, err := Evaluate(p.Spec, p.Context, t)
		if err != nil {
			return p
		}
		p.past.ratios, p.past.plan = ratios, then
	}
	return p.past.plan
}

// learnedBy is the record of a coat's technique when it was begun.
func (p *Plan) learnedBy(c *Coat, t Timing) Learned {
	return p.Context.Learned[c.Technique.ID].Until(t.Happened[PourKey(c.ID)].Start)
}
