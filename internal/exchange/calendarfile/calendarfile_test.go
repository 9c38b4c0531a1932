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
		ID: "3-first:pour", Start: start, End: start, Summary: "Pour, twice; \"A\", B\nnew", Text: "375 mL", Alarm: 15 * time.Minute, Changed: start,
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
