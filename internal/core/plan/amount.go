package plan

import (
	"math"
	"slices"
	"time"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/material"
	"jevvo/internal/core/portion"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Coat is one planned layer of resin: how much, in which cups, from which
// batches, and when.
type Coat struct {
	ID        string
	Place, Of int // which coat of how many, from 0
	Layer     Layer
	Technique technique.Technique
	Product   material.Product
	Room      units.Temperature
	People    int          // at the bench
	Hands     int          // of them at work at once; 0 until the batches are cut
	Film      units.Length // mean, or the depth of a cast
	Faces     int          // of the layer that shed heat
	Colours   []Colour     // its cups with the shares they really have
	Missing   []Colour     // cups that are wanted but nowhere on the board
	Things    []composition.Thing
	Over      float64 // how far the things exceed the coat, as a share of it

	Amount       portion.Amount
	Learned      Learned
	Poured       units.Volume  // onto the board, with what this studio has learnt
	Pigments     units.Volume  // of that is pigment
	Reserve      units.Volume  // of clear, beside it
	Total        units.Volume  // of resin to mix: both, with what stays in the cups
	RunOff       float64       // share that leaves the board
	Tilt         *TiltForecast // of a coat whose tilting was planned; nil otherwise
	A, B         units.Mass    // of all cups, in steps of the scale
	Batch        resin.Batch   // the whole coat
	Cups         []Cup
	Mixing       string // MixingJug or MixingCups
	Colouring    string // when pigment goes into the cups: a way of SchoolColour
	Batches      []Batch
	LargestBatch units.Volume // and why
	BoundByAge   bool         // the time it keeps, not the product's largest batch, bounds it
	Materials    []Material
	Puddle       film.Puddle

	Clock   *cure.Clock // of the first batch
	Fit     technique.Fit
	Prep    time.Duration
	Start   time.Time // gloves on
	Met     time.Time // parts of the first batch meet
	Covered time.Time
	Made    bool // it has happened; the times are what they were
	Begun   bool
	Windows map[cure.Phase]Span
	Side    SideForecast
	Deep    *Deep // of a coat deeper than a film; nil otherwise

	planned    units.Length    // film, whatever was poured
	sideFilm   units.Length    // bought for the sides; 0 before the clock is known
	under      colour.Spectrum // what the coat is poured on
	bed        int             // the cup under all others; −1 for none
	firstBoard float64         // part of the whole face
	timed      bool            // its steps lie on a clock that no night bends
}

// A Span is a window in clock time; To is zero for one that never closes.
type Span struct{ From, To time.Time }

// A Cup is one colour of a coat.
type Cup struct {
	Colour   Colour
	Share    float64      // of what is poured
	Volume   units.Volume // of resin in it
	A, B     resin.Part
	Pigment  units.Mass   // of all its pigments
	OffRatio bool         // the scale's step is too coarse for it
	Area     float64      // part of the face it is poured on or drawn over
	Film     units.Length // how thick it lies there
	Look     Look
}

// Resin returns what all cups weigh without pigment.
func (c Coat) Resin() units.Mass { return c.A + c.B }

// Resin returns what the cup weighs without pigment.
func (c Cup) Resin() units.Mass { return c.A.Mass + c.B.Mass }

// A CupDose is one pigment of a cup with its mass.
type CupDose struct {
	Pigment int64
	Mass    units.Mass
}

// Doses returns the pigments of the cup with what they weigh in it.
func (c Cup) Doses() []CupDose {
	var out []CupDose
	for _, d := range c.Colour.Doses() {
		out = append(out, CupDose{d.Pigment, c.Resin() * units.Mass(d.Load)})
	}
	return out
}

// A Material is an amount of what a layer needs besides resin.
type Material struct {
	technique.Material
	Amount float64
	Typed  bool
	Cup    string // it goes into; "" for the coat
}

// Title names a material with the cup it goes into.
func (m Material) Title() msg.Text {
	if m.Cup == "" {
		return m.Name
	}
	return msg.F("%s in %s", m.Name, m.Cup)
}

// reserveCup is the id of the clear kept ready beside the colours.
const reserveCup = "reserve"

// usualSideFilm is a plan's allowance for the sides of an open board, most of
// which drips on (common practice).
const usualSideFilm = 0.3 * units.Millimetre

// RunOff returns the share of a coat that usually leaves the board.
func (p *Plan) RunOff(t technique.Technique) technique.RunOff {
	if p.Spec.Dammed() {
		return technique.Dammed
	}
	return t.RunOff
}

// wants is the coat as a sum, but for its film.
func (p *Plan) wants(c *Coat, cups int) portion.Coat {
	spec := c.Layer.Coat
	w := portion.Coat{Face: p.Face, RunOff: p.RunOff(c.Technique).Usual, Cups: cups, CupLoss: p.Context.CupLoss,
		Texture: spec.Texture, Inclusions: spec.Inclusions}
	if c.Tilt != nil {
		w.RunOff = c.Tilt.RunOff
	}
	covers := p.coversSides(c)
	if p.Spec.Dammed() && !p.Spec.Support.Rule().Cast && !covers {
		if wall, err := film.AgainstWall(film.DefaultContactAngle, c.liquid()); err == nil {
			w.Wall = wall.Volume * units.Volume(p.Perimeter.Metres())
		}
	}
	if c.Place == 0 {
		w.Absorbed = p.Spec.Support.Absorbed(p.Face, p.Spec.Sealed || p.sealedByPlan())
	}
	for _, t := range spec.Things {
		w.Texture += t.Volume
	}
	if covers {
		w.Side, w.SideFilm = p.SideArea, usualSideFilm
		if c.sideFilm > 0 {
			w.SideFilm = c.sideFilm
		}
	}
	return w
}

// amount calculates how much a coat takes and divides it among the cups.
func (p *Plan) amount(c *Coat) error {
	spec := c.Layer.Coat
	field := "coat." + c.ID + ".amount"
	c.Reserve = spec.Reserve
	w := p.wants(c, len(pouredOnly(spec.Colours)))
	c.RunOff = w.RunOff
	var err error
	pigment := 0.0 // share of what is poured
	for range settling {
		if w.Film, err = p.film(c, w, pigment); err != nil {
			return err
		}
		c.Film, c.planned = w.Film, w.Film
		if c.Amount, err = w.Amount(); err != nil {
			return &Refusal{field, err}
		}
		c.Poured = c.Amount.Poured() * units.Volume(c.learnt(w.RunOff))
		p.divide(c)
		was := pigment
		if pigment = p.pigmentShare(c); spec.Amount.Total(c.Product.Density()) == 0 || math.Abs(pigment-was) < 1e-9 {
			break
		}
	}
	c.Pigments = c.Poured * units.Volume(pigment)
	if c.Reserve > 0 { // one more cup, beside what is poured
		c.Amount.CupLoss += p.Context.CupLoss
		c.Amount.Total += p.Context.CupLoss + c.Reserve
	}
	c.Total = c.Poured - c.Pigments + c.Reserve + c.Amount.CupLoss
	if err := p.split(c); err != nil {
		return err
	}
	p.materials(c)
	liquid := film.DefaultLiquid
	liquid.Density = c.Product.Density()
	c.Puddle, err = film.PuddleHeight(film.DefaultContactAngle, liquid)
	return err
}

// learnt is this studio's own use over the planned, never so little that face and
// sides would get less than they need.
func (c *Coat) learnt(runOff float64) float64 { return math.Max(c.Learned.Ratio(), 1-runOff) }

// settling is how often a typed total is laid out again: the pigment takes room
// of its own, and how much hangs on the shares.
const settling = 6

// Total returns the resin that was typed for the whole coat, 0 for a film.
func (a Amount) Total(rho units.Density) units.Volume {
	if a.Mass > 0 {
		return a.Mass.Filling(rho)
	}
	return a.Volume
}

// film returns the film a coat is planned for: the one typed, what a typed
// total comes to, or what fills the mould.
func (p *Plan) film(c *Coat, w portion.Coat, pigment float64) (units.Length, error) {
	a := c.Layer.Coat.Amount
	total := a.Total(c.Product.Density())
	if total <= 0 {
		if p.Mould > 0 && c.Technique.Cast && a.Film <= 0 {
			return units.Length(float64(p.Mould)*1000/float64(p.Face)) / units.Length(p.casts()), nil
		}
		if a.Film <= 0 { // of a cast that is poured on a board
			return usualFilm, nil
		}
		return a.Film, nil
	}
	loss := p.Context.CupLoss * units.Volume(w.Cups)
	if c.Reserve > 0 {
		loss += p.Context.CupLoss
	}
	stays := (total - c.Reserve - loss) / units.Volume(1-pigment) / units.Volume(c.learnt(w.RunOff)) * units.Volume(
		1-w.RunOff)
	face := stays - w.Side.Times(w.SideFilm) - w.Absorbed - w.Texture - w.Wall + w.Inclusions
	if face <= 0 {
		return 0, refuse("coat."+c.ID+".amount", "%s is not enough: sides, run-off and what stays in the cups take all of it",
			total.Text(units.Metric))
	}
	return units.Length(float64(face) * 1000 / float64(w.Face)), nil
}

// casts is into how many pours the mould is divided.
func (p *Plan) casts() int {
	n := 0
	for _, l := range p.Layers {
		if t, ok := p.Context.Book.Find(l.What); ok && l.Kind == Resin && t.Cast && l.Coat != nil &&
			l.Coat.Amount.Volume == 0 && l.Coat.Amount.Mass == 0 {
			n++
		}
	}
	return max(1, n)
}

// room returns what part of a cup's volume is resin: its pigments take the rest.
func (p *Plan) room(c *Coat, col Colour, v units.Volume) float64 {
	resin, taken := c.Product.Density(), 0.0
	for i, d := range col.Doses() {
		rho := resin
		if owned, ok := p.Context.Pigments[d.Pigment]; ok {
			rho = owned.Added()
		}
		if i == 0 && col.Mass > 0 && v > 0 {
			taken += math.Min(0.5, float64(col.Mass.Filling(rho)/v))
			continue
		}
		taken += d.Load * float64(resin/rho)
	}
	return 1 / (1 + taken)
}

// pigmentShare is the share of pigment in the poured coat.
func (p *Plan) pigmentShare(c *Coat) float64 {
	sum, resin := 0.0, 0.0
	for _, col := range c.Colours {
		sum += col.Share
	}
	for _, col := range c.Colours {
		share := col.Share / sum
		resin += share * p.room(c, col, c.Poured*units.Volume(share))
	}
	return max(0, 1-resin)
}

// pouredOnly returns the colours that have a share; a share of 0 leaves a cup
// out. When none has one all stay, so that the refusal speaks of shares.
func pouredOnly(all []Colour) []Colour {
	var out []Colour
	for _, c := range all {
		if c.Share > 0 || c.Volume > 0 {
			out = append(out, c)
		}
	}
	if len(out) == 0 {
		return all
	}
	return out
}

// divide gives the cups the shares they really have: those of the composition
// where there is one, typed volumes before shares otherwise.
func (p *Plan) divide(c *Coat) {
	spec := c.Layer.Coat
	c.Things = composition.Resolve(spec.Things, c.OnFirst()) // typed volumes are those of one board
	c.Colours, c.Missing = nil, nil
	if len(c.Things) > 0 {
		shares, over := composition.Shares(c.Things)
		c.Over = over
		for _, col := range spec.Colours {
			wanted := col.Share > 0 || col.Volume > 0
			if col.Share = shares[col.ID]; col.Share > 0 {
				c.Colours = append(c.Colours, col)
			} else if wanted {
				c.Missing = append(c.Missing, col)
			}
		}
	}
	if len(c.Colours) == 0 {
		c.Colours = shared(pouredOnly(spec.Colours), c.Poured)
	}
}

// shared turns typed volumes into shares of what is poured; the others divide
// what is left by their own shares.
func shared(colours []Colour, poured units.Volume) []Colour {
	out := append([]Colour(nil), colours...)
	fixed, rest := 0.0, 0.0
	for _, c := range out {
		if c.Volume > 0 {
			fixed += float64(c.Volume / poured)
		} else {
			rest += c.Share
		}
	}
	if fixed == 0 {
		return out
	}
	left := max(0, 1-fixed)
	for i := range out {
		switch c := &out[i]; {
		case c.Volume > 0:
			c.Share = float64(c.Volume / poured)
		case rest > 0:
			c.Share *= left / rest
		}
	}
	return out
}

// split weighs the cups out to what the scale can read.
func (p *Plan) split(c *Coat) error {
	sum := 0.0
	for _, col := range c.Colours {
		sum += col.Share
	}
	cups := c.Colours
	if c.Reserve > 0 {
		cups = append(append([]Colour(nil), cups...), Colour{ID: reserveCup, Name: "Clear reserve", Role: technique.Clear,
			Swatch: technique.ClearSwatch, Share: sum * float64(c.Reserve/c.Poured)})
	}
	shares := make([]portion.Share, len(cups))
	for i, col := range cups {
		shares[i] = portion.Share{Name: col.Name, Share: col.Share * p.room(c, col, c.Poured*units.Volume(col.Share/sum))}
	}
	mix, err := portion.Cups(c.Product.Product, c.Poured-c.Pigments+c.Reserve, p.Context.CupLoss, p.Context.ScaleStep,
		shares)
	if err != nil {
		return &Refusal{"coat." + c.ID + ".amount", err}
	}
	if c.Batch, err = c.Product.Volume(c.Total); err != nil {
		return &Refusal{"coat." + c.ID + ".amount", err}
	}
	c.A, c.B, c.Cups = mix.A, mix.B, nil
	for i, cup := range mix.Cups {
		col := cups[i]
		if resin := cup.A + cup.B; col.Mass > 0 && resin > 0 { // typed grams stay, the load follows
			col.Load = float64(col.Mass / resin)
		}
		share := 0.0
		if sum > 0 && col.ID != reserveCup {
			share = col.Share / sum
		}
		c.Cups = append(c.Cups, Cup{
			Colour: col, Share: share, Volume: cup.Volume,
			A:       resin.Part{Mass: cup.A, Volume: cup.A.Filling(c.Product.DensityA)},
			B:       resin.Part{Mass: cup.B, Volume: cup.B.Filling(c.Product.DensityB)},
			Pigment: (cup.A + cup.B) * units.Mass(col.TotalLoad()), OffRatio: cup.OffRatio,
		})
	}
	return nil
}

// materials lists what a coat needs besides resin: typed amounts, else the
// technique's usual ones for this face.
func (p *Plan) materials(c *Coat) {
	c.Materials = p.Materials(c.Layer, c.Technique)
	p.addMoves(c)
	m, _ := technique.FindMaterial("silicone")
	for _, cup := range c.Cups {
		if n := c.SiliconeIn(cup); n > 0 {
			c.Materials = append(c.Materials, Material{Material: m, Amount: float64(n), Cup: cup.Colour.Name})
		}
	}
}

// addMoves adds the resin of the coat's own moves, on the part of the face they are
// for; a need that none of its steps adds any more goes.
func (p *Plan) addMoves(c *Coat) {
	own := len(c.Layer.Coat.Rounds) > 0
	adds := map[string]bool{}
	for _, s := range c.Technique.Steps {
		for _, m := range s.Adds {
			adds[m] = true
		}
	}
	c.Materials = slices.DeleteFunc(c.Materials, func(m Material) bool { return own && !adds[m.ID] && !m.Typed })
	for _, s := range c.Technique.Steps {
		for _, l := range s.Laid {
			p.layOn(c, l)
		}
	}
}

// layOn adds one laying of a material.
func (p *Plan) layOn(c *Coat, l technique.Laid) {
	m, ok := technique.FindMaterial(l.Material)
	if !ok {
		return
	}
	amount := l.Amount
	if amount <= 0 {
		amount = technique.UsualOf(m.ID) * p.Face.SquareMetres() * l.Over
	}
	if i := slices.IndexFunc(c.Materials, func(h Material) bool { return h.ID == m.ID }); i >= 0 {
		if l.Amount > 0 || !c.Materials[i].Typed {
			c.Materials[i].Amount += amount
		}
		return
	}
	c.Materials = append(c.Materials, Material{Material: m, Amount: amount, Typed: l.Amount > 0})
}

// Materials returns the amounts of what a layer needs besides resin.
func (p *Plan) Materials(l Layer, t technique.Technique) []Material {
	var out []Material
	amounts := map[string]float64{}
	for _, n := range t.Needs {
		m, ok := technique.FindMaterial(n.Material)
		if !ok {
			continue
		}
		one := Material{Material: m, Amount: n.Usual(p.Face.SquareMetres(), p.Perimeter.Metres(), amounts[n.Of])}
		for _, u := range l.Uses {
			if u.Material == m.ID {
				one.Amount, one.Typed = u.Amount, true
			}
		}
		amounts[m.ID] = one.Amount
		out = append(out, one)
	}
	return out
}

// Silicone reports whether the coat leaves any in its surface.
func (c Coat) Silicone() bool {
	for _, m := range c.Materials {
		if m.Silicone && m.Amount > 0 {
			return true
		}
	}
	return false
}
