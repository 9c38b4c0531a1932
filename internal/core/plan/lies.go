package plan

import (
	"jevvo/internal/core/composition"
	"jevvo/internal/core/units"
)

// wholeFace is the part of the face from which a cup is a bed to the others
// (common practice).
const wholeFace = 0.9

// lie calculates how thick each cup lies on the board: what is poured of it over
// the area it is poured on, or drawn over by the technique. Nothing stands
// thicker than a puddle: it runs first.
func (p *Plan) lie(c *Coat) {
	laid := composition.Laid(p.Boards[0], p.Sketch(c, 0))
	for i := range c.Cups {
		cup := &c.Cups[i]
		cup.Area = max(laid[cup.Colour.ID], c.Technique.DrawnOver(cup.Colour.Role))
		cup.Film = c.Film
		if cup.Area > 0 && cup.Colour.ID != reserveCup {
			cup.Film = min(c.Film*units.Length(cup.Share/cup.Area), max(c.Film, c.Puddle.Height))
		}
	}
	c.bed = -1
	for i, cup := range c.Cups {
		if cup.Colour.ID != reserveCup && cup.Colour.Role.Rule().Under && cup.Area >= wholeFace &&
			(c.bed < 0 || cup.Share > c.Cups[c.bed].Share) {
			c.bed = i
		}
	}
}

// A Lying is one cup on another, with the film of each.
type Lying struct {
	Upper, Lower *Cup
	// Lower film is all that lies under the upper cup there.
	UpperFilm, LowerFilm units.Length
}

// lying returns who lies on whom where two cups meet: what was poured on what,
// or drawn over it; nil for two that lie side by side.
func (c *Coat) lying(a, b *Cup, touch composition.Contact) *Lying {
	onA, onB := touch.BOnA, touch.AOnB // of the one on the other
	switch drawnA, drawnB := c.drawn(a), c.drawn(b); {
	case drawnA && !drawnB:
		onB, onA = 1, 0
	case drawnB && !drawnA:
		onA, onB = 1, 0
	}
	if onA == onB {
		return nil
	}
	l := &Lying{Upper: a, Lower: b}
	if onA > onB {
		l.Upper, l.Lower = b, a
	}
	l.UpperFilm, l.LowerFilm = l.Upper.Film, l.Lower.Film
	if c.bed >= 0 && l.Lower != &c.Cups[c.bed] && l.Upper != &c.Cups[c.bed] {
		l.LowerFilm += c.Cups[c.bed].Film
	}
	return l
}

func (c *Coat) drawn(cup *Cup) bool { return c.Technique.DrawnOver(cup.Colour.Role) > 0 }
