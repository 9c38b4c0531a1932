package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// SessionKind is the kind of a session.
type SessionKind string

// The kinds of sessions. Rehearsals are told apart, so that practice never
// mixes with what really happened.
const (
	Benches    SessionKind = "bench"
	Rehearsals SessionKind = "rehearsal"
	Weighings  SessionKind = "weighing"
)

// A Session is something done at the bench: how it was set up, and the events
// since, in order.
type Session struct {
	ID, Rev, PieceID int64
	Coat             string
	Setup            json.RawMessage
	Events           []json.RawMessage
	Done             bool
	At               time.Time
}

const sessionColumns = `s.id, s.rev, s.piece_id, s.coat, s.setup, s.done, s.at,
	(SELECT json_group_array(json(e.doc) ORDER BY e.n) FROM session_events e WHERE e.kind = s.kind AND e.session_id = s.id)`

func scanSession(row scanner) (Session, error) {
	var s Session
	var setup, at, events string
	if err := row.Scan(&s.ID, &s.Rev, &s.PieceID, &s.Coat, &setup, &s.Done, &at, &events); err != nil {
		return s, err
	}
	s.Setup, s.At = json.RawMessage(setup), parseStamp(at)
	return s, json.Unmarshal([]byte(events), &s.Events)
}

func sessionRows(rows *sql.Rows) (Session, error) { return scanSession(rows) }

// Session returns one session.
func (r Reader) Session(ctx context.Context, kind SessionKind, id int64) (Session, error) {
	s, err := scanSession(r.q.QueryRowContext(ctx,
		`SELECT `+sessionColumns+` FROM sessions s WHERE s.kind = ? AND s.id = ?`, kind, id))
	return s, wrap("read the "+string(kind), err)
}

// SessionsOf returns a piece's sessions of a kind, newest first.
func (r Reader) SessionsOf(ctx context.Context, kind SessionKind, piece int64) ([]Session, error) {
	return list(ctx, r, "list the bench days",
		`SELECT `+sessionColumns+` FROM sessions s WHERE s.kind = ? AND s.piece_id = ? ORDER BY s.at DESC, s.id DESC`,
		[]any{kind, piece}, sessionRows)
}

// A RatedBench is a bench day with the mark its coat got, of five.
type RatedBench struct {
	Session
	Mark float64
}

// RatedBenches returns the newest bench days of a technique whose coats were marked,
// all but one of them.
func (r Reader) RatedBenches(ctx context.Context, technique string, but int64, most int) ([]RatedBench, error) {
	return list(ctx, r, "read the marked bench days", `SELECT json_extract(r.doc, '$.Mark'), `+sessionColumns+`
		FROM sessions s JOIN results r ON r.piece_id = s.piece_id AND r.coat = s.coat
		JOIN pieces p ON p.id = s.piece_id AND p.deleted_at IS NULL
		WHERE s.kind = 'bench' AND s.done AND s.id <> ? AND json_extract(s.setup, '$.Way') = ?
			AND json_extract(r.doc, '$.Mark') > 0
		ORDER BY s.at DESC LIMIT ?`, []any{but, technique, most}, func(rows *sql.Rows) (v RatedBench, err error) {
		v.Session, err = scanSession(marked{rows, &v.Mark})
		return v, err
	})
}

// marked scans a mark before the columns of a session.
type marked struct {
	scanner
	mark *float64
}

func (m marked) Scan(to ...any) error { return m.scanner.Scan(append([]any{m.mark}, to...)...) }

// A Poured is a coat with a bench day.
type Poured struct {
	Piece int64
	Name  string // of the piece
	Coat  string
	Title json.RawMessage // of the coat, as its day keeps it
	At    time.Time
}

// Poured returns the coats that had bench days between two moments, of pieces that
// were not removed.
func (r Reader) Poured(ctx context.Context, from, to time.Time) ([]Poured, error) {
	return list(ctx, r, "list the bench days",
		`SELECT s.piece_id, p.name, s.coat, coalesce(s.setup -> '$.Said', s.setup -> '$.Name', 'null'), max(s.at)
		FROM sessions s JOIN pieces p ON p.id = s.piece_id AND p.deleted_at IS NULL
		WHERE s.kind = 'bench' AND s.at >= ? AND s.at < ? GROUP BY s.piece_id, s.coat ORDER BY max(s.at)`, []any{stamp(from), stamp(to)},
		func(rows *sql.Rows) (v Poured, err error) {
			var title, at string
			err = rows.Scan(&v.Piece, &v.Name, &v.Coat, &title, &at)
			v.Title, v.At = json.RawMessage(title), parseStamp(at)
			return v, err
		})
}

// OpenSessions returns the sessions of a kind that go on, of pieces that were
// not removed. The index is named: the planner would take the one by time and read
// through all that are closed.
func (r Reader) OpenSessions(ctx context.Context, kind SessionKind) ([]Session, error) {
	return list(ctx, r, "list the bench days",
		`SELECT `+sessionColumns+` FROM sessions s JOIN pieces p ON p.id = s.piece_id
		WHERE s.kind = ? AND s.done = 0 AND p.deleted_at IS NULL ORDER BY s.at, s.id`, []any{kind}, sessionRows)
}

// A Running session is one that is not closed, in a few words.
type Running struct {
	ID    int64
	Piece string
	Name  json.RawMessage // of the coat, as its day keeps it
	At    time.Time
}

// RunningBenches returns the open bench days without their events, newest last.
func (r Reader) RunningBenches(ctx context.Context) ([]Running, error) {
	return list(ctx, r, "list the bench days",
		`SELECT s.id, p.name, coalesce(s.setup -> '$.Said', s.setup -> '$.Name', 'null'), s.at FROM sessions s
		JOIN pieces p ON p.id = s.piece_id WHERE s.kind = ? AND s.done = 0 AND p.deleted_at IS NULL ORDER BY s.at, s.id`, []any{Benches},
		func(rows *sql.Rows) (Running, error) {
			var v Running
			var name, at string
			err := rows.Scan(&v.ID, &v.Piece, &name, &at)
			v.Name, v.At = json.RawMessage(name), parseStamp(at)
			return v, err
		})
}

// BenchesOfOpen returns all bench days of the pieces in the making.
func (r Reader) BenchesOfOpen(ctx context.Context) ([]Session, error) {
	return list(ctx, r, "list the bench days",
		`SELECT `+sessionColumns+` FROM sessions s JOIN pieces p ON p.id = s.piece_id
		WHERE s.kind = ? AND p.deleted_at IS NULL AND p.state = '' ORDER BY s.at DESC, s.id DESC`, []any{Benches}, sessionRows)
}

// StartSession begins a session and returns its id.
func (t *Tx) StartSession(ctx context.Context, kind SessionKind, piece int64, coat string, setup any,
	now time.Time) (int64, error) {
	text, err := encode(setup)
	if err != nil {
		return 0, err
	}
	var id int64
	t.touched[ScopeSessions] = true
	err = t.tx.QueryRowContext(ctx, `INSERT INTO sessions (kind, id, piece_id, coat, setup, at)
		VALUES (?, (SELECT coalesce(max(id), 0) + 1 FROM sessions WHERE kind = ?), ?, ?, ?, ?) RETURNING id`, kind, kind, piece, coat, text, stamp(now)).Scan(&id)
	return id, err
}

// AppendEvents adds events to a session that is still at rev, and says whether
// it is done. It returns ErrConflict when another screen was faster.
func (t *Tx) AppendEvents(ctx context.Context, kind SessionKind, id, rev int64, events []any, done bool) error {
	err := t.one(ctx, ScopeSessions, `SELECT 1 FROM sessions WHERE kind = ? AND id = ?`, []any{kind, id},
		`UPDATE sessions SET rev = rev + 1, done = ? WHERE kind = ? AND id = ? AND rev = ?`, done, kind, id, rev)
	if err != nil {
		return err
	}
	for _, e := range events {
		text, err := encode(e)
		if err != nil {
			return err
		}
		if _, err := t.exec(ctx, ScopeSessions, `INSERT INTO session_events (kind, session_id, n, doc)
			VALUES (?, ?, (SELECT coalesce(max(n), 0) + 1 FROM session_events WHERE kind = ? AND session_id = ?), ?)`, kind, id, kind, id, text); err != nil {
			return err
		}
	}
	return nil
}
