// Package calendarfile writes the days as iCalendar (RFC 5545), each task with
// an identity that stays, so that reading the file again updates what is there.
package calendarfile

import (
	"fmt"
	"io"
	"strings"
	"time"
	"unicode"

	ics "github.com/arran4/golang-ical"
)

// An Event is one task.
type Event struct {
	ID       string // stable; unique in the file
	Start    time.Time
	End      time.Time
	Summary  string
	Text     string
	Place    string
	Alarm    time.Duration // before the start; 0 for none
	Changed  time.Time
	Sequence int
}

// Write writes the events as one calendar.
func Write(w io.Writer, name string, events []Event) error {
	c := ics.NewCalendarFor("Jevvo")
	c.SetMethod(ics.MethodPublish)
	c.SetName(oneLine(name))
	c.SetXWRCalName(oneLine(name))
	for _, e := range events {
		v := c.AddEvent(e.ID + "@jevvo")
		v.SetDtStampTime(e.Changed)
		v.SetStartAt(e.Start)
		end := e.End
		if !end.After(e.Start) {
			end = e.Start.Add(5 * time.Minute) // a moment is shown as a short entry
		}
		v.SetEndAt(end)
		v.SetSummary(lines(e.Summary))
		v.SetDescription(lines(e.Text))
		v.SetSequence(e.Sequence)
		if e.Place != "" {
			v.SetLocation(oneLine(e.Place))
		}
		if e.Alarm > 0 {
			a := v.AddAlarm()
			a.SetAction(ics.ActionDisplay)
			a.SetDescription(lines(e.Summary))
			a.SetTrigger(fmt.Sprintf("-PT%dM", int(e.Alarm.Minutes())))
		}
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}

// lines is a text without control characters but for line ends, all of one kind (RFC
// 5545 knows no others).
func lines(text string) string {
	text = strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(text)
	return strings.Map(func(r rune) rune {
		if unicode.IsControl(r) && r != '\n' {
			return ' '
		}
		return r
	}, text)
}

// oneLine is a text of one line.
func oneLine(text string) string { return strings.ReplaceAll(lines(text), "\n", " ") }
