package weighing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/stock"
)

// onScale is a white cup of 50 g of part A: 1:1 by volume of 1130 and 1000 kg/m³ is 0.885 g of B
// for each g of A.
func onScale(change func(*Weighing), readings ...units.Mass) Weighing {
	mixed := resin.Product{RatioA: 1, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 1000, Tolerance: 0.02}
	w := Weighing{Product: material.Product{}, Step: 0.1, Stage: Tare, Resin: 7, Cups: []Cup{{Name: "White",
		PlanA: 50, PlanB: 44.2, Load: 0.05, Dyes: []Dye{{ID: 4, Name: msg.Store(msg.Own("White")), Load: 0.05, Limit: 0.06,
			Bottle: material.Bottle{Drop: 0.05, Liquid: 1200}}}}}}
	w.Product.Product = mixed
	if change != nil {
		change(&w)
	}
	for _, r := range readings {
		if err := w.Apply(Event{What: "take", Reading: r, At: time.Unix(0, 0)}); err != nil {
			panic(err)
		}
	}
	return w
}

func said(t msg.Text) string { return msg.Say(t, msg.English) }

func TestTheDialOfPartA(t *testing.T) {
	w := onScale(nil, 0)
	half := w.Look(25, true)
	assert.Equal(t, "part A", said(half.What))
	assert.InDelta(t, 25, float64(half.Left), 1e-9)
	assert.InDelta(t, 400, half.Bar(), 1e-9, "half of the way to the line at 800")
	assert.InDelta(t, 50, float64(half.Reach), 1e-9)
	assert.InDelta(t, 50/1.13, half.Mark.Millilitres(), 1e-6)
	assert.Equal(t, "Pour", said(half.Verdict))
	assert.Nil(t, half.Advice)
	assert.InDelta(t, 1000, w.Look(70, true).Bar(), 1e-9, "a bar ends")
	over := w.Look(60, true)
	assert.Equal(t, "Over by 10.0 g", said(over.Verdict))
	// 60 g of A take 60 · 1000/1130 = 53.1 g of B
	assert.Equal(t, "Confirm: the batch becomes 113.1 g with 53.1 g of part B, 20 % more than planned. Scoop some out "+
		"now if that is too much; nothing has touched yet.", said(over.Advice))
	assert.Contains(t, said(w.Look(55.1, true).Advice), "10 % more")
	assert.Equal(t, "Confirm: part B is then calculated from what you really poured.", said(w.Look(54.9, true).Advice))
}

func TestTheDialOfPartB(t *testing.T) {
	w := onScale(nil, 0, 50)
	line := w.Look(50+44.2, true)
	assert.Equal(t, "part B", said(line.What))
	assert.InDelta(t, 44.25, float64(line.Target), 0.01)
	assert.InDelta(t, 0, line.OffRatio, 0.002)
	assert.True(t, line.Within)
	assert.Equal(t, "Within the ±2 % this product tolerates.", said(w.Look(50+44.9, true).Advice))
	over := w.Look(50+46, true)
	assert.False(t, over.Within)
	assert.Equal(t, "+4.0 %", msg.Say(over.RatioText(), msg.English)) // 46/50 · 1.13 = 1.0396
	// 46 g of B take 46 · 1.13 = 51.98 g of A
	assert.Contains(t, said(over.Advice), "Confirm, then add 2.0 g of part A: the cup becomes 98.0 g.")
	assert.Contains(t, said(over.Advice), "of the hardener has nothing to react with")
	fixed := onScale(nil, 0, 50, 96)
	again := fixed.Look(97, true)
	assert.Equal(t, "part A, correction", said(again.What))
	assert.InDelta(t, 1.98, float64(again.Target), 0.01)
}

func TestTheDialOfAPigment(t *testing.T) {
	w := onScale(nil, 0, 50, 94.25)
	require.Equal(t, Pigmenting, w.Stage)
	d := w.Look(94.25+4.7, true)
	assert.Equal(t, "White", said(d.What))
	assert.InDelta(t, 0.05*94.25, float64(d.Target), 1e-6)
	assert.Nil(t, d.Advice)
	assert.Equal(t, "It is 5.8 % of the cup now; its limit is 6 %.", said(w.Look(94.25+5.5, true).Advice))
	// 6 g are 6 % of 100 g: 5.75 g of resin are missing
	assert.Equal(t, "It is 6.4 % of the cup, over its limit of 6 %: the cup may stay soft. Add 5.8 g of mixed resin, "+
		"or colour a fresh cup.", said(w.Look(94.25+6, true).Advice))
	unknown := onScale(func(w *Weighing) { w.Cups[0].Dyes[0].Limit = 0 }, 0, 50, 94.25)
	assert.Contains(t, said(unknown.Look(94.25+9, true).Advice), "load limit")
	burns := onScale(func(w *Weighing) { w.Cups[0].Flammable = true }, 0, 50, 94.25)
	assert.Contains(t, said(burns.Look(95, true).Advice), "no flame")
}

// What a painter reads off is the pour alone, or all that stands on the scale, by the way it is
// zeroed; a jug is read by its marks.
func TestWhatIsTypedIsReadByTheWayOfMeasuring(t *testing.T) {
	for _, x := range []struct {
		tares    string
		byVolume bool
		typed    string
		want     units.Mass // reading for 44.2 g of B on 50 g of A
	}{
		{school.TareEach, false, "44.2", 94.2},
		{school.TareOnce, false, "94.2", 94.2},
		{school.TareNever, false, "94.2 g", 94.2},
		{school.TareEach, true, "44.2", 94.2},
		{school.TareEach, true, "44.2 g", 94.2},
		{school.TareOnce, true, "88.45 ml", 94.2}, // 50 g of A are 44.25 mL
	} {
		w := onScale(func(w *Weighing) { w.Tares, w.ByVolume = x.tares, x.byVolume }, 0, 50)
		got, err := w.Typed(x.typed)
		require.NoError(t, err, "%+v", x)
		assert.InDelta(t, float64(x.want), float64(got), 0.005, "%+v", x)
	}
	w := onScale(nil, 0, 50)
	for _, none := range []string{"-3", "−3 g", "51 kg", "much"} {
		_, err := w.Typed(none)
		assert.Error(t, err, none)
	}
	most, err := w.Typed("50 kg")
	require.NoError(t, err)
	assert.InDelta(t, 50_050, float64(most), 1e-6)
	drops, err := onScale(nil, 0, 50, 94.25).Typed("12 drops")
	require.NoError(t, err)
	assert.InDelta(t, 94.25+0.6, float64(drops), 1e-9)
	empty := onScale(func(w *Weighing) { w.Tares = school.TareNever })
	cup, err := empty.Typed("31.4")
	require.NoError(t, err)
	assert.InDelta(t, 31.4, float64(cup), 1e-9)
	_, err = empty.Typed("51 kg")
	require.Error(t, err)
	zeroed, err := onScale(nil).Typed("31.4")
	require.NoError(t, err)
	assert.Zero(t, zeroed, "a scale that is zeroed shows nothing")
}

// A reading below the one before is refused, and one of less than two steps of the scale is no
// pour.
func TestReadingsThatAreNoPours(t *testing.T) {
	for _, less := range []units.Mass{49.8, 40} {
		w := onScale(nil, 0, 50)
		assert.ErrorIs(t, w.Apply(Event{What: "take", Reading: less}), errLess, "%v", less)
	}
	for _, same := range []units.Mass{49.9, 50, 50.1} {
		w := onScale(nil, 0, 50)
		assert.ErrorContains(t, w.Apply(Event{What: "take", Reading: same}), "nothing has been poured", "%v", same)
	}
	w := onScale(nil, 0, 50)
	assert.NoError(t, w.Apply(Event{What: "take", Reading: 50.25}))
	tare := onScale(nil)
	assert.ErrorIs(t, tare.Apply(Event{What: "take", Reading: -1}), errLess)
	dyed := onScale(nil, 0, 50, 94.25)
	assert.ErrorIs(t, dyed.Apply(Event{What: "take", Reading: 94}), errLess)
	assert.NoError(t, dyed.Apply(Event{What: "take", Reading: 94.25}), "no colour at all is allowed")
}

// What a weigh-out took: both parts by their volumes, each pigment by its mass; nothing while it
// goes on.
func TestWhatAWeighOutTook(t *testing.T) {
	assert.Empty(t, onScale(nil, 0, 50, 94.25).Took())
	w := onScale(nil, 0, 50, 94.25, 99)
	require.Equal(t, Done, w.Stage)
	took := w.Took()
	assert.InDelta(t, 50/1.13+44.25, took[stock.Thing{Kind: store.Resins, ID: 7}], 1e-6)
	assert.InDelta(t, 4.75, took[stock.Thing{Kind: store.Pigments, ID: 4}], 1e-9)
	recipe := w.Recipe()
	require.Len(t, recipe, 1)
	assert.InDelta(t, 94.25, float64(recipe[0].Resin), 1e-9)
	assert.InDelta(t, 4.75, float64(recipe[0].Dyes[0]), 1e-9)
	assert.Equal(t, msg.Figure("0.0 %"), w.Report()[0].Off)
	assert.Equal(t, msg.Figure("–"), onScale(nil).Report()[0].Off)
	assert.Error(t, w.Apply(Event{What: "take", Reading: 1}))
}
