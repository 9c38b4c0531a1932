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
	require.NoError(t, cupsheet.Write(&b,
		[]cupsheet.Row{{Coat: "First pour", Cup: `=HYPERLINK("x")`, Role: "base", Volume: 120.5, A: 61.2},
			{Cup: "Wet, \"sand\""}}))
	rows, err := csv.NewReader(strings.NewReader(b.String())).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 3)
	assert.Equal(t, `'=HYPERLINK("x")`, rows[1][1])
	assert.Equal(t, "120.500", rows[1][4])
	assert.Equal(t, `Wet, "sand"`, rows[2][1])
}

// Whatever a cup is called, a spreadsheet reads as many cells as were written, and none
// of the names as a formula.
func FuzzWrite(f *testing.F) {
	f.Add("=1+1", "deep \"sea\", then\r\nfoam", "+cmd")
	f.Fuzz(func(t *testing.T, coat, cup, pigments string) {
		var b strings.Builder
		if err := cupsheet.Write(&b, []cupsheet.Row{{Coat: coat, Cup: cup, Pigments: pigments}}); err != nil {
			t.Fatal(err)
		}
		rows, err := csv.NewReader(strings.NewReader(b.String())).ReadAll()
		if err != nil || len(rows) != 2 {
			t.Fatalf("%d rows, %v", len(rows), err)
		}
		for _, cell := range []string{rows[1][0], rows[1][1], rows[1][10]} {
			if cell != "" && strings.ContainsAny(cell[:1], "=+-@\t\r") {
				t.Fatalf("%q is a formula", cell)
			}
		}
	})
}
