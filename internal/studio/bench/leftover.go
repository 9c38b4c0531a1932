package bench

import (
	"context"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/stock"
)

// usualDepth is how deep a small mould is filled where only its volume is known
// (common practice).
const usualDepth = 8 * units.Millimetre

// A Rest is where what was left of a coat went: into one of the studio's small
// moulds, or over boards of its own.
type Rest struct {
	Mould  string   // by its name; "" for boards
	Count  string   // of boards
	Size   string   // of one of them
	Volume string   // what went onto all of them
	Cups   []string // that it was poured from
}

// mostTiles is how many boards a rest can be divided over.
const mostTiles = 24

// leastRest is the thinnest film that closes over a board (common practice: a veil
// of half a millimetre).
const leastRest = 0.5 * units.Millimetre

// Leftover keeps what was left of a coat as a piece of its own, poured now: a cast
// in a small mould, or a flood over boards, of the cups it was poured from.
func (s *Service) Leftover(ctx context.Context, id int64, rest Rest) (pieces.Piece, error) {
	b, err := s.log.Bench(ctx, id, false)
	if err != nil {
		return pieces.Piece{}, err
	}
	v, err := s.view(ctx, b.PieceID)
	if err != nil {
		return pieces.Piece{}, err
	}
	coat := v.Plan.Coat(b.Coat)
	if coat == nil {
		return pieces.Piece{}, form.Refusef("mould", "the coat is no longer in the plan of this piece")
	}
	var kept []plan.Colour
	for _, c := range coat.Layer.Coat.Colours {
		if slices.Contains(rest.Cups, c.ID) {
			c.Share, c.Volume = 1, 0
			kept = append(kept, c)
		}
	}
	if len(kept) == 0 {
		return pieces.Piece{}, form.Refusef("cup", "choose which cups it was filled from")
	}
	spec, left, err := rest.spec(v, coat, kept)
	if err != nil {
		return pieces.Piece{}, err
	}
	names := make([]string, len(kept))
	for i, c := range kept {
		names[i] = c.Name
	}
	spec.Brief = msg.F("%s, left over from the %s.", strings.Join(names, ", "), msg.Lower(b.Name)).
		In(v.Agenda.Book.Settings.Lang())
	spec.Start = s.now()
	var p pieces.Piece
	err = s.store.Write(ctx, "keep the leftover", func(tx *store.Tx) error {
		var err error
		if p, err = pieces.AddTo(ctx, tx, spec, s.now()); err != nil {
			return err
		}
		moved := stock.Amounts{{Kind: store.Resins, ID: coat.Product.ID}: float64(left)}
		if err := stock.Moved(ctx, tx, b.PieceID, b.Coat, p.ID, plan.FirstCoat, moved, s.now()); err != nil {
			return err
		}
		return tx.SetTaskMark(ctx, store.TaskMark{Piece: p.ID, Task: plan.PourKey(plan.FirstCoat), Kind: store.MarkDone,
			At: s.now()})
	})
	return p, err
}

// spec is the piece a rest becomes, and how much resin went into it.
func (r Rest) spec(v agenda.View, coat *plan.Coat, cups []plan.Colour) (plan.Spec, units.Volume, error) {
	if r.Mould == "" {
		return r.onBoards(v, coat, cups)
	}
	at := slices.IndexFunc(v.Plan.Context.Moulds, func(m plan.SmallMould) bool { return m.Name == r.Mould })
	if at < 0 {
		return plan.Spec{}, 0, form.Refusef("mould", "choose a mould; those of the studio stand in the settings")
	}
	mould := v.Plan.Context.Moulds[at]
	spec := leftoverSpec(v.Plan.Context, mould, coat.Layer.Coat.Product, cups)
	spec.Name = pieces.Shorten(msg.F("%s left over from %s", msg.Capital(msg.Own(r.Mould)), v.Piece.Name).
		In(v.Agenda.Book.Settings.Lang()), 80)
	return spec, mould.Volume, nil
}

// onBoards is a flood of what was left over boards of its own; more than was mixed
// cannot be left.
func (r Rest) onBoards(v agenda.View, coat *plan.Coat, cups []plan.Colour) (plan.Spec, units.Volume, error) {
	none := plan.Spec{}
	sys := v.Agenda.Book.Settings.Units
	count, err := strconv.Atoi(strings.TrimSpace(r.Count))
	if err != nil || count < 1 || count > mostTiles {
		return none, 0, form.Refusef("count", "one to %d boards", mostTiles)
	}
	w, h, err := units.ParseSize(r.Size, form.BareLength(sys))
	if err != nil {
		return none, 0, &form.Refused{Field: "size", Err: err}
	}
	left, err := units.ParseVolume(r.Volume, form.BareVolume(sys))
	if err != nil {
		return none, 0, &form.Refused{Field: "volume", Err: err}
	}
	mixed := units.Volume(0)
	for _, l := range coat.Batches {
		mixed += l.Volume
	}
	if left.Value <= 0 || left.Value > mixed {
		return none, 0, form.Refusef("volume", "no more can be left than the %s that were mixed", mixed.Text(sys))
	}
	face := units.Area(float64(w.Value)*float64(h.Value)) * units.Area(count)
	film := units.Length(float64(left.Value) * 1000 / float64(face))
	if film < leastRest {
		covers := int(float64(count) * float64(film/leastRest))
		return none, 0, form.Refusef("count", "%s makes a film of %s on %d boards, too thin to close; it is enough for %d",
			left.Value.Text(sys), film.Film(sys), count, covers)
	}
	spec := plan.NewSpec(v.Plan.Context, coat.Layer.Coat.Product, time.Time{})
	spec.Stand(surface.Tile)
	spec.Count, spec.Width, spec.Height, spec.Sides = count, w.Value, h.Value, surface.SidesPainted
	flood, _ := v.Plan.Context.Book.Find("flood")
	first := plan.NewCoat(v.Plan.Context, plan.FirstCoat, flood, coat.Layer.Coat.Product, film)
	first.Coat.Colours, first.Coat.Silicone = cups, false
	spec.Layers = []plan.Layer{first}
	spec.Name = pieces.Shorten(msg.F("%d boards from what %s left over", count, v.Piece.Name).
		In(v.Agenda.Book.Settings.Lang()), 80)
	return spec, left.Value, nil
}

// leftoverSpec is a cast of so much resin in a small mould.
func leftoverSpec(ctx *plan.Context, mould plan.SmallMould, product int64, cups []plan.Colour) plan.Spec {
	spec := plan.NewSpec(ctx, product, time.Time{})
	side := units.Length(math.Sqrt(float64(mould.Volume) * 1000 / float64(usualDepth)))
	spec.Support, spec.Width, spec.Height, spec.Depth = surface.MouldSlab, side, side, usualDepth
	spec.Edge, spec.MouldDepth, spec.BackMask = surface.MouldSlab.Rule().Edge, usualDepth, false
	spec.Ground = surface.MouldSlab.Rule().Ground
	slab, _ := technique.Find("slab")
	first := plan.NewCoat(ctx, plan.FirstCoat, slab, product, usualDepth)
	first.Coat.Amount = plan.Amount{Film: usualDepth}
	first.Coat.Colours, first.Coat.Silicone = cups, false
	spec.Layers = []plan.Layer{first}
	return spec
}
