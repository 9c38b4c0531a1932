package preview

import (
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// metal is the material that is dusted on, and the id of the cup that stands for it
// in a scene.
const metal = "metal-powder"

// Powder that lies on the surface: flakes with what air and resin is between them
// (PowderDensity, from memory: loose bronze flake), of which three grams on a square
// metre leave a twentieth of what lies below uncovered (PowderCovers, in m; from memory
// of leafing powders), and the colour of it where no metal powder is among the materials.
const (
	PowderDensity units.Density = 1500
	PowderCovers                = 0.003 / float64(PowderDensity) / 3
	usualMetal                  = "#b08d45"
)

// Powder is the metal powder of a coat as one of its cups, and whether it has any.
func Powder(p *plan.Plan, c *plan.Coat) (plan.Cup, bool) {
	if !slices.ContainsFunc(c.Materials, func(m plan.Material) bool { return m.ID == metal && m.Amount > 0 }) {
		return plan.Cup{}, false
	}
	return powder(p), true
}

// powder takes the first metal powder among the materials.
func powder(p *plan.Plan) plan.Cup {
	cup := plan.Cup{Colour: plan.Colour{ID: metal, Name: "Metal powder", Swatch: usualMetal}}
	first := int64(0)
	for id, pigment := range p.Context.Pigments {
		if pigment.Form == colour.MetalPowder && !pigment.Retired && (first == 0 || id < first) {
			first = id
			cup.Colour.Name, cup.Colour.Swatch = pigment.Name, pigment.Swatch
		}
	}
	cup.Look.Film, cup.Look.Density = cup.Colour.Swatch, PowderDensity
	return cup
}

// Metal is the number of the cup that stands for the powder; the first where there is
// none.
func (s *Scene) Metal() int { return max(0, s.Index(metal)) }

// dusts gives the scene its powder, and dusts it where the coat's steps do: on what was
// poured last before, or all over.
func (s *Scene) dusts(p *plan.Plan, c *plan.Coat) {
	at := s.Index(metal)
	if at < 0 {
		return
	}
	var steps []technique.Timed
	for _, st := range c.Fit.Steps {
		if slices.Contains(st.Adds, metal) {
			steps = append(steps, st)
		}
	}
	for _, m := range c.Materials {
		if m.ID != metal {
			continue
		}
		each := m.Amount / float64(max(1, len(steps)*len(p.Boards))) / 1000 / float64(PowderDensity) // m³
		for _, st := range steps {
			if each > 0 {
				s.Scene.Moves = append(
					s.Scene.Moves,
					flow.Move{Kind: flow.Dust, At: 60 * (st.From + st.To) / 2, Cup: at, Volume: each, Within: s.lines(c, st)},
				)
			}
		}
	}
}

// lines is where the accents of a coat were poured before a step, for a powder that is
// dusted on a line; nil for all over, as a spray goes.
func (s *Scene) lines(c *plan.Coat, st technique.Timed) func(geom.Point) bool {
	if !c.Technique.WantsAccent || slices.Contains(st.Adds, "alcohol") {
		return nil
	}
	var on []flow.Move
	for _, m := range s.Scene.Moves {
		if m.At <= 60*st.To && m.Cup < len(s.Cups) && s.Cups[m.Cup].Colour.Role == technique.Accent &&
			(m.Kind == flow.Ribbon || m.Within != nil) {
			on = append(on, m)
		}
	}
	if len(on) == 0 {
		return nil
	}
	return func(q geom.Point) bool {
		return slices.ContainsFunc(on, func(m flow.Move) bool {
			if m.Within != nil {
				return m.Within(q)
			}
			return onRibbon(m, q)
		})
	}
}

// onRibbon reports whether a point lies on a poured line, as wide as it falls.
func onRibbon(m flow.Move, q geom.Point) bool {
	length := geom.Length(m.Points) / 1000
	if length <= 0 {
		return false
	}
	half := 500 * max(m.Width, flow.RibbonWidth(m.Volume, length))
	for k := 1; k < len(m.Points); k++ {
		if geom.FromSegment(q, m.Points[k-1], m.Points[k]) <= half {
			return true
		}
	}
	return false
}
