package plan

import (
	"errors"

	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

// A TiltForecast is the film a planned tilt leaves on the board.
type TiltForecast struct {
	Poured  units.Length // film before
	Stays   units.Length // and after
	RunOff  float64      // share
	TooLong bool         // it leaves less than the film that was wanted
}

// tilt calculates the run-off of a coat that is tilted by an angle for some
// minutes once the last is poured, down the longer side; nil when nothing was
// said of it or a rim holds all.
func (p *Plan) tilt(c *Coat) *TiltForecast {
	spec := c.Layer.Coat
	if !c.Technique.Tilts || spec.Tilt <= 0 || spec.TiltFor <= 0 || p.Spec.Dammed() {
		return nil
	}
	from := c.Fit.LastPour()
	flow := c.Clock.Flow(from, from+spec.TiltFor, c.Product.Viscosity, c.Product.Density())
	before, err := film.BeforeTilting(c.Film, p.longest(), spec.Tilt, flow)
	switch {
	case errors.Is(err, film.ErrTiltTooLong):
		return &TiltForecast{Poured: c.Film, Stays: before, RunOff: p.RunOff(c.Technique).High, TooLong: true}
	case err != nil:
		return nil
	}
	return &TiltForecast{Poured: before, Stays: c.Film, RunOff: min(0.9, 1-float64(c.Film/before))}
}
