package store

import (
	"context"
	"database/sql"
	"encoding/json"
)

// A ProductRow is a resin on the shelf.
type ProductRow struct {
	ID      int64
	Name    string
	Doc     json.RawMessage
	Retired bool
	Rev     int64
}

func scanProduct(row interface{ Scan(...any) error }) (ProductRow, error) {
	var p ProductRow
	var doc string
	err := row.Scan(&p.ID, &p.Name, &doc, &p.Retired, &p.Rev)
	p.Doc = json.RawMessage(doc)
	return p, err
}

// CreateProduct puts a resin on the shelf.
func (s *Store) CreateProduct(ctx context.Context, name string, doc any) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "keep the product", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO products (name, doc) VALUES (?, ?)`, name, text)
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Product returns one resin, retired or not.
func (s *Store) Product(ctx context.Context, id int64) (ProductRow, error) {
	p, err := scanProduct(s.db.QueryRowContext(ctx, `SELECT id, name, doc, retired, rev FROM products WHERE id = ?`, id))
	return p, wrap("read the product", err)
}

// Products returns all resins, those in use first, by name.
func (s *Store) Products(ctx context.Context) ([]ProductRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, name, doc, retired, rev FROM products ORDER BY retired, name COLLATE NOCASE`)
	out, err := all(rows, err, func(r *sql.Rows) (ProductRow, error) { return scanProduct(r) })
	return out, wrap("list the products", err)
}

// UpdateProduct changes a resin that is still at rev.
func (s *Store) UpdateProduct(ctx context.Context, id, rev int64, name string, doc any, retired bool) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep the product", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE products SET name = ?, doc = ?, retired = ?, rev = rev + 1 WHERE id = ? AND rev = ?`,
			name, text, retired, id, rev)
		return changed(res, err, func() error { return exists(ctx, tx, `SELECT 1 FROM products WHERE id = ?`, id) })
	})
}
