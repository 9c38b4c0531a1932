package piecefile

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

func (r *reading) amount(c *plan.CoatSpec, l Layer, t technique.Technique, field string) error {
	said := 0
	for _, v := range []float64{l.Film, l.Volume, l.Mass} {
		if v > 0 {
			said++
		}
	}
	switch {
	case said > 1:
		return refused(field, "give one of film_mm, volume_ml and mass_g")
	case l.Volume > 0:
		c.Amount = plan.Amount{Film: c.Amount.Film, Volume: units.Volume(l.Volume)}
	case l.Mass > 0:
		c.Amount = plan.Amount{Film: c.Amount.Film, Mass: units.Mass(l.Mass)}
	case l.Film > 0:
		c.Amount = plan.Amount{Film: units.Length(l.Film)}
	case !t.Cast:
		r.take(field+".film_mm", float64(c.Amount.Film))
	}
	return nil
}

// cupsOnly takes what the cups hold for the coat, where each says its volume and
// the coat says nothing.
func (r *reading) cupsOnly(c *plan.CoatSpec, l Layer, field string) {
	if l.Film+l.Volume+l.Mass > 0 || len(l.Cups) == 0 {
		return
	}
	sum := units.Volume(0)
	for _, col := range c.Colours {
		if col.Volume <= 0 {
			return
		}
		sum += col.Volume + r.ctx.CupLoss
	}
	c.Amount.Volume = sum
	r.taken = slices.DeleteFunc(r.taken, func(t Taken) bool { return t.Field == field+".film_mm" })
	r.take(field+".volume_ml", float64(sum))
}

func (r *reading) cups(c *plan.CoatSpec, l Layer, field string) error {
	if len(l.Cups) == 0 {
		r.take(field+".cups", len(c.Colours))
		return nil
	}
	c.Colours = nil
	typed, shares := false, 0.0
	for i, cup := range l.Cups {
		at := fmt.Sprintf("%s.cups[%d]", field, i)
		col, err := r.cup(cup, at, i)
		if err != nil {
			return err
		}
		if c.Colour(col.ID) != nil {
			return refused(at+".id", "there are two cups %q", col.ID)
		}
		typed, shares = typed || col.Volume > 0, shares+col.Share
		c.Colours = append(c.Colours, col)
	}
	if !typed && math.Abs(shares-1) > 0.001 {
		return refused(field+".cups", "the shares add up to %s, they must add up to 1", units.Fixed(shares, 3))
	}
	return nil
}

func (r *reading) cup(cup Cup, field string, i int) (plan.Colour, error) {
	col := plan.Colour{ID: cup.ID, Name: cup.Name, Role: technique.Role(cup.Role), Swatch: cup.Swatch, Named: true}
	if col.ID == "" {
		col.ID = fmt.Sprintf("c%d", i+1)
	}
	if col.Name == "" {
		col.Name = col.ID
	}
	if col.Role == "" {
		col.Role = technique.Accent
		r.take(field+".role", string(col.Role))
	}
	if col.Swatch == "" {
		col.Swatch = swatches[col.Role]
	} else {
		col.Picked = true
	}
	switch {
	case cup.Share != nil && cup.Volume != nil:
		return col, refused(field, "give a share or a volume, not both")
	case cup.Volume != nil:
		col.Volume = units.Volume(*cup.Volume)
	case cup.Share != nil:
		col.Share = *cup.Share
	default:
		return col, refused(field+".share", "is missing")
	}
	if cup.Pigment == nil || *cup.Pigment == "" {
		if cup.Load != nil && *cup.Load > 0 && col.Role.Rule().Tints {
			col.Load = *cup.Load
		}
		return col, nil
	}
	id, ok := r.refs.Pigments[*cup.Pigment]
	switch {
	case !ok:
		return col, refused(field+".pigment", "there is no pigment %q", *cup.Pigment)
	case !col.Role.Rule().Tints:
		return col, refused(field+".pigment", "a clear cup has no pigment")
	}
	col.Pigment = id
	if cup.Load != nil {
		col.Load = *cup.Load
	} else {
		col.Load = plan.UsualLoad(r.ctx.Pigments[id], col.Role)
		r.take(field+".load_share", col.Load)
	}
	return col, nil
}

// swatches are how cups are drawn whose colour nobody says.
var swatches = map[technique.Role]string{
	technique.Clear:  technique.ClearSwatch,
	technique.White:  "#f4f3ee",
	technique.Base:   "#5d6b73",
	technique.Accent: "#17455c",
}

func (r *reading) rounds(c *plan.CoatSpec, l Layer, t technique.Technique, field string) error {
	if len(l.Rounds) == 0 {
		return nil
	}
	parts, n := map[string]float64{}, 0
	for i, round := range l.Rounds {
		var out technique.Round
		for k, m := range round.Moves {
			n++
			move, err := r.move(c, m, t, fmt.Sprintf("%s.rounds[%d].moves[%d]", field, i, k))
			if err != nil {
				return err
			}
			move.ID = fmt.Sprintf("m%d", n)
			if move.Cup != "" {
				parts[move.Cup] += move.Share()
			}
			out.Moves = append(out.Moves, move)
		}
		c.Rounds = append(c.Rounds, out)
	}
	for i, col := range c.Colours {
		at := fmt.Sprintf("%s.cups[%d]", field, i)
		switch sum := parts[col.ID]; {
		case sum == 0 && col.Share+float64(col.Volume) > 0:
			return refused(at, "no move of the rounds pours it")
		case sum > 0 && math.Abs(sum-1) > 0.001:
			return refused(at, "its parts add up to %s, they must add up to 1", units.Fixed(sum, 3))
		}
	}
	return nil
}

func (r *reading) move(c *plan.CoatSpec, m Move, t technique.Technique, field string) (technique.Move, error) {
	kind := technique.MoveKind(m.Move)
	rule, ok := kind.Rule()
	if !ok {
		return technique.Move{}, refused(field+".move", "there is no move %q", m.Move)
	}
	out := technique.Move{Kind: kind, Place: technique.Place(m.Place), Where: m.Where, Optional: m.Optional}
	if _, ok := out.Place.Rule(); !ok {
		return out, refused(field+".place", "there is no place %q on a board", m.Place)
	}
	out.Technique, out.Step, _ = strings.Cut(m.Like, "/")
	if m.Cup != nil && *m.Cup != "" {
		if c.Colour(*m.Cup) == nil {
			return out, refused(field+".cup", "there is no cup %q", *m.Cup)
		}
		out.Cup = *m.Cup
	}
	if rule.Pours && out.Cup == "" && m.Material == nil && m.Like == "" {
		return out, refused(field+".cup", "name the cup it pours")
	}
	out.Part, out.Minutes, out.After, out.Area = value(m.Part), value(m.Minutes), value(m.After), value(m.Area)
	if m.Material != nil && *m.Material != "" {
		if _, ok := technique.FindMaterial(*m.Material); !ok {
			return out, refused(field+".material", "there is no material %q", *m.Material)
		}
		out.Material, out.Amount = *m.Material, value(m.Grams)
	} else if m.Grams != nil && *m.Grams > 0 && rule.Material == "" {
		return out, refused(field+".grams", "name the material they are of")
	}
	if out.Material == "" && m.Grams != nil {
		out.Material, out.Amount = rule.Material, *m.Grams
	}
	return out, nil
}

func value(v *float64) float64 {
	if v == nil {
		return 0
	}
	return *v
}

// rest lets the mixed resin stand before it is first poured.
func (r *reading) rest(c *plan.CoatSpec, t technique.Technique, minutes float64) {
	if minutes <= 0 {
		return
	}
	if len(c.Rounds) == 0 {
		s := plan.Spec{Layers: []plan.Layer{{ID: "x", Kind: plan.Resin, What: t.ID, Coat: c}}}
		c.Rounds = s.Moves(r.ctx, "x")
	}
	for i := range c.Rounds {
		for k := range c.Rounds[i].Moves {
			if m := &c.Rounds[i].Moves[k]; m.Cup != "" {
				m.After = math.Max(m.After, minutes)
				return
			}
		}
	}
}
