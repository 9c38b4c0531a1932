// Package colours is the work with colours before any is poured:
// palettes from pictures, recipes from the stock, and the cup mixer.
package colours

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"
	"time"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/palettefile"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// A Service reads pictures, matches colours and mixes cups.
type Service struct {
	store     *store.Store
	materials *materials.Service
	pieces    *pieces.Service
	agenda    *agenda.Service
	pictures  *picture.Desk
	now       func() time.Time
}

// New returns the service.
func New(db *store.Store, mats *materials.Service, ps *pieces.Service, ag *agenda.Service, desk *picture.Desk,
	now func() time.Time) *Service {
	return &Service{db, mats, ps, ag, desk, now}
}

// A Palette is the colours of a picture, or of a palette file.
type Palette struct {
	ID, Rev int64     `json:"-"`
	At      time.Time `json:"-"`
	Name    string    `json:"-"`
	Colours []PaletteColour
	Count   int // asked for
	Edited  bool
	Width   int // of the original picture
	Height  int
	Picture bool
}

// A PaletteColour is one colour with its part of the picture.
type PaletteColour struct {
	Name  string
	Hex   string
	Share float64
}

// usualCount is how many colours a palette begins with.
const usualCount = 5

func decodePalette(d store.Document) (Palette, error) {
	p := Palette{ID: d.ID, Rev: d.Rev, Name: d.Name, At: d.At}
	if err := json.Unmarshal(d.Doc, &p); err != nil {
		return p, fmt.Errorf("read the palette %q: %w", d.Name, err)
	}
	return p, nil
}

func read(ctx context.Context, r store.Reader, id int64) (Palette, error) {
	d, err := r.Document(ctx, store.Palettes, id)
	if err == nil && d.Off {
		err = store.ErrNotFound
	}
	if err != nil {
		return Palette{}, err
	}
	return decodePalette(d)
}

// Palette returns a palette.
func (s *Service) Palette(ctx context.Context, id int64) (Palette, error) {
	return read(ctx, s.store.Reader, id)
}

// Palettes returns a page of palettes, newest first, and how many there are.
func (s *Service) Palettes(ctx context.Context, limit, offset int) ([]Palette, int, error) {
	docs, n, err := s.store.Newest(ctx, store.Palettes, "", limit, offset)
	if err != nil {
		return nil, 0, err
	}
	out := make([]Palette, len(docs))
	for i, d := range docs {
		if out[i], err = decodePalette(d); err != nil {
			return nil, 0, err
		}
	}
	return out, n, nil
}

// Picture returns the small copy of the picture a palette came from.
func (s *Service) Picture(ctx context.Context, id int64) ([]byte, error) {
	ids, err := s.store.Pictures(ctx, store.PalettePictures, id)
	if err != nil {
		return nil, err
	}
	if len(ids) == 0 {
		return nil, store.ErrNotFound
	}
	return s.store.Picture(ctx, store.PalettePictures, id, ids[0])
}

// ReadPicture keeps the palette of a picture. What cannot be read is refused
// in words for the person who chose it.
func (s *Service) ReadPicture(ctx context.Context, name string, r io.Reader) (Palette, error) {
	pic, err := s.pictures.Read(ctx, r)
	if err != nil {
		return Palette{}, &form.Refused{Field: "picture", Err: err}
	}
	p := Palette{Count: usualCount, Width: pic.Width, Height: pic.Height, Picture: true}
	if p.Colours, err = coloursOf(ctx, pic, p.Count); err != nil {
		return p, &form.Refused{Field: "picture", Err: err}
	}
	small, err := pic.PNG()
	if err != nil {
		return p, err
	}
	return s.keepPalette(ctx, paletteName(name), p, small)
}

func (s *Service) keepPalette(ctx context.Context, name string, p Palette, small []byte) (Palette, error) {
	id := int64(0)
	err := s.store.Write(ctx, "keep the palette", func(tx *store.Tx) error {
		var err error
		if id, err = tx.Create(ctx, store.Palettes, name, p, s.now()); err != nil || len(small) == 0 {
			return err
		}
		_, err = tx.AddPicture(ctx, store.PalettePictures, id, small, s.now())
		return err
	})
	if err != nil {
		return p, err
	}
	return s.Palette(ctx, id)
}

// paletteName makes a name of a file's.
func paletteName(file string) string {
	if i := strings.LastIndexAny(file, `/\`); i >= 0 {
		file = file[i+1:]
	}
	if i := strings.LastIndexByte(file, '.'); i > 0 {
		file = file[:i]
	}
	name := []rune(strings.TrimSpace(
		strings.Join(strings.FieldsFunc(file, func(r rune) bool { return r == '_' || r < ' ' }), " ")))
	if len(name) == 0 {
		return "Palette"
	}
	return string(name[:min(len(name), 70)])
}

func coloursOf(ctx context.Context, pic picture.Picture, n int) ([]PaletteColour, error) {
	found, err := colour.Palette(ctx, pic.Pixels(), n)
	if err != nil {
		return nil, err
	}
	out := make([]PaletteColour, len(found))
	for i, c := range found {
		out[i] = PaletteColour{Name: spokenColour(c.Lab), Hex: c.RGB.Hex(), Share: c.Share}
	}
	return out, nil
}

// spokenColour names a colour roughly, as a beginning for a better name.
func spokenColour(c colour.Lab) string {
	light := "mid"
	switch {
	case c.L < 12:
		return "near black"
	case c.L > 93 && c.Chroma() < 8:
		return "near white"
	case c.L < 35:
		light = "deep"
	case c.L > 72:
		light = "pale"
	}
	if c.Chroma() < 7 {
		return light + " grey"
	}
	degrees := math.Mod(math.Atan2(c.B, c.A)*180/math.Pi+360, 360)
	for _, h := range []struct {
		upTo float64
		name string
	}{{20, "rose"}, {45, "red"}, {70, "orange"}, {100, "yellow"}, {125, "olive"}, {165, "green"}, {210, "teal"}, {265,
		"blue"}, {315, "violet"}, {345, "magenta"}, {361, "rose"}} {
		if degrees < h.upTo {
			if c.L < 62 && (h.name == "orange" || h.name == "yellow") {
				return light + " brown"
			}
			return light + " " + h.name
		}
	}
	return light
}

// ImportPalette keeps a palette read from a GPL file.
func (s *Service) ImportPalette(ctx context.Context, name string, r io.Reader) (Palette, error) {
	read, err := palettefile.Read(r)
	if err != nil {
		return Palette{}, &form.Refused{Field: "picture", Err: err}
	}
	if len(read.Colours) > maxColours {
		return Palette{}, form.Refusef("picture", "the palette has %d colours; a coat has at most %d cups", len(read.Colours),
			maxColours)
	}
	if read.Name == "" {
		read.Name = name
	}
	p := Palette{Count: len(read.Colours), Edited: true}
	for _, c := range read.Colours {
		p.Colours = append(p.Colours, PaletteColour{Name: c.Name, Hex: c.Hex, Share: 1 / float64(len(read.Colours))})
	}
	return s.keepPalette(ctx, paletteName(read.Name), p, nil)
}

// ExportPalette writes a palette as a GPL file.
func (s *Service) ExportPalette(ctx context.Context, id int64, w io.Writer) (Palette, error) {
	p, err := s.Palette(ctx, id)
	if err != nil {
		return p, err
	}
	out := palettefile.Palette{Name: p.Name}
	for _, c := range p.Colours {
		out.Colours = append(out.Colours, palettefile.Colour{Name: c.Name, Hex: c.Hex})
	}
	return p, palettefile.Write(w, out)
}

// maxColours is how many colours a palette holds: as many as a coat has cups.
const maxColours = 24

// Fields is the catalogue of a palette with its colours.
func Fields(p Palette) form.Fields[Palette] {
	fields := form.Fields[Palette]{
		form.Text("name", "Name", func(p *Palette) *string { return &p.Name }, 80, true),
		form.Count("count", "Colours", func(p *Palette) *int { return &p.Count }, 1, maxColours),
	}
	for i := range p.Colours {
		key := fmt.Sprintf("colour.%d.", i)
		fields = append(fields,
			form.Text(key+"name", "Name", func(p *Palette) *string { return &p.Colours[i].Name }, 60, false),
			form.Swatch(key+"hex", "Colour", func(p *Palette) *string { return &p.Colours[i].Hex }))
	}
	return fields
}

// EditPalette lays typed names and colours on a palette that is still at rev.
// A changed count reads the picture again.
func (s *Service) EditPalette(ctx context.Context, id, rev int64, typed map[string]string) (Palette, form.Notices,
	error) {
	p, err := s.Palette(ctx, id)
	n := form.NewNotices()
	if err != nil {
		return p, n, err
	}
	const stale = "the palette was changed on another page; look at it again"
	if p.Rev != rev {
		n.Refuse("name", msg.ID(stale))
		return p, n, nil
	}
	count := p.Count
	b, err := s.materials.Book(ctx)
	if err != nil {
		return p, n, err
	}
	if n = Fields(p).Apply(&p, typed, form.Style{Units: units.Metric, Lang: b.Settings.Lang()}); !n.OK() {
		return p, n, nil
	}
	if p.Count != count && p.Picture {
		if err := s.recount(ctx, &p, n); err != nil || !n.OK() {
			return p, n, err
		}
	}
	err = s.store.Write(ctx, "keep the palette",
		func(tx *store.Tx) error { return tx.Save(ctx, store.Palettes, id, rev, p.Name, p) })
	if errors.Is(err, store.ErrConflict) {
		n.Refuse("name", msg.ID(stale))
		return p, n, nil
	}
	if err != nil {
		return p, n, err
	}
	p, err = s.Palette(ctx, id)
	return p, n, err
}

// recount reads the kept picture again for another number of colours.
func (s *Service) recount(ctx context.Context, p *Palette, n form.Notices) error {
	if p.Count < colour.FewestColours || p.Count > colour.MostColours {
		n.Errors["count"] = msg.F("between %d and %d colours", colour.FewestColours, colour.MostColours)
		return nil
	}
	data, err := s.Picture(ctx, p.ID)
	if err != nil {
		return err
	}
	pic, err := picture.Small(data)
	if err != nil {
		return err
	}
	if p.Colours, err = coloursOf(ctx, pic, p.Count); err != nil {
		return err
	}
	if len(p.Colours) < p.Count {
		n.Notes["count"] = msg.F("the picture has only %s that differ", msg.N(len(p.Colours), "colour", "colours"))
	}
	return nil
}

// RemoveColour takes one colour out; the last one stays.
func (s *Service) RemoveColour(ctx context.Context, id int64, at int) error {
	return s.store.Write(ctx, "take the colour out", func(tx *store.Tx) error {
		p, err := read(ctx, tx.Reader, id)
		if err != nil {
			return err
		}
		if at < 0 || at >= len(p.Colours) {
			return store.ErrNotFound
		}
		if len(p.Colours) == 1 {
			return form.Refusef("", "a palette needs at least one colour")
		}
		p.Colours = append(p.Colours[:at], p.Colours[at+1:]...)
		p.Edited = true
		return tx.Save(ctx, store.Palettes, id, p.Rev, p.Name, p)
	})
}

// Changed reports whether there is a change of a palette to take back.
func (s *Service) Changed(ctx context.Context, id int64) (bool, error) {
	return s.store.HasBefore(ctx, store.Palettes, id)
}

// TakeBack makes a palette what it was before its last change; done again it makes the change again.
func (s *Service) TakeBack(ctx context.Context, id int64) error {
	return s.store.Write(ctx, "take the change back",
		func(tx *store.Tx) error { return tx.TakeBack(ctx, store.Palettes, id) })
}

// Remove takes a palette off the list; restore puts it back.
func (s *Service) Remove(ctx context.Context, id int64, restore bool) error {
	var at *time.Time
	if !restore {
		now := s.now()
		at = &now
	}
	return s.store.Write(ctx, "remove the palette",
		func(tx *store.Tx) error { return tx.SetOff(ctx, store.Palettes, id, at) })
}

// A Bar is a colour's stretch of a strip 100 wide.
type Bar struct {
	X, W float64
	Hex  string
}

// Bars lays the colours side by side by their shares.
func (p Palette) Bars() []Bar {
	sum := 0.0
	for _, c := range p.Colours {
		sum += c.Share
	}
	var out []Bar
	x := 0.0
	for _, c := range p.Colours {
		w := 100 / float64(len(p.Colours))
		if sum > 0 {
			w = 100 * c.Share / sum
		}
		out = append(out, Bar{x, w, c.Hex})
		x += w
	}
	return out
}
