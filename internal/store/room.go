package store

import (
	"context"
	"database/sql"
	"time"
)

// A RoomReading is the temperature of the studio at a moment, in °C.
type RoomReading struct {
	At     time.Time
	Temp   float64
	Source string // sensor or typed
}

func scanRoom(r *sql.Rows) (RoomReading, error) {
	var v RoomReading
	var at string
	err := r.Scan(&at, &v.Temp, &v.Source)
	v.At = parseStamp(at)
	return v, err
}

// LogRoom keeps a reading.
func (s *Store) LogRoom(ctx context.Context, v RoomReading) error {
	return s.write(ctx, "keep the room's temperature", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO room_readings (at, temp, source) VALUES (?, ?, ?)`, stamp(v.At), v.Temp, v.Source)
		return err
	})
}

// RoomSince returns the readings from a moment on in order of time, with the
// last one before it first.
func (s *Store) RoomSince(ctx context.Context, from time.Time) ([]RoomReading, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT at, temp, source FROM room_readings
		WHERE at >= coalesce((SELECT max(at) FROM room_readings WHERE at <= ?), ?) ORDER BY at`, stamp(from), stamp(from))
	out, err := all(rows, err, scanRoom)
	return out, wrap("read the room's temperatures", err)
}
