// Package schedule plans the days of one painter: tasks that need the hands
// for a while, with waits after one another that have a least and often a
// longest length, opening hours, and level places on a rack.
//
// Time is whole minutes after a beginning the caller chooses, so that nothing
// here knows of time zones: whoever makes a [Problem] lays its opening hours
// out in minutes that really pass, and daylight saving is settled there.
//
//	plan, err := schedule.Solve(problem, schedule.Settings{})
//
// Goals in order: the least sum of minutes late, the earliest last end, the
// fewest mixing sessions, each worth a day's waiting of a piece. Small problems are solved exactly, large ones by a
// search that always gives the same answer, with a bound to judge it by.
//
// What makes it exact: for one order of all tasks every constraint has the form
// "this starts no earlier than some never-falling function of that", opening
// hours, least and longest waits alike. Such a system has one earliest solution,
// which is best for every goal at once, so only orders need be searched.
package schedule

import (
	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// An Interval is a stretch of minutes, To not included.
type Interval struct{ From, To int }

// NoMax stands for a wait that may be as long as it likes.
const NoMax = -1

// A Wait runs from the end of another task of the piece to the start of this.
type Wait struct {
	After    int // place of the other task in the piece
	Min, Max int // minutes; Max NoMax for none
	Why      msg.Text
}

// A Task needs the painter whole for its minutes, inside one opening interval.
type Task struct {
	ID    string
	Name  msg.Text // how it is said; nil for its ID
	Hands int
	Waits []Wait
	Take  bool // from its start the piece holds its place on the rack
	Free  bool // until its end
	Mix   string
	// Fixed is where a task lies that has happened or was pinned; nil for one
	// to be planned. What has happened lies outside opening hours if it did.
	Fixed *int
	Done  bool // it has happened: it takes none of the painter's time now
	Begun bool // it is in hand: nothing else begins before its end but what is in hand too
	NotIn int  // earliest start; 0 for none
}

// Title is how the task is said.
func (t *Task) Title() msg.Text {
	if t.Name != nil {
		return t.Name
	}
	return msg.Own(t.ID)
}

// there reports whether what the task takes is taken, whatever is planned.
func (t *Task) there() bool { return t.Done || t.Begun }

// A Piece is tasks that belong together.
type Piece struct {
	ID     string
	Due    int // NoDue for none
	Tasks  []Task
	Rack   int // class of its place on the rack
	Places int // how many of them; 0 counts as 1 when a task takes one
}

// NoDue is the due minute of a piece without a due day.
const NoDue = 1 << 40

// A Problem is the input of the scheduler.
type Problem struct {
	Open   []Interval // in order, not touching; tasks lie whole inside one
	Pieces []Piece
	Rack   []int // places of each class
}

// A Plan is when each task starts, by piece and task.
type Plan struct {
	Starts   [][]int
	Late     int // minutes, summed over pieces
	LastEnd  int
	Sessions int // runs of pours with the same mix, one after the other
	Ends     int // of every piece, summed
	Bound    int // no plan as little late ends before this
	Proven   bool
}

// ErrInfeasible is returned when no plan exists; see [Explain].
var ErrInfeasible = refusal.New("no plan keeps all waits, opening hours and places")

// Limits of a problem.
const (
	MaxTasks   = 8000
	MaxMinutes = 3 * 366 * 24 * 60
)

// Check reports a problem that makes no sense, whatever the plan.
func (p Problem) Check() error {
	n := 0
	for i, o := range p.Open {
		if o.From >= o.To || (i > 0 && o.From < p.Open[i-1].To) {
			return refusal.New("opening hours must be in order and end after they begin")
		}
	}
	for _, piece := range p.Pieces {
		if piece.Rack < 0 || (len(p.Rack) > 0 && piece.Rack >= len(p.Rack)) {
			return refusal.New("%s needs a place on the drying rack that does not exist", piece.ID)
		}
		for k, t := range piece.Tasks {
			n++
			if (t.Done || t.Begun) && t.Fixed == nil {
				return refusal.New("%s, %s: a task that is done needs the time it was done", piece.ID, t.ID)
			}
			if t.Hands < 0 || t.Hands > 7*24*60 {
				return refusal.New("%s, %s: work must take 0 to 7 days", piece.ID, t.ID)
			}
			for _, w := range t.Waits {
				switch {
				case w.After < 0 || w.After >= len(piece.Tasks) || w.After == k:
					return refusal.New("%s, %s waits for a task that is not there", piece.ID, t.ID)
				case w.Min < 0 || w.Min > MaxMinutes:
					return refusal.New("%s, %s: a wait must last 0 to 3 years", piece.ID, t.ID)
				case w.Max != NoMax && w.Max < w.Min:
					return refusal.New("%s, %s: its longest wait is shorter than its shortest", piece.ID, t.ID)
				}
			}
		}
	}
	if n > MaxTasks {
		return refusal.New("%d tasks; at most %d are planned at once", n, MaxTasks)
	}
	return nil
}

// Circle returns the tasks of a piece that wait for one another in a circle,
// nil when there is none.
func (p Piece) Circle() []int {
	state := make([]int, len(p.Tasks)) // 0 new, 1 on the way, 2 done
	var path []int
	var visit func(i int) []int
	visit = func(i int) []int {
		state[i] = 1
		path = append(path, i)
		for _, w := range p.Tasks[i].Waits {
			switch state[w.After] {
			case 1:
				for k, at := range path {
					if at == w.After {
						return append([]int(nil), path[k:]...)
					}
				}
			case 0:
				if c := visit(w.After); c != nil {
					return c
				}
			}
		}
		state[i] = 2
		path = path[:len(path)-1]
		return nil
	}
	for i := range p.Tasks {
		if state[i] == 0 {
			if c := visit(i); c != nil {
				return c
			}
		}
	}
	return nil
}

// calendar answers where a task fits into the opening hours.
type calendar struct {
	open  []Interval
	until []int // open minutes before each interval
	days  []int // first interval that ends after each day's beginning
}

func newCalendar(open []Interval) calendar {
	c := calendar{open: open, until: make([]int, len(open)+1)}
	for i, o := range open {
		c.until[i+1] = c.until[i] + o.To - o.From
	}
	if n := len(open); n > 0 && open[n-1].To <= MaxMinutes {
		i := 0
		for day := 0; day*aDay <= open[n-1].To; day++ {
			for i < n && open[i].To <= day*aDay {
				i++
			}
			c.days = append(c.days, i)
		}
	}
	return c
}

const aDay = 24 * 60

// never is later than any plan.
const never = 1 << 41

// index returns the first interval that ends after t.
func (c calendar) index(t int) int {
	if day := t / aDay; t >= 0 && day < len(c.days) {
		i := c.days[day]
		for i < len(c.open) && c.open[i].To <= t {
			i++
		}
		return i
	}
	lo, hi := 0, len(c.open)
	for lo < hi {
		if m := (lo + hi) / 2; c.open[m].To <= t {
			lo = m + 1
		} else {
			hi = m
		}
	}
	return lo
}

// fit returns the earliest start at or after t of work that takes d whole
// inside one interval.
func (c *calendar) fit(t, d int) int {
	i := c.index(t)
	if d == 0 && i > 0 && c.open[i-1].To == t {
		return t // a moment at closing time is still inside
	}
	for ; i < len(c.open); i++ {
		if s := max(t, c.open[i].From); s+d <= c.open[i].To {
			return s
		}
	}
	return never
}

// after returns the earliest minute by which so much open time has passed
// since t.
func (c calendar) after(t, work int) int {
	if work <= 0 {
		return t
	}
	i := c.index(t)
	if i == len(c.open) {
		return never
	}
	goal := c.until[i] + max(0, t-c.open[i].From) + work
	lo, hi := i, len(c.open)
	for lo < hi {
		if m := (lo + hi) / 2; c.until[m+1] < goal {
			lo = m + 1
		} else {
			hi = m
		}
	}
	if lo == len(c.open) {
		return never
	}
	return c.open[lo].From + goal - c.until[lo]
}
