package studio

import (
	"fmt"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
)

// A SheetCoat is one coat of the run sheet: everything to do, in order, with
// the time it is due.
type SheetCoat struct {
	CoatPlan
	Lines  []SheetLine
	Safety []technique.Safety // each note once, at the step that needs it first
}

// A SheetLine is one thing to do.
type SheetLine struct {
	At     time.Time
	Until  time.Time // of a window; zero otherwise
	Name   string
	Do     string
	Safety []technique.Safety
	Wait   bool // not hands-on: a time to watch
	Mixes  bool // weigh-out belongs here
	NewDay bool // the day differs from the line before
}

// bubbleMinutes are the passes of the first hour (common practice).
var bubbleMinutes = []float64{15, 30, 45, 60}

// BubbleLooks are the minutes after mixing of the looks for bubbles after the
// pour.
func BubbleLooks(c CoatPlan) []float64 {
	var out []float64
	for _, m := range bubbleMinutes {
		if at := c.Fit.Ends + m; at < c.Clock.Window(cure.Stringy).From {
			out = append(out, at)
		}
	}
	return out
}

// Sheet lists the steps of every coat with their times.
func (p Plan) Sheet() []SheetCoat {
	var out []SheetCoat
	for i, c := range p.Coats {
		out = append(out, p.sheetCoat(c, i == len(p.Coats)-1, i > 0))
	}
	return out
}

func (p Plan) sheetCoat(c CoatPlan, last, scuffed bool) SheetCoat {
	s := SheetCoat{CoatPlan: c}
	said := map[string]bool{}
	notes := func(keys ...string) []technique.Safety {
		var fresh []string
		for _, k := range keys {
			if !said[k] {
				said[k] = true
				fresh = append(fresh, k)
			}
		}
		return technique.SafetyNotes(fresh...)
	}
	if c.Key == firstCoat {
		s.Lines = p.surfaceLines(c.Start)
	}
	at := c.Start
	job := p.job(c.Colours)
	for _, st := range p.preparation(c.Technique, scuffed) {
		s.Lines = append(s.Lines, SheetLine{At: at, Name: st.Name, Do: st.Do, Safety: notes(st.Safety...)})
		at = at.Add(minutes(st.Minutes(job)))
	}
	for _, st := range c.Fit.Steps {
		s.Lines = append(s.Lines, SheetLine{At: c.Met.Add(minutes(st.From)), Name: st.Name, Do: st.Do,
			Safety: notes(st.Safety...), Mixes: st.Name == technique.MixStep})
	}
	s.Lines = append(s.Lines, p.watchLines(c, notes, last)...)
	for i := range s.Lines {
		s.Lines[i].NewDay = i == 0 || s.Lines[i].At.YearDay() != s.Lines[i-1].At.YearDay()
	}
	return s
}

// surfaceLines are what the board itself needs before the first pour, each
// with the wait it leaves (common practice, handbook 8).
func (p Plan) surfaceLines(start time.Time) []SheetLine {
	spec := p.Piece.Spec
	var out []SheetLine
	add := func(before time.Duration, name, do string) {
		out = append(out, SheetLine{At: start.Add(-before), Name: name, Do: do})
	}
	bare := spec.Support != surface.Tile && spec.Support != surface.MouldSlab
	if bare && !spec.Sealed {
		add(36*time.Hour, "Seal and prime", "Both faces, two coats, four hours each, so that the board neither breathes nor warps. Then leave it overnight.")
	}
	if spec.Sides == surface.SidesRunOver && spec.Depth > 0 && bare {
		add(25*time.Hour, "Paint the sides", "Near the resin's colour; resin that runs over them stays see-through. An hour a coat, a day before resin.")
	}
	if spec.BackMask && bare {
		add(25*time.Hour, "Mask the back", "Tape, or latex with two hours to dry, so that drips come away with it.")
	}
	if spec.Sides == surface.SidesTaped {
		add(30*time.Minute, "Tape the sides", "Press the tape down well; resin creeps under a loose edge.")
	}
	if spec.Edge == surface.Dam {
		add(30*time.Minute, "Build the dam", fmt.Sprintf("Tape standing %s proud of the face all round. Hot air near it later, never flame.", spec.EdgeHeight.Text(p.Settings.Units)))
	}
	return out
}

// watchLines are the waits after the pour.
func (p Plan) watchLines(c CoatPlan, notes func(...string) []technique.Safety, last bool) []SheetLine {
	var out []SheetLine
	gel := c.Clock.Gel()
	for _, m := range bubbleMinutes {
		if at := c.Fit.Ends + m; at < gel && c.Clock.Window(cure.Stringy).From > at {
			out = append(out, SheetLine{At: c.Met.Add(minutes(at)), Name: "Look for bubbles", Wait: true,
				Do: "Lift the cover, look along the light, a quick pass only where a bubble stands. Cover again.", Safety: notes("flame", "respirator")})
		}
	}
	soft, hard := c.Windows[cure.SoftSet], c.Windows[cure.Hard]
	if p.Taped() {
		out = append(out, SheetLine{At: soft.From, Until: soft.To, Name: "Pull the tape", Wait: true,
			Do: "Slowly, away from the film, while it is soft-set."})
	}
	if !last {
		return out
	}
	out = append(out,
		SheetLine{At: hard.From, Name: "Finish the back and sides", Wait: true,
			Do: p.finishing(), Safety: notes("dust", "waste")},
		SheetLine{At: p.Deliver, Name: "Ready to deliver", Wait: true,
			Do: fmt.Sprintf("Cured for light use. For heat wait until %s.", p.HeatSafe.Format("2 Jan 2006")), Safety: notes("hot")},
	)
	return out
}

// finishing says how the back and sides are cleaned.
func (p Plan) finishing() string {
	if p.Piece.BackMask {
		return "Peel the back mask with its drips, wet-sand the sides where they need it and touch them up."
	}
	return "Warm and peel the drips, wet-sand the back and sides and paint them."
}

// Deference is the line every run sheet ends with.
func (p Plan) Deference() string { return technique.Deference }
