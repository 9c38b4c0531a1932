package flow

import "runtime"

// A band is some rows of the part that is stepped, worked through from the first: the
// mobility of a row's faces, its pressure, what flows, and its system, each as far ahead
// as the next needs, so that rows are met while they are near.
type band struct {
	*Film
	drive
	from, to            int       // rows that are solved
	height              []float64 // that drives: of film and ground, or what stands for it
	surface             []float64 // of film and ground
	faced, bent, driven int       // the next row of each
	faceTo, bendTo      int       // where those end
	driveTo             int
}

// fewRows is how many rows a band has at least.
const fewRows = 16

// bands divides the part into as many as there are cores. What two of them need is made
// ready before.
func (f *Film) bands(d drive) []band {
	rows, n := f.at.y1-f.at.y0, 1
	if f.at.cells() >= worthSplitting {
		n = max(1, min(runtime.GOMAXPROCS(0), rows/fewRows))
	}
	all := f.w.bands[:0]
	surface := f.surface()
	height := surface
	if f.tension > 0 {
		height = f.w.p
	}
	near, wide := f.at.grown(1, f.grid), f.at.grown(2, f.grid)
	for k := range n {
		b := band{Film: f, drive: d, height: height, surface: surface, from: f.at.y0 + k*rows/n, to: f.at.y0 + (k+1)*rows/n,
			faced: wide.y0, bent: near.y0, driven: near.y0, faceTo: wide.y1, bendTo: near.y1, driveTo: f.at.y1}
		if k > 0 {
			b.begin(&all[k-1])
		}
		all = append(all, b)
	}
	f.w.bands = all
	return all
}

// begin makes ready what a band and the one before it both need.
func (b *band) begin(before *band) {
	r := b.from
	b.faced, b.bent, b.driven = r-2, r-1, r-1
	b.upTo(r - 1)
	b.bend(r)
	before.faceTo, before.bendTo, before.driveTo = r-2, r-1, r-1
}

// upTo makes the rows up to one ready to be solved.
func (b *band) upTo(y int) {
	for ; b.driven <= y && b.driven < b.driveTo; b.driven++ {
		b.bend(b.driven + 1)
		b.flow(b.drive, b.height, b.driven)
	}
}

// bend makes pressures ready up to a row.
func (b *band) bend(y int) {
	b.face(y)
	if b.tension == 0 {
		return
	}
	for ; b.bent <= y && b.bent < b.bendTo; b.bent++ {
		b.Film.bend(b.surface, b.bent, b.at.grown(1, b.grid))
	}
}

// face makes faces ready up to a row.
func (b *band) face(y int) {
	for ; b.faced <= y && b.faced < b.faceTo; b.faced++ {
		b.faces(b.faced)
	}
}

// solve solves the rows of the band and adds what moved along them.
func (b *band) solve(stiff float64, last bool, share float64) {
	for y := b.from; y < b.to; y++ {
		b.upTo(y)
		b.alongRow(y, b.at, stiff, b.now+b.first)
		if last {
			b.movedAlong(y, b.at, stiff, share)
		}
	}
}
