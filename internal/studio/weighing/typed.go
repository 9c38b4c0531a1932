package weighing

import (
	"strings"

	"jevvo/internal/core/resin"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
)

// shows is the display of a scale without a cable when so much was poured: the
// pour alone where it is zeroed before each, else all that stands on it.
func (w Weighing) shows(net units.Mass) units.Mass {
	if w.Tares == school.TareOnce || w.Tares == school.TareNever {
		return w.Base + net
	}
	return net
}

// poured is the net of a display.
func (w Weighing) poured(display units.Mass) units.Mass { return display - w.shows(0) }

// markBefore is how full the jug stands by its marks before this pour; nought
// where each part is measured by itself.
func (w Weighing) markBefore() units.Volume {
	if w.Tares != school.TareOnce && w.Tares != school.TareNever {
		return 0
	}
	c := w.Current()
	return (c.A - c.Held).Filling(w.Product.DensityA) + c.B.Filling(w.Product.DensityB) +
		c.Mixed.Filling(w.Product.Density())
}

// heaviest is more than any bench scale weighs.
const heaviest = 50 * units.Kilogram

// Typed turns what a painter read off a scale or the marks of a jug into the
// reading of the pour in hand. Pigment may be counted in drops and spoons.
func (w Weighing) Typed(text string) (units.Mass, error) {
	text = strings.TrimSpace(text)
	if strings.HasPrefix(text, "-") || strings.HasPrefix(text, "−") {
		return 0, errLess
	}
	var net units.Mass
	var err error
	switch w.Stage {
	case Tare:
		return w.emptied(text)
	case Pigmenting:
		net, err = w.dosed(text)
	default:
		net, err = w.read(text)
	}
	switch {
	case err != nil:
		return 0, &form.Refused{Field: "grams", Err: err}
	case net > heaviest:
		return 0, form.Refusef("grams", "a reading is between 0 and 50 kg")
	}
	return w.Base + net, nil
}

// emptied reads what the empty cup weighs, which is asked for only where it
// stays in the readings.
func (w Weighing) emptied(text string) (units.Mass, error) {
	if w.Tares != school.TareNever || w.ByVolume {
		return 0, nil
	}
	r, err := units.ParseMass(text, "g")
	if err != nil {
		return 0, &form.Refused{Field: "grams", Err: err}
	}
	if r.Value > heaviest {
		return 0, form.Refusef("grams", "a cup weighs less than 50 kg")
	}
	return r.Value, nil
}

func (w Weighing) dosed(text string) (units.Mass, error) {
	dye, _ := w.Current().dye()
	m, counted, err := dye.Bottle.Amount(text)
	if err != nil || counted {
		return m, err
	}
	return w.poured(m), nil
}

func (w Weighing) read(text string) (units.Mass, error) {
	bare := ""
	if w.ByVolume {
		bare = "ml"
	}
	r, err := units.ParseMass(text, "g")
	if v, volumeErr := units.ParseVolume(text, bare); volumeErr == nil && (err != nil || w.ByVolume) {
		part := resin.Mixed
		if w.Stage == Pouring {
			part = w.Need().Part
		}
		return (v.Value - w.markBefore()).Weighing(w.densityOf(part)), nil
	}
	if err != nil { // a scale that types sends its whole display
		if d, typed := units.ParseDisplay(text); typed == nil && !d.Moving && strings.ContainsAny(text, ",;+") {
			return w.poured(d.Mass), nil
		}
	}
	return w.poured(r.Value), err
}
