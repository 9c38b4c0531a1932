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

// A goal is what a plan is judged by, and the sum of its starts, which tells two
// plans apart that are as good.
type goal struct{ late, last, sessions, ends, starts int }

// better compares by the goals in their order, then by the sum of starts.
func (g goal) better(h goal) bool {
	return cmp.Or(cmp.Compare(g.late, h.late), cmp.Compare(g.last, h.last), cmp.Compare(g.waiting(), h.waiting()),
		cmp.Compare(g.starts, h.starts)) < 0
}

func (g goal) waiting() int { return waiting(g.sessions, g.ends) }

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
	inline []bool // takes its turn in the order: it has hands, or a place on the rack
	free   []int  // jobs that may be moved
	late   []int  // scratch: pieces that are late
	group  []int  // scratch: jobs that move together

	// passing says what becomes of the jobs behind one that a longest wait pulls
	// later: they are left to pass it, or go later with it.
	passing bool

	waiting   []bool // pieces that wait for a place
	line, out []int  // jobs of those, and of the others
}

// A brief is the data of a job that placement needs, close together in memory.
type brief struct {
	hands, notIn, fixed, due, piece int // fixed is never for one to be planned
	done, begun, inline             bool
	shelved                         bool // it takes a place or gives one back
	lower                           []edge
}

func newSequencer(n *network) *sequencer {
	size := len(n.jobs)
	s := &sequencer{network: n, random: rand.New(rand.NewPCG(2017, uint64(size))), low: make([]int, size),
		held: make([]int, len(n.Rack)),
		at:   make([]int, size), key: make([]int, size), ends: make([]int, len(n.Pieces)), waiting: make([]bool,
			len(n.Pieces)),
		inline: make([]bool, size)}
	for j, t := range n.jobs {
		s.inline[j] = !t.Done && (t.Hands > 0 || ((t.Take || t.Free) && len(n.Rack) > 0))
		b := brief{t.Hands, t.NotIn, never, n.Pieces[t.piece].Due, t.piece, t.Done, t.Begun, s.inline[j],
			(t.Take || t.Free) && !t.there(), n.lower[j]}
		if t.Fixed == nil {
			s.free = append(s.free, j)
		} else {
			b.fixed, b.notIn = *t.Fixed, -never // begun before now, or pinned: not-before does not hold for it
		}
		s.briefs = append(s.briefs, b)
	}
	return s
}

// lay gives every job of an order its earliest start; false where there is none.
// The order holds every job behind those it waits for; pieces for which the
// rack has no room wait in it until one leaves.
func (s *sequencer) lay(order, start []int) bool {
	if len(s.Rack) > 0 && !s.queue(order) {
		return false
	}
	for j := range s.low {
		s.low[j] = -never
	}
	for range max(rounds, len(order)+4) {
		if !s.forward(order, start) {
			return false
		}
		pulled, ok := s.pull(start)
		if !ok || !pulled {
			return ok
		}
		if s.passing && !s.overtake(order, start) {
			return false
		}
	}
	return false
}

// rounds is how often the starts of few jobs are raised: a window that is tight moves a
// piece on by a day each time.
const rounds = 64

// forward gives the jobs their earliest starts one after the other; false where
// one has none, or when more comes late than may be accepted.
func (s *sequencer) forward(order, start []int) bool {
	clear(s.ends)
	before, open, late := s.floor, 0, 0
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
		case t.fixed < never:
			if need > t.fixed || (t.inline && !t.begun && before > t.fixed) {
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
		if t.inline && !t.begun {
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

// overtake takes what was pulled later behind the jobs that need not wait for it.
func (s *sequencer) overtake(order, start []int) bool {
	for j := range s.key {
		s.key[j] = max(start[j], s.low[j])
	}
	s.sort(order)
	return len(s.Rack) == 0 || s.queue(order)
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

// judge reads the goals off starts.
func (s *sequencer) judge(start []int) goal {
	clear(s.ends)
	var g goal
	for j, t := range s.jobs {
		s.ends[t.piece] = max(s.ends[t.piece], start[j]+t.Hands)
		g.starts += start[j]
	}
	for i, end := range s.ends {
		g.last, g.ends = max(g.last, end), g.ends+end
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
	slices.SortFunc(order, func(a, b int) int {
		if d := s.key[a] - s.key[b]; d != 0 {
			return d
		}
		return cmp.Or(s.rank[a]-s.rank[b], a-b)
	})
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
