package sheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"jevvo/internal/core/refusal"
)

// What a table may have.
const (
	MaxBytes = 1 << 20
	MaxRows  = 1000
)

// The marks cells are separated by, those first that texts have least.
var marks = []rune{'\t', ';', ',', '|'}

// Read reads a table of a spreadsheet or a pasted list: CSV with any of the usual marks, in
// UTF-8, UTF-16 or, as older spreadsheets write it, Windows-1252. Empty rows and the blanks
// about a cell are dropped.
func Read(data []byte) ([][]string, error) {
	if len(data) > MaxBytes {
		return nil, refusal.New("the table is larger than 1 MB")
	}
	text, err := Text(data)
	if err != nil {
		return nil, err
	}
	mark := markOf(text)
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.LazyQuotes, r.FieldsPerRecord, r.TrimLeadingSpace = mark, true, -1, mark != '\t'
	var rows [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return rows, nil
		}
		if err != nil {
			return nil, refusal.New("the table cannot be read: %s", err.Error())
		}
		if filled := trimmed(row); filled {
			rows = append(rows, row)
		}
		if len(rows) > MaxRows {
			return nil, refusal.New("the table has more than %d rows; send it in parts", MaxRows)
		}
	}
}

// trimmed drops the blanks about the cells and reports whether one is left.
func trimmed(row []string) (filled bool) {
	for i := range row {
		row[i] = strings.TrimSpace(row[i])
		filled = filled || row[i] != ""
	}
	return filled
}

// Text is the text of a file, whichever of the usual encodings it has.
func Text(data []byte) (string, error) {
	var from encoding.Encoding
	switch {
	case bytes.HasPrefix(data, []byte{0xff, 0xfe}), bytes.HasPrefix(data, []byte{0xfe, 0xff}):
		from = unicode.UTF16(unicode.LittleEndian, unicode.UseBOM)
	case utf8.Valid(data):
		from = unicode.UTF8BOM
	default:
		from = charmap.Windows1252
	}
	out, err := from.NewDecoder().Bytes(data)
	if err != nil || bytes.IndexByte(out, 0) >= 0 {
		return "", refusal.New("this is not a table of text; save it as CSV and send that")
	}
	return string(out), nil
}

// markOf is the mark that stands in most lines, a comma where none does.
func markOf(text string) rune {
	best, most := ',', 0
	for _, mark := range marks {
		n := 0
		for line := range strings.Lines(text) {
			if strings.ContainsRune(line, mark) {
				n++
			}
		}
		if n > most {
			best, most = mark, n
		}
	}
	return best
}
