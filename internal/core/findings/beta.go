// Package findings calculates what records teach: how often something happened of how
// many times, how sure that is, whether two ways differ enough to act on it, which
// one to try next to learn most, and how far forecasts are off.
//
//	f := findings.Count{Yes: 7, Of: 10}.Share()
//	f.Mean()          // 15/22
//	f.Interval(0.9)   // 0.44 to 0.89
//
// Shares are Beta distributions with the prior of Jeffreys, so that two tries do not
// shout; Pool lets alike things lend each other strength.
package findings

import (
	"math"

	"gonum.org/v1/gonum/mathext"

	"jevvo/internal/core/refusal"
)

// A Count is how often something happened.
type Count struct{ Yes, Of int }

// Few is below how many tries nothing is claimed without saying how few they were.
const Few = 3

// check returns what is wrong with a count.
func (c Count) check() error {
	if c.Yes < 0 || c.Of < c.Yes {
		return refusal.New("a count must lie between 0 and the number of tries")
	}
	return nil
}

// jeffreys is the prior's weight on either side (Jeffreys 1946).
const jeffreys = 0.5

// Share returns what is known of how often it happens. A count that cannot be is
// taken as none.
func (c Count) Share() Beta {
	if c.check() != nil {
		c = Count{}
	}
	return Beta{float64(c.Yes) + jeffreys, float64(c.Of-c.Yes) + jeffreys}
}

// Interval is the equal-tailed credible interval of a level; from 0 for what never
// happened, up to 1 for what always did (Brown, Cai & DasGupta 2001, section 3.1.3).
func (c Count) Interval(level float64) (low, high float64, err error) {
	if err := c.check(); err != nil {
		return 0, 0, err
	}
	if !(level > 0 && level < 1) {
		return 0, 0, refusal.New("the level must lie between 0 and 1")
	}
	low, high = c.Share().Interval(level)
	if c.Yes == 0 {
		low = 0
	}
	if c.Yes == c.Of {
		high = 1
	}
	return low, high, nil
}

// A Beta is the belief about a share: the distribution p^(A−1)·(1−p)^(B−1).
type Beta struct{ A, B float64 }

// Mean is the share to bet on.
func (b Beta) Mean() float64 { return b.A / (b.A + b.B) }

// Variance is how unsure that is.
func (b Beta) Variance() float64 {
	n := b.A + b.B
	return b.A * b.B / (n * n * (n + 1))
}

// Below is how likely the share lies below p.
func (b Beta) Below(p float64) float64 {
	switch {
	case p <= 0:
		return 0
	case p >= 1:
		return 1
	}
	return mathext.RegIncBeta(b.A, b.B, p)
}

// Quantile is the share below which it lies with a probability.
func (b Beta) Quantile(p float64) float64 { return mathext.InvRegIncBeta(b.A, b.B, p) }

// Interval is the equal-tailed interval that holds the share with a probability.
func (b Beta) Interval(level float64) (low, high float64) {
	return b.Quantile((1 - level) / 2), b.Quantile((1 + level) / 2)
}

// density is the distribution at p.
func (b Beta) density(p float64) float64 {
	return math.Exp((b.A-1)*math.Log(p) + (b.B-1)*math.Log1p(-p) - mathext.Lbeta(b.A, b.B))
}

// steps of integrals over a share, taken in an angle so that densities without bound
// at the ends have bounds: p = sin²θ, dp = 2 sin θ cos θ dθ.
const steps = 400

// over integrates f times the distribution.
func (b Beta) over(f func(p float64) float64) float64 {
	sum := 0.0
	for k := range steps {
		s, c := math.Sincos((float64(k) + 0.5) * math.Pi / 2 / steps)
		p := s * s
		sum += f(p) * b.density(p) * 2 * s * c
	}
	return sum * math.Pi / 2 / steps
}

// Beats is how likely a share is more than by greater than another, each known by
// itself.
func (b Beta) Beats(other Beta, by float64) float64 {
	return math.Max(0, math.Min(1, b.over(func(p float64) float64 { return other.Below(p - by) })))
}

// A difference is acted on when it is likely, and large enough to matter (our
// choice).
const (
	actLikely = 0.9
	actBy     = 0.15
)

// Better reports whether a share is enough greater than another to act on it.
func (b Beta) Better(other Beta) bool { return b.Beats(other, actBy) >= actLikely }

// Learns is how much one more try would teach about the share, in bits: the
// information that its outcome and the share have in common (Lindley 1956),
// H(mean) − E[H(p)], with E[p ln p] = mean·(ψ(A + 1) − ψ(A + B + 1)).
func (b Beta) Learns() float64 {
	m, n := b.Mean(), b.A+b.B
	inner := m*(mathext.Digamma(b.A+1)-mathext.Digamma(n+1)) + (1-m)*(mathext.Digamma(b.B+1)-mathext.Digamma(n+1))
	return math.Max(0, (inner-m*math.Log(m)-(1-m)*math.Log(1-m))/math.Ln2)
}
