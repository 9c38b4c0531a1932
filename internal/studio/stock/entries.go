package stock

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/ledger"
	"jevvo/internal/core/money"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/words"
)

// mostAmount bounds an entry, in mL, g or pieces.
const mostAmount = 5e6

// Buy books a purchase: so many packs or an amount, what was paid for all of it, and
// what is on the label.
func (s *Service) Buy(ctx context.Context, t Thing, typed map[string]string) error {
	e, err := s.purchase(ctx, t, typed)
	if err != nil {
		return err
	}
	return s.store.Write(ctx, "book the purchase", func(tx *store.Tx) error {
		_, err := tx.AddStock(ctx, e)
		return err
	})
}

// Receive books what came of an order, all of it in one change: amounts and prices by
// thing; what is left empty did not come. It returns how many things came.
func (s *Service) Receive(ctx context.Context, amounts, prices map[Thing]string, supplier string) (int, error) {
	var entries []store.StockEntry
	for _, t := range slices.SortedFunc(maps.Keys(amounts), byName) {
		if strings.TrimSpace(amounts[t]) == "" {
			continue
		}
		e, err := s.purchase(ctx, t, map[string]string{"amount": amounts[t], "price": prices[t], "supplier": supplier})
		if err != nil {
			var refused *form.Refused
			if errors.As(err, &refused) {
				return 0, &form.Refused{Field: refused.Field + "." + t.String(), Err: refused.Err}
			}
			return 0, err
		}
		entries = append(entries, e)
	}
	if len(entries) == 0 {
		return 0, form.Refusef("amount", "enter for at least one thing how much arrived")
	}
	return len(entries), s.store.Write(ctx, "book what came", func(tx *store.Tx) error {
		for _, e := range entries {
			if _, err := tx.AddStock(ctx, e); err != nil {
				return err
			}
		}
		return nil
	})
}

func byName(a, b Thing) int { return cmp.Compare(a.String(), b.String()) }

// purchase is the entry of a purchase as it is typed.
func (s *Service) purchase(ctx context.Context, t Thing, typed map[string]string) (e store.StockEntry, err error) {
	item, sys, err := s.item(ctx, t)
	if err != nil {
		return e, err
	}
	amount, err := item.parse(typed["amount"], sys)
	if err != nil {
		return e, &form.Refused{Field: "amount", Err: err}
	}
	if amount <= 0 {
		return e, form.Refusef("amount", "enter an amount bought above zero")
	}
	e = store.StockEntry{At: s.now(), Kind: string(ledger.Buy), Thing: t.Kind, ThingID: t.ID, Amount: amount}
	price := item.Each().Mul(decimal.NewFromFloat(amount))
	if text := strings.TrimSpace(typed["price"]); text != "" {
		if price, _, err = money.Parse(text, money.MostDigits); err != nil {
			return e, &form.Refused{Field: "price", Err: err}
		}
	}
	e.Price = price.Round(money.MostDigits).String()
	note := Note{Supplier: short(typed["supplier"]), Reason: msg.Preset(short(typed["note"]))}
	if note.Supplier == "" {
		note.Supplier = item.Supplier
	}
	for key, at := range map[string]*time.Time{"bought": &e.At, "best_before": &note.BestBefore} {
		if text := strings.TrimSpace(typed[key]); text != "" {
			v, err := time.ParseInLocation(time.DateOnly, text, time.Local)
			if err != nil || v.Year() < 2000 || v.Year() > 2200 {
				return e, form.Refusef(key, "%q is not a day; write 2026-03-14", text)
			}
			*at = v
		}
	}
	if today := s.now(); e.At.After(today) {
		return e, form.Refusef("bought", "that day is still to come; order it instead")
	} else if sameDay(e.At, today) {
		e.At = today // after what was counted this morning
	}
	e.Doc, err = json.Marshal(note)
	return e, err
}

func sameDay(a, b time.Time) bool {
	a, b = a.Local(), b.Local()
	return a.YearDay() == b.YearDay() && a.Year() == b.Year()
}

// longestNote bounds what is said of an entry.
const longestNote = 200

func short(text string) string {
	r := []rune(strings.TrimSpace(text))
	return string(r[:min(len(r), longestNote)])
}

// Count books what there really is; the reason says why it differs.
func (s *Service) Count(ctx context.Context, t Thing, typed, reason string) error {
	item, sys, err := s.item(ctx, t)
	if err != nil {
		return err
	}
	amount, err := item.parse(typed, sys)
	if err != nil {
		return &form.Refused{Field: "amount", Err: err}
	}
	if strings.TrimSpace(reason) == "" {
		return form.Refusef("reason", "enter why it is counted: spilt, given away, monthly count")
	}
	return s.add(ctx, store.StockEntry{At: s.now(), Kind: string(ledger.Count), Thing: t.Kind, ThingID: t.ID,
		Amount: amount}, Note{Reason: msg.Preset(short(reason))})
}

// Take books a use by hand, or puts something back.
func (s *Service) Take(ctx context.Context, t Thing, back bool, typed, reason string) error {
	item, sys, err := s.item(ctx, t)
	if err != nil {
		return err
	}
	amount, err := item.parse(typed, sys)
	if err != nil {
		return &form.Refused{Field: "amount", Err: err}
	}
	if amount <= 0 {
		return form.Refusef("amount", "enter how much")
	}
	kind := ledger.Use
	if back {
		kind = ledger.Return
	}
	return s.add(ctx, store.StockEntry{At: s.now(), Kind: string(kind), Thing: t.Kind, ThingID: t.ID, Amount: amount},
		Note{Reason: msg.Preset(short(reason))})
}

// Open books that a purchase was opened.
func (s *Service) Open(ctx context.Context, t Thing, lot int64) error {
	item, _, err := s.item(ctx, t)
	if err != nil {
		return err
	}
	for _, l := range item.Lots {
		if l.ID != lot {
			continue
		}
		if !l.Opened.IsZero() {
			return nil
		}
		return s.add(ctx, store.StockEntry{At: s.now(), Kind: opened, Thing: t.Kind, ThingID: t.ID, Lot: lot}, Note{})
	}
	return store.ErrNotFound
}

func (s *Service) item(ctx context.Context, t Thing) (Item, units.System, error) {
	l, err := s.Ledger(ctx)
	if err != nil {
		return Item{}, "", err
	}
	book, err := s.materials.Book(ctx)
	if err != nil {
		return Item{}, "", err
	}
	item, ok := l.Of(t)
	if !ok {
		return item, "", store.ErrNotFound
	}
	return item, book.Settings.Units, nil
}

// parse reads an amount of the item: 2 packs, 1.5 L, 40.
func (i Item) parse(text string, sys units.System) (float64, error) {
	text = strings.TrimSpace(text)
	for _, word := range []string{" packs", " pack", " kits", " kit", " bottles", " bottle"} {
		if n, ok := strings.CutSuffix(text, word); ok {
			v, err := units.ParseNumber(n)
			return i.within(v*i.Pack, err)
		}
	}
	switch i.Kind {
	case store.Resins:
		r, err := units.ParseVolumeOf(text, form.BareVolume(sys), i.Density)
		return i.within(float64(r.Value), err)
	case store.Pigments:
		r, err := units.ParseMass(text, "g")
		return i.within(float64(r.Value), err)
	}
	v, err := units.ParseNumber(words.Uncounted(text, i.Unit))
	return i.within(v, err)
}

func (i Item) within(v float64, err error) (float64, error) {
	switch {
	case err != nil:
		return 0, err
	case v < 0:
		return 0, refusal.New("stock cannot be negative")
	case v > mostAmount:
		return 0, refusal.New("is far too much")
	}
	return v, nil
}

func (s *Service) add(ctx context.Context, e store.StockEntry, n Note) error {
	doc, err := json.Marshal(n)
	if err != nil {
		return err
	}
	e.Doc = doc
	return s.store.Write(ctx, "book it", func(tx *store.Tx) error {
		_, err := tx.AddStock(ctx, e)
		return err
	})
}
