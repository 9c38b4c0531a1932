package diagnose

// Network lays the inner parts open to be summed by brute force.
type Network = network

// NetworkOf is that of a case with its evidence taken in.
func NetworkOf(c Case) (*Network, error) {
	seen, err := c.seen()
	if err != nil {
		return nil, err
	}
	n := newNetwork(seen)
	n.evidence(c.Record)
	n.learned(c.Learned)
	return n, n.answers(c.Answers)
}

// Parts are the causes, how likely each is by itself, and how often it leaves each
// fault out.
func (n *Network) Parts() ([]Cause, []float64, [][]float64) {
	p := make([]float64, len(n.odds))
	for k, o := range n.odds {
		p[k] = o / (1 + o)
	}
	return n.causes, p, n.escapes
}

// Leak is how often a fault comes by itself.
const Leak = leak

// Links are the table, as fault, cause, strength.
func Links() (out []struct {
	Fault, Cause string
	Strength     float64
}) {
	for _, l := range links {
		out = append(out, struct {
			Fault, Cause string
			Strength     float64
		}{l.fault, l.cause, l.strength})
	}
	return out
}

// RemedyRows are the table of what helps what.
func RemedyRows() (out [][3]any) {
	for _, r := range remedyTable {
		out = append(out, [3]any{r.fault, r.remedy, r.causes})
	}
	return out
}

// SignCauses are the causes that records speak of.
func SignCauses() (out []string) {
	for _, s := range signs {
		out = append(out, s.cause)
	}
	return out
}
