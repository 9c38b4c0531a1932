package session

import (
	"context"
	"errors"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
)

// Weighing returns a weigh-out as it stands.
func (l *Log) Weighing(ctx context.Context, id int64) (weighing.Weighing, error) {
	row, err := l.store.Session(ctx, store.Weighings, id)
	if err != nil {
		return weighing.Weighing{}, err
	}
	return weighing.Decode(row)
}

// WeighingsOf returns a piece's weigh-outs, newest first.
func (l *Log) WeighingsOf(ctx context.Context, piece int64) ([]weighing.Weighing, error) {
	rows, err := l.store.SessionsOf(ctx, store.Weighings, piece)
	if err != nil {
		return nil, err
	}
	out := make([]weighing.Weighing, len(rows))
	for i, row := range rows {
		if out[i], err = weighing.Decode(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// StartWeighing begins a weigh-out.
func (l *Log) StartWeighing(ctx context.Context, piece int64, coat string, w weighing.Weighing) (weighing.Weighing,
	error) {
	id := int64(0)
	err := l.store.Write(ctx, "start the weigh-out", func(tx *store.Tx) error {
		var err error
		id, err = tx.StartSession(ctx, store.Weighings, piece, coat, w, l.now())
		return err
	})
	if err != nil {
		return w, err
	}
	return l.Weighing(ctx, id)
}

// Take confirms a reading for the state the screen was showing, rev; 0 for whatever it
// is now. look is
// asked for the reading only when that state still stands. When the parts of a
// batch meet by it, the clock of an open bench day of the coat starts in the same
// change.
func (l *Log) Take(ctx context.Context, id, rev int64,
	look func(weighing.Weighing) (reading units.Mass, typed bool, err error)) (weighing.Weighing, error) {
	return l.weigh(ctx, id, rev, func(w *weighing.Weighing) (weighing.Event, error) {
		reading, typed, err := look(*w)
		return weighing.Event{At: l.When(ctx), What: "take", Reading: reading, Typed: typed}, err
	})
}

// SetTares says how the scale is zeroed from the cup in hand on; while one is
// being filled it stays.
func (l *Log) SetTares(ctx context.Context, id, rev int64, way string) (weighing.Weighing, error) {
	return l.weigh(ctx, id, rev, func(w *weighing.Weighing) (weighing.Event, error) {
		if w.Stage != weighing.Tare {
			return weighing.Event{}, refuse("finish this cup first, then zero the scale another way")
		}
		q, _ := school.Find(school.Tare)
		if !slices.ContainsFunc(q.Ways, func(x school.Way) bool { return x.Key == way }) {
			return weighing.Event{}, refuse("%q is not a way to zero a scale", way)
		}
		return weighing.Event{At: l.When(ctx), What: "tares", Way: way}, nil
	})
}

// UndoWeighing takes the last confirmed amount back.
func (l *Log) UndoWeighing(ctx context.Context, id, rev int64) (weighing.Weighing, error) {
	return l.weigh(ctx, id, rev, func(*weighing.Weighing) (weighing.Event, error) {
		return weighing.Event{At: l.When(ctx), What: "undo"},
			nil
	})
}

func (l *Log) weigh(ctx context.Context, id, rev int64,
	f func(*weighing.Weighing) (weighing.Event, error)) (weighing.Weighing, error) {
	var wrong error
	bench := int64(0)
	err := l.store.Write(ctx, "keep the step at the scale", func(tx *store.Tx) error {
		row, err := tx.Session(ctx, store.Weighings, id)
		if err != nil {
			return err
		}
		w, err := weighing.Decode(row)
		if err != nil {
			return err
		}
		if rev != 0 && w.Rev != rev {
			wrong = ErrStale
			return nil
		}
		before, was := w.BatchesMixed(), w.Stage
		e, err := f(&w)
		if err == nil {
			err = w.Apply(e)
		}
		if err != nil {
			wrong = err
			return nil
		}
		if err := tx.AppendEvents(ctx, store.Weighings, id, w.Rev, []any{e}, w.Stage == weighing.Done); err != nil {
			return err
		}
		if w.Stage == weighing.Done || was == weighing.Done {
			if err := bookUse(ctx, tx, w, e.At); err != nil {
				return err
			}
		}
		if batch := w.BatchesMixed(); batch > before {
			bench, err = l.meet(ctx, tx, w, batch)
		}
		return err
	})
	if err != nil {
		return weighing.Weighing{}, err
	}
	fresh, err := l.Weighing(ctx, id)
	if wrong == nil && err == nil {
		l.hub.Tell(key{store.Weighings, id})
		if bench != 0 {
			l.hub.Tell(benchKey(bench, false))
		}
	}
	return fresh, errors.Join(wrong, err)
}

// bookUse books what all weigh-outs of a coat took together: one that was weighed twice
// took twice.
func bookUse(ctx context.Context, tx *store.Tx, w weighing.Weighing, at time.Time) error {
	rows, err := tx.SessionsOf(ctx, store.Weighings, w.PieceID)
	if err != nil {
		return err
	}
	took := stock.Amounts{}
	for _, row := range rows {
		if row.Coat != w.Coat {
			continue
		}
		one, err := weighing.Decode(row)
		if err != nil {
			return err
		}
		for t, v := range one.Took() {
			took[t] += v
		}
	}
	return stock.Settle(ctx, tx, w.PieceID, w.Coat, stock.Weighed, took, at)
}

// meet starts the clock of a batch on the open bench day of the coat, if there is
// one, and returns that day.
func (l *Log) meet(ctx context.Context, tx *store.Tx, w weighing.Weighing, batch int) (int64, error) {
	rows, err := tx.SessionsOf(ctx, store.Benches, w.PieceID)
	if err != nil {
		return 0, err
	}
	for _, row := range rows {
		if row.Coat != w.Coat || row.Done {
			continue
		}
		b, err := DecodeBench(row, false)
		if err != nil {
			return 0, err
		}
		events, err := MetOnScale(batch)(b, b.Now(l.When(ctx)))
		if err != nil {
			return 0, err
		}
		return b.ID, l.append(ctx, tx, b, events)
	}
	return 0, nil
}

// standsFor is how long before a bench day a weigh-out still is of it: what met
// earlier is no liquid any more.
const standsFor = 12 * time.Hour

// WeighedBy reports whether a weigh-out is of the day: of its coat, and begun in it or
// in the hours before.
func (b Bench) WeighedBy(w weighing.Weighing) bool {
	return w.Coat == b.Coat && w.At.After(b.At.Add(-standsFor))
}

// takeOver starts the clocks of a bench day that was just begun from the newest
// weigh-out of its coat, where no other day had that and it has not set.
func (l *Log) takeOver(ctx context.Context, tx *store.Tx, id int64) error {
	row, err := tx.Session(ctx, store.Benches, id)
	if err != nil {
		return err
	}
	b, err := DecodeBench(row, false)
	if err != nil {
		return err
	}
	met, err := metBefore(ctx, tx, b)
	if err != nil {
		return err
	}
	var events []Event
	trial := b
	for i, at := range met {
		more, err := MetBefore(i+1)(trial, at)
		if err != nil {
			return err
		}
		events = append(events, more...)
		trial.Events = append(trial.Events, more...)
	}
	return l.append(ctx, tx, b, events)
}

// metBefore is when the batches of a bench day met on the scale before it was begun.
func metBefore(ctx context.Context, tx *store.Tx, b Bench) ([]time.Time, error) {
	rows, err := tx.SessionsOf(ctx, store.Weighings, b.PieceID)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		w, err := weighing.Decode(row)
		if err != nil {
			return nil, err
		}
		if !b.WeighedBy(w) {
			continue
		}
		if taken, err := takenBy(ctx, tx, b, w); taken || err != nil {
			return nil, err
		}
		met := w.Met()
		if len(met) > 0 && b.At.Sub(met[0]).Minutes() > b.Clock(cure.Constant(b.Room)).Gel() {
			return nil, nil // it was poured without the bench, or thrown away
		}
		return met, nil
	}
	return nil, nil
}

// takenBy reports whether another bench day of the coat poured what was weighed.
func takenBy(ctx context.Context, tx *store.Tx, b Bench, w weighing.Weighing) (bool, error) {
	days, err := daysOf(ctx, tx, b.PieceID)
	return slices.ContainsFunc(days, func(day Bench) bool {
		met := day.BatchesMixed()
		return day.ID != b.ID && day.Coat == b.Coat && len(met) > 0 && !met[len(met)-1].Before(w.At)
	}), err
}
