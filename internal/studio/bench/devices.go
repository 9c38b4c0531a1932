package bench

import (
	"sync"

	"jevvo/internal/device"
)

// Devices are the instruments on the bench. A real studio begins with none; a
// stand-in is connected by the demo, by tests, or where a person switches it on
// knowingly, and is always called what it is.
type Devices struct {
	mu        sync.Mutex
	scale     device.Scale
	room      device.RoomSensor
	simulated map[string]bool
}

// Scale returns the connected scale, nil when there is none.
func (d *Devices) Scale() device.Scale {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.scale
}

// Room returns the connected room sensor, nil when there is none.
func (d *Devices) Room() device.RoomSensor {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.room
}

// ConnectScale sets a scale on the bench, or takes it away (nil).
func (d *Devices) ConnectScale(s device.Scale, simulated bool) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.scale = s
	d.mark("scale", simulated)
}

// ConnectRoom hangs a sensor up in the room, or takes it down (nil).
func (d *Devices) ConnectRoom(r device.RoomSensor, simulated bool) {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.room = r
	d.mark("room", simulated)
}

func (d *Devices) mark(what string, simulated bool) {
	if d.simulated == nil {
		d.simulated = map[string]bool{}
	}
	d.simulated[what] = simulated
}

// Simulated reports whether an instrument, "scale" or "room", is a stand-in.
func (d *Devices) Simulated(what string) bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.simulated[what]
}
