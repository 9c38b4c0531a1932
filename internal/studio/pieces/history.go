package pieces

import (
	"context"
	"reflect"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
)

// mostChanges is how many changes of a piece its history shows.
const mostChanges = 200

// A Change is what a revision of a piece changed of the one before it.
type Change struct {
	Rev    int64
	At     time.Time
	First  bool // the piece was begun
	Head   bool // the piece stands so now
	Undone bool // it was taken back, and something else done
	Fields []Difference
}

// A Difference is a value that changed, a layer or cup that came or went.
type Difference struct {
	Coat     int    // place of the coat it belongs to, from 1; 0 for none
	Coats    int    // how many there are
	Cup      string // name of the cup it belongs to; "" for none
	Label    msg.Text
	From, To msg.Text // nil of what came, of what went
}

// History returns the changes of a piece, the newest first.
func (s *Service) History(ctx context.Context, id int64) ([]Change, error) {
	rows, err := s.store.PieceRevisions(ctx, id, mostChanges+1)
	if err != nil {
		return nil, err
	}
	list, err := decodeAll(rows, nil)
	if err != nil {
		return nil, err
	}
	head, err := s.Piece(ctx, id)
	if err != nil {
		return nil, err
	}
	b, err := s.materials.Book(ctx)
	if err != nil {
		return nil, err
	}
	by, line := map[int64]sheet{}, map[int64]bool{}
	parent := map[int64]int64{}
	for i, p := range list {
		by[p.Rev], parent[p.Rev] = sheetOf(p.Spec, b), rows[i].Parent
	}
	for rev := head.Rev; rev != 0; rev = parent[rev] {
		line[rev] = true
	}
	var out []Change
	for i, p := range list {
		before, known := by[rows[i].Parent]
		if !known && rows[i].Parent != 0 {
			break // older than what is shown
		}
		c := Change{Rev: p.Rev, At: p.ChangedAt, First: !known, Head: p.Rev == head.Rev, Undone: !line[p.Rev]}
		if known {
			c.Fields = before.differences(by[p.Rev])
		}
		out = append(out, c)
	}
	return out, nil
}

// GoBack makes a piece what it was at a revision, as a change of its own.
func (s *Service) GoBack(ctx context.Context, id, rev int64) (Piece, error) {
	row, err := s.store.PieceRevision(ctx, id, rev)
	if err != nil {
		return Piece{}, err
	}
	was, err := Decode(row)
	if err != nil {
		return Piece{}, err
	}
	return s.Change(ctx, id, func(spec *plan.Spec) error {
		*spec = was.Spec.Clone()
		return nil
	})
}

// A sheet is a spec as its fields read, in their order.
type sheet struct {
	keys  []string
	views map[string]form.View
	coats []string          // ids, in order
	names map[string]string // of cups, by the beginning of their keys
	order []string          // ids of the layers
	lies  [][]composition.Thing
}

func sheetOf(spec plan.Spec, b *materials.Book) sheet {
	fields := Fields(spec, b)
	out := sheet{names: map[string]string{},
		views: fields.Views(&spec, b.Settings.Style(), nil, form.NewNotices(), Options(b))}
	for _, f := range fields {
		out.keys = append(out.keys, f.Key)
	}
	for _, l := range spec.AllLayers(b.Context) {
		out.order = append(out.order, l.ID)
		if l.Coat == nil {
			continue
		}
		out.lies = append(out.lies, l.Coat.Things)
		out.coats = append(out.coats, l.ID)
		for _, c := range l.Coat.Colours {
			out.names[CupKey(l.ID, c.ID, "")] = c.Name
		}
	}
	return out
}

// cup is the beginning of a key that belongs to a cup, "" for none.
func cup(key string) string {
	parts := strings.SplitN(key, ".", 5)
	if len(parts) < 5 || parts[0] != "coat" || parts[2] != "colour" {
		return ""
	}
	return CupKey(parts[1], parts[3], "")
}

// coat is the place of the coat that a key belongs to, from 1; 0 for none.
func (s sheet) coat(key string) int {
	for i, id := range s.coats {
		if strings.HasPrefix(key, CoatKey(id, "")) {
			return i + 1
		}
	}
	return 0
}

// differences are what a later sheet says otherwise. Cups that came or went are said once,
// moves as a whole.
func (s sheet) differences(later sheet) []Difference {
	var out []Difference
	told := map[string]bool{}
	add := func(of sheet, key string, d Difference) {
		d.Coat, d.Coats = of.coat(key), len(of.coats)
		out = append(out, d)
	}
	once := func(of sheet, key, name string, d Difference) {
		if !told[name] {
			told[name] = true
			add(of, key, d)
		}
	}
	for _, key := range later.keys {
		was, old := s.views[key]
		now := later.views[key]
		at := cup(key)
		switch {
		case old && was.Value == now.Value:
		case strings.Contains(key, ".move."):
			once(later, key, "moves", Difference{Label: msg.ID("Moves changed")})
		case old:
			add(later, key, Difference{Cup: later.names[at], Label: now.Label, From: was.Shown(), To: now.Shown()})
		case at != "" && s.names[at] == "":
			once(later, key, at, Difference{Label: msg.ID("Cup added"), To: msg.Own(later.names[at])})
		}
	}
	for _, key := range s.keys {
		if _, kept := later.views[key]; kept {
			continue
		}
		if at := cup(key); at != "" && later.names[at] == "" {
			once(s, key, at, Difference{Label: msg.ID("Cup removed"), From: msg.Own(s.names[at])})
		} else if strings.Contains(key, ".move.") {
			once(later, key, "moves", Difference{Label: msg.ID("Moves changed")})
		}
	}
	switch a, b := len(s.coats), len(later.coats); {
	case a != b:
		out = append(out, Difference{Label: msg.ID("Coats"), From: msg.N(a, "coat", "coats"), To: msg.N(b, "coat", "coats")})
	case !slices.Equal(s.order, later.order):
		out = append(out, Difference{Label: msg.ID("Layers changed")})
	case !reflect.DeepEqual(s.lies, later.lies):
		out = append(out, Difference{Label: msg.ID("Composition changed")})
	}
	return out
}
