// Package ledger sums a stock that is never written over: every purchase, use, leftover
// and count is an entry, and what is there follows from all of them in the order in
// which they happened.
package ledger

import (
	"cmp"
	"math"
	"slices"
	"time"

	"jevvo/internal/core/refusal"
)

// Kind is the kind of an entry.
type Kind string

// The kinds of entries.
const (
	Buy      Kind = "buy"
	Use      Kind = "use"
	Count    Kind = "count"    // what there really is: it sets the stock
	Leftover Kind = "leftover" // of a pour, put back
	Return   Kind = "return"   // taken out and not used, put back
)

// signs are the effects of a kind on the stock; a count sets it.
var signs = map[Kind]float64{Buy: 1, Leftover: 1, Return: 1, Use: -1, Count: 0}

// An Entry is one thing that happened to a stock, in its own unit.
type Entry struct {
	At     time.Time
	Kind   Kind
	Amount float64
}

// Check returns what is wrong with an entry.
func (e Entry) Check() error {
	if _, ok := signs[e.Kind]; !ok {
		return refusal.New("there is no entry of the kind %q", e.Kind)
	}
	if !(e.Amount >= 0) || math.IsInf(e.Amount, 0) {
		return refusal.New("an amount cannot be negative")
	}
	return nil
}

// A Reserved is a plan's future use on a day.
type Reserved struct {
	Day    time.Time
	Amount float64
}

// OnHand sums the entries in order of time, those of one moment in the order given. It
// may come out below nothing: then something was not written down.
func OnHand(entries []Entry) float64 {
	var sum total
	for _, i := range order(entries) {
		e := &entries[i]
		if e.Kind == Count {
			sum = total{sum: e.Amount}
			continue
		}
		sum.add(signs[e.Kind] * e.Amount)
	}
	return sum.value()
}

// order is the places of entries by their time, those of one moment as given.
func order(entries []Entry) []int {
	type place struct {
		at int64
		i  int
	}
	places, sorted := make([]place, len(entries)), true
	for i, e := range entries {
		places[i] = place{e.At.UnixMicro(), i}
		sorted = sorted && (i == 0 || places[i-1].at <= places[i].at)
	}
	if !sorted {
		slices.SortFunc(places, func(a, b place) int { return cmp.Or(cmp.Compare(a.at, b.at), a.i-b.i) })
	}
	out := make([]int, len(places))
	for k, p := range places {
		out[k] = p.i
	}
	return out
}

// total is a sum that loses nothing to rounding (Neumaier 1974).
type total struct{ sum, lost float64 }

func (t *total) add(v float64) {
	s := t.sum + v
	if math.Abs(t.sum) >= math.Abs(v) {
		t.lost += t.sum - s + v
	} else {
		t.lost += v - s + t.sum
	}
	t.sum = s
}

func (t *total) value() float64 { return t.sum + t.lost }

// A State is a stock beside what is reserved of it.
type State struct {
	OnHand float64
	Free   float64   // what is there less all that is reserved
	Short  time.Time // the first day that is not covered; zero when all are
}

// Of calculates a stock: whether what is there covers what is reserved, day by day.
func Of(entries []Entry, reserved []Reserved) State { return Against(OnHand(entries), reserved) }

// Against holds what is there against what is reserved.
func Against(onHand float64, reserved []Reserved) State {
	s := State{OnHand: onHand}
	days := slices.Clone(reserved)
	slices.SortStableFunc(days, func(a, b Reserved) int { return a.Day.Compare(b.Day) })
	var wanted total
	for i, r := range days {
		wanted.add(r.Amount)
		last := i+1 == len(days) || !days[i+1].Day.Equal(r.Day) // of its day
		if last && s.Short.IsZero() && wanted.value() > s.OnHand+slack*math.Max(1, math.Abs(s.OnHand)) {
			s.Short = r.Day
		}
	}
	s.Free = s.OnHand - wanted.value()
	return s
}

// slack is the share of a stock that is rounding, not want.
const slack = 1e-12
