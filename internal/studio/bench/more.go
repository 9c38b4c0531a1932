package bench

import (
	"context"
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// A CupNow is a cup at the bench: what is in it, how old that is, and until when it can
// be poured.
type CupNow struct {
	session.CupLeft
	Age   float64 // minutes
	Keeps float64 // more minutes; not positive for what is too old
}

// Pours reports whether what is in the cup can still be poured.
func (c CupNow) Pours() bool { return c.Left > 0 && c.Keeps > 0 }

// CupsNow are the cups of the day as they stand.
func (v View) CupsNow() []CupNow {
	var out []CupNow
	for _, l := range v.Bench.Left() {
		c := CupNow{CupLeft: l}
		if l.BatchNo > 0 && l.BatchNo <= len(v.Mixed) {
			c.Age, c.Keeps = v.Mixed[l.BatchNo-1].Minutes, v.Mixed[l.BatchNo-1].Keeps
		}
		out = append(out, c)
	}
	return out
}

// About is an amount said with the hand: so many palms of the board, at the film that
// lies there.
type About struct {
	Name  msg.ID
	Palms float64
}

// palm is the area of a palm (common practice).
const palm units.Area = 80 * 100

// Abouts holds the amounts that are said with the hand.
var Abouts = []About{{"a thread", 0.25}, {"a palm", 1}, {"two palms", 2}, {"five palms", 5}}

// Volume is how much that is at a film.
func (a About) Volume(film units.Length) units.Volume {
	return units.Volume(math.Ceil(float64(palm.Times(film)) * a.Palms))
}

// mostMore is the most that is poured of a cup beyond the plan: beyond it it is another coat.
const mostMore = 5000 * units.Millilitre

// More pours more of a cup: of what is in it where that is enough and keeps, else of a
// fresh batch, whose card says what to weigh and until when it must be poured.
func (s *Service) More(
	ctx context.Context,
	id int64,
	rehearsal bool,
	cup, typed string,
	place technique.Place,
) (session.Bench, error) {
	v, err := s.current(ctx, id, rehearsal)
	if err != nil {
		return v.Bench, err
	}
	if len(v.Cups) == 0 {
		return v.Bench, form.Refusef("cup", "this bench day was started before cups were recorded")
	}
	c, ok := v.Cup(cup)
	if !ok {
		return v.Bench, form.Refusef("cup", "there is no such cup")
	}
	if err := onBoard(place); err != nil {
		return v.Bench, err
	}
	film, lies := v.FilmAt(place)
	if !lies {
		return v.Bench, form.Refusef("cup", "nothing is on the board yet")
	}
	closes := film.Clock.Window(cure.Holding).To - film.Age()
	if closes <= 0 {
		return v.Bench, form.Refusef("cup", "the film no longer takes a pour: what is missing is for the next coat")
	}
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return v.Bench, err
	}
	r, err := units.ParseVolume(typed, form.BareVolume(set.Units))
	if err != nil {
		return v.Bench, &form.Refused{Field: "amount", Err: err}
	}
	if r.Value < 1 || r.Value > mostMore {
		return v.Bench, form.Refusef("amount", "between 1 mL and 5 L of a cup")
	}
	pour := pourMore(c, r.Value, place, set.Units)
	fresh, err := v.fresh(c, r.Value, place, set.Units, closes)
	if err != nil {
		return v.Bench, err
	}
	spilt := v.Trial != nil && v.Trial.Cup == cup // in a rehearsal it lies on the table
	keeps := func(l session.CupLeft) bool {
		return !spilt && l.BatchNo > 0 && l.BatchNo <= len(v.Mixed) && v.Mixed[l.BatchNo-1].Keeps > 0
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.MoreOf(cup, r.Value, pour, fresh, keeps))
}

// pourMore is the step that pours an amount of a cup.
func pourMore(c session.Cup, v units.Volume, place technique.Place, sys units.System) session.Step {
	return session.Step{
		Name:    msg.Store(msg.F("More of %s", c.Name)),
		Do:      msg.Store(msg.ID("Pour it where it is wanted, close to what lies there.")),
		Kind:    plan.StepHands,
		Pours:   true,
		Window:  cure.Holding,
		AtOnce:  true,
		Minutes: pourTakes,
		Usual:   pourTakes,
		Move:    technique.Ribbon,
		Place:   place,
		Cups:    []string{c.ID},
		Pourings: map[string]units.Volume{
			c.ID: v,
		},
		With: append(takes(msg.F("%s %s", c.Name, v.Text(sys))), where(place)...),
	}
}

// takes is the use of a step, stored with it.
func takes(with ...msg.Text) []msg.Stored {
	out := make([]msg.Stored, len(with))
	for i, w := range with {
		out[i] = msg.Store(w)
	}
	return out
}

// pourTakes is how many minutes a little more takes to pour, and tintTakes to colour.
const (
	pourTakes = 1.0
	tintTakes = 1.0
)

// fresh is a batch for one cup, never less than can be weighed true.
func (v View) fresh(
	c session.Cup,
	wanted units.Volume,
	place technique.Place,
	sys units.System,
	closes float64,
) (session.Fresh, error) {
	volume := max(wanted, plan.LeastBatch)
	batch, err := v.Product.Volume(volume)
	if err != nil {
		return session.Fresh{}, &form.Refused{Field: "amount", Err: err}
	}
	keeps := (1 - plan.KeepMargin) * v.Kinetics.Keeps(
		v.RoomAt.Temperature,
		v.RoomAt.Temperature,
		cure.Standing{Mass: batch.Mass()},
	)
	mixes := v.Product.MixMinutes
	with := []msg.Text{msg.F("A %s + B %s", batch.A.Mass.Text(sys), batch.B.Mass.Text(sys))}
	used := stock.Amounts{{Kind: store.Resins, ID: v.Resin}: float64(volume)}
	for _, d := range c.Doses {
		grams := batch.Mass() * units.Mass(d.Load)
		with = append(with, msg.F("%s %s", grams.Text(sys), d.Name))
		if d.Pigment != 0 {
			used[stock.Thing{Kind: store.Pigments, ID: d.Pigment}] += float64(grams)
		}
		mixes += tintTakes
	}
	with = append(with, msg.F("pour it within %s of mixing", words.Spoken(math.Min(keeps, closes))))
	if over := volume - wanted; over > 0 {
		with = append(with, msg.F("%s is left over: less cannot be weighed accurately", over.Text(sys)))
	}
	mix := session.Step{
		Name:    msg.Store(msg.F("Mix %s of %s", volume.Text(sys), c.Name)),
		Do:      msg.Store(msg.ID("Part A, then B, at the scale; stir until no streak is left, then the pigment.")),
		Kind:    plan.StepMix,
		Mixing:  true,
		Minutes: mixes,
		Usual:   mixes,
		Safety:  []string{"gloves"},
		With:    takes(with...),
		Takes:   used,
	}
	return session.Fresh{
		Mix:  mix,
		Pour: pourMore(c, wanted, place, sys),
		Batch: session.Batch{
			Cups:   []string{c.Name},
			Feeds:  map[string]units.Volume{c.ID: volume},
			Volume: volume,
			UseBy:  keeps,
		},
	}, nil
}
