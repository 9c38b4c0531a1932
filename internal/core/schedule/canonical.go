package schedule

import (
	"cmp"
	"slices"
)

// canonical returns the problem with its pieces in an order that hangs on what
// they ask and not on how they were listed, and for each its place in the list: the
// same pieces in any order get the same plan.
func (p Problem) canonical() (Problem, []int) {
	order := make([]int, len(p.Pieces))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return p.Pieces[a].compare(p.Pieces[b]) })
	out := p
	out.Pieces = make([]Piece, len(order))
	for i, at := range order {
		out.Pieces[i] = p.Pieces[at]
	}
	return out, order
}

// compare orders pieces by their due day, their work and at last their name.
func (p Piece) compare(o Piece) int {
	return cmp.Or(cmp.Compare(p.Due, o.Due), cmp.Compare(p.hands(), o.hands()), cmp.Compare(p.least(), o.least()),
		cmp.Compare(len(p.Tasks), len(o.Tasks)), cmp.Compare(p.ID, o.ID))
}

// hands is all hands-on work of a piece.
func (p Piece) hands() int {
	sum := 0
	for _, t := range p.Tasks {
		sum += t.Hands
	}
	return sum
}

// least is all waiting a piece cannot be spared.
func (p Piece) least() int {
	sum := 0
	for _, t := range p.Tasks {
		for _, w := range t.Waits {
			sum += w.Min
		}
	}
	return sum
}

// listed returns a plan of the canonical problem with its pieces as they were
// listed.
func (plan Plan) listed(order []int) Plan {
	if plan.Starts == nil {
		return plan
	}
	starts := make([][]int, len(order))
	for i, at := range order {
		starts[at] = plan.Starts[i]
	}
	plan.Starts = starts
	return plan
}
