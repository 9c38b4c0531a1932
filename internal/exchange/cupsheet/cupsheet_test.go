package cupsheet_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/cupsheet"
)

func TestCupsAreReadBackAndAreNoFormulas(t *testing.T) {
	var b strings.Builder
	require.NoError(t, cupsheet.Write(&b, []cupsheet.Row{{Coat: "First pour", Cup: `=HYPERLINK("x")`, Role: "base", Volume: 120.5, A: 61.2}, {Cup: "Wet, \"sand\""}}))
	rows, err := csv.NewReader(strings.NewReader(b.String())).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 3)
	assert.Equal(t, `'=HYPERLINK("x")`, rows[1][1])
	assert.Equal(t, "120.500", rows[1][4])
	assert.Equal(t, `Wet, "sand"`, rows[2][1])
}
