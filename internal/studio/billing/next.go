package billing

import (
	"context"
	"slices"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/commissions"
)

// Step names what is to be done next for a commission.
type Step string

// The steps in their order.
const (
	StepTile     Step = "tile"
	StepChoose   Step = "choose"
	StepBoards   Step = "boards"
	StepQuote    Step = "quote"
	StepApproval Step = "approval"
	StepAgain    Step = "again" // something changed after it was agreed
	StepInvoice1 Step = "deposit-invoice"
	StepDeposit  Step = "deposit"
	StepPour     Step = "pour"
	StepHand     Step = "hand"
	StepInvoice  Step = "invoice"
	StepPayment  Step = "payment"
	StepAsk      Step = "ask" // thirty days after it was delivered
	StepDone     Step = "done"
	StepOff      Step = "off"
)

// Next is the next step of a commission.
type Next struct {
	Step Step
	Day  time.Time // it is due on; zero where it has none
	Late bool
	Who  bool // it waits for the client
}

// Kinds of papers.
const (
	Quote        = "quote"
	Confirmation = "confirmation"
	Deposit      = "deposit"
	Invoice      = "invoice"
	Delivery     = "delivery"
	Care         = "care"
	Label        = "label"
	Certificate  = "certificate"
)

// askAfter is how long after delivery a studio that wants to asks how it is.
const askAfter = 30 * 24 * time.Hour

// next finds the next step.
func (d Deal) next(now time.Time) Next {
	if d.State == commissions.Off {
		return Next{Step: StepOff}
	}
	if n, ok := d.before(now); ok {
		return n
	}
	if n, ok := d.deposit(now); ok {
		return n
	}
	if d.State != commissions.Handed {
		if i := slices.IndexFunc(d.Boards, func(b Board) bool { return !b.Made }); i >= 0 {
			n := Next{Step: StepPour, Day: pourDay(d.Boards[i])}
			n.Late = d.TooLate()
			return n
		}
		return Next{Step: StepHand, Day: d.Ready, Late: !d.Due.IsZero() && now.After(d.Due)}
	}
	return d.after(now)
}

// before are the steps until a price is agreed.
func (d Deal) before(now time.Time) (Next, bool) {
	soon := func(step Step, who bool) (Next, bool) {
		n := Next{Step: step, Who: who, Day: d.firstPour()}
		n.Late = !n.Day.IsZero() && n.Day.Sub(now) < 48*time.Hour || d.begun()
		return n, true
	}
	switch {
	case len(d.Approvals) > 0 && d.Changes != nil && d.State != commissions.Handed:
		return soon(StepAgain, true)
	case len(d.Approvals) > 0 || d.State == commissions.Handed:
		return Next{}, false
	case len(d.Boards) == 0 && d.Tiles == 0:
		return Next{Step: StepTile, Day: d.At}, true
	case len(d.Boards) == 0 && d.Chosen == 0:
		return Next{Step: StepChoose, Who: true}, true
	case len(d.Boards) == 0:
		return Next{Step: StepBoards}, true
	case d.paper(Quote) == nil:
		return soon(StepQuote, false)
	}
	n, ok := soon(StepApproval, true)
	if until := d.paper(Quote).At.AddDate(0, 0, d.Total.ValidDays); n.Day.IsZero() || until.Before(n.Day) {
		n.Day, n.Late = until, n.Late || now.After(until)
	}
	return n, ok
}

// deposit are the steps until it is in.
func (d Deal) deposit(now time.Time) (Next, bool) {
	if !d.Total.Quote.Deposit.IsPositive() || d.State == commissions.Handed ||
		d.Paid.GreaterThanOrEqual(d.Total.Quote.Deposit) {
		return Next{}, false
	}
	p := d.paper(Deposit)
	if p == nil {
		return Next{Step: StepInvoice1, Day: d.firstPour(), Late: d.begun()}, true
	}
	day := p.At.AddDate(0, 0, d.Total.PayDays)
	return Next{Step: StepDeposit, Day: day, Late: now.After(day) || d.begun(), Who: true}, true
}

// after are the steps once it was handed over.
func (d Deal) after(now time.Time) Next {
	p := d.paper(Invoice)
	switch {
	case len(d.Boards) > 0 && p == nil && d.Open().IsPositive():
		return Next{Step: StepInvoice, Day: d.HandOut, Late: now.Sub(d.HandOut) > 7*24*time.Hour}
	case p != nil && d.Open().IsPositive():
		day := p.At.AddDate(0, 0, d.Total.PayDays)
		return Next{Step: StepPayment, Day: day, Late: now.After(day), Who: true}
	case d.Total.Remind && !d.HandOut.IsZero() && !d.asked() && now.Sub(d.HandOut) > askAfter:
		return Next{Step: StepAsk, Day: d.HandOut.Add(askAfter)}
	}
	return Next{Step: StepDone}
}

// asked reports whether something was noted as shown or asked after the delivery.
func (d Deal) asked() bool {
	return slices.ContainsFunc(d.Showings, func(s commissions.Showing) bool { return s.At.After(d.HandOut) })
}

// firstPour is when its first board is poured; zero where none is planned.
func (d Deal) firstPour() time.Time {
	var first time.Time
	for _, b := range d.Boards {
		if day := pourDay(b); !day.IsZero() && (first.IsZero() || day.Before(first)) {
			first = day
		}
	}
	return first
}

func pourDay(b Board) time.Time {
	if b.Plan == nil || b.Broken != nil {
		return time.Time{}
	}
	for i := range b.Plan.Coats {
		if c := &b.Plan.Coats[i]; !c.Made {
			return c.Start
		}
	}
	return time.Time{}
}

// begun reports whether a board has a coat poured.
func (d Deal) begun() bool {
	return slices.ContainsFunc(d.Boards, func(b Board) bool {
		return b.Plan != nil && slices.ContainsFunc(b.Plan.Coats, func(c plan.Coat) bool { return c.Made || c.Begun })
	})
}

// mostDeals is how many commissions the board of them shows.
const mostDeals = 400

// Deals returns commissions newest first with their next steps, how many there are,
// and those that are done or called off only when all are wanted.
func (s *Service) Deals(ctx context.Context, f store.CommissionFilter, limit, offset int) ([]Deal, int, error) {
	list, n, err := s.commissions.List(ctx, f, limit, offset)
	if err != nil {
		return nil, 0, err
	}
	on, err := s.stand(ctx)
	if err != nil {
		return nil, 0, err
	}
	out := make([]Deal, 0, len(list))
	for _, c := range list {
		d, err := s.deals.Get(ctx, one{c.ID, on}, func(ctx context.Context) (Deal, error) { return s.gather(ctx, c.ID) })
		if err != nil {
			return nil, 0, err
		}
		out = append(out, d)
	}
	return out, n, nil
}

// Pressing returns the commissions whose next step is late or falls in the next days,
// the late ones first.
func (s *Service) Pressing(ctx context.Context) ([]Deal, error) {
	on, err := s.stand(ctx)
	if err != nil {
		return nil, err
	}
	return s.pressing.Get(ctx, on, s.press)
}

func (s *Service) stand(ctx context.Context) (stepsKey, error) {
	a, err := s.agenda.Current(ctx)
	if err != nil {
		return stepsKey{}, err
	}
	v, err := s.store.Versions(ctx)
	at := v.Of(store.ScopeCommissions, store.ScopePieces, store.ScopeStock, store.ScopeMaterials, store.ScopeSettings)
	return stepsKey{a, at, s.now().Truncate(time.Hour)}, err
}

// stepsKey is the state the next steps depend on.
type stepsKey struct {
	agenda   *agenda.Agenda
	versions store.Versions
	hour     time.Time
}

func (s *Service) press(ctx context.Context) ([]Deal, error) {
	list, _, err := s.Deals(ctx, store.CommissionFilter{}, mostDeals, 0)
	if err != nil {
		return nil, err
	}
	var out []Deal
	for _, d := range list {
		soon := !d.Next.Day.IsZero() && d.Next.Day.Sub(s.now()) < 3*24*time.Hour
		if d.Next.Step != StepDone && d.Next.Step != StepOff && d.Next.Step != StepPour && (d.Next.Late || soon) {
			out = append(out, d)
		}
	}
	slices.SortStableFunc(out, func(x, y Deal) int {
		if x.Next.Late != y.Next.Late {
			if x.Next.Late {
				return -1
			}
			return 1
		}
		return x.Next.Day.Compare(y.Next.Day)
	})
	return out, nil
}
