package flow

import (
	"math"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// tilt raises a side for a while, or until the next tilt.
func (r *Run) tilt(m Move) error {
	pull := func(degrees float64) float64 { return -Gravity * math.Sin(degrees*math.Pi/180) }
	r.then(m.At, func() { _ = r.coat.film.Tilt(pull(m.TiltX), pull(m.TiltY)) }) // its bounds are held
	if m.For > 0 {
		r.then(m.At+m.For, func() { _ = r.coat.film.Tilt(0, 0) })
	}
	return nil
}

// unmask takes the dam of a side away.
func (r *Run) unmask(m Move) error {
	r.then(m.At, func() { _ = r.coat.film.Open(r.scene.Free, m.Side) })
	return nil
}

// sheetContact is along which length a drawn sheet lies on the film, in m (our
// reading of a sheet held at a slope).
const sheetContact = 0.02

// swipe draws a sheet along a path.
func (r *Run) swipe(m Move) error {
	return r.draw(m, Blade{Gap: m.Gap, Contact: sheetContact}, r.lanes(m.Points, m.Width, 1))
}

// drag draws a stick through the upper part of the film.
func (r *Run) drag(m Move) error {
	return r.draw(m, Blade{Depth: m.Depth, Contact: m.Width}, r.lanes(m.Points, m.Width, 1))
}

// comb draws as many sticks side by side.
func (r *Run) comb(m Move) error {
	tooth := m.Width / float64(2*m.Count-1)
	return r.draw(m, Blade{Depth: m.Depth, Contact: tooth}, r.lanes(m.Points, m.Width, m.Count))
}

// strokeParts is in how many parts a blade goes its way while the film flows.
const strokeParts = 8

func (r *Run) draw(m Move, b Blade, lanes []Lane) error {
	if len(lanes) == 0 && geom.Length(m.Points) == 0 {
		return refusal.New("it starts and ends at the same point")
	}
	if len(lanes) == 0 {
		return errBeside
	}
	b.Uneven, b.Seed = r.scene.Uneven, mix64(r.scene.Seed^math.Float64bits(m.At))
	var stroke *Stroke
	r.then(m.At, func() { stroke = r.coat.Stroke(b, lanes) })
	takes := geom.Length(m.Points) / 1000 / m.Speed
	for k := 1; k <= strokeParts; k++ {
		share := float64(k) / strokeParts
		r.then(m.At+share*takes, func() { stroke.To(share) })
	}
	return nil
}

// blow moves a nozzle along a path; its air drags at the surface that way, less
// beside it.
func (r *Run) blow(m Move) error {
	length := geom.Length(m.Points)
	parts := max(1, min(40, int(math.Ceil(length/(m.Width*500)))))
	for k := range parts {
		a, b := float64(k)/float64(parts), float64(k+1)/float64(parts)
		bit := geom.Part(m.Points, a, b)
		r.then(m.At+a*m.For, func() { r.air(m, bit) })
		if m.To > 0 {
			r.then(m.At+a*m.For, func() { r.warmAt(bit[0], m.Width/2, m.To) })
		}
	}
	r.then(m.At+m.For, func() {
		r.coat.film.Blow(nil, nil)
		r.coat.windy = nil
	})
	return nil
}

// faint is a stress at the surface that moves a film no more than its own levelling
// does, in Pa.
const faint = 0.2

func (r *Run) air(m Move, bit []geom.Point) {
	n := r.scene.Grid.Len()
	if r.winds[0] == nil {
		r.winds = [2][]float64{make([]float64, n), make([]float64, n)}
	}
	clear(r.winds[0])
	clear(r.winds[1])
	windy := make([]float64, n)
	from, to := bit[0], bit[len(bit)-1]
	d := to.Sub(from)
	if l := d.Norm(); l > 0 {
		d = d.Scale(1 / l)
	}
	reach := m.Width * 500
	r.near(geom.At((from.X+to.X)/2, (from.Y+to.Y)/2), 3*reach, func(i int, p geom.Point) {
		off := geom.FromSegment(p, from, to) / reach
		stress := m.Shear * math.Exp(-off*off)
		if stress < 1e-3*m.Shear {
			return
		}
		r.winds[0][i], r.winds[1][i] = stress*d.X/r.scene.Density, stress*d.Y/r.scene.Density
		windy[i] = stress / (stress + faint)
	})
	r.coat.windy = windy
	r.coat.film.Blow(r.winds[0], r.winds[1])
}

// held is how often a place that is kept warm is, in s.
const held = 10.0

// heat keeps a place, or the places along a path, warm for a while.
func (r *Run) heat(m Move) error {
	if len(m.Points) == 1 {
		for at := 0.0; at <= m.For; at += held {
			r.then(m.At+at, func() { r.warmAt(m.Points[0], m.Radius, m.To) })
		}
		return nil
	}
	parts := max(1, min(60, int(math.Ceil(geom.Length(m.Points)/(m.Radius*1000)))))
	for k := range parts {
		a, b := float64(k)/float64(parts), float64(k+1)/float64(parts)
		r.then(m.At+a*m.For, func() { r.warmAt(geom.Part(m.Points, a, b)[0], m.Radius, m.To) })
	}
	return nil
}

// warmAt brings a place to a temperature, less towards its rim.
func (r *Run) warmAt(at geom.Point, radius, to float64) {
	if r.hot == nil {
		r.hot = make([]float64, r.scene.Grid.Len())
	}
	reach := radius * 1000
	r.near(at, reach, func(i int, p geom.Point) {
		r.hot[i] = math.Max(r.hot[i], (to-r.scene.Room)*hump(p.Sub(at).Norm()/reach))
	})
	r.thin()
}

// Warmth: the viscosity of a fresh resin goes as e^{6500/T} (from memory, as in
// the clock); a film gives its warmth off to the air and the board (ρ 1100, c 1900,
// U 9 W/m²K each, from memory) and has forgotten it below half a degree.
const (
	softens   = 6500.0 // K
	coolsIn   = 1100 * 1900 / (2 * 9.0)
	forgotten = 0.5
	zeroC     = 273.15
)

// thin sets how much more fluid the warm cells are.
func (r *Run) thin() {
	of := make([]float64, len(r.hot))
	room := r.scene.Room + zeroC
	for i, k := range r.hot {
		of[i] = 1
		if k != 0 {
			of[i] = math.Exp(softens * (1/room - 1/(room+k)))
		}
	}
	r.coat.Warm(of)
}

func (r *Run) cool(dt float64) {
	if r.hot == nil {
		return
	}
	most := 0.0
	for i, k := range r.hot {
		if k == 0 {
			continue
		}
		if h := r.coat.film.h[i] * r.coat.film.per[i]; h > thinnest {
			k *= math.Exp(-dt / (coolsIn * h))
		} else {
			k = 0
		}
		r.hot[i] = k
		most = math.Max(most, math.Abs(k))
	}
	if most < forgotten {
		r.hot = nil
		r.coat.Warm(nil)
	}
}

func (r *Run) stirIn(m Move) error {
	var cells []int
	r.near(m.Points[0], m.Radius*1000, func(i int, p geom.Point) {
		if r.scene.Grid.On(i) && p.Sub(m.Points[0]).Norm() <= m.Radius*1000 {
			cells = append(cells, i)
		}
	})
	if len(cells) == 0 {
		return errBeside
	}
	r.then(m.At, func() { r.coat.Stir(cells) })
	return nil
}
