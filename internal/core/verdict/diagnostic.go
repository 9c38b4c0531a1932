// Package verdict holds the findings about a plan: codes with their arguments, by stage of work and by
// weight. Package plan judges, package words says it.
package verdict

// A Diagnostic says one thing about a plan: a code with arguments, never a
// sentence. Package words turns it into one.
type Diagnostic struct {
	Code   Code
	Part   Part
	Weight Weight
	Coat   string // id of the coat it is about, "" for the whole piece
	Args   Args
}

// Args are the arguments of a sentence: quantities, times, names, counts.
type Args map[string]any

// Part names the stage of work a diagnostic belongs to.
type Part string

// The parts of a piece in the order of work.
const (
	PartBrief   Part = "brief"
	PartSurface Part = "surface"
	PartColours Part = "composition"
	PartCups    Part = "cups"
	PartClock   Part = "clock"
	PartDays    Part = "days"
)

// Parts lists those that can be settled, open or in trouble.
var Parts = []Part{PartSurface, PartColours, PartCups, PartClock, PartDays}

// Weight says how serious a diagnostic is.
type Weight string

// The weights.
const (
	Settled Weight = "settled"
	Mind    Weight = "open"
	Trouble Weight = "trouble"
)

// Code names what a diagnostic says.
type Code string

// The codes, with the arguments each carries.
const (
	FilmEdge   Code = "film-edge"   // film, keeps, lost: stands only at a sharp edge
	FilmFalls  Code = "film-falls"  // film, keeps, lost: will not stand
	EdgeLow    Code = "edge-low"    // film, edge, stands
	FaceDrinks Code = "face-drinks" // absorbed
	SidesCover Code = "sides-cover" // film
	SidesThin  Code = "sides-thin"  // film
	SidesHold  Code = "sides-hold"  // film, until

	LoadOver     Code = "load-over"     // cup, load, limit
	LoadTogether Code = "load-together" // cup, used
	BurnsWet     Code = "burns-wet"     // cup
	HidesNot     Code = "hides-not"     // cup, hiding, contrast, film
	HidesDrops   Code = "hides-drops"   // the same, drops, grams, pigment
	HidesGrams   Code = "hides-grams"   // the same, grams, pigment
	NoAccent     Code = "no-accent"     // technique
	NoWhite      Code = "no-white"      // technique
	MixedMakers  Code = "mixed-makers"  // makers
	NotOnBoard   Code = "not-on-board"  // cup
	TooMuchLaid  Code = "too-much-laid" // over
	CupsExceed   Code = "cups-exceed"   // cups, coat

	MudCancels   Code = "mud-cancels" // a, b, apart
	MudSwallows  Code = "mud-swallows"
	ReadAsOne    Code = "read-as-one"    // difference
	WashesPale   Code = "washes-pale"    //
	PartByColour Code = "part-by-colour" // light
	PartWell     Code = "part-well"      // light
	LieAlike     Code = "lie-alike"
	LieSinks     Code = "lie-sinks" // heavy, light, by
	LieStays     Code = "lie-stays"
	LieCreeps    Code = "lie-creeps"
	LieUnknown   Code = "lie-unknown" // a, b

	DeepHot     Code = "deep-hot"     // film, peak, at, safe
	DeepLayers  Code = "deep-layers"  // film, peak, at, safe, pours, each, wait: it can be poured in layers
	DeepWarm    Code = "deep-warm"    // film, peak, at, gel
	CastShrinks Code = "cast-shrinks" // least, most
	TiltLong    Code = "tilt-long"    // tilt, minutes, stays, film
	CoolCured   Code = "cool-cured"   // stops, warm, hours
	Blush       Code = "blush"        // dew, night

	CupOffRatio Code = "cup-off-ratio" // cup, step

	ClockLate   Code = "clock-late"   // step, late
	ClockCool   Code = "clock-cool"   // step, late, room: it fits in that room
	ClockSlow   Code = "clock-slow"   // step, late, name, spare: it fits with that resin
	ClockOption Code = "clock-option" // step, late, name, spare: it fits done another way
	ClockPeople Code = "clock-people" // step, late, people, spare: it fits with more hands
	ClockHalves Code = "clock-halves" // step, late, spare: it fits in two halves
	ClockEach   Code = "clock-each"   // step, late, spare: it fits board by board
	ClockTight  Code = "clock-tight"  // step, spare
	ClockFits   Code = "clock-fits"   // step, spare, work
	ClockPast   Code = "clock-past"   // step, late: a coat follows
	BatchStands Code = "batch-stands" // n, of, volume, stands, cup
	BatchSmall  Code = "batch-small"  // volume, cup
	CupKept     Code = "cup-kept"     // cup, part: poured by no move
	SharesOff   Code = "shares-off"   // sum
	ResinThin   Code = "resin-thin"   // resin, other
	ResinThick  Code = "resin-thick"  // resin, step, other
	FaceAsk     Code = "face-ask"
	MouldOver   Code = "mould-over" // film, depth
	FirmOnly    Code = "firm-only"  // what

	Outside     Code = "outside-hours" // from, to
	HardenerWas Code = "hardener-was"  // short: share that was missing
	TapeAtNight Code = "tape-at-night" // from, to
	TapeLocked  Code = "tape-locked"   // coats: the same tape under so many
	TapeBuilds  Code = "tape-builds"   // coats, ridge
	TapeDrifts  Code = "tape-drifts"   // side, drift, runs
	SidesFed    Code = "sides-fed"     // sides: volume that goes down them
	TapeStands  Code = "tape-stands"   // film, stands
	TackyShut   Code = "tacky-shut"    // from, to
	AgendaLate  Code = "agenda-late"   // late, due
	AgendaOut   Code = "agenda-out"
	DoneUnmade  Code = "done-unmade" // coats

	WorkBefore    Code = "work-before"    // what
	PrepareAfter  Code = "prepare-after"  // what
	FinishEarly   Code = "finish-early"   // what
	WorkUnsealed  Code = "work-unsealed"  // what
	DamUnbuilt    Code = "dam-unbuilt"    //
	FaceUnsealed  Code = "face-unsealed"  //
	SiliconeBelow Code = "silicone-below" //
	Unpainted     Code = "unpainted"      //
)
