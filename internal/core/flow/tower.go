package flow

// tallest bounds a column while it is put together: what stays and four
// neighbours.
const tallest = 5 * (MostCups + spareLayers + 1)

// aloft is the height at which powder on the surface arrives: over all that moves.
const aloft = 2

// A tower is a column being put together, lowest layer first. Layers are ordered
// by the height, relative to the film, at which they were or arrive.
type tower struct {
	n   int
	cup [tallest]uint8
	d   [tallest]float64
	at  [tallest]float64
}

// read takes a cell's column as it is.
func (t *tower) read(c *Coat, i int) {
	row := i * c.most
	t.n = int(c.now.n[i])
	copy(t.cup[:t.n], c.now.cup[row:row+t.n])
	copy(t.d[:t.n], c.now.d[row:row+t.n])
}

// add lays a layer on top.
func (t *tower) add(cup uint8, d float64) {
	t.cup[t.n], t.d[t.n], t.at[t.n] = cup, d, 1
	t.n++
}

// stay takes what of a cell's column does not leave it.
func (t *tower) stay(c *Coat, i int, out float64) {
	row, n := i*c.most, int(c.now.n[i])
	cups, films := c.now.cup[row:row+n], c.now.d[row:row+n]
	share, from := c.moves.share[row:row+n], c.moves.from[row:row+n]
	films, share, from = films[:len(cups)], share[:len(cups)], from[:len(cups)]
	h := c.height(i)
	if h <= 0 {
		return
	}
	z, per := 0.0, 1/h
	for k, cup := range cups {
		d := films[k]
		lost := min(d, out*share[k])
		if rest := d - lost; rest > 0 { // the upper part of a layer left first
			at := z + d/2
			if lost > 0 {
				at = (d*at - lost*float64(from[k])*h) / rest
			}
			if cup == Mixed {
				c.stir.keep(i, rest)
			}
			t.cup[t.n], t.d[t.n], t.at[t.n] = cup, rest, float64(float32(max(z, at)*per)) // as exact as what arrives
			if c.carries(cup, k, n) {
				t.at[t.n] = aloft
			}
			t.n++
		}
		z += d
	}
}

func (c *Coat) height(i int) float64 {
	h := 0.0
	for k := i * c.most; k < i*c.most+int(c.now.n[i]); k++ {
		h += c.now.d[k]
	}
	return h
}

// An inflow is the inflow from a cell's neighbours, by the height at which it arrives: in
// which order they are asked does not matter.
type inflow struct {
	n   int
	cup [tallest]uint8
	d   [tallest]float64
	at  [tallest]float64
}

// from adds what a neighbour gives.
func (in *inflow) from(c *Coat, from int, flux float64, into int) {
	row, n := from*c.most, int(c.now.n[from])
	cups, share, height := c.now.cup[row:row+n], c.moves.share[row:row+n], c.moves.from[row:row+n]
	share, height = share[:len(cups)], height[:len(cups)]
	for l, cup := range cups {
		give := flux * share[l]
		if give <= 0 {
			continue
		}
		at := float64(height[l])
		if c.carries(cup, l, n) {
			at = aloft
		}
		if cup == Mixed {
			c.stir.give(from, into, give)
		}
		in.put(cup, give, at)
	}
}

// put keeps the order: by height, then by cup, then by amount.
func (in *inflow) put(cup uint8, d, at float64) {
	k := in.n
	for ; k > 0 && in.after(k-1, cup, d, at); k-- {
		in.cup[k], in.d[k], in.at[k] = in.cup[k-1], in.d[k-1], in.at[k-1]
	}
	in.cup[k], in.d[k], in.at[k] = cup, d, at
	in.n++
}

func (in *inflow) after(k int, cup uint8, d, at float64) bool {
	switch {
	case in.at[k] != at:
		return in.at[k] > at
	case in.cup[k] != cup:
		return in.cup[k] > cup
	}
	return in.d[k] > d
}

// merge puts what flows in among the layers, each at its height.
func (t *tower) merge(in *inflow) {
	k := 0
	for l := range in.n {
		for k < t.n && (t.at[k] < in.at[l] || t.at[k] == in.at[l] && t.cup[k] <= in.cup[l]) {
			k++
		}
		k = t.insert(k, in.cup[l], in.d[l], in.at[l])
	}
}

// insert puts a layer before the k-th, or joins it to one of its cup beside it, and
// returns where to go on.
func (t *tower) insert(k int, cup uint8, d, at float64) int {
	switch {
	case k > 0 && t.cup[k-1] == cup:
		t.d[k-1] += d
		return k
	case k < t.n && t.cup[k] == cup:
		t.d[k] += d
		return k
	}
	for j := t.n; j > k; j-- { // a few: quicker than to copy
		t.cup[j], t.d[j], t.at[j] = t.cup[j-1], t.d[j-1], t.at[j-1]
	}
	t.cup[k], t.d[k], t.at[k] = cup, d, at
	t.n++
	return k + 1
}

// sliver is a layer that is none, in m: what rounding leaves.
const sliver = 1e-14

// join makes one of neighbours of one cup and drops slivers.
func (t *tower) join() {
	n := 0
	for k := range t.n {
		if t.d[k] < sliver {
			continue
		}
		if n > 0 && t.cup[n-1] == t.cup[k] {
			t.d[n-1] += t.d[k]
			continue
		}
		t.cup[n], t.d[n] = t.cup[k], t.d[k]
		n++
	}
	t.n = n
}

// write keeps the column of a cell, at most so many layers: the thinnest that has
// another of its cup joins that.
func (t *tower) write(c *Coat, into *columns, i int) {
	t.join()
	t.veils()
	for t.n > c.most {
		t.lessen()
	}
	row := i * c.most
	into.n[i] = uint8(t.n)
	cup, d := into.cup[row:row+t.n], into.d[row:row+t.n]
	for k := range cup {
		cup[k], d[k] = t.cup[k], t.d[k]
	}
}

// fineLayers is how many layers a column has before the finest of them are put
// together; veil is a layer too thin to be seen as one, in m.
const (
	fineLayers = 4
	veil       = 2e-6
)

// veils moves layers too thin to be seen to the nearest of their cup, while there are
// many.
func (t *tower) veils() {
	for k := 0; k < t.n && t.n > fineLayers; k++ {
		if t.d[k] >= veil {
			continue
		}
		if to := t.nearest(k); to >= 0 {
			t.move(k, to)
			k-- // another layer is the k-th now
		}
	}
}

// lessen moves the thinnest layer whose cup lies elsewhere in the column to the nearest of
// them.
func (t *tower) lessen() {
	thin, to := -1, -1
	for k := range t.n {
		if thin >= 0 && t.d[k] >= t.d[thin] {
			continue
		}
		if other := t.nearest(k); other >= 0 {
			thin, to = k, other
		}
	}
	t.move(thin, to)
}

// move puts a layer to another of its cup; the two it lay between are one if they are alike.
func (t *tower) move(k, to int) {
	t.d[to] += t.d[k]
	t.drop(k)
	if k > 0 && k < t.n && t.cup[k-1] == t.cup[k] {
		t.d[k-1] += t.d[k]
		t.drop(k)
	}
}

func (t *tower) drop(k int) {
	t.n--
	for ; k < t.n; k++ {
		t.cup[k], t.d[k] = t.cup[k+1], t.d[k+1]
	}
}

func (t *tower) nearest(k int) int {
	for off := 1; off < t.n; off++ {
		if k-off >= 0 && t.cup[k-off] == t.cup[k] {
			return k - off
		}
		if k+off < t.n && t.cup[k+off] == t.cup[k] {
			return k + off
		}
	}
	return -1
}
