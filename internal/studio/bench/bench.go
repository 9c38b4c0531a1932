// Package bench is the day of a coat: it starts bench days, rehearsals and
// weigh-outs from the plan, and says what a screen shows at a moment, by the
// clock of each batch along the room as it really was.
package bench

import (
	"context"
	"io"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/device"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/words"
)

// A Service leads coats at the bench.
type Service struct {
	store    *store.Store
	setup    *setup.Service
	pieces   *pieces.Service
	stock    *stock.Service
	agenda   *agenda.Service
	log      *session.Log
	pictures *picture.Desk
	now      func() time.Time
	devices  *Devices
}

// New returns the service.
func New(db *store.Store, set *setup.Service, ps *pieces.Service, st *stock.Service, ag *agenda.Service,
	log *session.Log, desk *picture.Desk, devices *Devices, now func() time.Time) *Service {
	return &Service{db, set, ps, st, ag, log, desk, now, devices}
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

// Guards returns what is open before a coat of a piece is begun now.
func (s *Service) Guards(ctx context.Context, v agenda.View, coat string) ([]plan.Guard, error) {
	c := v.Plan.Coat(coat)
	if c == nil {
		return nil, store.ErrNotFound
	}
	l, err := s.stock.Ledger(ctx)
	if err != nil {
		return nil, err
	}
	f := plan.Facts{Now: s.now()}
	f.Resins, f.Pigments = l.Held()
	f.Old = map[int64]bool{c.Product.ID: l.Aged(c.Product.ID, f.Now)}
	rows, err := s.store.Levels(ctx, v.Piece.ID)
	if err != nil {
		return nil, err
	}
	if len(rows) > 0 {
		l := Levelling{View: v, Board: v.Boards[0], Coat: c}
		lie, err := l.lie(surface.Tilt{Along: units.Angle(rows[0].Along), Across: units.Angle(rows[0].Across)})
		if err != nil {
			return nil, err
		}
		f.Level = plan.LevelFact{At: rows[0].At, Drop: lie.WorstDrop(), Enough: lie.LevelEnough(c.Film)}
	}
	return v.Plan.Guards(coat, f), nil
}

// Answers are a painter's answers to open points, by their keys; Anyway or AllDone answers
// all that were not.
type Answers struct {
	How     map[string]session.Answer
	Why     map[string]string
	Anyway  bool
	AllDone bool
	Names   []string // of the people at the bench
}

// longestWhy bounds a reason.
const longestWhy = 200

// answered keeps every open point with its answer; it returns those that have
// none, and the tasks that were done just now.
func (a Answers) answered(open []plan.Guard, style form.Style) (kept []session.Guard, done, left []string, err error) {
	for _, g := range open {
		one := session.Guard{What: strings.TrimSuffix(msg.Say(words.Plain(g.Diagnostic, style.Units), style.Lang), "."),
			How: a.How[g.Key],
			Why: strings.TrimSpace(a.Why[g.Key])}
		switch {
		case one.How != "":
		case a.AllDone:
			one.How = session.DoneNow
		case a.Anyway:
			one.How = session.Anyway
		}
		switch one.How {
		case session.DoneNow:
			if g.Task != "" {
				done = append(done, g.Task)
			}
		case session.Unneeded:
			if one.Why == "" || len([]rune(one.Why)) > longestWhy {
				return nil, nil, nil, form.Refusef("guard."+g.Key, "enter in a few words why it is not needed: %s", one.What)
			}
		case session.Anyway:
		default:
			left = append(left, one.What)
		}
		kept = append(kept, one)
	}
	return kept, done, left, nil
}

// Start begins a bench day for a coat, or a rehearsal when speed is not 0. A
// bench day of the coat that still goes on is returned instead. What the plan
// says must be done and is not, is answered first, and kept with the answer.
func (s *Service) Start(ctx context.Context, piece int64, coat string, speed float64, answers Answers) (session.Bench,
	error) {
	v, err := s.view(ctx, piece)
	if err != nil {
		return session.Bench{}, err
	}
	if speed != 0 && !(speed >= 1 && speed <= fastest) {
		return session.Bench{}, form.Refusef("speed", "a rehearsal runs 1 to 60 times as fast")
	}
	c := v.Plan.Coat(coat)
	if c == nil {
		return session.Bench{}, store.ErrNotFound
	}
	goods, err := s.stock.Goods(ctx)
	if err != nil {
		return session.Bench{}, err
	}
	b := session.Bench{Piece: v.Piece.Name, Name: msg.Store(words.Coat(c)),
		Listed:    words.Coat(c).In(v.Agenda.Book.Settings.Lang()),
		Technique: c.Technique.Name, Way: c.Layer.What,
		Kinetics: c.Product.Kinetics, Film: c.Film, Faces: c.Faces,
		Room: c.Room, Taped: v.Piece.Taped(), Face: v.Face, EdgeHeight: stands(v.Plan, c), Product: &c.Product,
		Resin: c.Product.ID, Cups: session.Cups(v.Plan, c), Speed: speed, Batches: session.Batches(c),
		People: session.Crew(c.People, answers.Names),
		Takes:  stock.Takes(v.Plan, c, goods),
		Steps: session.Steps(v.Plan, c, func(st plan.Step) msg.Text { return words.Step(st, len(c.Batches)) },
			v.Agenda.Book.Settings.Units)}
	if speed != 0 {
		b.Trials = s.trials(b)
	}
	var done []string
	if speed == 0 && !s.goesOn(ctx, piece, coat) {
		open, err := s.Guards(ctx, v, coat)
		if err != nil {
			return b, err
		}
		var left []string
		if b.Guards, done, left, err = answers.answered(open, v.Agenda.Book.Settings.Style()); err != nil {
			return b, err
		}
		if len(left) > 0 {
			return b, form.Refusef("anyway", "open before the first step: %s. Answer each, or start anyway",
				strings.Join(left, "; "))
		}
	}
	return s.log.StartBench(ctx, piece, coat, b, speed != 0, done)
}

// trials are the mishaps of a rehearsal, different each time.
func (s *Service) trials(b session.Bench) []wet.Trial {
	cups := make([]string, len(b.Cups))
	for i, c := range b.Cups {
		cups[i] = c.ID
	}
	return wet.Trials(uint64(s.now().UnixMilli()), cups)
}

// stands is the thickness an open edge holds; 0 behind a dam or a rim.
func stands(p *plan.Plan, c *plan.Coat) units.Length {
	if p.Spec.Dammed() {
		return 0
	}
	return c.Puddle.Height
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
		return session.Bench{}, form.Refusef("note", "a note has between 1 and %d characters", longestNote)
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.Noted(session.Note, text, 0))
}

// Photo keeps a photograph of a bench day with the moment it shows; "" is the one
// it most likely shows. The same photograph is kept once.
func (s *Service) Photo(ctx context.Context, id int64, r io.Reader, moment string) (session.Bench, error) {
	b, err := s.log.Bench(ctx, id, false)
	if err != nil {
		return b, err
	}
	if !slices.Contains(session.Moments, msg.ID(moment)) {
		moment = b.Moment()
	}
	jpeg, err := s.pictures.Reduce(ctx, r)
	if err != nil {
		return session.Bench{}, &form.Refused{Field: "photo", Err: err}
	}
	return s.log.AddPhoto(ctx, id, jpeg, moment)
}

// Picture returns a photograph of a bench day as JPEG.
func (s *Service) Picture(ctx context.Context, bench, id int64) ([]byte, error) {
	return s.store.Picture(ctx, store.BenchPictures, bench, id)
}

// StartWeighing begins the weigh-out of a coat, batch by batch.
func (s *Service) StartWeighing(ctx context.Context, piece int64, coat string) (weighing.Weighing, error) {
	v, err := s.view(ctx, piece)
	if err != nil {
		return weighing.Weighing{}, err
	}
	c := v.Plan.Coat(coat)
	if c == nil {
		return weighing.Weighing{}, store.ErrNotFound
	}
	return s.log.StartWeighing(ctx, piece, coat,
		weighing.New(v.Plan, c, words.Coat(c), v.Agenda.Book.Settings.Lang(), v.Agenda.Book.Settings.Units))
}

// errNoScale is said where a press needs a scale that is connected.
var errNoScale = form.Refusef("grams", "no scale is connected; type what yours shows")

// errLost is said while a connected scale keeps silent.
var errLost = form.Refusef("grams", "no signal from the scale: check its cable, or type what it shows")

// errMoving is said while the scale has not come to rest.
var errMoving = form.Refusef("grams", "the scale is still moving; wait until it rests, then press again")

// resting refuses a reading that is not to be believed yet.
func resting(r device.Weight) error {
	switch {
	case r.Lost:
		return errLost
	case !r.Stable:
		return errMoving
	}
	return nil
}

// Tare sets the scale to zero under the empty cup and goes on, once it rests;
// without a connected scale it goes on with what the empty cup weighs, where
// that stays in the readings. The scale is touched only when the
// step shown still is the tare: a late press on another screen must not zero it
// under a cup that is filling.
func (s *Service) Tare(ctx context.Context, id, rev int64, text string) (weighing.Weighing, error) {
	return s.log.Take(ctx, id, rev, func(w weighing.Weighing) (units.Mass, bool, error) {
		if w.Stage != weighing.Tare {
			return 0, false, form.Refusef("grams", "this cup is tared already")
		}
		scale := s.devices.Scale()
		if scale == nil || scale.Read().Lost { // what it shows is typed
			reading, err := w.Typed(text)
			return reading, true, err
		}
		if err := resting(scale.Read()); err != nil {
			return 0, false, err
		}
		scale.Tare()
		return scale.Read().Grams, false, nil
	})
}

// Confirm takes what the connected scale shows for the current step, once it
// rests.
func (s *Service) Confirm(ctx context.Context, id, rev int64) (weighing.Weighing, error) {
	return s.log.Take(ctx, id, rev, func(weighing.Weighing) (units.Mass, bool, error) {
		scale := s.devices.Scale()
		if scale == nil {
			return 0, false, errNoScale
		}
		r := scale.Read()
		return r.Grams, false, resting(r)
	})
}

// Typed takes what a painter read off another scale for this pour, or off the
// marks of a jug.
func (s *Service) Typed(ctx context.Context, id, rev int64, text string) (weighing.Weighing, error) {
	return s.log.Take(ctx, id, rev, func(w weighing.Weighing) (units.Mass, bool, error) {
		reading, err := w.Typed(text)
		return reading, true, err
	})
}
