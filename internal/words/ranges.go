package words

import (
	"fmt"
	"math"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
)

// Cells says what a forecast of cells means, no more precisely than it is known.
func Cells(c plan.CellForecast, sys units.System) string {
	if c.Far <= 0 {
		return "no cells by themselves"
	}
	apart := Between(c.Near, c.Far, sys) + " apart"
	switch {
	case c.InTime == plan.Surely:
		return fmt.Sprintf("cells %s, first seen %s after the parts met; there is time", apart, span(c.Soon, c.Late))
	case math.IsInf(c.Soon, 1):
		return fmt.Sprintf("cells %s would need longer than the resin flows", apart)
	case c.InTime == plan.Perhaps:
		return fmt.Sprintf("perhaps cells, %s, not before %s after the parts met; how thick it lies, its true density and the silicone decide", apart, Roughly(c.Soon))
	}
	return fmt.Sprintf("cells %s show after %s at the soonest, when it no longer laces: warm it, or pour sooner", apart, Roughly(c.Soon))
}

// Between says a range of lengths to the digit that means something.
func Between(a, b units.Length, sys units.System) string {
	unit, each, digits := "mm", units.Millimetre, 0
	if sys == units.US {
		unit, each, digits = "in", units.Inch, 2
	}
	low, high := float64(a/each), float64(b/each)
	if sys != units.US && low < 1 {
		digits = 1
	}
	from, to := units.Fixed(low, digits), units.Fixed(high, digits)
	if from == to {
		return fmt.Sprintf("about %s %s", from, unit)
	}
	return fmt.Sprintf("%s to %s %s", from, to, unit)
}

// Long says a stretch of hours: in days from two on.
func Long(hours float64) string {
	if hours >= 48 {
		return Plural(int(math.Ceil(hours/24)), "day", "days")
	}
	return Plural(int(math.Ceil(hours)), "hour", "hours")
}

// Roughly says minutes to five from twenty on.
func Roughly(minutes float64) string {
	if minutes >= 20 {
		minutes = 5 * math.Round(minutes/5)
	}
	return Spoken(math.Round(minutes))
}

func span(a, b float64) string {
	from, to := Roughly(a), Roughly(b)
	if from == to {
		return "about " + from
	}
	return from + " to " + to
}
