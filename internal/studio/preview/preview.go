// Package preview plays planned coats: it calculates their frames, two coats at a
// time, keeps those of the last few, and remembers what was tried by hand.
package preview

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/preview"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/pieces"
)

// Service plays coats.
type Service struct {
	Cells int // on the longer side of a board; 0 for the usual

	store  *store.Store
	pieces *pieces.Service
	agenda *agenda.Service
	now    func() time.Time
	turn   chan struct{} // to calculate
	pace   atomic.Int64  // ns that a play takes for its work

	small  cache.Memo[string, []byte]
	ranges cache.Memo[string, *Ranges]
	search cache.Memo[string, *Search]

	mu    sync.Mutex
	plays []*Play // newest last
}

// New returns the service.
func New(db *store.Store, p *pieces.Service, a *agenda.Service, now func() time.Time) *Service {
	s := &Service{
		store: db, pieces: p, agenda: a, now: now, turn: make(chan struct{}, atOnce),
		small:  cache.Memo[string, []byte]{Most: 200},
		ranges: cache.Memo[string, *Ranges]{Most: 40},
		search: cache.Memo[string, *Search]{Most: 40},
	}
	s.pace.Store(usualPace)
	return s
}

// atOnce is how many coats are calculated at once, kept how many are held: some 25
// MB each, a fine one fineWeighs times that.
const (
	atOnce     = 2
	kept       = 6
	fineWeighs = 4
)

// A View is a coat with its piece and what was tried on it.
type View struct {
	agenda.View
	Coat  *plan.Coat
	Tried Tried
}

// View returns a coat of a piece; the first one when there is none of the id.
func (s *Service) View(ctx context.Context, piece int64, coat string) (View, error) {
	p, err := s.pieces.Piece(ctx, piece)
	if err != nil {
		return View{}, err
	}
	var out View
	if out.View, out.Coat, err = s.agenda.Coat(ctx, p, coat); err != nil {
		return View{}, err
	}
	if out.Tried, err = s.Tried(ctx, piece, out.Coat.ID); err != nil {
		return out, err
	}
	return out.as(out.Tried.Take)
}

// as is the coat played as a take has it.
func (v View) as(t Take) (View, error) {
	was := v.Tried.White
	v.Tried.Take = t
	if t.White == was && t.White == 0 {
		return v, nil
	}
	spec := v.Piece.Spec
	if t.White != 0 {
		spec = withWhite(spec, v.Coat.ID, v.Agenda.Book.Pigments, t.White)
	}
	made, err := plan.Evaluate(spec, v.Agenda.Book.Context, v.Plan.Timing)
	if err != nil {
		return v, err
	}
	if c := made.Coat(v.Coat.ID); c != nil {
		v.Plan, v.Coat = made, c
	}
	return v, nil
}

// Kept is the coat as the take has it that was put aside.
func (v View) Kept() (View, error) { return v.as(*v.Tried.Kept) }

// scene is a coat with what was tried, ready to be played, with something that nobody knows
// otherwise than it is taken to be.
func (v View) scene(cells int, doubt preview.Doubt) (*preview.Scene, error) {
	t := v.Tried
	doubt.Apart = doubt.Apart || t.Apart
	s, err := preview.Of(v.Plan, v.Coat, preview.Options{
		Cells: cells, Seed: t.Seed, Plain: t.Plain, Turned: t.Turned, Bed: t.Bed, Wide: t.Wide,
		Powder: t.dusts(), Order: t.order(), Lean: t.Lean, Doubt: doubt,
	})
	if err != nil {
		return nil, err
	}
	for _, h := range t.Moves {
		s.Add(h.core(s, v.Coat.Film.Metres()))
	}
	s.Delay(60 * t.Later)
	return s, nil
}

// drawn counts the ways a pour has been drawn in so far: what a browser keeps of a play is
// told apart by it.
const drawn = 3

// key tells plays apart: what is played, and on what it stands.
func (v View) key() string {
	sum := sha256.New()
	c := v.Coat
	fmt.Fprintln(sum, drawn, v.Piece.ID, v.Piece.Rev, c.ID, c.Film, c.Room, c.Poured, c.Cups, c.Things, c.Fit.Steps)
	fmt.Fprintln(sum, c.Product.Viscosity, v.Tried.Way, v.Tried.Moves)
	return hex.EncodeToString(sum.Sum(nil)[:12])
}

// Look tells coats apart by what they look like: their board, cups and composition.
func Look(p *plan.Plan, c *plan.Coat) string {
	sum := sha256.New()
	fmt.Fprintln(sum, p.Boards[0].Path(), p.Spec.Ground, c.ID, c.Technique.ID, c.Film, c.Things)
	for _, cup := range c.Cups {
		fmt.Fprintln(sum, cup.Colour, cup.Share, cup.Look.Film)
	}
	return hex.EncodeToString(sum.Sum(nil)[:12])
}

// Play returns the play of a coat as it now is, begun if it was not.
func (s *Service) Play(v View) (*Play, error) {
	key := v.key()
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, p := range s.plays {
		if p.Key == key && p.lasts() {
			return p, nil
		}
	}
	s.plays = slices.DeleteFunc(s.plays, func(p *Play) bool { return p.Key == key })
	cells := cmp.Or(s.Cells, preview.Usual)
	if v.Tried.Fine {
		cells *= 2
	}
	scene, err := v.scene(cells, preview.Doubt{})
	if err != nil {
		return nil, err
	}
	p := newPlay(key, v, scene, s.now())
	p.Takes = time.Duration(work(scene, len(p.Times)) * float64(s.pace.Load()))
	s.plays = append(s.plays, p)
	for held(s.plays) > kept {
		s.plays[0].cancel()
		s.plays = s.plays[1:]
	}
	go p.run(s.turn, s.whole)
	return p, nil
}

// usualPace is the time a play takes per unit of work on two cores, in ns, until one was played.
const usualPace = 6000

// whole keeps what is learnt of a play that is over, and its end.
func (s *Service) whole(p *Play, took time.Duration) {
	s.pace.Store(int64(float64(took) / work(p.Scene, len(p.Times))))
	s.keepStill(p)
}

// held is how much is held, in usual plays.
func held(plays []*Play) int {
	n := 0
	for _, p := range plays {
		n++
		if p.fine {
			n += fineWeighs - 1
		}
	}
	return n
}

// Find returns a play that is still held.
func (s *Service) Find(key string) (*Play, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for _, p := range s.plays {
		if p.Key == key {
			return p, true
		}
	}
	return nil, false
}

// Stop ends a play that nobody waits for any longer.
func (s *Service) Stop(key string) {
	if p, ok := s.Find(key); ok {
		p.cancel()
	}
}

// smallCells is how many cells a variant has on its longer side, smallMost how
// long it may be calculated.
const (
	smallCells = 56
	smallMost  = time.Minute
)

// few is how many cells a variant has, no more than a whole preview.
func (s *Service) few() int { return min(smallCells, cmp.Or(s.Cells, preview.Usual)) }

// Small is a coat played another way, as it looks in the end: a small PNG.
func (s *Service) Small(ctx context.Context, v View, way Way) ([]byte, error) {
	v, err := v.as(Take{way, v.Tried.Moves})
	if err != nil {
		return nil, err
	}
	return s.small.Get(ctx, v.key(), func(ctx context.Context) ([]byte, error) {
		scene, r, err := s.played(ctx, v, s.few(), preview.Doubt{})
		if err != nil {
			return nil, err
		}
		return pictured(ctx, scene, r, usualPoints(scene.Grid))
	})
}

// played is a coat played to its end on few cells, when it is its turn.
func (s *Service) played(
	ctx context.Context, v View, cells int, doubt preview.Doubt,
) (*preview.Scene, *flow.Run, error) {
	ctx, stop := context.WithTimeout(ctx, smallMost)
	defer stop()
	scene, err := v.scene(cells, doubt)
	if err != nil {
		return nil, nil, err
	}
	select {
	case s.turn <- struct{}{}:
		defer func() { <-s.turn }()
	case <-ctx.Done():
		return nil, nil, ctx.Err()
	}
	r, err := flow.Begin(ctx, scene.Scene)
	var outdated flow.MoveError
	if errors.As(err, &outdated) { // tried on a board that has changed since: as it is without those moves
		v.Tried.Moves = nil
		if scene, err = v.scene(cells, doubt); err == nil {
			r, err = flow.Begin(ctx, scene.Scene)
		}
	}
	if err != nil {
		return nil, nil, err
	}
	return scene, r, r.To(ctx, scene.Until)
}
