package mail_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studiotest"
)

// A reminder is written once a day, after its hour, and only when there is something to say.
func TestARemindersDay(t *testing.T) {
	r := studiotest.Open(t)
	_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"remind_at": "07:30"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	letters := func() int {
		t.Helper()
		require.NoError(t, r.Mail.Remind(r.Ctx()))
		all, err := r.Mail.Letters(r.Ctx())
		require.NoError(t, err)
		return len(all)
	}
	assert.Zero(t, letters(), "a quiet day has no letter")
	r.Piece(map[string]string{"name": "Quay"})
	assert.Zero(t, letters(), "and none comes later that day")
	r.Clock.T = time.Date(2026, 3, 3, 7, 29, 0, 0, time.Local)
	assert.Zero(t, letters(), "not before its hour")
	r.Clock.T = r.Clock.T.Add(time.Minute)
	assert.Equal(t, 1, letters())
	assert.Equal(t, 1, letters(), "once")
	all, err := r.Mail.Letters(r.Ctx())
	require.NoError(t, err)
	assert.Contains(t, all[0].Body, "Quay")
	assert.Regexp(t, `^Tue 3 Mar: \d+ things? to do$`, all[0].Subject)
	require.NoError(t, r.Mail.RemindNow(r.Ctx()))
	all, err = r.Mail.Letters(r.Ctx())
	require.NoError(t, err)
	assert.Len(t, all, 2, "one that is asked for is always written")
}
