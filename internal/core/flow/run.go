package flow

import (
	"context"
	"fmt"
	"math"
	"slices"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// A Clock is how the resin thickens.
type Clock interface {
	// Fluidity is ∫dt/ν from one second to another, in s²/m².
	Fluidity(from, to float64) float64
	// Viscosity is that at a second, in Pa·s.
	Viscosity(at float64) float64
}

// Constant is a liquid that does not thicken: viscosity in Pa·s, density in kg/m³.
type Constant struct{ Viscous, Density float64 }

// Fluidity is the time over the kinematic viscosity.
func (c Constant) Fluidity(from, to float64) float64 { return (to - from) * c.Density / c.Viscous }

// Viscosity is the same at any time.
func (c Constant) Viscosity(float64) float64 { return c.Viscous }

// A Cup is a poured colour.
type Cup struct {
	Density float64                  // kg/m³
	Fluid   func(at float64) float64 // how much more fluid than the clock's resin; nil for alike
	Dry     bool                     // powder: the surface carries it, and it opens no cells
}

// A Scene is a board, what is poured from and what is done.
type Scene struct {
	Grid    Grid
	Contact Contact
	Edge    float64 // up to which height the edges of the face hold the film, m
	Free    float64 // up to which height an unmasked edge does, m
	Depth   float64 // of the sides, m
	Tension float64 // of the surface, N/m
	Between float64 // tension between two colours, mN/m
	Density float64 // of the resin, kg/m³
	Room    float64 // °C
	Clock   Clock
	Cups    []Cup
	Moves   []Move
	Seed    uint64
	Uneven  float64 // by which share a hand presses a blade more or less than it means to
	Cells   bool    // whether instabilities grow
	Points  int     // along a cell at which it is kept what shows; 0 for none
	// Face reports whether a point, in mm from the corner, is on the face: a picture's rim
	// is drawn by it. The rim of the cells, when nil.
	Face func(geom.Point) bool
}

// dry says which cups are powder; nil when none is.
func (s *Scene) dry() []bool {
	if !slices.ContainsFunc(s.Cups, func(c Cup) bool { return c.Dry }) {
		return nil
	}
	out := make([]bool, len(s.Cups))
	for k, c := range s.Cups {
		out[k] = c.Dry
	}
	return out
}

const longest = 7 * 86400.0 // s

// A Run is a scene being played.
type Run struct {
	scene Scene
	coat  *Coat
	at    float64 // s
	queue []event
	done  int       // so many of them
	hot   []float64 // K above the room
	winds [2][]float64
	opens *openings
	view  *Run // what it is like between two marks; nil at one
}

// An event is something that happens at a moment.
type event struct {
	at float64
	do func()
}

// Start sets a scene up; nothing has happened yet.
func Start(s Scene) (*Run, error) { return Begin(context.Background(), s) }

// Begin is Start that ends with ctx: where a hundred moves pour, their places take a while.
func Begin(ctx context.Context, s Scene) (*Run, error) {
	if s.Clock == nil || !(s.Density > 0) || !(s.Edge >= 0) || !(s.Free >= 0) || !(s.Depth >= 0) || s.Depth > 1 {
		return nil, refusal.New("a run needs a clock, a density, edges and sides")
	}
	if len(s.Moves) > MostMoves {
		return nil, refusal.New("a coat has at most %d moves", MostMoves)
	}
	c, err := NewCoat(s.Grid, s.Contact, len(s.Cups))
	if err != nil {
		return nil, err
	}
	if err := c.film.Tension(s.Tension / s.Density); err != nil {
		return nil, err
	}
	c.Sides(s.Depth)
	c.Powder(s.dry())
	if s.Points > 0 {
		c.Skin(s.Points)
	}
	if err := c.film.Open(s.Edge, AllRound); err != nil {
		return nil, err
	}
	r := &Run{scene: s, coat: c, opens: newOpenings(s.Grid.Len())}
	for k, m := range s.Moves {
		if err := s.check(m); err != nil {
			return nil, MoveError{k, err}
		}
	}
	order := make([]int, len(s.Moves))
	for k := range order {
		order[k] = k
	}
	slices.SortStableFunc(order, func(a, b int) int { return compareAt(s.Moves[a].At, s.Moves[b].At) })
	for _, k := range order {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if err := rules[s.Moves[k].Kind].do(r, s.Moves[k]); err != nil {
			return nil, MoveError{k, err}
		}
	}
	slices.SortStableFunc(r.queue, func(a, b event) int { return compareAt(a.at, b.at) })
	return r, nil
}

// A MoveError says which move of a scene is wrong.
type MoveError struct {
	Move int
	Err  error
}

func (e MoveError) Error() string { return fmt.Sprintf("move %d: %v", e.Move+1, e.Err) }

// Unwrap returns what is wrong with it.
func (e MoveError) Unwrap() error { return e.Err }

func compareAt(a, b float64) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// then lets something happen at a moment.
func (r *Run) then(at float64, do func()) { r.queue = append(r.queue, event{at, do}) }

// At is how many seconds have passed.
func (r *Run) At() float64 { return r.seen().at }

// Coat is the film on the board.
func (r *Run) Coat() *Coat { return r.seen().coat }

// Marks of a run's own clock: between two of them warmth, batches and cells are taken as
// steady, in s. What happens is a mark too.
const (
	calm   = 60.0
	warmed = 20.0
)

// mark is the next one.
func (r *Run) mark() float64 {
	every := calm
	if r.hot != nil {
		every = warmed
	}
	next := (math.Floor(r.at/every) + 1) * every
	if len(r.queue) > 0 {
		next = math.Min(next, r.queue[0].at)
	}
	return next
}

// To plays on until a second. At which seconds a run is looked at changes nothing of what
// it comes to: it goes from mark to mark, and between two it is played on in a copy.
func (r *Run) To(ctx context.Context, at float64) error {
	if !(at >= 0) || at > longest {
		return refusal.New("a run lasts at most a week")
	}
	r.view = nil
	for {
		for len(r.queue) > 0 && r.queue[0].at <= r.at {
			do := r.queue[0].do
			r.queue = r.queue[1:]
			do()
			r.done++
		}
		if r.at >= at {
			return nil
		}
		next := r.mark()
		if next > at {
			r.view = r.fork()
			return r.view.pass(ctx, at)
		}
		if err := r.pass(ctx, next); err != nil {
			return err
		}
	}
}

// pass lets time pass in which nothing is done, and brings all to one time.
func (r *Run) pass(ctx context.Context, to float64) error {
	if err := r.wait(ctx, to); err != nil {
		return err
	}
	if err := r.coat.film.follow(ctx); err != nil {
		return err
	}
	r.coat.moves.over = part{}
	r.coat.carryAll(r.coat.film.grid.whole())
	return nil
}

// seen is the run as it is now.
func (r *Run) seen() *Run {
	if r.view != nil {
		return r.view
	}
	return r
}

// fork is a copy of the run that can be played on a little while by itself. What is only
// needed while a step is made is shared.
func (r *Run) fork() *Run {
	out, c, f, o := *r, *r.coat, *r.coat.film, *r.opens
	out.coat, c.film, out.opens, out.queue = &c, &f, &o, nil
	out.hot = slices.Clone(r.hot)
	f.h, f.move.owed = slices.Clone(f.h), slices.Clone(f.move.owed)
	if f.high = f.h; f.grid.Area != nil {
		f.high = slices.Clone(f.h)
	}
	f.moved = fluxes{slices.Clone(f.moved.x), slices.Clone(f.moved.y), slices.Clone(f.moved.out)}
	c.now = columns{slices.Clone(c.now.n), slices.Clone(c.now.cup), slices.Clone(c.now.d)}
	c.stir.now = slices.Clone(c.stir.now)
	s := &c.sides
	s.held, s.came, s.below = slices.Clone(s.held), slices.Clone(s.came), slices.Clone(s.below)
	if c.ease != nil {
		c.ease = slices.Clone(c.ease)
		f.ease = c.ease
	}
	if c.skin = c.skin.clone(); c.skin != nil {
		f.goes = func(p part) { out.coat.skin.carry(out.coat.film, p, out.coat.windy) }
	}
	o.grown, o.pair = slices.Clone(o.grown), slices.Clone(o.pair)
	o.upper, o.all = slices.Clone(o.upper), slices.Clone(o.all)
	o.sums = make(map[uint16]*meeting, len(r.opens.sums))
	for pair, m := range r.opens.sums {
		met := *m
		o.sums[pair] = &met
	}
	return &out
}

// Settle brings layers and film to agree to rounding, which they otherwise do to half a
// hundredth of a cell.
func (r *Run) Settle(ctx context.Context) error { return r.seen().coat.catchUp(ctx) }

// wait lets time pass in which nothing is done.
func (r *Run) wait(ctx context.Context, to float64) error {
	r.batches((r.at + to) / 2)
	if r.scene.Cells {
		r.opens.grow(r, to-r.at)
	}
	r.cool((to - r.at) / 2) // as warm as in the middle of the time
	if r.hot != nil {
		r.thin()
	}
	if err := r.coat.pass(ctx, r.scene.Clock.Fluidity(r.at, to)); err != nil {
		return err
	}
	r.cool((to - r.at) / 2)
	r.at = to
	return nil
}

// batches sets how much more fluid each cup is by now.
func (r *Run) batches(at float64) {
	unlike := false
	of := make([]float64, len(r.scene.Cups))
	for k, c := range r.scene.Cups {
		of[k] = 1
		if c.Fluid != nil {
			of[k] = c.Fluid(at)
			unlike = unlike || math.Abs(of[k]-1) > 1e-6
		}
	}
	if unlike {
		r.coat.Fluid(of)
	}
}
