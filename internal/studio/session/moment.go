package session

import "jevvo/internal/msg"

// The moments a photograph can show.
const (
	MomentBefore = "before"
	MomentWet    = "wet"
	MomentTorch  = "after torch"
	MomentCured  = "cured"
)

// Moments holds them in order.
var Moments = []msg.ID{MomentBefore, MomentWet, MomentTorch, MomentCured}

// Moment is the likely moment of a photograph taken now.
func (b Bench) Moment() string {
	moment := MomentBefore
	for i, s := range b.Steps {
		if _, over := b.Over(i); !over {
			continue
		}
		switch {
		case s.Heats && moment == MomentWet:
			moment = MomentTorch
		case s.Pours && moment == MomentBefore:
			moment = MomentWet
		}
	}
	if b.Finished() {
		return MomentCured
	}
	return moment
}
