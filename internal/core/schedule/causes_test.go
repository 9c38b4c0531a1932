package schedule_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/schedule"
	"jevvo/internal/testsize"
)

func pinned(v int) *int { return &v }

// One mixing session is pours of one mix with at most half an hour between them (common practice:
// nothing keeps longer in a cup), no other mix among them.
func TestMixingSessionsAreCounted(t *testing.T) {
	for _, x := range []struct {
		name  string
		at    []int
		mixes []string
		want  int
	}{
		{"one", []int{480}, []string{"a"}, 1},
		{"back to back", []int{480, 540}, []string{"a", "a"}, 1},
		{"half an hour between", []int{480, 570}, []string{"a", "a"}, 1},
		{"a minute more", []int{480, 571}, []string{"a", "a"}, 2},
		{"over night", []int{1020, 1440 + 480}, []string{"a", "a"}, 2},
		{"two mixes", []int{480, 540}, []string{"a", "b"}, 2},
		{"another between", []int{480, 540, 600}, []string{"a", "b", "a"}, 3},
		{"no mix at all", []int{480, 540}, []string{"", ""}, 0},
	} {
		p := schedule.Problem{Open: days(9, 480, 1080)}
		for i, at := range x.at {
			p.Pieces = append(p.Pieces,
				schedule.Piece{ID: fmt.Sprint(i), Due: schedule.NoDue,
					Tasks: []schedule.Task{{ID: "pour", Hands: 60, Mix: x.mixes[i], Fixed: pinned(at)}}})
		}
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		require.NoError(t, err, x.name)
		assert.Equal(t, x.want, plan.Sessions, x.name)
	}
}

// Equal mixes are poured together where that costs nothing else.
func TestEqualMixesArePouredTogether(t *testing.T) {
	p := schedule.Problem{Open: days(9, 480, 1080)}
	for i, mix := range []string{"a", "b", "a", "b"} {
		p.Pieces = append(p.Pieces,
			schedule.Piece{ID: fmt.Sprint(i), Due: schedule.NoDue, Tasks: []schedule.Task{{ID: "pour", Hands: 60, Mix: mix}}})
	}
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	assert.Equal(t, 2, plan.Sessions)
	assert.Equal(t, 480+4*60, plan.LastEnd)
}

// Many pins among many pieces hold, whatever the search does to the rest.
func TestPinsHoldInALargePlan(t *testing.T) {
	p := schedule.Problem{Open: days(60, 480, 1080), Rack: []int{9}}
	pins := map[[2]int]int{}
	for i := range 24 {
		piece := schedule.Piece{ID: fmt.Sprint(i), Due: schedule.NoDue, Tasks: []schedule.Task{
			{ID: "pour", Hands: 45, Take: true}, {ID: "tape", Hands: 10, Waits: []schedule.Wait{wait(0, 240, 600)}},
			{ID: "top", Hands: 30, Free: true, Waits: []schedule.Wait{wait(1, 700, schedule.NoMax)}},
		}}
		if i%3 == 0 {
			at := (10+i)*1440 + 600
			piece.Tasks[2].Fixed = pinned(at)
			pins[[2]int{i, 2}] = at
		}
		p.Pieces = append(p.Pieces, piece)
	}
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{Changes: 3000})
	require.NoError(t, err)
	check(t, p, plan)
	for k, at := range pins {
		assert.Equal(t, at, plan.Starts[k[0]][k[1]])
	}
}

// Two pieces that stand on one place for days: the second is late for want of a
// place, and is told so; with two places neither is.
func TestLateForWantOfAPlace(t *testing.T) {
	piece := func(id string) schedule.Piece {
		return schedule.Piece{ID: id, Due: 4 * 1440, Tasks: []schedule.Task{
			{ID: "pour", Hands: 60, Take: true},
			{ID: "off", Hands: 15, Free: true, Waits: []schedule.Wait{wait(0, 3*1440, schedule.NoMax)}},
		}}
	}
	p := schedule.Problem{Open: days(30, 480, 1080), Rack: []int{1}, Pieces: []schedule.Piece{piece("one"), piece("two")}}
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	require.Positive(t, plan.Late)
	var codes []schedule.ReasonCode
	for _, r := range explain(t, p, plan, true, schedule.Settings{}) {
		codes = append(codes, r.Code)
	}
	assert.Equal(t, []schedule.ReasonCode{schedule.LateByRack}, codes)
	p.Rack = []int{2}
	plan, err = schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	assert.Zero(t, plan.Late)
}

// Two pieces in hand at once are a fact and hold nothing up; two pins at once stand in
// each other's way.
func TestWhatIsInHandMayLieSideBySide(t *testing.T) {
	p := schedule.Problem{Open: days(9, 480, 1080)}
	for _, id := range []string{"one", "two"} {
		p.Pieces = append(p.Pieces, schedule.Piece{ID: id, Due: schedule.NoDue, Tasks: []schedule.Task{
			{ID: "pour", Hands: 90, Fixed: pinned(-20), Begun: true, NotIn: 10},
			{ID: "tape", Hands: 30, NotIn: 10, Waits: []schedule.Wait{wait(0, 300, schedule.NoMax)}},
		}})
	}
	p.Pieces[1].Tasks[0].Fixed = pinned(-5)
	p.Pieces = append(p.Pieces,
		schedule.Piece{ID: "three", Due: schedule.NoDue, Tasks: []schedule.Task{{ID: "look", Hands: 10}}})
	p.Open = append([]schedule.Interval{{From: 0, To: 90}}, p.Open...)
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	check(t, p, plan)
	assert.Equal(t, []int{-20, -5}, []int{plan.Starts[0][0], plan.Starts[1][0]})
	assert.Equal(t, 480+30+30+10, plan.LastEnd, "five minutes are left after both, too few for the look")
	assert.True(t, plan.Proven)
	for i := range 2 {
		p.Pieces[i].Tasks[0].Begun = false
	}
	_, err = schedule.Solve(t.Context(), p, schedule.Settings{})
	require.ErrorIs(t, err, schedule.ErrInfeasible)
	p.Pieces[1].Tasks[0].Fixed = pinned(70)
	_, err = schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err, "one right after the other")
}

func explain(t testing.TB, p schedule.Problem, plan schedule.Plan, feasible bool,
	s schedule.Settings) []schedule.Reason {
	t.Helper()
	out, err := schedule.Explain(t.Context(), p, plan, feasible, s)
	require.NoError(t, err)
	return out
}

// shut is a problem of many pieces none of which can keep its windows in the hours.
func shut(pieces int) schedule.Problem {
	p := schedule.Problem{}
	for day := range 60 {
		p.Open = append(p.Open, schedule.Interval{From: day*1440 + 480, To: day*1440 + 720})
	}
	for range pieces {
		piece := schedule.Piece{Due: schedule.NoDue}
		for k := range 10 {
			task := schedule.Task{Hands: 60}
			if k > 0 {
				task.Waits = []schedule.Wait{{After: k - 1, Min: 300, Max: 400}} // each falls into the night
			}
			piece.Tasks = append(piece.Tasks, task)
		}
		p.Pieces = append(p.Pieces, piece)
	}
	return p
}

// An explanation nobody waits for ends: it asks its context at every piece and wait.
func TestAnExplanationEndsWithItsContext(t *testing.T) {
	left := 5
	out, err := schedule.Explain(testsize.Patience{Context: t.Context(), Left: &left}, shut(200), schedule.Plan{}, false,
		schedule.Settings{})
	require.ErrorIs(t, err, context.Canceled)
	assert.Empty(t, out)
	assert.Greater(t, left, -20, "it went on after it was told")
	whole, err := schedule.Explain(t.Context(), shut(3), schedule.Plan{}, false, schedule.Settings{})
	require.NoError(t, err)
	assert.NotEmpty(t, whole)
}

// BenchmarkExplain300 explains 30 pieces of ten tasks that cannot be planned.
func BenchmarkExplain300(b *testing.B) {
	p := shut(30)
	for b.Loop() {
		explain(b, p, schedule.Plan{}, false, schedule.Settings{})
	}
}

// A piece waits a day for another of its mix, not a week, and nobody waits because the studio's last
// piece is later anyway (common practice).
func TestNobodyWaitsAWeekToMixOnce(t *testing.T) {
	of := func(day int) schedule.Piece {
		return schedule.Piece{ID: fmt.Sprint(day), Due: schedule.NoDue, Tasks: []schedule.Task{
			{ID: "pour", Hands: 60, Mix: "a", NotIn: day*1440 + 480},
			{ID: "hang", Hands: 20, Waits: []schedule.Wait{{After: 0, Min: 1440, Max: schedule.NoMax}}}}}
	}
	for _, days := range [][]int{{0, 7}, {0, 7, 14}, {0, 2}} {
		p := schedule.Problem{Open: openDays(30)}
		for _, d := range days {
			p.Pieces = append(p.Pieces, of(d))
		}
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		require.NoError(t, err)
		for i, d := range days {
			assert.Equal(t, d*1440+480, plan.Starts[i][0], "%v", days)
			assert.LessOrEqual(t, plan.Starts[i][1], (d+2)*1440, "%v", days)
		}
		assert.Equal(t, len(days), plan.Sessions)
	}
	p := schedule.Problem{Open: openDays(30), Pieces: []schedule.Piece{of(0), of(0), of(3)}}
	p.Pieces[1].Tasks[0].NotIn = 480 + 12*60 - 100 // it can be poured the same evening
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	require.NoError(t, err)
	assert.Equal(t, 2, plan.Sessions, "part of a day is waited")
}

func openDays(n int) []schedule.Interval { return days(n, 480, 1320) }
