package colours

import (
	"context"
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/words"
)

// A Mixer is one cup with its pigments, as the film it will be.
type Mixer struct {
	View    agenda.View
	Coat    *plan.Coat
	Cup     *plan.Cup
	Rows    []MixRow
	Grounds []Ground
	On      Ground // the one looked at
	Film    string // "#rrggbb" of the film on it
	Judge   msg.Text
	Used    float64 // of the load limits; 1 is the most
}

// A MixRow is one pigment in the cup.
type MixRow struct {
	Pigment material.Pigment
	Load    float64
	Grams   units.Mass
	Measure msg.Text // in drops or spoons, as it is dosed
	More    Little   // what one more drop, or a pinch of a powder, does
}

// A Little is the effect of a little more of a pigment.
type Little struct {
	Words      msg.ID // "1 drop", as it is typed
	Film       string
	Difference float64
	Contrast   float64
}

// Percent returns the contrast ratio in per cent.
func (l Little) Percent() float64 { return 100 * l.Contrast }

// Unseen reports that a little more makes no difference to the eye.
func (l Little) Unseen() bool { return l.Difference < unseen }

// Over reports a load beyond what the pigments' limits allow together.
func (m Mixer) Over() bool { return m.Used > 1 }

// Weight says whether the cup does what its role wants of it.
func (m Mixer) Weight() verdict.Weight {
	if m.Cup.Look.Hiding == colour.Opaque || !m.Cup.Colour.Role.Rule().Hides {
		return verdict.Settled
	}
	return verdict.Mind
}

// A Ground is something a cup can lie on.
type Ground struct {
	Key      string
	Name     msg.Text
	Hex      string
	spectrum colour.Spectrum
}

// usualGrounds are common board materials and primers, besides the
// piece's own (common practice).
var usualGrounds = []struct {
	key  string
	name msg.ID
	hex  string
}{
	{"gesso", "White gesso", "#f2f2f0"}, {"black", "Black paint", "#161616"}, {"metal", "Metal tray", "#a4a6a8"},
	{"wood", "Bare wood", "#b08d63"},
}

// Mixer returns the cup of a colour in a coat on one of the grounds; "" is
// what really lies under it.
func (s *Service) Mixer(ctx context.Context, p pieces.Piece, coat, cup, ground string) (Mixer, error) {
	v, err := s.agenda.Plan(ctx, p)
	if err != nil {
		return Mixer{}, err
	}
	m := Mixer{View: v, Coat: v.Plan.Coat(coat)}
	if m.Coat == nil {
		return m, store.ErrNotFound
	}
	if m.Cup = m.Coat.Cup(cup); m.Cup == nil {
		return m, store.ErrNotFound
	}
	if err := s.grounds(&m); err != nil {
		return m, err
	}
	m.On = m.Grounds[0]
	for _, g := range m.Grounds {
		if g.Key == ground {
			m.On = g
		}
	}
	m.fill()
	return m, nil
}

// grounds lists what may lie under a cup, the real one first.
func (s *Service) grounds(m *Mixer) error {
	film := m.View.Context.Surface
	hex := func(inside colour.Spectrum) string { return film.Out(inside).XYZ().RGB().Hex() }
	name := msg.ID("The ground of this piece")
	if m.Coat.Place > 0 {
		name = "The coat below"
	}
	on := m.Coat.On(m.Cup)
	if on != m.Coat.Under() {
		name = "The bed of this coat"
	}
	m.Grounds = []Ground{{"", name, hex(on), on}}
	if m.Coat.Place > 0 {
		for _, cup := range m.View.Plan.Coats[m.Coat.Place-1].Cups {
			m.Grounds = append(m.Grounds,
				Ground{"below-" + cup.Colour.ID, msg.F("%s, coat below", words.Filled(cup.Colour.Name)), hex(cup.Look.Over),
					cup.Look.Over})
		}
	}
	for _, g := range usualGrounds {
		r, err := s.materials.Spectra().Reflectance(g.hex)
		if err != nil {
			return err
		}
		m.Grounds = append(m.Grounds, Ground{g.key, g.name, g.hex, film.In(r)})
	}
	return nil
}

func (m *Mixer) fill() {
	film, resin, skin := m.Cup.Film, m.Cup.Resin(), m.View.Context.Surface
	owned := m.View.Context.Pigments
	m.Used = m.Cup.Look.Used
	now := skin.Out(m.Cup.Look.Optics.Over(m.On.spectrum, film))
	m.Film = now.XYZ().RGB().Hex()
	doses := m.Cup.Colour.Doses()
	for i, d := range doses {
		p, ok := owned[d.Pigment]
		if !ok {
			continue
		}
		row := MixRow{Pigment: p, Load: d.Load, Grams: resin * units.Mass(d.Load)}
		row.Measure = words.Measure(p, row.Grams, m.View.Agenda.Book.Settings.Units)
		little, said := smallest(p)
		row.More.Words = said
		var more []colour.Dose
		for j, e := range doses {
			load := e.Load
			if j == i {
				load += float64(little / resin)
			}
			if q, ok := owned[e.Pigment]; ok {
				more = append(more, colour.Dose{Optics: q.Full, Load: load})
			}
		}
		o := colour.Cup(more)
		then := skin.Out(o.Over(m.On.spectrum, film))
		row.More.Film, row.More.Contrast = then.XYZ().RGB().Hex(), skin.Contrast(o, film)
		row.More.Difference = colour.Difference(now.Lab(), then.Lab())
		m.Rows = append(m.Rows, row)
	}
	m.judge()
}

// judge says the verdict of the cup, then the number.
func (m *Mixer) judge() {
	l := m.Cup.Look
	percent := units.Fixed(100*l.Contrast, 0) + " %"
	film := msg.Text(m.Cup.Film.Film(m.View.Agenda.Book.Settings.Units))
	switch {
	case !m.Cup.Colour.Role.Rule().Tints:
		m.Judge = msg.ID("This is clear: what lies under it shows through.")
	case !l.Known || len(m.Rows) == 0:
		m.Judge = msg.ID("Choose a pigment: until then only the swatch is known.")
	case l.Hiding == colour.Opaque:
		m.Judge = msg.F("This covers what lies under it (%s at %s).", percent, film)
	case l.Drops > 0:
		m.Judge = msg.F("This will not cover what lies under it (%s at %s): %s of %s, or a second coat.", percent, film,
			msg.N(l.Drops, "more drop", "more drops"), m.Rows[0].Pigment.Name)
	case l.ToHide > 0:
		m.Judge = msg.F("This will not cover what lies under it (%s at %s): %s more of %s, or a second coat.", percent, film,
			l.Grams.Text(units.Metric), m.Rows[0].Pigment.Name)
	default:
		m.Judge = msg.F("This will not cover what lies under it (%s at %s), and no allowed load does: paint the ground "+
			"close to it, or plan a second coat.", percent, film)
	}
}

// Percent returns the contrast ratio in per cent.
func (m Mixer) Percent() float64 { return 100 * m.Cup.Look.Contrast }

// spoonPart is the smallest part of a teaspoon that is measured.
const spoonPart = 8

// smallest is the smallest amount by which a pigment is dosed.
func smallest(p material.Pigment) (units.Mass, msg.ID) {
	if drop := p.DropMass(); drop > 0 {
		return drop, "1 drop"
	}
	return p.Spoon / spoonPart, "1/8 tsp"
}

// Bounds of a cup (common practice).
const (
	mostDoses = 8
	mostLoad  = 0.5 // what no cup of resin bears, whatever the pigment
	leastLoad = 1e-6
)

// Dose adds an amount of a pigment, or takes it out with a minus, in the cup
// of a colour. The amount is that of the cup as planned in the coat.
func (s *Service) Dose(ctx context.Context, piece int64, coat, cup string, pigment int64, text string) (pieces.Piece,
	error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return pieces.Piece{}, err
	}
	p, ok := b.Pigments[pigment]
	if !ok {
		return pieces.Piece{}, form.Refusef("pigment", "choose one of your pigments")
	}
	amount, err := p.Amount(text)
	if err != nil {
		return pieces.Piece{}, &form.Refused{Field: "amount", Err: err}
	}
	return s.pieces.Change(ctx, piece, func(spec *plan.Spec) error {
		calculated, err := plan.Evaluate(*spec, b.Context, plan.Timing{})
		if err != nil {
			return err
		}
		planned, col := calculated.Coat(coat), spec.Coat(coat).Colour(cup)
		if planned == nil || col == nil || planned.Cup(cup) == nil {
			return store.ErrNotFound
		}
		col.Load = planned.Cup(cup).Colour.Load // typed grams have become a load
		return dose(col, p, float64(amount/planned.Cup(cup).Resin()))
	})
}

// dose changes the load of a pigment by a share of the resin's mass. A pigment
// of which nothing is left leaves the cup; the first one gives a cup its name.
func dose(c *plan.Colour, p material.Pigment, change float64) error {
	doses := slices.Clone(c.Doses())
	if len(doses) == 1 && doses[0].Pigment == 0 { // the swatch stood in
		doses = nil
	}
	i := slices.IndexFunc(doses, func(d plan.Dose) bool { return d.Pigment == p.ID })
	if i < 0 {
		if len(doses) >= mostDoses {
			return form.Refusef("pigment", "a cup takes at most %d pigments", mostDoses)
		}
		i = len(doses)
		doses = append(doses, plan.Dose{Pigment: p.ID})
		if i == 0 {
			c.Adopt(p)
		}
	}
	doses[i].Load += change
	switch {
	case doses[i].Load > mostLoad:
		return form.Refusef("amount", "that is more than %s %% of the cup; check the unit", units.Fixed(mostLoad*100, 0))
	case doses[i].Load < leastLoad:
		doses = slices.Delete(doses, i, i+1)
	}
	c.SetDoses(doses)
	return nil
}

// asks returns what the cup of a piece asks of a recipe.
func (s *Service) asks(ctx context.Context, p pieces.Piece, coat, cup string) (Asker, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Asker{}, err
	}
	calculated, err := plan.Evaluate(p.Spec, b.Context, plan.Timing{})
	if err != nil {
		return s.anybody(b.Surface)
	}
	c := calculated.Coat(coat)
	if c == nil || c.Cup(cup) == nil {
		return s.anybody(b.Surface)
	}
	return Asks(c, c.Cup(cup)), nil
}

// TakeRecipe fills the cup of a colour with the best recipe for its swatch.
func (s *Service) TakeRecipe(ctx context.Context, piece int64, coat, cup string) (pieces.Piece, error) {
	p, err := s.pieces.Piece(ctx, piece)
	if err != nil {
		return p, err
	}
	col := p.Spec.Coat(coat).Colour(cup)
	if col == nil {
		return p, store.ErrNotFound
	}
	asks, err := s.asks(ctx, p, coat, cup)
	if err != nil {
		return p, err
	}
	match, err := s.MatchFor(ctx, col.Swatch, asks)
	if err != nil || len(match.Best) == 0 {
		return p, err
	}
	return s.pieces.ChangeCup(ctx, piece, coat, cup, func(c *plan.Colour) error {
		match.Best[0].fill(c)
		return nil
	})
}
