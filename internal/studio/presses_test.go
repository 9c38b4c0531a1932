package studio_test

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/device"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

// A restartable is a studio whose program can be killed between two presses.
type restartable struct {
	*studio.Studio
	db   *store.Store
	path string
	now  time.Time
}

func (r *restartable) begin(t require.TestingT) {
	var err error
	r.db, err = store.Open(ctx, r.path)
	require.NoError(t, err)
	r.Studio, err = studio.New(ctx, r.db, device.NewSimulatedScale(1, 0.1), func() time.Time { return r.now })
	require.NoError(t, err)
}

// Whatever is pressed, in whatever order and after whatever pause, with the
// program killed in between: the bench stands where a list of presses says,
// take-backs included, time never runs backwards and nothing is recorded twice.
func TestAnyPressesAreKept(t *testing.T) {
	r := &restartable{path: filepath.Join(t.TempDir(), "jevvo.db"), now: time.Date(2026, 3, 2, 9, 0, 0, 0, time.Local)}
	r.begin(t)
	defer func() { r.db.Close() }()
	rapid.Check(t, func(rt *rapid.T) {
		spec, err := r.Draft(ctx)
		require.NoError(rt, err)
		spec.Name = "Tile"
		p, err := r.AddPiece(ctx, spec)
		require.NoError(rt, err)
		d, err := r.StartBench(ctx, p.ID, "first", 0)
		require.NoError(rt, err)
		var past []int // steps past before each press that can be taken back
		for range rapid.IntRange(1, 12).Draw(rt, "presses") {
			r.now = r.now.Add(time.Duration(rapid.IntRange(0, 40).Draw(rt, "minutes")) * time.Minute)
			v, err := r.LookAtBench(ctx, d)
			require.NoError(rt, err)
			want := v.Past
			switch rapid.SampledFrom([]string{"done", "skip", "undo", "met", "stale", "kill"}).Draw(rt, "press") {
			case "done":
				meets := v.Current.Button == "The parts meet now"
				was := d.Rev
				d, err = r.StepDone(ctx, d.ID, d.Rev, false)
				if err != nil { // a flame that is locked
					d.Rev = was
					break
				}
				past = append(past, want)
				if !meets { // this press starts the clock; the next ends the step
					want++
				}
			case "skip":
				d, err = r.StepSkipped(ctx, d.ID, d.Rev, false)
				require.NoError(rt, err)
				past, want = append(past, want), want+1
			case "met":
				d, err = r.PartsMet(ctx, d.ID, d.Rev, false)
				require.NoError(rt, err)
				past = append(past, want)
			case "undo":
				d, err = r.UndoBench(ctx, d.ID, d.Rev, false)
				if len(past) == 0 {
					break
				}
				require.NoError(rt, err)
				want, past = past[len(past)-1], past[:len(past)-1]
			case "stale":
				_, err = r.StepDone(ctx, d.ID, d.Rev-1, false)
				require.ErrorIs(rt, err, studio.ErrStale)
			case "kill":
				r.db.Close()
				r.begin(rt)
			}
			d, err = r.Bench(ctx, d.ID, false)
			require.NoError(rt, err)
			v, err = r.LookAtBench(ctx, d)
			require.NoError(rt, err)
			require.Equal(rt, want, v.Past)
			standing := 0
			for _, e := range d.Events {
				if !e.Undone {
					standing++
				}
			}
			require.Equal(rt, len(past), standing, "what was taken back is kept, but does not count")
			for i := 1; i < len(d.Events); i++ {
				require.False(rt, d.Events[i].At.Before(d.Events[i-1].At))
			}
		}
	})
}
