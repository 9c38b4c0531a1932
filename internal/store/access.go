package store

import (
	"context"
	"database/sql"
	"time"
)

// A Visitor is a device that was paired or the key of a program.
type Visitor struct {
	ID       int64
	Kind     string
	Name     string
	Person   string // who uses a device; "" for whoever is in the studio
	May      string
	Digest   string // of what it shows
	At, Used time.Time
}

// The kinds of visitors.
const (
	VisitorDevice = "device"
	VisitorKey    = "key"
)

// Visitors returns all of them, the last used first.
func (r Reader) Visitors(ctx context.Context) ([]Visitor, error) {
	return list(ctx, r, "read who is let in",
		`SELECT id, kind, name, person, may, digest, at, used FROM visitors ORDER BY used DESC, id`, nil, scanVisitor)
}

func scanVisitor(rows *sql.Rows) (Visitor, error) {
	var v Visitor
	var at, used string
	err := rows.Scan(&v.ID, &v.Kind, &v.Name, &v.Person, &v.May, &v.Digest, &at, &used)
	v.At, v.Used = parseStamp(at), parseStamp(used)
	return v, err
}

// AddVisitor lets one in.
func (t *Tx) AddVisitor(ctx context.Context, v Visitor) (int64, error) {
	res, err := t.tx.ExecContext(ctx,
		`INSERT INTO visitors (kind, name, person, may, digest, at, used) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		v.Kind, v.Name, v.Person, v.May, v.Digest, stamp(v.At), stamp(v.Used))
	if err != nil {
		return 0, err
	}
	return res.LastInsertId()
}

// DropVisitor lets one in no longer.
func (t *Tx) DropVisitor(ctx context.Context, id int64) error {
	res, err := t.tx.ExecContext(ctx, `DELETE FROM visitors WHERE id = ?`, id)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 1 {
		return err
	}
	return ErrNotFound
}

// VisitorUsed keeps when one was last there.
func (t *Tx) VisitorUsed(ctx context.Context, id int64, at time.Time) error {
	_, err := t.tx.ExecContext(ctx, `UPDATE visitors SET used = ? WHERE id = ? AND used < ?`, stamp(at), id, stamp(at))
	return err
}

// A PairCode lets one device in, once, until a moment.
type PairCode struct {
	Digest, Role, Person string
	Until                time.Time
}

// OfferPair keeps a code; those that are over are forgotten.
func (t *Tx) OfferPair(ctx context.Context, c PairCode, now time.Time) error {
	if _, err := t.tx.ExecContext(ctx, `DELETE FROM pair_codes WHERE until < ?`, stamp(now)); err != nil {
		return err
	}
	_, err := t.tx.ExecContext(ctx, `INSERT INTO pair_codes (digest, role, person, until) VALUES (?, ?, ?, ?)`, c.Digest,
		c.Role, c.Person, stamp(c.Until))
	return err
}

// TakePair takes a code that is not over, so that it serves once; ErrNotFound else.
func (t *Tx) TakePair(ctx context.Context, digest string, now time.Time) (PairCode, error) {
	c := PairCode{Digest: digest}
	var until string
	err := t.tx.QueryRowContext(ctx,
		`DELETE FROM pair_codes WHERE digest = ? AND until >= ? RETURNING role, person, until`, digest, stamp(
			now)).Scan(&c.Role, &c.Person, &until)
	c.Until = parseStamp(until)
	return c, err
}
