package technique

import (
	"jevvo/internal/core/cure"
	"jevvo/internal/msg"
)

// Techniques worked into one wet field. Times, amounts and distances are common
// practice.
var (
	flashes = Step{ID: "let-it-flash-off", Name: "Let it flash off", Move: Rest, Window: cure.Lacing, Fixed: 5,
		Waiting: true, Safety: []string{"alcohol"}, Do: "No flame until the alcohol has gone."}

	mist = Technique{
		ID: "mist", Name: "Alcohol mist", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Base", Role: Base, Swatch: "#17181a", Share: 0.92, Load: 0.03},
			{Name: "Fracture clear", Role: Clear, Swatch: ClearSwatch, Share: 0.08},
		},
		Needs: []Need{{Material: "alcohol", PerM2: 60}, {Material: "metal-powder", Of: "alcohol", Ratio: 0.05},
			{Material: "silicone", Of: "alcohol", Ratio: 0.03}},
		Summary: "Metal powder in alcohol as a fine spray on one wet, level base: cells without silicone in the cups.",
		Bed:     "One wet base coat, level",
		RunOff:  RunOff{0.05, 0.06, 0.08},
		Tools:   tools("91 % isopropanol", "fine sprayer", "sieve", "paper for a test"),
		Options: []Option{{Key: "line", Name: "Fracture line", Choices: []Choice{
			{Key: "bead", Words: "a clear bead"},
			{Key: "none", Words: "none",
				Changes: []Change{{Step: "lay-the-fracture-line",
					Do: "No line: spread what is left of the clear along the edges."}}},
		}}},
		Steps: []Step{
			layOut,
			{ID: "mix-the-mist", Name: "Mix the mist", For: "mist", BeforeMixing: true, Fixed: 4,
				Safety: []string{"alcohol", "powder"},
				Do: "Powder into the alcohol, a drop or two of silicone into all of it, and shake: about 1 g of powder " +
					"to 20 mL."},
			{ID: "sieve-it", Name: "Sieve it", For: "mist", BeforeMixing: true, Fixed: 2, Safety: []string{"alcohol"},
				Do: "Through a fine sieve into the sprayer; a clump blocks it or spits."},
			{ID: "spray-a-test-on-paper", Name: "Spray a test on paper", For: "mist", BeforeMixing: true, Fixed: 1, FlashOff: 5,
				Safety:  []string{"alcohol", "respirator"},
				Do:      "On paper, from arm's length; shake again before the board.",
				LookFor: "Dots finer than a grain of sand, and no drops."},
			mix, colourCups, spreadBase, breakBubbles,
			{ID: "mist", Name: "Mist", Move: Spray, Adds: []string{"alcohol", "metal-powder", "silicone"}, Window: cure.Lacing,
				Fixed: 1, PerM2: 14, FlashOff: 5, Safety: []string{"alcohol", "respirator"},
				Do: "Shake, then a fine mist from arm's length, the hand never still.", LookFor: "Dots that open and keep a gap."},
			flashes,
			{ID: "lay-the-fracture-line", Name: "Lay the fracture line", Move: Ribbon, Pours: true, Lays: []Role{Clear},
				Window: cure.Lacing, Fixed: 1, PerM2: 2, Do: "A clear bead where the field is to break."},
			cover, cleanTools,
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
			{ID: "set-the-dots", Name: "Set the dots", Move: Dab, Adds: []string{"alcohol"}, Alone: true, Window: cure.Lacing,
				Fixed: 1, PerM2: 40, FlashOff: 5, Safety: []string{"alcohol", "respirator"}, Do: dotWords[25],
				LookFor: "A dot that opens to a ring and stops before its neighbour."},
			flashes, cover, cleanTools,
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
			{ID: "let-the-field-thicken", Name: "Let the field thicken", Move: Rest, Window: cure.Runny, Fixed: 6, Waiting: true,
				Do: "Until a needle drawn through it leaves a line for a breath."},
			{ID: "lay-the-bead", Name: "Lay the bead", Move: Ribbon, Pours: true, Lays: []Role{Clear}, Alone: true,
				Window: cure.Lacing, Fixed: 1, PerM2: 6,
				Do:      "One bead, unbroken, where the field is to part. Never twice over the same place.",
				LookFor: "The field drawing back from the bead on both sides."},
			{ID: "let-it-part", Name: "Let it part", Move: Rest, Window: cure.Lacing, Fixed: 8, Waiting: true,
				Do: "Hands off; it goes on into the cure."},
			cover, cleanTools,
		},
	}

	chains = Technique{
		ID: "chains", Name: "Metal chains", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Dark base", Role: Base, Swatch: "#1d2528", Share: 0.80, Load: 0.04},
			{Name: "Metal", Role: Accent, Swatch: "#a9adb0", Share: 0.20, Load: 0.015},
		},
		WantsAccent: true,
		Summary:     "Lines of a chrome-type metal on a dark base; the torch pulls them into chains and lace.",
		Bed:         "Dark base over the whole face",
		RunOff:      RunOff{0.05, 0.06, 0.08},
		Tools:       tools("squeeze bottle"),
		Options: []Option{{Key: "metal", Name: "The metal", Choices: []Choice{
			{Key: "solvent", Words: "carries a solvent: ten minutes without a flame"},
			{Key: "dry", Words: "carries none: torched at once", Changes: []Change{
				{Step: "lay-the-metal", Safe: true}, {Step: "let-its-solvent-go", Drop: true},
			}},
		}}},
		Steps: []Step{
			layOut, mix, colourCups, spreadBase, breakBubbles,
			{ID: "lay-the-metal", Name: "Lay the metal", Move: Ribbon, Pours: true, Window: cure.Lacing, PerCup: 1, PerM2: 6,
				FlashOff: 10, Safety: []string{"ink"}, Do: "Thin lines, a hand apart; what is thick stays a puddle."},
			{ID: "let-its-solvent-go", Name: "Let its solvent go", Move: Rest, Window: cure.Lacing, Fixed: 10, Waiting: true,
				Safety: []string{"ink"}, Do: "Ten minutes without any flame: it carries a solvent that burns."},
			{ID: "torch-the-chains", Name: "Torch the chains", Move: Heat, Window: cure.Lacing, Fixed: 1, PerM2: 24, Heats: true,
				ZoneM2: 0.08, Safety: []string{"flame", "respirator"},
				Do: "Low along each line, never still.", LookFor: "The line breaking into links that pull together.",
				Beats: []Beat{{"Warm along the line", "From a hand's height, the whole line.", 0.35, true, Flame},
					{"Chase the chain", "Low and close along it, until links form; then away at once.", 0.65, true, Flame}}},
			cover, cleanTools,
		},
	}

	blackCells = Technique{
		ID: "black-cells", Name: "Cells over black", Layout: LayoutCells,
		Cups: []CupStart{
			{Name: "Cell base", Role: Base, Swatch: "#141416", Share: 0.45, Load: 0.05},
			{Name: "First light colour", Role: Accent, Swatch: "#4d8a8f", Share: 0.25, Load: 0.03},
			{Name: "Second light colour", Role: Accent, Swatch: "#c9b79a", Share: 0.15, Load: 0.03},
			{Name: "White", Role: White, Swatch: "#f4f3ee", Share: 0.15, Load: 0.04},
		},
		WantsAccent: true,
		Needs:       []Need{{Material: "silicone", Optional: true}},
		Summary:     "A black made for it lies under lighter colours and comes up through them in rings.",
		Bed:         "Cell base over the whole face",
		RunOff:      RunOff{0.05, 0.07, 0.08},
		Tools:       tools("limp paper"),
		Steps: []Step{
			layOut, mix, colourCups, spreadBase,
			{ID: "lay-the-light-colours", Name: "Lay the light colours", Move: Ribbon, Pours: true, Window: cure.Lacing,
				PerCup: 1, PerM2: 8, Do: "Light colours in ribbons over the black, white last."},
			{ID: "draw-them-over", Name: "Draw them over", Move: Swipe, Window: cure.Lacing, Fixed: 1, PerM2: 16, ZoneM2: 0.12,
				Do: "Limp paper, one light pull a lane: the colours lie thin over the black."},
			{ID: "let-it-open", Name: "Let it open", Move: Rest, Window: cure.Lacing, Fixed: 10, Waiting: true,
				Do:      "About ten minutes; it opens by itself and goes on.",
				LookFor: "Black rings coming up through the light colours."},
			{ID: "light-heat", Name: "Light heat", Move: Heat, Gesture: Flame, Window: cure.Lacing, Fixed: 1, PerM2: 6,
				Heats: true, Safety: []string{"flame", "respirator"},
				Do: "One quick low pass. Too much heat closes the cells again."},
			cover, cleanTools,
		},
	}

	glassShore = Technique{
		ID: "glass", Name: "Glass and shells", Layout: LayoutStripes,
		Cups: []CupStart{
			{Name: "Binder", Role: Clear, Swatch: ClearSwatch, Share: 0.30},
			{Name: "Tint", Role: Accent, Swatch: "#2f7f86", Share: 0.50, Load: 0.02},
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
			{ID: "wash-and-dry-glass-and-shells", Name: "Wash and dry glass and shells", BeforeMixing: true, Fixed: 10,
				Safety: []string{"glass"}, Do: "Rinse off dust and salt, dry through: damp makes a milky binder."},
			mix, colourCups,
			{ID: "bind-the-glass", Name: "Bind the glass", Move: Puddle, Adds: []string{"glass", "shells"}, Pours: true,
				Lays: []Role{Clear}, Window: cure.Lacing, AtOnce: true, Fixed: 3, PerM2: 24, Safety: []string{"glass", "gloves"},
				Do:      "Stir glass and shells into the binder until all is wetted, and heap it where the shore is to be.",
				LookFor: "Stones that shine all round; a dry one holds air."},
			{ID: "flow-the-tint-up-to-it", Name: "Flow the tint up to it", Move: Ribbon, Pours: true, Lays: []Role{Accent},
				Window: cure.Lacing, PerCup: 1, PerM2: 10, Do: "From the far side towards the glass, so that it runs in between."},
			{ID: "lay-the-foam", Name: "Lay the foam", Move: Drizzle, Pours: true, Lays: []Role{White}, Window: cure.Lacing,
				Fixed: 1, PerM2: 3, Do: "A thin line of white where water meets glass."},
			{ID: "lace-the-foam", Name: "Lace the foam", Move: HotAir, Window: cure.Lacing, Fixed: 1, PerM2: 8, Heats: true,
				Safety: []string{"hotair", "respirator"},
				Do:     "Hot air from the glass into the tint, back and forth; a flame cracks glass."},
			cover, cleanTools,
		},
	}

	glow = Technique{
		ID: "glow", Name: "Glow powder", Layout: LayoutStripes,
		Cups:        []CupStart{{Name: "Glow", Role: Accent, Swatch: "#dfe8c9", Share: 1, Load: 0.20}},
		WantsAccent: true,
		Drawn:       []Drawn{{Role: Accent, Over: 1, Sheer: true}},
		Summary:     "Glow powder thin over the whole face, poured at once over a reflective ground: only the cup settles.",
		Bed:         "A white or metallic ground",
		RunOff:      RunOff{0.03, 0.05, 0.08},
		Tools:       tools(),
		Steps: []Step{
			layOut, mix, colourCups,
			{ID: "stir-the-glow-again", Name: "Stir the glow again", Move: LookAt, Window: cure.Runny, Fixed: 1, By: Mixer,
				Do:      "From the bottom up, right before it is poured: what settles in the cup is the part that glows.",
				LookFor: "No grit under the stick."},
			{ID: "pour-the-glow", Name: "Pour the glow", Move: Spread, Pours: true, Bed: true, Lays: []Role{Accent},
				Window: cure.Runny, AtOnce: true, Fixed: 0.5, PerM2: 14,
				Do: "At once and thin over the whole face, spread to every edge."},
			bubblesAtOnce, cover, cleanTools,
		},
	}
)

// dotSeconds is how long a dot takes, to dip, set and move on (common practice).
const dotSeconds = 1.5

// dotsApart sets dots so many millimetres apart: how long that takes goes by how
// many a square metre holds.
func dotsApart(mm float64) []Change {
	perM2 := 1e6 / (mm * mm)
	return []Change{{Step: "set-the-dots", PerM2: perM2 * dotSeconds / 60, Do: dotWords[mm]}}
}

var dotWords = map[float64]msg.Preset{
	15: "One touch of the brush each, 15 mm apart: closer than a cell opens they merge.",
	25: "One touch of the brush each, 25 mm apart, more than a cell opens, or they merge.",
	40: "One touch of the brush each, 40 mm apart; each stands by itself.",
}
