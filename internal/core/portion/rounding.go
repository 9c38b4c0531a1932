package portion

import "math"

// rounding brings both parts of every cup to whole steps of the scale.
type rounding struct{ ratio, tolerance float64 }

// off reports whether a cup of so many steps is outside its product's tolerance.
func (r rounding) off(a, b int) bool {
	return a == 0 || math.Abs(float64(b)/float64(a)/r.ratio-1) > r.tolerance
}

// together is up to how many cups both parts are rounded with an eye on each
// other; it takes time with the cube of them.
const together = 60

// both rounds A and B of all cups, up or down, so that each adds up to its
// rounded sum, the fewest cups are off, and among those the errors are least,
// which is the largest remainder.
func (r rounding) both(a, b []float64) (stepsA, stepsB []int) {
	stepsA, totalA := LargestRemainder(a)
	stepsB, totalB := LargestRemainder(b)
	if len(a) > together || r.offs(stepsA, stepsB) == 0 {
		return stepsA, stepsB
	}
	return r.search(a, b, totalA-floors(a), totalB-floors(b))
}

func (r rounding) offs(a, b []int) int {
	n := 0
	for i := range a {
		if r.off(a[i], b[i]) {
			n++
		}
	}
	return n
}

func floors(exact []float64) int {
	sum := 0
	for _, v := range exact {
		sum += int(math.Floor(v))
	}
	return sum
}

// offCost outweighs any error of rounding.
const offCost = 1e6

// search goes through the cups from the last to the first and keeps, for every
// number of A's and B's still to round up, the least cost and the way to it.
func (r rounding) search(a, b []float64, upA, upB int) (stepsA, stepsB []int) {
	n := len(a)
	wide := upB + 1
	at := func(i, ka, kb int) int { return (i*(upA+1)+ka)*wide + kb }
	cost := make([]float64, (n+1)*(upA+1)*wide)
	way := make([]uint8, len(cost)) // bit 0: A is rounded up, bit 1: B
	for i := range cost {
		cost[i] = math.Inf(1)
	}
	cost[at(n, 0, 0)] = 0
	for i := n - 1; i >= 0; i-- {
		for ka := range upA + 1 {
			for kb := range upB + 1 {
				best := &cost[at(i, ka, kb)]
				for _, w := range []uint8{3, 1, 2, 0} { // earlier cups round up first
					ua, ub := int(w&1), int(w>>1)
					if ua > ka || ub > kb {
						continue
					}
					if c := r.cost(a[i], b[i], ua, ub) + cost[at(i+1, ka-ua, kb-ub)]; c < *best {
						*best, way[at(i, ka, kb)] = c, w
					}
				}
			}
		}
	}
	stepsA, stepsB = make([]int, n), make([]int, n)
	ka, kb := upA, upB
	for i := range n {
		w := way[at(i, ka, kb)]
		ua, ub := int(w&1), int(w>>1)
		stepsA[i], stepsB[i] = int(math.Floor(a[i]))+ua, int(math.Floor(b[i]))+ub
		ka, kb = ka-ua, kb-ub
	}
	return stepsA, stepsB
}

func (r rounding) cost(a, b float64, ua, ub int) float64 {
	na, nb := int(math.Floor(a))+ua, int(math.Floor(b))+ub
	ea, eb := float64(na)-a, float64(nb)-b
	c := ea*ea + eb*eb
	if r.off(na, nb) {
		c += offCost
	}
	return c
}
