package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// stand calculates until when a batch can be poured: in its jug until it is
// divided, then in its cups, and what is kept back as the little it is; the doubt
// taken off.
func (k *cutting) stand(l *Batch, batch int, steps []technique.Timed) {
	c := &k.coat
	divided, poured := math.Inf(1), map[string][]pouring{}
	for _, s := range steps {
		if s.Batch != batch {
			continue
		}
		switch {
		case s.Colours:
			divided = s.To - l.Met
		case s.Mixes && !c.hasColouring():
			divided = s.To - l.Met
		case s.Pours:
			for _, t := range s.Takes {
				poured[t.Cup] = append(poured[t.Cup], pouring{s.To - l.Met, t.Part})
			}
		}
	}
	if len(l.Feeds) < 2 {
		divided = math.Inf(1)
	}
	if c.Mixing == school.MixingCups {
		divided = 0
	}
	l.UseBy, l.Overdue = math.Inf(1), 0
	for _, cup := range byCup(l.Feeds) {
		keeps, stands := k.standCup(l.Volume, cup.Volume, divided, poured[cup.Cup])
		l.UseBy, l.Overdue = math.Min(l.UseBy, keeps), math.Max(l.Overdue, stands)
	}
	if l.Overdue <= 1e-6 { // cups that keep longer are poured last
		l.Overdue, l.UseBy = 0, math.Max(l.UseBy, l.Takes())
	}
}

// pouring is when a pour out of a cup ends, and which part of the cup it takes.
type pouring struct{ at, part float64 }

// standCup is how long a cup of a batch keeps for its last pour, and the longest that
// any of its pours comes too late.
func (k *cutting) standCup(jug, cup units.Volume, divided float64, pours []pouring) (keeps, stands float64) {
	sum, gone := 0.0, 0.0
	for _, p := range pours {
		sum += p.part
	}
	keeps = k.keep(jug, cup, divided, 0, 0)
	for i, p := range pours {
		if i > 0 && gone < sum && p.at > keeps {
			rest := cup * units.Volume(1-gone/sum)
			keeps = math.Max(keeps, k.keep(jug, cup, divided, rest, pours[i-1].at))
		}
		stands = math.Max(stands, p.at-keeps)
		gone += p.part
	}
	return keeps, stands
}

// byCup adds up the feeds of each cup.
func byCup(feeds []Feed) []Feed {
	var out []Feed
	for _, f := range feeds {
		if i := slices.IndexFunc(out, func(o Feed) bool { return o.Cup == f.Cup }); i >= 0 {
			out[i].Volume += f.Volume
		} else {
			out = append(out, f)
		}
	}
	return out
}

// hasColouring reports whether cups are coloured from the mixed batch.
func (c *Coat) hasColouring() bool {
	return slices.ContainsFunc(c.Technique.Steps, func(s technique.Step) bool { return s.Colours })
}

// batchKey is the remembered history of a batch: masses to a hundredth
// of themselves, times to a tenth of a minute.
type batchKey struct{ jug, cup, divided, rest, since int }

// keep is how long a cup of a batch keeps, or what is left of it, rest, since some of
// it was poured; remembered.
func (k *cutting) keep(jug, cup units.Volume, divided float64, rest units.Volume, since float64) float64 {
	c := &k.coat
	rho := c.Product.Density()
	tenth := func(minutes float64) int { return int(min(minutes, 1e6) * 10) }
	key := batchKey{hundredth(jug.Weighing(rho)), hundredth(cup.Weighing(rho)), tenth(divided), 0, tenth(since)}
	mass := func(key int) units.Mass { return units.Mass(math.Exp(float64(key) / 100)) }
	cupUntil := math.Inf(1)
	if rest > 0 {
		key.rest, cupUntil = hundredth(rest.Weighing(rho)), since
	}
	if v, ok := k.keeps[key]; ok {
		return v
	}
	stands := []cure.Standing{{Mass: mass(key.jug), Until: divided}, {Mass: mass(key.cup), Until: cupUntil}}
	if rest > 0 {
		stands = append(stands, cure.Standing{Mass: mass(key.rest)})
	}
	v := (1 - KeepMargin) * c.Product.Kinetics.Keeps(c.begins(), c.Room, stands...)
	k.keeps[key] = v
	return v
}

// hundredth is the mass to a hundredth of itself.
func hundredth(m units.Mass) int { return int(math.Round(100 * math.Log(math.Max(float64(m), 1)))) }
