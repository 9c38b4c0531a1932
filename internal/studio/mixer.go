package studio

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// A Mixer is one cup with its pigments, as the film it will be.
type Mixer struct {
	Plan    Plan
	Coat    CoatPlan
	Cup     CupPlan
	Rows    []MixRow
	Grounds []Ground
	On      Ground // the one looked at
	Film    string // "#rrggbb" of the film on it
	Judge   string
	Resin   units.Mass // A and B of the cup
	Used    float64    // of the load limits; 1 is the most
}

// A MixRow is one pigment in the cup.
type MixRow struct {
	Pigment Pigment
	Load    float64
	Grams   units.Mass
	Measure string // in drops or spoons, as it is dosed
	More    Step   // what one more drop, or a pinch of a powder, does
}

// A Step is what a little more of a pigment changes.
type Step struct {
	Words      string // "one more drop"
	Amount     string // as it is typed
	Film       string
	Difference float64
	Contrast   float64
}

// A Ground is something a cup can lie on.
type Ground struct {
	Key, Name, Hex string
	spectrum       colour.Spectrum
}

// usualGrounds are what boards are made of or primed with, besides the
// piece's own (common practice).
var usualGrounds = []struct{ key, name, hex string }{
	{"gesso", "White gesso", "#f2f2f0"}, {"black", "Black paint", "#161616"}, {"metal", "Metal tray", "#a4a6a8"}, {"wood", "Bare wood", "#b08d63"},
}

// Mixer returns the cup of a colour in a coat on one of the grounds; "" is
// what really lies under it.
func (s *Studio) Mixer(ctx context.Context, piece int64, coat, id, ground string) (Mixer, error) {
	plan, err := s.Plan(ctx, piece)
	if err != nil {
		return Mixer{}, err
	}
	m := Mixer{Plan: plan}
	if !m.find(coat, id) {
		return m, store.ErrNotFound
	}
	stock := Stock{Product: plan.Product}
	if err := s.mixes(ctx, plan.Piece.Spec, &stock); err != nil {
		return m, err
	}
	if m.Grounds, err = s.grounds(plan, m.Coat, stock); err != nil {
		return m, err
	}
	m.On = m.Grounds[0]
	for _, g := range m.Grounds {
		if g.Key == ground {
			m.On = g
		}
	}
	m.fill(stock)
	return m, nil
}

func (m *Mixer) find(coat, id string) bool {
	for _, c := range m.Plan.Coats {
		for _, cup := range c.Cups {
			if c.Key == coat && cup.Colour.ID == id {
				m.Coat, m.Cup = c, cup
				return true
			}
		}
	}
	return false
}

// grounds lists what may lie under a cup, the real one first.
func (s *Studio) grounds(plan Plan, coat CoatPlan, stock Stock) ([]Ground, error) {
	name := "The ground of this piece"
	if coat.Key != firstCoat {
		name = "The coat below"
	}
	hex := func(r colour.Spectrum) string { return r.XYZ().RGB().Hex() }
	out := []Ground{{"", name, hex(coat.under), coat.under}}
	for i, c := range plan.Coats {
		if c.Key != coat.Key || i == 0 {
			continue
		}
		for _, cup := range plan.Coats[i-1].Cups {
			out = append(out, Ground{"below-" + cup.Colour.ID, cup.Colour.Name + ", coat below", hex(cup.Look.over), cup.Look.over})
		}
	}
	for _, g := range usualGrounds {
		r, err := s.spectra.reflectance(g.hex)
		if err != nil {
			return nil, err
		}
		out = append(out, Ground{g.key, g.name, g.hex, r})
	}
	return out, nil
}

func (m *Mixer) fill(stock Stock) {
	film := m.Coat.Film
	m.Resin = m.Cup.A.Mass + m.Cup.B.Mass
	m.Used = m.Cup.Look.Used
	optics := m.Cup.Look.optics
	now := optics.Over(m.On.spectrum, film)
	m.Film = now.XYZ().RGB().Hex()
	doses := m.Cup.Colour.Doses()
	for i, d := range doses {
		p, ok := stock.Pigments[d.Pigment]
		if !ok {
			continue
		}
		row := MixRow{Pigment: p.Pigment, Load: d.Load, Grams: m.Resin * units.Mass(d.Load)}
		row.Measure = p.Measure(row.Grams)
		little, words := p.little()
		row.More = Step{Words: words, Amount: words}
		more := make([]colour.Dose, 0, len(doses))
		for j, e := range doses {
			load := e.Load
			if j == i {
				load += float64(little / m.Resin)
			}
			if q, ok := stock.Pigments[e.Pigment]; ok {
				more = append(more, colour.Dose{Optics: q.Full, Load: load})
			}
		}
		o := colour.Cup(more)
		then := o.Over(m.On.spectrum, film)
		row.More.Film, row.More.Contrast = then.XYZ().RGB().Hex(), o.Contrast(film)
		row.More.Difference = colour.Difference(now.Lab(), then.Lab())
		m.Rows = append(m.Rows, row)
	}
	m.judge()
}

// judge says the verdict of the cup, then the number.
func (m *Mixer) judge() {
	l := m.Cup.Look
	percent := units.Fixed(100*l.Contrast, 0) + " %"
	film := m.Coat.Film.Film(m.Plan.Settings.Units)
	switch {
	case !l.Known:
		m.Judge = "Choose a pigment: until then only the swatch is known."
	case l.Hiding == colour.Opaque:
		m.Judge = fmt.Sprintf("This hides what lies under it (%s at %s).", percent, film)
	case l.Drops > 0:
		m.Judge = fmt.Sprintf("This will not hide what lies under it (%s at %s): %s of %s, or a second coat.", percent, film,
			Plural(l.Drops, "more drop", "more drops"), m.Rows[0].Pigment.Name)
	case l.ToHide > 0:
		m.Judge = fmt.Sprintf("This will not hide what lies under it (%s at %s): %s more of %s, or a second coat.", percent, film,
			l.Grams.Text(units.Metric), m.Rows[0].Pigment.Name)
	default:
		m.Judge = fmt.Sprintf("This will not hide what lies under it (%s at %s), and no allowed load does: paint the ground near it, or plan a second coat.", percent, film)
	}
}

// Percent returns the contrast ratio in per cent.
func (m Mixer) Percent() float64 { return 100 * m.Cup.Look.Contrast }

// Percent returns the contrast ratio in per cent.
func (s Step) Percent() float64 { return 100 * s.Contrast }

// Measure prints a mass of the pigment the way it is dosed: whole drops of a
// liquid, spoons of a powder.
func (p Pigment) Measure(m units.Mass) string {
	if drop := p.DropMass(); drop > 0 {
		n := float64(m / drop)
		if n < 60 {
			return Plural(int(math.Round(n)), "drop", "drops")
		}
		return units.Fixed(float64(m.Filling(p.Liquid)), 1) + " mL"
	}
	if p.Spoon <= 0 {
		return ""
	}
	eighths := int(math.Round(float64(m/p.Spoon) * 8))
	if eighths == 0 {
		return "a pinch"
	}
	whole, rest := eighths/8, eighths%8
	fraction := [...]string{"", "1/8", "1/4", "3/8", "1/2", "5/8", "3/4", "7/8"}[rest]
	switch {
	case whole == 0:
		return fraction + " tsp"
	case rest == 0:
		return fmt.Sprintf("%d tsp", whole)
	}
	return fmt.Sprintf("%d %s tsp", whole, fraction)
}

// little is the smallest amount by which the pigment is dosed.
func (p Pigment) little() (units.Mass, string) {
	if drop := p.DropMass(); drop > 0 {
		return drop, "1 drop"
	}
	return p.Spoon / 8, "1/8 tsp"
}

// mass reads an amount of the pigment: grams, drops of its own bottle, spoons.
func (p Pigment) mass(text string) (units.Mass, error) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "−", "-"))
	sign := units.Mass(1)
	if rest, ok := strings.CutPrefix(text, "-"); ok {
		text, sign = strings.TrimSpace(rest), -1
	}
	text = strings.TrimPrefix(text, "+")
	if r, err := units.ParseMass(text, "g"); err == nil {
		return sign * r.Value, nil
	}
	r, err := units.ParseVolume(text, "ml")
	if err != nil {
		return 0, fmt.Errorf("%q is not an amount of pigment; write 2 drops, 0.3 g or 1/4 tsp", text)
	}
	switch {
	case strings.Contains(text, "drop") && p.DropMass() > 0:
		return sign * units.Mass(r.Value/units.Drop) * p.DropMass(), nil
	case p.Spoon > 0:
		return sign * units.Mass(r.Value/units.Teaspoon) * p.Spoon, nil
	}
	return sign * r.Value.Weighing(p.Liquid), nil
}

// mostDoses is how many pigments one cup takes.
const mostDoses = 8

// Dose adds an amount of a pigment, or takes it out with a minus, in the cup
// of a colour. The amount is that of the cup as planned in the coat.
func (s *Studio) Dose(ctx context.Context, piece int64, coat, id string, pigment int64, text string) (Piece, error) {
	plan, err := s.Plan(ctx, piece)
	if err != nil {
		return Piece{}, err
	}
	m := Mixer{Plan: plan}
	if !m.find(coat, id) {
		return Piece{}, store.ErrNotFound
	}
	p, err := s.Pigment(ctx, pigment)
	if errors.Is(err, store.ErrNotFound) {
		return Piece{}, &RefusedError{errors.New("choose a pigment from the shelf")}
	}
	if err != nil {
		return Piece{}, err
	}
	amount, err := p.mass(text)
	if err != nil {
		return Piece{}, &RefusedError{err}
	}
	change := float64(amount / (m.Cup.A.Mass + m.Cup.B.Mass))
	return s.change(ctx, piece, func(spec *Spec) error { return spec.colour(id).dose(p, change) })
}

// mostLoad is what no cup of resin bears, whatever the pigment.
const mostLoad = 0.5

// dose changes the load of a pigment by a share of the resin's mass. A pigment
// of which nothing is left leaves the cup.
func (c *Colour) dose(p Pigment, change float64) error {
	doses := slices.Clone(c.Doses())
	i := slices.IndexFunc(doses, func(d Dose) bool { return d.Pigment == p.ID })
	if i < 0 {
		if len(doses) >= mostDoses {
			return &RefusedError{fmt.Errorf("a cup takes at most %d pigments", mostDoses)}
		}
		i = len(doses)
		doses = append(doses, Dose{Pigment: p.ID})
	}
	doses[i].Load += change
	switch {
	case doses[i].Load > mostLoad:
		return &RefusedError{fmt.Errorf("that is more than %s %% of the cup; check the unit", units.Fixed(mostLoad*100, 0))}
	case doses[i].Load < 1e-6:
		doses = slices.Delete(doses, i, i+1)
	}
	c.setDoses(doses)
	return nil
}

func (c *Colour) setDoses(doses []Dose) {
	if len(doses) == 0 {
		c.Pigment, c.Load, c.More = 0, 0, nil
		return
	}
	c.Pigment, c.Load, c.More = doses[0].Pigment, doses[0].Load, slices.Clone(doses[1:])
}

// TakeRecipe fills the cup of a colour with the best recipe for its swatch.
func (s *Studio) TakeRecipe(ctx context.Context, piece int64, id string) (Piece, error) {
	p, err := s.Piece(ctx, piece)
	if err != nil {
		return p, err
	}
	match, err := s.Match(ctx, p.Spec.colour(id).Swatch)
	if err != nil || len(match.Best) == 0 {
		return p, err
	}
	return s.change(ctx, piece, func(spec *Spec) error {
		spec.colour(id).take(match.Best[0])
		return nil
	})
}
