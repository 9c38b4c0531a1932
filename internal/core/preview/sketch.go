package preview

import (
	"jevvo/internal/core/composition"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
)

// How lines and drops fall where no composition says it (our reading of common
// practice): a stick goes to and fro some times over its place, a brush throws a
// handful of drops.
const (
	drizzled = 6
	flicked  = 28
)

// sketch pours what no thing places, move by move: a bed all over, lines and drops as
// the hand lets them fall, all else where the technique's sketch has the cup.
func (s *Scene) sketch(p *plan.Plan, c *plan.Coat, regions []composition.Region) {
	minutes := map[string]float64{} // of each move, over the batches it is poured from
	for _, st := range c.Fit.Steps {
		if st.Pours {
			minutes[pourKey(st)] += st.To - st.From
		}
	}
	face := geom.Box{MaxX: float64(s.Box.Width()), MaxY: float64(s.Box.Height())}
	for _, st := range c.Fit.Steps {
		if !st.Pours {
			continue
		}
		part := 1.0
		if all := minutes[pourKey(st)]; all > 0 {
			part = (st.To - st.From) / all
		}
		spot := composition.Within(face, st.Place, st.Part)
		for _, take := range st.Takes {
			k := s.Index(take.Cup)
			if k < 0 || s.Cups[k].Volume <= 0 {
				continue
			}
			s.fall(st, regions, spot, k, float64(c.OnFirst())*s.Cups[k].Share*take.Part*part)
		}
	}
}

// pourKey tells the moves of a coat apart.
func pourKey(st technique.Timed) string {
	if len(st.Moves) > 0 {
		return st.Moves[0]
	}
	return st.ID
}

// fall lets an amount in mL of a cup down as a pouring step does.
func (s *Scene) fall(st technique.Timed, regions []composition.Region, spot geom.Box, cup int, poured float64) {
	if poured <= 0 {
		return
	}
	at := 60 * st.From
	switch {
	case st.Bed:
		s.bed(spot, cup, poured, at)
	case st.Move == technique.Drizzle:
		s.Scene.Moves = append(
			s.Scene.Moves,
			flow.Move{Kind: flow.Ribbon, At: at, Cup: cup, Volume: poured * 1e-6, Points: s.toAndFro(spot)},
		)
	case st.Move == technique.Flick:
		for i := range flicked {
			x, y := numeric.Scatter(i)
			q := geom.At(spot.MinX+x*(spot.MaxX-spot.MinX), spot.MinY+y*(spot.MaxY-spot.MinY))
			s.Scene.Moves = append(s.Scene.Moves, flow.Move{Kind: flow.Puddle, At: at, Cup: cup, Volume: poured * 1e-6 / flicked,
				Points: []geom.Point{s.fromUpperLeft(q)}})
		}
	default:
		s.inSketch(regions, spot, cup, poured, at)
	}
}

// inSketch lays an amount over the parts the technique's sketch gives its cup, or over
// the move's place where there are none.
func (s *Scene) inSketch(regions []composition.Region, spot geom.Box, cup int, poured, at float64) {
	area := 0.0
	for _, r := range regions {
		if r.Colour == s.Cups[cup].Colour.ID {
			area += float64(r.Area)
		}
	}
	if area <= 0 || s.part(spot) < 1 {
		s.bed(spot, cup, poured, at)
		return
	}
	for _, r := range regions {
		if r.Colour == s.Cups[cup].Colour.ID {
			s.region(r, cup, poured*float64(r.Area)/area, at)
		}
	}
}

// part is how much of the box of the face a spot is.
func (s *Scene) part(spot geom.Box) float64 {
	return float64(spot.Width()) * float64(spot.Height()) / (float64(s.Box.Width()) * float64(s.Box.Height()))
}

// bed spreads an amount over a place, over the whole face where that is all of it.
func (s *Scene) bed(spot geom.Box, cup int, poured, at float64) {
	m := flow.Move{Kind: flow.Bed, At: at, Cup: cup, Volume: poured * 1e-6}
	if s.part(spot) < 1-1e-9 {
		high := float64(s.Box.Height())
		m.Within = func(q geom.Point) bool {
			return q.X >= spot.MinX && q.X <= spot.MaxX && high-q.Y >= spot.MinY && high-q.Y <= spot.MaxY
		}
	}
	s.Scene.Moves = append(s.Scene.Moves, m)
}

// region lays an amount in mL evenly over a region.
func (s *Scene) region(r composition.Region, cup int, poured, at float64) {
	if r.Area <= 0 {
		return
	}
	inside := geom.Within(r.Loops)
	within := func(q geom.Point) bool { return inside(s.board(q)) }
	if r.Kind == composition.Bed {
		within = nil
	}
	s.Scene.Moves = append(
		s.Scene.Moves,
		flow.Move{Kind: flow.Bed, At: at, Cup: cup, Volume: poured * 1e-6, Within: within},
	)
}

// toAndFro is a line that crosses a place some times, slanting a little.
func (s *Scene) toAndFro(spot geom.Box) []geom.Point {
	var out []geom.Point
	for k := range drizzled + 1 {
		x, y := spot.MinX, spot.MinY+(spot.MaxY-spot.MinY)*(0.5+float64(k))/(drizzled+1)
		if k%2 == 1 {
			x = spot.MaxX
		}
		out = append(out, s.fromUpperLeft(geom.At(x, y)))
	}
	return out
}

// fromUpperLeft turns a point of the box, whose y runs to the near edge, into one of
// the grid.
func (s *Scene) fromUpperLeft(p geom.Point) geom.Point {
	return geom.At(p.X, float64(s.Box.Height())-p.Y)
}
