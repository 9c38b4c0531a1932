package flow

// A Blade is a tool drawn through the surface: a sheet, a stick, a comb's tooth.
type Blade struct {
	// Gap is how far a sheet's edge is from the board; a flat blade leaves half of
	// it behind (the mean of a linear velocity profile). 0 for a stick.
	Gap float64 // m
	// Depth is how deep a stick goes under the surface; what lies lower stays.
	Depth float64 // m
	// Uneven is by which share the hand presses more or less than it means to, from place
	// to place (0 for a machine's), and Seed which of the possible hands it is.
	Uneven float64
	Seed   uint64
	// Contact is along which length the blade lies on the film; what it carries is
	// spread over it.
	Contact float64 // m
}

// A Lane is a row of neighbouring cells under one part of a blade, in the order in
// which it comes over them.
type Lane struct {
	Cells []int
	Off   bool // it leaves the board at the end
}

// A Stroke is a blade on its way along its lanes.
type Stroke struct {
	coat  *Coat
	blade Blade
	lanes []Lane
	done  []int   // cells of each lane
	beads []tower // what it carries; film times length, m²
	mixed [][]float64
	// touched are the cells it has just changed.
	touched []int32
	// closed are the faces under its edge, while the film flows.
	closed []face
}

// Stroke sets a blade down at the beginning of its lanes.
func (c *Coat) Stroke(b Blade, lanes []Lane) *Stroke {
	b.Contact = max(b.Contact, c.film.grid.Cell)
	s := &Stroke{
		coat:  c,
		blade: b,
		lanes: lanes,
		done:  make([]int, len(lanes)),
		beads: make([]tower, len(lanes)),
		mixed: make([][]float64, len(lanes)),
	}
	for k := range s.mixed {
		s.mixed[k] = make([]float64, c.cups)
	}
	return s
}

// To draws the blade as far as a share of its way. At the end of it, a lane that
// ends on the board leaves there what the blade still carries; one that ends off it
// carries it over the edge.
func (s *Stroke) To(share float64) {
	c := s.coat
	over := s.ahead(share)
	c.atOnce(over)
	c.film.bar(s.closed, -1)
	s.closed = s.closed[:0]
	if c.skin != nil {
		c.skin.draw()
	}
	for k, l := range s.lanes {
		to := l.upTo(share)
		if last := s.done[k] - 1; last >= 0 && last < to-1 { // what it shows was read beside what had not been passed
			s.touched = append(s.touched, int32(l.Cells[last]))
		}
		for ; s.done[k] < to; s.done[k]++ {
			i := l.Cells[s.done[k]]
			var t tower
			t.read(c, i)
			t.times(c.film.per[i])
			blade := s.blade.pressed(float64(k)*c.film.grid.Cell, float64(s.done[k])*c.film.grid.Cell)
			blade.pass(c.film.grid.Cell*c.film.area[i], &t, &s.beads[k])
			t.times(c.film.area[i])
			t.write(c, &c.now, i)
			c.film.h[i] = c.height(i)
			c.film.changedAt(i)
			s.remix(k, i)
			s.touched = append(s.touched, int32(i))
		}
		if share >= 1 {
			s.leave(k)
		}
	}
	if share < 1 {
		s.closed = s.front(s.closed)
		c.film.bar(s.closed, 1)
	}
	c.film.disturbed()
	c.easesIn(over)
	s.swept(over)
}

// edge is over how many cells of a lane its front is looked for: lanes aslant advance by
// turns.
const edge = 3

// front adds the faces between what the blade has just passed and what it comes to next.
// While it lies on the film, what it has yet to pass does not flow back under it.
func (s *Stroke) front(faces []face) []face {
	ahead := map[int]bool{}
	for k, l := range s.lanes {
		for _, i := range l.Cells[s.done[k]:min(s.done[k]+edge, len(l.Cells))] {
			ahead[i] = true
		}
	}
	g := s.coat.film.grid
	for k, l := range s.lanes {
		for _, i := range l.Cells[max(0, s.done[k]-edge):s.done[k]] {
			if ahead[i] { // on a way that turns back
				continue
			}
			for _, f := range [...]face{
				{int32(i), false}, {int32(i), true}, {int32(i - 1), false}, {int32(i - g.NX), true},
			} {
				if f.cell < 0 {
					continue
				}
				j, ok := g.beyond(f)
				if ok && (ahead[j] || ahead[int(f.cell)]) {
					faces = append(faces, f)
				}
			}
		}
	}
	return faces
}

// swept lets the skin show what lies where the blade went.
func (s *Stroke) swept(p part) {
	if c := s.coat; c.skin != nil && !p.empty() {
		c.skin.read(c, s.touched)
	}
	s.touched = s.touched[:0]
}

// upTo is how many cells of a lane are a share of it.
func (l Lane) upTo(share float64) int {
	return min(len(l.Cells), int(share*float64(len(l.Cells))+0.5))
}

// ahead is the part of the board that the blade passes on the next bit of its way, with
// where it leaves what it carries at the end.
func (s *Stroke) ahead(share float64) part {
	var p part
	for k, l := range s.lanes {
		from, to := s.done[k], l.upTo(share)
		if share >= 1 {
			from = min(from, len(l.Cells)-s.puts(l))
		}
		if from < to {
			p = p.with(about(s.coat.film.grid, l.Cells[from:to]))
		}
	}
	return p
}

// puts is over how many cells a lane that ends on the board puts down what is carried.
func (s *Stroke) puts(l Lane) int {
	return min(len(l.Cells), max(1, int(s.blade.Contact/s.coat.film.grid.Cell+0.5)))
}

// remix divides what is stirred among a cell and the blade that passed over it.
func (s *Stroke) remix(lane, i int) {
	c := s.coat
	if !c.stir.stirred() {
		return
	}
	cell, carried, lies := c.film.grid.Cell, s.mixed[lane], 0.0
	for k := i * c.most; k < i*c.most+int(c.now.n[i]); k++ {
		if c.now.cup[k] == Mixed {
			lies += c.now.d[k]
		}
	}
	row, all := c.stir.row(c.stir.now, i), 0.0
	for k, v := range row {
		carried[k] += v * cell
		all += carried[k]
	}
	for k := range row {
		row[k] = 0
		if all > 0 {
			row[k] = carried[k] / all * lies
			carried[k] = max(0, carried[k]-row[k]*cell)
		}
	}
}

// A hand's pressure changes over so many metres across its way and along it (our reading
// of common practice: a sheet ripples across, and is held alike for a while).
const (
	ripples = 0.012
	heldFor = 0.06
)

// pressed is the blade as the hand holds it at a place across and along its way, in m.
func (b Blade) pressed(across, along float64) Blade {
	if b.Uneven > 0 {
		by := 1 + b.Uneven*wavy(across/ripples, along/heldFor, b.Seed)
		b.Gap, b.Depth = b.Gap*by, b.Depth*by
	}
	return b
}

// pass brings the blade over one cell. What comes out behind it is what passes
// under it in its own frame, (1 − z/G) at height z: mostly what lies low, and a
// little of all that it carries.
func (b Blade) pass(cell float64, t, bead *tower) {
	low := t.cut(b.stays(t))
	h, carried := t.height(), bead.height()
	all := h + carried/b.Contact
	if all <= 0 {
		t.under(low)
		return
	}
	e := b.leaves(h, carried, cell)
	var out [tallest]float64
	n := t.n
	for k := range bead.n { // the bead lies on the film
		t.cup[t.n], t.d[t.n] = bead.cup[k], bead.d[k]/b.Contact
		t.n++
	}
	passes(t.d[:t.n], min(e, all), out[:t.n], n, b.Contact/cell)
	var rest tower
	for k := range t.n {
		amount := t.d[k] * cell
		if k >= n {
			amount = t.d[k] * b.Contact
		}
		if left := amount - out[k]*cell; left > 0 {
			rest.cup[rest.n], rest.d[rest.n] = t.cup[k], left
			rest.n++
		}
		t.d[k] = out[k]
	}
	t.tidy()
	rest.roll()
	*bead = rest
	t.under(low)
}

// stays is how much of a column lies too low for the blade.
func (b Blade) stays(t *tower) float64 {
	if b.Gap > 0 {
		return 0
	}
	return max(0, t.height()-b.Depth)
}

// leaves is how thick the film is that the blade leaves behind.
func (b Blade) leaves(h, carried, cell float64) float64 {
	if b.Gap > 0 {
		return b.Gap / 2
	}
	room := b.Depth - carried/b.Contact // what a stick still takes in
	return h - room*min(1, cell/b.Contact)
}

// passes divides the film e that comes out among the layers d, by 2ζ − ζ² of the
// height, none more than there is; layers from the n-th on have spare times what
// lies over one cell.
func passes(d []float64, e float64, out []float64, n int, spare float64) {
	all := 0.0
	for _, v := range d {
		all += v
	}
	var weight [tallest]float64
	z := 0.0
	for k, v := range d {
		a, b := z/all, (z+v)/all
		weight[k] = (2*b - b*b) - (2*a - a*a)
		z += v
	}
	for left, open := e, 1.0; left > 1e-15 && open > 1e-15; {
		given, rest := 0.0, 0.0
		for k := range d {
			room := d[k] - out[k]
			if k >= n {
				room = d[k]*spare - out[k]
			}
			take := min(room, left*weight[k]/open)
			if take >= room {
				weight[k] = 0
			}
			out[k] += take
			given += take
			rest += weight[k]
		}
		if given <= 0 {
			return
		}
		left, open = left-given, rest
	}
}

// leave puts down what the blade carries at the end of a lane.
func (s *Stroke) leave(lane int) {
	c, l, bead := s.coat, s.lanes[lane], &s.beads[lane]
	if bead.n == 0 || len(l.Cells) == 0 {
		return
	}
	cell := c.film.grid.Cell
	if l.Off {
		s.carryOff(lane, l.Cells[len(l.Cells)-1])
		return
	}
	over := s.puts(l)
	for _, i := range l.Cells[len(l.Cells)-over:] {
		var t tower
		t.read(c, i)
		for k := range bead.n {
			t.add(bead.cup[k], bead.d[k]/cell/float64(over))
		}
		t.write(c, &c.now, i)
		c.film.h[i] = c.height(i)
		c.film.changedAt(i)
		s.touched = append(s.touched, int32(i))
		if c.stir.stirred() {
			for k, v := range s.mixed[lane] {
				c.stir.row(c.stir.now, i)[k] += v / cell / float64(over)
			}
		}
	}
	*bead = tower{}
}

// carryOff gives the side of a cell what is carried over it.
func (s *Stroke) carryOff(lane, i int) {
	c, bead := s.coat, &s.beads[lane]
	to := c.sides.over(i)
	for k := range bead.n {
		if bead.cup[k] != Mixed {
			to[bead.cup[k]] += bead.d[k] * c.film.grid.Cell
		}
		c.film.ran += bead.d[k] * c.film.grid.Cell
	}
	for k, v := range s.mixed[lane] {
		to[k] += v * c.film.grid.Cell
	}
	*bead = tower{}
}

// height is the film of a tower.
func (t *tower) height() float64 {
	h := 0.0
	for _, d := range t.d[:t.n] {
		h += d
	}
	return h
}

// cut takes the lowest part of a tower away and returns it.
func (t *tower) cut(film float64) (low []Layer) {
	if film <= 0 {
		return nil
	}
	n := 0
	for k := range t.n {
		d := min(t.d[k], film)
		film -= d
		if d > 0 {
			low = append(low, Layer{int(t.cup[k]), d})
		}
		if t.d[k] > d {
			t.cup[n], t.d[n] = t.cup[k], t.d[k]-d
			n++
		}
	}
	t.n = n
	return low
}

// under puts back what was cut.
func (t *tower) under(low []Layer) {
	if len(low) == 0 {
		return
	}
	n := len(low)
	copy(t.cup[n:], t.cup[:t.n])
	copy(t.d[n:], t.d[:t.n])
	for k, l := range low {
		t.cup[k], t.d[k] = uint8(l.Cup), l.Film
	}
	t.n += n
}

// roll puts together what a blade carries of a cup, where the uppermost of it was: a
// bead rolls and keeps no finer order.
func (t *tower) roll() {
	n := 0
	for k := range t.n {
		again := false
		for j := k + 1; j < t.n && !again; j++ {
			if again = t.cup[j] == t.cup[k]; again {
				t.d[j] += t.d[k]
			}
		}
		if !again {
			t.cup[n], t.d[n] = t.cup[k], t.d[k]
			n++
		}
	}
	t.n = n
}

// times makes all layers so many times as thick.
func (t *tower) times(by float64) {
	for k := range t.n {
		t.d[k] *= by
	}
}

// tidy drops layers of nothing.
func (t *tower) tidy() {
	n := 0
	for k := range t.n {
		if t.d[k] > 0 {
			t.cup[n], t.d[n] = t.cup[k], t.d[k]
			n++
		}
	}
	t.n = n
}
