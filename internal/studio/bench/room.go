package bench

import (
	"context"
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/form"
	"jevvo/internal/store"
)

// Sources of a room reading.
const (
	FromSensor    = "sensor"
	FromTyped     = "typed"
	FromSimulated = "simulated"
)

// Bounds of what is believed (common practice).
const (
	coldestBelieved = -5.0
	hottestBelieved = 45.0
	fastestBelieved = 8.0 // K between two looks, unless it lasts
	lookLeast       = 0.1 // K that is worth a new line in the log
	lookEvery       = 5 * time.Minute
	silentAfter     = 12 * time.Minute
	typedHolds      = 12 * time.Hour // a typed temperature before any sensor
	readingHolds    = 24 * time.Hour
)

// A Room is the studio's temperature as far as it is known.
type Room struct {
	Temperature units.Temperature
	At          time.Time
	Source      string // sensor, typed, simulated, or "" for the setting
	Words       string // what is wrong, for people; "" when all is well
	Sensor      bool   // one is connected
	Simulated   bool   // and it is a stand-in
}

// LookAtRoom reads the sensor and keeps what is new. What cannot be is not
// kept: the last believable reading holds, and the state says so. A typed
// temperature holds before any sensor.
func (s *Service) LookAtRoom(ctx context.Context) (Room, error) {
	state, err := s.RoomNow(ctx)
	sensor := s.devices.Room()
	if err != nil || sensor == nil || state.Source == FromTyped {
		return state, err
	}
	c := sensor.Read()
	if words := state.disbelief(c); words != "" {
		state.Words = words
		return state, nil
	}
	now := s.now()
	source := FromSensor
	if s.devices.Simulated("room") {
		source = FromSimulated
	}
	if state.Source == source && math.Abs(float64(c.Temperature-state.Temperature)) < lookLeast-1e-9 && now.Sub(state.At) < lookEvery {
		return state, nil
	}
	if err := s.keepRoom(ctx, c.Temperature, source); err != nil {
		return state, err
	}
	return s.RoomNow(ctx)
}

func (s *Service) keepRoom(ctx context.Context, t units.Temperature, source string) error {
	err := s.store.Write(ctx, "keep the room's temperature", func(tx *store.Tx) error {
		return tx.LogRoom(ctx, store.RoomReading{At: s.now(), Temp: float64(t), Source: source})
	})
	if err == nil {
		s.log.TellAll()
	}
	return err
}

// disbelief says why a reading is not taken.
func (r Room) disbelief(c device.Climate) string {
	t := float64(c.Temperature)
	held := fmt.Sprintf("the last reading, %s °C, holds until you type one", units.Fixed(float64(r.Temperature), 1))
	switch {
	case !c.OK:
		return "The room sensor is silent; " + held + "."
	case math.IsNaN(t) || t < coldestBelieved || t > hottestBelieved:
		return fmt.Sprintf("The room sensor says %s °C, which cannot be; %s.", units.Fixed(t, 1), held)
	case (r.Source == FromSensor || r.Source == FromSimulated) && math.Abs(t-float64(r.Temperature)) > fastestBelieved:
		return fmt.Sprintf("The room sensor jumped to %s °C; %s.", units.Fixed(t, 1), held)
	}
	return ""
}

// RoomNow returns the newest temperature known: one that was typed within half
// a day, else the last reading, else the setting.
func (s *Service) RoomNow(ctx context.Context) (Room, error) {
	now := s.now()
	r := Room{Sensor: s.devices.Room() != nil, Simulated: s.devices.Simulated("room")}
	typed, ok, err := s.store.LastTyped(ctx)
	if err != nil {
		return r, err
	}
	if ok && now.Sub(typed.At) < typedHolds {
		r.Temperature, r.At, r.Source = units.Temperature(typed.Temp), typed.At, FromTyped
		return r, nil
	}
	rows, err := s.store.RoomSince(ctx, now)
	if err != nil {
		return r, err
	}
	if n := len(rows); n > 0 && now.Sub(rows[n-1].At) < readingHolds {
		last := rows[n-1]
		r.Temperature, r.At, r.Source = units.Temperature(last.Temp), last.At, last.Source
		if r.Sensor && last.Source != FromTyped && now.Sub(last.At) > silentAfter {
			r.Words = "Nothing new from the room sensor since " + last.At.Local().Format("15:04") + "."
		}
		return r, nil
	}
	set, err := s.setup.Settings(ctx)
	r.Temperature, r.At = set.Room, now
	return r, err
}

// TypeRoom keeps a typed temperature; it holds at once and before any sensor.
func (s *Service) TypeRoom(ctx context.Context, text string) (Room, error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return Room{}, err
	}
	r, err := units.ParseTemperature(text, form.BareTemperature(set.Units))
	if err != nil {
		return Room{}, &form.Refused{Field: "room", Err: err}
	}
	if float64(r.Value) < coldestBelieved || float64(r.Value) > hottestBelieved {
		return Room{}, form.Refusef("room", "a room people pour in is between −5 and 45 °C")
	}
	if err := s.keepRoom(ctx, r.Value, FromTyped); err != nil {
		return Room{}, err
	}
	return s.RoomNow(ctx)
}

// curve returns the temperatures from a moment on in minutes after it: what was
// read, then the last reading held. Before what was read, and without any, the
// planned room stands. A typed reading goes before those of a sensor within the
// time it holds.
func (s *Service) curve(ctx context.Context, from time.Time, planned units.Temperature) (cure.Room, error) {
	rows, err := s.store.RoomSince(ctx, from)
	if err != nil {
		return cure.Room{}, err
	}
	return roomOf(rows, from, planned), nil
}

func roomOf(rows []store.RoomReading, from time.Time, planned units.Temperature) cure.Room {
	var readings []cure.Reading
	var typed time.Time
	for _, r := range rows {
		if r.Source == FromTyped {
			typed = r.At
		} else if !typed.IsZero() && r.At.Sub(typed) < typedHolds {
			continue
		}
		m := r.At.Sub(from).Minutes()
		if m < -readingHolds.Minutes() {
			continue // too old to say anything
		}
		now := cure.Reading{Minute: m, Temperature: units.Temperature(r.Temp)}
		n := len(readings)
		if n == 0 && m > 0 { // until it was read the plan's room was believed
			readings = append(readings, cure.Reading{Minute: 0, Temperature: planned})
			if m > 1 {
				readings = append(readings, cure.Reading{Minute: m - 1, Temperature: planned})
			}
			n = len(readings)
		}
		if n > 0 && m <= readings[n-1].Minute {
			readings[n-1].Temperature = now.Temperature // the later one holds
			continue
		}
		readings = append(readings, now)
	}
	room, err := cure.NewRoom(readings)
	if err != nil {
		return cure.Constant(planned)
	}
	return room
}
