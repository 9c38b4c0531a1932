package bench

import (
	"context"
	"slices"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
)

// farTooMuch is how many times the plan a coat cannot have taken.
const farTooMuch = 20

// RecordUse keeps what a coat really took, typed as a volume. The planned side
// is the plan before learning, so that the ratio does not feed on itself; cup
// loss and pigments are left out of both.
func (s *Service) RecordUse(ctx context.Context, piece int64, coat, typed string) (note msg.Text, err error) {
	v, err := s.view(ctx, piece)
	if err != nil {
		return nil, err
	}
	c := v.Plan.Coat(coat)
	if c == nil {
		return nil, store.ErrNotFound
	}
	field := "used." + coat
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return nil, err
	}
	r, err := units.ParseVolumeOf(typed, form.BareVolume(set.Units), c.Product.Density())
	if err != nil {
		return nil, &form.Refused{Field: field, Err: err}
	}
	used := r.Value - c.Amount.CupLoss
	if used <= 0 {
		return nil, form.Refusef(field, "a coat takes more than what stays in its cups")
	}
	if r.Value > farTooMuch*c.Total {
		return nil, form.Refusef(field, "that is more than twenty times the plan; check the unit")
	}
	err = s.store.Write(ctx, "record what the coat took", func(tx *store.Tx) error {
		if err := tx.RecordUse(ctx, store.Use{PieceID: piece, Coat: coat, Technique: c.Layer.What,
			Planned: float64(c.Amount.Poured() * (1 - c.Pigments/c.Poured)), Used: float64(used), At: s.now()}); err != nil {
			return err
		}
		return stock.Settle(ctx, tx, piece, coat, stock.Recorded, took(v.Plan, c, r.Value), s.now())
	})
	return r.Note, err
}

// took is the stock used by a coat that took so much resin: its pigments in the
// proportion of the plan.
func took(p *plan.Plan, c *plan.Coat, resin units.Volume) stock.Amounts {
	out := stock.Takes(p, c, nil)
	for t := range out {
		out[t] *= float64(resin / c.Total)
	}
	return out
}

// Weighed returns what was really mixed for a coat: the newest weigh-out of it that
// was ended, else what was planned and mixed, with what was added at its bench day.
func (s *Service) Weighed(ctx context.Context, piece int64, c *plan.Coat) (units.Volume, error) {
	mixed := c.Total
	list, err := s.log.WeighingsOf(ctx, piece)
	if err != nil {
		return 0, err
	}
	i := slices.IndexFunc(list, func(w weighing.Weighing) bool { return w.Coat == c.ID && w.Done })
	if i >= 0 {
		mixed = list[i].Mixed()
	}
	days, err := s.log.BenchesOf(ctx, piece, false)
	if err != nil {
		return 0, err
	}
	k := slices.IndexFunc(days, func(b session.Bench) bool { return b.Coat == c.ID })
	if k < 0 {
		return mixed, nil
	}
	if i >= 0 { // what was weighed was mixed
		return mixed + days[k].MixedOver(0), nil
	}
	if planned := days[k].Planned(); planned > 0 {
		mixed = planned
	}
	mixed += days[k].MixedOver(mixed)
	return mixed, nil
}

// Recipes are the cups of a piece as they were weighed, by coat: the newest weigh-out
// of each that was ended.
func (s *Service) Recipes(ctx context.Context, piece int64) (map[string][]plan.WeighedCup, error) {
	list, err := s.log.WeighingsOf(ctx, piece)
	if err != nil {
		return nil, err
	}
	out := map[string][]plan.WeighedCup{}
	for _, w := range list {
		if _, newer := out[w.Coat]; w.Done && !newer {
			out[w.Coat] = w.Recipe()
		}
	}
	return out, nil
}

// RecordLeft keeps what a coat took by what was left of it in jugs and cups.
func (s *Service) RecordLeft(ctx context.Context, id int64, typed string) error {
	b, err := s.log.Bench(ctx, id, false)
	if err != nil {
		return err
	}
	v, err := s.view(ctx, b.PieceID)
	if err != nil {
		return err
	}
	c := v.Plan.Coat(b.Coat)
	if c == nil {
		return store.ErrNotFound
	}
	r, err := units.ParseVolumeOf(typed, form.BareVolume(v.Agenda.Book.Settings.Units), c.Product.Density())
	if err != nil {
		return &form.Refused{Field: "left", Err: err}
	}
	mixed, err := s.Weighed(ctx, b.PieceID, c)
	if err != nil {
		return err
	}
	if r.Value < 0 || r.Value >= mixed {
		return form.Refusef("left", "no more can be left than the %s that were mixed",
			mixed.Text(v.Agenda.Book.Settings.Units))
	}
	// What stays in the cups anyway is part of both sides of the ratio.
	_, err = s.RecordUse(ctx, b.PieceID, b.Coat, form.VolumeText(mixed-r.Value+c.Amount.CupLoss, units.Metric))
	return err
}

// A Use is the use of one coat, cup loss left out.
type Use struct {
	Planned, Used units.Volume
}

// Uses returns what the coats of a piece took, by coat.
func (s *Service) Uses(ctx context.Context, piece int64) (map[string]Use, error) {
	rows, err := s.store.UsesOf(ctx, piece)
	if err != nil {
		return nil, err
	}
	out := make(map[string]Use, len(rows))
	for _, r := range rows {
		out[r.Coat] = Use{units.Volume(r.Planned), units.Volume(r.Used)}
	}
	return out, nil
}
