// Package words turns what the core says in codes and quantities into
// sentences. It is the one place where they are made, one catalogue a language;
// nothing ever reads a sentence back.
package words

import (
	"math"

	"jevvo/internal/msg"
)

// Spoken is minutes as people say them: "40 s", "12 min", "3 h 20 min",
// "29 days".
func Spoken(m float64) msg.Text {
	switch {
	case math.IsInf(m, 0) || math.IsNaN(m):
		return msg.ID("ever")
	case m != 0 && math.Abs(m) < 1:
		return msg.F("%.0f s", m*60)
	case math.Abs(m) < 90:
		return msg.F("%.0f min", m)
	case math.Abs(m) < 48*60:
		h, rest := math.Floor(m/60), math.Round(math.Mod(m, 60))
		if rest == 60 {
			h, rest = h+1, 0
		}
		if rest == 0 {
			return msg.F("%.0f h", h)
		}
		return msg.F("%.0f h %.0f min", h, rest)
	}
	return msg.F("%.0f days", m/1440)
}
