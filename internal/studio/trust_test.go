package studio_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/flow"
	core "jevvo/internal/core/preview"
	"jevvo/internal/core/technique"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
)

// A coat is played in five draws and at both ends of what nobody knows: each range holds what
// the first play came to, a warmer room runs further, and the shares are shares.
func TestRangesHoldTheFirstPlay(t *testing.T) {
	testsize.Sequential(t)
	r := studiotest.Open(t)
	v := r.See(r.Piece(map[string]string{"size": "10 x 10 cm"}))
	got, err := r.Preview.Ranges(r.Ctx(), v)
	require.NoError(t, err)
	low, high := v.Coat.Tensions()
	want := 9
	if low != high {
		want = 10
	}
	assert.Equal(t, want, got.Plays)
	require.Len(t, got.Visible, len(v.Coat.Cups))
	for _, share := range append(got.Visible, got.Ground) {
		assert.LessOrEqual(t, share.Least, share.First)
		assert.LessOrEqual(t, share.First, share.Most)
		assert.GreaterOrEqual(t, share.Least, 0.0)
		assert.LessOrEqual(t, share.Most, 1.0)
	}
	about := preview.Range{Least: 0.1, Most: 0.4, First: 0.3}.About(0.05)
	assert.Zero(t, about.Least)
	assert.InDelta(t, 0.15, about.Most, 1e-12)
	assert.NotEmpty(t, got.Differing)
}

// Poured last, a colour shows more than when others cover it; what is found shows at least as
// much when it is played, and is a way that can be set.
func TestWhatShowsMostIsFound(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "12 x 12 cm", pieces.CoatKey("first", "technique"): "cell"})
	v := r.See(p)
	colour := v.Coat.Cups[len(v.Coat.Cups)-1].Colour.ID
	found, err := r.Preview.Most(r.Ctx(), v, colour)
	require.NoError(t, err)
	assert.Greater(t, found.Tried, 2)
	for k, f := range found.Best {
		assert.Greater(t, f.Shows, found.Now.Shows)
		if k > 0 {
			assert.LessOrEqual(t, f.Shows, found.Best[k-1].Shows)
		}
		require.NoError(t, r.Preview.Set(r.Ctx(), p.ID, v.Coat.ID, f.Way))
	}
	if v = r.See(p); v.Tried.Order != "" { // and goes into the plan
		require.True(t, v.Turns())
		order := strings.Split(v.Tried.Order, ",")
		_, err := r.Preview.Apply(r.Ctx(), v)
		require.NoError(t, err)
		v = r.See(p)
		assert.Empty(t, v.Tried.Order)
		last := 0
		for _, thing := range v.Coat.Things {
			if at := slices.Index(order, thing.Cup); thing.Kind != composition.Bed && at >= 0 {
				assert.GreaterOrEqual(t, at, last)
				last = at
			}
		}
	}
	_, err = r.Preview.Most(r.Ctx(), v, "none")
	require.Error(t, err)
}

// A play that nobody looks at any longer ends, and the next who asks gets a new one; it goes on
// while anybody does.
func TestAPlayEndsWhenAllHaveLeft(t *testing.T) {
	r := studiotest.Open(t)
	v := r.See(r.Piece(map[string]string{}))
	p, err := r.Preview.Play(v)
	require.NoError(t, err)
	first, second := p.Watch(), p.Watch()
	first()
	again, err := r.Preview.Play(v)
	require.NoError(t, err)
	assert.Same(t, p, again, "somebody looks on")
	second()
	again, err = r.Preview.Play(v)
	require.NoError(t, err)
	assert.NotSame(t, p, again)
	require.ErrorIs(t, p.End(r.Ctx()).Err, context.Canceled)
	r.Preview.Stop(again.Key)
	again.End(r.Ctx())
}

// Cups come down in the order that is asked, at the moments there are; a board is tipped a
// quarter turn further.
func TestOrderAndLean(t *testing.T) {
	r := studiotest.Open(t)
	v := r.See(r.Piece(map[string]string{"size": "30 x 30 cm", pieces.CoatKey("first", "technique"): tipping(t)}))
	scene := func(o core.Options) *core.Scene {
		o.Cells = 20
		s, err := core.Of(v.Plan, v.Coat, o)
		require.NoError(t, err)
		return s
	}
	plain := scene(core.Options{})
	order := plain.OnBed()
	require.NotEmpty(t, order)
	back := make([]string, 0, len(order))
	for k := range order {
		back = append(back, order[len(order)-1-k])
	}
	turned := scene(core.Options{Order: back})
	if len(order) > 1 && plain.Moves[0].At != plain.Moves[len(plain.Moves)-1].At {
		assert.Len(t, turned.OnBed(), len(order))
	}
	sum := func(s *core.Scene) (at, volume float64) {
		for _, m := range s.Moves {
			at, volume = at+m.At, volume+m.Volume
		}
		return at, volume
	}
	at, volume := sum(plain)
	again, poured := sum(turned)
	assert.InDelta(t, at, again, 1e-9, "the moments are the same")
	assert.InEpsilon(t, volume, poured, 1e-12, "and the amounts")
	require.True(t, plain.Tips())
	leaned := scene(core.Options{Lean: 1})
	for k, m := range plain.Moves {
		if m.Kind == flow.Tilting {
			assert.Equal(t, [2]float64{-m.TiltY, m.TiltX}, [2]float64{leaned.Moves[k].TiltX, leaned.Moves[k].TiltY})
		}
	}
	four := scene(core.Options{Lean: 4})
	assert.Equal(t, len(plain.Moves), len(four.Moves))
}

// tipping is a technique that tips the board.
func tipping(t *testing.T) string {
	for _, k := range technique.Library {
		for _, s := range k.Steps {
			if s.Gesture == technique.Tip && !k.Cast {
				return k.ID
			}
		}
	}
	t.Fatal("no technique tips the board")
	return ""
}

// Every step that the hands make after the pour is played, or the scene says that it shows
// nothing of it; hot air pushes and warms.
func TestWhatIsNotShownIsSaid(t *testing.T) {
	r := studiotest.Open(t)
	said, hot := 0, 0
	for _, tech := range technique.Library {
		if tech.Between {
			continue
		}
		typed := map[string]string{"name": string(tech.Name), pieces.CoatKey("first", "technique"): tech.ID}
		if tech.Cast {
			typed["support"] = "mould"
		}
		p := r.Piece(typed)
		v := r.See(p)
		s, err := core.Of(v.Plan, v.Coat, core.Options{Cells: 20})
		require.NoError(t, err)
		require.NoError(t, r.Pieces.Remove(r.Ctx(), p.ID, false)) // the days of many take long to lay
		for _, st := range v.Coat.Fit.Steps {
			if st.Move == technique.Tap || st.Move == technique.Dab {
				assert.Contains(t, s.Unshown, st.Name, tech.ID)
				said++
			}
		}
		for _, m := range s.Moves {
			if m.Kind == flow.Blow && m.To > 0 {
				hot++
			}
		}
	}
	assert.Positive(t, said)
	assert.Positive(t, hot)
}
