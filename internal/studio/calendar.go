package studio

import (
	"errors"
	"fmt"
	"sort"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/schedule"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

var weekdays = []string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}

// closedOn reports whether the studio is shut all day.
func (s Settings) closedOn(t time.Time) bool {
	name := weekdays[t.Weekday()]
	for part := range strings.FieldsFuncSeq(s.DaysOff, isComma) {
		if strings.EqualFold(part, name) {
			return true
		}
	}
	for part := range strings.FieldsFuncSeq(s.Closed, isComma) {
		if part == t.Format(time.DateOnly) {
			return true
		}
	}
	return false
}

func isComma(r rune) bool { return r == ',' || r == ';' || r == ' ' }

// daysOffField reads weekdays as "sat, sun".
func daysOffField() Field[Settings] {
	return Field[Settings]{"days_off", "Days off",
		func(s *Settings, _ units.System) string { return s.DaysOff },
		func(s *Settings, text string, _ units.System) (string, error) {
			var out []string
			for part := range strings.FieldsFuncSeq(strings.ToLower(text), isComma) {
				short := part[:min(3, len(part))]
				found := false
				for _, name := range weekdays {
					found = found || name == short
				}
				if !found {
					return "", fmt.Errorf("%q is not a weekday; write sat, sun", part)
				}
				out = append(out, short)
			}
			if len(out) >= 7 {
				return "", errors.New("one day a week must be open")
			}
			s.DaysOff = strings.Join(out, ", ")
			return "", nil
		}}
}

// closedField reads single days as "2026-12-24, 2026-12-25".
func closedField() Field[Settings] {
	return Field[Settings]{"closed", "Closed on",
		func(s *Settings, _ units.System) string { return s.Closed },
		func(s *Settings, text string, _ units.System) (string, error) {
			var out []string
			for part := range strings.FieldsFuncSeq(text, isComma) {
				t, err := time.Parse(time.DateOnly, part)
				if err != nil {
					return "", fmt.Errorf("%q is not a day; write 2026-12-24", part)
				}
				out = append(out, t.Format(time.DateOnly))
			}
			if len(out) > 366 {
				return "", errors.New("at most a year of single days")
			}
			s.Closed = strings.Join(out, ", ")
			return "", nil
		}}
}

// A ShelfClass is level, covered places of one size.
type ShelfClass struct {
	Count         int
	Width, Height units.Length
}

// shelfField reads places as "6 of 60 x 60 cm; 2 of 120 x 80 cm".
func shelfField() Field[Settings] {
	return parsedField("shelf", "Level, covered places", func(s *Settings) *string { return &s.Shelf }, parseShelf)
}

func parseShelf(text string) ([]ShelfClass, error) {
	var out []ShelfClass
	for part := range strings.SplitSeq(text, ";") {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		n, size, ok := strings.Cut(part, " of ")
		count, err := strconv.Atoi(strings.TrimSpace(n))
		if !ok || err != nil || count < 1 || count > 200 {
			return nil, fmt.Errorf("%q is not a number of places; write 6 of 60 x 60 cm", part)
		}
		w, h, err := units.ParseSize(size, "cm")
		if err != nil {
			return nil, err
		}
		out = append(out, ShelfClass{count, max(w.Value, h.Value), min(w.Value, h.Value)})
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Width*out[i].Height < out[j].Width*out[j].Height })
	return out, nil
}

// ShelfClasses returns the places by size, smallest first.
func (s Settings) ShelfClasses() []ShelfClass {
	classes, err := parseShelf(s.Shelf)
	if err != nil {
		return nil // kept only after it was read
	}
	return classes
}

// fits returns the smallest class a board fits, −1 for none.
func fits(classes []ShelfClass, board surface.Shape) int {
	box := board.Bounds()
	w, h := max(box.Width(), box.Height()), min(box.Width(), box.Height())
	for i, c := range classes {
		if w <= c.Width && h <= c.Height {
			return i
		}
	}
	return -1
}

// nightRamp is how long the room takes to cool or warm (common practice).
const nightRamp = 90.0

// RoomCurve is the expected temperature from a moment on: the day's while the
// studio is open, the night's while it is shut, with a ramp between.
func (s Settings) RoomCurve(from time.Time, dayTemp units.Temperature, days int) cure.Room {
	if s.Night == 0 || s.Night == s.Room {
		return cure.Constant(dayTemp)
	}
	night := s.Night + (dayTemp - s.Room)
	var readings []cure.Reading
	add := func(t time.Time, v units.Temperature) {
		m := t.Sub(from).Minutes()
		if n := len(readings); n == 0 || m > readings[n-1].Minute {
			readings = append(readings, cure.Reading{Minute: m, Temperature: v})
		}
	}
	y, mo, d := from.Date()
	for i := -1; i < days; i++ {
		noon := time.Date(y, mo, d+i, 12, 0, 0, 0, from.Location())
		if s.closedOn(noon) {
			continue // nobody turns the heating up
		}
		opens, shuts := s.open(noon)
		add(opens.Add(-minutes(nightRamp)), night)
		add(opens, dayTemp)
		add(shuts, dayTemp)
		add(shuts.Add(minutes(nightRamp)), night)
	}
	room, err := cure.NewRoom(readings)
	if err != nil {
		return cure.Constant(dayTemp)
	}
	return room
}

// planDays is how far ahead days are planned.
const planDays = 500

// hours lays the opening hours out in minutes that really pass after base,
// daylight saving and all.
func (s Settings) openHours(base time.Time, extra func(day time.Time) (from, to time.Time, ok bool)) []schedule.Interval {
	var out []schedule.Interval
	y, mo, d := base.Date()
	for i := range planDays {
		noon := time.Date(y, mo, d+i, 12, 0, 0, 0, base.Location())
		from, to := s.open(noon)
		ok := !s.closedOn(noon)
		if extra != nil {
			from, to, ok = extra(noon)
		}
		if ok {
			out = append(out, schedule.Interval{From: int(from.Sub(base).Minutes()), To: int(to.Sub(base).Minutes())})
		}
	}
	return schedule.Union(out)
}

// OpenOn returns a day's opening hours, and false for a day the studio is shut.
func (s Settings) OpenOn(day time.Time) (from, to time.Time, open bool) {
	from, to = s.open(day)
	return from, to, !s.closedOn(day)
}
