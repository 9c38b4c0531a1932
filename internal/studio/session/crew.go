package session

import (
	"strings"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
)

// A Batch is what is mixed at once, as it is planned: the cups it feeds, and how long it keeps in its
// jug.
type Batch struct {
	Cups   []string
	Feeds  map[string]units.Volume `json:",omitempty"` // by the ids of the cups
	Volume units.Volume
	UseBy  float64
}

// Batches lays out the batches of a coat.
func Batches(c *plan.Coat) []Batch {
	out := make([]Batch, len(c.Batches))
	for i, l := range c.Batches {
		out[i] = Batch{Volume: l.Volume, UseBy: l.UseBy, Feeds: map[string]units.Volume{}}
		for _, f := range l.Feeds {
			out[i].Cups = append(out[i].Cups, f.Name)
			out[i].Feeds[f.Cup] += f.Volume
		}
	}
	return out
}

// longestName is as long as a name reads across the table.
const longestName = 24

// Crew names the people of a coat: as they were typed, else by what they do.
func Crew(people int, names []string) []string {
	if people < 2 {
		return nil
	}
	out := []string{"Pourer", "Mixer", "Torch"}[:min(people, 3)]
	for i, name := range names {
		if name = strings.TrimSpace(name); i < len(out) && name != "" {
			r := []rune(name)
			out[i] = string(r[:min(len(r), longestName)])
		}
	}
	return out
}

// InHand returns the steps that can be done now: the one in hand, and for a crew
// the batch that is made beside it. A pour waits for its batch.
func (b Bench) InHand() []int {
	if len(b.People) < 2 {
		if i := b.Cursor(); i < len(b.Steps) {
			return []int{i}
		}
		return nil
	}
	board, mixing := b.first(false), b.first(true)
	switch {
	case board < 0 && mixing < 0:
		return nil
	case board < 0:
		return []int{mixing}
	case mixing < 0:
		return []int{board}
	case mixing < board && b.Steps[mixing].BatchNo == 1: // nothing to pour before the first batch is made
		return []int{mixing}
	case b.Steps[mixing].BatchNo == 1: // laying out comes first
		return []int{board}
	case b.Steps[board].Pours && b.Steps[board].BatchNo >= b.Steps[mixing].BatchNo:
		return []int{mixing}
	}
	return []int{board, mixing}
}

// first is the place of the first open step that makes a batch, or that does not;
// −1 for none.
func (b Bench) first(mixing bool) int {
	for i, s := range b.Steps {
		if s.Mixing != mixing {
			continue
		}
		if _, over := b.Over(i); !over {
			return i
		}
	}
	return -1
}

// Beside reports whether a step is done while the hands are at another.
func (b Bench) Beside(i int) bool {
	hand := b.InHand()
	return len(hand) > 1 && hand[1] == i
}

// Poured reports whether nothing of a batch, from 1, is left in its jug or cups.
func (b Bench) Poured(batch int) bool {
	for i, s := range b.Steps {
		if s.Pours && s.BatchNo == batch {
			if _, over := b.Over(i); !over {
				return false
			}
		}
	}
	return true
}
