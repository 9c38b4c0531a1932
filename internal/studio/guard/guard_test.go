package guard_test

import (
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/guard"
)

func TestPanicsAreErrors(t *testing.T) {
	require.NoError(t, guard.Do(func() error { return nil }))
	require.ErrorIs(t, guard.Do(func() error { return io.EOF }), io.EOF)
	err := guard.Do(func() error {
		var none []int
		none[3] = 1
		return nil
	})
	assert.ErrorContains(t, err, "index out of range")
}
