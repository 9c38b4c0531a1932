// Package commissions holds clients' orders: a brief, test tiles of which one
// is chosen, the boards, and the hand-over.
package commissions

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/setup"
)

// State is how far a commission has come.
type State string

// The states in their order.
const (
	Asked   State = "asked"
	Testing State = "testing"
	Chosen  State = "chosen"
	Making  State = "making"
	Ready   State = "ready"
	Handed  State = "handed over"
	Off     State = "called off"
)

// States lists the states in order.
var States = []State{Asked, Testing, Chosen, Making, Ready, Handed, Off}

// made reports whether all boards are.
func (s State) made() bool { return s == Ready || s == Handed }

// over reports whether nothing more is made in a state.
func (s State) over() bool { return s == Handed || s == Off }

// A Commission is a client's order.
type Commission struct {
	ID, Rev int64     `json:"-"`
	At      time.Time `json:"-"`
	Removed bool      `json:"-"`
	Name    string    `json:"-"`

	Client, Contact  string
	Wanted, Unwanted string // colours
	Place, Light     string
	Size             string // of each board, as the client says it
	Count            int    // boards
	Notes            string
	Due              time.Time
	State            State

	Chosen  int64 // the test tile that was chosen, 0 for none
	Why     string
	Shown   time.Time
	HandOut time.Time // when it was handed over
	Handed  string    // words of the hand-over

	Address   string          // of the client, as it stands on papers
	Discount  decimal.Decimal // share of what its boards are asked
	Delivery  decimal.Decimal
	Likes     string     // of the client, for the next time
	Currency  string     // its amounts are in, where not the studio's; nothing is converted
	Showings  []Showing  `json:",omitempty"`
	Approvals []Approval `json:",omitempty"`
}

// Fields is the catalogue of a commission.
var Fields = form.Fields[Commission]{
	form.Text("name", "Commission", func(c *Commission) *string { return &c.Name }, 120, true),
	form.Text("client", "Client", func(c *Commission) *string { return &c.Client }, 120, false),
	form.Text("contact", "Contact", func(c *Commission) *string { return &c.Contact }, 200, false),
	form.Text("wanted", "Colours wanted", func(c *Commission) *string { return &c.Wanted }, 500, false),
	form.Text("unwanted", "Colours to avoid", func(c *Commission) *string { return &c.Unwanted }, 500, false),
	form.Text("place", "Where it will hang", func(c *Commission) *string { return &c.Place }, 300, false),
	form.Text("light", "Light in the room", func(c *Commission) *string { return &c.Light }, 300, false),
	form.Text("size", "Size of a board", func(c *Commission) *string { return &c.Size }, 200, false).Hinted("60 x 90 cm"),
	form.Count("count", "Boards", func(c *Commission) *int { return &c.Count }, 1, 24),
	form.Words("notes", "Notes", func(c *Commission) *string { return &c.Notes }, 4000),
	form.Due("due", "Due date", func(c *Commission) *time.Time { return &c.Due }),
	form.Choice("state", "State", func(c *Commission) *State { return &c.State }, form.Plain(States...)...),
	form.Words("address", "Address for documents", func(c *Commission) *string { return &c.Address }, 400),
	form.Part("discount", "Discount", func(c *Commission) *decimal.Decimal { return &c.Discount }, 100),
	form.Money("delivery", "Delivery", func(c *Commission) *decimal.Decimal { return &c.Delivery }, 2),
	form.Text("currency", "Currency, if different", func(c *Commission) *string { return &c.Currency }, 12, false),
	form.Text("likes", "What they like, for the next time", func(c *Commission) *string { return &c.Likes }, 500, false),
	form.Words("handed", "Hand-over", func(c *Commission) *string { return &c.Handed }, 2000),
}

// A Service reads and changes commissions.
type Service struct {
	store     *store.Store
	setup     *setup.Service
	materials *materials.Service
	pieces    *pieces.Service
	agenda    *agenda.Service
	pictures  *picture.Desk
	now       func() time.Time
}

// New returns the service.
func New(db *store.Store, set *setup.Service, mats *materials.Service, ps *pieces.Service, ag *agenda.Service,
	desk *picture.Desk, now func() time.Time) *Service {
	return &Service{db, set, mats, ps, ag, desk, now}
}

func decode(d store.Document) (Commission, error) {
	c := Commission{State: Asked}
	if err := json.Unmarshal(d.Doc, &c); err != nil {
		return c, fmt.Errorf("read the commission %q: %w", d.Name, err)
	}
	c.ID, c.Rev, c.Name, c.At, c.Removed = d.ID, d.Rev, d.Name, d.At, d.Off
	return c, nil
}

// Commission returns one commission.
func (s *Service) Commission(ctx context.Context, id int64) (Commission, error) {
	return read(ctx, s.store.Reader, id)
}

func read(ctx context.Context, r store.Reader, id int64) (Commission, error) {
	d, err := r.Document(ctx, store.Commissions, id)
	if err != nil {
		return Commission{}, err
	}
	if d.Off {
		return Commission{}, store.ErrNotFound
	}
	return decode(d)
}

// List returns a page of commissions in which find occurs, in a state ("" for any),
// newest first, and how many there are.
func (s *Service) List(ctx context.Context, f Filter, limit, offset int) ([]Commission, int, error) {
	docs, n, err := s.store.FindCommissions(ctx, f, limit, offset)
	if err != nil {
		return nil, 0, err
	}
	out := make([]Commission, len(docs))
	for i, d := range docs {
		if out[i], err = decode(d); err != nil {
			return nil, 0, err
		}
	}
	return out, n, nil
}

// A Filter selects commissions.
type Filter = store.CommissionFilter

// Choices are the filters of commissions besides the archive and states.
func (s *Service) Choices(ctx context.Context) (clients, months []string, err error) {
	if clients, err = s.store.Clients(ctx); err != nil {
		return nil, nil, err
	}
	months, err = s.store.MonthsOfCommissions(ctx)
	return clients, months, err
}

// Save takes a typed commission: a new one when id is 0, otherwise a change of
// the one still at rev. Its boards follow a changed due day, and are closed or
// taken up again with it, in the same change.
func (s *Service) Save(ctx context.Context, id, rev int64, typed map[string]string) (Commission, form.Notices, error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return Commission{}, form.Notices{}, err
	}
	c, n := Commission{State: Asked}, form.NewNotices()
	var unready msg.Text
	if State(typed["state"]).made() && id != 0 {
		if unready, err = s.unready(ctx, id); err != nil {
			return c, n, err
		}
	}
	err = s.store.Write(ctx, "keep the commission", func(tx *store.Tx) error {
		if id != 0 {
			var err error
			if c, err = read(ctx, tx.Reader, id); err != nil {
				return err
			}
		}
		before := c
		n = Fields.Apply(&c, typed, set.Style())
		if c.Name == "" {
			n.Refuse("name", msg.ID("needs a name"))
		}
		if id != 0 && c.Rev != rev {
			n.Refuse("name", msg.ID("this was changed on another page; look at it again before you save"))
		}
		if c.State != before.State && unready != nil {
			n.Refuse("state", unready)
		}
		if !n.OK() {
			return nil
		}
		if c.State == Handed && before.State != Handed {
			c.HandOut = s.now()
		}
		if id == 0 {
			var err error
			c.ID, err = tx.Create(ctx, store.Commissions, c.Name, c, s.now())
			return err
		}
		if err := tx.Save(ctx, store.Commissions, id, rev, c.Name, c); err != nil {
			return err
		}
		return s.follow(ctx, tx, before, c)
	})
	if err != nil || !n.OK() {
		return c, n, err
	}
	c, err = s.Commission(ctx, c.ID)
	return c, n, err
}

// unready says which board is not made yet, "" when all are.
func (s *Service) unready(ctx context.Context, id int64) (msg.Text, error) {
	list, err := s.pieces.Of(ctx, id)
	if err != nil {
		return nil, err
	}
	views, err := s.agenda.Views(ctx, list)
	if err != nil {
		return nil, err
	}
	boards := 0
	for _, v := range views {
		if v.Tile {
			continue
		}
		boards++
		if v.Plan == nil || v.Broken != nil {
			return msg.F("is not ready: %s cannot be calculated", v.Name), nil
		}
		for i := range v.Plan.Coats {
			if !v.Plan.Coats[i].Made {
				return msg.F("is not ready: %s still has a coat to pour", v.Name), nil
			}
		}
	}
	if boards == 0 {
		return msg.ID("is not ready: it has no board yet"), nil
	}
	return nil, nil
}

// ChangeIn changes a commission inside a transaction.
func ChangeIn(ctx context.Context, tx *store.Tx, id int64, f func(*Commission) error) (Commission, error) {
	c, err := read(ctx, tx.Reader, id)
	if err != nil {
		return c, err
	}
	if err := f(&c); err != nil {
		return c, err
	}
	return c, tx.SaveForGood(ctx, store.Commissions, id, c.Rev, c.Name, c)
}

// Changed reports whether the last change of a commission was of its brief, and can be taken back.
func (s *Service) Changed(ctx context.Context, id int64) (bool, error) {
	return s.store.HasBefore(ctx, store.Commissions, id)
}

// TakeBack makes the brief of a commission what it was before its last change, its boards with it; done
// again it makes the change again. What a client chose or agreed to is not taken back so.
func (s *Service) TakeBack(ctx context.Context, id int64) error {
	unready, err := s.unready(ctx, id)
	if err != nil {
		return err
	}
	return s.store.Write(ctx, "take the change back", func(tx *store.Tx) error {
		now, err := read(ctx, tx.Reader, id)
		if err != nil {
			return err
		}
		d, err := tx.Before(ctx, store.Commissions, id)
		if err != nil {
			return err
		}
		before, err := decode(d)
		if err != nil {
			return err
		}
		if before.State != now.State && before.State.made() && unready != nil {
			return form.Refusef("state", "%s", unready)
		}
		if err := tx.TakeBack(ctx, store.Commissions, id); err != nil {
			return err
		}
		return s.follow(ctx, tx, now, before)
	})
}

// follow gives the boards of a commission its due day; closes them when it is
// handed over or called off, and takes them up again when it is not any more.
func (s *Service) follow(ctx context.Context, tx *store.Tx, before, c Commission) error {
	if c.Due.Equal(before.Due) && c.State.over() == before.State.over() {
		return nil
	}
	rows, err := tx.PiecesOf(ctx, c.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		if _, err := pieces.ChangeIn(ctx, tx, row.ID, s.now(), func(spec *plan.Spec) error {
			if !spec.Tile {
				spec.Due = c.Due
			}
			switch {
			case c.State.over() && !before.State.over() && spec.State == plan.Open:
				spec.State = plan.Done
			case !c.State.over() && before.State.over() && spec.State == plan.Done:
				spec.State = plan.Open
			}
			return nil
		}); err != nil {
			return err
		}
	}
	return nil
}

// AddBoard gives a commission a piece that begins with what was used last, of the
// size and number the client asked for where those can be read.
func (s *Service) AddBoard(ctx context.Context, id int64) (pieces.Piece, error) {
	spec, b, err := s.pieces.Proposed(ctx, "")
	if err != nil {
		return pieces.Piece{}, err
	}
	var p pieces.Piece
	err = s.store.Write(ctx, "keep the board", func(tx *store.Tx) error {
		c, err := read(ctx, tx.Reader, id)
		if err != nil {
			return err
		}
		spec.Name, spec.Commission, spec.Due, spec.Count = pieces.Shorten(c.Name, 80), id, c.Due, max(1, c.Count)
		if w, h, err := units.ParseSize(c.Size, form.BareLength(b.Settings.Units)); err == nil &&
			min(w.Value, h.Value) >= 10 && max(w.Value, h.Value) <= 5000 {
			spec.Width, spec.Height = w.Value, h.Value
		}
		spec.Brief = pieces.Shorten(msg.Say(c.brief(), b.Settings.Lang()), 4000)
		if err := pieces.Wish(spec.Layers[0].Coat, c.Wanted, c.Unwanted, b); err != nil {
			return err
		}
		p, err = pieces.AddTo(ctx, tx, spec, s.now())
		return err
	})
	return p, err
}

// AddPicture keeps a reference picture.
func (s *Service) AddPicture(ctx context.Context, id int64, r io.Reader) error {
	if _, err := s.Commission(ctx, id); err != nil {
		return err
	}
	jpeg, err := s.pictures.Reduce(ctx, r)
	if err != nil {
		return &form.Refused{Field: "picture", Err: err}
	}
	return s.store.Write(ctx, "keep the picture", func(tx *store.Tx) error {
		_, err := tx.AddPicture(ctx, store.CommissionPictures, id, jpeg, s.now())
		return err
	})
}

// Pictures returns the ids of a commission's pictures.
func (s *Service) Pictures(ctx context.Context, id int64) ([]int64, error) {
	return s.store.Pictures(ctx, store.CommissionPictures, id)
}

// Picture returns one picture as JPEG.
func (s *Service) Picture(ctx context.Context, id, pic int64) ([]byte, error) {
	return s.store.Picture(ctx, store.CommissionPictures, id, pic)
}

// Remove takes a commission off the list, its pieces stay; restore puts it
// back.
func (s *Service) Remove(ctx context.Context, id int64, restore bool) error {
	var at *time.Time
	if !restore {
		now := s.now()
		at = &now
	}
	return s.store.Write(ctx, "remove the commission",
		func(tx *store.Tx) error { return tx.SetOff(ctx, store.Commissions, id, at) })
}

// Doubt is a commission's state that contradicts its boards.
type Doubt string

// The doubts.
const (
	NoBoard  Doubt = "no-board"  // ready or handed over, and there is none
	Unpoured Doubt = "unpoured"  // ready or handed over, with coats unmade
	NoChoice Doubt = "no-choice" // chosen, and no tile is
)

// Doubts compares a commission's state with its boards; made says of each
// whether all its coats are.
func (c Commission) Doubts(boards int, made func(i int) bool) []Doubt {
	var out []Doubt
	if c.State == Chosen && c.Chosen == 0 {
		out = append(out, NoChoice)
	}
	if c.State != Ready && c.State != Handed {
		return out
	}
	if boards == 0 {
		return append(out, NoBoard)
	}
	for i := range boards {
		if !made(i) {
			return append(out, Unpoured)
		}
	}
	return out
}
