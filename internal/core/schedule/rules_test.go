package schedule

import (
	"math/rand/v2"

	"github.com/stretchr/testify/require"
)

// KeepsTheRules asserts that a plan keeps every rule of its problem and says of itself
// what is so, by looking at each task, pair of tasks and stay alone.
func KeepsTheRules(t require.TestingT, p Problem, plan Plan) {
	type span struct {
		from, to, places int
		begun            bool // a fact, whatever else there is
	}
	var hands []span
	stays := map[int][]span{}
	last, late := 0, 0
	for i, piece := range p.Pieces {
		end, take, free := 0, -1, 1<<41
		for k, task := range piece.Tasks {
			s := plan.Starts[i][k]
			if task.Fixed != nil {
				require.Equal(t, *task.Fixed, s, "%s %s is pinned", piece.ID, task.ID)
			} else {
				require.True(t, openAt(p.Open, s, task.Hands), "%s %s at %d is outside opening hours", piece.ID, task.ID, s)
				require.GreaterOrEqual(t, s, task.NotIn, "%s %s", piece.ID, task.ID)
			}
			keepsWaits(t, piece, plan.Starts[i], k)
			if task.Hands > 0 && !task.Done {
				hands = append(hands, span{s, s + task.Hands, 1, task.Begun})
			}
			if task.Take && take < 0 {
				take = k
			}
			if task.Free {
				free = s + task.Hands
			}
			end = max(end, s+task.Hands)
		}
		if take >= 0 {
			stays[piece.Rack] = append(stays[piece.Rack],
				span{plan.Starts[i][take], free, max(1, piece.Places), piece.Tasks[take].Done || piece.Tasks[take].Begun})
		}
		last = max(last, end)
		if len(piece.Tasks) > 0 {
			late += max(0, end-piece.Due)
		}
	}
	for i, a := range hands {
		for _, b := range hands[:i] {
			require.True(t, a.begun && b.begun || a.from >= b.to || b.from >= a.to, "two tasks at once: %v %v", a, b)
		}
	}
	for class, spans := range stays {
		for _, a := range spans {
			used := 0
			for _, b := range spans {
				if b.from <= a.from && a.from < b.to {
					used += b.places
				}
			}
			if len(p.Rack) > 0 && !a.begun && a.to > a.from { // a stay of no length takes no place
				require.LessOrEqual(t, used, p.Rack[class], "too many on the rack")
			}
		}
	}
	require.Equal(t, last, plan.LastEnd)
	require.Equal(t, late, plan.Late)
	require.LessOrEqual(t, plan.Bound, plan.LastEnd)
}

func openAt(open []Interval, s, hands int) bool {
	for _, o := range open {
		if s >= o.From && s+hands <= o.To {
			return true
		}
	}
	return false
}

// keepsWaits asserts the waits of a task, where it has not happened yet; a longest one
// only behind what has not happened either.
func keepsWaits(t require.TestingT, piece Piece, starts []int, k int) {
	task := piece.Tasks[k]
	if task.Done {
		return
	}
	for _, w := range task.Waits {
		before := piece.Tasks[w.After]
		gap := starts[k] - starts[w.After] - before.Hands
		require.GreaterOrEqual(t, gap, w.Min, "%s %s", piece.ID, task.ID)
		if w.Max != NoMax && !before.Done {
			require.LessOrEqual(t, gap, w.Max, "%s %s", piece.ID, task.ID)
		}
	}
}

// anyStudio is a problem with a little of everything: two openings a day and days off,
// tasks side by side, of no time, pinned, done and not before a day, mixes, one or two
// racks or none, sets that take two places. Not every one has a plan.
func anyStudio(draw *rand.Rand, pieces, tasks int) Problem {
	var p Problem
	for day := range 60 {
		if day%7 == 5 {
			continue
		}
		at := day * aDay
		p.Open = append(p.Open, Interval{at + 480, at + 720}, Interval{at + 780, at + 960 + 60*draw.IntN(4)})
	}
	if n := draw.IntN(3); n > 0 {
		for range n {
			p.Rack = append(p.Rack, 2+draw.IntN(2))
		}
	}
	for i := range pieces {
		p.Pieces = append(p.Pieces, anyPiece(draw, i, 1+draw.IntN(tasks), len(p.Rack)))
	}
	return p
}

func anyPiece(draw *rand.Rand, i, tasks, racks int) Piece {
	piece := Piece{ID: string(rune('a' + i)), Due: (1 + draw.IntN(8)) * aDay, Places: draw.IntN(3)}
	if draw.IntN(5) == 0 {
		piece.Due = NoDue
	}
	if racks > 0 {
		piece.Rack = draw.IntN(racks)
	}
	for k := range tasks {
		task := Task{ID: string(rune('0' + k)), Hands: []int{0, 10, 15, 30, 45, 60, 90, 120}[draw.IntN(8)], Take: k == 0,
			Free: k == tasks-1}
		task.Mix = []string{"", "", "white", "clear", "slate"}[draw.IntN(5)]
		if draw.IntN(8) == 0 {
			task.NotIn = draw.IntN(5) * aDay
		}
		if k > 0 {
			task.Waits = append(task.Waits, anyWait(draw, draw.IntN(k)))
			if k > 1 && draw.IntN(4) == 0 || k == tasks-1 {
				task.Waits = append(task.Waits, anyWait(draw, k-1))
			}
			if k == tasks-1 {
				for before := range k { // it frees the place: all the others lie before it
					task.Waits = append(task.Waits, Wait{After: before, Min: 0, Max: NoMax})
				}
			}
		}
		piece.Tasks = append(piece.Tasks, task)
	}
	if at := -draw.IntN(600); draw.IntN(5) == 0 {
		done := draw.IntN(4) > 0
		piece.Tasks[0].Fixed, piece.Tasks[0].Done, piece.Tasks[0].Begun = &at, done, !done
	}
	if at := (12+draw.IntN(20))*aDay + 540 + 30*draw.IntN(10); draw.IntN(12) == 0 && tasks > 1 {
		piece.Tasks[tasks-1].Fixed = &at
	}
	return piece
}

func anyWait(draw *rand.Rand, after int) Wait {
	w := Wait{After: after, Min: 30 * draw.IntN(40), Max: NoMax}
	if draw.IntN(3) == 0 {
		w.Max = w.Min + 60*(1+draw.IntN(20))
	}
	return w
}
