package pieces

import (
	"context"
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
)

// A usual test tile and its film (common practice).
const (
	tileSide  = 100 * units.Millimetre
	tileDepth = 4 * units.Millimetre
	tileFilm  = 1.6 * units.Millimetre // less than an open edge keeps
)

// mostColours is how many pigments a first tile asks for.
const mostColours = 5

// TileColours refuses more pigments than a tile has room for, and none.
func TileColours(chosen int) error {
	switch {
	case chosen == 0:
		return form.Refusef("pigment", "choose one to five pigments")
	case chosen > mostColours:
		return form.Refusef("pigment", "%d pigments are chosen; a tile has room for %d", chosen, mostColours)
	}
	return nil
}

// FirstTile plans a test tile of one coat: of a resin, by a technique, with a cup for
// each of the chosen pigments, in their order, and the clear ones it asks for.
func (s *Service) FirstTile(ctx context.Context, product int64, tech string, pigments []int64) (Piece, error) {
	spec, b, err := s.Draft(ctx)
	if err != nil {
		return Piece{}, err
	}
	if p, ok := b.Products[product]; !ok || p.Retired {
		return Piece{}, form.Refusef("product", "choose a resin")
	}
	t, ok := b.Techniques().Find(tech)
	if !ok || t.Between {
		return Piece{}, form.Refusef("technique", "choose how it is poured")
	}
	if err := TileColours(len(pigments)); err != nil {
		return Piece{}, err
	}
	first := plan.NewCoat(b.Context, plan.FirstCoat, t, product, tileFilm)
	if err := dress(first.Coat, slices.Clone(pigments), b.Pigments); err != nil {
		return Piece{}, err
	}
	say := b.Settings.Lang()
	spec.Name = msg.ID("First test tile").In(say)
	spec.Brief = msg.ID("To see what these colours do together.").In(say)
	spec.Stand(surface.Tile)
	spec.Width, spec.Height, spec.Depth, spec.BackMask = tileSide, tileSide, tileDepth, false
	spec.Layers, spec.Tile = []plan.Layer{first}, true
	return s.Add(ctx, spec)
}

// dress gives the cups of a coat the chosen pigments in their order; a cup that is to be
// white takes the lightest of several before the others choose. A cup for which nothing
// was chosen is not mixed, and a pigment more is an accent more.
func dress(coat *plan.CoatSpec, left []int64, of map[int64]material.Pigment) error {
	left, bare, err := tint(coat, left, of)
	if err != nil {
		return err
	}
	for _, id := range bare {
		if err := coat.RemoveColour(id); err != nil {
			return err
		}
	}
	for range left {
		if _, err := coat.AddColour(); err != nil {
			return err
		}
	}
	if len(left) > 0 {
		_, _, err = tint(coat, left, of)
	}
	share(coat.Colours)
	return err
}

// share makes the shares of all cups one whole, in proportion.
func share(cups []plan.Colour) {
	sum := 0.0
	for _, c := range cups {
		sum += c.Share
	}
	for i := range cups {
		cups[i].Share /= sum
	}
}

// tint gives pigments to the cups that are still to be coloured, and returns those that
// are left over, and the cups that are.
func tint(coat *plan.CoatSpec, left []int64, of map[int64]material.Pigment) (over []int64, bare []string, err error) {
	several := len(left) > 1
	for _, white := range []bool{true, false} {
		for i := range coat.Colours {
			c := &coat.Colours[i]
			if !c.Role.Rule().Tints || c.Pigment != 0 || (c.Role == technique.White) != white {
				continue
			}
			if len(left) == 0 || white && !several {
				bare = append(bare, c.ID)
				continue
			}
			at := 0
			if white {
				at = lightest(left, of)
			}
			pigment, ok := of[left[at]]
			if !ok {
				return nil, nil, form.Refusef("pigment", "choose one to five pigments")
			}
			c.Name, c.Pigment, c.Swatch = pigment.Name, pigment.ID, pigment.Swatch
			c.Load = plan.UsualLoad(pigment, c.Role)
			left = slices.Delete(left, at, at+1)
		}
	}
	return left, bare, nil
}

// lightest is the place of the pigment with the lightest swatch.
func lightest(ids []int64, of map[int64]material.Pigment) int {
	best, light := 0, -1.0
	for i, id := range ids {
		c, err := colour.ParseHex(of[id].Swatch)
		if err == nil && c.R+c.G+c.B > light {
			best, light = i, c.R+c.G+c.B
		}
	}
	return best
}
