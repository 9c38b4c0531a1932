package calc_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
)

type planned struct {
	Feasible bool
	Tasks    []struct{ Piece, Task, Start, End string }
	Late     int    `json:"late_min"`
	LastEnd  string `json:"last_end"`
	Bound    string `json:"lower_bound_end"`
	Reasons  []string
}

const week = `[{"day":"mon","from":"08:00","to":"12:00"},{"day":"mon","from":"13:00","to":"18:00"},{"day":"tue","from":"08:00","to":"18:00"},{"day":"wed","from":"08:00","to":"18:00"}]`

func schedule(t *testing.T, pieces string, rack int) planned {
	t.Helper()
	request := fmt.Sprintf(`{"start":"2026-03-02T08:00","open":%s,"shelf_slots":%d,"pieces":%s}`, week, rack, pieces)
	out, err := calc.Run(t.Context(), "schedule", strings.NewReader(request))
	require.NoError(t, err)
	var p planned
	require.NoError(t, json.Unmarshal(out, &p))
	return p
}

// Worked by hand: 2 March 2026 is a Monday; an hour's pour at 08:00, its tape
// five to six hours after 09:00, that is from 14:00, and the next coat a day
// after, on Tuesday at 09:00.
func TestAPieceIsPlannedByHand(t *testing.T) {
	p := schedule(t, `[{"id":"tide","due":"2026-03-03T12:00","tasks":[
		{"id":"pour","hands_min":60,"slot":"take"},
		{"id":"tape","hands_min":10,"after":[{"task":"pour","min_min":300,"max_min":360}]},
		{"id":"top","hands_min":45,"after":[{"task":"pour","min_min":1440,"max_min":null}],"slot":"free"}]}]`, 1)
	require.True(t, p.Feasible)
	got := map[string]string{}
	for _, x := range p.Tasks {
		got[x.Task] = x.Start + " " + x.End
	}
	assert.Equal(t, map[string]string{"pour": "2026-03-02T08:00 2026-03-02T09:00",
		"tape": "2026-03-02T14:00 2026-03-02T14:10", "top": "2026-03-03T09:00 2026-03-03T09:45"}, got)
	assert.Equal(t, "2026-03-03T09:45", p.LastEnd)
	assert.Equal(t, p.LastEnd, p.Bound, "a small plan is proved")
	assert.Zero(t, p.Late)
	assert.Empty(t, p.Reasons)
}

// One place on the rack: the second piece pours when the first has gone, and
// is late by what can be counted.
func TestTheRackBinds(t *testing.T) {
	two := `[{"id":"a","due":"2026-03-02","tasks":[{"id":"pour","hands_min":60,"slot":"take"},{"id":"lift","hands_min":30,"slot":"free","after":[{"task":"pour","min_min":600}]}]},
		{"id":"b","due":"2026-03-03","tasks":[{"id":"pour","hands_min":60,"slot":"take"},{"id":"lift","hands_min":30,"slot":"free","after":[{"task":"pour","min_min":600}]}]}]`
	roomy := schedule(t, two, 2)
	tight := schedule(t, two, 1)
	assert.Greater(t, tight.Late, roomy.Late)
	assert.Contains(t, strings.Join(tight.Reasons, " "), "place on the drying rack")
	none := schedule(t, two, 0)
	assert.False(t, none.Feasible)
	assert.Contains(t, strings.Join(none.Reasons, " "), "level places")
	assert.Empty(t, none.Tasks)
}

func TestASetThatCannotBeSaysWhy(t *testing.T) {
	for says, pieces := range map[string]string{
		"circle":                      `[{"id":"a","tasks":[{"id":"x","hands_min":5,"after":[{"task":"y"}]},{"id":"y","hands_min":5,"after":[{"task":"x"}]}]}]`,
		"longer than the studio is":   `[{"id":"a","tasks":[{"id":"x","hands_min":1200}]}]`,
		"no opening hours allow that": `[{"id":"a","tasks":[{"id":"x","hands_min":30},{"id":"y","hands_min":30,"after":[{"task":"x","min_min":8640,"max_min":8650}]},{"id":"z","hands_min":30,"after":[{"task":"y","min_min":600,"max_min":605}]}]}]`,
		"late on its own":             `[{"id":"a","due":"2026-03-02T09:00","tasks":[{"id":"x","hands_min":30},{"id":"y","hands_min":30,"after":[{"task":"x","min_min":300}]}]}]`,
	} {
		p := schedule(t, pieces, 3)
		assert.Contains(t, strings.Join(p.Reasons, " "), says)
	}
	empty := schedule(t, `[]`, 3)
	assert.True(t, empty.Feasible)
	assert.Empty(t, empty.LastEnd)
}

func TestSchedulesThatAreNoScheduleAreRefused(t *testing.T) {
	task := `[{"id":"a","tasks":[{"id":"x","hands_min":5}]}]`
	for field, request := range map[string]string{
		"start": `{"start":"tomorrow","open":` + week + `,"pieces":` + task + `}`,
		"open[0]": `{"start":"2026-03-02T08:00","open":[{"day":"mon","from":"12:00","to":"08:00"}],"pieces":` + task +
			`}`,
		"open[0].day": `{"start":"2026-03-02T08:00","open":[{"day":"moonday","from":"08:00","to":"09:00"}],"pieces":` + task +
			`}`,
		"pieces[0].due": `{"start":"2026-03-02T08:00","open":` + week +
			`,"pieces":[{"id":"a","due":"soon","tasks":[]}]}`,
		"pieces[1].id": `{"start":"2026-03-02T08:00","open":` + week +
			`,"pieces":[{"id":"a","tasks":[]},{"id":"a","tasks":[]}]}`,
		"pieces[0].tasks[1].id": `{"start":"2026-03-02T08:00","open":` + week +
			`,"pieces":[{"id":"a","tasks":[{"id":"x","hands_min":1},{"id":"x","hands_min":1}]}]}`,
		"pieces[0].tasks[0].after[0].task": `{"start":"2026-03-02T08:00","open":` + week +
			`,"pieces":[{"id":"a","tasks":[{"id":"x","hands_min":1,"after":[{"task":"q"}]}]}]}`,
		"pieces[0].tasks[0].hands_min": `{"start":"2026-03-02T08:00","open":` + week +
			`,"pieces":[{"id":"a","tasks":[{"id":"x","hands_min":-1}]}]}`,
		"pieces[0].tasks[1].after[0].max_min": `{"start":"2026-03-02T08:00","open":` + week +
			`,"pieces":[{"id":"a","tasks":[{"id":"x","hands_min":1},{"id":"y","hands_min":1,"after":[{"task":"x","min_min":9,"max_min":3}]}]}]}`,
		"pieces": `{"start":"2026-03-02T08:00","open":` + week + `}`,
	} {
		_, err := calc.Run(t.Context(), "schedule", strings.NewReader(request))
		var p *calc.Problem
		require.True(t, errors.As(err, &p), field)
		assert.Equal(t, http.StatusUnprocessableEntity, p.Status, field)
		require.NotEmpty(t, p.Errors, field)
		assert.Equal(t, field, p.Errors[0].Field)
	}
}

// A day given without an hour counts to its end; more opening hours never make
// a small plan worse.
func TestDueDaysAndLongerHours(t *testing.T) {
	piece := func(due string) string {
		return fmt.Sprintf(`[{"id":"a","due":%q,"tasks":[{"id":"x","hands_min":240},{"id":"y","hands_min":240},{"id":"z","hands_min":60}]}]`, due)
	}
	assert.Zero(t, schedule(t, piece("2026-03-02"), 1).Late)
	assert.Positive(t, schedule(t, piece("2026-03-02T10:00"), 1).Late)
	last := "9999"
	for _, to := range []string{"12:00", "14:00", "18:00", "24:00"} {
		out, err := calc.Run(t.Context(), "schedule",
			strings.NewReader(fmt.Sprintf(
				`{"start":"2026-03-02T08:00","open":[{"day":"mon","from":"08:00","to":%q},{"day":"tue","from":"08:00","to":%q},{"day":"wed","from":"08:00","to":%q}],"pieces":%s}`, to, to, to, piece("2026-03-09"))))
		require.NoError(t, err)
		var p planned
		require.NoError(t, json.Unmarshal(out, &p))
		require.True(t, p.Feasible, to)
		assert.LessOrEqual(t, p.LastEnd, last, to)
		last = p.LastEnd
	}
}
