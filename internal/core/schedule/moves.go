package schedule

import "slices"

// change makes next a neighbour of the order.
func (s *sequencer) change(now *sequence, next []int) bool {
	copy(next, now.order)
	for p, j := range next {
		s.at[j] = p
	}
	switch r := s.random.IntN(20); {
	case r < 7:
		return s.move(next)
	case r < 9:
		return s.exchange(next)
	case r < 13:
		return s.block(now, next)
	case r < 18:
		return s.shift(now, next, r >= 16)
	}
	return s.again(now, next)
}

// block takes a job, with those that longest waits tie to it, to where another
// job of the plan lies.
func (s *sequencer) block(now *sequence, next []int) bool {
	copy(s.key, now.start)
	j, other := s.free[s.random.IntN(len(s.free))], s.random.IntN(len(s.jobs))
	by := now.start[other] - now.start[j]
	if s.random.IntN(2) == 0 {
		by += s.jobs[other].Hands
	}
	if by == 0 {
		return false
	}
	for _, k := range s.tied(j) {
		s.key[k] += by
	}
	s.sort(next)
	return true
}

// closely is up to which longest wait two jobs are moved together.
const closely = 24 * 60

// tied are a job and all that longest waits tie to it, one after the other.
func (s *sequencer) tied(j int) []int {
	s.group = append(s.group[:0], j)
	for i := 0; i < len(s.group); i++ {
		k := s.group[i]
		for _, e := range s.upper[k] {
			s.tie(e.to, e.wait)
		}
		t := &s.jobs[k]
		for _, w := range t.Waits {
			if w.Max != NoMax {
				s.tie(s.number[t.piece][w.After], w.Max)
			}
		}
	}
	return s.group
}

func (s *sequencer) tie(j, wait int) {
	if wait <= closely && s.jobs[j].Fixed == nil && !slices.Contains(s.group, j) {
		s.group = append(s.group, j)
	}
}

// again takes one to three pieces out and plans each anew, as early as the
// others leave room.
func (s *sequencer) again(now *sequence, next []int) bool {
	copy(s.key, now.start)
	var out []int
	for range 1 + s.random.IntN(3) {
		if i := s.choose(now.start); !slices.Contains(out, i) && len(s.number[i]) > 0 {
			out = append(out, i)
		}
	}
	b := &board{network: s.network, held: make([][]stay, len(s.Rack)), leave: s.random.IntN(2) == 0}
	spans := s.pinned()
	for j, t := range s.jobs {
		if t.Hands > 0 && t.Fixed == nil && !slices.Contains(out, t.piece) {
			spans = append(spans, Interval{now.start[j], now.start[j] + t.Hands})
		}
	}
	slices.SortFunc(spans, func(a, c Interval) int { return a.From - c.From })
	b.busy = newBusy(spans)
	for i := range s.Pieces {
		if !slices.Contains(out, i) {
			b.occupy(i, s.startsOf(i, now.start))
		}
	}
	for _, i := range out {
		starts, ok := b.insert(i, true)
		if !ok {
			return false
		}
		for k, at := range starts {
			s.key[s.number[i][k]] = at
		}
		b.take(i, starts)
	}
	s.sort(next)
	return true
}

func (s *sequencer) startsOf(i int, start []int) []int {
	out := make([]int, len(s.number[i]))
	for k, j := range s.number[i] {
		out[k] = start[j]
	}
	return out
}

// between are the places a job may take without passing what it waits for or
// what waits for it.
func (s *sequencer) between(j int) (from, to int) {
	from, to = 0, len(s.jobs)-1
	for _, e := range s.lower[j] {
		from = max(from, s.at[e.to]+1)
	}
	for _, k := range s.followers[j] {
		to = min(to, s.at[k]-1)
	}
	return from, to
}

// move takes one job elsewhere.
func (s *sequencer) move(next []int) bool {
	j := s.free[s.random.IntN(len(s.free))]
	from, to := s.between(j)
	if to <= from {
		return false
	}
	p, q := s.at[j], from+s.random.IntN(to-from+1)
	if far := 12; s.random.IntN(3) > 0 {
		q = max(from, min(to, p+s.random.IntN(2*far+1)-far))
	}
	if p == q {
		return false
	}
	if p < q {
		copy(next[p:q], next[p+1:q+1])
	} else {
		copy(next[q+1:p+1], next[q:p])
	}
	next[q] = j
	return true
}

// exchange swaps two jobs.
func (s *sequencer) exchange(next []int) bool {
	a, b := s.free[s.random.IntN(len(s.free))], s.free[s.random.IntN(len(s.free))]
	if a == b {
		return false
	}
	fa, ta := s.between(a)
	fb, tb := s.between(b)
	pa, pb := s.at[a], s.at[b]
	if pb < fa || pb > ta || pa < fb || pa > tb {
		return false
	}
	next[pa], next[pb] = b, a
	return true
}

// shift takes a piece, from one of its tasks on, to another time, or lets two
// pieces change places.
func (s *sequencer) shift(now *sequence, next []int, two bool) bool {
	copy(s.key, now.start)
	i := s.choose(now.start)
	numbers := s.number[i]
	if len(numbers) == 0 {
		return false
	}
	if k := s.random.IntN(len(s.Pieces)); two && k != i && len(s.number[k]) > 0 {
		by := now.start[s.number[k][0]] - now.start[numbers[0]]
		s.later(numbers, 0, by)
		s.later(s.number[k], 0, -by)
	} else {
		s.later(numbers, s.random.IntN(len(numbers)), shifts[s.random.IntN(len(shifts))])
	}
	s.sort(next)
	return true
}

// choose picks a piece, every other time one that is late.
func (s *sequencer) choose(start []int) int {
	s.late = s.late[:0]
	if s.random.IntN(2) == 0 {
		for i, numbers := range s.number {
			for _, j := range numbers {
				if start[j]+s.jobs[j].Hands > s.Pieces[i].Due {
					s.late = append(s.late, i)
					break
				}
			}
		}
	}
	if len(s.late) > 0 {
		return s.late[s.random.IntN(len(s.late))]
	}
	return s.random.IntN(len(s.Pieces))
}

// shifts are how far a piece is taken, in minutes.
var shifts = []int{-4320, -2880, -1440, -720, -240, -60, 60, 240, 720, 1440, 2880}

func (s *sequencer) later(numbers []int, from, by int) {
	for _, j := range numbers[from:] {
		if s.jobs[j].Fixed == nil {
			s.key[j] += by
		}
	}
}
