package studio

import (
	"context"
	"errors"
	"fmt"
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
	Used     float64 // of the load limits, all pigments together; 1 is the most
	Limit    float64 // load limit of the first pigment
	// ToHide is the load of the first pigment at which the film hides; 0 when no
	// allowed load does.
	ToHide float64
	// Drops and Grams are what is missing until it hides, in this cup.
	Drops     int
	Grams     units.Mass
	Flammable bool

	optics  colour.Optics
	over    colour.Spectrum // the film on its ground
	density units.Density   // of the mixed cup
}

// cupDepth is how deep a cup is when people judge it (common practice).
const cupDepth = 50 * units.Millimetre

// see reckons the look of every cup on what lies under it: the ground under the
// first coat, the widest colour of the coat below under the others.
func (p *Plan) see(stock Stock) {
	under := stock.Ground
	for i := range p.Coats {
		coat := &p.Coats[i]
		coat.under = under
		widest := -1
		for j := range coat.Cups {
			cup := &coat.Cups[j]
			cup.Look = p.lookOf(*cup, stock, under, coat.Film)
			if widest < 0 || cup.Share > coat.Cups[widest].Share {
				widest = j
			}
		}
		if widest >= 0 {
			under = coat.Cups[widest].Look.over
		}
	}
}

// mixed returns what a cup of a colour does to light, with the limits of its
// pigments; known is false for a colour that only has a swatch, which is taken
// for a usual paste of that colour.
func (st Stock) mixed(c Colour) (doses []colour.Dose, limits []float64, known bool) {
	for _, d := range c.Doses() {
		if p, ok := st.Pigments[d.Pigment]; ok && d.Load > 0 {
			doses = append(doses, colour.Dose{Optics: p.Full, Load: d.Load})
			limits = append(limits, p.LoadLimit)
		}
	}
	if len(doses) > 0 || c.Role == RoleClear {
		return doses, limits, len(doses) > 0
	}
	o, err := colour.FromMasstone(st.Swatches[c.Swatch], usualScatter)
	if err != nil {
		return nil, nil, false
	}
	return []colour.Dose{{Optics: o, Load: max(c.Load, 0.001)}}, []float64{usualLoadLimit}, false
}

// usualScatter is the hiding strength of a usual paste in 1/mm a per cent
// (from memory).
const usualScatter = 0.9

func (p *Plan) lookOf(cup CupPlan, stock Stock, ground colour.Spectrum, film units.Length) Look {
	doses, limits, known := stock.mixed(cup.Colour)
	optics := colour.Cup(doses)
	l := Look{Known: known, optics: optics, over: optics.Over(ground, film), density: stock.density(p.Product, cup.Colour)}
	if !known {
		return l
	}
	l.Film, l.Deep = l.over.XYZ().RGB().Hex(), optics.Over(colour.Flat(colour.ChartWhite), cupDepth).XYZ().RGB().Hex()
	l.Contrast, l.Limit = optics.Contrast(film), limits[0]
	l.Hiding = colour.HidingOf(l.Contrast)
	loads := make([]float64, len(doses))
	for i, d := range doses {
		loads[i] = d.Load
	}
	l.Used = colour.LoadUsed(loads, limits)
	first := stock.Pigments[cup.Colour.Doses()[0].Pigment]
	for _, d := range cup.Colour.Doses() {
		l.Flammable = l.Flammable || stock.Pigments[d.Pigment].Flammable
	}
	if l.Hiding == colour.Opaque {
		return l
	}
	room := doses[0].Load + limits[0]*max(0, 1-l.Used) // what the limits still allow of the first
	if load, ok := colour.LoadToHide(doses, film, room); ok {
		l.ToHide = load
		l.Grams = (cup.A.Mass + cup.B.Mass) * units.Mass(load-doses[0].Load)
		if drop := first.DropMass(); drop > 0 {
			l.Drops = int(math.Ceil(float64(l.Grams / drop)))
		}
	}
	return l
}

// density is that of a mixed cup with its pigments.
func (st Stock) density(product Product, c Colour) units.Density {
	w, rho := []float64{1}, []units.Density{product.Density()}
	for _, d := range c.Doses() {
		if p, ok := st.Pigments[d.Pigment]; ok {
			w, rho = append(w, d.Load), append(rho, p.Density)
		}
	}
	sum := 0.0
	for _, v := range w {
		sum += v
	}
	for i := range w {
		w[i] /= sum
	}
	return units.MixedDensity(w, rho)
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
		used := cup.Look.Used
		if !cup.Look.Known {
			used = cup.Colour.Load / usualLoadLimit
		}
		if used <= 1+1e-9 {
			continue
		}
		limit := usualLoadLimit
		if cup.Look.Known {
			limit = cup.Look.Limit
		}
		text := fmt.Sprintf("%s carries %s %% pigment; its limit is %s %%.", cup.Colour.Name, units.Fixed(cup.Colour.TotalLoad()*100, 1), units.Fixed(limit*100, 1))
		if len(cup.Colour.More) > 0 {
			text = fmt.Sprintf("%s uses %s %% of its pigments' load limits together.", cup.Colour.Name, units.Fixed(used*100, 0))
		}
		p.say(PartColours, Mind, "Stay under the load limit or the cup may stay soft; the product's sheet rules.", "%s", text)
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
	stock.Pigments, stock.Swatches = map[int64]MixedPigment{}, map[string]colour.Spectrum{}
	var err error
	for _, c := range spec.Colours {
		if stock.Swatches[c.Swatch], err = s.spectra.reflectance(c.Swatch); err != nil {
			return err
		}
		for _, d := range c.Doses() {
			if err := s.fetch(ctx, d.Pigment, stock); err != nil {
				return err
			}
		}
	}
	stock.Ground, err = s.spectra.reflectance(spec.Ground)
	return err
}

// fetch adds a pigment of the shelf to the stock, if it is there.
func (s *Studio) fetch(ctx context.Context, id int64, stock *Stock) error {
	if _, done := stock.Pigments[id]; done || id == 0 {
		return nil
	}
	p, err := s.Pigment(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	full, err := s.spectra.optics(p)
	if err != nil {
		return err
	}
	stock.Pigments[id] = MixedPigment{p, full}
	return nil
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
