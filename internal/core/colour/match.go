package colour

import (
	"context"
	"math"
	"slices"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Candidate is a pigment that may go into a recipe.
type Candidate struct {
	Optics Optics  // at full strength
	Limit  float64 // most of it by mass of mixed resin
	// Measured says that a drawdown stands behind its optics.
	Measured bool
}

// A Query asks which cup comes nearest to a colour that is seen.
type Query struct {
	Target  Lab
	Backing Spectrum     // what lies under the film, inside the resin
	Film    units.Length // its thickness
	Surface Surface      // of the finished film
	Best    int          // how many recipes to return; 3 when 0
}

// A Recipe is pigments with their loads and what they come to.
type Recipe struct {
	Parts      []RecipePart
	Lab        Lab
	Film       Spectrum // as it is seen
	Difference float64  // CIEDE2000 from the target
	// Unsure is how far, in CIEDE2000, the colour may lie off because the
	// pigments are not exactly as strong as they are taken for.
	Unsure float64
	// Measured says that a drawdown stands behind every pigment.
	Measured bool
}

// A RecipePart is one pigment of a recipe, by its place among the candidates.
type RecipePart struct {
	Candidate int
	Load      float64
}

// leastLoad is the least of a pigment that is worth opening its bottle for:
// below it a cup of 50 g gets less than a fifth of a drop.
const leastLoad = 2e-4

// Strength is how well the strength of a pigment is known (from memory): by its
// swatch, and by a drawdown.
const (
	guessedStrength  = 0.20
	measuredStrength = 0.05
)

func (q Query) check() (Query, error) {
	if q.Best == 0 {
		q.Best = 3
	}
	if !(q.Film > 0) || q.Best < 0 {
		return q, refusal.New("matching a colour needs a film thickness")
	}
	return q, nil
}

// Match returns the recipes of up to three candidates that come nearest to the
// target, best first, one for each set of pigments. Loads are continuous, each
// within its limit and together within Σ load/limit ≤ 1. Every set is looked at
// from a coarse scatter of loads in a third of the bands; the most promising are
// refined in all of them, by Levenberg–Marquardt in CIELAB and then in
// CIEDE2000. It ends with ctx.
func Match(ctx context.Context, q Query, candidates []Candidate) ([]Recipe, error) {
	q, err := q.check()
	if err != nil {
		return nil, err
	}
	if len(candidates) == 0 {
		return nil, refusal.New("there is no pigment to mix from")
	}
	f := newFitter(q, candidates)
	starts, err := screen(ctx, q, candidates)
	if err != nil {
		return nil, err
	}
	fits := make([]fit, 0, len(starts))
	for _, s := range starts {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if s, ok := f.fit(s); ok {
			fits = append(fits, s)
		}
	}
	slices.SortStableFunc(fits, func(a, b fit) int { return compare(a.difference, b.difference) })
	fits = fits[:min(len(fits), 4*q.Best)]
	out := make([]Recipe, 0, len(fits))
	for _, s := range fits {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		out = append(out, q.descend(q.judge(s.parts(candidates), candidates), candidates))
	}
	slices.SortStableFunc(out, func(a, b Recipe) int { return compare(a.Difference, b.Difference) })
	return out[:min(q.Best, len(out))], nil
}

func compare(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// seen is the film of some doses as it is looked at.
func (q Query) seen(doses []Dose) Spectrum {
	return q.Surface.Out(Cup(doses).Over(q.Backing, q.Film))
}

// judge calculates what a recipe comes to.
func (q Query) judge(parts []RecipePart, candidates []Candidate) Recipe {
	doses := make([]Dose, len(parts))
	for i, p := range parts {
		doses[i] = Dose{candidates[p.Candidate].Optics, p.Load}
	}
	film := q.seen(doses)
	lab := film.Lab()
	return Recipe{Parts: parts, Lab: lab, Film: film, Difference: Difference(q.Target, lab)}
}

// Doubted returns the recipe with how unsure its colour is: what each pigment's
// strength may be off, added in squares.
func (q Query) Doubted(r Recipe, candidates []Candidate) Recipe {
	sum := 0.0
	r.Measured = true
	for i, p := range r.Parts {
		off := guessedStrength
		if c := candidates[p.Candidate]; c.Measured {
			off = measuredStrength
		} else {
			r.Measured = false
		}
		parts := slices.Clone(r.Parts)
		parts[i].Load *= 1 + off
		d := Difference(r.Lab, q.judge(parts, candidates).Lab)
		sum += d * d
	}
	r.Unsure = math.Sqrt(sum)
	return r
}

// Refine improves a recipe further: each of extra (a white, a black) is added
// where it helps enough for another bottle. It ends with ctx.
func Refine(ctx context.Context, q Query, r Recipe, candidates []Candidate, extra []int) (Recipe, error) {
	q, err := q.check()
	if err != nil {
		return r, err
	}
	best := q.descend(r, candidates)
	for _, e := range extra {
		if err := ctx.Err(); err != nil {
			return r, err
		}
		if best.has(e) {
			continue
		}
		trial := best
		trial.Parts = withRoom(append(slices.Clone(best.Parts), RecipePart{e, candidates[e].Limit / 20}), candidates)
		trial = q.descend(q.judge(trial.Parts, candidates), candidates)
		if trial.Difference < best.Difference-worthwhile {
			best = trial
		}
	}
	return best, nil
}

// worthwhile is the least gain in CIEDE2000 that justifies another bottle.
const worthwhile = 0.3

func (r Recipe) has(candidate int) bool {
	return slices.ContainsFunc(r.Parts, func(p RecipePart) bool { return p.Candidate == candidate })
}

// used is how much of their limits the parts take together.
func used(parts []RecipePart, candidates []Candidate) float64 {
	sum := 0.0
	for _, p := range parts {
		sum += p.Load / candidates[p.Candidate].Limit
	}
	return sum
}

// withRoom scales parts down to what their limits allow together.
func withRoom(parts []RecipePart, candidates []Candidate) []RecipePart {
	if u := used(parts, candidates); u > 1 {
		for i := range parts {
			parts[i].Load /= u
		}
	}
	return parts
}

// descend is a pattern search in CIEDE2000: each load in turn goes up or down by
// a factor, which shrinks when no move helps.
func (q Query) descend(r Recipe, candidates []Candidate) Recipe {
	best := q.judge(r.Parts, candidates)
	for step := 1.15; step > 1.002; {
		moved := false
		for i := range best.Parts {
			for _, f := range []float64{step, 1 / step} {
				parts := slices.Clone(best.Parts)
				parts[i].Load *= f
				if parts[i].Load < leastLoad || used(parts, candidates) > 1+1e-12 {
					continue
				}
				if trial := q.judge(parts, candidates); trial.Difference < best.Difference-1e-6 {
					best, moved = trial, true
				}
			}
		}
		if !moved {
			step = math.Sqrt(step)
		}
	}
	return best
}
