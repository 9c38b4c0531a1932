package plan

import (
	"jevvo/internal/core/composition"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
)

// Moves returns the moves of a coat, round by round: its own, or those its
// technique begins with for its cups.
func (s Spec) Moves(ctx *Context, coat string) []technique.Round {
	l := s.Layer(coat)
	if l == nil || l.Coat == nil {
		return nil
	}
	if len(l.Coat.Rounds) > 0 {
		return cloneRounds(l.Coat.Rounds)
	}
	t, ok := ctx.Book.Find(l.What)
	if !ok {
		return nil
	}
	return ctx.done(l.Coat, t).Template(cupRefs(l.Coat))
}

// cupRefs are the cups of a coat as a template asks for them.
func cupRefs(c *CoatSpec) []technique.CupRef {
	out := make([]technique.CupRef, len(c.Colours))
	for i, col := range c.Colours {
		out[i] = technique.CupRef{ID: col.ID, Role: col.Role}
	}
	return out
}

// Sketched returns what a sketch of a coat needs of its cups; what is kept ready beside the
// board is not on it. What belongs under the others lies so where a bed is spread of it, and
// beside them where none is.
func (s Spec) Sketched(ctx *Context, coat string) []composition.Colour {
	c := s.Coat(coat)
	if c == nil {
		return nil
	}
	spread := map[string]bool{}
	for _, r := range s.Moves(ctx, coat) {
		for _, m := range r.Moves {
			spread[m.Cup] = spread[m.Cup] || m.Kind == technique.Spread
		}
	}
	out := make([]composition.Colour, 0, len(c.Colours))
	for _, col := range c.Colours {
		if col.ID != reserveCup {
			under := col.Role.Rule().Under && spread[col.ID]
			out = append(
				out,
				composition.Colour{ID: col.ID, Share: col.Share, Base: under, White: col.Role == technique.White},
			)
		}
	}
	return out
}

// done returns a technique as this studio does it in a coat: its choices, its
// own pace, its schools.
func (ctx *Context) done(spec *CoatSpec, t technique.Technique) technique.Technique {
	colouring := ctx.colouring(spec)
	return t.Chosen(spec.Options).Also(spec.Extras).Paced(ctx.Paces[t.ID]).With(technique.Ways{
		Dosed: colouring == school.ColourDosed, PartA: colouring == school.ColourPartA,
		NoBed:   ctx.Schools.Way(school.Bed) == school.BedNone,
		Thicken: ctx.Schools.Way(school.Pour) == school.PourThicken,
		AtOnce:  ctx.Schools.Way(school.Pour) == school.PourOnce,
	})
}

// colouring is when pigment goes into the cups of a coat.
func (ctx *Context) colouring(spec *CoatSpec) string {
	if spec.Colouring != "" {
		return spec.Colouring
	}
	return ctx.Schools.Way(school.Colour)
}

// chained returns the technique of a coat with its moves in place.
func (p *Plan) chained(c *Coat, t technique.Technique) technique.Technique {
	spec := c.Layer.Coat
	own := p.Context.done(spec, t)
	rounds := spec.Rounds
	if len(rounds) == 0 {
		rounds = own.Template(cupRefs(spec))
	}
	var others technique.Book
	for _, r := range rounds {
		for _, m := range r.Moves {
			like, _ := m.Like()
			if _, has := others.Find(like); has || like == t.ID || like == "" {
				continue
			}
			if o, ok := p.Context.Book.Find(like); ok {
				plain := *spec
				plain.Extras = nil
				others = append(others, p.Context.done(&plain, o))
			}
		}
	}
	out := own.Chain(rounds, others)
	for i := range out.Steps {
		if s := &out.Steps[i]; s.Pours && p.pours(c, s.Takes) {
			s.FlashOff = max(s.FlashOff, inkFlashOff)
		}
	}
	return out
}

// pours reports whether one of the cups a step empties burns while it is wet.
func (p *Plan) pours(c *Coat, takes []technique.Take) bool {
	for _, t := range takes {
		if col := c.Layer.Coat.Colour(t.Cup); col != nil && p.flammable(*col) {
			return true
		}
	}
	return false
}

// flammable reports whether a cup burns while it is wet: it has an ink in it.
func (p *Plan) flammable(col Colour) bool {
	for _, d := range col.Doses() {
		if p.Context.Pigments[d.Pigment].Flammable {
			return true
		}
	}
	return false
}
