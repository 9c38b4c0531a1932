package diagnose

import (
	"math"
	"slices"
)

// A network is the part of the tables that bears on what is seen.
type network struct {
	causes  []Cause
	odds    []float64   // of each cause, after what is known of it by itself
	escapes [][]float64 // how often a cause that is there leaves a fault out: by cause and fault
	faults  int
	sees    []Fault
	spoken  map[string]bool // causes that the record spoke of
}

func newNetwork(seen []Fault) *network {
	n := &network{faults: len(seen), sees: seen, spoken: map[string]bool{}}
	for _, c := range Causes {
		row, bears := make([]float64, len(seen)), false
		for k, f := range seen {
			row[k] = 1
			for _, l := range links {
				if l.fault == f.ID && l.cause == c.ID {
					row[k], bears = 1-l.strength, true
				}
			}
		}
		if bears {
			n.causes = append(n.causes, c)
			n.odds = append(n.odds, c.Prior/(1-c.Prior))
			n.escapes = append(n.escapes, row)
		}
	}
	return n
}

// weigh multiplies the odds of a cause.
func (n *network) weigh(cause string, by float64) {
	for k, c := range n.causes {
		if c.ID == cause {
			n.odds[k] *= by
		}
	}
}

// evidence lets the record speak and returns what it said, by cause.
func (n *network) evidence(r Record) map[string][]Reason {
	out := map[string][]Reason{}
	for _, s := range signs {
		odds, because, says := s.says(r)
		if !says {
			continue
		}
		n.weigh(s.cause, odds)
		n.spoken[s.cause] = true
		if because.Code != "" {
			out[s.cause] = append(out[s.cause], because)
		}
	}
	return out
}

// answers lets what was answered speak.
func (n *network) answers(given map[string]bool) error {
	for id, yes := range given {
		q, ok := FindQuestion(id)
		if !ok {
			return UnknownError{"answers", id}
		}
		if yes {
			n.weigh(q.Cause, q.Yes/q.No)
		} else {
			n.weigh(q.Cause, (1-q.Yes)/(1-q.No))
		}
	}
	return nil
}

// tried is how many cases a prior from the table is worth (our choice).
const tried = 20.0

// learned moves the priors towards what this studio confirmed.
func (n *network) learned(by map[string]Tally) {
	for k, c := range n.causes {
		if t, ok := by[c.ID]; ok && t.Of > 0 && t.Yes >= 0 && t.Yes <= t.Of {
			p := (c.Prior*tried + float64(t.Yes)) / (tried + float64(t.Of))
			n.odds[k] *= p / (1 - p) * (1 - c.Prior) / c.Prior
		}
	}
}

// posterior is how likely each cause is, given that all faults are seen. With noisy
// ors that are all true, by inclusion and exclusion over the sets of faults
// (Heckerman 1989): P(F) = Σ_S (−1)^|S| Π_{f∈S}(1 − leak) Π_c (1 − p + p·Π_{f∈S} escape).
func (n *network) posterior() []float64 {
	p := make([]float64, len(n.causes))
	for k, o := range n.odds {
		p[k] = o / (1 + o)
	}
	all, with := 0.0, make([]float64, len(p))
	terms := make([]float64, len(p))
	for set := range 1 << n.faults {
		sign, product := 1.0, 1.0
		for f := range n.faults {
			if set&(1<<f) != 0 {
				sign, product = -sign, product*(1-leak)
			}
		}
		for k := range p {
			escape := 1.0
			for f := range n.faults {
				if set&(1<<f) != 0 {
					escape *= n.escapes[k][f]
				}
			}
			terms[k] = p[k] * escape / (1 - p[k] + p[k]*escape)
			product *= 1 - p[k] + p[k]*escape
		}
		all += sign * product
		for k, t := range terms {
			with[k] += sign * product * t
		}
	}
	for k := range with {
		with[k] = math.Max(0, math.Min(1, with[k]/all))
	}
	return with
}

// ask is the question whose answer separates the causes best: an answer depends on
// its cause alone, so what it has in common with all of them is H(answer) − E[H(answer
// | cause)].
func (n *network) ask(posterior []float64, answered map[string]bool) (*Question, float64) {
	var best *Question
	most := worthAsking
	for i, q := range Questions {
		if _, done := answered[q.ID]; done || q.Told && n.spoken[q.Cause] || q.Only != "" && !n.seen(q.Only) {
			continue
		}
		for k, c := range n.causes {
			if c.ID != q.Cause {
				continue
			}
			p := posterior[k]
			if bits := entropy(p*q.Yes+(1-p)*q.No) - p*entropy(q.Yes) - (1-p)*entropy(q.No); bits > most {
				best, most = &Questions[i], bits
			}
		}
	}
	if best == nil {
		return nil, 0
	}
	return best, most
}

func (n *network) seen(fault string) bool {
	return slices.ContainsFunc(n.sees, func(f Fault) bool { return f.ID == fault })
}

// worthAsking is how many bits a question has to bring.
const worthAsking = 0.01
