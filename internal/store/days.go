package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// A TaskMark is the painter's mark on a task of the plan.
type TaskMark struct {
	Piece int64
	Task  string
	Kind  string // done or pin
	At    time.Time
}

// The kinds of marks.
const (
	MarkDone = "done"
	MarkPin  = "pin"
)

// TaskMarks returns all marks of pieces that were not removed.
func (r Reader) TaskMarks(ctx context.Context) ([]TaskMark, error) {
	return list(ctx, r, "read the marks",
		`SELECT m.piece_id, m.task, m.kind, m.at FROM task_marks m JOIN pieces p ON p.id = m.piece_id
		WHERE p.deleted_at IS NULL ORDER BY m.piece_id, m.task, m.kind`, nil, func(rows *sql.Rows) (TaskMark, error) {
			var m TaskMark
			var at string
			err := rows.Scan(&m.Piece, &m.Task, &m.Kind, &at)
			m.At = parseStamp(at)
			return m, err
		})
}

// SetTaskMark keeps a mark; a zero time takes it away.
func (t *Tx) SetTaskMark(ctx context.Context, m TaskMark) error {
	if m.At.IsZero() {
		_, err := t.exec(ctx, ScopeMarks, `DELETE FROM task_marks WHERE piece_id = ? AND task = ? AND kind = ?`, m.Piece,
			m.Task, m.Kind)
		return err
	}
	_, err := t.exec(ctx, ScopeMarks, `INSERT INTO task_marks (piece_id, task, kind, at) VALUES (?, ?, ?, ?)
		ON CONFLICT (piece_id, task, kind) DO UPDATE SET at = excluded.at`, m.Piece, m.Task, m.Kind, stamp(m.At))
	return err
}

// KeepPlanDay keeps the plan as it stands on a day, the first of the day.
func (t *Tx) KeepPlanDay(ctx context.Context, day string, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	_, err = t.exec(ctx, ScopeOther, `INSERT INTO plan_days (day, doc) VALUES (?, ?) ON CONFLICT (day) DO NOTHING`, day,
		text)
	return err
}

// PlanBefore reads the newest kept plan of an earlier day into v and returns
// its day, "" when there is none.
func (r Reader) PlanBefore(ctx context.Context, day string, v any) (of string, err error) {
	var doc string
	err = r.q.QueryRowContext(ctx, `SELECT day, doc FROM plan_days WHERE day < ? ORDER BY day DESC LIMIT 1`, day).Scan(&of,
		&doc)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", wrap("read an earlier plan", err)
	}
	return of, wrap("read an earlier plan", json.Unmarshal([]byte(doc), v))
}

// HasPlanDay reports whether a plan of the day was kept.
func (r Reader) HasPlanDay(ctx context.Context, day string) (bool, error) {
	var n int
	err := r.q.QueryRowContext(ctx, `SELECT count(*) FROM plan_days WHERE day = ?`, day).Scan(&n)
	return n > 0, wrap("read the plan of the day", err)
}

// A Letter is one in the outbox.
type Letter struct {
	ID      int64
	Key     string
	Doc     json.RawMessage
	At      time.Time
	Sent    time.Time // zero while it was not
	Failure string
}

// WriteLetter keeps a letter, once for each key.
func (t *Tx) WriteLetter(ctx context.Context, key string, doc any, now time.Time) (id int64, fresh bool, err error) {
	text, err := encode(doc)
	if err != nil {
		return 0, false, err
	}
	res, err := t.exec(ctx, ScopeOther, `INSERT INTO letters (key, doc, at) VALUES (?, ?, ?) ON CONFLICT (key) DO NOTHING`,
		key, text, stamp(now))
	if err != nil {
		return 0, false, err
	}
	n, err := res.RowsAffected()
	if err != nil || n == 0 {
		return 0, false, err
	}
	id, err = res.LastInsertId()
	return id, true, err
}

// Letters returns the newest letters.
func (r Reader) Letters(ctx context.Context, limit int) ([]Letter, error) {
	return list(ctx, r, "read the letters",
		`SELECT id, key, doc, at, coalesce(sent_at, ''), failure FROM letters ORDER BY at DESC, id DESC LIMIT ?`,
		[]any{limit}, func(rows *sql.Rows) (Letter, error) {
			var l Letter
			var doc, at, sent string
			err := rows.Scan(&l.ID, &l.Key, &doc, &at, &sent, &l.Failure)
			l.Doc, l.At, l.Sent = json.RawMessage(doc), parseStamp(at), parseStamp(sent)
			return l, err
		})
}

// LetterSent says that a letter was handed over, or why not.
func (t *Tx) LetterSent(ctx context.Context, id int64, now time.Time, failure string) error {
	var sent any
	if failure == "" {
		sent = stamp(now)
	}
	_, err := t.exec(ctx, ScopeOther, `UPDATE letters SET sent_at = ?, failure = ? WHERE id = ?`, sent, failure, id)
	return err
}
