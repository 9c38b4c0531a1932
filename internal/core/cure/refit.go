package cure

import (
	"math"

	"gonum.org/v1/gonum/optimize"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Sign is something a painter sees that tells how far a resin has come.
type Sign struct {
	Key   string
	Words msg.ID
	Alpha float64
}

// Signs are the observable signs, each with the conversion the model gives it
// (common practice, with the model's constants).
var Signs = []Sign{
	{"holds", "dragged lines began to hold", ConversionAt(1.7)},
	{"lacing-over", "it stopped lacing", ConversionAt(workingThickening)},
	{"strings", "it drew strings", ConversionAt(20)},
	{"tape", "tape came off clean", GelPoint},
	{"tack-over", "it was no longer tacky", 0.75},
	{"hard", "it was hard to the nail", HardAlpha},
}

// SignOf returns the sign with the key.
func SignOf(key string) (Sign, bool) {
	for _, s := range Signs {
		if s.Key == key {
			return s, true
		}
	}
	return Sign{}, false
}

// An Observation is a sign seen at a minute after mixing began, in a film, at
// a room's mean temperature.
type Observation struct {
	Sign   string
	Minute float64
	Room   units.Temperature
}

// A Refit is a product's two times as the studio's own observations have
// them.
type Refit struct {
	WorkingMinutes, HardHours float64
	Kinetics                  Kinetics
	// Off is the root mean square of the observations' misfit as a factor minus
	// one: 0.1 means that they lie within about 10 % of the fit.
	Off float64
}

// sheetWeight is how much one number of the sheet counts against one
// observation: a single evening must not overturn it.
const sheetWeight = 1.0

// Recalibrate finds the working and hard time that fit the observations best,
// in logarithms of time, with the sheet's own two times counted as one
// observation each (least squares, Nelder & Mead 1965).
func Recalibrate(workingMinutes, hardHours float64, seen []Observation) (Refit, error) {
	if _, err := Calibrate(workingMinutes, hardHours); err != nil {
		return Refit{}, err
	}
	if len(seen) == 0 {
		return Refit{}, refusal.New("nothing was observed yet")
	}
	type point struct{ alpha, seconds float64 }
	points := make([]point, len(seen))
	for i, o := range seen {
		sign, ok := SignOf(o.Sign)
		if !ok || !(o.Minute > 0) || math.IsInf(o.Minute, 0) || !(o.Room >= coldestRoom && o.Room <= hottestRoom) {
			return Refit{}, refusal.New("an observation needs a sign, a time after mixing and a room temperature")
		}
		points[i] = point{sign.Alpha, o.Minute * 60 * RateFactor(o.Room)}
	}
	misfit := func(k Kinetics) float64 {
		sum := 0.0
		for _, p := range points {
			d := math.Log(k.Seconds(p.alpha) / p.seconds)
			sum += d * d
		}
		return sum
	}
	cost := func(x []float64) float64 {
		k, err := Calibrate(math.Exp(x[0]), math.Exp(x[1]))
		if err != nil {
			return math.Inf(1)
		}
		dw, dh := x[0]-math.Log(workingMinutes), x[1]-math.Log(hardHours)
		return misfit(k) + sheetWeight*(dw*dw+dh*dh)
	}
	found, err := optimize.Minimize(optimize.Problem{Func: cost}, []float64{math.Log(workingMinutes), math.Log(hardHours)},
		nil, &optimize.NelderMead{})
	if err != nil {
		return Refit{}, err
	}
	r := Refit{WorkingMinutes: math.Exp(found.X[0]), HardHours: math.Exp(found.X[1])}
	if r.Kinetics, err = Calibrate(r.WorkingMinutes, r.HardHours); err != nil {
		return Refit{}, err
	}
	r.Off = math.Exp(math.Sqrt(misfit(r.Kinetics)/float64(len(points)))) - 1
	return r, nil
}
