// Package intake takes lists of what a studio has from a spreadsheet or a pasted text:
// pigments, resins, goods and past pieces. What would be made is shown first; nothing is
// kept until it is asked for.
package intake

import (
	"context"
	"io"
	"path/filepath"
	"slices"
	"strings"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/exchange/sheet"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/stock"
)

// A Service reads and keeps lists.
type Service struct {
	materials *materials.Service
	stock     *stock.Service
	pieces    *pieces.Service
	desk      *picture.Desk
}

// New returns a service over those that keep what is read.
func New(mats *materials.Service, st *stock.Service, ps *pieces.Service, desk *picture.Desk) *Service {
	return &Service{mats, st, ps, desk}
}

// State says what becomes of a row.
type State string

// The states of a row.
const (
	Fresh   State = "new"     // it is made
	Known   State = "known"   // there is one of that name
	Refused State = "refused" // a cell of it cannot be
	Kept    State = "kept"    // it was made
)

// A Row is a line of the list.
type Row struct {
	Line    int // from 1
	Name    string
	State   State
	Typed   map[string]string // field texts by key
	Shown   map[string]msg.Text
	Guessed bool     // the swatch is only what the name suggests
	Unread  []string // cells that fill no field
	Notices form.Notices
}

// Wrong is what is wrong with a row, nil for nothing.
func (r Row) Wrong() msg.Text {
	for _, key := range keysOf(r.Notices.Errors) {
		return r.Notices.Errors[key]
	}
	return nil
}

func keysOf(m map[string]msg.Text) []string {
	out := make([]string, 0, len(m))
	for key := range m {
		out = append(out, key)
	}
	slices.Sort(out)
	return out
}

// A List is what a text was read as.
type List struct {
	Kind    Kind
	Columns []Column
	Rows    []Row
}

// A Column is one that was understood, or whose cells are left out.
type Column struct {
	Head  string   // as it stands in the list; "" where it has no heads
	Key   string   // of the field it fills; "" for one that is left out
	Label msg.Text // of the field
}

// Count is how many rows are in a state.
func (l List) Count(s State) int {
	n := 0
	for _, r := range l.Rows {
		if r.State == s {
			n++
		}
	}
	return n
}

// Columns that are left out.
func (l List) Unread() []string {
	var out []string
	for _, c := range l.Columns {
		if c.Key == "" && c.Head != "" {
			out = append(out, c.Head)
		}
	}
	return out
}

// Look reads a list and keeps nothing.
func (s *Service) Look(ctx context.Context, kind Kind, text string) (List, error) {
	rows, err := sheet.Read([]byte(text))
	if err != nil {
		return List{}, &form.Refused{Field: "list", Err: err}
	}
	if len(rows) == 0 {
		return List{}, form.Refusef("list", "paste a list or choose a file first")
	}
	desk, err := s.deskOf(ctx, kind)
	if err != nil {
		return List{}, err
	}
	list := List{Kind: kind}
	list.Columns, rows = desk.columns(rows)
	seen := map[string]bool{}
	for i, cells := range rows {
		row := desk.row(list.Columns, cells)
		row.Line = i + 1
		switch name := strings.ToLower(row.Name); {
		case desk.known[name]:
			row.State = Known
		case seen[name]:
			row.State = Refused
			row.Notices.Refuse("name", msg.ID("this name is twice in the list"))
		default:
			row.Notices = desk.check(row.Typed)
			row.State = Fresh
			if row.Name == "" {
				row.Notices.Refuse("name", msg.ID("needs a name"))
			}
			if !row.Notices.OK() {
				row.State = Refused
			}
		}
		seen[strings.ToLower(row.Name)] = true
		list.Rows = append(list.Rows, row)
	}
	return list, nil
}

// Make keeps the new rows of a list; the list says what became of each.
func (s *Service) Make(ctx context.Context, kind Kind, text string) (List, error) {
	list, err := s.Look(ctx, kind, text)
	if err != nil {
		return list, err
	}
	desk, err := s.deskOf(ctx, kind)
	if err != nil {
		return list, err
	}
	for i := range list.Rows {
		row := &list.Rows[i]
		if row.State != Fresh {
			continue
		}
		if row.Notices, err = desk.save(ctx, row.Typed); err != nil {
			return list, err
		}
		if row.State = Kept; !row.Notices.OK() {
			row.State = Refused
		}
	}
	return list, nil
}

// spot is the share of a photograph's width about its middle that is taken for the swatch.
const spot = 0.12

// Swatch is a line of a list for a photograph of a swatch: the name it was kept under and the
// colour in its middle.
func (s *Service) Swatch(ctx context.Context, name string, r io.Reader) (string, error) {
	photo, err := s.desk.Photo(ctx, r)
	if err != nil {
		return "", err
	}
	seen, err := picture.Spot(photo.Shown, 0.5, 0.5, spot)
	if err != nil {
		return "", err
	}
	name = strings.TrimSuffix(filepath.Base(name), filepath.Ext(name))
	name = strings.Map(func(r rune) rune {
		if strings.ContainsRune("_;\t\"", r) {
			return ' '
		}
		return r
	}, name)
	return strings.TrimSpace(name) + "; " + seen.Hex(), nil
}
