package schedule

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// drawn are opening hours in order that do not touch, within some hours.
func drawn(t *rapid.T, name string) []Interval {
	var out []Interval
	at := 0
	for range rapid.IntRange(0, 6).Draw(t, name) {
		from := at + rapid.IntRange(1, 30).Draw(t, "gap")
		to := from + rapid.IntRange(1, 40).Draw(t, "length")
		out = append(out, Interval{from, to})
		at = to
	}
	return out
}

func inside(open []Interval, minute int) bool {
	return slices.ContainsFunc(open, func(o Interval) bool { return o.From <= minute && minute < o.To })
}

// Every sum over opening hours is what counting minute by minute gives.
func TestHoursAreCounted(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		open := drawn(t, "open")
		c := newCalendar(open)
		at := rapid.IntRange(0, 300).Draw(t, "at")
		d := rapid.IntRange(1, 50).Draw(t, "work")

		index := slices.IndexFunc(open, func(o Interval) bool { return o.To > at })
		if index < 0 {
			index = len(open)
		}
		require.Equal(t, index, c.index(at))

		fits := never
		for s := at; s < 400; s++ {
			if slices.ContainsFunc(open, func(o Interval) bool { return o.From <= s && s+d <= o.To }) {
				fits = s
				break
			}
		}
		require.Equal(t, fits, c.fit(at, d), "%v", open)

		after, left := never, d
		for m := at; m < 400; m++ {
			if inside(open, m) {
				if left--; left == 0 {
					after = m + 1
					break
				}
			}
		}
		require.Equal(t, after, c.after(at, d), "%v", open)
		require.Equal(t, at, c.after(at, 0), "no work takes no time")
	})
}

// Work of no time lies also where an opening ends.
func TestNothingFitsAtTheEnd(t *testing.T) {
	c := newCalendar([]Interval{{10, 20}, {30, 40}})
	for at, want := range map[int]int{0: 10, 10: 10, 15: 15, 20: 20, 21: 30, 40: 40, 41: never} {
		assert.Equal(t, want, c.fit(at, 0), at)
	}
}

// Days are found as quickly beyond the days that are kept as within them.
func TestHoursFarAhead(t *testing.T) {
	var open []Interval
	for day := range 30 {
		open = append(open, Interval{day*aDay + 480, day*aDay + 720}, Interval{day*aDay + 780, day*aDay + 1080})
	}
	c, plain := newCalendar(open), calendar{open: open}
	for at := -100; at < 31*aDay; at += 7 {
		require.Equal(t, plain.index(at), c.index(at), at)
	}
	for _, o := range open {
		for _, at := range []int{o.From - 1, o.From, o.To - 1, o.To} {
			require.Equal(t, plain.index(at), c.index(at), at)
		}
	}
}

func TestUnionsAndDifferences(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := drawn(t, "a"), drawn(t, "b")
		mixed := slices.Concat(b, a)
		if len(mixed) > 1 {
			mixed[0], mixed[len(mixed)-1] = mixed[len(mixed)-1], mixed[0]
		}
		union, rest := Union(slices.Clone(mixed)), without(a, b)
		for m := range 320 {
			require.Equal(t, inside(a, m) || inside(b, m), inside(union, m), "%d of %v and %v", m, a, b)
			require.Equal(t, inside(a, m) && !inside(b, m), inside(rest, m), "%d of %v without %v", m, a, b)
		}
		for k := 1; k < len(union); k++ {
			require.Greater(t, union[k].From, union[k-1].To, "they are joined where they touch")
		}
		for k, o := range rest {
			require.Less(t, o.From, o.To)
			if k > 0 {
				require.LessOrEqual(t, rest[k-1].To, o.From)
			}
		}
	})
	assert.Empty(t, Union([]Interval{{5, 5}}))
}

// The hours in which a task with a window can lie are those from which its follower
// can still be reached, as trying every minute finds them.
func TestNarrowHoursAreThoseThatLeadOn(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := Problem{Open: drawn(t, "open"), Pieces: []Piece{{ID: "p", Due: NoDue}}}
		hands, follower := rapid.IntRange(1, 20).Draw(t, "hands"), rapid.IntRange(1, 20).Draw(t, "follower")
		least := rapid.IntRange(0, 60).Draw(t, "least")
		most := least + rapid.IntRange(0, 40).Draw(t, "most")
		p.Pieces[0].Tasks = []Task{{ID: "a", Hands: hands},
			{ID: "b", Hands: follower, Waits: []Wait{{After: 0, Min: least, Max: most}}}}
		n := newNetwork(context.Background(), p)
		got := n.narrowHours()
		fits := func(s, d int) bool {
			return slices.ContainsFunc(p.Open, func(o Interval) bool { return o.From <= s && s+d <= o.To })
		}
		want := make([]bool, 400)
		for s := range 320 {
			for f := s + hands + least; f <= s+hands+most && fits(s, hands); f++ {
				if fits(f, follower) {
					for m := s; m < s+hands; m++ {
						want[m] = true
					}
					break
				}
			}
		}
		for m := range 340 {
			require.Equal(t, want[m], inside(got, m), "minute %d of %v; %d, %d to %d, %d", m, p.Open, hands, least, most,
				follower)
		}
	})
}

// The limits of a problem are themselves allowed, one more is not.
func TestLimitsOfAProblem(t *testing.T) {
	with := func(change func(*Problem)) Problem {
		p := Problem{Open: []Interval{{0, 10}, {10, 20}}, Rack: []int{1, 1},
			Pieces: []Piece{{ID: "p", Tasks: []Task{{ID: "a"}, {ID: "b", Waits: []Wait{{After: 0, Min: 5, Max: 5}}}}}}}
		change(&p)
		return p
	}
	for name, c := range map[string]struct {
		change func(*Problem)
		ok     bool
	}{
		"as it is":           {func(*Problem) {}, true},
		"hours that overlap": {func(p *Problem) { p.Open[1].From = 9 }, false},
		"hours of no length": {func(p *Problem) { p.Open[1].To = 10 }, false},
		"a week's work":      {func(p *Problem) { p.Pieces[0].Tasks[0].Hands = 7 * 24 * 60 }, true},
		"more than a week":   {func(p *Problem) { p.Pieces[0].Tasks[0].Hands = 7*24*60 + 1 }, false},
		"less than nothing":  {func(p *Problem) { p.Pieces[0].Tasks[0].Hands = -1 }, false},
		"the last class":     {func(p *Problem) { p.Pieces[0].Rack = 1 }, true},
		"a class too far":    {func(p *Problem) { p.Pieces[0].Rack = 2 }, false},
		"before the first":   {func(p *Problem) { p.Pieces[0].Rack = -1 }, false},
		"no rack at all":     {func(p *Problem) { p.Rack, p.Pieces[0].Rack = nil, 7 }, true},
		"three years":        {func(p *Problem) { p.Pieces[0].Tasks[1].Waits[0] = Wait{0, MaxMinutes, NoMax, nil} }, true},
		"more than that": {func(p *Problem) { p.Pieces[0].Tasks[1].Waits[0] = Wait{0, MaxMinutes + 1, NoMax, nil} },
			false},
		"a negative wait":     {func(p *Problem) { p.Pieces[0].Tasks[1].Waits[0].Min = -1 }, false},
		"a window of nothing": {func(p *Problem) { p.Pieces[0].Tasks[1].Waits[0] = Wait{0, 6, 5, nil} }, false},
		"waits for itself":    {func(p *Problem) { p.Pieces[0].Tasks[1].Waits[0].After = 1 }, false},
		"waits for nobody":    {func(p *Problem) { p.Pieces[0].Tasks[1].Waits[0].After = 2 }, false},
		"as many as may be":   {func(p *Problem) { p.Pieces[0].Tasks = make([]Task, MaxTasks) }, true},
		"one more":            {func(p *Problem) { p.Pieces[0].Tasks = make([]Task, MaxTasks+1) }, false},
	} {
		if err := with(c.change).Check(); c.ok {
			assert.NoError(t, err, name)
		} else {
			assert.Error(t, err, name)
		}
	}
}

// A circle of waits is found and named, wherever it begins.
func TestCirclesAreNamed(t *testing.T) {
	ring := func(n int, tail int) Piece {
		p := Piece{ID: "p"}
		for k := range n {
			p.Tasks = append(p.Tasks, Task{ID: fmt.Sprint(k), Waits: []Wait{{After: (k + 1) % n}}})
		}
		for k := range tail {
			p.Tasks = append(p.Tasks, Task{ID: fmt.Sprint("tail", k), Waits: []Wait{{After: k}}})
		}
		return p
	}
	for n := 2; n < 6; n++ {
		circle := ring(n, 2).Circle()
		assert.Len(t, circle, n)
		slices.Sort(circle)
		assert.Equal(t, 0, circle[0])
		assert.Equal(t, n-1, circle[n-1])
	}
	assert.Nil(t, Piece{Tasks: []Task{{}, {Waits: []Wait{{After: 0}}}, {Waits: []Wait{{After: 0}, {After: 1}}}}}.Circle())
}

// Where nothing but one kind of thing binds, the bound is what comes out: the chain of
// a piece, the hands, the windows' hours, the places of the rack.
func TestTheBoundIsReached(t *testing.T) {
	task := func(hands int, waits ...Wait) Task { return Task{Hands: hands, Waits: waits} }
	many := func(n int, piece Piece) []Piece {
		var out []Piece
		for k := range n {
			p := piece
			p.ID, p.Due = fmt.Sprint(k), NoDue
			out = append(out, p)
		}
		return out
	}
	stay := Piece{Tasks: []Task{{Hands: 10, Take: true},
		{Hands: 5, Free: true, Waits: []Wait{{After: 0, Min: 100, Max: NoMax}}}}}
	pair := stay
	pair.Places = 2
	for name, c := range map[string]struct {
		p    Problem
		want int
	}{
		"a chain": {Problem{Open: []Interval{{60, 1000}},
			Pieces: []Piece{{Due: NoDue,
				Tasks: []Task{task(10), task(20, Wait{0, 200, NoMax, nil}),
					task(5, Wait{1, 7, NoMax, nil})}}}}, 60 + 10 + 200 + 20 + 7 + 5},
		"hands": {Problem{Open: []Interval{{10, 50}, {100, 140}, {200, 300}},
			Pieces: many(6, Piece{Tasks: []Task{task(20)}})}, 240},
		"hands and tail": {Problem{Open: []Interval{{0, 4000}},
			Pieces: many(5, Piece{Tasks: []Task{task(30), task(0, Wait{0, 600, NoMax, nil})}})}, 5*30 + 600},
		"places":     {Problem{Open: []Interval{{0, 4000}}, Rack: []int{1}, Pieces: many(3, stay)}, 3 * 115},
		"two places": {Problem{Open: []Interval{{0, 4000}}, Rack: []int{2}, Pieces: many(4, stay)}, 2*115 + 10 + 5},
		"pairs":      {Problem{Open: []Interval{{0, 4000}}, Rack: []int{2}, Pieces: many(3, pair)}, 3 * 115},
	} {
		plan, err := Solve(t.Context(), c.p, Settings{})
		require.NoError(t, err, name)
		assert.LessOrEqual(t, plan.Bound, plan.LastEnd, name)
		if name != "two places" { // where the hands part the stays, which the bound does not see
			assert.Equal(t, plan.LastEnd, plan.Bound, name)
		}
		assert.Equal(t, c.want, plan.LastEnd, name)
	}
}
