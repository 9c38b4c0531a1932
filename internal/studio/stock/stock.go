// Package stock is the studio's stock, as a ledger: every resin, pigment, board, tape
// and glove is bought in lots, used, counted and put back by entries that are never
// changed. An empty studio owns nothing.
package stock

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/ledger"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/materials"
	"jevvo/internal/words"
)

// A Thing is something that is stocked: a resin (in mL of both parts), a pigment (in g)
// or goods (in their own unit).
type Thing struct {
	Kind store.Kind
	ID   int64
}

// String is the thing as an address names it: resin-3.
func (t Thing) String() string { return string(t.Kind) + "-" + strconv.FormatInt(t.ID, 10) }

// MarshalText writes it so.
func (t Thing) MarshalText() ([]byte, error) { return []byte(t.String()), nil }

// UnmarshalText reads it.
func (t *Thing) UnmarshalText(text []byte) error {
	v, ok := ParseThing(string(text))
	if !ok {
		return refusal.New("%q is not something you stock", text)
	}
	*t = v
	return nil
}

// ParseThing reads a thing as an address names it.
func ParseThing(text string) (Thing, bool) {
	kind, id, _ := strings.Cut(text, "-")
	n, err := strconv.ParseInt(id, 10, 64)
	k := store.Kind(kind)
	return Thing{k, n}, err == nil && n > 0 && (k == store.Resins || k == store.Pigments || k == store.Goods)
}

// An Entry is one thing that happened to a stock.
type Entry struct {
	ID  int64
	At  time.Time
	Of  Thing
	Lot int64 // the purchase that was opened
	ledger.Entry
	Price  decimal.Decimal
	Piece  int64
	Coat   string
	Source Source
	Opened bool
	Note

	Cost  decimal.Decimal // what it took away; calculated
	After float64         // what was there then; calculated
}

// A Note is a remark on an entry.
type Note struct {
	Reason     msg.Preset `json:",omitempty"`
	Supplier   string     `json:",omitempty"`
	BestBefore time.Time  `json:",omitzero"`
	By         string     `json:",omitempty"`
}

// A Service reads and writes the ledger.
type Service struct {
	store     *store.Store
	materials *materials.Service
	now       func() time.Time
	ledger    cache.Memo[store.Versions, *Ledger]
}

// New returns the service.
func New(db *store.Store, mats *materials.Service, now func() time.Time) *Service {
	return &Service{store: db, materials: mats, now: now, ledger: cache.Memo[store.Versions, *Ledger]{Most: 2}}
}

// A Ledger is all that is owned as it stands, and how it came to it.
type Ledger struct {
	Items  []Item // resins, pigments, goods, each by name; those in use first
	at     map[Thing]int
	pieces map[int64]map[Thing]taken
	booked map[madeFor][]*Entry
}

// madeFor is the coat of a piece that something was taken for.
type madeFor struct {
	piece int64
	coat  string
}

// taken is how much of a thing a piece took, and what that cost.
type taken struct {
	amount float64
	cost   decimal.Decimal
}

// An Item is one thing with its entries.
type Item struct {
	Thing
	Name     string
	Unit     string
	Swatch   string
	Supplier string
	LeadDays int
	Least    float64         // to order below
	Pack     float64         // what one is sold in
	Price    decimal.Decimal // usual, of a pack
	Retired  bool
	Goods    *Goods        // of goods
	Density  units.Density // of a mixed resin

	Entries []Entry // in order of time
	OnHand  float64
	Lots    []Lot
	Value   decimal.Decimal
}

// A Lot is the rest of one purchase.
type Lot struct {
	Entry
	Left   float64
	Opened time.Time // zero while it is shut
}

// Known reports whether it was ever bought or counted: of anything else nobody knows
// how much there is.
func (i Item) Known() bool {
	return slices.ContainsFunc(i.Entries, func(e Entry) bool { return e.Kind == ledger.Buy || e.Kind == ledger.Count })
}

// Text prints an amount of the item in the studio's units.
func (i Item) Text(v float64, sys units.System) msg.Text {
	switch i.Kind {
	case store.Resins:
		return units.Volume(v).Text(sys)
	case store.Pigments:
		return units.Mass(v).Text(sys)
	}
	return words.Counted(v, 1, i.Unit)
}

// Each is the usual price of a unit.
func (i Item) Each() decimal.Decimal {
	if i.Pack <= 0 {
		return decimal.Zero
	}
	return i.Price.DivRound(decimal.NewFromFloat(i.Pack), 18)
}

// Ledger returns it as it stands.
func (s *Service) Ledger(ctx context.Context) (*Ledger, error) {
	v, err := s.store.Versions(ctx)
	if err != nil {
		return nil, err
	}
	return s.ledger.Get(ctx, v.Of(store.ScopeStock, store.ScopeMaterials), s.load)
}

func (s *Service) load(ctx context.Context) (*Ledger, error) {
	book, err := s.materials.Book(ctx)
	if err != nil {
		return nil, err
	}
	goods, err := s.Goods(ctx)
	if err != nil {
		return nil, err
	}
	l := newLedger(book, goods)
	rows, err := s.store.Stock(ctx)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		at, ok := l.at[Thing{row.Thing, row.ThingID}]
		if !ok {
			continue // of something that is not among the materials any more
		}
		e, err := decode(row)
		if err != nil {
			return nil, err
		}
		l.Items[at].Entries = append(l.Items[at].Entries, e)
	}
	for i := range l.Items {
		l.sum(&l.Items[i])
	}
	return l, nil
}

func newLedger(book *materials.Book, goods []Goods) *Ledger {
	l := &Ledger{at: map[Thing]int{}, pieces: map[int64]map[Thing]taken{}, booked: map[madeFor][]*Entry{}}
	for _, p := range book.Resins {
		l.add(Item{Thing: Thing{store.Resins, p.ID}, Name: p.Name, Unit: "mL", Supplier: p.Supplier, LeadDays: p.LeadDays,
			Pack: float64(p.Kit), Price: p.Price, Retired: p.Retired, Density: p.Density()})
	}
	for _, p := range book.Paints {
		l.add(Item{Thing: Thing{store.Pigments, p.ID}, Name: p.Name, Unit: "g", Swatch: p.Swatch, Supplier: p.Supplier,
			LeadDays: p.LeadDays, Pack: float64(p.Content), Price: p.Price, Retired: p.Retired})
	}
	for _, g := range goods {
		l.add(Item{Thing: Thing{store.Goods, g.ID}, Name: g.Name, Unit: string(g.Unit), Supplier: g.Supplier,
			LeadDays: g.LeadDays, Least: g.Least, Pack: g.Pack, Price: g.Price, Retired: g.Retired, Goods: &g})
	}
	return l
}

func (l *Ledger) add(i Item) {
	l.at[i.Thing] = len(l.Items)
	l.Items = append(l.Items, i)
}

// Of returns an item, false when there is none.
func (l *Ledger) Of(t Thing) (Item, bool) {
	if i, ok := l.at[t]; ok {
		return l.Items[i], true
	}
	return Item{}, false
}

// Have returns what is in stock of a thing.
func (l *Ledger) Have(t Thing) float64 {
	i, _ := l.Of(t)
	return i.OnHand
}

// Held returns what is in stock of each resin and pigment that was ever counted, by
// their ids.
func (l *Ledger) Held() (resins map[int64]units.Volume, pigments map[int64]units.Mass) {
	resins, pigments = map[int64]units.Volume{}, map[int64]units.Mass{}
	for _, i := range l.Items {
		switch {
		case !i.Known():
		case i.Kind == store.Resins:
			resins[i.ID] = units.Volume(i.OnHand)
		case i.Kind == store.Pigments:
			pigments[i.ID] = units.Mass(i.OnHand)
		}
	}
	return resins, pigments
}

// Aged reports whether a lot of a resin may be too old.
func (l *Ledger) Aged(resin int64, now time.Time) bool {
	i, _ := l.Of(Thing{store.Resins, resin})
	return len(i.Old(now)) > 0
}

// TakenFor returns what was taken for a piece and what that cost, leftovers and what
// was put back credited.
func (l *Ledger) TakenFor(piece int64) (Amounts, map[Thing]decimal.Decimal) {
	amounts, costs := Amounts{}, map[Thing]decimal.Decimal{}
	for t, v := range l.pieces[piece] {
		amounts[t], costs[t] = v.amount, v.cost
	}
	return amounts, costs
}

// BookedFor returns what was booked for one coat of a piece since a moment: by the scale, the
// bench or its record.
func (l *Ledger) BookedFor(piece int64, coat string, since time.Time) Amounts {
	out := Amounts{}
	for _, e := range l.booked[madeFor{piece, coat}] {
		if e.At.Before(since) {
			continue
		}
		out[e.Of] += e.change()
	}
	return out
}

func decode(row store.StockEntry) (Entry, error) {
	e := Entry{ID: row.ID, At: row.At, Of: Thing{row.Thing, row.ThingID}, Lot: row.Lot, Piece: row.Piece, Coat: row.Coat,
		Source: Source(row.Source), Opened: row.Kind == opened,
		Entry: ledger.Entry{At: row.At, Kind: ledger.Kind(row.Kind), Amount: row.Amount}}
	if row.Price != "" {
		p, err := decimal.NewFromString(row.Price)
		if err != nil {
			return e, fmt.Errorf("read the price of the stock entry %d: %w", row.ID, err)
		}
		e.Price = p
	}
	if err := json.Unmarshal(row.Doc, &e.Note); err != nil {
		return e, fmt.Errorf("read the stock entry %d: %w", row.ID, err)
	}
	return e, nil
}

// opened is the kind of an entry that says that a purchase was opened; the ledger
// does not sum it.
const opened = "open"

// sum calculates an item: what is there after each entry, what each use cost, and which
// purchases are left.
func (l *Ledger) sum(i *Item) {
	priced, places := make([]ledger.Priced, 0, len(i.Entries)), make([]int, 0, len(i.Entries))
	opening := map[int64]time.Time{}
	for k, e := range i.Entries {
		if e.Opened {
			opening[e.Lot] = e.At
			continue
		}
		priced, places = append(priced, ledger.Priced{Entry: e.Entry, Price: e.Price}), append(places, k)
	}
	w := ledger.Value(priced, i.Each())
	i.Value = w.Value
	running := ledger.Running(priced)
	for k, at := range places {
		e := &i.Entries[at]
		e.Cost, e.After = w.Costs[k], running[k]
		if e.Piece != 0 {
			l.took(e, i.Thing)
		}
		i.OnHand = running[k]
	}
	for _, lot := range w.Lots {
		e := i.Entries[places[lot.At]]
		if e.Kind == ledger.Buy {
			i.Lots = append(i.Lots, Lot{Entry: e, Left: lot.Left, Opened: opening[e.ID]})
		}
	}
}

func (l *Ledger) took(e *Entry, of Thing) {
	if l.pieces[e.Piece] == nil {
		l.pieces[e.Piece] = map[Thing]taken{}
	}
	t := l.pieces[e.Piece][of]
	t.amount += e.change()
	t.cost = t.cost.Add(e.Cost)
	l.pieces[e.Piece][of] = t
	if e.Source != "" { // not put there by hand
		coat := madeFor{e.Piece, e.Coat}
		l.booked[coat] = append(l.booked[coat], e)
	}
}

// change is an entry's use for its piece; below 0 for what is put back.
func (e *Entry) change() float64 {
	if e.Kind == ledger.Use {
		return e.Amount
	}
	return -e.Amount
}

// Next is the cost of an amount taken now: of the oldest purchases first,
// and at the usual price beyond them.
func (i Item) Next(amount float64) decimal.Decimal {
	cost := decimal.Zero
	for _, l := range i.Lots {
		part := min(amount, l.Left)
		if part <= 0 {
			break
		}
		each := i.Each()
		if l.Amount > 0 && !l.Price.IsZero() {
			each = l.Price.DivRound(decimal.NewFromFloat(l.Amount), 18)
		}
		cost = cost.Add(each.Mul(decimal.NewFromFloat(part)))
		amount -= part
	}
	return cost.Add(i.Each().Mul(decimal.NewFromFloat(amount)))
}
