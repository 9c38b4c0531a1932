package schedule

import "slices"

// queue lets a piece that finds no place on the rack, and all that follows of
// it, wait behind the job that gives one back; false where none ever does.
func (s *sequencer) queue(order []int) bool {
	copy(s.held, s.standing)
	clear(s.waiting)
	s.line, s.out = s.line[:0], s.out[:0]
	for _, j := range order {
		switch b := &s.briefs[j]; {
		case s.waiting[b.piece]:
			s.line = append(s.line, j)
		case b.shelved:
			s.turn(j)
		default:
			s.out = append(s.out, j)
		}
	}
	if len(s.line) > 0 {
		return false
	}
	copy(order, s.out)
	return true
}

// turn takes a job up into the order, or puts its piece in the line.
func (s *sequencer) turn(j int) {
	t := &s.jobs[j]
	if t.Take && !s.finds(j) {
		s.waiting[t.piece] = true
		s.line = append(s.line, j)
		return
	}
	s.pass(j)
	if t.Free {
		s.release()
	}
}

// finds reports whether the place a job takes is there. What has happened took it.
func (s *sequencer) finds(j int) bool {
	piece := &s.Pieces[s.jobs[j].piece]
	return s.jobs[j].there() || s.held[piece.Rack]+piece.places() <= s.Rack[piece.Rack]
}

// pass appends a job to the order, with what it takes and gives back.
func (s *sequencer) pass(j int) {
	s.out = append(s.out, j)
	t := &s.jobs[j]
	if t.Take == t.Free || t.there() {
		return
	}
	piece := &s.Pieces[t.piece]
	if t.Take {
		s.held[piece.Rack] += piece.places()
	} else {
		s.held[piece.Rack] -= piece.places()
	}
}

// release lets the first pieces in the line go on that find room now, each with all of
// its jobs that wait.
func (s *sequencer) release() {
	for {
		at := slices.IndexFunc(s.line, func(j int) bool { return s.jobs[j].Take && s.finds(j) })
		if at < 0 {
			return
		}
		i := s.jobs[s.line[at]].piece
		s.waiting[i] = false
		rest := s.line[:0]
		for _, k := range s.line {
			if s.jobs[k].piece == i {
				s.pass(k)
			} else {
				rest = append(rest, k)
			}
		}
		s.line = rest
	}
}
