package calendar

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/refusal"
)

var weekdays = [7]string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}

// String prints the time as 08:30.
func (k Clock) String() string { return fmt.Sprintf("%02d:%02d", int(k)/60, int(k)%60) }

// ParseClock reads 08:30, or 24:00 for the end of a day.
func ParseClock(text string) (Clock, error) {
	text = strings.TrimSpace(text)
	if text == "24:00" {
		return 24 * 60, nil
	}
	t, err := time.Parse("15:04", text)
	if err != nil {
		return 0, refusal.New("%q is not a time of day; write 08:30", text)
	}
	return Clock(t.Hour()*60 + t.Minute()), nil
}

// String prints the day as 08:00-12:00, 13:00-18:00.
func (d Day) String() string {
	parts := make([]string, len(d))
	for i, h := range d {
		parts[i] = h.From.String() + "-" + h.To.String()
	}
	return strings.Join(parts, ", ")
}

// parseDay reads 08:00-12:00, 13:00-18:00.
func parseDay(text string) (Day, error) {
	var out Day
	for part := range strings.SplitSeq(text, ",") {
		from, to, ok := strings.Cut(strings.ReplaceAll(part, "–", "-"), "-")
		if !ok {
			return nil, refusal.New("%q is not a stretch of the day; write 08:00-18:00", strings.TrimSpace(part))
		}
		a, err := ParseClock(from)
		if err != nil {
			return nil, err
		}
		b, err := ParseClock(to)
		if err != nil {
			return nil, err
		}
		if b-a < 15 || (len(out) > 0 && a < out[len(out)-1].To) {
			return nil, refusal.New("%q: closing comes after opening, at least a quarter of an hour later",
				strings.TrimSpace(part))
		}
		out = append(out, Hours{a, b})
	}
	return out, nil
}

// String prints the week with equal days together: mon-fri 08:00-18:00; sat
// 10:00-16:00. Days that are not named are closed.
func (w Week) String() string {
	var parts []string
	for i := 0; i < 7; i++ {
		day := w[(i+1)%7] // Monday first
		j := i
		for j < 6 && slices.Equal(w[(j+2)%7], day) {
			j++
		}
		if len(day) > 0 {
			name := weekdays[(i+1)%7]
			if j > i {
				name += "-" + weekdays[(j+1)%7]
			}
			parts = append(parts, name+" "+day.String())
		}
		i = j
	}
	return strings.Join(parts, "; ")
}

// ParseWeek reads the hours of a week as [Week.String] prints them; days may
// also be listed: sat, sun 10:00-14:00.
func ParseWeek(text string) (Week, error) {
	var w Week
	for part := range strings.SplitSeq(strings.ToLower(text), ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		at := strings.IndexAny(part, "0123456789")
		if at < 0 {
			return w, refusal.New("%q has no hours; write mon-fri 08:00-18:00", part)
		}
		open, err := parseDay(part[at:])
		if err != nil {
			return w, err
		}
		days, err := parseDays(part[:at])
		if err != nil {
			return w, err
		}
		for _, d := range days {
			w[d] = open
		}
	}
	if !slices.ContainsFunc(w[:], func(d Day) bool { return d.minutes() >= 60 }) {
		return w, refusal.New("the studio must be open for at least an hour on some day of the week")
	}
	return w, nil
}

// parseDays reads mon-fri, or sat, sun.
func parseDays(text string) ([]int, error) {
	var out []int
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == ',' || r == ' ' }) {
		from, to, ranged := strings.Cut(strings.ReplaceAll(part, "–", "-"), "-")
		a, err := weekday(from)
		if err != nil {
			return nil, err
		}
		b := a
		if ranged {
			if b, err = weekday(to); err != nil {
				return nil, err
			}
		}
		for d := a; ; d = (d + 1) % 7 {
			out = append(out, d)
			if d == b {
				break
			}
		}
	}
	if len(out) == 0 {
		return nil, refusal.New("name the days before the hours; write mon-fri 08:00-18:00")
	}
	return out, nil
}

func weekday(text string) (int, error) {
	text = plain(text)
	for i, name := range weekdays {
		if len(text) >= 2 && (strings.HasPrefix(text, name) || strings.HasPrefix(name, text)) {
			return i, nil
		}
	}
	return 0, refusal.New("%q is not a weekday; write mon, tue …", text)
}

// MostSingles is a year of single days.
const MostSingles = 366

// ParseSingles reads single days as 2026-12-24 closed; 2026-12-26 10:00-14:00. A
// day alone is closed.
func ParseSingles(text string) ([]Single, error) {
	var out []Single
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == ';' || r == '\n' }) {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		date, hours, _ := strings.Cut(part, " ")
		date = strings.TrimRight(date, ",")
		if _, err := time.Parse(time.DateOnly, date); err != nil {
			return nil, refusal.New("%q is not a day; write 2026-12-24", date)
		}
		one := Single{Date: date}
		if hours = strings.TrimSpace(hours); hours != "" && !slices.Contains(closedWords, plain(strings.ToLower(hours))) {
			var err error
			if one.Open, err = parseDay(hours); err != nil {
				return nil, err
			}
		}
		out = append(out, one)
	}
	if len(out) > MostSingles {
		return nil, refusal.New("no more than a year of single days")
	}
	slices.SortStableFunc(out, func(a, b Single) int { return strings.Compare(a.Date, b.Date) })
	return out, nil
}

// SinglesText prints single days as they are typed.
func SinglesText(singles []Single) string {
	parts := make([]string, len(singles))
	for i, s := range singles {
		parts[i] = s.Date + " closed"
		if len(s.Open) > 0 {
			parts[i] = s.Date + " " + s.Open.String()
		}
	}
	return strings.Join(parts, "; ")
}
