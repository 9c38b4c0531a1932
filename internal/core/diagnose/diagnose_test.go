package diagnose_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

func ptr[T any](v T) *T { return &v }

func room(points ...cure.Reading) *cure.Room {
	r, err := cure.NewRoom(points)
	if err != nil {
		panic(err)
	}
	return &r
}

// The usual product: 45 minutes to work, hard in a day (handbook, section 3).
func product(t testing.TB) *cure.Kinetics {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	return &k
}

// The tables hang together: every fault can be drawn, has causes and remedies; every
// cause bears on a fault; questions, signs and links name causes there are.
func TestTheTablesHangTogether(t *testing.T) {
	bears, asked := map[string]bool{}, map[string]bool{}
	for _, l := range diagnose.Links() {
		_, ok := diagnose.FindFault(l.Fault)
		assert.True(t, ok, l.Fault)
		_, ok = diagnose.FindCause(l.Cause)
		assert.True(t, ok, l.Cause)
		assert.True(t, l.Strength > 0 && l.Strength < 1)
		bears[l.Cause], bears[l.Fault] = true, true
	}
	for _, q := range diagnose.Questions {
		_, ok := diagnose.FindCause(q.Cause)
		assert.True(t, ok, q.ID)
		assert.NotEqual(t, q.Yes, q.No)
		assert.True(t, strings.HasSuffix(string(q.Text), "?"))
		asked[q.Cause] = true
	}
	remedied := map[string]bool{}
	for _, row := range diagnose.RemedyRows() {
		_, ok := diagnose.FindRemedy(row[1].(string))
		assert.True(t, ok, row[1])
		for _, c := range row[2].([]string) {
			_, ok := diagnose.FindCause(c)
			assert.True(t, ok, c)
		}
		remedied[row[0].(string)] = true
	}
	for _, f := range diagnose.Faults {
		assert.True(t, bears[f.ID] && remedied[f.ID], f.ID)
		assert.NotEmpty(t, f.Motif)
		assert.NotEmpty(t, f.Look)
	}
	for _, c := range diagnose.Causes {
		assert.True(t, bears[c.ID], c.ID)
		assert.True(t, asked[c.ID] || c.ID == "contrast" || c.ID == "glitter-dose" || c.ID == "thin-drain",
			"%s cannot be asked for", c.ID)
		assert.NotEmpty(t, c.Prevent)
	}
	for _, c := range diagnose.SignCauses() {
		assert.True(t, bears[c], c)
	}
	for _, r := range diagnose.Remedies {
		for _, s := range r.Safety {
			assert.Len(t, technique.SafetyNotes(s), 1, "%s: %s", r.ID, s)
		}
		if r.Coat != "" {
			_, ok := technique.Library.Find(r.Coat)
			assert.True(t, ok, r.Coat)
		}
	}
}

// brute sums over every set of causes.
func brute(n *diagnose.Network) (posterior []float64, joint func(visit func(set int, p float64))) {
	causes, p, escapes := n.Parts()
	joint = func(visit func(set int, p float64)) {
		for set := range 1 << len(causes) {
			w := 1.0
			for k := range causes {
				if set&(1<<k) != 0 {
					w *= p[k]
				} else {
					w *= 1 - p[k]
				}
			}
			for f := range escapes[0] {
				none := 1 - diagnose.Leak
				for k := range causes {
					if set&(1<<k) != 0 {
						none *= escapes[k][f]
					}
				}
				w *= 1 - none
			}
			visit(set, w)
		}
	}
	sum := 0.0
	posterior = make([]float64, len(causes))
	joint(func(set int, w float64) {
		sum += w
		for k := range causes {
			if set&(1<<k) != 0 {
				posterior[k] += w
			}
		}
	})
	for k := range posterior {
		posterior[k] /= sum
	}
	return posterior, joint
}

// Probabilities are those of all sets of causes summed up, and what a question
// teaches is the information between its answer and the whole set, by brute force.
func TestAgainstExactEnumeration(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seen := rapid.SliceOfNDistinct(rapid.SampledFrom(diagnose.Faults), 1, 2,
			func(f diagnose.Fault) string { return f.ID }).Draw(t, "seen")
		c := diagnose.Case{Answers: map[string]bool{}, Learned: map[string]diagnose.Tally{"cold": {Yes: 3, Of: 4}}}
		for _, f := range seen {
			c.Seen = append(c.Seen, f.ID)
		}
		for _, q := range rapid.SliceOfNDistinct(rapid.SampledFrom(diagnose.Questions), 0, 3,
			func(q diagnose.Question) string { return q.ID }).Draw(t, "answered") {
			c.Answers[q.ID] = rapid.Bool().Draw(t, q.ID)
		}
		if rapid.Bool().Draw(t, "record") {
			c.Record = diagnose.Record{OffRatio: ptr(rapid.Float64Range(-0.3, 0.3).Draw(t, "off")), Damp: ptr(true)}
		}
		n, err := diagnose.NetworkOf(c)
		require.NoError(t, err)
		causes, _, _ := n.Parts()
		if len(causes) > 13 {
			t.Skip("too many sets to sum")
		}
		want, joint := brute(n)
		d, err := diagnose.Of(c)
		require.NoError(t, err)
		got := map[string]float64{}
		for k, l := range d.Causes {
			got[l.Cause.ID] = l.Probability
			require.True(t, k == 0 || d.Causes[k-1].Probability >= l.Probability)
		}
		for k, cause := range causes {
			require.InDelta(t, want[k], got[cause.ID], 1e-9, cause.ID)
		}
		if d.Ask == nil {
			return
		}
		at := -1
		for k, cause := range causes {
			if cause.ID == d.Ask.Cause {
				at = k
			}
		}
		yes, sum, inner := 0.0, 0.0, 0.0
		joint(func(set int, w float64) {
			p := d.Ask.No
			if set&(1<<at) != 0 {
				p = d.Ask.Yes
			}
			sum += w
			yes += w * p
			inner += w * bits(p)
		})
		require.InDelta(t, bits(yes/sum)-inner/sum, d.Teaches, 1e-9)
		for _, q := range diagnose.Questions { // none teaches more
			for k, cause := range causes {
				if _, done := c.Answers[q.ID]; !done && cause.ID == q.Cause && !q.Told && q.Only == "" {
					p := want[k]
					require.LessOrEqual(t, bits(p*q.Yes+(1-p)*q.No)-p*bits(q.Yes)-(1-p)*bits(q.No), d.Teaches+1e-9)
				}
			}
		}
	})
}

func bits(p float64) float64 {
	if p <= 0 || p >= 1 {
		return 0
	}
	return -(p*math.Log2(p) + (1-p)*math.Log2(1-p))
}

// Facts of the trade (handbook, sections 11 and 12: common practice): what a record
// points to comes first.
func TestFactsOfTheTrade(t *testing.T) {
	cold := room(cure.Reading{Minute: 0, Temperature: 15})
	warm := room(cure.Reading{Minute: 0, Temperature: 24})
	k := product(t)
	for _, c := range []struct {
		name   string
		seen   []string
		record diagnose.Record
		first  string
		remedy string
	}{
		{"off ratio", []string{"sticky-all"},
			diagnose.Record{OffRatio: ptr(0.16), Kinetics: k, Room: warm, HoursSince: ptr(48.0)}, "off-ratio", "strip"},
		{"a cold night, not hard yet", []string{"soft"},
			diagnose.Record{OffRatio: ptr(0.0), MixMin: ptr(4.0), Kinetics: k, Room: cold, HoursSince: ptr(20.0)},
			"not-yet-cured", "wait"},
		{"mixed short", []string{"sticky-patches"},
			diagnose.Record{OffRatio: ptr(0.005), MixMin: ptr(1.2), ProductMin: ptr(4.0)}, "under-mixed", "strip"},
		{"silicone below", []string{"fish-eyes"}, diagnose.Record{Silicone: ptr(true), Degreased: ptr(false)},
			"silicone-below", "wipe-off"},
		{"bare wood", []string{"bubbles-from-below"}, diagnose.Record{Wood: ptr(true), Primed: ptr(false)}, "bare-wood",
			"sand-recoat"},
		{"flame too long", []string{"scorch"}, diagnose.Record{LongestDwell: ptr(4.0), Flux: ptr(60.0), HeatPasses: ptr(1)},
			"held-still", "sand-out"},
		{"thin on the sides", []string{"see-through-sides"}, diagnose.Record{}, "thin-drain", "paint-sides"},
		{"tape after the gel", []string{"tape-locked"}, diagnose.Record{TapePulled: ptr(0.7)}, "tape-late", "cut-tape"},
		{"a hot cup", []string{"cup-overheated"}, diagnose.Record{Cup: &diagnose.CupHeat{Mass: 900, Peak: 160}},
			"lot-too-large", "carry-out"},
		{"shiny below", []string{"peels"}, diagnose.Record{Scuffed: ptr(false), RecoatAt: ptr(0.9), Silicone: ptr(false),
			Degreased: ptr(true)}, "not-scuffed", "regrind"},
		{"out of level", []string{"bare-corner"},
			diagnose.Record{LevelDrop: ptr(3 * units.Millimetre), Film: ptr(2 * units.Millimetre),
				Puddle: ptr(1.6 * units.Millimetre)}, "not-level", "relevel"},
	} {
		t.Run(c.name, func(t *testing.T) {
			d, err := diagnose.Of(diagnose.Case{Seen: c.seen, Record: c.record})
			require.NoError(t, err)
			assert.Equal(t, c.first, d.Causes[0].Cause.ID)
			ids := []string{}
			for _, r := range d.Remedies[:min(2, len(d.Remedies))] {
				ids = append(ids, r.ID)
			}
			assert.Contains(t, ids, c.remedy)
			assert.NotEmpty(t, append(d.Causes[0].Because, diagnose.Reason{For: c.name == "thin on the sides"}))
		})
	}
}

// Evidence moves the way it should: further off in ratio never makes it less likely,
// a yes for a cause never does, and a confirmed cause is thought of sooner.
func TestEvidenceMovesTheRightWay(t *testing.T) {
	p := func(c diagnose.Case, id string) float64 {
		d, err := diagnose.Of(c)
		require.NoError(t, err)
		for _, l := range d.Causes {
			if l.Cause.ID == id {
				return l.Probability
			}
		}
		return 0
	}
	last := 0.0
	for _, off := range []float64{0, 0.03, 0.06, 0.12, 0.3} {
		now := p(diagnose.Case{Seen: []string{"sticky-all"}, Record: diagnose.Record{OffRatio: ptr(off)}}, "off-ratio")
		assert.GreaterOrEqual(t, now, last)
		assert.InDelta(t, now, p(diagnose.Case{Seen: []string{"sticky-all"}, Record: diagnose.Record{OffRatio: ptr(-off)}},
			"off-ratio"), 1e-12)
		last = now
	}
	for _, q := range diagnose.Questions {
		for _, f := range diagnose.Faults {
			c := diagnose.Case{Seen: []string{f.ID}}
			plain := p(c, q.Cause)
			if plain == 0 {
				continue
			}
			c.Answers = map[string]bool{q.ID: q.Yes > q.No}
			assert.Greater(t, p(c, q.Cause), plain, q.ID)
			c.Answers = map[string]bool{q.ID: q.Yes < q.No}
			assert.Less(t, p(c, q.Cause), plain, q.ID)
		}
	}
	c := diagnose.Case{Seen: []string{"sticky-all"}}
	plain := p(c, "cold")
	c.Learned = map[string]diagnose.Tally{"cold": {Yes: 4, Of: 5}}
	assert.Greater(t, p(c, "cold"), plain)
}

// A wait ends when the clock says so: 20 hours at 15 °C behind it, the coat is hard
// when conversion reaches 0.80 (the sheet's hard time is that of 25 °C).
func TestHowLongToWait(t *testing.T) {
	k, cold := product(t), room(cure.Reading{Minute: 0, Temperature: 15})
	r := diagnose.Record{Kinetics: k, Room: cold, HoursSince: ptr(20.0)}
	in := r.HardIn()
	assert.InDelta(t, cure.HardAlpha, cure.NewClock(*k, *cold).Conversion(60*(20+in)), 1e-6)
	r.HoursSince = ptr(200.0)
	assert.Zero(t, r.HardIn())
	assert.True(t, math.IsNaN(diagnose.Record{}.HardIn()))
}

func TestNonsenseIsRefused(t *testing.T) {
	for _, c := range []diagnose.Case{
		{}, {Seen: []string{"gremlins"}}, {Seen: []string{"mud"}, Answers: map[string]bool{"who": true}},
		{Seen: []string{"mud"}, Record: diagnose.Record{OffRatio: ptr(math.NaN())}},
		{Seen: strings.Fields("mud fog pits dust clumps scorch soft waves peels warped run-off")},
	} {
		_, err := diagnose.Of(c)
		assert.Error(t, err)
	}
}

func BenchmarkTenFaults(b *testing.B) {
	c := diagnose.Case{Seen: strings.Fields("mud fog pits dust clumps scorch soft waves peels warped")}
	for b.Loop() {
		_, err := diagnose.Of(c)
		require.NoError(b, err)
	}
}
