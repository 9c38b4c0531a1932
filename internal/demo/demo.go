// Package demo fills an empty studio with made-up pieces, the way a painter
// would: through its services, never past them.
//
// The scenario is invented: Orla Wenning paints tidal flats for the waiting
// rooms of the ferry line between two islands that are on no map.
package demo

import (
	"context"
	"fmt"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/device/simulated"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/studio"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// Devices are the stand-ins of the demo's bench: a sensor in the room. A scale
// can be switched on where the instruments are.
func Devices(now func() time.Time) *bench.Devices {
	d := &bench.Devices{}
	d.ConnectRoom(simulated.NewRoom(21, now), true)
	return d
}

// laid is a studio that is being filled.
type laid struct {
	*studio.Studio
	photos map[string]func() (picture.Photo, error)
}

// A board is one of the demo's pieces.
type board struct {
	paint   func(s *plan.Spec, b *materials.Book) error
	product string
	day     int // from today
	hour    int
	start   string // a beginning for its composition
}

var boards = []board{
	{ebbTide, "Hollin Bench 45", 2, 9, ""},
	{saltPans, "Hollin Slow 60", 1, 10, "scatter"},
	{nightFerry, "Tansy Studio 90", 4, 9, ""},
}

// Fill adds the demo pieces unless the studio has pieces already. With the studio's clock it
// lays eight months out behind them, and a bench day that began an hour ago.
func Fill(ctx context.Context, empty *studio.Studio, past *Travel) error {
	_, n, err := empty.Pieces.Pieces(ctx, "", 1, 0)
	if err != nil || n > 0 {
		return err
	}
	st := &laid{empty, album(ctx, empty)}
	if past != nil {
		go st.readAhead()
	}
	if err := st.Materials.CopyAllExamples(ctx); err != nil {
		return err
	}
	if _, n, err := st.Setup.Edit(ctx, map[string]string{"hours": "mon-sun 07:00-21:00"}); err != nil || !n.OK() {
		return fmt.Errorf("set the demo's hours: %w %v", err, n.Errors)
	}
	book, err := st.Materials.Book(ctx)
	if err != nil {
		return err
	}
	if err := fillStock(ctx, st, book); err != nil {
		return err
	}
	if _, n, err := st.Prices.SaveTerms(ctx, 0, terms, nil); err != nil || !n.OK() {
		return fmt.Errorf("keep the terms: %w %v", err, n.Errors)
	}
	if past != nil {
		if err := addPast(ctx, st, book, past); err != nil {
			return err
		}
	}
	if err := fillHand(ctx, st, book); err != nil || past == nil {
		return err
	}
	return addCurrent(ctx, st, book, past)
}

// fillHand adds what is in hand: boards, their commission, a picture, and studies of before.
func fillHand(ctx context.Context, st *laid, book *materials.Book) error {
	y, m, d := st.Now().Local().Date()
	at := func(days, hour int) time.Time { return time.Date(y, m, d+days, hour, 0, 0, 0, time.Local) }
	var made []int64
	for _, b := range boards {
		p, err := b.add(ctx, st, book, at(b.day, b.hour))
		if err != nil {
			return fmt.Errorf("add a demo piece: %w", err)
		}
		made = append(made, p.ID)
	}
	if err := ferryLine(ctx, st, made[:2], at(16, 18)); err != nil {
		return err
	}
	picture, err := mudflat()
	if err != nil {
		return err
	}
	if _, err = st.Colours.ReadPicture(ctx, "Mudflat at low water.png", picture); err != nil {
		return err
	}
	return pastStudies(ctx, st, book)
}

func (b board) add(ctx context.Context, st *laid, book *materials.Book, start time.Time) (pieces.Piece, error) {
	spec := plan.NewSpec(book.Context, productNamed(book, b.product), start)
	spec.Asked = true
	if err := b.paint(&spec, book); err != nil {
		return pieces.Piece{}, err
	}
	p, err := st.Pieces.Add(ctx, spec)
	if err == nil && b.start != "" {
		p, err = st.Pieces.StartComposition(ctx, p.ID, plan.FirstCoat, b.start)
	}
	return p, err
}

func productNamed(book *materials.Book, name string) int64 {
	for _, p := range book.Resins {
		if p.Name == name {
			return p.ID
		}
	}
	return 0
}

// ferryLine is the commission the demo boards belong to, with two test tiles
// of which one was chosen.
func ferryLine(ctx context.Context, st *laid, boards []int64, due time.Time) error {
	c, _, err := st.Commissions.Save(ctx, 0, 0, map[string]string{
		"name": "Ferry line, north pier", "client": "The island ferry line, Maren Quill",
		"wanted":   "wet sand, slate, a little rust",
		"unwanted": "gold, purple", "place": "waiting room and ticket hall", "light": "from the north, through glass",
		"size": "18 x 18 in", "count": "2",
	})
	if err != nil {
		return err
	}
	tiles := make([]int64, 0, 2)
	for _, t := range []struct{ name, technique string }{{"Tile one, swiped", "swipe"}, {"Tile two, cells", "cell"}} {
		id, err := tile(ctx, st, c.ID, t.name, t.technique)
		if err != nil {
			return err
		}
		tiles = append(tiles, id)
	}
	if err := st.Commissions.ChooseTile(ctx, c.ID, tiles[0],
		"calmer; the cells were too busy for a waiting room"); err != nil {
		return err
	}
	for _, id := range boards {
		assign := func(s *plan.Spec) error { s.Commission = c.ID; return nil }
		if _, err := st.Pieces.Change(ctx, id, assign); err != nil {
			return err
		}
	}
	if c, err = st.Commissions.Commission(ctx, c.ID); err != nil {
		return err
	}
	if _, _, err = st.Commissions.Save(ctx, c.ID, c.Rev, map[string]string{"due": due.Format(time.DateOnly),
		"state": string(commissions.Making), "address": "Ferry office, north pier\nSallow",
		"contact": "maren@islandferry.example"}); err != nil {
		return err
	}
	return fillTrade(ctx, st, c.ID)
}

// tile is a test tile that was poured the day before yesterday.
func tile(ctx context.Context, st *laid, commission int64, name, technique string) (int64, error) {
	p, err := st.Commissions.AddTile(ctx, commission, name, technique)
	if err != nil {
		return 0, err
	}
	poured := st.Now().Add(-48 * time.Hour)
	for _, l := range p.Layers {
		if l.Coat == nil {
			continue
		}
		if err := st.Agenda.Mark(ctx, p.ID, plan.PourKey(l.ID), poured); err != nil {
			return 0, err
		}
	}
	_, _, err = st.Pieces.Edit(ctx, p.ID, p.Rev, map[string]string{"state": string(plan.Done)})
	return p.ID, err
}

// A cup is a cup of the demo with the pigment it is made of; "" leaves it to
// its swatch.
type cup struct {
	name, pigment, swatch string
	role                  technique.Role
	share, load           float64
}

// pour gives the first coat its technique, film and cups.
func pour(s *plan.Spec, b *materials.Book, id string, film units.Length, cups ...cup) error {
	t, ok := b.Techniques().Find(id)
	if !ok {
		return fmt.Errorf("no technique %q", id)
	}
	first := s.First()
	before, _ := b.Techniques().Find(first.What)
	first.Retechnique(t, before)
	first.Coat.Amount = plan.Amount{Film: film}
	first.Coat.Colours = nil
	for i, c := range cups {
		first.Coat.Colours = append(first.Coat.Colours,
			plan.Colour{ID: fmt.Sprintf("c%d", i+1), Name: c.name, Role: c.role, Swatch: c.swatch,
				Share: c.share, Load: c.load, Pigment: pigmentNamed(b, c.pigment), Named: true, Picked: true})
	}
	return nil
}

func pigmentNamed(b *materials.Book, name string) int64 {
	for _, p := range b.Paints {
		if p.Name == name {
			return p.ID
		}
	}
	return 0
}

func ebbTide(s *plan.Spec, b *materials.Book) error {
	s.Name = "Ebb tide, waiting room north"
	s.Brief = "Ferry line, north pier. Hangs opposite a window. Wet sand and slate, no gold."
	s.Width, s.Height = 18*units.Inch, 18*units.Inch
	s.Edge, s.EdgeHeight = surface.Dam, 3
	if err := pour(s, b, "swipe", 1.7,
		cup{"Wet sand", "Wet sand", "#a08c74", technique.Base, 0.48, 0.03},
		cup{"Slate", "Slate", "#3d4a54", technique.Accent, 0.20, 0.035},
		cup{"Eelgrass", "Eelgrass", "#55705a", technique.Accent, 0.14, 0.03},
		cup{"Foam white", "Lacing white", "#f2f1ec", technique.White, 0.18, 0.045}); err != nil {
		return err
	}
	// A good third of the slate drips into the lace when that has thickened: a batch of
	// its own, large enough to be weighed true.
	if err := keptBack(s, b.Context, "c2", 0.36, technique.Drizzle, "near", 0.35); err != nil {
		return err
	}
	s.Seal(b.Context)
	return nil
}

// keptBack pours a part of a cup of the first coat once its own moves are over, on so
// much of the board.
func keptBack(s *plan.Spec, ctx *plan.Context, cup string, part float64, kind technique.MoveKind, place technique.Place,
	area float64) error {
	coat := s.First().ID
	id, err := s.AddMove(ctx, coat, string(kind), "")
	if err != nil {
		return err
	}
	m := s.Coat(coat).Move(id)
	was := m.Cup
	m.Cup, m.Place, m.Area, m.Optional = cup, place, area, true
	s.Coat(coat).Reshared(was, cup)
	m.Part = part
	s.Coat(coat).Parted(id)
	return nil
}

func saltPans(s *plan.Spec, b *materials.Book) error {
	s.Name = "Salt pans from above"
	s.Brief = "Ticket hall, above the bench. Pale, with rust where the old sluices were."
	s.Stand(surface.Cradled)
	s.Outline, s.Width, s.Height, s.Asked = plan.Round, 500, 500, true
	if err := pour(s, b, "cell", 1.5,
		cup{"Brine", "Brine", "#8fa9ad", technique.Base, 0.46, 0.03},
		cup{"Sluice rust", "Sluice rust", "#9c4f2d", technique.Accent, 0.16, 0.03},
		cup{"Deep pan", "Deep tarn", "#2b5566", technique.Accent, 0.16, 0.03},
		cup{"Salt", "Lacing white", "#f5f3ee", technique.White, 0.22, 0.05}); err != nil {
		return err
	}
	// Dots of alcohol open further cells at the rim.
	_, err := s.AddMove(b.Context, s.First().ID, "dots", "")
	s.Seal(b.Context)
	return err
}

func nightFerry(s *plan.Spec, b *materials.Book) error {
	s.Name = "Night ferry, set of three"
	s.Brief = "Captain's mess. Three canvases that read as one wake; dark, one warm light."
	s.Stand(surface.Canvas)
	s.Width, s.Height, s.Count, s.Depth, s.Asked = 300, 600, 3, 38, true
	if err := pour(s, b, "flow", 1.4,
		cup{"Harbour black", "Lamp soot", "#20262c", technique.Base, 0.34, 0.03},
		cup{"Wake blue", "Ink-blue tint", "#27506f", technique.Accent, 0.30, 0.03},
		cup{"Lamp", "", "#d09a3c", technique.Accent, 0.10, 0.03},
		cup{"Spray", "Soft white", "#e8ecec", technique.White, 0.26, 0.04}); err != nil {
		return err
	}
	// The second coat is lines of light on clear, over the wake; a clear one seals it.
	if _, err := s.AddLayer(b.Context, "lines"); err != nil {
		return err
	}
	s.Seal(b.Context)
	return nil
}
