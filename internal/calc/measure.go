package calc

import (
	"fmt"

	"jevvo/internal/core/film"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/portion"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Product is a data sheet, wherever one stands in a request.
type Product struct {
	WorkingMin float64 `json:"working_min" default:"45" exclusiveMinimum:"0" description:"Film working time at 25 °C."`
	HardH      float64 `json:"hard_h" default:"24" exclusiveMinimum:"0" description:"Hard time at 25 °C."`
	Viscosity  float64 `json:"viscosity_mpas" default:"1000" exclusiveMinimum:"0" description:"Fresh mixed viscosity at 25 °C."`
	RatioA     float64 `json:"ratio_a" default:"1" exclusiveMinimum:"0"`
	RatioB     float64 `json:"ratio_b" default:"1" exclusiveMinimum:"0"`
	By         string  `json:"by" default:"volume" enum:"volume,weight" description:"How the ratio is meant."`
	DensityA   float64 `json:"density_a_kg_m3" default:"1130" exclusiveMinimum:"0"`
	DensityB   float64 `json:"density_b_kg_m3" default:"1000" exclusiveMinimum:"0"`
	Tolerance  float64 `json:"tolerance" default:"0.02" minimum:"0" description:"Off-ratio the product forgives."`
}

func (p Product) core() (resin.Product, error) {
	q := resin.Product{
		RatioA: p.RatioA, RatioB: p.RatioB, By: resin.Measure(p.By),
		DensityA: units.Density(p.DensityA), DensityB: units.Density(p.DensityB),
		Viscosity:      units.Viscosity(p.Viscosity),
		WorkingMinutes: p.WorkingMin, HardHours: p.HardH, Tolerance: p.Tolerance,
	}
	return q, at("product", q.Check())
}

type surfaceRequest struct {
	Shape    string      `json:"shape" required:"true" enum:"rectangle,circle,ellipse,polygon,outline"`
	Width    *float64    `json:"width_mm,omitempty" exclusiveMinimum:"0" description:"rectangle, ellipse"`
	Height   *float64    `json:"height_mm,omitempty" exclusiveMinimum:"0" description:"rectangle, ellipse"`
	Diameter *float64    `json:"diameter_mm,omitempty" exclusiveMinimum:"0" description:"circle"`
	Points   [][]float64 `json:"points_mm,omitempty" maxItems:"200000" description:"polygon corners [x, y]"`
	Path     *string     `json:"svg_path,omitempty" description:"outline: SVG path data in mm; holes by even-odd"`
	Side     float64     `json:"side_mm" default:"0" minimum:"0" description:"Depth of the sides."`
}

type surfaceAnswer struct {
	Area      float64 `json:"area_mm2"`
	Perimeter float64 `json:"perimeter_mm" description:"All edges, those of holes included."`
	SideArea  float64 `json:"side_area_mm2"`
}

func (r surfaceRequest) shape() (surface.Shape, error) {
	need := func(v *float64, field string) (units.Length, error) {
		if v == nil {
			return 0, FieldError{field, msg.F("is missing for a %s", msg.ID(r.Shape))}
		}
		return units.Length(*v), at(field, surface.CheckSize("size", units.Length(*v)))
	}
	switch r.Shape {
	case "circle":
		d, err := need(r.Diameter, "diameter_mm")
		if err != nil {
			return surface.Shape{}, err
		}
		return surface.Circle(d)
	case "polygon":
		if r.Points == nil {
			return surface.Shape{}, FieldError{"points_mm", msg.ID("is missing for a polygon")}
		}
		points := make([]geom.Point, len(r.Points))
		for i, p := range r.Points {
			if len(p) != 2 {
				return surface.Shape{}, FieldError{fmt.Sprintf("points_mm[%d]", i), msg.ID("is a corner of two numbers, [x, y]")}
			}
			points[i] = geom.Point{X: p[0], Y: p[1]}
		}
		s, err := surface.Polygon(points)
		return s, at("points_mm", err)
	case "outline":
		if r.Path == nil {
			return surface.Shape{}, FieldError{"svg_path", msg.ID("is missing for an outline")}
		}
		s, err := surface.Outline(*r.Path)
		return s, at("svg_path", err)
	}
	w, err := need(r.Width, "width_mm")
	if err != nil {
		return surface.Shape{}, err
	}
	h, err := need(r.Height, "height_mm")
	if err != nil {
		return surface.Shape{}, err
	}
	if r.Shape == "ellipse" {
		return surface.Ellipse(w, h)
	}
	return surface.Rectangle(w, h)
}

type coatRequest struct {
	Area       float64 `json:"area_mm2" required:"true" exclusiveMinimum:"0" maximum:"1e9"`
	SideArea   float64 `json:"side_area_mm2" default:"0" minimum:"0" maximum:"1e9"`
	Film       float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"1000"`
	SideFilm   float64 `json:"side_film_mm" default:"0" minimum:"0" maximum:"1000"`
	Absorbed   float64 `json:"absorbed_ml" default:"0" minimum:"0"`
	Texture    float64 `json:"texture_ml" default:"0" minimum:"0"`
	Inclusions float64 `json:"inclusions_ml" default:"0" minimum:"0"`
	RunOff     float64 `json:"run_off_share" default:"0" minimum:"0" maximum:"0.9"`
	Cups       int     `json:"cups" default:"1" minimum:"0" maximum:"1000"`
	CupLoss    float64 `json:"cup_loss_ml" default:"3" minimum:"0"`
}

type coatAnswer struct {
	Face    float64 `json:"face_ml"`
	Sides   float64 `json:"sides_ml"`
	RunOff  float64 `json:"run_off_ml"`
	CupLoss float64 `json:"cup_loss_ml"`
	Total   float64 `json:"total_ml"`
}

type puddleHeightRequest struct {
	Angle   float64 `json:"contact_angle_deg" default:"50" exclusiveMinimum:"0" maximum:"180"`
	Tension float64 `json:"surface_tension_mn_m" default:"40" exclusiveMinimum:"0"`
	Density float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0"`
}

type puddleHeightAnswer struct {
	Capillary float64 `json:"capillary_length_mm"`
	Height    float64 `json:"height_mm"`
	Pinned    float64 `json:"pinned_height_mm" description:"At a sharp edge (90°)."`
}

type mixRequest struct {
	Product Product  `json:"product" required:"true"`
	TotalML *float64 `json:"total_ml,omitempty" exclusiveMinimum:"0"`
	TotalG  *float64 `json:"total_g,omitempty" exclusiveMinimum:"0"`
}

type mixAnswer struct {
	AML     float64 `json:"a_ml"`
	BML     float64 `json:"b_ml"`
	AG      float64 `json:"a_g"`
	BG      float64 `json:"b_g"`
	TotalML float64 `json:"total_ml"`
	TotalG  float64 `json:"total_g"`
	Density float64 `json:"density_kg_m3"`
}

type correctRequest struct {
	Product Product `json:"product" required:"true"`
	A       float64 `json:"poured_a_g" required:"true" exclusiveMinimum:"0"`
	B       float64 `json:"poured_b_g" required:"true" minimum:"0"`
}

type correctAnswer struct {
	OffRatio float64 `json:"off_ratio" description:"B per A against the target, minus 1."`
	Within   bool    `json:"within_tolerance"`
	AddA     float64 `json:"add_a_g"`
	AddB     float64 `json:"add_b_g"`
	Total    float64 `json:"total_g" description:"After the addition."`
}

type stagesRequest struct {
	Total float64 `json:"total_ml" required:"true" exclusiveMinimum:"0"`
	Max   float64 `json:"max_lot_ml" required:"true" exclusiveMinimum:"0"`
	Step  float64 `json:"step_ml" default:"5" exclusiveMinimum:"0"`
}

type stagesAnswer struct {
	Lots []float64 `json:"lots_ml"`
}

type levelRequest struct {
	Width     float64 `json:"width_mm" required:"true" exclusiveMinimum:"0"`
	Height    float64 `json:"height_mm" required:"true" exclusiveMinimum:"0"`
	TiltX     float64 `json:"tilt_x_deg" required:"true" minimum:"-45" maximum:"45" description:"Positive: the east side is high."`
	TiltY     float64 `json:"tilt_y_deg" required:"true" minimum:"-45" maximum:"45" description:"Positive: the north side is high."`
	Film      float64 `json:"film_mm" required:"true" minimum:"0"`
	Viscosity float64 `json:"viscosity_mpas" default:"1000" exclusiveMinimum:"0"`
}

type shims struct {
	NE float64 `json:"ne"`
	NW float64 `json:"nw"`
	SE float64 `json:"se"`
	SW float64 `json:"sw"`
}

type levelAnswer struct {
	DropX float64 `json:"drop_x_mm" description:"East edge above west edge; negative when it is lower."`
	DropY float64 `json:"drop_y_mm" description:"North edge above south edge; negative when it is lower."`
	Drift float64 `json:"drift_mm_per_min" description:"Along the steepest line."`
	Shims shims   `json:"shims_mm"`
}

type portionRequest struct {
	Product   Product `json:"product" required:"true"`
	Coat      float64 `json:"coat_ml" required:"true" exclusiveMinimum:"0"`
	CupLoss   float64 `json:"cup_loss_ml" default:"3" minimum:"0"`
	ScaleStep float64 `json:"scale_step_g" default:"0.1" exclusiveMinimum:"0"`
	Cups      []struct {
		Name  string  `json:"name" required:"true"`
		Share float64 `json:"share" required:"true" minimum:"0"`
	} `json:"cups" required:"true" minItems:"1" maxItems:"200"`
}

type portionAnswer struct {
	Cups []portionCup `json:"cups"`
	A    float64      `json:"a_g"`
	B    float64      `json:"b_g"`
}

type portionCup struct {
	Name     string  `json:"name"`
	ML       float64 `json:"ml"`
	A        float64 `json:"a_g"`
	B        float64 `json:"b_g"`
	OffRatio bool    `json:"off_ratio" description:"The scale's step is too coarse for this cup."`
}

func init() {
	define("surface", "Area, edges and sides of a board", func(r surfaceRequest) (surfaceAnswer, error) {
		s, err := r.shape()
		return surfaceAnswer{float64(s.Area()), float64(s.Perimeter()), float64(s.SideArea(units.Length(r.Side)))}, err
	})
	define("coat", "Resin for one coat, every part shown", func(r coatRequest) (coatAnswer, error) {
		a, err := portion.Coat{
			Face: units.Area(r.Area), Side: units.Area(r.SideArea), Film: units.Length(r.Film),
			SideFilm: units.Length(r.SideFilm),
			Absorbed: units.Volume(r.Absorbed), Texture: units.Volume(r.Texture), Inclusions: units.Volume(r.Inclusions),
			RunOff: r.RunOff, Cups: r.Cups, CupLoss: units.Volume(r.CupLoss),
		}.Amount()
		return coatAnswer{float64(a.Face), float64(a.Sides), float64(a.RunOff), float64(a.CupLoss), float64(a.Total)}, err
	})
	define("puddle-height", "How thick a film stands without rim or dam",
		func(r puddleHeightRequest) (puddleHeightAnswer, error) {
			p, err := film.PuddleHeight(units.Angle(r.Angle),
				film.Liquid{Viscosity: 1, Density: units.Density(r.Density), SurfaceTension: r.Tension})
			return puddleHeightAnswer{float64(p.Capillary), float64(p.Height), float64(p.Pinned)}, err
		})
	define("mix", "Parts A and B of a lot", mix)
	define("correct", "Off-ratio and the least addition that cures it", func(r correctRequest) (correctAnswer, error) {
		p, err := r.Product.core()
		if err != nil {
			return correctAnswer{}, err
		}
		c, err := p.Correct(units.Mass(r.A), units.Mass(r.B))
		return correctAnswer{c.OffRatio, c.Within, float64(c.AddA), float64(c.AddB), float64(c.Total)}, at("poured_a_g", err)
	})
	define("stages", "A total cut into lots a jug can measure", func(r stagesRequest) (stagesAnswer, error) {
		lots, err := resin.Stages(units.Volume(r.Total), units.Volume(r.Max), units.Volume(r.Step))
		a := stagesAnswer{Lots: make([]float64, len(lots))}
		for i, l := range lots {
			a.Lots[i] = float64(l)
		}
		return a, at("max_lot_ml", err)
	})
	define("level", "Drop, drift and shims of a tilted board", func(r levelRequest) (levelAnswer, error) {
		l, err := surface.Level(units.Length(r.Width), units.Length(r.Height),
			surface.Tilt{Along: units.Angle(r.TiltX), Across: units.Angle(r.TiltY)},
			units.Length(r.Film), units.Viscosity(r.Viscosity), film.DefaultLiquid.Density)
		s := l.Shims
		return levelAnswer{float64(l.DropAlong), float64(l.DropAcross), l.DriftMMPerS * 60,
			shims{float64(s.NE), float64(s.NW), float64(s.SE), float64(s.SW)}}, err
	})
	define("portion", "A coat divided among cups and rounded to the scale", portionCups)
}

func mix(r mixRequest) (mixAnswer, error) {
	p, err := r.Product.core()
	if err != nil {
		return mixAnswer{}, err
	}
	var b resin.Batch
	switch {
	case r.TotalML != nil && r.TotalG != nil:
		return mixAnswer{}, FieldError{"total_g", msg.ID("give the total in mL or in g, not both")}
	case r.TotalML != nil:
		b, err = p.Volume(units.Volume(*r.TotalML))
		err = at("total_ml", err)
	case r.TotalG != nil:
		b, err = p.Mass(units.Mass(*r.TotalG))
		err = at("total_g", err)
	default:
		err = refusal.New("give the total in mL or in g")
		err = at("total_ml", err)
	}
	return mixAnswer{
		float64(b.A.Volume), float64(b.B.Volume), float64(b.A.Mass), float64(b.B.Mass),
		float64(b.Volume()), float64(b.Mass()), float64(p.Density()),
	}, err
}

func portionCups(r portionRequest) (portionAnswer, error) {
	p, err := r.Product.core()
	if err != nil {
		return portionAnswer{}, err
	}
	shares := make([]portion.Share, len(r.Cups))
	for i, c := range r.Cups {
		name := c.Name
		if name == "" {
			name = fmt.Sprintf("cup %d", i+1)
		}
		shares[i] = portion.Share{Name: name, Share: c.Share}
	}
	lot, err := portion.Cups(p, units.Volume(r.Coat), units.Volume(r.CupLoss), units.Mass(r.ScaleStep), shares)
	a := portionAnswer{A: float64(lot.A), B: float64(lot.B), Cups: make([]portionCup, len(lot.Cups))}
	for i, c := range lot.Cups {
		a.Cups[i] = portionCup{c.Name, float64(c.Volume), float64(c.A), float64(c.B), c.OffRatio}
	}
	return a, at("cups", err)
}
