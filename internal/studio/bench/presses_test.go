package bench_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
)

// Whatever is pressed by one or two people, in whatever order and after whatever
// pause, with the program killed in between: the bench stands where a list of
// presses says, take-backs included, time never runs backwards and nothing is
// recorded twice.
func TestAnyPressesAreKept(t *testing.T) {
	testsize.Sequential(t)
	r := studiotest.Open(t)
	var days [2]session.Bench // as they begin
	for i, people := range []string{"1", "2"} {
		days[i] = r.Begin(map[string]string{"name": people, "size": "90 x 60 cm",
			pieces.CoatKey(plan.FirstCoat, "technique"): "flood", pieces.CoatKey(plan.FirstCoat, "people"): people})
		_, err := r.Bench.Log().Press(r.Ctx(), days[i].ID, 0, false, session.Close)
		require.NoError(t, err)
	}
	rapid.Check(t, func(rt *rapid.T) {
		fresh := days[rapid.IntRange(0, 1).Draw(rt, "day")]
		b, err := r.Bench.Log().StartBench(r.Ctx(), fresh.PieceID, fresh.Coat, fresh, false, nil)
		require.NoError(rt, err)
		defer func() { // the next day begins anew
			if !b.Done {
				_, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.Close)
				require.NoError(rt, err)
			}
		}()
		log := r.Bench.Log()
		kept := 0 // presses that stand
		for range rapid.IntRange(1, 14).Draw(rt, "presses") {
			r.Clock.T = r.Clock.T.Add(time.Duration(rapid.IntRange(0, 20).Draw(rt, "minutes")) * time.Minute)
			hand := b.InHand()
			require.NotEmpty(rt, hand)
			step := rapid.SampledFrom(hand).Draw(rt, "step")
			switch rapid.SampledFrom([]string{"done", "done", "skip", "undo", "twice", "kill"}).Draw(rt, "press") {
			case "done":
				if _, err = log.Press(r.Ctx(), b.ID, 0, false, session.DoneAt(step, "")); err == nil {
					kept++
				}
			case "skip":
				_, err = log.Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(step))
				require.NoError(rt, err)
				kept++
			case "undo":
				if _, err = log.Press(r.Ctx(), b.ID, b.Rev, false, session.TakeBack); err == nil {
					kept--
				}
				require.GreaterOrEqual(rt, kept, 0)
			case "twice":
				_, err = log.Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(step))
				require.NoError(rt, err)
				kept++
				_, err = log.Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(step))
				require.ErrorIs(rt, err, session.ErrStale)
			case "kill":
				r.Restart()
				log = r.Bench.Log()
			}
			b, err = log.Bench(r.Ctx(), b.ID, false)
			require.NoError(rt, err)
			standing, over := 0, map[int]bool{}
			for i, e := range b.Events {
				if e.What == session.Undo {
					continue
				}
				if i > 0 {
					require.False(rt, e.At.Before(b.Events[i-1].At))
				}
				if e.Undone {
					continue
				}
				standing++
				if e.What == session.Did || e.What == session.Skip {
					require.False(rt, over[e.Step], "step %d is over twice", e.Step)
					over[e.Step] = true
				}
			}
			require.Equal(rt, kept, standing, "what was taken back is kept, but does not count")
			for i, s := range b.Steps { // a pour never comes before its batch
				if over[i] && s.Pours && s.BatchNo > 0 {
					for k, m := range b.Steps {
						if m.Mixing && m.BatchNo == s.BatchNo {
							require.True(rt, over[k], "%s before %s", s.Name, m.Name)
						}
					}
				}
			}
			if b.Done {
				return
			}
		}
	})
}

// The last step is no other: pressed by two screens, the second was too late.
func TestTheLastStepTwice(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{"name": "Spit"})
	for !b.Done {
		step := b.InHand()[0]
		_, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(step))
		require.NoError(t, err)
		_, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(step))
		require.ErrorIs(t, err, session.ErrStale)
		b, err = r.Bench.Log().Bench(r.Ctx(), b.ID, false)
		require.NoError(t, err)
	}
	_, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(-1))
	require.ErrorContains(t, err, "everything is done")
}
