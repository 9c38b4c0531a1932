package schedule

import (
	"math"
	"slices"
)

// Temperatures of the search in minutes of lateness, and what the other goals
// weigh against one.
const (
	hot, cold  = 1500.0, 2.0
	lastWeight = 0.05
	restWeight = 0.0005
)

// cost is one number for a plan, for the sake of accepting worse ones.
func (g goal) cost() float64 {
	return float64(g.late) + lastWeight*float64(g.last) + restWeight*float64(g.starts)
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
