package bench_test

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/propose"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
	"jevvo/internal/words"
)

// A cup that was poured out takes a fresh batch: weighed true, timed, booked beside what
// the plan took, before the batches still to come; one press takes both steps back.
func TestMoreOfAnEmptyCupIsAFreshBatch(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Poured(r.Begin(map[string]string{}))
	of := studiotest.ResinOf(r.ReadPiece(b.PieceID).Spec)
	took, steps, batches := r.Have(t, of), len(b.Steps), len(b.Batches)
	empty := session.CupLeft{}
	for _, l := range b.Left() {
		if l.BatchNo > 0 && l.Left == 0 {
			empty = l
		}
	}
	require.NotEmpty(t, empty.ID, "one is poured out")
	b, err := r.Bench.More(r.Ctx(), b.ID, false, empty.ID, "12 mL", "near-left")
	require.NoError(t, err)
	require.Len(t, b.Steps, steps+2)
	require.Len(t, b.Batches, batches+1)
	v := r.Look(b)
	mix := v.Current
	assert.Equal(t, session.SaidMet, mix.Says, "its own mixing begins")
	assert.Contains(t, msg.Say(mix.Name, msg.English), empty.Name)
	assert.Contains(t, fmt.Sprint(mix.With), "A ", "grams of A and B are on the card")
	assert.InDelta(t, float64(plan.LeastBatch), float64(b.Batches[mix.BatchNo-1].Volume), 1e-9,
		"12 mL are not weighed true: 18")
	assert.InDelta(t, took, r.Have(t, of), 1e-9, "nothing is booked before its mixing begins")
	met := len(b.BatchesMixed())
	b = r.Press(b, time.Minute)
	assert.Len(t, b.BatchesMixed(), met+1)
	assert.InDelta(t, took-18, r.Have(t, of), 1e-9, "18 mL more left the stock")
	late := r.Look(b)
	assert.Less(t, late.Mixed[len(late.Mixed)-1].Minutes, 0.1, "its clock is its own")
	c := r.Plan(r.ReadPiece(b.PieceID)).Coats[0]
	mixed, err := r.Bench.Weighed(r.Ctx(), b.PieceID, &c)
	require.NoError(t, err)
	assert.InDelta(t, float64(c.Total)+18, float64(mixed), 1e-9, "and it counts as mixed")
	b = r.Press(r.Press(b, time.Minute), time.Minute)
	assert.InDelta(t, 6, b.LeftOf(empty.ID).Left.Millilitres(), 1e-9, "18 mixed, 12 poured")
	for range 3 { // poured, coloured, met
		b = r.Back(b)
	}
	assert.InDelta(t, took, r.Have(t, of), 1e-9, "taken back it is put back")
	b = r.Back(b)
	assert.Len(t, b.Steps, steps, "one press takes mixing and pouring back")
	assert.Len(t, b.Batches, batches)
}

// What a cup still holds is poured from it, without mixing; the window of that pour is
// the film's.
func TestMoreOfWhatIsLeft(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	p, err := r.Pieces.AddMove(r.Ctx(), p.ID, plan.FirstCoat, string(technique.Drizzle), "")
	require.NoError(t, err)
	rounds := p.First().Coat.Rounds
	late := rounds[len(rounds)-1].Moves[len(rounds[len(rounds)-1].Moves)-1]
	p = r.Edit(p, map[string]string{pieces.MoveKey(plan.FirstCoat, late.ID, "part"): "50 %"})
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	b = r.Poured(b)
	for b.LeftOf(late.Cup).Left == 0 || b.Steps[b.Cursor()].Move != technique.Drizzle {
		b = r.Press(b, time.Minute)
	}
	held := b.LeftOf(late.Cup).Left
	require.Greater(t, held, 10*units.Millilitre, "half of the cup is kept back")
	steps := len(b.Steps)
	b, err = r.Bench.More(r.Ctx(), b.ID, false, late.Cup, "5 mL", "")
	require.NoError(t, err)
	require.Len(t, b.Steps, steps+1, "nothing is mixed")
	assert.Equal(t, cure.Holding, b.Steps[b.Cursor()].Window)
	b = r.Press(b, time.Minute)
	assert.InDelta(t, held.Millilitres()-5, b.LeftOf(late.Cup).Left.Millilitres(), 1e-9)
	b, err = r.Bench.Happened(r.Ctx(), b.ID, false, wet.FellOver, late.Cup)
	require.NoError(t, err)
	assert.Zero(t, b.LeftOf(late.Cup).Left, "it lies on the table")
	b = r.Back(b)
	assert.InDelta(t, held.Millilitres()-5, b.LeftOf(late.Cup).Left.Millilitres(), 1e-9, "or it was the wrong key")
}

// A coat that is liked is stopped: moves that are left are skipped with one press, what
// keeps the coat stays, and batches nobody mixed are not taken from the stock.
func TestILikeItStopsHere(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Poured(r.Begin(twoBatches))
	of := studiotest.ResinOf(r.ReadPiece(b.PieceID).Spec)
	moves, whole := b.MovesLeft(), r.Have(t, of)
	require.Positive(t, moves)
	mixed := len(b.BatchesMixed())
	require.Less(t, mixed, len(b.Batches), "a batch is still to be mixed")
	b, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StopHere)
	require.NoError(t, err)
	assert.Zero(t, b.MovesLeft())
	assert.False(t, b.Finished(), "bubbles, cover and tools stay")
	kinds := map[plan.StepKind]bool{}
	for i := b.Cursor(); i < len(b.Steps); i++ {
		kinds[b.Steps[i].Kind] = true
	}
	assert.True(t, kinds[plan.StepLook], "bubbles are still looked for")
	_, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StopHere)
	assert.Error(t, err, "there is nothing left to stop")
	b = r.Back(b)
	assert.Equal(t, moves, b.MovesLeft(), "one press brings all of them back")
	b, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StopHere)
	require.NoError(t, err)
	for !b.Finished() {
		b = r.Press(b, 20*time.Minute)
	}
	assert.Greater(t, r.Have(t, of), whole, "what was not mixed is still there")
	c := r.Plan(r.ReadPiece(b.PieceID)).Coats[0]
	took, err := r.Bench.Weighed(r.Ctx(), b.PieceID, &c)
	require.NoError(t, err)
	assert.InDelta(t, -r.Have(t, of), float64(took), 1e-6, "the record and the stock agree")
	for _, task := range r.Days().Tasks {
		if task.PieceID == b.PieceID && task.Key == plan.PourKey(plan.FirstCoat) {
			assert.True(t, task.Done, "the coat is poured")
		}
	}
}

// A complaint is answered by the film of its place, what is done stands on the day as a
// step, knows the flame lock, and is kept with what came of it.
func TestAComplaintWithItsOutcome(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{})
	_, _, err := r.Bench.Advice(r.Ctx(), b.ID, false, "too-busy", "middle")
	assert.ErrorContains(t, err, "nothing is on the board", "before the pour")
	b = r.Poured(b)
	r.Clock.T = r.Clock.T.Add(8 * time.Minute)
	a, _, err := r.Bench.Advice(r.Ctx(), b.ID, false, "too-white", "middle")
	require.NoError(t, err)
	require.NotEmpty(t, a.Now)
	assert.Equal(t, "scrape", a.Now[0].ID)
	b, err = r.Bench.Mend(r.Ctx(), b.ID, false, "too-white", "middle", "scrape")
	require.NoError(t, err)
	v := r.Look(b)
	assert.Equal(t, "Scrape it off", msg.Say(v.Current.Name, msg.English))
	assert.Contains(t, v.Current.With, msg.Store(msg.ID("middle")))
	b = r.Press(b, time.Minute)
	_, asks := b.Asks()
	require.True(t, asks)
	b, err = r.Bench.Outcome(r.Ctx(), b.ID, false, session.Better)
	require.NoError(t, err)
	require.Len(t, b.Mendeds(), 1)
	assert.Equal(
		t,
		session.Mended{
			At:        b.Mendeds()[0].At,
			Complaint: "too-white",
			Place:     "middle",
			Work:      "scrape",
			Outcome:   session.Better,
		},
		b.Mendeds()[0],
	)
	b, err = r.Bench.AddMove(r.Ctx(), b.ID, false, technique.Dab, "far")
	require.NoError(t, err)
	b = r.Press(b, time.Minute)
	_, err = r.Bench.Heat(r.Ctx(), b.ID, false, "near", 0)
	assert.ErrorContains(t, err, "no flame", "alcohol is wet")
	_, err = r.Bench.Mend(r.Ctx(), b.ID, false, "muddy", "middle", "swipe")
	assert.Error(t, err, "what makes it worse is not offered")
	for _, place := range []technique.Place{"beside", "far-far"} {
		_, _, err = r.Bench.Advice(r.Ctx(), b.ID, false, "muddy", place)
		assert.ErrorContains(t, err, "off the board")
	}
}

// Heat over a place counts there and hurries it; heat over all of the board moves the
// windows of what follows.
func TestTheHeatAccount(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Poured(r.Begin(map[string]string{}))
	window := func() float64 {
		v := r.Look(b)
		for _, s := range append([]bench.StepView{*v.Current}, v.Next...) {
			if s.Window == cure.Lacing && s.State == bench.WindowOpen && !s.Pours {
				return s.Left
			}
		}
		t.Fatal("no step of the lacing window is open")
		return 0
	}
	r.Clock.T = r.Clock.T.Add(10 * time.Minute)
	closes := window()
	for range 3 {
		var err error
		b, err = r.Bench.Heat(r.Ctx(), b.ID, false, "near", 0)
		require.NoError(t, err)
	}
	v := r.Look(b)
	count := map[technique.Place]bench2{}
	for _, w := range v.Warmths() {
		count[w.Place] = bench2{w.Passes, w.Left}
	}
	assert.Equal(t, count["far"].passes+3, count["near"].passes)
	assert.Less(t, count["near"].left, count["far"].left)
	assert.InDelta(t, closes, window(), 0.01, "one place does not move the step of the whole board")
	b, err := r.Bench.Heat(r.Ctx(), b.ID, false, "", 0)
	require.NoError(t, err)
	r.Clock.T = r.Clock.T.Add(3 * time.Minute)
	assert.Less(t, window(), closes-3, "a pass over all of it ages it")
	_, err = r.Bench.Heat(r.Ctx(), b.ID, false, "near", 1e9)
	assert.Error(t, err)
}

type bench2 struct{ passes, left int }

// What goes otherwise changes what hangs on it: the clock by the film, the tape in the
// plan and so in the days.
func TestWhatGoesOtherwise(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Poured(r.Begin(map[string]string{"edge": "dam", "edge_height": "8"}))
	b, err := r.Bench.Happened(r.Ctx(), b.ID, false, wet.PouredOther, "2.4 mm")
	require.NoError(t, err)
	assert.InDelta(t, 2.4, float64(b.Film), 1e-9)
	planned := func() *plan.Coat { v := r.Plan(r.ReadPiece(b.PieceID)); return v.Coat(plan.FirstCoat) }
	assert.InDelta(t, 2.4, float64(planned().Film), 1e-9, "the plan goes by what lies there")
	b = r.Back(b)
	assert.NotEqual(t, 2.4, float64(b.Film))
	assert.NotEqual(t, 2.4, float64(planned().Film))
	b, err = r.Bench.Happened(r.Ctx(), b.ID, false, wet.HardenerShort, "12 %")
	require.NoError(t, err)
	assert.InDelta(t, 0.12, b.Short(), 1e-9)
	v := r.Plan(r.ReadPiece(b.PieceID))
	assert.True(
		t,
		slices.ContainsFunc(v.Diagnostics(), func(d verdict.Diagnostic) bool { return d.Code == verdict.HardenerWas }),
		"the piece says so",
	)
	b, err = r.Bench.Happened(r.Ctx(), b.ID, false, wet.TapeMissed, "")
	require.NoError(t, err)
	p := r.ReadPiece(b.PieceID)
	assert.Equal(t, school.TapeNext, p.First().Coat.Tape)
	for _, s := range b.Steps {
		if s.Kind == plan.StepTape {
			assert.Equal(t, cure.Hard, s.Window)
		}
	}
	for _, task := range r.Days().Tasks {
		if task.PieceID == b.PieceID && task.Key == plan.TapeKey(plan.FirstCoat) {
			assert.False(t, task.Done, "it is still to come off")
		}
	}
	for what, typed := range map[string]string{
		wet.PouredOther: "thick", wet.HardenerShort: "200 %", wet.FellOver: "nobody", "earthquake": "",
	} {
		_, err := r.Bench.Happened(r.Ctx(), b.ID, false, what, typed)
		assert.Error(t, err, what)
	}
}

// The day after: a coat is to be looked at once it is dry, what is marked is kept place
// by place, and what is proposed becomes a coat of the piece behind it.
func TestTheDayAfter(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{})
	_, err := r.Journal.Judging(r.Ctx(), b.PieceID, plan.FirstCoat)
	require.NoError(t, err)
	require.Error(
		t,
		r.Journal.Mark(r.Ctx(), b.PieceID, plan.FirstCoat, propose.Mark{Place: "far", Sort: propose.Keep}),
		"not poured yet",
	)
	for !b.Finished() {
		b = r.Press(b, 3*time.Minute)
	}
	look := func() []journal.ToJudge {
		out, err := r.Journal.ToJudge(r.Ctx(), r.Days(), words.Coat)
		require.NoError(t, err)
		return out
	}
	assert.Empty(t, look(), "it is wet")
	r.Clock.T = r.Clock.T.Add(20 * time.Hour)
	due := look()
	require.Len(t, due, 1)
	p := r.ReadPiece(b.PieceID)
	cup := p.First().Coat.Colours[1]
	for _, m := range []propose.Mark{
		{Place: "far", Sort: propose.Keep}, {Place: "near", Sort: propose.Lost, Cup: cup.ID},
		{Place: "left", Sort: propose.Keep}, {Place: "left", Sort: propose.Keep},
	} {
		require.NoError(t, r.Journal.Mark(r.Ctx(), b.PieceID, plan.FirstCoat, m))
	}
	assert.Empty(t, look(), "it was looked at")
	j, err := r.Journal.Judging(r.Ctx(), b.PieceID, plan.FirstCoat)
	require.NoError(t, err)
	assert.Equal(t, []string{cup.Name}, j.Result.Lost, "and its result begins with that")
	assert.Len(t, j.Marks, 2, "said twice of one place it is taken back")
	layers := len(p.Layers)
	p, layer, err := r.Journal.Take(r.Ctx(), b.PieceID, plan.FirstCoat, "again")
	require.NoError(t, err)
	v := r.Plan(p)
	next := v.Coat(layer)
	require.NotNil(t, next)
	assert.Greater(t, len(p.Layers), layers-1)
	assert.Equal(t, 1, next.Place, "behind the coat it follows from")
	assert.NotNil(t, next.Cup(cup.ID), "what got lost is in it")
	assert.True(t, next.Start.After(r.Clock.T), "and it has its day")
	j, err = r.Journal.Judging(r.Ctx(), b.PieceID, plan.FirstCoat)
	require.NoError(t, err)
	require.Len(t, j.Taken, 1)
	assert.Equal(t, layer, j.Taken[0].Layer)
	for _, bad := range []propose.Mark{
		{Place: "beside", Sort: propose.Keep}, {Place: "far", Sort: "shout"},
		{Place: "far", Sort: propose.Lost, Cup: "nobody"},
	} {
		assert.Error(t, r.Journal.Mark(r.Ctx(), b.PieceID, plan.FirstCoat, bad))
	}
	_, _, err = r.Journal.Take(r.Ctx(), b.PieceID, plan.FirstCoat, "veil")
	assert.Error(t, err, "nothing was to be quietened")
}

// A cup coloured by eye is weighed clear and coloured, and becomes the recipe, with how
// much its film hides.
func TestACupColouredByEye(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	cup := p.First().Coat.Colours[1]
	r.Edit(p, map[string]string{studiotest.CupKey(cup.ID, "load"): "2 %"})
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	b, err = r.Bench.ByEye(r.Ctx(), b.ID, false, cup.ID, "60 g", "62.4 g")
	require.NoError(t, err)
	now := r.ReadPiece(p.ID)
	assert.InDelta(t, 0.04, now.First().Coat.Colour(cup.ID).TotalLoad(), 1e-9, "2.4 g in 60 g")
	note, ok := b.Newest(session.Note)
	require.True(t, ok)
	assert.Contains(t, note.Text, "60.0 g, 4 %")
	assert.Contains(t, note.Text, "covers")
	for _, bad := range [][2]string{{"60 g", "59 g"}, {"60 g", "99 g"}, {"0", "3 g"}, {"some", "62 g"}} {
		_, err := r.Bench.ByEye(r.Ctx(), b.ID, false, cup.ID, bad[0], bad[1])
		assert.Error(t, err, "%v", bad)
	}
}

// Whatever is pressed in whatever order, alone or by two: steps keep their ids, cups
// never hold less than nothing, the day can be finished, and stock and record agree on
// what was mixed.
func TestDaysOfAnyPressesHold(t *testing.T) {
	testsize.Sequential(t)
	r := studiotest.Open(t)
	runs := testsize.Of(t, "JEVVO_DAYS", 4)
	for seed := range runs {
		rnd := rand.New(rand.NewPCG(uint64(seed), 9))
		typed := map[string]string{"name": fmt.Sprint("Day ", seed)}
		if seed%2 == 1 {
			maps.Copy(typed, twoBatches)
			typed["name"] = fmt.Sprint("Day ", seed)
		}
		if seed%3 == 2 {
			typed[pieces.CoatKey(plan.FirstCoat, "people")] = "2"
		}
		b := r.Begin(typed)
		of := studiotest.ResinOf(r.ReadPiece(b.PieceID).Spec)
		before := r.Have(t, of)
		for range 40 {
			r.Clock.T = r.Clock.T.Add(time.Duration(rnd.IntN(120)) * time.Second)
			b = r.AnyPress(b, rnd)
			ids := map[int]bool{}
			for _, s := range b.Steps {
				assert.False(t, ids[s.ID], "an id is one step's")
				ids[s.ID] = true
			}
			for _, l := range b.Left() {
				assert.GreaterOrEqual(t, float64(l.Left), 0.0)
			}
			for _, i := range b.InHand() {
				_, over := b.Over(i)
				assert.False(t, over, "what is in hand is not over")
			}
		}
		for n := 0; !b.Finished(); n++ {
			require.Less(t, n, 400, "seed %d: the day does not end", seed)
			r.Clock.T = r.Clock.T.Add(30 * time.Minute)
			next, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.StepDone)
			require.NoError(t, err)
			b = next
		}
		c := r.Plan(r.ReadPiece(b.PieceID)).Coats[0]
		mixed, err := r.Bench.Weighed(r.Ctx(), b.PieceID, &c)
		require.NoError(t, err)
		assert.InDelta(t, before-r.Have(t, of), float64(mixed), 1e-6, "seed %d: the stock and the record agree", seed)
	}
}
