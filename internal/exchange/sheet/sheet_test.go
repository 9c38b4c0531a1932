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

// What a spreadsheet would run begins with =, +, −, @, a tab or a line end; a number
// below nothing is none of it (OWASP, CSV injection, from memory).
func TestNoCellIsRun(t *testing.T) {
	for text, want := range map[string]string{
		"-3.50": "-3.50", "-3,50": "-3,50", "-12": "-12", "": "", "a-b": "a-b", "3": "3",
		"-1+1": "'-1+1", "-cmd|'/C calc'!A0": "'-cmd|'/C calc'!A0", "- 3": "'- 3", "--5": "'--5", " -2+3": "' -2+3",
		"=1": "'=1", "+4": "'+4", "@x": "'@x", "\tx": "'\tx", "\rx": "'\rx", "\nx": "'\nx", " \t=1": "' \t=1",
	} {
		assert.Equal(t, want, sheet.Cell(text), "%q", text)
	}
}
