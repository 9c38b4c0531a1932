package surface

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Sides says what happens to the sides of the board.
type Sides string

// The schools of sides: painters disagree, all are supported.
const (
	SidesRunOver Sides = "run-over" // resin runs over them; paint near its colour
	SidesTaped   Sides = "taped"    // taped off, pulled at soft set
	SidesPainted Sides = "painted"  // painted afterwards, no resin planned
)

// Support is the material of the board.
type Support string

// The supports.
const (
	Canvas    Support = "canvas"
	Panel     Support = "panel"
	Cradled   Support = "cradled"
	Tile      Support = "tile"
	Tray      Support = "tray"
	TableTop  Support = "table"
	MouldSlab Support = "mould"
)

// A SupportRule holds the properties shared by all boards of a support.
type SupportRule struct {
	Support    Support
	Name       msg.ID
	Words      msg.ID       // in a sentence
	Absorbency float64      // mL/m² of a face that was not sealed (common practice)
	Sealed     bool         // as it is bought: canvases are sold primed, tiles glazed (common practice)
	Breathes   bool         // wants sealing, or makes bubbles without end
	Painted    bool         // sides and back are painted, masked and finished
	Hangs      bool         // gets wire
	Cast       bool         // a mould: the cavity is filled whatever the film
	Ground     string       // "#rrggbb" of the bare face
	Edge       Edge         // it usually has
	Glazed     bool         // the face keeps grease on it
	Depth      units.Length // of its sides, usually
	RimHeight  units.Length // of its rim above the face, usually; 0 for none
}

// Supports holds the rules in the order they are offered.
var Supports = []SupportRule{
	{Support: Canvas, Name: "Stretched canvas", Words: "stretched canvas", Absorbency: 60, Sealed: true, Breathes: true,
		Painted: true, Hangs: true, Ground: BareGround, Edge: Open, Depth: 18},
	{Support: Panel, Name: "Panel", Words: "panel", Absorbency: 90, Breathes: true, Painted: true, Hangs: true,
		Ground: BareGround, Edge: Open, Depth: 9},
	{Support: Cradled, Name: "Cradled panel", Words: "cradled panel", Absorbency: 90, Breathes: true, Painted: true,
		Hangs: true, Ground: BareGround, Edge: Open, Depth: 22},
	{Support: Tile, Name: "Tile", Words: "tile", Absorbency: 10, Sealed: true, Ground: "#e8e6e0", Edge: Open, Depth: 6,
		Glazed: true},
	{Support: Tray, Name: "Tray", Words: "tray", Absorbency: 90, Breathes: true, Ground: "#b08d63", Edge: Rim, Depth: 15,
		RimHeight: 8},
	{Support: TableTop, Name: "Table top", Words: "table top", Absorbency: 90, Breathes: true, Painted: true,
		Ground: "#b08d63", Edge: Open, Depth: 25},
	{Support: MouldSlab, Name: "Slab in a mould", Words: "cast slab", Sealed: true, Cast: true, Ground: "#f2f2f0",
		Edge: Rim, Depth: 0, RimHeight: 10},
}

// BareGround is primed board that nobody has painted yet.
const BareGround = "#8d8478"

// Rule returns what boards of the support share; that of a panel for a name
// that is no support.
func (s Support) Rule() SupportRule {
	for _, r := range Supports {
		if r.Support == s {
			return r
		}
	}
	return Panel.Rule()
}

// Absorbed returns what an unsealed face of this support drinks.
func (s Support) Absorbed(face units.Area, sealed bool) units.Volume {
	if sealed {
		return 0
	}
	return units.Volume(s.Rule().Absorbency * face.SquareMetres())
}

// waterDensity is that of water at 20 °C in kg/m³ (CRC Handbook of Chemistry
// and Physics, from memory).
const waterDensity units.Density = 998.2

// MouldByWater returns the volume of a cavity from the weight of the water
// that fills it.
func MouldByWater(m units.Mass) (units.Volume, error) {
	if math.IsNaN(float64(m)) || m <= 0 {
		return 0, refusal.New("the water must weigh something")
	}
	return m.Filling(waterDensity), nil
}

// MouldByDepth returns the volume of a cavity of the given outline and depth.
func MouldByDepth(s Shape, depth units.Length) (units.Volume, error) {
	if math.IsNaN(float64(depth)) || depth <= 0 {
		return 0, refusal.New("the mould must have a depth")
	}
	return s.Area().Times(depth), nil
}
