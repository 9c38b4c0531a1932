package device

import "jevvo/internal/core/units"

// A Climate is one reading of a room sensor; OK is false when it is silent.
type Climate struct {
	Temperature units.Temperature
	OK          bool
}

// A RoomSensor is a thermometer in the studio. It is safe for concurrent use.
type RoomSensor interface{ Read() Climate }
