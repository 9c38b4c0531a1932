package calendarfile_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/calendarfile"
)

// The shape RFC 5545 asks for; an independent parser reads it back in the
// cross-checks.
func TestEventsAreWritten(t *testing.T) {
	start := time.Date(2026, 3, 29, 0, 30, 0, 0, time.UTC)
	var b strings.Builder
	require.NoError(t, calendarfile.Write(&b, "Studio", []calendarfile.Event{{
		ID: "3-first:pour", Start: start, End: start, Summary: "Pour, twice; \"A\", B\nnew", Text: "375 mL",
		Alarm: 15 * time.Minute, Changed: start,
	}}))
	text := b.String()
	assert.Contains(t, text, "UID:3-first:pour@jevvo\r\n")
	assert.Contains(t, text, "DTSTART:20260329T003000Z\r\n")
	assert.Contains(t, text, "DTEND:20260329T003500Z\r\n", "a moment lasts five minutes")
	assert.Contains(t, text, `SUMMARY:Pour\, twice\; "A"\, B\nnew`)
	assert.Contains(t, text, "TRIGGER:-PT15M\r\n")
	for _, line := range strings.Split(text, "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "lines are folded")
	}
}

// Control characters and bare line ends never reach a line of the file.
func TestControlCharactersAreKeptOut(t *testing.T) {
	start := time.Date(2026, 3, 29, 0, 30, 0, 0, time.UTC)
	var b strings.Builder
	require.NoError(t, calendarfile.Write(&b, "Stu\rdio\x07",
		[]calendarfile.Event{{ID: "1", Start: start, End: start, Summary: "a\rBEGIN:VALARM\x00b\x1bc", Text: "d\r\ne\x7f",
			Place: "f\ng", Changed: start}}))
	text := strings.ReplaceAll(b.String(), "\r\n", "")
	assert.NotContains(t, text, "\r")
	for _, r := range text {
		assert.False(t, r < 0x20 || r == 0x7f, "%q", r)
	}
	assert.Contains(t, b.String(), `SUMMARY:a\nBEGIN:VALARM b c`)
}

// Whatever a task is called, the file is one event of as many lines as it should have.
func FuzzWrite(f *testing.F) {
	f.Add("Pour\r\nEND:VEVENT", "a\x00b", "studio; shelf, 2")
	f.Fuzz(func(t *testing.T, summary, text, place string) {
		at := time.Date(2030, 3, 4, 9, 0, 0, 0, time.UTC)
		var b strings.Builder
		err := calendarfile.Write(&b, summary,
			[]calendarfile.Event{{ID: "1", Start: at, End: at.Add(time.Hour), Summary: summary, Text: text, Place: place,
				Alarm: time.Minute, Changed: at}})
		if err != nil {
			t.Fatal(err)
		}
		if n := strings.Count("\n"+b.String(), "\nBEGIN:VEVENT"); n != 1 {
			t.Fatalf("%d events", n)
		}
		for line := range strings.SplitSeq(b.String(), "\r\n") {
			if strings.ContainsAny(line, "\r\n\x00") {
				t.Fatalf("%q breaks the line", line)
			}
		}
	})
}
