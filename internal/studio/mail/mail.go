// Package mail makes the studio's output for other programs: letters of the
// day, and the calendar with its secret address. Both print the one agenda.
package mail

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"sync"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/exchange/calendarfile"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/today"
	"jevvo/internal/words"
)

// A Mailer hands a letter over; without a server it only keeps it.
type Mailer interface {
	Send(ctx context.Context, server device.MailServer, m device.Message) error
}

// A Service writes letters and calendars.
type Service struct {
	store  *store.Store
	setup  *setup.Service
	agenda *agenda.Service
	today  *today.Service
	mail   Mailer
	now    func() time.Time

	mu    sync.Mutex
	quiet string // the day of which there was nothing to write
}

// New returns the service; mail may be nil where letters are only kept.
func New(db *store.Store, set *setup.Service, ag *agenda.Service, td *today.Service, mail Mailer,
	now func() time.Time) *Service {
	return &Service{store: db, setup: set, agenda: ag, today: td, mail: mail, now: now}
}

// A Letter is a message, kept in the outbox whether or not it is sent.
type Letter struct {
	ID                int64     `json:"-"`
	At, Sent          time.Time `json:"-"`
	Failure           string    `json:"-"`
	To, Subject, Body string
}

// mostLetters is how many letters the outbox shows.
const mostLetters = 200

// Letters returns the outbox, newest first.
func (s *Service) Letters(ctx context.Context) ([]Letter, error) {
	rows, err := s.store.Letters(ctx, mostLetters)
	if err != nil {
		return nil, err
	}
	out := make([]Letter, len(rows))
	for i, row := range rows {
		if err := json.Unmarshal(row.Doc, &out[i]); err != nil {
			return nil, fmt.Errorf("read the letter %d: %w", row.ID, err)
		}
		out[i].ID, out[i].At, out[i].Sent, out[i].Failure = row.ID, row.At, row.Sent, row.Failure
	}
	return out, nil
}

// Words says what became of the letter.
func (l Letter) Words(server setup.Mail) msg.Text {
	switch {
	case l.Failure != "":
		return msg.F("not sent: %s", l.Failure)
	case l.Sent.IsZero():
		return msg.ID("not sent yet")
	case server.Host == "":
		return msg.ID("in the outbox; no mail server is set up")
	}
	return msg.F("sent %s", msg.Date(l.Sent.Local(), "15:04"))
}

// Remind writes the letter of the day once the hour for it has come, and hands
// it over. At any time of the day it is written once.
func (s *Service) Remind(ctx context.Context) error {
	set, err := s.setup.Settings(ctx)
	if err != nil || set.RemindAt == "" {
		return err
	}
	now := s.now().Local()
	at, err := time.ParseInLocation("2006-01-02 15:04", now.Format(time.DateOnly)+" "+set.RemindAt, time.Local)
	if err != nil || now.Before(at) {
		return err
	}
	return s.remind(ctx, set, now.Format(time.DateOnly))
}

// remind writes the letter of a day, once, and none of a day that says nothing.
func (s *Service) remind(ctx context.Context, set setup.Settings, date string) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.quiet == date {
		return nil
	}
	day, err := s.today.Today(ctx)
	if err != nil {
		return err
	}
	if len(day.Wet)+len(day.Do)+len(day.Due)+len(day.Money)+len(day.Low) == 0 {
		s.quiet = date
		return nil
	}
	return s.post(ctx, set, "day "+date, dayLetter(day, set.MailTo))
}

// RemindNow writes and hands over a letter of this moment.
func (s *Service) RemindNow(ctx context.Context) error {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return err
	}
	day, err := s.today.Today(ctx)
	if err != nil {
		return err
	}
	return s.post(ctx, set, "asked "+s.now().UTC().Format(time.RFC3339Nano), dayLetter(day, set.MailTo))
}

// Send writes a letter with files and hands it over; once for each key.
func (s *Service) Send(ctx context.Context, key string, letter Letter, files ...device.File) error {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return err
	}
	return s.post(ctx, set, key, letter, files...)
}

// post keeps a letter once for its key and hands it over.
func (s *Service) post(ctx context.Context, set setup.Settings, key string, letter Letter, files ...device.File) error {
	id, fresh := int64(0), false
	err := s.store.Write(ctx, "keep the letter", func(tx *store.Tx) (err error) {
		id, fresh, err = tx.WriteLetter(ctx, key, letter, s.now())
		return err
	})
	if err != nil || !fresh || s.mail == nil {
		return err
	}
	password, err := s.setup.Password()
	if err != nil {
		return err
	}
	server := device.MailServer{Host: set.Mail.Host, User: set.Mail.User, Password: password, Port: set.Mail.Port}
	failure := ""
	if err := s.mail.Send(ctx, server, device.Message{ID: id, From: set.Mail.From, To: letter.To, Subject: letter.Subject,
		Body: letter.Body, At: s.now(), Files: files}); err != nil {
		failure = err.Error()
	}
	return s.store.Write(ctx, "mark the letter",
		func(tx *store.Tx) error { return tx.LetterSent(ctx, id, s.now(), failure) })
}

// dayLetter is the reminder of a day: what to do when, what is wet, what is
// late.
func dayLetter(t today.Today, to string) Letter {
	sys, l := t.Agenda.Book.Settings.Units, t.Agenda.Book.Settings.Lang()
	var lines []string
	say := func(text msg.Text) { lines = append(lines, msg.Say(text, l)) }
	say(msg.Date(t.Agenda.Now, "Monday 2 January 2006"))
	say(nil)
	for _, v := range t.Wet {
		if v.Current != nil {
			say(msg.F("Wet: %s, %s. %s %s", v.Piece, msg.Lower(v.Bench.Name), v.Current.Name, v.Current.Verdict))
		}
	}
	for _, task := range t.Do {
		say(taskLine(task, sys))
	}
	if len(t.Do) == 0 {
		say(msg.ID("Nothing to do today."))
	}
	say(nil)
	for _, p := range t.Due {
		say(dueLine(p))
	}
	for _, d := range t.Money {
		say(msg.Join(", ", msg.F("%s: %s", d.Name, d.Next.Words()), d.Next.When()))
	}
	for _, low := range t.Low {
		say(low.Words(sys, t.Agenda.Now))
	}
	count := msg.Text(msg.N(len(t.Do), "thing to do", "things to do"))
	if len(t.Do) == 0 {
		count = msg.ID("nothing to do")
	}
	subject := msg.F("%s: %s", msg.Date(t.Agenda.Now, "Mon 2 Jan"), count)
	return Letter{To: to, Subject: subject.In(l), Body: strings.TrimSpace(strings.Join(lines, "\n")) + "\n"}
}

// taskLine is a task of the day with its amount and its window.
func taskLine(task agenda.Task, sys units.System) msg.Text {
	line := msg.F("%s  %s: %s", msg.Date(task.Start, "15:04"), task.Piece, msg.Lower(words.Task(task.Task, task.Plan)))
	if c := task.Plan.Coat(task.Coat); c != nil && task.Kind == plan.TaskPour {
		line = msg.Join(", ", line, c.Total.Text(sys))
	}
	if !task.NotAfter.IsZero() {
		line = msg.F("%s (between %s and %s)", line, msg.Date(task.NotBefore, "15:04"), msg.Date(task.NotAfter, "15:04"))
	}
	return line
}

// dueLine says when a piece is due and when it is ready.
func dueLine(p agenda.Piece) msg.Text {
	due, ready := msg.Date(p.Due.Local(), "2 Jan"), msg.Date(p.End, "Mon 2 Jan 15:04")
	if p.Late > 0 {
		return msg.F("%s: late by %s, due %s, ready %s", p.Name, words.Spoken(p.Late.Minutes()), due, ready)
	}
	return msg.F("%s: due %s, ready %s", p.Name, due, ready)
}

type feed struct{ Secret string }

// FeedSecret returns the secret part of the calendar's address, "" while none
// was made.
func (s *Service) FeedSecret(ctx context.Context) (string, error) {
	var f feed
	_, err := s.store.Setting(ctx, store.CalendarSecret, &f)
	return f.Secret, err
}

// RenewFeed makes a new secret, so that an older address stops working.
func (s *Service) RenewFeed(ctx context.Context) error {
	raw := make([]byte, 16)
	if _, err := rand.Read(raw); err != nil {
		return err
	}
	return s.store.Write(ctx, "keep the calendar's address", func(tx *store.Tx) error {
		return tx.SetSetting(ctx, store.CalendarSecret, feed{hex.EncodeToString(raw)})
	})
}

// Begin makes the first secret of a studio.
func (s *Service) Begin(ctx context.Context) error {
	if secret, err := s.FeedSecret(ctx); err != nil || secret != "" {
		return err
	}
	return s.RenewFeed(ctx)
}

// Feed writes the calendar for whoever knows the secret.
func (s *Service) Feed(ctx context.Context, secret string, w io.Writer) error {
	want, err := s.FeedSecret(ctx)
	if err != nil {
		return err
	}
	if want == "" || subtle.ConstantTimeCompare([]byte(want), []byte(secret)) != 1 {
		return store.ErrNotFound
	}
	return s.Calendar(ctx, w)
}

// alarmBefore is how long before a task its alarm rings.
const alarmBefore = 15 * time.Minute

// Calendar writes the planned days as iCalendar.
func (s *Service) Calendar(ctx context.Context, w io.Writer) error {
	a, err := s.agenda.Current(ctx)
	if err != nil {
		return err
	}
	l := a.Book.Settings.Lang()
	events := make([]calendarfile.Event, 0, len(a.Tasks))
	for _, t := range a.Tasks {
		if t.Done {
			continue
		}
		e := calendarfile.Event{ID: fmt.Sprintf("%d-%s", t.PieceID, t.Key), Start: t.Start, End: t.End,
			Summary: msg.F("%s: %s", words.Task(t.Task, t.Plan), t.Piece).In(l),
			Text:    text(a, t), Changed: a.Now, Sequence: int(a.Now.Unix() / 60)}
		if t.Kind != plan.TaskLook && t.Kind != plan.TaskDeliver {
			e.Alarm = alarmBefore
		}
		events = append(events, e)
	}
	return calendarfile.Write(w, msg.ID("Studio days").In(l), events)
}

// text is the body of an entry: amounts, cups, window, cautions.
func text(a *agenda.Agenda, t agenda.Task) string {
	sys, l := a.Book.Settings.Units, a.Book.Settings.Lang()
	var b strings.Builder
	say := func(text msg.Text) { b.WriteString(msg.Say(text, l) + "\n") }
	if do := words.TaskDo(t.Task); msg.Is(do) {
		say(do)
	}
	if c := t.Plan.Coat(t.Coat); c != nil && t.Kind == plan.TaskPour {
		say(msg.F("All together %s.", c.Total.Text(sys)))
		for _, cup := range c.Cups {
			say(msg.F("%s: A %s, B %s", words.Filled(cup.Colour.Name), cup.A.Mass.Text(sys), cup.B.Mass.Text(sys)))
		}
		for _, m := range c.Materials {
			if m.Amount > 0 {
				say(msg.F("%s: %s", m.Title(), words.Material(m)))
			}
		}
	}
	if !t.NotAfter.IsZero() {
		say(msg.F("Between %s and %s.", msg.Date(t.NotBefore, "Mon 15:04"), msg.Date(t.NotAfter, "Mon 15:04")))
	}
	for _, n := range technique.SafetyNotes(t.Safety...) {
		say(n.Text)
	}
	if len(t.Safety) > 0 {
		say(msg.ID(technique.Deference))
	}
	return strings.TrimSpace(b.String())
}
