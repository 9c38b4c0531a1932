package plan

import (
	"slices"

	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A cut is where a batch ends, and the coat laid up to there.
type cut struct {
	at      units.Volume
	batches []technique.Batch
	state   *technique.Laying
}

// begin lays the coat up to its first mixing.
func (k *cutting) begin() {
	k.of, k.pouring = k.coat.perPour(k.pours)
	k.start = k.coat.Technique.Begin(k.plan.job(&k.coat), k.clock).Until(-1)
}

// next lays one more batch behind a cut, up to a running sum, and reports whether
// it is poured while it keeps.
func (k *cutting) next(from cut, to units.Volume) (cut, bool) {
	batches := append(slices.Clip(from.batches), k.batch(from.at, to), k.batch(to, k.total))
	n := len(from.batches)
	if k.total-to <= 1e-9 {
		batches = batches[:n+1]
	}
	before := len(from.state.Fit().Steps)
	state := from.state.Fork(batches).Until(n)
	fit := state.Fit()
	l := Batch{Volume: to - from.at, Feeds: k.feeds(from.at, to), Met: fit.Batches[n].Met, From: fit.Batches[n].From,
		Poured: fit.Batches[n].Poured}
	k.stand(&l, n, fit.Steps[before:])
	return cut{to, batches[:n+1], state}, l.Overdue == 0
}

// batch is the part of each pour between two running sums.
func (k *cutting) batch(from, to units.Volume) technique.Batch {
	b := technique.Batch{Feeds: make([]float64, k.pouring)}
	tinted, last := 0, ""
	k.between(from, to, func(s serving, v units.Volume) {
		b.Feeds[s.pour] += float64(v) / k.of[s.pour]
		if s.cup.Colour.Role.Rule().Tints && s.cup.Colour.ID != last {
			tinted++
		}
		last = s.cup.Colour.ID
	})
	b.Cups = tinted
	return b
}

// feeds are the cups between two running sums.
func (k *cutting) feeds(from, to units.Volume) []Feed {
	var out []Feed
	k.between(from, to, func(s serving, v units.Volume) { out = append(out, Feed{s.cup.Colour.ID, s.cup.Colour.Name, v}) })
	return byCup(out)
}

// between names every serving between two running sums, with how much of it lies
// there.
func (k *cutting) between(from, to units.Volume, each func(serving, units.Volume)) {
	at := units.Volume(0)
	for i, s := range k.pours {
		if v := min(to, k.breaks[i]) - max(from, at); v > 1e-9 {
			each(s, v)
		}
		at = k.breaks[i]
	}
}

// search tries the ways to end n more batches on a grid, behind a cut, until one is
// poured while it keeps; nil where none is. A batch that ends later than another is
// not always worse: cutting within a pour moves what comes after it.
func (k *cutting) search(grid []units.Volume, from cut, n int) []units.Volume {
	if k.total-from.at > k.most*units.Volume(n)+1e-6 {
		return nil
	}
	if n == 1 {
		if _, ok := k.next(from, k.total); ok {
			return []units.Volume{k.total}
		}
		return nil
	}
	for i := len(grid) - 1; i >= 0; i-- {
		if size := grid[i] - from.at; size > k.most+1e-6 || size < 1 {
			continue
		}
		then, ok := k.next(from, grid[i])
		if !ok {
			continue
		}
		if found := k.search(grid[i+1:], then, n-1); found != nil {
			return append([]units.Volume{grid[i]}, found...)
		}
	}
	return nil
}

// bounds notes the largest batch there is.
func (k *cutting) bounds(cuts []units.Volume) {
	k.coat.LargestBatch = 0
	before := units.Volume(0)
	for _, cut := range cuts {
		k.coat.LargestBatch = max(k.coat.LargestBatch, cut-before)
		before = cut
	}
}

// mostBatches is more batches than anybody mixes for one coat.
const mostBatches = 400

// greedy takes batch after batch, each as large as keeps, none above most. What
// does not keep even as the smallest batch is taken up to where its cup ends:
// a smaller one would not wait less.
func (k *cutting) greedy(most units.Volume) []units.Volume {
	var cuts []units.Volume
	from := cut{state: k.start}
	for k.total-from.at > 1e-9 && len(cuts) < mostBatches {
		top := min(from.at+most, k.total)
		next, ok := k.next(from, top)
		if !ok {
			next = k.largest(from, top)
		}
		cuts, from = append(cuts, next.at), next
	}
	if k.total-from.at > 1e-9 {
		cuts = append(cuts, k.total)
	}
	return cuts
}

// largest is the largest batch behind a cut that keeps, below top.
func (k *cutting) largest(from cut, top units.Volume) cut {
	low := min(from.at+LeastBatch, top)
	best, ok := k.next(from, low)
	if !ok { // no size keeps: whole cups, then
		for _, b := range k.breaks {
			if b > from.at+1e-9 && b < top && b-from.at >= LeastBatch {
				top = b
				break
			}
		}
		best, _ = k.next(from, top)
		return best
	}
	for range 8 {
		mid := (low + top) / 2
		if next, ok := k.next(from, mid); ok {
			low, best = mid, next
		} else {
			top = mid
		}
	}
	at := low
	for _, b := range k.breaks { // a cup that ends just before is not parted
		if b > from.at+LeastBatch && b <= low && low-b < LeastBatch {
			at = b
		}
	}
	if rest := k.total - at; rest > 1e-9 && rest < LeastBatch && at-from.at > 2*LeastBatch {
		at = k.total - LeastBatch // the last one is weighed true
	}
	if at != low {
		best, _ = k.next(from, at)
	}
	return best
}
