package stock

import (
	"context"
	"encoding/json"
	"math"
	"slices"
	"time"

	"jevvo/internal/core/ledger"
	"jevvo/internal/core/plan"
	"jevvo/internal/store"
)

// Source is how it is known what a coat took.
type Source string

// The sources, each better than the one before.
const (
	Planned  Source = "planned"  // by the plan, once it is poured
	Recorded Source = "recorded" // by what was typed afterwards
	Weighed  Source = "weighed"  // by the scale
	// Added is the resin mixed at the bench beyond the plan. It stands beside what
	// was planned or weighed; what was recorded afterwards is the whole of both.
	Added Source = "added"
)

var sources = []Source{Planned, Recorded, Weighed}

// Amounts are the amounts taken of each thing.
type Amounts map[Thing]float64

// Measured reports whether the scale and what is typed afterwards know of a thing.
func Measured(t Thing) bool { return t.Kind != store.Goods }

// Takes is the planned use of a coat.
func Takes(p *plan.Plan, c *plan.Coat, goods []Goods) Amounts {
	out := Amounts{{store.Resins, c.Product.ID}: float64(c.Total)}
	for _, cup := range c.Cups {
		for _, d := range cup.Doses() {
			if d.Pigment == 0 {
				continue // a colour by its swatch only
			}
			out[Thing{store.Pigments, d.Pigment}] += float64(d.Mass)
		}
	}
	for _, g := range goods {
		if v := g.of(p, c); v > 0 && !g.Retired {
			out[Thing{store.Goods, g.ID}] += v
		}
	}
	return out
}

// Settle books what a coat took: of each thing the difference between what is meant
// and what stands in the ledger, so that saying it twice changes nothing and taking it
// back puts it back. What is only planned gives way to what was recorded, and that to
// what was weighed.
func Settle(ctx context.Context, tx *store.Tx, piece int64, coat string, from Source, want Amounts,
	at time.Time) error {
	rows, err := tx.StockFor(ctx, piece, coat)
	if err != nil {
		return err
	}
	have, best := Amounts{}, Planned
	for _, r := range rows {
		if r.Source == "" {
			continue // put there by hand
		}
		if added := Source(r.Source) == Added; added != (from == Added) && from != Recorded {
			continue
		}
		t := Thing{r.Thing, r.ThingID}
		switch ledger.Kind(r.Kind) {
		case ledger.Use:
			have[t] += r.Amount
		case ledger.Return:
			have[t] -= r.Amount
		}
		if slices.Index(sources, Source(r.Source)) > slices.Index(sources, best) {
			best = Source(r.Source)
		}
	}
	for _, t := range Things(have, want) {
		if !Measured(t) && from != Planned || Measured(t) && from != Added &&
			slices.Index(sources, from) < slices.Index(sources, best) {
			continue
		}
		diff := want[t] - have[t]
		kind := ledger.Use
		if diff < 0 {
			kind = ledger.Return
		}
		if math.Abs(diff) < leastDifference {
			continue
		}
		if _, err := tx.AddStock(ctx, store.StockEntry{At: at, Kind: string(kind), Thing: t.Kind, ThingID: t.ID,
			Amount: math.Abs(diff), Piece: piece, Coat: coat, Source: string(from)}); err != nil {
			return err
		}
	}
	return nil
}

// leastDifference is the difference too small for an entry, in mL, g or pieces.
const leastDifference = 1e-6

// Things are all that two books name, in one order.
func Things(a, b Amounts) []Thing {
	var out []Thing
	for _, m := range []Amounts{a, b} {
		for t := range m {
			if !slices.Contains(out, t) {
				out = append(out, t)
			}
		}
	}
	slices.SortFunc(out, func(x, y Thing) int {
		if x.Kind != y.Kind {
			if x.Kind < y.Kind {
				return -1
			}
			return 1
		}
		return int(x.ID - y.ID)
	})
	return out
}

// Moved books that something taken for one piece went into another: a leftover that
// filled a mould. The stock stays as it is; the cost goes with it.
func Moved(ctx context.Context, tx *store.Tx, from int64, coat string, to int64, toCoat string, what Amounts,
	at time.Time) error {
	for _, t := range Things(what, nil) {
		doc, err := json.Marshal(Note{Reason: "left over"})
		if err != nil {
			return err
		}
		back := store.StockEntry{At: at, Kind: string(ledger.Leftover), Thing: t.Kind, ThingID: t.ID, Amount: what[t],
			Piece: from, Coat: coat, Doc: doc}
		if _, err := tx.AddStock(ctx, back); err != nil {
			return err
		}
		back.Kind, back.Piece, back.Coat, back.Source = string(ledger.Use), to, toCoat, string(Recorded)
		if _, err := tx.AddStock(ctx, back); err != nil {
			return err
		}
	}
	return nil
}
