package schedule

import (
	"context"
	"slices"
)

// job is a task with its number in the whole problem.
type job struct {
	piece, task int
	Task
}

// network is the problem as numbered jobs with their constraints both ways.
type network struct {
	Problem
	calendar
	jobs   []job
	number [][]int // of each piece's tasks
	// lower[i] are the jobs that must end before i, with the least wait; upper[i]
	// those whose longest wait bounds i from below once they are placed.
	lower, upper [][]edge
	followers    [][]int           // jobs that wait for i
	tied         map[*Piece][]bool // its narrow tasks
	rank         []int             // how many jobs i waits for, one after the other
	ranked       []int             // all jobs by that
	// strict are the hours in which tasks that others must soon follow can lie,
	// wide the opening hours without them.
	strict, wide calendar

	standing []int // places in use now, by class
	floor    int   // nothing is planned before this: the end of all that is in hand
	pins     []int // jobs that need the hands at their time, by that
	clash    int   // a piece whose pin stands in the way of another; −1 for none

	ctx     context.Context
	steps   int // of the search so far
	most    int // of them
	stopped bool
}

// tick counts a step of the search and reports whether it has to end: it took
// all its steps, or nobody waits for it any longer.
func (n *network) tick() bool {
	n.steps++
	if n.steps > n.most || (n.steps&1023 == 0 && n.ctx.Err() != nil) {
		n.stopped = true
	}
	return n.stopped
}

type edge struct{ to, wait int }

// mostSteps caps every solve: some seconds, whatever is asked.
const mostSteps = 60_000_000

func newNetwork(ctx context.Context, p Problem) *network {
	n := &network{Problem: p, calendar: newCalendar(p.Open), ctx: ctx, most: mostSteps}
	n.standing = make([]int, len(p.Rack))
	for i, piece := range p.Pieces {
		numbers := make([]int, len(piece.Tasks))
		take, free := piece.stay()
		for k, t := range piece.Tasks {
			t.Take, t.Free = k == take, k == free && take >= 0
			n.stand(piece, t)
			numbers[k] = len(n.jobs)
			n.jobs = append(n.jobs, job{i, k, t})
		}
		n.number = append(n.number, numbers)
	}
	n.lower, n.upper = make([][]edge, len(n.jobs)), make([][]edge, len(n.jobs))
	for j, t := range n.jobs {
		for _, w := range t.Waits {
			before := n.number[t.piece][w.After]
			n.lower[j] = append(n.lower[j], edge{before, w.Min})
			if w.Max != NoMax {
				n.upper[before] = append(n.upper[before], edge{j, w.Max})
			}
		}
	}
	n.rankJobs()
	n.lookAhead()
	n.tied = map[*Piece][]bool{}
	for i := range n.Pieces {
		piece := &n.Pieces[i]
		for k := range piece.Tasks {
			n.tied[piece] = append(n.tied[piece], piece.narrow(k))
		}
	}
	strict := n.narrowHours()
	n.strict, n.wide = newCalendar(strict), newCalendar(without(p.Open, strict))
	return n
}

// stand counts the places that are in use or given back by what has happened.
func (n *network) stand(piece Piece, t Task) {
	if !t.there() || len(n.Rack) == 0 || t.Take == t.Free {
		return
	}
	if t.Take {
		n.standing[piece.Rack] += piece.places()
	} else {
		n.standing[piece.Rack] -= piece.places()
	}
}

// rankJobs orders the jobs behind those they wait for.
func (n *network) rankJobs() {
	n.followers, n.rank, n.ranked = make([][]int, len(n.jobs)), make([]int, len(n.jobs)), make([]int, len(n.jobs))
	for j, edges := range n.lower {
		n.ranked[j] = j
		for _, e := range edges {
			n.followers[e.to] = append(n.followers[e.to], j)
		}
	}
	for range n.jobs { // a circle would go on for ever
		changed := false
		for j, edges := range n.lower {
			for _, e := range edges {
				if n.rank[j] <= n.rank[e.to] {
					n.rank[j], changed = n.rank[e.to]+1, true
				}
			}
		}
		if !changed {
			break
		}
	}
	slices.SortStableFunc(n.ranked, func(a, b int) int { return n.rank[a] - n.rank[b] })
}

// place is the earliest start at or after t that a job's own calendar allows.
func (n *network) place(j, t int) int {
	job := &n.jobs[j]
	if job.Fixed != nil { // it was begun before now, or is pinned: not-before does not hold for it
		if t <= *job.Fixed {
			return *job.Fixed
		}
		return never
	}
	return n.fit(max(t, job.NotIn), job.Hands)
}

// search is a depth-first branch and bound over the orders of the jobs.
type search struct {
	*network
	start  []int
	placed []bool
	order  []int // of what is not done
	open   int   // how much that is
	begun  int   // how much of it, the first, is in hand
	held   []int // places in use by class
	fewest int   // sessions of any plan
	best   Plan
	have   bool
	nodes  int
	limit  int
	earl   []int // scratch
}

// exact tries every order worth trying. It returns false when it ran out of
// nodes before it was done.
func (n *network) exact(best Plan, have bool, limit int) (Plan, bool, bool) {
	s := newSearch(n)
	s.best, s.have, s.limit = best, have, limit
	s.branch()
	return s.best, s.have, s.nodes < s.limit && !s.stopped
}

// newSearch begins with what has happened and what is in hand.
func newSearch(n *network) *search {
	s := &search{network: n, start: make([]int, len(n.jobs)), placed: make([]bool, len(n.jobs)),
		held: slices.Clone(n.standing), earl: make([]int, len(n.jobs)), fewest: n.mixes()}
	for j, t := range n.jobs {
		if !t.there() {
			s.open++
			continue
		}
		s.start[j], s.placed[j] = *t.Fixed, true
		if t.Begun {
			s.order = append(s.order, j)
		}
	}
	s.begun = len(s.order)
	s.open += s.begun
	return s
}

func (s *search) branch() {
	if s.nodes++; s.nodes >= s.limit || s.tick() {
		return
	}
	if len(s.order) == s.open {
		plan := s.plan(s.start)
		if !s.have || plan.better(s.best) {
			s.best, s.have = plan, true
		}
		return
	}
	if s.hopeless() {
		return
	}
	candidates := s.candidates()
	for _, j := range candidates {
		saved := append([]int(nil), s.start...)
		if s.push(j) {
			s.branch()
		}
		s.pop(j)
		copy(s.start, saved)
	}
}

// candidates are the jobs whose predecessors are placed, earliest first.
func (s *search) candidates() []int {
	var out []int
	for j := range s.jobs {
		if !s.placed[j] && s.ready(j) {
			out = append(out, j)
		}
	}
	// earl was filled by hopeless
	for i := range out {
		for k := i; k > 0 && s.earl[out[k]] < s.earl[out[k-1]]; k-- {
			out[k], out[k-1] = out[k-1], out[k]
		}
	}
	return out
}

func (s *search) ready(j int) bool {
	for _, e := range s.lower[j] {
		if !s.placed[e.to] {
			return false
		}
	}
	job := &s.jobs[j]
	if job.Take && len(s.Rack) > 0 {
		piece := &s.Pieces[job.piece]
		return s.held[piece.Rack]+piece.places() <= s.Rack[piece.Rack]
	}
	return true
}

func (p Piece) places() int { return max(1, p.Places) }

// push appends a job to the order and brings all starts to the earliest
// solution; false when there is none.
func (s *search) push(j int) bool {
	s.placed[j] = true
	s.order = append(s.order, j)
	s.hold(j, 1)
	return s.propagate(j)
}

func (s *search) pop(j int) {
	s.placed[j] = false
	s.order = s.order[:len(s.order)-1]
	s.hold(j, -1)
}

func (s *search) hold(j, by int) {
	job := &s.jobs[j]
	if len(s.Rack) == 0 || job.Take == job.Free { // neither, or both at once
		return
	}
	if job.Free {
		by = -by
	}
	piece := &s.Pieces[job.piece]
	s.held[piece.Rack] += by * piece.places()
}

// handsFree is when the hands are free for what comes k-th.
func (s *search) handsFree(k int) int {
	switch {
	case k < s.begun:
		return -never
	case k == s.begun:
		return s.floor
	}
	before := s.order[k-1]
	return s.start[before] + s.jobs[before].Hands
}

// propagate raises starts until every constraint among the placed jobs holds.
func (s *search) propagate(j int) bool {
	at := -never
	for _, e := range s.lower[j] {
		at = max(at, s.start[e.to]+s.jobs[e.to].Hands+e.wait)
	}
	at = max(at, s.handsFree(len(s.order)-1))
	s.start[j] = s.place(j, at)
	if s.start[j] >= never {
		return false
	}
	for changed := true; changed; {
		changed = false
		for k, a := range s.order {
			need := s.start[a]
			for _, e := range s.lower[a] {
				need = max(need, s.start[e.to]+s.jobs[e.to].Hands+e.wait)
			}
			for _, e := range s.upper[a] { // a later task's longest wait pulls this one up
				if s.placed[e.to] {
					need = max(need, s.start[e.to]-e.wait-s.jobs[a].Hands)
				}
			}
			need = max(need, s.handsFree(k))
			if need > s.start[a] {
				if s.start[a] = s.place(a, need); s.start[a] >= never {
					return false
				}
				changed = true
			}
		}
	}
	return true
}

// hopeless calculates the earliest each open job can start and reports whether
// even that is no better than the best plan.
func (s *search) hopeless() bool {
	end, work := s.handsFree(len(s.order)), 0
	for j := range s.jobs {
		if s.placed[j] {
			s.earl[j] = s.start[j]
		} else {
			s.earl[j] = s.place(j, end)
			if s.jobs[j].Fixed == nil { // what is pinned may lie outside opening hours
				work += s.jobs[j].Hands
			}
		}
	}
	for changed := true; changed; {
		changed = false
		for j := range s.jobs {
			if s.placed[j] {
				continue
			}
			need := s.earl[j]
			for _, e := range s.lower[j] {
				need = max(need, s.earl[e.to]+s.jobs[e.to].Hands+e.wait)
			}
			if need > s.earl[j] {
				if s.earl[j] = s.place(j, need); s.earl[j] >= never {
					return true
				}
				changed = true
			}
		}
	}
	if !s.have {
		return false
	}
	late, last, ends := 0, s.after(end, work), 0
	for i, piece := range s.Pieces {
		done := 0
		for k := range piece.Tasks {
			j := s.number[i][k]
			done = max(done, s.earl[j]+s.jobs[j].Hands)
		}
		late += max(0, done-piece.Due)
		last, ends = max(last, done), ends+done
	}
	return late > s.best.Late || (late == s.best.Late && last > s.best.LastEnd) ||
		(late == s.best.Late && last == s.best.LastEnd && s.best.waiting() <= waiting(s.fewest, ends))
}

// plan reads the goals off a set of starts.
func (n *network) plan(start []int) Plan {
	p := Plan{Starts: make([][]int, len(n.Pieces))}
	for i, piece := range n.Pieces {
		p.Starts[i] = make([]int, len(piece.Tasks))
		done := 0
		for k, t := range piece.Tasks {
			at := start[n.number[i][k]]
			p.Starts[i][k] = at
			done = max(done, at+t.Hands)
		}
		p.LastEnd, p.Ends = max(p.LastEnd, done), p.Ends+done
		if len(piece.Tasks) > 0 {
			p.Late += max(0, done-piece.Due)
		}
	}
	p.Sessions = n.sessions(start)
	return p
}

// sessionWorth is how many minutes pieces may wait together so that one mixing session is saved (common
// practice): a board waits a day for another of the same mix, not a week.
const sessionWorth = 24 * 60

// waiting is what the mixing sessions and the ends of the pieces weigh together.
func waiting(sessions, ends int) int { return sessions*sessionWorth + ends }

func (p Plan) waiting() int { return waiting(p.Sessions, p.Ends) }

// better compares by the goals in their order.
func (p Plan) better(q Plan) bool {
	switch {
	case p.Late != q.Late:
		return p.Late < q.Late
	case p.LastEnd != q.LastEnd:
		return p.LastEnd < q.LastEnd
	}
	return p.waiting() < q.waiting()
}
