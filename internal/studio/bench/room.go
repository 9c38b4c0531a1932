package bench

import (
	"context"
	"math"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// Sources of a room reading.
const (
	FromSensor    = "sensor"
	FromTyped     = "typed"
	FromSimulated = "simulated"
	FromPlan      = "planned" // nothing was read: what the piece was planned for
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
	Humidity    float64 // 0 to 1; 0 where nobody knows
	At          time.Time
	Source      string   // sensor, typed, simulated, planned, or "" for the setting
	Who         string   // name of the sensor
	Words       msg.Text // what is wrong, for people; "" when all is well
	Sensor      bool     // one is connected
	Simulated   bool     // and it is a stand-in
}

// Said says since when this is believed and from whom, in one line.
func (r Room) Said() msg.Text {
	from := msg.Text(map[string]msg.ID{FromTyped: "typed", FromSensor: "from the sensor",
		FromSimulated: "simulated sensor",
		FromPlan:      "as the piece is planned; type what your thermometer shows"}[r.Source])
	switch {
	case r.Source == "":
		return msg.ID("as in the settings")
	case r.Source == FromPlan:
		return from
	case r.Who != "":
		from = msg.F("from the sensor %s", r.Who)
	}
	if r.Humidity > 0 {
		return msg.F("%s, %s, %s %% humidity", from, msg.Date(r.At.Local(), "15:04"),
			msg.Figure(units.Fixed(100*r.Humidity, 0)))
	}
	return msg.Join(", ", from, msg.Date(r.At.Local(), "15:04"))
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
	if words := state.disbelief(c, s.now()); words != nil {
		state.Words = words
		return state, nil
	}
	now := s.now()
	source := FromSensor
	if s.devices.Simulated("room") {
		source = FromSimulated
	}
	if state.Source == source && math.Abs(float64(c.Temperature-state.Temperature)) < lookLeast-1e-9 &&
		now.Sub(state.At) < lookEvery {
		return state, nil
	}
	if err := s.keepRoom(ctx, store.RoomReading{Temp: float64(c.Temperature), Source: source}); err != nil {
		return state, err
	}
	return s.RoomNow(ctx)
}

func (s *Service) keepRoom(ctx context.Context, v store.RoomReading) error {
	v.At = s.log.When(ctx)
	err := s.store.Write(ctx, "keep the room's temperature", func(tx *store.Tx) error { return tx.LogRoom(ctx, v) })
	if err == nil {
		s.log.TellAll()
	}
	return err
}

// disbelief says why a reading is not taken.
func (r Room) disbelief(c device.Climate, now time.Time) msg.Text {
	t := float64(c.Temperature)
	held := msg.F("the last reading, %s °C, holds until you type one", msg.Figure(units.Fixed(float64(r.Temperature), 1)))
	switch {
	case !c.OK:
		return msg.F("The room sensor is silent; %s.", held)
	case math.IsNaN(t) || t < coldestBelieved || t > hottestBelieved:
		return msg.F("The room sensor reads %s °C, which cannot be right; %s.", msg.Figure(units.Fixed(t, 1)), held)
	case (r.Source == FromSensor || r.Source == FromSimulated) && now.Sub(r.At) < silentAfter &&
		math.Abs(t-float64(r.Temperature)) > fastestBelieved:
		return msg.F("The room sensor jumped to %s °C; %s.", msg.Figure(units.Fixed(t, 1)), held)
	}
	return nil
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
		r.take(typed)
		return r, nil
	}
	rows, err := s.store.RoomSince(ctx, now)
	if err != nil {
		return r, err
	}
	if n := len(rows); n > 0 && now.Sub(rows[n-1].At) < readingHolds {
		last := rows[n-1]
		r.take(last)
		if last.Source != FromTyped && now.Sub(last.At) > silentAfter {
			r.Words = msg.F("Nothing new from the room sensor since %s. Type what your thermometer shows.",
				msg.Date(last.At.Local(), "15:04"))
		}
		return r, nil
	}
	set, err := s.setup.Settings(ctx)
	r.Temperature, r.At = set.Room, now
	return r, err
}

func (r *Room) take(v store.RoomReading) {
	r.Temperature, r.Humidity, r.At, r.Source, r.Who = units.Temperature(v.Temp), v.Humidity, v.At, v.Source, v.Who
}

// TypeRoom keeps a typed temperature, and the humidity where it is noted too; it
// holds at once and before any sensor.
func (s *Service) TypeRoom(ctx context.Context, text, humidity string) (Room, error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return Room{}, err
	}
	r, err := units.ParseTemperature(text, form.BareTemperature(set.Units))
	if err != nil {
		return Room{}, &form.Refused{Field: "room", Err: err}
	}
	v := store.RoomReading{Temp: float64(r.Value), Source: FromTyped}
	if strings.TrimSpace(humidity) != "" {
		if v.Humidity, err = units.ParseShare(humidity); err != nil {
			return Room{}, &form.Refused{Field: "humidity", Err: err}
		}
	}
	if err := believable(v); err != nil {
		return Room{}, err
	}
	if err := s.keepRoom(ctx, v); err != nil {
		return Room{}, err
	}
	return s.RoomNow(ctx)
}

// believable refuses air nobody pours in.
func believable(v store.RoomReading) error {
	if !(v.Temp >= coldestBelieved && v.Temp <= hottestBelieved) {
		return form.Refusef("room", "the room must be between −5 and 45 °C")
	}
	if !(v.Humidity >= 0 && v.Humidity <= 1) {
		return form.Refusef("humidity", "humidity is between 0 and 100 %%")
	}
	return nil
}

// longestName bounds the name a sensor gives itself.
const longestName = 60

// PostRoom keeps what a sensor posted. What cannot be is refused and the last
// reading holds; the same again within minutes is no news.
func (s *Service) PostRoom(ctx context.Context, t units.Temperature, humidity float64, who string) error {
	v := store.RoomReading{Temp: float64(t), Humidity: humidity, Source: FromSensor, Who: strings.TrimSpace(who)}
	if err := believable(v); err != nil {
		return err
	}
	if len([]rune(v.Who)) > longestName {
		return form.Refusef("sensor", "a sensor's name has at most %d characters", longestName)
	}
	state, err := s.RoomNow(ctx)
	if err != nil {
		return err
	}
	if words := state.disbelief(device.Climate{Temperature: t, OK: true}, s.now()); words != nil {
		return form.Refusef("room", "%s", words)
	}
	if state.Source == FromSensor && state.Who == v.Who && math.Abs(v.Temp-float64(state.Temperature)) < lookLeast-1e-9 &&
		s.now().Sub(state.At) < lookEvery {
		return nil
	}
	return s.keepRoom(ctx, v)
}

// An Air is the room's climate while a coat was made.
type Air struct {
	Low, High         units.Temperature
	DampLow, DampHigh float64 // humidity, 0 to 1; 0 where nobody noted it
	Readings          int
}

// airOf sums up the readings of a span; a reading before it holds until the
// next.
func airOf(rows []store.RoomReading, to time.Time) Air {
	var a Air
	for _, r := range rows {
		if r.At.After(to) {
			break
		}
		t := units.Temperature(r.Temp)
		if a.Readings == 0 {
			a.Low, a.High = t, t
		}
		a.Readings++
		a.Low, a.High = min(a.Low, t), max(a.High, t)
		if r.Humidity > 0 {
			if a.DampHigh == 0 {
				a.DampLow = r.Humidity
			}
			a.DampLow, a.DampHigh = min(a.DampLow, r.Humidity), max(a.DampHigh, r.Humidity)
		}
	}
	return a
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
