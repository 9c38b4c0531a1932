package technique

import (
	"math"
	"slices"
	"strconv"
)

func itoa(n int) string { return strconv.Itoa(n) }

// Chain returns the technique with the moves of a coat in place of its own, so
// that a coat can be made of several techniques and of moves that belong to
// none. The others are those its moves were copied from, as the coat does them.
// Preparation of all of them comes before mixing, the technique's own closing
// steps come last.
func (t Technique) Chain(rounds []Round, others Book) Technique {
	out := t
	out.Steps = nil
	for _, s := range t.Steps {
		if s.BeforeMixing {
			out.Steps = append(out.Steps, s)
		}
	}
	book := Book{t}
	for _, o := range others {
		if _, has := book.Find(o.ID); has {
			continue
		}
		book = append(book, o)
		out.with(o)
	}
	for _, s := range t.Steps {
		if s.Mixes || s.Colours {
			out.Steps = append(out.Steps, s)
		}
	}
	out.wet(rounds, book)
	out.Steps = slices.DeleteFunc(out.Steps, func(s Step) bool {
		return s.For != "" && !slices.ContainsFunc(out.Steps, func(w Step) bool { return w.ID == s.For })
	})
	for _, s := range t.Steps {
		if !s.BeforeMixing && !s.Mixes && !s.Colours && s.Move == "" {
			out.Steps = append(out.Steps, s)
		}
	}
	return out
}

// with adds what another technique of the chain brings besides its moves.
func (t *Technique) with(o Technique) {
	for _, s := range o.Steps {
		if s.BeforeMixing && !slices.ContainsFunc(t.Steps, func(h Step) bool { return h.ID == s.ID }) {
			t.Steps = append(t.Steps, s)
		}
	}
	for _, n := range o.Needs {
		if !slices.ContainsFunc(t.Needs, func(h Need) bool { return h.Material == n.Material }) {
			t.Needs = append(slices.Clip(t.Needs), n)
		}
	}
	t.RunOff = RunOff{
		math.Max(t.RunOff.Low, o.RunOff.Low),
		math.Max(t.RunOff.Usual, o.RunOff.Usual),
		math.Max(t.RunOff.High, o.RunOff.High),
	}
}

// wet adds the moves as steps. Pours of one template's step that follow each
// other are one step.
func (t *Technique) wet(rounds []Round, book Book) {
	t.Tilts = false
	for r, round := range rounds {
		for _, m := range round.Moves {
			s, ok := m.step(book)
			if !ok {
				continue
			}
			s.Round = r
			t.Tilts = t.Tilts || s.Gesture == Tip
			if n := len(t.Steps); s.Pours && n > 0 && t.Steps[n-1].joins(s) {
				last := &t.Steps[n-1]
				last.Takes, last.Moves = append(last.Takes, s.Takes...), append(last.Moves, s.Moves...)
				continue
			}
			t.Steps = append(t.Steps, s)
		}
	}
}

// joins reports whether a pour goes on with the next: the same step of the same
// template, with nothing said of its own.
func (s Step) joins(next Step) bool {
	return s.Pours && s.ID == next.ID && s.From == next.From && s.Round == next.Round && s.Set == 0 && next.Set == 0 &&
		next.After == 0 &&
		s.Where == next.Where && s.Place == next.Place && s.Part == next.Part &&
		s.Optional == next.Optional
}

// step is the step of a move; false for one whose kind nobody knows.
func (m Move) step(book Book) (Step, bool) {
	s, ok := m.template(book)
	if !ok {
		rule, known := m.Kind.Rule()
		if !known {
			return Step{}, false
		}
		s = rule.Step
		s.ID, s.Move = string(m.Kind), m.Kind
		if m.Material == "" && m.Cup == "" {
			m.Material = rule.Material
		}
	}
	s.Moves = []string{m.ID}
	s.From, _ = m.Like()
	s.Set, s.After, s.Optional, s.Place, s.Where = m.Minutes, s.After+m.After, m.Optional, m.Place, m.Where
	if s.Pours = m.Cup != ""; s.Pours {
		s.Takes = []Take{{m.Cup, m.Share()}}
	}
	if m.Material != "" {
		s.lays(m)
	}
	s.Part = m.Over()
	return s, true
}

// lays notes what a move lays on: what burns stays flammable for its time.
func (s *Step) lays(m Move) {
	s.Laid = append(slices.Clone(s.Laid), Laid{m.Material, m.Amount, m.Over()})
	material, ok := FindMaterial(m.Material)
	if !ok {
		return
	}
	s.FlashOff = math.Max(s.FlashOff, material.FlashOff)
	s.Safety = union(s.Safety, material.Safety)
	if !slices.Contains(s.Adds, m.Material) {
		s.Adds = append(slices.Clone(s.Adds), m.Material)
	}
}

func union(a, b []string) []string {
	out := slices.Clone(a)
	for _, x := range b {
		if !slices.Contains(out, x) {
			out = append(out, x)
		}
	}
	return out
}

// template finds the step a move was copied from.
func (m Move) template(book Book) (Step, bool) {
	from, step := m.Like()
	t, ok := book.Find(from)
	if !ok || step == "" {
		return Step{}, false
	}
	return t.StepOf(step)
}

// StepOf returns the step with the id, those that a choice adds among them.
func (t Technique) StepOf(id string) (Step, bool) {
	if i := slices.IndexFunc(t.Steps, func(s Step) bool { return s.ID == id }); i >= 0 {
		return t.Steps[i], true
	}
	for _, o := range t.Options {
		for _, c := range o.Choices {
			for _, ch := range c.Changes {
				if ch.Then != nil && ch.Then.ID == id {
					return *ch.Then, true
				}
			}
		}
	}
	return Step{}, false
}
