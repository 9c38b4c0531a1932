package words_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/calendar"
	"jevvo/internal/words"
)

// speak makes a language the studio's for a test.
func speak(t *testing.T, l words.Language) {
	words.Use(l)
	t.Cleanup(func() { words.Use(words.English) })
}

// Days and months are written as each language writes them (any calendar).
func TestDatesOfALanguage(t *testing.T) {
	at := time.Date(2026, 3, 5, 14, 7, 0, 0, time.UTC) // a Thursday
	for l, want := range map[words.Language][4]string{
		words.English:  {"Thu 5 Mar", "Thursday 5 March", "14:07", "Thu 5 Mar 14:07"},
		words.American: {"Thu, Mar 5", "Thursday, March 5", "2:07 PM", "Thu, Mar 5, 2:07 PM"},
		words.German:   {"Do 5. März", "Donnerstag, 5. März", "14:07", "Do 5. März 14:07"},
	} {
		speak(t, l)
		for k, layout := range [4]string{"Mon 2 Jan", "Monday 2 January", "15:04", "Mon 2 Jan 15:04"} {
			assert.Equal(t, want[k], words.Date(at, layout), "%s in %s", layout, l)
		}
	}
	speak(t, words.German)
	assert.Equal(t, "März 2026", words.Date(at, "January 2006"))
	assert.Equal(t, "Mai", words.Date(at.AddDate(0, 2, 0), "Jan"))
}

func TestTextsOfALanguage(t *testing.T) {
	speak(t, words.German)
	assert.Equal(t, "2 Schichten", words.Plural(2, "coat", "coats"))
	assert.Equal(t, "1 Schicht", words.Plural(1, "coat", "coats"))
	assert.Equal(t, "3 h 20 min", words.Spoken(200))
	assert.Equal(t, "29 Tage", words.Spoken(29*1440))
	assert.Equal(t, "a, b und c", words.List([]string{"a", "b", "c"}))
	assert.Equal(t, "Blasen brechen", words.Lower("Break bubbles"), "nouns keep their capitals")
	assert.Equal(t, "Klebrig, Ebb tide", words.Join([]string{"Tacky", "Ebb tide"}, ", "), "what a painter wrote stays")
	assert.Equal(t, "Rohes Holz. Ebb tide stays.", words.T("Rohes Holz. Ebb tide stays."))
	assert.Equal(t, "Langsam, vom Film weg. Eine Handbreit um den Banddamm Heißluft, nie eine Flamme.",
		words.T("Slowly, away from the film. Within a hand of the tape dam use hot air, "+
			"never a flame."), "sentence by sentence")
	speak(t, words.American)
	assert.Equal(t, "Color", words.T("Colour"))
	assert.Equal(t, "color", words.Lower("Colour"))
	speak(t, "xx")
	assert.Equal(t, words.English, words.Current(), "of a language that is not spoken")
}

// What is not in a catalogue stays letter by letter.
func TestUnknownTextsStay(t *testing.T) {
	speak(t, words.German)
	rapid.Check(t, func(rt *rapid.T) {
		text := "§" + rapid.String().Draw(rt, "text")
		if words.T(text) != text {
			rt.Fatalf("%q became %q", text, words.T(text))
		}
	})
}

// Hours are printed with the days of the language, and read back as they were.
func TestHoursHaveTheDaysOfTheLanguage(t *testing.T) {
	for l, want := range map[words.Language][2]string{
		words.English:  {"mon-fri 08:00-18:00; sun 10:00-16:00", "2026-12-24 shut; 2026-12-26 10:00-14:00"},
		words.American: {"mon-fri 08:00-18:00; sun 10:00-16:00", "2026-12-24 shut; 2026-12-26 10:00-14:00"},
		words.German:   {"mo-fr 08:00-18:00; so 10:00-16:00", "2026-12-24 zu; 2026-12-26 10:00-14:00"},
	} {
		speak(t, l)
		week, err := calendar.ParseWeek("mon-fri 08:00-18:00; sun 10:00-16:00")
		require.NoError(t, err)
		singles, err := calendar.ParseSingles("2026-12-24 shut; 2026-12-26 10:00-14:00")
		require.NoError(t, err)
		said := [2]string{words.Hours(week.String()), words.Hours(calendar.SinglesText(singles))}
		assert.Equal(t, want, said)
		again, err := calendar.ParseWeek(said[0])
		require.NoError(t, err)
		assert.Equal(t, week, again)
		days, err := calendar.ParseSingles(said[1])
		require.NoError(t, err)
		assert.Equal(t, singles, days)
	}
}
