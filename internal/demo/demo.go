// Package demo fills an empty studio with made-up pieces, the way a painter
// would: through the studio, never past it.
//
// The scenario is invented: Orla Wenning paints tidal flats for the waiting
// rooms of the ferry line between two islands that are on no map.
package demo

import (
	"context"
	"fmt"
	"time"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

// Fill adds the demo pieces unless the studio has pieces already.
func Fill(ctx context.Context, st *studio.Studio) error {
	_, n, err := st.Pieces(ctx, "", 1, 0)
	if err != nil || n > 0 {
		return err
	}
	products, err := st.Products(ctx)
	if err != nil {
		return err
	}
	byName := map[string]int64{}
	for _, p := range products {
		byName[p.Name] = p.ID
	}
	pigments := map[string]int64{}
	shelf, err := st.Pigments(ctx)
	if err != nil {
		return err
	}
	for _, p := range shelf {
		pigments[p.Name] = p.ID
	}
	set, err := st.Settings(ctx)
	if err != nil {
		return err
	}
	y, m, d := st.Now().Local().Date()
	morning := func(days, hour int) time.Time { return time.Date(y, m, d+days, hour, 0, 0, 0, time.Local) }
	for _, p := range []struct {
		make    func(*studio.Spec)
		product string
		start   time.Time
	}{
		{ebbTide, "Hollin Bench 45", morning(2, 9)},
		{saltPans, "Hollin Slow 60", morning(1, 10)},
		{nightFerry, "Tansy Studio 90", morning(4, 9)},
	} {
		spec := studio.NewSpec(set, byName[p.product], p.start)
		p.make(&spec)
		for i := range spec.Colours {
			spec.Colours[i].Pigment = pigments[madeOf[spec.Colours[i].Name]]
		}
		piece, err := st.AddPiece(ctx, spec)
		if err == nil && spec.Technique == "cell" {
			_, err = st.StartComposition(ctx, piece.ID, "first", "scatter")
		}
		if err != nil {
			return fmt.Errorf("add the demo piece %q: %w", spec.Name, err)
		}
	}
	if err := ferryLine(ctx, st, morning(16, 18)); err != nil {
		return err
	}
	picture, err := mudflat()
	if err != nil {
		return err
	}
	_, err = st.ReadPicture(ctx, "Mudflat at low water.png", picture)
	return err
}

// ferryLine is the commission the demo pieces belong to, with two test tiles of
// which one was chosen.
func ferryLine(ctx context.Context, st *studio.Studio, due time.Time) error {
	c, _, err := st.SaveCommission(ctx, 0, 0, map[string]string{
		"name": "Ferry line, north pier", "client": "The island ferry line, Maren Quill", "wanted": "wet sand, slate, a little rust",
		"unwanted": "gold, purple", "place": "waiting room and ticket hall", "light": "from the north, through glass", "size": "46 cm square and 50 cm round",
	})
	if err != nil {
		return err
	}
	var tiles []int64
	for _, t := range []struct{ name, technique string }{{"Tile one, swiped", "swipe"}, {"Tile two, cells", "cell"}} {
		p, err := st.AddTile(ctx, c.ID, t.name, t.technique)
		if err != nil {
			return err
		}
		if _, _, err := st.EditPiece(ctx, p.ID, p.Rev, map[string]string{"state": string(studio.StateDone)}); err != nil {
			return err
		}
		tiles = append(tiles, p.ID)
	}
	if err := st.ChooseTile(ctx, c.ID, tiles[0], "calmer; the cells were too busy for a waiting room"); err != nil {
		return err
	}
	for _, id := range []int64{1, 2} { // the boards planned for it
		if err := st.AssignPiece(ctx, id, c.ID); err != nil {
			return err
		}
	}
	c, err = st.Commission(ctx, c.ID)
	if err == nil {
		_, _, err = st.SaveCommission(ctx, c.ID, c.Rev, map[string]string{"due": due.Format(time.DateOnly), "state": string(studio.CommissionMaking)})
	}
	return err
}

// madeOf names the pigment of each demo colour; one is left to its swatch.
var madeOf = map[string]string{
	"Wet sand": "Wet sand", "Slate": "Slate", "Eelgrass": "Eelgrass", "Foam white": "Lacing white",
	"Brine": "Brine", "Sluice rust": "Sluice rust", "Deep pan": "Deep tarn", "Salt": "Lacing white",
	"Harbour black": "Lamp soot", "Wake blue": "Ink-blue tint", "Spray": "Soft white",
}

func ebbTide(s *studio.Spec) {
	s.Name = "Ebb tide, waiting room north"
	s.Brief = "Ferry line, north pier. Hangs opposite a window. Wet sand and slate, no gold."
	s.Width, s.Height = 18*units.Inch, 18*units.Inch
	s.Edge, s.EdgeHeight, s.Film = surface.Dam, 3, 1.7
	s.Technique = "swipe"
	s.Colours = []studio.Colour{
		{ID: "c1", Name: "Wet sand", Role: studio.RoleBase, Swatch: "#a08c74", Share: 0.48, Load: 0.03},
		{ID: "c2", Name: "Slate", Role: studio.RoleAccent, Swatch: "#3d4a54", Share: 0.20, Load: 0.035},
		{ID: "c3", Name: "Eelgrass", Role: studio.RoleAccent, Swatch: "#55705a", Share: 0.14, Load: 0.03},
		{ID: "c4", Name: "Foam white", Role: studio.RoleWhite, Swatch: "#f2f1ec", Share: 0.18, Load: 0.045},
	}
}

func saltPans(s *studio.Spec) {
	s.Name = "Salt pans from above"
	s.Brief = "Ticket hall, above the bench. Pale, with rust where the old sluices were."
	s.Support, s.Outline, s.Width, s.Height = surface.Cradled, studio.OutlineRound, 500, 500
	s.Technique, s.Film = "cell", 1.5
	s.Colours = []studio.Colour{
		{ID: "c1", Name: "Brine", Role: studio.RoleBase, Swatch: "#8fa9ad", Share: 0.46, Load: 0.03},
		{ID: "c2", Name: "Sluice rust", Role: studio.RoleAccent, Swatch: "#9c4f2d", Share: 0.16, Load: 0.03},
		{ID: "c3", Name: "Deep pan", Role: studio.RoleAccent, Swatch: "#2b5566", Share: 0.16, Load: 0.03},
		{ID: "c4", Name: "Salt", Role: studio.RoleWhite, Swatch: "#f5f3ee", Share: 0.22, Load: 0.05},
	}
}

func nightFerry(s *studio.Spec) {
	s.Name = "Night ferry, set of three"
	s.Brief = "Captain's mess. Three canvases that read as one wake; dark, one warm light."
	s.Support, s.Width, s.Height, s.Count = surface.Canvas, 300, 600, 3
	s.Technique, s.Film, s.Depth = "flow", 1.4, 38
	s.Colours = []studio.Colour{
		{ID: "c1", Name: "Harbour black", Role: studio.RoleBase, Swatch: "#20262c", Share: 0.34, Load: 0.03},
		{ID: "c2", Name: "Wake blue", Role: studio.RoleAccent, Swatch: "#27506f", Share: 0.30, Load: 0.03},
		{ID: "c3", Name: "Lamp", Role: studio.RoleAccent, Swatch: "#d09a3c", Share: 0.10, Load: 0.03},
		{ID: "c4", Name: "Spray", Role: studio.RoleWhite, Swatch: "#e8ecec", Share: 0.26, Load: 0.04},
	}
}
