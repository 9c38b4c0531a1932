package calendar

import (
	"regexp"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/refusal"
)

// MostSingles is a year of single days.
const MostSingles = 366

// ParseSingles reads days whose hours are their own, one entry a line or between semicolons, as
// [SinglesText] prints them and as people write them:
//
//	2026-12-24 closed; 2026-12-26 10:00-14:00
//	24 Dec - 2 Jan closed
//	24.12.–2.1. geschlossen
//	12/24 closed, where dates are written month first
//
// A day alone is closed. A day without its year is the next one from today; where today is the zero
// time, such days are refused.
func ParseSingles(text string, today time.Time, monthFirst bool) ([]Single, error) {
	var out []Single
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == ';' || r == '\n' }) {
		words := plainWords(part)
		if len(words) == 0 {
			continue
		}
		from, to, rest, err := saidSpan(words, today, monthFirst)
		if err != nil {
			return nil, err
		}
		var open Day
		if len(rest) > 0 && rest[0] == "only" {
			rest = rest[1:]
		}
		if len(rest) > 0 && (len(rest) > 1 || !slices.Contains(closedWords, rest[0])) {
			if open, err = parseDay(strings.Join(rest, " ")); err != nil {
				return nil, err
			}
		}
		for day := from; !day.After(to); day = day.AddDate(0, 0, 1) {
			if out = append(out, Single{Date: day.Format(time.DateOnly), Open: open}); len(out) > MostSingles {
				return nil, refusal.New("no more than a year of single days")
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Single) int { return strings.Compare(a.Date, b.Date) })
	return out, nil
}

// SinglesText prints single days as they are typed, days in a row that are alike as one entry.
func SinglesText(singles []Single) string {
	var parts []string
	for i := 0; i < len(singles); i++ {
		one, last := singles[i], i
		for last+1 < len(singles) && follows(singles[last].Date, singles[last+1].Date) &&
			slices.Equal(singles[last+1].Open, one.Open) {
			last++
		}
		text := one.Date
		if last > i {
			text += " - " + singles[last].Date
		}
		if i = last; len(one.Open) > 0 {
			text += " " + one.Open.String()
		} else {
			text += " closed"
		}
		parts = append(parts, text)
	}
	return strings.Join(parts, "; ")
}

// follows reports whether a date is the day after another.
func follows(before, date string) bool {
	t, err := time.Parse(time.DateOnly, before)
	return err == nil && t.AddDate(0, 0, 1).Format(time.DateOnly) == date
}

// glued are two days with a dash between them and no space: 24-26, 24.12.-2.1., 12/24-1/2.
var glued = regexp.MustCompile(`^(\d{1,2}[./]?(?:\d{1,2}\.?)?)-(\d{1,2}[./]?(?:\d{1,2}\.?)?)$`)

// saidSpan reads the day at the front of words, or the first and the last of a row of days, and
// returns what follows.
func saidSpan(words []string, today time.Time, monthFirst bool) (from, to time.Time, rest []string, err error) {
	from, rest, err = saidDay(spelled(words), today, monthFirst)
	if err != nil || len(rest) < 2 || !dashed(rest[0]) {
		return from, from, rest, err
	}
	if to, rest, err = saidDay(rest[1:], from, monthFirst); err == nil && to.Before(from) {
		err = refusal.New("the last day comes before the first")
	}
	return from, to, rest, err
}

func dashed(word string) bool { return word == "-" || word == "to" }

// spelled gives both days of a row their month and year where they share one: 24-26 dec, dec 24 to 26.
func spelled(words []string) []string {
	for i := range min(2, len(words)) {
		if m := glued.FindStringSubmatch(words[i]); m != nil {
			words = slices.Concat(words[:i], []string{m[1], "-", m[2]}, words[i+1:])
			break
		}
	}
	switch {
	case len(words) > 3 && dashed(words[1]) && monthOf(words[3]) > 0:
		shared := []string{words[3]}
		if len(words) > 4 && year.MatchString(words[4]) {
			shared = append(shared, words[4])
		}
		return slices.Concat(words[:1], shared, words[1:])
	case len(words) > 3 && monthOf(words[0]) > 0 && dashed(words[2]) && monthOf(words[3]) == 0:
		return slices.Concat(words[:3], words[:1], words[3:])
	}
	return words
}

var year = regexp.MustCompile(`^20\d\d$`)
