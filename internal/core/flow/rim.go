package flow

import "jevvo/internal/core/geom"

// edgeParts is in how many parts a point is divided along a side where the rim crosses it.
const edgeParts = 2

// face is how much of each point of a picture is on the face, of 255: found once for each
// scale, by the outline where there is one.
func (p *Painter) face(s *Scene, scale int) []uint8 {
	p.lock.Lock()
	defer p.lock.Unlock()
	if p.faces[scale] == nil {
		if p.faces == nil {
			p.faces = map[int][]uint8{}
		}
		p.faces[scale] = s.faceOf(scale)
	}
	return p.faces[scale]
}

func (s *Scene) faceOf(scale int) []uint8 {
	g := s.Grid
	out := make([]uint8, g.Len()*scale*scale)
	for i := range g.Len() {
		ragged := s.Face != nil && g.ragged(i)
		for v := range scale {
			for u := range scale {
				col, row := i%g.NX*scale+u, i/g.NX*scale+v
				switch at := &out[row*g.NX*scale+col]; {
				case ragged:
					*at = s.partly(col, row, scale)
				case g.On(i):
					*at = 255
				}
			}
		}
	}
	return out
}

// partly is how much of a point lies within the outline, of 255.
func (s *Scene) partly(col, row, scale int) uint8 {
	in, per := 0, 1000*s.Grid.Cell/float64(scale*edgeParts)
	for k := range edgeParts * edgeParts {
		x, y := col*edgeParts+k%edgeParts, row*edgeParts+k/edgeParts
		if s.Face(geom.At((float64(x)+0.5)*per, (float64(y)+0.5)*per)) {
			in++
		}
	}
	return uint8(255 * in / (edgeParts * edgeParts))
}

// ragged reports whether a cell is not as all about it, on the face or not; what is beside
// the grid is not.
func (g Grid) ragged(i int) bool {
	x, y := i%g.NX, i/g.NX
	if x == 0 || y == 0 || x == g.NX-1 || y == g.NY-1 {
		return true
	}
	for v := y - 1; v <= y+1; v++ {
		for u := x - 1; u <= x+1; u++ {
			if g.On(v*g.NX+u) != g.On(i) {
				return true
			}
		}
	}
	return false
}
