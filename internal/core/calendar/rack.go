package calendar

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Class is level, covered places of one size.
type Class struct {
	Count         int
	Width, Height units.Length // the longer side first
}

// ParseRack reads places as 6 of 60 x 60 cm; 2 of 120 x 80 cm, and returns
// them by size, smallest first.
func ParseRack(text string) ([]Class, error) {
	var out []Class
	for part := range strings.SplitSeq(text, ";") {
		if part = strings.TrimSpace(part); part == "" {
			continue
		}
		n, size, ok := units.CutCount(part)
		count, err := strconv.Atoi(strings.TrimSpace(n))
		if !ok || err != nil || count < 1 || count > 200 {
			return nil, refusal.New("%q is not a number of places; write 6 of 60 x 60 cm", part)
		}
		w, h, err := units.ParseSize(size, "cm")
		if err != nil {
			return nil, err
		}
		out = append(out, Class{count, max(w.Value, h.Value), min(w.Value, h.Value)})
	}
	slices.SortStableFunc(out, func(a, b Class) int {
		return int(a.Width*a.Height) - int(b.Width*b.Height)
	})
	return out, nil
}

// RackText prints places as they are typed.
func RackText(classes []Class, sys units.System) string {
	parts := make([]string, len(classes))
	for i, c := range classes {
		parts[i] = fmt.Sprintf("%d of %s x %s", c.Count, c.Width.Text(sys), c.Height.Text(sys))
	}
	return strings.Join(parts, "; ")
}

// Fits returns the smallest class a board of the size fits, −1 for none.
func Fits(classes []Class, w, h units.Length) int {
	w, h = max(w, h), min(w, h)
	return slices.IndexFunc(classes, func(c Class) bool { return w <= c.Width && h <= c.Height })
}
