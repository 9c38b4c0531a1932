package bench

import (
	"context"
	"math"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/session"
)

// mostByEye is the most pigment a cup holds: more is paint, not resin.
const mostByEye = 0.5

// ByEye keeps a cup that was coloured by eye as the recipe: weighed clear and coloured,
// the difference is its pigment. It notes the load and how much its film hides.
func (s *Service) ByEye(ctx context.Context, id int64, rehearsal bool, cup, clear, full string) (session.Bench, error) {
	b, err := s.log.Bench(ctx, id, rehearsal)
	if err != nil {
		return b, err
	}
	if rehearsal {
		return b, form.Refusef("cup", "a rehearsal saves no recipes")
	}
	c, ok := b.Cup(cup)
	if !ok || len(c.Doses) == 0 {
		return b, form.Refusef("cup", "that cup has no pigment to be weighed")
	}
	without, err := units.ParseMass(clear, "g")
	if err != nil {
		return b, &form.Refused{Field: "clear", Err: err}
	}
	with, err := units.ParseMass(full, "g")
	if err != nil {
		return b, &form.Refused{Field: "full", Err: err}
	}
	if without.Value <= 0 || with.Value <= without.Value || with.Value > without.Value*(1+mostByEye) {
		return b, form.Refusef("full", "coloured it weighs more than clear, by no more than half")
	}
	load := float64(with.Value/without.Value) - 1
	p, err := s.pieces.ChangeCup(ctx, b.PieceID, b.Coat, cup, func(col *plan.Colour) error {
		return reload(col, load)
	})
	if err != nil {
		return b, err
	}
	text := msg.F("%s by eye: %s of pigment in %s, %s %%", c.Name, (with.Value - without.Value).Text(units.Metric),
		without.Value.Text(units.Metric), msg.Figure(units.Fixed(100*load, 1)))
	v, err := s.agenda.Plan(ctx, p)
	if err != nil {
		return b, err
	}
	if coat := v.Plan.Coat(b.Coat); coat != nil {
		if now := coat.Cup(cup); now != nil {
			text = msg.F("%s; its film covers %s %%", text, msg.Figure(units.Fixed(now.Percent(), 0)))
		}
	}
	said := text.In(v.Agenda.Book.Settings.Lang())
	return s.log.Press(ctx, id, 0, false, session.Noted(session.Note, said, 0))
}

// reload gives a cup a load, its pigments in the shares they had.
func reload(col *plan.Colour, load float64) error {
	doses := col.Doses()
	sum := col.TotalLoad()
	if len(doses) == 0 || sum <= 0 || math.IsInf(load, 0) {
		return form.Refusef("cup", "that cup has no pigment to be weighed")
	}
	for i := range doses {
		doses[i].Load *= load / sum
	}
	col.SetDoses(doses)
	return nil
}
