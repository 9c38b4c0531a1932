package calc

import (
	"context"
	"errors"
	"fmt"
	"time"

	"jevvo/internal/core/schedule"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

type scheduleRequest struct {
	Start string `json:"start" required:"true" description:"local time, 2026-03-02T08:00"`
	Open  []struct {
		Day  string `json:"day" required:"true" enum:"mon,tue,wed,thu,fri,sat,sun"`
		From string `json:"from" required:"true" description:"08:00"`
		To   string `json:"to" required:"true" description:"12:00"`
	} `json:"open" required:"true" maxItems:"200"`
	Rack   *int            `json:"shelf_slots" minimum:"0" maximum:"10000" description:"no limit when left out"`
	Pieces []schedulePiece `json:"pieces" required:"true" maxItems:"2000"`
}

type schedulePiece struct {
	ID    string  `json:"id" required:"true" minLength:"1"`
	Due   *string `json:"due" nullable:"true" description:"local time or day"`
	Tasks []struct {
		ID    string         `json:"id" required:"true" minLength:"1"`
		Hands int            `json:"hands_min" required:"true" minimum:"0" maximum:"10080"`
		After []scheduleWait `json:"after"`
		Slot  string         `json:"slot" enum:",take,hold,free"`
	} `json:"tasks" required:"true"`
}

type scheduleWait struct {
	Task string `json:"task" required:"true"`
	Min  int    `json:"min_min" default:"0" minimum:"0" maximum:"1581120"`
	Max  *int   `json:"max_min" nullable:"true" minimum:"0" maximum:"1581120"`
}

type scheduleAnswer struct {
	Feasible bool           `json:"feasible"`
	Tasks    []scheduleTask `json:"tasks"`
	Late     int            `json:"late_min"`
	LastEnd  *string        `json:"last_end" nullable:"true" description:"null when nothing is planned"`
	Bound    *string        `json:"lower_bound_end" nullable:"true"`
	Reasons  []string       `json:"reasons"`
}

type scheduleTask struct {
	Piece string `json:"piece"`
	Task  string `json:"task"`
	Start string `json:"start"`
	End   string `json:"end"`
}

const localMinute = "2006-01-02T15:04"

// scheduleDays is how far ahead opening hours are laid out.
const scheduleDays = 2 * 366

// readLocal reads a local time, or a day as its last minute.
func readLocal(field, text string) (time.Time, error) {
	for _, layout := range []string{localMinute, "2006-01-02T15:04:05"} {
		if t, err := time.Parse(layout, text); err == nil {
			return t, nil
		}
	}
	if t, err := time.Parse(time.DateOnly, text); err == nil {
		return t.AddDate(0, 0, 1), nil
	}
	return time.Time{}, FieldError{field, msg.F("%q is not a local time like 2026-03-02T08:00", text)}
}

func scheduled(ctx context.Context, r scheduleRequest) (scheduleAnswer, error) {
	start, err := readLocal("start", r.Start)
	if err != nil {
		return scheduleAnswer{}, err
	}
	p := schedule.Problem{}
	if p.Open, err = r.hours(start); err != nil {
		return scheduleAnswer{}, err
	}
	if r.Rack != nil {
		p.Rack = []int{*r.Rack}
	}
	if p.Pieces, err = r.pieces(start); err != nil {
		return scheduleAnswer{}, err
	}
	if err := p.Check(); err != nil {
		return scheduleAnswer{}, at("pieces", err)
	}
	plan, err := schedule.Solve(ctx, p, schedule.Settings{})
	feasible := err == nil
	if err != nil && !errors.Is(err, schedule.ErrInfeasible) {
		return scheduleAnswer{}, err
	}
	a := scheduleAnswer{Feasible: feasible, Tasks: []scheduleTask{}, Reasons: []string{}}
	reasons, err := schedule.Explain(ctx, p, plan, feasible, schedule.Settings{})
	if err != nil {
		return scheduleAnswer{}, err
	}
	for _, reason := range reasons {
		a.Reasons = append(a.Reasons, words.Reason(reason, p).In(msg.LangOf(ctx)))
	}
	if !feasible {
		return a, nil
	}
	stamp := func(m int) string { return start.Add(time.Duration(m) * time.Minute).Format(localMinute) }
	n := 0
	for i, piece := range p.Pieces {
		for k, t := range piece.Tasks {
			n++
			s := plan.Starts[i][k]
			a.Tasks = append(a.Tasks, scheduleTask{piece.ID, t.ID, stamp(s), stamp(s + t.Hands)})
		}
	}
	if n > 0 {
		last, bound := stamp(plan.LastEnd), stamp(plan.Bound)
		a.Late, a.LastEnd, a.Bound = plan.Late, &last, &bound
	}
	return a, nil
}

// hours lays the weekly opening hours out in minutes after the start.
func (r scheduleRequest) hours(start time.Time) ([]schedule.Interval, error) {
	type span struct{ from, to int }
	week := map[time.Weekday][]span{}
	names := []string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}
	for i, o := range r.Open {
		field := fmt.Sprintf("open[%d]", i)
		from, err1 := minuteOfDay(o.From)
		to, err2 := minuteOfDay(o.To)
		if err := errors.Join(err1, err2); err != nil {
			return nil, FieldError{field, msg.ID("hours look like 08:00")}
		}
		if to <= from {
			return nil, FieldError{field, msg.ID("must close after it opens")}
		}
		for day, name := range names {
			if name == o.Day {
				week[time.Weekday(day)] = append(week[time.Weekday(day)], span{from, to})
			}
		}
	}
	var out []schedule.Interval
	midnight := start.Truncate(24 * time.Hour)
	for d := range scheduleDays {
		day := midnight.AddDate(0, 0, d)
		base := int(day.Sub(start).Minutes())
		for _, s := range week[day.Weekday()] {
			if v := (schedule.Interval{From: max(0, base+s.from), To: base + s.to}); v.From < v.To {
				out = append(out, v)
			}
		}
	}
	return schedule.Union(out), nil
}

func minuteOfDay(text string) (int, error) {
	if text == "24:00" {
		return 24 * 60, nil
	}
	t, err := time.Parse("15:04", text)
	return t.Hour()*60 + t.Minute(), err
}

func (r scheduleRequest) pieces(start time.Time) ([]schedule.Piece, error) {
	seen := map[string]bool{}
	var out []schedule.Piece
	for i, p := range r.Pieces {
		field := fmt.Sprintf("pieces[%d]", i)
		if seen[p.ID] {
			return nil, FieldError{field + ".id", msg.F("there are two pieces %q", p.ID)}
		}
		seen[p.ID] = true
		piece, err := p.read(field, start)
		if err != nil {
			return nil, err
		}
		out = append(out, piece)
	}
	return out, nil
}

// read places a piece's tasks by name; field is where the piece stands in the request.
func (p schedulePiece) read(field string, start time.Time) (schedule.Piece, error) {
	piece := schedule.Piece{ID: p.ID, Due: schedule.NoDue}
	if p.Due != nil {
		due, err := readLocal(field+".due", *p.Due)
		if err != nil {
			return piece, err
		}
		piece.Due = int(due.Sub(start).Minutes())
	}
	places := map[string]int{}
	for k, t := range p.Tasks {
		if _, twice := places[t.ID]; twice {
			return piece, FieldError{fmt.Sprintf("%s.tasks[%d].id", field, k), msg.F("there are two tasks %q", t.ID)}
		}
		places[t.ID] = k
	}
	for k, t := range p.Tasks {
		task := schedule.Task{ID: t.ID, Hands: t.Hands, Take: t.Slot == "take", Free: t.Slot == "free"}
		for m, w := range t.After {
			wait, err := w.read(fmt.Sprintf("%s.tasks[%d].after[%d]", field, k, m), k, places)
			if err != nil {
				return piece, err
			}
			task.Waits = append(task.Waits, wait)
		}
		piece.Tasks = append(piece.Tasks, task)
	}
	return piece, nil
}

func (w scheduleWait) read(field string, self int, places map[string]int) (schedule.Wait, error) {
	other, ok := places[w.Task]
	if !ok || other == self {
		return schedule.Wait{}, FieldError{field + ".task", msg.F("there is no other task %q in this piece", w.Task)}
	}
	wait := schedule.Wait{After: other, Min: w.Min, Max: schedule.NoMax}
	if w.Max == nil {
		return wait, nil
	}
	if wait.Max = *w.Max; wait.Max < wait.Min {
		return wait, FieldError{field + ".max_min", msg.ID("is shorter than the minimum wait")}
	}
	return wait, nil
}

func init() {
	defineLong("schedule", "Plan the days of one painter over several pieces", scheduled)
}
