package schedule_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/schedule"
)

// Late seasons are planned alike however their pieces are listed.
func TestTheOrderOfTheListChangesNothing(t *testing.T) {
	for _, pieces := range []int{5, 12, 24} {
		p := season(pieces)
		for i := range p.Pieces {
			p.Pieces[i].Due /= 3
		}
		first, err := schedule.Solve(t.Context(), p, schedule.Settings{Changes: 2000})
		require.NoError(t, err)
		check(t, p, first)
		draw := rand.New(rand.NewPCG(uint64(pieces), 3))
		q := p
		q.Pieces = append([]schedule.Piece(nil), p.Pieces...)
		draw.Shuffle(len(q.Pieces), func(a, b int) { q.Pieces[a], q.Pieces[b] = q.Pieces[b], q.Pieces[a] })
		other, err := schedule.Solve(t.Context(), q, schedule.Settings{Changes: 2000})
		require.NoError(t, err)
		check(t, q, other)
		assert.Equal(t, first.Late, other.Late)
		assert.Equal(t, first.LastEnd, other.LastEnd)
	}
}
