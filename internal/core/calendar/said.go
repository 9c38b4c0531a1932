package calendar

import (
	"errors"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/refusal"
)

// Said reads one day whose hours are its own, in a painter's words, as of today:
//
//	Thu 18–21          the coming Thursday, in the evening too
//	tomorrow closed
//	24 Dec closed
//	24 Dec only 9-12   instead of its usual hours
//	2026-12-24 10:00-14:00, 17:00-19:00
//	sat 6–9 pm
//	12/24 closed       where dates are written month first; 24/12 elsewhere
//	Do 18–21 Uhr, morgen zu: the words of other languages too (see plain)
//
// Hours that lie apart from the day's own come besides them; those that overlap them,
// or are said with “only”, replace them.
func (c Calendar) Said(text string, today time.Time, monthFirst bool) (Single, error) {
	words := plainWords(text)
	if len(words) == 0 {
		return Single{}, refusal.New("give a day and its hours, such as thu 18-21, or 24 dec closed")
	}
	day, rest, err := saidDay(words, today, monthFirst)
	if err != nil {
		return Single{}, err
	}
	one := Single{Date: day.Format(time.DateOnly)}
	only := len(rest) > 0 && rest[0] == "only"
	if only {
		rest = rest[1:]
	}
	if len(rest) == 0 || len(rest) == 1 && slices.Contains(closedWords, rest[0]) {
		if only {
			return one, refusal.New("give the hours, such as only 9-12")
		}
		return one, nil
	}
	if one.Open, err = parseDay(strings.Join(rest, " ")); err != nil {
		return one, err
	}
	if both, apart := beside(c.day(day), one.Open); apart && !only {
		one.Open = both
	}
	return one, nil
}

var dashes = strings.NewReplacer("–", "-", "—", "-", "−", "-", "p.m.", "pm", "a.m.", "am")

// closedWords say that a day is.
var closedWords = []string{"closed", "shut", "off"}

// beside joins two lists of hours that do not overlap, in order.
func beside(a, b Day) (Day, bool) {
	out := slices.Concat(a, b)
	slices.SortFunc(out, func(x, y Hours) int { return int(x.From - y.From) })
	for k := 1; k < len(out); k++ {
		if out[k].From < out[k-1].To {
			return nil, false
		}
	}
	return out, true
}

var months = [12]string{"jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"}

// slashed and dotted are dates in figures, with their year or without; with dots the day is first.
var (
	slashed = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})(?:/(\d{4}))?$`)
	dotted  = regexp.MustCompile(`^(\d{1,2})\.(\d{1,2})(?:\.(\d{4})?)?$`)
)

// saidDay reads the day at the front of words, and returns what follows it.
func saidDay(words []string, today time.Time, monthFirst bool) (time.Time, []string, error) {
	y, m, d := today.Date()
	midday := func(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 12, 0, 0, 0, today.Location()) }
	first := strings.TrimRight(words[0], ",:")
	switch {
	case today.IsZero(): // no day is near
	case first == "today" || first == "tonight":
		return midday(y, m, d), words[1:], nil
	case first == "tomorrow":
		return midday(y, m, d+1), words[1:], nil
	}
	if t, err := time.Parse(time.DateOnly, first); err == nil {
		return midday(t.Year(), t.Month(), t.Day()), words[1:], nil
	}
	figures := slashed.FindStringSubmatch(first)
	slashes := figures != nil
	if !slashes {
		figures = dotted.FindStringSubmatch(first)
	}
	if d := figures; d != nil {
		day, month := d[1], d[2]
		if monthFirst && slashes {
			day, month = month, day
		}
		n, _ := strconv.Atoi(day)
		m, _ := strconv.Atoi(month)
		if m < 1 || m > 12 {
			return time.Time{}, nil, refusal.New("%q is not a day; write thu, tomorrow, 24 dec or 2026-12-24", words[0])
		}
		rest := words[1:]
		if d[3] != "" {
			rest = append([]string{d[3]}, rest...)
		}
		return dated(midday, y, time.Month(m), n, rest, today)
	}
	if n, err := strconv.Atoi(strings.TrimRight(first, ".")); err == nil && len(words) > 1 {
		if month := monthOf(words[1]); month > 0 {
			return dated(midday, y, month, n, words[2:], today)
		}
	}
	if month := monthOf(first); month > 0 && len(words) > 1 {
		if n, err := strconv.Atoi(strings.TrimRight(words[1], ",")); err == nil {
			return dated(midday, y, month, n, words[2:], today)
		}
	}
	if w, err := weekday(first); err == nil && !today.IsZero() {
		ahead := (w - int(today.Weekday()) + 7) % 7
		return midday(y, m, d+ahead), words[1:], nil
	}
	return time.Time{}, nil, refusal.New("%q is not a day; write thu, tomorrow, 24 dec or 2026-12-24", words[0])
}

// dated is a day of a month, this year or, once it is over, the next; a year may follow.
func dated(midday func(int, time.Month, int) time.Time, year int, month time.Month, day int, rest []string,
	today time.Time) (time.Time, []string, error) {
	given := false
	if len(rest) > 0 && len(rest[0]) == 4 {
		if n, err := strconv.Atoi(rest[0]); err == nil && n >= 2000 {
			year, rest, given = n, rest[1:], true
		}
	}
	if !given && today.IsZero() {
		return today, nil, refusal.New("give the year too, such as 2026-12-24")
	}
	t := midday(year, month, day)
	if !given && t.Before(midday(today.Date())) {
		t = midday(year+1, month, day)
	}
	if t.Day() != day || day < 1 {
		return t, nil, refusal.New("%s has no day %d", month, day)
	}
	return t, rest, nil
}

func monthOf(text string) time.Month {
	text = strings.TrimRight(text, ".,")
	for k, name := range months {
		if len(text) >= 3 && (strings.HasPrefix(text, name) || strings.HasPrefix(name, text)) {
			return time.Month(k + 1)
		}
	}
	return 0
}

var (
	aClock    = `(\d{1,2})(?:[:.h](\d\d))?\s*h?\s*(am|pm)?`
	clockTime = regexp.MustCompile(`^` + aClock + `$`)
	stretch   = regexp.MustCompile(`^` + aClock + `\s*-\s*` + aClock + `$`)
	halves    = regexp.MustCompile(`^(am|pm)(-|$)`)
)

// parseDay reads 08:00-12:00, 13:00-18:00, 18-21, 8.30-12, 6-9 pm, or 9-5, which ends in the afternoon.
func parseDay(text string) (Day, error) {
	var out Day
	text = strings.Join(plainWords(text), " ")
	for part := range strings.SplitSeq(strings.TrimPrefix(text, "from "), ",") {
		part = strings.TrimSpace(part)
		m := stretch.FindStringSubmatch(strings.ReplaceAll(part, " to ", "-"))
		if m == nil {
			return nil, refusal.New("%q is not a stretch of the day; write 18-21 or 18:00-21:30", part)
		}
		half := m[3]
		if half == "" {
			half = m[6] // 6-9 pm
		}
		from, errA := clockOf(m[1], m[2], half)
		to, errB := clockOf(m[4], m[5], m[6])
		if err := errors.Join(errA, errB); err != nil {
			return nil, err
		}
		switch {
		case m[3] == "" && m[6] == "pm" && from >= to: // 11-2 pm
			from -= noon
		case half == "" && from >= to && from < noon+60 && to <= noon: // 9-5
			to += noon
		}
		if to-from < 15 || len(out) > 0 && from < out[len(out)-1].To {
			return nil, refusal.New("%q: closing comes after opening, at least a quarter of an hour later", part)
		}
		out = append(out, Hours{from, to})
	}
	return out, nil
}

const noon = Clock(12 * 60)

// clockOf is a time of day by 24 hours, or by 12 and its half.
func clockOf(hour, minute, half string) (Clock, error) {
	h, _ := strconv.Atoi(hour)
	m := 0
	if minute != "" {
		m, _ = strconv.Atoi(minute)
	}
	switch {
	case half != "" && (h < 1 || h > 12) || m > 59 || h > 24 || h == 24 && m > 0:
		return 0, refusal.New("there is no %s o’clock", strings.TrimSpace(hour+" "+half))
	case half == "pm" && h < 12:
		h += 12
	case half == "am" && h == 12:
		h = 0
	}
	return Clock(h*60 + m), nil
}

// With returns the calendar with a day of its own, in place of what that day had.
func (c Calendar) With(one Single) Calendar {
	c = c.Without(one.Date)
	c.Singles = append(c.Singles, one)
	slices.SortFunc(c.Singles, func(a, b Single) int { return strings.Compare(a.Date, b.Date) })
	return c
}

// Without returns the calendar with the usual hours on a day.
func (c Calendar) Without(date string) Calendar {
	c.Singles = slices.DeleteFunc(slices.Clone(c.Singles), func(s Single) bool { return s.Date == date })
	return c
}
