package studio

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/hex"
	"fmt"
	"io"
	"strings"
	"time"

	"jevvo/internal/core/technique"
	"jevvo/internal/exchange/calendarfile"
	"jevvo/internal/store"
)

const feedKey = "feed"

type feed struct{ Secret string }

// FeedSecret returns the secret part of the calendar's address; fresh makes a
// new one, so that the old address stops working.
func (s *Studio) FeedSecret(ctx context.Context, fresh bool) (string, error) {
	var f feed
	found, err := s.store.Setting(ctx, feedKey, &f)
	if err != nil || (found && !fresh) {
		return f.Secret, err
	}
	raw := make([]byte, 16)
	if _, err := rand.Read(raw); err != nil {
		return "", err
	}
	f.Secret = hex.EncodeToString(raw)
	return f.Secret, s.store.SetSetting(ctx, feedKey, f)
}

// Feed writes the calendar for whoever knows the secret.
func (s *Studio) Feed(ctx context.Context, secret string, w io.Writer) error {
	want, err := s.FeedSecret(ctx, false)
	if err != nil {
		return err
	}
	if subtle.ConstantTimeCompare([]byte(want), []byte(secret)) != 1 {
		return store.ErrNotFound
	}
	return s.Calendar(ctx, w)
}

// Calendar writes the planned days as iCalendar.
func (s *Studio) Calendar(ctx context.Context, w io.Writer) error {
	d, err := s.Days(ctx)
	if err != nil {
		return err
	}
	events := make([]calendarfile.Event, 0, len(d.Tasks))
	for _, t := range d.Tasks {
		if t.Done {
			continue
		}
		e := calendarfile.Event{ID: fmt.Sprintf("%d-%s", t.PieceID, t.Key), Start: t.Start, End: t.End, Summary: t.Name + ": " + t.Piece,
			Text: d.text(t), Changed: d.Now, Sequence: int(d.Now.Unix() / 60)}
		if t.Kind != TaskLook && t.Kind != TaskDeliver {
			e.Alarm = 15 * time.Minute
		}
		events = append(events, e)
	}
	return calendarfile.Write(w, "Studio days", events)
}

// text is what an entry says beyond its name: amounts, cups, window, cautions.
func (d Days) text(t PlannedTask) string {
	var b strings.Builder
	line := func(format string, args ...any) { fmt.Fprintf(&b, format+"\n", args...) }
	if t.Do != "" {
		line("%s", t.Do)
	}
	if t.Amount != "" {
		line("All together %s.", t.Amount)
	}
	for _, p := range d.Pieces {
		if p.ID != t.PieceID {
			continue
		}
		for _, c := range p.Plan.Coats {
			if c.Key != t.Coat || t.Kind != TaskPour {
				continue
			}
			for _, cup := range c.Cups {
				line("%s: A %s, B %s", cup.Colour.Name, cup.A.Mass.Text(d.Settings.Units), cup.B.Mass.Text(d.Settings.Units))
			}
		}
	}
	if !t.NotAfter.IsZero() {
		line("Between %s and %s.", t.NotBefore.Format("Mon 15:04"), t.NotAfter.Format("Mon 15:04"))
	}
	for _, n := range technique.SafetyNotes(t.Safety...) {
		line("%s", n.Text)
	}
	if len(t.Safety) > 0 {
		line("%s", technique.Deference)
	}
	return strings.TrimSpace(b.String())
}
