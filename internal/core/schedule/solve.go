package schedule

import (
	"cmp"
	"context"
	"errors"
	"math/rand/v2"
	"slices"

	"jevvo/internal/core/refusal"
)

// Settings of a search; the zero value is ready.
type Settings struct {
	Exact   int // jobs up to which all orders are tried; 26 when 0
	Nodes   int // of the exact search at most; by the size when 0
	Tries   int // orders of pieces the search tries at most; by the size when 0
	Changes int // of an order of all jobs, at most; by the size when 0, none below 0
	Steps   int // of all that together; some seconds when 0
}

// Up to small jobs the tree of all orders is searched whole; up to provable it
// is tried for a while.
const (
	small    = 12
	provable = 26
)

// ErrStopped is returned when a search was ended before it had any plan.
var ErrStopped = refusal.New("the search was stopped before it found a plan")

// Solve plans a problem. Equal problems get equal plans, unless the context
// ends the search before its time; then the best so far is returned.
func Solve(ctx context.Context, p Problem, s Settings) (Plan, error) {
	if err := p.Check(); err != nil {
		return Plan{}, err
	}
	for _, piece := range p.Pieces {
		if piece.Circle() != nil {
			return Plan{}, ErrInfeasible
		}
	}
	same, order := p.canonical()
	plan, err := newNetwork(ctx, same).solve(s)
	return plan.listed(order), err
}

func (n *network) solve(s Settings) (Plan, error) {
	n.most = cmp.Or(s.Steps, mostSteps)
	if len(n.jobs) == 0 {
		return Plan{Starts: make([][]int, len(n.Pieces)), Proven: true}, nil
	}
	best, have := n.improve(s)
	best.Bound = n.bound()
	open := 0
	for _, j := range n.jobs {
		if j.Fixed == nil {
			open++
		}
	}
	if have && open > small { // a tree of few is searched whole
		best = n.interleave(best, s, open)
	}
	if open <= cmp.Or(s.Exact, provable) {
		found, ok, done := n.exact(best, have, n.nodes(s, open))
		if ok {
			found.Bound = best.Bound
			switch {
			case done:
				found.Bound, found.Proven = found.LastEnd, true
			case !have || open <= small:
				found = n.interleave(found, s, open)
			}
			best, have = found, true
		}
	}
	switch {
	case !have && n.stopped:
		return Plan{}, errors.Join(ErrStopped, n.ctx.Err())
	case !have:
		return Plan{}, ErrInfeasible
	}
	if best.Late == 0 && best.LastEnd == best.Bound {
		best.Proven = true
	}
	return best, nil
}

// nodes is how far the tree of all orders is searched.
func (n *network) nodes(s Settings, open int) int {
	most := cmp.Or(s.Nodes, 300_000)
	if open > small {
		return min(most, 4_000_000/(open*open))
	}
	return most
}

// interleave searches the orders of all jobs from a plan: several beginnings
// where the jobs are few.
func (n *network) interleave(best Plan, s Settings, open int) Plan {
	changes := cmp.Or(s.Changes, n.changes())
	if changes <= 0 || open < 2 || len(n.Pieces) < 2 { // one piece has nobody to wait for
		return best
	}
	least := n.leastWaiting()
	enough := func(g goal) bool { return g.late == 0 && g.last <= best.Bound && g.waiting() <= least }
	q := newSequencer(n)
	flat := make([]int, len(n.jobs))
	for j, t := range n.jobs {
		flat[j] = best.Starts[t.piece][t.task]
	}
	from, ok := q.begin(flat)
	if !ok {
		return best
	}
	starts := 1
	if len(n.jobs) <= restartsUpTo {
		starts = 2
	}
	found := from
	for k := range starts {
		if enough(found.plan) {
			break
		}
		begin := from
		if k%2 == 1 {
			begin = found
		}
		if trial := q.search(begin, changes/starts, enough); trial.plan.better(found.plan) {
			found = trial
		}
	}
	if plan := n.plan(found.start); plan.better(best) {
		plan.Bound = best.Bound
		return plan
	}
	return best
}

// leastWaiting is what no plan waits much less than: as few sessions as there are mixes, and every
// piece half a day later than it would be alone.
func (n *network) leastWaiting() int {
	ends := 0
	for i, piece := range n.Pieces {
		if starts, ok := n.alone(i); ok {
			done := 0
			for k, t := range piece.Tasks {
				done = max(done, starts[k]+t.Hands)
			}
			ends += done + halfDay
		}
	}
	return waiting(n.mixes(), ends)
}

const halfDay = 12 * 60

// mixes is how many different mixes are poured: no plan has fewer sessions.
func (n *network) mixes() int {
	seen := map[string]bool{}
	for _, t := range n.jobs {
		if t.Mix != "" && !t.Done {
			seen[t.Mix] = true
		}
	}
	return len(seen)
}

// changes is how many of an order are tried: many where proof is near, as many
// as a second allows where it is not.
func (n *network) changes() int {
	if len(n.jobs) <= provable {
		return 10_000_000 / (len(n.jobs) + 8)
	}
	return 3_500_000 / (len(n.jobs) + 8)
}

// restartsUpTo is up to how many jobs the search begins again.
const restartsUpTo = 60

// sessions counts runs of pours with the same mix in order of time.
func (n *network) sessions(start []int) int {
	var pours []int
	for j, t := range n.jobs {
		if t.Mix != "" && !t.Done {
			pours = append(pours, j)
		}
	}
	slices.SortStableFunc(pours, func(a, b int) int { return start[a] - start[b] })
	count := 0
	for i, j := range pours {
		if i == 0 || n.jobs[j].Mix != n.jobs[pours[i-1]].Mix ||
			start[j]-start[pours[i-1]]-n.jobs[pours[i-1]].Hands > sessionGap {
			count++
		}
	}
	return count
}

// sessionGap is how many minutes may lie between two pours of the same mix for them to be one
// session: longer nothing keeps in a cup (common practice).
const sessionGap = 30

// improve plans piece after piece, each as early as the others leave room, and
// searches for a better order of the pieces from several beginnings: one alone
// is soon stuck.
func (n *network) improve(s Settings) (Plan, bool) {
	o := &ordering{n: n, tries: cmp.Or(s.Tries, n.tries())}
	orders := n.firstOrders()
	keeping := false
	for _, way := range []bool{false, true} {
		o.leave = way
		for _, order := range orders {
			if o.try(order) {
				keeping = way
			}
		}
	}
	o.leave = keeping
	if len(n.Pieces) <= fewPieces && 2*factorial(len(n.Pieces)) <= o.tries { // all their orders
		for _, way := range []bool{false, true} {
			o.leave = way
			permute(len(n.Pieces), o.try)
		}
		return o.best, o.have
	}
	if !o.have {
		return o.best, false
	}
	random := rand.New(rand.NewPCG(1955, uint64(len(n.jobs)))) // fixed: equal problems, equal plans
	begins := [][]int{o.order}
	if o.tries >= worthRestart {
		begins = append(begins, orders[0])
	}
	for k, begin := range begins {
		o.climb(begin, o.tries/(len(begins)-k), random)
	}
	return o.best, true
}

// worthRestart is from how many orders on a second beginning gains more than it
// takes from the first (measured over late seasons).
const worthRestart = 600

// An ordering is the search for the order in which pieces are planned.
type ordering struct {
	n     *network
	best  Plan
	order []int // of the best plan
	have  bool
	leave bool // tasks of any hour leave the narrow hours to the others
	tries int
}

// plan plans the pieces in an order, false where one finds no room.
func (o *ordering) plan(order []int) (Plan, []int, bool) {
	o.tries--
	start, stuck := o.n.build(order, o.leave)
	for range order { // a piece that found no room goes first: the others can wait for it
		if stuck < 0 || order[0] == stuck || o.have {
			break
		}
		order = moved(slices.Clone(order), slices.Index(order, stuck), 0)
		start, stuck = o.n.build(order, o.leave)
	}
	if stuck >= 0 {
		return Plan{}, nil, false
	}
	return o.n.plan(start), order, true
}

// try keeps the plan of an order if it is the best so far.
func (o *ordering) try(order []int) bool {
	plan, order, ok := o.plan(order)
	if !ok || o.have && !plan.better(o.best) {
		return false
	}
	o.best, o.order, o.have = plan, slices.Clone(order), true
	return true
}

// climb looks for better orders near one, so often at most.
func (o *ordering) climb(from []int, budget int, random *rand.Rand) {
	now, order, ok := o.plan(from)
	if !ok {
		return
	}
	bound, least := o.n.bound(), o.n.leastWaiting()
	for stale := 0; budget > 0 && o.tries > 0 && stale < 100*len(order)+200; stale++ {
		if o.best.Late == 0 && o.best.LastEnd <= bound && o.best.waiting() <= least || len(order) < 2 {
			break
		}
		budget--
		next, changed, ok := o.plan(o.near(order, now, random))
		if !ok || !next.better(now) {
			continue
		}
		now, order, stale = next, slices.Clone(changed), 0
		if now.better(o.best) {
			o.best, o.order = now, order
		}
	}
}

// near is an order with a piece or two in other places.
func (o *ordering) near(order []int, now Plan, random *rand.Rand) []int {
	next := slices.Clone(order)
	a, b := random.IntN(len(next)), random.IntN(len(next))
	switch random.IntN(3) {
	case 0:
		next[a], next[b] = next[b], next[a]
	case 1:
		next = moved(next, a, b)
	default: // a piece that ends last, or late, comes earlier
		a = slices.Index(next, o.n.worst(now, random.IntN(3)))
		next = moved(next, a, random.IntN(a+1))
	}
	return next
}

// fewPieces is up to how many pieces all their orders are tried, if that is
// allowed.
const fewPieces = 7

func factorial(n int) int {
	f := 1
	for i := 2; i <= n; i++ {
		f *= i
	}
	return f
}

// tries is how many orders of the pieces are looked at.
func (n *network) tries() int {
	if len(n.jobs) <= provable {
		return max(2*factorial(min(fewPieces, len(n.Pieces))), 260_000/max(1, len(n.jobs)))
	}
	return max(200, 130_000/len(n.jobs))
}

// permute tries all orders of n things (Heap 1963).
func permute(n int, try func([]int) bool) {
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	count := make([]int, n)
	try(order)
	for i := 1; i < n; {
		if count[i] >= i {
			count[i] = 0
			i++
			continue
		}
		k := 0
		if i%2 == 1 {
			k = count[i]
		}
		order[k], order[i] = order[i], order[k]
		try(order)
		count[i]++
		i = 1
	}
}

func moved(order []int, from, to int) []int {
	v := order[from]
	return slices.Insert(slices.Delete(order, from, from+1), to, v)
}

// worst returns the piece that is the most late, or ends the latest, after
// skipping some.
func (n *network) worst(p Plan, skip int) int {
	order := make([]int, len(n.Pieces))
	ends := make([]int, len(n.Pieces))
	for i := range order {
		order[i] = i
		ends[i] = p.End(n.Problem, i)
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(max(0, ends[b]-n.Pieces[b].Due), max(0, ends[a]-n.Pieces[a].Due)),
			cmp.Compare(ends[b], ends[a]))
	})
	return order[min(skip, len(order)-1)]
}

// firstOrders are the rules the search begins with: by due day, by slack, by
// how long a piece takes alone, by mix.
func (n *network) firstOrders() [][]int {
	size := len(n.Pieces)
	ends := make([]int, size)
	mixes := make([]string, size)
	for i := range n.Pieces {
		if starts, ok := n.alone(i); ok {
			for k, t := range n.Pieces[i].Tasks {
				ends[i] = max(ends[i], starts[k]+t.Hands)
			}
		}
		for _, t := range n.Pieces[i].Tasks {
			if t.Mix != "" {
				mixes[i] = t.Mix
				break
			}
		}
	}
	by := func(key func(a, b int) int) []int {
		order := make([]int, size)
		for i := range order {
			order[i] = i
		}
		slices.SortStableFunc(order, key)
		return order
	}
	due := func(a, b int) int { return cmp.Compare(n.Pieces[a].Due, n.Pieces[b].Due) }
	return [][]int{
		by(due),
		by(func(a, b int) int { return cmp.Compare(n.Pieces[a].Due-ends[a], n.Pieces[b].Due-ends[b]) }),
		by(func(a, b int) int { return cmp.Compare(ends[b], ends[a]) }),
		by(func(a, b int) int { return cmp.Or(due(a, b), cmp.Compare(mixes[a], mixes[b])) }),
		by(func(a, b int) int { return cmp.Compare(mixes[a], mixes[b]) }),
	}
}
