package words

import "jevvo/internal/core/plan"

// follows are what may be done on a coat, in words.
var follows = map[plan.Follow]string{
	plan.FollowWait:    "wait: too soft for anything",
	plan.FollowPour:    "pour as it is; nothing else yet",
	plan.FollowScuffed: "pour after a light scuff and a wipe",
	plan.FollowInk:     "ink by brush",
	plan.FollowPaint:   "paint",
}

// Follows says what may follow a coat at a moment.
func Follows(n plan.NextDay) string {
	all := make([]string, len(n.May))
	for i, f := range n.May {
		all[i] = T(follows[f])
	}
	return List(all)
}
