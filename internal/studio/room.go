package studio

import (
	"context"
	"errors"
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/store"
)

// Sources of a room reading.
const (
	RoomSensor = "sensor"
	RoomTyped  = "typed"
)

// Bounds of what a sensor is believed (common practice).
const (
	coldestBelieved = -5.0
	hottestBelieved = 45.0
	fastestBelieved = 8.0 // K between two looks, unless it lasts
	lookLeast       = 0.1 // K that is worth a new line in the log
	lookEvery       = 5 * time.Minute
	silentAfter     = 12 * time.Minute
)

// A RoomState is the studio's temperature as far as it is known.
type RoomState struct {
	Temperature units.Temperature
	At          time.Time
	Source      string // sensor, typed, or "" for the setting
	Words       string // what is wrong, for people; "" when all is well
	Sensor      bool   // one is connected
}

// ConnectRoom sets a room sensor in the studio.
func (s *Studio) ConnectRoom(sensor device.RoomSensor) { s.room = sensor }

// RoomSensor returns the sensor, nil when there is none.
func (s *Studio) RoomSensor() device.RoomSensor { return s.room }

// LookAtRoom reads the sensor and keeps what is new. What cannot be is not
// kept: the last believable reading holds, and the state says so.
func (s *Studio) LookAtRoom(ctx context.Context) (RoomState, error) {
	state, err := s.RoomNow(ctx)
	if err != nil || s.room == nil {
		return state, err
	}
	c := s.room.Read()
	words := state.disbelief(c)
	if words != "" {
		state.Words = words
		return state, nil
	}
	now := s.now()
	if state.Source == RoomSensor && math.Abs(float64(c.Temperature-state.Temperature)) < lookLeast-1e-9 && now.Sub(state.At) < lookEvery {
		return state, nil
	}
	if err := s.store.LogRoom(ctx, store.RoomReading{At: now, Temp: float64(c.Temperature), Source: RoomSensor}); err != nil {
		return state, err
	}
	s.benches.publishAll()
	return s.RoomNow(ctx)
}

// disbelief says why a reading is not taken.
func (r RoomState) disbelief(c device.Climate) string {
	t := float64(c.Temperature)
	held := fmt.Sprintf("the last reading, %s °C, holds until you type one", units.Fixed(float64(r.Temperature), 1))
	switch {
	case !c.OK:
		return "The room sensor is silent; " + held + "."
	case math.IsNaN(t) || t < coldestBelieved || t > hottestBelieved:
		return fmt.Sprintf("The room sensor says %s °C, which cannot be; %s.", units.Fixed(t, 1), held)
	case r.Source == RoomSensor && math.Abs(t-float64(r.Temperature)) > fastestBelieved:
		return fmt.Sprintf("The room sensor jumped to %s °C; %s.", units.Fixed(t, 1), held)
	}
	return ""
}

// RoomNow returns the newest temperature known.
func (s *Studio) RoomNow(ctx context.Context) (RoomState, error) {
	now := s.now()
	rows, err := s.store.RoomSince(ctx, now)
	if err != nil {
		return RoomState{}, err
	}
	if n := len(rows); n > 0 && now.Sub(rows[n-1].At) < 24*time.Hour {
		last := rows[n-1]
		r := RoomState{Temperature: units.Temperature(last.Temp), At: last.At, Source: last.Source, Sensor: s.room != nil}
		if s.room != nil && last.Source == RoomSensor && now.Sub(last.At) > silentAfter {
			r.Words = "Nothing new from the room sensor since " + last.At.Local().Format("15:04") + "."
		}
		return r, nil
	}
	set, err := s.Settings(ctx)
	return RoomState{Temperature: set.Room, At: now, Sensor: s.room != nil}, err
}

// TypeRoom keeps a typed temperature; it is believed before any sensor until
// the sensor speaks again.
func (s *Studio) TypeRoom(ctx context.Context, text string) (RoomState, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return RoomState{}, err
	}
	r, err := units.ParseTemperature(text, bareTemperature(set.Units))
	if err != nil {
		return RoomState{}, &RefusedError{err}
	}
	if float64(r.Value) < coldestBelieved || float64(r.Value) > hottestBelieved {
		return RoomState{}, &RefusedError{errors.New("a room people pour in is between −5 and 45 °C")}
	}
	if err := s.store.LogRoom(ctx, store.RoomReading{At: s.now(), Temp: float64(r.Value), Source: RoomTyped}); err != nil {
		return RoomState{}, err
	}
	s.benches.publishAll()
	return s.RoomNow(ctx)
}

// roomCurve returns the temperatures from a moment on as a curve in minutes
// after it: what was read, then the last reading held. fallback stands where
// nothing was read.
func (s *Studio) roomCurve(ctx context.Context, from time.Time, fallback units.Temperature) (cure.Room, error) {
	rows, err := s.store.RoomSince(ctx, from)
	if err != nil {
		return cure.Room{}, err
	}
	return roomOf(rows, from, fallback), nil
}

func roomOf(rows []store.RoomReading, from time.Time, fallback units.Temperature) cure.Room {
	var readings []cure.Reading
	for _, r := range rows {
		m := r.At.Sub(from).Minutes()
		if m < -24*60 {
			continue // too old to say anything
		}
		if n := len(readings); n > 0 && m <= readings[n-1].Minute {
			readings[n-1].Temperature = units.Temperature(r.Temp) // the later one holds
			continue
		}
		readings = append(readings, cure.Reading{Minute: m, Temperature: units.Temperature(r.Temp)})
	}
	room, err := cure.NewRoom(readings)
	if err != nil {
		return cure.Constant(fallback)
	}
	return room
}
