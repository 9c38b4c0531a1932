package calc

import (
	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

type slabRequest struct {
	Product Product `json:"product" required:"true"`
	Depth   float64 `json:"depth_mm" required:"true" exclusiveMinimum:"0" maximum:"1000"`
	Faces   int     `json:"faces" default:"2" minimum:"1" maximum:"2"`
	Start   float64 `json:"start_c" default:"25" minimum:"-20" maximum:"80"`
	Room    float64 `json:"room_c" default:"25" minimum:"-20" maximum:"80"`
}

type slabAnswer struct {
	Working float64 `json:"working_min"`
	Gel     float64 `json:"gel_min"`
	Peak    float64 `json:"peak_c"`
	PeakAt  float64 `json:"peak_at_min"`
	Cooled  float64 `json:"cooled_min"`
	Safe    float64 `json:"safe_depth_mm"`
}

func slab(r slabRequest) (slabAnswer, error) {
	k, err := r.Product.kinetics()
	if err != nil {
		return slabAnswer{}, err
	}
	room := cure.Constant(units.Temperature(r.Room))
	f, err := k.InSlab(cure.Slab{Depth: units.Length(r.Depth), Faces: r.Faces, Start: units.Temperature(r.Start),
		Room: room})
	if err != nil {
		return slabAnswer{}, at("depth_mm", err)
	}
	safe, err := k.SafeDepth(r.Faces, units.Temperature(r.Start), room)
	if err != nil {
		return slabAnswer{}, at("start_c", err)
	}
	return slabAnswer{f.Working, f.Gel, float64(f.Peak), f.PeakAt, f.Cooled, float64(safe)}, nil
}

// kinetics returns the product's clock constants.
func (p Product) kinetics() (cure.Kinetics, error) {
	core, err := p.core()
	if err != nil {
		return cure.Kinetics{}, err
	}
	k, err := cure.Calibrate(core.WorkingMinutes, core.HardHours)
	return k, at("product.hard_h", err)
}

type dewRequest struct {
	Air      float64 `json:"air_c" default:"20" minimum:"-40" maximum:"60"`
	Humidity float64 `json:"humidity_share" required:"true" exclusiveMinimum:"0" maximum:"1"`
}

type dewAnswer struct {
	Dew  float64 `json:"dew_point_c"`
	Keep float64 `json:"board_above_c"`
}

type tiltRequest struct {
	Film      float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"100"`
	Length    float64 `json:"length_mm" required:"true" exclusiveMinimum:"0" maximum:"1e5"`
	Tilt      float64 `json:"tilt_deg" required:"true" exclusiveMinimum:"0" maximum:"90"`
	At        float64 `json:"at_s" required:"true" minimum:"0" maximum:"1e6"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" maximum:"1e9"`
	Density   float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" maximum:"1e5"`
}

type tiltAnswer struct {
	Stays  float64 `json:"film_mm"`
	RunOff float64 `json:"run_off_share"`
}

func init() {
	define("dew-point", "When a board draws water from the air", func(r dewRequest) (dewAnswer, error) {
		d, err := cure.DewPoint(units.Temperature(r.Air), r.Humidity)
		return dewAnswer{float64(d), float64(d) + cure.BlushMargin}, at("humidity_share", err)
	})
	define("tilt", "What stays on a board after tilting it", func(r tiltRequest) (tiltAnswer, error) {
		flow := r.At * r.Density / (r.Viscosity / 1000)
		h, err := film.Tilted(units.Length(r.Film), units.Length(r.Length), units.Angle(r.Tilt), flow)
		return tiltAnswer{float64(h), 1 - float64(h)/r.Film}, at("tilt_deg", err)
	})
}
