package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A StockEntry is one thing that came, went or was counted. It is never changed.
type StockEntry struct {
	ID      int64
	At      time.Time
	Kind    string // of the ledger, or "open" for a purchase that was opened
	Thing   Kind
	ThingID int64
	Amount  float64 // mL of resin, g of pigment, else in the thing's own unit
	Price   string  // of what was bought, a decimal number; "" for none
	Lot     int64   // the purchase that was opened
	Piece   int64   // it was taken for; 0 for none
	Coat    string
	Source  string // of a use: planned, recorded or weighed
	Doc     json.RawMessage
}

const stockColumns = `id, at, kind, thing, thing_id, amount, price, coalesce(lot, 0), coalesce(piece_id, 0), coat, source, doc`

func scanStock(rows *sql.Rows) (e StockEntry, err error) {
	var at, doc string
	err = rows.Scan(&e.ID, &at, &e.Kind, &e.Thing, &e.ThingID, &e.Amount, &e.Price, &e.Lot, &e.Piece, &e.Coat, &e.Source,
		&doc)
	e.At, e.Doc = parseStamp(at), json.RawMessage(doc)
	return e, err
}

// AddStock keeps an entry and returns its id.
func (t *Tx) AddStock(ctx context.Context, e StockEntry) (int64, error) {
	t.touched[ScopeStock] = true
	doc := string(e.Doc)
	if doc == "" {
		doc = "{}"
	}
	var id int64
	err := t.tx.QueryRowContext(ctx,
		`INSERT INTO stock_entries (at, kind, thing, thing_id, amount, price, lot, piece_id, coat, source, doc)
		VALUES (?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?, ?, ?) RETURNING id`,
		stamp(e.At), e.Kind, e.Thing, e.ThingID, e.Amount, e.Price, e.Lot, e.Piece, e.Coat, e.Source, doc).Scan(&id)
	return id, err
}

// Stock returns all entries in order of time.
func (r Reader) Stock(ctx context.Context) ([]StockEntry, error) {
	return list(ctx, r, "read the stock", `SELECT `+stockColumns+` FROM stock_entries ORDER BY at, id`, nil, scanStock)
}

// StockFor returns the entries of one coat of a piece.
func (r Reader) StockFor(ctx context.Context, piece int64, coat string) ([]StockEntry, error) {
	return list(ctx, r, "read the stock",
		`SELECT `+stockColumns+` FROM stock_entries WHERE piece_id = ? AND coat = ? ORDER BY id`, []any{piece,
			coat}, scanStock)
}
