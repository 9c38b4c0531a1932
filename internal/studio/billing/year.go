package billing

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/ledger"
	"jevvo/internal/core/money"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/stock"
)

// A Month is the result of a month.
type Month struct {
	Name     msg.Text
	Made     int // boards whose last coat was poured
	Sold     int
	Hours    decimal.Decimal
	Income   decimal.Decimal
	Spent    decimal.Decimal
	Material decimal.Decimal // used up
	Pieces   []pieces.Piece  // whose last coat was poured, in order
}

// A Year is a year's sums.
type Year struct {
	Year    int
	Months  []Month
	Total   Month
	InStock int             // boards that are made and not sold, now
	Area    decimal.Decimal // m² of faces made
	PerArea decimal.Decimal // material used for each of them
	Terms   prices.Terms
	First   int // the first year in which something happened
}

// Year sums a year by months: income is what was paid, spent what was bought and paid
// out, on the days they were.
func (s *Service) Year(ctx context.Context, year int) (Year, error) {
	y := Year{Year: year, First: s.now().Year()}
	for m := range 12 {
		y.Months = append(y.Months, Month{Name: msg.Date(time.Date(2000, time.Month(m+1), 1, 0, 0, 0, 0, time.UTC), "Jan")})
	}
	var err error
	if y.Terms, err = s.prices.Terms(ctx); err != nil {
		return y, err
	}
	for _, sum := range []func(context.Context, *Year) error{s.sumPayments, s.sumStock, s.sumHours, s.sumPieces} {
		if err := sum(ctx, &y); err != nil {
			return y, err
		}
	}
	y.add()
	return y, nil
}

// month returns the month of a moment in the year, nil for another year.
func (y *Year) month(t time.Time) *Month {
	t = t.Local()
	if !t.IsZero() && t.Year() > 1990 {
		y.First = min(y.First, t.Year())
	}
	if t.Year() != y.Year {
		return nil
	}
	return &y.Months[t.Month()-1]
}

func (s *Service) sumPayments(ctx context.Context, y *Year) error {
	list, err := s.payments(ctx, -1)
	for _, p := range list {
		if m := y.month(p.At); m != nil {
			if p.Amount.IsNegative() {
				m.Spent = m.Spent.Sub(p.Amount)
			} else {
				m.Income = m.Income.Add(p.Amount)
			}
		}
	}
	return err
}

func (s *Service) sumStock(ctx context.Context, y *Year) error {
	l, err := s.stock.Ledger(ctx)
	if err != nil {
		return err
	}
	for _, i := range l.Items {
		for _, e := range i.Entries {
			m := y.month(e.At)
			if m == nil {
				continue
			}
			if e.Kind == ledger.Buy {
				m.Spent = m.Spent.Add(e.Price)
			}
			m.Material = m.Material.Add(e.Cost)
		}
	}
	return nil
}

func (s *Service) sumHours(ctx context.Context, y *Year) error {
	all, err := s.log.AllBenches(ctx)
	if err != nil {
		return err
	}
	for _, list := range all {
		for _, b := range list {
			if m := y.month(b.At); m != nil {
				m.Hours = m.Hours.Add(decimal.NewFromInt(int64(b.Worked() / time.Second)))
			}
		}
	}
	for i := range y.Months {
		y.Months[i].Hours = y.Months[i].Hours.DivRound(decimal.NewFromInt(3600), 2)
	}
	return nil
}

// mostPieces is how many pieces a year looks through.
const mostPieces = 100_000

// sumPieces counts boards that were made, sold, and are still there.
func (s *Service) sumPieces(ctx context.Context, y *Year) error {
	list, _, err := s.pieces.Pieces(ctx, "", mostPieces, 0)
	if err != nil {
		return err
	}
	l, err := s.stock.Ledger(ctx)
	if err != nil {
		return err
	}
	poured := pouredCoats(l)
	sold, err := s.sold(ctx)
	if err != nil {
		return err
	}
	when := map[int64]time.Time{}
	for _, p := range list {
		boards := max(1, p.Count)
		if !p.Tile {
			at := soldAt(p, sold)
			if m := y.month(at); m != nil {
				m.Sold += boards
			}
			if made := madeAt(p, poured[p.ID]); !made.IsZero() {
				if at.IsZero() {
					y.InStock += boards
				}
				if m := y.month(made); m != nil {
					m.Made += boards
					m.Pieces = append(m.Pieces, p)
					when[p.ID] = made
					y.Area = y.Area.Add(decimal.NewFromFloat(float64(p.Width.Times(p.Height).SquareMetres()) * float64(boards)).Round(
						4))
				}
			}
		}
	}
	for _, m := range y.Months {
		slices.SortStableFunc(m.Pieces, func(a, b pieces.Piece) int { return when[a.ID].Compare(when[b.ID]) })
	}
	return nil
}

// pouredCoats is when resin was first taken for each coat of each piece.
func pouredCoats(l *stock.Ledger) map[int64]map[string]time.Time {
	out := map[int64]map[string]time.Time{}
	for _, i := range l.Items {
		if i.Kind != store.Resins {
			continue
		}
		for _, e := range i.Entries {
			if e.Piece == 0 || e.Kind != ledger.Use {
				continue
			}
			if out[e.Piece] == nil {
				out[e.Piece] = map[string]time.Time{}
			}
			if _, ok := out[e.Piece][e.Coat]; !ok {
				out[e.Piece][e.Coat] = e.At
			}
		}
	}
	return out
}

// madeAt is when the last coat of a piece was poured; zero while one is not.
func madeAt(p pieces.Piece, poured map[string]time.Time) time.Time {
	var last time.Time
	for _, layer := range p.Layers {
		if layer.Coat == nil {
			continue
		}
		at, ok := poured[layer.ID]
		if !ok {
			return time.Time{}
		}
		last = later(last, at)
	}
	return last
}

// sales are when pieces were sold by themselves, and commissions handed over.
type sales struct{ pieces, commissions map[int64]time.Time }

func (s *Service) sold(ctx context.Context) (sales, error) {
	out := sales{map[int64]time.Time{}, map[int64]time.Time{}}
	asked, err := s.prices.AllAsked(ctx)
	if err != nil {
		return out, err
	}
	for id, a := range asked {
		if !a.Sold.IsZero() {
			out.pieces[id] = a.Sold
		}
	}
	list, _, err := s.commissions.List(ctx, store.CommissionFilter{}, mostPieces, 0)
	for _, c := range list {
		if c.State == commissions.Handed {
			out.commissions[c.ID] = c.HandOut
		}
	}
	return out, err
}

func soldAt(p pieces.Piece, s sales) time.Time {
	if at, ok := s.pieces[p.ID]; ok {
		return at
	}
	return s.commissions[p.Commission]
}

// add sums the months up.
func (y *Year) add() {
	y.Total.Name = msg.Own(fmt.Sprint(y.Year))
	for i := range y.Months {
		m := &y.Months[i]
		m.Material = money.Round(m.Material, y.Terms.Digits)
		y.Total.Made += m.Made
		y.Total.Sold += m.Sold
		y.Total.Hours = y.Total.Hours.Add(m.Hours)
		y.Total.Income = y.Total.Income.Add(m.Income)
		y.Total.Spent = y.Total.Spent.Add(m.Spent)
		y.Total.Material = y.Total.Material.Add(m.Material)
	}
	if y.Area.IsPositive() {
		y.PerArea = y.Total.Material.DivRound(y.Area, int32(y.Terms.Digits))
	}
}

// Rows are the year as a table.
func (y Year) Rows() [][]string {
	rows := [][]string{{"month", "made", "sold", "hours", "income", "spent", "material_used"}}
	for _, m := range append(y.Months, y.Total) {
		digits := int32(y.Terms.Digits)
		rows = append(rows, []string{m.Name.In(msg.English), fmt.Sprint(m.Made), fmt.Sprint(m.Sold), m.Hours.StringFixed(2),
			m.Income.StringFixed(digits), m.Spent.StringFixed(digits), m.Material.StringFixed(digits)})
	}
	return rows
}
