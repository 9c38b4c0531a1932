package studio_test

import (
	"fmt"
	"strconv"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/device/simulated"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studiotest"
)

// Two tabs that change different coats of one piece both keep their change.
func TestTwoTabsOnDifferentCoats(t *testing.T) {
	r := studiotest.Open(t)
	shown := r.Piece(map[string]string{})
	r.Edit(shown, map[string]string{pieces.CoatKey(plan.FirstCoat, "amount"): "2 mm"})
	both := r.Edit(shown, map[string]string{pieces.CoatKey(plan.SecondCoat, "amount"): "1 mm",
		pieces.CoatKey(plan.FirstCoat, "amount"): string(shown.First().Coat.Amount.Film.Text("metric"))})
	assert.InDelta(t, 2, float64(both.Coat(plan.FirstCoat).Amount.Film), 1e-9)
	assert.InDelta(t, 1, float64(both.Coat(plan.SecondCoat).Amount.Film), 1e-9)
}

// A second coat starts with what its technique needs and nothing else.
func TestASecondCoatHasItsOwnCups(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	p = r.Edit(p, map[string]string{pieces.CoatKey(plan.SecondCoat, "technique"): "lines"})
	v := r.Plan(p)
	second := v.Coat(plan.SecondCoat)
	assert.Equal(t, technique.Clear, second.Colours[0].Role, "lines start from clear")
	for _, c := range second.Colours {
		for _, under := range v.Coats[0].Colours {
			assert.NotEqual(t, under.Name, c.Name, "and refill none of the first coat's cups")
		}
	}
	needs := map[string]bool{}
	for _, m := range second.Materials {
		needs[m.ID] = true
	}
	assert.True(t, needs["glitter"] && needs["flakes"], "and ask for flakes and glitter: %v", needs)
	p = r.Edit(p, map[string]string{pieces.UseKey(plan.SecondCoat, "glitter"): "28 g"})
	for _, m := range r.Plan(p).Coat(plan.SecondCoat).Materials {
		if m.ID == "glitter" {
			assert.InDelta(t, 28, m.Amount, 1e-9)
			assert.True(t, m.Typed)
		}
	}
}

// What was typed stays fixed and everything else follows.
func TestAmountsAsPaintersSayThem(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "18 x 18 in"})
	amount := pieces.CoatKey(plan.FirstCoat, "amount")
	v := r.Plan(r.Edit(p, map[string]string{amount: "12 fl oz"}))
	assert.InDelta(t, 12*29.5735, v.Coats[0].Total.Millilitres(), 0.5, "12 US fl oz are 354.9 mL (NIST SP 811)")
	v = r.Plan(r.Edit(v.Piece, map[string]string{amount: "400 g"}))
	grams := v.Coats[0].Batch.A.Mass.Grams() + v.Coats[0].Batch.B.Mass.Grams()
	assert.InDelta(t, 400, grams, 40, "400 g of mixed resin are poured; what stays in the cups comes on top")
	v = r.Plan(r.Edit(v.Piece, map[string]string{studiotest.CupKey("c2", "share"): "50 mL"}))
	assert.InDelta(t, 50, float64(v.Coats[0].Cup("c2").Share)*v.Coats[0].Poured.Millilitres(), 0.5)
}

// A volume typed for a stripe stays when the coat grows; its width follows.
func TestATypedVolumeOfAStripeStays(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	p, err := r.Pieces.StartComposition(r.Ctx(), p.ID, plan.FirstCoat, "lanes")
	require.NoError(t, err)
	stripe := ""
	for _, th := range p.First().Coat.Things {
		if th.Kind == composition.Stripe {
			stripe = th.ID
		}
	}
	require.NotEmpty(t, stripe)
	p, n, err := r.Pieces.EditThing(r.Ctx(), p.ID, plan.FirstCoat, stripe, map[string]string{"volume": "40 mL"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	look := func(p pieces.Piece) plan.ThingView {
		v := r.Plan(p)
		for _, th := range v.Plan.Composition(v.Coat(plan.FirstCoat)).Things {
			if th.ID == stripe {
				return th
			}
		}
		t.Fatal("the stripe is gone")
		return plan.ThingView{}
	}
	before := look(p)
	assert.InDelta(t, 40, before.Amount.Millilitres(), 0.5)
	after := look(r.Edit(p, map[string]string{pieces.CoatKey(plan.FirstCoat, "amount"): "3 mm"}))
	assert.InDelta(t, 40, after.Amount.Millilitres(), 0.5, "the volume was typed")
	assert.Less(t, float64(after.Width), float64(before.Width), "so a thicker film makes it narrower")
}

// A cup the painter named keeps its name and swatch when its pigment changes; a
// clear cup carries none.
func TestAPigmentLeavesWhatThePainterSaid(t *testing.T) {
	r := studiotest.Open(t)
	book, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	pigment := map[string]string{studiotest.CupKey("c2", "pigment"): studiotest.Form1(book.Paints[0].ID)}
	p := r.Piece(map[string]string{studiotest.CupKey("c2", "name"): "Tideline",
		studiotest.CupKey("c2", "swatch"): "#123456"})
	p = r.Edit(p, pigment)
	c := p.First().Coat.Colour("c2")
	assert.Equal(t, "Tideline", c.Name)
	assert.Equal(t, "#123456", c.Swatch)
	p = r.Edit(p, map[string]string{studiotest.CupKey("c2", "role"): "clear"})
	cup := r.Plan(p).Coats[0].Cup("c2")
	assert.Zero(t, float64(cup.Pigment), "a clear cup is clear")
	assert.Empty(t, cup.Doses())
}

// A cup whose share is nothing is not missed on the board.
func TestACupOfNothingIsNotMissed(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{studiotest.CupKey("c2", "share"): "0"})
	for _, d := range r.Plan(p).Diagnostics() {
		assert.NotEqual(t, verdict.NotOnBoard, d.Code)
	}
}

// Taking the last cup away is refused in words.
func TestTheLastCupStays(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	var err error
	for _, c := range p.First().Coat.Colours {
		_, err = r.Pieces.RemoveColour(r.Ctx(), p.ID, plan.FirstCoat, c.ID)
	}
	var refused *form.Refused
	require.ErrorAs(t, err, &refused)
}

// Boards from a tile begin now, at the size and count of the commission.
func TestBoardsFromATile(t *testing.T) {
	r := studiotest.Open(t)
	c, n, err := r.Commissions.Save(r.Ctx(), 0, 0,
		map[string]string{"name": "Harbour", "size": "60 x 90 cm", "count": "2", "due": "2026-05-01"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	tile, err := r.Commissions.AddTile(r.Ctx(), c.ID, "", "swipe")
	require.NoError(t, err)
	require.NoError(t, r.Commissions.ChooseTile(r.Ctx(), c.ID, tile.ID, "calm"))
	r.Clock.T = studiotest.Monday.AddDate(0, 0, 20)
	boards, n, err := r.Commissions.BoardsFromTile(r.Ctx(), c.ID, map[string]string{"size": "60 x 90 cm", "count": "2"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	assert.False(t, boards.Start.Before(r.Clock.T), "not the tile's day")
	assert.Equal(t, surface.Panel, boards.Support, "a tile stands as a tile, what it stands for as a board")
	bare, err := r.Commissions.AddBoard(r.Ctx(), c.ID)
	require.NoError(t, err)
	for _, p := range []pieces.Piece{boards, bare} {
		assert.Equal(t, 2, p.Count)
		assert.Equal(t, [2]units.Length{600, 900}, [2]units.Length{p.Width, p.Height})
	}
}

// A real studio begins without instruments; nothing is stored as a sensor's.
func TestServeHasNoStandIns(t *testing.T) {
	r := studiotest.Open(t)
	now, err := r.Bench.LookAtRoom(r.Ctx())
	require.NoError(t, err)
	assert.Empty(t, now.Source)
	assert.False(t, now.Sensor)
	log, err := r.DB.RoomSince(r.Ctx(), studiotest.Monday.Add(-time.Hour))
	require.NoError(t, err)
	assert.Empty(t, log)
	assert.Nil(t, r.Bench.Devices().Scale())
}

// A typed temperature wins at once, before any sensor, and survives restarts.
func TestATypedRoomWins(t *testing.T) {
	r := studiotest.Open(t)
	r.Bench.Devices().ConnectRoom(simulated.NewRoom(21, r.Clock.Now), true)
	_, err := r.Bench.LookAtRoom(r.Ctx())
	require.NoError(t, err)
	_, err = r.Bench.TypeRoom(r.Ctx(), "27 C", "")
	require.NoError(t, err)
	r.Clock.T = r.Clock.T.Add(time.Minute)
	now, err := r.Bench.LookAtRoom(r.Ctx())
	require.NoError(t, err)
	assert.InDelta(t, 27, float64(now.Temperature), 1e-9)
	r.Restart()
	now, err = r.Bench.RoomNow(r.Ctx())
	require.NoError(t, err)
	assert.InDelta(t, 27, float64(now.Temperature), 1e-9)
	assert.Equal(t, "typed", now.Source)
}

// The clock starts at the step that mixes, whatever it is called.
func TestARenamedMixStepStartsTheClock(t *testing.T) {
	r := studiotest.Open(t)
	own, err := r.Materials.CopyTechnique(r.Ctx(), "swipe", msg.English)
	require.NoError(t, err)
	tech, rev, err := r.Materials.Technique(r.Ctx(), own)
	require.NoError(t, err)
	mixes := -1
	for i, s := range tech.Steps {
		if s.Mixes {
			mixes = i
		}
	}
	require.GreaterOrEqual(t, mixes, 0)
	_, n, err := r.Materials.SaveTechnique(r.Ctx(), own, rev,
		map[string]string{"step." + studiotest.Form1(int64(mixes)) + ".name": "Stir it together"}, msg.English)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	p := r.Piece(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): own})
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	for b.Cursor() < len(b.Steps) && len(b.BatchesMixed()) == 0 {
		b, err = r.Bench.Log().Press(r.Ctx(), b.ID, b.Rev, false, session.StepDone)
		require.NoError(t, err)
	}
	assert.Len(t, b.BatchesMixed(), 1)
	assert.Less(t, b.Cursor(), len(b.Steps))
}

// Same-named pieces each keep their own repairs.
func TestRepairsBelongToTheirPiece(t *testing.T) {
	r := studiotest.Open(t)
	taped := map[string]string{"name": "Twin", "sides": "taped"}
	one, two := r.Piece(taped), r.Piece(map[string]string{"name": "Twin", "sides": "taped"})
	for _, p := range []pieces.Piece{one, two} {
		require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, plan.PourKey(plan.FirstCoat), studiotest.Monday.Add(-60*time.Hour)))
	}
	missed := func() map[int64]bool {
		a, err := r.Agenda.Current(r.Ctx())
		require.NoError(t, err)
		out := map[int64]bool{}
		for _, n := range a.Notes {
			if n.Code == agenda.TapeMissed {
				out[n.Piece] = true
			}
		}
		return out
	}
	require.Equal(t, map[int64]bool{one.ID: true, two.ID: true}, missed())
	require.NoError(t, r.Agenda.Mark(r.Ctx(), one.ID, plan.TapeKey(plan.FirstCoat), studiotest.Monday))
	assert.Equal(t, map[int64]bool{two.ID: true}, missed(), "mending the one says nothing of the other")
}

// A piece done with coats unmade says so.
func TestDoneWithCoatsUnmade(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Edit(r.Piece(map[string]string{}), map[string]string{"state": "done"})
	d, ok := r.Plan(p).Diagnostics().Gravest()
	require.True(t, ok)
	assert.Equal(t, verdict.DoneUnmade, d.Code)
}

// GETs write nothing: every version stands where it stood.
func TestReadingWritesNothing(t *testing.T) {
	r := studiotest.Open(t)
	r.Piece(map[string]string{})
	before, err := r.DB.Versions(r.Ctx())
	require.NoError(t, err)
	_, err = r.Today.Today(r.Ctx())
	require.NoError(t, err)
	_, err = r.Mail.FeedSecret(r.Ctx())
	require.NoError(t, err)
	a, err := r.Agenda.Current(r.Ctx())
	require.NoError(t, err)
	_, _, err = r.Agenda.Since(r.Ctx(), a)
	require.NoError(t, err)
	_, err = r.Agenda.WaysOut(r.Ctx())
	require.NoError(t, err)
	after, err := r.DB.Versions(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, before, after)
}

// Of many pages that keep settings at once on one revision, one is kept and the
// others are told.
func TestSettingsSavedAtOnce(t *testing.T) {
	r := studiotest.Open(t)
	set, err := r.Setup.Settings(r.Ctx())
	require.NoError(t, err)
	rev := strconv.FormatInt(set.Rev, 10)
	var kept atomic.Int32
	var all sync.WaitGroup
	for k := range 12 {
		all.Go(func() {
			_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"rev": rev, "room": fmt.Sprintf("%d C", 18+k%6)})
			if err == nil && n.OK() {
				kept.Add(1)
			}
		})
	}
	all.Wait()
	assert.Equal(t, int32(1), kept.Load())
}
