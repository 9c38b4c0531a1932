package plan

import (
	"fmt"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
)

// A Guard is something the plan says must be so before the first step of a coat,
// and is not, or is not known to be.
type Guard struct {
	Key string // stable within the coat
	verdict.Diagnostic
	Task string // that is done when the point is; "" for none
}

// Facts are the studio's facts beside the plan at the start of a coat.
type Facts struct {
	Now   time.Time
	Level LevelFact
	// Resins and Pigments are what is in stock of those that were ever counted, by
	// their ids.
	Resins   map[int64]units.Volume
	Pigments map[int64]units.Mass
	Old      map[int64]bool // resins of which a lot is past its day or long open
}

// A LevelFact is the newest reading of the board's level.
type LevelFact struct {
	At     time.Time // zero when the board was never read
	Drop   units.Length
	Enough bool // for the film of this coat
}

// The codes of guards, with the arguments each carries.
const (
	GuardUndone  verdict.Code = "guard-undone"  // what
	GuardDries   verdict.Code = "guard-dries"   // what, until
	GuardBelow   verdict.Code = "guard-below"   // what, until: the coat below is not ready
	GuardUnmade  verdict.Code = "guard-unmade"  // what: the coat below was never poured
	GuardScuff   verdict.Code = "guard-scuff"   // what: hard, and nothing scuffs it
	GuardGrease  verdict.Code = "guard-grease"  // what: silicone in it, and nothing degreases it
	GuardSealed  verdict.Code = "guard-sealed"  //
	GuardUnread  verdict.Code = "guard-unread"  // allowed
	GuardTilted  verdict.Code = "guard-tilted"  // drop, allowed
	GuardResin   verdict.Code = "guard-resin"   // resin, need, have
	GuardOld     verdict.Code = "guard-old"     // resin: past its day or long open
	GuardPigment verdict.Code = "guard-pigment" // pigment, need, have
	GuardShuts   verdict.Code = "guard-shuts"   // ends, shuts
	GuardTacky   verdict.Code = "guard-tacky"   // until
)

// Guards returns what is open before a coat is begun, in the order it is looked
// at; none for a coat the plan does not have.
func (p *Plan) Guards(coat string, f Facts) []Guard {
	c := p.Coat(coat)
	if c == nil {
		return nil
	}
	g := guards{plan: p, coat: c, facts: f}
	g.tasks()
	g.below()
	g.face()
	g.level()
	g.stock()
	g.hours()
	return g.open
}

type guards struct {
	plan  *Plan
	coat  *Coat
	facts Facts
	open  []Guard
}

func (g *guards) add(key string, code verdict.Code, task string, args verdict.Args) {
	g.open = append(g.open, Guard{Key: key, Task: task,
		Diagnostic: verdict.Diagnostic{Code: code, Part: verdict.PartDays, Weight: verdict.Mind, Coat: g.coat.ID,
			Args: args}})
}

// tasks are the preparations that nobody has ticked off, and those that have not
// dried.
func (g *guards) tasks() {
	pour := -1
	for i, t := range g.plan.Tasks {
		if t.Key == PourKey(g.coat.ID) {
			pour = i
			break
		}
		if t.Kind != TaskPrepare && t.Kind != TaskBetween {
			continue
		}
		if !g.plan.Timing.Happened[t.Key].Done {
			g.add(t.Key, GuardUndone, t.Key, verdict.Args{"what": t.Which()})
		}
	}
	if pour < 0 {
		return
	}
	for _, w := range g.plan.Tasks[pour].Waits {
		before := g.plan.Tasks[w.After]
		done, ok := g.plan.Timing.Happened[before.Key]
		if before.Kind == TaskPour || !ok || !done.Done {
			continue
		}
		if until := done.End.Add(Minutes(float64(w.Min))); until.After(g.facts.Now) {
			g.add("dries:"+before.Key, GuardDries, "", verdict.Args{"what": before.What, "until": until})
		}
	}
}

// below is whether the coat below is there, ready, and scuffed or degreased where
// it must be.
func (g *guards) below() {
	if g.coat.Place == 0 {
		return
	}
	p := g.plan
	c := &p.Coats[g.coat.Place-1]
	name := verdict.Args{"what": c.Technique.Name}
	if !c.Made {
		g.add("below", GuardUnmade, "", name)
		return
	}
	now, ready := g.facts.Now, c.Windows[cure.Tacky].From
	hard := !now.Before(c.Windows[cure.Hard].From)
	if p.castOn(g.coat) {
		ready = c.cool()
	}
	tacky := c.Windows[cure.Tacky]
	switch {
	case now.Before(ready):
		g.add("below", GuardBelow, "", verdict.Args{"what": c.Technique.Name, "until": ready})
	case p.castOn(g.coat):
	case now.After(tacky.To) && now.Before(p.bonds(c, g.coat)):
		g.add("below", GuardBelow, "", verdict.Args{"what": c.Technique.Name, "until": p.bonds(c, g.coat)})
	case !hard && !p.scuffed(g.coat) && now.Add(g.coat.Prep).After(tacky.To):
		g.add("tacky", GuardTacky, "", verdict.Args{"until": tacky.To})
	}
	if p.scuffed(g.coat) {
		return // its first step at the bench
	}
	if c.Silicone() {
		g.add("grease", GuardGrease, "", name)
	} else if hard && !p.castOn(g.coat) {
		g.add("scuff", GuardScuff, "", name)
	}
}

// Prepared reports whether the coat below a coat is scuffed and wiped by the plan,
// and whether the board was sealed, as bought or by the plan.
func (p *Plan) Prepared(c *Coat) (scuffed, sealed bool) {
	return p.scuffed(c), p.Spec.Sealed || p.sealedByPlan()
}

// face is whether a bare face that breathes was sealed.
func (g *guards) face() {
	s := g.plan.Spec
	if g.coat.Place == 0 && s.Support.Rule().Breathes && !s.Sealed && !g.plan.sealedByPlan() {
		g.add("sealed", GuardSealed, "", nil)
	}
}

// level is whether the board was read since the coat below was poured, and lies
// level enough for this film.
func (g *guards) level() {
	allowed := units.Length(surface.Allowed) * g.coat.Film
	read := !g.facts.Level.At.IsZero()
	if read && g.coat.Place > 0 {
		below := &g.plan.Coats[g.coat.Place-1]
		read = !below.Made || g.facts.Level.At.After(below.Covered)
	}
	switch {
	case !read:
		g.add("level", GuardUnread, "", verdict.Args{"allowed": allowed})
	case !g.facts.Level.Enough:
		g.add("level", GuardTilted, "", verdict.Args{"drop": g.facts.Level.Drop, "allowed": allowed})
	}
}

// stock is whether the stock covers what the coat takes.
func (g *guards) stock() {
	c := g.coat
	if have, counted := g.facts.Resins[c.Product.ID]; counted && have < c.Total { // what was never counted is not short
		g.add("resin", GuardResin, "", verdict.Args{"resin": c.Product.Name, "need": c.Total, "have": max(0, have)})
	}
	if g.facts.Old[c.Product.ID] {
		g.add("old", GuardOld, "", verdict.Args{"resin": c.Product.Name})
	}
	need := map[int64]units.Mass{}
	var order []int64
	for _, cup := range g.coat.Cups {
		for _, d := range cup.Doses() {
			if need[d.Pigment] == 0 {
				order = append(order, d.Pigment)
			}
			need[d.Pigment] += d.Mass
		}
	}
	for _, id := range order {
		have, counted := g.facts.Pigments[id]
		if pig, ok := g.plan.Context.Pigments[id]; ok && counted && have < need[id] {
			g.add(fmt.Sprintf("pigment:%d", id), GuardPigment, "",
				verdict.Args{"pigment": pig.Name, "need": need[id], "have": max(0, have)})
		}
	}
}

// hours is whether the studio stays open until the coat is covered.
func (g *guards) hours() {
	cal := g.plan.Context.Calendar
	ends := g.facts.Now.Add(g.coat.Prep + Minutes(g.coat.Fit.Ends))
	if cal.Whole(g.facts.Now, ends) {
		return
	}
	args := verdict.Args{"ends": ends, "shuts": time.Time{}}
	for _, s := range cal.On(g.facts.Now) {
		if !g.facts.Now.Before(s.From) && g.facts.Now.Before(s.To) {
			args["shuts"] = s.To
		}
	}
	g.add("hours", GuardShuts, "", args)
}
