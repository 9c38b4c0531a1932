package calc

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/heat"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

type clockRequest struct {
	Product Product `json:"product" required:"true"`
	Room    []struct {
		At   float64 `json:"at_min" required:"true"`
		Temp float64 `json:"temp_c" required:"true" minimum:"-20" maximum:"80"`
	} `json:"room" required:"true" minItems:"1" maxItems:"100000"`
	UntilH  float64 `json:"until_h" default:"72" exclusiveMinimum:"0" maximum:"8784"`
	StepMin float64 `json:"step_min" default:"5" exclusiveMinimum:"0"`
}

type clockAnswer struct {
	K       float64       `json:"k_per_s"`
	N       float64       `json:"n"`
	Points  []clockPoint  `json:"points"`
	Windows []clockWindow `json:"windows"`
	Gel     float64       `json:"gel_min"`
	Stops   float64       `json:"stops_at_alpha" description:"where the glass of a usual resin ends the cure in the warmest of this room; 1 for nowhere"`
}

type clockPoint struct {
	At         float64  `json:"at_min"`
	Alpha      float64  `json:"alpha"`
	Thickening *float64 `json:"thickening" nullable:"true" description:"null from gel on"`
	Viscosity  *float64 `json:"viscosity_mpas" nullable:"true" description:"null from gel on"`
}

type clockWindow struct {
	Name string   `json:"name"`
	From float64  `json:"from_min"`
	To   *float64 `json:"to_min" nullable:"true" description:"null if beyond until_h"`
	// Comes is false for a window the resin's glass never lets it come to in this room.
	Comes bool `json:"comes" description:"false where the glass stops the cure before"`
}

// maxClockPoints bounds an answer.
const maxClockPoints = 100_000

func clock(r clockRequest) (clockAnswer, error) {
	p, err := r.Product.core()
	if err != nil {
		return clockAnswer{}, err
	}
	k, err := cure.Calibrate(p.WorkingMinutes, p.HardHours)
	if err != nil {
		return clockAnswer{}, at("product.hard_h", err)
	}
	readings := make([]cure.Reading, len(r.Room))
	for i, x := range r.Room {
		readings[i] = cure.Reading{Minute: x.At, Temperature: units.Temperature(x.Temp)}
	}
	room, err := cure.NewRoom(readings)
	if err != nil {
		return clockAnswer{}, at("room", err)
	}
	until := r.UntilH * 60
	if until/r.StepMin > maxClockPoints {
		return clockAnswer{}, FieldError{"step_min", msg.ID("is too fine for this span")}
	}
	c := cure.NewClock(k, room)
	a := clockAnswer{K: k.K, N: k.N, Gel: c.Gel(), Stops: cure.DefaultGlass.Stops(c.Warmest())}
	for i := 0; float64(i)*r.StepMin <= until+1e-9; i++ {
		m := float64(i) * r.StepMin
		pt := clockPoint{At: m, Alpha: c.Conversion(m)}
		if th := cure.Thickening(pt.Alpha); !math.IsInf(th, 0) {
			mu := float64(c.Viscosity(m, p.Viscosity))
			pt.Thickening, pt.Viscosity = &th, &mu
		}
		a.Points = append(a.Points, pt)
	}
	for _, w := range c.Windows() {
		if w.From > until {
			continue
		}
		cw := clockWindow{Name: string(w.Phase), From: w.From, Comes: cure.Begins(w.Phase) <= a.Stops}
		if w.To <= until {
			to := w.To
			cw.To = &to
		}
		a.Windows = append(a.Windows, cw)
	}
	return a, nil
}

type cupRequest struct {
	Product Product `json:"product" required:"true"`
	Mass    float64 `json:"mass_g" required:"true" exclusiveMinimum:"0" maximum:"1e6"`
	Start   float64 `json:"start_c" default:"25" minimum:"-20" maximum:"100"`
	Room    float64 `json:"room_c" default:"25" minimum:"-20" maximum:"80"`
}

type cupAnswer struct {
	UseBy  float64 `json:"use_by_min"`
	Gel    float64 `json:"gel_min"`
	Peak   float64 `json:"peak_c"`
	PeakAt float64 `json:"peak_at_min"`
}

// Spread is what line and puddle have in common; it is exported so that its
// defaults can be set through embedding.
type Spread struct {
	Volume    float64   `json:"volume_ml" required:"true" exclusiveMinimum:"0"`
	Viscosity float64   `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0"`
	Density   float64   `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0"`
	At        []float64 `json:"at_s" required:"true" maxItems:"100000"`
}

type lineRequest struct {
	Spread
	Length float64 `json:"length_mm" required:"true" exclusiveMinimum:"0"`
}

type lineAnswer struct {
	HalfWidth []float64 `json:"half_width_mm"`
}

type puddleAnswer struct {
	Radius []float64 `json:"radius_mm"`
}

func (r Spread) each(f func(film.Liquid, float64) (units.Length, error)) ([]float64, error) {
	l := film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density)}
	out := make([]float64, len(r.At))
	for i, s := range r.At {
		v, err := f(l, s)
		if err != nil {
			return nil, at("at_s", err)
		}
		out[i] = float64(v)
	}
	return out, nil
}

type sidesRequest struct {
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0"`
	Density   float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0"`
	Depth     float64 `json:"depth_mm" required:"true" minimum:"0"`
	At        float64 `json:"at_s" required:"true" exclusiveMinimum:"0"`
}

type sidesAnswer struct {
	Film float64 `json:"film_um"`
}

type levellingRequest struct {
	Wavelength float64 `json:"wavelength_mm" required:"true" exclusiveMinimum:"0"`
	Film       float64 `json:"film_mm" required:"true" exclusiveMinimum:"0"`
	Viscosity  float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0"`
	Tension    float64 `json:"surface_tension_mn_m" default:"40" minimum:"0"`
	Density    float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0"`
}

type levellingAnswer struct {
	Rate     float64 `json:"rate_per_s"`
	HalfLife float64 `json:"half_life_s"`
}

type settleRequest struct {
	Particle  float64 `json:"particle_um" required:"true" exclusiveMinimum:"0"`
	Solid     float64 `json:"particle_kg_m3" required:"true" minimum:"0"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0"`
	Density   float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0"`
}

type settleAnswer struct {
	Speed float64 `json:"speed_um_s" description:"Down is positive."`
}

type torchRequest struct {
	Flux  float64 `json:"flux_kw_m2" required:"true" exclusiveMinimum:"0"`
	Dwell float64 `json:"dwell_s" required:"true" minimum:"0"`
	Start float64 `json:"start_c" default:"25" minimum:"-273.15"`
}

type torchAnswer struct {
	Surface  float64 `json:"surface_c"`
	MaxDwell float64 `json:"max_dwell_s" description:"Until 150 °C."`
}

type layer struct {
	Film      float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"1000"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0"`
	Density   float64 `json:"density_kg_m3" required:"true" exclusiveMinimum:"0"`
}

func (l layer) core() film.Layer {
	return film.Layer{Film: units.Length(l.Film), Viscosity: units.Viscosity(l.Viscosity),
		Density: units.Density(l.Density)}
}

type cellsRequest struct {
	Lower      layer    `json:"lower" required:"true"`
	Upper      layer    `json:"upper" required:"true"`
	Interface  float64  `json:"interface_mn_m" default:"0" minimum:"0"`
	Surface    float64  `json:"surface_mn_m" default:"40" minimum:"0"`
	Wavelength *float64 `json:"wavelength_mm,omitempty" exclusiveMinimum:"0"`
}

type cellsAnswer struct {
	Spacing     *float64  `json:"spacing_mm" nullable:"true" description:"null when nothing grows"`
	Growth      float64   `json:"growth_per_s"`
	At          *float64  `json:"growth_at_wavelength_per_s,omitempty"`
	Eigenvalues []float64 `json:"eigenvalues_per_s,omitempty" description:"Larger first."`
}

func cells(r cellsRequest) (cellsAnswer, error) {
	s := film.Stack{Lower: r.Lower.core(), Upper: r.Upper.core(), InterfaceTension: r.Interface, SurfaceTension: r.Surface}
	best, err := s.Fastest()
	if err != nil {
		return cellsAnswer{}, err
	}
	a := cellsAnswer{Growth: best.Growth}
	if best.Growth > 0 {
		mm := float64(best.Spacing)
		a.Spacing = &mm
	}
	if r.Wavelength != nil {
		g, err := s.GrowthAt(units.Length(*r.Wavelength))
		if err != nil {
			return cellsAnswer{}, at("wavelength_mm", err)
		}
		mode := g.Dominant()
		a.At, a.Eigenvalues = &mode, []float64{g.Larger, g.Smaller}
	}
	return a, nil
}

func init() {
	define("clock", "Cure, thickening and windows along a room temperature", clock)
	define("cup", "How long a lot lasts in its cup", func(r cupRequest) (cupAnswer, error) {
		k, err := r.Product.kinetics()
		if err != nil {
			return cupAnswer{}, err
		}
		f, err := k.InCup(units.Mass(r.Mass), units.Temperature(r.Start), units.Temperature(r.Room))
		return cupAnswer{f.UseBy, f.Gel, float64(f.Peak), f.PeakAt}, at("mass_g", err)
	})
	define("slab", "How warm a deep layer gets", slab)
	define("line", "How far a poured line runs", func(r lineRequest) (lineAnswer, error) {
		v, err := r.each(func(l film.Liquid, s float64) (units.Length, error) {
			return film.LineHalfWidth(units.Volume(r.Volume), units.Length(r.Length), l, s)
		})
		return lineAnswer{v}, err
	})
	define("puddle", "How far a puddle runs", func(r Spread) (puddleAnswer, error) {
		v, err := r.each(func(l film.Liquid, s float64) (units.Length, error) {
			return film.PuddleRadius(units.Volume(r.Volume), l, s)
		})
		return puddleAnswer{v}, err
	})
	define("sides", "What stays on a vertical side", func(r sidesRequest) (sidesAnswer, error) {
		h, err := film.Side(film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density)},
			units.Length(r.Depth), r.At)
		return sidesAnswer{float64(h / units.Micrometre)}, err
	})
	define("levelling", "How fast a ripple levels", func(r levellingRequest) (levellingAnswer, error) {
		rate, err := film.LevellingRate(units.Length(r.Wavelength), units.Length(r.Film),
			film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density), SurfaceTension: r.Tension})
		return levellingAnswer{rate, math.Ln2 / rate}, err
	})
	define("settle", "How fast a particle sinks or a bubble rises", func(r settleRequest) (settleAnswer, error) {
		v, err := film.SettlingSpeed(units.Length(r.Particle)*units.Micrometre, units.Density(r.Solid),
			film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density)})
		return settleAnswer{v}, err
	})
	define("torch", "Surface temperature under a flame", func(r torchRequest) (torchAnswer, error) {
		t, err := heat.Surface(r.Flux, r.Dwell, units.Temperature(r.Start))
		if err != nil {
			return torchAnswer{}, err
		}
		d, err := heat.MaxDwell(r.Flux, units.Temperature(r.Start))
		return torchAnswer{float64(t), d}, err
	})
	define("cells", "Spacing and growth of cells between two colours", cells)
}
