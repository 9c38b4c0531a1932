package technique

import "jevvo/internal/msg"

// Role is a cup's part in a coat.
type Role string

// The roles, in the order cups are made.
const (
	Clear  Role = "clear"
	White  Role = "white"
	Base   Role = "base"
	Accent Role = "accent"
)

// A RoleRule holds the properties shared by all cups of a role.
type RoleRule struct {
	Role  Role
	Name  string
	Under bool // lies under the others: a bed
	Clean bool // wants a clean cup
	Tints bool // carries pigment
	Hides bool // is meant to hide what lies under it
}

// Roles holds the rules in the order cups are made.
var Roles = []RoleRule{
	{Role: Clear, Name: "clear", Under: true, Clean: true},
	{Role: White, Name: "white", Clean: true, Tints: true, Hides: true},
	{Role: Base, Name: "base", Under: true, Tints: true, Hides: true},
	{Role: Accent, Name: "accent", Tints: true},
}

// Rule returns what cups of the role share; the zero rule for a name that is
// no role.
func (r Role) Rule() RoleRule {
	for _, rule := range Roles {
		if rule.Role == r {
			return rule
		}
	}
	return RoleRule{}
}

// ClearSwatch is how a clear cup's bottle is drawn.
const ClearSwatch = "#dfe3e4"

// A CupStart is a cup a coat of a technique begins with.
type CupStart struct {
	Name   msg.Preset
	Role   Role
	Swatch string
	Share  float64
	Load   float64 // pigment by mass of mixed resin
}

// Unit is the unit of a material.
type Unit string

// The units of materials.
const (
	Grams  Unit = "g"
	Millis Unit = "ml"
	Drops  Unit = "drops"
	Sheets Unit = "sheets"
	Metres Unit = "m"
)

// A Material is a thing a technique needs besides cups of resin.
type Material struct {
	ID     string
	Name   msg.ID
	Unit   Unit
	Tells  msg.ID
	Safety []string
	// Silicone says that it leaves fish eyes in the next coat unless the surface
	// is degreased; Burns that no flame may come near while it is wet.
	Silicone, Burns bool
	FlashOff        float64 // minutes it stays flammable once it is laid on a coat
}

// Materials holds them all (common practice).
var Materials = []Material{
	{ID: "alcohol", Name: "Isopropanol, 91 %", Unit: Millis,
		Tells: "Carries the powder as a fine mist, or makes dots by brush.", Safety: []string{"alcohol"}, Burns: true,
		FlashOff: 5},
	{ID: "metal-powder", Name: "Metal powder", Unit: Grams, Tells: "Dusted or misted, never stirred into the resin.",
		Safety: []string{"powder"}},
	{ID: "silicone", Name: "Silicone", Unit: Drops,
		Tells: "Opens cells; the surface must be degreased before the next coat.", Silicone: true},
	{ID: "flakes", Name: "Flakes", Unit: Grams, Tells: "Sprinkled from a sieve.", Safety: []string{"powder"}},
	{ID: "glitter", Name: "Glitter", Unit: Grams, Tells: "Very little: half of what looks right.",
		Safety: []string{"powder"}},
	{ID: "stones", Name: "Stones or crushed glass", Unit: Grams, Tells: "Bound with tinted resin.",
		Safety: []string{"glass"}},
	{ID: "glass", Name: "Crushed glass", Unit: Grams, Tells: "Washed and dry, bound with clear.",
		Safety: []string{"glass"}},
	{ID: "shells", Name: "Shells", Unit: Grams, Tells: "Rinsed of salt and dry.", Safety: []string{"glass"}},
	{ID: "glue-line", Name: "Glue outline", Unit: Metres, Tells: "A bead that ends the cast."},
	{ID: "mould-paint", Name: "Paint in the mould", Unit: Millis, Tells: "Acrylic on the mould, the face of the slab."},
	{ID: "ink", Name: "Ink", Unit: Millis, Tells: "Dabbed thin; wipes off with alcohol if it is wrong.",
		Safety: []string{"ink"}, Burns: true, FlashOff: 10},
	{ID: "size", Name: "Leaf size", Unit: Millis, Tells: "Thin, only where leaf is to hold."},
	{ID: "leaf-sheets", Name: "Leaf", Unit: Sheets, Tells: "Pressed and burnished through tissue.",
		Safety: []string{"powder"}},
	{ID: "acrylic", Name: "Acrylic paint", Unit: Millis, Tells: "Thin coats."},
	{ID: "spray-paint", Name: "Spray paint", Unit: Millis, Tells: "Light coats from 15 cm, outdoors.",
		Safety: []string{"spray"}, Burns: true, FlashOff: 60},
}

// FindMaterial returns the material with the id.
func FindMaterial(id string) (Material, bool) {
	for _, m := range Materials {
		if m.ID == id {
			return m, true
		}
	}
	return Material{}, false
}

// UsualOf is how much of a material a square metre usually takes, by the first
// technique of the library that asks for it; 0 for one that is laid by eye.
func UsualOf(material string) float64 {
	for _, t := range Library {
		for _, n := range t.Needs {
			if n.Material == material && n.PerM2 > 0 {
				return n.PerM2
			}
		}
	}
	return 0
}

// A Need is a material a technique asks for, with its usual amount: by the
// face, by the edge, or in proportion to another material (common practice).
type Need struct {
	Material     string
	PerM2        float64
	PerPerimeter float64 // a metre of edge
	Of           string  // another material, and
	Ratio        float64 // how much a unit of that
	Optional     bool    // 0 unless it is typed
}

// Usual returns the usual amount on so many square metres of face and metres
// of edge, when there is so much of the material it goes with.
func (n Need) Usual(faceM2, edgeM, of float64) float64 {
	switch {
	case n.Optional:
		return 0
	case n.Of != "":
		return n.Ratio * of
	}
	return n.PerM2*faceM2 + n.PerPerimeter*edgeM
}
