package simulated

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTheRoomHasADayAndADoor(t *testing.T) {
	now := time.Date(2026, 3, 2, 15, 30, 0, 0, time.Local)
	r := NewRoom(21, func() time.Time { return now })
	afternoon := r.Read().Temperature
	now = now.Add(-12 * time.Hour)
	assert.InDelta(t, 2*dayswing, float64(afternoon-r.Read().Temperature), 0.11, "the night is colder")
	before := r.Read().Temperature
	r.Door()
	assert.InDelta(t, draughtDrop, float64(before-r.Read().Temperature), 0.11)
	now = now.Add(time.Hour)
	assert.InDelta(t, float64(before), float64(r.Read().Temperature), 0.3, "it recovers")
	assert.True(t, r.Silence())
	assert.False(t, r.Read().OK)
	r.Silence()
	r.Break()
	assert.Greater(t, float64(r.Read().Temperature), 50.0)
	r.Break()
	cold := r.Read().Temperature
	r.Heater()
	assert.GreaterOrEqual(t, r.Read().Temperature, cold)
}
