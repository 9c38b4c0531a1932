package bench

import (
	"context"
	"errors"
	"math"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/drawing"
)

// A screenPage is the screen at the bench.
type screenPage struct {
	bench.View
	Board  drawing.Boards
	Sys    units.System
	Base   string // address of the bench day
	Wrong  string
	Later  []bench.StepView
	Mark   float64       // minute of the newest lot, for the strip
	Jumped time.Duration // the computer's clock was set by
	Play   bool          // a stand-in for the sensor can be played with
}

// screen gathers what a bench screen shows now.
func (a *area) screen(ctx context.Context, b session.Bench) (screenPage, error) {
	v, err := a.Studio.Bench.Look(ctx, b)
	if err != nil {
		return screenPage{}, err
	}
	page := screenPage{View: v, Base: base(b), Play: a.Studio.Bench.Devices().Simulated("room")}
	if len(v.Next) > 1 {
		page.Later = v.Next[1:]
	}
	if n := len(v.Lots); n > 0 {
		page.Mark = v.Lots[n-1].Minutes
	}
	if a.Clock != nil {
		page.Jumped = a.Clock.Jumped()
	}
	return page, a.drawBoard(ctx, &page)
}

// drawBoard draws the coat; a piece that was removed since, or cannot be
// reckoned any more, has no board to show.
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
	if v, err := a.Studio.Agenda.Plan(ctx, p); err == nil {
		page.Board = drawing.Of(v.Plan, v.Plan.Coat(page.Coat), p.ID, set.Units).Small()
		if page.Rehearsal {
			page.Board = rehearsed(page.Board, page.View)
		}
	}
	return nil
}

// stripWidth is the strip's length in its own units.
const stripWidth = 1000.0

// A stripSpan is a window on the strip under the clock.
type stripSpan struct {
	X, W float64
	Y    int
}

const stripRow = 17 // height of a row of windows

// StripHeight is the height of the strip.
func (p screenPage) StripHeight() int { return stripRow * len(p.Windows) }

// Spans lays the newest lot's windows on the strip.
func (p screenPage) Spans() []stripSpan {
	var out []stripSpan
	for i, w := range p.Windows {
		out = append(out, stripSpan{w.From / p.Strip * stripWidth, math.Max(1, (w.To-w.From)/p.Strip*stripWidth), i * stripRow})
	}
	return out
}

// MarkX is where now is on the strip.
func (p screenPage) MarkX() float64 {
	if p.Strip <= 0 {
		return 0
	}
	return math.Min(stripWidth, p.Mark/p.Strip*stripWidth)
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

// rehearsed shows what a rehearsal has poured so far: regions appear as the
// steps that pour are done, and lace where a heat step met its window.
func rehearsed(d drawing.Boards, v bench.View) drawing.Boards {
	pours, poured := 0, 0
	for i, st := range v.Steps {
		if st.Kind == plan.StepHands && !st.Heats {
			pours++
			if i < v.Past {
				poured++
			}
		}
	}
	laced := bench.ScoreOf(v.Bench).Heat
	for i := range d.Boards {
		b := &d.Boards[i]
		n := len(b.Regions) * poured / max(1, pours)
		b.Regions = b.Regions[:min(n, len(b.Regions))]
		if n > 0 {
			b.Lace = lace(12*laced, b.W, b.H)
		}
	}
	return d
}

// lace spreads n cells evenly over a board by the plastic-number sequence.
func lace(n int, w, h float64) []drawing.Cell {
	out := make([]drawing.Cell, n)
	for k := range out {
		x, y := math.Mod(0.7548776662*float64(k+1), 1), math.Mod(0.5698402910*float64(k+1), 1)
		out[k] = drawing.Cell{X: x * w, Y: y * h, R: math.Min(w, h) * (0.008 + 0.012*math.Mod(float64(k)*0.618, 1))}
	}
	return out
}
