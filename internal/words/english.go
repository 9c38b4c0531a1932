package words

import (
	"jevvo/internal/core/plan"
	"jevvo/internal/core/verdict"
)

// english is the catalogue of what a plan says.
var english = map[verdict.Code]entry{
	verdict.FilmEdge: {"A film of {film|film} stands only at a sharp edge: an open board keeps {keeps|film}, so about " +
		"{lost} would run off.", "Dam the edge with tape, or plan a thinner film and another coat."},
	verdict.FilmFalls: {"A film of {film|film} will not stand: an open board keeps {keeps|film}, so about {lost} " +
		"would run off.", "Dam the edge with tape, or plan a thinner film and another coat."},
	verdict.EdgeLow: {"A film of {film|film} is higher than the {edge} ({stands}).", "Raise the {edge} or thin the film."},
	verdict.FaceDrinks: {"An unsealed face absorbs about {absorbed}.",
		"Bare wood and raw canvas breathe and make bubbles without end: seal and prime first, or plan for it."},
	verdict.SidesCover: {"Sides keep about {film|film}: they will cover.", ""},
	verdict.SidesThin: {"Sides will be see-through: about {film|film} stays on them.",
		"Paint the sides near the resin's colour first."},
	verdict.SidesHold: {"Sides will be see-through: about {film|film} stays on them.",
		"Paint the sides near the resin's colour, or hold the edge back with tape until {until|spoken} after mixing."},

	verdict.LoadOver: {"{cup} carries {load|pct1} pigment; its limit is {limit|pct1}.",
		"Stay under the load limit or the cup may stay soft; follow the product's data sheet."},
	verdict.LoadTogether: {"{cup} uses {used|pct} of its pigments' load limits together.",
		"Stay under the load limits or the cup may stay soft; follow the product's data sheet."},
	verdict.BurnsWet: {"{cup} is flammable while wet.", "No flame until it has flashed off."},
	verdict.HidesNot: {"{cup} will not cover what lies under it: {hiding} ({contrast|pct}) at {film|film}.",
		"No allowed load covers at this film: paint the ground near the colour, or plan a second coat of it."},
	verdict.HidesDrops: {"{cup} will not cover what lies under it: {hiding} ({contrast|pct}) at {film|film}.",
		"{drops|drops} more of {pigment} ({grams}) cover it, or a second coat."},
	verdict.HidesGrams: {"{cup} will not cover what lies under it: {hiding} ({contrast|pct}) at {film|film}.",
		"{grams} more of {pigment} cover it, or a second coat."},
	verdict.NoAccent: {"There is nothing to show on the bed: only bases and clear.",
		"Add an accent or a white; {technique|lower} needs one."},
	verdict.NoWhite: {"There is no white: {technique|lower} laces little without one.",
		"Whites lace because they are dense and opaque."},
	verdict.MixedMakers: {"Its pigments come from {makers} makers.",
		"Unlike pastes repel and open more cells; for predictable flow stay with one maker."},
	verdict.NotOnBoard: {"{cup} lies nowhere on the board.", "Place it in the composition, or set its share to 0."},
	verdict.TooMuchLaid: {"What lies on the board is {over|pct} more than the coat.",
		"Plan more resin or lay less; all are scaled to fit meanwhile."},
	verdict.CupsExceed: {"The volumes of its cups add up to {cups}, the coat takes {coat}.",
		"Leave one cup to follow, or type the volume of the coat."},

	verdict.MudCancels: {"Mud where {a} and {b} mix: the hues lie {apart}° apart and cancel.",
		"Keep clear or white between {a} and {b}."},
	verdict.MudSwallows: {"Where {a} and {b} mix, the dark one swallows the bright.",
		"Lay them last, or with a vein between."},
	verdict.ReadAsOne:    {"They read as one from afar (difference {difference}).", "Make one lighter or darker."},
	verdict.WashesPale:   {"The white turns the colour pale where they mix; clean, not mud.", ""},
	verdict.PartByColour: {"They part by colour only; little light against dark ({light}).", ""},
	verdict.PartWell:     {"They part well: light against dark {light}.", ""},
	verdict.LieUnknown:   {"How heavy {a} and {b} are is not known: choose their pigments to see who sinks.", ""},
	verdict.LieAlike:     {"As heavy as each other: they stay where they are laid.", ""},
	verdict.LieSinks:     {"{heavy} is heavier by {by} kg/m³ and lies on {light}: it sinks through and opens cells.", ""},
	verdict.LieStays:     {"{light} is lighter by {by} kg/m³ and lies on top: it stays there.", ""},
	verdict.LieCreeps:    {"{heavy} is heavier by {by} kg/m³: it creeps under {light} at the border.", ""},

	verdict.DeepLayers: {"{film} deep it heats itself to {peak} after {at|spoken}.",
		"Pour it in {pours} layers of {each}, each {wait|spoken} after the last, when it is cool again. The product’s own " +
			"limit rules; if it warms in the cup, pour it flat and stop."},
	verdict.DeepHot: {"{film} deep it heats itself to {peak} after {at|spoken}: it can smoke, crack and yellow.",
		"No safe layer of this resin is deep enough here: use a slower casting resin. If it warms, stop, pour it out flat " +
			"and leave it outside."},
	verdict.DeepWarm: {"{film} deep it warms by itself to {peak} after {at|spoken} and gels after {gel|spoken}.",
		"Work as if it were quicker, pour it flat, and keep the cover from trapping its heat."},
	verdict.CastShrinks: {"The cast comes out {least|film} to {most|film} shorter on its long side: resin " +
		"shrinks by 2 to " +
		"5 % of its volume.", ""},
	verdict.TiltLong: {"{tilt} for {minutes|spoken} leaves {stays|film} on the board, less than the {film|film} that " +
		"was wanted, however much is poured.", "Tilt less or for a shorter time, or plan a second coat."},
	verdict.CoolCured: {"In this room the cure stops at {stops|pct}: cured, for delivery, does not come by itself.",
		"{hours|hours} at {warm} finish it."},
	verdict.Blush: {"At night the room at {night} comes near the dew point of {dew}: the surface may blush, " +
		"waxy or milky.", "Keep it warmer at night or dry the air; wash and scuff a blushed coat before the next."},

	verdict.CupOffRatio: {"{cup}: a scale that reads to {step} cannot hold this cup's ratio.",
		"Use a finer scale, or mix this colour from a larger batch."},

	verdict.ClockLate: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.",
		"A cooler room, a slower resin you own or a fresh batch would not save it: shorten the work or the face."},
	verdict.ClockSlow: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.",
		"With {name} it fits, with {spare|spoken} to spare."},
	verdict.ClockOption: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.",
		"Done another way it fits ({name}), with {spare|spoken} to spare."},
	verdict.ClockPeople: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.",
		"With {people|number} people at the bench it fits, with {spare|spoken} to spare."},
	verdict.ClockHalves: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.",
		"In two halves, one under tape, it fits, with {spare|spoken} to spare."},
	verdict.ClockCool: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.",
		"It fits in a room of {room}."},
	verdict.ClockTight: {"It is tight: {spare|spoken} to spare at {step|lower}.",
		"Have everything laid out before you mix."},
	verdict.ClockFits: {"It fits in {work|spoken}, waits included; the tightest step, {step|lower}, has " +
		"{spare|spoken} to spare.", ""},

	verdict.ClockPast: {"{step} ends {late|spoken} after its window closes; another coat covers it, so go on only if " +
		"you accept that.", ""},
	verdict.BatchStands: {"Batch {n} of {of} ({volume}) would stand {stands|spoken} longer than it keeps: {cup} comes last.",
		"Pour {cup} sooner, mix it as a batch of its own, use a slower resin, or let a second person mix."},
	verdict.BatchSmall: {"A batch of {volume} for {cup} is too small to weigh accurately.",
		"Mix a little more and pour what is left on a tile."},
	verdict.CupKept: {"{part|pct} of {cup} is poured by no move.",
		"Add a move that pours it, or give its share to another cup."},
	verdict.SharesOff: {"The shares add up to {sum|pct}, not to 100 %.", "They are planned in proportion until they do."},
	verdict.ResinThin: {"{resin} is thin: on an open board it runs off before it thickens.{other|suits}",
		"Dam the edge, pour it later, or choose a thicker resin."},
	verdict.ResinThick: {"{resin} is thick: {step|lower} hardly moves it.{other|suits}",
		"Warm the bottles, or choose a thinner resin."},
	verdict.FaceAsk: {"Is the face sealed or primed? Bare wood and raw canvas make bubbles without end.",
		"State it under Surface; until then it is assumed to be sealed."},
	verdict.MouldOver: {"{film|film} is more than the mould holds ({depth}).", "Pour less, or a mould that is deeper."},
	verdict.FirmOnly:  {"The coat below is firm, not hard, when this one goes on: scuff it lightly and wipe.", ""},

	verdict.Outside: {"The pour runs outside the studio's hours ({from} to {to}).",
		"Move the pour or the studio's hours."},
	verdict.HardenerWas: {"The hardener of this coat was {short|pct} short.",
		"Press a nail on it before anything is poured over it: what stays soft is scraped off."},
	verdict.TapeAtNight: {"The tape is ready while the studio is closed, {from} to {to}.",
		"Pull it next day with warm air instead."},
	verdict.TapeLocked: {"The same tape stays on under {coats} coats: it locks in.",
		"Pull it after each coat and tape again."},
	verdict.TapeBuilds: {"{coats} coats behind tape build a ridge: at each a line of up to {ridge|film} stands " +
		"against it.",
		"Sand the ridge down between coats, or let the last one run free."},
	verdict.TapeDrifts: {"With the {side} side let go first the drawing drifts about {drift|film} towards it, and " +
		"{runs} run down.", ""},
	verdict.SidesFed: {"{sides} of this coat go down the sides; what does not run by itself is fed by hand.", ""},
	verdict.TapeStands: {"Nothing drifts when the tape comes off: {film|film} stands by itself at an edge, which keeps " +
		"{stands|film}, or it has gelled.", ""},
	verdict.TackyShut: {"The tacky hours below it ({from} to {to}) lie outside the studio's hours.",
		"The plan waits for hard and a light scuff instead."},
	verdict.AgendaLate: {"With all pieces planned it is ready {late|spoken} after its due date, {due|day}.",
		"Days shows what stands in the way and what would help."},
	verdict.AgendaOut:  {"It does not fit into the days as they are.", "Days shows why."},
	verdict.DoneUnmade: {"It is marked done, but {coats|coats}.", "Open it again, or take the coats out of the plan."},

	verdict.WorkBefore:   {"{what} lies before the first coat; it wants a hard one under it.", "Put it after a coat."},
	verdict.PrepareAfter: {"{what} comes after resin; it is meant for the bare board.", "Move it before the first coat."},
	verdict.FinishEarly:  {"{what} comes before the last coat.", "Move it to the end."},
	verdict.WorkUnsealed: {"{what} is not sealed: inks wipe off, leaf and paint scratch.", "Seal it with a clear coat."},
	verdict.DamUnbuilt:   {"The edge is a dam, and nothing builds it for this coat.", "Add building the dam before it."},
	verdict.FaceUnsealed: {"A bare face under a single coat breathes bubbles into it.",
		"Prime it, or plan a second coat over the bubbles."},
	verdict.SiliconeBelow: {"Silicone in the coat below leaves fish eyes in this one.",
		"Degrease and scuff first, whichever way you work; the plan does."},
	verdict.Unpainted: {"The ground has a colour of its own, and nothing paints it.",
		"Add painting the base colour before the first coat."},

	plan.GuardUndone: {"{what} is not ticked off{times}.", "Done now"},
	plan.GuardDries:  {"{what} dries until {until}.", "It is dry"},
	plan.GuardBelow:  {"{what} below is not ready before {until}.", "It is ready"},
	plan.GuardUnmade: {"{what} below was never recorded.", "It is there"},
	plan.GuardScuff:  {"{what} below is hard, and nothing scuffs it: this coat may peel.", "Scuffed and wiped"},
	plan.GuardGrease: {"{what} below holds silicone, and nothing degreases it: fish eyes.", "Degreased and scuffed"},
	plan.GuardSealed: {"The face is bare and breathes: bubbles without end.", "Sealed and dry"},
	plan.GuardUnread: {"The board's level was not read; this film allows {allowed|film} from corner to corner.",
		"It is level"},
	plan.GuardTilted: {"The board lies {drop|film} lower at one corner; this film allows {allowed|film}.", "Levelled"},
	plan.GuardResin:  {"{resin}: {need} needed, {have} in stock.", "It is there"},
	plan.GuardOld: {"{resin} has expired or was opened long ago: old resin yellows and cures slowly; follow its " +
		"data sheet.", "The data sheet allows it"},
	plan.GuardPigment: {"{pigment}: {need} needed, {have} in stock.", "It is there"},
	plan.GuardShuts:   {"It would not be covered until {ends}{shuts|shuts}.", "I will stay on"},
	plan.GuardTacky: {"The tacky hour below closes at {until}: lay out before, and mix at once.",
		"Everything is laid out"},
}
