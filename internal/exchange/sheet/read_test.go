package sheet_test

import (
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/sheet"
)

// The same table as spreadsheets of several systems write it.
func TestTablesAreRead(t *testing.T) {
	want := [][]string{{"Name", "Price"}, {"Grün, matt", "9,50"}, {"Salt", "8"}}
	wide := []byte{0xff, 0xfe}
	for _, u := range utf16.Encode([]rune("Name\tPrice\r\nGrün, matt\t9,50\r\nSalt\t8\r\n")) {
		wide = append(wide, byte(u), byte(u>>8))
	}
	for name, data := range map[string][]byte{
		"comma":     []byte("Name,Price\n\"Grün, matt\",\"9,50\"\n\nSalt,8\n"),
		"semicolon": []byte("\xef\xbb\xbfName;Price\r\nGrün, matt;9,50\r\n;\r\nSalt; 8 \r\n"),
		"1252":      []byte("Name;Price\nGr\xfcn, matt;9,50\nSalt;8"),
		"UTF-16":    wide,
	} {
		got, err := sheet.Read(data)
		require.NoError(t, err, name)
		assert.Equal(t, want, got, name)
	}
	got, err := sheet.Read([]byte("Salt\n Sedge \n\nMustard seed"))
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Salt"}, {"Sedge"}, {"Mustard seed"}}, got)
}

func TestWhatIsNoTableIsRefused(t *testing.T) {
	for _, data := range []string{"PK\x03\x04\x00\x00", strings.Repeat("a\n", sheet.MaxRows+1),
		strings.Repeat("a", sheet.MaxBytes+1)} {
		_, err := sheet.Read([]byte(data))
		assert.Error(t, err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("a;b\n\"c\"\"d\";e"))
	f.Add([]byte{0xff, 0xfe, 'a', 0})
	f.Fuzz(func(t *testing.T, data []byte) {
		rows, err := sheet.Read(data)
		if err != nil {
			return
		}
		for _, row := range rows {
			assert.NotEmpty(t, strings.Join(row, ""))
			for _, cell := range row {
				assert.Equal(t, strings.TrimSpace(cell), cell)
			}
		}
	})
}
