package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// A JudgementRow is a coat's rating of the day after, as a document.
type JudgementRow struct {
	Piece int64
	Coat  string
	Doc   json.RawMessage
	At    time.Time
}

func scanJudgement(row scanner) (JudgementRow, error) {
	var v JudgementRow
	var doc, at string
	err := row.Scan(&v.Piece, &v.Coat, &doc, &at)
	v.Doc, v.At = json.RawMessage(doc), parseStamp(at)
	return v, err
}

// Judgement returns what was said of a coat; no document where nothing was.
func (r Reader) Judgement(ctx context.Context, piece int64, coat string) (JudgementRow, error) {
	v, err := scanJudgement(
		r.q.QueryRowContext(
			ctx,
			`SELECT piece_id, coat, doc, at FROM judgements WHERE piece_id = ? AND coat = ?`,
			piece,
			coat,
		),
	)
	if errors.Is(err, sql.ErrNoRows) {
		return JudgementRow{Piece: piece, Coat: coat}, nil
	}
	return v, wrap("read the judgement", err)
}

// Judgements returns those of all pieces that were not removed.
func (r Reader) Judgements(ctx context.Context) ([]JudgementRow, error) {
	return list(ctx, r, "list the judgements", `SELECT j.piece_id, j.coat, j.doc, j.at FROM judgements j
		JOIN pieces p ON p.id = j.piece_id AND p.deleted_at IS NULL ORDER BY j.at`, nil,
		func(rows *sql.Rows) (JudgementRow, error) { return scanJudgement(rows) })
}

// KeepJudgement keeps what is said of a coat in place of what was. The first of a coat
// is news to the days, which ask for it.
func (t *Tx) KeepJudgement(ctx context.Context, piece int64, coat string, doc any, at time.Time) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	before, err := t.Judgement(ctx, piece, coat)
	if err != nil {
		return err
	}
	scope := ScopeOther
	if before.Doc == nil {
		scope = ScopeSessions
	}
	_, err = t.exec(ctx, scope, `INSERT INTO judgements (piece_id, coat, doc, at) VALUES (?, ?, ?, ?)
		ON CONFLICT (piece_id, coat) DO UPDATE SET doc = excluded.doc`, piece, coat, text, stamp(at))
	return err
}
