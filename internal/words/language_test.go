package words_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/calendar"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

var german, american = words.In(words.German), words.In(words.American)

// Days and months are written as each language writes them (any calendar).
func TestDatesOfALanguage(t *testing.T) {
	at := time.Date(2026, 3, 5, 14, 7, 0, 0, time.UTC) // a Thursday
	for l, want := range map[words.Language][4]string{
		words.English:  {"Thu 5 Mar", "Thursday 5 March", "14:07", "Thu 5 Mar 14:07"},
		words.American: {"Thu, Mar 5", "Thursday, March 5", "2:07 PM", "Thu, Mar 5, 2:07 PM"},
		words.German:   {"Do 5. März", "Donnerstag, 5. März", "14:07", "Do 5. März 14:07"},
	} {
		for k, layout := range [4]string{"Mon 2 Jan", "Monday 2 January", "15:04", "Mon 2 Jan 15:04"} {
			assert.Equal(t, want[k], words.In(l).Date(at, layout), "%s in %s", layout, l)
		}
	}
	assert.Equal(t, "März 2026", german.Date(at, "January 2006"))
	assert.Equal(t, "Mai", german.Date(at.AddDate(0, 2, 0), "Jan"))
}

func TestTextsOfALanguage(t *testing.T) {
	for text, want := range map[msg.Text]string{
		msg.N(2, "coat", "coats"): "2 Schichten", msg.N(1, "coat", "coats"): "1 Schicht",
		msg.N(0, "coat", "coats"): "0 Schichten",
		words.Spoken(200):         "3 h 20 min", words.Spoken(29 * 1440): "29 Tage",
		msg.Lower(msg.ID("Break bubbles")): "Blasen brechen", // nouns keep their capitals
	} {
		assert.Equal(t, want, text.In(german))
	}
	assert.Equal(t, "a, b und c", msg.And(msg.Owns([]string{"a", "b", "c"})...).In(german))
	assert.Equal(t, "Klebrig, Tacky", msg.Join(", ", msg.ID("Tacky"), msg.Own("Tacky")).In(german), "a painter's stays")
	assert.Equal(t, "Blasen brechen, Tacky", msg.Join(", ", msg.Preset("Break bubbles"), msg.Preset("Tacky")).In(german),
		"the library's, and what a painter wrote in its place")
	assert.Equal(t, "Color", msg.ID("Colour").In(american))
	assert.Equal(t, "color", msg.Lower(msg.ID("Colour")).In(american))
	assert.Equal(t, words.English, words.In("xx").Language, "of a language that is not spoken")
}

// What a painter wrote stays letter by letter, though it may read like a text of ours.
func TestAPaintersTextStays(t *testing.T) {
	for id := range german.Each() {
		assert.Equal(t, id, msg.Own(id).In(german))
	}
	rapid.Check(t, func(rt *rapid.T) {
		text := rapid.String().Draw(rt, "text")
		if got := msg.F("%s: %s", msg.Own(text), text).In(german); got != text+": "+text {
			rt.Fatalf("%q became %q", text, got)
		}
	})
}

// Hours are printed with the days of the language, and read back as they were.
func TestHoursHaveTheDaysOfTheLanguage(t *testing.T) {
	for l, want := range map[words.Language][2]string{
		words.English: {"mon-fri 08:00-18:00; sun 10:00-16:00", "2026-12-24 closed; 2026-12-26 10:00-14:00"},
		words.American: {"mon-fri 8:00 am-6:00 pm; sun 10:00 am-4:00 pm",
			"2026-12-24 closed; 2026-12-26 10:00 am-2:00 pm"},
		words.German: {"mo-fr 08:00-18:00; so 10:00-16:00", "2026-12-24 geschlossen; 2026-12-26 10:00-14:00"},
	} {
		week, err := calendar.ParseWeek("mon-fri 08:00-18:00; sun 10:00-16:00")
		require.NoError(t, err)
		singles, err := calendar.ParseSingles("2026-12-24 closed; 2026-12-26 10:00-14:00", time.Time{}, false)
		require.NoError(t, err)
		said := [2]string{words.Hours(week.String(), words.In(l)), words.Hours(calendar.SinglesText(singles), words.In(l))}
		assert.Equal(t, want, said)
		again, err := calendar.ParseWeek(said[0])
		require.NoError(t, err)
		assert.Equal(t, week, again)
		days, err := calendar.ParseSingles(said[1], time.Time{}, false)
		require.NoError(t, err)
		assert.Equal(t, singles, days)
	}
}

// A language is a file: what it has is said in it, by its own plural rule, and the rest in English.
func TestALanguageIsAFile(t *testing.T) {
	french := words.Read("fr", []byte(`msgid ""
msgstr ""
"Language: fr\n"
"Content-Type: text/plain; charset=UTF-8\n"
"Plural-Forms: nplurals=2; plural=(n > 1);\n"

msgid "cup"
msgid_plural "cups"
msgstr[0] "gobelet"
msgstr[1] "gobelets"

msgid "decimal mark ."
msgstr "decimal mark ,"

msgid "date: 2 Jan"
msgstr "date: 2 Jan"

msgid "Mar"
msgstr "mars"
`))
	at := time.Date(2026, 3, 5, 14, 7, 0, 0, time.UTC)
	for text, want := range map[msg.Text]string{
		msg.N(0, "cup", "cups"): "0 gobelet", msg.N(1, "cup", "cups"): "1 gobelet", msg.N(2, "cup", "cups"): "2 gobelets",
		msg.Figure("1.5 mL"): "1,5 mL", msg.Date(at, "2 Jan"): "5 mars", msg.ID("Ready"): "Ready",
	} {
		assert.Equal(t, want, text.In(french))
	}
}
