// Package bench is the day of a coat: it starts bench days, rehearsals and
// weigh-outs from the plan, and says what a screen shows at a moment, by the
// clock of each lot along the room as it really was.
package bench

import (
	"context"
	"io"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/setup"
	"jevvo/internal/words"
)

// A Service leads coats at the bench.
type Service struct {
	store    *store.Store
	setup    *setup.Service
	pieces   *pieces.Service
	agenda   *agenda.Service
	log      *session.Log
	pictures *picture.Desk
	now      func() time.Time
	devices  *Devices
}

// New returns the service.
func New(db *store.Store, set *setup.Service, ps *pieces.Service, ag *agenda.Service, log *session.Log, desk *picture.Desk, devices *Devices, now func() time.Time) *Service {
	return &Service{db, set, ps, ag, log, desk, now, devices}
}

// Log returns the log of sessions.
func (s *Service) Log() *session.Log { return s.log }

// Devices returns the instruments on the bench.
func (s *Service) Devices() *Devices { return s.devices }

// Speeds are how fast a rehearsal can run.
var Speeds = []float64{1, 10, 60}

// fastest is how fast a rehearsal can run at most.
const fastest = 60

// view returns the plan of a piece as the agenda has it.
func (s *Service) view(ctx context.Context, piece int64) (agenda.View, error) {
	p, err := s.pieces.Piece(ctx, piece)
	if err != nil {
		return agenda.View{}, err
	}
	return s.agenda.Plan(ctx, p)
}

// Undone returns the preparations before a coat that nobody has ticked off.
func Undone(v agenda.View, coat string) []plan.Task {
	var out []plan.Task
	for _, t := range v.Tasks {
		if t.Key == plan.PourKey(coat) {
			break
		}
		if _, done := v.Timing.Happened[t.Key]; !done && (t.Kind == plan.TaskPrepare || t.Kind == plan.TaskBetween || t.Kind == plan.TaskPour) {
			out = append(out, t)
		}
	}
	return out
}

// Start begins a bench day for a coat, or a rehearsal when speed is not 0. A
// bench day of the coat that still goes on is returned instead. A day on a
// board that is not prepared starts only when that is wanted knowingly, and
// keeps what was open.
func (s *Service) Start(ctx context.Context, piece int64, coat string, speed float64, anyway bool) (session.Bench, error) {
	v, err := s.view(ctx, piece)
	if err != nil {
		return session.Bench{}, err
	}
	if speed != 0 && !(speed >= 1 && speed <= fastest) {
		return session.Bench{}, form.Refusef("speed", "a rehearsal runs between once and sixty times as fast")
	}
	c := v.Plan.Coat(coat)
	if c == nil {
		return session.Bench{}, store.ErrNotFound
	}
	b := session.Bench{Piece: v.Piece.Name, Name: words.Coat(c), Technique: c.Technique.Name, Kinetics: c.Product.Kinetics, Film: c.Film, Faces: c.Faces,
		Room: c.Room, Taped: v.Piece.Taped(), Speed: speed, Lots: len(c.Lots),
		Steps: session.Steps(v.Plan, c, func(st plan.Step) string { return words.Step(st, len(c.Lots)) })}
	if speed == 0 {
		for _, t := range Undone(v, coat) {
			b.Open = append(b.Open, words.Task(t, v.Plan))
		}
		if len(b.Open) > 0 && !anyway && !s.goesOn(ctx, piece, coat) {
			return b, form.Refusef("anyway", "not done yet: %s. Tick it off, or start anyway", strings.ToLower(words.List(b.Open)))
		}
	}
	return s.log.StartBench(ctx, piece, coat, b, speed != 0)
}

// goesOn reports whether a bench day of the coat is open already.
func (s *Service) goesOn(ctx context.Context, piece int64, coat string) bool {
	benches, err := s.log.BenchesOf(ctx, piece, false)
	if err != nil {
		return false
	}
	for _, b := range benches {
		if b.Coat == coat && !b.Done {
			return true
		}
	}
	return false
}

// longestNote bounds what is written at the bench.
const longestNote = 2000

// Note keeps words at the step in hand. A note is never refused for being late:
// it goes on top of what other screens did.
func (s *Service) Note(ctx context.Context, id int64, rehearsal bool, text string) (session.Bench, error) {
	text = strings.TrimSpace(text)
	if text == "" || len([]rune(text)) > longestNote {
		return session.Bench{}, form.Refusef("note", "a note has between 1 and %d letters", longestNote)
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.Noted(session.Note, text, 0))
}

// Photo keeps a photograph of a bench day.
func (s *Service) Photo(ctx context.Context, id int64, r io.Reader) (session.Bench, error) {
	if _, err := s.log.Bench(ctx, id, false); err != nil {
		return session.Bench{}, err
	}
	jpeg, err := s.pictures.Reduce(ctx, r)
	if err != nil {
		return session.Bench{}, &form.Refused{Field: "photo", Err: err}
	}
	return s.log.AddPhoto(ctx, id, jpeg)
}

// Picture returns a photograph of a bench day as JPEG.
func (s *Service) Picture(ctx context.Context, bench, id int64) ([]byte, error) {
	return s.store.Picture(ctx, store.BenchPictures, bench, id)
}

// StartWeighing begins the weigh-out of a coat, lot by lot.
func (s *Service) StartWeighing(ctx context.Context, piece int64, coat string) (session.Weighing, error) {
	v, err := s.view(ctx, piece)
	if err != nil {
		return session.Weighing{}, err
	}
	c := v.Plan.Coat(coat)
	if c == nil {
		return session.Weighing{}, store.ErrNotFound
	}
	return s.log.StartWeighing(ctx, piece, coat, session.NewWeighing(v.Plan, c, words.Coat(c)))
}

// errNoScale is said where a press needs a scale that is connected.
var errNoScale = form.Refusef("grams", "no scale is connected; type what yours shows")

// errMoving is said while the scale has not come to rest.
var errMoving = form.Refusef("grams", "the scale is still moving; wait until it rests, then press again")

// Tare sets the scale to zero under the empty cup and goes on, once it rests;
// without a connected scale it only goes on. The scale is touched only when the
// step shown still is the tare: a late press on another screen must not zero it
// under a cup that is filling.
func (s *Service) Tare(ctx context.Context, id, rev int64) (session.Weighing, error) {
	return s.log.Take(ctx, id, rev, func(w session.Weighing) (units.Mass, bool, error) {
		if w.Stage != session.WeighTare {
			return 0, false, form.Refusef("grams", "this cup is tared already")
		}
		scale := s.devices.Scale()
		if scale == nil {
			return 0, true, nil
		}
		if !scale.Read().Stable {
			return 0, false, errMoving
		}
		scale.Tare()
		return scale.Read().Grams, false, nil
	})
}

// Confirm takes what the connected scale shows for the current step, once it
// rests.
func (s *Service) Confirm(ctx context.Context, id, rev int64) (session.Weighing, error) {
	return s.log.Take(ctx, id, rev, func(session.Weighing) (units.Mass, bool, error) {
		scale := s.devices.Scale()
		if scale == nil {
			return 0, false, errNoScale
		}
		r := scale.Read()
		if !r.Stable {
			return 0, false, errMoving
		}
		return r.Grams, false, nil
	})
}

// heaviest is more than any bench scale weighs.
const heaviest = 50 * units.Kilogram

// Typed takes what a painter read off another scale for this pour, or off the
// marks of a jug.
func (s *Service) Typed(ctx context.Context, id, rev int64, text string) (session.Weighing, error) {
	return s.log.Take(ctx, id, rev, func(w session.Weighing) (units.Mass, bool, error) {
		r, err := units.ParseMass(text, "g")
		if v, volumeErr := units.ParseVolume(text, bareIf(w.ByVolume)); volumeErr == nil && (err != nil || w.ByVolume) {
			r.Value, err = w.Mass(v.Value), nil
		}
		if err != nil {
			return 0, true, &form.Refused{Field: "grams", Err: err}
		}
		if r.Value < 0 || r.Value > heaviest {
			return 0, true, form.Refusef("grams", "a reading is between 0 and 50 kg")
		}
		return w.Base + r.Value, true, nil
	})
}

// bareIf is the unit of a bare number for those who go by marks; none for those
// who weigh, so that it is read as grams.
func bareIf(byVolume bool) string {
	if byVolume {
		return "ml"
	}
	return ""
}
