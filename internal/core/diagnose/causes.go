package diagnose

// Changes of the plan that keep a cause away. A piece's service makes them.
const (
	ChangeRatio   Change = "weigh"  // weigh out on the scale
	ChangeRoom    Change = "room"   // plan a warmer room
	ChangePrime   Change = "prime"  // seal and prime the board
	ChangeScuff   Change = "scuff"  // sand between
	ChangeWipe    Change = "wipe"   // degrease between
	ChangeTorch   Change = "torch"  // a bubble pass
	ChangeSides   Change = "sides"  // paint the sides
	ChangeLevel   Change = "level"  // level the board
	ChangeCover   Change = "cover"  // cover it while it cures
	ChangeLess    Change = "less"   // less resin
	ChangeMore    Change = "more"   // more resin
	ChangeLots    Change = "lots"   // smaller lots
	ChangeDoses   Change = "doses"  // pigment within its limit
	ChangeStrong  Change = "strong" // a stronger dose
	ChangeTape    Change = "tape"   // pull the tape earlier
	ChangeNothing Change = ""
)

// Causes are what brings faults about. Priors are how many coats have them, of any
// painter's (common practice).
var Causes = []Cause{
	{"off-ratio", "Wrong ratio of resin and hardener", 0.06,
		"Weigh both parts on one scale and look at the ratio before mixing.", ChangeRatio},
	{"under-mixed", "Mixed too short", 0.08, "Stir for the whole time the product asks, then once more in a clean cup.",
		ChangeRatio},
	{"unscraped", "Cup scraped out, walls not stirred in", 0.08,
		"Scrape sides and bottom while stirring; never scrape the cup out over the board.", ChangeNothing},
	{"cold", "Too cold while it cured", 0.10, "Keep the room above the product's least for the whole first day.",
		ChangeRoom},
	{"not-yet-cured", "Not cured yet", 0.10, "Plan the next step by the clock at this room, not by the sheet.",
		ChangeRoom},
	{"overload", "Too much pigment", 0.05, "Keep each cup within its pigment's limit.", ChangeDoses},
	{"damp", "Damp air or a damp board", 0.06,
		"Dry the room and let wet cleaning dry out; stay three degrees over the dew point.", ChangeRoom},
	{"bare-wood", "Bare wood gives off air", 0.08, "Seal and prime every face that breathes, a day before.", ChangePrime},
	{"cold-resin", "Resin poured cold and thick", 0.08,
		"Warm the bottles in water, or bring them into the room the day before.", ChangeRoom},
	{"no-torch", "No pass against bubbles", 0.10, "Plan a quick pass five minutes after the pour, another at fifteen.",
		ChangeTorch},
	{"silicone-below", "Silicone in the coat below", 0.05,
		"Wash and scuff a coat that had silicone before anything goes over it.", ChangeWipe},
	{"not-degreased", "Face not degreased", 0.08, "Wipe with alcohol and let it dry; no bare fingers after that.",
		ChangeWipe},
	{"dust-uncovered", "Left uncovered", 0.12, "Cover the board as soon as nothing is done to it any more.", ChangeCover},
	{"over-worked", "Worked too much", 0.10, "One pass, then hands off.", ChangeNothing},
	{"too-runny", "Worked while too runny", 0.10, "Wait for the window: until then every line closes again.",
		ChangeNothing},
	{"too-thick", "Worked when already thick", 0.07, "Pour and move earlier, or mix a later lot.", ChangeNothing},
	{"similar-density", "Colours too alike in weight", 0.10,
		"Lay a heavier colour over a lighter one, or help with silicone.", ChangeNothing},
	{"lighter-on-top", "The lighter colour lies on top", 0.10, "Turn the order round: heavy over light opens.",
		ChangeNothing},
	{"heavy-pigment", "A heavy pigment sinks", 0.08, "Pour it last, in thicker resin, or take a lighter pigment.",
		ChangeNothing},
	{"too-little-pigment", "Too little pigment to hide", 0.10, "Dose it to hide at its film, or plan a second coat.",
		ChangeStrong},
	{"over-heated", "Heated too much or too often", 0.06, "One quick pass; a second only where a bubble stands.",
		ChangeTorch},
	{"held-still", "Flame held still", 0.05, "Keep it moving, a hand's breadth a second.", ChangeTorch},
	{"thin-drain", "Film on the sides drains thin", 0.15,
		"Paint the sides in the resin's colour: what runs down stays thin.", ChangeSides},
	{"sides-unpainted", "Sides not painted", 0.12, "Paint the sides in the ground's colour first.", ChangeSides},
	{"not-level", "Board not level", 0.10, "Level it on its supports just before mixing.", ChangeLevel},
	{"too-little-resin", "Too little resin for the face", 0.08, "Plan no film under what stands by itself.", ChangeMore},
	{"tilted-fast", "Tilted too fast or too far", 0.10, "Tip by a few degrees and back; wait in between.", ChangeNothing},
	{"too-much-resin", "Too much resin for its edges", 0.08, "Plan no more film than its edges hold.", ChangeLess},
	{"unmixed-powder", "Powder not wetted through", 0.08, "Rub powder into a little resin first, then fill up.",
		ChangeNothing},
	{"loose-tape", "Tape pressed down badly", 0.10, "Press the edge down with a card just before the pour.",
		ChangeNothing},
	{"tape-late", "Tape pulled too late", 0.07, "Pull it while the resin still moves like honey.", ChangeTape},
	{"adhesive", "Glue of tape or masking", 0.05, "Take a tape that is made for resin, off within the day.", ChangeTape},
	{"gap-in-dam", "A gap in the dam", 0.05, "Test corners and ends with water before the pour, then dry them.",
		ChangeNothing},
	{"moved-late", "Moved after it began to set", 0.06, "Let it rest from the minute lines hold.", ChangeNothing},
	{"old-resin", "Old or yellowed resin", 0.06, "Date the bottles when they are opened and use them up in a year.",
		ChangeNothing},
	{"sun", "Sun or strong light", 0.06, "Hang it out of the sun; a topcoat with UV protection helps.", ChangeNothing},
	{"contrast", "One colour far stronger than the rest", 0.10, "Take less of it, or pour it lower.", ChangeNothing},
	{"glitter-dose", "Too much glitter", 0.06, "Strew half, look, strew again.", ChangeDoses},
	{"not-scuffed", "Coat below not scuffed", 0.07, "Sand a hard coat matt and wipe it before the next.", ChangeScuff},
	{"recoat-too-late", "Recoated too late without sanding", 0.07, "Recoat while it is tacky, or sand it once it is hard.",
		ChangeScuff},
	{"lot-too-large", "Lot too large for one cup", 0.05, "Mix smaller lots and pour them out flat at once.", ChangeLots},
	{"one-face-primed", "Only one face sealed", 0.06, "Prime the back as well: a board bends towards its dry face.",
		ChangePrime},
	{"heat-too-soon", "Hot before it had cured through", 0.06, "Keep hot cups off for the weeks the product asks.",
		ChangeNothing},
}

// links say how often a cause, when it is there, brings a fault about (common
// practice).
var links = []link{
	{"sticky-all", "off-ratio", 0.8}, {"sticky-all", "under-mixed", 0.35}, {"sticky-all", "cold", 0.5},
	{"sticky-all", "not-yet-cured", 0.8}, {"sticky-all", "overload", 0.3}, {"sticky-all", "old-resin", 0.15},
	{"sticky-all", "damp", 0.15},
	{"sticky-patches", "under-mixed", 0.7}, {"sticky-patches", "unscraped", 0.75}, {"sticky-patches", "off-ratio", 0.2},
	{"sticky-patches", "overload", 0.25}, {"sticky-patches", "damp", 0.15}, {"sticky-patches", "unmixed-powder", 0.15},
	{"soft", "off-ratio", 0.6}, {"soft", "not-yet-cured", 0.7}, {"soft", "cold", 0.5}, {"soft", "overload", 0.4},
	{"soft", "under-mixed", 0.3}, {"soft", "old-resin", 0.1},
	{"bubbles-from-below", "bare-wood", 0.85}, {"bubbles-from-below", "damp", 0.3},
	{"bubbles-from-below", "cold-resin", 0.15}, {"bubbles-from-below", "over-heated", 0.2},
	{"bubbles-from-below", "lot-too-large", 0.1},
	{"micro-bubbles", "no-torch", 0.6}, {"micro-bubbles", "cold-resin", 0.6}, {"micro-bubbles", "bare-wood", 0.3},
	{"micro-bubbles", "damp", 0.2}, {"micro-bubbles", "over-heated", 0.15}, {"micro-bubbles", "too-thick", 0.3},
	{"fish-eyes", "silicone-below", 0.85}, {"fish-eyes", "not-degreased", 0.65}, {"fish-eyes", "too-little-resin", 0.3},
	{"fish-eyes", "adhesive", 0.15}, {"fish-eyes", "damp", 0.1},
	{"pits", "dust-uncovered", 0.35}, {"pits", "silicone-below", 0.4}, {"pits", "not-degreased", 0.35},
	{"pits", "no-torch", 0.35}, {"pits", "cold-resin", 0.2}, {"pits", "bare-wood", 0.25},
	{"mud", "over-worked", 0.75}, {"mud", "too-runny", 0.6}, {"mud", "contrast", 0.15}, {"mud", "tilted-fast", 0.25},
	{"mud", "too-little-pigment", 0.1},
	{"colour-sank", "heavy-pigment", 0.65}, {"colour-sank", "too-runny", 0.5}, {"colour-sank", "too-little-pigment", 0.4},
	{"colour-sank", "too-much-resin", 0.1},
	{"no-cells", "similar-density", 0.6}, {"no-cells", "lighter-on-top", 0.7}, {"no-cells", "too-thick", 0.5},
	{"no-cells", "too-little-resin", 0.25}, {"no-cells", "cold-resin", 0.2}, {"no-cells", "too-little-pigment", 0.1},
	{"cells-closed", "too-runny", 0.7}, {"cells-closed", "over-heated", 0.2}, {"cells-closed", "over-worked", 0.3},
	{"cells-closed", "too-little-pigment", 0.2}, {"cells-closed", "tilted-fast", 0.3},
	{"fog", "damp", 0.65}, {"fog", "cold", 0.45}, {"fog", "off-ratio", 0.2}, {"fog", "not-degreased", 0.1},
	{"fog", "silicone-below", 0.1}, {"fog", "over-heated", 0.1},
	{"scorch", "held-still", 0.85}, {"scorch", "over-heated", 0.55}, {"scorch", "lot-too-large", 0.05},
	{"see-through-sides", "thin-drain", 0.7}, {"see-through-sides", "sides-unpainted", 0.7},
	{"see-through-sides", "too-little-pigment", 0.3}, {"see-through-sides", "too-runny", 0.2},
	{"see-through-sides", "too-little-resin", 0.25},
	{"bare-corner", "not-level", 0.55}, {"bare-corner", "too-little-resin", 0.65}, {"bare-corner", "not-degreased", 0.25},
	{"bare-corner", "tilted-fast", 0.4},
	{"thick-middle", "not-level", 0.4}, {"thick-middle", "too-thick", 0.55}, {"thick-middle", "too-much-resin", 0.3},
	{"thick-middle", "cold-resin", 0.4}, {"thick-middle", "moved-late", 0.2},
	{"tear-drops", "tilted-fast", 0.8}, {"tear-drops", "too-runny", 0.35}, {"tear-drops", "not-level", 0.3},
	{"tear-drops", "too-much-resin", 0.2},
	{"run-off", "too-much-resin", 0.75}, {"run-off", "tilted-fast", 0.6}, {"run-off", "not-level", 0.45},
	{"run-off", "too-runny", 0.3}, {"run-off", "gap-in-dam", 0.2},
	{"dust", "dust-uncovered", 0.8}, {"dust", "not-degreased", 0.2}, {"dust", "unmixed-powder", 0.1},
	{"clumps", "unmixed-powder", 0.8}, {"clumps", "overload", 0.35}, {"clumps", "old-resin", 0.1},
	{"clumps", "under-mixed", 0.2},
	{"bled-under-tape", "loose-tape", 0.8}, {"bled-under-tape", "too-runny", 0.2},
	{"bled-under-tape", "too-much-resin", 0.2},
	{"tape-locked", "tape-late", 0.9}, {"tape-locked", "loose-tape", 0.1},
	{"glue-stain", "adhesive", 0.8}, {"glue-stain", "tape-late", 0.3}, {"glue-stain", "over-heated", 0.1},
	{"dam-leaked", "gap-in-dam", 0.85}, {"dam-leaked", "loose-tape", 0.5}, {"dam-leaked", "too-much-resin", 0.3},
	{"dam-leaked", "over-heated", 0.1},
	{"waves", "moved-late", 0.65}, {"waves", "over-heated", 0.3}, {"waves", "too-little-resin", 0.25},
	{"waves", "too-thick", 0.4}, {"waves", "not-degreased", 0.1}, {"waves", "not-level", 0.1},
	{"yellowing", "sun", 0.7}, {"yellowing", "old-resin", 0.65}, {"yellowing", "over-heated", 0.3},
	{"yellowing", "off-ratio", 0.1}, {"yellowing", "lot-too-large", 0.2},
	{"dominates", "contrast", 0.65}, {"dominates", "over-worked", 0.25}, {"dominates", "too-runny", 0.25},
	{"dominates", "heavy-pigment", 0.15}, {"dominates", "too-little-pigment", 0.25},
	{"glitter-loud", "glitter-dose", 0.85}, {"glitter-loud", "contrast", 0.2},
	{"peels", "not-scuffed", 0.7}, {"peels", "recoat-too-late", 0.65}, {"peels", "silicone-below", 0.6},
	{"peels", "not-degreased", 0.4}, {"peels", "damp", 0.15},
	{"cup-overheated", "lot-too-large", 0.85}, {"cup-overheated", "over-heated", 0.1},
	{"warped", "one-face-primed", 0.7}, {"warped", "damp", 0.4}, {"warped", "bare-wood", 0.3},
	{"warped", "too-much-resin", 0.1},
	{"cup-rings", "heat-too-soon", 0.75}, {"cup-rings", "not-yet-cured", 0.5}, {"cup-rings", "off-ratio", 0.3},
	{"cup-rings", "cold", 0.15},
}
