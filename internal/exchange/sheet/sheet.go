// Package sheet writes tables for spreadsheets: CSV by RFC 4180 of which no cell is
// read as a formula.
package sheet

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"
)

// Write writes rows, the first of which are the headings.
func Write(w io.Writer, rows [][]string) error {
	c := csv.NewWriter(w)
	for _, row := range rows {
		plain := make([]string, len(row))
		for k, cell := range row {
			plain[k] = Cell(cell)
		}
		if err := c.Write(plain); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

// Cell is a text that no spreadsheet reads as a formula. A number below nothing stays.
func Cell(text string) string {
	begins := strings.TrimLeft(text, " ")
	if begins == "" || !strings.ContainsRune("=+-@\t\r\n", rune(begins[0])) || begins[0] == '-' && number(text) {
		return text
	}
	return "'" + text
}

// number reports whether a text is one, with either decimal mark.
func number(text string) bool {
	_, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	return err == nil
}
