package materials

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// NewPigment returns what a new form starts from.
func NewPigment() material.Pigment {
	return material.Usual(colour.Paste, "")
}

// usual is a new pigment of the form and swatch that are typed, with what such a one usually is.
func usual(typed map[string]string) material.Pigment {
	return material.Usual(colour.Form(typed["form"]), typed["swatch"])
}

// CheckPigment says what would be refused of a typed new pigment.
func CheckPigment(typed map[string]string, style form.Style) form.Notices {
	p := usual(typed)
	return PigmentFields.Apply(&p, typed, style)
}

// PigmentFields is the catalogue of a pigment.
var PigmentFields = form.Fields[material.Pigment]{
	form.Text("name", "Name", func(p *material.Pigment) *string { return &p.Name }, 80, true),
	form.Text("maker", "Maker group", func(p *material.Pigment) *string { return &p.Maker }, 40, false),
	form.Choice("form", "Form", func(p *material.Pigment) *colour.Form { return &p.Form }, forms()...),
	form.Swatch("swatch", "Swatch", func(p *material.Pigment) *string { return &p.Swatch }),
	form.Bool("clear", "Transparent", func(p *material.Pigment) *bool { return &p.Clear }),
	form.Number("scatter", "Hiding power", func(p *material.Pigment) *float64 { return &p.Scatter }, 0.01, 50, 3),
	form.Volume("drop", "A drop", func(p *material.Pigment) *units.Volume { return &p.Drop }, 0.005, 1),
	form.Mass("spoon", "A level teaspoon", func(p *material.Pigment) *units.Mass { return &p.Spoon }, 0, 60),
	form.Share("load_limit", "Load limit", func(p *material.Pigment) *float64 { return &p.LoadLimit }, 0.5),
	form.Micron("particle", "Particle", func(p *material.Pigment) *units.Length { return &p.Particle }),
	form.Density("density", "Density of its solids", func(p *material.Pigment) *units.Density { return &p.Density }, 500,
		20_000),
	form.Density("liquid", "Density in the bottle", func(p *material.Pigment) *units.Density { return &p.Liquid }, 500,
		5_000),
	form.Share("solids", "Solids in the bottle", func(p *material.Pigment) *float64 { return &p.Solids }, 1),
	form.Bool("flammable", "Flammable while wet", func(p *material.Pigment) *bool { return &p.Flammable }),
	form.Count("light", "Lightfastness", func(p *material.Pigment) *int { return &p.Light }, 1, 8),
	form.Money("price", "Price of a bottle", func(p *material.Pigment) *decimal.Decimal { return &p.Price }, 2),
	form.Mass("bottle", "What is in a bottle", func(p *material.Pigment) *units.Mass { return &p.Content }, 1, 50_000),
	form.Text("supplier", "Bought from", func(p *material.Pigment) *string { return &p.Supplier }, 80, false),
	form.Count("lead_days", "Delivery time, days", func(p *material.Pigment) *int { return &p.LeadDays }, 0, 180),
}

func forms() []form.Option {
	out := make([]form.Option, len(colour.Forms))
	for i, f := range colour.Forms {
		out[i] = form.Option{Value: string(f.Form), Label: f.Name}
	}
	return out
}

// BuiltInPigments returns the pigments of a new studio.
func BuiltInPigments() ([]material.Pigment, error) {
	var out []material.Pigment
	for line := range strings.Lines(builtInPigments) {
		p, err := pigmentLine(strings.TrimSpace(line))
		if err != nil {
			return nil, err
		}
		out = append(out, p)
	}
	return out, nil
}

func (s *Service) decodePigment(d store.Document, film colour.Surface) (material.Pigment, error) {
	p := NewPigment()
	p.Liquid, p.Solids = 1200, 0 // what an entry that does not say meant
	if err := json.Unmarshal(d.Doc, &p); err != nil {
		return p, fmt.Errorf("read the pigment %q: %w", d.Name, err)
	}
	p.ID, p.Rev, p.Retired, p.Name = d.ID, d.Rev, d.Off, d.Name
	return p.Filled().Optical(s.spectra, film)
}

func (s *Service) pigments(ctx context.Context, film colour.Surface) ([]material.Pigment, error) {
	docs, err := s.store.AllOf(ctx, store.Pigments)
	if err != nil {
		return nil, err
	}
	out := make([]material.Pigment, len(docs))
	for i, d := range docs {
		if out[i], err = s.decodePigment(d, film); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Pigment returns one pigment of the materials.
func (s *Service) Pigment(ctx context.Context, id int64) (material.Pigment, error) {
	d, err := s.store.Document(ctx, store.Pigments, id)
	if err != nil {
		return material.Pigment{}, err
	}
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return material.Pigment{}, err
	}
	return s.decodePigment(d, set.Surface())
}

// SavePigment takes a typed pigment: a new one when id is 0, otherwise a
// change of the one still at rev. A changed swatch or strength drops an older
// drawdown, which no longer describes it.
func (s *Service) SavePigment(ctx context.Context, id, rev int64, typed map[string]string) (material.Pigment,
	form.Notices,
	error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return material.Pigment{}, form.Notices{}, err
	}
	p := usual(typed)
	if id != 0 {
		if p, err = s.Pigment(ctx, id); err != nil {
			return p, form.Notices{}, err
		}
	}
	before := p
	n := PigmentFields.Apply(&p, typed, set.Style())
	if p.Name == "" {
		n.Refuse("name", msg.ID("needs a name"))
	}
	if p.Swatch != before.Swatch || p.Scatter != before.Scatter || p.Clear != before.Clear {
		p.Solved = nil
	}
	if !n.OK() {
		return p, n, nil
	}
	p.ID, err = s.keep(ctx, store.Pigments, id, rev, p.Name, p, n)
	return p, n, err
}

// RetirePigment takes a pigment off the list for new cups or puts it back.
func (s *Service) RetirePigment(ctx context.Context, id int64, off bool) error {
	return s.setOff(ctx, store.Pigments, id, off)
}

// A drawdown is the same cup over black and over white, as typed.
type drawdown struct {
	black, white, chart string
	film                units.Length
	load                float64
}

// drawdownFields is the catalogue of a drawdown.
var drawdownFields = form.Fields[drawdown]{
	form.Swatch("over_black", "Over black", func(d *drawdown) *string { return &d.black }),
	form.Swatch("over_white", "Over white", func(d *drawdown) *string { return &d.white }),
	form.Swatch("chart_white", "The white itself", func(d *drawdown) *string { return &d.chart }),
	form.Film("draw_film", "Film", func(d *drawdown) *units.Length { return &d.film }, 0.02, 5).Hinted("0.2 mm"),
	form.Share("draw_load", "Load", func(d *drawdown) *float64 { return &d.load }, 0.5).Hinted("1 %"),
}

// usualDrawdown is how a drawdown is usually made (common practice).
var usualDrawdown = drawdown{black: "#101010", white: "#d0d0d0", chart: "#e6e6e4", film: 0.3, load: 0.02}

// DrawdownViews are the fields of a drawdown.
func DrawdownViews(style form.Style, typed map[string]string, n form.Notices) map[string]form.View {
	d := usualDrawdown
	views := drawdownFields.Views(&d, style, typed, n, nil)
	for key, v := range views {
		if text, ok := typed[key]; ok {
			v.Value = text
			views[key] = v
		}
	}
	return views
}

// SolveDrawdown keeps the K and S that a typed drawdown gives a pigment.
func (s *Service) SolveDrawdown(ctx context.Context, id int64, typed map[string]string) (material.Pigment, form.Notices,
	error) {
	p, err := s.Pigment(ctx, id)
	if err != nil {
		return p, form.Notices{}, err
	}
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return p, form.Notices{}, err
	}
	var d drawdown
	n := form.NewNotices()
	for _, f := range drawdownFields { // all are asked for
		if _, err := f.Set(&d, typed[f.Key], set.Units); err != nil {
			n.Refuse(f.Key, msg.Of(err))
		}
	}
	if d.load == 0 {
		n.Refuse("draw_load", msg.ID("needs the share of pigment in the cup"))
	}
	if !n.OK() {
		return p, n, nil
	}
	o, err := d.solve(s.spectra, set.Surface())
	if err != nil {
		n.Refuse("over_white", msg.Of(err))
		return p, n, nil
	}
	p.Solved = &o
	_, err = s.keep(ctx, store.Pigments, id, p.Rev, p.Name, p, n)
	return p, n, err
}

// solve inverts the films and scales them to full strength.
func (d drawdown) solve(spectra *colour.Memo, film colour.Surface) (colour.Optics, error) {
	var r [3]colour.Spectrum
	for i, hex := range []string{d.black, d.white, d.chart} {
		var err error
		if r[i], err = spectra.Reflectance(hex); err != nil {
			return colour.Optics{}, err
		}
	}
	o, err := colour.Drawdown(r[0], r[1], r[2], d.film, film)
	if err != nil {
		return o, err
	}
	return colour.Optics{}.Add(o, 1/d.load), nil
}

// A SampleStep is one load of a pigment in a usual film, over the chart's black
// and white.
type SampleStep struct {
	Load         float64
	Black, White string
	Contrast     float64
	Hiding       colour.Hiding
}

// Percent returns the contrast ratio in per cent.
func (s SampleStep) Percent() float64 { return 100 * s.Contrast }

// sampleLoads are the loads a sample shows, up to the pigment's limit.
var sampleLoads = []float64{0.0025, 0.005, 0.01, 0.02, 0.04, 0.06, 0.12, 0.25}

// Sample calculates how a pigment looks at usual loads in a film of 1.6 mm.
func Sample(p material.Pigment, film colour.Surface) []SampleStep {
	var out []SampleStep
	for _, load := range sampleLoads {
		if load > p.LoadLimit+1e-9 {
			break
		}
		o := colour.Cup([]colour.Dose{{Optics: p.Full, Load: load}})
		hex := func(ground float64) string {
			return film.Out(o.Over(film.In(colour.Flat(ground)), material.WashFilm)).XYZ().RGB().Hex()
		}
		contrast := film.Contrast(o, material.WashFilm)
		out = append(out, SampleStep{load, hex(colour.ChartBlack), hex(colour.ChartWhite), contrast,
			colour.HidingOf(contrast)})
	}
	return out
}

// Strengthen keeps a pigment as so many times as strong as it was taken for, as a
// drawdown would have it.
func (s *Service) Strengthen(ctx context.Context, id int64, times float64) error {
	p, err := s.Pigment(ctx, id)
	if err != nil {
		return err
	}
	o := colour.Optics{}.Add(p.Full, times)
	p.Solved = &o
	_, err = s.keep(ctx, store.Pigments, id, p.Rev, p.Name, p, form.NewNotices())
	return err
}
