package technique

import (
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Preparation is work on the board without resin: before the first coat, or
// finishing after the last. Waits are common practice; the product rules.
type Preparation struct {
	ID           string
	Name         msg.ID
	Do           msg.ID
	Fixed, PerM2 float64 // minutes a coat
	Coats        int     // usual
	Dry          float64 // minutes between its coats and before other work
	BeforeResin  float64 // minutes before resin
	Safety       []string
	Finish       bool    // after the last coat
	For          Purpose // why it is done
}

// Purpose is the aim of a preparation; a plan asks for the purpose, and the
// first entry that serves it is the usual one.
type Purpose string

// The purposes.
const (
	ForFace    Purpose = "face"    // seals a face that breathes
	ForGround  Purpose = "ground"  // the colour that shows through
	ForTexture Purpose = "texture" // stands out of the face
	ForSides   Purpose = "sides"
	ForBack    Purpose = "back"
	ForTape    Purpose = "tape" // off the sides
	ForDam     Purpose = "dam"
	ForDrips   Purpose = "drips"
	ForEdges   Purpose = "edges" // sanded and painted at the end
	ForHanging Purpose = "hanging"
	ForMould   Purpose = "mould" // out of it
	ForPicture Purpose = "picture"
	ForGrease  Purpose = "grease" // off a face that does not breathe
)

// Usual returns the usual preparation for a purpose.
func Usual(p Purpose) Preparation {
	for _, prep := range Preparations {
		if prep.For == p {
			return prep
		}
	}
	return Preparation{}
}

// Minutes returns how long one coat of it takes.
func (p Preparation) Minutes(face units.Area) float64 { return p.Fixed + p.PerM2*face.SquareMetres() }

const (
	hour = 60.0
	day  = 24 * hour
)

// Preparations holds what is done to boards besides resin.
var Preparations = []Preparation{
	{ID: "prime", For: ForFace, Name: "Seal and prime", Do: "Both faces, so that the board neither breathes nor warps.",
		Fixed: 10, PerM2: 30, Coats: 2, Dry: 4 * hour, BeforeResin: 24 * hour, Safety: []string{"air"}},
	{ID: "gesso", For: ForFace, Name: "Gesso", Do: "Thin and even.", Fixed: 8, PerM2: 25, Coats: 2, Dry: 2 * hour,
		BeforeResin: 24 * hour},
	{ID: "base", For: ForGround, Name: "Paint the base colour",
		Do: "Acrylic, the colour that will show through. Between its coats a light sanding, wiped off; opaque paint on " +
			"gloss wants two.", Fixed: 8, PerM2: 25, Coats: 2, Dry: hour, BeforeResin: 24 * hour},
	{ID: "sides", For: ForSides, Name: "Paint the sides",
		Do: "Near the resin's colour; resin that runs over them stays see-through.", Fixed: 10, PerM2: 10, Coats: 2,
		Dry: hour, BeforeResin: 24 * hour},
	{ID: "spray-primer", For: ForFace, Name: "Spray primer", Do: "Light coats from 15 cm, outdoors.", Fixed: 8, PerM2: 10,
		Coats: 2, Dry: hour, BeforeResin: 24 * hour, Safety: []string{"spray"}},
	{ID: "spray-ground", For: ForGround, Name: "Spray the ground",
		Do:    "Sprayed colour or metal under the pour; light coats from 15 cm, outdoors.",
		Fixed: 8, PerM2: 10, Coats: 2, Dry: hour, BeforeResin: 24 * hour, Safety: []string{"spray"}},
	{ID: "reflective", For: ForGround, Name: "Lay a reflective ground",
		Do:    "Foil or metal leaf, pressed down flat: it throws the light back through tints and glow.",
		Fixed: 15, PerM2: 60, Coats: 1, Dry: 12 * hour, BeforeResin: 24 * hour},
	{ID: "degrease", For: ForGrease, Name: "Degrease the face",
		Do:    "Wipe glaze, glass or varnish with isopropanol and let it flash off; resin draws back from grease.",
		Fixed: 4, PerM2: 10, Coats: 1, BeforeResin: 10, Safety: []string{"alcohol", "gloves"}},
	{ID: "paste", For: ForTexture, Name: "Modelling paste with sand", Do: "Texture; let it dry through.", Fixed: 20,
		PerM2: 60, Coats: 1, Dry: 2 * day, BeforeResin: 2.5 * day, Safety: []string{"dust"}},
	{ID: "foil", For: ForTexture, Name: "Foil or paper under glue", Do: "Press out the air from the middle.", Fixed: 15,
		PerM2: 60, Coats: 1, Dry: 3 * day, BeforeResin: 3 * day},
	{ID: "varnish", For: ForFace, Name: "Urethane or varnish sealer",
		Do: "Thin; overnight. Isocyanate coatings are for licensed users with supplied air.", Fixed: 8, PerM2: 25, Coats: 1,
		Dry: 12 * hour, BeforeResin: 12 * hour, Safety: []string{"air", "respirator"}},
	{ID: "mask", For: ForBack, Name: "Mask the back", Do: "Tape, or latex, so that drips come away with it.", Fixed: 8,
		PerM2: 15, Coats: 1, Dry: 2 * hour, BeforeResin: 2 * hour},
	{ID: "tape", For: ForTape, Name: "Tape the sides", Do: "Press the edge down well; resin creeps under a loose one.",
		Fixed: 6, PerM2: 10, Coats: 1},
	{ID: "dam", For: ForDam, Name: "Build the dam", Do: "Tape standing proud of the face all round.", Fixed: 8, PerM2: 12,
		Coats: 1, Safety: []string{"hotair"}},
	{ID: "demould", For: ForMould, Name: "Take it out of the mould",
		Do: "When it is hard; flex the mould away from the cast, never lever.", Fixed: 10, Coats: 1, Finish: true,
		Safety: []string{"gloves"}},
	{ID: "drips", For: ForDrips, Name: "Warm and peel the drips", Do: "Warm the back, peel or cut, take the mask off.",
		Fixed: 10, PerM2: 15, Coats: 1, Finish: true, Safety: []string{"hotair", "gloves"}},
	{ID: "finish-sides", For: ForEdges, Name: "Sand and paint the sides", Do: "Wet-sand, wipe, touch up.", Fixed: 10,
		PerM2: 25, Coats: 1, Dry: hour, Finish: true, Safety: []string{"dust"}},
	{ID: "hang", For: ForHanging, Name: "Hang wire or fit legs", Do: "Never through the film.", Fixed: 15, PerM2: 5,
		Coats: 1, Finish: true},
	{ID: "photograph", For: ForPicture, Name: "Photograph",
		Do: "In daylight, aslant, so that the film does not mirror the window.", Fixed: 15, Coats: 1, Finish: true},
}

// FindPreparation returns the preparation with the id.
func FindPreparation(id string) (Preparation, bool) {
	for _, p := range Preparations {
		if p.ID == id {
			return p, true
		}
	}
	return Preparation{}, false
}
