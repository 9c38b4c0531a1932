package studio

import (
	"context"
	"encoding/json"
	"errors"
	"hash/fnv"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"jevvo/internal/core/schedule"
)

// daySettings bounds the search so that a full studio is replanned while a
// page loads; a try takes time with the square of the tasks.
func daySettings(p schedule.Problem) schedule.Settings {
	n := 0
	for _, piece := range p.Pieces {
		n += len(piece.Tasks)
	}
	return schedule.Settings{Tries: max(8, min(36_000/max(1, n), 20_000_000/max(1, n*n))), Exact: 10, Nodes: 20_000}
}

// settle solves the problem, laying coats' windows along the nights they are
// planned for. What has no plan is loosened, then left out, and said.
func (s *Studio) settle(ctx context.Context, g *dayProblem) (schedule.Plan, []string, error) {
	loose := map[int]bool{}
	for round := 0; ; round++ {
		plan, err := s.planner.solve(g.problem)
		if errors.Is(err, schedule.ErrInfeasible) {
			if err := s.loosen(ctx, g, loose); err != nil {
				return plan, nil, err
			}
			continue
		}
		if err != nil {
			return plan, nil, &RefusedError{err}
		}
		if round < nightRounds && g.set.Night != 0 && g.set.Night != g.set.Room {
			if err := s.alongTheNights(ctx, g, plan, loose); err != nil {
				return plan, nil, err
			}
			again, err := s.planner.solve(g.problem)
			if err == nil {
				plan = again
			}
		}
		var reasons []string
		for _, r := range schedule.Explain(g.problem, plan, true, schedule.Settings{Tries: 20, Exact: 1}) {
			reasons = append(reasons, r.Text+".")
		}
		return plan, append(g.notes, reasons...), nil
	}
}

// nightRounds is how often windows are laid along the nights anew.
const nightRounds = 1

// alongTheNights reckons every coat's windows from the start it was given.
func (s *Studio) alongTheNights(ctx context.Context, g *dayProblem, plan schedule.Plan, loose map[int]bool) error {
	for i, p := range g.pieces {
		starts := map[string]time.Time{}
		for k, info := range g.infos[i] {
			if info.Kind == TaskPour {
				starts[info.Coat] = g.at(plan.Starts[i][k])
			}
		}
		g.repairs = slices.DeleteFunc(g.repairs, func(r string) bool { return strings.HasPrefix(r, p.Name+":") })
		if err := s.putAgain(ctx, g, i, starts, loose[i]); err != nil {
			return err
		}
	}
	return nil
}

// putAgain reckons a piece's tasks anew, its coats starting at the given
// times.
func (s *Studio) putAgain(ctx context.Context, g *dayProblem, i int, starts map[string]time.Time, loose bool) error {
	p := g.pieces[i]
	plan, err := s.planWith(ctx, p, g.set, starts, loose)
	if err != nil {
		return err
	}
	benches, err := s.BenchesOf(ctx, p.ID, false)
	if err != nil {
		return err
	}
	marks, err := s.store.TaskMarks(ctx)
	if err != nil {
		return err
	}
	g.put(i, p, plan, happenedAt(benches), marks, s.now().Local())
	return nil
}

// loosen gives up what stands in the way: first pins, then windows, then
// whole pieces. Every call gives up something.
func (s *Studio) loosen(ctx context.Context, g *dayProblem, loose map[int]bool) error {
	reasons := schedule.Explain(g.problem, schedule.Plan{}, false, schedule.Settings{})
	if unpinned, err := s.letPinsGo(ctx, g, reasons, loose); unpinned || err != nil {
		return err
	}
	gave := false
	var drop []int
	for _, r := range reasons {
		if r.Piece < 0 {
			g.note(r.Text + ".")
			continue
		}
		gave = true
		if loose[r.Piece] {
			drop = append(drop, r.Piece)
			continue
		}
		g.note(r.Text + "; its windows were given up.")
		if err := s.giveUpWindows(ctx, g, r.Piece, loose); err != nil {
			return err
		}
	}
	if !gave { // nobody is to blame: the last comer waits
		if len(g.pieces) == 0 {
			return schedule.ErrInfeasible
		}
		drop = append(drop, len(g.pieces)-1)
	}
	slices.Sort(drop)
	for _, i := range slices.Backward(slices.Compact(drop)) {
		g.leaveOut(i, loose)
	}
	return nil
}

// letPinsGo lets go of the pins of the pieces that stand in the way, or of all
// when they stand in each other's; true when there were any.
func (s *Studio) letPinsGo(ctx context.Context, g *dayProblem, reasons []schedule.Reason, loose map[int]bool) (bool, error) {
	marks, err := s.store.TaskMarks(ctx)
	if err != nil {
		return false, err
	}
	any := false
	for i := range g.pieces {
		blamed := slices.ContainsFunc(reasons, func(r schedule.Reason) bool { return r.Piece == i || r.Piece < 0 })
		if !blamed || !g.unpin(i, marks) {
			continue
		}
		any = true
		if err := s.putAgain(ctx, g, i, nil, loose[i]); err != nil {
			return any, err
		}
	}
	return any, nil
}

// giveUpWindows lets a piece's tasks come as late as they must.
func (s *Studio) giveUpWindows(ctx context.Context, g *dayProblem, i int, loose map[int]bool) error {
	loose[i] = true
	if err := s.putAgain(ctx, g, i, nil, true); err != nil {
		return err
	}
	for k := range g.problem.Pieces[i].Tasks {
		t := &g.problem.Pieces[i].Tasks[k]
		for w := range t.Waits {
			t.Waits[w].Max = schedule.NoMax
		}
	}
	return nil
}

// leaveOut takes a piece out of the plan and says so.
func (g *dayProblem) leaveOut(i int, loose map[int]bool) {
	g.leftOut = append(g.leftOut, g.pieces[i].Name+" cannot be planned within these hours and places.")
	g.pieces, g.plans, g.infos = slices.Delete(g.pieces, i, i+1), slices.Delete(g.plans, i, i+1), slices.Delete(g.infos, i, i+1)
	g.problem.Pieces = slices.Delete(g.problem.Pieces, i, i+1)
	delete(loose, i)
	for _, k := range slices.Sorted(maps.Keys(loose)) { // those after it move up
		if k > i {
			delete(loose, k)
			loose[k-1] = true
		}
	}
}

// planner remembers the last few plans: a page that is loaded again need not
// wait for the same search.
type planner struct {
	mu    sync.Mutex
	known map[uint64]schedule.Plan
}

// mostKnown bounds the memory.
const mostKnown = 24

func (p *planner) solve(problem schedule.Problem) (schedule.Plan, error) {
	h := fnv.New64a()
	if err := json.NewEncoder(h).Encode(problem); err != nil {
		return schedule.Plan{}, err
	}
	key := h.Sum64()
	p.mu.Lock()
	plan, ok := p.known[key]
	p.mu.Unlock()
	if ok {
		return plan, nil
	}
	plan, err := schedule.Solve(problem, daySettings(problem))
	if err != nil {
		return plan, err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.known == nil || len(p.known) >= mostKnown {
		p.known = map[uint64]schedule.Plan{}
	}
	p.known[key] = plan
	return plan, nil
}
