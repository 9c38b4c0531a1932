// Package reorder holds the stock against what the open pieces will take: what runs
// short, on which day and for which cup, what to order until when, and from whom.
package reorder

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/ledger"
	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// A Service reads stock and agenda together.
type Service struct {
	store  *store.Store
	stock  *stock.Service
	agenda *agenda.Service
	now    func() time.Time
	lines  cache.Memo[linesKey, []Line]
}

// linesKey is the key of the lines; whether a lot is too old changes by the day.
type linesKey struct {
	agenda *agenda.Agenda
	stock  *stock.Ledger
	since  time.Time
}

// New returns the service.
func New(db *store.Store, st *stock.Service, ag *agenda.Service, now func() time.Time) *Service {
	return &Service{store: db, stock: st, agenda: ag, now: now, lines: cache.Memo[linesKey, []Line]{Most: 2}}
}

// A Need is an open piece's coat's future use of a thing.
type Need struct {
	Day    time.Time // it is poured
	Amount float64
	Piece  int64
	Name   string   // of the piece
	Coat   msg.Text // its name
	Cups   []string
}

// A Line is one thing, what is there of it and what will be taken.
type Line struct {
	stock.Item
	ledger.State
	Needs   []Need
	Worst   *Need        // the first that is not covered; nil when all are
	OrderBy time.Time    // so that it comes in time; zero where nothing is short
	Order   float64      // how much to order, in whole packs; 0 for nothing
	Old     []stock.Aged // lots past their day or long open
}

// Reserved is the open pieces' future use.
func (l Line) Reserved() float64 { return l.State.OnHand - l.Free }

// Cost is about what the order costs, at the usual price.
func (l Line) Cost() decimal.Decimal { return l.Price.Mul(decimal.NewFromInt(int64(l.Packs()))) }

// Packs is how many packs are to be ordered.
func (l Line) Packs() int {
	if l.Pack <= 0 {
		return 0
	}
	return int(l.Order/l.Pack + 0.5)
}

// Late reports whether it should have been ordered before today.
func (l Line) Late(now time.Time) bool { return !l.OrderBy.IsZero() && l.OrderBy.Before(dayOf(now)) }

func dayOf(t time.Time) time.Time {
	y, m, d := t.Local().Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.Local)
}

// Ledger returns the stock as it stands.
func (s *Service) Ledger(ctx context.Context) (*stock.Ledger, error) { return s.stock.Ledger(ctx) }

// Lines returns everything that is stocked, with what the open pieces take of it.
func (s *Service) Lines(ctx context.Context) ([]Line, error) {
	a, err := s.agenda.Current(ctx)
	if err != nil {
		return nil, err
	}
	l, err := s.stock.Ledger(ctx)
	if err != nil {
		return nil, err
	}
	since := s.now().Truncate(15 * time.Minute).Add(-stillGood)
	return s.lines.Get(ctx, linesKey{a, l, since}, func(ctx context.Context) ([]Line, error) {
		goods, err := s.stock.Goods(ctx)
		if err != nil {
			return nil, err
		}
		needs := needsOf(a, goods, l, since)
		out := make([]Line, 0, len(l.Items))
		for _, item := range l.Items {
			out = append(out, lineOf(item, needs[item.Thing], s.now()))
		}
		return out, nil
	})
}

// stillGood is how long what was weighed out for a coat can still be poured: parts that stand
// apart keep for a session, through midnight; by the next day they are mixed anew (common practice).
const stillGood = 12 * time.Hour

// needsOf gathers what all coats that are still to be made take off what is there. What was weighed
// out for a coat since then is off the stock already; what was before has set and is wanted again.
func needsOf(a *agenda.Agenda, goods []stock.Goods, l *stock.Ledger, since time.Time) map[stock.Thing][]Need {
	out := map[stock.Thing][]Need{}
	for _, p := range a.Pieces {
		for i := range p.Plan.Coats {
			c := &p.Plan.Coats[i]
			if c.Made || c.Begun {
				continue
			}
			booked := l.BookedFor(p.ID, c.ID, since)
			for t, v := range stock.Takes(p.Plan, c, goods) {
				if left := v - booked[t]; left > aSlip*v {
					out[t] = append(out[t], Need{Day: dayOf(c.Start), Amount: left, Piece: p.ID, Name: p.Name,
						Coat: words.Coat(c), Cups: cupsWith(c, t)})
				}
			}
		}
	}
	return out
}

// aSlip is the share of an amount by which a cup weighed out misses its plan without anything
// being still to be weighed.
const aSlip = 0.05

// cupsWith names the cups of a coat that a pigment goes into.
func cupsWith(c *plan.Coat, t stock.Thing) []string {
	if t.Kind != store.Pigments {
		return nil
	}
	var out []string
	for _, cup := range c.Cups {
		for _, d := range cup.Doses() {
			if d.Pigment == t.ID {
				out = append(out, cup.Colour.Name)
			}
		}
	}
	return out
}

func lineOf(item stock.Item, needs []Need, now time.Time) Line {
	slices.SortStableFunc(needs,
		func(x, y Need) int { return cmp.Or(x.Day.Compare(y.Day), cmp.Compare(x.Piece, y.Piece)) })
	l := Line{Item: item, Needs: needs}
	reserved := make([]ledger.Reserved, len(needs))
	for i, n := range needs {
		reserved[i] = ledger.Reserved{Day: n.Day, Amount: n.Amount}
	}
	l.State = ledger.Against(item.OnHand, reserved)
	if !item.Known() { // never counted: nobody knows that it is short
		l.Short = time.Time{}
		return l
	}
	if !l.Short.IsZero() {
		sum := 0.0
		for i := range needs {
			if sum += needs[i].Amount; sum > item.OnHand && l.Worst == nil {
				l.Worst = &needs[i]
			}
		}
		l.OrderBy = l.Short.AddDate(0, 0, -item.LeadDays)
	}
	if want := max(-l.Free, item.Least-l.Free); want > 0 && (!l.Short.IsZero() || item.Least > 0) && !item.Retired {
		l.Order = want
		if item.Pack > 0 {
			l.Order = float64(ceil(want/item.Pack)) * item.Pack
		}
		if l.OrderBy.IsZero() {
			l.OrderBy = dayOf(now)
		}
	}
	l.Old = item.Old(now)
	return l
}

// ceil rounds up; a rounding error makes no pack.
func ceil(v float64) int {
	n := int(v)
	if v-float64(n) > 1e-9 {
		n++
	}
	return n
}

// Short returns what runs short, that which is to be ordered first at the head.
func Short(lines []Line) []Line {
	var out []Line
	for _, l := range lines {
		if !l.Short.IsZero() {
			out = append(out, l)
		}
	}
	slices.SortStableFunc(out,
		func(x, y Line) int { return cmp.Or(x.OrderBy.Compare(y.OrderBy), cmp.Compare(x.Name, y.Name)) })
	return out
}

// For returns what runs short of what one piece takes, and what is too old of it.
func For(lines []Line, piece int64) []Line {
	var out []Line
	for _, l := range lines {
		takes := slices.IndexFunc(l.Needs, func(n Need) bool { return n.Piece == piece })
		if takes < 0 || l.Short.IsZero() && len(l.Old) == 0 {
			continue
		}
		l.Worst = nil
		sum := 0.0
		for i, n := range l.Needs {
			if sum += n.Amount; n.Piece == piece && sum > l.State.OnHand && l.Worst == nil {
				l.Worst = &l.Needs[i]
			}
		}
		if l.Worst != nil || len(l.Old) > 0 {
			out = append(out, l)
		}
	}
	return out
}

// An Order is a purchase order to one supplier.
type Order struct {
	Supplier string // "" where none is entered
	Lines    []Line
	By       time.Time // the first of them
}

// Orders returns what is to be bought, by supplier.
func Orders(lines []Line) []Order {
	at := map[string]int{}
	var out []Order
	for _, l := range lines {
		if l.Order <= 0 {
			continue
		}
		i, ok := at[l.Supplier]
		if !ok {
			i = len(out)
			at[l.Supplier] = i
			out = append(out, Order{Supplier: l.Supplier, By: l.OrderBy})
		}
		out[i].Lines = append(out[i].Lines, l)
		if l.OrderBy.Before(out[i].By) {
			out[i].By = l.OrderBy
		}
	}
	slices.SortStableFunc(out,
		func(x, y Order) int { return cmp.Or(x.By.Compare(y.By), cmp.Compare(x.Supplier, y.Supplier)) })
	return out
}
