package pieces

import (
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/cupsheet"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

const printed = "Mon 2 Jan 2006 15:04"

// A paper is a printed sheet of a piece.
type paper struct {
	View    agenda.View
	Plan    *plan.Plan
	Sys     units.System
	Board   drawing.Boards
	Printed msg.Text
	Alone   bool // times of a piece that is not planned among all others
	Defer   msg.ID
}

// paper reads the plan that is printed.
func (a *area) paper(c *gin.Context) (paper, error) {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return paper{}, err
	}
	v, err := a.Studio.Agenda.Plan(c.Request.Context(), p)
	if err != nil {
		return paper{}, err
	}
	stills, err := a.Studio.Preview.Stills(c.Request.Context(), p.ID)
	if err != nil {
		return paper{}, err
	}
	sys := v.Agenda.Book.Settings.Units
	board := drawing.Of(v.Plan, &v.Plan.Coats[0], p.ID, sys).Small()
	board.Still = stills[p.ID].Address(p.ID, v.Plan, &v.Plan.Coats[0])
	return paper{View: v, Plan: v.Plan, Sys: sys, Board: board,
		Printed: msg.Date(a.Studio.Now().Local(), printed), Alone: v.Slot == nil, Defer: technique.Deference}, nil
}

// A sheetPage is the run sheet: everything to do, in the order of the agenda.
type sheetPage struct {
	paper
	Parts []sheetPart
}

// A sheetPart is work between coats, or the day of a coat.
type sheetPart struct {
	Coat  *plan.Coat // nil for work beside coats
	Title msg.Text
	Start time.Time
	Order []plan.CupInOrder
	Lines []sheetLine
}

// A sheetLine is one thing to do.
type sheetLine struct {
	At      time.Time // zero when nothing says when
	Until   time.Time
	Name    msg.Text
	Do      msg.Text
	With    []msg.Text // what it takes
	LookFor msg.Text
	Safety  []technique.Safety
	Wait    bool // not hands-on: a time to watch
	NewDay  bool // the day differs from the line before
	Done    bool
}

func (a *area) sheet(c *gin.Context) error {
	p, err := a.paper(c)
	if err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "runsheet",
		frame.Page{Title: msg.F("Run sheet: %s", p.View.Name), Nav: "pieces", Data: sheetPage{p, sheetOf(p.View, p.Sys)}})
}

// sheetOf prints the tasks of the agenda, or of the plan alone for a piece that
// has no place in it; the task of a pour opens into the steps of its coat.
func sheetOf(v agenda.View, sys units.System) []sheetPart {
	var parts []sheetPart
	placed := v.Slot != nil
	for _, t := range timed(v) {
		coat := v.Plan.Coat(t.Coat)
		if t.Kind == plan.TaskPour && coat != nil {
			parts = append(parts, pourPart(v.Plan, coat, t, placed, sys))
			continue
		}
		if !placed && (t.Kind == plan.TaskLook || t.Kind == plan.TaskTape) {
			continue // stands among the steps of its coat
		}
		if n := len(parts); n == 0 || parts[n-1].Coat != nil {
			parts = append(parts, sheetPart{Title: beside(n)})
		}
		last := &parts[len(parts)-1]
		line := sheetLine{At: t.Start, Name: words.Task(t.Task, v.Plan), Do: words.TaskDo(t.Task),
			Safety: technique.SafetyNotes(t.Safety...), Done: t.Done}
		if t.Kind == plan.TaskTape && coat != nil {
			line.With = words.Carried([]plan.Carry{{Kind: plan.CarryTape, Sides: plan.TapeOrder(coat.Layer.Coat.TapeFirst)}},
				sys)
		}
		last.Lines = append(last.Lines, line)
	}
	markDays(parts)
	return parts
}

// beside names work before the first coat, and after or between coats.
func beside(n int) msg.ID {
	if n == 0 {
		return "Before resin"
	}
	return "Then"
}

// timed returns a piece's tasks with their times in the agenda. A piece alone
// has times for its pours only.
func timed(v agenda.View) []agenda.Task {
	if v.Slot != nil {
		return v.Agenda.TasksOf(v.ID)
	}
	out := make([]agenda.Task, len(v.Plan.Tasks))
	for i, t := range v.Plan.Tasks {
		out[i] = agenda.Task{Task: t, PieceID: v.ID, Plan: v.Plan}
		if c := v.Plan.Coat(t.Coat); c != nil && t.Kind == plan.TaskPour {
			out[i].Start = c.Start
		}
	}
	return out
}

// pourPart is the day of a coat: its cups and its steps on the clock. Where the
// agenda has placed the looks and the tape, they stand there and not here.
func pourPart(p *plan.Plan, c *plan.Coat, t agenda.Task, placed bool, sys units.System) sheetPart {
	part := sheetPart{Coat: c, Title: words.CoatWith(c), Start: t.Start, Order: p.InOrder(c)}
	said := map[string]bool{}
	for _, s := range p.Steps(c) {
		attended := s.Kind == plan.StepLook || s.Kind == plan.StepTape
		if placed && attended {
			continue
		}
		line := sheetLine{At: c.At(s.From), Name: words.Step(s, len(c.Batches)), Do: s.Do, LookFor: s.LookFor,
			Wait: s.Kind == plan.StepRest || attended, Done: t.Done, With: words.Carried(p.Carries(c, s), sys)}
		for _, key := range s.Safety { // each note once, where it is needed first
			if !said[key] {
				said[key] = true
				line.Safety = append(line.Safety, technique.SafetyNotes(key)...)
			}
		}
		part.Lines = append(part.Lines, line)
	}
	return part
}

func markDays(parts []sheetPart) {
	var day time.Time
	for i := range parts {
		for k := range parts[i].Lines {
			l := &parts[i].Lines[k]
			if l.At.IsZero() {
				continue
			}
			l.NewDay = day.IsZero() || k == 0 || l.At.YearDay() != day.YearDay()
			day = l.At
		}
	}
}

// A cardPage is the weigh-out card: what stands beside the scale, on paper.
type cardPage struct {
	paper
	Coats []cardCoat
}

type cardCoat struct {
	*plan.Coat
	Cups    []cardCup
	Surplus plan.Surplus
}

type cardCup struct {
	plan.CupInOrder
	Doses []cardDose
}

type cardDose struct {
	Name    string
	Grams   msg.Text
	Measure msg.Text
}

func (a *area) weighCard(c *gin.Context) error {
	p, err := a.paper(c)
	if err != nil {
		return err
	}
	page := cardPage{paper: p}
	for i := range p.Plan.Coats {
		coat := &p.Plan.Coats[i]
		on := cardCoat{Coat: coat, Surplus: p.Plan.Surplus(coat)}
		for _, cup := range p.Plan.InOrder(coat) {
			on.Cups = append(on.Cups, cardCup{cup, dosesOf(p.Plan, cup.Cup, p.Sys)})
		}
		page.Coats = append(page.Coats, on)
	}
	return a.Show(c, http.StatusOK, "card",
		frame.Page{Title: msg.F("Weigh-out card: %s", p.View.Name), Nav: "pieces", Data: page})
}

// dosesOf names the pigments of a cup with what goes in.
func dosesOf(p *plan.Plan, cup plan.Cup, sys units.System) []cardDose {
	var out []cardDose
	for _, d := range cup.Doses() {
		pigment, ok := p.Context.Pigments[d.Pigment]
		if !ok {
			pigment.Name = "pigment"
		}
		dose := cardDose{Name: pigment.Name, Grams: d.Mass.Text(sys)}
		if ok {
			dose.Measure = words.Measure(pigment, d.Mass, sys)
		}
		out = append(out, dose)
	}
	return out
}

func (a *area) cupsCSV(c *gin.Context) error {
	p, err := a.paper(c)
	if err != nil {
		return err
	}
	c.Header("Content-Type", "text/csv; charset=utf-8")
	frame.Attach(c, fmt.Sprintf("cups-%d.csv", p.View.ID))
	return cupsheet.Write(c.Writer, cupRows(p.Plan, p.Sys, msg.LangOf(c.Request.Context())))
}

func cupRows(p *plan.Plan, sys units.System, l msg.Lang) []cupsheet.Row {
	var rows []cupsheet.Row
	for i := range p.Coats {
		coat := &p.Coats[i]
		for _, cup := range coat.Cups {
			var names []string
			for _, d := range dosesOf(p, cup, sys) {
				names = append(names, d.Name)
			}
			rows = append(rows, cupsheet.Row{
				Coat: words.Coat(coat).In(l), Cup: words.Filled(cup.Colour.Name).In(l),
				Role: l.Text(string(cup.Colour.Role)), Pigments: msg.And(msg.Owns(names)...).In(l),
				Swatch: cup.Colour.Swatch,
				Volume: cup.Volume.Millilitres(), A: cup.A.Mass.Grams(), B: cup.B.Mass.Grams(),
				AVolume: cup.A.Volume.Millilitres(), BVolume: cup.B.Volume.Millilitres(), Dye: cup.Pigment.Grams(),
				Share: cup.Share,
			})
		}
	}
	return rows
}
