package technique

import "jevvo/internal/core/cure"

// Techniques worked into one wet field. Times, amounts and distances are common
// practice.
var (
	flashes = Step{Name: "Let it flash off", Window: cure.Lacing, Fixed: 5, Waiting: true, Safety: []string{"alcohol"}, Do: "No flame until the alcohol has gone."}

	mist = Technique{
		ID: "mist", Name: "Alcohol mist", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#17181a", Share: 0.92, Load: 0.03},
			{Name: "Fracture clear", Role: Clear, Swatch: ClearSwatch, Share: 0.08},
		},
		Needs:   []Need{{Material: "alcohol", PerM2: 60}, {Material: "metal-powder", Of: "alcohol", Ratio: 0.05}, {Material: "silicone", Of: "alcohol", Ratio: 0.03}},
		Summary: "Metal powder in alcohol as a fine spray on one wet, level base: cells without silicone in the cups.",
		Bed:     "One wet base coat, level",
		RunOff:  RunOff{0.05, 0.06, 0.08},
		Tools:   tools("91 % isopropanol", "fine sprayer", "sieve", "paper for a test"),
		Options: []Option{{Key: "line", Name: "Fracture line", Choices: []Choice{
			{Key: "bead", Words: "a clear bead"},
			{Key: "none", Words: "none", Changes: []Change{{Step: "Lay the fracture line", Do: "No line: spread what is left of the clear along the edges."}}},
		}}},
		Steps: []Step{
			layOut,
			{Name: "Mix the mist", BeforeMixing: true, Fixed: 4, Safety: []string{"alcohol", "powder"},
				Do: "Powder into the alcohol, a drop or two of silicone into all of it, and shake: about 1 g of powder to 20 mL."},
			{Name: "Sieve it", BeforeMixing: true, Fixed: 2, Safety: []string{"alcohol"}, Do: "Through a fine sieve into the sprayer; a clump blocks it or spits."},
			{Name: "Spray a test on paper", BeforeMixing: true, Fixed: 1, FlashOff: 5, Safety: []string{"alcohol", "respirator"},
				Do: "On paper, from arm's length; shake again before the board.", LookFor: "Dots finer than a grain of sand, and no drops."},
			mix, colourCups, spreadBase, breakBubbles,
			{Name: "Mist", Adds: []string{"alcohol", "metal-powder", "silicone"}, Window: cure.Lacing, Fixed: 1, PerM2: 14, FlashOff: 5, Safety: []string{"alcohol", "respirator"},
				Do: "Shake, then a fine mist from arm's length, the hand never still.", LookFor: "Dots that open and keep a gap."},
			flashes,
			{Name: "Lay the fracture line", Pours: true, Lays: []Role{Clear}, Window: cure.Lacing, Fixed: 1, PerM2: 2, Do: "A clear bead where the field is to break."},
			cover,
		},
	}

	dots = Technique{
		ID: "dots", Name: "Alcohol dots", Layout: LayoutStripes,
		Cups:    []CupStart{{Name: "Base", Role: Base, Swatch: "#2b4a57", Share: 1, Load: 0.03}},
		Needs:   []Need{{Material: "alcohol", PerM2: 15}},
		Summary: "Dots of 91 % isopropanol set by brush in one wet, level base; each opens a cell.",
		Bed:     "One wet base coat, level",
		RunOff:  RunOff{0.05, 0.06, 0.08},
		Tools:   tools("91 % isopropanol", "fine round brush"),
		Options: []Option{{Key: "apart", Name: "Dots apart", Choices: []Choice{
			{Key: "25", Words: "25 mm", Changes: dotsApart(25)},
			{Key: "15", Words: "15 mm: only for small cells", Changes: dotsApart(15)},
			{Key: "40", Words: "40 mm", Changes: dotsApart(40)},
		}}},
		Steps: []Step{
			layOut, mix, colourCups, spreadBase, breakBubbles,
			{Name: "Set the dots", Adds: []string{"alcohol"}, Alone: true, Window: cure.Lacing, Fixed: 1, PerM2: 40, FlashOff: 5, Safety: []string{"alcohol", "respirator"}, Do: dotWords[25], LookFor: "A dot that opens to a ring and stops before its neighbour."},
			flashes, cover,
		},
	}

	fracture = Technique{
		ID: "fracture", Name: "Fracture bead", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Field", Role: Base, Swatch: "#7b6a55", Share: 0.90, Load: 0.04},
			{Name: "Bead", Role: Clear, Swatch: ClearSwatch, Share: 0.10},
		},
		Summary: "A bead of clear laid on a coloured field that has begun to thicken: the field breaks open along it.",
		Bed:     "One coloured field, level",
		RunOff:  RunOff{0.04, 0.05, 0.08},
		Tools:   tools("squeeze bottle with a fine mouth"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBase, breakBubbles,
			{Name: "Let the field thicken", Window: cure.Runny, Fixed: 6, Waiting: true, Do: "Until a needle drawn through it leaves a line for a breath."},
			{Name: "Lay the bead", Pours: true, Lays: []Role{Clear}, Alone: true, Window: cure.Lacing, Fixed: 1, PerM2: 6, Do: "One bead, unbroken, where the field is to part. Never twice over the same place.",
				LookFor: "The field drawing back from the bead on both sides."},
			{Name: "Let it part", Window: cure.Lacing, Fixed: 8, Waiting: true, Do: "Hands off; it goes on into the cure."},
			cover,
		},
	}

	chains = Technique{
		ID: "chains", Name: "Metal chains", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Dark base", Role: Base, Swatch: "#1d2528", Share: 0.80, Load: 0.04},
			{Name: "Chrome-type metal", Role: Accent, Swatch: "#a9adb0", Share: 0.20, Load: 0.04},
		},
		WantsAccent: true,
		Summary:     "Lines of a chrome-type metal on a dark base; the torch pulls them into chains and lace.",
		Bed:         "Dark base over the whole face",
		RunOff:      RunOff{0.05, 0.06, 0.08},
		Tools:       tools("squeeze bottle"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBase, breakBubbles,
			{Name: "Lay the metal", Pours: true, Window: cure.Lacing, PerCup: 1, PerM2: 6, FlashOff: 10, Safety: []string{"ink"}, Do: "Thin lines, a hand apart; what is thick stays a puddle."},
			{Name: "Let its solvent go", Window: cure.Lacing, Fixed: 10, Waiting: true, Safety: []string{"ink"}, Do: "Ten minutes without any flame: it carries a solvent that burns."},
			{Name: "Torch the chains", Window: cure.Lacing, Fixed: 1, PerM2: 24, Heats: true, ZoneM2: 0.08, Safety: []string{"flame", "respirator"},
				Do: "Low along each line, never still.", LookFor: "The line breaking into links that pull together.",
				Beats: []Beat{{"Warm along the line", "From a hand's height, the whole line.", 0.35, true, Flame}, {"Chase the chain", "Low and close along it, until links form; then away at once.", 0.65, true, Flame}}},
			cover,
		},
	}

	blackCells = Technique{
		ID: "black-cells", Name: "Cells over black", Layout: LayoutCells,
		Cups: []CupStart{
			{Name: "Cell base", Role: Base, Swatch: "#141416", Share: 0.45, Load: 0.05},
			{Name: "Shallow water", Role: Accent, Swatch: "#4d8a8f", Share: 0.25, Load: 0.03},
			{Name: "Bleached wood", Role: Accent, Swatch: "#c9b79a", Share: 0.15, Load: 0.03},
			{Name: "Lacing white", Role: White, Swatch: "#f4f3ee", Share: 0.15, Load: 0.04},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "silicone", Optional: true}},
		Summary:     "A black made for it lies under lighter colours and comes up through them in rings.",
		Bed:         "Cell base over the whole face",
		RunOff:      RunOff{0.05, 0.07, 0.08},
		Tools:       tools("limp paper"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBase,
			{Name: "Lay the light colours", Pours: true, Window: cure.Lacing, PerCup: 1, PerM2: 8, Do: "Light colours in ribbons over the black, white last."},
			{Name: "Draw them over", Window: cure.Lacing, Fixed: 1, PerM2: 16, ZoneM2: 0.12, Do: "Limp paper, one light pull a lane: the colours lie thin over the black."},
			{Name: "Let it open", Window: cure.Lacing, Fixed: 10, Waiting: true, Do: "About ten minutes; it opens by itself and goes on.", LookFor: "Black rings coming up through the light colours."},
			{Name: "Light heat", Gesture: Flame, Window: cure.Lacing, Fixed: 1, PerM2: 6, Heats: true, Safety: []string{"flame", "respirator"}, Do: "One quick low pass. Too much heat closes the cells again."},
			cover,
		},
	}

	glassShore = Technique{
		ID: "glass", Name: "Glass and shells", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Binder", Role: Clear, Swatch: ClearSwatch, Share: 0.30},
			{Name: "Water tint", Role: Accent, Swatch: "#2f7f86", Share: 0.50, Load: 0.02},
			{Name: "Foam white", Role: White, Swatch: "#f4f3ee", Share: 0.20, Load: 0.04},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "glass", PerM2: 400}, {Material: "shells", PerM2: 150}},
		Summary:     "Crushed glass and shells bound with clear, a tint flowed up to them, foam laced along the edge.",
		Bed:         "None: the glass is bound first",
		RunOff:      RunOff{0.03, 0.05, 0.08},
		Tools:       tools("tweezers", "tray to mix glass in"),
		Steps: []Step{
			layOut,
			{Name: "Wash and dry glass and shells", BeforeMixing: true, Fixed: 10, Safety: []string{"glass"}, Do: "Rinse off dust and salt, dry through: damp makes a milky binder."},
			mix, colourCups,
			{Name: "Bind the glass", Adds: []string{"glass", "shells"}, Pours: true, Lays: []Role{Clear}, Window: cure.Lacing, Fixed: 3, PerM2: 24, Safety: []string{"glass", "gloves"},
				Do: "Stir glass and shells into the binder until all is wetted, and heap it where the shore is to be.", LookFor: "Stones that shine all round; a dry one holds air."},
			{Name: "Flow the tint up to it", Pours: true, Lays: []Role{Accent}, Window: cure.Lacing, PerCup: 1, PerM2: 10, Do: "From the far side towards the glass, so that it runs in between."},
			{Name: "Lay the foam", Pours: true, Lays: []Role{White}, Window: cure.Lacing, Fixed: 1, PerM2: 3, Do: "A thin line of white where water meets glass."},
			{Name: "Lace the foam", Window: cure.Lacing, Fixed: 1, PerM2: 8, Heats: true, Safety: []string{"hotair", "respirator"}, Do: "Hot air from the glass into the tint, back and forth; a flame cracks glass."},
			cover,
		},
	}

	glow = Technique{
		ID: "glow", Name: "Glow powder", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Bed", Role: Clear, Swatch: ClearSwatch, Share: 0.60},
			{Name: "Glow", Role: Accent, Swatch: "#dfe8c9", Share: 0.40, Load: 0.20},
		},
		WantsAccent: true,
		Summary:     "Heavy glow powder kept in suspension: poured when the resin has thickened, stirred again just before.",
		Bed:         "Clear",
		RunOff:      RunOff{0.03, 0.05, 0.08},
		Tools:       tools(),
		Steps: []Step{
			layOut, mix, colourCups,
			{Name: "Spread the bed", Pours: true, Bed: true, Lays: []Role{Clear}, Window: cure.Runny, Fixed: 0.5, PerM2: 14, Do: "Pour the clear bed and spread it to every edge."},
			{Name: "Let the glow cup thicken", Window: cure.Holding, Fixed: 2, Waiting: true, Do: "Until a line drawn in the cup holds for a breath: in thin resin the powder is at the bottom before it gels."},
			{Name: "Stir the glow again", Window: cure.Holding, Fixed: 1.5, By: Mixer, Do: "From the bottom up: what has sunk is the part that glows.", LookFor: "No grit under the stick."},
			{Name: "Pour the glow", Pours: true, Window: cure.Holding, PerCup: 1, PerM2: 8, Do: "Slowly, where it is to shine; do not torch it thin."},
			cover,
		},
	}
)

// dotSeconds is how long a dot takes, to dip, set and move on (common practice).
const dotSeconds = 1.5

// dotsApart sets dots so many millimetres apart: how long that takes goes by how
// many a square metre holds.
func dotsApart(mm float64) []Change {
	perM2 := 1e6 / (mm * mm)
	return []Change{{Step: "Set the dots", PerM2: perM2 * dotSeconds / 60, Do: dotWords[mm]}}
}

var dotWords = map[float64]string{
	15: "One touch of the brush each, 15 mm apart: closer than a cell opens they merge.",
	25: "One touch of the brush each, 25 mm apart, more than a cell opens, or they merge.",
	40: "One touch of the brush each, 40 mm apart; each stands by itself.",
}
