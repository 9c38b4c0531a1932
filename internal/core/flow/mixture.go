package flow

// A mixture is the composition of every cell's stirred layers: nothing is kept
// until something is stirred. All stirred layers of a cell have one composition.
type mixture struct {
	cups      int
	now, next []float64 // shares of the cups, cell by cell, as film in m
}

// stirred reports whether anything was.
func (m *mixture) stirred() bool { return m.now != nil }

func (m *mixture) row(of []float64, i int) []float64 { return of[i*m.cups : (i+1)*m.cups] }

// film is how much of a cell is stirred.
func (m *mixture) film(i int) float64 {
	sum := 0.0
	for _, v := range m.row(m.now, i) {
		sum += v
	}
	return sum
}

// count adds what an amount of the mixture of a cell consists of.
func (m *mixture) count(i int, amount float64, to []float64) {
	all := m.film(i)
	if all <= 0 {
		return
	}
	for k, v := range m.row(m.now, i) {
		to[k] += amount * v / all
	}
}

func (m *mixture) begin(i int) {
	if m.stirred() {
		clear(m.row(m.next, i))
	}
}

func (m *mixture) keep(i int, film float64) { m.count(i, film, m.row(m.next, i)) }

func (m *mixture) give(from, into int, film float64) { m.count(from, film, m.row(m.next, into)) }

// renew takes over what a cell's stirred layers have come to consist of.
func (m *mixture) renew(i int) {
	if m.stirred() {
		copy(m.row(m.now, i), m.row(m.next, i))
	}
}

// Stir mixes the columns of some cells through and through: of each one a single
// layer is left, and the cells have it alike.
func (c *Coat) Stir(cells []int) {
	if !c.stir.stirred() {
		c.stir = mixture{c.cups, make([]float64, len(c.film.h)*c.cups), make([]float64, len(c.film.h)*c.cups)}
	}
	c.atOnce(about(c.film.grid, cells))
	if c.skin != nil {
		c.skin.draw()
	}
	for _, i := range cells {
		if c.skin != nil {
			c.skin.each(i, func(k, _, _ int) { c.skin.cup[k] = asColumn })
		}
	}
	all, sum := make([]float64, c.cups), 0.0
	for _, i := range cells {
		c.total(i, all)
		sum += c.film.h[i]
	}
	if sum <= 0 {
		return
	}
	for _, i := range cells {
		row := c.stir.row(c.stir.now, i)
		for k, v := range all {
			row[k] = c.film.h[i] * v / sum
		}
		var t tower
		if c.film.h[i] > 0 {
			t.add(Mixed, c.film.h[i])
		}
		t.write(c, &c.now, i)
	}
	c.eases()
}

// total adds what of every cup lies in a cell.
func (c *Coat) total(i int, to []float64) {
	for k := i * c.most; k < i*c.most+int(c.now.n[i]); k++ {
		if cup := c.now.cup[k]; cup == Mixed {
			c.stir.count(i, c.now.d[k], to)
		} else {
			to[cup] += c.now.d[k]
		}
	}
}

// Composition is the composition of a cell's stirred layers, shares of the cups
// that add up to 1; nil without any.
func (c *Coat) Composition(i int) []float64 {
	if !c.stir.stirred() {
		return nil
	}
	out := make([]float64, c.cups)
	c.stir.count(i, 1, out)
	return out
}
