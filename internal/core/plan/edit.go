package plan

import (
	"fmt"
	"slices"
	"strconv"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/material"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// mostColours is how many cups a coat can have.
const mostColours = 24

// OwnLayers makes the usual preparations and finishing the piece's own, so
// that they can be edited.
func (s *Spec) OwnLayers(ctx *Context) {
	if !s.Own {
		s.Layers, s.Own = s.AllLayers(ctx), true
		for i := range s.Layers {
			s.Layers[i] = s.Layers[i].clone()
		}
	}
}

// UsualLayers gives the preparations and the finishing back to the surface.
func (s *Spec) UsualLayers() {
	s.Own = false
	s.Layers = slices.DeleteFunc(s.Layers, func(l Layer) bool { return l.Kind == Prepare || l.Kind == Finish })
}

// AddLayer puts work or a coat where its kind usually stands and returns its
// id. A coat begins with what its technique needs and the resin of the first.
func (s *Spec) AddLayer(ctx *Context, what string) (string, error) {
	l := Layer{What: what, Times: 1}
	if prep, ok := technique.FindPreparation(what); ok {
		s.OwnLayers(ctx)
		l.Kind, l.Times = Prepare, prep.Coats
		if prep.Finish {
			l.Kind = Finish
		}
	} else if what == OwnStepID {
		l.Kind, l.Step = Between, &OwnStep{Name: "A step of our own", Minutes: 15}
	} else if t, ok := ctx.Book.Find(what); ok && t.Between {
		l.Kind = Between
	} else if ok {
		product := int64(0)
		if first := s.First(); first != nil {
			product = first.Coat.Product
		}
		l = NewCoat(ctx, "", t, product, secondFilm)
	} else {
		return "", refuse("what", "choose what to add")
	}
	if len(s.Layers) >= MostLayers {
		return "", refuse("what", "a piece has at most %d layers", MostLayers)
	}
	l.ID = s.NextLayerID(what)
	s.Layers = slices.Insert(s.Layers, s.placeFor(ctx, l), l)
	return l.ID, nil
}

// AddRepair puts a step behind a coat and, where a technique is named, a coat of it
// behind the step. It returns the id of the step.
func (s *Spec) AddRepair(ctx *Context, coat string, step OwnStep, technique string) (string, error) {
	s.OwnLayers(ctx)
	at := slices.IndexFunc(s.Layers, func(l Layer) bool { return l.ID == coat && l.Kind == Resin })
	if at < 0 {
		return "", refuse("layers", "there is no such coat")
	}
	if len(s.Layers)+2 > MostLayers {
		return "", refuse("what", "a piece has at most %d layers", MostLayers)
	}
	product := s.Layers[at].Coat.Product
	repair := Layer{Kind: Between, What: OwnStepID, Times: 1, Step: &step}
	repair.ID = s.NextLayerID(OwnStepID)
	s.Layers = slices.Insert(s.Layers, at+1, repair)
	if t, ok := ctx.Book.Find(technique); ok {
		again := NewCoat(ctx, "", t, product, secondFilm)
		again.ID = s.NextLayerID(technique)
		s.Layers = slices.Insert(s.Layers, at+2, again)
	}
	return repair.ID, nil
}

// placeFor is where a new layer usually stands: preparation before the first
// coat, work between before the coat that seals it, a coat before the one that
// seals the piece, finishing at the end.
func (s *Spec) placeFor(ctx *Context, l Layer) int {
	first, last := -1, -1
	for i, o := range s.Layers {
		if o.Kind == Resin {
			if first < 0 {
				first = i
			}
			last = i
		}
	}
	switch {
	case first < 0 || l.Kind == Finish:
		return len(s.Layers)
	case l.Kind == Prepare:
		return first
	case last > first && s.seals(ctx, last):
		return last
	}
	return last + 1
}

func (s *Spec) seals(ctx *Context, i int) bool {
	t, ok := ctx.Book.Find(s.Layers[i].What)
	return ok && t.Seals
}

// CopyCoat adds a coat like another, behind it.
func (s *Spec) CopyCoat(ctx *Context, id string) (string, error) {
	i := slices.IndexFunc(s.Layers, func(l Layer) bool { return l.ID == id && l.Kind == Resin })
	if i < 0 {
		return "", refuse("layers", "there is no such coat")
	}
	if len(s.Layers) >= MostLayers {
		return "", refuse("what", "a piece has at most %d layers", MostLayers)
	}
	l := s.Layers[i].clone()
	l.ID = s.NextLayerID(l.What)
	at := i + 1
	if last := len(s.Layers) - 1; !s.Own && i == last && s.seals(ctx, last) {
		at = last
	}
	s.Layers = slices.Insert(s.Layers, at, l)
	return l.ID, nil
}

// PourInLayers divides a coat that would overheat into as many layers as its
// depth needs.
func (s *Spec) PourInLayers(ctx *Context, id string) error {
	p, err := Evaluate(*s, ctx, Timing{})
	if err != nil {
		return err
	}
	c := p.Coat(id)
	if c == nil || c.Deep == nil || c.Deep.Pours < 2 || c.Deep.Pours > mostPours {
		return refuse("layers", "this coat is poured in one go")
	}
	n := c.Deep.Pours
	a := &s.Coat(id).Amount
	a.Film, a.Volume, a.Mass = a.Film/units.Length(n), a.Volume/units.Volume(n), a.Mass/units.Mass(n)
	for range n - 1 {
		if _, err := s.CopyCoat(ctx, id); err != nil {
			return err
		}
	}
	return nil
}

// MoveLayer puts a layer one place earlier or later.
func (s *Spec) MoveLayer(ctx *Context, id string, later bool) bool {
	if l := s.Layer(id); l == nil || l.Kind == Prepare || l.Kind == Finish {
		s.OwnLayers(ctx)
	}
	i := slices.IndexFunc(s.Layers, func(l Layer) bool { return l.ID == id })
	j := i - 1
	if later {
		j = i + 1
	}
	if i < 0 || j < 0 || j >= len(s.Layers) {
		return i >= 0
	}
	s.Layers[i], s.Layers[j] = s.Layers[j], s.Layers[i]
	return true
}

// PlaceLayer puts a layer before another, or at the end where before is "". What the
// surface brings by itself becomes the piece's own as soon as it is moved, or something
// is put among it.
func (s *Spec) PlaceLayer(ctx *Context, id, before string) error {
	own := func(id string) bool {
		l := s.Layer(id)
		return l != nil && l.Kind != Prepare && l.Kind != Finish
	}
	if !own(id) || !own(before) {
		s.OwnLayers(ctx)
	}
	i := slices.IndexFunc(s.Layers, func(l Layer) bool { return l.ID == id })
	if i < 0 || before != "" && s.Layer(before) == nil {
		return refuse("layers", "that layer no longer exists")
	}
	if before == id {
		return nil
	}
	moved := s.Layers[i]
	s.Layers = slices.Delete(s.Layers, i, i+1)
	at := len(s.Layers)
	if before != "" {
		at = slices.IndexFunc(s.Layers, func(l Layer) bool { return l.ID == before })
	}
	s.Layers = slices.Insert(s.Layers, at, moved)
	return nil
}

// RemoveLayer takes a layer out; the last coat of resin stays.
func (s *Spec) RemoveLayer(ctx *Context, id string) error {
	if s.Layer(id) == nil {
		s.OwnLayers(ctx)
	}
	i := slices.IndexFunc(s.Layers, func(l Layer) bool { return l.ID == id })
	switch {
	case i < 0:
		return refuse("layers", "that layer no longer exists")
	case s.Layers[i].Kind == Resin && s.coatsOf() == 1:
		return refuse("layers", "a piece needs at least one coat")
	}
	s.Layers = slices.Delete(s.Layers, i, i+1)
	return nil
}

// Retechnique gives a coat another technique: cups nobody has touched become
// those it begins with, others stay.
func (l *Layer) Retechnique(t technique.Technique, before technique.Technique) {
	l.What = t.ID
	if l.Coat != nil && before.ID != t.ID {
		l.Coat.Options = nil
	}
	if l.Coat != nil && before.ID != t.ID {
		l.Coat.Rounds = nil // the moves are those of the new technique
		switch a := &l.Coat.Amount; {
		case t.Cast:
			a.Film = 0
		case a.Film <= 0:
			a.Film = usualFilm
		}
	}
	if l.Coat == nil || len(l.Coat.Things) > 0 || !sameCups(l.Coat.Colours, StartingCups(before)) {
		return
	}
	l.Coat.Colours = StartingCups(t)
}

func sameCups(a, b []Colour) bool {
	return slices.EqualFunc(a, b, func(x, y Colour) bool {
		return x.Name == y.Name && x.Role == y.Role && x.Swatch == y.Swatch && x.Share == y.Share && x.Load == y.Load &&
			x.Pigment == y.Pigment && x.Volume == y.Volume && len(x.More) == 0
	})
}

// AddColour gives the coat another accent and returns its id.
func (c *CoatSpec) AddColour() (string, error) {
	if len(c.Colours) >= mostColours {
		return "", refuse("colours", "a coat has at most %d cups", mostColours)
	}
	next := 1
	for _, col := range c.Colours {
		if n, err := strconv.Atoi(col.ID[1:]); err == nil && n >= next {
			next = n + 1
		}
	}
	col := Colour{ID: "c" + strconv.Itoa(next), Name: fmt.Sprintf("Colour %d", next), Role: technique.Accent,
		Swatch: "#8a7f72", Share: 0.10}
	c.Colours = append(c.Colours, col)
	c.pourCup(col.ID)
	return col.ID, nil
}

// RemoveColour takes a cup away, and what lies of it on the board; the last
// one stays.
func (c *CoatSpec) RemoveColour(id string) error {
	if len(c.Colours) <= 1 {
		return refuse("colours", "a coat needs at least one cup")
	}
	c.Colours = slices.DeleteFunc(c.Colours, func(col Colour) bool { return col.ID == id })
	c.Things = slices.DeleteFunc(c.Things, func(t composition.Thing) bool { return t.Cup == id })
	c.dropCup(id)
	return nil
}

// UsualLoad is the starting load of a cup's first pigment, by mass of
// mixed resin (common practice): a white that is to stand against the others half as much
// again, metals and chrome a quarter teaspoon in three fluid ounces, glow powder 28 g in four.
func UsualLoad(p material.Pigment, role technique.Role) float64 {
	load := 0.03
	if role == technique.White {
		load = 0.045
	}
	switch p.Form {
	case colour.Chrome, colour.MetalPowder:
		load = 0.015
	case colour.Glow:
		load = 0.20
	case colour.Ink:
		load = 0.02
	}
	if p.LoadLimit > 0 {
		load = min(load, p.LoadLimit)
	}
	return load
}

// Adopt gives a cup that has just been given a pigment its name and swatch,
// where those are not the painter's own.
func (c *Colour) Adopt(p material.Pigment) {
	if !c.Named {
		c.Name = p.Name
	}
	if !c.Picked {
		c.Swatch = p.Swatch
	}
}

// Recompose brings the compositions in line with an edit: another board carries
// them along, and a cup whose share or volume was changed moves its things.
func (s *Spec) Recompose(before Spec) {
	board, err := s.Shape()
	if err != nil {
		return
	}
	s.oneResin(before)
	old, oldErr := before.Shape()
	moved := oldErr == nil && (old.Bounds() != board.Bounds() || old.Area() != board.Area())
	for i := range s.Layers {
		c := s.Layers[i].Coat
		if c == nil || len(c.Things) == 0 {
			continue
		}
		if moved {
			c.Things = composition.Fit(c.Things, old, board)
		}
		if was := before.Coat(s.Layers[i].ID); was != nil {
			c.follow(board, was)
		}
	}
}

// oneResin gives the resin that was chosen for the piece to the coats that had the
// one before.
func (s *Spec) oneResin(before Spec) {
	was, now := before.First(), s.First()
	if was == nil || now == nil || was.Coat == nil || now.Coat == nil || was.Coat.Product == now.Coat.Product {
		return
	}
	for i := range s.Layers {
		l := &s.Layers[i]
		if old := before.Coat(l.ID); l.Coat != nil && old != nil && old.Product == was.Coat.Product &&
			l.Coat.Product == was.Coat.Product {
			l.Coat.Product = now.Coat.Product
		}
	}
}

// follow moves the things of cups whose share was changed.
func (c *CoatSpec) follow(board surface.Shape, before *CoatSpec) {
	sum := 0.0
	for _, col := range c.Colours {
		sum += col.Share
	}
	for _, col := range c.Colours {
		was := before.Colour(col.ID)
		if was == nil || col.Share == was.Share || sum <= 0 {
			continue
		}
		if things, ok := composition.Reshare(board, c.Things, col.ID, min(1, col.Share)); ok {
			c.Things = things
		}
	}
}

// FollowThings sets the shares of cups that are on the board to what the
// composition gives them; a cup that is not yet there keeps what is wanted.
func (c *CoatSpec) FollowThings() {
	if len(c.Things) == 0 {
		return
	}
	shares, _ := composition.Shares(c.Things)
	for i := range c.Colours {
		if share, ok := shares[c.Colours[i].ID]; ok {
			c.Colours[i].Share, c.Colours[i].Volume = share, 0
		}
	}
}
