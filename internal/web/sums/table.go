package sums

import "jevvo/internal/msg"

// A sum is one calculator as a page: a question, what it needs in the
// painter's units, what it answers, and where it comes from.
type sum struct {
	Name     string // of the calculator
	Question msg.ID
	Group    msg.ID
	Words    msg.ID // the formula in words
	Source   msg.ID
	Product  bool // needs a resin from the shelf
	Fields   []sumField
	Outputs  []sumOutput
}

// A sumField is one input. Kind names how it is typed.
type sumField struct {
	Key      string
	Label    msg.ID
	Kind     string
	Start    string // what the field starts with
	Options  []string
	Show     string // "shape:circle": only for these choices
	Optional bool
}

// A sumOutput is one figure of the answer.
type sumOutput struct {
	Path  string
	Label msg.ID
	Kind  string
	Lead  bool // the figure one came for
}

const (
	groupAmounts = "How much"
	groupMixing  = "Mixing"
	groupFilm    = "The film"
	groupHeat    = "Time and heat"
)

var table = []sum{
	{
		Name: "surface", Group: groupAmounts, Question: "How large is this board?",
		Words:  "Area by Green's theorem, edges by arc length; the sides are the edges times their depth.",
		Source: "Closed forms; ellipse by the complete elliptic integral (DLMF 19).",
		Fields: []sumField{
			{Key: "shape", Label: "Shape", Kind: "choice", Start: "rectangle",
				Options: []string{"rectangle", "circle", "ellipse", "polygon", "outline"}},
			{Key: "width_mm", Label: "Width", Kind: "length", Start: "18 in", Show: "shape:rectangle,ellipse"},
			{Key: "height_mm", Label: "Height", Kind: "length", Start: "18 in", Show: "shape:rectangle,ellipse"},
			{Key: "diameter_mm", Label: "Diameter", Kind: "length", Start: "30 cm", Show: "shape:circle"},
			{Key: "points_mm", Label: "Corners in mm", Kind: "points", Start: "0,0 300,0 150,200", Show: "shape:polygon"},
			{Key: "svg_path", Label: "Outline in mm (SVG path)", Kind: "text", Start: "M0 0H300V200H0Z", Show: "shape:outline"},
			{Key: "side_mm", Label: "Depth of the sides", Kind: "film", Start: "20 mm"},
		},
		Outputs: []sumOutput{{"area_mm2", "Face", "area", true}, {"perimeter_mm", "Edges", "length", false},
			{"side_area_mm2", "Sides", "area", false}},
	},
	{
		Name: "coat", Group: groupAmounts, Question: "How much resin does a coat take?",
		Words:  "(face + sides + absorbed + texture − inclusions) ÷ (1 − run-off share) + cups × cup loss.",
		Source: "Common practice: 12 US fl oz on 18 × 18 in is a normal clear bed.",
		Fields: []sumField{
			{Key: "area_mm2", Label: "Face (width × height)", Kind: "size", Start: "18 x 18 in"},
			{Key: "film_mm", Label: "Film", Kind: "film", Start: "1.7 mm"},
			{Key: "run_off_share", Label: "Run-off", Kind: "share", Start: "10 %"},
			{Key: "cups", Label: "Cups", Kind: "number", Start: "4"},
			{Key: "cup_loss_ml", Label: "Stays in a cup", Kind: "volume", Start: "3 mL"},
			{Key: "absorbed_ml", Label: "Absorbed", Kind: "volume", Start: "0 mL"},
			{Key: "texture_ml", Label: "Texture takes", Kind: "volume", Start: "0 mL"},
			{Key: "inclusions_ml", Label: "Inclusions displace", Kind: "volume", Start: "0 mL"},
		},
		Outputs: []sumOutput{{"total_ml", "Total", "volume", true}, {"face_ml", "Face", "volume", false},
			{"run_off_ml", "Run-off", "volume", false}, {"cup_loss_ml", "Cup loss", "volume", false}},
	},
	{
		Name: "stages", Group: groupAmounts, Question: "In which lots do I mix it?",
		Words:  "The fewest lots none of which is over the largest, in steps the jug can measure, as equal as possible.",
		Source: "Common practice: 1.5 L is poured as three or four lots of about 400 mL.",
		Fields: []sumField{
			{Key: "total_ml", Label: "Total", Kind: "volume", Start: "1.5 L"},
			{Key: "max_lot_ml", Label: "Largest lot", Kind: "volume", Start: "400 mL"},
			{Key: "step_ml", Label: "Jug reads to", Kind: "volume", Start: "5 mL"},
		},
		Outputs: []sumOutput{{"lots_ml", "Lots", "volume", true}},
	},
	{
		Name: "mix", Group: groupMixing, Question: "How much A and B?", Product: true,
		Words:  "The ratio as printed, turned into weights by the densities of the parts.",
		Source: "2:1 by volume of 1130 and 970 kg/m³ is 2.330:1 by weight.",
		Fields: []sumField{{Key: "total_ml", Label: "Total", Kind: "volume", Start: "300 mL"}},
		Outputs: []sumOutput{
			{"a_g", "Part A", "mass", true},
			{"b_g", "Part B", "mass", true},
			{"a_ml", "A by volume", "volume", false},
			{"b_ml", "B by volume", "volume", false},
			{"total_g", "Weighs", "mass", false},
			{"density_kg_m3", "Mixed density", "density", false},
		},
	},
	{
		Name: "correct", Group: groupMixing, Question: "I poured too much. What now?", Product: true,
		Words: "B per A against the target; add the other part, never guess. Scooping out is allowed only before the " +
			"parts touch.", Source: "Common practice: two or three grams off in a small lot leave it sticky.",
		Fields: []sumField{{Key: "poured_a_g", Label: "A poured", Kind: "mass", Start: "31 g"},
			{Key: "poured_b_g", Label: "B poured", Kind: "mass", Start: "10 g"}},
		Outputs: []sumOutput{
			{"off_ratio", "Off ratio", "signed", true},
			{"add_a_g", "Add A", "mass", true},
			{"add_b_g", "Add B", "mass", true},
			{"total_g", "Then weighs", "mass", false},
			{"within_tolerance", "Within tolerance", "bool", false},
		},
	},
	{
		Name: "portion", Group: groupMixing, Question: "How do I divide a coat among cups?", Product: true,
		Words: "Cup = share × coat + what stays in the cup; rounded to the scale by largest remainder, so that the " +
			"cups add up.", Source: "Largest remainder; conservation is tested.",
		Fields: []sumField{
			{Key: "coat_ml", Label: "Coat", Kind: "volume", Start: "400 mL"},
			{Key: "cups", Label: "Cups and shares", Kind: "cups", Start: "base 50; sea 30; white 20"},
			{Key: "cup_loss_ml", Label: "Stays in a cup", Kind: "volume", Start: "3 mL"},
			{Key: "scale_step_g", Label: "Scale reads to", Kind: "mass", Start: "0.1 g"},
		},
		Outputs: []sumOutput{{"cups.name", "Cup", "text", false}, {"cups.a_g", "A", "mass", true},
			{"cups.b_g", "B", "mass", true}, {"a_g", "All A", "mass", false}, {"b_g", "All B", "mass", false}},
	},
	{
		Name: "puddle-height", Group: groupFilm, Question: "How thick a film stands without a dam?",
		Words:  "h = 2·√(γ/ρg)·sin(θ/2); a sharp edge pins it up to 90°.",
		Source: "de Gennes, Brochard-Wyart & Quéré, Capillarity and Wetting Phenomena, ch. 2.",
		Fields: []sumField{
			{Key: "contact_angle_deg", Label: "Contact angle", Kind: "angle", Start: "50°"},
			{Key: "surface_tension_mn_m", Label: "Surface tension, mN/m", Kind: "number", Start: "40"},
			{Key: "density_kg_m3", Label: "Density", Kind: "density", Start: "1100 kg/m³"},
		},
		Outputs: []sumOutput{{"height_mm", "Stands", "film", true}, {"pinned_height_mm", "At a sharp edge", "film", false},
			{"capillary_length_mm", "Capillary length", "film", false}},
	},
	{
		Name: "level", Group: groupFilm, Question: "What does a tilt do, and which shims cure it?",
		Words:  "A side L tilted by θ lies L·tan θ lower; an open film walks at ρ·g·sin θ·h²/3μ.",
		Source: "Nusselt 1916; trigonometry.",
		Fields: []sumField{
			{Key: "width_mm", Label: "Width (west to east)", Kind: "length", Start: "60 cm"},
			{Key: "height_mm", Label: "Height (south to north)", Kind: "length", Start: "60 cm"},
			{Key: "tilt_x_deg", Label: "Tilt along, east high", Kind: "angle", Start: "0.2°"},
			{Key: "tilt_y_deg", Label: "Tilt across, north high", Kind: "angle", Start: "0°"},
			{Key: "film_mm", Label: "Film", Kind: "film", Start: "1.6 mm"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
		},
		Outputs: []sumOutput{{"drop_x_mm", "Along", "film", true}, {"drop_y_mm", "Across", "film", true},
			{"drift_mm_per_min", "Drift a minute", "film", false},
			{"shims_mm.nw", "Shim north-west", "film", false}, {"shims_mm.ne", "Shim north-east", "film", false},
			{"shims_mm.sw", "Shim south-west", "film", false}, {"shims_mm.se", "Shim south-east", "film", false}},
	},
	{
		Name: "line", Group: groupFilm, Question: "How wide will a poured line run?",
		Words: "Half-width 0.931·(g·q³/3ν)^⅕·t^⅕ to each side, q the volume per length.", Source: "Huppert 1982.",
		Fields: []sumField{
			{Key: "volume_ml", Label: "Volume", Kind: "volume", Start: "10 mL"},
			{Key: "length_mm", Label: "Length", Kind: "length", Start: "30 cm"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "density_kg_m3", Label: "Density", Kind: "density", Start: "1100 kg/m³"},
			{Key: "at_s", Label: "After", Kind: "times", Start: "10 s, 1 min, 5 min"},
		},
		Outputs: []sumOutput{{"half_width_mm", "Half-width", "film", true}},
	},
	{
		Name: "puddle", Group: groupFilm, Question: "How far will a puddle run?",
		Words: "Radius 0.894·(g·V³/3ν)^⅛·t^⅛; on a dry board it stops at the puddle height.", Source: "Huppert 1982.",
		Fields: []sumField{
			{Key: "volume_ml", Label: "Volume", Kind: "volume", Start: "50 mL"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "density_kg_m3", Label: "Density", Kind: "density", Start: "1100 kg/m³"},
			{Key: "at_s", Label: "After", Kind: "times", Start: "10 s, 1 min, 5 min"},
		},
		Outputs: []sumOutput{{"radius_mm", "Radius", "film", true}},
	},
	{
		Name: "tilt", Group: groupFilm, Question: "What stays after tilting?",
		Words:  "h(x) = √(ν·x/(g·sin θ·t)) below the upper edge, the film it had further down; the rest ran off.",
		Source: "Jeffreys 1930.",
		Fields: []sumField{
			{Key: "film_mm", Label: "Film poured", Kind: "film", Start: "2.5 mm"},
			{Key: "length_mm", Label: "Board, down the slope", Kind: "length", Start: "60 cm"},
			{Key: "tilt_deg", Label: "Tilt", Kind: "angle", Start: "20°"},
			{Key: "at_s", Label: "For", Kind: "seconds", Start: "60 s"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1600 mPa·s"},
			{Key: "density_kg_m3", Label: "Density", Kind: "density", Start: "1100 kg/m³"},
		},
		Outputs: []sumOutput{{"film_mm", "Stays on average", "film", true}, {"run_off_share", "Runs off", "share", false}},
	},
	{
		Name: "sides", Group: groupFilm, Question: "What stays on the sides?",
		Words: "h = √(ν·z/(g·t)), z down from the top edge.", Source: "Jeffreys 1930.",
		Fields: []sumField{
			{Key: "depth_mm", Label: "Below the top edge", Kind: "film", Start: "20 mm"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "density_kg_m3", Label: "Density", Kind: "density", Start: "1100 kg/m³"},
			{Key: "at_s", Label: "After", Kind: "seconds", Start: "30 min"},
		},
		Outputs: []sumOutput{{"film_um", "Film", "micron", true}},
	},
	{
		Name: "levelling", Group: groupFilm, Question: "How fast do tool marks level?",
		Words: "Rate = (h³/3μ)(ρgk² + γk⁴), k = 2π/λ.", Source: "Orchard 1962, thin film.",
		Fields: []sumField{
			{Key: "wavelength_mm", Label: "From mark to mark", Kind: "film", Start: "20 mm"},
			{Key: "film_mm", Label: "Film", Kind: "film", Start: "1.6 mm"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "density_kg_m3", Label: "Density", Kind: "density", Start: "1100 kg/m³"},
		},
		Outputs: []sumOutput{{"half_life_s", "Half gone in", "seconds", true},
			{"rate_per_s", "Rate a second", "number", false}},
	},
	{
		Name: "settle", Group: groupFilm, Question: "Does this pigment sink, this bubble rise?",
		Words: "v = (2/9)·Δρ·g·r²/μ; negative rises.", Source: "Stokes 1851.",
		Fields: []sumField{
			{Key: "particle_um", Label: "Size across, µm", Kind: "number", Start: "50"},
			{Key: "particle_kg_m3", Label: "Its density, kg/m³", Kind: "number", Start: "3600"},
			{Key: "viscosity_mpas", Label: "Viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "density_kg_m3", Label: "Resin density", Kind: "density", Start: "1100 kg/m³"},
		},
		Outputs: []sumOutput{{"speed_um_s", "µm a second, down", "number", true}},
	},
	{
		Name: "cells", Group: groupFilm, Question: "Will cells form, and how far apart?",
		Words:  "Growth of ripples on two superposed viscous layers; the fastest sets the spacing.",
		Source: "Linear stability, Stokes flow; reduces to Orchard 1962 for one liquid.",
		Fields: []sumField{
			{Key: "lower.film_mm", Label: "Bed", Kind: "film", Start: "1.2 mm"},
			{Key: "lower.viscosity_mpas", Label: "Bed viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "lower.density_kg_m3", Label: "Bed density", Kind: "density", Start: "1100 kg/m³"},
			{Key: "upper.film_mm", Label: "Colour on it", Kind: "film", Start: "0.4 mm"},
			{Key: "upper.viscosity_mpas", Label: "Its viscosity", Kind: "viscosity", Start: "1000 mPa·s"},
			{Key: "upper.density_kg_m3", Label: "Its density", Kind: "density", Start: "1160 kg/m³"},
			{Key: "interface_mn_m", Label: "Between them, mN/m", Kind: "number", Start: "0"},
		},
		Outputs: []sumOutput{{"spacing_mm", "Spacing", "film", true}, {"growth_per_s", "Growth a second", "number", false}},
	},
	{
		Name: "clock", Group: groupHeat, Question: "When does which move work?", Product: true,
		Words: "Cure by Kamal & Sourour along the room's temperature, thickening by Castro & Macosko, fitted to the " +
			"sheet's working and hard time.", Source: "Kamal & Sourour 1973; Castro & Macosko 1982.",
		Fields: []sumField{{Key: "room", Label: "Room", Kind: "room", Start: "21 °C"},
			{Key: "until_h", Label: "Look ahead, hours", Kind: "number", Start: "120"}},
		Outputs: []sumOutput{{"gel_min", "Gels after", "minutes", true}, {"windows.name", "Window", "text", false},
			{"windows.from_min", "opens", "minutes", false}, {"windows.to_min", "closes", "minutes", false}},
	},
	{
		Name: "cup", Group: groupHeat, Question: "How long does a lot last in its cup?", Product: true,
		Words: "The lot heats itself: m·c·dT/dt = m·ΔH·dα/dt − U·A·(T − room). Use it before it thickens threefold or " +
			"reaches 50 °C; pour it out flat if it warms.",
		Source: "Kamal & Sourour 1973 with heat loss; constants from memory.",
		Fields: []sumField{
			{Key: "mass_g", Label: "Lot", Kind: "mass", Start: "150 g"},
			{Key: "start_c", Label: "Resin", Kind: "temperature", Start: "21 °C"},
			{Key: "room_c", Label: "Room", Kind: "temperature", Start: "21 °C"},
		},
		Outputs: []sumOutput{{"use_by_min", "Use within", "minutes", true}, {"gel_min", "Gels after", "minutes", false},
			{"peak_c", "Peaks at", "temperature", false}, {"peak_at_min", "after", "minutes", false}},
	},
	{
		Name: "slab", Group: groupHeat, Question: "How warm does a deep layer get?", Product: true,
		Words: "A flat layer deeper than 3 mm heats itself: ρ·c·L·dT/dt = (1 − 3 mm/L)·ρ·L·ΔH·dα/dt − n·U·(T − room), n " +
			"the faces that shed heat. Keep its peak under 60 °C; deeper casts are poured in layers. The product’s sheet rules.",
		Source: "Kamal & Sourour 1973 with heat loss; constants from memory.",
		Fields: []sumField{
			{Key: "depth_mm", Label: "Depth", Kind: "length", Start: "20 mm"},
			{Key: "faces", Label: "Faces that shed heat, 1 or 2", Kind: "number", Start: "2"},
			{Key: "start_c", Label: "Resin", Kind: "temperature", Start: "21 °C"},
			{Key: "room_c", Label: "Room", Kind: "temperature", Start: "21 °C"},
		},
		Outputs: []sumOutput{{"peak_c", "Peaks at", "temperature", true}, {"peak_at_min", "after", "minutes", false},
			{"working_min", "Work it within", "minutes", false}, {"gel_min", "Gels after", "minutes", false},
			{"cooled_min", "Cool again after", "minutes", false}, {"safe_depth_mm", "Deepest safe layer", "film", true}},
	},
	{
		Name: "dew-point", Group: groupHeat, Question: "Will the surface blush?",
		Words: "A board within 3 K of the dew point draws water into the surface: it turns waxy or milky, and the next " +
			"coat peels. Think of the night, when the room is shut.",
		Source: "Magnus, constants of the World Meteorological Organization.",
		Fields: []sumField{
			{Key: "air_c", Label: "Air", Kind: "temperature", Start: "20 °C"},
			{Key: "humidity_share", Label: "Humidity", Kind: "share", Start: "60 %"},
		},
		Outputs: []sumOutput{{"dew_point_c", "Dew point", "temperature", true},
			{"board_above_c", "Keep the board above", "temperature", true}},
	},
	{
		Name: "torch", Group: groupHeat, Question: "How hot does the surface get?",
		Words: "Rise = 2q·√(t/π)/√(kρc); it scorches at 150 °C. Never still, extinguisher by the bench, nothing " +
			"flammable wet.", Source: "Carslaw & Jaeger, Conduction of Heat in Solids.",
		Fields: []sumField{
			{Key: "flux_kw_m2", Label: "Flame, kW/m²", Kind: "number", Start: "60"},
			{Key: "dwell_s", Label: "On one spot", Kind: "seconds", Start: "0.5 s"},
			{Key: "start_c", Label: "Starts at", Kind: "temperature", Start: "25 °C"},
		},
		Outputs: []sumOutput{{"surface_c", "Surface", "temperature", true},
			{"max_dwell_s", "Scorches after", "seconds", false}},
	},
}

func findSum(name string) (sum, bool) {
	for _, s := range table {
		if s.Name == name {
			return s, true
		}
	}
	return sum{}, false
}
