package device

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/wneessen/go-mail"

	"jevvo/internal/core/refusal"
)

// A MailServer is where messages are handed over.
type MailServer struct {
	Host, User, Password string
	Port                 int
}

// A Message is one letter.
type Message struct {
	ID                      int64
	From, To, Subject, Body string
	At                      time.Time
	Files                   []File
}

// A File goes with a message.
type File struct {
	Name string
	Data []byte
}

// A Post keeps every message as a file in its outbox, and hands it to a mail
// server when there is one. Without a server the files are the stand-in.
type Post struct{ Outbox string }

// sendWithin bounds how long a server may take.
const sendWithin = 20 * time.Second

// Send keeps the message and hands it over.
func (p Post) Send(ctx context.Context, server MailServer, m Message) error {
	msg := mail.NewMsg()
	if m.From == "" {
		m.From = "jevvo@localhost"
	}
	if m.To == "" {
		m.To = "studio@localhost"
	}
	if err := msg.From(m.From); err != nil {
		return fmt.Errorf("%q is not an address to send from", m.From)
	}
	if err := msg.To(m.To); err != nil {
		return refusal.New("%q is not an address to send to", m.To)
	}
	msg.Subject(m.Subject)
	msg.SetDateWithValue(m.At)
	msg.SetBodyString(mail.TypeTextPlain, m.Body)
	for _, file := range m.Files {
		if err := msg.AttachReader(file.Name, bytes.NewReader(file.Data)); err != nil {
			return fmt.Errorf("attach %s: %w", file.Name, err)
		}
	}
	if err := os.MkdirAll(p.Outbox, 0o700); err != nil {
		return fmt.Errorf("make the outbox: %w", err)
	}
	if err := msg.WriteToFile(filepath.Join(p.Outbox,
		fmt.Sprintf("%s-%d.eml", m.At.UTC().Format("20060102-150405"), m.ID))); err != nil {
		return fmt.Errorf("keep the letter in the outbox: %w", err)
	}
	if server.Host == "" {
		return nil
	}
	options := []mail.Option{mail.WithPort(server.Port), mail.WithTLSPortPolicy(mail.TLSOpportunistic),
		mail.WithTimeout(sendWithin)}
	if server.User != "" {
		options = append(options, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(server.User),
			mail.WithPassword(server.Password))
	}
	client, err := mail.NewClient(server.Host, options...)
	if err != nil {
		return err
	}
	return client.DialAndSendWithContext(ctx, msg)
}
