package calendar

import (
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// nightRamp is how long the room takes to cool or warm (common practice).
const nightRamp = 90 * time.Minute

// Warmth is the expected temperature of a room in minutes after a moment: the
// day's while the studio is open, the night's while it is shut, with a ramp
// between, for so many days. A night of 0 is as warm as the day.
func (c Calendar) Warmth(from time.Time, day, night units.Temperature, days int) cure.Room {
	if night == 0 || night == day {
		return cure.Constant(day)
	}
	var readings []cure.Reading
	add := func(t time.Time, v units.Temperature) {
		m := t.Sub(from).Minutes()
		if n := len(readings); n == 0 || m > readings[n-1].Minute {
			readings = append(readings, cure.Reading{Minute: m, Temperature: v})
		}
	}
	y, mo, d := from.Date()
	for i := -1; i < days; i++ {
		opens, shuts, open := c.Span(time.Date(y, mo, d+i, 12, 0, 0, 0, from.Location()))
		if !open {
			continue // nobody turns the heating up
		}
		add(opens.Add(-nightRamp), night)
		add(opens, day)
		add(shuts, day)
		add(shuts.Add(nightRamp), night)
	}
	room, err := cure.NewRoom(readings)
	if err != nil {
		return cure.Constant(day)
	}
	return room
}
