package geom

// stretch is how many points are looked at together: a comb of thousands of teeth
// would take the square of their number.
const stretch = 512

// Simplify returns a line with fewer points, none of the old ones farther than tol
// from it: points that hardly differ from the last kept are left out first, then by
// Douglas & Peucker 1973. Ends stay.
func Simplify(line []Point, tol float64) []Point {
	near := thinned(line, tol/4)
	if len(near) < 3 {
		return near
	}
	keep := make([]bool, len(near))
	var todo [][2]int
	for from := 0; from < len(near)-1; from += stretch {
		to := min(from+stretch, len(near)-1)
		keep[from], keep[to] = true, true
		todo = append(todo, [2]int{from, to})
	}
	for len(todo) > 0 {
		from, to := todo[len(todo)-1][0], todo[len(todo)-1][1]
		todo = todo[:len(todo)-1]
		far, at := tol*3/4, -1
		for i := from + 1; i < to; i++ {
			if d := FromSegment(near[i], near[from], near[to]); d > far {
				far, at = d, i
			}
		}
		if at >= 0 {
			keep[at] = true
			todo = append(todo, [2]int{from, at}, [2]int{at, to})
		}
	}
	out := near[:0:0]
	for i, p := range near {
		if keep[i] {
			out = append(out, p)
		}
	}
	return out
}

// thinned leaves out points closer than a distance to the last that was kept.
func thinned(line []Point, closer float64) []Point {
	var out []Point
	for i, p := range line {
		if i == 0 || i == len(line)-1 || p.Sub(out[len(out)-1]).Norm() >= closer {
			out = append(out, p)
		}
	}
	return out
}
