package agenda

import (
	"context"
	"fmt"
	"runtime"
	"slices"
	"time"

	"golang.org/x/sync/errgroup"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/recovery"
)

// Where is the page on which a way out is taken.
type Where string

// The pages.
const (
	AtSchools  Where = "schools"
	AtSettings Where = "settings"
	AtPieces   Where = "pieces"
)

// A WayOut is something that would make less late, proved by planning with it.
type WayOut struct {
	Key   string
	Name  msg.Text
	Late  time.Duration // that would be left
	Saves time.Duration
	Where Where
}

// way is a way out with what it changes.
type way struct {
	key     string
	name    msg.Text
	where   Where
	fits    func(a *Agenda) bool
	changes func(a *Agenda) []Change
}

func always(*Agenda) bool { return true }

func recoat(key string) func(*Agenda) bool {
	return func(a *Agenda) bool { return a.Book.Schools.Way(school.Recoat) != key }
}

// studio makes changes of the studio's context.
func studio(f func(*plan.Context)) func(*Agenda) []Change {
	return func(*Agenda) []Change { return []Change{{Context: f}} }
}

// late makes changes of the late pieces.
func late(f func(*plan.Spec) bool) func(*Agenda) []Change {
	return func(a *Agenda) []Change {
		ids := map[int64]bool{}
		for _, p := range a.Pieces {
			ids[p.ID] = p.Late > 0
		}
		return []Change{{Piece: func(s *plan.Spec, id int64) bool { return ids[id] && f(s) }}}
	}
}

func schools(key, way string) func(*plan.Context) {
	return func(c *plan.Context) {
		ways := school.Answers{key: way}
		for k, v := range c.Schools {
			if k != key {
				ways[k] = v
			}
		}
		c.Schools = ways
	}
}

// ways are tried in this order, the cheapest first.
var ways = []way{
	{"scuff", msg.ID("Scuff a hard coat instead of pouring in the tacky hours"), AtSchools, recoat(school.RecoatScuff),
		studio(schools(school.Recoat, school.RecoatScuff))},
	{"tacky", msg.ID("Recoat in the tacky hours instead of waiting for hard"), AtSchools, recoat(school.RecoatTacky),
		studio(schools(school.Recoat, school.RecoatTacky))},
	{"evening", msg.ID("Stay open two hours longer"), AtSettings, always,
		studio(func(c *plan.Context) { c.Calendar.Later = 120 })},
	{"earlier", msg.ID("Open an hour earlier"), AtSettings, always,
		studio(func(c *plan.Context) { c.Calendar.Earlier = 60 })},
	{"days-off", msg.ID("Work on the days off"), AtSettings, func(a *Agenda) bool {
		return slices.ContainsFunc(a.Book.Calendar.Week[:], func(d calendar.Day) bool { return len(d) == 0 })
	}, studio(func(c *plan.Context) { c.Calendar.Always = true })},
	{"now", msg.ID("Start the late pieces straight away"), AtPieces, always, late(func(s *plan.Spec) bool {
		s.Start = time.Time{}
		return true
	})},
	{"fewer", msg.ID("Drop a middle coat from the late pieces"), AtPieces, always, late(dropMiddleCoat)},
}

// dropMiddleCoat takes the last coat before the sealing one out.
func dropMiddleCoat(s *plan.Spec) bool {
	var coats []int
	for i, l := range s.Layers {
		if l.Kind == plan.Resin {
			coats = append(coats, i)
		}
	}
	if len(coats) < 3 {
		return false
	}
	i := coats[len(coats)-2]
	s.Layers = slices.Delete(s.Layers, i, i+1)
	return true
}

// all are the ways out with one more for each resin among the materials, which the
// late pieces of slower resins could be poured with.
func all(a *Agenda) []way {
	out := ways[:len(ways):len(ways)]
	for _, p := range a.Book.Resins {
		if p.Retired {
			continue
		}
		pour := func(s *plan.Spec) bool {
			did := false
			for i := range s.Layers {
				if c := s.Layers[i].Coat; c != nil && a.Book.Products[c.Product].HardHours > p.HardHours {
					c.Product, did = p.ID, true
				}
			}
			return did
		}
		out = append(out, way{fmt.Sprintf("resin-%d", p.ID), msg.F("Pour the late pieces with %s", p.Name), AtPieces,
			func(a *Agenda) bool {
				return slices.ContainsFunc(a.Pieces, func(q Piece) bool {
					spec := q.Plan.Spec.Clone()
					return q.Late > 0 && pour(&spec)
				})
			}, late(pour)})
	}
	return out
}

// plans makes a what-if.
func (s *Service) what(ctx context.Context, a *Agenda, w way) (*Agenda, error) {
	st, err := s.stand(ctx)
	if err != nil {
		return nil, err
	}
	g, err := s.gather(ctx, st, w.changes(a))
	if err != nil {
		return nil, err
	}
	return s.build(ctx, g)
}

// WaysOut plans again with each thing that might help and returns those that
// do, the cheapest first. What helps an agenda is remembered with it. It stops when ctx
// ends.
func (s *Service) WaysOut(ctx context.Context) ([]WayOut, error) {
	a, err := s.Current(ctx)
	if err != nil || a.Late == 0 {
		return nil, err
	}
	return s.helps.Get(ctx, a, func(ctx context.Context) ([]WayOut, error) { return s.waysOut(ctx, a) })
}

// waysOut tries all ways, several at a time.
func (s *Service) waysOut(ctx context.Context, a *Agenda) ([]WayOut, error) {
	tried := all(a)
	helps := make([]*WayOut, len(tried))
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(runtime.GOMAXPROCS(0))
	for k, w := range tried {
		if !w.fits(a) {
			continue
		}
		group.Go(func() error {
			return recovery.Do(func() error {
				if err := ctx.Err(); err != nil {
					return err
				}
				then, err := s.what(ctx, a, w)
				if err == nil && then.Late < a.Late && len(then.Pieces) >= len(a.Pieces) {
					helps[k] = &WayOut{w.key, w.name, time.Duration(then.Late) * time.Minute,
						time.Duration(a.Late-then.Late) * time.Minute, w.where}
				}
				return err
			})
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	var out []WayOut
	for _, h := range helps {
		if h != nil {
			out = append(out, *h)
		}
	}
	return out, nil
}

// WhatIf plans with one way out, without committing to it, and names it. It
// returns store.ErrNotFound for a key that is none.
func (s *Service) WhatIf(ctx context.Context, key string) (*Agenda, msg.Text, error) {
	a, err := s.Current(ctx)
	if err != nil {
		return nil, nil, err
	}
	for _, w := range all(a) {
		if w.key == key {
			then, err := s.what(ctx, a, w)
			return then, w.name, err
		}
	}
	return nil, nil, store.ErrNotFound
}

// ToTry lists what a what-if can ask.
func ToTry() []WayOut {
	out := make([]WayOut, len(ways))
	for i, w := range ways {
		out[i] = WayOut{Key: w.key, Name: w.name, Where: w.where}
	}
	return out
}
