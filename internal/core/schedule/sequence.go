package schedule

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// A sequence is one order of all jobs with the earliest starts it allows.
type sequence struct {
	order []int
	start []int
	plan  goal
}

// A goal is what a plan is judged by, and the sum of its ends, which tells two
// plans apart that are as good.
type goal struct{ late, last, sessions, ends int }

// better compares by the goals in their order, then by the sum of ends.
func (g goal) better(h goal) bool {
	return cmp.Or(cmp.Compare(g.late, h.late), cmp.Compare(g.last, h.last), cmp.Compare(g.sessions, h.sessions), cmp.Compare(g.ends, h.ends)) < 0
}

// sequencer searches the orders of all jobs, interleaved as they like, by
// simulated annealing (Kirkpatrick, Gelatt & Vecchi 1983, published).
type sequencer struct {
	*network
	random *rand.Rand
	briefs []brief
	limit  float64 // minutes late that may be accepted
	low    []int   // what longest waits ask of a start, in one laying
	held   []int
	at     []int  // place of each job in the order
	key    []int  // scratch of a shift in time
	ends   []int  // scratch of the goal
	inline []bool // takes its turn in the order: it has hands, or a place on the shelf
	free   []int  // jobs that may be moved
	late   []int  // scratch: pieces that are late
	group  []int  // scratch: jobs that move together

	// passing says what becomes of the jobs behind one that a longest wait pulls
	// later: they are left to pass it, or go later with it.
	passing bool

	waiting          []bool // pieces that wait for a place
	line, out, spare []int  // jobs of those, and of the others
}

// A brief is what laying asks of a job, close together in memory.
type brief struct {
	hands, notIn, fixed, due, piece int // fixed is −1 for one to be planned
	done, inline                    bool
	lower                           []edge
}

func newSequencer(n *network) *sequencer {
	size := len(n.jobs)
	s := &sequencer{network: n, random: rand.New(rand.NewPCG(2017, uint64(size))), low: make([]int, size), held: make([]int, len(n.Shelf)),
		at: make([]int, size), key: make([]int, size), ends: make([]int, len(n.Pieces)), waiting: make([]bool, len(n.Pieces)), inline: make([]bool, size)}
	for j, t := range n.jobs {
		s.inline[j] = !t.Done && (t.Hands > 0 || ((t.Take || t.Free) && len(n.Shelf) > 0))
		b := brief{t.Hands, t.NotIn, -1, n.Pieces[t.piece].Due, t.piece, t.Done, s.inline[j], n.lower[j]}
		if t.Fixed == nil {
			s.free = append(s.free, j)
		} else {
			b.fixed = *t.Fixed
		}
		s.briefs = append(s.briefs, b)
	}
	return s
}

// lay gives every job of an order its earliest start; false where there is none.
// The order holds every job behind those it waits for; pieces for which the
// shelf has no room wait in it until one leaves.
func (s *sequencer) lay(order, start []int) bool {
	if len(s.Shelf) > 0 && !s.queue(order) {
		return false
	}
	clear(s.low)
	for range len(order) + 4 {
		if !s.forward(order, start) {
			return false
		}
		pulled, ok := s.pull(start)
		if !ok || !pulled {
			return ok
		}
		if s.passing && !s.pass(order, start) {
			return false
		}
	}
	return false
}

// forward gives the jobs their earliest starts one after the other; false where
// one has none, or when more comes late than may be accepted.
func (s *sequencer) forward(order, start []int) bool {
	clear(s.ends)
	before, open, late := 0, 0, 0
	for _, j := range order {
		t := &s.briefs[j]
		if t.done {
			start[j] = t.fixed
			continue
		}
		need := max(s.low[j], t.notIn)
		for _, e := range t.lower {
			need = max(need, start[e.to]+s.briefs[e.to].hands+e.wait)
		}
		switch {
		case t.fixed >= 0:
			if need > t.fixed || (t.inline && before > t.fixed) {
				return false
			}
			need = t.fixed
		case t.inline && t.hands > 0: // they come in order of time: the hours are walked through once
			need = max(need, before)
			for open < len(s.open) && s.open[open].To < need+t.hands {
				open++
			}
			if open == len(s.open) {
				return false
			}
			need = max(need, s.open[open].From)
			for s.open[open].To < need+t.hands {
				if open++; open == len(s.open) {
					return false
				}
				need = s.open[open].From
			}
		default:
			if t.inline {
				need = max(need, before)
			}
			if need = s.fit(need, t.hands); need >= never {
				return false
			}
		}
		start[j] = need
		end := need + t.hands
		if t.inline {
			before = end
		}
		if end > s.ends[t.piece] {
			late += max(0, end-t.due) - max(0, s.ends[t.piece]-t.due)
			s.ends[t.piece] = end
		}
	}
	s.steps += len(order)
	return float64(late) <= s.limit && !s.tick()
}

// pass takes what was pulled later behind the jobs that need not wait for it.
func (s *sequencer) pass(order, start []int) bool {
	for j := range s.key {
		s.key[j] = max(start[j], s.low[j])
	}
	s.sort(order)
	return len(s.Shelf) == 0 || s.queue(order)
}

// pull raises what a longest wait holds to a later task.
func (s *sequencer) pull(start []int) (pulled, ok bool) {
	for a := range s.jobs {
		for _, e := range s.upper[a] {
			need := start[e.to] - e.wait - s.jobs[a].Hands
			if need <= start[a] || s.jobs[a].Done {
				continue
			}
			if s.jobs[a].Fixed != nil || need > MaxMinutes {
				return false, false
			}
			s.low[a], pulled = max(s.low[a], need), true
		}
	}
	return pulled, true
}

// queue lets a piece that finds no place on the shelf, and all that follows of
// it, wait behind the job that gives one back; false where none ever does.
func (s *sequencer) queue(order []int) bool {
	clear(s.held)
	clear(s.waiting)
	s.line, s.out = s.line[:0], s.out[:0]
	for _, j := range order {
		if s.waiting[s.jobs[j].piece] {
			s.line = append(s.line, j)
			continue
		}
		s.turn(j)
	}
	if len(s.line) > 0 {
		return false
	}
	copy(order, s.out)
	return true
}

// turn takes a job up into the order, or puts its piece in the line.
func (s *sequencer) turn(j int) {
	t := &s.jobs[j]
	if t.Take == t.Free {
		s.out = append(s.out, j)
		return
	}
	piece := &s.Pieces[t.piece]
	if t.Take {
		if s.held[piece.Shelf]+piece.places() > s.Shelf[piece.Shelf] {
			s.waiting[t.piece] = true
			s.line = append(s.line, j)
			return
		}
		s.held[piece.Shelf] += piece.places()
		s.out = append(s.out, j)
		return
	}
	s.held[piece.Shelf] -= piece.places()
	s.out = append(s.out, j)
	s.release()
}

// release lets the first pieces in the line go on that find room now.
func (s *sequencer) release() {
	for again := true; again; {
		again = false
		for _, j := range s.line {
			t := &s.jobs[j]
			piece := &s.Pieces[t.piece]
			if !t.Take || !s.waiting[t.piece] || s.held[piece.Shelf]+piece.places() > s.Shelf[piece.Shelf] {
				continue
			}
			s.waiting[t.piece] = false
			rest := append(s.spare[:0], s.line...)
			s.line = s.line[:0]
			for _, k := range rest {
				if s.jobs[k].piece == t.piece {
					s.turn(k)
				} else {
					s.line = append(s.line, k)
				}
			}
			s.spare = rest
			again = true
			break
		}
	}
}

// judge reads the goals off starts.
func (s *sequencer) judge(start []int) goal {
	clear(s.ends)
	var g goal
	for j, t := range s.jobs {
		s.ends[t.piece] = max(s.ends[t.piece], start[j]+t.Hands)
		g.ends += start[j]
	}
	for i, end := range s.ends {
		g.last = max(g.last, end)
		if len(s.Pieces[i].Tasks) > 0 {
			g.late += max(0, end-s.Pieces[i].Due)
		}
	}
	return g
}

// sorted is the order of jobs by their starts, those first that others wait for.
func (s *sequencer) sorted(start []int) []int {
	copy(s.key, start)
	order := make([]int, len(s.jobs))
	for j := range order {
		order[j] = j
	}
	s.sort(order)
	return order
}

// sort orders jobs by their keys, each behind those it waits for.
func (s *sequencer) sort(order []int) {
	for _, j := range s.ranked {
		for _, e := range s.lower[j] {
			s.key[j] = max(s.key[j], s.key[e.to])
		}
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(s.key[a], s.key[b]), cmp.Compare(s.rank[a], s.rank[b]), cmp.Compare(a, b))
	})
}

// change makes next a neighbour of the order.
func (s *sequencer) change(now *sequence, next []int) bool {
	copy(next, now.order)
	for p, j := range next {
		s.at[j] = p
	}
	switch r := s.random.IntN(20); {
	case r < 7:
		return s.move(next)
	case r < 9:
		return s.exchange(next)
	case r < 13:
		return s.block(now, next)
	case r < 18:
		return s.shift(now, next, r >= 16)
	}
	return s.again(now, next)
}

// block takes a job, with those that longest waits tie to it, to where another
// job of the plan lies.
func (s *sequencer) block(now *sequence, next []int) bool {
	copy(s.key, now.start)
	j, other := s.free[s.random.IntN(len(s.free))], s.random.IntN(len(s.jobs))
	by := now.start[other] - now.start[j]
	if s.random.IntN(2) == 0 {
		by += s.jobs[other].Hands
	}
	if by == 0 {
		return false
	}
	for _, k := range s.tied(j) {
		s.key[k] += by
	}
	s.sort(next)
	return true
}

// closely is up to which longest wait two jobs are moved together.
const closely = 24 * 60

// tied are a job and all that longest waits tie to it, one after the other.
func (s *sequencer) tied(j int) []int {
	s.group = append(s.group[:0], j)
	for i := 0; i < len(s.group); i++ {
		k := s.group[i]
		for _, e := range s.upper[k] {
			s.tie(e.to, e.wait)
		}
		t := &s.jobs[k]
		for _, w := range t.Waits {
			if w.Max != NoMax {
				s.tie(s.number[t.piece][w.After], w.Max)
			}
		}
	}
	return s.group
}

func (s *sequencer) tie(j, wait int) {
	if wait <= closely && s.jobs[j].Fixed == nil && !slices.Contains(s.group, j) {
		s.group = append(s.group, j)
	}
}

// again takes one to three pieces out and plans each anew, as early as the
// others leave room.
func (s *sequencer) again(now *sequence, next []int) bool {
	copy(s.key, now.start)
	var out []int
	for range 1 + s.random.IntN(3) {
		if i := s.choose(now.start); !slices.Contains(out, i) && len(s.number[i]) > 0 {
			out = append(out, i)
		}
	}
	b := &board{network: s.network, held: make([][]Interval, len(s.Shelf)), leave: s.random.IntN(2) == 0}
	var spans []Interval
	for j, t := range s.jobs {
		if t.Hands > 0 && !t.Done && !slices.Contains(out, t.piece) {
			spans = append(spans, Interval{now.start[j], now.start[j] + t.Hands})
		}
	}
	slices.SortFunc(spans, func(a, c Interval) int { return a.From - c.From })
	b.busy = newBusy(spans)
	for i := range s.Pieces {
		if !slices.Contains(out, i) {
			b.occupy(i, s.startsOf(i, now.start))
		}
	}
	for _, i := range out {
		starts, ok := b.insert(i, true)
		if !ok {
			return false
		}
		for k, at := range starts {
			s.key[s.number[i][k]] = at
			b.busy.add(Interval{at, at + s.Pieces[i].Tasks[k].Hands})
		}
		b.occupy(i, starts)
	}
	s.sort(next)
	return true
}

func (s *sequencer) startsOf(i int, start []int) []int {
	out := make([]int, len(s.number[i]))
	for k, j := range s.number[i] {
		out[k] = start[j]
	}
	return out
}

// between are the places a job may take without passing what it waits for or
// what waits for it.
func (s *sequencer) between(j int) (from, to int) {
	from, to = 0, len(s.jobs)-1
	for _, e := range s.lower[j] {
		from = max(from, s.at[e.to]+1)
	}
	for _, k := range s.followers[j] {
		to = min(to, s.at[k]-1)
	}
	return from, to
}

// move takes one job elsewhere.
func (s *sequencer) move(next []int) bool {
	j := s.free[s.random.IntN(len(s.free))]
	from, to := s.between(j)
	if to <= from {
		return false
	}
	p, q := s.at[j], from+s.random.IntN(to-from+1)
	if far := 12; s.random.IntN(3) > 0 {
		q = max(from, min(to, p+s.random.IntN(2*far+1)-far))
	}
	if p == q {
		return false
	}
	if p < q {
		copy(next[p:q], next[p+1:q+1])
	} else {
		copy(next[q+1:p+1], next[q:p])
	}
	next[q] = j
	return true
}

// exchange swaps two jobs.
func (s *sequencer) exchange(next []int) bool {
	a, b := s.free[s.random.IntN(len(s.free))], s.free[s.random.IntN(len(s.free))]
	if a == b {
		return false
	}
	fa, ta := s.between(a)
	fb, tb := s.between(b)
	pa, pb := s.at[a], s.at[b]
	if pb < fa || pb > ta || pa < fb || pa > tb {
		return false
	}
	next[pa], next[pb] = b, a
	return true
}

// shift takes a piece, from one of its tasks on, to another time, or lets two
// pieces change places.
func (s *sequencer) shift(now *sequence, next []int, two bool) bool {
	copy(s.key, now.start)
	i := s.choose(now.start)
	numbers := s.number[i]
	if len(numbers) == 0 {
		return false
	}
	if k := s.random.IntN(len(s.Pieces)); two && k != i && len(s.number[k]) > 0 {
		by := now.start[s.number[k][0]] - now.start[numbers[0]]
		s.later(numbers, 0, by)
		s.later(s.number[k], 0, -by)
	} else {
		s.later(numbers, s.random.IntN(len(numbers)), shifts[s.random.IntN(len(shifts))])
	}
	s.sort(next)
	return true
}

// choose picks a piece, every other time one that is late.
func (s *sequencer) choose(start []int) int {
	s.late = s.late[:0]
	if s.random.IntN(2) == 0 {
		for i, numbers := range s.number {
			for _, j := range numbers {
				if start[j]+s.jobs[j].Hands > s.Pieces[i].Due {
					s.late = append(s.late, i)
					break
				}
			}
		}
	}
	if len(s.late) > 0 {
		return s.late[s.random.IntN(len(s.late))]
	}
	return s.random.IntN(len(s.Pieces))
}

// shifts are how far a piece is taken, in minutes.
var shifts = []int{-4320, -2880, -1440, -720, -240, -60, 60, 240, 720, 1440, 2880}

func (s *sequencer) later(numbers []int, from, by int) {
	for _, j := range numbers[from:] {
		if s.jobs[j].Fixed == nil {
			s.key[j] += by
		}
	}
}

// begin is the sequence of a plan's starts; false where its order has no plan of
// its own.
func (s *sequencer) begin(start []int) (sequence, bool) {
	q := sequence{order: s.sorted(start), start: make([]int, len(s.jobs))}
	s.limit = math.Inf(1)
	if !s.lay(q.order, q.start) {
		return q, false
	}
	q.plan = s.judged(q.start)
	return q, true
}

func (s *sequencer) judged(start []int) goal {
	g := s.judge(start)
	g.sessions = s.sessions(start)
	return g
}

// Temperatures of the search in minutes of lateness, and what the other goals
// weigh against one.
const (
	hot, cold  = 1500.0, 2.0
	lastWeight = 0.05
	endsWeight = 0.0005
)

// cost is one number for a plan, for the sake of accepting worse ones.
func (g goal) cost() float64 {
	return float64(g.late) + lastWeight*float64(g.last) + endsWeight*float64(g.ends)
}

// search improves a sequence by so many changes.
func (s *sequencer) search(from sequence, changes int, enough func(goal) bool) sequence {
	now, best := clone(from), clone(from)
	next := clone(from)
	cost := now.plan.cost()
	for k := range changes {
		if s.stopped || enough(best.plan) {
			break
		}
		s.passing = s.random.IntN(2) == 0
		heat := hot * math.Pow(cold/hot, float64(k)/float64(changes))
		most := cost - heat*math.Log(1-s.random.Float64()) // what may be accepted, drawn beforehand
		s.limit = most
		if !s.change(&now, next.order) || !s.lay(next.order, next.start) {
			continue
		}
		next.plan = s.judge(next.start)
		then := next.plan.cost()
		if then > most {
			continue
		}
		now, next, cost = next, now, then
		if now.plan.late < best.plan.late || (now.plan.late == best.plan.late && now.plan.last <= best.plan.last) {
			if now.plan.sessions = s.sessions(now.start); now.plan.better(best.plan) {
				best = clone(now)
			}
		}
	}
	return best
}

func clone(q sequence) sequence {
	return sequence{slices.Clone(q.order), slices.Clone(q.start), q.plan}
}
