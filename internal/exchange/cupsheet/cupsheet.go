// Package cupsheet writes the cups of a piece as CSV (RFC 4180) for a
// painter's own spreadsheet.
package cupsheet

import (
	"encoding/csv"
	"io"
	"strconv"

	"jevvo/internal/exchange/sheet"
)

// A Row is one cup of one coat; volumes in mL, masses in g.
type Row struct {
	Coat, Cup, Role, Pigments, Swatch   string
	Volume, A, B, AVolume, BVolume, Dye float64
	Share                               float64
}

var heads = []string{"coat", "cup", "role", "share", "volume_ml", "a_g", "b_g", "a_ml", "b_ml", "pigment_g", "pigments",
	"colour"}

// Write writes the rows under their headings.
func Write(w io.Writer, rows []Row) error {
	out := csv.NewWriter(w)
	if err := out.Write(heads); err != nil {
		return err
	}
	for _, r := range rows {
		num := func(v float64) string { return strconv.FormatFloat(v, 'f', 3, 64) }
		if err := out.Write([]string{sheet.Cell(r.Coat), sheet.Cell(r.Cup), r.Role, num(r.Share), num(r.Volume), num(r.A),
			num(r.B),
			num(r.AVolume), num(r.BVolume), num(r.Dye), sheet.Cell(r.Pigments), r.Swatch}); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}
