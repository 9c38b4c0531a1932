package stock

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

// Best before a day is good on that day (common practice); what was
// opened half a year ago is asked about, a pigment is not.
func TestWhatIsTooOld(t *testing.T) {
	midnight := func(d int) time.Time { return time.Date(2026, 3, d, 0, 0, 0, 0, time.Local) }
	var lot Lot
	lot.BestBefore = midnight(5)
	dated := Item{Thing: Thing{Kind: store.Pigments, ID: 1}, Lots: []Lot{lot}}
	assert.Empty(t, dated.Old(midnight(5).Add(23*time.Hour)), "on its day")
	require.Len(t, dated.Old(midnight(6)), 1)
	assert.True(t, dated.Old(midnight(6))[0].Past)

	opened := Item{Thing: Thing{Kind: store.Resins, ID: 1}, Lots: []Lot{{Opened: midnight(5)}, {}}}
	assert.Empty(t, opened.Old(midnight(5).Add(longOpen)))
	require.Len(t, opened.Old(midnight(6).Add(longOpen)), 1)
	assert.False(t, opened.Old(midnight(6).Add(longOpen))[0].Past)
	opened.Kind = store.Pigments
	assert.Empty(t, opened.Old(midnight(6).Add(longOpen)))
}
