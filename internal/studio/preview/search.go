package preview

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"jevvo/internal/core/preview"
	"jevvo/internal/form"
)

// A Found is a way to play a coat, and how much of the colour that was asked for it shows.
type Found struct {
	Way    Way
	Order  []string // colours by their names, as they are poured; nil for as it is
	Lean   int
	Shows  float64 // share of the face
	RunOff float64 // m³
}

// A Search is the play that showed most of a colour.
type Search struct {
	Tried int
	Now   Found   // as it is
	Best  []Found // best first
}

// searchCells is how many cells a way that is tried has on its longer side, best how many
// are told, noMore the share of the face that is no difference.
const (
	searchCells = 40
	best        = 3
	noMore      = 0.005
)

// Most looks among the orders of the pours and the ways to tip the board for those that
// show most of a colour: its place among the others, these in their order or turned round,
// and the board tipped as planned or by a quarter, a half, three quarters of a turn.
func (s *Service) Most(ctx context.Context, v View, colour string) (*Search, error) {
	return s.search.Get(ctx, v.key()+" "+colour, func(ctx context.Context) (*Search, error) {
		scene, err := v.scene(min(searchCells, s.few()), preview.Doubt{})
		if err != nil {
			return nil, err
		}
		at := scene.Index(colour)
		if at < 0 {
			return nil, form.Refusef("colour", "none of the cups holds that colour")
		}
		out := &Search{}
		for k, w := range ways(v.Tried.Way, scene, colour) {
			found, err := s.try(ctx, v, w, at)
			if err != nil {
				return nil, err
			}
			out.Tried++
			if k == 0 {
				out.Now = found
				continue
			}
			out.Best = append(out.Best, found)
		}
		out.Best = bestOf(out.Best, out.Now.Shows+noMore)
		return out, nil
	})
}

// bestOf are the few that show more than so much and differ from one another.
func bestOf(all []Found, than float64) (out []Found) {
	slices.SortStableFunc(all, func(a, b Found) int { return cmp.Compare(b.Shows, a.Shows) })
	for _, f := range all {
		if f.Shows <= than || len(out) == best {
			return out
		}
		if len(out) == 0 || out[len(out)-1].Shows-f.Shows > noMore || out[len(out)-1].Lean != f.Lean {
			out = append(out, f)
		}
	}
	return out
}

// try plays one way.
func (s *Service) try(ctx context.Context, v View, w Way, cup int) (Found, error) {
	v, err := v.as(Take{w, v.Tried.Moves})
	if err != nil {
		return Found{}, err
	}
	scene, r, err := s.played(ctx, v, min(searchCells, s.few()), preview.Doubt{})
	if err != nil {
		return Found{}, err
	}
	f := Found{Way: w, Lean: w.Lean}
	for _, id := range w.order() {
		if k := scene.Index(id); k >= 0 {
			f.Order = append(f.Order, scene.Cups[k].Colour.Name)
		}
	}
	visible, _ := scene.Painter.Visible(r)
	f.Shows = visible[cup]
	f.RunOff = total(r.Sample().Below)
	return f, nil
}

// ways are those to try, the one that is played now first.
func ways(now Way, s *preview.Scene, colour string) []Way {
	out, seen := []Way{now}, map[string]bool{}
	leans := []int{now.Lean}
	if s.Tips() {
		leans = []int{0, 1, 2, 3}
	}
	planned := s.OnBed()
	seen[strings.Join(planned, ",")+leanKey(now.Lean)] = true
	for _, order := range orders(planned, colour) {
		for _, lean := range leans {
			w := now
			w.Turned, w.Order, w.Lean = false, strings.Join(order, ","), lean
			if key := w.Order + leanKey(lean); !seen[key] {
				seen[key] = true
				out = append(out, w)
			}
		}
	}
	return out
}

func leanKey(lean int) string { return string(rune('0' + lean)) }

// orders are a colour at each place among the others, and these turned round.
func orders(cups []string, colour string) (out [][]string) {
	others := slices.DeleteFunc(slices.Clone(cups), func(id string) bool { return id == colour })
	for range 2 {
		if len(others) == len(cups) { // it is the bed's
			out = append(out, slices.Clone(others))
		} else {
			for k := range cups {
				out = append(out, slices.Insert(slices.Clone(others), k, colour))
			}
		}
		slices.Reverse(others)
	}
	return out
}
