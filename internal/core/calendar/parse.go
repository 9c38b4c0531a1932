package calendar

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"jevvo/internal/core/refusal"
)

var weekdays = [7]string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}

// String prints the time as 08:30.
func (k Clock) String() string { return fmt.Sprintf("%02d:%02d", int(k)/60, int(k)%60) }

// ParseClock reads 08:30, 8.30, 7, 7 pm, or 24:00 for the end of a day.
func ParseClock(text string) (Clock, error) {
	m := clockTime.FindStringSubmatch(strings.Join(plainWords(text), " "))
	if m == nil {
		return 0, refusal.New("%q is not a time of day; write 08:30", strings.TrimSpace(text))
	}
	return clockOf(m[1], m[2], m[3])
}

// String prints the day as 08:00-12:00, 13:00-18:00.
func (d Day) String() string {
	parts := make([]string, len(d))
	for i, h := range d {
		parts[i] = h.From.String() + "-" + h.To.String()
	}
	return strings.Join(parts, ", ")
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

// ParseWeek reads the hours of a week as [Week.String] prints them, and as people write them:
//
//	mon-fri 08:00-18:00; sat 10:00-16:00
//	Mon to Fri 18-22, Sat and Sun 9 am - 5 pm
//	daily 9-17, wed closed
//	Mo–Fr 18–22 Uhr; Sa 9.30–12, 13–17
//
// Days that are not named are closed; a day named twice is as it was named last.
func ParseWeek(text string) (Week, error) {
	var w Week
	var days []int
	var hours []string
	set := func() error {
		if len(days) == 0 {
			return refusal.New("name the days before the hours; write mon-fri 08:00-18:00")
		}
		var open Day
		if said := strings.TrimRight(strings.Join(hours, " "), ", "); !slices.Contains(closedWords, said) {
			var err error
			if open, err = parseDay(said); err != nil {
				return err
			}
		}
		for _, d := range days {
			w[d] = open
		}
		days, hours = nil, nil
		return nil
	}
	for _, word := range weekWords(text) {
		if !namesDays(word) {
			hours = append(hours, word)
			continue
		}
		if len(hours) > 0 {
			if err := set(); err != nil {
				return w, err
			}
		}
		more, err := parseDays(word)
		if err != nil {
			return w, err
		}
		days = append(days, more...)
	}
	if len(hours) == 0 && len(days) > 0 {
		return w, refusal.New("%q has no hours; write mon-fri 08:00-18:00", strings.TrimSpace(text))
	}
	if len(hours) > 0 {
		if err := set(); err != nil {
			return w, err
		}
	}
	if !slices.ContainsFunc(w[:], func(d Day) bool { return d.minutes() >= 60 }) {
		return w, refusal.New("the studio must be open for at least an hour on some day of the week")
	}
	return w, nil
}

var spacedDash = regexp.MustCompile(`\s*(-|\bto\b)\s*`)

// weekWords are the words of a week's hours, each a day, a range of days or of times, or part of one.
func weekWords(text string) []string {
	text = strings.NewReplacer(";", " ; ", "\n", " ; ", ",", ", ", "&", " and ").Replace(text)
	text = spacedDash.ReplaceAllString(strings.Join(plainWords(text), " "), "-")
	var out []string
	for w := range strings.FieldsSeq(text) {
		if w = strings.TrimRight(w, ":"); w != ";" && w != "and" && w != "from" && w != "," {
			out = append(out, w)
		}
	}
	return out
}

// namesDays tells a word that names days, or should, from one of the hours: those have a figure, or
// are a half of the day or a word for closed.
func namesDays(word string) bool {
	bare := strings.TrimRight(word, ",.")
	return !strings.ContainsAny(word, "0123456789") && !slices.Contains(closedWords, bare) &&
		!halves.MatchString(bare)
}

// manyDays are words for several days.
var manyDays = map[string]string{"daily": "mon-sun", "weekdays": "mon-fri", "weekends": "sat-sun", "weekend": "sat-sun"}

// parseDays reads mon-fri, or sat.
func parseDays(text string) ([]int, error) {
	bare := strings.TrimRight(text, ",.")
	if many, ok := manyDays[bare]; ok {
		bare = many
	}
	from, to, ranged := strings.Cut(bare, "-")
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
	var out []int
	for d := a; ; d = (d + 1) % 7 {
		out = append(out, d)
		if d == b {
			return out, nil
		}
	}
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
