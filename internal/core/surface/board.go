package surface

import (
	"errors"
	"math"

	"jevvo/internal/core/units"
)

// Edge says what keeps the film on the face.
type Edge string

// The edges a board can have.
const (
	Open Edge = "open" // nothing: the film ends where a puddle would
	Rim  Edge = "rim"  // a tray lip or frame standing above the face
	Dam  Edge = "dam"  // tape standing proud of the edge
)

// Sides says what happens to the sides of the board.
type Sides string

// The schools of sides (handbook 10): painters disagree, all are supported.
const (
	SidesRunOver Sides = "run-over" // resin runs over them; paint near its colour
	SidesTaped   Sides = "taped"    // taped off, pulled at soft set
	SidesPainted Sides = "painted"  // painted afterwards, no resin planned
)

// Support is what the board is made of.
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

// Absorbency in mL/m² of a face that was not sealed (common practice: raw
// wood drinks more than raw canvas; a sealed or glazed face drinks nothing).
var absorbency = map[Support]float64{
	Canvas: 60, Panel: 90, Cradled: 90, TableTop: 90, Tile: 10, Tray: 90, MouldSlab: 0,
}

// Absorbed returns what an unsealed face of this support drinks.
func (s Support) Absorbed(face units.Area, sealed bool) units.Volume {
	if sealed {
		return 0
	}
	return units.Volume(absorbency[s] * face.SquareMetres())
}

// waterDensity is that of water at 20 °C in kg/m³ (CRC Handbook of Chemistry
// and Physics, from memory).
const waterDensity units.Density = 998.2

// MouldByWater returns the volume of a cavity from the weight of the water
// that fills it.
func MouldByWater(m units.Mass) (units.Volume, error) {
	if math.IsNaN(float64(m)) || m <= 0 {
		return 0, errors.New("the water must weigh something")
	}
	return m.Filling(waterDensity), nil
}

// MouldByDepth returns the volume of a cavity of the given outline and depth.
func MouldByDepth(s Shape, depth units.Length) (units.Volume, error) {
	if math.IsNaN(float64(depth)) || depth <= 0 {
		return 0, errors.New("the mould must have a depth")
	}
	return s.Area().Times(depth), nil
}
