package words

import (
	"math"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Cells says what a forecast of cells means, no more precisely than it is known.
func Cells(c plan.CellForecast, sys units.System) msg.Text {
	if c.Far <= 0 {
		return msg.ID("no cells by themselves")
	}
	apart := msg.F("%s apart", Between(c.Near, c.Far, sys))
	switch {
	case c.InTime == plan.Surely:
		return msg.F("cells %s, first seen %s after mixing; there is time", apart, span(c.Soon, c.Late))
	case math.IsInf(c.Soon, 1):
		return msg.F("cells %s would need longer than the resin flows", apart)
	case c.InTime == plan.Perhaps:
		return msg.F("perhaps cells, %s, not before %s after mixing; how thick it lies, its true density and the "+
			"silicone decide", apart, Roughly(c.Soon))
	}
	return msg.F("cells %s show after %s at the soonest, when it no longer laces: warm it, or pour sooner", apart,
		Roughly(c.Soon))
}

// Between says a range of lengths to the digit that means something.
func Between(a, b units.Length, sys units.System) msg.Text {
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
		return msg.F("about %s %s", from, unit)
	}
	return msg.F("%s to %s %s", from, to, unit)
}

// Long says a stretch of hours: in days from two on.
func Long(hours float64) msg.Text {
	if hours >= 48 {
		return msg.N(int(math.Ceil(hours/24)), "day", "days")
	}
	return msg.N(int(math.Ceil(hours)), "hour", "hours")
}

// Roughly says minutes to five from twenty on.
func Roughly(minutes float64) msg.Text {
	if minutes >= 20 {
		minutes = 5 * math.Round(minutes/5)
	}
	return Spoken(math.Round(minutes))
}

func span(a, b float64) msg.Text {
	from, to := Roughly(a), Roughly(b)
	if msg.Same(from, to) {
		return msg.F("about %s", from)
	}
	return msg.F("%s to %s", from, to)
}
