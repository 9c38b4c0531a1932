package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
)

// overdueLong is how many minutes a batch may stand beyond what it keeps before
// it is trouble rather than a thing to mind (common practice).
const overdueLong = 2

// batches says which batches stand too long, which are too small to weigh true,
// and what no move pours.
func (j *judge) batches() {
	for i := range j.plan.Coats {
		c := &j.plan.Coats[i]
		if c.Made {
			continue
		}
		for k, l := range c.Batches {
			args := verdict.Args{"n": k + 1, "of": len(c.Batches), "volume": l.Volume, "stands": l.Overdue}
			if len(l.Feeds) > 0 {
				args["cup"] = l.Feeds[len(l.Feeds)-1].Name
			}
			switch {
			case l.Overdue > overdueLong:
				j.say(verdict.BatchStands, verdict.PartCups, verdict.Trouble, c, args)
			case l.Overdue > 0:
				j.say(verdict.BatchStands, verdict.PartCups, verdict.Mind, c, args)
			}
			if l.Volume < LeastBatch-1e-9 && len(c.Batches) > 1 && c.Mixing == school.MixingJug {
				j.say(verdict.BatchSmall, verdict.PartCups, verdict.Mind, c, args)
			}
		}
		for _, cup := range c.Cups {
			if part := c.Kept(cup.Colour.ID); part > 0.001 && cup.Colour.ID != reserveCup {
				j.say(verdict.CupKept, verdict.PartCups, verdict.Mind, c, verdict.Args{"cup": cup.Colour.Name, "part": part})
			}
		}
		if sum := c.shareSum(); sum > 0 && math.Abs(sum-1) > 0.005 {
			j.say(verdict.SharesOff, verdict.PartColours, verdict.Mind, c, verdict.Args{"sum": sum})
		}
	}
}

// shareSum is the sum of the typed shares of a coat's cups; 0 where the
// board's drawing or typed amounts give them.
func (c *Coat) shareSum() float64 {
	if len(c.Things) > 0 {
		return 0
	}
	sum := 0.0
	for _, col := range c.Layer.Coat.Colours {
		if col.Volume > 0 {
			sum += float64(col.Volume / c.Poured)
			continue
		}
		sum += col.Share
	}
	return sum
}

// A resin thinner than thinResin runs off an open board before it thickens; one
// thicker than thickResin is not pushed by air (common practice).
const (
	thinResin  units.Viscosity = 350
	thickResin units.Viscosity = 4000
)

// suits says which resin is too thin for an open board or too thick to be blown,
// with one of the materials that suits.
func (j *judge) suits() {
	p := j.plan
	for i := range p.Coats {
		c := &p.Coats[i]
		mu := c.Product.Viscosity
		switch blown := c.blown(); {
		case c.Made:
		case mu > 0 && mu < thinResin && !p.Spec.Dammed():
			j.say(verdict.ResinThin, verdict.PartSurface, verdict.Mind, c,
				verdict.Args{"resin": c.Product.Name, "other": p.suiting()})
		case mu > thickResin && blown != nil:
			j.say(verdict.ResinThick, verdict.PartClock, verdict.Mind, c,
				verdict.Args{"resin": c.Product.Name, "step": blown, "other": p.suiting()})
		}
	}
}

// blown is the name of the first step of a coat that pushes it by air, "" for none.
func (c *Coat) blown() msg.Text {
	pushes := []technique.MoveKind{technique.Blow, technique.HotAir}
	for _, s := range c.Technique.Steps {
		if slices.Contains(pushes, s.Move) {
			return s.Name
		}
	}
	return nil
}

// suiting is the name of a resin of the materials that is neither too thin nor too
// thick; "" for none.
func (p *Plan) suiting() string {
	id := int64(math.MaxInt64)
	for k, r := range p.Context.Products {
		if !r.Retired && r.Viscosity >= thinResin && r.Viscosity <= thickResin && k < id {
			id = k
		}
	}
	return p.Context.Products[id].Name
}
