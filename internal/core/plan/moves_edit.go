package plan

import (
	"fmt"
	"slices"

	"jevvo/internal/core/technique"
)

// mostMoves is how many moves a coat can have.
const mostMoves = 80

// keptBack is the part of its cup that a further pour takes (common practice: a
// fifth is kept for later).
const keptBack = 0.2

// OwnMoves makes the technique's moves the coat's own, so that they can be edited;
// nil for a layer that is no coat.
func (s *Spec) OwnMoves(ctx *Context, coat string) *CoatSpec {
	c := s.Coat(coat)
	if c != nil && len(c.Rounds) == 0 {
		c.Rounds = s.Moves(ctx, coat)
	}
	return c
}

// UsualMoves gives a coat the moves of its technique back.
func (c *CoatSpec) UsualMoves() { c.Rounds = nil }

// Rearrange arranges what a coat pours on its bed, round after round; what is between stays
// where it is, and so do the rests.
func (s *Spec) Rearrange(ctx *Context, coat string, arrange func([]technique.Move)) {
	c := s.OwnMoves(ctx, coat)
	if c == nil {
		return
	}
	var at []*technique.Move
	var on []technique.Move
	for r := range c.Rounds {
		for k := range c.Rounds[r].Moves {
			if m := &c.Rounds[r].Moves[k]; m.Cup != "" && m.Kind != technique.Spread {
				at, on = append(at, m), append(on, *m)
			}
		}
	}
	arrange(on)
	for k, m := range at {
		rest := m.After
		*m = on[k]
		m.After = rest
	}
}

// Move returns the move with the id among a coat's own, nil when there is none.
func (c *CoatSpec) Move(id string) *technique.Move {
	r, k := c.placeOf(id)
	if r < 0 {
		return nil
	}
	return &c.Rounds[r].Moves[k]
}

func (c *CoatSpec) placeOf(id string) (round, move int) {
	for r := range c.Rounds {
		for k := range c.Rounds[r].Moves {
			if c.Rounds[r].Moves[k].ID == id {
				return r, k
			}
		}
	}
	return -1, -1
}

func (c *CoatSpec) countMoves() int {
	n := 0
	for _, r := range c.Rounds {
		n += len(r.Moves)
	}
	return n
}

func (c *CoatSpec) nextMoveID() string {
	for n := c.countMoves() + 1; ; n++ {
		if id := fmt.Sprintf("m%d", n); c.Move(id) == nil {
			return id
		}
	}
}

// AddMove puts a move of a kind, or all moves of another technique, behind a move
// of the coat, or at the end where after is "". It returns the id of the first.
func (s *Spec) AddMove(ctx *Context, coat, what, after string) (string, error) {
	c := s.OwnMoves(ctx, coat)
	if c == nil {
		return "", refuse("layers", "there is no such coat")
	}
	if t, ok := ctx.Book.Find(what); ok && !t.Between {
		return c.addTechnique(ctx.done(c, t))
	}
	rule, ok := technique.MoveKind(what).Rule()
	if !ok {
		return "", refuse("move", "choose what to add")
	}
	if c.countMoves() >= mostMoves {
		return "", refuse("move", "a coat has at most %d moves", mostMoves)
	}
	m := technique.Move{ID: c.nextMoveID(), Kind: rule.Kind}
	if rule.Like[0] == "" { // else its template says what it takes
		m.Material = rule.Material
	}
	if rule.Pours {
		m.Cup, m.Part = c.lastPoured(), keptBack
		c.scaleParts(m.Cup, 1-keptBack)
	}
	r, k := c.placeOf(after)
	if r < 0 {
		if len(c.Rounds) == 0 {
			c.Rounds = []technique.Round{{}}
		}
		r, k = len(c.Rounds)-1, len(c.Rounds[len(c.Rounds)-1].Moves)-1
	}
	c.Rounds[r].Moves = slices.Insert(c.Rounds[r].Moves, k+1, m)
	return m.ID, nil
}

// chainedPart is the part of its cup that another technique's pour takes (common
// practice: a third).
const chainedPart = 0.3

// addTechnique chains the moves of another technique behind those there are. The
// bed lies already; cups that are poured already keep a part for it.
func (c *CoatSpec) addTechnique(t technique.Technique) (string, error) {
	var rounds []technique.Round
	more, first := 0, ""
	for _, r := range t.Template(cupRefs(c)) {
		if r.Moves = unbedded(t, r.Moves); len(r.Moves) > 0 {
			rounds = append(rounds, r)
			more += len(r.Moves)
		}
	}
	if c.countMoves()+more > mostMoves {
		return "", refuse("move", "a coat has at most %d moves", mostMoves)
	}
	for _, r := range rounds {
		c.Rounds = append(c.Rounds, technique.Round{})
		for _, m := range r.Moves {
			if m.ID = c.nextMoveID(); first == "" {
				first = m.ID
			}
			if m.Cup != "" && c.poured(m.Cup) {
				c.scaleParts(m.Cup, 1-chainedPart)
				m.Part = chainedPart
			}
			last := &c.Rounds[len(c.Rounds)-1]
			last.Moves = append(last.Moves, m)
		}
	}
	return first, nil
}

// unbedded are moves of a technique without those that lay its bed and break the
// bubbles in that.
func unbedded(t technique.Technique, moves []technique.Move) []technique.Move {
	var out []technique.Move
	bedded := false
	for _, m := range moves {
		s, _ := t.StepOf(m.Step)
		if s.Bed || bedded && m.Kind == technique.Heat {
			bedded = true
			continue
		}
		bedded = false
		out = append(out, m)
	}
	return out
}

// lastPoured is the cup of the last pour, the first accent where nothing is poured.
func (c *CoatSpec) lastPoured() string {
	cup := ""
	for _, r := range c.Rounds {
		for _, m := range r.Moves {
			if m.Cup != "" {
				cup = m.Cup
			}
		}
	}
	if cup == "" && len(c.Colours) > 0 {
		cup = c.Colours[len(c.Colours)-1].ID
	}
	return cup
}

func (c *CoatSpec) poured(cup string) bool {
	return slices.ContainsFunc(c.Rounds, func(r technique.Round) bool {
		return slices.ContainsFunc(r.Moves, func(m technique.Move) bool { return m.Cup == cup })
	})
}

// scaleParts takes the parts of a cup that its moves pour times a factor.
func (c *CoatSpec) scaleParts(cup string, by float64) {
	for r := range c.Rounds {
		for k := range c.Rounds[r].Moves {
			if m := &c.Rounds[r].Moves[k]; m.Cup == cup && cup != "" {
				m.Part = m.Share() * by
			}
		}
	}
}

// Reshared lets a pour of a part go over from one cup to another: the first is poured
// whole by its other moves again, the second keeps the part back.
func (c *CoatSpec) Reshared(was, now string) {
	if was == now {
		return
	}
	rest := func(cup string) (sum float64) {
		for _, r := range c.Rounds {
			for _, m := range r.Moves {
				if m.Cup == cup {
					sum += m.Share()
				}
			}
		}
		return sum
	}
	if sum := rest(was); sum > 0 {
		c.scaleParts(was, 1/sum)
	}
	if sum := rest(now); sum > 0 {
		c.scaleParts(now, 1/sum)
	}
}

// Parted takes a typed part of a move's cup off its other pours, so that the parts
// of a cup still add up to all of it.
func (c *CoatSpec) Parted(id string) {
	m := c.Move(id)
	if m == nil || m.Cup == "" {
		return
	}
	part, others := m.Share(), 0.0
	for _, r := range c.Rounds {
		for _, o := range r.Moves {
			if o.Cup == m.Cup && o.ID != id {
				others += o.Share()
			}
		}
	}
	if others <= 0 {
		return // what is not poured is said
	}
	c.scaleParts(m.Cup, (1-part)/others)
	c.Move(id).Part = part
}

// RemoveMove takes a move away; what it poured goes to the other pours of its cup.
func (s *Spec) RemoveMove(ctx *Context, coat, id string) error {
	c := s.OwnMoves(ctx, coat)
	r, k := -1, -1
	if c != nil {
		r, k = c.placeOf(id)
	}
	if r < 0 {
		return refuse("move", "that move no longer exists")
	}
	if c.countMoves() == 1 {
		return refuse("move", "a coat needs at least one move")
	}
	m := c.Rounds[r].Moves[k]
	c.Rounds[r].Moves = slices.Delete(c.Rounds[r].Moves, k, k+1)
	c.tidy()
	if left := 1 - m.Share(); m.Cup != "" && left > 0 {
		c.scaleParts(m.Cup, 1/left)
	}
	return nil
}

// tidy drops rounds without a move.
func (c *CoatSpec) tidy() {
	c.Rounds = slices.DeleteFunc(c.Rounds, func(r technique.Round) bool { return len(r.Moves) == 0 })
}

// CopyMove repeats a move right behind it; a pour shares its part with the copy.
func (s *Spec) CopyMove(ctx *Context, coat, id string) (string, error) {
	c := s.OwnMoves(ctx, coat)
	if c == nil || c.Move(id) == nil {
		return "", refuse("move", "that move no longer exists")
	}
	if c.countMoves() >= mostMoves {
		return "", refuse("move", "a coat has at most %d moves", mostMoves)
	}
	r, k := c.placeOf(id)
	m := c.Rounds[r].Moves[k]
	m.ID = c.nextMoveID()
	if m.Cup != "" {
		m.Part = m.Share() / 2
		c.Rounds[r].Moves[k].Part = m.Part
	}
	c.Rounds[r].Moves = slices.Insert(c.Rounds[r].Moves, k+1, m)
	return m.ID, nil
}

// PlaceMove puts a move before another, or last where before is "".
func (s *Spec) PlaceMove(ctx *Context, coat, id, before string) error {
	c := s.OwnMoves(ctx, coat)
	if c == nil || c.Move(id) == nil || before != "" && c.Move(before) == nil {
		return refuse("move", "that move no longer exists")
	}
	if id == before {
		return nil
	}
	r, k := c.placeOf(id)
	m := c.Rounds[r].Moves[k]
	c.Rounds[r].Moves = slices.Delete(c.Rounds[r].Moves, k, k+1)
	if before == "" {
		last := len(c.Rounds) - 1
		c.Rounds[last].Moves = append(c.Rounds[last].Moves, m)
	} else {
		r, k = c.placeOf(before)
		c.Rounds[r].Moves = slices.Insert(c.Rounds[r].Moves, k, m)
	}
	c.tidy()
	return nil
}

// ShiftMove puts a move one place earlier or later.
func (s *Spec) ShiftMove(ctx *Context, coat, id string, later bool) error {
	c := s.OwnMoves(ctx, coat)
	if c == nil {
		return refuse("layers", "there is no such coat")
	}
	var ids []string
	for _, r := range c.Rounds {
		for _, m := range r.Moves {
			ids = append(ids, m.ID)
		}
	}
	at := slices.Index(ids, id)
	switch {
	case at < 0:
		return refuse("move", "that move no longer exists")
	case !later && at > 0:
		return s.PlaceMove(ctx, coat, id, ids[at-1])
	case later && at+2 < len(ids):
		return s.PlaceMove(ctx, coat, id, ids[at+2])
	case later && at+2 == len(ids):
		return s.PlaceMove(ctx, coat, id, "")
	}
	return nil
}

// SplitRound begins a round at a move, or joins it to the one before where it
// begins one already.
func (s *Spec) SplitRound(ctx *Context, coat, id string) error {
	c := s.OwnMoves(ctx, coat)
	r, k := -1, -1
	if c != nil {
		r, k = c.placeOf(id)
	}
	switch {
	case r < 0:
		return refuse("move", "that move no longer exists")
	case k > 0:
		rest := slices.Clone(c.Rounds[r].Moves[k:])
		c.Rounds[r].Moves = slices.Clip(c.Rounds[r].Moves[:k])
		c.Rounds = slices.Insert(c.Rounds, r+1, technique.Round{Moves: rest})
	case r > 0:
		c.Rounds[r-1].Moves = append(c.Rounds[r-1].Moves, c.Rounds[r].Moves...)
		c.Rounds = slices.Delete(c.Rounds, r, r+1)
	}
	return nil
}

// dropCup takes the pours of a cup out of the moves.
func (c *CoatSpec) dropCup(cup string) {
	for r := range c.Rounds {
		c.Rounds[r].Moves = slices.DeleteFunc(c.Rounds[r].Moves, func(m technique.Move) bool { return m.Cup == cup })
	}
	c.tidy()
}

// pourCup adds a pour of a new cup to the last round that pours.
func (c *CoatSpec) pourCup(cup string) {
	for r := len(c.Rounds) - 1; r >= 0; r-- {
		moves := c.Rounds[r].Moves
		for k := len(moves) - 1; k >= 0; k-- {
			if moves[k].Cup != "" {
				m := technique.Move{
					ID:        c.nextMoveID(),
					Kind:      moves[k].Kind,
					Technique: moves[k].Technique,
					Step:      moves[k].Step,
					Cup:       cup,
				}
				c.Rounds[r].Moves = slices.Insert(moves, k+1, m)
				return
			}
		}
	}
}
