package setup_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/calendar"
	"jevvo/internal/msg"
	"jevvo/internal/studiotest"
)

// Holidays are typed as they are said, month first in the United States; what cannot be read is refused
// with the reason and changes nothing.
func TestHolidaysAsTheyAreSaid(t *testing.T) {
	r := studiotest.Open(t) // on 2 March 2026
	for _, c := range [][3]string{{"en", "24 Dec - 2 Jan closed", "2026-12-24 - 2027-01-02 closed"},
		{"en-US", "12/24 closed", "2026-12-24 closed"}, {"de", "1.3. zu", "2027-03-01 closed"}} {
		_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"language": c[0]})
		require.NoError(t, err)
		require.True(t, n.OK())
		set, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"singles": c[1]})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		assert.Equal(t, c[2], calendar.SinglesText(set.Calendar.Singles))
	}
	_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"singles": "24 Dec perhaps"})
	require.NoError(t, err)
	assert.Contains(t, msg.Say(n.Errors["singles"], msg.English), "perhaps")
	set, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"singles": ""})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Empty(t, set.Calendar.Singles)
}
