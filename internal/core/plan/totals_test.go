package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

// A clear kept ready is mixed beside what is poured: the total grows by it and by what one
// more cup keeps, what is poured does not.
func TestAReserveIsPartOfTheTotal(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 300, 200)
	plain := evaluate(t, ctx, s).Coats[0]
	s.Layers[0].Coat.Reserve = 40
	kept := evaluate(t, ctx, s).Coats[0]
	assert.InDelta(t, 40+float64(ctx.CupLoss), float64(kept.Total-plain.Total), 1e-9)
	assert.InDelta(t, 40+float64(ctx.CupLoss), float64(kept.Amount.Total-plain.Amount.Total), 1e-9)
	assert.Equal(t, plain.Poured, kept.Poured)
}

// What a bare face drinks is poured once, with the first coat: 60 mL a square metre of canvas
// (the support's own figure), nothing with the coats over it, and nothing where it is sealed.
func TestOnlyTheFirstCoatIsDrunk(t *testing.T) {
	ctx := context(t)
	s := sealedTwice(ctx)
	s.Support, s.Own, s.Sealed = surface.Canvas, true, false
	p := evaluate(t, ctx, s)
	require.Len(t, p.Coats, 3)
	assert.InDelta(t, 60*p.Face.SquareMetres(), float64(p.Coats[0].Amount.Absorbed), 1e-9)
	for _, c := range p.Coats[1:] {
		assert.Zero(t, c.Amount.Absorbed, c.ID)
	}
	s.Sealed = true
	assert.Zero(t, evaluate(t, ctx, s).Coats[0].Amount.Absorbed)
}

// The hollows of a texture that is drawn take resin beside the film, and so does what the coat
// says of its own; what stones displace is not poured.
func TestHollowsAreFilled(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 300, 200)
	plain := evaluate(t, ctx, s).Coats[0].Amount
	s.Layers[0].Coat.Things = append(s.Layers[0].Coat.Things, composition.Thing{
		ID: "ridge", Kind: composition.Texture, Volume: 12,
	})
	with := evaluate(t, ctx, s).Coats[0].Amount
	assert.InDelta(t, 12, float64(with.Texture-plain.Texture), 1e-9)
	assert.InDelta(t, 12, float64(with.OnBoard()-plain.OnBoard()), 1e-9)
	s.Layers[0].Coat.Texture, s.Layers[0].Coat.Inclusions = 5, 9
	all := evaluate(t, ctx, s).Coats[0].Amount
	assert.InDelta(t, 12+5, float64(all.Texture-plain.Texture), 1e-9)
	assert.InDelta(t, 12+5-9, float64(all.OnBoard()-plain.OnBoard()), 1e-9)
}

// Before a coat the stock must hold all that is mixed for it, not only what is poured: what the
// cups keep and the reserve too.
func TestTheStockIsComparedWithTheTotal(t *testing.T) {
	s, ctx, timing, facts := ready(t)
	s.Layers[0].Coat.Reserve = 25
	c := evaluate(t, ctx, s).Coats[0]
	require.Greater(t, c.Total, c.Poured)
	for have, short := range map[units.Volume]bool{c.Total: false, c.Total - 0.1: true, (c.Total + c.Poured) / 2: true} {
		facts.Resins = map[int64]units.Volume{c.Product.ID: have}
		got := guardsOf(t, s, ctx, timing, plan.FirstCoat, facts)
		_, told := got[plan.GuardResin]
		assert.Equal(t, short, told, "%g of %g mL", float64(have), float64(c.Total))
	}
}

// The level is read again after every pour: a reading from before the coat below was covered
// says nothing of the board as it lies now.
func TestTheLevelIsReadAgain(t *testing.T) {
	s, ctx, timing, facts := ready(t)
	first := evaluate(t, ctx, s).Coats[0]
	timing.Happened[plan.PourKey(plan.FirstCoat)] = plan.Happened{
		Start: monday, Met: monday.Add(first.Prep), End: monday.Add(2 * time.Hour), Done: true,
	}
	p, err := plan.Evaluate(s, ctx, timing)
	require.NoError(t, err)
	covered := p.Coats[0].Covered
	facts.Now = covered.Add(30 * time.Hour)
	for at, unread := range map[time.Time]bool{
		covered.Add(-time.Minute): true, covered: true, covered.Add(time.Minute): false,
	} {
		facts.Level.At = at
		_, told := guardsOf(t, s, ctx, timing, plan.SecondCoat, facts)[plan.GuardUnread]
		assert.Equal(t, unread, told, "read at %s, covered at %s", at, covered)
	}
}
