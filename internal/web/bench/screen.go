package bench

import (
	"context"
	"errors"
	"math"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/drawing"
	"jevvo/internal/words"
)

// A screenPage is the screen at the bench.
type screenPage struct {
	bench.View
	Board  drawing.Boards
	Sys    units.System
	Base   string // address of the bench day
	Wrong  msg.Text
	Later  []bench.StepView
	Mark   float64       // minute of the newest batch, for the strip
	Jumped time.Duration // the computer's clock was set by
	Then   *thenTask     // what comes after a coat that is done
	After  *overForms    // what is asked then
}

// Crew reports whether more than one is at the bench.
func (p screenPage) Crew() bool { return len(p.People) > 1 }

// QuickMarks are notes that take one press (common practice: what is looked for
// while it is wet).
func (p screenPage) QuickMarks() []msg.ID { return []msg.ID{"Laced", "Muddy", "Bubbles", "Drip"} }

// Moments are the moments of a photograph, in order.
func (p screenPage) Moments() []msg.ID { return session.Moments }

// screen gathers what a bench screen shows now.
func (a *area) screen(ctx context.Context, b session.Bench) (screenPage, error) {
	v, err := a.Studio.Bench.Look(ctx, b)
	if err != nil {
		return screenPage{}, err
	}
	page := screenPage{View: v, Base: base(b)}
	if len(v.Next) > 1 {
		page.Later = v.Next[1:]
	}
	if n := len(v.Mixed); n > 0 {
		page.Mark = v.Mixed[n-1].Minutes
	}
	if a.Clock != nil {
		page.Jumped = a.Clock.Jumped()
	}
	return page, a.drawBoard(ctx, &page)
}

// drawBoard draws the coat as far as it is laid; a piece that was removed since,
// or cannot be calculated any more, has no board to show.
func (a *area) drawBoard(ctx context.Context, page *screenPage) error {
	set, err := a.Studio.Setup.Settings(ctx)
	if err != nil {
		return err
	}
	page.Sys = set.Units
	p, err := a.Studio.Pieces.Piece(ctx, page.PieceID)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	v, err := a.Studio.Agenda.Plan(ctx, p)
	if err != nil {
		return nil //nolint:nilerr // the screen goes on without its board
	}
	page.Board = drawing.Of(v.Plan, v.Plan.Coat(page.Coat), p.ID, set.Units).Small()
	page.soFar(v)
	if page.Current == nil && !page.Rehearsal {
		page.then(v)
		return a.over(ctx, page, v)
	}
	return nil
}

// overForms are the forms shown when a coat is done: what was left, and what became
// of it.
type overForms struct {
	Mixed  msg.Text
	Took   msg.Text // as it was recorded; "" not yet
	Moulds []plan.SmallMould
	Cups   []cupOver
	Size   msg.Text // of a small board
	Rest   msg.Text // what is expected to be left
}

// A cupOver is a cup when the coat is done, with what is still in it.
type cupOver struct {
	ID, Name string
	Left     msg.Text // "" for nothing
}

// cupsOver are the cups of a day that is over: what was held back and not poured is
// still there.
func cupsOver(c *plan.Coat, b session.Bench, sys units.System) (out []cupOver, left units.Volume) {
	for _, col := range c.Layer.Coat.Colours {
		o := cupOver{ID: col.ID, Name: col.Name}
		if v := b.LeftOf(col.ID).Left; v > 0 {
			o.Left, left = v.Text(sys), left+v
		}
		out = append(out, o)
	}
	return out, left
}

// coaster is the side of a small board that takes what is left (common practice).
const coaster = 100 * units.Millimetre

func (a *area) over(ctx context.Context, page *screenPage, v agenda.View) error {
	c := v.Plan.Coat(page.Coat)
	if c == nil {
		return nil
	}
	mixed, err := a.Studio.Bench.Weighed(ctx, page.PieceID, c)
	if err != nil {
		return err
	}
	uses, err := a.Studio.Bench.Uses(ctx, page.PieceID)
	if err != nil {
		return err
	}
	side, rest := coaster.Text(page.Sys), v.Plan.Surplus(c)
	page.After = &overForms{Mixed: mixed.Text(page.Sys), Moulds: v.Plan.Context.Moulds,
		Size: side + " × " + side, Rest: ((rest.Least + rest.Most) / 2).Text(page.Sys)}
	cups, left := cupsOver(c, page.Bench, page.Sys)
	if page.After.Cups = cups; left > 0 {
		page.After.Rest = left.Text(page.Sys)
	}
	if use, ok := uses[page.Coat]; ok {
		page.After.Took = use.Used.Text(page.Sys)
	}
	return nil
}

// then finds what comes next for the piece after the coat.
func (p *screenPage) then(v agenda.View) {
	after := map[string]bool{}
	passed := false
	for _, t := range v.Tasks {
		after[t.Key] = passed
		passed = passed || t.Key == plan.PourKey(p.Coat)
	}
	for _, t := range v.Agenda.TasksOf(p.PieceID) {
		if !t.Done && after[t.Key] && (p.Then == nil || t.Start.Before(p.Then.At)) {
			p.Then = &thenTask{words.Task(t.Task, v.Plan), t.Start}
		}
	}
}

// A thenTask is a task after a coat is done.
type thenTask struct {
	What msg.Text
	At   time.Time
}

// soFar shows what is laid, what the step in hand lays or works, and what the
// heat of a rehearsal has opened.
func (p *screenPage) soFar(v agenda.View) {
	laid, now := map[string]bool{}, map[string]bool{}
	known := false
	for i, s := range p.Steps {
		known = known || len(s.Cups) > 0
		_, over := p.Bench.Over(i)
		for _, cup := range s.Cups {
			laid[cup] = laid[cup] || over
			now[cup] = now[cup] || (p.Current != nil && p.Current.Index == i)
		}
	}
	for i := range p.Board.Boards {
		b := &p.Board.Boards[i]
		if known { // not of a day from before cups were kept
			kept := b.Regions[:0]
			for _, r := range b.Regions {
				r.Now = now[r.Cup]
				if r.Cup == "" || laid[r.Cup] || r.Now {
					kept = append(kept, r)
				}
			}
			b.Regions = kept
		}
		p.zones(v, i, b)
		if p.Rehearsal {
			b.Lace = lace(12*bench.ScoreOf(p.Bench).Heat, b.W, b.H)
		}
	}
}

// zones lays the zones of the step in hand on a board.
func (p *screenPage) zones(v agenda.View, i int, b *drawing.Board) {
	if p.Current == nil || p.Current.Zone == 0 || i >= len(v.Boards) {
		return
	}
	box := v.Boards[i].Bounds()
	for k, z := range composition.Zones(geom.Box{MaxX: float64(box.Width()), MaxY: float64(box.Height())}, p.Current.Zones,
		composition.Order(p.Current.Order)) {
		b.Zones = append(b.Zones, drawing.Zone{X: z.MinX, Y: z.MinY, W: float64(z.Width()), H: float64(z.Height()), N: k + 1,
			Now: k+1 == p.Current.Zone, Done: k+1 < p.Current.Zone})
	}
}

// A stripSpan is a window on the strip under the clock, in per cent of it.
type stripSpan struct {
	X, W, Text float64
	Y          int
	End        bool // its label ends where the bar does
	Name       msg.ID
}

const stripRow = 24 // height of a row of windows

// StripHeight is the height of the strip.
func (p screenPage) StripHeight() int { return stripRow * len(p.Windows) }

// Spans lays the newest batch's windows on the strip, each with its label.
func (p screenPage) Spans() []stripSpan {
	var out []stripSpan
	for i, w := range p.Windows {
		s := stripSpan{X: 100 * w.From / p.Strip, W: math.Max(0.2, 100*(w.To-w.From)/p.Strip), Y: i * stripRow, Name: w.Name}
		if s.Text = s.X; s.X > 60 {
			s.End, s.Text = true, math.Min(100, s.X+s.W)
		}
		out = append(out, s)
	}
	return out
}

// MarkX is where now is on the strip, in per cent.
func (p screenPage) MarkX() float64 {
	if p.Strip <= 0 {
		return 0
	}
	return math.Min(100, 100*p.Mark/p.Strip)
}

// Seconds is what the screen counts down from, in its own seconds: a
// rehearsal's run faster.
func (p screenPage) Seconds() int {
	if p.Current == nil || p.Current.Left <= 0 || math.IsInf(p.Current.Left, 0) {
		return 0
	}
	return int(math.Ceil(p.Current.Left * 60))
}

// Rate is how many of the bench's seconds pass in one of the wall's.
func (p screenPage) Rate() float64 {
	if p.Rehearsal {
		return p.Speed
	}
	return 1
}

// Percent is how much of the coat is done.
func (p screenPage) Percent() int { return 100 * p.Past / max(1, len(p.Steps)) }

// lace spreads n cells evenly over a board by the plastic-number sequence.
func lace(n int, w, h float64) []drawing.Cell {
	out := make([]drawing.Cell, n)
	for k := range out {
		x, y := math.Mod(0.7548776662*float64(k+1), 1), math.Mod(0.5698402910*float64(k+1), 1)
		out[k] = drawing.Cell{X: x * w, Y: y * h, R: math.Min(w, h) * (0.008 + 0.012*math.Mod(float64(k)*0.618, 1))}
	}
	return out
}
