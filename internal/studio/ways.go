package studio

import (
	"context"
	"fmt"
	"slices"
	"time"

	"jevvo/internal/core/technique"
	"jevvo/internal/store"
)

// A WayOut is something that would make less late, proved by planning with it.
type WayOut struct {
	Key, Name string
	Late      time.Duration // that would be left
	Saves     time.Duration
	Do        string // address of the page where it is done
}

// wayOut is a way with what it changes.
type wayOut struct {
	key, name, do string
	options       func(d Days) dayOptions
	fits          func(d Days) bool
}

func always(Days) bool { return true }

// waysOut are tried in this order, the cheapest first.
var waysOut = []wayOut{
	{"scuff", "Accept scuffing a hard coat instead of the tacky hours", "/settings#schools", func(Days) dayOptions {
		return dayOptions{settings: func(s *Settings) { s.Recoat = RecoatScuff }}
	}, func(d Days) bool { return d.Settings.Recoat == RecoatTacky }},
	{"tacky", "Recoat in the tacky hours instead of waiting for hard", "/settings#schools", func(Days) dayOptions {
		return dayOptions{settings: func(s *Settings) { s.Recoat = RecoatTacky }}
	}, func(d Days) bool { return d.Settings.Recoat != RecoatTacky }},
	{"evening", "Stay open two hours longer", "/settings", func(Days) dayOptions {
		return dayOptions{hours: func(s Settings, day time.Time) (time.Time, time.Time, bool) {
			from, to := s.open(day)
			return from, to.Add(2 * time.Hour), !s.closedOn(day)
		}}
	}, always},
	{"earlier", "Open an hour earlier", "/settings", func(Days) dayOptions {
		return dayOptions{hours: func(s Settings, day time.Time) (time.Time, time.Time, bool) {
			from, to := s.open(day)
			return from.Add(-time.Hour), to, !s.closedOn(day)
		}}
	}, always},
	{"days-off", "Work on the days off", "/settings", func(Days) dayOptions {
		return dayOptions{hours: func(s Settings, day time.Time) (time.Time, time.Time, bool) {
			from, to := s.open(day)
			return from, to, true
		}}
	}, func(d Days) bool { return d.Settings.DaysOff != "" }},
	{"now", "Begin the late pieces at once", "/pieces", func(d Days) dayOptions {
		return dayOptions{late: d.lateIDs(), spec: func(s *Spec, late bool) {
			if late {
				s.Start = time.Time{}
			}
		}}
	}, always},
	{"fewer", "Leave out the second coat of the late pieces", "/pieces", func(d Days) dayOptions {
		return dayOptions{late: d.lateIDs(), spec: func(s *Spec, late bool) {
			if late {
				s.Second = SecondNone
				s.dropMiddleCoat()
			}
		}}
	}, always},
	{"shelf", "Two more level places of the largest size", "/settings", func(Days) dayOptions {
		return dayOptions{settings: func(s *Settings) { s.Shelf += "; 2 of 200 x 150 cm" }}
	}, func(d Days) bool { return d.Settings.Shelf != "" }},
}

// dropMiddleCoat takes the last coat before the sealing one out of an edited
// plan.
func (s *Spec) dropMiddleCoat() {
	coats := 0
	for _, l := range s.Layers {
		if l.Kind == LayerCoat {
			coats++
		}
	}
	if coats < 2 {
		return
	}
	for i := len(s.Layers) - 1; i >= 0; i-- {
		if l := s.Layers[i]; l.Kind == LayerCoat && l.ID != firstCoat && l.What != technique.TopCoat.ID {
			s.Layers = append(s.Layers[:i], s.Layers[i+1:]...)
			return
		}
	}
}

func (d Days) lateIDs() map[int64]bool {
	out := map[int64]bool{}
	for _, p := range d.Pieces {
		if p.Late > 0 {
			out[p.ID] = true
		}
	}
	return out
}

// WaysOut plans again with each thing that might help and returns those that
// do, the cheapest first.
func (s *Studio) WaysOut(ctx context.Context) ([]WayOut, error) {
	now, err := s.days(ctx, dayOptions{})
	if err != nil || now.Late == 0 {
		return nil, err
	}
	ways, err := s.allWays(ctx)
	if err != nil {
		return nil, err
	}
	var out []WayOut
	for _, w := range ways {
		if !w.fits(now) {
			continue
		}
		then, err := s.days(ctx, w.options(now))
		if err != nil {
			return out, err
		}
		if then.Late < now.Late && len(then.LeftOut) <= len(now.LeftOut) {
			out = append(out, WayOut{w.key, w.name, time.Duration(then.Late) * time.Minute, time.Duration(now.Late-then.Late) * time.Minute, w.do})
		}
	}
	return out, nil
}

// allWays are the ways out with one more for each resin on the shelf, which
// the late pieces of slower resins could be poured with.
func (s *Studio) allWays(ctx context.Context) ([]wayOut, error) {
	shelf, err := s.Products(ctx)
	if err != nil {
		return nil, err
	}
	hours := map[int64]float64{}
	for _, p := range shelf {
		hours[p.ID] = p.HardHours
	}
	ways := waysOut[:len(waysOut):len(waysOut)]
	for _, p := range shelf {
		if p.Retired {
			continue
		}
		slower := func(product int64) bool { return hours[product] > p.HardHours }
		ways = append(ways, wayOut{fmt.Sprintf("resin-%d", p.ID), "Pour the late pieces with " + p.Name, "/pieces",
			func(d Days) dayOptions {
				return dayOptions{late: d.lateIDs(), spec: func(spec *Spec, late bool) {
					if late && slower(spec.ProductID) {
						spec.ProductID = p.ID
					}
				}}
			},
			func(d Days) bool {
				return slices.ContainsFunc(d.Pieces, func(p DayPiece) bool { return p.Late > 0 && slower(p.Plan.Piece.ProductID) })
			}})
	}
	return ways, nil
}

// WhatIf plans with one way out, without committing to it, and names it.
// It returns store.ErrNotFound for a key that is none.
func (s *Studio) WhatIf(ctx context.Context, key string) (Days, string, error) {
	now, err := s.days(ctx, dayOptions{})
	if err != nil {
		return now, "", err
	}
	ways, err := s.allWays(ctx)
	if err != nil {
		return now, "", err
	}
	for _, w := range ways {
		if w.key == key {
			then, err := s.days(ctx, w.options(now))
			return then, w.name, err
		}
	}
	return now, "", store.ErrNotFound
}

// WaysToTry lists what a what-if can ask.
func WaysToTry() []WayOut {
	var out []WayOut
	for _, w := range waysOut {
		out = append(out, WayOut{Key: w.key, Name: w.name, Do: w.do})
	}
	return out
}
