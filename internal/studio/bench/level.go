package bench

import (
	"context"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
)

// A Levelling is the newest reading of a piece's board and what it means.
type Levelling struct {
	View     agenda.View
	Board    surface.Shape
	Coat     *plan.Coat
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

// LevelFields is the catalogue of a level reading.
var LevelFields = form.Fields[surface.Tilt]{
	form.Angle("along", "Along", func(t *surface.Tilt) *units.Angle { return &t.Along }, maxTilt).Hinted("0.2°"),
	form.Angle("across", "Across", func(t *surface.Tilt) *units.Angle { return &t.Across }, maxTilt).Hinted("−0.1°"),
}

// Level returns the levelling of a piece as last read, for its first coat.
func (s *Service) Level(ctx context.Context, p pieces.Piece) (Levelling, error) {
	v, err := s.agenda.Plan(ctx, p)
	if err != nil {
		return Levelling{}, err
	}
	rows, err := s.store.Levels(ctx, p.ID)
	if err != nil {
		return Levelling{}, err
	}
	c := &v.Plan.Coats[0]
	l := Levelling{View: v, Board: v.Boards[0], Coat: c, Allowed: units.Length(surface.Allowed) * c.Film}
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
		l.Enough = l.Lie.LevelEnough(c.Film)
	}
	return l, nil
}

func (l Levelling) lie(t surface.Tilt) (surface.Lie, error) {
	box := l.Board.Bounds()
	return surface.Level(box.Width(), box.Height(), t, l.Coat.Film, l.Coat.Product.Viscosity, l.Coat.Product.Density())
}

// Drift returns how far an open film walks in a minute.
func (l Levelling) Drift() units.Length { return units.Length(l.Lie.DriftMMPerS * 60) }

// Known reports whether the board was read at all.
func (l Levelling) Known() bool { return len(l.Readings) > 0 }

// ReadLevel keeps two typed angles.
func (s *Service) ReadLevel(ctx context.Context, piece int64, typed map[string]string) (form.Notices, error) {
	tilt := surface.Tilt{}
	n := form.NewNotices()
	for _, f := range LevelFields { // both are asked for
		if note, err := f.Set(&tilt, typed[f.Key], units.Metric); err != nil {
			n.Errors[f.Key] = msg.Of(err)
		} else {
			n.Notes[f.Key] = note
		}
	}
	if !n.OK() {
		return n, nil
	}
	return n, s.store.Write(ctx, "keep the level reading", func(tx *store.Tx) error {
		if _, err := tx.Piece(ctx, piece); err != nil {
			return err
		}
		return tx.RecordLevel(ctx, piece,
			store.LevelReading{Along: float64(tilt.Along), Across: float64(tilt.Across), At: s.now()})
	})
}
