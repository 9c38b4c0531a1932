package pieces

import (
	"context"
	"strings"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/words"
)

// A MoveChange is one way to edit the moves of a coat.
type MoveChange func(spec *plan.Spec, ctx *plan.Context, coat, move string) error

// MoveChanges holds them by their names.
var MoveChanges = map[string]MoveChange{
	"up": func(s *plan.Spec, ctx *plan.Context, coat, move string) error {
		return s.ShiftMove(ctx, coat, move, false)
	},
	"down": func(s *plan.Spec, ctx *plan.Context, coat, move string) error {
		return s.ShiftMove(ctx, coat, move, true)
	},
	"copy": func(s *plan.Spec, ctx *plan.Context, coat, move string) error {
		_, err := s.CopyMove(ctx, coat, move)
		return err
	},
	"round":  func(s *plan.Spec, ctx *plan.Context, coat, move string) error { return s.SplitRound(ctx, coat, move) },
	"remove": func(s *plan.Spec, ctx *plan.Context, coat, move string) error { return s.RemoveMove(ctx, coat, move) },
}

// ChangeMove edits one move of a coat; the moves become the coat's own by it.
func (s *Service) ChangeMove(ctx context.Context, id int64, coat, how, move string) (Piece, error) {
	change, ok := MoveChanges[how]
	if !ok {
		return Piece{}, store.ErrNotFound
	}
	return s.withMoves(ctx, id, func(spec *plan.Spec, pc *plan.Context) error { return change(spec, pc, coat, move) })
}

// AddMove puts a move of a kind, or the moves of another technique, into a coat.
func (s *Service) AddMove(ctx context.Context, id int64, coat, what, after string) (Piece, error) {
	return s.withMoves(ctx, id, func(spec *plan.Spec, pc *plan.Context) error {
		_, err := spec.AddMove(pc, coat, what, after)
		return err
	})
}

// PlaceMove puts a move before another, or last where before is "".
func (s *Service) PlaceMove(ctx context.Context, id int64, coat, move, before string) (Piece, error) {
	return s.withMoves(
		ctx,
		id,
		func(spec *plan.Spec, pc *plan.Context) error { return spec.PlaceMove(pc, coat, move, before) },
	)
}

// UsualMoves gives a coat the moves of its technique back.
func (s *Service) UsualMoves(ctx context.Context, id int64, coat string) (Piece, error) {
	return s.withCoat(ctx, id, coat, func(c *plan.CoatSpec) error {
		c.UsualMoves()
		return nil
	})
}

// Seal adds the clear coat that seals a piece.
func (s *Service) Seal(ctx context.Context, id int64) (Piece, error) {
	return s.withMoves(ctx, id, func(spec *plan.Spec, pc *plan.Context) error {
		if !spec.Seal(pc) {
			return refusal.New("it is sealed already, or fills a mould")
		}
		return nil
	})
}

func (s *Service) withMoves(ctx context.Context, id int64, f func(*plan.Spec, *plan.Context) error) (Piece, error) {
	p, _, err := s.withBook(
		ctx,
		id,
		func(spec *plan.Spec, b *materials.Book) (string, error) { return "", f(spec, b.Context) },
	)
	return p, err
}

// MoveKey is the key of a field of a move of a coat.
func MoveKey(coat, move, field string) string { return "coat." + coat + ".move." + move + "." + field }

// movesFields are those of all moves of a coat: what is typed makes the moves the
// coat's own.
func movesFields(l plan.Layer, b *materials.Book) form.Fields[plan.Spec] {
	one := plan.Spec{Layers: []plan.Layer{l}}
	var out form.Fields[plan.Spec]
	for _, r := range one.Moves(b.Context, l.ID) {
		for _, m := range r.Moves {
			for _, f := range moveFields(m, l.Coat, func(name string) string { return MoveKey(l.ID, m.ID, name) }) {
				out = append(out, ofMove(f, l.ID, m.ID, b.Context))
			}
		}
	}
	return out
}

// ofMove is the field of a piece that holds the move.
func ofMove(f form.Field[technique.Move], coat, move string, ctx *plan.Context) form.Field[plan.Spec] {
	out := form.Within(f, f.Key, func(s *plan.Spec) *technique.Move {
		if c := s.OwnMoves(ctx, coat); c != nil {
			return c.Move(move)
		}
		return nil
	})
	set := out.Set
	out.Set = func(s *plan.Spec, text string, sys units.System) (msg.Text, error) {
		c := s.OwnMoves(ctx, coat)
		if c == nil || c.Move(move) == nil {
			return nil, nil // another page took it away
		}
		was := *c.Move(move)
		note, err := set(s, text, sys)
		switch now := *c.Move(move); {
		case err != nil:
		case now.Cup != was.Cup:
			c.Reshared(was.Cup, now.Cup)
		case now.Part != was.Part:
			c.Parted(move)
		}
		return note, err
	}
	out.Get = func(s *plan.Spec, sys units.System) string {
		for _, r := range s.Moves(ctx, coat) {
			for _, m := range r.Moves {
				if m.ID == move {
					return f.Get(&m, sys)
				}
			}
		}
		return ""
	}
	return out
}

// moveFields is the catalogue of a move.
func moveFields(m technique.Move, c *plan.CoatSpec, key func(string) string) form.Fields[technique.Move] {
	nothing := func(at func(*technique.Move) *float64) (func(*technique.Move) bool, func(*technique.Move)) {
		return func(m *technique.Move) bool { return *at(m) == 0 }, func(m *technique.Move) { *at(m) = 0 }
	}
	minutes := func(m *technique.Move) *float64 { return &m.Minutes }
	after := func(m *technique.Move) *float64 { return &m.After }
	area := func(m *technique.Move) *float64 { return &m.Area }
	noMinutes, clearMinutes := nothing(minutes)
	noAfter, clearAfter := nothing(after)
	noArea, clearArea := nothing(area)
	out := form.Fields[technique.Move]{}
	if m.Cup != "" {
		cups := make([]form.Option, len(c.Colours))
		for i, col := range c.Colours {
			cups[i] = form.Option{Value: col.ID, Label: words.Filled(col.Name)}
		}
		part := form.Share(key("part"), "Part of the cup", func(m *technique.Move) *float64 { return &m.Part }, 1)
		get := part.Get
		part.Get = func(m *technique.Move, sys units.System) string {
			whole := *m
			whole.Part = m.Share()
			return get(&whole, sys)
		}
		out = append(out, form.Choice(key("cup"), "Cup", func(m *technique.Move) *string { return &m.Cup }, cups...), part)
	}
	if m.Cup == "" && m.Step == "" {
		out = append(
			out,
			form.Choice(key("material"), "Material", func(m *technique.Move) *string { return &m.Material }, laidMaterials()...),
			materialField(key("amount")),
		)
	}
	return append(out,
		form.Minutes(key("minutes"), "Takes", "min", minutes, 0.1, 600).OrNothing(noMinutes, clearMinutes).Hinted("usual"),
		form.Minutes(key("after"), "Rest before", "min", after, 0, 600).OrNothing(noAfter, clearAfter).Hinted("0 min"),
		form.Share(key("area"), "Part of the board", area, 1).OrNothing(noArea, clearArea).Hinted("100 %"),
		form.Choice(key("place"), "Where it lies", func(m *technique.Move) *technique.Place { return &m.Place }, places()...),
		form.Text(key("where"), "Where", func(m *technique.Move) *string { return &m.Where }, 120, false),
		form.Bool(key("optional"), "Decided at the bench", func(m *technique.Move) *bool { return &m.Optional }))
}

// places are where a part of the board lies.
func places() []form.Option {
	out := make([]form.Option, len(technique.Places))
	for i, p := range technique.Places {
		out[i] = form.Option{Value: string(p.Place), Label: p.Name}
	}
	return out
}

// laidMaterials are those a move can lay on a wet coat.
func laidMaterials() []form.Option {
	out := []form.Option{{Label: msg.ID("none")}}
	for _, m := range technique.Materials {
		out = append(out, form.Option{Value: m.ID, Label: m.Name})
	}
	return out
}

// materialField reads how much of its material a move lays on.
func materialField(key string) form.Field[technique.Move] {
	unit := func(m *technique.Move) technique.Unit {
		of, _ := technique.FindMaterial(m.Material)
		return of.Unit
	}
	return form.Field[technique.Move]{Key: key, Label: msg.ID("Amount"), Kind: form.Line, Say: amount,
		Hint: msg.ID("usual"),
		Get: func(m *technique.Move, _ units.System) string {
			if m.Amount == 0 || m.Material == "" {
				return ""
			}
			return units.Fixed(m.Amount, 2) + " " + string(unit(m))
		},
		Set: func(m *technique.Move, text string, _ units.System) (msg.Text, error) {
			if strings.TrimSpace(text) == "" {
				m.Amount = 0
				return nil, nil
			}
			v, err := materialAmount(text, unit(m))
			if err == nil {
				err = form.Between(v, 0, 100_000, func(v float64) msg.Text { return words.Counted(v, 1, string(unit(m))) })
			}
			if err == nil {
				m.Amount = v
			}
			return nil, err
		}}
}
