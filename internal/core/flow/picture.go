package flow

import (
	"context"
	"math"
	"math/bits"
)

// Picture is the board as it looks, row by row from the north, four bytes a point: red,
// green, blue, and how much of the point is face. A cell is shown as scale by scale
// points: what shows at each is what the skin says, in the colour of the cells about it. It
// ends with ctx.
func (p *Painter) Picture(ctx context.Context, r *Run, scale int) ([]byte, error) {
	d := p.drawing(ctx, r, scale)
	d.count()
	return d.painted()
}

// Look is the picture, and which share of the face shows each cup and the ground in it.
func (p *Painter) Look(ctx context.Context, r *Run, scale int) (pix []byte, cups []float64, ground float64, err error) {
	d := p.drawing(ctx, r, scale)
	d.count()
	pix, err = d.painted()
	cups, ground = d.visible()
	return pix, cups, ground, err
}

func (p *Painter) drawing(ctx context.Context, r *Run, scale int) *drawing {
	return &drawing{ctx: ctx, p: p, r: r.seen(), scale: scale}
}

// painted is the picture, once it is found what its places show.
func (d *drawing) painted() ([]byte, error) {
	g, scale, ctx := d.r.scene.Grid, d.scale, d.ctx
	face := d.p.face(&d.r.scene, scale)
	d.mixColours()
	d.fromWithin()
	d.soften()
	d.soften()
	out := make([]byte, 4*g.Len()*scale*scale)
	split(g.NY*scale, g.Len()*scale*scale, func(from, to int) {
		for row := from; row < to && ctx.Err() == nil; row++ {
			line := out[4*(g.NY*scale-1-row)*g.NX*scale:][:4*g.NX*scale]
			for col := range g.NX * scale {
				if on := face[row*g.NX*scale+col]; on > 0 {
					d.point(col, row, line[4*col:4*col+3])
					line[4*col+3] = on
				}
			}
		}
	})
	return out, ctx.Err()
}

// A drawing is a picture being made.
type drawing struct {
	ctx     context.Context
	p       *Painter
	r       *Run
	scale   int
	kinds   int       // what a point may show: a cup, or what its column says
	seen    []float32 // of each cell, how much of each cup is seen in its column
	surely  []uint32  // of each cell, the cups that show in it wherever the surface brought them
	places  []uint8   // what shows at each place
	shows   []uint16  // of each cell, how many of its places show which
	kindsOf []uint32  // of each cell, which it shows, a bit each
	colour  []rgb     // of each cell, by what it shows; one that is not shown about it is none
	opens   []openCell
}

type rgb struct {
	r, g, b float32
	is      bool
}

// An openCell is how much of a cell is opened, in which colour, its pattern, and what is
// seen there.
type openCell struct {
	open  float64
	upper int
	draw  pattern
	sites *sites
	inner rgb
}

// columnSays is the last of the kinds: the column as a whole.
func (d *drawing) columnSays() int { return d.kinds - 1 }

func (d *drawing) kind(cup uint8) int {
	if int(cup) < d.kinds-1 {
		return int(cup)
	}
	return d.columnSays()
}

// hardly is how much of a cup has to be seen in the columns about a point for it to show
// there: what has drained away or sunk shows no longer, wherever its surface went.
const hardly = 0.15

// shown is the colour visible at a place: what the surface brought there, or else what is seen
// most of about it.
func (d *drawing) shown(x, y float64) int {
	s := d.r.coat.skin
	kind := d.kind(s.cup[s.origin(x, y)])
	if kind == d.columnSays() || d.surely[int(y)*s.grid.NX+int(x)]>>kind&1 != 0 {
		return kind
	}
	much, cells := float32(0), d.about(x, y)
	for k, i := range cells.i[:cells.n] {
		much += cells.w[k] * d.seen[i*d.kinds+kind]
	}
	if much >= hardly {
		return kind
	}
	var seen [MostCups]float32
	for k, i := range cells.i[:cells.n] {
		for cup, v := range d.seen[i*d.kinds : i*d.kinds+d.kinds-1] {
			seen[cup] += cells.w[k] * v
		}
	}
	most := 0
	for k := range d.kinds - 1 {
		if seen[k] > seen[most] {
			most = k
		}
	}
	if seen[most] < hardly {
		return d.columnSays()
	}
	return most
}

// count finds what the places of each cell show.
func (d *drawing) count() {
	g, s, c := d.r.scene.Grid, d.r.coat.skin, d.r.coat
	d.kinds = c.cups + 1
	d.shows, d.seen = make([]uint16, g.Len()*d.kinds), make([]float32, g.Len()*d.kinds)
	d.kindsOf = make([]uint32, g.Len())
	if s == nil {
		for i := range g.Len() {
			d.shows[i*d.kinds+d.columnSays()], d.kindsOf[i] = 1, 1<<d.columnSays()
		}
		return
	}
	d.places = make([]uint8, g.Len()*d.scale*d.scale)
	c.film.byRows(g.whole(), func(y int, _ part) {
		for i := y * g.NX; i < (y+1)*g.NX; i++ {
			c.seenOf(i, func(cup uint8, much float64) {
				if int(cup) < c.cups {
					d.seen[i*d.kinds+int(cup)] += float32(much)
				}
			})
		}
	})
	d.beSure()
	per := 1 / float64(d.scale)
	split(g.NY*d.scale, len(d.places), func(from, to int) {
		for row := from; row < to && d.ctx.Err() == nil; row++ {
			for col := range g.NX * d.scale {
				d.places[row*g.NX*d.scale+col] = uint8(d.shown((float64(col)+0.5)*per, (float64(row)+0.5)*per))
			}
		}
	})
	split(g.NY, len(d.places), func(from, to int) {
		for row := from * d.scale; row < to*d.scale; row++ {
			for col := range g.NX * d.scale {
				i, kind := row/d.scale*g.NX+col/d.scale, int(d.places[row*g.NX*d.scale+col])
				d.shows[i*d.kinds+kind]++
				d.kindsOf[i] |= 1 << kind
			}
		}
	})
}

// beSure finds the cups that are seen enough of in a cell and all about it for every place of
// it that the surface brought them to.
func (d *drawing) beSure() {
	g := d.r.scene.Grid
	enough := make([]uint32, g.Len())
	for i := range enough {
		for k, much := range d.seen[i*d.kinds : i*d.kinds+d.kinds-1] {
			if much >= hardly {
				enough[i] |= 1 << k
			}
		}
	}
	d.surely = make([]uint32, g.Len())
	for y := 1; y < g.NY-1; y++ {
		for x := 1; x < g.NX-1; x++ {
			all := ^uint32(0)
			for row := y - 1; row <= y+1; row++ {
				i := row*g.NX + x
				all &= enough[i-1] & enough[i] & enough[i+1]
			}
			d.surely[y*g.NX+x] = all
		}
	}
}

// mixColours finds the colours of each cell for all that shows in it or beside it.
func (d *drawing) mixColours() {
	g := d.r.scene.Grid
	d.colour, d.opens = make([]rgb, g.Len()*d.kinds), make([]openCell, g.Len())
	split(g.NY, g.Len(), func(from, to int) {
		l := d.p.look(d.r)
		defer l.done()
		for i := from * g.NX; i < to*g.NX && d.ctx.Err() == nil; i++ {
			if !g.On(i) {
				continue
			}
			near, any := d.near(i), false
			for k := range d.kinds {
				if near>>k&1 != 0 {
					c := d.colourOf(l, i, k)
					d.colour[i*d.kinds+k], any = c, any || c.is
				}
			}
			if !any {
				d.colour[i*d.kinds+d.columnSays()] = d.colourOf(l, i, d.columnSays())
			}
			if open, top, draw := d.r.opening(i); open > 0 {
				d.opens[i] = openCell{open, int(d.r.opens.pair[i]>>8) - 1, draw, nil, asRGB(l.column(i, top, 0))}
			}
		}
	})
	d.findSites()
}

// findSites works out the patterns of the cells that have opened: one a pair of colours, as
// far as some are open.
func (d *drawing) findSites() {
	g := &d.r.scene.Grid
	type key struct {
		spacing float64
		seed    uint64
	}
	parts := map[key]part{}
	of := func(o *openCell) key { return key{o.draw.spacing, o.draw.seed} }
	finest := 2 * g.Cell / float64(d.scale) // that a picture shows
	for i := range d.opens {
		if o := &d.opens[i]; o.open > 0 && o.draw.spacing >= finest {
			parts[of(o)] = parts[of(o)].with(g.cell(i))
		}
	}
	found := map[key]*sites{}
	for k, p := range parts {
		p = p.grown(farthest, *g)
		draw := pattern{spacing: k.spacing, seed: k.seed}
		found[k] = draw.over(float64(p.x0)*g.Cell, float64(p.y0)*g.Cell, float64(p.x1)*g.Cell, float64(p.y1)*g.Cell)
	}
	for i := range d.opens {
		if o := &d.opens[i]; o.open > 0 {
			o.sites = found[of(o)]
		}
	}
}

// deep is how far from an edge, in cells, colours are read from within: so far the columns
// are smeared by it.
const deep = 3

// fromWithin gives what shows at an edge the colour it has where it shows alone nearby: the
// columns there hold some of what lies beyond. What is too narrow to show alone anywhere
// keeps its own.
func (d *drawing) fromWithin() {
	g := &d.r.scene.Grid
	alone := make([]uint8, g.Len()) // the kind, and one; 0 for none
	for i, kinds := range d.kindsOf {
		if near := d.near(i); near&(near-1) == 0 && near == kinds {
			alone[i] = uint8(bits.TrailingZeros32(near)) + 1
		}
	}
	within := make([]rgb, len(d.colour))
	split(g.NY, g.Len()*d.kinds, func(from, to int) {
		for i := from * g.NX; i < to*g.NX && d.ctx.Err() == nil; i++ {
			for k := range d.kinds {
				if at := i*d.kinds + k; d.colour[at].is && int(alone[i]) != k+1 {
					within[at] = d.inner(alone, i, k)
				}
			}
		}
	})
	for at, c := range within {
		if c.is {
			d.colour[at] = c
		}
	}
}

// inner is the colour of a kind about a cell where it shows alone, the nearer the more; none
// where it does not.
func (d *drawing) inner(alone []uint8, i, kind int) rgb {
	g := &d.r.scene.Grid
	x, y := i%g.NX, i/g.NX
	var sum rgb
	all := float32(0)
	for v := max(0, y-deep); v <= min(g.NY-1, y+deep); v++ {
		for u := max(0, x-deep); u <= min(g.NX-1, x+deep); u++ {
			j := v*g.NX + u
			c := &d.colour[j*d.kinds+kind]
			if int(alone[j]) != kind+1 || !c.is {
				continue
			}
			w := 1 / float32((u-x)*(u-x)+(v-y)*(v-y))
			sum.r, sum.g, sum.b, all = sum.r+w*c.r, sum.g+w*c.g, sum.b+w*c.b, all+w
		}
	}
	if all == 0 {
		return rgb{}
	}
	return rgb{sum.r / all, sum.g / all, sum.b / all, true}
}

// soften lets what a kind shows change from cell to cell as a film does: the columns are of
// cells, and a seam across them would have their steps.
func (d *drawing) soften() {
	g := &d.r.scene.Grid
	soft := make([]rgb, len(d.colour))
	split(g.NY, len(d.colour), func(from, to int) {
		for y := from; y < to; y++ {
			for x := range g.NX {
				for k := range d.kinds {
					if at := (y*g.NX+x)*d.kinds + k; d.colour[at].is {
						soft[at] = d.softened(x, y, k)
					}
				}
			}
		}
	})
	d.colour = soft
}

// softened is the mean of a kind's colour in a cell and those about it that have it.
func (d *drawing) softened(x, y, kind int) rgb {
	g := &d.r.scene.Grid
	var sum rgb
	var all float32
	for v := max(0, y-1); v <= min(g.NY-1, y+1); v++ {
		for u := max(0, x-1); u <= min(g.NX-1, x+1); u++ {
			if c := &d.colour[(v*g.NX+u)*d.kinds+kind]; c.is {
				w := float32(int(4) >> ((u-x)*(u-x) + (v-y)*(v-y)))
				sum.r, sum.g, sum.b, all = sum.r+w*c.r, sum.g+w*c.g, sum.b+w*c.b, all+w
			}
		}
	}
	return rgb{sum.r / all, sum.g / all, sum.b / all, true}
}

// near is which kinds show in a cell or in one beside it, a bit each.
func (d *drawing) near(i int) (all uint32) {
	g := &d.r.scene.Grid
	x, y := i%g.NX, i/g.NX
	for v := max(0, y-1); v <= min(g.NY-1, y+1); v++ {
		for u := max(0, x-1); u <= min(g.NX-1, x+1); u++ {
			all |= d.kindsOf[v*g.NX+u]
		}
	}
	return all
}

func asRGB(c [3]byte) rgb { return rgb{float32(c[0]), float32(c[1]), float32(c[2]), true} }

// colourOf is how a cell looks where a cup is uppermost: its column up to the last layer
// of that cup, which lies on only a part of the cell and is there so much thicker. What
// lies above it belongs to what shows beside it. None where the cup is not in the column.
func (d *drawing) colourOf(l *look, i, kind int) rgb {
	c, n := d.r.coat, d.layers(i, kind)
	if kind == d.columnSays() {
		return asRGB(l.column(i, n, 1))
	}
	if n == 0 || int(c.now.cup[i*c.most+n-1]) != kind || c.film.h[i]*c.film.per[i] < nothing {
		return rgb{}
	}
	return asRGB(l.stack(i, n, n-1, d.gathered(i, kind, n)))
}

// point paints a point of the picture.
func (d *drawing) point(col, row int, out []byte) {
	per := 1 / float64(d.scale)
	x, y := (float64(col)+0.5)*per, (float64(row)+0.5)*per // in cells
	cells, kind := d.about(x, y), d.columnSays()
	if d.places != nil {
		kind = int(d.places[row*d.r.scene.Grid.NX*d.scale+col])
	}
	c := d.opened(x, y, cells, kind, d.blend(cells, kind))
	out[0], out[1], out[2] = byte(c.r+0.5), byte(c.g+0.5), byte(c.b+0.5)
}

// opened is what is seen of a place that shows a cup where cells have opened in it: as
// far as they have about the place, so that they end where the cup does and not at a cell.
func (d *drawing) opened(x, y float64, cells cells, kind int, closed rgb) rgb {
	g := d.r.scene.Grid
	var o *openCell
	open, most := 0.0, 0.0
	for k, i := range cells.i[:cells.n] {
		at := &d.opens[i]
		if at.open == 0 || kind != at.upper && kind != d.columnSays() {
			continue
		}
		much := float64(cells.w[k]) * at.open
		open += much
		if much > most {
			o, most = at, much
		}
	}
	if o == nil {
		return closed
	}
	if o.sites == nil { // finer than the picture: seen together
		in := float32(open)
		return rgb{closed.r*(1-in) + o.inner.r*in, closed.g*(1-in) + o.inner.g*in, closed.b*(1-in) + o.inner.b*in, true}
	}
	draw := o.draw
	draw.wall = 1 - math.Sqrt(open)
	if s := d.r.coat.skin; s != nil { // cells go with what moved since they opened
		bx, by := s.home.at(g, x-0.5, y-0.5)
		x, y = x+bx, y+by
	}
	in := float32(draw.inside(o.sites, x*g.Cell, y*g.Cell, g.Cell/float64(d.scale)))
	return rgb{closed.r*(1-in) + o.inner.r*in, closed.g*(1-in) + o.inner.g*in, closed.b*(1-in) + o.inner.b*in, true}
}

// blend is the colour of what shows at a place between the middles of the cells about it,
// of each as far as it shows there; where none of them has it, what shows most of them.
func (d *drawing) blend(cells cells, kind int) rgb {
	var sum rgb
	var all float32
	for k, i := range cells.i[:cells.n] {
		at := i*d.kinds + kind
		if c := &d.colour[at]; c.is {
			w := cells.w[k] * (faintly + float32(d.shows[at]))
			sum.r, sum.g, sum.b, all = sum.r+w*c.r, sum.g+w*c.g, sum.b+w*c.b, all+w
		}
	}
	if all > 0 {
		return rgb{sum.r / all, sum.g / all, sum.b / all, true}
	}
	best, most := asRGB(d.p.bare), float32(0)
	for k, i := range cells.i[:cells.n] {
		for of := range d.kinds {
			at := i*d.kinds + of
			if much := cells.w[k] * (faintly + float32(d.shows[at])); d.colour[at].is && much > most {
				best, most = d.colour[at], much
			}
		}
	}
	return best
}

// faintly is the weight of a cell beside one that shows something, though it does not.
const faintly = 0.1

// cells are those about a place, up to four, with their weights.
type cells struct {
	n int
	i [4]int
	w [4]float32
}

// about finds the cells about a place.
func (d *drawing) about(x, y float64) (out cells) {
	g := &d.r.scene.Grid
	fx, fy := x-0.5, y-0.5
	i, j := int(math.Floor(fx)), int(math.Floor(fy))
	u, v := float32(fx-float64(i)), float32(fy-float64(j))
	across, up := [2]float32{1 - u, u}, [2]float32{1 - v, v}
	for k := range 4 {
		if a, b := i+k&1, j+k>>1; a >= 0 && b >= 0 && a < g.NX && b < g.NY {
			out.i[out.n], out.w[out.n] = b*g.NX+a, across[k&1]*up[k>>1]
			out.n++
		}
	}
	return out
}
