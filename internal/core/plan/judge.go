package plan

import (
	"slices"
	"sync"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
)

// verdicts remembers what stands in the way of a plan; not every reader asks.
type verdicts struct {
	once sync.Once
	all  verdict.List
}

// Diagnostics returns what stands in the way of the plan, gravest first within
// a part.
func (p *Plan) Diagnostics() verdict.List {
	p.verdicts.once.Do(func() {
		j := &judge{plan: p}
		j.surface()
		j.colours()
		j.cups()
		j.tilted()
		j.deep() // what can smoke and ignite comes before what is late
		j.batches()
		j.clock()
		j.suits()
		j.days()
		j.air()
		j.layers()
		p.verdicts.all = j.found
	})
	return p.verdicts.all
}

// judge collects what stands in the way of a plan.
type judge struct {
	plan  *Plan
	found verdict.List
}

func (j *judge) say(code verdict.Code, part verdict.Part, w verdict.Weight, coat *Coat, args verdict.Args) {
	d := verdict.Diagnostic{Code: code, Part: part, Weight: w, Args: args}
	if coat != nil {
		d.Coat = coat.ID
	}
	j.found = append(j.found, d)
}

func (j *judge) surface() {
	p := j.plan
	b := p.Spec.Board
	var stands units.Length // behind the rim so far
	for i := range p.Coats {
		c := &p.Coats[i]
		stands += c.Film
		if !b.Edge.Rule().Stays { // what comes off is built again for each coat
			stands = c.Film
		}
		args := verdict.Args{"film": stands, "keeps": c.Puddle.Height, "lost": p.Face.Times(c.Film - c.Puddle.Height),
			"edge": b.Edge.Rule().Words, "stands": b.EdgeHeight}
		switch {
		case b.Support.Rule().Cast:
			if depth := j.plan.depth(); depth > 0 && stands > depth*1.001 {
				j.say(verdict.MouldOver, verdict.PartSurface, verdict.Trouble, c, verdict.Args{"film": stands, "depth": depth})
			}
		case !b.Dammed() && c.Film > c.Puddle.Pinned:
			j.say(verdict.FilmFalls, verdict.PartSurface, verdict.Trouble, c, args)
		case !b.Dammed() && c.Film-c.Puddle.Height > 0.005:
			j.say(verdict.FilmEdge, verdict.PartSurface, verdict.Mind, c, args)
		case b.Dammed() && stands > b.EdgeHeight:
			j.say(verdict.EdgeLow, verdict.PartSurface, verdict.Trouble, c, args)
		}
	}
	if !b.Asked && b.Support.Rule().Breathes && !p.sealedByPlan() {
		j.say(verdict.FaceAsk, verdict.PartSurface, verdict.Mind, &p.Coats[0], nil)
	}
	if drinks := p.Coats[0].Amount.Absorbed; drinks > 0 {
		j.say(verdict.FaceDrinks, verdict.PartSurface, verdict.Mind, &p.Coats[0], verdict.Args{"absorbed": drinks})
	}
	for i := range p.Coats {
		j.sides(&p.Coats[i])
	}
}

// sides says whether the resin that runs over them covers.
func (j *judge) sides(c *Coat) {
	f := c.Side
	switch {
	case f.Bottom <= 0, f.SeeThrough && j.plan.Spec.Tile: // nobody looks at the sides of a test
		return
	case f.SeeThrough && j.plan.preparedFor(technique.ForSides, 0): // the paint covers, not the resin
		j.say(verdict.SidesThin, verdict.PartSurface, verdict.Settled, c, verdict.Args{"film": f.Mean})
	case !f.SeeThrough:
		j.say(verdict.SidesCover, verdict.PartSurface, verdict.Settled, c, verdict.Args{"film": f.Mean})
	case f.Hold > 0:
		j.say(verdict.SidesHold, verdict.PartSurface, verdict.Mind, c, verdict.Args{"film": f.Mean, "until": f.Hold})
	default:
		j.say(verdict.SidesThin, verdict.PartSurface, verdict.Mind, c, verdict.Args{"film": f.Mean})
	}
	if j.plan.letGo(c) {
		j.say(verdict.SidesFed, verdict.PartSurface, verdict.Settled, c, verdict.Args{"sides": c.Amount.Sides})
	}
}

// depth is how deep the mould is, 0 for a board.
func (p *Plan) depth() units.Length {
	if p.Mould <= 0 || p.Face <= 0 {
		return 0
	}
	return units.Length(float64(p.Mould) * 1000 / float64(p.Face))
}

func (j *judge) colours() {
	for i := range j.plan.Coats {
		c := &j.plan.Coats[i]
		for _, cup := range c.Cups {
			j.load(c, cup)
		}
		j.composition(c)
		for _, cup := range c.Cups {
			j.hiding(c, cup)
		}
		for _, n := range j.plan.Neighbours(i) {
			if n.Weight != verdict.Settled && n.A.Colour.chosen() && n.B.Colour.chosen() &&
				(n.Verdict.Code == verdict.MudCancels || n.Verdict.Code == verdict.MudSwallows) {
				j.found = append(j.found, n.Verdict)
			}
		}
		if c.Technique.WantsAccent && !c.hasRole(technique.Accent) && !c.hasRole(technique.White) {
			j.say(verdict.NoAccent, verdict.PartColours, verdict.Mind, c, verdict.Args{"technique": c.Technique.Name})
		}
		if c.Technique.WantsWhite && !c.hasRole(technique.White) {
			j.say(verdict.NoWhite, verdict.PartColours, verdict.Mind, c, verdict.Args{"technique": c.Technique.Name})
		}
	}
	j.makers()
}

// chosen reports whether somebody decided what colour a cup has.
func (c Colour) chosen() bool { return c.Pigment != 0 || c.Picked || c.Load > 0 }

func (j *judge) load(c *Coat, cup Cup) {
	l := cup.Look
	if l.Flammable {
		j.say(verdict.BurnsWet, verdict.PartColours, verdict.Mind, c, verdict.Args{"cup": cup.Colour.Name})
	}
	switch {
	case l.Used <= 1+1e-9:
	case len(cup.Colour.Doses()) > 1:
		j.say(verdict.LoadTogether, verdict.PartColours, verdict.Mind, c,
			verdict.Args{"cup": cup.Colour.Name, "used": l.Used})
	default:
		j.say(verdict.LoadOver, verdict.PartColours, verdict.Mind, c,
			verdict.Args{"cup": cup.Colour.Name, "load": cup.Colour.TotalLoad(), "limit": l.Limit})
	}
}

// composition says what is missing on the board, and what is too much.
func (j *judge) composition(c *Coat) {
	for _, m := range c.Missing {
		j.say(verdict.NotOnBoard, verdict.PartColours, verdict.Mind, c, verdict.Args{"cup": m.Name})
	}
	if c.Over > 0.005 {
		j.say(verdict.TooMuchLaid, verdict.PartColours, verdict.Mind, c, verdict.Args{"over": c.Over})
	}
	var typed units.Volume
	all := true
	for _, col := range c.Colours {
		typed += col.Volume
		all = all && col.Volume > 0
	}
	if typed > c.Poured*1.005 || (all && typed > 0 && typed < c.Poured*0.995) {
		j.say(verdict.CupsExceed, verdict.PartColours, verdict.Mind, c, verdict.Args{"cups": typed, "coat": c.Poured})
	}
}

// hiding says which bases and whites let the ground through; accents may.
func (j *judge) hiding(c *Coat, cup Cup) {
	l := cup.Look
	if !l.Known || l.Contrast >= 0.90 || !cup.Colour.Role.Rule().Hides || c.Technique.Sheer(cup.Colour.Role) {
		return
	}
	args := verdict.Args{"cup": cup.Colour.Name, "hiding": msg.ID(l.Hiding), "contrast": l.Contrast, "film": cup.Film,
		"drops": l.Drops, "grams": l.Grams}
	if first, ok := j.plan.Context.Pigments[cup.Colour.Doses()[0].Pigment]; ok {
		args["pigment"] = first.Name
	}
	switch {
	case l.Drops > 0:
		j.say(verdict.HidesDrops, verdict.PartColours, verdict.Mind, c, args)
	case l.ToHide > 0:
		j.say(verdict.HidesGrams, verdict.PartColours, verdict.Mind, c, args)
	default:
		j.say(verdict.HidesNot, verdict.PartColours, verdict.Mind, c, args)
	}
}

// makers speaks of mixed makers in a studio of the other school.
func (j *judge) makers() {
	if j.plan.Context.Schools.Way(school.Makers) != school.MakersSame {
		return
	}
	makers := map[string]bool{}
	for _, c := range j.plan.Coats {
		for _, cup := range c.Cups {
			for _, d := range cup.Colour.Doses() {
				if m := j.plan.Context.Pigments[d.Pigment].Maker; m != "" {
					makers[m] = true
				}
			}
		}
	}
	if len(makers) > 1 {
		j.say(verdict.MixedMakers, verdict.PartColours, verdict.Mind, nil, verdict.Args{"makers": len(makers)})
	}
}

func (j *judge) cups() {
	for i := range j.plan.Coats {
		c := &j.plan.Coats[i]
		for _, cup := range c.Cups {
			if cup.OffRatio && c.Mixing == school.MixingCups { // poured from a jug it has no ratio of its own
				j.say(verdict.CupOffRatio, verdict.PartCups, verdict.Mind, c,
					verdict.Args{"cup": cup.Colour.Name, "step": j.plan.Context.ScaleStep})
			}
		}
	}
}

// tightSpare is how many minutes to spare are few (common practice).
const tightSpare = 5

func (j *judge) clock() {
	for i := range j.plan.Coats {
		c := &j.plan.Coats[i]
		args := verdict.Args{"step": c.Fit.Tight.Name, "late": -c.Fit.Spare, "spare": c.Fit.Spare, "work": c.Fit.Ends}
		if c.Made {
			continue
		}
		switch {
		case !c.Fit.Holds() && c.Place+1 < c.Of: // finished knowingly: a coat follows
			j.say(verdict.ClockPast, verdict.PartClock, verdict.Mind, c, args)
		case !c.Fit.Holds():
			each := slices.ContainsFunc(j.plan.apart(i), func(r Relief) bool { return r.Holds })
			if t, ok := j.plan.coolerRoom(c); ok && !each { // nobody cools a room to pour two boards at once
				args["room"] = t
				j.say(verdict.ClockCool, verdict.PartClock, verdict.Trouble, c, args)
				continue
			}
			j.say(j.saves(i, args), verdict.PartClock, verdict.Trouble, c, args)
		case c.Fit.Spare < tightSpare:
			j.say(verdict.ClockTight, verdict.PartClock, verdict.Mind, c, args)
		default:
			j.say(verdict.ClockFits, verdict.PartClock, verdict.Settled, c, args)
		}
	}
}

// saves names what was planned anew and made the coat at i fit; nothing is
// advised that does not.
func (j *judge) saves(i int, args verdict.Args) verdict.Code {
	for _, r := range j.plan.Reliefs(i) {
		if !r.Holds {
			continue
		}
		args["spare"], args["name"], args["people"] = r.Spare, r.Name, r.People
		if code, ok := reliefCodes[r.Kind]; ok {
			return code
		}
	}
	return verdict.ClockLate
}

// reliefCodes are the codes that one relief clears.
var reliefCodes = map[ReliefKind]verdict.Code{
	ReliefResin: verdict.ClockSlow, ReliefOption: verdict.ClockOption, ReliefPeople: verdict.ClockPeople,
	ReliefHalves: verdict.ClockHalves, ReliefEach: verdict.ClockEach,
}

func (j *judge) days() {
	p := j.plan
	cal := p.Context.Calendar
	t := p.Timing
	if t.LeftOut {
		j.say(verdict.AgendaOut, verdict.PartDays, verdict.Trouble, nil, nil)
	}
	if t.Late > 0 {
		j.say(verdict.AgendaLate, verdict.PartDays, verdict.Trouble, nil,
			verdict.Args{"late": t.Late.Minutes(), "due": p.Spec.Due})
	}
	unmade := 0
	for i := range p.Coats {
		c := &p.Coats[i]
		if !c.Made {
			unmade++
		}
		if short := t.Happened[PourKey(c.ID)].Short; short > c.Product.Tolerance {
			j.say(verdict.HardenerWas, verdict.PartDays, verdict.Trouble, c, verdict.Args{"short": short})
		}
		soft := c.Windows[cure.SoftSet]
		if p.Spec.Taped() && p.tapeWay(c) == school.TapeSoft && !c.Made {
			if _, ok := cal.Awake(soft.From, soft.To); !ok {
				j.say(verdict.TapeAtNight, verdict.PartDays, verdict.Mind, c, verdict.Args{"from": soft.From, "to": soft.To})
			}
		}
		if c.Place == 0 && !c.Begun && !cal.Whole(c.Start, c.Covered) {
			from, to, _ := cal.Span(c.Start)
			j.say(verdict.Outside, verdict.PartDays, verdict.Mind, c, verdict.Args{"from": from, "to": to})
		}
		if c.Place > 0 && p.Context.Schools.Way(school.Recoat) == school.RecoatTacky {
			if tacky := p.Coats[c.Place-1].Windows[cure.Tacky]; c.Met.After(tacky.To) && !c.Begun {
				j.say(verdict.TackyShut, verdict.PartDays, verdict.Mind, c, verdict.Args{"from": tacky.From, "to": tacky.To})
			}
		}
	}
	if p.Spec.State == Done && unmade > 0 {
		j.say(verdict.DoneUnmade, verdict.PartDays, verdict.Trouble, nil, verdict.Args{"coats": unmade})
	}
}

// layers checks the order of the layers against the rules of the trade.
func (j *judge) layers() {
	p := j.plan
	coats, open := 0, msg.Text(nil)
	for _, l := range p.Layers {
		switch l.Kind {
		case Between:
			if l.Step != nil {
				continue // its painter knows what it wants
			}
			open = p.NameOf(l)
			if coats == 0 {
				j.say(verdict.WorkBefore, verdict.PartDays, verdict.Mind, nil, verdict.Args{"what": open})
			}
		case Resin:
			coats++
			open = nil
		case Prepare:
			if prep, _ := technique.FindPreparation(l.What); coats > 0 && prep.For != technique.ForDam &&
				prep.For != technique.ForTape {
				j.say(verdict.PrepareAfter, verdict.PartDays, verdict.Mind, nil, verdict.Args{"what": p.NameOf(l)})
			}
		case Finish:
			if coats < len(p.Coats) {
				j.say(verdict.FinishEarly, verdict.PartDays, verdict.Mind, nil, verdict.Args{"what": p.NameOf(l)})
			}
		}
	}
	if open != nil {
		j.say(verdict.WorkUnsealed, verdict.PartDays, verdict.Trouble, nil, verdict.Args{"what": open})
	}
	for i := range p.Coats {
		c := &p.Coats[i]
		if p.Spec.Edge.Rule().Taped && !p.preparedFor(technique.ForDam, i) {
			j.say(verdict.DamUnbuilt, verdict.PartDays, verdict.Mind, c, nil)
		}
		j.tape(i)
		if i > 0 && p.Coats[i-1].Silicone() && p.Context.Schools.Way(school.Recoat) != school.RecoatScuff {
			j.say(verdict.SiliconeBelow, verdict.PartDays, verdict.Trouble, c, nil)
		}
	}
	if p.Spec.Support.Rule().Breathes && !p.Spec.Sealed && len(p.Coats) < 2 && !p.sealedByPlan() {
		j.say(verdict.FaceUnsealed, verdict.PartDays, verdict.Mind, nil, nil)
	}
	if !p.Spec.Support.Rule().Cast && p.Spec.Painted() && !p.preparedFor(technique.ForGround, 0) && p.Spec.Own {
		j.say(verdict.Unpainted, verdict.PartDays, verdict.Mind, nil, nil)
	}
}

// NameOf returns the name of what a layer is; "" when it is no longer there.
func (p *Plan) NameOf(l Layer) msg.Text {
	if l.Step != nil {
		return msg.Own(l.Step.Name)
	}
	if prep, ok := technique.FindPreparation(l.What); ok && (l.Kind == Prepare || l.Kind == Finish) {
		return prep.Name
	}
	t, _ := p.Context.Book.Find(l.What)
	return t.Name
}
