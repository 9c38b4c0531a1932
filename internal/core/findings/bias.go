package findings

import (
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// A Pair is a forecast and its outcome, both above 0, in one unit.
type Pair struct{ Forecast, Came float64 }

// A Bias is how far forecasts are off: what came is Factor times the forecast, give
// or take Spread times.
type Bias struct {
	N         int
	Factor    float64 // geometric mean of what came over the forecast
	Low, High float64 // it lies between, with the level
	Spread    float64 // e^σ of single ones; 1 when all are off alike
}

// BiasOf returns how far forecasts are off, its factor between bounds of a level
// (Student's t on the logarithms); ok only with two pairs or more.
func BiasOf(pairs []Pair, level float64) (b Bias, ok bool) {
	var logs []float64
	for _, p := range pairs {
		if l := math.Log(p.Came / p.Forecast); !math.IsNaN(l) && !math.IsInf(l, 0) {
			logs = append(logs, l)
		}
	}
	n := len(logs)
	if n < 2 || !(level > 0 && level < 1) {
		return Bias{N: n}, false
	}
	mean, sd := stat.MeanStdDev(logs, nil)
	t := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(n - 1)}.Quantile((1 + level) / 2)
	half := t * sd / math.Sqrt(float64(n))
	return Bias{N: n, Factor: math.Exp(mean), Low: math.Exp(mean - half), High: math.Exp(mean + half),
		Spread: math.Exp(sd)}, true
}

// Off reports whether the forecasts are off for sure, so that calibrating them would
// help: enough pairs, and the factor's bounds do not hold 1.
func (b Bias) Off() bool { return b.N >= Few && b.Factor > 0 && (b.Low > 1 || b.High < 1) }
