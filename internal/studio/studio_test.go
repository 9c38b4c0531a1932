package studio_test

import (
	"context"
	"fmt"
	"math"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

var ctx = context.Background()

// A bench is a studio on its own database with a clock and a scale to turn.
type bench struct {
	*studio.Studio
	scale *device.SimulatedScale
	now   time.Time
}

func open(t *testing.T) *bench {
	t.Helper()
	db, err := store.Open(ctx, filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	b := &bench{scale: device.NewSimulatedScale(1, 0.1), now: time.Date(2026, 3, 2, 7, 0, 0, 0, time.Local)}
	b.scale.Advance(2 * time.Second) // it has come to rest
	b.Studio, err = studio.New(ctx, db, b.scale, func() time.Time { return b.now })
	require.NoError(t, err)
	return b
}

func (b *bench) piece(t *testing.T, values map[string]string) studio.Piece {
	t.Helper()
	p, n, err := b.CreatePiece(ctx, values)
	require.NoError(t, err)
	require.True(t, n.OK(), "%v", n.Errors)
	return p
}

func (b *bench) edit(t *testing.T, id, rev int64, values map[string]string) (studio.Piece, studio.Notices) {
	t.Helper()
	p, n, err := b.EditPiece(ctx, id, rev, values)
	require.NoError(t, err)
	return p, n
}

// The first thing a painter does: an own 18 × 18 in swipe board. 1.70 mm of
// film on it is 12 US fl oz (common practice), and the 2:1 by volume product
// is weighed 2.330:1 (worked example).
func TestEighteenInchSwipe(t *testing.T) {
	b := open(t)
	products, err := b.Products(ctx)
	require.NoError(t, err)
	slow := ""
	for _, p := range products {
		if p.Name == "Hollin Slow 60" {
			slow = p.Values(units.Metric)["ratio"]
			assert.InDelta(t, 2.330, p.ByWeight(), 5e-4)
			p := b.piece(t, map[string]string{"name": "Mine", "size": "18 x 18 in", "film": "1.6977 mm", "edge": "dam", "technique": "swipe", "product": "2"})
			plan, err := b.Plan(ctx, p.ID)
			require.NoError(t, err)
			assert.InDelta(t, 12, plan.Coats[0].Amount.Face.FluidOunces(), 2e-3)
			assert.Len(t, plan.Coats, 3)
		}
	}
	assert.Equal(t, "2:1", slow)
}

// The cups of a coat add up to the coat; the parts to the scale's last digit.
func TestCupsAddUpToTheCoat(t *testing.T) {
	b := open(t)
	for _, technique := range []string{"swipe", "cell", "flow"} {
		plan, err := b.Plan(ctx, b.piece(t, map[string]string{"name": technique, "technique": technique, "size": "60 x 40 cm", "sealed": "no"}).ID)
		require.NoError(t, err)
		for _, c := range plan.Coats {
			v, a, bb := 0.0, 0.0, 0.0
			for _, cup := range c.Cups {
				v, a, bb = v+float64(cup.Volume), a+float64(cup.A.Mass), bb+float64(cup.B.Mass)
			}
			assert.InDelta(t, float64(c.Total), v, 1e-6)
			assert.InDelta(t, float64(c.Lot.A), a, 1e-6)
			assert.InDelta(t, float64(c.Lot.B), bb, 1e-6)
			sum := 0.0
			for _, s := range c.Stages {
				sum += float64(s.Volume)
				assert.LessOrEqual(t, float64(s.Volume), float64(plan.Product.MaxLot))
			}
			assert.GreaterOrEqual(t, sum, float64(c.Total)-1e-6)
		}
		assert.Positive(t, float64(plan.Coats[0].Amount.Absorbed), "an unsealed panel drinks")
	}
}

// Every coat starts in opening hours, in the window its school asks for.
func TestCoatsFollowTheSchool(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "start": "2026-03-02T08:30"})
	for school, phase := range map[string]cure.Phase{"scuff": cure.Hard, "plain": cure.Hard, "tacky": cure.Tacky} {
		_, n, err := b.EditSettings(ctx, map[string]string{"recoat": school, "open_from": "06:00", "open_to": "23:00"})
		require.NoError(t, err)
		require.True(t, n.OK())
		plan, err := b.Plan(ctx, p.ID)
		require.NoError(t, err)
		for i := 1; i < len(plan.Coats); i++ {
			c, before := plan.Coats[i], plan.Coats[i-1].Windows[phase]
			assert.False(t, c.Met.Before(before.From), "%s: coat %d before its window", school, i)
			if !before.To.IsZero() && i == 1 {
				assert.True(t, c.Met.Before(before.To), "%s: coat %d after its window", school, i)
			}
			assert.GreaterOrEqual(t, c.Start.Hour(), 6)
			assert.Less(t, c.Covered.Hour(), 23)
		}
		assert.True(t, plan.Deliver.After(plan.Coats[2].Windows[cure.Hard].From))
	}
}

// A slot is never outside opening hours, also over a change to summer time.
func TestSlotKeepsOpeningHours(t *testing.T) {
	set := studio.DefaultSettings()
	set.DaysOff = ""
	berlin, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	late := time.Date(2026, 3, 28, 19, 30, 0, 0, berlin) // the night clocks go forward
	got := set.Slot(late, time.Hour)
	assert.Equal(t, time.Date(2026, 3, 29, 8, 0, 0, 0, berlin), got)
	assert.Equal(t, 11*time.Hour+30*time.Minute, got.Sub(late), "that night is an hour shorter")
	assert.Equal(t, late, set.Slot(late, 30*time.Minute))
	assert.Equal(t, 8, set.Slot(late, 20*time.Hour).Hour(), "work longer than a day starts at opening")
	_, awake := set.Awake(time.Date(2026, 3, 2, 22, 0, 0, 0, berlin), time.Date(2026, 3, 3, 7, 0, 0, 0, berlin))
	assert.False(t, awake)
}

// Two pages on one piece: each keeps its own change, neither undoes the other.
func TestTwoPagesMerge(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "shared", "size": "40 cm"})
	page := p.Values(units.Metric) // both pages show this
	mine, yours := copyOf(page), copyOf(page)
	mine["film"] = "2 mm"
	yours["size"] = "18 in"
	_, n := b.edit(t, p.ID, p.Rev, mine)
	assert.True(t, n.OK())
	got, n := b.edit(t, p.ID, p.Rev, yours)
	assert.True(t, n.OK())
	assert.InDelta(t, 2, float64(got.Film), 1e-9, "the other page's film stays")
	assert.InDelta(t, 457.2, float64(got.Width), 1e-9)
	yours["film"] = "1 mm"
	got, n = b.edit(t, p.ID, p.Rev, yours)
	assert.InDelta(t, 1, float64(got.Film), 1e-9, "the later value wins")
	assert.Contains(t, n.Notes["film"], "2 mm", "and says what it was")
}

func copyOf(m map[string]string) map[string]string {
	out := map[string]string{}
	for k, v := range m {
		out[k] = v
	}
	return out
}

func TestRefusedValuesLoseNothing(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "size": "40 cm", "film": "1.5 mm"})
	for key, bad := range map[string]string{
		"film": "a lot", "size": "0 x 0", "depth": "-3 mm", "room": "200 C", "start": "soon", "count": "1.5", "technique": "magic", "colour.c1.share": "-1",
		"colour.c1.swatch": "red", "edge": "wall", "texture": "12 oz wt", "points": "1,1 2", "product": "0", "more": "3 x 5 bananas",
	} {
		values := p.Values(units.Metric)
		values[key] = bad
		values["brief"] = "kept with " + key
		got, n := b.edit(t, p.ID, p.Rev, values)
		assert.NotEmpty(t, n.Errors[key], key)
		assert.Equal(t, "kept with "+key, got.Brief, "the good values are kept")
		assert.Equal(t, p.Film, got.Film)
		p = got
	}
}

// Showing a value rounded and posting it back unchanged must not move it.
func TestPostingBackChangesNothing(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "size": "18 x 24 in"})
	for range 3 {
		got, n := b.edit(t, p.ID, p.Rev, p.Values(units.Metric))
		assert.True(t, n.OK())
		assert.Equal(t, p.Rev, got.Rev, "nothing was revised")
		assert.InDelta(t, 457.2, float64(got.Width), 1e-12)
	}
}

func TestUndoRedoAndColours(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x"})
	more, err := b.AddColour(ctx, p.ID)
	require.NoError(t, err)
	assert.Len(t, more.Colours, len(p.Colours)+1)
	back, err := b.Undo(ctx, p.ID)
	require.NoError(t, err)
	assert.Equal(t, p.Colours, back.Colours)
	assert.True(t, back.CanRedo)
	again, err := b.Redo(ctx, p.ID)
	require.NoError(t, err)
	assert.Equal(t, more.Colours, again.Colours)
	for range 40 {
		if _, err = b.AddColour(ctx, p.ID); err != nil {
			break
		}
	}
	assert.ErrorIs(t, err, studio.ErrTooManyColours)
	now, err := b.Piece(ctx, p.ID)
	require.NoError(t, err)
	for _, c := range now.Colours[1:] {
		now, err = b.RemoveColour(ctx, p.ID, c.ID)
		require.NoError(t, err)
	}
	require.Len(t, now.Colours, 1)
	_, err = b.RemoveColour(ctx, p.ID, now.Colours[0].ID)
	assert.ErrorContains(t, err, "at least one colour")
}

// What a coat took corrects the next estimate of its technique, and only that.
func TestLearnedUse(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "technique": "swipe"})
	plan, err := b.Plan(ctx, p.ID)
	require.NoError(t, err)
	first := plan.Coats[0]
	used := first.Amount.Poured()*1.2 + first.Amount.CupLoss
	_, err = b.RecordUse(ctx, plan, "first", units.Fixed(float64(used), 6)+" mL")
	require.NoError(t, err)
	after, err := b.Plan(ctx, p.ID)
	require.NoError(t, err)
	assert.InEpsilon(t, 1.2, after.Coats[0].Learned.Ratio(), 1e-6)
	assert.Equal(t, 1, after.Coats[0].Learned.Pours)
	assert.InEpsilon(t, float64(used), float64(after.Coats[0].Total), 1e-6, "the next estimate is what it took")
	assert.Equal(t, plan.Coats[1].Total, after.Coats[1].Total, "the clear coat has learnt nothing")
	_, err = b.RecordUse(ctx, after, "first", "90 L")
	assert.ErrorContains(t, err, "check the unit")
	_, err = b.RecordUse(ctx, after, "first", "1 mL")
	assert.Error(t, err)
	b.now = b.now.Add(time.Hour)
	require.NoError(t, b.ResetLearning(ctx, "swipe"))
	reset, err := b.Plan(ctx, p.ID)
	require.NoError(t, err)
	assert.Equal(t, plan.Coats[0].Total, reset.Coats[0].Total)
	assert.ErrorIs(t, b.ResetLearning(ctx, "nonsense"), store.ErrNotFound)
}

// weigh pours part by part as told, overshooting the first B by the share.
func weigh(t *testing.T, b *bench, w studio.Weighing, over float64) studio.Weighing {
	t.Helper()
	for range 60 {
		var err error
		switch w.Stage {
		case studio.WeighDone:
			return w
		case studio.WeighTare:
			w, err = b.TareWeighing(ctx, w.ID, w.Rev)
		default:
			d := w.Look(w.Base, true)
			amount := d.Target
			if over > 0 && strings.Contains(d.What, "part B") {
				amount, over = amount*units.Mass(1+over), 0
			}
			w, err = b.ConfirmTyped(ctx, w.ID, w.Rev, units.Fixed(float64(amount), 6)+" g")
		}
		require.NoError(t, err)
	}
	t.Fatal("the weigh-out never ended")
	return w
}

func TestWeighOutCorrectsAnOvershoot(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "product": "2"})
	w, err := b.StartWeighing(ctx, p.ID, "first")
	require.NoError(t, err)
	w = weigh(t, b, w, 0.10)
	assert.True(t, w.Done)
	for _, c := range w.Report() {
		assert.True(t, c.Finished)
		assert.LessOrEqual(t, math.Abs(w.Product.OffRatio(c.A, c.B)), w.Product.Tolerance+1e-9, c.Name)
		assert.Positive(t, float64(c.Pigment))
	}
	assert.Len(t, w.Cups[0].Pours, 4, "A, B, a correction of A, pigment")
	assert.InEpsilon(t, 1.10, float64(w.Cups[0].A/w.Cups[0].PlanA), 1e-2, "ten per cent too much B asks for ten per cent more A")
	list, err := b.Weighings(ctx, p.ID)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, w.Cups, list[0].Cups, "it is recorded on the piece")
}

// Two screens press at once: the step is done once.
func TestWeighOutIsNeverDoubled(t *testing.T) {
	b := open(t)
	w, err := b.StartWeighing(ctx, b.piece(t, map[string]string{"name": "x"}).ID, "first")
	require.NoError(t, err)
	w, err = b.TareWeighing(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	changes, stop := b.WatchWeighing(w.ID)
	defer stop()
	one, err := b.ConfirmTyped(ctx, w.ID, w.Rev, "50")
	require.NoError(t, err)
	<-changes // every other screen hears of it
	two, err := b.ConfirmTyped(ctx, w.ID, w.Rev, "50")
	assert.ErrorIs(t, err, studio.ErrStale)
	assert.Equal(t, one, two, "the late screen gets the newer state")
	assert.Len(t, two.Cups[0].Pours, 1)
	b.scale.Place(50)
	b.scale.Advance(4 * time.Second)
	before := b.scale.Read().Grams
	_, err = b.TareWeighing(ctx, w.ID, w.Rev-1)
	assert.ErrorIs(t, err, studio.ErrStale)
	_, err = b.TareWeighing(ctx, two.ID, two.Rev)
	assert.ErrorContains(t, err, "tared already")
	assert.Equal(t, before, b.scale.Read().Grams, "a late tare never zeroes the scale under a filling cup")
	back, err := b.UndoWeighing(ctx, two.ID, two.Rev)
	require.NoError(t, err)
	assert.Empty(t, back.Cups[0].Pours)
	assert.Zero(t, float64(back.Cups[0].A))
	for _, flicker := range []string{"0", "0.1"} {
		_, err = b.ConfirmTyped(ctx, back.ID, back.Rev, flicker)
		assert.ErrorContains(t, err, "nothing has been poured", flicker)
	}
	_, err = b.ConfirmTyped(ctx, back.ID, back.Rev, "a spoonful")
	assert.Error(t, err)
}

// Taking back goes on from the record, across the border of a cup too.
func TestTakeBackAcrossCups(t *testing.T) {
	b := open(t)
	w, err := b.StartWeighing(ctx, b.piece(t, map[string]string{"name": "x"}).ID, "first")
	require.NoError(t, err)
	for w.Cup == 0 {
		if w.Stage == studio.WeighTare {
			w, err = b.TareWeighing(ctx, w.ID, w.Rev)
		} else {
			w, err = b.ConfirmTyped(ctx, w.ID, w.Rev, units.Fixed(float64(w.Look(w.Base, true).Target), 6))
		}
		require.NoError(t, err)
	}
	w, err = b.UndoWeighing(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	assert.Equal(t, 0, w.Cup)
	assert.Equal(t, studio.WeighPigment, w.Stage)
	assert.False(t, w.Cups[0].Finished)
	assert.InDelta(t, float64(w.Cups[0].A+w.Cups[0].B), float64(w.Base), 1e-9, "the pigment goes on top of what the record says is in the cup")
	w, err = b.UndoWeighing(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	assert.Equal(t, studio.WeighPour, w.Stage)
	assert.InDelta(t, float64(w.Cups[0].A), float64(w.Base), 1e-9)
}

// Two open settings pages: the later one is told before it overwrites.
func TestSettingsFromAStalePage(t *testing.T) {
	b := open(t)
	set, err := b.Settings(ctx)
	require.NoError(t, err)
	rev := fmt.Sprint(set.Rev)
	_, n, err := b.EditSettings(ctx, map[string]string{"rev": rev, "cup_loss": "4 mL"})
	require.NoError(t, err)
	require.True(t, n.OK())
	_, n, err = b.EditSettings(ctx, map[string]string{"rev": rev, "cup_loss": "3 mL", "room": "23 C"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["units"], "another page")
	set, err = b.Settings(ctx)
	require.NoError(t, err)
	assert.InDelta(t, 4, float64(set.CupLoss), 1e-9)
}

// Without tape there is no tape to pull at night.
func TestOnlyTapeIsPulled(t *testing.T) {
	b := open(t)
	late := map[string]string{"name": "x", "start": "2026-03-02T17:00", "edge": "open"}
	plan, err := b.Plan(ctx, b.piece(t, late).ID)
	require.NoError(t, err)
	assert.NotContains(t, fmt.Sprint(plan.Of(studio.PartDays)), "tape")
	late["edge"] = "dam"
	plan, err = b.Plan(ctx, b.piece(t, late).ID)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(plan.Of(studio.PartDays)), "tape is ready at night")
	assert.Zero(t, plan.Coats[0].Side, "behind a dam nothing runs over the sides")
}

// A scale that has not come to rest is neither tared nor believed.
func TestAMovingScaleIsNotBelieved(t *testing.T) {
	b := open(t)
	w, err := b.StartWeighing(ctx, b.piece(t, map[string]string{"name": "x"}).ID, "first")
	require.NoError(t, err)
	b.scale.Place(9)
	b.scale.Advance(200 * time.Millisecond)
	same, err := b.TareWeighing(ctx, w.ID, w.Rev)
	assert.ErrorIs(t, err, studio.ErrMoving)
	assert.Equal(t, w, same, "nothing was done")
	b.scale.Advance(4 * time.Second)
	w, err = b.TareWeighing(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	b.scale.Lever(1)
	b.scale.Advance(2 * time.Second)
	_, err = b.ConfirmScale(ctx, w.ID, w.Rev)
	assert.ErrorIs(t, err, studio.ErrMoving)
	b.scale.Lever(0)
	b.scale.Advance(4 * time.Second)
	w, err = b.ConfirmScale(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	assert.InDelta(t, float64(b.scale.Read().Grams), float64(w.Cups[0].A), 0.3, "what lies in the cup is what is kept")
}

func TestDialSaysWhatToDo(t *testing.T) {
	b := open(t)
	w, err := b.StartWeighing(ctx, b.piece(t, map[string]string{"name": "x", "product": "2"}).ID, "top")
	require.NoError(t, err)
	assert.Contains(t, w.Look(0, true).Verdict, "tare")
	w, err = b.TareWeighing(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	target := w.Look(0, true).Target
	assert.Equal(t, "Pour", w.Look(target/2, true).Verdict)
	assert.Contains(t, w.Look(target*0.95, true).Verdict, "Almost")
	assert.Contains(t, w.Look(target, true).Verdict, "Stop")
	w, err = b.ConfirmTyped(ctx, w.ID, w.Rev, units.Fixed(float64(target), 3))
	require.NoError(t, err)
	over := w.Look(w.Base+w.Look(w.Base, true).Target*1.2, true)
	assert.False(t, over.Within)
	assert.InDelta(t, 0.2, over.OffRatio, 1e-3)
	assert.Contains(t, over.Advice, "of part A", "the correction is reckoned at once")
}

func TestLevelling(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "size": "60 x 40 cm", "film": "1.6 mm"})
	l, err := b.Level(ctx, p.ID)
	require.NoError(t, err)
	assert.False(t, l.Known())
	n, err := b.ReadLevel(ctx, p.ID, map[string]string{"along": "0.2", "across": "flat"})
	require.NoError(t, err)
	assert.NotEmpty(t, n.Errors["across"])
	n, err = b.ReadLevel(ctx, p.ID, map[string]string{"along": "0.2°", "across": "0"})
	require.NoError(t, err)
	assert.True(t, n.OK())
	l, err = b.Level(ctx, p.ID)
	require.NoError(t, err)
	assert.False(t, l.Enough)
	assert.InDelta(t, 2.094, float64(l.Lie.DropAlong), 1e-3)
	b.now = b.now.Add(time.Minute)
	_, err = b.ReadLevel(ctx, p.ID, map[string]string{"along": "0.01°", "across": "0.02°"})
	require.NoError(t, err)
	l, err = b.Level(ctx, p.ID)
	require.NoError(t, err)
	assert.True(t, l.Enough, "repeat until within what the film allows")
}

func TestProductsOnTheShelf(t *testing.T) {
	b := open(t)
	shelf, err := b.Products(ctx)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(shelf), 6)
	p, n, err := b.SaveProduct(ctx, 0, 0, map[string]string{"name": "Own", "ratio": "100:45", "by": "weight", "working": "1 h", "hard": "20 h", "kit": "64 fl oz", "density_b": "0.98 g/mL"})
	require.NoError(t, err)
	require.True(t, n.OK(), "%v", n.Errors)
	assert.InDelta(t, 0.45, p.WeightRatio(), 1e-12)
	assert.InDelta(t, 1892.7, float64(p.Kit), 0.1)
	for key, bad := range map[string]string{"ratio": "1:0", "hard": "30 min", "density_a": "9 kg/m3", "viscosity": "0", "name": "", "price": "cheap"} {
		values := map[string]string{"name": "Other", "working": "45 min"}
		values[key] = bad
		_, n, err := b.SaveProduct(ctx, 0, 0, values)
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], key)
	}
	_, n, err = b.SaveProduct(ctx, 0, 0, map[string]string{"name": "own"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["name"], "something else")
	_, n, err = b.SaveProduct(ctx, p.ID, 99, map[string]string{"name": "Own"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["name"], "changed on another page")
	require.NoError(t, b.RetireProduct(ctx, p.ID, true))
	got, err := b.Product(ctx, p.ID)
	require.NoError(t, err)
	assert.True(t, got.Retired)
}

// Judgements name what stands in the way.
func TestJudgements(t *testing.T) {
	b := open(t)
	judge := func(values map[string]string) string {
		plan, err := b.Plan(ctx, b.piece(t, values).ID)
		require.NoError(t, err)
		var all strings.Builder
		for _, j := range plan.Judgements {
			all.WriteString(string(j.Weight) + ": " + j.Text + " " + j.Advice + "\n")
		}
		return all.String()
	}
	assert.Contains(t, judge(map[string]string{"name": "a", "film": "3 mm", "edge": "open"}), "will not stand")
	assert.Contains(t, judge(map[string]string{"name": "b", "film": "4 mm", "edge": "dam", "edge_height": "3 mm"}), "higher than the dam")
	assert.Contains(t, judge(map[string]string{"name": "c", "size": "1.5 m", "technique": "swipe"}), "does not fit")
	assert.Contains(t, judge(map[string]string{"name": "d", "sealed": "no"}), "drinks")
	assert.Contains(t, judge(map[string]string{"name": "e", "edge": "open"}), "see-through")
	assert.Contains(t, judge(map[string]string{"name": "f", "sides": "taped", "start": "2026-03-02T18:00"}), "ready at night")
	assert.Contains(t, judge(map[string]string{"name": "g", "size": "8 cm"}), "First pour fits")
}

// A share of 0 leaves a cup out; no shares at all is refused in words.
func TestSharesOfNothing(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x"})
	p, n := b.edit(t, p.ID, p.Rev, map[string]string{"colour.c2.share": "0"})
	require.True(t, n.OK())
	plan, err := b.PlanPiece(ctx, p)
	require.NoError(t, err)
	assert.Len(t, plan.Coats[0].Cups, 3)
	p, n = b.edit(t, p.ID, p.Rev, map[string]string{"colour.c1.share": "0", "colour.c3.share": "0", "colour.c4.share": "0 %"})
	require.True(t, n.OK())
	_, err = b.PlanPiece(ctx, p)
	assert.ErrorContains(t, err, "shares add up to nothing")
}

func TestMouldsAndSets(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "coaster", "support": "mould", "outline": "round", "size": "10 cm", "mould_depth": "8 mm", "count": "4"})
	plan, err := b.Plan(ctx, p.ID)
	require.NoError(t, err)
	assert.InEpsilon(t, 4*math.Pi*50*50*8/1000, float64(plan.Coats[0].Amount.Face), 1e-6, "cavity = outline × depth")
	p, n := b.edit(t, p.ID, p.Rev, map[string]string{"mould_water": "60 g"})
	require.True(t, n.OK())
	plan, err = b.PlanPiece(ctx, p)
	require.NoError(t, err)
	assert.InEpsilon(t, 4*60/0.9982, float64(plan.Coats[0].Amount.Face), 1e-6, "or by the water it holds")
	set := b.piece(t, map[string]string{"name": "set", "size": "30 x 60 cm", "count": "2", "more": "1 of 60 x 60 cm; 20 x 20 cm"})
	plan, err = b.Plan(ctx, set.ID)
	require.NoError(t, err)
	assert.Len(t, plan.Boards, 4)
	assert.InDelta(t, 2*0.18+0.36+0.04, plan.Face.SquareMetres(), 1e-9)
}

func TestUploadedOutline(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x"})
	drawing := `<svg xmlns="http://www.w3.org/2000/svg" width="300mm" viewBox="0 0 300 300"><circle cx="150" cy="150" r="100"/></svg>`
	p, sized, err := b.UploadOutline(ctx, p.ID, strings.NewReader(drawing))
	require.NoError(t, err)
	assert.True(t, sized)
	s, err := p.Shape()
	require.NoError(t, err)
	assert.InEpsilon(t, math.Pi*1e4, float64(s.Area()), 1e-4)
	p, n := b.edit(t, p.ID, p.Rev, map[string]string{"size": "40 cm"})
	require.True(t, n.OK())
	s, err = p.Shape()
	require.NoError(t, err)
	assert.InEpsilon(t, math.Pi*4e4, float64(s.Area()), 1e-4, "a typed width scales the drawing")
	_, _, err = b.UploadOutline(ctx, p.ID, strings.NewReader(`<svg><script/></svg>`))
	var refused *studio.RefusedError
	assert.ErrorAs(t, err, &refused)
}

// The run sheet names every note of safety once, before it is needed, and
// mixes at the minute the clock starts.
func TestRunSheet(t *testing.T) {
	b := open(t)
	plan, err := b.Plan(ctx, b.piece(t, map[string]string{"name": "x", "edge": "dam"}).ID)
	require.NoError(t, err)
	for _, c := range plan.Sheet() {
		last := time.Time{}
		said := map[string]int{}
		for _, l := range c.Lines {
			assert.False(t, l.At.Before(last) && !l.Wait, "%s is out of order", l.Name)
			last = l.At
			for _, s := range l.Safety {
				said[s.Key]++
			}
			if l.Mixes {
				assert.Equal(t, c.Met, l.At)
			}
		}
		assert.Equal(t, 1, said["gloves"], "%s", c.Name)
		assert.Equal(t, 1, said["flame"], "%s", c.Name)
	}
}

func TestSettingsAreChecked(t *testing.T) {
	b := open(t)
	for key, bad := range map[string]string{"open_to": "07:00", "open_from": "dawn", "room": "90 C", "units": "cubits", "scale_step": "0"} {
		_, n, err := b.EditSettings(ctx, map[string]string{key: bad})
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors, key)
	}
	set, n, err := b.EditSettings(ctx, map[string]string{"units": "us", "room": "70F"})
	require.NoError(t, err)
	assert.True(t, n.OK())
	assert.Equal(t, units.US, set.Units)
	assert.InDelta(t, 21.1, float64(set.Room), 0.05)
}

func TestEverySupportAndOutlinePlans(t *testing.T) {
	b := open(t)
	for _, support := range []surface.Support{surface.Canvas, surface.Panel, surface.Cradled, surface.Tile, surface.Tray, surface.TableTop, surface.MouldSlab} {
		for _, outline := range []string{"rectangle", "round", "oval", "regular"} {
			p := b.piece(t, map[string]string{"name": "x", "support": string(support), "outline": outline, "size": "30 x 20 cm"})
			plan, err := b.Plan(ctx, p.ID)
			require.NoError(t, err)
			assert.Positive(t, float64(plan.AllCoats()))
			assert.NotEmpty(t, plan.Sketches[0])
		}
	}
}

func BenchmarkReplan(b *testing.B) {
	set := studio.DefaultSettings()
	spec := studio.NewSpec(set, 1, time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC))
	product := studio.NewProduct()
	piece := studio.Piece{Spec: spec}
	for b.Loop() {
		if _, err := studio.Reckon(piece, set, studio.Stock{Book: technique.Library, Product: product}); err != nil {
			b.Fatal(err)
		}
	}
}
