package studio

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// A Pigment is a colour on the studio's shelf.
type Pigment struct {
	ID      int64 `json:"-"`
	Rev     int64 `json:"-"`
	Retired bool  `json:"-"`

	Name   string
	Maker  string // the group pigments of one maker share, for predictable flow
	Form   colour.Form
	Swatch string
	Clear  bool // transparent: a tint or ink without scattering

	Scatter   float64        // 1/mm for each per cent by mass, of an opaque one
	Drop      units.Volume   // of its bottle
	Spoon     units.Mass     // a level teaspoon; 0 for a liquid
	LoadLimit float64        // by mass of mixed resin
	Particle  units.Length   // across
	Density   units.Density  // of the particle
	Liquid    units.Density  // of the bottle's content, for drops
	Flammable bool           // while wet
	Light     int            // fastness, 1 fugitive to 8 excellent (blue wool scale)
	Price     float64        // of a bottle
	Stock     units.Mass     // left on the shelf
	Solved    *colour.Optics // from a drawdown, at full strength; nil: from the swatch
}

// NewPigment returns what a new form starts from.
func NewPigment() Pigment {
	return Pigment{Form: colour.Paste, Swatch: "#5a6a72", Scatter: 0.9, Drop: units.Drop, LoadLimit: 0.06,
		Particle: 0.5 * units.Micrometre, Density: 2500, Liquid: 1200, Light: 7, Stock: 50}
}

// washLoad and washFilm are where a transparent colour shows its swatch over
// white: a usual dose in a usual film (common practice).
const (
	washLoad = 0.02
	washFilm = 1.6 * units.Millimetre
)

// opticsOf returns K and S at full strength of a pigment whose swatch reflects
// s: as a wash over white when it is transparent, as a masstone otherwise.
func (p Pigment) opticsOf(s colour.Spectrum) (colour.Optics, error) {
	if p.Clear {
		return colour.FromWash(s, washLoad, washFilm)
	}
	return colour.FromMasstone(s, p.Scatter)
}

// DropMass returns what a drop of a liquid pigment weighs, 0 for a powder.
func (p Pigment) DropMass() units.Mass {
	if p.Spoon > 0 {
		return 0
	}
	return p.Drop.Weighing(p.Liquid)
}

// FormName returns the form in words.
func (p Pigment) FormName() string {
	r, _ := colour.RuleOf(p.Form)
	return r.Name
}

// Behaves says what to expect of the form.
func (p Pigment) Behaves() string {
	r, _ := colour.RuleOf(p.Form)
	return r.Behaves
}

var pigmentFields = Fields[Pigment]{
	textField("name", "Name", func(p *Pigment) *string { return &p.Name }, 80, true),
	textField("maker", "Maker group", func(p *Pigment) *string { return &p.Maker }, 40, false),
	choiceField("form", "Form", func(p *Pigment) *colour.Form { return &p.Form }, formIDs()...),
	swatchField("swatch", "Swatch", func(p *Pigment) *string { return &p.Swatch }),
	boolField("clear", "Transparent", func(p *Pigment) *bool { return &p.Clear }),
	numberField("scatter", "Hiding strength", func(p *Pigment) *float64 { return &p.Scatter }, 0.01, 50),
	volumeField("drop", "A drop", func(p *Pigment) *units.Volume { return &p.Drop }, 0.005, 1),
	massField("spoon", "A level teaspoon", func(p *Pigment) *units.Mass { return &p.Spoon }, 0, 60),
	shareField("load_limit", "Load limit", func(p *Pigment) *float64 { return &p.LoadLimit }, 0.5),
	micronField("particle", "Particle", func(p *Pigment) *units.Length { return &p.Particle }),
	rangedDensity("density", "Its density", func(p *Pigment) *units.Density { return &p.Density }, 500, 20_000),
	rangedDensity("liquid", "Density in the bottle", func(p *Pigment) *units.Density { return &p.Liquid }, 500, 5_000),
	boolField("flammable", "Flammable while wet", func(p *Pigment) *bool { return &p.Flammable }),
	countField("light", "Lightfastness", func(p *Pigment) *int { return &p.Light }, 1, 8),
	numberField("price", "Price", func(p *Pigment) *float64 { return &p.Price }, 0, 1e5),
	massField("stock", "In stock", func(p *Pigment) *units.Mass { return &p.Stock }, 0, 50_000),
}

func formIDs() []colour.Form {
	out := make([]colour.Form, len(colour.Forms))
	for i, f := range colour.Forms {
		out[i] = f.Form
	}
	return out
}

func numberField[T any](key, label string, at func(*T) *float64, lo, hi float64) Field[T] {
	print := func(v float64) string { return units.Fixed(v, 3) }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			v, err := units.ParseNumber(text)
			if err == nil {
				err = between(v, lo, hi, print)
			}
			return keep(at(t), units.Reading[float64]{Value: v}, err)
		}}
}

func micronField[T any](key, label string, at func(*T) *units.Length) Field[T] {
	print := func(l units.Length) string { return units.Fixed(float64(l/units.Micrometre), 2) + " µm" }
	return Field[T]{key, label,
		func(t *T, _ units.System) string { return print(*at(t)) },
		func(t *T, text string, _ units.System) (string, error) {
			r, err := units.ParseLength(text, "µm")
			if err == nil {
				err = between(r.Value, 0.01*units.Micrometre, 20, print)
			}
			return keep(at(t), r, err)
		}}
}

// Values returns the pigment as typed text.
func (p Pigment) Values(sys units.System) map[string]string { return pigmentFields.values(&p, sys) }

func decodePigment(row store.Item) (Pigment, error) {
	p := NewPigment()
	if err := json.Unmarshal(row.Doc, &p); err != nil {
		return p, fmt.Errorf("read the pigment %q: %w", row.Name, err)
	}
	p.ID, p.Rev, p.Retired, p.Name = row.ID, row.Rev, row.Retired, row.Name
	return p, nil
}

// Pigment returns one pigment of the shelf.
func (s *Studio) Pigment(ctx context.Context, id int64) (Pigment, error) {
	row, err := s.store.Item(ctx, store.Pigments, id)
	if err != nil {
		return Pigment{}, err
	}
	return decodePigment(row)
}

// Pigments returns the shelf, those in use first.
func (s *Studio) Pigments(ctx context.Context) ([]Pigment, error) {
	rows, err := s.store.Items(ctx, store.Pigments)
	if err != nil {
		return nil, err
	}
	out := make([]Pigment, len(rows))
	for i, row := range rows {
		if out[i], err = decodePigment(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// SavePigment takes a typed pigment: a new one when id is 0, otherwise a
// change of the one still at rev. A changed swatch or strength drops an older
// drawdown, which no longer describes it.
func (s *Studio) SavePigment(ctx context.Context, id, rev int64, values map[string]string) (Pigment, Notices, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Pigment{}, Notices{}, err
	}
	p := NewPigment()
	if id != 0 {
		if p, err = s.Pigment(ctx, id); err != nil {
			return p, Notices{}, err
		}
		p.Rev = rev
	}
	before := p
	notices := pigmentFields.apply(&p, values, set.Units)
	if p.Name == "" {
		notices.Errors["name"] = "needs a name"
	}
	if p.Swatch != before.Swatch || p.Scatter != before.Scatter || p.Clear != before.Clear {
		p.Solved = nil
	}
	if !notices.OK() {
		return p, notices, nil
	}
	p.ID, err = s.saveItem(ctx, store.Pigments, id, rev, p.Name, p, p.Retired, notices)
	return p, notices, err
}

// RetirePigment takes a pigment off the list for new cups or puts it back.
func (s *Studio) RetirePigment(ctx context.Context, id int64, retired bool) error {
	p, err := s.Pigment(ctx, id)
	if err != nil {
		return err
	}
	return s.store.UpdateItem(ctx, store.Pigments, id, p.Rev, p.Name, p, retired)
}

// A drawdown is the same cup over black and over white, as typed.
type drawdown struct {
	black, white, chart string
	film                units.Length
	load                float64
}

var drawdownFields = Fields[drawdown]{
	swatchField("over_black", "Over black", func(d *drawdown) *string { return &d.black }),
	swatchField("over_white", "Over white", func(d *drawdown) *string { return &d.white }),
	swatchField("chart_white", "The white itself", func(d *drawdown) *string { return &d.chart }),
	filmField("draw_film", "Film", func(d *drawdown) *units.Length { return &d.film }, 0.02, 5),
	shareField("draw_load", "Load", func(d *drawdown) *float64 { return &d.load }, 0.5),
}

// SolveDrawdown keeps the K and S that a typed drawdown gives a pigment.
func (s *Studio) SolveDrawdown(ctx context.Context, id int64, values map[string]string) (Pigment, Notices, error) {
	p, err := s.Pigment(ctx, id)
	if err != nil {
		return p, Notices{}, err
	}
	set, err := s.Settings(ctx)
	if err != nil {
		return p, Notices{}, err
	}
	var d drawdown
	notices := newNotices()
	for _, f := range drawdownFields {
		if _, err := f.Set(&d, values[f.Key], set.Units); err != nil {
			notices.Errors[f.Key] = err.Error()
		}
	}
	if notices.OK() && d.load == 0 {
		notices.Errors["draw_load"] = "needs the share of pigment in the cup"
	}
	if !notices.OK() {
		return p, notices, nil
	}
	o, err := d.solve()
	if err != nil {
		notices.Errors["over_white"] = err.Error()
		return p, notices, nil
	}
	p.Solved = &o
	return p, notices, s.store.UpdateItem(ctx, store.Pigments, id, p.Rev, p.Name, p, p.Retired)
}

// solve inverts the films and scales them to full strength.
func (d drawdown) solve() (colour.Optics, error) {
	var r [3]colour.Spectrum
	for i, hex := range []string{d.black, d.white, d.chart} {
		c, err := colour.ParseHex(hex)
		if err != nil {
			return colour.Optics{}, err
		}
		if r[i], err = c.Reflectance(); err != nil {
			return colour.Optics{}, err
		}
	}
	o, err := colour.Drawdown(r[0], r[1], r[2], d.film)
	if err != nil {
		return o, err
	}
	return colour.Optics{}.Add(o, 1/d.load), nil
}

// layOutPigments fills an empty pigment shelf.
func (s *Studio) layOutPigments(ctx context.Context) error {
	rows, err := s.store.Items(ctx, store.Pigments)
	if err != nil || len(rows) > 0 {
		return err
	}
	for line := range strings.Lines(builtInPigments) {
		p, err := pigmentLine(strings.TrimSpace(line))
		if err != nil {
			return err
		}
		if _, err := s.store.CreateItem(ctx, store.Pigments, p.Name, p); err != nil {
			return err
		}
	}
	return nil
}

// ParticleMicrons returns the particle's size in µm.
func (p Pigment) ParticleMicrons() float64 { return float64(p.Particle / units.Micrometre) }
