package setup

import (
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// Notices are the messages beside typed values.
type Notices = form.Notices

// Fields is the catalogue of the settings.
var Fields = append(schoolFields(), form.Fields[Settings]{
	form.Choice("units", "Units", func(s *Settings) *units.System { return &s.Units },
		form.Option{Value: "metric", Label: msg.ID("Metric")}, form.Option{Value: "us", Label: msg.ID("US")}),
	form.Choice("language", "Language", func(s *Settings) *words.Language { return &s.Language }, languages()...),
	form.Temperature("room", "Room temperature", func(s *Settings) *units.Temperature { return &s.Room }, 5,
		45).Hinted("21 °C or 70F"),
	form.Temperature("night", "Room at night", func(s *Settings) *units.Temperature { return &s.Night }, 5, 45).
		OrNothing(func(s *Settings) bool { return s.Night == 0 }, func(s *Settings) { s.Night = 0 }).Hinted("same as by day"),
	form.Share("humidity", "Humidity", func(s *Settings) *float64 { return &s.Humidity }, 1).
		OrNothing(func(s *Settings) bool { return s.Humidity == 0 },
			func(s *Settings) { s.Humidity = 0 }).Hinted("not known"),
	form.Share("gloss", "Gloss of finished films", func(s *Settings) *float64 { return &s.Gloss },
		1).Hinted("100 % a mirror, 0 % dead matt"),
	form.Parsed("hours", "Opening hours", func(s *Settings) *calendar.Week { return &s.Calendar.Week },
		func(w calendar.Week, _ units.System) string {
			return w.String()
		}, calendar.ParseWeek).Said(words.Hours).Hinted("mon-fri 08:00-18:00; sat 10:00-16:00").Broad(),
	form.Parsed("singles", "Exceptions", func(s *Settings) *[]calendar.Single { return &s.Calendar.Singles },
		func(d []calendar.Single, _ units.System) string { return calendar.SinglesText(d) },
		func(text string) ([]calendar.Single, error) { return calendar.ParseSingles(text, time.Time{}, false) }).
		Said(words.Hours).Hinted("24 Dec - 2 Jan closed; 2027-01-09 10:00-14:00").Broad(),
	form.Parsed("rack", "Drying rack: level, covered places", func(s *Settings) *[]calendar.Class { return &s.Rack },
		calendar.RackText, calendar.ParseRack).Said(words.Sizes).Hinted("6 of 60 x 60 cm; 2 of 120 x 90 cm").Broad(),
	form.Count("people", "People at the bench", func(s *Settings) *int { return &s.People }, 1, 3),
	form.Minutes("machine", "A mixing machine takes", "min", func(s *Settings) *float64 { return &s.Machine }, 0.25, 30).
		OrNothing(func(s *Settings) bool { return s.Machine == 0 }, func(s *Settings) { s.Machine = 0 }).Hinted("no machine"),
	form.Mass("scale_step", "Scale reads to", func(s *Settings) *units.Mass { return &s.ScaleStep }, 0.001, 50),
	form.Volume("jug_step", "Jug reads to", func(s *Settings) *units.Volume { return &s.JugStep }, 0.1, 1000),
	form.Volume("jug", "Largest mixing cup", func(s *Settings) *units.Volume { return &s.Jug }, 50, 20000).
		OrNothing(func(s *Settings) bool { return s.Jug == 0 },
			func(s *Settings) { s.Jug = 0 }).Hinted("950 mL"), // [plan.UsualJug]
	form.Volume("cup_loss", "Stays in a cup", func(s *Settings) *units.Volume { return &s.CupLoss }, 0, 100),
	form.Parsed("moulds", "Small moulds at hand", func(s *Settings) *[]plan.SmallMould { return &s.Moulds }, mouldsText,
		parseMoulds).Said(form.Figures).Hinted("coaster 25 mL; test tile 17 mL").Broad(),
	form.Parsed("remind_at", "Reminder at", func(s *Settings) *string { return &s.RemindAt },
		func(t string, _ units.System) string { return t }, parseHour).Hinted("07:00, or empty"),
	form.Text("mail_to", "Reminders go to", func(s *Settings) *string { return &s.MailTo }, 200, false),
	form.Text("mail_host", "Mail server", func(s *Settings) *string { return &s.Mail.Host }, 200, false),
	form.Count("mail_port", "Port", func(s *Settings) *int { return &s.Mail.Port }, 1, 65535),
	form.Text("mail_user", "User", func(s *Settings) *string { return &s.Mail.User }, 200, false),
	form.Text("mail_from", "From", func(s *Settings) *string { return &s.Mail.From }, 200, false),
}...)

func languages() []form.Option {
	var out []form.Option
	for _, l := range words.Languages {
		out = append(out, form.Option{Value: string(l.Language), Label: msg.Own(l.Name)})
	}
	return out
}

// Values returns the settings as typed text.
func (s Settings) Values() map[string]string { return Fields.Values(&s, s.Units) }

// SchoolField is the key of the field that asks a question.
func SchoolField(key string) string { return "school." + key }

func schoolFields() form.Fields[Settings] {
	var out form.Fields[Settings]
	for _, q := range school.Questions {
		options := make([]form.Option, len(q.Ways))
		for i, w := range q.Ways {
			options[i] = form.Option{Value: w.Key, Label: w.Words}
		}
		out = append(out, form.Field[Settings]{Key: SchoolField(q.Key), Label: q.Question, Kind: form.Choose,
			Options: options, Hint: q.Reason,
			Get: func(s *Settings, _ units.System) string { return s.Ways.Way(q.Key) },
			Set: func(s *Settings, text string, _ units.System) (msg.Text, error) {
				if !slices.ContainsFunc(q.Ways, func(w school.Way) bool { return w.Key == text }) {
					return nil, refusal.New("%q is not one of the options", text)
				}
				ways := school.Answers{q.Key: text}
				for k, v := range s.Ways {
					if k != q.Key {
						ways[k] = v
					}
				}
				s.Ways = ways
				return nil, nil
			}})
	}
	return out
}

func parseHour(text string) (string, error) {
	if strings.TrimSpace(text) == "" {
		return "", nil
	}
	k, err := calendar.ParseClock(text)
	return k.String(), err
}

// parseMoulds reads small moulds as coaster 25 mL; test tile 17 mL, and returns
// them largest first.
func parseMoulds(text string) ([]plan.SmallMould, error) {
	var out []plan.SmallMould
	for part := range strings.SplitSeq(text, ";") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		at := strings.IndexAny(part, "0123456789")
		if at < 1 {
			return nil, refusal.New("%q is not a mould; write coaster 25 mL; test tile 17 mL", part)
		}
		v, err := units.ParseVolume(part[at:], "ml")
		if err != nil {
			return nil, err
		}
		if v.Value < 1 || v.Value > 2000 || len(out) == 20 {
			return nil, refusal.New("up to twenty small moulds of 1 mL to 2 L")
		}
		out = append(out, plan.SmallMould{Name: strings.TrimSpace(part[:at]), Volume: v.Value})
	}
	slices.SortStableFunc(out, func(a, b plan.SmallMould) int { return int(1000 * (b.Volume - a.Volume)) })
	return out, nil
}

func mouldsText(moulds []plan.SmallMould, sys units.System) string {
	parts := make([]string, len(moulds))
	for i, m := range moulds {
		parts[i] = m.Name + " " + form.VolumeText(m.Volume, sys)
	}
	return strings.Join(parts, "; ")
}
