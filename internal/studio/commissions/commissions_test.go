package commissions_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/studio/commissions"
)

// What a commission is said to be is compared with what was made for it.
func TestDoubts(t *testing.T) {
	all := func(int) bool { return true }
	none := func(int) bool { return false }
	for _, c := range []struct {
		state  commissions.State
		chosen int64
		boards int
		made   func(int) bool
		want   []commissions.Doubt
	}{
		{commissions.Making, 0, 0, none, nil},
		{commissions.Chosen, 0, 0, none, []commissions.Doubt{commissions.NoChoice}},
		{commissions.Chosen, 3, 0, none, nil},
		{commissions.Ready, 3, 0, none, []commissions.Doubt{commissions.NoBoard}},
		{commissions.Ready, 3, 2, none, []commissions.Doubt{commissions.Unpoured}},
		{commissions.Handed, 3, 2, all, nil},
	} {
		assert.Equal(t, c.want, commissions.Commission{State: c.state, Chosen: c.chosen}.Doubts(c.boards, c.made),
			"%s with %d boards", c.state, c.boards)
	}
}
