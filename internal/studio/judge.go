package studio

import (
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// usualLoadLimit is the most pigment by mass that does not harm the cure, for
// a colour known only by its swatch (common practice for pastes and tints).
const usualLoadLimit = 0.06

// judge says what stands in the way of the plan, gravest first within a part.
func (p *Plan) judge() {
	p.judgeFilm()
	p.judgeSides()
	p.judgeColours()
	p.judgeCups()
	p.judgeClock()
	p.judgeDays()
	p.judgeLayers()
	p.judgeMakers()
}

func (p *Plan) say(part Part, w Weight, advice, format string, args ...any) {
	p.Judgements = append(p.Judgements, Judgement{part, w, fmt.Sprintf(format, args...), advice})
}

func (p *Plan) judgeFilm() {
	sys := p.Settings.Units
	spec := p.Piece.Spec
	for _, c := range p.Coats {
		over := c.Film - p.Puddle.Height
		if over <= 0.005 || spec.dammed() {
			continue
		}
		lost := p.Face.Times(over)
		weight, word := Mind, "stands only at a sharp edge"
		if c.Film > p.Puddle.Pinned {
			weight, word = Trouble, "will not stand"
		}
		p.say(PartSurface, weight, "Dam the edge with tape, or plan a thinner film and another coat.",
			"%s: %s %s: an open board keeps %s, so about %s would run off.", c.Name, c.Film.Film(sys), word, p.Puddle.Height.Film(sys), lost.Text(sys))
	}
	if spec.Edge == surface.Dam || spec.Edge == surface.Rim {
		for _, c := range p.Coats {
			if p.Mould == 0 && c.Film > spec.EdgeHeight {
				p.say(PartSurface, Trouble, "Raise the dam or thin the film.", "%s: %s is higher than the %s (%s).", c.Name, c.Film.Film(sys), spec.Edge, spec.EdgeHeight.Text(sys))
			}
		}
	}
	if !spec.Sealed && spec.Support != surface.Tile && spec.Support != surface.MouldSlab {
		p.say(PartSurface, Mind, "Seal and prime first; bare wood and raw canvas breathe and make bubbles without end.",
			"An unsealed face drinks about %s.", p.Coats[0].Amount.Absorbed.Text(sys))
	}
}

func (p *Plan) judgeSides() {
	f := p.Coats[0].Side
	if f.Bottom <= 0 {
		return
	}
	if !f.SeeThrough {
		p.say(PartSurface, Settled, "", "Sides keep about %s: they will cover.", f.Mean.Film(p.Settings.Units))
		return
	}
	advice := "Paint the sides near the resin's colour first."
	if f.Hold > 0 {
		advice = fmt.Sprintf("Paint the sides near the resin's colour, or hold the edge back with tape until %s after mixing.", Spoken(f.Hold))
	}
	p.say(PartSurface, Mind, advice, "Sides will be see-through: about %s stays on them.", f.Mean.Film(p.Settings.Units))
}

func (p *Plan) judgeColours() {
	accents := 0
	for _, c := range p.Piece.Colours {
		if c.Role == RoleAccent || c.Role == RoleWhite {
			accents++
		}
	}
	p.judgeLoads()
	p.judgeHiding()
	p.judgeNeighbours()
	if accents == 0 && p.Technique.ID != technique.TopCoat.ID {
		p.say(PartColours, Mind, "Add an accent or a white.", "There is nothing to %s with: only bases and clear.", p.Technique.Name)
	}
	if p.Technique.ID == "swipe" && !p.hasRole(RoleWhite) {
		p.say(PartColours, Mind, "Whites lace because they are dense and hide.", "No white: a swipe laces little without one.")
	}
}

// judgeMakers speaks of mixed makers in a studio of the other school.
func (p *Plan) judgeMakers() {
	if p.Settings.School(SchoolMakers) != "same" {
		return
	}
	makers := map[string]bool{}
	for _, c := range p.Piece.Colours {
		for _, d := range c.Doses() {
			if m := p.pigments[d.Pigment].Maker; m != "" {
				makers[m] = true
			}
		}
	}
	if len(makers) > 1 {
		p.say(PartColours, Mind, "Unlike pastes repel and open more cells; for predictable flow stay with one maker.", "Its pigments come from %d makers.", len(makers))
	}
}

func (p *Plan) hasRole(r Role) bool {
	for _, c := range p.Piece.Colours {
		if c.Role == r && c.Share > 0 {
			return true
		}
	}
	return false
}

func (p *Plan) judgeCups() {
	for _, c := range p.Coats {
		for _, cup := range c.Cups {
			if cup.OffRatio {
				p.say(PartCups, Mind, "Use a finer scale, or mix this colour out of a larger lot.",
					"%s, %s: a scale that reads to %s g cannot hold this cup's ratio.", c.Name, cup.Colour.Name, units.Fixed(float64(p.Settings.ScaleStep), 3))
			}
		}
	}
}

func (p *Plan) judgeClock() {
	for _, c := range p.Coats {
		tight := c.Fit.Tight
		switch {
		case !c.Fit.Holds():
			p.say(PartClock, Trouble, p.relief(c),
				"%s does not fit: %s ends %s after its window closes.", c.Name, lower(tight.Name), Spoken(-c.Fit.Spare))
		case c.Fit.Spare < 5:
			p.say(PartClock, Mind, "Have everything laid out before the parts meet.",
				"%s is tight: %s to spare when you %s.", c.Name, Spoken(c.Fit.Spare), lower(tight.Name))
		default:
			p.say(PartClock, Settled, "", "%s fits: %s of work; the tightest step, %s, has %s to spare.", c.Name, Spoken(c.Fit.Ends), lower(tight.Name), Spoken(c.Fit.Spare))
		}
	}
}

// relief names the warmest cooler room in which a coat fits, reckoned again,
// and what else helps.
func (p *Plan) relief(c CoatPlan) string {
	for t := p.Piece.Room - 1; t >= 15; t-- {
		clock := cure.NewClock(p.Kinetics, cure.Constant(t))
		fit := c.Technique.Lay(p.job(c.Colours), clock)
		if fit.Holds() {
			return fmt.Sprintf("It fits in a room of %s; or take a slower product, or mix a second lot for the later steps.", t.Text(p.Settings.Units))
		}
	}
	return "A cooler room does not save it: take a slower product, or mix a second lot for the later steps."
}

func (p *Plan) judgeDays() {
	from, to := p.Settings.open(p.Piece.Start)
	if p.Piece.Start.Before(from) || p.Coats[0].Covered.After(to) {
		p.say(PartDays, Mind, "Move the first pour or the studio's hours.", "The first pour runs outside the studio's hours (%s to %s).", p.Settings.OpenFrom, p.Settings.OpenTo)
	}
	for _, c := range p.Coats {
		if !p.Taped() {
			break
		}
		soft := c.Windows[cure.SoftSet]
		if _, ok := p.Settings.Awake(soft.From, soft.To); !ok {
			latest := p.earlierStart(c)
			advice := "Pull the tape next day with warm air instead."
			if !latest.IsZero() {
				advice = fmt.Sprintf("Start by %s to pull tape before closing, or pull it next day with warm air.", latest.Format("15:04"))
			}
			p.say(PartDays, Mind, advice, "%s: the tape is ready at night, %s to %s.", c.Name, soft.From.Format("15:04"), soft.To.Format("15:04"))
		}
	}
	if p.Settings.Recoat == RecoatTacky && len(p.Coats) > 1 {
		tacky := p.Coats[0].Windows[cure.Tacky]
		if p.Coats[1].Met.After(tacky.To) {
			p.say(PartDays, Mind, "The plan waits for hard and a light scuff instead.",
				"The tacky window (%s to %s) lies outside the studio's hours.", tacky.From.Format("15:04"), tacky.To.Format("15:04"))
		}
	}
}

// earlierStart returns the latest start on the coat's day whose soft set opens
// before closing, zero if none.
func (p *Plan) earlierStart(c CoatPlan) time.Time {
	open, closing := p.Settings.open(c.Start)
	lead := c.Windows[cure.SoftSet].From.Sub(c.Start)
	if s := closing.Add(-lead).Truncate(5 * time.Minute); !s.Before(open) {
		return s
	}
	return time.Time{}
}

// Worst returns the gravest weight of a part's judgements.
func (p Plan) Worst(part Part) Weight {
	worst := Settled
	for _, j := range p.Of(part) {
		if j.Weight == Trouble || (j.Weight == Mind && worst == Settled) {
			worst = j.Weight
		}
	}
	return worst
}

// Of returns the judgements of a part.
func (p Plan) Of(part Part) []Judgement {
	var out []Judgement
	for _, j := range p.Judgements {
		if j.Part == part {
			out = append(out, j)
		}
	}
	return out
}

// Spoken prints minutes as people say them: "40 s", "12 min", "3 h 20 min",
// "29 days".
func Spoken(m float64) string {
	switch {
	case math.Abs(m) < 1:
		return fmt.Sprintf("%.0f s", m*60)
	case math.Abs(m) < 90:
		return fmt.Sprintf("%.0f min", m)
	case math.Abs(m) < 48*60:
		h, rest := math.Floor(m/60), math.Round(math.Mod(m, 60))
		if rest == 60 {
			h, rest = h+1, 0
		}
		if rest == 0 {
			return fmt.Sprintf("%.0f h", h)
		}
		return fmt.Sprintf("%.0f h %.0f min", h, rest)
	}
	return fmt.Sprintf("%.0f days", m/1440)
}

// Plural prints a count with its word.
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func lower(s string) string {
	if s == "" {
		return s
	}
	return string(s[0]|0x20) + s[1:]
}

// Verdict returns the one sentence to say of the whole plan: the gravest
// judgement, or that it holds.
func (p Plan) Verdict() Judgement {
	for _, w := range []Weight{Trouble, Mind} {
		for _, j := range p.Judgements {
			if j.Weight == w {
				return j
			}
		}
	}
	return Judgement{Weight: Settled, Text: "The plan holds."}
}
