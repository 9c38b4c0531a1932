package words

import (
	"math"

	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/units"
)

// because has the sentence of every reason a record gives, by its code.
var because = map[diagnose.ReasonCode]func(f []float64, sys units.System) string{
	"ratio": func(f []float64, _ units.System) string {
		if f[0] > 0 {
			return F("hardener %.0f %% over", 100*f[0])
		}
		return F("hardener %.0f %% short", -100*f[0])
	},
	"ratio-not": func(f []float64, _ units.System) string {
		return F("the ratio was right (%+.1f %%)", 100*f[0])
	},
	"mixing": func(f []float64, _ units.System) string {
		return F("%s of mixing, %s are asked", Spoken(f[0]), Spoken(f[1]))
	},
	"mixing-not": func(f []float64, _ units.System) string { return F("mixed for %s", Spoken(f[0])) },
	"cold": func(f []float64, sys units.System) string {
		if f[1]-f[0] < 0.5 {
			return F("%s all the time", warmth(f[0], sys))
		}
		return F("down to %s, %s on average", warmth(f[0], sys), warmth(f[1], sys))
	},
	"cold-not": func(f []float64, sys units.System) string { return F("never under %s", warmth(f[0], sys)) },
	"curing": func(f []float64, _ units.System) string {
		text := F("only %s old", Spoken(60*f[0]))
		if f[2] > 0 && !math.IsNaN(f[2]) {
			text += F("; hard in about %s in this room", about(f[2]))
		}
		return text
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
	"rest":            func(f []float64, _ units.System) string { return "rested only " + Spoken(f[0]) },
	"hiding":          percents("it hides %.0f %%"),
	"hiding-not":      percents("it hides %.0f %%"),
	"flame":           temperature("the flame brought the surface to about %s"),
	"flame-not":       temperature("the flame brought the surface to about %s"),
	"passes-many":     func(f []float64, _ units.System) string { return F("%.0f passes of heat", f[0]) },
	"spray":           func(f []float64, _ units.System) string { return "flame " + Spoken(60*f[0]) + " after a spray" },
	"dwell":           func(f []float64, _ units.System) string { return F("%.1f s over one place", f[0]) },
	"level":           lengths("the board falls by %s, its film allows %s"),
	"level-not":       lengths("the board falls by %s, its film allows %s"),
	"thin":            lengths("a film of %s, where %s stands by itself"),
	"ran-early":       times("it ran at %.1f times as thick as fresh"),
	"tall":            lengths("a film of %s, where an edge keeps %s"),
	"tape":            fixed("the tape came off after it had set"),
	"tape-not":        fixed("the tape came off in time"),
	"shiny":           fixed("the coat below was not scuffed"),
	"shiny-not":       fixed("the coat below was scuffed"),
	"recoat-tacky":    fixed("it went onto a tacky coat"),
	"recoat-hard":     fixed("it went onto a hard coat"),
	"lot": func(f []float64, sys units.System) string {
		return F("%s in one cup come to about %s", units.Mass(f[0]).Text(sys), warmth(f[1], sys))
	},
	"uncured": func(f []float64, _ units.System) string {
		return "it had not cured through for heat yet"
	},
}

func fixed(text string) func([]float64, units.System) string {
	return func([]float64, units.System) string { return text }
}

func percents(format string) func([]float64, units.System) string {
	return func(f []float64, _ units.System) string { return F(format, 100*f[0]) }
}

func times(format string) func([]float64, units.System) string {
	return func(f []float64, _ units.System) string { return F(format, f[0]) }
}

func temperature(format string) func([]float64, units.System) string {
	return func(f []float64, sys units.System) string { return F(format, warmth(f[0], sys)) }
}

func lengths(format string) func([]float64, units.System) string {
	return func(f []float64, sys units.System) string {
		out := make([]any, 0, 2)
		for _, v := range f[:min(len(f), countVerbs(format))] {
			out = append(out, units.Length(v).Film(sys))
		}
		return F(format, out...)
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

func warmth(celsius float64, sys units.System) string {
	return units.Temperature(celsius).Text(sys)
}

// about rounds hours as nobody knows them better.
func about(hours float64) string {
	if hours < 2 {
		return Spoken(10 * math.Ceil(6*hours))
	}
	return Spoken(60 * math.Round(hours))
}

// Because says a reason; "" for one that says too little to be said.
func Because(r diagnose.Reason, sys units.System) string {
	if say, ok := because[r.Code]; ok {
		return say(r.Figures, sys)
	}
	return ""
}
