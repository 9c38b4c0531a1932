package studio

import (
	"context"
	"fmt"
	"sort"
	"strings"
	"time"

	"jevvo/internal/core/units"
)

// Today is the front door: what is wet, what to do, what is due, what runs
// low.
type Today struct {
	Days  Days
	Wet   []BenchView
	Do    []PlannedTask // of today, in order, looks left out
	Then  *PlannedTask  // the first task after today
	Due   []DayPiece    // within a fortnight, soonest first
	Low   []LowStock
	Empty bool // nothing is planned at all
}

// A LowStock is something the open pieces need more of than there is.
type LowStock struct {
	Name  string
	Need  string
	Have  string
	Share float64 // of the need that is there
}

// dueSoon is how far ahead due days are shown.
const dueSoon = 14 * 24 * time.Hour

// Today gathers the day.
func (s *Studio) Today(ctx context.Context) (Today, error) {
	var t Today
	var err error
	if t.Days, err = s.Days(ctx); err != nil {
		return t, err
	}
	open, err := s.OpenBenches(ctx)
	if err != nil {
		return t, err
	}
	for _, b := range open {
		v, err := s.LookAtBench(ctx, b)
		if err != nil {
			return t, err
		}
		t.Wet = append(t.Wet, v)
	}
	day := t.Days.Now.Format(time.DateOnly)
	for i, task := range t.Days.Tasks {
		switch {
		case task.Done || task.Kind == TaskLook:
		case task.Start.Format(time.DateOnly) <= day:
			t.Do = append(t.Do, task)
		case t.Then == nil && task.Kind != TaskDeliver:
			t.Then = &t.Days.Tasks[i]
		}
	}
	for _, p := range t.Days.Pieces {
		if !p.Due.IsZero() && (p.Due.Sub(t.Days.Now) < dueSoon || p.Late > 0) {
			t.Due = append(t.Due, p)
		}
	}
	sort.SliceStable(t.Due, func(i, j int) bool { return t.Due[i].Due.Before(t.Due[j].Due) })
	t.Empty = len(t.Days.Pieces) == 0 && len(t.Days.LeftOut) == 0
	t.Low, err = s.lowStock(ctx, t.Days)
	return t, err
}

// lowStock compares what the coats still to be made need with the shelf.
func (s *Studio) lowStock(ctx context.Context, d Days) ([]LowStock, error) {
	resin := map[int64]units.Volume{}
	dye := map[int64]units.Mass{}
	for _, p := range d.Pieces {
		for _, c := range p.Plan.Coats {
			if c.Made {
				continue
			}
			resin[p.Plan.Product.ID] += c.Total
			for _, cup := range c.Cups {
				for _, dose := range cup.Doses() {
					dye[dose.Pigment] += dose.Mass
				}
			}
		}
	}
	products, err := s.Products(ctx)
	if err != nil {
		return nil, err
	}
	pigments, err := s.Pigments(ctx)
	if err != nil {
		return nil, err
	}
	var out []LowStock
	for _, p := range products {
		if need := resin[p.ID]; need > p.Stock && need > 0 {
			out = append(out, LowStock{p.Name, need.Text(d.Settings.Units), p.Stock.Text(d.Settings.Units), float64(p.Stock / need)})
		}
	}
	for _, p := range pigments {
		if need := dye[p.ID]; need > p.Stock && need > 0 {
			out = append(out, LowStock{p.Name, need.Text(d.Settings.Units), p.Stock.Text(d.Settings.Units), float64(p.Stock / need)})
		}
	}
	return out, nil
}

// A Letter is a message, kept in the outbox whether or not it is sent.
type Letter struct {
	ID                int64     `json:"-"`
	At, Sent          time.Time `json:"-"`
	Failure           string    `json:"-"`
	To, Subject, Body string
}

// dayLetter is the reminder of a day: what to do when, what is wet, what is
// late.
func (t Today) dayLetter(to string) Letter {
	var b strings.Builder
	fmt.Fprintf(&b, "%s\n\n", t.Days.Now.Format("Monday 2 January 2006"))
	for _, v := range t.Wet {
		if v.Current != nil {
			fmt.Fprintf(&b, "Wet: %s, %s. %s %s\n", v.Piece, lower(v.Bench.Name), v.Current.Name, v.Current.Verdict)
		}
	}
	for _, task := range t.Do {
		fmt.Fprintf(&b, "%s  %s: %s", task.Start.Format("15:04"), task.Piece, lower(task.Name))
		if task.Amount != "" {
			fmt.Fprintf(&b, ", %s", task.Amount)
		}
		if !task.NotAfter.IsZero() {
			fmt.Fprintf(&b, " (between %s and %s)", task.NotBefore.Format("15:04"), task.NotAfter.Format("15:04"))
		}
		b.WriteByte('\n')
	}
	if len(t.Do) == 0 {
		b.WriteString("Nothing has to be done today.\n")
	}
	for _, p := range t.Due {
		word := "due"
		if p.Late > 0 {
			word = "late by " + Spoken(p.Late.Minutes()) + ", due"
		}
		fmt.Fprintf(&b, "\n%s: %s %s, ready %s", p.Name, word, p.Due.Format("2 Jan"), p.End.Format("Mon 2 Jan 15:04"))
	}
	for _, l := range t.Low {
		fmt.Fprintf(&b, "\nRuns low: %s, %s needed, %s there", l.Name, l.Need, l.Have)
	}
	subject := fmt.Sprintf("%s: %s", t.Days.Now.Format("Mon 2 Jan"), Plural(len(t.Do), "thing to do", "things to do"))
	return Letter{To: to, Subject: subject, Body: strings.TrimSpace(b.String()) + "\n"}
}
