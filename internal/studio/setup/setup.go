// Package setup is how a studio is set up: units, room, hours, schools, places,
// letters. What a painter types is kept typed, and secrets apart from all else.
package setup

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/words"
)

// SettingsKey is the setting the settings are kept under.
const SettingsKey = "studio"

// Settings are the ways of one studio.
type Settings struct {
	Units     units.System
	Language  words.Language
	Room      units.Temperature
	Night     units.Temperature // of the shut studio; 0 for as by day
	Calendar  calendar.Calendar
	Rack      []calendar.Class `json:"Shelf"` // level places
	Humidity  float64          // of the room's air, 0 to 1; 0 where nobody knows
	People    int              // usually at the bench
	Machine   float64          // minutes a mixing machine takes; 0 for none
	Gloss     float64          // of finished films: 1 a mirror, 0 dead matt
	ScaleStep units.Mass
	JugStep   units.Volume
	Jug       units.Volume // the largest mixing cup; 0 for the usual one
	CupLoss   units.Volume
	Moulds    []plan.SmallMould // kept ready
	Ways      school.Answers    // where not the default
	RemindAt  string            // "07:00"; "" for no reminders
	MailTo    string
	Mail      Mail
	Own       plan.Calibration // of forecasts
	Rev       int64
}

// Lang says texts in the studio's language.
func (s Settings) Lang() msg.Lang { return words.In(s.Language) }

// Style is how the studio writes.
func (s Settings) Style() form.Style { return form.Style{Units: s.Units, Lang: s.Lang()} }

// Mail is where letters are handed over; without a host they stay in the
// outbox. The password is kept apart, see [Secrets].
type Mail struct {
	Host, User, From string
	Port             int
}

// Default returns what a studio starts with.
func Default() Settings {
	week, _ := calendar.ParseWeek("mon-sat 08:00-20:00")
	rack, _ := calendar.ParseRack("6 of 60 x 60 cm; 2 of 120 x 90 cm")
	moulds, _ := parseMoulds("coaster 25 mL; test tile 17 mL; pendant 6 mL")
	return Settings{
		Units: units.Metric, Language: words.English, Room: 21, Calendar: calendar.Calendar{Week: week}, Rack: rack,
		Gloss: 1, People: 1, ScaleStep: 0.1, JugStep: 5, CupLoss: 3, Moulds: moulds, RemindAt: "07:00", Mail: Mail{Port: 587},
	}
}

// Surface returns what a finished film does to light.
func (s Settings) Surface() colour.Surface { return colour.Finish(s.Gloss) }

// A Service reads and changes the settings.
type Service struct {
	store   *store.Store
	now     func() time.Time
	secrets Secrets
}

// New returns the service; secrets keeps what must not lie in the database.
func New(db *store.Store, now func() time.Time, secrets Secrets) *Service {
	return &Service{db, now, secrets}
}

// Secrets keeps passwords apart from the data and from every backup of it.
type Secrets interface {
	Get(name string) (string, error) // "" when there is none
	Set(name, value string) error
}

// MailPassword is the name of the mail server's password among the secrets.
const MailPassword = "mail_password"

// Settings returns the settings as they stand.
func (s *Service) Settings(ctx context.Context) (Settings, error) { return Read(ctx, s.store.Reader) }

// Read returns the settings kept in a store, the defaults in an empty one.
func Read(ctx context.Context, r store.Reader) (Settings, error) {
	var doc json.RawMessage
	found, err := r.Setting(ctx, SettingsKey, &doc)
	if err != nil || !found {
		return Default(), err
	}
	set := Default()
	if err := json.Unmarshal(doc, &set); err != nil {
		return Default(), fmt.Errorf("read the settings: %w", err)
	}
	return set, nil
}

// Password returns the mail server's password.
func (s *Service) Password() (string, error) { return s.secrets.Get(MailPassword) }

// SensorKey is the name of the key, among the secrets, that a room sensor sends.
const SensorKey = "sensor_key"

// Key returns the key of room sensors, "" while none was made.
func (s *Service) Key() (string, error) { return s.secrets.Get(SensorKey) }

// RenewKey makes a new key, so that an older one stops working.
func (s *Service) RenewKey() error {
	raw := make([]byte, 16)
	if _, err := rand.Read(raw); err != nil {
		return err
	}
	return s.secrets.Set(SensorKey, hex.EncodeToString(raw))
}

// DropKey forgets the key: no sensor may post any more.
func (s *Service) DropKey() error { return s.secrets.Set(SensorKey, "") }

// Opens reports whether a key is that of the studio's sensors.
func (s *Service) Opens(key string) (bool, error) {
	want, err := s.Key()
	return want != "" && subtle.ConstantTimeCompare([]byte(key), []byte(want)) == 1, err
}

// Has reports whether the studio was ever set up.
func (s *Service) Has(ctx context.Context) (bool, error) {
	var doc json.RawMessage
	return s.store.Setting(ctx, SettingsKey, &doc)
}

// Begin keeps the default settings in a new studio and brings the document of
// an older one up to date, its password out of the database.
func (s *Service) Begin(ctx context.Context) error {
	var doc json.RawMessage
	found, err := s.store.Setting(ctx, SettingsKey, &doc)
	if err != nil {
		return err
	}
	set := Default()
	if found {
		var old settingsV1
		if err := json.Unmarshal(doc, &old); err != nil {
			return fmt.Errorf("read the settings: %w", err)
		}
		if !old.isOld() {
			return nil
		}
		if set, err = old.upgrade(); err != nil {
			return err
		}
		if old.Mail.Password != "" {
			if err := s.secrets.Set(MailPassword, old.Mail.Password); err != nil {
				return fmt.Errorf("keep the mail password apart: %w", err)
			}
		}
	}
	return s.store.Write(ctx, "keep the settings",
		func(tx *store.Tx) error { return tx.SetSetting(ctx, SettingsKey, set) })
}

// settingsV1 is the document of the first version, which kept what was typed.
type settingsV1 struct {
	Units            units.System
	Room, Night      units.Temperature
	OpenFrom, OpenTo string
	DaysOff, Closed  string
	Rack             json.RawMessage `json:"Shelf"`
	Moulds           json.RawMessage
	ScaleStep        units.Mass
	JugStep, CupLoss units.Volume
	Recoat           string
	Ways             map[string]string
	RemindAt, MailTo string
	Mail             struct {
		Host, User, Password, From string
		Port                       int
	}
	Rev int64
}

func (o settingsV1) isOld() bool { return o.OpenFrom != "" }

func (o settingsV1) upgrade() (Settings, error) {
	set := Default()
	set.Units, set.Room, set.Night, set.ScaleStep, set.JugStep, set.CupLoss = o.Units, o.Room, o.Night, o.ScaleStep,
		o.JugStep, o.CupLoss
	set.RemindAt, set.MailTo, set.Rev = o.RemindAt, o.MailTo, o.Rev
	set.Mail = Mail{Host: o.Mail.Host, User: o.Mail.User, From: o.Mail.From, Port: o.Mail.Port}
	set.Ways = school.Answers{}
	for k, v := range o.Ways {
		set.Ways[k] = v
	}
	if o.Recoat != "" {
		set.Ways[school.Recoat] = o.Recoat
	}
	var err error
	if set.Calendar.Week, err = o.week(); err != nil {
		return set, err
	}
	var closed []string
	for day := range strings.FieldsFuncSeq(o.Closed, func(r rune) bool { return r == ',' || r == ';' || r == ' ' }) {
		closed = append(closed, day)
	}
	if set.Calendar.Singles, err = calendar.ParseSingles(strings.Join(closed, "; "), time.Time{}, false); err != nil {
		return set, err
	}
	var rack, moulds string
	if json.Unmarshal(o.Rack, &rack) == nil {
		if set.Rack, err = calendar.ParseRack(rack); err != nil {
			return set, err
		}
	}
	if json.Unmarshal(o.Moulds, &moulds) == nil {
		set.Moulds, err = parseMoulds(moulds)
	}
	return set, err
}

func (o settingsV1) week() (calendar.Week, error) {
	from, err := calendar.ParseClock(o.OpenFrom)
	if err != nil {
		return calendar.Week{}, err
	}
	to, err := calendar.ParseClock(o.OpenTo)
	if err != nil {
		return calendar.Week{}, err
	}
	names := []string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}
	var off []string
	for day := range strings.FieldsFuncSeq(strings.ToLower(o.DaysOff),
		func(r rune) bool { return r == ',' || r == ';' || r == ' ' }) {
		off = append(off, day)
	}
	var w calendar.Week
	for i, name := range names {
		if !slices.Contains(off, name) {
			w[i] = calendar.Day{{From: from, To: to}}
		}
	}
	return w, nil
}

// errRefused ends a transaction in which a value was refused.
var errRefused = refusal.New("refused")

// Edit takes typed values; nothing is kept while one is refused. What stands is read
// and changed in one transaction, so that of two pages only one is kept.
func (s *Service) Edit(ctx context.Context, typed map[string]string) (Settings, Notices, error) {
	var set Settings
	var n Notices
	err := s.store.Write(ctx, "keep the settings", func(tx *store.Tx) (err error) {
		if set, err = Read(ctx, tx.Reader); err != nil {
			return err
		}
		typed, wrong := s.dated(typed, set.Language)
		n = Fields.Apply(&set, typed, set.Style()) // as they were shown until now
		if wrong != nil {
			n.Errors["singles"] = msg.Of(wrong)
		}
		if rev, shown := typed["rev"]; shown && rev != strconv.FormatInt(set.Rev, 10) {
			n.Refuse("units", msg.ID("the settings were changed on another page; look at them again, then save"))
		}
		if !n.OK() {
			return errRefused
		}
		if err = keepBefore(ctx, tx); err != nil {
			return err
		}
		set.Rev++
		return tx.SetSetting(ctx, SettingsKey, set)
	})
	if errors.Is(err, errRefused) {
		return set, n, nil
	}
	if password := typed[MailPassword]; err == nil && password != "" {
		if err := s.secrets.Set(MailPassword, password); err != nil {
			return set, n, fmt.Errorf("keep the mail password: %w", err)
		}
	}
	return set, n, err
}

// dated gives the exceptions that were typed their years, as of today.
func (s *Service) dated(typed map[string]string, language words.Language) (map[string]string, error) {
	days, err := calendar.ParseSingles(typed["singles"], s.now(), language == words.American)
	if err != nil || len(days) == 0 {
		return typed, err
	}
	out := maps.Clone(typed)
	out["singles"] = calendar.SinglesText(days)
	return out, nil
}

// BeforeKey is where the settings stand as they were before they were saved last.
const BeforeKey = SettingsKey + ".before"

func keepBefore(ctx context.Context, tx *store.Tx) error {
	was, err := Read(ctx, tx.Reader)
	if err != nil {
		return err
	}
	return tx.SetSetting(ctx, BeforeKey, was)
}

// changedSince reports that something else was set since, a day's own hours or what results
// taught, which would be lost.
func changedSince(before, now Settings) bool { return now.Rev != before.Rev+1 }

// TakeBack makes the settings what they were before they were saved last; done again it makes
// the change again. The mail password stays.
func (s *Service) TakeBack(ctx context.Context) error {
	return s.store.Write(ctx, "take the change back", func(tx *store.Tx) error {
		before := Default()
		found, err := tx.Setting(ctx, BeforeKey, &before)
		if err != nil {
			return err
		}
		now, err := Read(ctx, tx.Reader)
		if err != nil {
			return err
		}
		switch {
		case !found:
			return store.ErrNotFound
		case changedSince(before, now):
			return form.Refusef("units", "something else was set since; change it by hand, so that it is not lost")
		}
		if err := tx.SetSetting(ctx, BeforeKey, now); err != nil {
			return err
		}
		before.Rev = now.Rev + 1
		return tx.SetSetting(ctx, SettingsKey, before)
	})
}

// SayDay gives a day hours of its own, said in words (see calendar.Said). A day that
// is not understood is refused at field day.
func (s *Service) SayDay(ctx context.Context, text string, today time.Time) (calendar.Single, error) {
	var one calendar.Single
	err := s.rewrite(ctx, "keep a day's hours", func(set *Settings) (err error) {
		if one, err = set.Calendar.Said(text, today, set.Language == words.American); err != nil {
			return &form.Refused{Field: "day", Err: err}
		}
		if set.Calendar = set.Calendar.With(one); len(set.Calendar.Singles) > calendar.MostSingles {
			return form.Refusef("day", "that is more than a year of exceptions; remove old ones in the settings")
		}
		return nil
	})
	return one, err
}

// DropDay gives a day its usual hours again.
func (s *Service) DropDay(ctx context.Context, date string) error {
	return s.rewrite(ctx, "keep a day's usual hours", func(set *Settings) error {
		set.Calendar = set.Calendar.Without(date)
		return nil
	})
}

// rewrite changes the settings as they stand.
func (s *Service) rewrite(ctx context.Context, what string, change func(*Settings) error) error {
	return s.store.Write(ctx, what, func(tx *store.Tx) error {
		set, err := Read(ctx, tx.Reader)
		if err != nil {
			return err
		}
		if err := change(&set); err != nil {
			return err
		}
		set.Rev++
		return tx.SetSetting(ctx, SettingsKey, set)
	})
}

// Calibrate changes what forecasts are brought to by this studio's results.
func (s *Service) Calibrate(ctx context.Context, change func(*plan.Calibration)) error {
	return s.rewrite(ctx, "calibrate the forecasts", func(set *Settings) error {
		change(&set.Own)
		return nil
	})
}
