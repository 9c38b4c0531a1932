package studio

import (
	"context"
	"errors"
	"math"
	"sync"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// A MixedPigment is a pigment with its optics reckoned.
type MixedPigment struct {
	Pigment
	Full colour.Optics // K and S at full strength
}

// A Look is what a cup of known pigment looks like as a film on its ground,
// and how well it hides it. The mistake everyone makes is to judge the cup:
// the stick vanishes in 50 mm, and the ground shows through 1.6.
type Look struct {
	Known    bool
	Film     string // "#rrggbb" over the ground at the coat's film
	Deep     string // the same cup 50 mm deep
	Contrast float64
	Hiding   colour.Hiding
	Limit    float64 // load limit of the pigment
	// ToHide is the load at which the film hides; 0 when no allowed load does.
	ToHide float64
	// Drops and Grams are what is missing until it hides, in this cup.
	Drops     int
	Grams     units.Mass
	Flammable bool
}

// cupDepth is how deep a cup is when people judge it (common practice).
const cupDepth = 50 * units.Millimetre

// see reckons the look of every cup of the first coat on the piece's ground.
func (p *Plan) see(stock Stock) {
	if len(p.Coats) == 0 {
		return
	}
	first := &p.Coats[0]
	for i := range first.Cups {
		cup := &first.Cups[i]
		if pigment, ok := stock.Pigments[cup.Colour.Pigment]; ok {
			cup.Look = lookOf(pigment, *cup, stock.Ground, first.Film)
		}
	}
}

func lookOf(pigment MixedPigment, cup CupPlan, ground colour.Spectrum, film units.Length) Look {
	dose := []colour.Dose{{Optics: pigment.Full, Load: cup.Colour.Load}}
	optics := colour.Cup(dose)
	l := Look{
		Known: true, Film: optics.Over(ground, film).XYZ().RGB().Hex(), Deep: optics.Over(colour.Flat(colour.ChartWhite), cupDepth).XYZ().RGB().Hex(),
		Contrast: optics.Contrast(film), Limit: pigment.LoadLimit, Flammable: pigment.Flammable,
	}
	l.Hiding = colour.HidingOf(l.Contrast)
	if l.Hiding == colour.Opaque {
		return l
	}
	if load, ok := colour.LoadToHide(dose, film, pigment.LoadLimit); ok {
		l.ToHide = load
		l.Grams = (cup.A.Mass + cup.B.Mass) * units.Mass(load-cup.Colour.Load)
		if drop := pigment.DropMass(); drop > 0 {
			l.Drops = int(math.Ceil(float64(l.Grams / drop)))
		}
	}
	return l
}

// Swatch returns the truest swatch there is: the film over its ground, or the
// bottle's when the pigment is not known.
func (c CupPlan) Swatch() string {
	if c.Look.Known {
		return c.Look.Film
	}
	return c.Colour.Swatch
}

func (p *Plan) judgeLoads() {
	for _, cup := range p.Coats[0].Cups {
		limit := usualLoadLimit
		if cup.Look.Known {
			limit = cup.Look.Limit
		}
		if cup.Colour.Load > limit+1e-9 {
			p.say(PartColours, Mind, "Stay under the load limit or the cup may stay soft; the product's sheet rules.",
				"%s carries %s %% pigment; its limit is %s %%.", cup.Colour.Name, units.Fixed(cup.Colour.Load*100, 1), units.Fixed(limit*100, 1))
		}
	}
}

// judgeHiding says which bases and whites let the ground through; accents may.
func (p *Plan) judgeHiding() {
	for _, cup := range p.Coats[0].Cups {
		l := cup.Look
		if l.Known && l.Flammable {
			p.say(PartColours, Mind, "No flame until it has flashed off.", "%s is flammable while wet.", cup.Colour.Name)
		}
		if !l.Known || l.Contrast >= 0.90 || (cup.Colour.Role != RoleBase && cup.Colour.Role != RoleWhite) {
			continue
		}
		advice := "No allowed load hides it at this film: paint the ground near the colour, or plan a second coat of it."
		switch {
		case l.Drops > 0:
			advice = Plural(l.Drops, "more drop", "more drops") + " (" + l.Grams.Text(units.Metric) + ") hide it, or a second coat."
		case l.ToHide > 0:
			advice = l.Grams.Text(units.Metric) + " more hide it, or a second coat."
		}
		p.say(PartColours, Mind, advice, "%s will not hide the ground: %s (%s %%) at %s.", cup.Colour.Name, l.Hiding, units.Fixed(l.Contrast*100, 0), p.Coats[0].Film.Film(p.Settings.Units))
	}
}

// mixes looks up the pigments and the ground of a piece. A pigment that is no
// longer there leaves its colour known by its swatch.
func (s *Studio) mixes(ctx context.Context, spec Spec, stock *Stock) error {
	stock.Pigments = map[int64]MixedPigment{}
	for _, c := range spec.Colours {
		if _, done := stock.Pigments[c.Pigment]; done || c.Pigment == 0 {
			continue
		}
		p, err := s.Pigment(ctx, c.Pigment)
		if errors.Is(err, store.ErrNotFound) {
			continue
		}
		if err != nil {
			return err
		}
		full, err := s.spectra.optics(p)
		if err != nil {
			return err
		}
		stock.Pigments[c.Pigment] = MixedPigment{p, full}
	}
	var err error
	stock.Ground, err = s.spectra.reflectance(spec.Ground)
	return err
}

// adopt gives a colour the swatch, and a name that was never changed the name,
// of a pigment it has just been given.
func (s *Studio) adopt(ctx context.Context, before Spec, after *Spec, n Notices) error {
	for i := range after.Colours {
		c := &after.Colours[i]
		if c.Pigment == 0 || c.Pigment == before.colour(c.ID).Pigment {
			continue
		}
		p, err := s.Pigment(ctx, c.Pigment)
		if errors.Is(err, store.ErrNotFound) {
			n.Errors["colour."+c.ID+".pigment"] = "this pigment is not on the shelf"
			c.Pigment = before.colour(c.ID).Pigment
			continue
		}
		if err != nil {
			return err
		}
		c.Swatch = p.Swatch
		if c.Name == before.colour(c.ID).Name {
			c.Name = p.Name
		}
	}
	return nil
}

// spectra remembers reflectances by swatch: finding one takes half a
// millisecond, and a plan is reckoned at every keystroke.
type spectra struct {
	mu    sync.Mutex
	known map[string]colour.Spectrum
}

// mostSpectra bounds the memory; beyond it everything is found again.
const mostSpectra = 1024

func (m *spectra) reflectance(hex string) (colour.Spectrum, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if s, ok := m.known[hex]; ok {
		return s, nil
	}
	c, err := colour.ParseHex(hex)
	if err != nil {
		return colour.Spectrum{}, err
	}
	s, err := c.Reflectance()
	if err != nil {
		return s, err
	}
	if m.known == nil || len(m.known) >= mostSpectra {
		m.known = map[string]colour.Spectrum{}
	}
	m.known[hex] = s
	return s, nil
}

// optics is Pigment.Optics with the reflectance remembered.
func (m *spectra) optics(p Pigment) (colour.Optics, error) {
	if p.Solved != nil {
		return *p.Solved, nil
	}
	s, err := m.reflectance(p.Swatch)
	if err != nil {
		return colour.Optics{}, err
	}
	return p.opticsOf(s)
}

// A PigmentSample shows a pigment at usual loads in a usual film.
type PigmentSample struct {
	Steps []SampleStep
}

// A SampleStep is one load of a sample, over the chart's black and white.
type SampleStep struct {
	Load         float64
	Black, White string
	Contrast     float64
	Hiding       colour.Hiding
}

// sampleLoads are the loads a sample shows, up to the pigment's limit.
var sampleLoads = []float64{0.0025, 0.005, 0.01, 0.02, 0.04, 0.06, 0.12, 0.25}

// Sample reckons how a pigment looks at usual loads in a film of 1.6 mm.
func (s *Studio) Sample(p Pigment) (PigmentSample, error) {
	full, err := s.spectra.optics(p)
	if err != nil {
		return PigmentSample{}, err
	}
	var out PigmentSample
	for _, load := range sampleLoads {
		if load > p.LoadLimit+1e-9 {
			break
		}
		o := colour.Cup([]colour.Dose{{Optics: full, Load: load}})
		hex := func(ground float64) string { return o.Over(colour.Flat(ground), washFilm).XYZ().RGB().Hex() }
		contrast := o.Contrast(washFilm)
		out.Steps = append(out.Steps, SampleStep{load, hex(colour.ChartBlack), hex(colour.ChartWhite), contrast, colour.HidingOf(contrast)})
	}
	return out, nil
}

// Percent returns the contrast ratio in per cent.
func (c CupPlan) Percent() float64 { return 100 * c.Look.Contrast }

// Percent returns the contrast ratio in per cent.
func (s SampleStep) Percent() float64 { return 100 * s.Contrast }
