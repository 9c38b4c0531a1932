package ledger

import "github.com/shopspring/decimal"

// A Priced is an entry with what was paid for all of it; only what was bought has a
// price.
type Priced struct {
	Entry
	Price decimal.Decimal
}

// A Lot is the rest of one purchase.
type Lot struct {
	At   int     // which entry bought it
	Left float64 // in the stock's own unit
	Each decimal.Decimal
}

// A Worth is a stock by its purchases.
type Worth struct {
	Lots  []Lot             // of which something is left, oldest first
	Costs []decimal.Decimal // of each entry given: what a use took, or (below nothing) what was put back
	Value decimal.Decimal   // of what is left
}

// preciseEach is to how many digits the price of one unit is taken.
const preciseEach = 18

// Value lays every use on the oldest purchase of which something is left (first in,
// first out). What was put back is worth what the newest use cost a unit. What is
// used beyond all purchases costs usual a unit; so does what a count finds beyond
// them. A count below what should be there takes the oldest away.
func Value(entries []Priced, usual decimal.Decimal) Worth {
	plain := make([]Entry, len(entries))
	for i, e := range entries {
		plain[i] = e.Entry
	}
	w := Worth{Costs: make([]decimal.Decimal, len(entries))}
	q := queue{usual: usual, last: usual}
	for _, i := range order(plain) {
		w.Costs[i] = q.enter(i, entries[i])
	}
	for _, l := range q.lots {
		if l.Left > 0 {
			w.Lots = append(w.Lots, l)
			w.Value = w.Value.Add(l.Each.Mul(decimal.NewFromFloat(l.Left)))
		}
	}
	return w
}

// queue holds the purchases in stock, oldest first; owed was used and never bought.
type queue struct {
	lots        []Lot
	owed        float64
	usual, last decimal.Decimal // of a unit
}

func (q *queue) enter(i int, e Priced) decimal.Decimal {
	switch e.Kind {
	case Buy:
		each := q.usual
		if e.Amount > 0 && !e.Price.IsZero() {
			each = e.Price.DivRound(decimal.NewFromFloat(e.Amount), preciseEach)
		}
		q.put(Lot{At: i, Left: e.Amount, Each: each})
	case Leftover, Return:
		q.put(Lot{At: i, Left: e.Amount, Each: q.last})
		return q.last.Mul(decimal.NewFromFloat(e.Amount)).Neg()
	case Use:
		return q.take(e.Amount)
	case Count:
		if less := q.left() - e.Amount; less > 0 {
			q.take(less)
		} else if less < 0 {
			q.put(Lot{At: i, Left: -less, Each: q.usual})
		}
	}
	return decimal.Zero
}

func (q *queue) left() float64 {
	sum := total{sum: -q.owed}
	for _, l := range q.lots {
		sum.add(l.Left)
	}
	return sum.value()
}

// put adds a purchase to the stock; what is owed is taken from it at once.
func (q *queue) put(l Lot) {
	paid := min(q.owed, l.Left)
	q.owed -= paid
	l.Left -= paid
	q.lots = append(q.lots, l)
}

// take uses an amount of the oldest and returns what it cost.
func (q *queue) take(amount float64) decimal.Decimal {
	cost, wanted := decimal.Zero, amount
	for len(q.lots) > 0 && amount > 0 {
		l := &q.lots[0]
		part := min(l.Left, amount)
		l.Left -= part
		amount -= part
		cost = cost.Add(l.Each.Mul(decimal.NewFromFloat(part)))
		if l.Left > slack*wanted {
			break
		}
		q.lots = q.lots[1:]
	}
	if amount > slack*wanted {
		q.owed += amount
		cost = cost.Add(q.usual.Mul(decimal.NewFromFloat(amount)))
	}
	if wanted > 0 {
		q.last = cost.DivRound(decimal.NewFromFloat(wanted), preciseEach)
	}
	return cost
}

// Running returns what was there after each of the entries, which are given in order
// of time.
func Running(entries []Priced) []float64 {
	out := make([]float64, len(entries))
	var sum total
	for i, e := range entries {
		if e.Kind == Count {
			sum = total{sum: e.Amount}
		} else {
			sum.add(signs[e.Kind] * e.Amount)
		}
		out[i] = sum.value()
	}
	return out
}
