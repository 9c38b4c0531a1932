// Package calendar knows when a studio is open, how warm it is meanwhile, and
// which level places it has. What a painter types is parsed once and kept
// typed:
//
//	week, err := calendar.ParseWeek("mon-fri 08:00-12:00, 13:00-18:00; sat 10:00-16:00")
//	c := calendar.Calendar{Week: week}
//	start := c.Slot(now, 2*time.Hour) // the next two hours in a row
package calendar

import (
	"encoding/json"
	"time"
)

// A Clock is a time of day in minutes after midnight.
type Clock int

// Hours is one open stretch of a day.
type Hours struct{ From, To Clock }

// A Day is the open stretches of a day, in order; none when it is shut.
type Day []Hours

// A Week is the usual hours, Sunday first as in time.Weekday.
type Week [7]Day

// A Single is a day whose hours are its own.
type Single struct {
	Date string // 2026-12-24
	Open Day
}

// A Calendar is a studio's opening hours.
type Calendar struct {
	Week    Week
	Singles []Single // in order of date
	// Longer opens every open day so many minutes earlier and later, and Always
	// opens days that are shut at the hours of the widest: what-ifs of a plan.
	Earlier, Later Clock `json:"-"`
	Always         bool  `json:"-"`
}

// A Stretch is an open stretch in real time.
type Stretch struct{ From, To time.Time }

// MarshalJSON keeps the calendar as it is typed.
func (c Calendar) MarshalJSON() ([]byte, error) {
	return json.Marshal(struct{ Week, Singles string }{c.Week.String(), SinglesText(c.Singles)})
}

// UnmarshalJSON reads a kept calendar.
func (c *Calendar) UnmarshalJSON(data []byte) error {
	var typed struct{ Week, Singles string }
	err := json.Unmarshal(data, &typed)
	if err == nil {
		c.Week, err = ParseWeek(typed.Week)
	}
	if err == nil {
		c.Singles, err = ParseSingles(typed.Singles, time.Time{}, false)
	}
	return err
}

// day returns the open stretches of the day t lies in.
func (c Calendar) day(t time.Time) Day {
	open := c.Week[t.Weekday()]
	date := t.Format(time.DateOnly)
	for _, s := range c.Singles {
		if s.Date == date {
			open = s.Open
		}
	}
	if len(open) == 0 && c.Always {
		open = c.widest()
	}
	if len(open) == 0 || (c.Earlier == 0 && c.Later == 0) {
		return open
	}
	wider := append(Day(nil), open...)
	wider[0].From = max(0, wider[0].From-c.Earlier)
	wider[len(wider)-1].To = min(24*60, wider[len(wider)-1].To+c.Later)
	return wider
}

// widest is the longest of the usual days.
func (c Calendar) widest() Day {
	var best Day
	for _, d := range c.Week {
		if d.minutes() > best.minutes() {
			best = d
		}
	}
	return best
}

func (d Day) minutes() int {
	sum := 0
	for _, h := range d {
		sum += int(h.To - h.From)
	}
	return sum
}

// On returns the open stretches of the day t lies in.
func (c Calendar) On(t time.Time) []Stretch {
	y, m, d := t.Date()
	at := func(k Clock) time.Time { return time.Date(y, m, d, int(k)/60, int(k)%60, 0, 0, t.Location()) }
	var out []Stretch
	for _, h := range c.day(t) {
		out = append(out, Stretch{at(h.From), at(h.To)})
	}
	return out
}

// Span returns when the studio opens first and shuts last on the day t lies
// in; false for a day it is shut.
func (c Calendar) Span(t time.Time) (from, to time.Time, open bool) {
	on := c.On(t)
	if len(on) == 0 {
		return from, to, false
	}
	return on[0].From, on[len(on)-1].To, true
}

// next returns noon of the day after t: adding days keeps clear of the hours
// that daylight saving skips.
func next(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d+1, 12, 0, 0, 0, t.Location())
}

// farthest is how many days ahead an open one is looked for.
const farthest = 400

// Slot returns the earliest start at or after t of work that takes d whole
// within one open stretch. Work longer than any stretch of a day starts when
// the day's longest opens.
func (c Calendar) Slot(t time.Time, d time.Duration) time.Time {
	day := t
	for range farthest {
		var longest Stretch
		for _, s := range c.On(day) {
			from := s.From
			if t.After(from) {
				from = t
			}
			if !from.Add(d).After(s.To) && from.Before(s.To) {
				return from
			}
			if s.To.Sub(s.From) > longest.To.Sub(longest.From) {
				longest = s
			}
		}
		if d > longest.To.Sub(longest.From) && !longest.From.Before(t) && !longest.From.IsZero() {
			return longest.From
		}
		day = next(day)
	}
	return t
}

// Contains reports whether the studio is open at t.
func (c Calendar) Contains(t time.Time) bool {
	for _, s := range c.On(t) {
		if !t.Before(s.From) && t.Before(s.To) {
			return true
		}
	}
	return false
}

// Whole reports whether from until to lies within one open stretch.
func (c Calendar) Whole(from, to time.Time) bool {
	for _, s := range c.On(from) {
		if !from.Before(s.From) && !to.After(s.To) {
			return true
		}
	}
	return false
}

// Awake reports whether any of the stretch lies in opening hours, and returns
// its first such moment.
func (c Calendar) Awake(from, to time.Time) (time.Time, bool) {
	t := c.Slot(from, time.Minute)
	return t, t.Before(to)
}

// Stretches returns the open stretches of so many days from the one base lies
// in.
func (c Calendar) Stretches(base time.Time, days int) []Stretch {
	var out []Stretch
	y, m, d := base.Date()
	for i := range days {
		out = append(out, c.On(time.Date(y, m, d+i, 12, 0, 0, 0, base.Location()))...)
	}
	return out
}
