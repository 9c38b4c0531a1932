package studio

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"jevvo/internal/device"
)

// A Mailer hands a letter over; without a server it only keeps it.
type Mailer interface {
	Send(ctx context.Context, server device.MailServer, m device.Message) error
}

// ConnectMail sets the mailer.
func (s *Studio) ConnectMail(m Mailer) { s.mail = m }

// Letters returns the outbox, newest first.
func (s *Studio) Letters(ctx context.Context) ([]Letter, error) {
	rows, err := s.store.Letters(ctx, 200)
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

// Remind writes the letter of the day once the hour for it has come, and hands
// it over. At any time of the day it is written once.
func (s *Studio) Remind(ctx context.Context) error {
	set, err := s.Settings(ctx)
	if err != nil || set.RemindAt == "" {
		return err
	}
	now := s.now().Local()
	at, err := time.ParseInLocation("2006-01-02 15:04", now.Format(time.DateOnly)+" "+set.RemindAt, time.Local)
	if err != nil || now.Before(at) {
		return err
	}
	return s.remindNow(ctx, set, "day "+now.Format(time.DateOnly))
}

// RemindNow writes and hands over a letter of this moment.
func (s *Studio) RemindNow(ctx context.Context) error {
	set, err := s.Settings(ctx)
	if err != nil {
		return err
	}
	return s.remindNow(ctx, set, "asked "+s.now().UTC().Format(time.RFC3339Nano))
}

func (s *Studio) remindNow(ctx context.Context, set Settings, key string) error {
	today, err := s.Today(ctx)
	if err != nil {
		return err
	}
	if today.Empty {
		return nil
	}
	letter := today.dayLetter(set.MailTo)
	id, fresh, err := s.store.WriteLetter(ctx, key, letter, s.now())
	if err != nil || !fresh || s.mail == nil {
		return err
	}
	server := device.MailServer{Host: set.Mail.Host, User: set.Mail.User, Password: set.Mail.Password, Port: set.Mail.Port}
	failure := ""
	if err := s.mail.Send(ctx, server, device.Message{ID: id, From: set.Mail.From, To: letter.To, Subject: letter.Subject, Body: letter.Body, At: s.now()}); err != nil {
		failure = err.Error()
	}
	return s.store.LetterSent(ctx, id, s.now(), failure)
}

// Words says what became of the letter.
func (l Letter) Words(server MailServer) string {
	switch {
	case l.Failure != "":
		return "not sent: " + l.Failure
	case l.Sent.IsZero():
		return "not handed over"
	case server.Host == "":
		return "kept in the outbox; no mail server is set"
	}
	return "sent " + l.Sent.Local().Format("15:04")
}
