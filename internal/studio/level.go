package studio

import (
	"context"
	"time"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// A Levelling is the newest reading of a piece's board and what it means.
type Levelling struct {
	Plan     Plan
	Board    surface.Shape
	Tilt     surface.Tilt
	Lie      surface.Lie
	Enough   bool
	Allowed  units.Length
	Readings []LevelReading // newest first
}

// A LevelReading is one pair of angles and the height difference they mean.
type LevelReading struct {
	Tilt surface.Tilt
	Drop units.Length
	At   time.Time
}

// maxTilt is the most a bench is out of level; more is a slip of the comma.
const maxTilt units.Angle = 10

// levelFields are the typed values of a level reading.
var levelFields = Fields[surface.Tilt]{
	angleField("along", "Along", func(t *surface.Tilt) *units.Angle { return &t.Along }),
	angleField("across", "Across", func(t *surface.Tilt) *units.Angle { return &t.Across }),
}

func angleField(key, label string, at func(*surface.Tilt) *units.Angle) Field[surface.Tilt] {
	print := func(a units.Angle) string { return units.Fixed(float64(a), 3) + "°" }
	return Field[surface.Tilt]{key, label,
		func(t *surface.Tilt, _ units.System) string { return print(*at(t)) },
		func(t *surface.Tilt, text string, _ units.System) (string, error) {
			r, err := units.ParseAngle(text, "deg")
			if err == nil {
				err = between(r.Value, -maxTilt, maxTilt, print)
			}
			return keep(at(t), r, err)
		}}
}

// Level returns the levelling of a piece as last read.
func (s *Studio) Level(ctx context.Context, piece int64) (Levelling, error) {
	plan, err := s.Plan(ctx, piece)
	if err != nil {
		return Levelling{}, err
	}
	rows, err := s.store.Levels(ctx, piece)
	if err != nil {
		return Levelling{}, err
	}
	l := Levelling{Plan: plan, Board: plan.Boards[0], Allowed: units.Length(surface.Allowed) * plan.Piece.Film}
	for _, r := range rows {
		tilt := surface.Tilt{Along: units.Angle(r.Along), Across: units.Angle(r.Across)}
		lie, err := l.lie(tilt)
		if err != nil {
			return l, err
		}
		l.Readings = append(l.Readings, LevelReading{tilt, lie.WorstDrop(), r.At})
	}
	if len(l.Readings) > 0 {
		l.Tilt = l.Readings[0].Tilt
		if l.Lie, err = l.lie(l.Tilt); err != nil {
			return l, err
		}
		l.Enough = l.Lie.LevelEnough(plan.Piece.Film)
	}
	return l, nil
}

func (l Levelling) lie(t surface.Tilt) (surface.Lie, error) {
	box := l.Board.Bounds()
	return surface.Level(box.Width(), box.Height(), t, l.Plan.Piece.Film, l.Plan.Product.Viscosity, l.Plan.Product.Density())
}

// Drift returns how far an open film walks in a minute.
func (l Levelling) Drift() units.Length { return units.Length(l.Lie.DriftMMPerS * 60) }

// Known reports whether the board was read at all.
func (l Levelling) Known() bool { return len(l.Readings) > 0 }

// ReadLevel keeps two typed angles.
func (s *Studio) ReadLevel(ctx context.Context, piece int64, values map[string]string) (Notices, error) {
	tilt := surface.Tilt{}
	n := newNotices()
	for _, f := range levelFields {
		if note, err := f.Set(&tilt, values[f.Key], units.Metric); err != nil {
			n.Errors[f.Key] = err.Error()
		} else {
			n.Notes[f.Key] = note
		}
	}
	if !n.OK() {
		return n, nil
	}
	if _, err := s.Piece(ctx, piece); err != nil {
		return n, err
	}
	return n, s.store.RecordLevel(ctx, piece, store.LevelReading{Along: float64(tilt.Along), Across: float64(tilt.Across), At: s.now()})
}
