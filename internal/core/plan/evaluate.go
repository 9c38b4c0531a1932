package plan

import (
	"math"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Timing is when a piece's coats start and what has happened to them.
type Timing struct {
	Starts   map[string]time.Time // by coat, as the agenda has them; without, as early as the piece alone allows
	Happened map[string]Happened  // by the key of the task
	// LooseTape and LooseRecoat give up a window that cannot be kept: the tape
	// comes off next day, the next coat waits for hard.
	LooseTape, LooseRecoat bool
	Late                   time.Duration // beyond its due day, as the agenda has it
	LeftOut                bool          // the agenda has no place for it
	Alone                  bool          // nothing else was taken into account: a what-if
}

// A Happened is a task's mark, by the bench or the painter.
type Happened struct {
	Start, Met, End time.Time
	Done            bool
	Film            units.Length // that was really poured; 0 for as planned
	Short           float64      // share of the hardener that was missing
}

// A Plan is everything that follows from a spec. It is not changed once it was
// calculated, so that many may read it.
type Plan struct {
	Spec    Spec
	Context *Context
	Timing  Timing

	Boards    []surface.Shape
	Face      units.Area
	Perimeter units.Length
	SideArea  units.Area
	Mould     units.Volume // 0 unless the piece is cast

	Layers   []Layer // all of them, in order
	Coats    []Coat
	Tasks    []Task
	Deliver  time.Time
	HeatSafe time.Time

	meetings *meetings
	past     *past
	verdicts *verdicts
}

// Evaluate calculates a piece. It is a pure function of its arguments. An error is
// a [Refusal]: what cannot be calculated, and at which field.
func Evaluate(spec Spec, ctx *Context, t Timing) (*Plan, error) {
	p := &Plan{Spec: spec, Context: ctx, Timing: t, meetings: &meetings{}, past: &past{}}
	if err := p.surface(); err != nil {
		return p, err
	}
	p.Layers = spec.AllLayers(ctx)
	if err := p.coats(); err != nil {
		return p, err
	}
	p.setLooks()
	p.applyTimes(t)
	return p, nil
}

// At returns the same piece laid at other times. What does not hang on time is
// shared with p.
func (p *Plan) At(t Timing) *Plan {
	q := *p.asKnown(t)
	q.Coats = append([]Coat(nil), q.Coats...)
	q.applyTimes(t)
	return &q
}

// A Refusal is a value a piece cannot be calculated with, in words for the
// painter, at the field it was typed in ("" for none in particular).
type Refusal struct {
	Field string
	Err   error
}

func (r *Refusal) Error() string { return r.Err.Error() }
func (r *Refusal) Unwrap() error { return r.Err }

func refuse(field string, format msg.ID, args ...any) error {
	return &Refusal{field, refusal.New(format, args...)}
}

// ShapeField is the field to show a refused outline at.
func (b Board) ShapeField() string {
	switch b.Outline {
	case Polygon:
		return "points"
	case Drawn:
		return "path"
	}
	return "size"
}

func (p *Plan) surface() error {
	var err error
	if p.Boards, err = p.Spec.Boards(); err != nil {
		return &Refusal{p.Spec.ShapeField(), err}
	}
	for _, b := range p.Boards {
		p.Face += b.Area()
		p.Perimeter += b.Perimeter()
	}
	p.SideArea = p.Perimeter.Times(p.Spec.Depth)
	if p.Mould, err = p.Spec.mould(p.Boards); err != nil {
		return &Refusal{"mould_depth", err}
	}
	return nil
}

// coats calculates what every coat takes.
func (p *Plan) coats() error {
	for _, l := range p.Layers {
		if l.Kind == Resin {
			p.Coats = append(p.Coats, Coat{ID: l.ID, Layer: l})
		}
	}
	if len(p.Coats) == 0 {
		return refuse("layers", "the plan has no coat of resin")
	}
	for i := range p.Coats {
		c := &p.Coats[i]
		c.Place, c.Of = i, len(p.Coats)
		c.firstBoard = float64(p.Boards[0].Area() / p.Face)
		if err := p.equip(c); err != nil {
			return err
		}
		if err := p.pour(c); err != nil {
			return err
		}
		c.Deep = c.deep()
	}
	return nil
}

// pour calculates a coat's amount and lays it on the clock; what then runs down
// sides or off a tilted board hangs on the clock, so such a coat is calculated
// again with that.
func (p *Plan) pour(c *Coat) error {
	for range settling {
		if err := p.amount(c); err != nil {
			return err
		}
		if err := p.batches(c); err != nil {
			return err
		}
		side, tilt := p.sides(c).Mean, p.tilt(c)
		settled := math.Abs(float64(side-c.sideFilm)) <= 0.01*float64(side) && (tilt == nil) == (c.Tilt == nil) &&
			(tilt == nil || math.Abs(tilt.RunOff-c.Tilt.RunOff) < 0.002)
		c.sideFilm, c.Tilt = side, tilt
		if settled {
			break
		}
	}
	return nil
}

// equip looks up what a coat is made with.
func (p *Plan) equip(c *Coat) error {
	spec := c.Layer.Coat
	field := func(name string) string { return "coat." + c.ID + "." + name }
	if spec == nil {
		return refuse("layers", "this coat cannot be read; remove it and add it again")
	}
	t, ok := p.Context.Book.Find(c.Layer.What)
	if !ok {
		return refuse(field("technique"), "its technique is no longer there; choose another")
	}
	product, ok := p.Context.Products[spec.Product]
	if !ok {
		return refuse(field("product"), "its resin is no longer in your materials; choose another")
	}
	if c.Colouring = spec.Colouring; c.Colouring == "" {
		c.Colouring = p.Context.Schools.Way(school.Colour)
	}
	c.Technique = p.chained(c, t)
	c.Product, c.Room, c.Faces = product, p.Spec.Room, 2
	if p.Spec.Support.Rule().Cast {
		c.Faces = 1 // the mould keeps the warmth in
	}
	if spec.Room != 0 {
		c.Room = spec.Room
	}
	if c.People = spec.People; c.People == 0 {
		c.People = max(1, p.Context.People)
	}
	if spec.Machine && p.Context.Machine > 0 {
		c.Product.MixMinutes = p.Context.Machine
	}
	c.Learned = p.learnedBy(c, p.Timing)
	if c.Mixing = spec.Mixing; c.Mixing == "" {
		c.Mixing = p.Context.Schools.Way(school.Mixing)
	}
	if c.Colouring == school.ColourPartA { // each cup has its own coloured part A
		c.Mixing = school.MixingCups
	}
	return nil
}

// Coat returns the planned coat with the id, nil when there is none.
func (p *Plan) Coat(id string) *Coat {
	for i := range p.Coats {
		if p.Coats[i].ID == id {
			return &p.Coats[i]
		}
	}
	return nil
}

// Task returns the task with the key, nil when there is none.
func (p *Plan) Task(key string) *Task {
	for i := range p.Tasks {
		if p.Tasks[i].Key == key {
			return &p.Tasks[i]
		}
	}
	return nil
}

// AllCoats returns the resin for the whole piece.
func (p *Plan) AllCoats() units.Volume {
	var sum units.Volume
	for _, c := range p.Coats {
		sum += c.Total
	}
	return sum
}

// Sketch returns the regions of a coat on the board at i: its composition, or
// the technique's sketch while there is none.
func (p *Plan) Sketch(c *Coat, i int) []composition.Region {
	if len(c.Things) > 0 {
		return composition.Draw(p.Boards[i], composition.Fit(c.Things, p.Boards[0], p.Boards[i]))
	}
	return composition.Sketch(c.Technique.Layout, p.Boards[i], p.Spec.Sketched(p.Context, c.ID))
}
