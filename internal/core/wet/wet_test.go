package wet_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
)

// film is a film of a resin that works for 45 minutes, in a room.
func film(t require.TestingT, minute float64, depth units.Length, room units.Temperature, passes ...float64) wet.Film {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	f := wet.Film{
		Depth:      depth,
		EdgeHeight: 1.65,
		Faces:      2,
		Clock:      cure.NewClock(k, cure.Constant(room)),
		Room:       cure.Constant(room),
		Minute:     minute,
	}
	for _, at := range passes {
		f.Passes = append(f.Passes, cure.Pass{Minute: at, Heat: wet.PassHeat})
	}
	return f
}

// states are wet boards and what a practitioner does about them. All are common
// practice.
var states = []struct {
	name      string
	complaint string
	film      func(t *testing.T) wet.Film
	first     string   // what comes first
	also      []string // what is said to work too
	never     []string // what is said not to
	later     []string // what works, but not yet
}{
	{
		name:      "busy and fresh: hands off",
		complaint: "too-busy",
		film:      at(12, 1.5),
		first:     "wait",
		also:      []string{"bury", "scrape"},
		never:     []string{"swipe", "lace", "dots"},
	},
	{
		name:      "busy and thick: burying runs off, so last",
		complaint: "too-busy",
		film:      at(12, 2.0),
		first:     "wait",
		also:      []string{"bury"},
	},
	{
		name:      "busy, past lacing: no more burying",
		complaint: "too-busy",
		film:      at(60, 1.5),
		first:     "wait",
		also:      []string{"scrape"},
		never:     []string{"bury"},
	},
	{
		name:      "busy and stringy: nothing but the next coat",
		complaint: "too-busy",
		film:      at(150, 1.5),
		never:     []string{"wait", "bury", "scrape"},
	},
	{
		name:      "too large: a stick",
		complaint: "too-large",
		film:      at(15, 1.5),
		first:     "scrape",
		also:      []string{"add", "dots"},
		never:     []string{"lace", "wait"},
	},
	{
		name:      "too large at an hour: still the stick",
		complaint: "too-large",
		film:      at(60, 1.5),
		first:     "scrape",
		never:     []string{"dots"},
	},
	{
		name:      "too large, stringy: leave it, dark over it tomorrow",
		complaint: "too-large",
		film:      at(160, 1.5),
		never:     []string{"scrape", "add"},
	},
	{
		name:      "too white: a stick lifts it",
		complaint: "too-white",
		film:      at(15, 1.5),
		first:     "scrape",
		also:      []string{"blow", "add"},
		never:     []string{"swipe", "lace"},
	},
	{
		name:      "too white on a thin film: blowing tears it",
		complaint: "too-white",
		film:      at(15, 0.6),
		first:     "scrape",
		also:      []string{"blow"},
	},
	{
		name:      "too white, cool room: longer",
		complaint: "too-white",
		film:      in(60, 1.5, 17),
		first:     "scrape",
		also:      []string{"blow"},
	},
	{
		name:      "too white, warm room: no more air",
		complaint: "too-white",
		film:      in(45, 1.5, 30),
		first:     "scrape",
		never:     []string{"blow"},
	},
	{
		name:      "too sharp and fresh: it softens by itself",
		complaint: "too-sharp",
		film:      at(8, 1.5),
		first:     "wait",
		later:     []string{"soften"},
	},
	{
		name:      "too sharp and thickened: limp paper",
		complaint: "too-sharp",
		film:      at(40, 1.5),
		first:     "wait",
		also:      []string{"soften"},
		never:     []string{"scrape", "tilt"},
	},
	{
		name:      "too sharp, stringy: paper would pull threads",
		complaint: "too-sharp",
		film:      at(150, 1.5),
		never:     []string{"soften"},
	},
	{
		name:      "too loud: bury it",
		complaint: "too-loud",
		film:      at(15, 1.5),
		first:     "bury",
		also:      []string{"scrape", "add"},
		never:     []string{"lace", "dots"},
	},
	{
		name:      "too loud, late: only the stick and threads",
		complaint: "too-loud",
		film:      at(60, 1.5),
		first:     "scrape",
		also:      []string{"add"},
		never:     []string{"bury"},
	},
	{
		name:      "muddy: off with it",
		complaint: "muddy",
		film:      at(15, 1.5),
		first:     "scrape",
		also:      []string{"bury"},
		never:     []string{"swipe", "tilt", "blow", "wait"},
	},
	{
		name:      "muddy and late: still the stick",
		complaint: "muddy",
		film:      at(70, 1.5),
		first:     "scrape",
		never:     []string{"bury"},
	},
	{
		name:      "muddy and stringy: opaque over it tomorrow",
		complaint: "muddy",
		film:      at(170, 1.5),
		never:     []string{"scrape"},
	},
	{
		name:      "it covers: blow it free",
		complaint: "covers",
		film:      at(20, 1.5),
		first:     "blow",
		also:      []string{"lace", "scrape"},
		never:     []string{"bury"},
	},
	{
		name:      "it covers, fresh: heat not yet",
		complaint: "covers",
		film:      at(2, 1.5),
		first:     "blow",
		later:     []string{"lace"},
	},
	{
		name:      "it covers, heated often: no more flame",
		complaint: "covers",
		film:      at(20, 1.5, 5, 7, 9, 11, 13, 15),
		first:     "blow",
		never:     []string{"lace"},
	},
	{
		name:      "it covers, late: the stick",
		complaint: "covers",
		film:      at(60, 1.5),
		first:     "scrape",
		never:     []string{"blow", "lace"},
	},
	{
		name:      "a small gap, fresh: colour, air, tapping",
		complaint: "blank",
		film:      at(5, 1.4),
		first:     "add",
		also:      []string{"blow", "tap"},
		never:     []string{"lace"},
	},
	{
		name:      "a gap an hour in: only added colour",
		complaint: "blank",
		film:      at(60, 1.4),
		first:     "add",
		never:     []string{"blow", "tap"},
	},
	{name: "a gap, stringy: next coat", complaint: "blank", film: at(150, 1.4), never: []string{"add", "blow", "tap"}},
	{
		name:      "a bare corner: by hand, twice",
		complaint: "bare-corner",
		film:      at(10, 1.4),
		first:     "feed",
		also:      []string{"tilt"},
		never:     []string{"lace", "swipe"},
	},
	{
		name:      "a bare corner, thickened: by hand only",
		complaint: "bare-corner",
		film:      at(50, 1.4),
		first:     "feed",
		never:     []string{"tilt"},
	},
	{
		name:      "a bare corner of a thin film: it does not run",
		complaint: "bare-corner",
		film:      at(5, 0.6),
		first:     "feed",
		also:      []string{"tilt"},
	},
	{
		name:      "run-off: level first, no flame",
		complaint: "run-off",
		film:      at(10, 2.4),
		first:     "level",
		also:      []string{"dam", "wait"},
		never:     []string{"lace", "add", "tilt"},
	},
	{
		name:      "run-off, late: it stops by itself",
		complaint: "run-off",
		film:      at(80, 2.4),
		first:     "level",
		also:      []string{"wait"},
	},
	{name: "run-off, stringy: over", complaint: "run-off", film: at(150, 2.4), never: []string{"level", "dam", "wait"}},
	{
		name:      "too large and just dotted: no flame is offered",
		complaint: "covers",
		film:      wetAlcohol,
		first:     "blow",
		later:     []string{"lace"},
	},
}

func at(minute float64, depth units.Length, passes ...float64) func(*testing.T) wet.Film {
	return func(t *testing.T) wet.Film { return film(t, minute, depth, 24, passes...) }
}

func in(minute float64, depth units.Length, room units.Temperature) func(*testing.T) wet.Film {
	return func(t *testing.T) wet.Film { return film(t, minute, depth, room) }
}

func wetAlcohol(t *testing.T) wet.Film {
	f := film(t, 20, 1.5, 24)
	f.Flash = 4
	return f
}

func TestWhatAPractitionerDoes(t *testing.T) {
	require.GreaterOrEqual(t, len(states), 30)
	for _, s := range states {
		t.Run(s.name, func(t *testing.T) {
			c, ok := wet.FindComplaint(s.complaint)
			require.True(t, ok)
			a := wet.Advise(c, s.film(t))
			now, later := []string{}, []string{}
			for _, o := range a.Now {
				now = append(now, o.ID)
				assert.Greater(t, o.Closes, o.Opens)
				if o.Opens > 0 {
					later = append(later, o.ID)
				}
			}
			if s.first == "" {
				assert.Empty(t, now, "nothing works any more")
			} else if assert.NotEmpty(t, now) {
				assert.Equal(t, s.first, now[0])
			}
			assert.Subset(t, now, s.also)
			assert.Subset(t, later, s.later)
			never := []string{}
			for _, r := range a.Never {
				never = append(never, r.ID)
				assert.NotEmpty(t, r.Why)
			}
			assert.Subset(t, never, s.never)
			for _, id := range never {
				assert.NotContains(t, now, id)
			}
			assert.NotEmpty(t, a.Next, "the next coat can always do something")
		})
	}
}

// What a film does under a move that is for another one is said, and comes last.
func TestADoubtIsSaidAndComesLast(t *testing.T) {
	c, _ := wet.FindComplaint("too-busy")
	a := wet.Advise(c, film(t, 12, 2.0, 24))
	last := a.Now[len(a.Now)-1]
	assert.Equal(t, "bury", last.ID)
	assert.Contains(t, last.Doubt, "runs off", "2 mm is more than the 1.65 mm an edge keeps")
}

// Heat only shortens: with every pass less time is left and fewer passes, and no pass
// is left where the film no longer laces.
func TestHeatShortensWhatIsLeft(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		depth := units.Length(rapid.Float64Range(0.8, 3).Draw(t, "mm"))
		minute := rapid.Float64Range(10, 60).Draw(t, "minute")
		var passes []float64
		before := film(t, minute, depth, 24)
		for i := range rapid.IntRange(1, 6).Draw(t, "passes") {
			passes = append(passes, float64(i+1))
			f := film(t, minute, depth, 24, passes...)
			assert.Greater(t, f.Age(), before.Age())
			assert.LessOrEqual(t, f.PassesLeft(), before.PassesLeft())
			assert.LessOrEqual(t, f.FlameOff(), before.FlameOff())
			assert.LessOrEqual(t, f.Longest(), before.Longest(), "from a warmer film it scorches sooner")
			before = f
		}
		if before.Clock.Window(cure.Lacing).To <= before.Age() {
			assert.Zero(t, before.PassesLeft())
		}
	})
}

// Half an hour of heating again and again leaves small flames (handbook 13).
func TestSmallFlamesAfterHalfAnHour(t *testing.T) {
	assert.False(t, film(t, 20, 1.5, 24, 5, 10, 15).Small())
	assert.True(t, film(t, 35, 1.5, 24, 5, 10, 15).Small())
	assert.False(t, film(t, 35, 1.5, 24, 30).Small(), "one pass is not over and over")
}

// A second of flame over a hand's breadth is a good pass; over a whole board it is
// hardly felt. 60 kW/m² over 78.5 cm² are 471 W.
func TestTimedHeat(t *testing.T) {
	place := units.Area(133 * 133)
	assert.InDelta(t, 471.0/1000/0.017689, wet.Warmed(1, place), 0.1)
	assert.Equal(t, wet.PassHeat, wet.Warmed(0, place))
	assert.Less(t, wet.Warmed(1, units.Area(1e6)), 1.0)
}

// The tables hold together: every work named is one, every next coat is a technique,
// ids are said once.
func TestTablesHoldTogether(t *testing.T) {
	seen := map[string]bool{}
	for _, c := range wet.Complaints {
		assert.False(t, seen[c.ID], c.ID)
		seen[c.ID] = true
		for _, m := range append(slices.Clone(c.Mends), c.Worse...) {
			_, ok := wet.FindWork(m.Work)
			assert.True(t, ok, "%s of %s", m.Work, c.ID)
		}
		for _, m := range c.Next {
			_, ok := technique.Find(m.Work)
			assert.True(t, ok, "%s of %s", m.Work, c.ID)
		}
	}
	for _, w := range wet.Works {
		assert.True(t, cure.Known(w.From) && cure.Known(w.To), w.ID)
		if w.Heats {
			assert.Contains(t, w.Safety, "flame", w.ID)
		}
	}
	for _, m := range wet.Mishaps {
		assert.NotEmpty(t, m.Now, m.ID)
	}
}

func BenchmarkAdvise(b *testing.B) {
	f := film(b, 20, 1.5, 24, 5, 10, 15)
	for b.Loop() {
		for _, c := range wet.Complaints {
			wet.Advise(c, f)
		}
	}
}
