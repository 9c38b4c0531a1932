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
		n.Phase, _ = c.PhaseAt(n.At)
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

// PhaseAt is the state of the film at a moment, the last of its phases that has begun, and when the
// next begins; zero where no other does.
func (c *Coat) PhaseAt(at time.Time) (state cure.Phase, until time.Time) {
	state = cure.Runny
	for _, p := range []cure.Phase{cure.Lacing, cure.Holding, cure.Stringy, cure.SoftSet, cure.Tacky, cure.Firm,
		cure.Hard} {
		from := c.Windows[p].From
		switch {
		case from.IsZero():
		case at.Before(from):
			return state, from
		default:
			state = p
		}
	}
	return state, time.Time{}
}
