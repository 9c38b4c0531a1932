// Package billing is the money side of a commission: what is asked, what was agreed and
// what changed since, what came in, and what the next step is, until it is paid.
package billing

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/money"
	"jevvo/internal/core/plan"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
)

// A Service keeps the books of commissions.
type Service struct {
	store       *store.Store
	commissions *commissions.Service
	pieces      *pieces.Service
	prices      *prices.Service
	stock       *stock.Service
	agenda      *agenda.Service
	log         *session.Log
	desk        *picture.Desk
	now         func() time.Time
	pressing    cache.Memo[stepsKey, []Deal]
	deals       cache.Memo[one, Deal]
}

// one is a commission as it stands.
type one struct {
	id int64
	on stepsKey
}

// New returns the service.
func New(db *store.Store, cs *commissions.Service, ps *pieces.Service, pr *prices.Service, st *stock.Service,
	ag *agenda.Service, log *session.Log, desk *picture.Desk, now func() time.Time) *Service {
	return &Service{store: db, commissions: cs, pieces: ps, prices: pr, stock: st, agenda: ag, log: log, desk: desk,
		now: now, pressing: cache.Memo[stepsKey, []Deal]{Most: 2}, deals: cache.Memo[one, Deal]{Most: mostDeals}}
}

// A Board is a piece of a commission with what it is asked.
type Board struct {
	agenda.View
	Made bool
}

// A Deal is a commission with all its money.
type Deal struct {
	commissions.Commission
	Total    prices.Total
	Boards   []Board
	Tiles    int
	Papers   []Paper
	Payments []Payment
	Paid     decimal.Decimal
	Changes  *Changes // since what was agreed; nil while nothing was, or changed
	Next     Next
	Ready    time.Time // the last board, by the plan; zero where none is planned
	Cured    time.Time // of one that was handed over: full cure, and heat-safe
	HeatSafe time.Time
}

// A Paper is one that was made.
type Paper struct {
	ID           int64
	Kind, Number string
	At           time.Time
}

// A Payment is money that came in.
type Payment struct {
	ID     int64
	At     time.Time
	Amount decimal.Decimal
	Note   string
}

// Open is the amount outstanding.
func (d Deal) Open() decimal.Decimal { return d.Total.Gross.Sub(d.Paid) }

// paper returns the newest paper of a kind, nil when there is none.
func (d Deal) paper(kind string) *Paper {
	for i := len(d.Papers) - 1; i >= 0; i-- {
		if d.Papers[i].Kind == kind {
			return &d.Papers[i]
		}
	}
	return nil
}

// Deal gathers a commission, once for what it stands on. It is not changed by those
// who ask for it.
func (s *Service) Deal(ctx context.Context, id int64) (Deal, error) {
	on, err := s.stand(ctx)
	if err != nil {
		return Deal{}, err
	}
	return s.deals.Get(ctx, one{id, on}, func(ctx context.Context) (Deal, error) { return s.gather(ctx, id) })
}

func (s *Service) gather(ctx context.Context, id int64) (Deal, error) {
	c, err := s.commissions.Commission(ctx, id)
	if err != nil {
		return Deal{}, err
	}
	d := Deal{Commission: c}
	if d.Total, err = s.prices.Total(ctx, id, c.Discount, c.Delivery); err != nil {
		return d, err
	}
	if c.Currency != "" {
		d.Total.Currency = c.Currency
	}
	if err := s.boards(ctx, &d); err != nil {
		return d, err
	}
	if err := d.freeze(); err != nil {
		return d, err
	}
	rows, err := s.store.Papers(ctx, id)
	if err != nil {
		return d, err
	}
	for _, r := range rows {
		d.Papers = append(d.Papers, Paper{r.ID, r.Kind, r.Number, r.At})
	}
	if d.Payments, err = s.payments(ctx, id); err != nil {
		return d, err
	}
	for _, p := range d.Payments {
		d.Paid = d.Paid.Add(p.Amount)
	}
	d.Changes = d.changes()
	d.Next = d.next(s.now())
	return d, nil
}

// TilesOf returns the test tiles of a commission that can be calculated.
func (s *Service) TilesOf(ctx context.Context, id int64) ([]agenda.View, error) {
	list, err := s.pieces.Of(ctx, id)
	if err != nil {
		return nil, err
	}
	views, err := s.agenda.Views(ctx, list)
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(views, func(v agenda.View) bool { return !v.Tile || v.Plan == nil || v.Broken != nil }), nil
}

// LikeTile is what is to be paid for all boards of a commission, were they made as a
// test tile is; false where one cannot be.
func (s *Service) LikeTile(ctx context.Context, d Deal, tile agenda.View) (decimal.Decimal, bool, error) {
	sum := decimal.Zero
	for _, b := range d.Boards {
		spec, ok := commissions.Like(tile.Piece.Spec, b.Piece.Spec, b.Agenda.Book)
		if !ok {
			return sum, false, nil
		}
		piece := pieces.Piece{Spec: spec}
		made, err := s.agenda.Alone(ctx, piece)
		if err != nil {
			return sum, false, nil // it cannot be calculated at that size
		}
		piece.ID = b.ID // it bears its share of the tiles
		list, err := s.prices.AsIf(ctx, b.ID, agenda.View{Piece: piece, Plan: made, Agenda: b.Agenda})
		if err != nil {
			return sum, false, err
		}
		sum = sum.Add(list)
	}
	t := d.Total.Terms
	m := money.Price{Digits: t.Digits, Discount: d.Discount, Delivery: d.Total.Quote.Delivery, Tax: t.Tax,
		TaxInclusive: t.Inclusive}
	q, err := m.From(sum)
	return q.Gross, err == nil, err
}

func (s *Service) boards(ctx context.Context, d *Deal) error {
	list, err := s.pieces.Of(ctx, d.ID)
	if err != nil {
		return err
	}
	views, err := s.agenda.Views(ctx, list)
	if err != nil {
		return err
	}
	for _, v := range views {
		if v.Tile {
			d.Tiles++
			continue
		}
		b := Board{View: v, Made: v.Plan != nil && v.Broken == nil}
		if b.Made {
			for i := range v.Plan.Coats {
				b.Made = b.Made && v.Plan.Coats[i].Made
			}
			d.Ready = later(d.Ready, v.Plan.Deliver)
			d.HeatSafe = later(d.HeatSafe, v.Plan.HeatSafe)
			d.Cured = later(d.Cured, cured(v.Plan))
		}
		d.Boards = append(d.Boards, b)
	}
	return nil
}

// cured is when the last coat of a plan has its full strength.
func cured(p *plan.Plan) time.Time {
	var last time.Time
	for i := range p.Coats {
		last = later(last, p.Coats[i].Windows[cure.Cured].From)
	}
	return last
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

func (s *Service) payments(ctx context.Context, id int64) ([]Payment, error) {
	rows, err := s.store.Payments(ctx, id)
	if err != nil {
		return nil, err
	}
	out := make([]Payment, len(rows))
	for i, r := range rows {
		out[i] = Payment{ID: r.ID, At: r.At}
		if out[i].Amount, err = decimal.NewFromString(r.Amount); err != nil {
			return nil, fmt.Errorf("read the payment %d: %w", r.ID, err)
		}
		var doc struct{ Note string }
		if err := json.Unmarshal(r.Doc, &doc); err != nil {
			return nil, fmt.Errorf("read the payment %d: %w", r.ID, err)
		}
		out[i].Note = doc.Note
	}
	return out, nil
}

// longestNote bounds what is said of a payment or an approval.
const longestNote = 1000

// Pay keeps a payment: of a commission that exists, or of none (0); spent says that
// money went out.
func (s *Service) Pay(ctx context.Context, commission int64, spent bool, typed map[string]string) error {
	terms, err := s.prices.Terms(ctx)
	if err != nil {
		return err
	}
	amount, _, err := money.Parse(typed["amount"], terms.Digits)
	if err != nil {
		return &form.Refused{Field: "amount", Err: err}
	}
	if amount.IsZero() {
		return form.Refusef("amount", "enter an amount above zero")
	}
	if spent {
		amount = amount.Neg()
	}
	at := s.now()
	if text := strings.TrimSpace(typed["on"]); text != "" {
		v, err := time.ParseInLocation(time.DateOnly, text, time.Local)
		if err != nil || v.Year() < 2000 || v.After(s.now()) {
			return form.Refusef("on", "%q is not a day that has been; write 2026-03-14", text)
		}
		at = v
	}
	note := pieces.Shorten(strings.TrimSpace(typed["note"]), longestNote)
	doc, err := json.Marshal(map[string]string{"Note": note})
	if err != nil {
		return err
	}
	if commission != 0 {
		if _, err := s.commissions.Commission(ctx, commission); err != nil {
			return err
		}
	}
	return s.store.Write(ctx, "keep the payment", func(tx *store.Tx) error {
		return tx.AddPayment(ctx, store.Payment{Commission: commission, At: at, Amount: amount.String(), Doc: doc})
	})
}

// Show keeps that something was shown to the client.
func (s *Service) Show(ctx context.Context, id int64, what string) error {
	what = pieces.Shorten(strings.TrimSpace(what), 200)
	if what == "" {
		return form.Refusef("what", "enter what was shown")
	}
	return s.change(ctx, id, func(c *commissions.Commission) error {
		c.Showings = append(c.Showings, commissions.Showing{At: s.now(), What: what})
		return nil
	})
}

func (s *Service) change(ctx context.Context, id int64, f func(*commissions.Commission) error) error {
	return s.store.Write(ctx, "keep the commission", func(tx *store.Tx) error {
		_, err := commissions.ChangeIn(ctx, tx, id, f)
		return err
	})
}

// Approve keeps what was agreed, as it stands now: boards, price, colours and day,
// with a note, and a picture of the letter where there is one.
func (s *Service) Approve(ctx context.Context, id int64, note string, letter io.Reader) error {
	d, err := s.Deal(ctx, id)
	if err != nil {
		return err
	}
	if len(d.Boards) == 0 {
		return form.Refusef("note", "there is no board to agree on yet")
	}
	if strings.TrimSpace(note) == "" && letter == nil {
		return form.Refusef("note", "enter how it was agreed, or add the letter")
	}
	var jpeg []byte
	if letter != nil {
		if jpeg, err = s.desk.Reduce(ctx, letter); err != nil {
			return &form.Refused{Field: "letter", Err: err}
		}
	}
	a := commissions.Approval{At: s.now(), Tile: d.Chosen, Colours: d.colours(), Price: d.Total.Gross,
		Money: d.Total.Currency, Due: d.Due, Ready: d.Ready, Note: pieces.Shorten(strings.TrimSpace(note), longestNote)}
	hung, err := s.store.Pictures(ctx, store.HungPictures, id)
	if err != nil {
		return err
	}
	if len(hung) > 0 {
		a.Hung = hung[len(hung)-1]
	}
	for _, it := range d.Total.Items {
		board := commissions.AgreedBoard{Piece: it.Piece, Name: it.Name, Boards: it.Boards, Each: it.Each, Less: it.Less,
			Sum: it.Sum, Asked: it.Asked}
		for _, b := range d.Boards {
			if b.ID == it.Piece {
				board.Rev = b.Piece.Rev
			}
		}
		a.Boards = append(a.Boards, board)
	}
	return s.store.Write(ctx, "keep what was agreed", func(tx *store.Tx) error {
		if jpeg != nil {
			if a.Letter, err = tx.AddPicture(ctx, store.ApprovalLetters, id, jpeg, s.now()); err != nil {
				return err
			}
		}
		_, err := commissions.ChangeIn(ctx, tx, id, func(c *commissions.Commission) error {
			c.Approvals = append(c.Approvals, a)
			return nil
		})
		return err
	})
}

// Letter returns a picture of what was signed.
func (s *Service) Letter(ctx context.Context, id, letter int64) ([]byte, error) {
	return s.store.Picture(ctx, store.ApprovalLetters, id, letter)
}

// colours names those of all boards, each once.
func (d Deal) colours() string {
	var out []string
	seen := map[string]bool{}
	for _, b := range d.Boards {
		if b.Plan == nil {
			continue
		}
		for i := range b.Plan.Coats {
			for _, cup := range b.Plan.Coats[i].Cups {
				if name := cup.Colour.Name; !seen[name] {
					seen[name] = true
					out = append(out, name)
				}
			}
		}
	}
	return strings.Join(out, ", ")
}

// freeze puts what was agreed for a board in the place of what it would be asked today,
// as long as the board and what was said of its price are as they were then: costs move
// by themselves, a price that was agreed does not.
func (d *Deal) freeze() error {
	a := d.Approved()
	if a == nil {
		return nil
	}
	agreed := map[int64]commissions.AgreedBoard{}
	for _, b := range a.Boards {
		agreed[b.Piece] = b
	}
	for i := range d.Total.Items {
		it := &d.Total.Items[i]
		was, ok := agreed[it.Piece]
		if ok && was.Asked == it.Asked && was.Boards == it.Boards && d.stands(was) {
			it.Each, it.Less, it.Sum = was.Each, was.Less, was.Sum
		}
	}
	return d.Total.At(d.Discount)
}

// stands reports whether a board is the one that was agreed on.
func (d *Deal) stands(was commissions.AgreedBoard) bool {
	return slices.ContainsFunc(d.Boards,
		func(b Board) bool { return b.ID == was.Piece && (b.Made || b.Piece.Rev == was.Rev) })
}

// TooLate reports a commission that is ready after the day the client wants it.
func (d Deal) TooLate() bool { return !d.Due.IsZero() && d.Ready.After(d.Due) }

// Changes is what differs from what was agreed.
type Changes struct {
	Boards  []msg.Text      // changed, added or taken out, in words
	Price   decimal.Decimal // what it costs more
	Ready   time.Duration   // by how much later it is ready
	Due     bool            // another due day
	Colours string          // as they are now, where they differ
}

// changes compares with the newest approval.
func (d Deal) changes() *Changes {
	a := d.Approved()
	if a == nil {
		return nil
	}
	c := Changes{Price: d.Total.Gross.Sub(a.Price), Due: !d.Due.Equal(a.Due)}
	if now := d.colours(); now != a.Colours {
		c.Colours = now
	}
	if !a.Ready.IsZero() && !d.Ready.IsZero() {
		if by := d.Ready.Sub(a.Ready); by > leastDelay {
			c.Ready = by
		}
	}
	left := map[int64]commissions.AgreedBoard{}
	for _, b := range a.Boards {
		left[b.Piece] = b
	}
	for _, b := range d.Boards {
		was, ok := left[b.ID]
		delete(left, b.ID)
		switch {
		case !ok:
			c.Boards = append(c.Boards, msg.F("%s was added", b.Name))
		case was.Rev != b.Piece.Rev && !b.Made:
			c.Boards = append(c.Boards, msg.F("%s was changed", b.Name))
		}
	}
	for _, b := range a.Boards {
		if _, gone := left[b.Piece]; gone {
			c.Boards = append(c.Boards, msg.F("%s was removed", b.Name))
		}
	}
	if len(c.Boards) == 0 && !c.Due && c.Colours == "" && c.Price.IsZero() {
		return nil // a plan that moved by itself asks for no new word
	}
	return &c
}

// leastDelay is the smallest delay a client is told.
const leastDelay = 12 * time.Hour
