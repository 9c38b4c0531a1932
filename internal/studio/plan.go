package studio

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/portion"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Plan is everything reckoned from a piece.
type Plan struct {
	Piece     Piece
	Product   Product
	Settings  Settings
	Technique technique.Technique

	Boards    []surface.Shape
	Face      units.Area
	Perimeter units.Length
	SideArea  units.Area
	Sketches  [][]composition.Region // one a board

	Puddle   film.Puddle
	Kinetics cure.Kinetics
	Mould    units.Volume // 0 unless the piece is cast

	Coats    []CoatPlan
	Deliver  time.Time
	HeatSafe time.Time
	Cost     float64

	pigments map[int64]MixedPigment
	book     technique.Book
	// looseTape and looseRecoat give up a window that cannot be kept: the tape
	// comes off next day, the next coat waits for hard.
	looseTape, looseRecoat bool
	when                   map[string]Happened // coats that were begun, or whose start is set, by key
	Neighbours             []Neighbour         // of the first coat
	Judgements             []Judgement
}

// A CoatPlan is one layer: how much, in which cups, and when.
type CoatPlan struct {
	Key, Name string
	Technique technique.Technique
	Film      units.Length
	Colours   []Colour // of this coat

	Amount   portion.Amount
	Learned  Learned
	Poured   units.Volume // onto the board, with what this studio has learnt
	Reserve  units.Volume // of clear, beside it
	Total    units.Volume // both, with what stays in the cups
	Lot      portion.Lot
	Cups     []CupPlan
	Batch    resin.Batch  // the whole coat
	Stages   []Stage      // lots small enough to use fresh
	LotMax   units.Volume // and why
	LotWhy   string
	UseBy    float64 // minutes such a lot lasts in its jug
	LotTakes float64 // minutes to mix and pour it

	Clock   *cure.Clock
	Fit     technique.Fit
	Prep    time.Duration
	Start   time.Time // gloves on
	Met     time.Time // parts meet
	Covered time.Time
	Made    bool // it has happened; the times are what they were
	Windows map[cure.Phase]Span
	Side    SideForecast

	under colour.Spectrum // what the coat is poured on
}

// A Span is a window in clock time; To is zero for one that never closes.
type Span struct{ From, To time.Time }

// A CupPlan is one cup of a coat.
type CupPlan struct {
	Colour   Colour
	Share    float64 // of the sum
	Volume   units.Volume
	A, B     resin.Part
	Pigment  units.Mass
	OffRatio bool
	Look     Look
}

// A Stage is one mixed lot of a coat.
type Stage struct {
	Volume units.Volume
	A, B   resin.Part
}

// A SideForecast is what stays on the sides when resin runs over them.
type SideForecast struct {
	Top, Bottom, Mean units.Length // film at a tenth of the depth, at the bottom, on average
	SeeThrough        bool
	Hold              float64 // minute until which a dam must hold for a covering film; 0 when none
}

// Part names the stage of work a judgement belongs to.
type Part string

// The parts of a piece in the order of work.
const (
	PartBrief   Part = "brief"
	PartSurface Part = "surface"
	PartColours Part = "composition"
	PartCups    Part = "cups"
	PartClock   Part = "clock"
	PartDays    Part = "days"
)

// Weight says how serious a judgement is.
type Weight string

// The weights.
const (
	Settled Weight = "settled"
	Mind    Weight = "open"
	Trouble Weight = "trouble"
)

// A Judgement is one sentence about the plan: the verdict, then the number,
// then what to do.
type Judgement struct {
	Part   Part
	Weight Weight
	Text   string
	Advice string
}

// Plan reckons a piece by its id.
func (s *Studio) Plan(ctx context.Context, id int64) (Plan, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return Plan{}, err
	}
	return s.PlanPiece(ctx, p)
}

// PlanPiece reckons a piece that was just read or edited.
func (s *Studio) PlanPiece(ctx context.Context, p Piece) (Plan, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Plan{}, err
	}
	return s.planUnder(ctx, p, set, nil, false)
}

// planUnder reckons a piece under some settings. Coats that were begun keep
// their times; others start when starts says, if it does.
func (s *Studio) planUnder(ctx context.Context, p Piece, set Settings, starts map[string]time.Time, light bool) (Plan, error) {
	product, err := s.Product(ctx, p.ProductID)
	if err != nil {
		return Plan{}, fmt.Errorf("the resin of %q: %w", p.Name, err)
	}
	stock := Stock{Product: product, Light: light}
	if stock.Book, err = s.Techniques(ctx); err != nil {
		return Plan{}, err
	}
	if stock.Learned, err = s.Learned(ctx); err != nil {
		return Plan{}, err
	}
	if err := s.mixes(ctx, p.Spec, &stock); err != nil {
		return Plan{}, err
	}
	if stock.When, err = s.begun(ctx, p.ID); err != nil {
		return Plan{}, err
	}
	for coat, at := range starts {
		if _, begun := stock.When[coat]; !begun {
			if stock.When == nil {
				stock.When = map[string]Happened{}
			}
			stock.When[coat] = Happened{Start: at}
		}
	}
	plan, err := Reckon(p, set, stock)
	if err != nil {
		err = &RefusedError{err}
	}
	return plan, err
}

// begun returns what bench days say of a piece's coats.
func (s *Studio) begun(ctx context.Context, piece int64) (map[string]Happened, error) {
	if piece == 0 {
		return nil, nil
	}
	benches, err := s.BenchesOf(ctx, piece, false)
	if err != nil {
		return nil, err
	}
	out := map[string]Happened{}
	for key, h := range happenedAt(benches) {
		if coat, ok := strings.CutSuffix(key, ":pour"); ok {
			out[coat] = h
		}
	}
	return out, nil
}

// Stock is what a plan draws on besides the piece itself.
type Stock struct {
	// Light leaves out neighbours and judgements, which the days do not show.
	Light    bool
	When     map[string]Happened // coats that were begun, or whose start is set, by key
	Book     technique.Book
	Product  Product
	Learned  map[string]Learned
	Pigments map[int64]MixedPigment     // those the piece uses
	Swatches map[string]colour.Spectrum // reflectances of its colours' swatches
	Ground   colour.Spectrum            // reflectance of what lies under the resin
}

// Reckon makes the plan of a piece. It is a pure function of its arguments.
func Reckon(p Piece, set Settings, stock Stock) (Plan, error) {
	product := stock.Product
	plan := Plan{Piece: p, Product: product, Settings: set}
	var err error
	if plan.Boards, err = p.Boards(); err != nil {
		return plan, err
	}
	var ok bool
	plan.pigments, plan.book, plan.when = stock.Pigments, stock.Book, stock.When
	if plan.Technique, ok = stock.Book.Find(p.Technique); !ok {
		return plan, errors.New("its technique is no longer there; choose another")
	}
	if plan.Kinetics, err = product.Kinetics(); err != nil {
		return plan, err
	}
	for _, b := range plan.Boards {
		plan.Face += b.Area()
		plan.Perimeter += b.Perimeter()
	}
	plan.SideArea = plan.Perimeter.Times(p.Depth)
	liquid := film.DefaultLiquid
	liquid.Density = product.Density()
	if plan.Puddle, err = film.PuddleHeight(film.DefaultContactAngle, liquid); err != nil {
		return plan, err
	}
	if plan.Mould, err = p.mould(plan.Boards); err != nil {
		return plan, err
	}
	if err := plan.coats(stock.Learned); err != nil {
		return plan, err
	}
	plan.Sketches = plan.SketchOf(firstCoat)
	plan.see(stock)
	if stock.Light {
		return plan, nil
	}
	plan.meet(stock)
	plan.judge()
	return plan, nil
}

// mould returns the cavity of a cast piece.
func (s Spec) mould(boards []surface.Shape) (units.Volume, error) {
	if s.Support != surface.MouldSlab {
		return 0, nil
	}
	if s.MouldWater > 0 {
		v, err := surface.MouldByWater(s.MouldWater)
		return v * units.Volume(len(boards)), err
	}
	var sum units.Volume
	for _, b := range boards {
		v, err := surface.MouldByDepth(b, s.MouldDepth)
		if err != nil {
			return 0, err
		}
		sum += v
	}
	return sum, nil
}

// dammed reports whether something keeps the film on the face.
func (s Spec) dammed() bool {
	return s.Edge != surface.Open || s.Support == surface.MouldSlab
}

// reserveColour is clear kept ready beside the colours.
var reserveColour = Colour{ID: "reserve", Name: "Clear reserve", Role: RoleClear, Swatch: "#dfe3e4"}

var clearColour = Colour{ID: "clear", Name: "Clear", Role: RoleClear, Swatch: "#dfe3e4", Share: 1}

// The keys of coats that have colours; the first is the one the surface is
// prepared for.
const (
	firstCoat  = "first"
	secondCoat = "second"
)

// coats lays out the layers of the piece one after the other.
func (p *Plan) coats(learned map[string]Learned) error {
	type layer struct {
		key, name string
		technique technique.Technique
		film      units.Length
		colours   []Colour
	}
	spec := p.Piece.Spec
	var layers []layer
	for _, l := range spec.CoatPlanOf(p.Settings) {
		if l.Kind != LayerCoat {
			continue
		}
		t, ok := p.book.Find(l.What)
		if !ok {
			return errors.New("a technique of its coat plan is no longer there; choose another")
		}
		film, colours := l.Film, spec.coloursOf(l.ID)
		switch {
		case l.ID == firstCoat:
			t, film = p.Technique, spec.Film
		case t.ID == technique.TopCoat.ID:
			colours = []Colour{clearColour}
		case t.ID == "veil":
			colours = veilColours(spec.Colours)
		case !spec.composed(l.ID):
			colours = spec.coloursOf(firstCoat)
		}
		layers = append(layers, layer{l.ID, p.coatName(len(layers), l, t), t, film, colours})
	}
	if len(layers) == 0 {
		return errors.New("the coat plan has no coat of resin")
	}
	start := spec.Start
	for i, l := range layers {
		c := CoatPlan{Key: l.key, Name: l.name, Technique: l.technique, Film: l.film, Colours: l.colours, Learned: learned[l.technique.ID]}
		if err := p.amount(&c, i == 0); err != nil {
			return err
		}
		if at, ok := p.when[l.key]; ok && !at.Start.IsZero() {
			start = at.Start
		}
		if err := p.time(&c, start, i > 0); err != nil {
			return err
		}
		if err := p.lots(&c); err != nil {
			return err
		}
		if i == 0 && spec.Sides == surface.SidesRunOver && spec.Depth > 0 && !spec.dammed() {
			c.Side = p.sides(c)
		}
		p.Coats = append(p.Coats, c)
		p.Cost += p.Product.CostOf(c.Total)
		if i < len(layers)-1 {
			start = p.next(c, layers[i+1].technique, layers[i+1].colours)
		}
	}
	last := p.Coats[len(p.Coats)-1]
	p.Deliver = p.Settings.Slot(last.Windows[cure.Cured].From, 0)
	p.HeatSafe = last.Windows[cure.HeatReady].From
	return nil
}

// coatName names a coat by its place: the first pour, the sealing top, the
// ones between by number.
func (p *Plan) coatName(i int, l Layer, t technique.Technique) string {
	switch {
	case i == 0:
		return "First pour"
	case l.ID == topCoatKey:
		return "Top coat"
	case l.ID == secondCoat && i == 1:
		return "Second coat"
	}
	return fmt.Sprintf("Coat %d, %s", i+1, lower(t.Name))
}

// veilColours is thin white on clear, by the piece's own white where it has one
// (common practice: a sixth of the coat).
func veilColours(colours []Colour) []Colour {
	white := Colour{ID: "veil", Name: "Veil white", Role: RoleWhite, Swatch: "#f4f3ee", Load: 0.02}
	for _, c := range colours {
		if c.Role == RoleWhite {
			white = c
			break
		}
	}
	bed := clearColour
	bed.Share, white.Share = 0.84, 0.16
	return []Colour{bed, white}
}

// poured returns the colours that have a share; a share of 0 leaves a cup
// out. When none has one all stay, so that the refusal speaks of shares.
func poured(all []Colour) []Colour {
	var out []Colour
	for _, c := range all {
		if c.Share > 0 {
			out = append(out, c)
		}
	}
	if len(out) == 0 {
		return all
	}
	return out
}

// amount reckons how much a coat takes and divides it among the cups.
func (p *Plan) amount(c *CoatPlan, first bool) error {
	spec := p.Piece.Spec
	runOff := c.Technique.RunOff.Usual
	if spec.dammed() {
		runOff = technique.Dammed.Usual
	}
	coat := portion.Coat{Face: p.Face, Film: c.Film, RunOff: runOff, Cups: len(c.Colours), CupLoss: p.Settings.CupLoss}
	if first {
		coat.Absorbed = spec.Support.Absorbed(p.Face, spec.Sealed)
		coat.Texture, coat.Inclusions = spec.Texture, spec.Inclusions
		for _, t := range spec.Things {
			coat.Texture += t.Volume
		}
		c.Reserve = spec.Reserve
	}
	if spec.Sides == surface.SidesRunOver && !spec.dammed() {
		coat.Side, coat.SideFilm = p.SideArea, usualSideFilm
	}
	if p.Mould > 0 && first { // a cast fills its cavity, whatever the film
		coat.Face, coat.Film = units.Area(float64(p.Mould)*1000), 1
	}
	var err error
	if c.Amount, err = coat.Amount(); err != nil {
		return fmt.Errorf("%s: %w", c.Name, err)
	}
	ratio := c.Learned.Ratio()
	c.Poured = c.Amount.Poured() * units.Volume(ratio)
	sum := 0.0
	for _, col := range c.Colours {
		sum += col.Share
	}
	if c.Reserve > 0 { // one more cup, beside what is poured
		keep := reserveColour
		keep.Share = sum * float64(c.Reserve/c.Poured)
		c.Colours = append(slices.Clone(c.Colours), keep)
		c.Amount.CupLoss += p.Settings.CupLoss
		c.Amount.Total += p.Settings.CupLoss + c.Reserve
	}
	c.Total = c.Poured + c.Reserve + c.Amount.CupLoss
	shares := make([]portion.Share, len(c.Colours))
	for i, col := range c.Colours {
		shares[i] = portion.Share{Name: col.Name, Share: col.Share}
	}
	if c.Lot, err = portion.Cups(p.Product.Product, c.Poured+c.Reserve, p.Settings.CupLoss, p.Settings.ScaleStep, shares); err != nil {
		return err
	}
	if c.Batch, err = p.Product.Volume(c.Total); err != nil {
		return err
	}
	for i, cup := range c.Lot.Cups {
		col := c.Colours[i]
		c.Cups = append(c.Cups, CupPlan{
			Colour: col, Share: col.Share / sum, Volume: cup.Volume,
			A:        resin.Part{Mass: cup.A, Volume: cup.A.Filling(p.Product.DensityA)},
			B:        resin.Part{Mass: cup.B, Volume: cup.B.Filling(p.Product.DensityB)},
			Pigment:  (cup.A + cup.B) * units.Mass(col.TotalLoad()),
			OffRatio: cup.OffRatio,
		})
	}
	return nil
}

// usualSideFilm is what a plan allows for the sides of an open board, most of
// which drips on (common practice).
const usualSideFilm = 0.3 * units.Millimetre

// time lays the coat's steps on its clock.
func (p *Plan) time(c *CoatPlan, start time.Time, scuffed bool) error {
	job := p.job(c.Colours)
	for _, s := range p.preparation(c.Technique, scuffed) {
		c.Prep += minutes(s.Minutes(job))
	}
	at, begun := p.when[c.Key]
	if begun && !at.Met.IsZero() {
		c.Prep = at.Met.Sub(start)
	}
	c.Clock = cure.NewClock(p.Kinetics, p.Settings.RoomCurve(start.Add(c.Prep), p.Piece.Room, curveDays))
	c.Fit = c.Technique.Lay(job, c.Clock)
	if c.Fit.Ends+c.Prep.Minutes() > 7*24*60 {
		return errors.New("this coat would take longer than a week")
	}
	c.Start = start
	c.Met = start.Add(c.Prep)
	c.Covered = c.Met.Add(minutes(c.Fit.Ends))
	if at.Done {
		c.Covered, c.Made = at.End, true
	}
	c.Windows = map[cure.Phase]Span{}
	for _, w := range c.Clock.Windows() {
		span := Span{From: c.Met.Add(minutes(w.From))}
		if w.To < maxMinutes {
			span.To = c.Met.Add(minutes(w.To))
		}
		c.Windows[w.Phase] = span
	}
	return nil
}

// curveDays is how many days of the expected room a coat's clock follows; the
// rest of a cure does not hang on the nights.
const curveDays = 10

// maxMinutes is beyond any window worth a date.
const maxMinutes = 50 * 365 * 24 * 60

// job is what a coat's times depend on.
func (p *Plan) job(colours []Colour) technique.Job {
	n := 0
	for _, c := range colours {
		if c.Role != RoleClear {
			n++
		}
	}
	return technique.Job{Face: p.Face, Cups: n, Mix: p.Product.MixMinutes}
}

// preparation returns what is done before the parts meet; scuffing only over
// an earlier coat and in a studio of that school.
func (p *Plan) preparation(t technique.Technique, over bool) []technique.Step {
	var out []technique.Step
	for _, s := range t.Preparation() {
		if s.Name != technique.ScuffStep || (over && p.Settings.Recoat == RecoatScuff) {
			out = append(out, s)
		}
	}
	return out
}

func minutes(m float64) time.Duration {
	return time.Duration(min(m, maxMinutes) * float64(time.Minute))
}

// next returns when the coat after c can start, by the studio's school.
func (p *Plan) next(c CoatPlan, then technique.Technique, colours []Colour) time.Time {
	job := p.job(colours)
	prep, hands := 0.0, 0.0
	for _, s := range p.preparation(then, true) {
		prep += s.Minutes(job)
	}
	for _, s := range then.Steps {
		if !s.BeforeMixing {
			hands += s.Minutes(job)
		}
	}
	whole := minutes(prep + hands)
	if p.Settings.Recoat == RecoatTacky {
		tacky := c.Windows[cure.Tacky]
		start := p.Settings.Slot(tacky.From.Add(-minutes(prep)), whole)
		if start.Add(minutes(prep)).Before(tacky.To) {
			return start
		}
	}
	return p.Settings.Slot(c.Windows[cure.Hard].From, whole)
}

// leastLot is the smallest lot worth mixing (common practice); smaller ones are
// not weighed true.
const leastLot units.Volume = 20

// lots cuts the coat into lots that are used before they age in the jug: none
// larger than the product allows, nor than what the technique pours within
// the time such a lot keeps.
func (p *Plan) lots(c *CoatPlan) error {
	c.LotMax, c.LotWhy = p.Product.MaxLot, "the product's largest lot"
	pouring := p.pouringMinutes(c)
	for {
		v := min(c.LotMax, c.Total)
		f, err := p.Kinetics.InCup(v.Weighing(p.Product.Density()), p.Piece.Room, p.Piece.Room)
		if err != nil {
			return err
		}
		c.UseBy, c.LotTakes = f.UseBy, p.Product.MixMinutes+pouring*float64(v/c.Total)
		if c.LotTakes <= c.UseBy || v <= leastLot {
			break
		}
		c.LotMax, c.LotWhy = max(v*0.8, leastLot), "what is poured before it ages in the jug"
	}
	step := min(p.Settings.JugStep, c.Total)
	volumes, err := resin.Stages(c.Total, max(c.LotMax, step), step)
	if err != nil {
		return err
	}
	for _, v := range volumes {
		b, err := p.Product.Volume(v)
		if err != nil {
			return err
		}
		c.Stages = append(c.Stages, Stage{v, b.A, b.B})
	}
	return nil
}

// pouringMinutes is how long resin stands in cups: from mixing until the last
// step that pours.
func (p *Plan) pouringMinutes(c *CoatPlan) float64 {
	sum := 0.0
	for _, s := range c.Fit.Steps {
		if s.Pours {
			sum += s.To - s.From
		}
	}
	return sum
}

// coveringSide is the film from which a colour hides a side (common
// practice); thinner ones are see-through.
const coveringSide = 0.30 * units.Millimetre

// sides forecasts the film left on the sides once the resin has stopped.
func (p *Plan) sides(c CoatPlan) SideForecast {
	released := c.Fit.Ends
	forecast := func(from float64) (SideForecast, error) {
		flow := c.Clock.Flow(from, c.Clock.Gel(), p.Product.Viscosity, p.Product.Density())
		top, err1 := film.SideAfter(flow, p.Piece.Depth/10)
		bottom, err2 := film.SideAfter(flow, p.Piece.Depth)
		mean, err3 := film.MeanSide(flow, p.Piece.Depth)
		return SideForecast{Top: top, Bottom: bottom, Mean: mean, SeeThrough: mean < coveringSide}, errors.Join(err1, err2, err3)
	}
	f, err := forecast(released)
	if err != nil {
		return SideForecast{}
	}
	if f.SeeThrough { // the later an edge is let go, the more stays on it
		gel := c.Clock.Gel()
		covers := func(m float64) bool {
			g, err := forecast(m)
			return err == nil && !g.SeeThrough
		}
		if last := gel - 1; last > released && covers(last) {
			f.Hold = math.Ceil(when(released, last, covers)/5) * 5
		}
	}
	return f
}

// Taped reports whether tape has to come off: of the sides or of a dam.
func (p Plan) Taped() bool {
	return p.Piece.Sides == surface.SidesTaped || p.Piece.Edge == surface.Dam
}

// AllCoats returns the resin for the whole piece.
func (p Plan) AllCoats() units.Volume {
	var sum units.Volume
	for _, c := range p.Coats {
		sum += c.Total
	}
	return sum
}

// A Stop is one part of the piece with how it stands.
type Stop struct {
	Part   Part
	Name   string
	Weight Weight
}

// Order returns the parts in the order of work.
func (p Plan) Order() []Stop {
	stops := []Stop{{PartSurface, "Surface", ""}, {PartColours, "Colours", ""}, {PartCups, "Cups", ""}, {PartClock, "Clock", ""}, {PartDays, "Days", ""}}
	for i := range stops {
		stops[i].Weight = p.Worst(stops[i].Part)
	}
	return stops
}

// Window returns when a phase of the coat opens and closes.
func (c CoatPlan) Window(phase string) Span { return c.Windows[cure.Phase(phase)] }
