package recovery_test

import (
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/recovery"
)

func TestPanicsAreErrors(t *testing.T) {
	require.NoError(t, recovery.Do(func() error { return nil }))
	require.ErrorIs(t, recovery.Do(func() error { return io.EOF }), io.EOF)
	err := recovery.Do(func() error {
		var none []int
		none[3] = 1
		return nil
	})
	assert.ErrorContains(t, err, "index out of range")
}
