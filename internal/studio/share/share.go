// Package share hands one piece, resin, pigment or technique to another studio, as a
// file of plain JSON with all it stands on, and takes one in.
package share

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// Format is the one that is written, and the newest that is read.
const Format = 1

// MaxBytes bounds a file that is taken in.
const MaxBytes = 4 << 20

// Kind is the kind of a file.
type Kind string

// The kinds.
const (
	Piece     Kind = "piece"
	Resin     Kind = "resin"
	Pigment   Kind = "pigment"
	Technique Kind = "technique"
)

// A File is one thing with what it stands on, by the names it has in the studio it
// comes from.
type File struct {
	Jevvo      Kind                           `json:"jevvo"`
	Format     int                            `json:"format"`
	Piece      json.RawMessage                `json:"piece,omitempty"`
	Resins     map[string]material.Product    `json:"resins"`
	Pigments   map[string]material.Pigment    `json:"pigments"`
	Techniques map[string]technique.Technique `json:"techniques"`
}

// A Service writes and reads such files.
type Service struct {
	store     *store.Store
	materials *materials.Service
	pieces    *pieces.Service
	now       func() time.Time
}

// New returns the service.
func New(db *store.Store, mats *materials.Service, p *pieces.Service, now func() time.Time) *Service {
	return &Service{db, mats, p, now}
}

// Write returns the file of a thing, and a name for it.
func (s *Service) Write(ctx context.Context, kind Kind, id string) (data []byte, name string, err error) {
	f := File{Jevvo: kind, Format: Format, Resins: map[string]material.Product{}, Pigments: map[string]material.Pigment{},
		Techniques: map[string]technique.Technique{}}
	switch kind {
	case Piece:
		name, err = s.writePiece(ctx, &f, id)
	case Resin:
		name, err = s.addResin(ctx, &f, id)
	case Pigment:
		name, err = s.addPigment(ctx, &f, id)
	case Technique:
		name, err = s.addTechnique(ctx, &f, id)
	default:
		err = form.Refusef("kind", "one piece, resin, pigment or technique is shared, not %q", kind)
	}
	if err != nil {
		return nil, "", err
	}
	data, err = json.MarshalIndent(f, "", " ")
	return data, fileName(name), err
}

// fileName is a name every system takes.
func fileName(name string) string {
	plain := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(name))
	plain = strings.Trim(plain, "-")
	if plain == "" {
		plain = "shared"
	}
	return plain[:min(len(plain), 60)] + ".jevvo.json"
}

func (s *Service) writePiece(ctx context.Context, f *File, id string) (string, error) {
	p, err := s.pieces.Piece(ctx, number(id))
	if err != nil {
		return "", err
	}
	p.Spec.Commission, p.Spec.State = 0, plan.Open // the client stays here
	if f.Piece, err = json.Marshal(p.Spec); err != nil {
		return "", err
	}
	refs, err := references(f.Piece)
	if err != nil {
		return "", err
	}
	for _, add := range []struct {
		of  []string
		add func(context.Context, *File, string) (string, error)
	}{{refs.resins, s.addResin}, {refs.pigments, s.addPigment}, {refs.techniques, s.addTechnique}} {
		for _, id := range add.of {
			if _, err := add.add(ctx, f, id); err != nil && !errors.Is(err, store.ErrNotFound) {
				return "", err
			}
		}
	}
	return p.Name, nil
}

func number(text string) int64 {
	n, err := strconv.ParseInt(text, 10, 64)
	if err != nil {
		return 0
	}
	return n
}

func (s *Service) addResin(ctx context.Context, f *File, id string) (string, error) {
	p, err := s.materials.Product(ctx, number(id))
	if err == nil {
		p.Price, p.Supplier, p.LeadDays = decimal.Zero, "", 0 // what it cost here
		f.Resins[id] = p
	}
	return p.Name, err
}

func (s *Service) addPigment(ctx context.Context, f *File, id string) (string, error) {
	p, err := s.materials.Pigment(ctx, number(id))
	if err == nil {
		p.Price, p.Supplier, p.LeadDays = decimal.Zero, "", 0
		f.Pigments[id] = p
	}
	return p.Name, err
}

func (s *Service) addTechnique(ctx context.Context, f *File, id string) (string, error) {
	t, _, err := s.materials.Technique(ctx, id)
	if err == nil && (t.Own || f.Jevvo == Technique) { // every studio has those that are built in
		f.Techniques[id] = t
	}
	return string(t.Name), err
}

// references are the resins, pigments and techniques a piece names.
type refs struct{ resins, pigments, techniques []string }

func references(piece []byte) (refs, error) {
	found := map[string]map[string]bool{"Product": {}, "Pigment": {}, "What": {}}
	_, err := renamed(piece, func(key, id string) string {
		found[key][id] = true
		return id
	})
	of := func(key string) []string { return slices.Sorted(maps.Keys(found[key])) }
	return refs{of("Product"), of("Pigment"), of("What")}, err
}

// renamed gives what a piece's layers name other names.
func renamed(piece []byte, to func(key, id string) string) ([]byte, error) {
	d := json.NewDecoder(bytes.NewReader(piece))
	d.UseNumber()
	var doc map[string]any
	if err := d.Decode(&doc); err != nil {
		return nil, err
	}
	walk(doc["Layers"], to)
	return json.Marshal(doc)
}

func walk(v any, to func(key, id string) string) {
	switch v := v.(type) {
	case []any:
		for _, e := range v {
			walk(e, to)
		}
	case map[string]any:
		for key, e := range v {
			switch id, named := e.(json.Number); {
			case named && (key == "Product" || key == "Pigment") && id != "0":
				v[key] = json.Number(to(key, id.String()))
			case key == "What" || key == "Technique": // of a layer, of a move
				if text, ok := e.(string); ok && text != "" {
					v[key] = to("What", text)
				}
			default:
				walk(e, to)
			}
		}
	}
}

// Taken is the outcome of importing a file.
type Taken struct {
	Kind Kind
	ID   string
	Name string
}

// errForeign says that a file is none of ours.
var errForeign = refusal.New("this is no shared piece, resin, pigment or technique of Jevvo")

// Take takes a file in: what it stands on is added to the materials, or found there when it
// is there already, and all of it in one change.
func (s *Service) Take(ctx context.Context, data []byte) (Taken, error) {
	var f File
	if len(data) > MaxBytes {
		return Taken{}, form.Refusef("file", "such a file has a few kilobytes; this one is too large")
	}
	if err := json.Unmarshal(data, &f); err != nil || f.Jevvo == "" {
		return Taken{}, &form.Refused{Field: "file", Err: errForeign}
	}
	if f.Format > Format {
		return Taken{}, form.Refusef("file", "it was written by a newer Jevvo")
	}
	if err := s.check(ctx, &f); err != nil {
		return Taken{}, err
	}
	var out Taken
	err := s.store.Write(ctx, "take in what was shared", func(tx *store.Tx) (err error) {
		out, err = s.take(ctx, tx, f)
		return err
	})
	return out, err
}

// check holds what is in a file against the bounds of the forms.
func (s *Service) check(ctx context.Context, f *File) error {
	for id, p := range f.Resins {
		if err := p.Product.Check(); err != nil {
			return form.Refusef("file", "the resin %q is not valid: %v", p.Name, err)
		}
		if _, err := p.Fitted(); err != nil {
			return form.Refusef("file", "the resin %q is not valid: %v", p.Name, err)
		}
		if err := fits(materials.ResinFields, &p, msg.F("resin %q", p.Name)); err != nil {
			return err
		}
		f.Resins[id] = p
	}
	for _, p := range f.Pigments {
		if err := fits(materials.PigmentFields, &p, msg.F("pigment %q", p.Name)); err != nil {
			return err
		}
	}
	for _, t := range f.Techniques {
		if len(t.Steps) == 0 || len(t.Steps) > 60 {
			return form.Refusef("file", "the technique %q has no steps, or far too many", string(t.Name))
		}
		if err := fits(materials.TechniqueFields(t), &t, msg.F("technique %q", string(t.Name))); err != nil {
			return err
		}
	}
	if f.Jevvo != Piece {
		return nil
	}
	spec, err := plan.Decode(f.Piece)
	if err != nil || len(spec.Layers) > 40 {
		return &form.Refused{Field: "file", Err: errForeign}
	}
	if _, err := spec.Boards(); err != nil {
		return form.Refusef("file", "its board is not valid: %v", err)
	}
	book, err := s.materials.Book(ctx)
	if err != nil {
		return err
	}
	return fits(pieces.Fields(spec, book), &spec, msg.F("piece %q", spec.Name))
}

// fits reports values that no form would take. What is chosen from this studio's own
// things is looked at when those are there.
func fits[T any](fields form.Fields[T], t *T, what msg.Text) error {
	for _, f := range fields {
		if f.Kind == form.Choose {
			continue
		}
		probe, text := *t, f.Get(t, units.Metric)
		if text == "" { // not said
			continue
		}
		if _, err := f.Set(&probe, text, units.Metric); err != nil {
			return form.Refusef("file", "in the %s, %s is not valid: %v", what, f.Label, err)
		}
	}
	return nil
}

// take keeps everything, and returns the thing the file is about.
func (s *Service) take(ctx context.Context, tx *store.Tx, f File) (Taken, error) {
	named := map[string]map[string]string{"Product": {}, "Pigment": {}, "What": {}}
	last := Taken{Kind: f.Jevvo}
	keep := func(key string, kind store.Kind, id, name string, doc any) error {
		n, name, err := s.place(ctx, tx, kind, name, doc)
		text := strconv.FormatInt(n, 10)
		if kind == store.Techniques {
			text = materials.OwnTechnique(n)
		}
		named[key][id], last.ID, last.Name = text, text, name
		return err
	}
	for _, id := range slices.Sorted(maps.Keys(f.Resins)) {
		if err := keep("Product", store.Resins, id, f.Resins[id].Name, f.Resins[id]); err != nil {
			return last, err
		}
	}
	for _, id := range slices.Sorted(maps.Keys(f.Pigments)) {
		if err := keep("Pigment", store.Pigments, id, f.Pigments[id].Name, f.Pigments[id]); err != nil {
			return last, err
		}
	}
	for _, id := range slices.Sorted(maps.Keys(f.Techniques)) {
		if err := keep("What", store.Techniques, id, string(f.Techniques[id].Name), f.Techniques[id]); err != nil {
			return last, err
		}
	}
	if f.Jevvo != Piece {
		if last.ID == "" {
			return last, &form.Refused{Field: "file", Err: errForeign}
		}
		return last, nil
	}
	return s.takePiece(ctx, tx, f, named)
}

func (s *Service) takePiece(ctx context.Context, tx *store.Tx, f File, named map[string]map[string]string) (Taken,
	error) {
	missing := ""
	doc, err := renamed(f.Piece, func(key, id string) string {
		if to, ok := named[key][id]; ok {
			return to
		}
		switch own := materials.IsOwnTechnique(id); {
		case key == "Pigment":
			return "0" // it was gone where it comes from: a colour known by its swatch
		case key == "Product" || own:
			missing = id
		}
		return id
	})
	if err != nil {
		return Taken{}, err
	}
	if missing != "" {
		return Taken{}, form.Refusef("file", "it names %q, which is not in the file", missing)
	}
	spec, err := plan.Decode(doc)
	if err != nil {
		return Taken{}, err
	}
	p, err := pieces.AddTo(ctx, tx, spec, s.now())
	return Taken{Piece, strconv.FormatInt(p.ID, 10), p.Name}, err
}

// place finds a thing that is there already, or keeps it under a name that is free.
func (s *Service) place(ctx context.Context, tx *store.Tx, kind store.Kind, name string, doc any) (int64, string,
	error) {
	docs, err := tx.AllOf(ctx, kind)
	if err != nil {
		return 0, "", err
	}
	text, err := json.Marshal(doc)
	if err != nil {
		return 0, "", err
	}
	taken := map[string]bool{}
	for _, d := range docs {
		taken[strings.ToLower(d.Name)] = true
		if strings.EqualFold(d.Name, name) && same(d.Doc, text) {
			return d.ID, d.Name, nil
		}
	}
	free := name
	for n := 2; taken[strings.ToLower(free)]; n++ {
		free = fmt.Sprintf("%s (%d)", pieces.Shorten(name, 70), n)
	}
	id, err := tx.Create(ctx, kind, free, doc, s.now())
	return id, free, err
}

// same reports whether two documents differ in nothing but what stays in a studio.
func same(a, b []byte) bool {
	var x, y map[string]any
	if json.Unmarshal(a, &x) != nil || json.Unmarshal(b, &y) != nil {
		return false
	}
	for _, own := range []string{"Price", "Supplier", "LeadDays", "ID", "Own", "Name"} {
		delete(x, own)
		delete(y, own)
	}
	p, err := json.Marshal(x)
	q, err2 := json.Marshal(y)
	return err == nil && err2 == nil && bytes.Equal(p, q)
}
