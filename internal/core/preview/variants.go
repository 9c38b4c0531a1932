package preview

import (
	"cmp"
	"slices"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// onBed are the moves that pour on the bed.
func (s *Scene) onBed() (on []int) {
	for k, m := range s.Scene.Moves {
		if m.Kind != flow.Bed || m.Within != nil {
			on = append(on, k)
		}
	}
	return on
}

// order lets what is poured on the bed come down cup by cup, at the moments there are.
func (s *Scene) order(cups []string) {
	if len(cups) == 0 {
		return
	}
	on := s.onBed()
	slices.SortStableFunc(on, func(a, b int) int { return cmp.Compare(s.Scene.Moves[a].At, s.Scene.Moves[b].At) })
	moves := make([]flow.Move, len(on))
	for k, i := range on {
		moves[k] = s.Scene.Moves[i]
	}
	rank := func(m flow.Move) int {
		if k := slices.Index(cups, s.Cups[m.Cup].Colour.ID); k >= 0 {
			return k
		}
		return len(cups)
	}
	slices.SortStableFunc(moves, func(a, b flow.Move) int { return cmp.Compare(rank(a), rank(b)) })
	for k, i := range on {
		moves[k].At = s.Scene.Moves[i].At
		s.Scene.Moves[i] = moves[k]
	}
}

// OnBed are the cups that are poured on the bed, by their colour's id, in the order in
// which they first are.
func (s *Scene) OnBed() (cups []string) {
	on := s.onBed()
	slices.SortStableFunc(on, func(a, b int) int { return cmp.Compare(s.Scene.Moves[a].At, s.Scene.Moves[b].At) })
	for _, i := range on {
		m := s.Scene.Moves[i]
		if id := s.Cups[m.Cup].Colour.ID; pours(m.Kind) && !slices.Contains(cups, id) {
			cups = append(cups, id)
		}
	}
	return cups
}

func pours(k flow.Kind) bool {
	return slices.Contains([]flow.Kind{flow.Bed, flow.Ribbon, flow.Puddle, flow.Drops, flow.Mist}, k)
}

// Tips reports whether the board is tipped.
func (s *Scene) Tips() bool {
	return slices.ContainsFunc(s.Scene.Moves, func(m flow.Move) bool { return m.Kind == flow.Tilting })
}

// lean tips the board by so many quarter turns otherwise.
func (s *Scene) lean(quarters int) {
	for range quarters & 3 {
		for k := range s.Scene.Moves {
			if m := &s.Scene.Moves[k]; m.Kind == flow.Tilting {
				m.TiltX, m.TiltY = -m.TiltY, m.TiltX
			}
		}
	}
}

// turn lets what is poured on the bed come down in the reverse order, at the same
// moments.
func (s *Scene) turn() {
	on := s.onBed()
	for a, b := 0, len(on)-1; a < b; a, b = a+1, b-1 {
		x, y := &s.Scene.Moves[on[a]], &s.Scene.Moves[on[b]]
		x.At, y.At = y.At, x.At
		*x, *y = *y, *x
	}
}

// scale lays more under what is poured, or pours ribbons wider, of the same amount.
func (s *Scene) scale(o Options) {
	for k := range s.Scene.Moves {
		switch m := &s.Scene.Moves[k]; {
		case o.Bed > 0 && m.Kind == flow.Bed && m.Within == nil:
			m.Volume *= o.Bed
		case o.Wide > 0 && m.Kind == flow.Ribbon:
			if length := geom.Length(m.Points) / 1000; length > 0 {
				m.Width = o.Wide * flow.RibbonWidth(m.Volume, length)
			}
		}
	}
}

// Ribbons reports whether something is poured along a line.
func (s *Scene) Ribbons() bool {
	return slices.ContainsFunc(s.Scene.Moves, func(m flow.Move) bool { return m.Kind == flow.Ribbon })
}
