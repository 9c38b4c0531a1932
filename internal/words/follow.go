package words

import (
	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
)

// follows are the texts of the works a coat allows.
var follows = map[plan.Follow]msg.ID{
	plan.FollowWait:    "wait: too soft for anything",
	plan.FollowPour:    "pour as it is; nothing else yet",
	plan.FollowScuffed: "pour after a light scuff and a wipe",
	plan.FollowInk:     "ink by brush",
	plan.FollowPaint:   "paint",
}

// Follows says what may follow a coat at a moment.
func Follows(n plan.NextDay) msg.Text {
	all := make([]msg.Text, len(n.May))
	for i, f := range n.May {
		all[i] = follows[f]
	}
	return msg.And(all...)
}
