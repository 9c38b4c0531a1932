package technique

import (
	"slices"

	"jevvo/internal/msg"
)

// An Option is something a painter chooses for a coat of a technique; what is
// chosen changes its steps.
type Option struct {
	Key     string
	Name    msg.Preset
	Choices []Choice // the first is the usual one
}

// A Choice is one way, with what it changes.
type Choice struct {
	Key     string
	Words   msg.Preset
	Changes []Change
}

// A Change is made to the step with an id: what it says replaces what the step
// said; nothing leaves it.
type Change struct {
	Step        string
	Do, LookFor msg.Preset
	ZoneM2      float64
	PerM2       float64
	Order       string
	Safe        bool  // what it lays does not burn: nothing to flash off
	Drop        bool  // the step is left out
	Then        *Step // comes after it
}

// Chosen returns the technique as it is done with the choices, by the keys of
// the options; what is not chosen is the usual way.
func (t Technique) Chosen(choices map[string]string) Technique {
	for _, o := range t.Options {
		t.Steps = o.choice(choices[o.Key]).change(t.Steps)
	}
	return t
}

// Choice returns the choice with the key, the usual one for a key that is none.
func (o Option) choice(key string) Choice {
	for _, c := range o.Choices {
		if c.Key == key {
			return c
		}
	}
	return o.Choices[0]
}

func (c Choice) change(steps []Step) []Step {
	out := slices.Clone(steps)
	for _, ch := range c.Changes {
		for i := range out {
			if out[i].ID == ch.Step {
				out[i] = ch.of(out[i])
			}
		}
		if i := slices.IndexFunc(out, func(s Step) bool { return s.ID == ch.Step }); i >= 0 && ch.Then != nil {
			out = slices.Insert(out, i+1, *ch.Then)
		}
		if ch.Drop {
			out = slices.DeleteFunc(out, func(s Step) bool { return s.ID == ch.Step })
		}
	}
	return out
}

func (c Change) of(s Step) Step {
	if c.Do != "" {
		s.Do = c.Do
	}
	if c.LookFor != "" {
		s.LookFor = c.LookFor
	}
	if c.ZoneM2 > 0 {
		s.ZoneM2 = c.ZoneM2
	}
	if c.PerM2 > 0 {
		s.PerM2 = c.PerM2
	}
	if c.Order != "" {
		s.Order = c.Order
	}
	if c.Safe {
		s.FlashOff, s.Safety = 0, slices.DeleteFunc(slices.Clone(s.Safety), func(k string) bool { return k == "ink" })
	}
	return s
}

// An Extra is a step that any coat can have besides those of its technique.
type Extra struct {
	ID    string
	First bool // before anything is poured
	Step
}

// Extras holds them (common practice). Those before mixing come first at the
// bench, the others before the cover goes on.
var Extras = []Extra{
	{ID: "double-cups", Step: Step{ID: "double-the-cups", Name: "Double the cups", BeforeMixing: true, Fixed: 1,
		PerCup: 0.2,
		Do:     "Set each paper cup into a second one: a warm batch softens one, and a leak stays in the other."}},
	{ID: "cover-table", Step: Step{ID: "cover-the-table", Name: "Cover the table", BeforeMixing: true, Fixed: 4, PerM2: 2,
		Do: "A sheet that resin does not stick to, larger than the board by a hand all round, so that run-off " +
			"can be lifted."}},
	{ID: "warm-bottles", Step: Step{ID: "warm-the-bottles", Name: "Warm the bottles", BeforeMixing: true, Fixed: 2,
		Do: "Stand the closed bottles in warm water before they are weighed, and dry them: cool resin holds its bubbles."}},
	{ID: "level-puddle", First: true, Step: Step{ID: "first-puddle", Name: "First puddle as a level test", Window: "Runny",
		AtOnce: true, Fixed: 1, Safety: []string{"gloves"},
		Do:      "A puddle the size of a plate in the middle: it must run out as a circle, or the board is off level.",
		LookFor: "A puddle that stays round."}},
	{ID: "lay-back", Step: Step{ID: "lay-the-run-off-back", Name: "Lay the run-off back", Window: "Holding", Fixed: 3,
		PerM2: 4, Safety: []string{"gloves"},
		Do:      "Lift what ran off from the sheet while it holds together, and lay it back along edges that stayed bare.",
		LookFor: "Run-off that lifts in one piece and no longer runs."}},
	{ID: "finger-edges", Step: Step{ID: "dress-the-edges-by-finger", Name: "Dress the edges by finger", Window: "Holding",
		Fixed: 3, PerM2: 6, Safety: []string{"gloves"},
		Do:      "With a gloved finger round off the edge, corner by corner, and bring resin to bare places.",
		LookFor: "An edge that keeps its roundness."}},
	{ID: "wipe-rim", Step: Step{ID: "wipe-rim-and-sides", Name: "Wipe rim and sides", Window: "Holding", Fixed: 3,
		PerM2: 6, FlashOff: 10, Safety: []string{"alcohol", "gloves"},
		Do: "Wipe what does not belong there with isopropanol, before the film turns stringy. No flame from now on until " +
			"it has flashed off."}},
	{ID: "pick-hairs", Step: Step{ID: "pick-out-hairs", Name: "Pick out hairs", Window: "Holding", Fixed: 2, PerM2: 4,
		Do:      "Look along the light and lift hairs and dust out with a needle or a pick.",
		LookFor: "A hair casts a shadow longer than itself."}},
}

// FindExtra returns the extra with the id.
func FindExtra(id string) (Extra, bool) {
	for _, e := range Extras {
		if e.ID == id {
			return e, true
		}
	}
	return Extra{}, false
}

// Also returns the technique with extras in the order of the table: those done
// before mixing first, the others before it is covered.
func (t Technique) Also(ids []string) Technique {
	var before, first, after []Step
	for _, e := range Extras {
		switch {
		case !slices.Contains(ids, e.ID):
		case e.BeforeMixing:
			before = append(before, e.Step)
		case e.First:
			first = append(first, e.Step)
		default:
			after = append(after, e.Step)
		}
	}
	if len(before)+len(first)+len(after) == 0 {
		return t
	}
	last := slices.IndexFunc(t.Steps, func(s Step) bool { return s.ID == cover.ID })
	if last < 0 { // a technique of the studio's own without one
		last = max(0, len(t.Steps)-1)
	}
	pour := slices.IndexFunc(t.Steps, func(s Step) bool { return s.Pours })
	if pour < 0 || pour > last {
		pour = last
	}
	t.Steps = slices.Concat(before, t.Steps[:pour], first, t.Steps[pour:last], after, t.Steps[last:])
	return t
}
