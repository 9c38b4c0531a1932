package session

import (
	"slices"

	"jevvo/internal/core/plan"
)

// firstAdded is the id of the first step that is added at a bench: far from those of
// the plan.
const firstAdded = 1000

// apply adds an event, as it is kept, to the day.
func (b *Bench) apply(e Event) {
	b.raw = append(slices.Clip(b.raw), e)
	b.replay()
}

// replay makes the day of what was planned and what happened: what was added stands
// where it was put, what was taken back is marked, and every event is at the place
// its step has now.
func (b *Bench) replay() {
	b.Events = b.Events[:0:0]
	for _, e := range b.raw {
		if e.What != Undo {
			b.Events = append(b.Events, e)
			continue
		}
		for i := b.lastPress(); i >= 0; i-- {
			b.Events[i].Undone = true
			if !b.Events[i].Joined {
				break
			}
		}
	}
	b.Steps, b.Batches = slices.Clone(b.planned.steps), slices.Clone(b.planned.batches)
	for i := range b.Steps {
		b.Steps[i].ID = i
	}
	b.Film = b.planned.film
	added := 0
	for _, e := range b.Events {
		if e.What != Added || e.Add == nil {
			continue
		}
		if !e.Undone {
			b.insert(e, firstAdded+added)
		}
		added++
	}
	for i, e := range b.Events {
		b.Events[i].Step = b.place(e.Step)
		if e.What == Happening && !e.Undone {
			b.takesHold(e)
		}
	}
}

// insert puts an added step before the one its event names. A batch that is added
// comes before those that are not mixed yet, which follow in number.
func (b *Bench) insert(e Event, id int) {
	if e.Batch != nil {
		for i := range b.Steps {
			if b.Steps[i].BatchNo >= e.BatchNo {
				b.Steps[i].BatchNo++
			}
		}
		b.Batches = slices.Insert(b.Batches, min(e.BatchNo-1, len(b.Batches)), *e.Batch)
	}
	step := *e.Add
	step.ID, step.Added = id, true
	b.Steps = slices.Insert(b.Steps, b.place(e.Step), step)
}

// place is where a step stands now, behind the last for one that is not there.
func (b Bench) place(id int) int {
	if i := slices.IndexFunc(b.Steps, func(s Step) bool { return s.ID == id }); i >= 0 {
		return i
	}
	return len(b.Steps)
}

// Place returns where the step with the id stands now, −1 for none.
func (b Bench) Place(id int) int {
	if i := b.place(id); i < len(b.Steps) {
		return i
	}
	return -1
}

// kept is an event as it is kept: by the id of its step.
func (b Bench) kept(e Event) Event {
	if e.Step >= 0 && e.Step < len(b.Steps) {
		e.Step = b.Steps[e.Step].ID
	} else {
		e.Step = -1
	}
	return e
}

// lastPress is the place of the newest press that can be taken back, −1 for none.
func (b *Bench) lastPress() int {
	for i := len(b.Events) - 1; i >= 0; i-- {
		if e := b.Events[i]; !e.Undone && e.What.pressed() {
			return i
		}
	}
	return -1
}

// batchNow is the number a batch of the plan has now that others were added.
func (b Bench) batchNow(planned int) int {
	for _, e := range b.Events {
		if e.What == Added && !e.Undone && e.Batch != nil && planned >= e.BatchNo {
			planned++
		}
	}
	return planned
}

// isMix reports whether a step mixes a batch.
func (s Step) isMix() bool { return s.Kind == plan.StepMix }
