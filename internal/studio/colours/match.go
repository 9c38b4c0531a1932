package colours

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// A MaterialRecipe is how a colour is mixed from what the studio owns.
type MaterialRecipe struct {
	Parts      []MaterialPart
	Hex        string // what it comes to as a film
	Difference float64
	Unsure     float64 // how far it may lie off, by what is known of the pigments
	Measured   bool    // a drawdown stands behind every pigment
	Warm       string  // it under a warm lamp, to an eye used to it; "" unless measured
	Shift      float64 // CIEDE2000 from daylight to that lamp
	Hiding     colour.Hiding
	Contrast   float64
}

// A MaterialPart is one pigment of a recipe.
type MaterialPart struct {
	Pigment material.Pigment
	Load    float64
}

// Recipes are the nearest the materials come to a colour.
type Recipes struct {
	Target string
	Best   []MaterialRecipe
	Words  msg.Text
	Near   bool
}

// Bounds of the words about a match (common practice: a difference below 1 is
// not seen, up to 3 only side by side).
const (
	unseen    = 1.0
	sideBySee = 3.0
	farOff    = 6.0
)

// Of the nearest recipes so many are considered, and so many shown.
const (
	considered   = 40
	shownRecipes = 3
)

// cost weighs a recipe as a painter does: a difference nobody sees is no reason
// for one bottle more, nor for a film that shows what lies under it.
func (r MaterialRecipe) cost() float64 {
	cost := math.Max(r.Difference, 0.5) + 0.25*float64(len(r.Parts))
	switch r.Hiding {
	case colour.Transparent:
		cost += 1.5
	case colour.Translucent:
		cost++
	}
	return cost
}

// matchFilm is the film recipes are calculated for where no piece asks for them.
const matchFilm = 1.6 * units.Millimetre

// An Asker is the film and what lies under it of the cup that asks.
type Asker struct {
	Film units.Length
	On   colour.Spectrum // inside the resin
	With []int64         // pigments the cup has already: their kinds of effect are wanted
}

// Asks returns what a cup of a coat asks for.
func Asks(c *plan.Coat, cup *plan.Cup) Asker {
	a := Asker{Film: cup.Film, On: c.On(cup)}
	for _, d := range cup.Doses() {
		a.With = append(a.With, d.Pigment)
	}
	return a
}

// anybody is a film of 1.6 mm on bare wood.
func (s *Service) anybody(film colour.Surface) (Asker, error) {
	ground, err := s.materials.Spectra().Reflectance(surface.BareGround)
	return Asker{Film: matchFilm, On: film.In(ground)}, err
}

// Match returns the best recipes for a colour from the materials for a film of 1.6
// mm on bare wood; see [Service.MatchFor].
func (s *Service) Match(ctx context.Context, hex string) (Recipes, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Recipes{}, err
	}
	a, err := s.anybody(b.Surface)
	if err != nil {
		return Recipes{}, err
	}
	return s.MatchFor(ctx, hex, a)
}

// MatchFor returns the best recipes for a colour from the stock, in the film
// and on the ground that ask. A recipe has up to three pigments, and a white or
// a black where it helps.
func (s *Service) MatchFor(ctx context.Context, hex string, a Asker) (Recipes, error) {
	out := Recipes{Target: hex}
	rgb, err := colour.ParseHex(hex)
	if err != nil {
		return out, &form.Refused{Err: err}
	}
	b, err := s.materials.Book(ctx)
	if err != nil {
		return out, err
	}
	owned, candidates := candidates(b, a.With)
	if len(candidates) == 0 {
		out.Words = msg.ID("There is no pigment in your materials to mix it from.")
		return out, nil
	}
	q := colour.Query{Target: rgb.XYZ().Lab(), Backing: a.On, Film: a.Film, Surface: b.Surface, Best: considered}
	found, err := colour.Match(ctx, q, candidates)
	if err != nil {
		return out, err
	}
	extra := lightestAndDarkest(q, candidates)
	for _, r := range found {
		if r.Difference > unseen/2 {
			if r, err = colour.Refine(ctx, q, r, candidates, extra); err != nil {
				return out, err
			}
		}
		out.Best = append(out.Best, materialRecipe(q, q.Doubted(r, candidates), owned, candidates))
	}
	slices.SortStableFunc(out.Best, func(a, b MaterialRecipe) int { return cmp.Compare(a.cost(), b.cost()) })
	out.Best = out.Best[:min(shownRecipes, len(out.Best))]
	out.say()
	return out, nil
}

// candidates are the pigments among the materials that are mixed in: plain colours and the
// effects that are wanted, all of them where there are no plain ones.
func candidates(b *materials.Book, with []int64) ([]material.Pigment, []colour.Candidate) {
	wanted := map[colour.Form]bool{}
	for _, id := range with {
		wanted[b.Pigments[id].Form] = true
	}
	var plain, mixed []material.Pigment
	for _, p := range b.Paints {
		rule, _ := colour.RuleOf(p.Form)
		if p.Retired || rule.Floats || rule.Strewn {
			continue
		}
		mixed = append(mixed, p)
		if !rule.Effect || wanted[p.Form] {
			plain = append(plain, p)
		}
	}
	if len(plain) == 0 {
		plain = mixed
	}
	out := make([]colour.Candidate, len(plain))
	for i, p := range plain {
		out[i] = colour.Candidate{Optics: p.Full, Limit: p.LoadLimit, Measured: p.Solved != nil}
	}
	return plain, out
}

// lightestAndDarkest are the white and the black of the materials.
func lightestAndDarkest(q colour.Query, candidates []colour.Candidate) []int {
	light, dark := 0, 0
	var l, d float64 = -1, 101
	for i, c := range candidates {
		v := colour.Cup([]colour.Dose{{Optics: c.Optics, Load: 0.05}}).Over(colour.Flat(0.4), q.Film).Lab().L
		if v > l {
			l, light = v, i
		}
		if v < d {
			d, dark = v, i
		}
	}
	return []int{light, dark}
}

func materialRecipe(q colour.Query, r colour.Recipe, owned []material.Pigment,
	candidates []colour.Candidate) MaterialRecipe {
	out := MaterialRecipe{Hex: r.Film.XYZ().RGB().Hex(), Difference: r.Difference, Unsure: r.Unsure, Measured: r.Measured}
	if r.Measured {
		out.Warm, out.Shift = r.Film.WarmSwatch().Hex(), r.Film.LampShift()
	}
	var doses []colour.Dose
	for _, p := range r.Parts {
		out.Parts = append(out.Parts, MaterialPart{owned[p.Candidate], p.Load})
		doses = append(doses, colour.Dose{Optics: candidates[p.Candidate].Optics, Load: p.Load})
	}
	out.Contrast = q.Surface.Contrast(colour.Cup(doses), q.Film)
	out.Hiding = colour.HidingOf(out.Contrast)
	return out
}

// say is no surer than the strengths of the pigments are known.
func (r *Recipes) say() {
	best := r.Best[0]
	d, most := best.Difference, best.Difference+best.Unsure
	r.Near = d < farOff
	switch {
	case most < unseen && best.Measured:
		r.Words = msg.ID("No visible difference: it is based on drawdowns.")
	case d < unseen && best.Measured:
		r.Words = msg.ID("It should match: it is based on drawdowns.")
	case d < unseen:
		r.Words = msg.F("It should match, to within %s or so: pour a test, or a drawdown of its pigments, to be sure.",
			msg.Figure(units.Fixed(math.Max(1, most), 0)))
	case d < sideBySee:
		r.Words = msg.ID("Close: a difference shows side by side.")
	case d < farOff:
		r.Words = msg.ID("Similar, but the client will see the difference.")
	default:
		r.Words = msg.F("Nothing you own comes closer than about %s.", msg.Figure(units.Fixed(d, 0)))
	}
}

// CupsFromPalette gives the first coat of a piece the palette's colours as
// cups, each by its best recipe: the largest share becomes the base, a near
// white the white.
func (s *Service) CupsFromPalette(ctx context.Context, palette, piece int64) (pieces.Piece, error) {
	p, err := s.Palette(ctx, palette)
	if err != nil {
		return pieces.Piece{}, err
	}
	cups, err := s.paletteCups(ctx, p)
	if err != nil {
		return pieces.Piece{}, err
	}
	return s.pieces.Change(ctx, piece, func(spec *plan.Spec) error {
		first := spec.First()
		if first == nil || first.Coat == nil {
			return form.Refusef("", "the piece has no coat of resin")
		}
		first.Coat.Colours, first.Coat.Things = cups, nil
		return nil
	})
}

// PieceFromPalette plans a new piece in the palette's colours.
func (s *Service) PieceFromPalette(ctx context.Context, palette int64) (pieces.Piece, error) {
	p, err := s.Palette(ctx, palette)
	if err != nil {
		return pieces.Piece{}, err
	}
	spec, _, err := s.pieces.Draft(ctx)
	if err != nil {
		return pieces.Piece{}, err
	}
	if spec.Layers[0].Coat.Colours, err = s.paletteCups(ctx, p); err != nil {
		return pieces.Piece{}, err
	}
	spec.Name = p.Name
	return s.pieces.Add(ctx, spec)
}

// nearWhite is the lightness from which a colour is a white.
const nearWhite = 90

func (s *Service) paletteCups(ctx context.Context, p Palette) ([]plan.Colour, error) {
	var out []plan.Colour
	b, err := s.materials.Book(ctx)
	if err != nil {
		return nil, err
	}
	base := 0
	for i, c := range p.Colours {
		if c.Share > p.Colours[base].Share {
			base = i
		}
	}
	for i, c := range p.Colours {
		cup := plan.Colour{ID: fmt.Sprintf("c%d", i+1), Name: c.Name, Role: technique.Accent, Swatch: c.Hex, Share: c.Share,
			Load: 0.03, Named: true, Picked: true}
		if cup.Name == "" {
			cup.Name = msg.F("Colour %d", i+1).In(b.Settings.Lang())
		}
		if rgb, err := colour.ParseHex(c.Hex); err == nil && rgb.XYZ().Lab().L > nearWhite {
			cup.Role = technique.White
		}
		if i == base {
			cup.Role = technique.Base
		}
		match, err := s.Match(ctx, c.Hex)
		if err != nil {
			return nil, err
		}
		if len(match.Best) > 0 {
			match.Best[0].fill(&cup)
		}
		out = append(out, cup)
	}
	return out, nil
}

// fill fills a cup by the recipe.
func (r MaterialRecipe) fill(c *plan.Colour) {
	doses := make([]plan.Dose, len(r.Parts))
	for i, part := range r.Parts {
		doses[i] = plan.Dose{Pigment: part.Pigment.ID, Load: math.Round(part.Load*1e5) / 1e5}
	}
	c.SetDoses(doses)
}
