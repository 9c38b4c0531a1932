package calc

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"time"

	"github.com/creasty/defaults"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/exchange/piecefile"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

type planRequest struct {
	Piece    piecefile.Document     `json:"piece" required:"true"`
	Start    string                 `json:"start" default:"2026-03-02T09:00" description:"local time, 2026-03-02T09:00: gloves on for the first coat, or the first preparation"`
	Room     []roomPoint            `json:"room" description:"temperature of the room from the start; 21 °C when left out"`
	Scale    float64                `json:"scale_step_g" default:"0.1" exclusiveMinimum:"0" maximum:"100"`
	CupLoss  float64                `json:"cup_loss_ml" default:"3" minimum:"0" maximum:"50"`
	People   int                    `json:"people" default:"1" minimum:"1" maximum:"3"`
	Resins   map[string]planResin   `json:"resins" required:"true" minProperties:"1" description:"by the names the piece uses"`
	Pigments map[string]planPigment `json:"pigments" description:"by the names the piece uses"`
}

type roomPoint struct {
	At   float64 `json:"at_min" required:"true"`
	Temp float64 `json:"temp_c" required:"true" minimum:"-20" maximum:"100"`
}

type planResin struct {
	Product
	MaxBatch float64 `json:"max_lot_ml" default:"600" exclusiveMinimum:"0" maximum:"100000" description:"Largest batch that may stand."`
	Mix      float64 `json:"mix_min" default:"3" exclusiveMinimum:"0" maximum:"60" description:"Mixing time."`
}

type planPigment struct {
	Form    string   `json:"form" default:"paste" enum:"paste,powder,liquid,mica,metal,glow,ink,chrome,acrylic,glitter"`
	Limit   *float64 `json:"load_limit_share" nullable:"true" exclusiveMinimum:"0" maximum:"0.5" description:"By mass of mixed resin; as the form usually has when left out."`
	Density *float64 `json:"density_kg_m3" nullable:"true" minimum:"500" maximum:"20000" description:"Of what is added: the bottle's content, or the powder."`
}

type planAnswer struct {
	Coats   []planCoat        `json:"coats"`
	Tasks   []planTask        `json:"tasks"`
	Remarks []planRemark      `json:"remarks"`
	Taken   []piecefile.Taken `json:"taken" description:"What stands for values that were left out."`
}

type planCoat struct {
	ID        string      `json:"id"`
	Technique string      `json:"technique"`
	Resin     string      `json:"resin"`
	Volume    float64     `json:"volume_ml" description:"Mixed resin, without pigment."`
	Film      float64     `json:"film_mm"`
	RunOff    float64     `json:"run_off_ml"`
	Batches   []planBatch `json:"lots"`
	Cups      []planCup   `json:"cups"`
	Moves     []planMove  `json:"moves"`
	Hands     float64     `json:"hands_min" description:"From gloves on to covered."`
}

type planBatch struct {
	Volume float64            `json:"volume_ml"`
	A      float64            `json:"a_g"`
	B      float64            `json:"b_g"`
	Mixed  float64            `json:"mixed_at_min" description:"A and B of this batch meet."`
	From   float64            `json:"poured_from_min"`
	To     float64            `json:"poured_to_min"`
	UseBy  float64            `json:"use_by_min"`
	Tints  []string           `json:"tints" description:"Cups coloured from it before it is poured."`
	Cups   map[string]float64 `json:"cups" description:"What each cup takes of it in mL."`
}

type planCup struct {
	ID      string  `json:"id"`
	Volume  float64 `json:"volume_ml"`
	A       float64 `json:"a_g"`
	B       float64 `json:"b_g"`
	Pigment float64 `json:"pigment_g"`
}

type planMove struct {
	Round  int     `json:"round" description:"From 0."`
	Move   string  `json:"move"`
	Cup    *string `json:"cup" nullable:"true"`
	From   float64 `json:"from_min"`
	To     float64 `json:"to_min"`
	Window string  `json:"window"`
	Fits   bool    `json:"fits"`
}

type planTask struct {
	ID    string `json:"id"`
	Layer string `json:"layer"`
	What  string `json:"what"`
	Start string `json:"start"`
	End   string `json:"end"`
}

type planRemark struct {
	Code     string `json:"code"`
	Severity string `json:"severity" enum:"note,look,stop"`
	Layer    string `json:"layer"`
	Cup      string `json:"cup"`
	Text     string `json:"text"`
}

// usualRoom is the room of a request that says nothing of it, and planHours when
// its painter works.
const (
	usualRoom = 21
	planHours = "mon-sun 08:00-20:00"
)

// severities are the weights as a contract names them.
var severities = map[verdict.Weight]string{verdict.Settled: "note", verdict.Mind: "look", verdict.Trouble: "stop"}

func planned(asked context.Context, r planRequest) (planAnswer, error) {
	ctx, refs, err := r.context()
	if err != nil {
		return planAnswer{}, err
	}
	spec, taken, err := r.Piece.Spec(ctx, refs)
	if err != nil {
		if e := piecefile.AsError(err); e != nil && e.Field != "resins" {
			return planAnswer{}, FieldError{"piece." + e.Field, msg.Of(e.Err)}
		}
		return planAnswer{}, at("resins", err)
	}
	spec.Start, spec.BackMask = ctx.Measured.From, false
	p, err := plan.Evaluate(spec, ctx, plan.Timing{})
	if err != nil {
		return planAnswer{}, r.refusal(err)
	}
	p, lies := p.Earliest()
	lang := msg.LangOf(asked)
	a := planAnswer{Remarks: []planRemark{}, Tasks: []planTask{}, Taken: taken}
	names := map[int64]string{}
	for name, id := range refs.Resins {
		names[id] = name
	}
	for i := range p.Coats {
		a.Coats = append(a.Coats, coatOf(p, &p.Coats[i], names))
	}
	for i, t := range p.Tasks {
		at := lies[i]
		a.Tasks = append(
			a.Tasks,
			planTask{t.Key, t.Layer, msg.Say(taskName(t), lang), at.From.Format(localMinute), at.To.Format(localMinute)},
		)
	}
	for _, d := range p.Diagnostics() {
		remark := planRemark{
			Code:     string(d.Code),
			Severity: severities[d.Weight],
			Layer:    d.Coat,
			Text:     msg.Say(words.Plain(d, units.Metric), lang),
		}
		if cup, ok := d.Args["cup"].(string); ok {
			remark.Cup = cup
		}
		a.Remarks = append(a.Remarks, remark)
	}
	if a.Taken == nil {
		a.Taken = []piecefile.Taken{}
	}
	return a, nil
}

// taskName says what a task is, one without a name of its own by its kind.
func taskName(t plan.Task) msg.Text {
	byKind := map[plan.TaskKind]msg.ID{
		plan.TaskLook:    "Look for bubbles",
		plan.TaskTape:    "Pull the tape",
		plan.TaskDeliver: "Deliver",
	}
	if name, ok := byKind[t.Kind]; ok {
		return name
	}
	return t.What
}

// refusal names the request's field for one of the core's.
func (r planRequest) refusal(err error) error {
	return FieldError{"piece", msg.Of(err)}
}

// context is a studio made of what the request says.
func (r planRequest) context() (*plan.Context, piecefile.Refs, error) {
	refs := piecefile.Refs{Resins: map[string]int64{}, Pigments: map[string]int64{}}
	start, err := time.Parse(localMinute, r.Start)
	if err != nil {
		return nil, refs, FieldError{"start", msg.F("%q is not a local time like 2026-03-02T08:00", r.Start)}
	}
	room := cure.Constant(usualRoom)
	if len(r.Room) > 0 {
		readings := make([]cure.Reading, len(r.Room))
		for i, x := range r.Room {
			readings[i] = cure.Reading{Minute: x.At, Temperature: units.Temperature(x.Temp)}
		}
		if room, err = cure.NewRoom(readings); err != nil {
			return nil, refs, at("room", err)
		}
	}
	week, err := calendar.ParseWeek(planHours)
	if err != nil {
		return nil, refs, err
	}
	ctx := &plan.Context{
		Calendar:  calendar.Calendar{Week: week},
		Room:      room.At(0),
		ScaleStep: units.Mass(r.Scale),
		JugStep:   5,
		Jug:       math.MaxFloat32,
		CupLoss: units.Volume(
			r.CupLoss,
		),
		Products: map[int64]material.Product{},
		Pigments: map[int64]material.Pigment{},
		Book:     technique.Library,
		Spectra:  &colour.Memo{},
		Surface:  colour.Finish(1),
		People:   r.People,
		Measured: &plan.Measured{From: start, Room: room},
	}
	for i, name := range slices.Sorted(maps.Keys(r.Resins)) {
		id := int64(i + 1)
		if ctx.Products[id], err = r.Resins[name].product(id, name); err != nil {
			return nil, refs, err
		}
		refs.Resins[name] = id
	}
	for i, name := range slices.Sorted(maps.Keys(r.Pigments)) {
		id := int64(i + 1)
		ctx.Pigments[id], refs.Pigments[name] = r.Pigments[name].pigment(id, name), id
	}
	return ctx, refs, nil
}

// UnmarshalJSON reads a resin on top of the defaults, which a map's values would
// not get otherwise.
func (p *planResin) UnmarshalJSON(data []byte) error {
	type plain planResin
	out := plain{}
	if err := defaults.Set(&out); err != nil {
		return err
	}
	if err := json.Unmarshal(data, &out); err != nil {
		return err
	}
	*p = planResin(out)
	return nil
}

// UnmarshalJSON reads a pigment on top of the defaults.
func (p *planPigment) UnmarshalJSON(data []byte) error {
	type plain planPigment
	out := plain{Form: "paste"}
	if err := json.Unmarshal(data, &out); err != nil {
		return err
	}
	*p = planPigment(out)
	return nil
}

func (p planResin) product(id int64, name string) (material.Product, error) {
	core, err := p.core()
	if err != nil {
		return material.Product{}, at(fmt.Sprintf("resins.%s", name), err)
	}
	out, err := material.Product{ID: id, Name: name, Product: core, MixMinutes: p.Mix,
		MaxBatch: units.Volume(p.MaxBatch)}.Fitted()
	return out, at(fmt.Sprintf("resins.%s.hard_h", name), err)
}

// planForms are the contract's forms of pigments.
var planForms = map[string]colour.Form{
	"paste":   colour.Paste,
	"powder":  colour.Mica,
	"liquid":  colour.Tint,
	"mica":    colour.Mica,
	"metal":   colour.MetalPowder,
	"glow":    colour.Glow,
	"ink":     colour.Ink,
	"chrome":  colour.Chrome,
	"acrylic": colour.Acrylic,
	"glitter": colour.Glitter,
}

// Densities of what is added where nobody says them, in kg/m³ (from memory).
var planDensities = map[colour.Form]units.Density{
	colour.Paste:       1400,
	colour.Tint:        1150,
	colour.Mica:        3000,
	colour.MetalPowder: 8500,
	colour.Glow:        3600,
	colour.Ink:         850,
	colour.Chrome:      1000,
	colour.Acrylic:     1150,
	colour.Glitter:     1400,
}

func (p planPigment) pigment(id int64, name string) material.Pigment {
	form := planForms[p.Form]
	rule, _ := colour.RuleOf(form)
	out := material.Pigment{
		ID:        id,
		Name:      name,
		Form:      form,
		LoadLimit: rule.LoadLimit,
		Spoon:     rule.Spoon,
		Flammable: rule.Flammable,
		Drop:      units.Drop,
		Density:   planDensities[form],
		Liquid:    planDensities[form],
		Unseen:    true,
	}
	if p.Limit != nil {
		out.LoadLimit = *p.Limit
	}
	if p.Density != nil {
		out.Density, out.Liquid = units.Density(*p.Density), units.Density(*p.Density)
	}
	return out
}

func coatOf(p *plan.Plan, c *plan.Coat, names map[int64]string) planCoat {
	out := planCoat{
		ID:        c.ID,
		Technique: c.Layer.What,
		Resin:     names[c.Product.ID],
		Film:      float64(c.Film),
		RunOff:    float64(c.Amount.RunOff),
		Hands:     c.Covered.Sub(c.Start).Minutes(),
		Moves:     movesOf(c),
	}
	for i, l := range c.Batches {
		batch := planBatch{
			Volume: float64(l.Volume),
			A:      float64(l.A.Mass),
			B:      float64(l.B.Mass),
			Mixed:  l.Met,
			From:   l.From,
			To:     l.Poured,
			UseBy:  l.Met + l.UseBy,
			Tints:  []string{},
			Cups:   map[string]float64{},
		}
		for _, f := range l.Feeds {
			batch.Cups[f.Cup] += float64(f.Volume)
		}
		for _, id := range c.Tinted(i) {
			if len(c.Cup(id).Colour.Doses()) > 0 {
				batch.Tints = append(batch.Tints, id)
			}
		}
		out.Volume += batch.Volume
		out.Batches = append(out.Batches, batch)
	}
	for _, cup := range c.Cups {
		out.Cups = append(
			out.Cups,
			planCup{cup.Colour.ID, float64(cup.Volume), float64(cup.A.Mass), float64(cup.B.Mass), float64(cup.Pigment)},
		)
	}
	return out
}

// movesOf are the moves of a coat on its clock, a poured cup a line.
func movesOf(c *plan.Coat) []planMove {
	out := []planMove{}
	last := ""
	for _, s := range c.Fit.Steps {
		if s.Move == "" {
			continue
		}
		id := fmt.Sprint(s.Moves)
		fits := s.Late <= 1e-9
		if id == last { // the same moves go on from the next batch
			for k := len(out) - max(1, len(s.Takes)); k < len(out); k++ {
				out[k].To, out[k].Fits = s.To, out[k].Fits && fits
			}
			continue
		}
		last = id
		m := planMove{Round: s.Round, Move: string(s.Move), From: s.From, To: s.To, Window: string(s.Step.Window), Fits: fits}
		if len(s.Takes) == 0 {
			out = append(out, m)
		}
		for _, t := range s.Takes {
			one := m
			one.Cup = &t.Cup
			out = append(out, one)
		}
	}
	return out
}

func init() {
	defineLong("plan", "Plan a whole piece: batches, cups, moves, tasks", planned)
}
