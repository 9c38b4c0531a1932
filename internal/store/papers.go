package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// A Paper is a document for a client, kept as it was made.
type Paper struct {
	ID, Commission int64
	Kind, Number   string
	At             time.Time
	Doc            json.RawMessage
}

// NextNumber takes the next number of a series. It is given back when the change it
// is taken in is not kept, so that a series has no gaps.
func (t *Tx) NextNumber(ctx context.Context, series string) (int64, error) {
	t.touched[ScopeCommissions] = true
	var n int64
	err := t.tx.QueryRowContext(ctx,
		`INSERT INTO paper_numbers (series, last) VALUES (?, 1) ON CONFLICT (series) DO UPDATE SET last = last + 1 RETURNING last`, series).Scan(&n)
	return n, err
}

// AddPaper keeps a paper and returns its id.
func (t *Tx) AddPaper(ctx context.Context, p Paper, pdf []byte) (int64, error) {
	t.touched[ScopeCommissions] = true
	var id int64
	err := t.tx.QueryRowContext(ctx,
		`INSERT INTO papers (commission_id, kind, number, at, doc, pdf) VALUES (?, ?, ?, ?, ?, ?) RETURNING id`,
		p.Commission, p.Kind, p.Number, stamp(p.At), string(p.Doc), pdf).Scan(&id)
	return id, err
}

const paperColumns = `id, commission_id, kind, number, at, doc`

func scanPaper(s scanner) (p Paper, err error) {
	var at, doc string
	err = s.Scan(&p.ID, &p.Commission, &p.Kind, &p.Number, &at, &doc)
	p.At, p.Doc = parseStamp(at), json.RawMessage(doc)
	return p, err
}

// Papers returns those of a commission, oldest first; of all for 0.
func (r Reader) Papers(ctx context.Context, commission int64) ([]Paper, error) {
	return list(ctx, r, "list the papers",
		`SELECT `+paperColumns+` FROM papers WHERE ? = 0 OR commission_id = ? ORDER BY id`, []any{commission, commission},
		func(rows *sql.Rows) (Paper, error) { return scanPaper(rows) })
}

// Paper returns one paper.
func (r Reader) Paper(ctx context.Context, id int64) (Paper, error) {
	p, err := scanPaper(r.q.QueryRowContext(ctx, `SELECT `+paperColumns+` FROM papers WHERE id = ?`, id))
	return p, wrap("read the paper", err)
}

// PaperPDF returns a paper as it was sent.
func (r Reader) PaperPDF(ctx context.Context, id int64) ([]byte, error) {
	var pdf []byte
	err := r.q.QueryRowContext(ctx, `SELECT pdf FROM papers WHERE id = ?`, id).Scan(&pdf)
	return pdf, wrap("read the paper", err)
}

// A Payment is money that came in (or, below nothing, went out).
type Payment struct {
	ID, Commission int64
	At             time.Time
	Amount         string // a decimal number
	Doc            json.RawMessage
}

// AddPayment keeps a payment.
func (t *Tx) AddPayment(ctx context.Context, p Payment) error {
	_, err := t.exec(ctx, ScopeCommissions, `INSERT INTO payments (commission_id, at, amount, doc) VALUES (?, ?, ?, ?)`,
		p.Commission, stamp(p.At), p.Amount, string(p.Doc))
	return err
}

// Payments returns those of a commission, oldest first; all for −1.
func (r Reader) Payments(ctx context.Context, commission int64) ([]Payment, error) {
	return list(ctx, r, "list the payments",
		`SELECT id, commission_id, at, amount, doc FROM payments WHERE ? = -1 OR commission_id = ? ORDER BY at, id`, []any{
			commission, commission},
		func(rows *sql.Rows) (p Payment, err error) {
			var at, doc string
			err = rows.Scan(&p.ID, &p.Commission, &at, &p.Amount, &doc)
			p.At, p.Doc = parseStamp(at), json.RawMessage(doc)
			return p, err
		})
}

// A PriceRow is the price asked for a piece.
type PriceRow struct {
	Piece, Rev int64
	Doc        json.RawMessage
}

// Prices returns what is asked for every piece for which that was said.
func (r Reader) Prices(ctx context.Context) ([]PriceRow, error) {
	return list(ctx, r, "read the prices", `SELECT piece_id, rev, doc FROM piece_prices ORDER BY piece_id`, nil,
		func(rows *sql.Rows) (p PriceRow, err error) {
			var doc string
			err = rows.Scan(&p.Piece, &p.Rev, &doc)
			p.Doc = json.RawMessage(doc)
			return p, err
		})
}

// PriceOf returns what is asked for a piece; a rev of 0 says that nothing was said.
func (r Reader) PriceOf(ctx context.Context, piece int64) (PriceRow, error) {
	p := PriceRow{Piece: piece}
	var doc string
	err := r.q.QueryRowContext(ctx, `SELECT rev, doc FROM piece_prices WHERE piece_id = ?`, piece).Scan(&p.Rev, &doc)
	if errors.Is(err, sql.ErrNoRows) {
		return p, nil
	}
	p.Doc = json.RawMessage(doc)
	return p, wrap("read the price", err)
}

// SavePrice keeps what is asked for a piece that is still at rev; ErrConflict when it
// is not.
func (t *Tx) SavePrice(ctx context.Context, piece, rev int64, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	if rev == 0 {
		res, err := t.exec(ctx, ScopeCommissions,
			`INSERT INTO piece_prices (piece_id, doc) VALUES (?, ?) ON CONFLICT DO NOTHING`, piece, text)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 1 {
			return err
		}
		return ErrConflict
	}
	return t.one(ctx, ScopeCommissions, `SELECT 1 FROM piece_prices WHERE piece_id = ?`, []any{piece},
		`UPDATE piece_prices SET doc = ?, rev = rev + 1 WHERE piece_id = ? AND rev = ?`, text, piece, rev)
}

// ErrNone is returned for a blob that was never kept.
var ErrNone = errors.New("nothing is kept under this name")

// KeepBlob keeps a picture under a name, in place of an earlier one.
func (t *Tx) KeepBlob(ctx context.Context, kind PictureKind, data []byte, now time.Time) error {
	if _, err := t.exec(ctx, ScopeSettings, `DELETE FROM pictures WHERE kind = ? AND owner = 0`, kind); err != nil ||
		data == nil {
		return err
	}
	_, err := t.AddPicture(ctx, kind, 0, data, now)
	return err
}

// Blob returns it.
func (r Reader) Blob(ctx context.Context, kind PictureKind) ([]byte, error) {
	var data []byte
	err := r.q.QueryRowContext(ctx, `SELECT picture FROM pictures WHERE kind = ? AND owner = 0`, kind).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNone
	}
	return data, wrap("read the picture", err)
}
