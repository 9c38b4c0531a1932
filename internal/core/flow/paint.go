package flow

import (
	"context"
	"math"
	"sync"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Painter shows what lies on a board: each column as films on films, by
// Kubelka–Munk in all bands.
type Painter struct {
	ground colour.Spectrum // inside the resin
	bare   [3]byte         // the ground with nothing on it
	cups   []colour.Optics
	hides  [][]float64 // of each cup, by film
	powder map[int]powder
	light  *colour.Light
	lock   sync.Mutex
	faces  map[int][]uint8 // of pictures, by their scale
	shades sync.Pool       // of *[]shade
}

// NewPainter returns one for a ground, as it is inside the resin, and cups seen
// through a surface.
func NewPainter(ground colour.Spectrum, cups []colour.Optics, s colour.Surface) (*Painter, error) {
	if len(cups) == 0 || len(cups) > MostCups {
		return nil, refusal.New("a picture is painted from 1 to 24 cups")
	}
	p := &Painter{ground: ground, cups: cups, light: colour.NewLight(s)}
	p.bare = p.light.Seen(&ground)
	for _, c := range cups {
		p.hides = append(p.hides, hidingOf(c))
	}
	return p, nil
}

// powder is a cup that is dusted on.
type powder struct {
	flake  colour.Spectrum // inside the resin
	covers float64         // m of it that leave 1/e of the face uncovered
}

// Powder says that a cup is flakes which each hide all below them: what they leave
// uncovered falls as e^(−film/covers), the share of a face that none of many randomly
// fallen flakes hits (Poisson).
func (p *Painter) Powder(cup int, flake colour.Spectrum, covers float64) {
	if p.powder == nil {
		p.powder = map[int]powder{}
	}
	p.powder[cup] = powder{flake, covers}
}

// over is the colour of flakes over the layer below.
func (w powder) over(under *colour.Spectrum, film float64) {
	bare := math.Exp(-film / w.covers)
	for i := range under {
		under[i] = under[i]*bare + w.flake[i]*(1-bare)
	}
}

// ShowBare says how the ground looks where nothing lies on it, if not as under a
// film of nothing: paint without resin is a little brighter.
func (p *Painter) ShowBare(ground colour.Spectrum) {
	p.bare = colour.NewLight(colour.Surface{}).Seen(&ground)
}

// Films up to this one are looked up for how well they hide, the thin ones more
// closely: entry k is of most·(k/n)².
const (
	hidingMost  = 8.0 // mm
	hidingParts = 128
)

func hidingOf(o colour.Optics) []float64 {
	out := make([]float64, hidingParts+1)
	for k := 1; k <= hidingParts; k++ {
		x := float64(k) / hidingParts
		mm := units.Length(hidingMost * x * x)
		over := func(chart float64) float64 { return o.Over(colour.Flat(chart), mm).Luminance() }
		out[k] = 1 - (over(colour.ChartWhite)-over(colour.ChartBlack))/(colour.ChartWhite-colour.ChartBlack)
	}
	return out
}

// Hiding is how much of what lies under a film of a cup it hides, 0 to 1: what is
// left of the light and dark of a chart.
func (p *Painter) Hiding(cup int, film float64) float64 {
	if w, ok := p.powder[cup]; ok {
		return -math.Expm1(-film / w.covers)
	}
	x := math.Sqrt(1000*film/hidingMost) * hidingParts
	k := int(x)
	if k >= hidingParts {
		return p.hides[cup][hidingParts]
	}
	f := x - float64(k)
	return p.hides[cup][k]*(1-f) + p.hides[cup][k+1]*f
}

// A look is how a column is seen.
type look struct {
	r     *Run
	p     *Painter
	mix   colour.Optics
	known []shade
}

// look is how the columns of a run are seen, with what was seen before; done keeps that.
func (p *Painter) look(r *Run) *look {
	known, _ := p.shades.Get().(*[]shade)
	if known == nil {
		fresh := make([]shade, shadesKept)
		known = &fresh
	}
	return &look{r: r, p: p, known: *known}
}

func (l *look) done() { l.p.shades.Put(&l.known) }

// mixed is the optics of what was stirred in a cell.
func (l *look) mixed(i int) *colour.Optics {
	l.mix = colour.Optics{}
	for k, share := range l.r.coat.Composition(i) {
		l.mix = l.mix.Add(l.p.cups[k], share)
	}
	return &l.mix
}

// nothing is a film that is not seen, in m.
const nothing = 2e-7

// column is the colour of a cell whose layers from top on are times as thick.
func (l *look) column(i int, top int, times float64) [3]byte {
	return l.stack(i, int(l.r.coat.now.n[i]), top, times)
}

// stack is the colour of the lowest n layers of a cell, those from top on times as thick,
// with the powder that the surface carries.
func (l *look) stack(i, n, top int, times float64) [3]byte {
	c := l.r.coat
	if c.film.h[i]*c.film.per[i] < nothing {
		return l.p.bare
	}
	var seen sight
	for k := l.deepest(i, n); k < int(c.now.n[i]); k++ {
		cup, film := c.now.cup[i*c.most+k], c.thick(i, k)
		if k >= top {
			film *= times
		}
		if _, dusted := l.p.powder[int(cup)]; dusted || k < n && film >= nothing {
			seen.add(cup, film)
		}
	}
	return l.shade(i, &seen)
}

// A sight is the visible part of a column: its layers, as thick as an eye can tell, and what
// stands for them.
type sight struct {
	n     int
	cup   [MostCups + spareLayers + 1]uint8
	film  [MostCups + spareLayers + 1]float32
	mixed bool
	sign  uint64
}

// told is how many bits of a film are more than an eye can tell: to a two hundredth.
const told = 16

func (s *sight) add(cup uint8, film float64) {
	bits := (math.Float32bits(float32(film)) + 1<<(told-1)) &^ (1<<told - 1)
	s.cup[s.n], s.film[s.n] = cup, math.Float32frombits(bits)
	s.sign = mix64(s.sign ^ uint64(bits)<<16 ^ uint64(cup) + 1)
	s.mixed = s.mixed || cup == Mixed
	s.n++
}

// shadesKept is how many colours are kept, of columns as they were met.
const shadesKept = 1 << 13

// A shade is the colour of what a sight stands for.
type shade struct {
	sign   uint64
	colour [3]byte
}

// shade is the colour of a sight: most columns of a board have been seen before.
func (l *look) shade(i int, s *sight) [3]byte {
	if s.mixed {
		return l.columnColour(i, s)
	}
	at := &l.known[s.sign%shadesKept]
	if at.sign != s.sign {
		*at = shade{s.sign, l.columnColour(i, s)}
	}
	return at.colour
}

// columnColour is a column's colour, layer on layer.
func (l *look) columnColour(i int, s *sight) [3]byte {
	under := l.p.ground
	for k, cup := range s.cup[:s.n] {
		film := float64(s.film[k])
		if w, ok := l.p.powder[int(cup)]; ok {
			w.over(&under, film)
			continue
		}
		if cup == Mixed {
			l.mixed(i).Lay(&under, 1000*film)
		} else {
			l.p.cups[cup].Lay(&under, 1000*film)
		}
	}
	return l.p.light.Seen(&under)
}

// deepest is the lowest layer that can still be seen.
func (l *look) deepest(i, n int) int {
	c, seen := l.r.coat, 1.0
	for k := n - 1; k >= 0; k-- {
		if cup := c.now.cup[i*c.most+k]; cup != Mixed {
			seen *= 1 - l.p.Hiding(int(cup), c.thick(i, k))
		}
		if seen < 1e-4 {
			return k
		}
	}
	return 0
}

// Colour is how a cell looks in the middle.
func (p *Painter) Colour(r *Run, i int) [3]byte {
	r = r.seen()
	l := p.look(r)
	defer l.done()
	return l.column(i, int(r.coat.now.n[i]), 1)
}

// Visible is which share of the face shows each cup, and which the ground: of what shows at
// each place as far as it hides what is below.
func (p *Painter) Visible(r *Run) (cups []float64, ground float64) {
	d := p.drawing(context.Background(), r, visibleScale)
	d.count()
	return d.visible()
}

// visibleScale is at how many points along a cell it is found what is visible.
const visibleScale = 4

// visible adds up what the places of the cells show.
func (d *drawing) visible() (cups []float64, ground float64) {
	r, c := d.r, d.r.coat
	cups = make([]float64, len(d.p.cups))
	on := 0.0
	for i := range c.film.h {
		if !r.scene.Grid.On(i) {
			continue
		}
		places := 0.0
		for _, n := range d.shows[i*d.kinds : (i+1)*d.kinds] {
			places += float64(n)
		}
		on += c.film.area[i]
		open, top, _ := r.opening(i)
		upper := int(r.opens.pair[i]>>8) - 1
		for kind, n := range d.shows[i*d.kinds : (i+1)*d.kinds] {
			if n == 0 {
				continue
			}
			share := c.film.area[i] * float64(n) / places
			if open > 0 && (kind == upper || kind == d.columnSays()) {
				ground += d.p.see(r, i, int(c.now.n[i]), top, 1/(1-open), share*(1-open), cups)
				ground += d.p.see(r, i, top, top, 1, share*open, cups)
				continue
			}
			lies := d.layers(i, kind)
			ground += d.p.see(r, i, lies, lies-1, d.gathered(i, kind, lies), share, cups)
		}
	}
	for k := range cups {
		cups[k] /= on
	}
	return cups, ground / on
}

// gathered is how many times as thick the uppermost of a kind's layers is where it shows: it
// lies on that part of the cell only.
func (d *drawing) gathered(i, kind, lies int) float64 {
	c := d.r.coat
	if kind == d.columnSays() || lies == 0 || c.skin == nil {
		return 1
	}
	share := math.Max(0.1, float64(d.shows[i*d.kinds+kind])/float64(d.scale*d.scale))
	return math.Min(1/share, c.film.h[i]*c.film.per[i]/math.Max(c.thick(i, lies-1), nothing))
}

// layers is how many layers of a cell lie where a kind shows: up to the last of its cup.
func (d *drawing) layers(i, kind int) int {
	c, n := d.r.coat, int(d.r.coat.now.n[i])
	if kind == d.columnSays() {
		return n
	}
	for k := n; k > 0; k-- {
		if int(c.now.cup[i*c.most+k-1]) == kind {
			return k
		}
	}
	return n
}

// see adds what is seen of the lowest n layers of a column to the cups, those from top on
// times as thick, with the powder that the surface carries, and returns what is seen of the
// ground.
func (p *Painter) see(r *Run, i, n, top int, times, seen float64, cups []float64) float64 {
	c := r.coat
	for k := int(c.now.n[i]) - 1; k >= 0; k-- {
		d, cup := c.thick(i, k), c.now.cup[i*c.most+k]
		if _, dusted := p.powder[int(cup)]; k >= n && !dusted {
			continue
		}
		if k >= top && k < n {
			d *= times
		}
		if cup == Mixed {
			for j, share := range c.Composition(i) {
				cups[j] += seen * share
			}
			return 0
		}
		hid := seen * p.Hiding(int(cup), d)
		cups[cup] += hid
		seen -= hid
	}
	return seen
}
