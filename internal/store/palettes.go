package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A PaletteRow is a palette, with the small copy of its picture if it has one.
type PaletteRow struct {
	ID, Rev int64
	Name    string
	Doc     json.RawMessage
	Picture []byte
	At      time.Time
}

func scanPalette(row interface{ Scan(...any) error }) (PaletteRow, error) {
	var p PaletteRow
	var doc, at string
	err := row.Scan(&p.ID, &p.Rev, &p.Name, &doc, &p.Picture, &at)
	p.Doc, p.At = json.RawMessage(doc), parseStamp(at)
	return p, err
}

// CreatePalette keeps a new palette.
func (s *Store) CreatePalette(ctx context.Context, name string, doc any, picture []byte, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "keep the palette", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO palettes (name, doc, picture, at) VALUES (?, ?, ?, ?)`, name, text, picture, stamp(now))
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Palette returns one palette.
func (s *Store) Palette(ctx context.Context, id int64) (PaletteRow, error) {
	p, err := scanPalette(s.db.QueryRowContext(ctx, `SELECT id, rev, name, doc, picture, at FROM palettes WHERE id = ? AND deleted_at IS NULL`, id))
	return p, wrap("read the palette", err)
}

// Palettes returns all palettes, newest first, without their pictures.
func (s *Store) Palettes(ctx context.Context) ([]PaletteRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, rev, name, doc, NULL, at FROM palettes WHERE deleted_at IS NULL ORDER BY at DESC, id DESC`)
	out, err := all(rows, err, func(r *sql.Rows) (PaletteRow, error) { return scanPalette(r) })
	return out, wrap("list the palettes", err)
}

// SavePalette changes a palette that is still at rev.
func (s *Store) SavePalette(ctx context.Context, id, rev int64, name string, doc any) error {
	return s.saveDocument(ctx, "palettes", id, rev, name, doc)
}

// SetPaletteDeleted takes a palette off the list or puts it back.
func (s *Store) SetPaletteDeleted(ctx context.Context, id int64, at *time.Time) error {
	return s.setDeleted(ctx, "palettes", id, at)
}
