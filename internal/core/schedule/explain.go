package schedule

import (
	"fmt"
	"strings"
	"sync"
)

// A Reason says what stands in the way of a plan, in words.
type Reason struct {
	Piece int // −1 for none in particular
	Text  string
}

// Explain says why a problem has no plan, or why its best plan is late. Each
// suspicion is proved by planning again without what is suspected.
func Explain(p Problem, plan Plan, feasible bool, s Settings) []Reason {
	if !feasible {
		return p.impossible(s)
	}
	if plan.Late == 0 {
		return nil
	}
	var out []Reason
	n := newNetwork(p)
	rival := sync.OnceValue(func() string { return p.rival(s, plan) }) // it takes a whole plan to know
	for i, piece := range p.Pieces {
		end := plan.End(p, i)
		if end <= piece.Due {
			continue
		}
		starts, ok := n.alone(i)
		if !ok {
			continue
		}
		alone := 0
		for k, t := range piece.Tasks {
			alone = max(alone, starts[k]+t.Hands)
		}
		if alone > piece.Due {
			out = append(out, Reason{i, fmt.Sprintf("%s is late by itself: %s", piece.ID, p.why(i, starts))})
		} else {
			out = append(out, Reason{i, fmt.Sprintf("%s would be in time alone; it waits for %s", piece.ID, rival())})
		}
	}
	return out
}

// End is when a piece is finished.
func (pl Plan) End(p Problem, i int) int {
	end := 0
	for k, t := range p.Pieces[i].Tasks {
		end = max(end, pl.Starts[i][k]+t.Hands)
	}
	return end
}

// why names what binds a piece that is late by itself: its waits, or hours.
func (p Problem) why(i int, starts []int) string {
	always := p
	always.Open = []Interval{{0, MaxMinutes}}
	n := newNetwork(always)
	if free, ok := n.alone(i); ok {
		end := 0
		for k, t := range p.Pieces[i].Tasks {
			end = max(end, free[k]+t.Hands)
		}
		if end <= p.Pieces[i].Due {
			return "with the studio open day and night it would be in time, so the opening hours bind"
		}
	}
	longest, at := -1, ""
	for _, t := range p.Pieces[i].Tasks {
		for _, w := range t.Waits {
			if w.Min > longest {
				longest, at = w.Min, fmt.Sprintf("%s waits %s after %s", t.ID, Span(w.Min), p.Pieces[i].Tasks[w.After].ID)
				if w.Why != "" {
					at += " (" + w.Why + ")"
				}
			}
		}
	}
	if at == "" {
		return "its work alone takes until after the due day"
	}
	return "its waits alone last beyond the due day; the longest: " + at
}

// rival says what the others take away: places on the shelf or hands.
func (p Problem) rival(s Settings, plan Plan) string {
	if len(p.Shelf) > 0 {
		roomy := p
		roomy.Shelf = make([]int, len(p.Shelf))
		for i := range roomy.Shelf {
			roomy.Shelf[i] = len(p.Pieces) * 24
		}
		if other, err := Solve(roomy, s); err == nil && other.Late < plan.Late {
			return "a level place on the shelf: with more of them less would be late"
		}
	}
	return "the one pair of hands: the other pieces take it first"
}

// impossible says what keeps a problem from having any plan.
func (p Problem) impossible(s Settings) []Reason {
	if len(p.Open) == 0 {
		return []Reason{{-1, "there are no opening hours"}}
	}
	longest := 0
	for _, o := range p.Open {
		longest = max(longest, o.To-o.From)
	}
	var out []Reason
	for i, piece := range p.Pieces {
		if c := piece.Circle(); c != nil {
			names := make([]string, len(c))
			for k, at := range c {
				names[k] = piece.Tasks[at].ID
			}
			out = append(out, Reason{i, fmt.Sprintf("in %s these wait for one another in a circle: %s", piece.ID, strings.Join(names, ", "))})
			continue
		}
		before := len(out)
		for _, t := range piece.Tasks {
			if t.Fixed == nil && t.Hands > longest {
				out = append(out, Reason{i, fmt.Sprintf("%s, %s takes %s, longer than the studio is ever open at a stretch (%s)", piece.ID, t.ID, Span(t.Hands), Span(longest))})
			}
		}
		if take, _ := piece.stay(); take >= 0 && len(p.Shelf) > 0 && piece.places() > p.Shelf[piece.Shelf] {
			out = append(out, Reason{i, fmt.Sprintf("%s needs %d level places; the shelf has %d that fit", piece.ID, piece.places(), p.Shelf[piece.Shelf])})
		}
		if len(out) == before {
			out = append(out, p.window(i)...)
		}
	}
	if len(out) == 0 {
		out = append(out, Reason{-1, "the pieces stand in each other's way: each could be planned alone, but not all together within three years"})
	}
	return out
}

// window finds the longest wait of a piece that no opening hours let it keep.
func (p Problem) window(i int) []Reason {
	n := newNetwork(p)
	if _, ok := n.alone(i); ok {
		return nil
	}
	var out []Reason
	piece := p.Pieces[i]
	for k, t := range piece.Tasks {
		for w, wait := range t.Waits {
			if wait.Max == NoMax {
				continue
			}
			trial := p
			trial.Pieces = append([]Piece(nil), p.Pieces...)
			loose := piece
			loose.Tasks = append([]Task(nil), piece.Tasks...)
			loose.Tasks[k].Waits = append([]Wait(nil), t.Waits...)
			loose.Tasks[k].Waits[w].Max = NoMax
			trial.Pieces[i] = loose
			if _, ok := newNetwork(trial).alone(i); ok {
				out = append(out, Reason{i, fmt.Sprintf("%s, %s must start within %s after %s, and no opening hours allow that", piece.ID, t.ID, Span(wait.Max), piece.Tasks[wait.After].ID)})
			}
		}
	}
	if len(out) == 0 {
		out = append(out, Reason{i, piece.ID + " cannot keep its waits within the opening hours"})
	}
	return out
}

// Span prints minutes: "45 min", "6 h", "2 days 3 h".
func Span(m int) string {
	d, h, rest := m/1440, m/60%24, m%60
	var parts []string
	if d == 1 {
		parts = append(parts, "1 day")
	} else if d > 1 {
		parts = append(parts, fmt.Sprintf("%d days", d))
	}
	if h > 0 {
		parts = append(parts, fmt.Sprintf("%d h", h))
	}
	if rest > 0 && d == 0 || len(parts) == 0 {
		parts = append(parts, fmt.Sprintf("%d min", rest))
	}
	return strings.Join(parts, " ")
}
