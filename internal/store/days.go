package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// A TaskMark says that a task was done, or where it is to lie.
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
func (s *Store) TaskMarks(ctx context.Context) ([]TaskMark, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT m.piece_id, m.task, m.kind, m.at FROM task_marks m JOIN pieces p ON p.id = m.piece_id WHERE p.deleted_at IS NULL ORDER BY m.piece_id, m.task, m.kind`)
	out, err := all(rows, err, func(r *sql.Rows) (TaskMark, error) {
		var m TaskMark
		var at string
		err := r.Scan(&m.Piece, &m.Task, &m.Kind, &at)
		m.At = parseStamp(at)
		return m, err
	})
	return out, wrap("read the marks", err)
}

// SetTaskMark keeps a mark; a zero At takes it away.
func (s *Store) SetTaskMark(ctx context.Context, m TaskMark) error {
	return s.write(ctx, "keep the mark", func(tx *sql.Tx) error {
		if m.At.IsZero() {
			_, err := tx.ExecContext(ctx, `DELETE FROM task_marks WHERE piece_id = ? AND task = ? AND kind = ?`, m.Piece, m.Task, m.Kind)
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO task_marks (piece_id, task, kind, at) VALUES (?, ?, ?, ?)
			ON CONFLICT (piece_id, task, kind) DO UPDATE SET at = excluded.at`, m.Piece, m.Task, m.Kind, stamp(m.At))
		return err
	})
}

// KeepPlanDay keeps the plan of a day, the first of that day only.
func (s *Store) KeepPlanDay(ctx context.Context, day string, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep the plan of the day", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO plan_days (day, doc) VALUES (?, ?) ON CONFLICT (day) DO NOTHING`, day, text)
		return err
	})
}

// PlanBefore reads the newest plan of a day before another into v.
func (s *Store) PlanBefore(ctx context.Context, day string, v any) (of string, err error) {
	var doc string
	err = s.db.QueryRowContext(ctx, `SELECT day, doc FROM plan_days WHERE day < ? ORDER BY day DESC LIMIT 1`, day).Scan(&of, &doc)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", wrap("read an earlier plan", err)
	}
	return of, wrap("read an earlier plan", json.Unmarshal([]byte(doc), v))
}

// A Letter is a message to the painter or a client.
type Letter struct {
	ID      int64
	Key     string
	Doc     json.RawMessage
	At      time.Time
	Sent    time.Time // zero while it was not
	Failure string
}

// WriteLetter keeps a letter under its key; an older one of that key stays and
// fresh is false.
func (s *Store) WriteLetter(ctx context.Context, key string, doc any, now time.Time) (id int64, fresh bool, err error) {
	text, err := encode(doc)
	if err != nil {
		return 0, false, err
	}
	err = s.write(ctx, "keep the letter", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO letters (key, doc, at) VALUES (?, ?, ?) ON CONFLICT (key) DO NOTHING`, key, text, stamp(now))
		if err != nil {
			return err
		}
		n, err := res.RowsAffected()
		if err != nil || n == 0 {
			return err
		}
		fresh = true
		id, err = res.LastInsertId()
		return err
	})
	return id, fresh, err
}

// Letters returns the newest letters.
func (s *Store) Letters(ctx context.Context, limit int) ([]Letter, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, key, doc, at, coalesce(sent_at, ''), failure FROM letters ORDER BY at DESC, id DESC LIMIT ?`, limit)
	out, err := all(rows, err, func(r *sql.Rows) (Letter, error) {
		var l Letter
		var doc, at, sent string
		err := r.Scan(&l.ID, &l.Key, &doc, &at, &sent, &l.Failure)
		l.Doc, l.At, l.Sent = json.RawMessage(doc), parseStamp(at), parseStamp(sent)
		return l, err
	})
	return out, wrap("read the letters", err)
}

// LetterSent marks a letter as sent, or keeps why it was not.
func (s *Store) LetterSent(ctx context.Context, id int64, now time.Time, failure string) error {
	return s.write(ctx, "mark the letter", func(tx *sql.Tx) error {
		var sent any
		if failure == "" {
			sent = stamp(now)
		}
		_, err := tx.ExecContext(ctx, `UPDATE letters SET sent_at = ?, failure = ? WHERE id = ?`, sent, failure, id)
		return err
	})
}
