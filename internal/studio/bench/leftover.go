package bench

import (
	"context"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// usualDepth is how deep a small mould is filled where only its volume is known
// (common practice).
const usualDepth = 8 * units.Millimetre

// Leftover keeps what was left of a coat as a piece of its own: a cast in one of
// the studio's small moulds, of the cups it was filled with, poured now.
func (s *Service) Leftover(ctx context.Context, id int64, mould string, cups []string) (pieces.Piece, error) {
	b, err := s.log.Bench(ctx, id, false)
	if err != nil {
		return pieces.Piece{}, err
	}
	v, err := s.view(ctx, b.PieceID)
	if err != nil {
		return pieces.Piece{}, err
	}
	at := slices.IndexFunc(v.Plan.Context.Moulds, func(m plan.SmallMould) bool { return m.Name == mould })
	if at < 0 {
		return pieces.Piece{}, form.Refusef("mould", "choose a mould; those of the studio stand in the settings")
	}
	coat := v.Plan.Coat(b.Coat)
	if coat == nil {
		return pieces.Piece{}, form.Refusef("mould", "the coat is no longer in the plan of this piece")
	}
	var kept []plan.Colour
	for _, c := range coat.Layer.Coat.Colours {
		if slices.Contains(cups, c.ID) {
			kept = append(kept, c)
		}
	}
	if len(kept) == 0 {
		return pieces.Piece{}, form.Refusef("cup", "say which cups it was filled from")
	}
	spec := leftoverSpec(v.Plan.Context, v.Plan.Context.Moulds[at], coat.Layer.Coat.Product, kept)
	spec.Name = pieces.Shorten(words.F("%s of what %s left", words.Capital(mould), v.Piece.Name), 80)
	names := make([]string, len(kept))
	for i, c := range kept {
		names[i] = c.Name
	}
	spec.Brief = words.F("%s, left over from the %s.", strings.Join(names, ", "), words.Lower(b.Name))
	spec.Start = s.now()
	var p pieces.Piece
	err = s.store.Write(ctx, "keep the leftover", func(tx *store.Tx) error {
		var err error
		if p, err = pieces.AddTo(ctx, tx, spec, s.now()); err != nil {
			return err
		}
		left := stock.Amounts{{Kind: store.Resins, ID: coat.Product.ID}: float64(v.Plan.Context.Moulds[at].Volume)}
		if err := stock.Moved(ctx, tx, b.PieceID, b.Coat, p.ID, plan.FirstCoat, left, s.now()); err != nil {
			return err
		}
		return tx.SetTaskMark(ctx, store.TaskMark{Piece: p.ID, Task: plan.PourKey(plan.FirstCoat), Kind: store.MarkDone, At: s.now()})
	})
	return p, err
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
	for i := range cups {
		cups[i].Share, cups[i].Volume = 1/float64(len(cups)), 0
	}
	first.Coat.Colours, first.Coat.Silicone = cups, false
	spec.Layers = []plan.Layer{first}
	return spec
}
