// Package agenda plans the days of all pieces in the making: it evaluates every
// piece, lays all their tasks out as one schedule, and lays the pieces anew on
// the days that come out. There is one agenda; whatever shows a time of a piece
// reads it here.
package agenda

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/schedule"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
)

// Most is how many open pieces are planned at once; those due first.
const Most = 400

// An Agenda is the plan of all open pieces. It is not changed once it was made.
type Agenda struct {
	Now, Base time.Time
	Book      *materials.Book
	Tasks     []Task // in order of time
	Pieces    []Piece
	Late      int // minutes, summed over pieces
	LastEnd   time.Time
	Bound     time.Time
	Proven    bool
	Notes     []Note // what was given up, missed or left out
	Reasons   []schedule.Reason
	Problem   schedule.Problem // names and waits, to put the reasons in words
	More      int              // open pieces beyond those that are planned
	// Stale says that something has changed since and the new one is being made.
	Stale bool

	at    map[int64]int
	until time.Time
}

// A Task is a task with its time.
type Task struct {
	plan.Task
	PieceID   int64
	Piece     string
	Swatch    string
	Plan      *plan.Plan
	Start     time.Time
	End       time.Time
	Done      bool
	Pinned    bool
	NotBefore time.Time // of its window; zero for none
	NotAfter  time.Time
	Late      bool
}

// A Piece is one piece of the agenda as a whole.
type Piece struct {
	ID, Rev int64
	Name    string
	Swatch  string
	Due     time.Time
	End     time.Time
	Late    time.Duration
	RackIn  time.Time // its stay on the rack
	RackTo  time.Time
	Plan    *plan.Plan
}

// NextPours are the next coats to pour, one a piece and the earliest first, at most n. Pieces for which
// busy holds are left out.
func (a *Agenda) NextPours(n int, busy func(piece int64) bool) []Task {
	seen := map[int64]bool{}
	var out []Task
	for _, t := range a.Tasks {
		if t.Kind != plan.TaskPour || t.Done || seen[t.PieceID] || busy(t.PieceID) {
			continue
		}
		seen[t.PieceID] = true
		out = append(out, t)
	}
	slices.SortStableFunc(out, func(a, b Task) int { return a.Start.Compare(b.Start) })
	return out[:min(n, len(out))]
}

// Of returns a piece of the agenda, nil when it is not planned.
func (a *Agenda) Of(id int64) *Piece {
	if i, ok := a.at[id]; ok {
		return &a.Pieces[i]
	}
	return nil
}

// TasksOf returns a piece's tasks in order of time.
func (a *Agenda) TasksOf(id int64) []Task {
	var out []Task
	for _, t := range a.Tasks {
		if t.PieceID == id {
			out = append(out, t)
		}
	}
	return out
}

// A Note is something the agenda has to say of a piece: a code with arguments.
type Note struct {
	Code  NoteCode
	Piece int64
	Name  string
	Task  *plan.Task
	Plan  *plan.Plan
	At    time.Time
	Need  int
	Have  int
	Err   error
}

// NoteCode names what a note says.
type NoteCode string

// The codes.
const (
	PinLetGo      NoteCode = "pin-let-go"     // Task, At
	WindowsGiven  NoteCode = "windows-given"  // up, because no hours let it keep them
	NoPlaceFits   NoteCode = "no-place-fits"  // on the rack
	FewPlaces     NoteCode = "few-places"     // Need, Have
	NotCalculated NoteCode = "not-calculated" // Err
	LeftOut       NoteCode = "left-out"
	TapeMissed    NoteCode = "tape-missed"  // Task, At: when its window closed
	TackyMissed   NoteCode = "tacky-missed" // Task, At
	WindowMissed  NoteCode = "window-missed"
)

// Out reports whether the note says that the piece is not planned at all.
func (n Note) Out() bool { return n.Code == LeftOut || n.Code == NotCalculated }

// Repair reports whether the note says that a window has closed.
func (n Note) Repair() bool {
	return n.Code == TapeMissed || n.Code == TackyMissed || n.Code == WindowMissed
}

// A Service makes the agenda and remembers it.
type Service struct {
	store     *store.Store
	materials *materials.Service
	log       *session.Log
	now       func() time.Time
	solves    cache.Memo[string, solved]
	made      cache.Memo[madeKey, *Agenda]
	helps     cache.Memo[*Agenda, []WayOut]
	wait      time.Duration

	mu      sync.Mutex
	latest  *Agenda
	key     standingKey
	plans   cache.Memo[planKey, calculated]
	benches cache.Memo[store.Versions, bench]
	marks   cache.Memo[store.Versions, map[int64][]store.TaskMark]
}

// New returns the service. wait bounds how long a page waits for a new agenda
// while there is an older one to show; 0 waits until it is made.
func New(db *store.Store, mats *materials.Service, log *session.Log, now func() time.Time,
	wait time.Duration) *Service {
	return &Service{store: db, materials: mats, log: log, now: now, wait: wait,
		plans:  cache.Memo[planKey, calculated]{Most: mostPlans},
		solves: cache.Memo[string, solved]{Most: 24}, made: cache.Memo[madeKey, *Agenda]{Most: 2},
		helps: cache.Memo[*Agenda, []WayOut]{Most: 2}}
}

// madeKey is the key of an agenda; with the time going on it is made anew.
type madeKey struct {
	standingKey
	minutes5 int64
}

// Current returns the agenda as it stands now.
func (s *Service) Current(ctx context.Context) (*Agenda, error) {
	st, err := s.stand(ctx)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	latest := s.latest
	good := latest != nil && s.key == st.key && s.now().Before(latest.until)
	s.mu.Unlock()
	if good {
		return latest, nil
	}
	key := madeKey{st.key, s.now().Unix() / 300}
	if latest == nil || s.wait == 0 {
		return s.made.Get(ctx, key, func(ctx context.Context) (*Agenda, error) { return s.make(ctx, st) })
	}
	patient, done := context.WithTimeout(ctx, s.wait)
	defer done()
	a, err := s.made.Get(patient, key, func(ctx context.Context) (*Agenda, error) { return s.make(ctx, st) })
	if errors.Is(err, context.DeadlineExceeded) && ctx.Err() == nil {
		old := *latest
		old.Stale = true
		return &old, nil
	}
	return a, err
}

// make plans all open pieces.
func (s *Service) make(ctx context.Context, st inputs) (*Agenda, error) {
	g, err := s.gather(ctx, st, nil)
	if err != nil {
		return nil, err
	}
	a, err := s.build(ctx, g)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	s.latest, s.key = a, st.key
	s.mu.Unlock()
	return a, nil
}

// planKey is the key of a plan: the piece's revision and the book, and for
// a plan laid on what happened the versions of that.
type planKey struct {
	id, rev  int64
	book     *materials.Book
	happened store.Versions
}

// calculated is a plan, or why there is none.
type calculated struct {
	plan *plan.Plan
	err  error
}

// mostPlans are remembered at once; all open pieces and some pages of others.
const mostPlans = 2 * Most

// evaluate calculates a piece, or remembers it.
func (s *Service) evaluate(ctx context.Context, p pieces.Piece, b *materials.Book) (*plan.Plan, error) {
	if p.ID == 0 {
		return plan.Evaluate(p.Spec, b.Context, plan.Timing{Alone: true})
	}
	r, err := s.plans.Get(ctx, planKey{id: p.ID, rev: p.Rev, book: b}, func(context.Context) (calculated, error) {
		made, err := plan.Evaluate(p.Spec, b.Context, plan.Timing{Alone: true})
		return calculated{made, err}, nil
	})
	if err != nil {
		return nil, err
	}
	return r.plan, r.err
}

// Alone calculates a piece as if nothing else were in hand: for ideas, and for
// what is done. An error is a form.Refused when the piece cannot be calculated.
func (s *Service) Alone(ctx context.Context, p pieces.Piece) (*plan.Plan, error) {
	st, err := s.stand(ctx)
	if err != nil {
		return nil, err
	}
	return s.alone(ctx, p, st)
}

func (s *Service) alone(ctx context.Context, p pieces.Piece, st inputs) (*plan.Plan, error) {
	made, err := s.evaluate(ctx, p, st.book)
	if err != nil {
		return made, refused(err)
	}
	if p.ID == 0 {
		return made, nil
	}
	key := planKey{p.ID, p.Rev, st.book, st.happened}
	r, err := s.plans.Get(ctx, key, func(ctx context.Context) (calculated, error) {
		benches := st.happens[p.ID]
		if p.State != plan.Open { // those of open pieces are read together
			list, err := s.log.BenchesOf(ctx, p.ID, false)
			if err != nil {
				return calculated{}, err
			}
			benches = session.Happened(list)
		}
		if did := happened(made, benches, st.marks[p.ID]); len(did) > 0 {
			return calculated{plan: made.At(plan.Timing{Alone: true, Happened: did})}, nil
		}
		return calculated{plan: made}, nil
	})
	return r.plan, err
}

func refused(err error) error {
	var r *plan.Refusal
	if errors.As(err, &r) {
		return &form.Refused{Field: r.Field, Err: r.Err}
	}
	return err
}
