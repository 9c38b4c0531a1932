package calc

import (
	"fmt"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/portion"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

type surfaceRequest struct {
	Shape    string      `json:"shape" required:"true" enum:"rectangle,circle,ellipse,polygon,outline" ask:"Shape" start:"rectangle"`
	Width    *float64    `json:"width_mm,omitempty" exclusiveMinimum:"0" description:"rectangle, ellipse" ask:"Width" start:"18 in" when:"shape:rectangle,ellipse"`
	Height   *float64    `json:"height_mm,omitempty" exclusiveMinimum:"0" description:"rectangle, ellipse" ask:"Height" start:"18 in" when:"shape:rectangle,ellipse"`
	Diameter *float64    `json:"diameter_mm,omitempty" exclusiveMinimum:"0" description:"circle" ask:"Diameter" start:"30 cm" when:"shape:circle"`
	Points   [][]float64 `json:"points_mm,omitempty" maxItems:"200000" description:"polygon corners [x, y]" ask:"Corners in mm" as:"points" start:"0,0 300,0 150,200" when:"shape:polygon"`
	Path     *string     `json:"svg_path,omitempty" description:"outline: SVG path data in mm; holes by even-odd" ask:"Outline in mm (SVG path)" start:"M0 0H300V200H0Z" when:"shape:outline"`
	Side     float64     `json:"side_mm" default:"0" minimum:"0" description:"Depth of the sides." ask:"Depth of the sides" as:"film" start:"20 mm"`
}

type surfaceAnswer struct {
	Area      float64 `json:"area_mm2" say:"Face" lead:"true"`
	Perimeter float64 `json:"perimeter_mm" description:"All edges, those of holes included." say:"Edges"`
	SideArea  float64 `json:"side_area_mm2" say:"Sides"`
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
	Area       float64 `json:"area_mm2" required:"true" exclusiveMinimum:"0" maximum:"1e9" ask:"Face (width × height)" as:"size" start:"18 x 18 in"`
	SideArea   float64 `json:"side_area_mm2" default:"0" minimum:"0" maximum:"1e9"`
	Film       float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"1000" ask:"Film" as:"film" start:"1.7 mm"`
	SideFilm   float64 `json:"side_film_mm" default:"0" minimum:"0" maximum:"1000"`
	Absorbed   float64 `json:"absorbed_ml" default:"0" minimum:"0" ask:"Absorbed"`
	Texture    float64 `json:"texture_ml" default:"0" minimum:"0" ask:"Texture takes"`
	Inclusions float64 `json:"inclusions_ml" default:"0" minimum:"0" ask:"Inclusions displace"`
	RunOff     float64 `json:"run_off_share" default:"0" minimum:"0" maximum:"0.9" ask:"Run-off" start:"10 %"`
	Cups       int     `json:"cups" default:"1" minimum:"0" maximum:"1000" ask:"Cups" start:"4"`
	CupLoss    float64 `json:"cup_loss_ml" default:"3" minimum:"0" ask:"Stays in a cup"`
}

type coatAnswer struct {
	Face    float64 `json:"face_ml" say:"Face"`
	Sides   float64 `json:"sides_ml"`
	RunOff  float64 `json:"run_off_ml" say:"Run-off"`
	CupLoss float64 `json:"cup_loss_ml" say:"Cup loss"`
	Total   float64 `json:"total_ml" say:"Total" lead:"true"`
}

type stagesRequest struct {
	Total float64 `json:"total_ml" required:"true" exclusiveMinimum:"0" ask:"Total" start:"1.5 L"`
	Max   float64 `json:"max_lot_ml" required:"true" exclusiveMinimum:"0" ask:"Largest batch" start:"400 mL"`
	Step  float64 `json:"step_ml" default:"5" exclusiveMinimum:"0" ask:"Jug reads to"`
}

type stagesAnswer struct {
	Batches []float64 `json:"lots_ml" say:"Batches" lead:"true"`
}

func init() {
	define("surface", "Area, edges and sides of a board", func(r surfaceRequest) (surfaceAnswer, error) {
		s, err := r.shape()
		return surfaceAnswer{float64(s.Area()), float64(s.Perimeter()), float64(s.SideArea(units.Length(r.Side)))}, err
	}).asks(Page{
		Group: HowMuch, Question: "How large is this board?",
		Words:  "Area by Green's theorem, edges by arc length; the sides are the edges times their depth.",
		Source: "Closed forms; ellipse by the complete elliptic integral (DLMF 19).",
	})
	define("coat", "Resin for one coat, every part shown", func(r coatRequest) (coatAnswer, error) {
		a, err := portion.Coat{
			Face: units.Area(r.Area), Side: units.Area(r.SideArea), Film: units.Length(r.Film),
			SideFilm: units.Length(r.SideFilm),
			Absorbed: units.Volume(r.Absorbed), Texture: units.Volume(r.Texture), Inclusions: units.Volume(r.Inclusions),
			RunOff: r.RunOff, Cups: r.Cups, CupLoss: units.Volume(r.CupLoss),
		}.Amount()
		return coatAnswer{float64(a.Face), float64(a.Sides), float64(a.RunOff), float64(a.CupLoss), float64(a.Total)}, err
	}).asks(Page{
		Group: HowMuch, Question: "How much resin does a coat take?",
		Words:  "(face + sides + absorbed + texture − inclusions) ÷ (1 − run-off share) + cups × cup loss.",
		Source: "Common practice: 12 US fl oz on 18 × 18 in is a normal clear bed.",
	})
	define("stages", "A total cut into batches a jug can measure", func(r stagesRequest) (stagesAnswer, error) {
		batches, err := resin.Stages(units.Volume(r.Total), units.Volume(r.Max), units.Volume(r.Step))
		a := stagesAnswer{Batches: make([]float64, len(batches))}
		for i, l := range batches {
			a.Batches[i] = float64(l)
		}
		return a, at("max_lot_ml", err)
	}).asks(Page{
		Group: HowMuch, Question: "How many batches do I mix?",
		Words:  "The fewest batches, none over the largest, in steps the jug can measure, as equal as possible.",
		Source: "Common practice: 1.5 L is poured as three or four batches of about 400 mL.",
	})
}
