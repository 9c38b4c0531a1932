package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/calendar"
)

func week(t *testing.T, text string) calendar.Week {
	t.Helper()
	w, err := calendar.ParseWeek(text)
	require.NoError(t, err, text)
	return w
}

func at(day, hour, minute int) time.Time {
	return time.Date(2026, 3, day, hour, minute, 0, 0, time.UTC) // 2 March 2026 is a Monday
}

func TestWeekIsReadAndPrinted(t *testing.T) {
	for _, text := range []string{"mon-fri 08:00-18:00", "mon-fri 08:00-18:00; sat 10:00-16:00",
		"tue 09:00-12:00, 13:00-17:00"} {
		w := week(t, text)
		again, err := calendar.ParseWeek(w.String())
		require.NoError(t, err, w.String())
		assert.Equal(t, w, again, "what is printed is read back: %s", w.String())
	}
	for said, want := range map[string]string{
		"Mon-Fri 18-22, Sat 9-17":                    "mon-fri 18:00-22:00; sat 09:00-17:00",
		"Mon to Fri 6–10 p.m.; Sat & Sun 9-5":        "mon-fri 18:00-22:00; sat-sun 09:00-17:00",
		"daily 9 am - 5 pm, wed closed":              "mon-tue 09:00-17:00; thu-sun 09:00-17:00",
		"Mo–Fr 18.30–22 Uhr; Sa 9-12 Uhr, 13-17 Uhr": "mon-fri 18:30-22:00; sat 09:00-12:00, 13:00-17:00",
		"Dienstag bis Donnerstag von 10 bis 14 Uhr":  "tue-thu 10:00-14:00",
		"mon, wed, fri: 18h30 - 21h":                 "mon 18:30-21:00; wed 18:30-21:00; fri 18:30-21:00",
		"weekends 10-16\nthu evening":                "",
		"täglich 0-24":                               "mon-sun 00:00-24:00",
	} {
		w, err := calendar.ParseWeek(said)
		if want == "" {
			assert.Error(t, err, said)
			continue
		}
		require.NoError(t, err, said)
		assert.Equal(t, want, w.String(), said)
	}
	for _, bad := range []string{"noday 08:00-18:00", "mon 18:00-08:00", "mon 8-25:00", "mon", "9-17", "", "mon closed",
		"mon-fri 9-17; sat"} {
		_, err := calendar.ParseWeek(bad)
		assert.Error(t, err, bad)
	}
}

func TestOpenOnWeekdaysAndSingleDays(t *testing.T) {
	singles, err := calendar.ParseSingles("2026-03-03 shut; 2026-03-07 10:00-14:00", time.Time{}, false)
	require.NoError(t, err)
	c := calendar.Calendar{Week: week(t, "mon-fri 08:00-18:00"), Singles: singles}
	assert.True(t, c.Contains(at(2, 8, 0)))
	assert.False(t, c.Contains(at(2, 7, 59)))
	assert.False(t, c.Contains(at(3, 12, 0)), "shut on that day")
	assert.True(t, c.Contains(at(7, 12, 0)), "a Saturday that is open")
	assert.False(t, c.Contains(at(8, 12, 0)))
	assert.Equal(t, calendar.SinglesText(singles), calendar.SinglesText(c.Singles))
}

// The first slot that holds some work lies within one stretch, not before it was
// asked for.
func TestSlotHoldsTheWork(t *testing.T) {
	c := calendar.Calendar{Week: week(t, "mon-fri 08:00-18:00")}
	assert.Equal(t, at(2, 9, 0), c.Slot(at(2, 9, 0), time.Hour))
	assert.Equal(t, at(3, 8, 0), c.Slot(at(2, 17, 30), time.Hour), "half an hour is left today")
	assert.Equal(t, at(9, 8, 0), c.Slot(at(6, 17, 30), time.Hour), "over the weekend")
}

func TestStretchesFollowDaylightSaving(t *testing.T) {
	place, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	c := calendar.Calendar{Week: week(t, "mon-sun 08:00-18:00")}
	// On 29 March 2026 clocks go from 02:00 to 03:00 (EU summer time).
	for _, s := range c.Stretches(time.Date(2026, 3, 28, 0, 0, 0, 0, place), 3) {
		assert.Equal(t, 10*time.Hour, s.To.Sub(s.From), "%v", s.From)
		assert.Equal(t, 8, s.From.Hour())
	}
}

func TestRackClasses(t *testing.T) {
	rack, err := calendar.ParseRack("6 of 60 x 60 cm; 2 of 120 x 90 cm")
	require.NoError(t, err)
	require.Len(t, rack, 2)
	assert.Equal(t, 6, rack[0].Count)
	assert.Equal(t, 0, calendar.Fits(rack, 500, 600), "either way round")
	assert.Equal(t, 0, calendar.Fits(rack, 600, 500))
	assert.Equal(t, 1, calendar.Fits(rack, 610, 500), "the next larger place")
	assert.Equal(t, -1, calendar.Fits(rack, 1300, 500))
	again, err := calendar.ParseRack(calendar.RackText(rack, "metric"))
	require.NoError(t, err)
	assert.Equal(t, rack, again)
}

// A time of day is read as it is written in Europe or the States.
func TestTimesOfDayAreRead(t *testing.T) {
	for said, want := range map[string]string{"08:30": "08:30", "8.30": "08:30", "7": "07:00", "7 pm": "19:00",
		"12am": "00:00", "24:00": "24:00", "18 Uhr": "18:00", "7:05 P.M.": "19:05"} {
		k, err := calendar.ParseClock(said)
		require.NoError(t, err, said)
		assert.Equal(t, want, k.String(), said)
	}
	for _, bad := range []string{"", "25", "24:01", "13 pm", "noonish", "8:60", "8-9"} {
		_, err := calendar.ParseClock(bad)
		assert.Error(t, err, bad)
	}
}

func FuzzParseWeek(f *testing.F) {
	f.Add("mon-fri 08:00-18:00; sat 10:00-16:00")
	f.Add("sun 00:00-24:00")
	f.Fuzz(func(t *testing.T, text string) {
		w, err := calendar.ParseWeek(text)
		if err != nil {
			return
		}
		again, err := calendar.ParseWeek(w.String())
		if err != nil || again.String() != w.String() {
			t.Fatalf("%q is printed as %q and read as %v, %v", text, w.String(), again, err)
		}
	})
}

func FuzzParseSingles(f *testing.F) {
	f.Add("2026-12-24 closed; 2026-12-26 10:00-14:00")
	f.Fuzz(func(t *testing.T, text string) {
		if days, err := calendar.ParseSingles(text, time.Time{}, false); err == nil {
			if _, err := calendar.ParseSingles(calendar.SinglesText(days), time.Time{}, false); err != nil {
				t.Fatalf("%q is printed as %q, which is refused: %v", text, calendar.SinglesText(days), err)
			}
		}
	})
}

func FuzzParseRack(f *testing.F) {
	f.Add("6 of 60 x 60 cm; 2 of 120 x 80 cm")
	f.Add("1 of 1/2 x 9 in")
	f.Fuzz(func(t *testing.T, text string) {
		places, err := calendar.ParseRack(text)
		if err != nil {
			return
		}
		for i, c := range places {
			if c.Count < 1 || !(c.Width >= c.Height) || i > 0 && calendar.Fits(places, c.Width, c.Height) < 0 {
				t.Fatalf("%q read as %v", text, places)
			}
		}
	})
}
