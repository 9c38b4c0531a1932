package preview

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/preview"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
)

// A Tried is a trial on the preview of a coat, beside what is planned.
type Tried struct {
	Rev int64 `json:"-"`
	Take
	Undone []Hand
	Kept   *Take `json:",omitempty"` // put aside to compare with
}

// A Take is one way to play a coat, with what is done by hand.
type Take struct {
	Way
	Moves []Hand
}

// A Hand is a move made by hand. Points are in mm from the board's upper left, as
// compositions have them; the minute is that since mixing began.
type Hand struct {
	Kind   string
	Minute float64
	Cup    string
	Points []geom.Point
	Amount units.Volume
	Tilt   [2]float64 // degrees; positive: the right, the top is high
	For    float64    // s
	Side   string     // of a dam that is pulled: "left", "right", "top", "bottom"
}

// sides are those of the board as they are seen.
var sides = map[string]flow.Side{"left": flow.West, "right": flow.East, "top": flow.North, "bottom": flow.South}

// A HandRule holds the inputs of a move by hand, and its defaults.
type HandRule struct {
	Kind   string
	Name   msg.ID
	Points int // that place it
	Pours  bool
	Tilts  bool
	Thing  composition.Kind // it becomes in the composition; "" for none
	usual  flow.Move
	gap    float64 // of a sheet, times the mean film
	deep   float64 // of a stick, times the mean film
}

// Sided reports whether it is done at one side of the board.
func (r HandRule) Sided() bool { return r.Kind == "unmask" }

// HandRules are the moves offered (sizes: our reading of common practice).
var HandRules = []HandRule{
	{Kind: "ribbon", Name: "Ribbon", Points: 2, Pours: true, Thing: composition.Ribbon,
		usual: flow.Move{Kind: flow.Ribbon, For: 4}},
	{Kind: "puddle", Name: "Puddle", Points: 1, Pours: true, Thing: composition.Puddle,
		usual: flow.Move{Kind: flow.Puddle, For: 2}},
	{Kind: "drops", Name: "Drops", Points: 1, Pours: true, usual: flow.Move{Kind: flow.Drops, Count: 12, Radius: 0.06}},
	{Kind: "flick", Name: "Drops flicked", Points: 1, Pours: true,
		usual: flow.Move{Kind: flow.Drops, Count: 28, Radius: 0.12}},
	{Kind: "sheet", Name: "Sheet drawn", Points: 2, gap: 1.9,
		usual: flow.Move{Kind: flow.Swipe, Width: 0.12, Speed: 0.06}},
	{Kind: "stick", Name: "Stick drawn", Points: 2, deep: 0.5,
		usual: flow.Move{Kind: flow.Drag, Width: 0.012, Speed: 0.06}},
	{Kind: "comb", Name: "Comb drawn", Points: 2, deep: 0.5,
		usual: flow.Move{Kind: flow.Comb, Width: 0.1, Speed: 0.06, Count: 5}},
	{Kind: "blow", Name: "Air blown", Points: 2, usual: flow.Move{Kind: flow.Blow, Width: 0.09, Shear: 4, For: 5}},
	{Kind: "hot-air", Name: "Hot air", Points: 2,
		usual: flow.Move{Kind: flow.Blow, Width: 0.09, Shear: 4, For: 5, To: 50}},
	{Kind: "dust", Name: "Powder dusted", Points: 1,
		usual: flow.Move{Kind: flow.Dust, Radius: 0.04, Volume: 0.0005 / float64(preview.PowderDensity)}},
	{Kind: "mist", Name: "Sprayed", Points: 1, Pours: true, usual: flow.Move{Kind: flow.Mist, Radius: 0.08}},
	{Kind: "finger", Name: "Finger drawn", Points: 2, deep: 0.9,
		usual: flow.Move{Kind: flow.Drag, Width: 0.016, Speed: 0.08}},
	{Kind: "stir", Name: "Stirred in place", Points: 1, usual: flow.Move{Kind: flow.Stir, Radius: 0.02}},
	{Kind: "unmask", Name: "Dam pulled", usual: flow.Move{Kind: flow.Unmask}},
	{Kind: "barrier", Name: "Barrier set", Points: 2, usual: flow.Move{Kind: flow.Barrier}},
	{Kind: "ridge", Name: "Ridge of paste under it", Points: 2,
		usual: flow.Move{Kind: flow.Ridge, Width: 0.008, Depth: 0.002}},
	{Kind: "warm", Name: "Warmed", Points: 1, usual: flow.Move{Kind: flow.Warm, Radius: 0.06, To: 60, For: 10}},
	{Kind: "tilt", Name: "Board tilted", Tilts: true, usual: flow.Move{Kind: flow.Tilting, For: 10}},
}

// RuleOf returns the rule of a hand's move.
func RuleOf(kind string) (HandRule, bool) {
	k := slices.IndexFunc(HandRules, func(r HandRule) bool { return r.Kind == kind })
	if k < 0 {
		return HandRule{}, false
	}
	return HandRules[k], true
}

// mostHands is how many moves may be made by hand.
const mostHands = 100

// check returns what is wrong with a move, at its field.
func (h Hand) check(c *plan.Coat) error {
	rule, ok := RuleOf(h.Kind)
	switch {
	case !ok:
		return form.Refusef("kind", "there is no move %q", h.Kind)
	case !(h.Minute >= 0) || h.Minute > 180:
		return form.Refusef("minute", "a move is made within three hours after mixing")
	case len(h.Points) < rule.Points:
		return form.Refusef("points", "%s needs %d places on the board, as 120,80 300,80", rule.Name, rule.Points)
	case rule.Pours && !slices.ContainsFunc(c.Cups, func(k plan.Cup) bool { return k.Colour.ID == h.Cup }):
		return form.Refusef("cup", "what is poured comes from one of the cups")
	case rule.Pours && (!(h.Amount > 0) || h.Amount > 5000):
		return form.Refusef("amount", "pour more than 0 and at most 5 L")
	case rule.Tilts && !(abs(h.Tilt[0]) <= 45 && abs(h.Tilt[1]) <= 45):
		return form.Refusef("tilt", "a board is tilted by at most 45°")
	case rule.Sided() && sides[h.Side] == 0:
		return form.Refusef("side", "a dam is pulled at the left, the right, the top or the bottom")
	case !(h.For >= 0) || h.For > 600:
		return form.Refusef("for", "a move takes at most ten minutes")
	}
	return nil
}

func abs(v float64) float64 {
	if v < 0 {
		return -v
	}
	return v
}

// core is the move as a scene wants it.
func (h Hand) core(s *preview.Scene, mean float64) flow.Move {
	rule, _ := RuleOf(h.Kind)
	m := rule.usual
	m.Gap, m.Depth = m.Gap+rule.gap*mean, m.Depth+rule.deep*mean
	m.At = 60 * h.Minute
	if h.For > 0 {
		m.For = h.For
	}
	for _, p := range h.Points {
		m.Points = append(m.Points, s.OnGrid(p))
	}
	if m.Cup = max(0, s.Index(h.Cup)); rule.Pours {
		m.Volume = float64(h.Amount) * 1e-6
	}
	if m.Kind == flow.Dust {
		m.Cup = s.Metal()
	}
	m.TiltX, m.TiltY = h.Tilt[0], h.Tilt[1]
	m.Side = sides[h.Side]
	return m
}

// dusts reports whether powder is dusted on by hand.
func (t Take) dusts() bool {
	return slices.ContainsFunc(t.Moves, func(h Hand) bool { return h.Kind == string(flow.Dust) })
}

// Tried returns what was tried on a coat's preview.
func (s *Service) Tried(ctx context.Context, piece int64, coat string) (Tried, error) {
	f, err := s.store.Flow(ctx, piece, coat)
	t := Tried{Rev: f.Rev, Take: Take{Way: Way{Seed: 1}}}
	if err == nil && f.Doc != nil {
		err = json.Unmarshal(f.Doc, &t)
	}
	if err != nil {
		return t, fmt.Errorf("read what was tried: %w", err)
	}
	return t, nil
}

// change keeps a change of what was tried.
func (s *Service) change(ctx context.Context, piece int64, coat string, do func(*Tried) error) error {
	t, err := s.Tried(ctx, piece, coat)
	if err != nil {
		return err
	}
	if err := do(&t); err != nil {
		return err
	}
	return s.store.Write(ctx, "keep what was tried", func(tx *store.Tx) error {
		return tx.KeepFlow(ctx, piece, coat, t.Rev, t, s.now())
	})
}

// Make adds a move by hand.
func (s *Service) Make(ctx context.Context, v View, h Hand) error {
	if err := h.check(v.Coat); err != nil {
		return err
	}
	return s.change(ctx, v.Piece.ID, v.Coat.ID, func(t *Tried) error {
		if len(t.Moves) >= mostHands {
			return form.Refusef("kind", "a preview holds %d moves by hand; take one back first", mostHands)
		}
		t.Moves, t.Undone = append(t.Moves, h), nil
		return nil
	})
}

// Undo takes the last move back, Redo makes it again.
func (s *Service) Undo(ctx context.Context, piece int64, coat string) error {
	return s.change(ctx, piece, coat, func(t *Tried) error {
		if n := len(t.Moves); n > 0 {
			t.Undone = append(t.Undone, t.Moves[n-1])
			t.Moves = t.Moves[:n-1]
		}
		return nil
	})
}

// Redo makes the move again that was taken back last.
func (s *Service) Redo(ctx context.Context, piece int64, coat string) error {
	return s.change(ctx, piece, coat, func(t *Tried) error {
		if n := len(t.Undone); n > 0 {
			t.Moves = append(t.Moves, t.Undone[n-1])
			t.Undone = t.Undone[:n-1]
		}
		return nil
	})
}

// Set changes how the coat is played: another draw, later, without the technique's
// own moves.
func (s *Service) Set(ctx context.Context, piece int64, coat string, way Way) error {
	if err := way.check(); err != nil {
		return err
	}
	return s.change(ctx, piece, coat, func(t *Tried) error {
		t.Way = way
		return nil
	})
}

// Keep puts what is played aside to compare with.
func (s *Service) Keep(ctx context.Context, piece int64, coat string) error {
	return s.change(ctx, piece, coat, func(t *Tried) error {
		t.Kept = &Take{t.Way, slices.Clone(t.Moves)}
		return nil
	})
}

// Drop forgets what was put aside.
func (s *Service) Drop(ctx context.Context, piece int64, coat string) error {
	return s.change(ctx, piece, coat, func(t *Tried) error {
		t.Kept = nil
		return nil
	})
}

// Swap plays what was put aside, and puts aside what was played.
func (s *Service) Swap(ctx context.Context, piece int64, coat string) error {
	return s.change(ctx, piece, coat, func(t *Tried) error {
		if t.Kept != nil {
			*t.Kept, t.Take, t.Undone = t.Take, *t.Kept, nil
		}
		return nil
	})
}

// Apply takes over into the composition of the coat what it can hold: what was
// poured by hand, with its places and amounts, and the reverse order. The rest,
// which belongs to the technique, stays on the preview.
func (s *Service) Apply(ctx context.Context, v View) (int, error) {
	var things []composition.Thing
	for _, h := range v.Tried.Moves {
		if rule, _ := RuleOf(h.Kind); rule.Thing != "" {
			things = append(things, composition.Thing{Kind: rule.Thing, Cup: h.Cup, Points: h.Points, Pour: h.Amount})
		}
	}
	turned := v.Turns()
	if len(things) == 0 && !turned {
		return 0, form.Refusef("kind", "nothing was poured by hand that could be added, and the order is as planned")
	}
	var order *pieces.Rearrangement
	if turned {
		order = v.Tried.rearrangement()
	}
	_, err := s.pieces.PlaceThings(ctx, v.Piece.ID, v.Coat.ID, things, v.Coat.Technique.Layout, order)
	if err != nil {
		return 0, err
	}
	return len(things), s.change(ctx, v.Piece.ID, v.Coat.ID, func(t *Tried) error {
		t.Moves = slices.DeleteFunc(t.Moves, func(h Hand) bool { rule, _ := RuleOf(h.Kind); return rule.Thing != "" })
		if t.Undone = nil; turned {
			t.Turned, t.Order = false, ""
		}
		return nil
	})
}

// rearrangement is the order of the way for a plan.
func (w Way) rearrangement() *pieces.Rearrangement {
	cups := w.order()
	rank := func(m technique.Move) int {
		if k := slices.Index(cups, m.Cup); k >= 0 {
			return k
		}
		return len(cups)
	}
	return &pieces.Rearrangement{
		Moves: func(all []technique.Move) {
			if w.Turned {
				slices.Reverse(all)
			}
			slices.SortStableFunc(all, func(a, b technique.Move) int { return rank(a) - rank(b) })
		},
		Things: func(all []composition.Thing) {
			if w.Turned {
				composition.Turn(all)
			}
			composition.InOrder(all, cups)
		},
	}
}

// Turns reports whether what is poured on the bed would be taken over in another order.
func (v View) Turns() bool {
	return (v.Tried.Turned || v.Tried.Order != "") && len(v.Coat.Cups) > 1
}
