package calc

import (
	"math"

	"jevvo/internal/core/film"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

type puddleHeightRequest struct {
	Angle   float64 `json:"contact_angle_deg" default:"50" exclusiveMinimum:"0" maximum:"180" ask:"Contact angle"`
	Tension float64 `json:"surface_tension_mn_m" default:"40" exclusiveMinimum:"0" ask:"Surface tension, mN/m"`
	Density float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" ask:"Density"`
}

type puddleHeightAnswer struct {
	Capillary float64 `json:"capillary_length_mm" say:"Capillary length" as:"film"`
	Height    float64 `json:"height_mm" say:"Film height" as:"film" lead:"true"`
	Pinned    float64 `json:"pinned_height_mm" description:"At a sharp edge (90°)." say:"At a sharp edge" as:"film"`
}

type levelRequest struct {
	Width     float64 `json:"width_mm" required:"true" exclusiveMinimum:"0" ask:"Width (west to east)" start:"60 cm"`
	Height    float64 `json:"height_mm" required:"true" exclusiveMinimum:"0" ask:"Height (south to north)" start:"60 cm"`
	TiltX     float64 `json:"tilt_x_deg" required:"true" minimum:"-45" maximum:"45" description:"Positive: the east side is high." ask:"Tilt along, east high" start:"0.2°"`
	TiltY     float64 `json:"tilt_y_deg" required:"true" minimum:"-45" maximum:"45" description:"Positive: the north side is high." ask:"Tilt across, north high" start:"0°"`
	Film      float64 `json:"film_mm" required:"true" minimum:"0" ask:"Film" as:"film" start:"1.6 mm"`
	Viscosity float64 `json:"viscosity_mpas" default:"1000" exclusiveMinimum:"0" ask:"Viscosity"`
}

type shims struct {
	NE float64 `json:"ne" say:"Shim north-east" as:"film"`
	NW float64 `json:"nw" say:"Shim north-west" as:"film"`
	SE float64 `json:"se" say:"Shim south-east" as:"film"`
	SW float64 `json:"sw" say:"Shim south-west" as:"film"`
}

type levelAnswer struct {
	DropX float64 `json:"drop_x_mm" description:"East edge above west edge; negative when it is lower." say:"Along" as:"film" lead:"true"`
	DropY float64 `json:"drop_y_mm" description:"North edge above south edge; negative when it is lower." say:"Across" as:"film" lead:"true"`
	Drift float64 `json:"drift_mm_per_min" description:"Along the steepest line." say:"Drift a minute" as:"film"`
	Shims shims   `json:"shims_mm"`
}

// Spread holds the fields that line and puddle share; it is exported so that its
// defaults can be set through embedding.
type Spread struct {
	Volume    float64   `json:"volume_ml" required:"true" exclusiveMinimum:"0" ask:"Volume" start:"50 mL"`
	Viscosity float64   `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" ask:"Viscosity" start:"1000 mPa·s"`
	Density   float64   `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" ask:"Density"`
	At        []float64 `json:"at_s" required:"true" maxItems:"100000" ask:"After" as:"times" start:"10 s, 1 min, 5 min"`
}

type lineRequest struct {
	Spread
	Length float64 `json:"length_mm" required:"true" exclusiveMinimum:"0" ask:"Length" start:"30 cm"`
}

type lineAnswer struct {
	HalfWidth []float64 `json:"half_width_mm" say:"Half-width" as:"film" lead:"true"`
}

type puddleAnswer struct {
	Radius []float64 `json:"radius_mm" say:"Radius" as:"film" lead:"true"`
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

type tiltRequest struct {
	Film      float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"100" ask:"Film poured" as:"film" start:"2.5 mm"`
	Length    float64 `json:"length_mm" required:"true" exclusiveMinimum:"0" maximum:"1e5" ask:"Board, down the slope" start:"60 cm"`
	Tilt      float64 `json:"tilt_deg" required:"true" exclusiveMinimum:"0" maximum:"90" ask:"Tilt" start:"20°"`
	At        float64 `json:"at_s" required:"true" minimum:"0" maximum:"1e6" ask:"For" start:"60 s"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" maximum:"1e9" ask:"Viscosity" start:"1600 mPa·s"`
	Density   float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" maximum:"1e5" ask:"Density"`
}

type tiltAnswer struct {
	Stays  float64 `json:"film_mm" say:"Stays on average" as:"film" lead:"true"`
	RunOff float64 `json:"run_off_share" say:"Runs off"`
}

type sidesRequest struct {
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" ask:"Viscosity" start:"1000 mPa·s"`
	Density   float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" ask:"Density"`
	Depth     float64 `json:"depth_mm" required:"true" minimum:"0" ask:"Below the top edge" as:"film" start:"20 mm"`
	At        float64 `json:"at_s" required:"true" exclusiveMinimum:"0" ask:"After" start:"30 min"`
}

type sidesAnswer struct {
	Film float64 `json:"film_um" say:"Film" lead:"true"`
}

type levellingRequest struct {
	Wavelength float64 `json:"wavelength_mm" required:"true" exclusiveMinimum:"0" ask:"From mark to mark" as:"film" start:"20 mm"`
	Film       float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" ask:"Film" as:"film" start:"1.6 mm"`
	Viscosity  float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" ask:"Viscosity" start:"1000 mPa·s"`
	Tension    float64 `json:"surface_tension_mn_m" default:"40" minimum:"0"`
	Density    float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" ask:"Density"`
}

type levellingAnswer struct {
	Rate     float64 `json:"rate_per_s" say:"Rate a second"`
	HalfLife float64 `json:"half_life_s" say:"Half gone in" lead:"true"`
}

type settleRequest struct {
	Particle  float64 `json:"particle_um" required:"true" exclusiveMinimum:"0" ask:"Size across, µm" as:"number" start:"50"`
	Solid     float64 `json:"particle_kg_m3" required:"true" minimum:"0" ask:"Its density, kg/m³" start:"3600"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" ask:"Viscosity" start:"1000 mPa·s"`
	Density   float64 `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" ask:"Resin density"`
}

type settleAnswer struct {
	Speed float64 `json:"speed_um_s" description:"Down is positive." say:"µm a second, down" as:"number" lead:"true"`
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

// bed and floater are the two layers as they are asked for.
type bed struct {
	Film      float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"1000" ask:"Bed" as:"film" start:"1.2 mm"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" ask:"Bed viscosity" start:"1000 mPa·s"`
	Density   float64 `json:"density_kg_m3" required:"true" exclusiveMinimum:"0" ask:"Bed density" start:"1100 kg/m³"`
}

type floater struct {
	Film      float64 `json:"film_mm" required:"true" exclusiveMinimum:"0" maximum:"1000" ask:"Colour on it" as:"film" start:"0.4 mm"`
	Viscosity float64 `json:"viscosity_mpas" required:"true" exclusiveMinimum:"0" ask:"Its viscosity" start:"1000 mPa·s"`
	Density   float64 `json:"density_kg_m3" required:"true" exclusiveMinimum:"0" ask:"Its density" start:"1160 kg/m³"`
}

type cellsRequest struct {
	Lower      bed      `json:"lower" required:"true"`
	Upper      floater  `json:"upper" required:"true"`
	Interface  float64  `json:"interface_mn_m" default:"0" minimum:"0" ask:"Between them, mN/m"`
	Surface    float64  `json:"surface_mn_m" default:"40" minimum:"0"`
	Wavelength *float64 `json:"wavelength_mm,omitempty" exclusiveMinimum:"0"`
}

type cellsAnswer struct {
	Spacing     *float64  `json:"spacing_mm" nullable:"true" description:"null when nothing grows" say:"Spacing" as:"film" lead:"true"`
	Growth      float64   `json:"growth_per_s" say:"Growth a second"`
	At          *float64  `json:"growth_at_wavelength_per_s,omitempty"`
	Eigenvalues []float64 `json:"eigenvalues_per_s,omitempty" description:"Larger first."`
}

func cells(r cellsRequest) (cellsAnswer, error) {
	s := film.Stack{Lower: layer(r.Lower).core(), Upper: layer(r.Upper).core(), InterfaceTension: r.Interface,
		SurfaceTension: r.Surface}
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
	define("puddle-height", "How thick a film stands without rim or dam",
		func(r puddleHeightRequest) (puddleHeightAnswer, error) {
			p, err := film.PuddleHeight(units.Angle(r.Angle),
				film.Liquid{Viscosity: 1, Density: units.Density(r.Density), SurfaceTension: r.Tension})
			return puddleHeightAnswer{float64(p.Capillary), float64(p.Height), float64(p.Pinned)}, err
		}).asks(Page{
		Group: TheFilm, Question: "How thick a film stands without a dam?",
		Words:  "h = 2·√(γ/ρg)·sin(θ/2); a sharp edge pins it up to 90°.",
		Source: "de Gennes, Brochard-Wyart & Quéré, Capillarity and Wetting Phenomena, ch. 2.",
	})
	define("level", "Drop, drift and shims of a tilted board", func(r levelRequest) (levelAnswer, error) {
		l, err := surface.Level(units.Length(r.Width), units.Length(r.Height),
			surface.Tilt{Along: units.Angle(r.TiltX), Across: units.Angle(r.TiltY)},
			units.Length(r.Film), units.Viscosity(r.Viscosity), film.DefaultLiquid.Density)
		s := l.Shims
		return levelAnswer{float64(l.DropAlong), float64(l.DropAcross), l.DriftMMPerS * 60,
			shims{float64(s.NE), float64(s.NW), float64(s.SE), float64(s.SW)}}, err
	}).asks(Page{
		Group: TheFilm, Question: "What does a tilt do, and which shims fix it?",
		Words:  "A side L tilted by θ lies L·tan θ lower; an open film creeps at ρ·g·sin θ·h²/3μ.",
		Source: "Nusselt 1916; trigonometry.",
	})
	define("line", "How far a poured line runs", func(r lineRequest) (lineAnswer, error) {
		v, err := r.each(func(l film.Liquid, s float64) (units.Length, error) {
			return film.LineHalfWidth(units.Volume(r.Volume), units.Length(r.Length), l, s)
		})
		return lineAnswer{v}, err
	}).asks(Page{
		Group: TheFilm, Question: "How wide will a poured line run?",
		Words:  "Half-width 0.931·(g·q³/3ν)^⅕·t^⅕ to each side, q the volume per length.",
		Source: "Huppert 1982.",
	})
	define("puddle", "How far a puddle runs", func(r Spread) (puddleAnswer, error) {
		v, err := r.each(func(l film.Liquid, s float64) (units.Length, error) {
			return film.PuddleRadius(units.Volume(r.Volume), l, s)
		})
		return puddleAnswer{v}, err
	}).asks(Page{
		Group: TheFilm, Question: "How far will a puddle run?",
		Words:  "Radius 0.894·(g·V³/3ν)^⅛·t^⅛; on a dry board it stops at the puddle height.",
		Source: "Huppert 1982.",
	})
	define("tilt", "What stays on a board after tilting it", func(r tiltRequest) (tiltAnswer, error) {
		flow := r.At * r.Density / (r.Viscosity / 1000)
		h, err := film.Tilted(units.Length(r.Film), units.Length(r.Length), units.Angle(r.Tilt), flow)
		return tiltAnswer{float64(h), 1 - float64(h)/r.Film}, at("tilt_deg", err)
	}).asks(Page{
		Group: TheFilm, Question: "What stays after tilting?",
		Words: "h(x) = √(ν·x/(g·sin θ·t)) below the upper edge, the film it had further down; the rest ran " +
			"off.",
		Source: "Jeffreys 1930.",
	})
	define("sides", "What stays on a vertical side", func(r sidesRequest) (sidesAnswer, error) {
		h, err := film.Side(film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density)},
			units.Length(r.Depth), r.At)
		return sidesAnswer{float64(h / units.Micrometre)}, err
	}).asks(Page{
		Group: TheFilm, Question: "What stays on the sides?",
		Words:  "h = √(ν·z/(g·t)), z down from the top edge.",
		Source: "Jeffreys 1930.",
	})
	define("levelling", "How fast a ripple levels", func(r levellingRequest) (levellingAnswer, error) {
		rate, err := film.LevellingRate(units.Length(r.Wavelength), units.Length(r.Film),
			film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density), SurfaceTension: r.Tension})
		return levellingAnswer{rate, math.Ln2 / rate}, err
	}).asks(Page{
		Group: TheFilm, Question: "How fast do tool marks level?",
		Words:  "Rate = (h³/3μ)(ρgk² + γk⁴), k = 2π/λ.",
		Source: "Orchard 1962, thin film.",
	})
	define("settle", "How fast a particle sinks or a bubble rises", func(r settleRequest) (settleAnswer, error) {
		v, err := film.SettlingSpeed(units.Length(r.Particle)*units.Micrometre, units.Density(r.Solid),
			film.Liquid{Viscosity: units.Viscosity(r.Viscosity), Density: units.Density(r.Density)})
		return settleAnswer{v}, err
	}).asks(Page{
		Group: TheFilm, Question: "Does this pigment sink, this bubble rise?",
		Words:  "v = (2/9)·Δρ·g·r²/μ; negative rises.",
		Source: "Stokes 1851.",
	})
	define("cells", "Spacing and growth of cells between two colours", cells).asks(Page{
		Group: TheFilm, Question: "Will cells form, and how far apart?",
		Words:  "Growth of ripples on two superposed viscous layers; the fastest sets the spacing.",
		Source: "Linear stability, Stokes flow; reduces to Orchard 1962 for one liquid.",
	})
}
