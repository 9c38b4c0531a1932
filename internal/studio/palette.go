package studio

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"sync"
	"time"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/palettefile"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/store"
)

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

func (s *Studio) decodePalette(row store.PaletteRow) (Palette, error) {
	p := Palette{ID: row.ID, Rev: row.Rev, Name: row.Name, At: row.At}
	if err := json.Unmarshal(row.Doc, &p); err != nil {
		return p, fmt.Errorf("read the palette %q: %w", row.Name, err)
	}
	return p, nil
}

// Palette returns a palette.
func (s *Studio) Palette(ctx context.Context, id int64) (Palette, error) {
	row, err := s.store.Palette(ctx, id)
	if err != nil {
		return Palette{}, err
	}
	return s.decodePalette(row)
}

// Palettes returns all palettes, newest first.
func (s *Studio) Palettes(ctx context.Context) ([]Palette, error) {
	rows, err := s.store.Palettes(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Palette, len(rows))
	for i, row := range rows {
		if out[i], err = s.decodePalette(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// PalettePicture returns the small copy of the picture a palette came from.
func (s *Studio) PalettePicture(ctx context.Context, id int64) ([]byte, error) {
	row, err := s.store.Palette(ctx, id)
	if err == nil && len(row.Picture) == 0 {
		err = store.ErrNotFound
	}
	return row.Picture, err
}

// pictures lets one picture be read at a time: that bounds the memory however
// many are sent.
var pictures sync.Mutex

// ReadPicture keeps the palette of a picture. What cannot be read is refused
// in words for the person who chose it.
func (s *Studio) ReadPicture(ctx context.Context, name string, r io.Reader) (Palette, error) {
	pictures.Lock()
	pic, err := picture.Read(r)
	pictures.Unlock()
	if err != nil {
		return Palette{}, &RefusedError{err}
	}
	p := Palette{Count: usualCount, Width: pic.Width, Height: pic.Height, Picture: true}
	if p.Colours, err = coloursOf(pic, p.Count); err != nil {
		return p, &RefusedError{err}
	}
	small, err := pic.PNG()
	if err != nil {
		return p, err
	}
	return s.keepPalette(ctx, paletteName(name), p, small)
}

func (s *Studio) keepPalette(ctx context.Context, name string, p Palette, small []byte) (Palette, error) {
	id, err := s.store.CreatePalette(ctx, name, p, small, s.now())
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
	name := []rune(strings.TrimSpace(strings.Join(strings.FieldsFunc(file, func(r rune) bool { return r == '_' || r < ' ' }), " ")))
	if len(name) == 0 {
		return "Palette"
	}
	return string(name[:min(len(name), 70)])
}

func coloursOf(pic picture.Picture, n int) ([]PaletteColour, error) {
	found, err := colour.Palette(pic.Pixels(), n)
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
	}{{20, "rose"}, {45, "red"}, {70, "orange"}, {100, "yellow"}, {125, "olive"}, {165, "green"}, {210, "teal"}, {265, "blue"}, {315, "violet"}, {345, "magenta"}, {361, "rose"}} {
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
func (s *Studio) ImportPalette(ctx context.Context, name string, r io.Reader) (Palette, error) {
	read, err := palettefile.Read(r)
	if err != nil {
		return Palette{}, &RefusedError{err}
	}
	if len(read.Colours) > maxColours {
		return Palette{}, &RefusedError{fmt.Errorf("the palette has %d colours; a piece has at most %d cups", len(read.Colours), maxColours)}
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
func (s *Studio) ExportPalette(ctx context.Context, id int64, w io.Writer) (Palette, error) {
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

// EditPalette lays typed names and colours on a palette that is still at rev.
// A changed count reads the picture again.
func (s *Studio) EditPalette(ctx context.Context, id, rev int64, typed map[string]string) (Palette, Notices, error) {
	p, err := s.Palette(ctx, id)
	n := newNotices()
	if err != nil {
		return p, n, err
	}
	if p.Rev != rev {
		n.Errors["name"] = "the palette was changed on another page; look at it again"
		return p, n, nil
	}
	fields := Fields[Palette]{
		textField("name", "Name", func(p *Palette) *string { return &p.Name }, 80, true),
		countField("count", "Colours", func(p *Palette) *int { return &p.Count }, 1, maxColours),
	}
	for i := range p.Colours {
		key := fmt.Sprintf("colour.%d.", i)
		fields = append(fields,
			textField(key+"name", "Name", func(p *Palette) *string { return &p.Colours[i].Name }, 60, false),
			swatchField(key+"hex", "Colour", func(p *Palette) *string { return &p.Colours[i].Hex }))
	}
	count := p.Count
	n = fields.apply(&p, typed, units.Metric)
	if !n.OK() {
		return p, n, nil
	}
	if p.Count != count && p.Picture {
		if err := s.recount(ctx, &p, n); err != nil || !n.OK() {
			return p, n, err
		}
	}
	err = s.store.SavePalette(ctx, id, rev, p.Name, p)
	if errors.Is(err, store.ErrConflict) {
		n.Errors["name"] = "the palette was changed on another page; look at it again"
		err = nil
	}
	if err != nil || !n.OK() {
		return p, n, err
	}
	p, err = s.Palette(ctx, id)
	return p, n, err
}

// recount reads the kept picture again for another number of colours.
func (s *Studio) recount(ctx context.Context, p *Palette, n Notices) error {
	if p.Count < colour.FewestColours || p.Count > colour.MostColours {
		n.Errors["count"] = fmt.Sprintf("between %d and %d colours", colour.FewestColours, colour.MostColours)
		return nil
	}
	data, err := s.PalettePicture(ctx, p.ID)
	if err != nil {
		return err
	}
	pic, err := picture.Small(data)
	if err != nil {
		return err
	}
	if p.Colours, err = coloursOf(pic, p.Count); err != nil {
		return err
	}
	if len(p.Colours) < p.Count {
		n.Notes["count"] = fmt.Sprintf("the picture has only %s that differ", Plural(len(p.Colours), "colour", "colours"))
	}
	return nil
}

// RemovePaletteColour takes one colour out; the last one stays.
func (s *Studio) RemovePaletteColour(ctx context.Context, id int64, at int) error {
	p, err := s.Palette(ctx, id)
	if err != nil {
		return err
	}
	if at < 0 || at >= len(p.Colours) {
		return store.ErrNotFound
	}
	if len(p.Colours) == 1 {
		return &RefusedError{errors.New("a palette needs at least one colour")}
	}
	p.Colours = append(p.Colours[:at], p.Colours[at+1:]...)
	p.Edited = true
	return s.store.SavePalette(ctx, id, p.Rev, p.Name, p)
}

// RemovePalette takes a palette off the list; restore puts it back.
func (s *Studio) RemovePalette(ctx context.Context, id int64, restore bool) error {
	if restore {
		return s.store.SetPaletteDeleted(ctx, id, nil)
	}
	now := s.now()
	return s.store.SetPaletteDeleted(ctx, id, &now)
}

// A ShelfRecipe is how a colour is mixed from what the studio owns.
type ShelfRecipe struct {
	Parts      []ShelfPart
	Hex        string // what it comes to as a film
	Difference float64
	Hiding     colour.Hiding
	Contrast   float64
}

// A ShelfPart is one pigment of a recipe.
type ShelfPart struct {
	Pigment Pigment
	Load    float64
}

// Recipes are the nearest the shelf comes to a colour.
type Recipes struct {
	Target string
	Best   []ShelfRecipe
	Words  string
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
	considered   = 16
	shownRecipes = 3
)

// cost weighs a recipe as a painter does: a difference nobody sees is no reason
// for one bottle more, nor for a film that shows what lies under it.
func (r ShelfRecipe) cost() float64 {
	cost := math.Max(r.Difference, 0.5) + 0.25*float64(len(r.Parts))
	switch r.Hiding {
	case colour.Transparent:
		cost += 1.5
	case colour.Translucent:
		cost++
	}
	return cost
}

// matchFilm is what a palette's recipes are reckoned for.
const matchFilm = 1.6 * units.Millimetre

// mostRecipeLoad is the most pigment a recipe takes altogether; every usual
// paste, tint and powder bears it (common practice).
const mostRecipeLoad = 0.06

// Match returns the best recipes for a colour from the shelf, as a film of
// 1.6 mm on a mid ground. A recipe has up to three pigments, and a white or a
// black where it helps.
func (s *Studio) Match(ctx context.Context, hex string) (Recipes, error) {
	out := Recipes{Target: hex}
	rgb, err := colour.ParseHex(hex)
	if err != nil {
		return out, &RefusedError{err}
	}
	shelf, candidates, err := s.candidates(ctx)
	if err != nil {
		return out, err
	}
	if len(candidates) == 0 {
		out.Words = "There is no pigment on the shelf to mix it from."
		return out, nil
	}
	ground, err := s.spectra.reflectance(bareGround)
	if err != nil {
		return out, err
	}
	q := colour.Query{Target: rgb.XYZ().Lab(), Backing: ground, Film: matchFilm, Best: considered}
	found, err := colour.Match(q, candidates)
	if err != nil {
		return out, err
	}
	extra := lightestAndDarkest(candidates)
	for _, r := range found {
		if r, err = colour.Refine(q, r, candidates, extra, mostRecipeLoad); err != nil {
			return out, err
		}
		out.Best = append(out.Best, shelfRecipe(r, shelf, candidates))
	}
	slices.SortStableFunc(out.Best, func(a, b ShelfRecipe) int { return cmp.Compare(a.cost(), b.cost()) })
	out.Best = out.Best[:min(shownRecipes, len(out.Best))]
	out.say()
	return out, nil
}

// candidates are the pigments on the shelf that are mixed in.
func (s *Studio) candidates(ctx context.Context) ([]Pigment, []colour.Candidate, error) {
	all, err := s.Pigments(ctx)
	if err != nil {
		return nil, nil, err
	}
	var shelf []Pigment
	var out []colour.Candidate
	for _, p := range all {
		rule, _ := colour.RuleOf(p.Form)
		if p.Retired || rule.Floats || p.Form == colour.Glitter {
			continue
		}
		o, err := s.spectra.optics(p)
		if err != nil {
			return nil, nil, err
		}
		shelf = append(shelf, p)
		out = append(out, colour.Candidate{Optics: o, Limit: p.LoadLimit})
	}
	return shelf, out, nil
}

// lightestAndDarkest are the white and the black of the shelf.
func lightestAndDarkest(candidates []colour.Candidate) []int {
	light, dark := 0, 0
	var l, d float64 = -1, 101
	for i, c := range candidates {
		v := colour.Cup([]colour.Dose{{Optics: c.Optics, Load: 0.05}}).Over(colour.Flat(0.4), matchFilm).Lab().L
		if v > l {
			l, light = v, i
		}
		if v < d {
			d, dark = v, i
		}
	}
	return []int{light, dark}
}

func shelfRecipe(r colour.Recipe, shelf []Pigment, candidates []colour.Candidate) ShelfRecipe {
	out := ShelfRecipe{Hex: r.Film.XYZ().RGB().Hex(), Difference: r.Difference}
	var doses []colour.Dose
	for _, p := range r.Parts {
		out.Parts = append(out.Parts, ShelfPart{shelf[p.Candidate], p.Load})
		doses = append(doses, colour.Dose{Optics: candidates[p.Candidate].Optics, Load: p.Load})
	}
	out.Contrast = colour.Cup(doses).Contrast(matchFilm)
	out.Hiding = colour.HidingOf(out.Contrast)
	return out
}

func (r *Recipes) say() {
	d := r.Best[0].Difference
	r.Near = d < farOff
	switch {
	case d < unseen:
		r.Words = "The eye will not see a difference."
	case d < sideBySee:
		r.Words = "Near: a difference only side by side."
	case d < farOff:
		r.Words = "Like it, but the client will see that it is not the same."
	default:
		r.Words = fmt.Sprintf("Nothing you own comes nearer than %s.", units.Fixed(d, 0))
	}
}

// CupsFromPalette gives a piece the palette's colours as cups, each by its
// best recipe: the largest share becomes the base, a near white the white.
func (s *Studio) CupsFromPalette(ctx context.Context, palette, piece int64) (Piece, error) {
	p, err := s.Palette(ctx, palette)
	if err != nil {
		return Piece{}, err
	}
	cups, err := s.paletteCups(ctx, p)
	if err != nil {
		return Piece{}, err
	}
	return s.change(ctx, piece, func(spec *Spec) error {
		spec.Colours, spec.Things = cups, nil
		return nil
	})
}

// PieceFromPalette plans a new piece in the palette's colours.
func (s *Studio) PieceFromPalette(ctx context.Context, palette int64) (Piece, error) {
	p, err := s.Palette(ctx, palette)
	if err != nil {
		return Piece{}, err
	}
	spec, err := s.Draft(ctx)
	if err != nil {
		return Piece{}, err
	}
	if spec.Colours, err = s.paletteCups(ctx, p); err != nil {
		return Piece{}, err
	}
	spec.Name = p.Name
	return s.AddPiece(ctx, spec)
}

func (s *Studio) paletteCups(ctx context.Context, p Palette) ([]Colour, error) {
	var out []Colour
	base := 0
	for i, c := range p.Colours {
		if c.Share > p.Colours[base].Share {
			base = i
		}
	}
	for i, c := range p.Colours {
		cup := Colour{ID: fmt.Sprintf("c%d", i+1), Name: c.Name, Role: RoleAccent, Swatch: c.Hex, Share: c.Share, Load: 0.03}
		if cup.Name == "" {
			cup.Name = fmt.Sprintf("Colour %d", i+1)
		}
		if rgb, err := colour.ParseHex(c.Hex); err == nil && rgb.XYZ().Lab().L > 90 {
			cup.Role = RoleWhite
		}
		if i == base {
			cup.Role = RoleBase
		}
		match, err := s.Match(ctx, c.Hex)
		if err != nil {
			return nil, err
		}
		if len(match.Best) > 0 {
			cup.take(match.Best[0])
		}
		out = append(out, cup)
	}
	return out, nil
}

// take fills a cup by a recipe.
func (c *Colour) take(r ShelfRecipe) {
	c.More = nil
	for i, part := range r.Parts {
		load := math.Round(part.Load*1e5) / 1e5
		if i == 0 {
			c.Pigment, c.Load = part.Pigment.ID, load
		} else {
			c.More = append(c.More, Dose{part.Pigment.ID, load})
		}
	}
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
