package pieces

import (
	"context"
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/words"
)

// A usual test tile and its film (common practice).
const (
	tileSide  = 100 * units.Millimetre
	tileDepth = 4 * units.Millimetre
	tileFilm  = 1.7 * units.Millimetre
)

// mostColours is how many pigments a first tile asks for.
const mostColours = 5

// FirstTile plans a test tile of one coat: of a resin, by a technique, its cups
// coloured with the chosen pigments in their order; a cup beyond them keeps its usual
// colour.
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
	if len(pigments) == 0 || len(pigments) > mostColours {
		return Piece{}, form.Refusef("pigment", "choose one to five pigments")
	}
	first := plan.NewCoat(b.Context, plan.FirstCoat, t, product, tileFilm)
	if err := dress(first.Coat.Colours, slices.Clone(pigments), b.Pigments); err != nil {
		return Piece{}, err
	}
	spec.Name, spec.Brief = words.T("First test tile"), words.T("To see what these colours do together.")
	spec.Stand(surface.Tile)
	spec.Width, spec.Height, spec.Depth, spec.BackMask = tileSide, tileSide, tileDepth, false
	spec.Layers, spec.Tile = []plan.Layer{first}, true
	return s.Add(ctx, spec)
}

// dress gives cups the chosen pigments in their order; a cup that is to be white takes
// the lightest before the others choose.
func dress(cups []plan.Colour, left []int64, of map[int64]plan.Pigment) error {
	for _, white := range []bool{true, false} {
		for i := range cups {
			c := &cups[i]
			if !c.Role.Rule().Tints || (c.Role == technique.White) != white || len(left) == 0 {
				continue
			}
			at := 0
			if white {
				at = lightest(left, of)
			}
			pigment, ok := of[left[at]]
			if !ok {
				return form.Refusef("pigment", "choose one to five pigments")
			}
			c.Name, c.Pigment, c.Swatch, c.Load = pigment.Name, pigment.ID, pigment.Swatch, plan.UsualLoad(pigment)
			left = slices.Delete(left, at, at+1)
		}
	}
	return nil
}

// lightest is the place of the pigment with the lightest swatch.
func lightest(ids []int64, of map[int64]plan.Pigment) int {
	best, light := 0, -1.0
	for i, id := range ids {
		c, err := colour.ParseHex(of[id].Swatch)
		if err == nil && c.R+c.G+c.B > light {
			best, light = i, c.R+c.G+c.B
		}
	}
	return best
}
