package plan

import "time"

// earliestRounds is how often the tasks are laid anew with the coats where the
// last laying put them.
const earliestRounds = 4

// Earliest lays the tasks of the piece alone, one after the other, each as soon
// as its waits, the hours and the one pair of hands allow; the coats' clocks
// follow. A task whose window would pass is laid outside the hours. It returns
// the plan with those times, and when each task is done.
func (p *Plan) Earliest() (*Plan, []Span) {
	q, begin := p, p.Spec.Start
	var lies []Span
	for range earliestRounds {
		var starts map[string]time.Time
		lies, starts = q.layTasks(begin)
		next := q.At(Timing{Starts: starts, Alone: true})
		settled := true
		for i := range next.Coats {
			settled = settled && next.Coats[i].Start.Equal(q.Coats[i].Start)
		}
		if q = next; settled {
			break
		}
	}
	return q, lies
}

// layTasks lays each task behind those it waits for.
func (p *Plan) layTasks(begin time.Time) ([]Span, map[string]time.Time) {
	lies := make([]Span, len(p.Tasks))
	starts := map[string]time.Time{}
	var busy []Span
	for i, t := range p.Tasks {
		long := Minutes(float64(t.Hands))
		least, most := begin, time.Time{}
		for _, w := range t.Waits {
			end := lies[w.After].To
			if at := end.Add(Minutes(float64(w.Min))); at.After(least) {
				least = at
			}
			if w.Max != NoMax {
				if at := end.Add(Minutes(float64(w.Max))); most.IsZero() || at.Before(most) {
					most = at
				}
			}
		}
		at := p.free(busy, least, long)
		if !most.IsZero() && at.After(most) {
			at = least
		}
		lies[i] = Span{at, at.Add(long)}
		if t.Kind != TaskDeliver {
			busy = append(busy, lies[i])
		}
		if t.Kind == TaskPour {
			starts[t.Coat] = at
		}
	}
	return lies, starts
}

// free is the first moment from which the hands are free for so long within the
// hours.
func (p *Plan) free(busy []Span, from time.Time, long time.Duration) time.Time {
	for range 2*len(busy) + 1 {
		at := p.Context.Calendar.Slot(from, long)
		clear := true
		for _, b := range busy {
			if at.Before(b.To) && b.From.Before(at.Add(long)) {
				from, clear = b.To, false
			}
		}
		if clear {
			return at
		}
	}
	return from
}
