package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// cutting is the search for the batches of one coat.
type cutting struct {
	plan   *Plan
	coat   Coat
	clock  *cure.Clock
	most   units.Volume
	pours  []serving
	total  units.Volume
	breaks []units.Volume // running sums at which a cup ends
	keeps  map[batchKey]float64

	start   *technique.Laying // before the first mixing
	of      []float64         // mL of each pouring step
	pouring int               // steps that pour
}

// better reports whether one way is better than another: nothing stands too
// long, sooner done, fewer batches.
func (k *cutting) better(o *cutting) bool {
	a, b := k.coat.overdue(), o.coat.overdue()
	switch {
	case math.Abs(a-b) > 0.05:
		return a < b
	case math.Abs(k.coat.Fit.Ends-o.coat.Fit.Ends) > 1e-9:
		return k.coat.Fit.Ends < o.coat.Fit.Ends
	}
	return len(k.coat.Batches) < len(o.coat.Batches)
}

// overdue is how many minutes the batches stand beyond what they keep.
func (c *Coat) overdue() float64 {
	sum := 0.0
	for _, l := range c.Batches {
		sum += l.Overdue
	}
	return sum
}

func (k *cutting) solve() error {
	c := &k.coat
	k.keeps, k.pours = map[batchKey]float64{}, c.servings()
	for _, s := range k.pours {
		k.total += s.Volume
		k.breaks = append(k.breaks, k.total)
	}
	k.most = k.plan.largestBatch(c)
	c.LargestBatch, c.BoundByAge = k.most, false
	if c.Mixing == school.MixingCups {
		return k.lay(k.cupwise())
	}
	least := max(1, int(math.Ceil(float64(k.total/k.most)-1e-9)))
	if err := k.lay(k.snapped(k.equal(least))); err != nil || k.coat.overdue() == 0 {
		return err
	}
	if err := k.lay(k.equal(least)); err != nil || k.coat.overdue() == 0 || k.together() {
		return err
	}
	return k.fewest()
}

// together reports whether all batches must be there at once: no other sizes would
// make them wait less.
func (k *cutting) together() bool {
	return slices.ContainsFunc(k.coat.Technique.Steps, func(s technique.Step) bool { return s.Together })
}

// largestBatch is the largest batch of a coat: what the product allows to stand,
// what the largest mixing cup holds.
func (p *Plan) largestBatch(c *Coat) units.Volume {
	most := c.Product.MaxBatch
	if c.Mixing != school.MixingCups || most <= 0 {
		most = minPositive(most, p.largestJug())
	}
	return most
}

// largestJug is what the largest mixing cup of the studio holds.
func (p *Plan) largestJug() units.Volume {
	if p.Context.Jug > 0 {
		return p.Context.Jug
	}
	return UsualJug
}

func minPositive(a, b units.Volume) units.Volume {
	if a <= 0 {
		return b
	}
	return min(a, b)
}

// equal cuts the coat into n batches of one size.
func (k *cutting) equal(n int) []units.Volume {
	out := make([]units.Volume, n)
	for i := range out {
		out[i] = k.total * units.Volume(i+1) / units.Volume(n)
	}
	return out
}

// snapping is how far, as a part of a batch, a cut is moved so that a cup is
// not coloured twice (common practice).
const snapping = 0.15

// brimful is how much larger than allowed a batch may be, as a part of it, where otherwise a cup
// would be mixed in two batches for a few drops: largest batches are said to the nearest ten
// millilitres or more (common practice).
const brimful = 0.02

// snapped moves cuts to where a cup ends, where one ends near and no batch
// becomes too large by it. In a studio that measures by volume the others fall
// on the marks of its jug.
func (k *cutting) snapped(cuts []units.Volume) []units.Volume {
	out := slices.Clone(cuts)
	each, most := k.total/units.Volume(len(cuts)), k.brim()
	for i := range out[:len(out)-1] {
		before := units.Volume(0)
		if i > 0 {
			before = out[i-1]
		}
		at := k.marked(out[i], before)
		for _, b := range k.breaks {
			next := out[i+1]
			if units.Volume(math.Abs(float64(b-out[i]))) <= snapping*each && b-before <= most && next-b <= most &&
				b > before && b < next {
				at = b
			}
		}
		out[i] = at
	}
	return out
}

// brim is the largest batch where that spares a cup: a little more than the product allows, never more
// than the mixing cup holds.
func (k *cutting) brim() units.Volume {
	return max(k.most, min(k.most*(1+brimful), k.plan.largestJug()))
}

// marked is a cut on a mark of the jug, for a studio that measures by volume.
func (k *cutting) marked(cut, before units.Volume) units.Volume {
	step := k.plan.Context.JugStep
	if k.plan.Context.Schools.Way(school.Measure) != school.MeasureVolume || step <= 0 {
		return cut
	}
	at := before + units.Volume(math.Ceil(float64((cut-before)/step)-1e-9))*step
	if at >= k.total || at-before > k.most {
		return cut
	}
	return at
}

// cupwise gives each cup a batch of its own, or several where it is larger than
// one may be.
func (k *cutting) cupwise() []units.Volume {
	var out []units.Volume
	at := units.Volume(0)
	for _, s := range k.merged() {
		n := max(1, math.Ceil(float64(s/max(k.most, 1))-1e-9))
		for i := range int(n) {
			out = append(out, at+s*units.Volume(i+1)/units.Volume(n))
		}
		at += s
	}
	return out
}

// merged are the volumes of the pours in order, those of one cup that follow
// each other together.
func (k *cutting) merged() []units.Volume {
	var out []units.Volume
	last := ""
	for _, s := range k.pours {
		if s.cup.Colour.ID == last && len(out) > 0 {
			out[len(out)-1] += s.Volume
			continue
		}
		out, last = append(out, s.Volume), s.cup.Colour.ID
	}
	return out
}

// fewest cuts along the clock: each batch as large as it can be and still is
// poured while it keeps, then all of them as equal as that number allows.
func (k *cutting) fewest() error {
	k.coat.BoundByAge = true
	k.begin()
	best := k.greedy(k.most)
	least := max(1, int(math.Ceil(float64(k.total/k.most)-1e-9)))
	for m := least; m < len(best) && m <= mostTried; m++ {
		if cuts := k.search(k.grid(), cut{state: k.start}, m); cuts != nil {
			best = cuts
			break
		}
	}
	if err := k.lay(best); err != nil {
		return err
	}
	stands := k.coat.overdue()
	low, high := k.total/units.Volume(len(best)), k.most
	rounds := 4
	if len(best) > mostEvened {
		rounds = 0
	}
	for range rounds {
		mid := (low + high) / 2
		if cuts := k.greedy(mid); len(cuts) <= len(best) && k.lay(cuts) == nil && k.coat.overdue() <= stands+1e-9 {
			best, high = cuts, mid
		} else {
			low = mid
		}
	}
	if snapped := k.snapped(best); k.lay(snapped) == nil && k.coat.overdue() <= stands+1e-9 {
		best = snapped
	}
	err := k.lay(best)
	k.bounds(best)
	return err
}

// mostEvened is from how many batches on nobody minds that they differ.
const mostEvened = 12

// mostTried is how many batches are looked for one way after another, and
// fineness into how many parts a coat is divided for that.
const (
	mostTried = 3
	fineness  = 24
)

// grid is where a batch may end when all ways are tried: where a cup ends, and at
// every twenty-fourth.
func (k *cutting) grid() []units.Volume {
	out := slices.Clone(k.breaks[:len(k.breaks)-1])
	for i := 1; i < fineness; i++ {
		out = append(out, k.total*units.Volume(i)/fineness)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// lay places batches and calculates how long each can stand.
func (k *cutting) lay(cuts []units.Volume) error {
	if err := k.place(cuts); err != nil {
		return err
	}
	for i := range k.coat.Batches {
		k.stand(&k.coat.Batches[i], i, k.coat.Fit.Steps)
	}
	return nil
}

// place makes the batches that end at running sums and lays the coat on its
// clock with them.
func (k *cutting) place(cuts []units.Volume) error {
	c := &k.coat
	c.Batches = make([]Batch, len(cuts))
	before := units.Volume(0)
	for i, cut := range cuts {
		b, err := c.Product.Volume(cut - before)
		if err != nil {
			return &Refusal{"coat." + c.ID + ".amount", err}
		}
		c.Batches[i] = Batch{Volume: cut - before, A: b.A, B: b.B}
		before = cut
	}
	k.plan.timeline(c, k.clock)
	return nil
}
