package technique

import (
	"slices"
	"strconv"
	"strings"
)

// StepID is the id of a step that was known by its name before steps had ids: its
// small letters and digits. An id is its own id.
func StepID(name string) string {
	parts := strings.FieldsFunc(
		strings.ToLower(name),
		func(r rune) bool { return (r < 'a' || r > 'z') && (r < '0' || r > '9') },
	)
	if len(parts) == 0 && name != "" { // in another script
		return name
	}
	return strings.Join(parts, "-")
}

// Identified returns a technique of a studio's own whose steps have ids and are
// moves, also one that was kept before there were any.
func (t Technique) Identified() Technique {
	t.Steps = slices.Clone(t.Steps)
	seen := map[string]bool{}
	for i := range t.Steps {
		s := &t.Steps[i]
		if s.ID == "" {
			s.ID = StepID(string(s.Name))
		}
		for n, id := 2, s.ID; seen[s.ID]; n++ {
			s.ID = id + "-" + strconv.Itoa(n)
		}
		seen[s.ID] = true
		s.Doses = s.Doses || s.Colours
		if s.Move == "" {
			s.Move = s.moves()
		}
	}
	t.Options = slices.Clone(t.Options)
	for i := range t.Options {
		t.Options[i] = t.Options[i].identified()
	}
	return t
}

func (o Option) identified() Option {
	o.Choices = slices.Clone(o.Choices)
	for k := range o.Choices {
		changes := slices.Clone(o.Choices[k].Changes)
		for m := range changes {
			changes[m].Step = StepID(changes[m].Step)
			if then := changes[m].Then; then != nil {
				step := *then
				step.ID, step.Move = StepID(string(step.Name)), step.moves()
				changes[m].Then = &step
			}
		}
		o.Choices[k].Changes = changes
	}
	return o
}

// moves is the kind of move a step is that does not say: that of the library's step
// with its id, else by what it does; "" for what is done before, to mix and to close.
func (s Step) moves() MoveKind {
	if s.Move != "" {
		return s.Move
	}
	id := StepID(string(s.Name))
	for _, t := range Library {
		if i := slices.IndexFunc(t.Steps, func(o Step) bool { return o.ID == id }); i >= 0 {
			return t.Steps[i].Move
		}
	}
	switch {
	case s.BeforeMixing || s.Mixes || s.Colours || id == cover.ID || s.Window == "":
		return ""
	case s.Pours && s.Bed:
		return Spread
	case s.Pours:
		return Ribbon
	case s.Waiting:
		return Rest
	case s.Heats:
		return Heat
	case s.Gesture == Tip:
		return Tilt
	case s.Gesture == Sheet:
		return Swipe
	}
	return Draw
}
