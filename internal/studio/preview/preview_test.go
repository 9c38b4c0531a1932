package preview_test

import (
	"bytes"
	"context"
	"image/png"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	core "jevvo/internal/core/preview"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
)

// Every technique of the library that pours can be played, and of every cup there
// is in the end what was poured: its share of what goes onto the board.
func TestEveryTechniqueCanBePlayed(t *testing.T) {
	r := studiotest.Open(t)
	for k, tech := range technique.Library {
		if tech.Between || testsize.Raced && k%8 != 0 {
			continue
		}
		t.Run(tech.ID, func(t *testing.T) {
			typed := map[string]string{"name": string(tech.Name), pieces.CoatKey(plan.FirstCoat, "technique"): tech.ID}
			if tech.Cast {
				typed["support"] = "mould"
			}
			p, n, err := r.Pieces.Create(r.Ctx(), typed)
			require.NoError(t, err)
			require.True(t, n.OK(), n.Errors)
			v := r.Plan(p)
			require.NoError(t, r.Pieces.Remove(r.Ctx(), p.ID, false)) // the days of many take long to lay
			c := &v.Coats[0]
			require.Equal(t, tech.ID, c.Technique.ID)
			s, err := core.Of(v.Plan, c, core.Options{Cells: 20, Seed: 1})
			require.NoError(t, err)
			run, err := flow.Start(s.Scene)
			require.NoError(t, err)
			require.NoError(t, run.To(t.Context(), s.Until))
			b := run.Sample()
			all := 0.0
			for k := range s.Cups {
				all += 1e6 * (b.OnBoard[k] + b.Sides[k] + b.Below[k])
			}
			assert.InEpsilon(t, float64(c.OnFirst()), all, 0.02)
			gestures := 0
			for _, m := range s.Scene.Moves {
				if m.Kind != flow.Bed && m.Kind != flow.Ribbon && m.Kind != flow.Puddle {
					gestures++
				}
			}
			assert.Equal(t, gestured(tech), gestures > 0, "its gestures are played")
			plain, err := core.Of(v.Plan, c, core.Options{Cells: 20, Seed: 1, Plain: true})
			require.NoError(t, err)
			assert.Len(t, plain.Scene.Moves, len(s.Scene.Moves)-gestures)
		})
	}
}

func gestured(t technique.Technique) bool {
	for _, s := range t.Steps {
		if s.Gesture != "" || s.Move == technique.HotAir || slices.Contains(s.Adds, "metal-powder") {
			return true
		}
		for _, b := range s.Beats {
			if b.Gesture != "" {
				return true
			}
		}
	}
	return false
}

// Metal dusted on a line shows there, hides what it lies on, and is blown out. A spray of
// it goes all over.
func TestDustedMetalIsSeen(t *testing.T) {
	r := studiotest.Open(t)
	for id, all := range map[string]bool{"floated-metal": false, "mist": true} {
		p, n, err := r.Pieces.Create(r.Ctx(), map[string]string{"name": id, pieces.CoatKey(plan.FirstCoat, "technique"): id})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		v := r.Plan(p)
		s, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 40, Seed: 1})
		require.NoError(t, err)
		run, err := flow.Start(s.Scene)
		require.NoError(t, err)
		dusting := slices.IndexFunc(s.Scene.Moves, func(m flow.Move) bool { return m.Kind == flow.Dust })
		require.NoError(t, run.To(t.Context(), s.Scene.Moves[dusting].At+1))
		shows, _ := s.Painter.Visible(run)
		powder, line := shows[s.Metal()], 0.15
		if all {
			assert.Greater(t, powder, 0.4, id)
			continue
		}
		assert.InDelta(t, line, powder, 0.05, "as much of the face as its line has of the coat")
		require.NoError(t, run.To(t.Context(), s.Until))
		shows, _ = s.Painter.Visible(run)
		assert.Greater(t, shows[s.Metal()], line, "the air spreads it")
	}
}

// What is placed in a composition is poured where it lies: a puddle of the upper
// left is seen there, not below.
func TestThingsArePouredWhereTheyLie(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	p, err := r.Pieces.StartComposition(r.Ctx(), p.ID, plan.FirstCoat, "lanes")
	require.NoError(t, err)
	v := r.Plan(p)
	s, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 40, Plain: true})
	require.NoError(t, err)
	upper := geom.At(float64(s.Box.Width())*0.25, 20)
	on := s.OnGrid(upper)
	assert.InDelta(t, float64(s.Box.Height())-20, on.Y, 1e-9, "y runs down in compositions, up in moves")
	delayed, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 40, Plain: true})
	require.NoError(t, err)
	delayed.Delay(600)
	assert.InDelta(t, s.From+600, delayed.From, 1e-9)
	assert.InDelta(t, s.Scene.Moves[0].At+600, delayed.Scene.Moves[0].At, 1e-9)
}

// A dam that is pulled while it runs lets resin down the sides in the preview too.
func TestADamPulledWhileItRuns(t *testing.T) {
	r := studiotest.Open(t)
	over := func(tape string) float64 {
		p := r.Piece(map[string]string{"edge": "dam", "edge_height": "8", "depth": "20",
			pieces.CoatKey(plan.FirstCoat, "technique"): "flood",
			pieces.CoatKey(plan.FirstCoat, "amount"):    "5 mm",
			pieces.CoatKey(plan.FirstCoat, "tape"):      tape})
		v := r.Plan(p)
		s, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 20, Seed: 1})
		require.NoError(t, err)
		run, err := flow.Start(s.Scene)
		require.NoError(t, err)
		require.NoError(t, run.To(t.Context(), s.Until))
		sum, b := 0.0, run.Sample()
		for k := range s.Cups {
			sum += 1e6 * (b.Sides[k] + b.Below[k])
		}
		return sum
	}
	assert.Less(t, over(school.TapeSoft), 1.0, "mL: behind the dam nothing leaves the face")
	assert.Greater(t, over(school.TapeRuns), 50.0, "mL: 5 mm does not stand at an open edge")
}

// Colour kept back falls when its own move comes, on the part of the board that move
// is for; what comes before has the rest of its cup.
func TestColourKeptBackFallsWhereItsMoveLies(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	p, err := r.Pieces.AddMove(r.Ctx(), p.ID, plan.FirstCoat, string(technique.Drizzle), "")
	require.NoError(t, err)
	rounds := p.First().Coat.Rounds
	late := rounds[len(rounds)-1].Moves[len(rounds[len(rounds)-1].Moves)-1]
	require.Equal(t, technique.Drizzle, late.Kind)
	key := func(name string) string { return pieces.MoveKey(plan.FirstCoat, late.ID, name) }
	p = r.Edit(p, map[string]string{key("part"): "40 %", key("place"): "near"})
	v := r.Plan(p)
	c := &v.Coats[0]
	s, err := core.Of(v.Plan, c, core.Options{Cells: 20, Seed: 1})
	require.NoError(t, err)
	lines := slices.IndexFunc(s.Scene.Moves, func(m flow.Move) bool { return m.Kind == flow.Ribbon })
	require.GreaterOrEqual(t, lines, 0, "it falls in lines")
	m := s.Scene.Moves[lines]
	cup := s.Cups[m.Cup]
	assert.InDelta(t, 0.4*float64(c.OnFirst())*cup.Share, m.Volume*1e6, 1e-6)
	for _, q := range m.Points {
		assert.LessOrEqual(t, q.Y, float64(s.Box.Height())/2+1e-9, "the near half lies low on the grid")
	}
	before := 0.0
	for _, o := range s.Scene.Moves {
		if o.Cup == m.Cup && o.Kind == flow.Bed && o.At < m.At {
			before += o.Volume
		}
	}
	assert.InDelta(t, 1.5, before/m.Volume, 1e-6, "sixty to forty")
}

// Moves by hand are kept over a restart, taken back and made again; two tabs do not
// overwrite each other; nonsense is refused and changes nothing.
func TestMovesByHandAreKept(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	see := func() preview.View {
		v, err := r.Preview.View(r.Ctx(), p.ID, "")
		require.NoError(t, err)
		return v
	}
	v := see()
	cup := v.Coat.Cups[0].Colour.ID
	puddle := preview.Hand{Kind: "puddle", Minute: 12, Cup: cup, Points: []geom.Point{geom.At(100, 100)}, Amount: 10}
	require.NoError(t, r.Preview.Make(r.Ctx(), v, puddle))
	require.NoError(t, r.Preview.Make(r.Ctx(), v, preview.Hand{Kind: "tilt", Minute: 15, Tilt: [2]float64{5, 0}}))
	r.Restart()
	assert.Len(t, see().Tried.Moves, 2)
	require.NoError(t, r.Preview.Undo(r.Ctx(), p.ID, v.Coat.ID))
	require.NoError(t, r.Preview.Undo(r.Ctx(), p.ID, v.Coat.ID))
	require.NoError(t, r.Preview.Undo(r.Ctx(), p.ID, v.Coat.ID))
	assert.Empty(t, see().Tried.Moves)
	require.NoError(t, r.Preview.Redo(r.Ctx(), p.ID, v.Coat.ID))
	assert.Equal(t, []preview.Hand{puddle}, see().Tried.Moves)
	for field, bad := range map[string]preview.Hand{
		"kind":   {Kind: "juggle"},
		"minute": {Kind: "tilt", Minute: -1},
		"points": {Kind: "ribbon", Cup: cup, Amount: 5},
		"cup":    {Kind: "puddle", Cup: "none", Amount: 5, Points: []geom.Point{geom.At(1, 1)}},
		"amount": {Kind: "puddle", Cup: cup, Points: []geom.Point{geom.At(1, 1)}},
		"tilt":   {Kind: "tilt", Tilt: [2]float64{60, 0}},
		"for":    {Kind: "tilt", For: 1e9},
	} {
		err := r.Preview.Make(r.Ctx(), v, bad)
		var refused *form.Refused
		require.ErrorAs(t, err, &refused, field)
		assert.Equal(t, field, refused.Field)
	}
	assert.Len(t, see().Tried.Moves, 1)
	err := r.DB.Write(r.Ctx(), "an old tab", func(tx *store.Tx) error {
		return tx.KeepFlow(r.Ctx(), p.ID, v.Coat.ID, 1, preview.Tried{}, studiotest.Monday)
	})
	assert.ErrorIs(t, err, store.ErrConflict)
	assert.Error(t, r.Preview.Set(r.Ctx(), p.ID, v.Coat.ID, preview.Way{Later: -5}))
}

// A play is calculated once for all who ask, another after a change; its frames come
// in order, the loupe and the still read them, and one that is not wanted ends.
func TestPlaysAreSharedAndEnd(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "10 x 10 cm"})
	v, err := r.Preview.View(r.Ctx(), p.ID, "")
	require.NoError(t, err)
	a, err := r.Preview.Play(v)
	require.NoError(t, err)
	b, err := r.Preview.Play(v)
	require.NoError(t, err)
	assert.Same(t, a, b)
	state := a.Wait(t.Context(), preview.State{})
	require.NoError(t, state.Err)
	require.Positive(t, state.Frames)
	first, ok := a.Frame(0)
	require.True(t, ok)
	m, err := png.Decode(bytes.NewReader(first.Picture))
	require.NoError(t, err)
	assert.Equal(t, m.Bounds().Dx(), m.Bounds().Dy())
	_, err = png.Decode(bytes.NewReader(first.Relief))
	require.NoError(t, err)
	whole, err := a.Still(first)
	require.NoError(t, err)
	assert.Greater(t, len(whole), 1000)
	_, err = a.Loupe(0, geom.At(-5, 3))
	assert.Error(t, err)
	layers, err := a.Loupe(0, geom.At(50, 50))
	require.NoError(t, err)
	for _, l := range layers {
		assert.Positive(t, l.Film)
	}
	r.Preview.Stop(a.Key)
	ended := a.End(t.Context())
	assert.True(t, ended.Ended)
	require.NoError(t, r.Preview.Set(r.Ctx(), p.ID, v.Coat.ID, preview.Way{Seed: 2}))
	v, err = r.Preview.View(r.Ctx(), p.ID, "")
	require.NoError(t, err)
	c, err := r.Preview.Play(v)
	require.NoError(t, err)
	assert.NotEqual(t, a.Key, c.Key)
	ctx, stop := context.WithCancel(t.Context())
	stop()
	assert.ErrorIs(t, c.End(ctx).Err, context.Canceled)
	r.Preview.Stop(c.Key)
	c.End(t.Context())
}

// A fine play has twice the cells a side and a picture no larger; it counts for four of
// those that are held.
func TestAPlayTwiceAsFine(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	play := func(seed uint64, fine bool) *preview.Play {
		v, err := r.Preview.View(r.Ctx(), p.ID, "")
		require.NoError(t, err)
		require.NoError(t, r.Preview.Set(r.Ctx(), p.ID, v.Coat.ID, preview.Way{Seed: seed, Fine: fine}))
		v, err = r.Preview.View(r.Ctx(), p.ID, "")
		require.NoError(t, err)
		q, err := r.Preview.Play(v)
		require.NoError(t, err)
		return q
	}
	usual, fine := play(1, false), play(1, true)
	assert.Equal(t, 2*usual.Scene.Grid.NX, fine.Scene.Grid.NX)
	assert.NotEqual(t, usual.Key, fine.Key)
	third := play(2, false)
	_, held := r.Preview.Find(usual.Key)
	assert.True(t, held, "one and four and one")
	fourth := play(3, false)
	_, held = r.Preview.Find(usual.Key)
	assert.False(t, held, "seven is one too many")
	_, held = r.Preview.Find(fine.Key)
	assert.True(t, held)
	for _, q := range []*preview.Play{usual, fine, third, fourth} {
		r.Preview.Stop(q.Key)
		q.End(t.Context())
	}
}

// What was poured by hand goes into the composition with its place and its amount,
// and off the preview; what else was done stays there.
func TestWhatWasPouredIsTakenOver(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	v, err := r.Preview.View(r.Ctx(), p.ID, "")
	require.NoError(t, err)
	cup := v.Coat.Cups[1].Colour.ID
	_, err = r.Preview.Apply(r.Ctx(), v)
	assert.Error(t, err, "nothing yet")
	require.NoError(t, r.Preview.Make(r.Ctx(), v,
		preview.Hand{Kind: "puddle", Minute: 12, Cup: cup, Points: []geom.Point{geom.At(100, 90)}, Amount: 10}))
	require.NoError(t, r.Preview.Make(r.Ctx(), v, preview.Hand{Kind: "tilt", Minute: 15, Tilt: [2]float64{5, 0}}))
	v, err = r.Preview.View(r.Ctx(), p.ID, "")
	require.NoError(t, err)
	n, err := r.Preview.Apply(r.Ctx(), v)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	v, err = r.Preview.View(r.Ctx(), p.ID, "")
	require.NoError(t, err)
	require.Len(t, v.Tried.Moves, 1)
	assert.Equal(t, "tilt", v.Tried.Moves[0].Kind)
	things := v.Coat.Things
	last := things[len(things)-1]
	assert.Equal(t, []geom.Point{geom.At(100, 90)}, last.Points)
	assert.InDelta(t, 10, float64(last.Share)*float64(v.Coat.OnFirst())*(1+v.Coat.Over), 1.0)
	assert.Greater(t, len(things), 1, "beside the technique's own layout")
}

// The order that is taken over is the one that was played: the plan pours the cups so, lays no
// bed where none is spread, and plays as it was tried.
func TestAnOrderIsTakenOver(t *testing.T) {
	for _, way := range []string{"flow", "swipe", "cell"} {
		for _, tried := range []preview.Way{{Turned: true}, {Order: "c3,c2"}} {
			r := studiotest.Open(t)
			p := r.Piece(map[string]string{"coat.first.technique": way})
			require.NoError(t, r.Preview.Set(r.Ctx(), p.ID, plan.FirstCoat, tried))
			v := r.See(p)
			require.True(t, v.Turns())
			want, err := core.Of(v.Plan, &v.Coats[0], core.Options{
				Cells: 20, Plain: true, Turned: tried.Turned, Order: slices.DeleteFunc(strings.Split(tried.Order, ","),
					func(id string) bool { return id == "" }),
			})
			require.NoError(t, err)
			_, err = r.Preview.Apply(r.Ctx(), v)
			require.NoError(t, err)
			v = r.See(p)
			assert.False(t, v.Turns())
			got, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 20, Plain: true})
			require.NoError(t, err)
			assert.Equal(t, want.OnBed(), got.OnBed(), "%s, %+v", way, tried)
			assert.Len(t, got.Scene.Moves, len(want.Scene.Moves), way)
			assert.Empty(t, v.Coat.Things, "nothing was placed")
		}
	}
}

// The reverse order swaps who is poured when, and nothing else.
func TestColoursInTheReverseOrder(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	v := r.Plan(p)
	own, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 20, Plain: true})
	require.NoError(t, err)
	turned, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 20, Plain: true, Turned: true})
	require.NoError(t, err)
	require.Len(t, turned.Scene.Moves, len(own.Scene.Moves))
	n := len(own.Scene.Moves)
	assert.Equal(t, own.Scene.Moves[0].Cup, turned.Scene.Moves[0].Cup, "the bed stays")
	assert.Equal(t, own.Scene.Moves[1].Cup, turned.Scene.Moves[n-1].Cup)
	for k := range n {
		assert.InDelta(t, own.Scene.Moves[k].At, turned.Scene.Moves[k].At, 1e-9)
	}
}

// Every technique can be played on every outline, wherever its corners were counted from.
func TestEveryTechniquePlaysOnEveryOutline(t *testing.T) {
	r := studiotest.Open(t)
	book, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	for _, outline := range []map[string]string{
		{"outline": "round", "size": "35 cm"}, {"outline": "oval", "size": "35 x 25 cm"},
		{"outline": "regular", "size": "35 cm", "corners": "6"},
		{"outline": "polygon", "points": "200,300 500,300 350,600"},
	} {
		for _, way := range book.Techniques().Coats() {
			typed := maps.Clone(outline)
			typed["coat.first.technique"] = way.ID
			p := r.Piece(typed)
			v := r.Plan(p)
			s, err := core.Of(v.Plan, &v.Coats[0], core.Options{Cells: 20})
			require.NoError(t, err)
			_, err = flow.Start(s.Scene)
			assert.NoError(t, err, "%s, %s", way.ID, outline["outline"])
			require.NoError(t, r.Pieces.Remove(r.Ctx(), p.ID, false))
		}
	}
}
