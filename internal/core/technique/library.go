package technique

import "jevvo/internal/core/cure"

// Steps shared by many techniques.
var (
	layOut = Step{
		Name: "Lay out", BeforeMixing: true, Fixed: 8, PerCup: 0.5, Safety: []string{"gloves", "air"},
		Do: "Cover the table, set the board on its supports and check the level both ways. Line up cups, sticks, torch and dust cover.",
	}
	mix = Step{
		Name: MixStep, Window: cure.Runny, Mixes: true, Safety: []string{"gloves", "air", "heatlot"},
		Do: "Pour A, then B. Stir slowly for the product's mix time, scraping sides and bottom, until no streaks are left.",
	}
	colourCups = Step{
		Name: "Colour the cups", Window: cure.Runny, PerCup: 0.6, Safety: []string{"gloves"},
		Do: "Split into cups, pale colours first, and stir in each pigment. White always in a clean cup.",
	}
	breakBubbles = Step{
		Name: "Break bubbles", Window: cure.Lacing, Fixed: 0.5, PerM2: 4, Safety: []string{"flame", "respirator"},
		Do: "One quick pass, flame high and never still.",
	}
	cover = Step{
		Name: "Cover", Window: cure.Holding, Fixed: 2,
		Do: "Wipe the underside of the edge, look across the light for dust, set the dust cover.",
	}
)

// Steps the plan knows by name: the preparation a coat over a hard one needs,
// and the moment the clock starts.
const (
	ScuffStep = "Scuff and wipe"
	MixStep   = "Mix" // when the parts meet and the clock starts
)

// Library holds the built-in techniques. Run-off shares and times are common
// practice.
var Library = []Technique{
	{
		ID: "swipe", Name: "Swipe", Layout: LayoutStripes,
		Summary: "Stripes on a thin bed, white last, drawn across with a limp or stiff sheet so that the white laces.",
		Bed:     "Thin clear or base bed over the whole face",
		RunOff:  RunOff{0.08, 0.10, 0.12},
		Steps: []Step{
			layOut, mix, colourCups,
			{Name: "Spread the bed", Pours: true, Window: cure.Runny, Fixed: 0.5, PerM2: 14,
				Do: "Pour the bed and spread it to every edge with a flat stick."},
			{Name: "Lay the stripes", Pours: true, Window: cure.Lacing, PerCup: 0.7, PerM2: 4,
				Do: "Lay the colours in stripes, white last or on top."},
			breakBubbles,
			{Name: "Swipe", Window: cure.Lacing, Fixed: 2, PerM2: 48, Safety: []string{"flame", "respirator"},
				Do: "Small zones: warm, draw the sheet slowly and lightly, torch low, then the next. Pull from the edge into clear."},
			cover,
		},
	},
	{
		ID: "cell", Name: "Cell", Layout: LayoutCells,
		Summary: "Heavier colours over a lighter base overturn by themselves and open into cells.",
		Bed:     "Base colour over the whole face",
		RunOff:  RunOff{0.05, 0.07, 0.08},
		Steps: []Step{
			layOut, mix, colourCups,
			{Name: "Spread the base", Pours: true, Window: cure.Runny, Fixed: 0.5, PerM2: 14,
				Do: "Pour the base colour and spread it to every edge."},
			{Name: "Pool the accents", Pours: true, Window: cure.Lacing, PerCup: 1.0, PerM2: 8,
				Do: "Pour the accents in pools and thin ribbons, heavier colours over lighter ones."},
			{Name: "Let it overturn", Window: cure.Lacing, Fixed: 10, Waiting: true,
				Do: "Leave it alone for ten minutes. Cells open after the pour and go on into the cure."},
			{Name: "Light heat", Window: cure.Lacing, Fixed: 1, PerM2: 6, Safety: []string{"flame", "respirator"},
				Do: "A quick low pass. Too much heat closes the cells again."},
			cover,
		},
	},
	{
		ID: "flow", Name: "Flow", Layout: LayoutRibbons,
		Summary: "Ribbons side by side, tilted slowly until they cover the face.",
		Bed:     "None, or a base colour",
		RunOff:  RunOff{0.15, 0.20, 0.25},
		Steps: []Step{
			layOut, mix, colourCups,
			{Name: "Lay the ribbons", Pours: true, Window: cure.Runny, PerCup: 0.7, PerM2: 6,
				Do: "Pour the colours in ribbons side by side across the board."},
			{Name: "Tilt", Window: cure.Lacing, Fixed: 2, PerM2: 12,
				Do: "Tilt slowly, one corner after the other. Fast tilting tears drops and dumps resin."},
			{Name: "Dress the edges", Window: cure.Lacing, Fixed: 2, PerM2: 6, Safety: []string{"gloves"},
				Do: "Bring resin to bare corners with a gloved finger, level the board again."},
			breakBubbles,
			cover,
		},
	},
	TopCoat,
}

// TopCoat is the clear flood that seals a piece.
var TopCoat = Technique{
	ID: "flood", Name: "Clear flood", Layout: LayoutStripes,
	Summary: "Clear over everything: flawless surface, seals what lies under it.",
	Bed:     "Hard or tacky coat",
	RunOff:  RunOff{0.05, 0.06, 0.08},
	Steps: []Step{
		{Name: ScuffStep, BeforeMixing: true, Fixed: 4, PerM2: 20, Safety: []string{"dust"},
			Do: "Wet-sand a hard coat lightly, wipe with isopropanol and let it flash off. A tacky coat needs neither."},
		layOut, mix,
		{Name: "Flood", Pours: true, Window: cure.Runny, Fixed: 1, PerM2: 16,
			Do: "Pour from the middle and spread to the edges."},
		breakBubbles,
		{Name: "Watch for bubbles", Window: cure.Lacing, Fixed: 10, Waiting: true, Safety: []string{"flame"},
			Do: "Look along the light; touch single bubbles with a short pass."},
		cover,
	},
}
