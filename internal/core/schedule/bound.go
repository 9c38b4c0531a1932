package schedule

// bound is a minute before which no plan ends: every piece by itself; all the
// work one after the other with the shortest ways in and out (after Jackson
// 1955); the same for the narrow tasks in the hours they can lie in; and the
// stays on each rack side by side on all its places.
func (n *network) bound() int {
	alone := 0
	all, narrow := newLoad(), newLoad()
	stays := make([]load, len(n.Rack))
	for i := range stays {
		stays[i] = newLoad()
	}
	for i := range n.Pieces {
		starts, ok := n.alone(i)
		if !ok {
			continue
		}
		piece := &n.Pieces[i]
		last, any := n.tails(i, true), n.tails(i, false)
		for k, t := range piece.Tasks {
			alone = max(alone, starts[k]+t.Hands)
			if t.Fixed != nil || t.Hands == 0 {
				continue
			}
			all.add(t.Hands, starts[k], last[k])
			if piece.narrow(k) {
				narrow.add(t.Hands, starts[k], any[k])
			}
		}
		if take, free := piece.stay(); take >= 0 && free >= 0 && len(n.Rack) > 0 && piece.Tasks[take].Fixed == nil {
			least := any[take] - any[free] + piece.Tasks[take].Hands
			stays[piece.Rack].add(least*piece.places(), starts[take], any[free])
		}
	}
	alone = max(alone, all.end(n.calendar.after), narrow.end(n.strict.after))
	for class, l := range stays {
		places := max(1, n.Rack[class])
		alone = max(alone, l.end(func(t, work int) int { return t + (work+places-1)/places }))
	}
	return alone
}

// A load is work that has to be packed into some hours: how much, how early it
// can begin and the least that follows whatever of it comes last.
type load struct{ work, head, tail int }

func newLoad() load { return load{0, never, never} }

func (l *load) add(work, head, tail int) {
	l.work, l.head, l.tail = l.work+work, min(l.head, head), min(l.tail, tail)
}

func (l load) end(pack func(t, work int) int) int {
	if l.work == 0 || l.tail >= never {
		return 0
	}
	if at := pack(l.head, l.work); at < never {
		return at + l.tail
	}
	return 0
}

// alone plans a piece as if it were the only one: no task can start earlier.
func (n *network) alone(i int) ([]int, bool) {
	b := &board{network: n, busy: newBusy(nil)}
	return b.insert(i, false)
}

// tails returns for each task the least time from its end to the end of its
// piece. With last it is never where other work follows: such a task is not
// the last of all work.
func (n *network) tails(i int, last bool) []int {
	piece := &n.Pieces[i]
	out := make([]int, len(piece.Tasks))
	for changed := true; changed; { // ends: there is no circle
		changed = false
		for k, t := range piece.Tasks {
			rest := min(never, t.Hands+out[k])
			if last && t.Hands > 0 {
				rest = never
			}
			for _, w := range t.Waits {
				if v := min(never, w.Min+rest); v > out[w.After] {
					out[w.After], changed = v, true
				}
			}
		}
	}
	return out
}
