package prices

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
)

// Asked is the price asked for a piece, and the sale.
type Asked struct {
	Rev      int64           `json:"-"`
	Method   Method          `json:",omitempty"` // "" for the studio's
	Own      decimal.Decimal // list price of one board, where it is said
	Discount decimal.Decimal // share
	Delivery decimal.Decimal
	Gallery  bool      `json:",omitempty"` // sold through one
	Sold     time.Time `json:",omitzero"`
	For      decimal.Decimal
	To       string `json:",omitempty"`
}

// AskedFields is the catalogue of what is asked.
var AskedFields = form.Fields[Asked]{
	form.Choice("method", "Pricing", func(a *Asked) *Method { return &a.Method },
		form.Option{Value: "", Label: msg.ID("the studio's method")},
		form.Option{Value: "cost", Label: msg.ID("by cost with a margin")},
		form.Option{Value: "hour", Label: msg.ID("by hours and material")},
		form.Option{Value: "area", Label: msg.ID("by the area of the face")},
		form.Option{Value: "material", Label: msg.ID("by a multiple of the material")},
		form.Option{Value: "own", Label: msg.ID("as entered here")}),
	form.Money("own", "List price of a board", func(a *Asked) *decimal.Decimal { return &a.Own }, 2).Shown("method:own"),
	form.Part("discount", "Discount", func(a *Asked) *decimal.Decimal { return &a.Discount }, 100),
	form.Money("delivery", "Delivery", func(a *Asked) *decimal.Decimal { return &a.Delivery }, 2),
	form.Bool("gallery", "Sold through a gallery", func(a *Asked) *bool { return &a.Gallery }),
	form.Date("sold", "Sold on", func(a *Asked) *time.Time { return &a.Sold }),
	form.Money("for", "Sold for, in total", func(a *Asked) *decimal.Decimal { return &a.For }, 2),
	form.Text("to", "Sold to", func(a *Asked) *string { return &a.To }, 120, false),
}

// A Price is a piece priced.
type Price struct {
	Asked
	Used  Method          // the method that was used
	Each  decimal.Decimal // list price of one board, before discount and delivery
	Quote money.Quote     // of all its boards
	Cost  Cost
	Terms Terms
	// Profit is the net price less cost and gallery share.
	Profit decimal.Decimal
}

func decodeAsked(r store.PriceRow) (Asked, error) {
	var a Asked
	if r.Rev == 0 {
		return a, nil
	}
	if err := json.Unmarshal(r.Doc, &a); err != nil {
		return a, fmt.Errorf("read the price of the piece %d: %w", r.Piece, err)
	}
	a.Rev = r.Rev
	return a, nil
}

// Price calculates what a piece is sold for.
func (s *Service) Price(ctx context.Context, v agenda.View) (Price, error) {
	terms, err := s.Terms(ctx)
	if err != nil {
		return Price{}, err
	}
	row, err := s.store.PriceOf(ctx, v.ID)
	if err != nil {
		return Price{}, err
	}
	asked, err := decodeAsked(row)
	if err != nil {
		return Price{}, err
	}
	cost, err := s.Cost(ctx, v)
	if err != nil {
		return Price{}, err
	}
	return priced(terms, asked, cost)
}

// AsIf is the list price of all boards of a piece, were they made as another plan says,
// by the method and with the discount the piece is priced with.
func (s *Service) AsIf(ctx context.Context, piece int64, v agenda.View) (decimal.Decimal, error) {
	row, err := s.store.PriceOf(ctx, piece)
	if err != nil {
		return decimal.Zero, err
	}
	asked, err := decodeAsked(row)
	if err != nil {
		return decimal.Zero, err
	}
	cost, err := s.Cost(ctx, v)
	if err != nil {
		return decimal.Zero, err
	}
	terms, err := s.Terms(ctx)
	if err != nil {
		return decimal.Zero, err
	}
	p, err := priced(terms, asked, cost)
	return p.Quote.List.Sub(p.Quote.Discount), err
}

// priced makes the price of a cost.
func priced(t Terms, a Asked, c Cost) (Price, error) {
	p := Price{Asked: a, Used: a.Method, Cost: c, Terms: t}
	if p.Used == "" {
		p.Used = t.Method
	}
	boards := decimal.NewFromInt(int64(c.Boards))
	gallery := decimal.Zero
	if a.Gallery {
		gallery = t.Gallery
	}
	p.Each = t.list(p.Used, a, c, gallery, boards)
	m := money.Price{Digits: t.Digits, Discount: a.Discount, Delivery: a.Delivery, Tax: t.Tax, TaxInclusive: t.Inclusive,
		Deposit: t.Deposit}
	var err error
	p.Quote, err = m.From(p.Each.Mul(boards))
	p.Quote.Cost = c.Calculated()
	p.Profit = p.Quote.Net.Sub(p.Quote.Delivery).Sub(money.Round(p.Quote.Net.Sub(p.Quote.Delivery).Mul(gallery),
		t.Digits)).Sub(p.Quote.Cost)
	return p, err
}

// list is the list price of one board, a whole number of minor units, so that the
// boards of a set cost the same and add up.
func (t Terms) list(m Method, a Asked, c Cost, gallery, boards decimal.Decimal) decimal.Decimal {
	each := func(v decimal.Decimal) decimal.Decimal { return v.DivRound(boards, 12) }
	switch m {
	case Own:
		return money.Round(a.Own, t.Digits)
	case ByHour:
		return money.Grossed(each(c.Material.Add(c.Hours().Mul(t.HourRate))), gallery, t.Digits)
	case ByArea:
		return money.Grossed(each(c.Area.Mul(t.PerArea)), gallery, t.Digits)
	case ByMaterial:
		return money.Grossed(each(c.Material.Mul(t.Multiple)), gallery, t.Digits)
	}
	return money.Grossed(each(c.Calculated()), t.Margin.Add(gallery), t.Digits)
}

// How says in words how a price was made.
func (p Price) How(sys units.System) msg.Text {
	cur := p.Terms.Money()
	share := func(v decimal.Decimal) msg.Figure { return msg.Figure(v.Mul(decimal.NewFromInt(100)).String() + " %") }
	var text msg.Text
	switch p.Used {
	case Own:
		text = msg.ID("As entered.")
	case ByHour:
		text = msg.F("Material %s and %s hours at %s.", cur.Text(p.Cost.Material), msg.Figure(p.Cost.Hours().StringFixed(2)),
			cur.Text(p.Terms.HourRate))
	case ByArea:
		text = msg.F("%s of face at %s %s / %s.", msg.Figure(areaText(p.Cost.Area, sys)),
			msg.Figure(usualArea(sys).price(p.Terms.PerArea)), p.Terms.Currency, usualArea(sys).shown)
	case ByMaterial:
		text = msg.F("Material %s, times %s.", cur.Text(p.Cost.Material), msg.Figure(p.Terms.Multiple.String()))
	default:
		text = msg.F("Cost %s; the list price leaves a margin of %s.", cur.Text(p.Cost.Calculated()),
			share(p.Terms.Margin))
	}
	if p.Gallery && p.Used != Own {
		text = msg.Sentences(text, msg.F("The gallery keeps %s of it.", share(p.Terms.Gallery)))
	}
	return text
}

// Ask keeps what is asked for a piece.
func (s *Service) Ask(ctx context.Context, piece, rev int64, typed map[string]string) (Asked, form.Notices, error) {
	book, err := s.materials.Book(ctx)
	if err != nil {
		return Asked{}, form.Notices{}, err
	}
	var a Asked
	n := form.NewNotices()
	err = s.store.Write(ctx, "keep the price", func(tx *store.Tx) error {
		if _, err := tx.Piece(ctx, piece); err != nil {
			return err
		}
		row, err := tx.PriceOf(ctx, piece)
		if err != nil {
			return err
		}
		if a, err = decodeAsked(row); err != nil {
			return err
		}
		stale := row.Rev != rev
		n = AskedFields.Apply(&a, typed, book.Settings.Style())
		if stale {
			n.Refuse("method", msg.ID("this was changed on another page; look at it again before you save"))
		}
		if a.Method == Own && a.Own.IsZero() {
			n.Refuse("own", msg.ID("enter a price above zero, or give a discount of 100 %"))
		}
		if !n.OK() {
			return nil
		}
		err = tx.SavePrice(ctx, piece, row.Rev, a)
		if errors.Is(err, store.ErrConflict) {
			n.Refuse("method", msg.ID("this was changed on another page; look at it again before you save"))
			return nil
		}
		return err
	})
	return a, n, err
}

// An Item is one line of what a commission is asked.
type Item struct {
	Piece  int64
	Name   string
	Size   string
	Boards int
	Each   decimal.Decimal // list price of a board
	Less   decimal.Decimal // discount on this line
	Sum    decimal.Decimal
	Asked  string // what was said of its price, in one line that changes with it
}

// A Total is the price of a commission.
type Total struct {
	Items []Item
	money.Quote
	Terms
	Cost   decimal.Decimal
	Hours  decimal.Decimal
	Priced bool // there is something to price
}

// Total adds up what the boards of a commission are asked, test tiles left out. The
// discount is a share of the sum; delivery comes on top once.
func (s *Service) Total(ctx context.Context, commission int64, discount, delivery decimal.Decimal) (Total, error) {
	terms, err := s.Terms(ctx)
	if err != nil {
		return Total{}, err
	}
	out := Total{Terms: terms}
	list, err := s.pieces.Of(ctx, commission)
	if err != nil {
		return out, err
	}
	views, err := s.agenda.Views(ctx, list)
	if err != nil {
		return out, err
	}
	sum := decimal.Zero
	for _, v := range views {
		if v.Tile || v.Plan == nil || v.Broken != nil {
			continue
		}
		p, err := s.Price(ctx, v)
		if err != nil {
			return out, err
		}
		sys := v.Agenda.Book.Settings.Units
		item := Item{Piece: v.ID, Name: v.Name, Size: string(v.Width.Text(sys) + " × " + v.Height.Text(sys)),
			Boards: p.Cost.Boards,
			Each:   p.Each, Asked: p.said()}
		item.Sum = p.Each.Mul(decimal.NewFromInt(int64(item.Boards)))
		item.Less = money.Round(item.Sum.Mul(p.Discount), terms.Digits)
		item.Sum = item.Sum.Sub(item.Less)
		delivery = delivery.Add(p.Delivery)
		sum = sum.Add(item.Sum)
		out.Items = append(out.Items, item)
		out.Cost, out.Hours = out.Cost.Add(p.Cost.Calculated()), out.Hours.Add(p.Cost.Hours())
	}
	out.Priced = len(out.Items) > 0
	m := money.Price{Digits: terms.Digits, Discount: discount, Delivery: delivery, Tax: terms.Tax,
		TaxInclusive: terms.Inclusive, Deposit: terms.Deposit}
	out.Quote, err = m.From(sum)
	return out, err
}

// said is all that was said of a price, for telling whether it was changed.
func (a Asked) said() string {
	return fmt.Sprintf("%s %s less %s and %s, gallery %t", a.Method, a.Own, a.Discount, a.Delivery, a.Gallery)
}

// At makes the sum of a commission anew from its items as they stand.
func (t *Total) At(discount decimal.Decimal) error {
	sum := decimal.Zero
	for _, it := range t.Items {
		sum = sum.Add(it.Sum)
	}
	m := money.Price{
		Digits: t.Digits, Discount: discount, Delivery: t.Quote.Delivery, Tax: t.Terms.Tax, TaxInclusive: t.Inclusive,
		Deposit: t.Terms.Deposit,
	}
	var err error
	t.Quote, err = m.From(sum)
	return err
}

// AllAsked returns what is asked for every piece for which that was said.
func (s *Service) AllAsked(ctx context.Context) (map[int64]Asked, error) {
	rows, err := s.store.Prices(ctx)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]Asked, len(rows))
	for _, r := range rows {
		if out[r.Piece], err = decodeAsked(r); err != nil {
			return nil, err
		}
	}
	return out, nil
}
