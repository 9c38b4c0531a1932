package store

import (
	"context"
	"database/sql"
)

// A PieceFilter selects pieces; empty fields match all.
type PieceFilter struct {
	Find      string // a part of the name
	State     string // "open", "idea" or "done"
	Technique string // id of one a layer is made by
	Pigment   string // id of one a cup is coloured with
	Client    string // of its commission
	Month     string // it was begun in, "2026-03"
}

// conditions are those of a query, with their arguments.
type conditions struct {
	text string
	args []any
}

// add adds one where something is asked.
func (c *conditions) add(asked, condition string, with ...any) {
	if asked != "" {
		c.text += ` AND ` + condition
		c.args = append(c.args, with...)
	}
}

// where is a filter as a condition on pieces p, with its arguments.
func (f PieceFilter) where() (string, []any) {
	c := conditions{text: ` WHERE p.deleted_at IS NULL`}
	state := f.State
	if state == "open" {
		state = ""
	}
	const uses = `EXISTS (SELECT 1 FROM piece_uses u WHERE u.piece_id = p.id AND u.kind = ? AND u.ref = ?)`
	c.add(f.Find, `instr(lower(p.name), lower(?)) > 0`, f.Find)
	c.add(f.State, `p.state = ?`, state)
	c.add(f.Technique, uses, "technique", f.Technique)
	c.add(f.Pigment, uses, "pigment", f.Pigment)
	c.add(f.Month, `substr(p.created_at, 1, 7) = ?`, f.Month)
	c.add(f.Client, `p.commission IN (SELECT id FROM documents WHERE kind = 'commission' AND lower(json_extract(doc, '$.Client')) = lower(?))`, f.Client)
	return c.text, c.args
}

// FindPieces returns a page of the pieces a filter finds and how many there are: those in
// hand and ideas before those that are done, of each the last changed first.
func (r Reader) FindPieces(ctx context.Context, f PieceFilter, limit, offset int) ([]PieceRow, int, error) {
	where, args := f.where()
	var n int
	if err := r.q.QueryRowContext(ctx, `SELECT count(*) FROM pieces p`+where, args...).Scan(&n); err != nil {
		return nil, 0, wrap("count the pieces", err)
	}
	// Documents are read of the page alone, however far down it is.
	rows, err := list(ctx, r, "list the pieces",
		`WITH page AS (SELECT p.id FROM pieces p`+where+`
			ORDER BY (p.state = 'done'), p.changed_at DESC, p.id DESC LIMIT ? OFFSET ?)
		SELECT `+pieceColumns+pieceAtHead+` WHERE p.id IN (SELECT id FROM page)
		ORDER BY (p.state = 'done'), p.changed_at DESC, p.id DESC`, append(args, limit, offset), pieceRows)
	return rows, n, err
}

// A CommissionFilter selects commissions; empty fields match all.
type CommissionFilter struct {
	Find      string // a part of the name or of what was written in it
	State     string
	Technique string // id of one that a layer of its boards is made by
	Pigment   string // id of one that a cup of its boards is coloured with
	Client    string
	Month     string // it is due in, "2026-03"
}

// FindCommissions returns a page of the commissions a filter finds, the newest first, and
// how many there are.
func (r Reader) FindCommissions(ctx context.Context, f CommissionFilter, limit, offset int) ([]Document, int, error) {
	var c conditions
	const uses = `EXISTS (SELECT 1 FROM pieces p JOIN piece_uses u ON u.piece_id = p.id WHERE p.commission = d.id AND p.deleted_at IS NULL AND u.kind = ? AND u.ref = ?)`
	c.add(f.Find, `(instr(lower(name), lower(?)) > 0 OR EXISTS (SELECT 1 FROM commission_entries e WHERE e.id = d.id AND instr(lower(e.body), lower(?)) > 0))`, f.Find, f.Find)
	c.add(f.State, `doc ->> '$.State' = ?`, f.State)
	c.add(f.Technique, uses, "technique", f.Technique)
	c.add(f.Pigment, uses, "pigment", f.Pigment)
	c.add(f.Client, `lower(trim(doc ->> '$.Client')) = lower(?)`, f.Client)
	c.add(f.Month, `substr(doc ->> '$.Due', 1, 7) = ?`, f.Month)
	return r.newest(ctx, Commissions, c.text, c.args, limit, offset)
}

// MonthsOfCommissions returns the months in which commissions are due, the last first.
func (r Reader) MonthsOfCommissions(ctx context.Context) ([]string, error) {
	return r.words(ctx, "list the months", `SELECT DISTINCT substr(doc ->> '$.Due', 1, 7) AS m FROM documents
		WHERE kind = 'commission' AND off_at IS NULL AND m > '0002' ORDER BY m DESC LIMIT 36`)
}

// Clients returns the names of clients that stand on commissions.
func (r Reader) Clients(ctx context.Context) ([]string, error) {
	return r.words(ctx, "list the clients", `SELECT DISTINCT trim(json_extract(doc, '$.Client')) AS c FROM documents
		WHERE kind = 'commission' AND off_at IS NULL AND coalesce(trim(json_extract(doc, '$.Client')), '') <> '' ORDER BY c COLLATE NOCASE LIMIT 200`)
}

// MonthsOfPieces returns the months in which pieces were begun, newest first.
func (r Reader) MonthsOfPieces(ctx context.Context) ([]string, error) {
	// Each step asks the index for the month before, so pieces of one month are not all read.
	return r.words(ctx, "list the months", `WITH RECURSIVE months(m) AS (
			SELECT (SELECT max(substr(created_at, 1, 7)) FROM pieces WHERE deleted_at IS NULL)
			UNION ALL
			SELECT (SELECT max(substr(created_at, 1, 7)) FROM pieces WHERE deleted_at IS NULL AND substr(created_at, 1, 7) < m)
			FROM months WHERE m IS NOT NULL
		) SELECT m FROM months WHERE m IS NOT NULL LIMIT 36`)
}

func (r Reader) words(ctx context.Context, doing, query string) ([]string, error) {
	return list(ctx, r, doing, query, nil, func(rows *sql.Rows) (text string, err error) {
		err = rows.Scan(&text)
		return text, err
	})
}
