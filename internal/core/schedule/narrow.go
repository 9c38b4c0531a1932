package schedule

import "slices"

// narrow reports whether another task must follow this one within a longest
// wait, which rules out hours from which that task would fall into the night.
func (p *Piece) narrow(k int) bool {
	for _, t := range p.Tasks {
		for _, w := range t.Waits {
			if w.After == k && w.Max != NoMax {
				return true
			}
		}
	}
	return false
}

// narrowHours is the union of the stretches in which narrow tasks can lie: one
// in the opening interval O with a follower in O′ starts between O′.From −
// hands − max and O′.To − follower − hands − min.
func (n *network) narrowHours() []Interval {
	type shape struct{ hands, least, most, follower int }
	shapes := map[shape]bool{}
	for j, t := range n.jobs {
		for _, e := range n.upper[j] {
			f := n.jobs[e.to]
			if t.Fixed != nil || f.Fixed != nil {
				continue
			}
			for _, w := range f.Waits {
				if w.After == t.task && w.Max != NoMax {
					shapes[shape{t.Hands, w.Min, w.Max, f.Hands}] = true
				}
			}
		}
	}
	var out []Interval
	for s := range shapes {
		for _, o := range n.open {
			from := n.index(o.From + s.hands + s.least)
			for _, f := range n.open[min(from, len(n.open)):] {
				lo := max(o.From, f.From-s.hands-s.most)
				hi := min(o.To-s.hands, f.To-s.follower-s.hands-s.least)
				if lo <= hi && f.To-f.From >= s.follower {
					out = append(out, Interval{lo, hi + s.hands})
				}
				if f.From-s.hands-s.most > o.To {
					break
				}
			}
		}
	}
	return Union(out)
}

// Union sorts stretches and joins those that touch.
func Union(in []Interval) []Interval {
	slices.SortFunc(in, func(a, b Interval) int { return a.From - b.From })
	var out []Interval
	for _, v := range in {
		if k := len(out); k > 0 && v.From <= out[k-1].To {
			out[k-1].To = max(out[k-1].To, v.To)
		} else if v.To > v.From {
			out = append(out, v)
		}
	}
	return out
}

// without subtracts some stretches from others.
func without(from, take []Interval) []Interval {
	var out []Interval
	i := 0
	for _, f := range from {
		at := f.From
		for ; i < len(take) && take[i].To <= at; i++ {
		}
		for k := i; k < len(take) && take[k].From < f.To; k++ {
			if take[k].From > at {
				out = append(out, Interval{at, take[k].From})
			}
			at = max(at, take[k].To)
		}
		if at < f.To {
			out = append(out, Interval{at, f.To})
		}
	}
	return out
}
