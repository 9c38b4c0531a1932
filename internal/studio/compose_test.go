package studio_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

func newPiece(t *testing.T, st *studio.Studio, change func(*studio.Spec)) studio.Piece {
	t.Helper()
	spec, err := st.Draft(t.Context())
	require.NoError(t, err)
	spec.Name = "Tile"
	if change != nil {
		change(&spec)
	}
	p, err := st.AddPiece(t.Context(), spec)
	require.NoError(t, err)
	return p
}

func plan(t *testing.T, st *studio.Studio, id int64) studio.Plan {
	t.Helper()
	p, err := st.Plan(t.Context(), id)
	require.NoError(t, err)
	return p
}

func TestADrawingAndItsSharesFollowEachOther(t *testing.T) {
	st := open(t).Studio
	p := newPiece(t, st, nil)
	_, err := st.StartComposition(t.Context(), p.ID, "first", "lanes")
	require.NoError(t, err)
	before := plan(t, st, p.ID)
	drawn, err := before.Composition("first")
	require.NoError(t, err)
	require.Len(t, drawn.Things, 4)
	assert.Zero(t, drawn.Over)
	stripe := drawn.Things[1]
	require.Equal(t, composition.Stripe, stripe.Kind)
	require.NotEmpty(t, stripe.Spread)
	for i := 1; i < len(stripe.Spread); i++ {
		assert.Greater(t, stripe.Spread[i].Width, stripe.Spread[i-1].Width, "a line runs on as the clock runs")
	}

	// A share typed on the plan moves the drawing; the bed gives.
	key := "colour." + stripe.Cup + ".share"
	_, n, err := st.EditPiece(t.Context(), p.ID, before.Piece.Rev, map[string]string{key: "40 %"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	wider, err := plan(t, st, p.ID).Composition("first")
	require.NoError(t, err)
	assert.InDelta(t, 0.40, wider.Things[1].Part, 1e-9)
	assert.Greater(t, wider.Things[1].Width, stripe.Width)
	assert.InDelta(t, float64(drawn.Things[2].Width), float64(wider.Things[2].Width), 1e-9, "the other stripes stay")

	// A volume typed at the thing moves the share.
	_, n, err = st.EditThing(t.Context(), p.ID, stripe.ID, map[string]string{"volume": "20 mL"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	after := plan(t, st, p.ID)
	for _, c := range after.Coats[0].Cups {
		if c.Colour.ID == stripe.Cup {
			assert.InDelta(t, 20+3, float64(c.Volume), 1e-6, "20 mL and what stays in the cup")
		}
	}

	// Undo takes the last change back, drawing and shares alike.
	_, err = st.Undo(t.Context(), p.ID)
	require.NoError(t, err)
	back, err := plan(t, st, p.ID).Composition("first")
	require.NoError(t, err)
	assert.InDelta(t, 0.40, back.Things[1].Part, 1e-9)
}

func TestThingsArePlacedMovedAndRefused(t *testing.T) {
	st := open(t).Studio
	p := newPiece(t, st, nil)
	ribbon := composition.Thing{Kind: composition.Ribbon, Cup: "c2", Coat: "first", Points: []surface.Point{{X: 101, Y: 198}, {X: 300, Y: 250}}}
	_, id, err := st.AddThing(t.Context(), p.ID, ribbon, studio.Placing{Snap: true, Grid: 10})
	require.NoError(t, err)
	got, err := st.Piece(t.Context(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, surface.Point{X: 100, Y: 200}, got.Things[0].Points[0], "grid across, middle down")
	got, err = st.MoveThing(t.Context(), p.ID, id, 1, -50, 5, studio.Placing{})
	require.NoError(t, err)
	assert.Equal(t, surface.Point{X: 250, Y: 255}, got.Things[0].Points[1])
	_, copied, err := st.CopyThing(t.Context(), p.ID, id)
	require.NoError(t, err)
	assert.NotEqual(t, id, copied)

	var refused *studio.RefusedError
	for name, bad := range map[string]composition.Thing{
		"no cup":    {Kind: composition.Puddle, Coat: "first", Points: []surface.Point{{X: 1, Y: 1}}},
		"no kind":   {Kind: "star", Cup: "c1", Coat: "first"},
		"one point": {Kind: composition.Vein, Cup: "c1", Coat: "first", Points: []surface.Point{{X: 1, Y: 1}}},
	} {
		_, _, err := st.AddThing(t.Context(), p.ID, bad, studio.Placing{})
		assert.ErrorAs(t, err, &refused, name)
	}
	_, n, err := st.EditThing(t.Context(), p.ID, id, map[string]string{"volume": "9 L", "points": "1,1 1,1", "cup": "c77"})
	require.NoError(t, err)
	assert.Len(t, n.Errors, 3)
	_, err = st.RemoveColour(t.Context(), p.ID, "c2")
	require.NoError(t, err)
	got, err = st.Piece(t.Context(), p.ID)
	require.NoError(t, err)
	assert.Empty(t, got.Things, "things go with their cup")
}

// Cups add up to the lot, always: whatever the drawing, the reserve and the
// pigments (conservation).
func TestCupsAddUpToTheLot(t *testing.T) {
	st := open(t).Studio
	rapid.Check(t, func(rt *rapid.T) {
		starts := composition.Starts
		start := starts[rapid.IntRange(0, len(starts)-1).Draw(rt, "start")].ID
		p := newPiece(t, st, func(s *studio.Spec) {
			s.Width = units.Length(rapid.Float64Range(60, 900).Draw(rt, "w"))
			s.Height = units.Length(rapid.Float64Range(60, 900).Draw(rt, "h"))
			s.Reserve = units.Volume(rapid.SampledFrom([]float64{0, 15, 80}).Draw(rt, "reserve"))
			for i := range s.Colours {
				s.Colours[i].Share = rapid.Float64Range(0.01, 1).Draw(rt, "share")
			}
		})
		_, err := st.StartComposition(t.Context(), p.ID, "first", start)
		require.NoError(rt, err)
		for _, c := range plan(t, st, p.ID).Coats {
			var v units.Volume
			var a, b units.Mass
			for _, cup := range c.Cups {
				v, a, b = v+cup.Volume, a+cup.A.Mass, b+cup.B.Mass
			}
			require.InDelta(rt, float64(c.Total), float64(v), 1e-6)
			require.InDelta(rt, float64(c.Lot.A), float64(a), 1e-9)
			require.InDelta(rt, float64(c.Lot.B), float64(b), 1e-9)
		}
	})
}

func TestTheMixerCountsDrops(t *testing.T) {
	st := open(t).Studio
	shelf, err := st.Pigments(t.Context())
	require.NoError(t, err)
	byName := map[string]studio.Pigment{}
	for _, p := range shelf {
		byName[p.Name] = p
	}
	p := newPiece(t, st, func(s *studio.Spec) { s.Colours[0].Load = 0 })
	white, soot := byName["Lacing white"], byName["Lamp soot"]
	_, err = st.Dose(t.Context(), p.ID, "first", "c1", white.ID, "4 drops")
	require.NoError(t, err)
	_, err = st.Dose(t.Context(), p.ID, "first", "c1", soot.ID, "1 drop")
	require.NoError(t, err)
	m, err := st.Mixer(t.Context(), p.ID, "first", "c1", "")
	require.NoError(t, err)
	require.Len(t, m.Rows, 2)
	// 20 drops/mL (pharmacy convention, from memory); 1200 kg/m³ in the bottle.
	assert.InDelta(t, 4*0.05*1.2, float64(m.Rows[0].Grams), 1e-9)
	assert.Equal(t, "4 drops", m.Rows[0].Measure)
	assert.Equal(t, "1 drop", m.Rows[1].Measure)
	assert.Greater(t, m.Rows[1].More.Difference, m.Rows[0].More.Difference, "a drop of black changes more than one of white")
	assert.Contains(t, m.Judge, "will not hide")
	on, err := st.Mixer(t.Context(), p.ID, "first", "c1", "black")
	require.NoError(t, err)
	assert.NotEqual(t, m.Film, on.Film, "the ground shows through")
	assert.InDelta(t, m.Percent(), on.Percent(), 1e-9, "hiding is the cup's, not the ground's")

	_, err = st.Dose(t.Context(), p.ID, "first", "c1", soot.ID, "-1 drop")
	require.NoError(t, err)
	m, err = st.Mixer(t.Context(), p.ID, "first", "c1", "")
	require.NoError(t, err)
	assert.Len(t, m.Rows, 1, "what is taken out is gone")

	var refused *studio.RefusedError
	for _, bad := range []string{"a lot", "", "1 kg", "5 °C"} {
		_, err = st.Dose(t.Context(), p.ID, "first", "c1", soot.ID, bad)
		assert.ErrorAs(t, err, &refused, bad)
	}
	_, err = st.Dose(t.Context(), p.ID, "first", "c1", byName["Copper shimmer"].ID, "1/4 tsp")
	require.NoError(t, err)
	m, err = st.Mixer(t.Context(), p.ID, "first", "c1", "")
	require.NoError(t, err)
	assert.Equal(t, "1/4 tsp", m.Rows[1].Measure)
}

func TestNeighboursAreJudged(t *testing.T) {
	st := open(t).Studio
	p := newPiece(t, st, func(s *studio.Spec) {
		s.Colours = []studio.Colour{
			{ID: "c1", Name: "Orange", Role: studio.RoleBase, Swatch: "#c05a10", Share: 0.6, Load: 0.04},
			{ID: "c2", Name: "Blue", Role: studio.RoleAccent, Swatch: "#1f5fa8", Share: 0.4, Load: 0.04},
		}
	})
	got := plan(t, st, p.ID).Neighbours
	require.Len(t, got, 1)
	assert.Contains(t, got[0].Verdict, "Mud")
	assert.Contains(t, got[0].Lies, "as heavy as each other")
}

func picture(t *testing.T) *bytes.Buffer {
	m := image.NewNRGBA(image.Rect(0, 0, 40, 30))
	for y := range 30 {
		for x := range 40 {
			c := color.NRGBA{160, 140, 116, 255} // wet sand
			if y < 10 {
				c = color.NRGBA{61, 74, 84, 255} // slate
			}
			m.SetNRGBA(x, y, c)
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	return &b
}

func TestAPictureBecomesCups(t *testing.T) {
	st := open(t).Studio
	p, err := st.ReadPicture(t.Context(), `C:\pictures\low_tide.png`, picture(t))
	require.NoError(t, err)
	assert.Equal(t, "low tide", p.Name)
	require.Len(t, p.Colours, 2)
	assert.InDelta(t, 2./3, p.Colours[0].Share, 0.01)

	match, err := st.Match(t.Context(), p.Colours[0].Hex)
	require.NoError(t, err)
	assert.Less(t, match.Best[0].Difference, 1.0, "the shelf has wet sand")
	far, err := st.Match(t.Context(), "#00ff00")
	require.NoError(t, err)
	assert.Contains(t, far.Words, "Nothing you own comes nearer than")

	piece, err := st.PieceFromPalette(t.Context(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, studio.RoleBase, piece.Colours[0].Role)
	assert.NotZero(t, piece.Colours[0].Pigment)

	var gpl bytes.Buffer
	_, err = st.ExportPalette(t.Context(), p.ID, &gpl)
	require.NoError(t, err)
	again, err := st.ImportPalette(t.Context(), "x.gpl", &gpl)
	require.NoError(t, err)
	assert.Equal(t, p.Colours[1].Hex, again.Colours[1].Hex)

	var refused *studio.RefusedError
	_, err = st.ReadPicture(t.Context(), "x.png", strings.NewReader("not a picture"))
	assert.ErrorAs(t, err, &refused)
	_, n, err := st.EditPalette(t.Context(), p.ID, p.Rev, map[string]string{"count": "8"})
	require.NoError(t, err)
	assert.Contains(t, n.Notes["count"], "only 2 colours")
	_, n, err = st.EditPalette(t.Context(), p.ID, p.Rev, map[string]string{"name": "Late"})
	require.NoError(t, err)
	assert.False(t, n.OK(), "another page was faster")
}

func TestATileScalesAtEqualFilmAndLoad(t *testing.T) {
	st := open(t).Studio
	p := newPiece(t, st, func(s *studio.Spec) { s.Width, s.Height, s.Sides = 100, 100, surface.SidesTaped })
	_, err := st.StartComposition(t.Context(), p.ID, "first", "current")
	require.NoError(t, err)
	r, err := st.Rescale(t.Context(), p.ID, map[string]string{"size": "60 x 40 cm", "count": "2"})
	require.NoError(t, err)
	require.Empty(t, r.Notices.Errors)
	// Area of two boards over the tile's: 2 × 600 × 400/(100 × 100) = 48.
	loss := 3.0
	for _, row := range r.Rows {
		assert.InDelta(t, 48*(float64(row.From.Volume)-loss), float64(row.To.Volume)-loss, 1e-6, row.Name)
		assert.InDelta(t, row.From.Colour.Load, row.To.Colour.Load, 1e-12)
	}
	assert.Equal(t, r.From.Coats[0].Film, r.To.Coats[0].Film)
	kept, n, err := st.KeepRescaled(t.Context(), p.ID, map[string]string{"size": "60 x 40 cm", "name": "Large one"})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Equal(t, "Large one", kept.Name)
	_, n, err = st.KeepRescaled(t.Context(), p.ID, map[string]string{"size": "nought"})
	require.NoError(t, err)
	assert.False(t, n.OK())
}

func TestCupsAreOrderedPaleToDark(t *testing.T) {
	st := open(t).Studio
	p := newPiece(t, st, nil)
	pl := plan(t, st, p.ID)
	order := pl.InOrder(pl.Coats[0])
	assert.Equal(t, studio.RoleWhite, order[0].Colour.Role, "white first, in a clean cup")
	assert.Empty(t, order[0].Reuse)
	assert.Equal(t, "Deep tarn", order[len(order)-1].Colour.Name, "the darkest last")
	s := pl.Surplus(pl.Coats[0])
	assert.LessOrEqual(t, s.Least, s.Most)
}
