package cure

import "math"

// A Phase is the name of a window: a stretch of the cure in which certain
// moves work.
type Phase string

// The windows in the order they open.
const (
	Runny     Phase = "Runny"      // pour, spread, tilt; bubbles rise
	Lacing    Phase = "Lacing"     // swipe, warm, torch for lacing
	Holding   Phase = "Holding"    // dragged lines keep
	Stringy   Phase = "Stringy"    // hands and flame off
	SoftSet   Phase = "Soft set"   // tape off, edges round over
	Tacky     Phase = "Tacky"      // next coat bonds without sanding
	Firm      Phase = "Firm"       // neither tacky nor hard: wait
	Hard      Phase = "Hard"       // next coat after sanding; handle
	Cured     Phase = "Cured"      // deliver, light use
	HeatReady Phase = "Heat-ready" // hot cups
)

// bounds of a phase in conversion. Those that begin with a thickening are
// converted once; an upper bound of 1 never closes.
type bounds struct {
	phase    Phase
	from, to float64
}

// phases holds every window (common practice, with the model's constants).
var phases = []bounds{
	{Runny, 0, ConversionAt(2)},
	{Lacing, ConversionAt(1.2), ConversionAt(5)},
	{Holding, ConversionAt(1.7), ConversionAt(20)},
	{Stringy, ConversionAt(20), GelPoint},
	{SoftSet, GelPoint, 0.65},
	{Tacky, 0.65, 0.75},
	{Firm, 0.75, HardAlpha},
	{Hard, HardAlpha, 1},
	{Cured, 0.885, 1},
	{HeatReady, HeatAlpha, 1},
}

// mostPhases is how many phases there are.
const mostPhases = 10

// A Window is a phase on the clock, in minutes after mixing began. To is
// +Inf for one that never closes.
type Window struct {
	Phase    Phase
	From, To float64
}

// Contains reports whether the minute lies in the window.
func (w Window) Contains(minute float64) bool { return minute >= w.From && minute < w.To }

// Window returns when the phase opens and closes; the zero Window for a name
// that is no phase.
func (c *Clock) Window(p Phase) Window {
	for i, b := range phases {
		if b.phase == p {
			return c.remembered(i)
		}
	}
	return Window{}
}

// remembered calculates a window once.
func (c *Clock) remembered(i int) Window {
	if w := c.windows[i].Load(); w != nil {
		return *w
	}
	w := c.window(phases[i])
	c.windows[i].Store(&w)
	return w
}

// Windows returns all windows in the order they open.
func (c *Clock) Windows() []Window {
	all := make([]Window, len(phases))
	for i := range phases {
		all[i] = c.remembered(i)
	}
	return all
}

func (c *Clock) window(b bounds) Window {
	w := Window{Phase: b.phase, From: c.Minute(b.from), To: math.Inf(1)}
	if b.to < 1 {
		w.To = c.Minute(b.to)
	}
	return w
}

// Begins returns the conversion at which a phase opens, 0 for a name that is no
// phase.
func Begins(p Phase) float64 {
	for _, b := range phases {
		if b.phase == p {
			return b.from
		}
	}
	return 0
}

// Gel returns the minute the resin gels.
func (c *Clock) Gel() float64 { return c.Minute(GelPoint) }

// Known reports whether the name is that of a phase.
func Known(p Phase) bool {
	for _, b := range phases {
		if b.phase == p {
			return true
		}
	}
	return false
}
