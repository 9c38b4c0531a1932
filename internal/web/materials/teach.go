package materials

import (
	"context"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
	"jevvo/internal/studio/journal"
	"jevvo/internal/words"
)

// A lesson is a technique's teaching text, apart from its steps.
type lesson struct {
	Windows []windowLook
	Faults  []diagnose.Fault
	Piece   int64 // one to rehearse it on; 0 for none
}

// A windowLook describes the resin in a window the technique works in, and what is
// done then.
type windowLook struct {
	Phase cure.Phase
	Look  msg.ID
	Steps []msg.Text
}

// lessonOf gathers what a technique's page teaches.
func (a *area) lessonOf(ctx context.Context, t technique.Technique) (lesson, error) {
	var l lesson
	for _, s := range t.Steps {
		if s.Window == "" || s.BeforeMixing {
			continue
		}
		k := slices.IndexFunc(l.Windows, func(w windowLook) bool { return w.Phase == s.Window })
		if k < 0 {
			k = len(l.Windows)
			l.Windows = append(l.Windows, windowLook{Phase: s.Window, Look: words.Look(s.Window)})
		}
		l.Windows[k].Steps = append(l.Windows[k].Steps, msg.Lower(s.Name))
	}
	l.Faults = diagnose.UsualFaults(habits(t)...)
	used, _, err := a.Studio.Journal.Find(ctx, journal.Asked{Technique: t.ID, Kind: "piece"})
	if err == nil && len(used) > 0 {
		l.Piece = used[0].Piece
	}
	return l, err
}

// habitOf is the habit that belongs to a gesture.
var habitOf = map[technique.Gesture]diagnose.Habit{technique.Sheet: diagnose.Draws, technique.Stick: diagnose.Draws,
	technique.Tip: diagnose.Tilts,
	technique.Air: diagnose.Blows, technique.AirBack: diagnose.Blows, technique.Flame: diagnose.Heats}

// habitWith is the habit that belongs to a technique's material.
var habitWith = map[string]diagnose.Habit{"glitter": diagnose.Strews, "metal-powder": diagnose.Strews,
	"flakes": diagnose.Strews, "glass": diagnose.Strews, "shells": diagnose.Strews, "stones": diagnose.Strews,
	"glue-line": diagnose.Divides}

// habits are the traits of a technique that invite common mistakes.
func habits(t technique.Technique) []diagnose.Habit {
	if t.Between {
		return nil
	}
	var out []diagnose.Habit
	add := func(h diagnose.Habit, is bool) {
		if is && !slices.Contains(out, h) {
			out = append(out, h)
		}
	}
	add(diagnose.Deep, t.Cast)
	for _, s := range t.Steps {
		add(habitOf[s.Gesture], s.Gesture != "")
		for _, b := range s.Beats {
			add(habitOf[b.Gesture], b.Gesture != "")
		}
		add(diagnose.Heats, s.Heats)
		add(diagnose.Opens, s.Window == cure.Lacing)
	}
	for _, n := range t.Needs {
		add(habitWith[n.Material], habitWith[n.Material] != "")
	}
	add(diagnose.Covers, t.Seals)
	add(diagnose.Pours, true)
	return out
}
