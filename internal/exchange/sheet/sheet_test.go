package sheet_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/sheet"
)

// RFC 4180: quotes are doubled, a field with a comma, a quote or a line end is quoted.
func TestSheetIsReadBackAndRunsNothing(t *testing.T) {
	var b strings.Builder
	rows := [][]string{{"what", "sum"}, {`Ora "of" the, sea`, "-3.50"}, {"=1+1", " @x"}, {"two\nlines", "+4"}}
	require.NoError(t, sheet.Write(&b, rows))
	assert.Contains(t, b.String(), `"Ora ""of"" the, sea",-3.50`)
	back, err := csv.NewReader(strings.NewReader(b.String())).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, []string{"'=1+1", "' @x"}, back[2])
	assert.Equal(t, []string{"two\nlines", "'+4"}, back[3])
	assert.Equal(t, "=1+1", rows[2][0], "what was given stays")
}
