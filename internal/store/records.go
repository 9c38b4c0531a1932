package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// Setting reads a kept document by its key; false when there is none.
func (r Reader) Setting(ctx context.Context, key string, v any) (bool, error) {
	var doc string
	err := r.q.QueryRowContext(ctx, `SELECT doc FROM settings WHERE key = ?`, key).Scan(&doc)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	if err != nil {
		return false, wrap("read the settings", err)
	}
	return true, wrap("read the settings", json.Unmarshal([]byte(doc), v))
}

// SetSetting keeps a document by its key.
func (t *Tx) SetSetting(ctx context.Context, key string, v any) error {
	text, err := encode(v)
	if err != nil {
		return err
	}
	_, err = t.exec(ctx, ScopeSettings, `INSERT INTO settings (key, doc) VALUES (?, ?)
		ON CONFLICT (key) DO UPDATE SET doc = excluded.doc`, key, text)
	return err
}

// A Use is one coat's planned and actual use, in mL, without what
// stays in cups.
type Use struct {
	PieceID       int64
	Coat          string
	Technique     string
	Planned, Used float64
	At            time.Time
}

// RecordUse keeps what a coat took; a later record of the same coat replaces
// it.
func (t *Tx) RecordUse(ctx context.Context, u Use) error {
	_, err := t.exec(ctx, ScopeMaterials,
		`INSERT INTO coat_uses (piece_id, coat, technique, planned, used, at) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (piece_id, coat) DO UPDATE SET
			technique = excluded.technique, planned = excluded.planned, used = excluded.used, at = excluded.at`,
		u.PieceID, u.Coat, u.Technique, u.Planned, u.Used, stamp(u.At))
	return err
}

// UsesOf returns what the coats of a piece took.
func (r Reader) UsesOf(ctx context.Context, piece int64) ([]Use, error) {
	return list(ctx, r, "read what the coats took",
		`SELECT piece_id, coat, technique, planned, used, at FROM coat_uses WHERE piece_id = ? ORDER BY at`,
		[]any{piece}, func(rows *sql.Rows) (Use, error) {
			var u Use
			var at string
			err := rows.Scan(&u.PieceID, &u.Coat, &u.Technique, &u.Planned, &u.Used, &at)
			u.At = parseStamp(at)
			return u, err
		})
}

// A Learned is one coat's contribution to what its technique uses, in mL.
type Learned struct {
	Technique     string
	Planned, Used float64
	At            time.Time
}

// Learned returns what the recorded coats of pieces that are there took, oldest first.
func (r Reader) Learned(ctx context.Context) ([]Learned, error) {
	return list(ctx, r, "read what was learnt", `SELECT u.technique, u.planned, u.used, u.at
		FROM coat_uses u JOIN pieces p ON p.id = u.piece_id AND p.deleted_at IS NULL ORDER BY u.at`, nil, func(rows *sql.Rows) (Learned, error) {
		var l Learned
		var at string
		err := rows.Scan(&l.Technique, &l.Planned, &l.Used, &at)
		l.At = parseStamp(at)
		return l, err
	})
}

// LearningResets returns until when each technique's pours were forgotten.
func (r Reader) LearningResets(ctx context.Context) (map[string]time.Time, error) {
	type reset struct {
		technique string
		at        time.Time
	}
	all, err := list(ctx, r, "read what was forgotten", `SELECT technique, at FROM learning_resets`, nil,
		func(rows *sql.Rows) (reset, error) {
			var x reset
			var at string
			err := rows.Scan(&x.technique, &at)
			x.at = parseStamp(at)
			return x, err
		})
	out := map[string]time.Time{}
	for _, x := range all {
		out[x.technique] = x.at
	}
	return out, err
}

// ResetLearning forgets a technique's pours until now.
func (t *Tx) ResetLearning(ctx context.Context, technique string, now time.Time) error {
	_, err := t.exec(ctx, ScopeMaterials, `INSERT INTO learning_resets (technique, at) VALUES (?, ?)
		ON CONFLICT (technique) DO UPDATE SET at = excluded.at`, technique, stamp(now))
	return err
}

// A StepTime is how long a step of a bench day took, in minutes.
type StepTime struct {
	Session     int64
	Piece       int64
	Technique   string
	Step        string
	Usual, Took float64
	At          time.Time
}

// SetStepTimes keeps what the steps of a bench day took in place of what was kept
// of it before; a day that goes on again has none.
func (t *Tx) SetStepTimes(ctx context.Context, session int64, times []StepTime) error {
	res, err := t.tx.ExecContext(ctx, `DELETE FROM step_times WHERE session_id = ?`, session)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || (n == 0 && len(times) == 0) {
		return err
	}
	t.touched[ScopeMaterials] = true
	for _, v := range times {
		if _, err := t.tx.ExecContext(ctx,
			`INSERT INTO step_times (session_id, piece_id, technique, step, usual, took, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			session, v.Piece, v.Technique, v.Step, v.Usual, v.Took, stamp(v.At)); err != nil {
			return err
		}
	}
	return nil
}

// StepTimes returns what steps took since their technique was last reset, newest
// first.
func (r Reader) StepTimes(ctx context.Context) ([]StepTime, error) {
	return list(ctx, r, "read what the steps took",
		`SELECT s.session_id, s.piece_id, s.technique, s.step, s.usual, s.took, s.at FROM step_times s
		JOIN pieces p ON p.id = s.piece_id AND p.deleted_at IS NULL LEFT JOIN learning_resets r ON r.technique = s.technique
		WHERE r.at IS NULL OR s.at > r.at ORDER BY s.at DESC`, nil, func(rows *sql.Rows) (StepTime, error) {
			var v StepTime
			var at string
			err := rows.Scan(&v.Session, &v.Piece, &v.Technique, &v.Step, &v.Usual, &v.Took, &at)
			v.At = parseStamp(at)
			return v, err
		})
}

// A LevelReading is one pair of angles in degrees.
type LevelReading struct {
	Along, Across float64
	At            time.Time
}

// RecordLevel keeps a level reading of a piece.
func (t *Tx) RecordLevel(ctx context.Context, piece int64, r LevelReading) error {
	_, err := t.exec(ctx, ScopeOther, `INSERT INTO level_readings (piece_id, along, across, at) VALUES (?, ?, ?, ?)`,
		piece, r.Along, r.Across, stamp(r.At))
	return err
}

// Levels returns a piece's newest level readings.
func (r Reader) Levels(ctx context.Context, piece int64) ([]LevelReading, error) {
	return list(ctx, r, "read the level",
		`SELECT along, across, at FROM level_readings WHERE piece_id = ? ORDER BY at DESC, id DESC LIMIT 20`,
		[]any{piece}, func(rows *sql.Rows) (LevelReading, error) {
			var l LevelReading
			var at string
			err := rows.Scan(&l.Along, &l.Across, &at)
			l.At = parseStamp(at)
			return l, err
		})
}

// A RoomReading is the studio's air at a moment.
type RoomReading struct {
	At       time.Time
	Temp     float64 // °C
	Humidity float64 // 0 to 1; 0 where nobody knows
	Source   string  // sensor, typed or simulated
	Who      string  // name of the sensor
}

// LogRoom keeps a reading.
func (t *Tx) LogRoom(ctx context.Context, v RoomReading) error {
	_, err := t.exec(ctx, ScopeRoom,
		`INSERT INTO room_log (at, temp, humidity, source, who) VALUES (?, ?, nullif(?, 0), ?, ?)`,
		stamp(v.At), v.Temp, v.Humidity, v.Source, v.Who)
	return err
}

const roomColumns = `at, temp, coalesce(humidity, 0), source, who`

func scanRoom(scan func(...any) error) (v RoomReading, err error) {
	var at string
	err = scan(&at, &v.Temp, &v.Humidity, &v.Source, &v.Who)
	v.At = parseStamp(at)
	return v, err
}

// RoomSince returns the readings from the last one before a moment on.
func (r Reader) RoomSince(ctx context.Context, from time.Time) ([]RoomReading, error) {
	return list(ctx, r, "read the room's temperatures", `SELECT `+roomColumns+` FROM room_log
		WHERE at >= coalesce((SELECT max(at) FROM room_log WHERE at <= ?), ?) ORDER BY at, rowid`, []any{stamp(from), stamp(from)},
		func(rows *sql.Rows) (RoomReading, error) { return scanRoom(rows.Scan) })
}

// LastTyped returns the newest typed reading, false when there is none.
func (r Reader) LastTyped(ctx context.Context) (RoomReading, bool, error) {
	v, err := scanRoom(r.q.QueryRowContext(ctx,
		`SELECT `+roomColumns+` FROM room_log WHERE source = 'typed' ORDER BY at DESC LIMIT 1`).Scan)
	if errors.Is(err, sql.ErrNoRows) {
		return v, false, nil
	}
	return v, err == nil, wrap("read the room's temperature", err)
}
