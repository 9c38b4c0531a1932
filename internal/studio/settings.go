package studio

import (
	"context"
	"errors"
	"fmt"
	"sort"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

const settingsKey = "studio"

// Recoat is a school of going on after a coat (handbook 10).
type Recoat string

// The schools of recoating.
const (
	RecoatScuff Recoat = "scuff" // from Hard, after sanding lightly: the default, it forgives a missed hour
	RecoatTacky Recoat = "tacky" // in Tacky: bonds by itself, but the window may open at night
	RecoatPlain Recoat = "plain" // from Hard, without sanding: quick, may peel
)

// Settings are the ways of one studio.
type Settings struct {
	Units     units.System
	Room      units.Temperature
	OpenFrom  string // "08:00"
	OpenTo    string
	ScaleStep units.Mass
	JugStep   units.Volume
	CupLoss   units.Volume
	Recoat    Recoat
	DaysOff   string            // weekdays: "sat, sun"
	Closed    string            // single days: "2026-12-24"
	Night     units.Temperature // of the shut studio; 0 for as by day
	Shelf     string            // level places: "6 of 60 x 60 cm"
	Ways      map[string]string // schools, by their keys, where not the default
	RemindAt  string            // "07:00"; "" for no reminders
	MailTo    string
	Mail      MailServer
	Moulds    string // small moulds kept ready: "coaster 25 mL; test tile 17 mL"
	Rev       int64
}

// A MailServer is where letters are handed over; without a host they stay in
// the outbox.
type MailServer struct {
	Host, User, Password, From string
	Port                       int
}

// DefaultSettings returns what a studio starts with.
func DefaultSettings() Settings {
	return Settings{
		Units: units.Metric, Room: 21, OpenFrom: "08:00", OpenTo: "20:00",
		ScaleStep: 0.1, JugStep: 5, CupLoss: 3, Recoat: RecoatScuff,
		DaysOff: "sun", Shelf: "6 of 60 x 60 cm; 2 of 120 x 90 cm", RemindAt: "07:00", Mail: MailServer{Port: 587},
		Moulds: "coaster 25 mL; test tile 17 mL; pendant 6 mL",
	}
}

// Settings returns the studio's settings.
func (s *Studio) Settings(ctx context.Context) (Settings, error) { return ReadSettings(ctx, s.store) }

// ReadSettings returns the settings kept in a store, the defaults in an empty
// one.
func ReadSettings(ctx context.Context, db *store.Store) (Settings, error) {
	set := DefaultSettings()
	_, err := db.Setting(ctx, settingsKey, &set)
	return set, err
}

// EditSettings takes typed values; nothing is kept while one is refused.
func (s *Studio) EditSettings(ctx context.Context, values map[string]string) (Settings, Notices, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return set, Notices{}, err
	}
	// Typed values were shown in the system that stood until now.
	notices := settingsFields.apply(&set, values, set.Units)
	if rev, shown := values["rev"]; shown && rev != strconv.FormatInt(set.Rev, 10) {
		notices.Errors["units"] = "the settings were changed on another page; look at them again, then keep"
	}
	if _, _, err := set.hours(); err != nil {
		notices.Errors["open_to"] = err.Error()
	}
	if !notices.OK() {
		return set, notices, nil
	}
	set.Rev++
	if err := s.store.SetSetting(ctx, settingsKey, set); err != nil {
		return set, notices, err
	}
	// A scale that can be told its step, as the simulated one, follows.
	if scale, ok := s.scale.(interface{ SetStep(units.Mass) }); ok {
		scale.SetStep(set.ScaleStep)
	}
	return set, notices, nil
}

var settingsFields = append(schoolFields(), Fields[Settings]{
	choiceField("units", "Units", func(s *Settings) *units.System { return &s.Units }, units.Metric, units.US),
	temperatureField("room", "Room", func(s *Settings) *units.Temperature { return &s.Room }, 5, 45),
	clockField("open_from", "Work from", func(s *Settings) *string { return &s.OpenFrom }),
	clockField("open_to", "Work until", func(s *Settings) *string { return &s.OpenTo }),
	massField("scale_step", "Scale reads to", func(s *Settings) *units.Mass { return &s.ScaleStep }, 0.001, 50),
	volumeField("jug_step", "Jug reads to", func(s *Settings) *units.Volume { return &s.JugStep }, 0.1, 1000),
	volumeField("cup_loss", "Stays in a cup", func(s *Settings) *units.Volume { return &s.CupLoss }, 0, 100),
	mouldsField(),
	choiceField("recoat", "Next coat", func(s *Settings) *Recoat { return &s.Recoat }, RecoatScuff, RecoatTacky, RecoatPlain),
	daysOffField(),
	closedField(),
	shelfField(),
	nightField(),
	optional(clockField("remind_at", "Reminder at", func(s *Settings) *string { return &s.RemindAt })),
	textField("mail_to", "Reminders go to", func(s *Settings) *string { return &s.MailTo }, 200, false),
	textField("mail_host", "Mail server", func(s *Settings) *string { return &s.Mail.Host }, 200, false),
	countField("mail_port", "Port", func(s *Settings) *int { return &s.Mail.Port }, 1, 65535),
	textField("mail_user", "User", func(s *Settings) *string { return &s.Mail.User }, 200, false),
	textField("mail_password", "Password", func(s *Settings) *string { return &s.Mail.Password }, 200, false),
	textField("mail_from", "From", func(s *Settings) *string { return &s.Mail.From }, 200, false),
}...)

// nightField is the temperature at night, empty for as by day.
func nightField() Field[Settings] {
	f := temperatureField("night", "Room at night", func(s *Settings) *units.Temperature { return &s.Night }, 5, 45)
	get := f.Get
	f.Get = func(s *Settings, sys units.System) string {
		if s.Night == 0 {
			return ""
		}
		return get(s, sys)
	}
	set := f.Set
	f.Set = func(s *Settings, text string, sys units.System) (string, error) {
		if strings.TrimSpace(text) == "" {
			s.Night = 0
			return "", nil
		}
		return set(s, text, sys)
	}
	return f
}

// optional lets a text field be empty.
func optional(f Field[Settings]) Field[Settings] {
	set := f.Set
	f.Set = func(s *Settings, text string, sys units.System) (string, error) {
		if strings.TrimSpace(text) == "" {
			s.RemindAt = ""
			return "", nil
		}
		return set(s, text, sys)
	}
	return f
}

// mouldsField reads small moulds as "coaster 25 mL; test tile 17 mL".
func mouldsField() Field[Settings] {
	return parsedField("moulds", "Small moulds at hand", func(s *Settings) *string { return &s.Moulds }, parseMoulds)
}

func parseMoulds(text string) ([]SmallMould, error) {
	var out []SmallMould
	for part := range strings.SplitSeq(text, ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		at := strings.IndexAny(part, "0123456789")
		if at < 1 {
			return nil, fmt.Errorf("%q is not a mould; write coaster 25 mL; test tile 17 mL", part)
		}
		v, err := units.ParseVolume(part[at:], "ml")
		if err != nil {
			return nil, err
		}
		if v.Value < 1 || v.Value > 2000 || len(out) == 20 {
			return nil, errors.New("up to twenty small moulds of 1 mL to 2 L")
		}
		out = append(out, SmallMould{Name: strings.TrimSpace(part[:at]), Volume: v.Value})
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Volume > out[j].Volume })
	return out, nil
}

// SmallMoulds returns the moulds at hand, largest first.
func (s Settings) SmallMoulds() []SmallMould {
	moulds, err := parseMoulds(s.Moulds)
	if err != nil {
		return nil // kept only after it was read
	}
	return moulds
}

// Values returns the settings as typed text.
func (s Settings) Values() map[string]string { return settingsFields.values(&s, s.Units) }

// hours returns the opening hours as minutes of the day.
func (s Settings) hours() (from, to int, err error) {
	parse := func(text string) (int, error) {
		t, err := time.Parse("15:04", text)
		return t.Hour()*60 + t.Minute(), err
	}
	from, err1 := parse(s.OpenFrom)
	to, err2 := parse(s.OpenTo)
	if err := errors.Join(err1, err2); err != nil {
		return 0, 0, fmt.Errorf("opening hours look like 08:00")
	}
	if to-from < 60 {
		return 0, 0, errors.New("the studio must be open for at least an hour a day")
	}
	return from, to, nil
}

// open returns the opening interval of the day t lies in.
func (s Settings) open(t time.Time) (from, to time.Time) {
	a, b, err := s.hours()
	if err != nil {
		a, b = 8*60, 20*60
	}
	y, m, d := t.Date()
	at := func(minutes int) time.Time { return time.Date(y, m, d, minutes/60, minutes%60, 0, 0, t.Location()) }
	return at(a), at(b)
}

// Slot returns the earliest start at or after t of work that takes d whole
// within opening hours. Work longer than a day's hours starts at opening.
func (s Settings) Slot(t time.Time, d time.Duration) time.Time {
	for range 400 { // a year of days off
		from, to := s.open(t)
		if t.Before(from) {
			t = from
		}
		if !s.closedOn(t) && (!t.Add(d).After(to) || (t.Equal(from) && d > to.Sub(from))) {
			return t
		}
		y, m, day := t.Date()
		t, _ = s.open(time.Date(y, m, day+1, 12, 0, 0, 0, t.Location()))
	}
	return t
}

// Awake reports whether any of the stretch lies in opening hours, and returns
// its first such moment.
func (s Settings) Awake(from, to time.Time) (time.Time, bool) {
	t := s.Slot(from, 0)
	return t, t.Before(to)
}
