package cure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
)

// Observations made with a known resin bring the fit back to it: a closed loop
// through the kinetics' closed form.
func TestRecalibrationFindsTheResin(t *testing.T) {
	truth, err := cure.Calibrate(36, 20)
	require.NoError(t, err)
	var seen []cure.Observation
	for range 12 {
		for _, s := range cure.Signs {
			clock := cure.NewClock(truth, cure.Constant(22))
			seen = append(seen, cure.Observation{Sign: s.Key, Minute: clock.Minute(s.Alpha), Room: 22})
		}
	}
	r, err := cure.Recalibrate(45, 24, seen)
	require.NoError(t, err)
	assert.InDelta(t, 36, r.WorkingMinutes, 1.0)
	assert.InDelta(t, 20, r.HardHours, 0.6)
	assert.Less(t, r.Off, 0.03)

	one, err := cure.Recalibrate(45, 24, seen[:1])
	require.NoError(t, err)
	assert.True(t, one.WorkingMinutes < 45 && one.WorkingMinutes > 36,
		"one evening moves the sheet, but not all the way: %g", one.WorkingMinutes)
}

func TestObservationsAtTheSheetChangeNothing(t *testing.T) {
	r, err := cure.Recalibrate(45, 24,
		[]cure.Observation{{Sign: "lacing-over", Minute: 45, Room: 25}, {Sign: "hard", Minute: 24 * 60, Room: 25}})
	require.NoError(t, err)
	assert.InDelta(t, 45, r.WorkingMinutes, 1e-3)
	assert.InDelta(t, 24, r.HardHours, 1e-3)
	for _, bad := range [][]cure.Observation{nil, {{Sign: "smell", Minute: 3, Room: 20}},
		{{Sign: "hard", Minute: -1, Room: 20}}, {{Sign: "hard", Minute: 5, Room: 900}}} {
		_, err := cure.Recalibrate(45, 24, bad)
		assert.Error(t, err)
	}
}
