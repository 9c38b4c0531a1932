package session

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/hub"
	"jevvo/internal/studio/stock"
)

// A Log keeps sessions and tells every open screen of changes.
type Log struct {
	store *store.Store
	now   func() time.Time
	hub   hub.Hub[key]
}

// NewLog returns the log of a store.
func NewLog(db *store.Store, now func() time.Time) *Log { return &Log{store: db, now: now} }

func kindOf(rehearsal bool) store.SessionKind {
	if rehearsal {
		return store.Rehearsals
	}
	return store.Benches
}

// Bench returns a bench day, or a rehearsal.
func (l *Log) Bench(ctx context.Context, id int64, rehearsal bool) (Bench, error) {
	row, err := l.store.Session(ctx, kindOf(rehearsal), id)
	if err != nil {
		return Bench{}, err
	}
	return DecodeBench(row, rehearsal)
}

func decodeBenches(rows []store.Session, rehearsal bool, err error) ([]Bench, error) {
	if err != nil {
		return nil, err
	}
	out := make([]Bench, len(rows))
	for i, row := range rows {
		if out[i], err = DecodeBench(row, rehearsal); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// BenchesOf returns a piece's bench days or rehearsals, newest first.
func (l *Log) BenchesOf(ctx context.Context, piece int64, rehearsal bool) ([]Bench, error) {
	rows, err := l.store.SessionsOf(ctx, kindOf(rehearsal), piece)
	return decodeBenches(rows, rehearsal, err)
}

// OpenBenches returns the bench days that go on.
func (l *Log) OpenBenches(ctx context.Context) ([]Bench, error) {
	rows, err := l.store.OpenSessions(ctx, store.Benches)
	return decodeBenches(rows, false, err)
}

// Running is a bench day that goes on, in a few words.
type Running struct {
	store.Running
	Name msg.Stored // of the coat
}

// Running returns the bench days that go on.
func (l *Log) Running(ctx context.Context) ([]Running, error) {
	rows, err := l.store.RunningBenches(ctx)
	out := make([]Running, len(rows))
	for i, r := range rows {
		out[i].Running = r
		if err := json.Unmarshal(r.Name, &out[i].Name); err != nil {
			return nil, fmt.Errorf("read the name of a coat: %w", err)
		}
	}
	return out, err
}

// AllBenches returns the bench days of the pieces in the making, by piece and
// newest first.
func (l *Log) AllBenches(ctx context.Context) (map[int64][]Bench, error) {
	rows, err := l.store.BenchesOfOpen(ctx)
	all, err := decodeBenches(rows, false, err)
	out := map[int64][]Bench{}
	for _, b := range all {
		out[b.PieceID] = append(out[b.PieceID], b)
	}
	return out, err
}

// StartBench begins a bench day for a coat, or a rehearsal. A bench day of the
// coat that still goes on is returned instead. Tasks that were done just now are
// marked in the same change.
func (l *Log) StartBench(ctx context.Context, piece int64, coat string, b Bench, rehearsal bool, done []string) (Bench,
	error) {
	id := int64(0)
	err := l.store.Write(ctx, "start the bench day", func(tx *store.Tx) error {
		if !rehearsal {
			rows, err := tx.SessionsOf(ctx, store.Benches, piece)
			if err != nil {
				return err
			}
			for _, row := range rows {
				if row.Coat == coat && !row.Done {
					id = row.ID
					return nil
				}
			}
		}
		for _, task := range done {
			if err := tx.SetTaskMark(ctx,
				store.TaskMark{Piece: piece, Task: task, Kind: store.MarkDone, At: l.now()}); err != nil {
				return err
			}
		}
		var err error
		id, err = tx.StartSession(ctx, kindOf(rehearsal), piece, coat, b, l.now())
		if err != nil || rehearsal {
			return err
		}
		return l.takeOver(ctx, tx, id)
	})
	if err != nil {
		return b, err
	}
	return l.Bench(ctx, id, rehearsal)
}

// Press does a press on the state the screen was showing, rev; a rev of 0 means
// whatever it is now. When another screen was faster nothing is doubled: the
// newer state comes back with ErrStale.
func (l *Log) Press(ctx context.Context, id, rev int64, rehearsal bool, press Press) (Bench, error) {
	var wrong error
	err := l.store.Write(ctx, "keep the step", func(tx *store.Tx) error {
		row, err := tx.Session(ctx, kindOf(rehearsal), id)
		if err != nil {
			return err
		}
		b, err := DecodeBench(row, rehearsal)
		if err != nil {
			return err
		}
		if rev != 0 && b.Rev != rev {
			wrong = ErrStale
			return nil
		}
		events, err := press(b, b.Now(l.When(ctx)))
		if err != nil {
			wrong = err
			return nil
		}
		return l.append(ctx, tx, b, events)
	})
	if err != nil {
		return Bench{}, err
	}
	fresh, err := l.Bench(ctx, id, rehearsal)
	if wrong == nil && err == nil {
		l.hub.Tell(benchKey(id, rehearsal))
	}
	return fresh, errors.Join(wrong, err)
}

func (l *Log) append(ctx context.Context, tx *store.Tx, b Bench, events []Event) error {
	if len(events) == 0 {
		return nil
	}
	docs, kept := make([]any, len(events)), make([]Event, len(events))
	for i, e := range events { // all by the day they were pressed on
		kept[i] = b.kept(e)
	}
	for i, e := range kept {
		e.By = personOf(ctx)
		docs[i] = e
		b.apply(e)
	}
	if err := tx.AppendEvents(ctx, kindOf(b.Rehearsal), b.ID, b.Rev, docs, b.Finished()); err != nil {
		return err
	}
	if b.Rehearsal {
		return nil
	}
	if err := b.book(ctx, tx, events[len(events)-1].At); err != nil {
		return err
	}
	if !b.Finished() {
		return tx.SetStepTimes(ctx, b.ID, nil)
	}
	return tx.SetStepTimes(ctx, b.ID, b.Took())
}

// book books what the coat takes by its plan once the first parts have met, and puts
// it back when that is taken back. Every bench day of the coat took that much.
func (b Bench) book(ctx context.Context, tx *store.Tx, at time.Time) error {
	if len(b.Takes) == 0 {
		return nil
	}
	days, err := daysOf(ctx, tx, b.PieceID)
	if err != nil {
		return err
	}
	takes, added := stock.Amounts{}, stock.Amounts{}
	for _, day := range days {
		if day.Coat != b.Coat || len(day.BatchesMixed()) == 0 {
			continue
		}
		for t, v := range day.Takes {
			if stock.Measured(t) {
				v *= day.mixedShare()
			}
			takes[t] += v
		}
		for _, s := range day.Steps {
			if !s.Added || !day.hasMet(s.BatchNo) {
				continue
			}
			for t, v := range s.Takes {
				added[t] += v
			}
		}
	}
	if err := stock.Settle(ctx, tx, b.PieceID, b.Coat, stock.Planned, takes, at); err != nil {
		return err
	}
	return stock.Settle(ctx, tx, b.PieceID, b.Coat, stock.Added, added, at)
}

// daysOf reads the bench days of a piece within a change.
func daysOf(ctx context.Context, tx *store.Tx, piece int64) ([]Bench, error) {
	rows, err := tx.SessionsOf(ctx, store.Benches, piece)
	return decodeBenches(rows, false, err)
}

// AddPhoto keeps a photograph of a bench day and notes what it shows, in one
// change; one that is kept already is not kept twice.
func (l *Log) AddPhoto(ctx context.Context, id int64, jpeg []byte, moment string) (Bench, error) {
	err := l.store.Write(ctx, "keep the photograph", func(tx *store.Tx) error {
		row, err := tx.Session(ctx, store.Benches, id)
		if err != nil {
			return err
		}
		b, err := DecodeBench(row, false)
		if err != nil {
			return err
		}
		if kept, err := tx.HasPicture(ctx, store.BenchPictures, id, jpeg); err != nil || kept {
			return err
		}
		photo, err := tx.AddPicture(ctx, store.BenchPictures, id, jpeg, l.now())
		if err != nil {
			return err
		}
		events, err := Noted(Photo, moment, photo)(b, b.Now(l.When(ctx)))
		if err != nil {
			return err
		}
		return l.append(ctx, tx, b, events)
	})
	if err != nil {
		return Bench{}, err
	}
	l.hub.Tell(benchKey(id, false))
	return l.Bench(ctx, id, false)
}

// Keys of screens: rehearsals and weigh-outs are told from bench days.
func benchKey(id int64, rehearsal bool) key {
	return key{kindOf(rehearsal), id}
}

// WatchBench returns a channel that gets a value whenever the bench day
// changes on any screen, until stop is called.
func (l *Log) WatchBench(id int64, rehearsal bool) (changes <-chan struct{}, stop func()) {
	return l.hub.Watch(benchKey(id, rehearsal))
}

// WatchWeighing is the same for a weigh-out.
func (l *Log) WatchWeighing(id int64) (changes <-chan struct{}, stop func()) {
	return l.hub.Watch(key{store.Weighings, id})
}

// TellAll tells every open screen that something it shows has changed.
func (l *Log) TellAll() { l.hub.TellAll() }

type key struct {
	kind store.SessionKind
	id   int64
}
