package plan_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
)

// slab is a cast of the size in a mould, at 24 °C.
func slab(ctx *plan.Context, depth units.Length) plan.Spec {
	s := board(ctx, 300, 200)
	s.Support, s.MouldDepth, s.Room = surface.MouldSlab, depth, 24
	t, _ := ctx.Book.Find("slab")
	s.Layers = []plan.Layer{plan.NewCoat(ctx, plan.FirstCoat, t, 1, 3)}
	return s
}

func said(p *plan.Plan, code verdict.Code) *verdict.Diagnostic {
	for _, d := range p.Diagnostics() {
		if d.Code == code {
			return &d
		}
	}
	return nil
}

// A 300 × 200 × 50 mm slab at 24 °C is no film: it gels in about half an hour
// and gets hotter than 100 °C (its own heat balance, regression value of the
// model), its clock says so, and it is offered in layers that stay cool.
func TestADeepCastHeatsItself(t *testing.T) {
	ctx := context(t)
	s := slab(ctx, 50)
	p := evaluate(t, ctx, s)
	c := &p.Coats[0]
	require.NotNil(t, c.Deep)
	assert.InDelta(t, 30, c.Clock.Gel(), 5)
	assert.InDelta(t, c.Deep.Gel, c.Clock.Gel(), 0.2)
	assert.Greater(t, c.Deep.Peak, units.Temperature(100))
	d := said(p, verdict.DeepLayers)
	require.NotNil(t, d)
	assert.Equal(t, verdict.Trouble, d.Weight)
	require.NoError(t, s.PourInLayers(ctx, plan.FirstCoat))
	layered := evaluate(t, ctx, s)
	require.Len(t, layered.Coats, c.Deep.Pours)
	assert.Nil(t, said(layered, verdict.DeepLayers))
	depth := 0.0
	for i, l := range layered.Coats {
		depth += float64(l.Film)
		assert.Less(t, l.Deep.Peak, cure.SafePeak)
		if i > 0 { // each after the last has cooled
			assert.GreaterOrEqual(t, l.Met.Sub(layered.Coats[i-1].Met).Minutes(), layered.Coats[i-1].Deep.Cooled-1)
			for _, step := range layered.Preparation(&layered.Coats[i]) {
				assert.NotEqual(t, technique.Scuff.Name, step.Name, "nobody scuffs inside a mould")
			}
		}
	}
	assert.InDelta(t, 50, depth, 1e-6, "the layers fill the mould")
	assert.Nil(t, evaluate(t, ctx, slab(ctx, 3)).Coats[0].Deep, "a film goes by its sheet")
	assert.Error(t, s.PourInLayers(ctx, plan.FirstCoat), "a layer that stays cool is not divided again")
	require.NotNil(t, said(p, verdict.CastShrinks))
}

// coloured gives a colour of the first coat the white of the materials.
func coloured(c *plan.Colour, load float64) { c.Pigment, c.Load, c.Mass, c.More = 1, load, 0, nil }

// What goes into the cup has the density of the bottle: 4.5 % of a white of
// 1 700 kg/m³ in a resin of 1 100 make 1 117.8 (1/ρ = Σ wᵢ/ρᵢ, worked example).
func TestACupIsAsHeavyAsWhatGoesIn(t *testing.T) {
	ctx := context(t)
	resin := ctx.Products[1]
	resin.DensityA, resin.DensityB = 1100, 1100
	ctx.Products[1] = resin
	s := board(ctx, 400, 400)
	coloured(&s.First().Coat.Colours[0], 0.045/0.955) // loads are by mass of resin
	p := evaluate(t, ctx, s)
	look := p.Coats[0].Cup(s.First().Coat.Colours[0].ID).Look
	assert.InDelta(t, 1117.8, float64(look.Density), 0.05)
	assert.True(t, look.Weighed)
	assert.False(t, p.Coats[0].Cup(s.First().Coat.Colours[1].ID).Look.Weighed, "a swatch has no density")
	for _, n := range p.Neighbours(0) {
		assert.Equal(t, verdict.LieUnknown, n.Lies.Code, "no verdict about a colour that is only a swatch")
	}
	assert.Empty(t, p.Forecast(0).Cells)
}

// poured is a board of two cups, the white poured as a puddle on the other, or
// under it.
func poured(ctx *plan.Context, whiteOnTop bool, share float64) plan.Spec {
	s := board(ctx, 400, 400)
	cell, _ := ctx.Book.Find("cell")
	s.Layers[0] = plan.NewCoat(ctx, plan.FirstCoat, cell, 1, 1.6)
	c := s.First().Coat
	c.Colours = c.Colours[:2]
	bed, top := &c.Colours[0], &c.Colours[1]
	light, white := bed, top
	if !whiteOnTop {
		light, white = top, bed
	}
	light.Pigment, light.Load = 2, 0.03
	coloured(white, 0.06)
	c.Things = []composition.Thing{
		{ID: "bed", Kind: composition.Bed, Cup: bed.ID},
		{ID: "pool", Kind: composition.Puddle, Cup: top.ID, Share: share, Points: []geom.Point{geom.At(0.5, 0.5)}},
	}
	return s
}

// withLight adds a tint no heavier than the resin.
func withLight(ctx *plan.Context) *plan.Context {
	p := ctx.Pigments[1]
	p.ID, p.Name, p.Liquid, p.Density, p.Solids = 2, "Light", 1090, 1090, 0.1
	ctx.Pigments[2] = p
	return ctx
}

// A tension at which cells would take longer than the resin flows says nothing of how far apart those are
// that are seen: the range stays within what a painter has seen of lacing, a few millimetres to a few
// centimetres (common practice), however little heavier the white is.
func TestCellsNobodySeesBoundNothing(t *testing.T) {
	ctx := withLight(context(t))
	for _, load := range []float64{0.01, 0.02, 0.03, 0.045, 0.06} {
		s := poured(ctx, true, 0.3)
		for i := range s.First().Coat.Colours {
			if c := &s.First().Coat.Colours[i]; c.Pigment == 1 {
				c.Load = load
			}
		}
		cells := evaluate(t, ctx, s).Forecast(0).Cells
		require.Len(t, cells, 1)
		assert.False(t, math.IsInf(cells[0].Soon, 1))
		assert.Greater(t, cells[0].Near, units.Length(1))
		assert.Less(t, cells[0].Far, units.Length(20), "%v of white", load)
	}
}

// Cells come from what was poured on what: white on the bed opens it, white
// under it stays, and the upper film is the puddle's volume over its area.
func TestWhatLiesOnWhatDecides(t *testing.T) {
	ctx := withLight(context(t))
	on := evaluate(t, ctx, poured(ctx, true, 0.2))
	cells := on.Forecast(0).Cells
	require.Len(t, cells, 1)
	assert.Greater(t, cells[0].Far, units.Length(0))
	c := &on.Coats[0]
	puddle := c.Cup(c.Colours[1].ID)
	assert.InDelta(t, math.Min(float64(c.Film)*puddle.Share/puddle.Area, float64(c.Puddle.Height)),
		float64(cells[0].UpperFilm), 1e-9)
	assert.InDelta(t, float64(c.Film)*c.Cups[0].Share, float64(cells[0].LowerFilm), 0.05*float64(c.Film),
		"the bed lies under the whole face")
	assert.LessOrEqual(t, cells[0].Near, cells[0].Far)
	assert.LessOrEqual(t, cells[0].Soon, cells[0].Late)
	under := evaluate(t, ctx, poured(ctx, false, 0.2))
	for _, cell := range under.Forecast(0).Cells {
		assert.Zero(t, cell.Far, "lighter on top: no growth")
		assert.Equal(t, plan.Never, cell.InTime)
	}
	for _, n := range under.Neighbours(0) {
		assert.Equal(t, verdict.LieStays, n.Lies.Code)
	}
	for _, n := range on.Neighbours(0) {
		assert.Equal(t, verdict.LieSinks, n.Lies.Code)
		assert.True(t, n.OnTop)
	}
}

// The white of a swipe is drawn over the others: it lies at a part of the film,
// and hides as that film does.
func TestASwipedWhiteIsThin(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 400)
	for i := range s.First().Coat.Colours {
		if c := &s.First().Coat.Colours[i]; c.Role == technique.White {
			coloured(c, 0.01)
		}
	}
	p := evaluate(t, ctx, s)
	c := &p.Coats[0]
	for _, cup := range c.Cups {
		if cup.Colour.Role == technique.White {
			assert.Less(t, float64(cup.Film), 0.5*float64(c.Film))
			assert.InDelta(t, ctx.Surface.Contrast(cup.Look.Optics, cup.Film), cup.Look.Contrast, 1e-12)
			assert.Less(t, cup.Look.Contrast, ctx.Surface.Contrast(cup.Look.Optics, c.Film))
		}
	}
	veil, _ := ctx.Book.Find("veil")
	s.Layers[0] = plan.NewCoat(ctx, plan.FirstCoat, veil, 1, 1.6)
	for _, d := range evaluate(t, ctx, s).Diagnostics() {
		if d.Coat == plan.FirstCoat {
			assert.NotContains(t, []verdict.Code{verdict.HidesNot, verdict.HidesDrops, verdict.HidesGrams}, d.Code,
				"a veil is meant to show what lies under it")
		}
	}
}

// A rim holds all coats together, a dam the one it was built for; and no step
// near a dam speaks of a flame without saying hot air.
func TestEdgesHoldTheSumOfCoats(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 400)
	s.Support, s.Edge, s.EdgeHeight = surface.Tray, surface.Rim, 4
	p := evaluate(t, ctx, s)
	var low []string
	for _, d := range p.Diagnostics() {
		if d.Code == verdict.EdgeLow {
			low = append(low, d.Coat)
		}
	}
	assert.NotContains(t, low, plan.FirstCoat)
	assert.Contains(t, low, plan.TopCoat, "three coats of some 1.6 mm do not stand behind 4 mm")
	s.Support, s.Edge = surface.Panel, surface.Dam
	dammed := evaluate(t, ctx, s)
	assert.Nil(t, said(dammed, verdict.EdgeLow), "the dam is built again for each coat")
	builds := 0
	for _, task := range dammed.Tasks {
		if strings.Contains(msg.Say(task.What, msg.English), "dam") {
			builds++
		}
	}
	assert.Equal(t, len(dammed.Coats), builds)
	for i := range dammed.Coats {
		for _, step := range dammed.Steps(&dammed.Coats[i]) {
			if step.Heats {
				assert.Regexp(t, "(?i)hot air|"+string(plan.NearDam), msg.Say(step.Do, msg.English), step.Name)
			}
		}
	}
	wall, err := film.AgainstWall(film.DefaultContactAngle,
		film.Liquid{Viscosity: 1000, Density: dammed.Coats[0].Product.Density(), SurfaceTension: 40})
	require.NoError(t, err)
	assert.InDelta(t, float64(wall.Volume)*1.6, float64(dammed.Coats[0].Amount.Wall), 1e-9, "along 1.6 m of dam")
}

// What is bought for the sides is what is forecast to stay there, and an edge is
// never held into the hours when hands are off.
func TestSidesAreBoughtOnce(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		s := board(ctx, 400, 400)
		s.Sides, s.Depth = surface.SidesRunOver, units.Length(rapid.IntRange(5, 60).Draw(rt, "depth"))
		s.Room = units.Temperature(rapid.IntRange(14, 32).Draw(rt, "room"))
		s.First().Coat.Amount = plan.Amount{Film: units.Length(rapid.Float64Range(0.4, 2).Draw(rt, "film"))}
		p := evaluateIn(rt, ctx, s)
		c := &p.Coats[0]
		require.Positive(rt, float64(c.Side.Mean))
		assert.LessOrEqual(rt, c.Side.Bottom, c.Film, "no side is thicker than the film")
		assert.InEpsilon(rt, float64(p.SideArea.Times(c.Side.Mean)), float64(c.Amount.Sides), 0.05)
		assert.Less(rt, c.Side.Hold, c.Clock.Window(cure.Stringy).From+5)
	})
}

// A cup that is nowhere on the board is missed once, however often the coat was
// calculated until its sides settled.
func TestACupIsMissedOnce(t *testing.T) {
	ctx := context(t)
	s := poured(ctx, true, 0.2)
	s.Sides, s.Depth = surface.SidesRunOver, 40
	c := s.First().Coat
	c.Colours = append(c.Colours,
		plan.Colour{ID: "lost", Name: "Lost", Role: technique.Accent, Share: 0.1, Swatch: "#336699"})
	assert.Len(t, evaluate(t, ctx, s).Coats[0].Missing, 1)
}

// A mark of a width is half a wave, levelled by Orchard's exact film (1962,
// published) along the coat's clock; bubbles have until the resin is stringy.
func TestMarksAndBubbles(t *testing.T) {
	ctx := context(t)
	p := evaluate(t, ctx, board(ctx, 400, 400))
	c := &p.Coats[0]
	l := film.Liquid{Viscosity: c.Product.Viscosity, Density: c.Product.Density(),
		SurfaceTension: film.DefaultLiquid.SurfaceTension}
	f := p.Forecast(0)
	flow := c.Clock.Flow(c.Fit.Ends, c.Clock.Gel(), l.Viscosity, l.Density)
	for _, m := range append(f.Marks, f.Tilted) {
		rate, err := film.OrchardRate(2*m.Across, c.Film, l)
		require.NoError(t, err)
		assert.InDelta(t, math.Exp(-rate*l.Viscosity.PascalSeconds()/float64(l.Density)*flow), m.Left, 1e-9)
	}
	assert.Equal(t, units.Length(400), f.Tilted.Across)
	from, to := c.Fit.LastPour(), c.Clock.Window(cure.Stringy).From
	bubble, err := film.SmallestEscaping(c.Film, c.Clock.Flow(from, to, l.Viscosity, l.Density))
	require.NoError(t, err)
	assert.InDelta(t, float64(bubble), float64(f.Bubble), 1e-12)
	assert.Positive(t, float64(f.Walks))
}

// Pigment takes room: resin and pigments together are what is poured.
func TestPigmentTakesRoom(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 400)
	for i := range s.First().Coat.Colours {
		coloured(&s.First().Coat.Colours[i], 0.06)
	}
	p := evaluate(t, ctx, s)
	c := &p.Coats[0]
	resin, pigment := 0.0, 0.0
	for _, cup := range c.Cups {
		resin += float64(cup.Volume - ctx.CupLoss)
		pigment += float64(cup.Volume-ctx.CupLoss) * 0.06 * float64(c.Product.Density()/ctx.Pigments[1].Liquid)
	}
	assert.InDelta(t, float64(c.Poured), resin+pigment, 0.005*float64(c.Poured))
	assert.InDelta(t, pigment, float64(c.Pigments), 0.01*pigment)
	assert.InDelta(t, float64(c.Poured-c.Pigments+c.Amount.CupLoss), float64(c.Total), 1e-9)
}

// A vessel serves again only once it is empty: never while its colour is still to
// be poured when the next is stirred.
func TestAVesselIsFreeBeforeItServesAgain(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		p := evaluateIn(rt, ctx, draw(rt, ctx))
		for i := range p.Coats {
			c := &p.Coats[i]
			order := p.InOrder(c)
			for _, cup := range order {
				for _, e := range order {
					if cup.Reuse != "" && e.Colour.Name == cup.Reuse {
						assert.LessOrEqual(rt, e.Need, cup.Need)
						stirred := cup.Later // one that is mixed later is stirred then
						for k, l := range c.Batches {
							for _, f := range l.Feeds {
								for _, step := range c.Fit.Steps {
									if cup.Later == 0 && f.Cup == cup.Colour.ID && step.Batch == k && step.Colours &&
										(stirred == 0 || step.From < stirred) {
										stirred = step.From
									}
								}
							}
						}
						assert.LessOrEqual(rt, e.Need, stirred)
					}
				}
			}
		}
	})
}

// A planned tilt decides what runs off (Jeffreys 1930): poured so much more, and
// where no film survives it, said so.
func TestATiltDecidesTheRunOff(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 600, 400)
	flow, _ := ctx.Book.Find("flow")
	s.Layers[0] = plan.NewCoat(ctx, plan.FirstCoat, flow, 1, 1)
	usual := evaluate(t, ctx, s).Coats[0].RunOff
	assert.InDelta(t, flow.RunOff.Usual, usual, 1e-12)
	c := s.First().Coat
	c.Tilt, c.TiltFor = 10, 1
	gentle := evaluate(t, ctx, s)
	require.NotNil(t, gentle.Coats[0].Tilt)
	stays, err := film.Tilted(gentle.Coats[0].Tilt.Poured, 600, 10,
		gentle.Coats[0].Clock.Flow(gentle.Coats[0].Fit.LastPour(), gentle.Coats[0].Fit.LastPour()+1,
			gentle.Coats[0].Product.Viscosity, gentle.Coats[0].Product.Density()))
	require.NoError(t, err)
	assert.InDelta(t, 1, float64(stays), 0.02)
	c.TiltFor = 3
	longer := evaluate(t, ctx, s)
	assert.Greater(t, longer.Coats[0].RunOff, gentle.Coats[0].RunOff)
	c.Tilt, c.TiltFor = 60, 30
	assert.NotNil(t, said(evaluate(t, ctx, s), verdict.TiltLong))
}

// A cool room stops the cure, damp air at night makes a board blush: both are
// said, and neither in the usual room.
func TestRoomsThatSpoilACoat(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 400)
	usual := evaluate(t, ctx, s)
	assert.Nil(t, said(usual, verdict.CoolCured))
	assert.Nil(t, said(usual, verdict.Blush))
	assert.False(t, usual.Reach(cure.HeatReady).Comes, "heat-ready never comes by itself at 21 °C")
	s.Room = 15
	d := said(evaluate(t, ctx, s), verdict.CoolCured)
	require.NotNil(t, d)
	assert.Positive(t, d.Args["hours"])
	ctx.Humidity, ctx.Night = 0.7, 16
	s.Room = 21
	assert.NotNil(t, said(evaluate(t, ctx, s), verdict.Blush), "at 21 °C and 70 %% the dew point is 15.4 °C")
}

// What is advised was planned: whatever is named really fits.
func TestAdviceFits(t *testing.T) {
	ctx := context(t)
	late := 0
	rapid.Check(t, func(rt *rapid.T) {
		s := draw(rt, ctx)
		s.Room = units.Temperature(rapid.IntRange(26, 40).Draw(rt, "hot"))
		p := evaluateIn(rt, ctx, s)
		for _, d := range p.Diagnostics() {
			switch d.Code {
			case verdict.ClockSlow, verdict.ClockCool:
				late++
				trial := s.Clone()
				for id, product := range ctx.Products {
					if product.Name == d.Args["resin"] {
						trial.Coat(d.Coat).Product = id
					}
				}
				if room, ok := d.Args["room"].(units.Temperature); ok {
					trial.Coat(d.Coat).Room = room
				}
				again := evaluateIn(rt, ctx, trial)
				assert.True(rt, again.Coat(d.Coat).Fit.Holds(), "%s for %s", d.Code, d.Coat)
			}
		}
	})
	assert.Positive(t, late)
}

// A studio's own factors move the forecast of cells and nothing else of it.
func TestForecastsAreCalibrated(t *testing.T) {
	ctx := withLight(context(t))
	plain := evaluate(t, ctx, poured(ctx, true, 0.3))
	own := *plain.Context
	own.Own = plan.Calibration{Spacing: 1.5, Seen: 0.8}
	moved, err := plan.Evaluate(plain.Spec, &own, plain.Timing)
	require.NoError(t, err)
	a, b := plain.Forecast(0).Cells, moved.Forecast(0).Cells
	require.NotEmpty(t, a)
	require.Len(t, b, len(a))
	for i := range a {
		assert.InDelta(t, 1.5*float64(a[i].Near), float64(b[i].Near), 1e-9)
		assert.InDelta(t, 1.5*float64(a[i].Far), float64(b[i].Far), 1e-9)
		assert.InDelta(t, 0.8*a[i].Soon, b[i].Soon, 1e-9)
		assert.Equal(t, a[i].UpperFilm, b[i].UpperFilm)
	}
}

// A veil tones down and does not bury (common practice): with its usual white it is more than a haze
// and hides less than nearly opaque, in the thin film that is proposed and in a usual one.
func TestAVeilLetsTheCoatBelowThrough(t *testing.T) {
	ctx := context(t)
	for _, film := range []units.Length{0.8, 1.6} {
		s := board(ctx, 400, 400)
		veil, _ := ctx.Book.Find("veil")
		s.Layers[0] = plan.NewCoat(ctx, plan.FirstCoat, veil, 1, film)
		c := s.First().Coat
		at := slices.IndexFunc(c.Colours, func(c plan.Colour) bool { return c.Role == technique.White })
		coloured(&c.Colours[at], plan.UsualLoad(ctx.Pigments[1], technique.White))
		look := evaluate(t, ctx, s).Coats[0].Cup(c.Colours[at].ID).Look
		assert.Greater(t, look.Contrast, 0.4, "at %v mm", film)
		assert.Less(t, look.Contrast, 0.9, "at %v mm", film)
	}
}
