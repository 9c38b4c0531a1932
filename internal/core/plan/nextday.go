package plan

import (
	"time"

	"jevvo/internal/core/cure"
)

// A Follow is a work that a coat allows at a moment.
type Follow string

// What may follow, from the state of the film (common practice).
const (
	FollowWait    Follow = "wait"
	FollowPour    Follow = "pour"         // tacky: it bonds as it is
	FollowScuffed Follow = "pour-scuffed" // firm or hard: after a light scuff and a wipe
	FollowInk     Follow = "ink"          // brush and dab, nothing that presses
	FollowPaint   Follow = "paint"
)

// nextDayHours are the hours after a pour at which a painter looks at it again.
var nextDayHours = []int{12, 18, 24, 30}

// A NextDay is a moment after a coat was covered with what may follow then in this
// room.
type NextDay struct {
	Hours int
	At    time.Time
	Phase cure.Phase
	May   []Follow
}

// NextDays says what may follow a coat the next day.
func (c *Coat) NextDays() []NextDay {
	out := make([]NextDay, len(nextDayHours))
	for i, h := range nextDayHours {
		n := NextDay{Hours: h, At: c.Covered.Add(time.Duration(h) * time.Hour)}
		n.Phase = c.phaseAt(n.At)
		n.May = follows[n.Phase]
		if len(n.May) == 0 {
			n.May = []Follow{FollowWait}
		}
		out[i] = n
	}
	return out
}

// follows holds the works each state of the film allows.
var follows = map[cure.Phase][]Follow{
	cure.Tacky: {FollowPour},
	cure.Firm:  {FollowScuffed, FollowInk, FollowPaint},
	cure.Hard:  {FollowScuffed, FollowInk, FollowPaint},
}

// phaseAt is the state of the film at a moment: the last of the phases after gel that
// has begun, else soft set or before.
func (c *Coat) phaseAt(at time.Time) cure.Phase {
	state := cure.SoftSet
	for _, p := range []cure.Phase{cure.Tacky, cure.Firm, cure.Hard} {
		if from := c.Windows[p].From; !from.IsZero() && !at.Before(from) {
			state = p
		}
	}
	return state
}
