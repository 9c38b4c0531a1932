package schedule

// queue lets a piece that finds no place on the shelf, and all that follows of
// it, wait behind the job that gives one back; false where none ever does.
func (s *sequencer) queue(order []int) bool {
	clear(s.held)
	clear(s.waiting)
	s.line, s.out = s.line[:0], s.out[:0]
	for _, j := range order {
		if s.waiting[s.jobs[j].piece] {
			s.line = append(s.line, j)
			continue
		}
		s.turn(j)
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
	if t.Take == t.Free {
		s.out = append(s.out, j)
		return
	}
	piece := &s.Pieces[t.piece]
	if t.Take {
		if s.held[piece.Shelf]+piece.places() > s.Shelf[piece.Shelf] {
			s.waiting[t.piece] = true
			s.line = append(s.line, j)
			return
		}
		s.held[piece.Shelf] += piece.places()
		s.out = append(s.out, j)
		return
	}
	s.held[piece.Shelf] -= piece.places()
	s.out = append(s.out, j)
	s.release()
}

// release lets the first pieces in the line go on that find room now.
func (s *sequencer) release() {
	for again := true; again; {
		again = false
		for _, j := range s.line {
			t := &s.jobs[j]
			piece := &s.Pieces[t.piece]
			if !t.Take || !s.waiting[t.piece] || s.held[piece.Shelf]+piece.places() > s.Shelf[piece.Shelf] {
				continue
			}
			s.waiting[t.piece] = false
			rest := append(s.spare[:0], s.line...)
			s.line = s.line[:0]
			for _, k := range rest {
				if s.jobs[k].piece == t.piece {
					s.turn(k)
				} else {
					s.line = append(s.line, k)
				}
			}
			s.spare = rest
			again = true
			break
		}
	}
}
