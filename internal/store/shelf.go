package store

import (
	"context"
	"database/sql"
	"encoding/json"
)

// A Shelf is a table of named things in stock. Names are unique among what is
// in use; what is retired keeps its record, because pieces refer to it.
type Shelf string

// The shelves.
const (
	Resins     Shelf = "products"
	Pigments   Shelf = "pigments"
	Techniques Shelf = "techniques"
)

// An Item is one thing on a shelf.
type Item struct {
	ID      int64
	Name    string
	Doc     json.RawMessage
	Retired bool
	Rev     int64
}

func scanItem(row interface{ Scan(...any) error }) (Item, error) {
	var p Item
	var doc string
	err := row.Scan(&p.ID, &p.Name, &doc, &p.Retired, &p.Rev)
	p.Doc = json.RawMessage(doc)
	return p, err
}

// CreateItem puts something on a shelf.
func (s *Store) CreateItem(ctx context.Context, shelf Shelf, name string, doc any) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "keep "+name, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO `+string(shelf)+` (name, doc) VALUES (?, ?)`, name, text)
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Item returns one thing, retired or not.
func (s *Store) Item(ctx context.Context, shelf Shelf, id int64) (Item, error) {
	p, err := scanItem(s.db.QueryRowContext(ctx, `SELECT id, name, doc, retired, rev FROM `+string(shelf)+` WHERE id = ?`, id))
	return p, wrap("read the shelf", err)
}

// Items returns everything on a shelf, what is in use first, by name.
func (s *Store) Items(ctx context.Context, shelf Shelf) ([]Item, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, name, doc, retired, rev FROM `+string(shelf)+` ORDER BY retired, name COLLATE NOCASE`)
	out, err := all(rows, err, func(r *sql.Rows) (Item, error) { return scanItem(r) })
	return out, wrap("read the shelf", err)
}

// UpdateItem changes something that is still at rev.
func (s *Store) UpdateItem(ctx context.Context, shelf Shelf, id, rev int64, name string, doc any, retired bool) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep "+name, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE `+string(shelf)+` SET name = ?, doc = ?, retired = ?, rev = rev + 1 WHERE id = ? AND rev = ?`,
			name, text, retired, id, rev)
		return changed(res, err, func() error { return exists(ctx, tx, `SELECT 1 FROM `+string(shelf)+` WHERE id = ?`, id) })
	})
}
