package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/calendar"
)

// usual is a studio open on weekdays by day, on Saturdays in the morning.
func usual(t *testing.T) calendar.Calendar {
	return calendar.Calendar{Week: week(t, "mon-fri 08:00-17:00; sat 09:00-12:00")}
}

// Days and hours are read as a painter says them; 4 March 2026 is a Wednesday
// (any calendar).
func TestDaysAreSaidInWords(t *testing.T) {
	today := at(4, 10, 0)
	for said, want := range map[string]string{
		"Thu 18–21":                           "2026-03-05 08:00-17:00, 18:00-21:00",
		"thursday only 18-21":                 "2026-03-05 18:00-21:00",
		"wed 18-21":                           "2026-03-04 08:00-17:00, 18:00-21:00",
		"today shut":                          "2026-03-04 closed",
		"tomorrow":                            "2026-03-05 closed",
		"tomorrow 10-14":                      "2026-03-05 10:00-14:00",
		"sun 6-9 pm":                          "2026-03-08 18:00-21:00",
		"sun 11-2 pm":                         "2026-03-08 11:00-14:00",
		"Sun 9 am - 1 pm":                     "2026-03-08 09:00-13:00",
		"sun 12 am to 1 am":                   "2026-03-08 00:00-01:00",
		"24 Dec shut":                         "2026-12-24 closed",
		"Dec 24 closed":                       "2026-12-24 closed",
		"1 march 9-12":                        "2027-03-01 09:00-12:00",
		"24. december 2028 9:30-12":           "2028-12-24 09:30-12:00",
		"2026-04-05 10:00-12:00, 13:00-24:00": "2026-04-05 10:00-12:00, 13:00-24:00",
		"Do 18–21":                            "2026-03-05 08:00-17:00, 18:00-21:00",
		"Donnerstag nur 18 bis 21 Uhr":        "2026-03-05 18:00-21:00",
		"heute zu":                            "2026-03-04 closed",
		"morgen von 10 bis 14 Uhr":            "2026-03-05 10:00-14:00",
		"24. Dez. geschlossen":                "2026-12-24 closed",
		"1. März 9-12":                        "2027-03-01 09:00-12:00",
		"So, 9:30-12 Uhr":                     "2026-03-08 09:30-12:00",
	} {
		one, err := usual(t).Said(said, today, false)
		if assert.NoError(t, err, said) {
			assert.Equal(t, want, calendar.SinglesText([]calendar.Single{one}), said)
		}
	}
	for _, bad := range []string{"", "  ", "someday 9-12", "thu 21-18", "thu 25-26", "thu 13-14 pm", "30 feb closed",
		"0 may closed", "thu evening", "thu only", "thu 9-12, 11-13"} {
		_, err := usual(t).Said(bad, today, false)
		assert.Error(t, err, bad)
	}
}

// A day said again is said anew, and can be taken back.
func TestADayIsSaidAnew(t *testing.T) {
	c := usual(t)
	evening, err := c.Said("thu 18-21", at(4, 10, 0), false)
	require.NoError(t, err)
	c = c.With(evening)
	assert.True(t, c.Contains(at(5, 19, 0)))
	assert.True(t, c.Contains(at(5, 9, 0)), "the usual hours stay")
	shut, err := c.Said("thu closed", at(4, 10, 0), false)
	require.NoError(t, err)
	c = c.With(shut)
	require.Len(t, c.Singles, 1)
	assert.False(t, c.Contains(at(5, 19, 0)))
	again := c.Without(shut.Date)
	assert.True(t, again.Contains(at(5, 9, 0)))
	assert.Len(t, c.Singles, 1, "the other is not changed")
}

func FuzzSaid(f *testing.F) {
	f.Add("Thu 18–21")
	f.Add("So. nur 9 bis 12 Uhr")
	f.Add("24. dec 2028 only 9:30-12, 1-2 pm")
	f.Fuzz(func(t *testing.T, text string) {
		c := calendar.Calendar{Week: calendar.Week{1: {{From: 480, To: 720}}}}
		one, err := c.Said(text, time.Date(2026, 3, 4, 0, 0, 0, 0, time.UTC), false)
		if err != nil {
			return
		}
		again, err := calendar.ParseSingles(calendar.SinglesText([]calendar.Single{one}), time.Time{}, false)
		if err != nil || len(again) != 1 || again[0].Date != one.Date {
			t.Fatalf("%q is read as %v, kept as %v: %v", text, one, again, err)
		}
	})
}

// Dates in figures are read as they are written where the studio is: 12/24 or 24/12 (CLDR).
func TestDatesInFigures(t *testing.T) {
	today := time.Date(2026, 3, 4, 9, 0, 0, 0, time.UTC)
	for text, monthFirst := range map[string]bool{"12/24 closed": true, "24/12 closed": false, "12/24/2026 closed": true,
		"24/12/2026 shut": false} {
		one, err := calendar.Calendar{}.Said(text, today, monthFirst)
		require.NoError(t, err, text)
		assert.Equal(t, "2026-12-24", one.Date, text)
		assert.Empty(t, one.Open)
		_, err = calendar.Calendar{}.Said(text, today, !monthFirst)
		assert.Error(t, err, text)
	}
	one, err := calendar.Calendar{}.Said("3/2 6–9 pm", today, true)
	require.NoError(t, err)
	assert.Equal(t, "2027-03-02", one.Date, "this year's is over")
	assert.Equal(t, "18:00-21:00", one.Open.String())
	_, err = calendar.Calendar{}.Said("2/30 closed", today, true)
	assert.Error(t, err)
}

// Days whose hours are their own, as people write them in the settings: rows of days, dates by words
// and by figures, in the language's order; without a year they are the next from today.
func TestRowsOfDays(t *testing.T) {
	today := time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	for said, want := range map[string]string{
		"2026-12-24":                           "2026-12-24 closed",
		"24 Dec - 2 Jan closed":                "2026-12-24 - 2027-01-02 closed",
		"24–26 Dec closed":                     "2026-12-24 - 2026-12-26 closed",
		"24-26 Dec 2027":                       "2027-12-24 - 2027-12-26 closed",
		"Dec 24-26 closed":                     "2026-12-24 - 2026-12-26 closed",
		"Dec 24 to 26":                         "2026-12-24 - 2026-12-26 closed",
		"24.12.–2.1. geschlossen":              "2026-12-24 - 2027-01-02 closed",
		"24.12. bis 26.12. 10-14 Uhr":          "2026-12-24 - 2026-12-26 10:00-14:00",
		"31.12.2026 zu; 1.1.2027 zu":           "2026-12-31 - 2027-01-01 closed",
		"31.12. zu; 2.1. zu":                   "2026-12-31 closed; 2027-01-02 closed",
		"24/12-26/12 closed":                   "2026-12-24 - 2026-12-26 closed",
		"thu 18-21; tomorrow closed":           "2026-12-02 closed; 2026-12-03 18:00-21:00",
		"mon - wed closed":                     "2026-12-07 - 2026-12-09 closed",
		"2026-12-24 to 2026-12-25 9-12, 14-16": "2026-12-24 - 2026-12-25 09:00-12:00, 14:00-16:00",
	} {
		days, err := calendar.ParseSingles(said, today, false)
		if assert.NoError(t, err, said) {
			assert.Equal(t, want, calendar.SinglesText(days), said)
			again, err := calendar.ParseSingles(want, time.Time{}, false)
			require.NoError(t, err, want)
			assert.Equal(t, days, again)
		}
	}
	days, err := calendar.ParseSingles("12/24-12/26 closed", today, true)
	require.NoError(t, err)
	assert.Equal(t, "2026-12-24 - 2026-12-26 closed", calendar.SinglesText(days))
	for _, wrong := range []string{"soon closed", "24 Dec maybe", "2026-12-26 - 2026-12-24", "2026-01-01 - 2027-06-01",
		"32.12.", "24.13."} {
		_, err := calendar.ParseSingles(wrong, today, false)
		assert.Error(t, err, wrong)
	}
	for _, near := range []string{"tomorrow", "thu closed", "24 Dec", "24.12.", "12/24"} {
		_, err := calendar.ParseSingles(near, time.Time{}, false)
		assert.Error(t, err, "%s, of no year", near)
	}
}
