package prices

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// A Service calculates prices.
type Service struct {
	store     *store.Store
	materials *materials.Service
	stock     *stock.Service
	pieces    *pieces.Service
	agenda    *agenda.Service
	log       *session.Log
	now       func() time.Time
}

// New returns the service.
func New(db *store.Store, mats *materials.Service, st *stock.Service, ps *pieces.Service, ag *agenda.Service,
	log *session.Log, now func() time.Time) *Service {
	return &Service{db, mats, st, ps, ag, log, now}
}

// Kind is the kind of a cost's line.
type Kind string

// The kinds, in the order they are shown.
const (
	Resin    Kind = "resin"
	Pigment  Kind = "pigment"
	Material Kind = "material" // additives, the board, consumables
	Work     Kind = "work"
	Room     Kind = "room"
	Tiles    Kind = "tiles"
	Overhead Kind = "overhead"
)

// A Line is one part of a cost, as planned and as it came to be so far.
type Line struct {
	Kind            Kind
	Name            msg.Text
	Thing           stock.Thing // of what was stocked
	PlannedOf       msg.Text    // how much of it
	ActualOf        msg.Text
	Planned, Actual decimal.Decimal
}

// A Cost is the cost of a piece.
type Cost struct {
	Lines                     []Line
	Planned, Actual           decimal.Decimal
	Material                  decimal.Decimal // planned, or actual once all is made
	PlannedHours, ActualHours decimal.Decimal
	Made                      bool            // all coats are, so that the actual is the whole
	Boards                    int             // it is for
	Area                      decimal.Decimal // of their faces in dm²
	Unpriced                  []string        // what has no price, so that the cost is too low
}

// Calculated is the cost that counts: the actual once all is made, planned before.
func (c Cost) Calculated() decimal.Decimal {
	if c.Made {
		return c.Actual
	}
	return c.Planned
}

// Hours are those that count.
func (c Cost) Hours() decimal.Decimal {
	if c.Made {
		return c.ActualHours
	}
	return c.PlannedHours
}

// all is the data costs are calculated from, loaded once.
type all struct {
	terms  Terms
	ledger *stock.Ledger
	goods  []stock.Goods
	sys    units.System
}

func (s *Service) all(ctx context.Context) (a all, err error) {
	if a.terms, err = s.Terms(ctx); err != nil {
		return a, err
	}
	if a.ledger, err = s.stock.Ledger(ctx); err != nil {
		return a, err
	}
	if a.goods, err = s.stock.Goods(ctx); err != nil {
		return a, err
	}
	book, err := s.materials.Book(ctx)
	if err != nil {
		return a, err
	}
	a.sys = book.Settings.Units
	return a, nil
}

// Cost calculates a piece, with its share of the test tiles of its commission.
func (s *Service) Cost(ctx context.Context, v agenda.View) (Cost, error) {
	a, err := s.all(ctx)
	if err != nil {
		return Cost{}, err
	}
	c, err := s.plain(ctx, a, v)
	if err != nil || v.Commission == 0 || v.Tile {
		return c.summed(a.terms), err
	}
	tiles, err := s.tileShare(ctx, a, v)
	if err != nil {
		return c, err
	}
	if tiles.IsPositive() {
		c.Lines = append(c.Lines, Line{Kind: Tiles, Name: msg.ID("Its share of the test tiles"), Planned: tiles,
			Actual: tiles})
	}
	return c.summed(a.terms), nil
}

// PerMillilitre is the planned cost of a millilitre of a piece's resin, with what colours
// it; false when nothing that goes into it has a price.
func (s *Service) PerMillilitre(ctx context.Context, v agenda.View) (decimal.Decimal, bool, error) {
	a, err := s.all(ctx)
	if err != nil {
		return decimal.Zero, false, err
	}
	c, err := s.plain(ctx, a, v)
	if err != nil {
		return decimal.Zero, false, err
	}
	cost, poured := decimal.Zero, 0.0
	for _, l := range c.Lines {
		if l.Kind == Resin || l.Kind == Pigment {
			cost = cost.Add(l.Planned)
		}
	}
	for i := range v.Plan.Coats {
		poured += float64(v.Plan.Coats[i].Amount.Total)
	}
	if !cost.IsPositive() || poured <= 0 {
		return decimal.Zero, false, nil
	}
	return cost.Div(decimal.NewFromFloat(poured)), true, nil
}

// tileShare is a piece's share of the cost of the commission's test tiles, by area.
func (s *Service) tileShare(ctx context.Context, a all, v agenda.View) (decimal.Decimal, error) {
	list, err := s.pieces.Of(ctx, v.Commission)
	if err != nil {
		return decimal.Zero, err
	}
	views, err := s.agenda.Views(ctx, list)
	if err != nil {
		return decimal.Zero, err
	}
	sum, weights, at := decimal.Zero, []decimal.Decimal{}, -1
	for _, o := range views {
		if o.Broken != nil || o.Plan == nil {
			continue
		}
		if !o.Tile {
			if o.ID == v.ID {
				at = len(weights)
			}
			weights = append(weights, decimal.NewFromFloat(o.Plan.Face.SquareMetres()))
			continue
		}
		c, err := s.plain(ctx, a, o)
		if err != nil {
			return decimal.Zero, err
		}
		sum = sum.Add(c.summed(a.terms).Calculated())
	}
	if at < 0 || !sum.IsPositive() {
		return decimal.Zero, nil
	}
	parts, err := money.Allocate(money.Round(sum, a.terms.Digits), weights, a.terms.Digits)
	if err != nil {
		return decimal.Zero, err
	}
	return parts[at], nil
}

// plain is a piece's own cost, without overhead and tiles.
func (s *Service) plain(ctx context.Context, a all, v agenda.View) (Cost, error) {
	p := v.Plan
	c := Cost{Boards: max(1, p.Spec.Count), Area: decimal.NewFromFloat(p.Face.SquareMetres() * 100), Made: allMade(p)}
	planned := stock.Amounts{}
	for i := range p.Coats {
		for t, amount := range stock.Takes(p, &p.Coats[i], a.goods) {
			planned[t] += amount
		}
	}
	took, cost := a.ledger.TakenFor(v.ID)
	c.Lines = materialLines(a, planned, took, cost, &c)
	if err := s.work(ctx, a.terms, v, &c); err != nil {
		return c, err
	}
	return c, nil
}

func allMade(p *plan.Plan) bool {
	return !slices.ContainsFunc(p.Coats, func(c plan.Coat) bool { return !c.Made })
}

func materialLines(a all, planned, took stock.Amounts, cost map[stock.Thing]decimal.Decimal, c *Cost) []Line {
	var out []Line
	for _, t := range stock.Things(planned, took) {
		item, ok := a.ledger.Of(t)
		if !ok {
			continue
		}
		l := Line{Kind: kindOf(t), Name: msg.Own(item.Name), Thing: t, Planned: item.Next(planned[t]), Actual: cost[t]}
		if planned[t] > 0 {
			l.PlannedOf = item.Text(planned[t], a.sys)
		}
		if took[t] != 0 {
			l.ActualOf = item.Text(took[t], a.sys)
		}
		if item.Price.IsZero() && len(item.Lots) == 0 {
			c.Unpriced = append(c.Unpriced, item.Name)
		}
		out = append(out, l)
	}
	order := []Kind{Resin, Pigment, Material}
	slices.SortStableFunc(out, func(x, y Line) int {
		return cmp.Or(slices.Index(order, x.Kind)-slices.Index(order, y.Kind), y.Planned.Cmp(x.Planned))
	})
	return out
}

func kindOf(t stock.Thing) Kind {
	switch t.Kind {
	case store.Resins:
		return Resin
	case store.Pigments:
		return Pigment
	}
	return Material
}

// work adds the minutes of hands and of the room.
func (s *Service) work(ctx context.Context, terms Terms, v agenda.View, c *Cost) error {
	benches, err := s.log.BenchesOf(ctx, v.ID, false)
	if err != nil {
		return err
	}
	byCoat := map[string]time.Duration{}
	for _, b := range benches {
		byCoat[b.Coat] += b.Worked()
	}
	planned, actual := 0, time.Duration(0)
	for _, t := range v.Plan.Tasks {
		if t.Kind == plan.TaskLook {
			continue
		}
		planned += t.Hands
		coat, pours := plan.Poured(t.Key)
		if worked := byCoat[coat]; pours && worked > 0 {
			actual += worked
		} else if v.Plan.Timing.Happened[t.Key].Done {
			actual += time.Duration(t.Hands) * time.Minute
		}
	}
	c.PlannedHours = hours(time.Duration(planned) * time.Minute)
	c.ActualHours = hours(actual)
	for _, l := range []struct {
		kind Kind
		name msg.ID
		rate decimal.Decimal
	}{{Work, "Work", terms.HourRate}, {Room, "Use of the room", terms.HourlyRoom}} {
		if l.rate.IsPositive() {
			c.Lines = append(c.Lines, Line{Kind: l.kind, Name: l.name,
				PlannedOf: words.Spoken(60 * c.PlannedHours.InexactFloat64()),
				ActualOf:  words.Spoken(60 * c.ActualHours.InexactFloat64()),
				Planned:   c.PlannedHours.Mul(l.rate), Actual: c.ActualHours.Mul(l.rate)})
		}
	}
	return nil
}

// hours are a duration to a hundredth.
func hours(d time.Duration) decimal.Decimal {
	return decimal.NewFromInt(int64(d/time.Second)).DivRound(decimal.NewFromInt(3600), 2)
}

// summed rounds every line, adds the overhead and sums up.
func (c Cost) summed(t Terms) Cost {
	planned, actual, material, materialActual := decimal.Zero, decimal.Zero, decimal.Zero, decimal.Zero
	c.Lines = slices.Clone(c.Lines)
	for i := range c.Lines {
		l := &c.Lines[i]
		l.Planned, l.Actual = money.Round(l.Planned, t.Digits), money.Round(l.Actual, t.Digits)
		planned, actual = planned.Add(l.Planned), actual.Add(l.Actual)
		if l.Kind == Resin || l.Kind == Pigment || l.Kind == Material {
			material, materialActual = material.Add(l.Planned), materialActual.Add(l.Actual)
		}
	}
	if t.Overhead.IsPositive() {
		o := Line{Kind: Overhead, Name: msg.ID("Overhead"),
			PlannedOf: msg.Figure(t.Overhead.Mul(decimal.NewFromInt(100)).String() + " %"),
			Planned:   money.Round(planned.Mul(t.Overhead), t.Digits), Actual: money.Round(actual.Mul(t.Overhead), t.Digits)}
		c.Lines = append(c.Lines, o)
		planned, actual = planned.Add(o.Planned), actual.Add(o.Actual)
	}
	c.Planned, c.Actual, c.Material = planned, actual, material
	if c.Made {
		c.Material = materialActual
	}
	return c
}
