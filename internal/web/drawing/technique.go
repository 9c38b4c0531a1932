package drawing

import (
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
)

// The board a technique is pictured on, in mm.
const pictureWide, pictureHigh = 400, 300

// A Technique is what a technique makes of its usual cups on a board of 400 × 300 mm.
type Technique struct {
	Ground  string
	Regions []Region
}

// OfTechnique sketches a technique by the cups it begins with.
func OfTechnique(ctx *plan.Context, t technique.Technique) (Technique, error) {
	spec := plan.NewSpec(ctx, 0, time.Time{})
	spec.Width, spec.Height = pictureWide, pictureHigh
	spec.Layers = []plan.Layer{plan.NewCoat(ctx, plan.FirstCoat, t, 0, 0)}
	boards, err := spec.Boards()
	if err != nil {
		return Technique{}, err
	}
	fills := map[string]string{}
	for _, cup := range spec.First().Coat.Colours {
		fills[cup.ID] = cup.Swatch
	}
	regions := composition.Sketch(t.Layout, boards[0], spec.Sketched(ctx, plan.FirstCoat))
	return Technique{spec.Ground, Regions(regions, fills, 3*pictureWide)}, nil
}
