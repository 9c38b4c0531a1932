package words

import (
	"math"

	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// because has the sentence of every reason a record gives, by its code.
var because = map[diagnose.ReasonCode]func(f []float64, sys units.System) msg.Text{
	"ratio": func(f []float64, _ units.System) msg.Text {
		if f[0] > 0 {
			return msg.F("hardener %.0f %% over", 100*f[0])
		}
		return msg.F("hardener %.0f %% short", -100*f[0])
	},
	"ratio-not": func(f []float64, _ units.System) msg.Text {
		return msg.F("the ratio was right (%+.1f %%)", 100*f[0])
	},
	"mixing": func(f []float64, _ units.System) msg.Text {
		return msg.F("%s of mixing, %s are required", Spoken(f[0]), Spoken(f[1]))
	},
	"mixing-not": func(f []float64, _ units.System) msg.Text { return msg.F("mixed for %s", Spoken(f[0])) },
	"cold": func(f []float64, sys units.System) msg.Text {
		if f[1]-f[0] < 0.5 {
			return msg.F("%s all the time", warmth(f[0], sys))
		}
		return msg.F("down to %s, %s on average", warmth(f[0], sys), warmth(f[1], sys))
	},
	"cold-not": func(f []float64, sys units.System) msg.Text { return msg.F("never under %s", warmth(f[0], sys)) },
	"curing": func(f []float64, _ units.System) msg.Text {
		if f[2] > 0 && !math.IsNaN(f[2]) {
			return msg.F("only %s old; hard in about %s in this room", Spoken(60*f[0]), about(f[2]))
		}
		return msg.F("only %s old", Spoken(60*f[0]))
	},
	"curing-not":   fixed("old enough to be hard in this room"),
	"load":         percents("pigment at %.0f %% of its limit"),
	"load-not":     percents("pigment at %.0f %% of its limit"),
	"damp":         fixed("it was damp"),
	"damp-not":     fixed("it was dry"),
	"wood-not":     fixed("no wood that breathes"),
	"primed":       fixed("the board was sealed"),
	"bare":         fixed("bare wood, not sealed"),
	"cool":         temperature("poured at %s"),
	"cool-not":     temperature("poured at %s"),
	"passes-none":  fixed("no pass of heat is recorded"),
	"silicone":     fixed("silicone in the coat below, not washed off"),
	"silicone-not": fixed("no silicone in the coat below"),

	"silicone-wiped":  fixed("silicone in the coat below, though it was washed"),
	"greasy":          fixed("the face was not degreased"),
	"greasy-not":      fixed("the face was degreased"),
	"open":            fixed("it stood open while it cured"),
	"open-not":        fixed("it was covered"),
	"worked-late":     times("worked when it was %.0f times as thick as fresh"),
	"worked-late-not": times("last worked at %.1f times as thick as fresh"),
	"worked-early":    times("worked at %.1f times as thick as fresh: still runny"),
	"worked-set":      times("moved when it was %.0f times as thick as fresh"),
	"rest":            func(f []float64, _ units.System) msg.Text { return msg.F("rested only %s", Spoken(f[0])) },
	"hiding":          percents("it covers %.0f %%"),
	"hiding-not":      percents("it covers %.0f %%"),
	"flame":           temperature("the flame brought the surface to about %s"),
	"flame-not":       temperature("the flame brought the surface to about %s"),
	"passes-many":     func(f []float64, _ units.System) msg.Text { return msg.F("%.0f passes of heat", f[0]) },
	"spray": func(f []float64,
		_ units.System) msg.Text {
		return msg.F("flame %s after a spray", Spoken(60*f[0]))
	},
	"dwell":        func(f []float64, _ units.System) msg.Text { return msg.F("%.1f s over one place", f[0]) },
	"level":        lengths("the board falls by %s, its film allows %s"),
	"level-not":    lengths("the board falls by %s, its film allows %s"),
	"thin":         lengths("a film of %s, where %s stands by itself"),
	"ran-early":    times("it ran at %.1f times as thick as fresh"),
	"tall":         lengths("a film of %s, where an edge keeps %s"),
	"tape":         fixed("the tape came off after it had set"),
	"tape-not":     fixed("the tape came off in time"),
	"shiny":        fixed("the coat below was not scuffed"),
	"shiny-not":    fixed("the coat below was scuffed"),
	"recoat-tacky": fixed("it went onto a tacky coat"),
	"recoat-hard":  fixed("it went onto a hard coat"),
	"lot": func(f []float64, sys units.System) msg.Text {
		return msg.F("%s in one cup come to about %s", units.Mass(f[0]).Text(sys), warmth(f[1], sys))
	},
	"uncured": func(f []float64, _ units.System) msg.Text {
		return msg.ID("it had not cured through for heat yet")
	},
}

func fixed(text msg.ID) func([]float64, units.System) msg.Text {
	return func([]float64, units.System) msg.Text { return text }
}

func percents(format msg.ID) func([]float64, units.System) msg.Text {
	return func(f []float64, _ units.System) msg.Text { return msg.F(format, 100*f[0]) }
}

func times(format msg.ID) func([]float64, units.System) msg.Text {
	return func(f []float64, _ units.System) msg.Text { return msg.F(format, f[0]) }
}

func temperature(format msg.ID) func([]float64, units.System) msg.Text {
	return func(f []float64, sys units.System) msg.Text { return msg.F(format, warmth(f[0], sys)) }
}

func lengths(format msg.ID) func([]float64, units.System) msg.Text {
	return func(f []float64, sys units.System) msg.Text {
		out := make([]any, 0, 2)
		for _, v := range f[:min(len(f), countVerbs(string(format)))] {
			out = append(out, units.Length(v).Film(sys))
		}
		return msg.F(format, out...)
	}
}

func countVerbs(format string) int {
	n := 0
	for _, r := range format {
		if r == '%' {
			n++
		}
	}
	return n
}

func warmth(celsius float64, sys units.System) msg.Text {
	return units.Temperature(celsius).Text(sys)
}

// about rounds hours as nobody knows them better.
func about(hours float64) msg.Text {
	if hours < 2 {
		return Spoken(10 * math.Ceil(6*hours))
	}
	return Spoken(60 * math.Round(hours))
}

// Because says a reason; "" for one that says too little to be said.
func Because(r diagnose.Reason, sys units.System) msg.Text {
	if say, ok := because[r.Code]; ok {
		return say(r.Figures, sys)
	}
	return nil
}
