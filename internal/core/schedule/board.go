package schedule

import "slices"

// board is a plan in the making: the painter's busy stretches and the places
// in use, to which pieces are added one by one.
type board struct {
	*network
	busy busy
	held [][]stay // stretches of places in use, by class
	// leave keeps tasks that can be done at any hour out of the hours that the
	// others need.
	leave bool
}

// A stay is a stretch of a place in use; one that has begun is there whatever is planned.
type stay struct {
	Interval
	begun bool
}

// busy is the painter's occupied stretches in order.
type busy struct{ spans []Interval }

func newBusy(spans []Interval) busy { return busy{spans} }

// free returns the earliest start at or after t that leaves d minutes free.
func (b busy) free(t, d int) int {
	i := b.index(t)
	for ; i < len(b.spans) && b.spans[i].From < t+max(1, d); i++ {
		if d == 0 && b.spans[i].From >= t {
			break
		}
		t = max(t, b.spans[i].To)
	}
	return t
}

// index is the first stretch that ends after t.
func (b busy) index(t int) int {
	lo, hi := 0, len(b.spans)
	for lo < hi {
		if m := (lo + hi) / 2; b.spans[m].To <= t {
			lo = m + 1
		} else {
			hi = m
		}
	}
	return lo
}

func (b *busy) add(s Interval) {
	if s.To > s.From {
		b.spans = slices.Insert(b.spans, b.index(s.From), s)
	}
}

// build plans the pieces in an order. Fixed tasks of all pieces are laid down
// first. Where a piece finds no room it returns that piece.
func (n *network) build(order []int, leave bool) (start []int, stuck int) {
	b := &board{network: n, held: make([][]stay, len(n.Rack)), leave: leave, busy: newBusy(n.pinned())}
	if n.clash >= 0 {
		return nil, n.clash
	}
	start = make([]int, len(n.jobs))
	for _, i := range order {
		starts, ok := b.insert(i, true)
		if !ok {
			return nil, i
		}
		for k, at := range starts {
			start[n.number[i][k]] = at
		}
		b.take(i, starts)
	}
	return start, -1
}

// pinned are the stretches of the hands that are given: one up to the end of all that
// is in hand, and the pins.
func (n *network) pinned() []Interval {
	var out []Interval
	if n.floor > -never {
		out = append(out, Interval{-never, n.floor})
	}
	for _, j := range n.pins {
		out = append(out, Interval{*n.jobs[j].Fixed, *n.jobs[j].Fixed + n.jobs[j].Hands})
	}
	return out
}

// lookAhead finds what is given: the end of all that is in hand, the pins in order of
// time, and a piece whose pin lies over another or in what is in hand.
func (n *network) lookAhead() {
	n.floor, n.clash = -never, -1
	for j, t := range n.jobs {
		switch {
		case t.Begun:
			n.floor = max(n.floor, *t.Fixed+t.Hands)
		case t.Fixed != nil && !t.Done && t.Hands > 0:
			n.pins = append(n.pins, j)
		}
	}
	slices.SortStableFunc(n.pins, func(a, b int) int { return *n.jobs[a].Fixed - *n.jobs[b].Fixed })
	free := n.floor
	for _, j := range n.pins {
		if *n.jobs[j].Fixed < free {
			n.clash = n.jobs[j].piece
		}
		free = *n.jobs[j].Fixed + n.jobs[j].Hands
	}
}

// insert finds the earliest plan of a piece among what is there already. As a
// bound (real false) it leaves out the rack and lets tasks of the piece that
// do not wait for one another lie side by side.
func (b *board) insert(i int, real bool) ([]int, bool) {
	piece := &b.Pieces[i]
	starts := make([]int, len(piece.Tasks))
	for k, t := range piece.Tasks {
		if t.Fixed != nil {
			starts[k] = *t.Fixed
		}
	}
	for range 10_000 {
		if !b.raise(piece, starts) {
			return nil, false
		}
		if !real {
			return starts, true
		}
		if k, later := piece.overlap(starts); k >= 0 {
			starts[k] = later
			continue
		}
		if len(b.Rack) == 0 {
			return starts, true
		}
		take, later := b.crowded(piece, starts)
		if take < 0 {
			return starts, true
		}
		if later >= never || piece.Tasks[take].Fixed != nil {
			return nil, false
		}
		starts[take] = later
	}
	return nil, false
}

// overlap returns a task that lies over another of the piece, and when it can
// begin instead; −1 when none does.
func (p *Piece) overlap(starts []int) (task, later int) {
	for a := range p.Tasks {
		for c := range p.Tasks {
			ta, tc := &p.Tasks[a], &p.Tasks[c]
			if a == c || ta.Hands == 0 || tc.Hands == 0 || ta.Done || tc.Done || tc.Fixed != nil {
				continue
			}
			first := starts[a] < starts[c] || (starts[a] == starts[c] && (a < c || ta.Fixed != nil))
			if first && starts[a]+ta.Hands > starts[c] {
				return c, starts[a] + ta.Hands
			}
		}
	}
	return -1, 0
}

// raise brings the starts of a piece to the least that keeps its waits, the
// opening hours and the hands that are free.
func (b *board) raise(piece *Piece, starts []int) bool {
	for changed := true; changed; {
		changed = false
		for k := range piece.Tasks {
			if b.tick() {
				return false
			}
			t := &piece.Tasks[k]
			need := starts[k]
			for _, w := range t.Waits {
				need = max(need, starts[w.After]+piece.Tasks[w.After].Hands+w.Min)
			}
			if t.Fixed != nil {
				if need > *t.Fixed && !t.Done {
					return false // a pin that its waits do not allow
				}
				continue
			}
			at := b.room(t, need, b.leave && !b.tied[piece][k])
			if at >= never {
				return false
			}
			if at > starts[k] {
				starts[k], changed = at, true
			}
		}
		for k := range piece.Tasks { // longest waits pull the earlier task up
			for _, w := range piece.Tasks[k].Waits {
				if w.Max == NoMax {
					continue
				}
				before := &piece.Tasks[w.After]
				least := starts[k] - w.Max - before.Hands
				if least <= starts[w.After] {
					continue
				}
				if before.Fixed != nil {
					if before.Done {
						continue // it has happened: the missed window is said elsewhere
					}
					return false
				}
				if least > MaxMinutes {
					return false
				}
				starts[w.After], changed = least, true
			}
		}
	}
	return true
}

// room returns the earliest start at or after t inside opening hours with the
// hands free; a task that leaves goes where no narrow one could, if it fits
// there within the patience.
func (b *board) room(t *Task, at int, leaves bool) int {
	at = max(at, t.NotIn)
	first := b.roomIn(b.calendar, t, at)
	if !leaves || t.Hands == 0 {
		return first
	}
	if aside := b.roomIn(b.wide, t, at); aside <= first+patience {
		return aside
	}
	return first
}

// patience is how much later a task that can be done at any hour may be put
// for the sake of those that cannot.
const patience = 24 * 60

func (b *board) roomIn(c calendar, t *Task, at int) int {
	for {
		open := c.fit(at, t.Hands)
		if open >= never {
			return never
		}
		if at = b.busy.free(open, t.Hands); at == open {
			return at
		}
	}
}

// crowded returns the task that takes a place when none is free for all of the
// piece's stay, and when one may be; −1 when all is well.
func (b *board) crowded(piece *Piece, starts []int) (take, later int) {
	take, free := piece.stay()
	if take < 0 {
		return -1, 0
	}
	want := piece.places()
	room := b.Rack[piece.Rack]
	begun := piece.Tasks[take].there()
	if want > room && !begun {
		return take, never
	}
	from, to := starts[take], never
	if free >= 0 {
		to = starts[free] + piece.Tasks[free].Hands
	}
	in := b.held[piece.Rack]
	// The stay is crowded if somewhere in it too many places are in use; it must
	// then begin after the first of those stays ends.
	points := []int{from}
	for _, h := range in {
		if h.From > from && h.From < to {
			points = append(points, h.From)
		}
	}
	for _, p := range points {
		used, ends, planned := 0, never, !begun
		for _, h := range in {
			if h.From <= p && p < h.To {
				used++
				ends = min(ends, h.To)
				planned = planned || !h.begun
			}
		}
		if used+want > room && planned { // boards that all stand there already do find room
			return take, ends
		}
	}
	return -1, 0
}

// stay returns the tasks that take and free the place; −1 for none.
func (p *Piece) stay() (take, free int) {
	take, free = -1, -1
	for k, t := range p.Tasks {
		if t.Take && take < 0 {
			take = k
		}
		if t.Free {
			free = k
		}
	}
	return take, free
}

// take gives a planned piece its hands and its place.
func (b *board) take(i int, starts []int) {
	for k, t := range b.Pieces[i].Tasks {
		if t.Fixed == nil {
			b.busy.add(Interval{starts[k], starts[k] + t.Hands})
		}
	}
	b.occupy(i, starts)
}

func (b *board) occupy(i int, starts []int) {
	piece := &b.Pieces[i]
	take, free := piece.stay()
	if take < 0 || len(b.Rack) == 0 {
		return
	}
	to := never
	if free >= 0 {
		to = starts[free] + piece.Tasks[free].Hands
	}
	for range piece.places() {
		b.held[piece.Rack] = append(b.held[piece.Rack], stay{Interval{starts[take], to}, piece.Tasks[take].there()})
	}
}
