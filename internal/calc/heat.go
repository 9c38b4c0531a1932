package calc

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/heat"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

type clockRequest struct {
	Product Product `json:"product" required:"true" ask:"Resin" as:"sheet"`
	Room    []struct {
		At   float64 `json:"at_min" required:"true"`
		Temp float64 `json:"temp_c" required:"true" minimum:"-20" maximum:"80"`
	} `json:"room" required:"true" minItems:"1" maxItems:"100000" ask:"Room temperature" as:"room" start:"21 °C"`
	UntilH  float64 `json:"until_h" default:"72" exclusiveMinimum:"0" maximum:"8784" ask:"Look ahead, hours" start:"120"`
	StepMin float64 `json:"step_min" default:"5" exclusiveMinimum:"0"`
}

type clockAnswer struct {
	K       float64       `json:"k_per_s"`
	N       float64       `json:"n"`
	Points  []clockPoint  `json:"points"`
	Windows []clockWindow `json:"windows"`
	Gel     float64       `json:"gel_min" say:"Gels after" lead:"true"`
	Stops   float64       `json:"stops_at_alpha" description:"where the glass of a usual resin ends the cure in the warmest of this room; 1 for nowhere"`
}

type clockPoint struct {
	At         float64  `json:"at_min"`
	Alpha      float64  `json:"alpha"`
	Thickening *float64 `json:"thickening" nullable:"true" description:"null from gel on"`
	Viscosity  *float64 `json:"viscosity_mpas" nullable:"true" description:"null from gel on"`
}

type clockWindow struct {
	Name string   `json:"name" say:"Window" as:"phase"`
	From float64  `json:"from_min" say:"Opens"`
	To   *float64 `json:"to_min" nullable:"true" description:"null if beyond until_h" say:"Closes"`
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
	Product Product `json:"product" required:"true" ask:"Resin" as:"sheet"`
	Mass    float64 `json:"mass_g" required:"true" exclusiveMinimum:"0" maximum:"1e6" ask:"Batch" start:"150 g"`
	Start   float64 `json:"start_c" default:"25" minimum:"-20" maximum:"100" ask:"Resin" start:"21 °C"`
	Room    float64 `json:"room_c" default:"25" minimum:"-20" maximum:"80" ask:"Room temperature" start:"21 °C"`
}

type cupAnswer struct {
	UseBy  float64 `json:"use_by_min" say:"Use within" lead:"true"`
	Gel    float64 `json:"gel_min" say:"Gels after"`
	Peak   float64 `json:"peak_c" say:"Peaks at"`
	PeakAt float64 `json:"peak_at_min" say:"after"`
}

type slabRequest struct {
	Product Product `json:"product" required:"true" ask:"Resin" as:"sheet"`
	Depth   float64 `json:"depth_mm" required:"true" exclusiveMinimum:"0" maximum:"1000" ask:"Depth" start:"20 mm"`
	Faces   int     `json:"faces" default:"2" minimum:"1" maximum:"2" ask:"Faces that shed heat, 1 or 2"`
	Start   float64 `json:"start_c" default:"25" minimum:"-20" maximum:"80" ask:"Resin" start:"21 °C"`
	Room    float64 `json:"room_c" default:"25" minimum:"-20" maximum:"80" ask:"Room temperature" start:"21 °C"`
}

type slabAnswer struct {
	Working float64 `json:"working_min" say:"Work it within"`
	Gel     float64 `json:"gel_min" say:"Gels after"`
	Peak    float64 `json:"peak_c" say:"Peaks at" lead:"true"`
	PeakAt  float64 `json:"peak_at_min" say:"after"`
	Cooled  float64 `json:"cooled_min" say:"Cool again after"`
	Safe    float64 `json:"safe_depth_mm" say:"Deepest safe layer" as:"film" lead:"true"`
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

type dewRequest struct {
	Air      float64 `json:"air_c" default:"20" minimum:"-40" maximum:"60" ask:"Air"`
	Humidity float64 `json:"humidity_share" required:"true" exclusiveMinimum:"0" maximum:"1" ask:"Humidity" start:"60 %"`
}

type dewAnswer struct {
	Dew  float64 `json:"dew_point_c" say:"Dew point" lead:"true"`
	Keep float64 `json:"board_above_c" say:"Keep the board above" lead:"true"`
}

type torchRequest struct {
	Flux  float64 `json:"flux_kw_m2" required:"true" exclusiveMinimum:"0" ask:"Flame, kW/m²" start:"60"`
	Dwell float64 `json:"dwell_s" required:"true" minimum:"0" ask:"On one spot" start:"0.5 s"`
	Start float64 `json:"start_c" default:"25" minimum:"-273.15" ask:"Starts at"`
}

type torchAnswer struct {
	Surface  float64 `json:"surface_c" say:"Surface" lead:"true"`
	MaxDwell float64 `json:"max_dwell_s" description:"Until 150 °C." say:"Scorches after"`
}

func init() {
	define("clock", "Cure, thickening and windows along a room temperature", clock).asks(Page{
		Group: TimeAndHeat, Question: "When does which move work?",
		Words: "Cure by Kamal & Sourour along the room's temperature, thickening by Castro & Macosko, fitted " +
			"to the sheet's working and hard time.",
		Source: "Kamal & Sourour 1973; Castro & Macosko 1982.",
	})
	define("cup", "How long a batch lasts in its cup", func(r cupRequest) (cupAnswer, error) {
		k, err := r.Product.kinetics()
		if err != nil {
			return cupAnswer{}, err
		}
		f, err := k.InCup(units.Mass(r.Mass), units.Temperature(r.Start), units.Temperature(r.Room))
		return cupAnswer{f.UseBy, f.Gel, float64(f.Peak), f.PeakAt}, at("mass_g", err)
	}).asks(Page{
		Group: TimeAndHeat, Question: "How long does a batch keep in its cup?",
		Words: "The batch heats itself: m·c·dT/dt = m·ΔH·dα/dt − U·A·(T − room). Use it before it thickens threefold or " +
			"reaches 50 °C; pour it out flat if it warms.",
		Source: "Kamal & Sourour 1973 with heat loss; constants from memory.",
	})
	define("slab", "How warm a deep layer gets", slab).asks(Page{
		Group: TimeAndHeat, Question: "How warm does a deep layer get?",
		Words: "A flat layer deeper than 3 mm heats itself: ρ·c·L·dT/dt = (1 − 3 mm/L)·ρ·L·ΔH·dα/dt − n·U·(T − room), n " +
			"the faces that shed heat. Keep its peak under 60 °C; deeper casts are poured in layers. The product’s data " +
			"sheet rules.",
		Source: "Kamal & Sourour 1973 with heat loss; constants from memory.",
	})
	define("dew-point", "When a board draws water from the air", func(r dewRequest) (dewAnswer, error) {
		d, err := cure.DewPoint(units.Temperature(r.Air), r.Humidity)
		return dewAnswer{float64(d), float64(d) + cure.BlushMargin}, at("humidity_share", err)
	}).asks(Page{
		Group: TimeAndHeat, Question: "Will the surface blush?",
		Words: "A board within 3 K of the dew point draws water into the surface: it turns waxy or milky, and the next " +
			"coat peels. Think of the night, when the room is closed and cools.",
		Source: "Magnus, constants of the World Meteorological Organization.",
	})
	define("torch", "Surface temperature under a flame", func(r torchRequest) (torchAnswer, error) {
		t, err := heat.Surface(r.Flux, r.Dwell, units.Temperature(r.Start))
		if err != nil {
			return torchAnswer{}, err
		}
		d, err := heat.MaxDwell(r.Flux, units.Temperature(r.Start))
		return torchAnswer{float64(t), d}, err
	}).asks(Page{
		Group: TimeAndHeat, Question: "How hot does the surface get?",
		Words: "Rise = 2q·√(t/π)/√(kρc); it scorches at 150 °C. Never still, extinguisher by the bench, " +
			"nothing flammable wet.",
		Source: "Carslaw & Jaeger, Conduction of Heat in Solids.",
	})
}
