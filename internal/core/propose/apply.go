package propose

import (
	"slices"
	"strconv"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
)

func thingID(i int) string { return "t" + strconv.Itoa(i+1) }

// Apply puts a proposal's layers behind the coat they follow from, and returns the id of
// the last of them.
func Apply(s *plan.Spec, ctx *plan.Context, coat string, p Proposal) (string, error) {
	if len(p.Layers) == 0 {
		return "", refusal.New("mend this first, then look again")
	}
	s.OwnLayers(ctx)
	at := slices.IndexFunc(s.Layers, func(l plan.Layer) bool { return l.ID == coat && l.Kind == plan.Resin })
	if at < 0 {
		return "", refusal.New("there is no such coat")
	}
	if len(s.Layers)+len(p.Layers) > plan.MostLayers {
		return "", refusal.New("a piece has at most %d layers", plan.MostLayers)
	}
	id := ""
	for k, l := range p.Layers {
		l.ID = s.NextLayerID(l.What)
		id = l.ID
		s.Layers = slices.Insert(s.Layers, at+1+k, l)
	}
	return id, nil
}
