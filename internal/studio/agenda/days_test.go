package agenda_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/verdict"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/today"
	"jevvo/internal/studiotest"
)

// Every task lies in opening hours and after what it waits for, one at a time;
// the tape comes off at soft set (common practice).
// What is not to be poured before a day is not; what prepares it may be done before, and nothing
// is planned before now.
func TestNothingIsPouredBeforeItsStart(t *testing.T) {
	r := studiotest.Open(t) // Monday 2 March 2026, 08:00
	r.Piece(map[string]string{"start": "2026-03-11T10:00"})
	a := r.Days()
	poured := studiotest.TaskOf(t, a, plan.PourKey(plan.FirstCoat)).Start
	assert.False(t, poured.Before(time.Date(2026, 3, 11, 10, 0, 0, 0, time.Local)), "%s", poured)
	for _, x := range a.Tasks {
		assert.False(t, x.Start.Before(studiotest.Monday), x.Key)
	}
}

func TestDaysKeepTheRulesOfTheTrade(t *testing.T) {
	r := studiotest.Open(t) // Monday 2 March 2026, 08:00
	r.Piece(map[string]string{"edge": "dam", "sides": "taped"})
	r.Piece(map[string]string{"name": "Other", "sides": "run-over", "sealed": "no"})
	a := r.Days()
	require.Len(t, a.Pieces, 2)
	require.Empty(t, a.Notes)
	var free time.Time
	for _, x := range a.Tasks {
		if x.Hands > 0 {
			assert.False(t, x.Start.Before(free), "%s begins before the hands are free", x.Key)
			free = x.End
			assert.True(t, a.Book.Calendar.Contains(x.Start), "%s at %s", x.Key, x.Start)
		}
	}
	for _, p := range a.Pieces {
		for _, x := range a.TasksOf(p.ID) {
			for _, w := range x.Waits {
				before := p.Plan.Tasks[w.After]
				for _, y := range a.TasksOf(p.ID) {
					if y.Key == before.Key {
						assert.GreaterOrEqual(t, x.Start.Sub(y.End).Minutes(), float64(w.Min), "%s waits for %s", x.Key, y.Key)
					}
				}
			}
		}
	}
	wait := studiotest.TaskOf(t, a,
		plan.TapeKey(plan.FirstCoat)).Start.Sub(studiotest.TaskOf(t, a, plan.PourKey(plan.FirstCoat)).End).Hours()
	assert.True(t, wait > 3 && wait < 10, "tape at soft set, 4–6 h at 25 °C and later in a cooler room: %g h", wait)
}

func TestPinsAndMarksMoveTheRest(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	key := plan.PourKey(plan.FirstCoat)
	pin := time.Date(2026, 3, 6, 10, 0, 0, 0, time.Local)
	require.NoError(t, r.Agenda.Pin(r.Ctx(), p.ID, key, pin))
	a := r.Days()
	assert.True(t, studiotest.TaskOf(t, a, key).Start.Equal(pin))
	assert.True(t, studiotest.TaskOf(t, a, key).Pinned)
	assert.True(t, studiotest.TaskOf(t, a, plan.PourKey(plan.SecondCoat)).Start.After(pin.Add(12*time.Hour)),
		"the rest follows")
	assert.True(t, r.Plan(p).Coats[0].Start.Equal(pin), "and the plan says the same as the days")
	var refused *form.Refused
	assert.ErrorAs(t, r.Agenda.Pin(r.Ctx(), p.ID, key, pin.Add(14*time.Hour)), &refused, "at midnight")
	assert.ErrorAs(t, r.Agenda.Pin(r.Ctx(), p.ID, key, pin.AddDate(0, 0, -9)), &refused, "in the past")
	// A pin that its waits do not allow is let go, and said.
	require.NoError(t, r.Agenda.Pin(r.Ctx(), p.ID, plan.PourKey(plan.TopCoat), pin.Add(time.Hour)))
	_, _, reasons := r.Days().Said()
	assert.NotEmpty(t, reasons)
}

// Days over the change to summer time are whole, and the plan is the same for
// the same studio.
func TestDaysOverDaylightSaving(t *testing.T) {
	place, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	r := studiotest.Open(t)
	r.Clock.T = time.Date(2026, 3, 27, 8, 0, 0, 0, place) // clocks change on the 29th (EU summer time)
	p := r.Piece(map[string]string{})
	v := r.Plan(p)
	for _, c := range v.Coats {
		assert.True(t, v.Context.Calendar.Contains(c.Start), c.Start)
	}
	again, err := r.Agenda.Current(r.Ctx())
	require.NoError(t, err)
	assert.Same(t, v.Agenda, again, "nothing has changed, so it is the same agenda")
}

// A studio with no place for a board says so instead of planning it.
func TestImpossibleStudiosAreSaid(t *testing.T) {
	r := studiotest.Open(t)
	r.Piece(map[string]string{"size": "3 x 4 m"})
	_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"rack": "1 of 60 x 60 cm"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	_, out, reasons := r.Days().Said()
	assert.NotEmpty(t, append(out, reasons...))
}

// A piece that cannot be ready in time is late everywhere, by the same time.
func TestLateIsSaidAlike(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"due": "2026-03-03"})
	v := r.Plan(p)
	require.NotNil(t, v.Slot)
	assert.Positive(t, v.Slot.Late)
	d, ok := v.Diagnostics().Gravest()
	require.True(t, ok)
	assert.Equal(t, verdict.AgendaLate, d.Code)
	assert.Equal(t, v.Slot.Late, v.Timing.Late)
	td, err := r.Today.Today(r.Ctx())
	require.NoError(t, err)
	require.Len(t, td.Due, 1)
	assert.Equal(t, v.Slot.Late, td.Due[0].Late)
	ways, err := r.Agenda.WaysOut(r.Ctx())
	require.NoError(t, err)
	for _, w := range ways {
		assert.Less(t, w.Late, v.Slot.Late, w.Name)
	}
}

// Whatever is typed into whatever field, a piece stays one that can be read
// and planned or says why it cannot.
func TestAnythingTypedIsSurvived(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	book, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	var keys []string
	for _, f := range pieces.Fields(p.Spec, book) {
		keys = append(keys, f.Key)
	}
	rapid.Check(t, func(rt *rapid.T) {
		values := map[string]string{}
		for range 3 {
			values[rapid.SampledFrom(keys).Draw(rt, "key")] = rapid.OneOf(
				rapid.String(),
				rapid.SampledFrom([]string{"0", "-1", "1e9 m", "18 in", "1/0", "drawn", "polygon", "mould", "9999999",
					"0,0 9,9 9,0 0,9", "M0 0Z", "25 %", "NaN", "100 x 200 cm", "round", "12 fl oz", "400 g"}),
			).Draw(rt, "text")
		}
		got, n, err := r.Pieces.Edit(r.Ctx(), p.ID, p.Rev, values)
		require.NoError(rt, err)
		for key, message := range n.Errors {
			assert.NotEmpty(rt, message, key)
		}
		if _, err = r.Agenda.Alone(r.Ctx(), got); err != nil {
			var refused *form.Refused
			require.ErrorAs(rt, err, &refused)
		}
		_, err = r.Pieces.Undo(r.Ctx(), p.ID)
		require.NoError(rt, err)
	})
}

// What a form shows is accepted when it is sent back, and changes nothing.
func TestPostingBackChangesNothing(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"edge": "dam", "due": "2026-04-01"})
	for _, units := range []string{"metric", "us"} {
		_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"units": units})
		require.NoError(t, err)
		require.True(t, n.OK())
		book, err := r.Materials.Book(r.Ctx())
		require.NoError(t, err)
		values := pieces.Values(p.Spec, book, book.Settings.Units)
		again, n, err := r.Pieces.Edit(r.Ctx(), p.ID, p.Rev, values)
		require.NoError(t, err)
		assert.True(t, n.OK(), n.Errors)
		assert.Equal(t, p.Spec, again.Spec, units)
	}
}

// A coat that was begun on a board nobody had ticked off as prepared keeps its
// place in the days; what was left out is still to do.
func TestACoatBegunTooEarlyIsPlanned(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"sealed": "no"})
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	for len(r.Look(b).Mixed) == 0 {
		b = r.Press(b, time.Minute)
		v := r.Plan(p)
		require.NotNil(t, v.Slot)
		for _, d := range v.Diagnostics() {
			assert.NotEqual(t, verdict.AgendaOut, d.Code)
		}
	}
	for !r.Look(b).Finished() {
		b = r.Press(b, time.Minute)
	}
	for _, n := range r.Days().Notes {
		assert.False(t, n.Out(), n.Words())
	}
}

// What keeps a task from a time is said before it is laid there: what is over, shut
// hours, waits of its own piece, hands that are taken. Where nothing stands in the way
// nothing is said, and laying it there works.
func TestWhatStandsInTheWayIsSaid(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"sealed": "yes"})
	first, second := plan.PourKey(plan.FirstCoat), plan.PourKey(plan.SecondCoat)
	pin := time.Date(2026, 3, 6, 10, 0, 0, 0, time.Local)
	place := func(piece int64, task string, at time.Time) *agenda.Obstacle {
		o, err := r.Agenda.Place(r.Ctx(), piece, task, at)
		require.NoError(t, err)
		return o
	}
	require.NoError(t, r.Agenda.Pin(r.Ctx(), p.ID, first, pin))
	shuts := r.Days().Book.Calendar.On(pin)
	last := shuts[len(shuts)-1].To
	for name, c := range map[string]struct {
		at   time.Time
		code agenda.ObstacleCode
		says string
	}{
		"over":       {r.Clock.T.Add(-time.Hour), agenda.InThePast, "over"},
		"at night":   {last.Add(3 * time.Hour), agenda.StudioClosed, "closed then"},
		"too long":   {last.Add(-5 * time.Minute), agenda.ClosesBefore, "before the studio closes"},
		"too early":  {pin.Add(2 * time.Hour), agenda.WaitsFor, "Not before"},
		"meanwhile":  {pin, agenda.WaitsFor, "first pour"},
		"well after": {pin.AddDate(0, 0, 3), "", ""},
	} {
		o := place(p.ID, second, c.at)
		if c.code == "" {
			assert.Nil(t, o, name)
			continue
		}
		require.NotNil(t, o, name)
		assert.Equal(t, c.code, o.Code, name)
		assert.Contains(t, msg.Say(o.Words(), msg.English), c.says, name)
	}
	other := r.Piece(map[string]string{"name": "Another", "sealed": "yes"})
	o := place(other.ID, first, pin.Add(5*time.Minute))
	require.NotNil(t, o)
	assert.Equal(t, agenda.HandsTaken, o.Code)
	assert.Contains(t, msg.Say(o.Words(), msg.English), p.Name)
	free := pin.AddDate(0, 0, -1)
	require.Nil(t, place(other.ID, first, free), "the day before they are free")
	require.NoError(t, r.Agenda.Pin(r.Ctx(), other.ID, first, free))
	for _, task := range r.Days().TasksOf(other.ID) {
		if task.Key == first {
			assert.True(t, task.Pinned && task.Start.Equal(free), "%v", task.Start)
		}
	}
	_, err := r.Agenda.Place(r.Ctx(), p.ID, "ninth:pour", pin)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// An evening said in words is open to the plan from then on, and can be taken back.
func TestAnEveningIsOpened(t *testing.T) {
	r := studiotest.Open(t)
	evening := time.Date(2026, 3, 6, 20, 0, 0, 0, time.Local) // a Friday
	require.False(t, r.Days().Book.Calendar.Contains(evening))
	one, err := r.Setup.SayDay(r.Ctx(), "6 march 19-22", r.Clock.T)
	require.NoError(t, err)
	assert.True(t, r.Days().Book.Calendar.Contains(evening))
	var refused *form.Refused
	_, err = r.Setup.SayDay(r.Ctx(), "some day", r.Clock.T)
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, "day", refused.Field)
	require.NoError(t, r.Setup.DropDay(r.Ctx(), one.Date))
	assert.False(t, r.Days().Book.Calendar.Contains(evening))
}

// The next free evening is the first on which nothing is done after five.
func TestTheNextFreeEvening(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"sealed": "yes"})
	_, err := r.Setup.SayDay(r.Ctx(), "4 march 17-22", r.Clock.T)
	require.NoError(t, err)
	see := func() today.Today {
		got, err := r.Today.Today(r.Ctx())
		require.NoError(t, err)
		return got
	}
	was := see().Free
	require.False(t, was.IsZero())
	pin := time.Date(was.Year(), was.Month(), was.Day(), 18, 0, 0, 0, time.Local)
	_, err = r.Setup.SayDay(r.Ctx(), was.Format(time.DateOnly)+" 17-22", r.Clock.T)
	require.NoError(t, err)
	require.NoError(t, r.Agenda.Pin(r.Ctx(), p.ID, plan.PourKey(plan.FirstCoat), pin))
	assert.True(t, see().Free.After(was), "that evening is taken now")
}

// What is poured next is one coat a piece, the earliest first, of those not at the bench.
func TestNextPoursAreOneAPiece(t *testing.T) {
	r := studiotest.Open(t)
	late := r.Piece(map[string]string{"name": "Late", "start": "2026-03-20T10:00"})
	soon := r.Piece(map[string]string{"name": "Soon", "start": "2026-03-03T08:00"})
	r.Piece(map[string]string{"name": "Between", "start": "2026-03-12T10:00"})
	nobody := func(int64) bool { return false }
	named := func(n int, busy func(int64) bool) (out []string) {
		for _, x := range r.Days().NextPours(n, busy) {
			assert.Equal(t, plan.PourKey(plan.FirstCoat), x.Key)
			out = append(out, x.Piece)
		}
		return out
	}
	assert.Equal(t, []string{"Soon", "Between", "Late"}, named(9, nobody))
	assert.Equal(t, []string{"Soon", "Between"}, named(2, nobody))
	assert.Equal(t, []string{"Between", "Late"}, named(9, func(id int64) bool { return id == soon.ID }))
	require.NoError(t, r.Agenda.Mark(r.Ctx(), late.ID, plan.PourKey(plan.FirstCoat), r.Now()))
	for _, x := range r.Days().NextPours(9, nobody) {
		assert.False(t, x.PieceID == late.ID && x.Key == plan.PourKey(plan.FirstCoat), "it is poured")
	}
}
