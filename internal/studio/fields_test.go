package studio_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

// Every field of every form shows a value that is read back as it was, in
// both systems: nothing a page shows can be refused when it is posted.
func TestShownValuesAreAccepted(t *testing.T) {
	for _, system := range []string{"metric", "us"} {
		b := open(t)
		_, n, err := b.EditSettings(ctx, map[string]string{"units": system})
		require.NoError(t, err)
		require.True(t, n.OK())
		set, err := b.Settings(ctx)
		require.NoError(t, err)

		p := b.piece(t, map[string]string{"name": "x", "more": "2 of 40 x 60 cm; 30 x 30 cm", "texture": "12 mL"})
		for key, text := range p.Values(set.Units) {
			if key == "points" || key == "path" {
				continue // empty until such an outline is chosen
			}
			fresh, notices, err := b.CreatePiece(ctx, map[string]string{"name": "y", key: text, "colours": "own"})
			require.NoError(t, err)
			assert.True(t, notices.OK(), "%s %q: %v", key, text, notices.Errors)
			if key != "more" { // inches may read as a fraction once they are rounded to one
				assert.Equal(t, text, fresh.Values(set.Units)[key], key)
			}
		}
		shelf, err := b.Products(ctx)
		require.NoError(t, err)
		for _, product := range shelf {
			values := product.Values(set.Units)
			values["name"] = "copy of " + product.Name
			saved, notices, err := b.SaveProduct(ctx, 0, 0, values)
			require.NoError(t, err)
			require.True(t, notices.OK(), "%v", notices.Errors)
			assert.InEpsilon(t, product.WeightRatio(), saved.WeightRatio(), 1e-3)
			assert.InEpsilon(t, product.HardHours, saved.HardHours, 1e-3)
		}
		pigments, err := b.Pigments(ctx)
		require.NoError(t, err)
		for _, pigment := range pigments {
			values := pigment.Values(set.Units)
			values["name"] = "copy of " + pigment.Name
			saved, notices, err := b.SavePigment(ctx, 0, 0, values)
			require.NoError(t, err)
			require.True(t, notices.OK(), "%v", notices.Errors)
			assert.Equal(t, pigment.Form, saved.Form)
			assert.InEpsilon(t, float64(pigment.Particle), float64(saved.Particle), 1e-2)
		}
	}
}

// Whatever is typed into whatever field, a piece stays one that can be read
// and planned or says why it cannot.
func TestAnythingTypedIsSurvived(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x"})
	keys := []string{"size", "film", "edge_height", "depth", "points", "path", "count", "more", "room", "start", "texture", "mould_water", "colour.c1.share", "colour.c2.load", "outline", "support", "technique", "product", "ground"}
	rapid.Check(t, func(rt *rapid.T) {
		values := map[string]string{}
		for range 3 {
			key := rapid.SampledFrom(keys).Draw(rt, "key")
			values[key] = rapid.OneOf(
				rapid.String(),
				rapid.SampledFrom([]string{"0", "-1", "1e9 m", "18 in", "1/0", "drawn", "polygon", "mould", "9999999", "0,0 9,9 9,0 0,9", "M0 0Z", "25 %", "NaN", "100 x 200 cm", "round"}),
			).Draw(rt, "text")
		}
		got, notices, err := b.EditPiece(ctx, p.ID, p.Rev, values)
		require.NoError(rt, err)
		_, err = b.PlanPiece(ctx, got)
		if err != nil {
			assert.NotEmpty(rt, err.Error())
			return
		}
		for key, message := range notices.Errors {
			if !strings.Contains(values[key], "%!") { // what was typed is quoted back
				assert.NotContains(rt, message, "%!", key)
			}
			assert.NotEmpty(rt, message, key)
		}
		_, err = b.Undo(ctx, p.ID)
		require.NoError(rt, err)
	})
}

func TestSetsAreTypedAsTheyAreSaid(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x", "more": "2 of 40 x 60 cm; 30 cm"})
	require.Len(t, p.More, 2)
	assert.Equal(t, 2, p.More[0].Count)
	assert.Equal(t, units.Length(300), p.More[1].Width)
	for _, bad := range []string{"many of 40 x 60 cm", "0 of 3 x 3 cm", "1 x 1 mm", strings.Repeat("10 x 10 cm;", 30)} {
		_, n, err := b.CreatePiece(ctx, map[string]string{"name": "y", "more": bad})
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors["more"], bad)
	}
}

// Any slot lies in opening hours, is not before it was asked for, and is the
// same when asked for again.
func TestSlotLaws(t *testing.T) {
	set := studio.DefaultSettings()
	zone, err := time.LoadLocation("America/New_York")
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		at := time.Unix(rapid.Int64Range(1_700_000_000, 1_900_000_000).Draw(t, "at"), 0).In(zone)
		d := time.Duration(rapid.IntRange(0, 700).Draw(t, "minutes")) * time.Minute
		got := set.Slot(at, d)
		assert.False(t, got.Before(at))
		minutes := got.Hour()*60 + got.Minute()
		assert.True(t, minutes >= 8*60 && minutes <= 20*60, "%s", got)
		assert.LessOrEqual(t, minutes+int(d.Minutes()), 20*60)
		assert.True(t, got.Equal(set.Slot(got, d)))
		assert.Less(t, got.Sub(at), 50*time.Hour, "never further than over a Sunday")
		assert.NotEqual(t, time.Sunday, got.Weekday())
	})
}

func TestSpokenTimes(t *testing.T) {
	for minutes, want := range map[float64]string{0.5: "30 s", 12: "12 min", 89: "89 min", 90: "1 h 30 min", 119.9: "2 h", 600: "10 h", 41597: "29 days"} {
		assert.Equal(t, want, studio.Spoken(minutes), "%g", minutes)
	}
}

// The sheet prepares what the surface needs, before the first pour and in
// time for the waits (common practice).
func TestSheetPreparesTheSurface(t *testing.T) {
	b := open(t)
	lines := func(values map[string]string) map[string]studio.SheetLine {
		plan, err := b.Plan(ctx, b.piece(t, values).ID)
		require.NoError(t, err)
		out := map[string]studio.SheetLine{}
		sheet := plan.Sheet()
		for _, l := range sheet[0].Lines {
			out[l.Name] = l
		}
		for _, l := range sheet[len(sheet)-1].Lines {
			out["last: "+l.Name] = l
		}
		start := sheet[0].Start
		for _, l := range out {
			if l.Name == "Paint the sides" {
				assert.GreaterOrEqual(t, start.Sub(l.At), 24*time.Hour, "a day before resin")
			}
		}
		return out
	}
	all := lines(map[string]string{"name": "a", "sealed": "no", "edge": "dam", "sides": "taped", "back_mask": "yes"})
	for _, want := range []string{"Seal and prime", "Mask the back", "Tape the sides", "Build the dam", "Pull the tape", "Look for bubbles"} {
		assert.Contains(t, all, want)
	}
	assert.NotContains(t, all, "Paint the sides")
	assert.Contains(t, all["last: Finish the back and sides"].Do, "Peel the back mask")
	tile := lines(map[string]string{"name": "b", "support": string(surface.Tile), "sealed": "no", "back_mask": "no"})
	assert.NotContains(t, tile, "Seal and prime", "a glazed tile needs none")
	assert.Contains(t, tile["last: Finish the back and sides"].Do, "drips")
	assert.Contains(t, tile["last: Ready to deliver"].Do, "For heat wait")
}

// The lots of a coat are used before they age: mixing and pouring one takes
// no longer than it keeps in its jug.
func TestLotsAreUsedFresh(t *testing.T) {
	b := open(t)
	shelf, err := b.Products(ctx)
	require.NoError(t, err)
	for _, product := range shelf {
		for _, size := range []string{"20 cm", "60 cm", "120 cm"} {
			p := b.piece(t, map[string]string{"name": "x", "size": size, "product": fmt.Sprint(product.ID), "edge": "dam"})
			plan, err := b.Plan(ctx, p.ID)
			require.NoError(t, err)
			for _, c := range plan.Coats {
				for _, s := range c.Stages {
					assert.LessOrEqual(t, float64(s.Volume), float64(c.LotMax)+1e-6, "%s, %s", plan.Product.Name, size)
				}
				assert.True(t, c.LotTakes <= c.UseBy || c.LotMax <= 20, "%s, %s: a lot takes %g min and lasts %g", plan.Product.Name, size, c.LotTakes, c.UseBy)
			}
		}
	}
}
