package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/store"
)

// CommissionState is how far a commission has come.
type CommissionState string

// The states in their order.
const (
	CommissionAsked   CommissionState = "asked"
	CommissionTesting CommissionState = "testing"
	CommissionChosen  CommissionState = "chosen"
	CommissionMaking  CommissionState = "making"
	CommissionReady   CommissionState = "ready"
	CommissionHanded  CommissionState = "handed over"
	CommissionOff     CommissionState = "called off"
)

// CommissionStates lists the states in order.
var CommissionStates = []CommissionState{CommissionAsked, CommissionTesting, CommissionChosen, CommissionMaking, CommissionReady, CommissionHanded, CommissionOff}

// A Commission is what a client ordered.
type Commission struct {
	ID, Rev int64     `json:"-"`
	At      time.Time `json:"-"`
	Name    string    `json:"-"`

	Client, Contact  string
	Wanted, Unwanted string // colours
	Place, Light     string
	Size             string
	Notes            string
	Due              time.Time
	State            CommissionState

	Chosen  int64 // the test tile that was chosen, 0 for none
	Why     string
	Shown   time.Time
	HandOut time.Time // when it was handed over
	Handed  string    // words of the hand-over
}

var commissionFields = Fields[Commission]{
	textField("name", "Commission", func(c *Commission) *string { return &c.Name }, 120, true),
	textField("client", "Client", func(c *Commission) *string { return &c.Client }, 120, false),
	textField("contact", "How to reach them", func(c *Commission) *string { return &c.Contact }, 200, false),
	textField("wanted", "Colours wanted", func(c *Commission) *string { return &c.Wanted }, 500, false),
	textField("unwanted", "Colours unwanted", func(c *Commission) *string { return &c.Unwanted }, 500, false),
	textField("place", "Where it will hang", func(c *Commission) *string { return &c.Place }, 300, false),
	textField("light", "Light there", func(c *Commission) *string { return &c.Light }, 300, false),
	textField("size", "Size", func(c *Commission) *string { return &c.Size }, 200, false),
	textField("notes", "Notes", func(c *Commission) *string { return &c.Notes }, 4000, false),
	dayField("due", "Due day", func(c *Commission) *time.Time { return &c.Due }),
	choiceField("state", "State", func(c *Commission) *CommissionState { return &c.State }, CommissionStates...),
	textField("handed", "Hand-over", func(c *Commission) *string { return &c.Handed }, 2000, false),
}

// Values returns the commission as typed text.
func (c Commission) Values(sys units.System) map[string]string {
	return commissionFields.values(&c, sys)
}

func decodeCommission(row store.CommissionRow) (Commission, error) {
	c := Commission{State: CommissionAsked}
	if err := json.Unmarshal(row.Doc, &c); err != nil {
		return c, fmt.Errorf("read the commission %q: %w", row.Name, err)
	}
	c.ID, c.Rev, c.Name, c.At = row.ID, row.Rev, row.Name, row.At
	return c, nil
}

// Commission returns one commission.
func (s *Studio) Commission(ctx context.Context, id int64) (Commission, error) {
	row, err := s.store.Commission(ctx, id)
	if err != nil {
		return Commission{}, err
	}
	return decodeCommission(row)
}

// Commissions returns all commissions, newest first.
func (s *Studio) Commissions(ctx context.Context) ([]Commission, error) {
	rows, err := s.store.Commissions(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Commission, len(rows))
	for i, row := range rows {
		if out[i], err = decodeCommission(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// SaveCommission takes a typed commission: a new one when id is 0, otherwise a
// change of the one still at rev. Its pieces follow a changed due day.
func (s *Studio) SaveCommission(ctx context.Context, id, rev int64, typed map[string]string) (Commission, Notices, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Commission{}, Notices{}, err
	}
	c := Commission{State: CommissionAsked}
	if id != 0 {
		if c, err = s.Commission(ctx, id); err != nil {
			return c, Notices{}, err
		}
	}
	due, state := c.Due, c.State
	n := commissionFields.apply(&c, typed, set.Units)
	if c.Name == "" && n.Errors["name"] == "" {
		n.Errors["name"] = "needs a name"
	}
	if id != 0 && c.Rev != rev {
		n.Errors["name"] = "this was changed on another page; look at it again before you keep it"
	}
	if !n.OK() {
		return c, n, nil
	}
	if c.State == CommissionHanded && state != CommissionHanded {
		c.HandOut = s.now()
	}
	if id == 0 {
		id, err = s.store.CreateCommission(ctx, c.Name, c, s.now())
	} else {
		err = s.store.SaveCommission(ctx, id, rev, c.Name, c)
	}
	if err != nil {
		return c, n, err
	}
	if !c.Due.Equal(due) || c.State != state {
		if err := s.followCommission(ctx, id, c); err != nil {
			return c, n, err
		}
	}
	c, err = s.Commission(ctx, id)
	return c, n, err
}

// followCommission gives the boards of a commission its due day, and closes
// them when it is handed over or called off.
func (s *Studio) followCommission(ctx context.Context, id int64, c Commission) error {
	pieces, err := s.PiecesOf(ctx, id)
	if err != nil {
		return err
	}
	for _, p := range pieces {
		if _, err := s.change(ctx, p.ID, func(spec *Spec) error {
			if !spec.Tile {
				spec.Due = c.Due
			}
			if c.State == CommissionHanded || c.State == CommissionOff {
				spec.State = StateDone
			}
			return nil
		}); err != nil {
			return err
		}
	}
	return nil
}

// PiecesOf returns the pieces and test tiles of a commission.
func (s *Studio) PiecesOf(ctx context.Context, id int64) ([]Piece, error) {
	rows, err := s.store.PiecesOf(ctx, id)
	if err != nil {
		return nil, err
	}
	out := make([]Piece, len(rows))
	for i, row := range rows {
		if out[i], err = decodePiece(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Sizes of what a commission is begun with.
const (
	tileSide  = 100 * units.Millimetre // a usual test tile (common practice)
	tileDepth = 4 * units.Millimetre
)

// AddTile gives a commission a test tile with a recipe of its own.
func (s *Studio) AddTile(ctx context.Context, id int64, name, tech string) (Piece, error) {
	c, err := s.Commission(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	spec, err := s.Draft(ctx)
	if err != nil {
		return Piece{}, err
	}
	book, err := s.Techniques(ctx)
	if err != nil {
		return Piece{}, err
	}
	if t, ok := book.Find(tech); ok && !t.Between {
		spec.Technique = tech
	}
	tiles, err := s.PiecesOf(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	if name == "" {
		name = fmt.Sprintf("%s, tile %d", shorten(c.Name, 60), len(tiles)+1)
	}
	spec.Name, spec.Brief = shorten(name, 80), shorten("Wanted: "+c.Wanted+". Unwanted: "+c.Unwanted+".", 4000)
	spec.Width, spec.Height, spec.Depth = tileSide, tileSide, tileDepth
	spec.Second, spec.Top, spec.BackMask = SecondNone, false, false
	spec.Colours = startingColours(spec.Technique)
	spec.Commission, spec.Tile = id, true
	p, err := s.AddPiece(ctx, spec)
	if err == nil && c.State == CommissionAsked {
		err = s.setState(ctx, c, CommissionTesting)
	}
	return p, err
}

func shorten(text string, most int) string {
	r := []rune(text)
	return string(r[:min(len(r), most)])
}

func (s *Studio) setState(ctx context.Context, c Commission, state CommissionState) error {
	c.State = state
	return s.store.SaveCommission(ctx, c.ID, c.Rev, c.Name, c)
}

// ChooseTile records which test tile the client chose, and why.
func (s *Studio) ChooseTile(ctx context.Context, id, tile int64, why string) error {
	c, err := s.Commission(ctx, id)
	if err != nil {
		return err
	}
	p, err := s.Piece(ctx, tile)
	if err != nil {
		return err
	}
	if p.Commission != id || !p.Tile {
		return &RefusedError{errors.New("choose one of this commission's test tiles")}
	}
	c.Chosen, c.Why, c.Shown, c.State = tile, shorten(why, 1000), s.now(), CommissionChosen
	return s.store.SaveCommission(ctx, id, c.Rev, c.Name, c)
}

// BoardsFromTile plans the boards of a commission from the chosen tile's
// recipe at equal film and load: one piece of so many boards, so that all of a
// set come from the same lots.
func (s *Studio) BoardsFromTile(ctx context.Context, id int64, typed map[string]string) (Piece, Notices, error) {
	c, err := s.Commission(ctx, id)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	if c.Chosen == 0 {
		return Piece{}, Notices{}, &RefusedError{errors.New("choose a test tile first")}
	}
	plan, err := s.Plan(ctx, c.Chosen)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	if typed["name"] == "" {
		typed["name"] = shorten(c.Name, 80)
	}
	spec, n := rescaled(plan.Piece.Spec, typed, plan.Settings.Units)
	if !n.OK() {
		return Piece{Spec: spec}, n, nil
	}
	spec.Tile, spec.Commission, spec.Due, spec.State = false, id, c.Due, StateOpen
	spec.Second, spec.Top, spec.BackMask = SecondClear, true, true
	p, err := s.AddPiece(ctx, spec)
	if err == nil {
		err = s.setState(ctx, c, CommissionMaking)
	}
	return p, n, err
}

// AddBoard gives a commission a piece that begins from the usual draft.
func (s *Studio) AddBoard(ctx context.Context, id int64) (Piece, error) {
	c, err := s.Commission(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	spec, err := s.Draft(ctx)
	if err != nil {
		return Piece{}, err
	}
	spec.Name, spec.Commission, spec.Due = shorten(c.Name, 80), id, c.Due
	return s.AddPiece(ctx, spec)
}

// AssignPiece makes a piece part of a commission, or of none (0).
func (s *Studio) AssignPiece(ctx context.Context, piece, commission int64) error {
	var due time.Time
	if commission != 0 {
		c, err := s.Commission(ctx, commission)
		if err != nil {
			return err
		}
		due = c.Due
	}
	_, err := s.change(ctx, piece, func(spec *Spec) error {
		spec.Commission = commission
		if !due.IsZero() {
			spec.Due = due
		}
		return nil
	})
	return err
}

// AddCommissionPicture keeps a reference picture.
func (s *Studio) AddCommissionPicture(ctx context.Context, id int64, r io.Reader) error {
	if _, err := s.Commission(ctx, id); err != nil {
		return err
	}
	pictures.Lock()
	jpeg, err := picture.Reduce(r)
	pictures.Unlock()
	if err != nil {
		return &RefusedError{err}
	}
	_, err = s.store.AddCommissionPicture(ctx, id, jpeg, s.now())
	return err
}

// CommissionPictures returns the ids of a commission's pictures.
func (s *Studio) CommissionPictures(ctx context.Context, id int64) ([]int64, error) {
	return s.store.CommissionPictures(ctx, id)
}

// CommissionPicture returns one picture as JPEG.
func (s *Studio) CommissionPicture(ctx context.Context, id, pic int64) ([]byte, error) {
	return s.store.CommissionPicture(ctx, id, pic)
}

// RemoveCommission takes a commission off the list; its pieces stay.
func (s *Studio) RemoveCommission(ctx context.Context, id int64, restore bool) error {
	if restore {
		return s.store.SetCommissionDeleted(ctx, id, nil)
	}
	now := s.now()
	return s.store.SetCommissionDeleted(ctx, id, &now)
}
