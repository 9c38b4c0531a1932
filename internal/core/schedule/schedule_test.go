package schedule_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/schedule"
)

// days opens the studio every day from a to b minutes after midnight.
func days(n, a, b int) []schedule.Interval {
	out := make([]schedule.Interval, n)
	for i := range out {
		out[i] = schedule.Interval{From: i*1440 + a, To: i*1440 + b}
	}
	return out
}

func wait(after, least, most int) schedule.Wait {
	return schedule.Wait{After: after, Min: least, Max: most}
}

// check asserts that a plan keeps every rule of its problem.
var check = schedule.KeepsTheRules

func random(draw *rand.Rand, pieces, tasks int) schedule.Problem {
	p := schedule.Problem{Open: days(400, 8*60, 12*60+60*draw.IntN(9)), Rack: []int{1 + draw.IntN(3)}}
	for i := range pieces {
		piece := schedule.Piece{ID: fmt.Sprint("p", i), Due: (2 + draw.IntN(6)) * 1440}
		for k := range tasks {
			t := schedule.Task{ID: fmt.Sprint("t", k), Hands: 15 + 15*draw.IntN(8), Take: k == 0, Free: k == tasks-1}
			if k > 0 {
				least := 60 * draw.IntN(30)
				most := schedule.NoMax
				if draw.IntN(3) == 0 {
					most = least + 60*(4+draw.IntN(20))
				}
				t.Waits = []schedule.Wait{wait(k-1, least, most)}
			}
			piece.Tasks = append(piece.Tasks, t)
		}
		p.Pieces = append(p.Pieces, piece)
	}
	return p
}

// The exact search finds what trying every order finds, laid by a plain fixed
// point written apart from the solver. (An independent solver's optima are
// checked beside it.)
func TestExactIsNeverBeaten(t *testing.T) {
	draw := rand.New(rand.NewPCG(7, 7))
	for range 60 {
		p := random(draw, 2+draw.IntN(2), 2)
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		if err != nil {
			require.ErrorIs(t, err, schedule.ErrInfeasible)
			continue
		}
		check(t, p, plan)
		require.True(t, plan.Proven)
		late, last, ok := walkByOrder(p)
		require.True(t, ok)
		assert.Equal(t, [2]int{late, last}, [2]int{plan.Late, plan.LastEnd})
	}
}

// walkByOrder lays the tasks in every order, each pushed up until all holds,
// without bounds: a plain fixed point written apart from the solver.
func walkByOrder(p schedule.Problem) (late, last int, ok bool) {
	type ref struct{ i, k int }
	best := [2]int{1 << 40, 1 << 40}
	var all []ref
	for i, piece := range p.Pieces {
		for k := range piece.Tasks {
			all = append(all, ref{i, k})
		}
	}
	fit := func(t, d int) int {
		for _, o := range p.Open {
			if s := max(t, o.From); s+d <= o.To {
				return s
			}
		}
		return 1 << 41
	}
	var order []ref
	used := map[ref]bool{}
	lay := func() {
		s := map[ref]int{}
		for round := 0; ; round++ {
			moved := false
			for n, r := range order {
				task := p.Pieces[r.i].Tasks[r.k]
				need := s[r]
				if n > 0 {
					q := order[n-1]
					need = max(need, s[q]+p.Pieces[q.i].Tasks[q.k].Hands)
				}
				for _, w := range task.Waits {
					q := ref{r.i, w.After}
					need = max(need, s[q]+p.Pieces[q.i].Tasks[q.k].Hands+w.Min)
				}
				for k, other := range p.Pieces[r.i].Tasks {
					for _, w := range other.Waits {
						if w.After == r.k && w.Max != schedule.NoMax {
							need = max(need, s[ref{r.i, k}]-w.Max-task.Hands)
						}
					}
				}
				if at := fit(need, task.Hands); at != s[r] {
					s[r], moved = at, true
				}
				if s[r] > 399*1440 {
					return
				}
			}
			if !moved {
				break
			}
		}
		held := 0
		for _, r := range order {
			if p.Pieces[r.i].Tasks[r.k].Take {
				if held++; held > p.Rack[0] {
					return
				}
			}
			if p.Pieces[r.i].Tasks[r.k].Free {
				held--
			}
		}
		lateness, end := 0, 0
		for i, piece := range p.Pieces {
			done := s[ref{i, len(piece.Tasks) - 1}] + piece.Tasks[len(piece.Tasks)-1].Hands
			lateness, end = lateness+max(0, done-piece.Due), max(end, done)
		}
		if lateness < best[0] || (lateness == best[0] && end < best[1]) {
			best, ok = [2]int{lateness, end}, true
		}
	}
	var walk func()
	walk = func() {
		if len(order) == len(all) {
			lay()
			return
		}
		for _, r := range all {
			if used[r] || (r.k > 0 && !used[ref{r.i, r.k - 1}]) {
				continue
			}
			used[r] = true
			order = append(order, r)
			walk()
			order = order[:len(order)-1]
			used[r] = false
		}
	}
	walk()
	return best[0], best[1], ok
}

// Whatever is asked, a plan keeps the rules, and is the same every time.
func TestPlansKeepTheRules(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := random(rand.New(rand.NewPCG(rapid.Uint64().Draw(rt, "seed"), 1)), rapid.IntRange(1, 9).Draw(rt, "pieces"),
			rapid.IntRange(1, 6).Draw(rt, "tasks"))
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{Tries: 60, Changes: 2000})
		if err != nil {
			require.ErrorIs(rt, err, schedule.ErrInfeasible)
			require.NotEmpty(rt, explain(t, p, plan, false, schedule.Settings{Tries: 60, Changes: 2000}))
			return
		}
		check(rt, p, plan)
		again, err := schedule.Solve(t.Context(), p, schedule.Settings{Tries: 60, Changes: 2000})
		require.NoError(rt, err)
		require.Equal(rt, plan, again)
	})
}

func TestALongWaitPullsTheEarlierTaskUp(t *testing.T) {
	// A pour at 08:00 has its tape window at 12:30 to 13:10, when the studio is
	// shut for lunch from 12 to 14: the pour must start so late that the window
	// reaches the afternoon (the least: 14:00 − 310 min − 60 min = 07:50 fails,
	// so 08:50 … by the longest wait 310).
	p := schedule.Problem{Open: []schedule.Interval{{From: 480, To: 720}, {From: 840, To: 1200}},
		Pieces: []schedule.Piece{{ID: "p", Due: schedule.NoDue,
			Tasks: []schedule.Task{{ID: "pour", Hands: 60}, {ID: "tape", Hands: 10, Waits: []schedule.Wait{wait(0, 210,
				250)}}}}}}
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	assert.Equal(t, []int{530, 840}, plan.Starts[0])
	assert.True(t, plan.Proven)
}

func TestPinsHappeningsAndExplanations(t *testing.T) {
	at := func(v int) *int { return &v }
	piece := schedule.Piece{ID: "tide", Due: 2 * 1440, Tasks: []schedule.Task{
		{ID: "pour", Hands: 60, Fixed: at(-300), Done: true},
		{ID: "second", Hands: 60, Waits: []schedule.Wait{wait(0, 600, 700)}},
		{ID: "top", Hands: 45, Fixed: at(1440 + 600), Waits: []schedule.Wait{wait(1, 600, schedule.NoMax)}},
	}}
	p := schedule.Problem{Open: days(20, 480, 1080), Pieces: []schedule.Piece{piece}}
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	assert.Equal(t, []int{-300, 480, 2040}, plan.Starts[0],
		"what happened stays, a missed window does not stop the rest, the pin holds")

	for name, c := range map[string]struct {
		spoil func(*schedule.Problem)
		says  schedule.ReasonCode
	}{
		"never open": {func(p *schedule.Problem) { p.Open = nil }, schedule.NeverOpen},
		"too long":   {func(p *schedule.Problem) { p.Pieces[0].Tasks[1].Hands = 900 }, schedule.TaskTooLong},
		"a circle": {func(p *schedule.Problem) { p.Pieces[0].Tasks[1].Waits = []schedule.Wait{wait(2, 0, schedule.NoMax)} },
			schedule.InACircle},
		"at night": {func(p *schedule.Problem) {
			p.Pieces[0].Tasks[1].Waits[0] = wait(0, 560, 570)
			p.Pieces[0].Tasks[0] = schedule.Task{ID: "pour", Hands: 60}
			p.Pieces[0].Tasks[2].Fixed = nil
		}, schedule.WindowShut},
		"small rack": {func(p *schedule.Problem) {
			p.Rack = []int{1}
			p.Pieces[0].Places = 2
			p.Pieces[0].Tasks[1].Take = true
		}, schedule.TooFewPlaces},
	} {
		bad := p
		bad.Pieces = []schedule.Piece{piece}
		bad.Pieces[0].Tasks = append([]schedule.Task(nil), piece.Tasks...)
		for i := range bad.Pieces[0].Tasks {
			bad.Pieces[0].Tasks[i].Waits = append([]schedule.Wait(nil), piece.Tasks[i].Waits...)
		}
		c.spoil(&bad)
		plan, err := schedule.Solve(t.Context(), bad, schedule.Settings{})
		require.ErrorIs(t, err, schedule.ErrInfeasible, name)
		reasons := explain(t, bad, plan, false, schedule.Settings{})
		require.NotEmpty(t, reasons, name)
		assert.Equal(t, c.says, reasons[0].Code, name)
	}

	late := schedule.Problem{Open: days(20, 480, 600), Pieces: []schedule.Piece{
		{ID: "slow", Due: 600, Tasks: []schedule.Task{{ID: "pour", Hands: 60},
			{ID: "top", Hands: 30, Waits: []schedule.Wait{wait(0, 1200, schedule.NoMax)}}}},
		{ID: "one", Due: 600, Tasks: []schedule.Task{{ID: "a", Hands: 90}}},
		{ID: "two", Due: 600, Tasks: []schedule.Task{{ID: "b", Hands: 90}}},
	}}
	plan, err = schedule.Solve(t.Context(), late, schedule.Settings{})
	require.NoError(t, err)
	codes := map[int]schedule.ReasonCode{}
	for _, r := range explain(t, late, plan, true, schedule.Settings{}) {
		codes[r.Piece] = r.Code
	}
	assert.Contains(t, []schedule.ReasonCode{schedule.LateByWaits, schedule.LateByHours}, codes[0], "late by itself")
	assert.Contains(t, codes, 1, "one of two that would be in time alone waits for the hands")
	assert.Equal(t, schedule.LateByHands, codes[1])
}

func TestRefusesWhatMakesNoSense(t *testing.T) {
	for _, bad := range []schedule.Problem{
		{Open: []schedule.Interval{{From: 5, To: 5}}},
		{Open: []schedule.Interval{{From: 5, To: 9}, {From: 8, To: 10}}},
		{Pieces: []schedule.Piece{{Tasks: []schedule.Task{{Hands: -1}}}}},
		{Pieces: []schedule.Piece{{Tasks: []schedule.Task{{Waits: []schedule.Wait{wait(3, 0, -1)}}}}}},
		{Pieces: []schedule.Piece{{Tasks: []schedule.Task{{}, {Waits: []schedule.Wait{wait(0, 9, 3)}}}}}},
		{Rack: []int{1}, Pieces: []schedule.Piece{{Rack: 4}}},
		{Pieces: []schedule.Piece{{Tasks: make([]schedule.Task, schedule.MaxTasks+1)}}},
	} {
		_, err := schedule.Solve(t.Context(), bad, schedule.Settings{})
		require.Error(t, err)
		assert.NotErrorIs(t, err, schedule.ErrInfeasible)
	}
}

// season is pieces of 10 tasks as a busy studio has them: 40 in the usual one.
func season(pieces int) schedule.Problem {
	draw := rand.New(rand.NewPCG(uint64(pieces), uint64(10*pieces)))
	p := schedule.Problem{Open: days(500, 8*60, 18*60), Rack: []int{max(2, 12*pieces/40)}}
	for i := range pieces {
		piece := schedule.Piece{ID: fmt.Sprint("p", i), Due: (20*pieces/40 + draw.IntN(20+pieces)) * 1440}
		add := func(hands, least, most int) {
			t := schedule.Task{ID: fmt.Sprint("t", len(piece.Tasks)), Hands: hands}
			if k := len(piece.Tasks); k > 0 {
				t.Waits = []schedule.Wait{wait(k-1, least, most)}
			}
			piece.Tasks = append(piece.Tasks, t)
		}
		add(20, 0, -1)
		add(20, 240, -1)
		for coat := range 3 {
			add(40+15*draw.IntN(4), 720+draw.IntN(900), -1)
			if coat == 0 {
				piece.Tasks[len(piece.Tasks)-1].Take = true
			}
			add(10, 280, 480)
		}
		add(45, 1500, -1)
		piece.Tasks[len(piece.Tasks)-1].Free = true
		add(0, 3*1440, -1)
		p.Pieces = append(p.Pieces, piece)
	}
	return p
}

func TestASeasonIsPlannedNearItsBound(t *testing.T) {
	p := season(40)
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{Tries: 150, Changes: -1})
	require.NoError(t, err)
	check(t, p, plan)
	assert.LessOrEqual(t, float64(plan.LastEnd), 1.1*float64(plan.Bound),
		"near a bound that no plan reaches")
}

func BenchmarkEightTasks(b *testing.B) {
	draw := rand.New(rand.NewPCG(8, 8))
	problems := make([]schedule.Problem, 20)
	for i := range problems {
		problems[i] = random(draw, 4, 2)
	}
	b.ResetTimer()
	for i := range b.N {
		_, _ = schedule.Solve(b.Context(), problems[i%len(problems)], schedule.Settings{})
	}
}

func BenchmarkSeason400(b *testing.B) {
	p := season(40)
	for b.Loop() {
		plan, err := schedule.Solve(b.Context(), p, schedule.Settings{})
		require.NoError(b, err)
		b.ReportMetric(100*float64(plan.LastEnd-plan.Bound)/float64(plan.Bound), "%-over-bound")
	}
}

func BenchmarkSeason120(b *testing.B) {
	p := season(12)
	for b.Loop() {
		_, err := schedule.Solve(b.Context(), p, schedule.Settings{})
		require.NoError(b, err)
	}
}
