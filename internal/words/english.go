package words

import "jevvo/internal/core/plan"

const dataSheet = "the product's sheet rules"

// english is the catalogue of what a plan says.
var english = map[plan.Code]entry{
	plan.FilmEdge:   {"A film of {film|film} stands only at a sharp edge: an open board keeps {keeps|film}, so about {lost} would run off.", "Dam the edge with tape, or plan a thinner film and another coat."},
	plan.FilmFalls:  {"A film of {film|film} will not stand: an open board keeps {keeps|film}, so about {lost} would run off.", "Dam the edge with tape, or plan a thinner film and another coat."},
	plan.EdgeLow:    {"A film of {film|film} is higher than the {edge} ({stands}).", "Raise the {edge} or thin the film."},
	plan.FaceDrinks: {"An unsealed face drinks about {absorbed}.", "Bare wood and raw canvas breathe and make bubbles without end: seal and prime first, or plan for it."},
	plan.SidesCover: {"Sides keep about {film|film}: they will cover.", ""},
	plan.SidesThin:  {"Sides will be see-through: about {film|film} stays on them.", "Paint the sides near the resin's colour first."},
	plan.SidesHold:  {"Sides will be see-through: about {film|film} stays on them.", "Paint the sides near the resin's colour, or hold the edge back with tape until {until|spoken} after mixing."},

	plan.LoadOver:     {"{cup} carries {load|pct1} pigment; its limit is {limit|pct1}.", "Stay under the load limit or the cup may stay soft; " + dataSheet + "."},
	plan.LoadTogether: {"{cup} uses {used|pct} of its pigments' load limits together.", "Stay under the load limits or the cup may stay soft; " + dataSheet + "."},
	plan.BurnsWet:     {"{cup} is flammable while wet.", "No flame until it has flashed off."},
	plan.HidesNot:     {"{cup} will not hide what lies under it: {hiding} ({contrast|pct}) at {film|film}.", "No allowed load hides it at this film: paint the ground near the colour, or plan a second coat of it."},
	plan.HidesDrops:   {"{cup} will not hide what lies under it: {hiding} ({contrast|pct}) at {film|film}.", "{drops|drops} more of {pigment} ({grams}) hide it, or a second coat."},
	plan.HidesGrams:   {"{cup} will not hide what lies under it: {hiding} ({contrast|pct}) at {film|film}.", "{grams} more of {pigment} hide it, or a second coat."},
	plan.NoAccent:     {"There is nothing to show on the bed: only bases and clear.", "Add an accent or a white; {technique|lower} needs one."},
	plan.NoWhite:      {"There is no white: {technique|lower} laces little without one.", "Whites lace because they are dense and hide."},
	plan.MixedMakers:  {"Its pigments come from {makers} makers.", "Unlike pastes repel and open more cells; for predictable flow stay with one maker."},
	plan.NotOnBoard:   {"{cup} lies nowhere on the board.", "Place it in the composition, or set its share to 0."},
	plan.TooMuchLaid:  {"What lies on the board is {over|pct} more than the coat.", "Plan more resin or lay less; all are scaled to fit meanwhile."},
	plan.CupsExceed:   {"The volumes of its cups add up to {cups}, the coat takes {coat}.", "Leave one cup to follow, or type the volume of the coat."},

	plan.MudCancels:   {"Mud where {a} and {b} mix: the hues lie {apart}° apart and cancel.", "Keep clear or white between {a} and {b}."},
	plan.MudSwallows:  {"Where {a} and {b} mix, the dark one swallows the bright.", "Lay them last, or with a vein between."},
	plan.ReadAsOne:    {"They read as one from afar (difference {difference}).", "Make one lighter or darker."},
	plan.WashesPale:   {"The white turns the colour pale where they mix; clean, not mud.", ""},
	plan.PartByColour: {"They part by colour only; little light against dark ({light}).", ""},
	plan.PartWell:     {"They part well: light against dark {light}.", ""},
	plan.LieUnknown:   {"How heavy {a} and {b} are is not known: choose their pigments to see who sinks.", ""},
	plan.LieAlike:     {"As heavy as each other: they stay where they are laid.", ""},
	plan.LieSinks:     {"{heavy} is heavier by {by} kg/m³ and lies on {light}: it sinks through and opens cells.", ""},
	plan.LieStays:     {"{light} is lighter by {by} kg/m³ and lies on top: it stays there.", ""},
	plan.LieCreeps:    {"{heavy} is heavier by {by} kg/m³: it creeps under {light} at the border.", ""},

	plan.DeepLayers:  {"{film} deep it heats itself to {peak} after {at|spoken}.", "Pour it in {pours} layers of {each}, each {wait|spoken} after the last, when it is cool again. The product’s own limit rules; if it warms in the cup, pour it flat and stop."},
	plan.DeepHot:     {"{film} deep it heats itself to {peak} after {at|spoken}: it can smoke, crack and yellow.", "No safe layer of this resin is deep enough here: take a slower casting resin. If it warms, stop, pour it out flat and leave it outside."},
	plan.DeepWarm:    {"{film} deep it warms by itself to {peak} after {at|spoken} and gels after {gel|spoken}.", "Work as if it were quicker, pour it flat, and keep the cover from trapping its heat."},
	plan.CastShrinks: {"The cast comes out {least|film} to {most|film} shorter on its long side: resin shrinks by 2 to 5 % of its volume.", ""},
	plan.TiltLong:    {"{tilt} for {minutes|spoken} leaves {stays|film} on the board, less than the {film|film} that was wanted, however much is poured.", "Tilt less or for a shorter time, or plan a second coat."},
	plan.CoolCured:   {"In this room the cure stops at {stops|pct}: cured, for delivery, does not come by itself.", "{hours|hours} at {warm} finish it."},
	plan.Blush:       {"At night the room at {night} comes near the dew point of {dew}: the surface may blush, waxy or milky.", "Keep it warmer at night or dry the air; wash and scuff a blushed coat before the next."},

	plan.CupOffRatio: {"{cup}: a scale that reads to {step} cannot hold this cup's ratio.", "Use a finer scale, or mix this colour out of a larger lot."},

	plan.ClockLate:   {"It does not fit: {step|lower} ends {late|spoken} after its window closes.", "No cooler room, no slower resin on the shelf and no fresh lot saves it: shorten the work or the face."},
	plan.ClockSlow:   {"It does not fit: {step|lower} ends {late|spoken} after its window closes.", "With {resin} it fits, with {spare|spoken} to spare."},
	plan.ClockLot:    {"It does not fit: {step|lower} ends {late|spoken} after its window closes.", "A fresh lot for the later steps makes it fit, with {spare|spoken} to spare."},
	plan.ClockZones:  {"It does not fit: {step|lower} ends {late|spoken} after its window closes.", "Fewer, larger zones make it fit, with {spare|spoken} to spare."},
	plan.ClockHalves: {"It does not fit: {step|lower} ends {late|spoken} after its window closes.", "In two halves, one under tape, it fits, with {spare|spoken} to spare."},
	plan.ClockCool:   {"It does not fit: {step|lower} ends {late|spoken} after its window closes.", "It fits in a room of {room}."},
	plan.ClockTight:  {"It is tight: {spare|spoken} to spare at {step|lower}.", "Have everything laid out before the parts meet."},
	plan.ClockFits:   {"It fits: {work|spoken} of work; the tightest step, {step|lower}, has {spare|spoken} to spare.", ""},

	plan.Outside:     {"The pour runs outside the studio's hours ({from} to {to}).", "Move the pour or the studio's hours."},
	plan.TapeAtNight: {"The tape is ready while the studio is shut, {from} to {to}.", "Pull it next day with warm air instead."},
	plan.TackyShut:   {"The tacky hours below it ({from} to {to}) lie outside the studio's hours.", "The plan waits for hard and a light scuff instead."},
	plan.AgendaLate:  {"Among all pieces it is ready {late|spoken} after its day, {due|day}.", "Days shows what stands in the way and what would help."},
	plan.AgendaOut:   {"It has no place in the days as they are.", "Days shows why."},
	plan.DoneUnmade:  {"It is marked done, but {coats|coats}.", "Open it again, or take the coats out of the plan."},

	plan.WorkBefore:    {"{what} lies before the first coat; it wants a hard one under it.", "Put it after a coat."},
	plan.PrepareAfter:  {"{what} comes after resin; it is meant for the bare board.", "Move it before the first coat."},
	plan.FinishEarly:   {"{what} comes before the last coat.", "Move it to the end."},
	plan.WorkUnsealed:  {"{what} is not sealed: inks wipe off, leaf and paint scratch.", "Seal it with a clear coat."},
	plan.DamUnbuilt:    {"The edge is a dam, and nothing builds it for this coat.", "Add building the dam before it."},
	plan.FaceUnsealed:  {"A bare face under a single coat breathes bubbles into it.", "Prime it, or plan a second coat over the bubbles."},
	plan.SiliconeBelow: {"Silicone in the coat below leaves fish eyes in this one.", "Degrease and scuff first, whatever the school; the plan does."},
	plan.Unpainted:     {"The ground has a colour of its own, and nothing paints it.", "Add painting the base colour before the first coat."},
}
