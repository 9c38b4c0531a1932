package agenda

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"hash/fnv"
	"slices"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/schedule"
	"jevvo/internal/form"
)

// build solves a scene and reads it back. What has no plan is loosened, then
// left out, and said.
func (s *Service) build(ctx context.Context, g *scene) (*Agenda, error) {
	solution, err := s.loosened(ctx, g)
	if err != nil {
		return nil, err
	}
	if night := g.book.Night; night != 0 && night != g.book.Room { // windows follow the nights they are planned for
		g.apply(solution)
		for i := range g.list {
			g.put(i)
		}
		if solution, err = s.loosened(ctx, g); err != nil {
			return nil, err
		}
	}
	g.apply(solution)
	reasons, err := schedule.Explain(ctx, g.problem, solution, true, schedule.Settings{Tries: 20, Exact: 1, Changes: -1})
	if err != nil {
		return nil, err
	}
	return g.read(solution, reasons), nil
}

// apply puts every piece where the schedule has it.
func (g *scene) apply(solution schedule.Plan) {
	for i := range g.list {
		e := &g.list[i]
		e.timing.Starts = map[string]time.Time{}
		e.timing.Late = 0
		end := time.Time{}
		for k, t := range e.plan.Tasks {
			start := g.at(solution.Starts[i][k])
			switch t.Kind {
			case plan.TaskPour:
				e.timing.Starts[t.Coat] = start
			case plan.TaskDeliver:
				e.timing.Starts[plan.DeliverKey] = start
			}
			if at := start.Add(time.Duration(g.problem.Pieces[i].Tasks[k].Hands) * time.Minute); at.After(end) {
				end = at
			}
		}
		if !e.Due.IsZero() && end.After(e.Due) {
			e.timing.Late = end.Sub(e.Due)
		}
		e.plan = e.base.At(e.timing)
	}
}

// solved is the outcome of one problem, failures too.
type solved struct {
	plan schedule.Plan
	err  error
}

// solve solves the problem of a scene, once for equal problems.
func (s *Service) solve(ctx context.Context, g *scene) (schedule.Plan, error) {
	h := fnv.New128a()
	if err := json.NewEncoder(h).Encode(g.problem); err != nil {
		return schedule.Plan{}, err
	}
	found, err := s.solves.Get(ctx, fmt.Sprintf("%x", h.Sum(nil)), func(ctx context.Context) (solved, error) {
		p, err := schedule.Solve(ctx, g.problem, searchSettings(g.problem))
		return solved{p, err}, nil
	})
	if err != nil {
		return schedule.Plan{}, err
	}
	if found.err != nil && !errors.Is(found.err, schedule.ErrInfeasible) {
		return found.plan, &form.Refused{Err: found.err}
	}
	return found.plan, found.err
}

// searchSettings bounds the search so that a full studio is replanned in a
// second or two; a try takes time with the square of the tasks.
func searchSettings(p schedule.Problem) schedule.Settings {
	n := 0
	for _, piece := range p.Pieces {
		n += len(piece.Tasks)
	}
	return schedule.Settings{Tries: max(2, min(36_000/max(1, n), 20_000_000/max(1, n*n))), Exact: 10, Nodes: 20_000,
		Changes: 400_000 / (n + 8)}
}

// loosened solves a scene; where it has no plan, more is given up each time:
// first what a piece cannot keep even alone, then all pins, then all windows,
// at last whole pieces. That is a handful of solves however many pieces there
// are.
func (s *Service) loosened(ctx context.Context, g *scene) (schedule.Plan, error) {
	solution, err := s.solve(ctx, g)
	for _, give := range []func(*scene, context.Context) bool{(*scene).giveAlone, (*scene).givePins, (*scene).giveWindows,
		(*scene).leaveOutAlone} {
		if !errors.Is(err, schedule.ErrInfeasible) {
			return solution, err
		}
		if give(g, ctx) {
			solution, err = s.solve(ctx, g)
		}
	}
	for errors.Is(err, schedule.ErrInfeasible) && len(g.list) > 0 { // nobody is to blame: half of them wait
		g.leaveOut(func(i int) bool { return i >= len(g.list)/2 })
		solution, err = s.solve(ctx, g)
	}
	if len(g.list) == 0 && errors.Is(err, schedule.ErrInfeasible) {
		return schedule.Plan{Starts: [][]int{}}, nil
	}
	return solution, err
}

// feasibleAlone reports whether the piece at i could be planned by itself.
func (g *scene) feasibleAlone(ctx context.Context, i int) bool {
	one := schedule.Problem{Open: g.problem.Open, Rack: g.problem.Rack, Pieces: g.problem.Pieces[i : i+1]}
	_, err := schedule.Solve(ctx, one, schedule.Settings{Tries: 4, Exact: 4, Nodes: 2000, Changes: -1})
	return err == nil
}

// giveAlone gives up pins, then windows, of pieces that cannot keep them even
// alone.
func (g *scene) giveAlone(ctx context.Context) bool {
	gave := false
	for i := range g.list {
		if g.feasibleAlone(ctx, i) {
			continue
		}
		if g.unpin(i) {
			gave = true
			if g.feasibleAlone(ctx, i) {
				continue
			}
		}
		gave = g.loosen(i) || gave
	}
	return gave
}

// givePins lets all pins go: they stand in each other's way.
func (g *scene) givePins(context.Context) bool {
	gave := false
	for i := range g.list {
		gave = g.unpin(i) || gave
	}
	return gave
}

func (g *scene) unpin(i int) bool {
	e := &g.list[i]
	gave := false
	for k, t := range g.problem.Pieces[i].Tasks {
		key := e.plan.Tasks[k].Key
		if _, happened := e.timing.Happened[key]; t.Fixed == nil || happened || t.Done || e.letGo[key] {
			continue
		}
		if e.letGo == nil {
			e.letGo = map[string]bool{}
		}
		e.letGo[key], gave = true, true
	}
	if gave {
		g.put(i)
	}
	return gave
}

// giveWindows lets every task come as late as it must.
func (g *scene) giveWindows(context.Context) bool {
	gave := false
	for i := range g.list {
		gave = g.loosen(i) || gave
	}
	return gave
}

func (g *scene) loosen(i int) bool {
	e := &g.list[i]
	if e.loose {
		return false
	}
	e.loose, e.timing.LooseTape, e.timing.LooseRecoat = true, true, true
	e.plan = e.base.At(e.timing)
	g.put(i)
	return true
}

// leaveOutAlone leaves out the pieces that cannot be planned even alone and
// loose.
func (g *scene) leaveOutAlone(ctx context.Context) bool {
	out := make([]bool, len(g.list))
	for i := range g.list {
		out[i] = !g.feasibleAlone(ctx, i)
	}
	return g.leaveOut(func(i int) bool { return out[i] })
}

// leaveOut takes pieces out of the plan and says so.
func (g *scene) leaveOut(which func(i int) bool) bool {
	n := len(g.list)
	var list []entry
	var kept []schedule.Piece
	for i, e := range g.list {
		if which(i) {
			g.notes = append(g.notes, Note{Code: LeftOut, Piece: e.ID, Name: e.Name})
			continue
		}
		list, kept = append(list, e), append(kept, g.problem.Pieces[i])
	}
	g.list, g.problem.Pieces = list, kept
	return len(list) < n
}

// read turns a schedule back into days.
func (g *scene) read(solution schedule.Plan, reasons []schedule.Reason) *Agenda {
	a := &Agenda{Now: g.now, Base: g.base, Book: g.book, Late: solution.Late, Proven: solution.Proven, Reasons: reasons,
		Problem: g.problem,
		Notes:   g.notes, More: g.more, LastEnd: g.at(solution.LastEnd), Bound: g.at(solution.Bound), at: map[int64]int{}}
	a.until = g.base.AddDate(0, 0, 1)
	for i := range g.list {
		e := &g.list[i]
		a.Notes = append(a.Notes, e.notes...)
		if e.loose {
			a.Notes = append(a.Notes, Note{Code: WindowsGiven, Piece: e.ID, Name: e.Name})
		}
		a.at[e.ID] = len(a.Pieces)
		a.Pieces = append(a.Pieces, g.readPiece(i, solution, a))
	}
	for i := range a.Tasks {
		t := &a.Tasks[i]
		t.Late = a.Of(t.PieceID).Late > 0
		if !t.Done && t.Kind != plan.TaskDeliver && t.Start.Before(a.until) && !t.Start.Before(g.now) {
			a.until = t.Start.Add(graceBeforeReplan) // until then nothing is overdue
		}
	}
	slices.SortStableFunc(a.Tasks, func(x, y Task) int { return x.Start.Compare(y.Start) })
	return a
}

// graceBeforeReplan is how long a task may be late in starting before all that
// follows is planned anew.
const graceBeforeReplan = 5 * time.Minute

func (g *scene) readPiece(i int, solution schedule.Plan, a *Agenda) Piece {
	e := &g.list[i]
	out := Piece{ID: e.ID, Rev: e.Rev, Name: e.Name, Due: e.Due, Plan: e.plan, Swatch: e.plan.Widest()}
	tasks := g.problem.Pieces[i].Tasks
	poured := e.poured()
	for k, t := range tasks {
		if e.overtaken(k, poured) {
			continue
		}
		start := solution.Starts[i][k]
		task := Task{Task: e.plan.Tasks[k], PieceID: e.ID, Piece: e.Name, Swatch: out.Swatch, Plan: e.plan,
			Start: g.at(start), End: g.at(start + t.Hands),
			Done: t.Done, Pinned: t.Fixed != nil && !t.Done}
		if _, happened := e.timing.Happened[task.Key]; happened {
			task.Pinned = false
		}
		task.Hands = t.Hands
		for _, w := range t.Waits {
			end := solution.Starts[i][w.After] + tasks[w.After].Hands
			if from := g.at(end + w.Min); w.Max != schedule.NoMax && from.After(task.NotBefore) {
				task.NotBefore, task.NotAfter = from, g.at(end+w.Max)
			}
		}
		if t.Take {
			out.RackIn = task.Start
		}
		if t.Free {
			out.RackTo = task.End
		}
		if task.End.After(out.End) {
			out.End = task.End
		}
		a.Tasks = append(a.Tasks, task)
	}
	out.Late = e.timing.Late
	return out
}
