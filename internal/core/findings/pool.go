package findings

import (
	"math"

	"gonum.org/v1/gonum/mathext"
)

// Pool returns what is known of the shares of alike things together: each has its
// own, all come from one Beta distribution of which only this is taken as known,
// that its mean may be anything and its weight s has the density s^(−3/2) (Gelman et
// al., Bayesian Data Analysis, 5.3: (α + β)^(−5/2)). Of few tries the others speak,
// of many the thing itself. The mixture over mean and weight is given as the Beta of
// the same mean and variance.
func Pool(counts []Count) []Beta {
	out := make([]Beta, len(counts))
	first := make([]float64, len(counts))
	second := make([]float64, len(counts))
	sum, grid := 0.0, hyper(counts)
	for _, g := range grid {
		sum += g.weight
		for i, c := range counts {
			post := Beta{g.prior.A + float64(c.Yes), g.prior.B + float64(c.Of-c.Yes)}
			m := post.Mean()
			first[i] += g.weight * m
			second[i] += g.weight * (post.Variance() + m*m)
		}
	}
	for i := range out {
		m := first[i] / sum
		out[i] = moments(m, second[i]/sum-m*m)
	}
	return out
}

// moments is the Beta of a mean and a variance.
func moments(mean, variance float64) Beta {
	n := mean*(1-mean)/variance - 1
	return Beta{mean * n, (1 - mean) * n}
}

// A point is a prior that alike things may have, and how likely it is.
type point struct {
	prior  Beta
	weight float64
}

// The grid over the prior's mean and weight. Weights beyond the largest say that all
// are the same.
const (
	means     = 40
	weights   = 36
	leastOf   = 0.5
	largestOf = 400.0
)

// hyper weighs the priors by how well they foretell the counts.
func hyper(counts []Count) []point {
	grid := make([]point, 0, means*weights)
	best := math.Inf(-1)
	logs := make([]float64, 0, means*weights)
	for j := range weights {
		s := leastOf * math.Pow(largestOf/leastOf, (float64(j)+0.5)/weights)
		for k := range means {
			m := (float64(k) + 0.5) / means
			p := Beta{m * s, (1 - m) * s}
			l := -0.5 * math.Log(s) // s^(−3/2)·ds, with steps in ln s
			for _, c := range counts {
				l += mathext.Lbeta(p.A+float64(c.Yes), p.B+float64(c.Of-c.Yes)) - mathext.Lbeta(p.A, p.B)
			}
			grid, logs = append(grid, point{prior: p}), append(logs, l)
			best = math.Max(best, l)
		}
	}
	for k := range grid {
		grid[k].weight = math.Exp(logs[k] - best)
	}
	return grid
}
