package demo

import (
	"context"
	"embed"
	"fmt"
	"io/fs"
	"sync"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/studio"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/materials"
)

// A study is a small board that was poured weeks ago, with what came of it.
type study struct {
	name     string
	days     int // ago
	paint    func(s *plan.Spec, b *materials.Book) error
	silicone bool
	opened   string // of the first pair
	cells    units.Length
	mark     int
	again    string
	sentence string
	face     []string
}

var studies = []study{
	{"Study, ebb line", 214, ebbTide, false, "stayed", 0, 2, "changed", "the white lay there and did nothing",
		[]string{"flat"}},
	{"Study, ebb line with silicone", 187, ebbTide, true, "laced", 9, 4, "yes", "laced along the whole seam",
		[]string{"flat"}},
	{"Study, pans", 160, saltPans, true, "cells", 11, 5, "yes", "cells like salt crust, second pass left out",
		[]string{"flat"}},
	{"Study, pans in the cold", 131, saltPans, false, "vanished", 0, 1, "no",
		"room was at 17 °C at night, sticky until the third day", []string{"sticky", "waves"}},
	{"Study, sluice", 96, saltPans, true, "cells", 13, 4, "yes", "rust sank a little", []string{"dust"}},
	{"Study, slate seam", 48, ebbTide, true, "laced", 8, 4, "changed", "less slate next time", []string{"flat"}},
	{"Study, slate seam again", 12, ebbTide, true, "laced", 10, 5, "yes", "as wished", []string{"flat"}},
}

// pastStudies adds the studies, poured and judged.
func pastStudies(ctx context.Context, st *laid, book *materials.Book) error {
	for _, s := range studies {
		if err := s.add(ctx, st, book); err != nil {
			return fmt.Errorf("add %s: %w", s.name, err)
		}
	}
	return nil
}

func (s study) add(ctx context.Context, st *laid, book *materials.Book) error {
	day := st.Now().Local().AddDate(0, 0, -s.days)
	poured := time.Date(day.Year(), day.Month(), day.Day(), 9+s.days%7, (s.days*7)%60, 0, 0, time.Local)
	spec := plan.NewSpec(book.Context, productNamed(book, "Hollin Bench 45"), poured)
	spec.Asked = true
	if err := s.paint(&spec, book); err != nil {
		return err
	}
	spec.Name, spec.Brief, spec.Width, spec.Height = s.name, "", 200, 200
	spec.First().Coat.Silicone = s.silicone
	spec.Layers = spec.Layers[:1] // a study is one coat
	p, err := st.Pieces.Add(ctx, spec)
	if err != nil {
		return err
	}
	for _, l := range p.Layers {
		if l.Coat != nil {
			if err := st.Agenda.Mark(ctx, p.ID, plan.PourKey(l.ID), poured); err != nil {
				return err
			}
		}
	}
	if _, _, err = st.Pieces.Edit(ctx, p.ID, p.Rev, map[string]string{"state": string(plan.Done)}); err != nil {
		return err
	}
	return s.judge(ctx, st, p.ID)
}

// judge fills the result of a study in, with photographs of the last ones.
func (s study) judge(ctx context.Context, st *laid, piece int64) error {
	v, err := st.Journal.View(ctx, piece, plan.FirstCoat)
	if err != nil {
		return err
	}
	r := v.Result
	for k := range r.Pairs {
		r.Pairs[k].What = "stayed"
	}
	if len(r.Pairs) > 0 {
		r.Pairs[0].What, r.Pairs[0].Cells = s.opened, s.cells
	}
	r.Mark, r.Again, r.Sentence, r.Face = s.mark, s.again, s.sentence, s.face
	if s.days < 15 {
		if r.Wet, r.Cured, err = s.photograph(ctx, st, piece); err != nil {
			return err
		}
		card := &journal.Place{X: 0.5, Y: 0.06}
		r.Spots, err = st.Journal.Compare(ctx, piece, r.Wet, r.Cured, card, card,
			[]journal.Place{{Name: "Sand", X: 0.3, Y: 0.47}, {Name: "Slate", X: 0.6, Y: 0.3}})
		if err != nil {
			return err
		}
	}
	return st.Journal.Keep(ctx, v, r)
}

// photograph adds the study's made-up photographs, the cured one in warmer light.
func (s study) photograph(ctx context.Context, st *laid, piece int64) (wet, cured int64, err error) {
	if wet, err = addPhoto(ctx, st, piece, s.name+" wet", "wet"); err != nil {
		return 0, 0, err
	}
	cured, err = addPhoto(ctx, st, piece, s.name+" cured", "cured")
	return wet, cured, err
}

// photos are made-up photographs: what a preview shows, on a table.
//
//go:embed photos
var photos embed.FS

// album is the photographs, each read once when it is first wanted.
func album(ctx context.Context, st *studio.Studio) map[string]func() (picture.Photo, error) {
	names, _ := fs.Glob(photos, "photos/*.jpg") // the pattern is right
	out := make(map[string]func() (picture.Photo, error), len(names))
	for _, name := range names {
		out[name] = sync.OnceValues(func() (picture.Photo, error) {
			file, err := photos.Open(name)
			if err != nil {
				return picture.Photo{}, err
			}
			return st.Journal.ReadPhoto(ctx, file)
		})
	}
	return out
}

// readAhead reads the photographs while the boards are laid out; each takes as long as one of those.
func (st *laid) readAhead() {
	for _, read := range st.photos {
		if _, err := read(); err != nil {
			return // whoever adds it hears of it
		}
	}
}

// addPhoto adds a photograph to a piece's first coat; 0 where there is none of that name.
func addPhoto(ctx context.Context, st *laid, piece int64, name, moment string) (int64, error) {
	read, ok := st.photos["photos/"+name+".jpg"]
	if !ok {
		return 0, nil
	}
	photo, err := read()
	if err != nil {
		return 0, err
	}
	return st.Journal.KeepPhoto(ctx, piece, plan.FirstCoat, moment, photo)
}
