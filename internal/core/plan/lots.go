package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Lot is one mixed batch of a coat: its own place on the clock, and the cups
// it feeds.
type Lot struct {
	Volume units.Volume
	A, B   resin.Part
	Feeds  []Feed
	Met    float64 // minutes after the parts of the first lot met
	From   float64 // when the first of it is poured
	Poured float64 // when the last of it leaves its cups
	UseBy  float64 // minutes it can stand, from mixing, with a margin for doubt
	Stands float64 // minutes of it beyond that; 0 for one that keeps
}

// A Feed is how much of a cup comes from a lot.
type Feed struct {
	Cup    string
	Name   string
	Volume units.Volume
}

// Takes is how long the lot stands, from mixing until it is poured.
func (l Lot) Takes() float64 { return l.Poured - l.Met }

// Until is the minute, after the parts of the first lot met, until which it keeps.
func (l Lot) Until() float64 { return l.Met + l.UseBy }

// Split reports whether the cups of the coat are filled out of a mixed jug.
func (c *Coat) Split() bool { return c.Mixing == MixingJug && len(c.Cups) > 1 }

// LeastLot is the smallest batch that is weighed true (common practice: 15 g
// and 5 g are the least that is mixed).
const LeastLot units.Volume = 18

// keepMargin is the part of the time a batch keeps that nobody plans for: a working
// time is said to five minutes and a room to a degree or two (common practice).
const keepMargin = 0.12

// UsualJug is the largest mixing cup a studio has that says nothing of it
// (common practice: a cup of a quart).
const UsualJug units.Volume = 950

// lots cuts the coat into its batches: the fewest that are poured while they
// keep, none larger than the product allows or than the largest mixing cup, as
// equal as possible, and parted between two cups rather than within one where
// that costs nothing. With several people at the bench fewer may mix beside the
// work where that is better.
func (p *Plan) lots(c *Coat) error {
	clock := c.clockIn(cure.Constant(c.Room))
	people := c.People
	var best *cutting
	for crew := people; crew >= 1; crew-- {
		k := &cutting{plan: p, coat: *c, clock: clock}
		k.coat.People, k.coat.Hands = crew, 0
		if err := k.solve(); err != nil {
			return err
		}
		if best == nil || k.better(best) {
			best = k
		}
	}
	*c = best.coat
	c.Hands, c.People = c.People, people
	return nil
}

// cutting is the search for the batches of one coat.
type cutting struct {
	plan   *Plan
	coat   Coat
	clock  *cure.Clock
	most   units.Volume
	pours  []serving
	total  units.Volume
	breaks []units.Volume // running sums at which a cup ends
	keeps  map[standing]float64

	start   *technique.Laying // before the first mixing
	of      []float64         // mL of each pouring step
	pouring int               // steps that pour
}

// better reports whether one way is better than another: nothing stands too
// long, sooner done, fewer batches.
func (k *cutting) better(o *cutting) bool {
	a, b := k.coat.stands(), o.coat.stands()
	switch {
	case math.Abs(a-b) > 0.05:
		return a < b
	case math.Abs(k.coat.Fit.Ends-o.coat.Fit.Ends) > 1e-9:
		return k.coat.Fit.Ends < o.coat.Fit.Ends
	}
	return len(k.coat.Lots) < len(o.coat.Lots)
}

// stands is how many minutes the batches stand beyond what they keep.
func (c *Coat) stands() float64 {
	sum := 0.0
	for _, l := range c.Lots {
		sum += l.Stands
	}
	return sum
}

func (k *cutting) solve() error {
	c := &k.coat
	k.keeps, k.pours = map[standing]float64{}, c.servings()
	for _, s := range k.pours {
		k.total += s.Volume
		k.breaks = append(k.breaks, k.total)
	}
	k.most = k.plan.largestLot(c)
	c.LotMax, c.LotAges = k.most, false
	if c.Mixing == MixingCups {
		return k.lay(k.cupwise())
	}
	least := max(1, int(math.Ceil(float64(k.total/k.most)-1e-9)))
	if err := k.lay(k.snapped(k.equal(least))); err != nil || k.coat.stands() == 0 {
		return err
	}
	if err := k.lay(k.equal(least)); err != nil || k.coat.stands() == 0 || k.together() {
		return err
	}
	return k.fewest()
}

// together reports whether all batches must be there at once: no other sizes would
// make them wait less.
func (k *cutting) together() bool {
	return slices.ContainsFunc(k.coat.Technique.Steps, func(s technique.Step) bool { return s.Together })
}

// largestLot is the largest batch of a coat: what the product allows to stand,
// what the largest mixing cup holds.
func (p *Plan) largestLot(c *Coat) units.Volume {
	most := c.Product.MaxLot
	jug := p.Context.Jug
	if jug <= 0 {
		jug = UsualJug
	}
	if c.Mixing != MixingCups || most <= 0 {
		most = minPositive(most, jug)
	}
	return most
}

func minPositive(a, b units.Volume) units.Volume {
	if a <= 0 {
		return b
	}
	return min(a, b)
}

// equal cuts the coat into n batches of one size.
func (k *cutting) equal(n int) []units.Volume {
	out := make([]units.Volume, n)
	for i := range out {
		out[i] = k.total * units.Volume(i+1) / units.Volume(n)
	}
	return out
}

// snapping is how far, as a part of a batch, a cut is moved so that a cup is
// not coloured twice (common practice).
const snapping = 0.15

// snapped moves cuts to where a cup ends, where one ends near and no batch
// becomes too large by it. In a studio that measures by volume the others fall
// on the marks of its jug.
func (k *cutting) snapped(cuts []units.Volume) []units.Volume {
	out := slices.Clone(cuts)
	each := k.total / units.Volume(len(cuts))
	for i := range out[:len(out)-1] {
		before := units.Volume(0)
		if i > 0 {
			before = out[i-1]
		}
		at := k.marked(out[i], before)
		for _, b := range k.breaks {
			next := out[i+1]
			if units.Volume(math.Abs(float64(b-out[i]))) <= snapping*each && b-before <= k.most && next-b <= k.most && b > before && b < next {
				at = b
			}
		}
		out[i] = at
	}
	return out
}

// marked is a cut on a mark of the jug, for a studio that measures by volume.
func (k *cutting) marked(cut, before units.Volume) units.Volume {
	step := k.plan.Context.JugStep
	if k.plan.Context.Schools.Way(SchoolMeasure) != MeasureVolume || step <= 0 {
		return cut
	}
	at := before + units.Volume(math.Ceil(float64((cut-before)/step)-1e-9))*step
	if at >= k.total || at-before > k.most {
		return cut
	}
	return at
}

// cupwise gives each cup a batch of its own, or several where it is larger than
// one may be.
func (k *cutting) cupwise() []units.Volume {
	var out []units.Volume
	at := units.Volume(0)
	for _, s := range k.merged() {
		n := max(1, math.Ceil(float64(s/max(k.most, 1))-1e-9))
		for i := range int(n) {
			out = append(out, at+s*units.Volume(i+1)/units.Volume(n))
		}
		at += s
	}
	return out
}

// merged are the volumes of the pours in order, those of one cup that follow
// each other together.
func (k *cutting) merged() []units.Volume {
	var out []units.Volume
	last := ""
	for _, s := range k.pours {
		if s.cup.Colour.ID == last && len(out) > 0 {
			out[len(out)-1] += s.Volume
			continue
		}
		out, last = append(out, s.Volume), s.cup.Colour.ID
	}
	return out
}

// fewest cuts along the clock: each batch as large as it can be and still is
// poured while it keeps, then all of them as equal as that number allows.
func (k *cutting) fewest() error {
	k.coat.LotAges = true
	k.begin()
	best := k.greedy(k.most)
	least := max(1, int(math.Ceil(float64(k.total/k.most)-1e-9)))
	for m := least; m < len(best) && m <= mostTried; m++ {
		if cuts := k.search(k.grid(), cut{state: k.start}, m); cuts != nil {
			best = cuts
			break
		}
	}
	if err := k.lay(best); err != nil {
		return err
	}
	stands := k.coat.stands()
	low, high := k.total/units.Volume(len(best)), k.most
	rounds := 4
	if len(best) > mostEvened {
		rounds = 0
	}
	for range rounds {
		mid := (low + high) / 2
		if cuts := k.greedy(mid); len(cuts) <= len(best) && k.lay(cuts) == nil && k.coat.stands() <= stands+1e-9 {
			best, high = cuts, mid
		} else {
			low = mid
		}
	}
	if snapped := k.snapped(best); k.lay(snapped) == nil && k.coat.stands() <= stands+1e-9 {
		best = snapped
	}
	err := k.lay(best)
	k.bounds(best)
	return err
}

// mostEvened is from how many batches on nobody minds that they differ.
const mostEvened = 12

// mostTried is how many batches are looked for one way after another, and
// fineness into how many parts a coat is divided for that.
const (
	mostTried = 3
	fineness  = 24
)

// grid is where a batch may end when all ways are tried: where a cup ends, and at
// every twenty-fourth.
func (k *cutting) grid() []units.Volume {
	out := slices.Clone(k.breaks[:len(k.breaks)-1])
	for i := 1; i < fineness; i++ {
		out = append(out, k.total*units.Volume(i)/fineness)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// A cut is where a batch ends, and the coat laid up to there.
type cut struct {
	at    units.Volume
	lots  []technique.Batch
	state *technique.Laying
}

// begin lays the coat up to its first mixing.
func (k *cutting) begin() {
	k.of, k.pouring = k.coat.perPour(k.pours)
	k.start = k.coat.Technique.Begin(k.plan.job(&k.coat), k.clock).Until(-1)
}

// next lays one more batch behind a cut, up to a running sum, and reports whether
// it is poured while it keeps.
func (k *cutting) next(from cut, to units.Volume) (cut, bool) {
	lots := append(slices.Clip(from.lots), k.batch(from.at, to), k.batch(to, k.total))
	n := len(from.lots)
	if k.total-to <= 1e-9 {
		lots = lots[:n+1]
	}
	before := len(from.state.Fit().Steps)
	state := from.state.Fork(lots).Until(n)
	fit := state.Fit()
	l := Lot{Volume: to - from.at, Feeds: k.feeds(from.at, to), Met: fit.Lots[n].Met, From: fit.Lots[n].From, Poured: fit.Lots[n].Poured}
	k.stand(&l, n, fit.Steps[before:])
	return cut{to, lots[:n+1], state}, l.Stands == 0
}

// batch is what goes into each pour between two running sums.
func (k *cutting) batch(from, to units.Volume) technique.Batch {
	b := technique.Batch{Feeds: make([]float64, k.pouring)}
	tinted, last := 0, ""
	k.between(from, to, func(s serving, v units.Volume) {
		b.Feeds[s.pour] += float64(v) / k.of[s.pour]
		if s.cup.Colour.Role.Rule().Tints && s.cup.Colour.ID != last {
			tinted++
		}
		last = s.cup.Colour.ID
	})
	b.Cups = tinted
	return b
}

// feeds are the cups between two running sums.
func (k *cutting) feeds(from, to units.Volume) []Feed {
	var out []Feed
	k.between(from, to, func(s serving, v units.Volume) { out = append(out, Feed{s.cup.Colour.ID, s.cup.Colour.Name, v}) })
	return byCup(out)
}

// between names every serving between two running sums, with how much of it lies
// there.
func (k *cutting) between(from, to units.Volume, each func(serving, units.Volume)) {
	at := units.Volume(0)
	for i, s := range k.pours {
		if v := min(to, k.breaks[i]) - max(from, at); v > 1e-9 {
			each(s, v)
		}
		at = k.breaks[i]
	}
}

// search tries the ways to end n more batches on a grid, behind a cut, until one is
// poured while it keeps; nil where none is. A batch that ends later than another is
// not always worse: cutting within a pour moves what comes after it.
func (k *cutting) search(grid []units.Volume, from cut, n int) []units.Volume {
	if k.total-from.at > k.most*units.Volume(n)+1e-6 {
		return nil
	}
	if n == 1 {
		if _, ok := k.next(from, k.total); ok {
			return []units.Volume{k.total}
		}
		return nil
	}
	for i := len(grid) - 1; i >= 0; i-- {
		if size := grid[i] - from.at; size > k.most+1e-6 || size < 1 {
			continue
		}
		then, ok := k.next(from, grid[i])
		if !ok {
			continue
		}
		if found := k.search(grid[i+1:], then, n-1); found != nil {
			return append([]units.Volume{grid[i]}, found...)
		}
	}
	return nil
}

// bounds notes the largest batch there is.
func (k *cutting) bounds(cuts []units.Volume) {
	k.coat.LotMax = 0
	before := units.Volume(0)
	for _, cut := range cuts {
		k.coat.LotMax = max(k.coat.LotMax, cut-before)
		before = cut
	}
}

// mostLots is more batches than anybody mixes for one coat.
const mostLots = 400

// greedy takes batch after batch, each as large as keeps, none above most. What
// does not keep even as the smallest batch is taken up to where its cup ends:
// a smaller one would not wait less.
func (k *cutting) greedy(most units.Volume) []units.Volume {
	var cuts []units.Volume
	from := cut{state: k.start}
	for k.total-from.at > 1e-9 && len(cuts) < mostLots {
		top := min(from.at+most, k.total)
		next, ok := k.next(from, top)
		if !ok {
			next = k.largest(from, top)
		}
		cuts, from = append(cuts, next.at), next
	}
	if k.total-from.at > 1e-9 {
		cuts = append(cuts, k.total)
	}
	return cuts
}

// largest is the largest batch behind a cut that keeps, below top.
func (k *cutting) largest(from cut, top units.Volume) cut {
	low := min(from.at+LeastLot, top)
	best, ok := k.next(from, low)
	if !ok { // no size keeps: whole cups, then
		for _, b := range k.breaks {
			if b > from.at+1e-9 && b < top && b-from.at >= LeastLot {
				top = b
				break
			}
		}
		best, _ = k.next(from, top)
		return best
	}
	for range 8 {
		mid := (low + top) / 2
		if next, ok := k.next(from, mid); ok {
			low, best = mid, next
		} else {
			top = mid
		}
	}
	at := low
	for _, b := range k.breaks { // a cup that ends just before is not parted
		if b > from.at+LeastLot && b <= low && low-b < LeastLot {
			at = b
		}
	}
	if rest := k.total - at; rest > 1e-9 && rest < LeastLot && at-from.at > 2*LeastLot {
		at = k.total - LeastLot // the last one is weighed true
	}
	if at != low {
		best, _ = k.next(from, at)
	}
	return best
}

// lay places batches and calculates how long each can stand.
func (k *cutting) lay(cuts []units.Volume) error {
	if err := k.place(cuts); err != nil {
		return err
	}
	for i := range k.coat.Lots {
		k.stand(&k.coat.Lots[i], i, k.coat.Fit.Steps)
	}
	return nil
}

// place makes the batches that end at running sums and lays the coat on its
// clock with them.
func (k *cutting) place(cuts []units.Volume) error {
	c := &k.coat
	c.Lots = make([]Lot, len(cuts))
	before := units.Volume(0)
	for i, cut := range cuts {
		b, err := c.Product.Volume(cut - before)
		if err != nil {
			return &Refusal{"coat." + c.ID + ".amount", err}
		}
		c.Lots[i] = Lot{Volume: cut - before, A: b.A, B: b.B}
		before = cut
	}
	k.plan.timeline(c, k.clock)
	return nil
}

// stand reckons until when a batch can be poured: in its jug until it is
// divided, then in its cups, and what is kept back as the little it is; the doubt
// taken off.
func (k *cutting) stand(l *Lot, lot int, steps []technique.Timed) {
	c := &k.coat
	divided, poured := math.Inf(1), map[string][]pouring{}
	for _, s := range steps {
		if s.Lot != lot {
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
	if c.Mixing == MixingCups {
		divided = 0
	}
	l.UseBy, l.Stands = math.Inf(1), 0
	for _, cup := range byCup(l.Feeds) {
		keeps, stands := k.standCup(l.Volume, cup.Volume, divided, poured[cup.Cup])
		l.UseBy, l.Stands = math.Min(l.UseBy, keeps), math.Max(l.Stands, stands)
	}
	if l.Stands <= 1e-6 { // cups that keep longer are poured last
		l.Stands, l.UseBy = 0, math.Max(l.UseBy, l.Takes())
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

// standing is what a batch went through, as it is remembered: masses to a hundredth
// of themselves, times to a tenth of a minute.
type standing struct{ jug, cup, divided, rest, since int }

// keep is how long a cup of a batch keeps, or what is left of it, rest, since some of
// it was poured; remembered.
func (k *cutting) keep(jug, cup units.Volume, divided float64, rest units.Volume, since float64) float64 {
	c := &k.coat
	rho := c.Product.Density()
	tenth := func(minutes float64) int { return int(min(minutes, 1e6) * 10) }
	key := standing{hundredth(jug.Weighing(rho)), hundredth(cup.Weighing(rho)), tenth(divided), 0, tenth(since)}
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
	v := (1 - keepMargin) * c.Product.Kinetics.Keeps(c.begins(), c.Room, stands...)
	k.keeps[key] = v
	return v
}

// hundredth is the mass to a hundredth of itself.
func hundredth(m units.Mass) int { return int(math.Round(100 * math.Log(math.Max(float64(m), 1)))) }

// clockIn returns the clock of the coat in a room: a deep layer goes by its own
// warmth.
func (c *Coat) clockIn(room cure.Room) *cure.Clock {
	layer := c.layer(room)
	clock, err := c.Product.Kinetics.ClockIn(layer)
	if w, warmed := c.Warmed(); warmed {
		clock, err = c.Product.Kinetics.ClockWarmed(layer, w)
	}
	if err != nil { // it does not gel within a year
		return cure.NewClock(c.Product.Kinetics, room)
	}
	return clock
}

// Warmed returns how warm a coat is mixed whose bottles stood in warm water, false
// for one at the room's temperature.
func (c *Coat) Warmed() (cure.Warmed, bool) {
	spec := c.Layer.Coat
	if spec.Warm == 0 || spec.Warm <= c.Room {
		return cure.Warmed{}, false
	}
	w := cure.Warmed{Start: spec.Warm}
	for _, s := range c.Technique.Steps { // what is done in the jug and the cups
		if s.Mixes || s.Colours {
			w.Poured += s.Minutes(technique.Job{Cups: len(c.Cups), Mix: c.Product.MixMinutes, People: c.People})
		}
	}
	return w, true
}

// begins is how warm a lot is when its parts meet.
func (c *Coat) begins() units.Temperature {
	if w, warmed := c.Warmed(); warmed {
		return w.Start
	}
	return c.Room
}

func (c *Coat) layer(room cure.Room) cure.Slab {
	return cure.Slab{Depth: c.Film, Faces: c.Faces, Start: room.At(0), Room: room}
}

// A serving is a part of a cup in the order it is poured.
type serving struct {
	pour   int // place among the steps that pour
	cup    Cup
	Volume units.Volume
}

// servings returns what is poured in the order it is poured; what is kept ready,
// and what no move pours, comes with the last pour.
func (c *Coat) servings() []serving {
	var out []serving
	left := map[string]float64{}
	for _, cup := range c.Cups {
		left[cup.Colour.ID] = 1
	}
	place := 0
	for _, s := range c.Technique.Steps {
		if !s.Pours {
			continue
		}
		for _, t := range s.Takes {
			if cup := c.Cup(t.Cup); cup != nil && left[t.Cup] > 1e-9 {
				part := math.Min(t.Part, left[t.Cup])
				left[t.Cup] -= part
				out = append(out, serving{place, *cup, cup.Volume * units.Volume(part)})
			}
		}
		place++
	}
	for _, cup := range c.Cups {
		if part := left[cup.Colour.ID]; part > 1e-9 {
			out = append(out, serving{max(0, place-1), cup, cup.Volume * units.Volume(part)})
		}
	}
	return out
}

// Kept is the part of a cup that no move pours.
func (c *Coat) Kept(cup string) float64 {
	left := 1.0
	for _, s := range c.Technique.Steps {
		for _, t := range s.Takes {
			if s.Pours && t.Cup == cup {
				left -= t.Part
			}
		}
	}
	return left
}

// perPour is how much each step that pours takes, and how many there are.
func (c *Coat) perPour(servings []serving) (of []float64, pours int) {
	for _, s := range c.Technique.Steps {
		if s.Pours {
			pours++
		}
	}
	pours = max(1, pours)
	of = make([]float64, pours)
	for _, s := range servings {
		of[s.pour] += float64(s.Volume)
	}
	return of, pours
}

// timeline lays the coat's steps on the clock, each lot mixed just before what
// it feeds.
func (p *Plan) timeline(c *Coat, clock *cure.Clock) {
	job := p.job(c)
	servings := c.servings()
	of, pours := c.perPour(servings)
	batches := make([]technique.Batch, len(c.Lots))
	for i := range batches {
		batches[i].Feeds = make([]float64, pours)
		c.Lots[i].Feeds = nil
	}
	k, left := 0, c.Lots[0].Volume
	for _, s := range servings {
		need := s.Volume
		for need > 1e-9 {
			if left <= 1e-9 && k < len(c.Lots)-1 {
				k++
				left = c.Lots[k].Volume
			}
			take := need
			if k < len(c.Lots)-1 { // the last lot takes what is left
				take = min(need, left)
			}
			c.Lots[k].Feeds = append(c.Lots[k].Feeds, Feed{s.cup.Colour.ID, s.cup.Colour.Name, take})
			batches[k].Feeds[s.pour] += float64(take) / of[s.pour]
			need -= take
			left -= take
		}
	}
	for i := range batches {
		c.Lots[i].Feeds = byCup(c.Lots[i].Feeds)
		batches[i].Cups = len(c.Tinted(i))
		for s := range pours {
			if of[s] == 0 && i == 0 {
				batches[i].Feeds[s] = 1 // a step that pours nothing still takes its time
			}
		}
	}
	job.Lots = batches
	c.Fit = c.Technique.Lay(job, clock)
	c.Clock = clock
	for i := range c.Lots {
		if i < len(c.Fit.Lots) {
			c.Lots[i].Met, c.Lots[i].From, c.Lots[i].Poured = c.Fit.Lots[i].Met, c.Fit.Lots[i].From, c.Fit.Lots[i].Poured
		}
	}
}

// Tinted are the cups that are coloured from the lot at i.
func (c *Coat) Tinted(i int) []string {
	var out []string
	for _, f := range c.Lots[i].Feeds {
		if cup := c.Cup(f.Cup); cup != nil && cup.Colour.Role.Rule().Tints {
			out = append(out, f.Cup)
		}
	}
	return out
}

// job is what a coat's times depend on.
func (p *Plan) job(c *Coat) technique.Job {
	n := 0
	for _, cup := range c.Cups {
		if cup.Colour.Role.Rule().Tints {
			n++
		}
	}
	return technique.Job{Face: p.Face, Cups: n, Mix: c.Product.MixMinutes, Ahead: c.Mixing == MixingCups, People: c.crew()}
}

// crew is how many work at once: fewer than are there, where that is better.
func (c *Coat) crew() int {
	if c.Hands > 0 {
		return c.Hands
	}
	return c.People
}
