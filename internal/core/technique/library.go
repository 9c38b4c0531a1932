package technique

import (
	"jevvo/internal/core/cure"
	"jevvo/internal/msg"
)

// Steps shared by many techniques. Times are common practice throughout.
var (
	layOut = Step{
		ID: "lay-out", Name: "Lay out", BeforeMixing: true, Fixed: 8, PerCup: 0.5, Safety: []string{"gloves", "air"},
		Do: "Cover the table, set the board on its supports and check the level both ways. Line up cups, sticks, torch and " +
			"dust cover.",
	}
	mix = Step{
		ID: "mix", Name: "Mix", Window: cure.Runny, Mixes: true, Safety: []string{"gloves", "air", "heatlot"},
		Do: "Pour A, then B. Stir slowly for the product's mix time, scraping sides and bottom, until no " +
			"streaks are left.",
		LookFor: "No streaks when the stick is lifted; haze means more stirring.",
	}
	colourCups = Step{
		ID: "colour-the-cups", Name: "Colour the cups", Window: cure.Runny, PerCup: 0.6, Colours: true, Doses: true,
		Safety: []string{"gloves"},
		Do:     "Split into cups, pale colours first, and stir in each pigment. White always in a clean cup.",
	}
	breakBubbles = Step{
		ID: "break-bubbles", Name: "Break bubbles", Move: Heat, Window: cure.Lacing, Fixed: 0.5, PerM2: 4, Heats: true,
		Safety: []string{"flame", "respirator"},
		Do:     "One quick pass, flame high and never still.",
		HotDo:  "One quick pass with hot air, high and never still.",
	}
	bubblesAtOnce = Step{
		ID: "break-bubbles", Name: "Break bubbles", Move: Heat, Window: cure.Lacing, AtOnce: true, Fixed: 0.5, PerM2: 4,
		Heats: true, Safety: []string{"flame", "respirator"},
		Do:    "One quick pass as soon as it is spread, flame high and never still.",
		HotDo: "One quick pass with hot air as soon as it is spread, high and never still.",
	}
	cleanTools = Step{
		ID: "clean-the-tools", Name: "Clean the tools", Window: cure.Stringy, AtOnce: true, Fixed: 3,
		Safety: []string{"gloves"},
		Do: "Wipe sticks, sheets and combs while the resin is soft; what gels on them stays. Cups drain upside down over a " +
			"spare tile.",
	}
	cover = Step{
		ID: "cover", Name: "Cover", Window: cure.Holding, Fixed: 2,
		Do: "Wipe the underside of the edge, look across the light for dust and hairs, lift them out with a needle, set " +
			"the dust cover.",
	}
	spreadBed = Step{
		ID: "spread-the-bed", Name: "Spread the bed", Move: Spread, Pours: true, Bed: true, Lays: []Role{Clear, Base},
		Window: cure.Runny, Fixed: 0.5, PerM2: 14,
		Do: "Pour the bed and spread it to every edge with a flat stick.",
	}
	spreadBase = Step{
		ID: "spread-the-base", Name: "Spread the base", Move: Spread, Pours: true, Bed: true, Lays: []Role{Base},
		Window: cure.Runny, Fixed: 0.5, PerM2: 14,
		Do: "Pour the one base colour and spread it to every edge; level, or the field runs.",
	}
	dressEdges = Step{
		ID: "dress-the-edges", Name: "Dress the edges", Move: Spread, Window: cure.Lacing, Fixed: 2, PerM2: 6,
		Safety: []string{"gloves"},
		Do:     "Bring resin to bare corners with a gloved finger, level the board again.",
	}
	wipeHard = Step{
		ID: "clean-the-hard-coat", Name: "Clean the hard coat", Fixed: 4, PerM2: 10, Safety: []string{"alcohol"},
		FlashOff: 10,
		Do:       "Wipe the hard coat with isopropanol and let it flash off; fresh silicone wants ten minutes more.",
	}
)

// Steps that a choice adds.
var (
	freshLines = Step{ID: "fresh-lines-swipe-again", Name: "Fresh lines, swipe again", Move: Swipe, Window: cure.Lacing,
		Fixed: 2, PerM2: 20, Heats: true, ZoneM2: 0.12, Safety: []string{"flame", "respirator"},
		Do:      "Where it closed again: a thin fresh line of white, warm, one light pull, torch low.",
		LookFor: "New lace that stands apart from the first.",
		Beats: []Beat{{"Fresh line", "A thin line of white where it closed again.", 0.3, false, ""},
			{"Draw and torch", "One light pull, then low and close.", 0.7, true, Sheet}}}
	betweenLayers = Step{ID: "spray-between-layers", Name: "Spray between layers", Move: Spray, Window: cure.Runny,
		PerCup: 0.3, FlashOff: 5, Adds: []string{"alcohol"}, Safety: []string{"alcohol", "respirator"},
		Do: "A breath of alcohol on each layer before the next goes in: the layers part when they are tipped."}
)

// Scuff is the preparation of a hard coat for the next one, in a studio of that
// school.
var Scuff = Step{
	ID: "scuff-and-wipe", Name: "Scuff and wipe", BeforeMixing: true, Fixed: 4, PerM2: 20,
	Safety: []string{"dust", "alcohol"}, FlashOff: 10,
	Do: "Wet-sand the hard coat lightly, wipe with isopropanol and let it flash off. A tacky coat needs neither.",
}

var usualTools = []msg.Preset{"gloves", "scale", "mixing cups and sticks", "torch", "dust cover", "level"}

func tools(more ...msg.Preset) []msg.Preset {
	return append(append([]msg.Preset(nil), usualTools...), more...)
}

// Library holds the built-in techniques. Run-off shares and times are common
// practice.
var Library = Book{
	{
		ID: "swipe", Name: "Swipe", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#5d6b73", Share: 0.50, Load: 0.03},
			{Name: "First colour", Role: Accent, Swatch: "#17455c", Share: 0.22, Load: 0.03},
			{Name: "Second colour", Role: Accent, Swatch: "#a8642f", Share: 0.13, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.15, Load: 0.04},
		},
		WantsAccent: true, WantsWhite: true, BedOptional: true,
		Drawn: []Drawn{{Role: White, Over: 0.6, Sheer: true}}, // it breaks into lace
		Options: []Option{
			{Key: "sheet", Name: "Sheet", Choices: []Choice{
				{Key: "limp", Words: "limp paper, soft pulls"},
				{Key: "stiff", Words: "stiff sheet, long pulls", Changes: []Change{{Step: "swipe", ZoneM2: 0.15, PerM2: 36,
					Do: "Long lanes: warm, draw the stiff sheet in one slow pull with hardly any weight, torch low, then the next."}}},
			}},
			{Key: "direction", Name: "Direction", Choices: []Choice{
				{Key: "edge", Words: "from the edge into clear"},
				{Key: "in", Words: "from outside in", Changes: []Change{{Step: "swipe", Order: "outside-in",
					Do: "Small zones, the rim first: warm, draw the sheet from the rim towards the middle, slowly and lightly, " +
						"torch low, then the next."}}},
			}},
			{Key: "lanes", Name: "Order of lanes", Choices: []Choice{
				{Key: "rows", Words: "row by row"},
				{Key: "lanes", Words: "one long lane beside the other", Changes: []Change{{Step: "swipe", Order: "lanes"}}},
				{Key: "out", Words: "from the middle out", Changes: []Change{{Step: "swipe", Order: "middle-out"}}},
			}},
			{Key: "again", Name: "Once more", Choices: []Choice{
				{Key: "no", Words: "one swipe"},
				{Key: "yes", Words: "fresh lines, and swipe again", Changes: []Change{{Step: "swipe", Then: &freshLines}}},
			}},
		},
		Summary: "Stripes on a thin bed, white last, drawn across with a limp or stiff sheet so that the white laces.",
		Bed:     "Thin clear or base bed over the whole face",
		RunOff:  RunOff{0.08, 0.10, 0.12},
		Tools:   tools("limp paper or a stiff sheet, cut to the board"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBed,
			{ID: "lay-the-stripes", Name: "Lay the stripes", Move: Ribbon, Pours: true, Window: cure.Lacing, PerCup: 0.7,
				PerM2: 4,
				Do:    "Lay the colours in stripes, white last or on top."},
			breakBubbles,
			{ID: "swipe", Name: "Swipe", Move: Swipe, Window: cure.Lacing, Fixed: 2, PerM2: 48, Heats: true, ZoneM2: 0.06,
				Safety: []string{"flame", "respirator"},
				Do: "Small zones: warm, draw the sheet slowly and lightly, torch low, then the next. Pull from the edge " +
					"into clear.",
				LookFor: "White breaking into lace a few seconds after the torch; if it stays a sheet, warm a little more.",
				Beats: []Beat{
					{"Warm", "A low, moving pass over this zone only.", 0.25, true, Flame},
					{"Draw the sheet", "Slow and light, from the edge into clear.", 0.40, false, Sheet},
					{"Torch low", "Low and close, never still, until it laces.", 0.35, true, Flame},
				}},
			cover, cleanTools,
		},
	},
	{
		ID: "cell", Name: "Cell", Layout: LayoutCells,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#5d6b73", Share: 0.45, Load: 0.03},
			{Name: "First colour", Role: Accent, Swatch: "#17455c", Share: 0.22, Load: 0.03},
			{Name: "Second colour", Role: Accent, Swatch: "#a8642f", Share: 0.13, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.20, Load: 0.04},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "silicone", Optional: true}},
		Summary:     "Heavier colours over a lighter base overturn by themselves and open into cells.",
		Bed:         "Base colour over the whole face",
		RunOff:      RunOff{0.05, 0.07, 0.08},
		Tools:       tools("silicone with a dropper, if the studio uses it"),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "spread-the-base", Name: "Spread the base", Move: Spread, Pours: true, Bed: true, Lays: []Role{Clear, Base},
				Window: cure.Runny, Fixed: 0.5, PerM2: 14,
				Do: "Pour the base colour and spread it to every edge."},
			{ID: "pool-the-accents", Name: "Pool the accents", Move: Puddle, Pours: true, Window: cure.Lacing, PerCup: 1.0,
				PerM2: 8,
				Do:    "Pour the accents in pools and thin ribbons, heavier colours over lighter ones."},
			{ID: "let-it-overturn", Name: "Let it overturn", Move: Rest, Window: cure.Lacing, Fixed: 10, Waiting: true,
				Do:      "Leave it alone for ten minutes. Cells open after the pour and go on into the cure.",
				LookFor: "The first rings of base colour rising through the accents."},
			{ID: "light-heat", Name: "Light heat", Move: Heat, Gesture: Flame, Window: cure.Lacing, Fixed: 1, PerM2: 6,
				Heats: true, Safety: []string{"flame", "respirator"},
				Do: "A quick low pass. Too much heat closes the cells again."},
			cover, cleanTools,
		},
	},
	{
		ID: "flow", Name: "Flow", Tilts: true, Layout: LayoutRibbons,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#5d6b73", Share: 0.30, Load: 0.03},
			{Name: "First colour", Role: Accent, Swatch: "#17455c", Share: 0.30, Load: 0.03},
			{Name: "Second colour", Role: Accent, Swatch: "#a8642f", Share: 0.20, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.20, Load: 0.04},
		},
		WantsAccent: true,
		Summary:     "Ribbons side by side, tilted slowly until they cover the face.",
		Bed:         "None, or a base colour",
		RunOff:      RunOff{0.15, 0.20, 0.25},
		Tools:       tools("wedges or a second pair of hands"),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "lay-the-ribbons", Name: "Lay the ribbons", Move: Ribbon, Pours: true, Window: cure.Runny, PerCup: 0.7,
				PerM2: 6,
				Do:    "Pour the colours in ribbons side by side across the board."},
			{ID: "tilt", Name: "Tilt", Move: Tilt, Gesture: Tip, By: Tilter, Alone: true, Window: cure.Runny, Fixed: 2,
				PerM2:   12,
				Do:      "Tilt slowly, one corner after the other. Fast tilting tears drops and dumps resin.",
				LookFor: "The front creeping, not running; stop before a corner is reached."},
			dressEdges, breakBubbles, cover, cleanTools,
		},
	},
	{
		ID: "rested-drag", Name: "Rested drag", Layout: LayoutRibbons,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#5d6b73", Share: 0.30, Load: 0.03},
			{Name: "First colour", Role: Accent, Swatch: "#17455c", Share: 0.28, Load: 0.03},
			{Name: "Second colour", Role: Accent, Swatch: "#a8642f", Share: 0.22, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.20, Load: 0.04},
		},
		WantsAccent: true,
		Summary:     "Ribbons fill the face, rest until lines hold, and a flat stick or comb is drawn through them.",
		Bed:         "None: ribbons fill the face",
		RunOff:      RunOff{0.05, 0.06, 0.08},
		Tools:       tools("flat stick or comb"),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "fill-with-ribbons", Name: "Fill with ribbons", Move: Ribbon, Pours: true, Window: cure.Runny, PerCup: 0.9,
				PerM2: 14,
				Do:    "Ribbons side by side over the whole face, contrast beside contrast."},
			breakBubbles,
			{ID: "let-it-rest", Name: "Let it rest", Move: Rest, Window: cure.Runny, Fixed: 4, Waiting: true,
				Do:      "Hands off until lines hold, about a quarter of an hour after mixing.",
				LookFor: "A line drawn at the edge that still stands after ten seconds."},
			{ID: "drag", Name: "Drag", Move: Draw, Gesture: Stick, Window: cure.Holding, Fixed: 1, PerM2: 20, ZoneM2: 0.12,
				Do:      "Draw the stick or comb through, one pass a lane, and wipe it each time.",
				LookFor: "Lines that keep their edge."},
			cover, cleanTools,
		},
	},
	{
		ID: "blow", Name: "Blow", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Clear vein", Role: Clear, Swatch: ClearSwatch, Share: 0.40},
			{Name: "Metallic", Role: Accent, Swatch: "#a8642f", Share: 0.35, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.25, Load: 0.04},
		},
		WantsAccent: true,
		Summary:     "A clear vein with colour beside it, pushed over the clear with hot air; back and forth makes cells.",
		Bed:         "Clear vein, then colour beside it",
		RunOff:      RunOff{0.08, 0.10, 0.12},
		Tools:       tools("hot-air gun"),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "lay-the-clear", Name: "Lay the clear", Move: Ribbon, Pours: true, Lays: []Role{Clear}, Window: cure.Runny,
				Fixed: 0.5, PerM2: 8, Do: "A clear vein where the colour is to run out."},
			{ID: "lay-the-colours", Name: "Lay the colours", Move: Ribbon, Pours: true, Window: cure.Lacing, PerCup: 0.7,
				PerM2: 4, Do: "Metallics and white beside the clear."},
			{ID: "blow", Name: "Blow", Move: HotAir, Window: cure.Lacing, Fixed: 2, PerM2: 36, Heats: true, ZoneM2: 0.08,
				Safety:  []string{"hotair", "respirator"},
				Do:      "Hot air pushes the colour out over the clear, then back over itself; the torch lifts metallics.",
				LookFor: "A feathered edge in the clear, and cells where it came back.",
				Beats: []Beat{{"Blow out", "From the colour into the clear, low and slanting.", 0.40, true, Air},
					{"Blow back", "From the clear over the colour, shorter and lighter: cells open where it comes back.", 0.30, true,
						AirBack},
					{"Lift", "A short torch pass lifts the metallics.", 0.30, true, Flame}}},
			cover, cleanTools,
		},
	},
	{
		ID: "floated-metal", Name: "Floated metal", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Clear bed", Role: Clear, Swatch: ClearSwatch, Share: 0.85},
			{Name: "Line for the metal", Role: Accent, Swatch: "#9a7338", Share: 0.15, Load: 0.02},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "metal-powder", PerM2: 6}},
		Summary:     "Metal powder on a line of resin, blown so that it stays on top like leaf.",
		Bed:         "Any wet coat",
		RunOff:      RunOff{0.05, 0.06, 0.08},
		Tools:       tools("soft brush or tube for the powder", "hot-air gun"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBed,
			{ID: "lay-the-line", Name: "Lay the line", Move: Ribbon, Pours: true, Window: cure.Lacing, PerCup: 0.7, PerM2: 2,
				Do: "A line of resin where the metal is to lie."},
			{ID: "dust-the-metal", Name: "Dust the metal", Move: Strew, Adds: []string{"metal-powder"}, Window: cure.Lacing,
				Fixed: 1.5, PerM2: 6, Safety: []string{"powder"},
				Do: "Dust the powder on the line; do not stir it in, or it sinks.", LookFor: "Powder lying dry and bright on top."},
			{ID: "blow-it-out", Name: "Blow it out", Move: HotAir, Gesture: Air, Window: cure.Lacing, Fixed: 1, PerM2: 8,
				Heats: true, Safety: []string{"hotair"}, Do: "Hot air, low and slow, along the line."},
			cover, cleanTools,
		},
	},
	mist, dots, fracture, chains, blackCells, glassShore, glow,
	{
		ID: "bucket", Name: "Bucket pour", Tilts: true, Layout: LayoutCells,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#5d6b73", Share: 0.30, Load: 0.03},
			{Name: "First colour", Role: Accent, Swatch: "#17455c", Share: 0.25, Load: 0.03},
			{Name: "Second colour", Role: Accent, Swatch: "#a8642f", Share: 0.20, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.20, Load: 0.04},
			{Name: "Rim grease", Role: Clear, Swatch: ClearSwatch, Share: 0.05},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "alcohol", PerM2: 10, Optional: true}},
		Options: []Option{{Key: "spray", Name: "Between layers", Choices: []Choice{
			{Key: "none", Words: "nothing"},
			{Key: "alcohol", Words: "a breath of alcohol", Changes: []Change{{Step: "layer-the-bucket", Then: &betweenLayers}}},
		}}},
		Summary: "Colours layered in a bucket and tipped out on a rim greased with resin: first in, last out.",
		Bed:     "Rim greased with resin",
		RunOff:  RunOff{0.15, 0.20, 0.25},
		Tools:   tools("bucket", "second helper on tables"),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "grease-the-rim", Name: "Grease the rim", Move: Spread, Pours: true, Lays: []Role{Clear}, Window: cure.Runny,
				Fixed: 1, PerM2: 4, Do: "A thin coat of resin along the edges, so that the pour runs over them."},
			{ID: "layer-the-bucket", Name: "Layer the bucket", Move: Puddle, Window: cure.Runny, PerCup: 0.6, Alone: true,
				Reverse: true, Together: true, Do: "Colours one upon another along the wall; the first in comes out last."},
			{ID: "tip-it-out", Name: "Tip it out", Move: Puddle, Pours: true, Alone: true, Window: cure.Runny, Fixed: 1,
				PerM2: 4, Safety: []string{"lift"}, Do: "Turn the bucket over in one move, wait, and draw it away."},
			{ID: "tilt", Name: "Tilt", Move: Tilt, Gesture: Tip, By: Tilter, Alone: true, Window: cure.Runny, Fixed: 2,
				PerM2: 12, Safety: []string{"lift"}, Do: "Slowly; a second helper on tables.",
				LookFor: "The front creeping, not running."},
			dressEdges, breakBubbles, cover, cleanTools,
		},
	},
	{
		ID: "zones", Name: "Barrier and zones", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Ridge binder", Role: Clear, Swatch: ClearSwatch, Share: 0.08},
			{Name: "Pale zone", Role: Accent, Swatch: "#c9d6d2", Share: 0.40, Load: 0.03},
			{Name: "Dark zone", Role: Accent, Swatch: "#17455c", Share: 0.40, Load: 0.03},
			{Name: "Border white", Role: White, Swatch: "#f4f3ee", Share: 0.12, Load: 0.04},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "stones", PerM2: 250}},
		Summary: "A ridge of gems or glass bound with tinted resin parts the face; each zone is filled with its own " +
			"colour, pale to dark.",
		Bed:    "None: zones are filled one by one, pale first",
		RunOff: RunOff{0.03, 0.05, 0.08},
		Tools:  tools("tweezers", "stones or crushed glass"),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "build-the-ridge", Name: "Build the ridge", Move: Strew, Adds: []string{"stones"}, Pours: true,
				Lays: []Role{Clear}, Window: cure.Holding, AtOnce: true, Fixed: 4, PerM2: 30, Safety: []string{"glass"},
				Do:      "Stir gems or glass into the binder until all is wetted and mound the ridge at once.",
				LookFor: "A ridge that stands and does not creep."},
			{ID: "fill-the-zones", Name: "Fill the zones", Move: Puddle, Pours: true, Lays: []Role{Accent}, Window: cure.Runny,
				PerCup: 1.5, PerM2: 12,
				Do: "Pale zones first, up to the ridge on both sides. One cup serves a family: pour the palest, darken what is " +
					"left by the drop, pour the next."},
			{ID: "white-along-the-border", Name: "White along the border", Move: Ribbon, Pours: true, Lays: []Role{White},
				Window: cure.Lacing, Fixed: 1, PerM2: 3, Do: "White from a clean cup, a thin line along the ridge."},
			{ID: "lace-the-border", Name: "Lace the border", Move: Heat, Gesture: Flame, Window: cure.Lacing, Fixed: 1, PerM2: 8,
				Heats: true, Safety: []string{"flame", "respirator"}, Do: "Warm the white along the ridge until it laces."},
			cover, cleanTools,
		},
	},
	{
		ID: "lines", Name: "Lines and glitter", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Clear bed", Role: Clear, Swatch: ClearSwatch, Share: 0.85},
			{Name: "Line colour", Role: Accent, Swatch: "#a8642f", Share: 0.15, Load: 0.03},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "flakes", PerM2: 12}, {Material: "glitter", PerM2: 3}},
		Options: []Option{{Key: "strew", Name: "Sprinkled on top", Choices: []Choice{
			{Key: "both", Words: "flakes and very little glitter"},
			{Key: "none", Words: "nothing: lines only", Changes: []Change{{Step: "strew", Drop: true}}},
		}}},
		Summary: "Drizzled colour, flakes and very little glitter on clear, sealed under clear later.",
		Bed:     "Clear",
		RunOff:  RunOff{0.05, 0.06, 0.08},
		Tools:   tools("stick or squeeze bottle", "sieve for flakes"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBed, breakBubbles,
			{ID: "drizzle", Name: "Drizzle", Move: Drizzle, Pours: true, Window: cure.Holding, AtOnce: true, PerCup: 1, PerM2: 8,
				Do: "Thin lines from a stick into the wet coat, the hand moving fast. Only late drips want thickened resin."},
			{ID: "strew", Name: "Sprinkle", Move: Strew, Adds: []string{"flakes", "glitter"}, Window: cure.Holding, AtOnce: true,
				Fixed: 1, PerM2: 4, Safety: []string{"powder"}, Do: "Flakes and very little glitter; half of what looks right."},
			cover, cleanTools,
		},
	},
	{
		ID: "veil", Name: "Veil", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Clear bed", Role: Clear, Swatch: ClearSwatch, Share: 0.84},
			{Name: "Veil white", Role: White, Swatch: "#f4f3ee", Share: 0.16, Load: 0.02},
		},
		WantsWhite: true,
		Drawn:      []Drawn{{Role: White, Over: 0.8, Sheer: true}},
		Summary:    "Thin white drizzled on clear and spread by heat: tones down what dominates.",
		Bed:        "Clear bed",
		RunOff:     RunOff{0.05, 0.06, 0.08},
		Tools:      tools("hot-air gun"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBed,
			{ID: "drizzle-the-white", Name: "Drizzle the white", Move: Drizzle, Pours: true, Window: cure.Lacing, Fixed: 1,
				PerM2: 6, Do: "Thin white over what is to step back; keep clear over what is to stay."},
			{ID: "spread-it-by-heat", Name: "Spread it by heat", Move: Heat, Gesture: Flame, Window: cure.Lacing, Fixed: 1,
				PerM2: 14, Heats: true, ZoneM2: 0.15, Safety: []string{"flame", "respirator"},
				Do: "Low and moving until the white thins out.", LookFor: "The coat below showing softly through."},
			cover, cleanTools,
		},
	},
	{
		ID: "slab", Name: "Cast slab", Layout: LayoutRibbons, Cast: true,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#5d6b73", Share: 0.40, Load: 0.03},
			{Name: "First colour", Role: Accent, Swatch: "#17455c", Share: 0.30, Load: 0.03},
			{Name: "Second colour", Role: Accent, Swatch: "#a8642f", Share: 0.15, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.15, Load: 0.04},
		},
		Needs: []Need{{Material: "glue-line", PerPerimeter: 1, Optional: true},
			{Material: "mould-paint", PerM2: 80, Optional: true}},
		Summary: "Colours poured together into a mould.",
		Bed:     "Mould",
		RunOff:  RunOff{0, 0.01, 0.03},
		Tools:   tools("mould", "release"),
		Steps: []Step{
			{ID: "ready-the-mould", Name: "Ready the mould", BeforeMixing: true, Fixed: 6,
				Do: "Clean, dry, released and level."},
			{ID: "lay-the-glue-outline", Name: "Lay the glue outline", BeforeMixing: true, Fixed: 3, PerM2: 20,
				Adds: []string{"glue-line"}, Dry: 2 * hour,
				Do: "A bead of glue where the cast is to end; let it set before resin touches it."},
			{ID: "paint-in-the-mould", Name: "Paint in the mould", BeforeMixing: true, Fixed: 3, PerM2: 20,
				Adds: []string{"mould-paint"}, Dry: 24 * hour,
				Do: "What is painted here is the face of the slab. Dry before resin."},
			layOut, mix, colourCups,
			{ID: "pour-together", Name: "Pour together", Move: Ribbon, Pours: true, Window: cure.Runny, PerCup: 0.8, PerM2: 12,
				Do: "Thin streams side by side into the lowest corner."},
			breakBubbles, cover, cleanTools,
		},
	},
	{
		ID: "wash", Name: "Tint wash", Between: true, Layout: LayoutStripes,
		Needs:   []Need{{Material: "ink", PerM2: 40}},
		Summary: "Inks by brush on a hard coat, dabbed; wipes off with alcohol if it is wrong, and must be sealed.",
		Bed:     "Hard coat",
		Tools:   []msg.Preset{"inks", "soft brush", "lint-free cloth", "isopropanol"},
		Steps: []Step{
			wipeHard,
			{ID: "brush-and-dab", Name: "Brush and dab", Adds: []string{"ink"}, Fixed: 5, PerM2: 60, FlashOff: 30,
				Safety: []string{"ink", "gloves"}, Do: "Thin washes, dabbed at once; wipe off with alcohol what is wrong."},
			{ID: "let-it-dry", Name: "Let it dry", Fixed: 30, Waiting: true, Safety: []string{"ink"},
				Do: "Half an hour. It must be sealed by a coat."},
		},
	},
	{
		ID: "leaf", Name: "Leaf", Between: true, Layout: LayoutStripes,
		Needs:   []Need{{Material: "size", PerM2: 60}, {Material: "leaf-sheets", PerM2: 60}},
		Summary: "Size and metal leaf on a hard coat; must be sealed.",
		Bed:     "Hard coat",
		Tools:   []msg.Preset{"size", "leaf", "soft brush"},
		Steps: []Step{
			wipeHard,
			{ID: "lay-the-size", Name: "Lay the size", Adds: []string{"size"}, Fixed: 5, PerM2: 30,
				Do: "Thin, only where leaf is to hold."},
			{ID: "let-the-size-come-to-tack", Name: "Let the size come to tack", Fixed: 30, Waiting: true,
				Do: "Half an hour, until it squeaks under a knuckle."},
			{ID: "lay-the-leaf", Name: "Lay the leaf", Adds: []string{"leaf-sheets"}, Fixed: 15, PerM2: 90,
				Safety: []string{"powder"}, Do: "Press, burnish through tissue, brush off what is loose. Seal it with a coat."},
		},
	},
	{
		ID: "painted", Name: "Painted details", Between: true, Layout: LayoutStripes,
		Needs:       []Need{{Material: "acrylic", PerM2: 80}},
		BeforeResin: 24 * hour,
		Summary:     "Acrylic by brush on a hard coat; must dry and be sealed.",
		Bed:         "Hard coat",
		Tools:       []msg.Preset{"acrylic paint", "brushes"},
		Steps: []Step{
			wipeHard,
			{ID: "paint", Name: "Paint", Adds: []string{"acrylic"}, Fixed: 20, PerM2: 60,
				Do: "Thin coats; nothing that stands proud of the film to come."},
			{ID: "let-it-dry", Name: "Let it dry", Fixed: 60, Waiting: true, Do: "An hour a coat, a day before resin."},
		},
	},
	{
		ID: "masked", Name: "Masked spray", Between: true, Layout: LayoutStripes,
		Needs:       []Need{{Material: "spray-paint", PerM2: 120}},
		BeforeResin: 24 * hour,
		Summary:     "Stencil and spray paint on a hard coat; must be sealed.",
		Bed:         "Hard coat",
		Tools:       []msg.Preset{"stencil or tape", "spray paint"},
		Steps: []Step{
			wipeHard,
			{ID: "mask", Name: "Mask", Fixed: 10, PerM2: 40, Do: "Press the edges of the stencil down."},
			{ID: "spray", Name: "Spray", Adds: []string{"spray-paint"}, Fixed: 5, PerM2: 10, FlashOff: 60,
				Safety: []string{"spray"}, Do: "Light coats from 15 cm, outdoors."},
			{ID: "let-it-dry", Name: "Let it dry", Fixed: 60, Waiting: true, Safety: []string{"spray"},
				Do: "An hour a light coat, a day before resin."},
		},
	},
	TopCoat,
}

// TopCoat is the clear flood that seals a piece.
var TopCoat = Technique{
	ID: "flood", Name: "Clear flood", Layout: LayoutStripes,
	Cups:    []CupStart{{Name: "Clear", Role: Clear, Swatch: ClearSwatch, Share: 1}},
	Seals:   true,
	Summary: "Clear over everything: flawless surface, seals what lies under it.",
	Bed:     "Hard or tacky coat",
	RunOff:  RunOff{0.05, 0.06, 0.08},
	Tools:   tools(),
	Steps: []Step{
		layOut, mix,
		{ID: "flood", Name: "Flood", Move: Spread, Pours: true, Window: cure.Runny, Fixed: 1, PerM2: 16,
			Do: "A first puddle the size of a plate in the middle shows whether the board lies level; then pour and spread " +
				"to the edges."},
		bubblesAtOnce,
		{ID: "watch-for-bubbles", Name: "Watch for bubbles", Move: LookAt, Window: cure.Lacing, Fixed: 10, Waiting: true,
			Safety: []string{"flame"},
			Do:     "Look along the light; touch single bubbles with a short pass."},
		cover, cleanTools,
	},
}
