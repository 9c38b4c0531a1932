package drawing

import (
	"math"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// The size of a cross-section, in the units it is drawn in.
const (
	sectionWidth  = 160
	sectionHeight = 46  // of the deepest stack of coats
	perMillimetre = 14  // of film, where they all fit
	leastBand     = 2.5 // of a film too thin to be seen
	boardBand     = 6
)

// A Section is a piece from the side: its board and the films on it, to scale with each
// other. It is the sign of how far the piece has come.
type Section struct {
	W, H  float64
	Board float64 // where the board begins
	Deep  float64 // how deep the board is drawn
	Bands []Band  // from the board upwards
	Label msg.Text
}

// A Band is the film of a coat.
type Band struct {
	Y, H  float64
	Made  bool
	Parts []Part
}

// A Part is a cup's share of a film, or of a bar.
type Part struct {
	Name string
	Fill string
	X, W float64 // along it
	Part float64 // of 1
}

// SectionOf draws the coats of a plan from the side; nil of a broken plan.
func SectionOf(p *plan.Plan, sys units.System) *Section {
	if p == nil || len(p.Coats) == 0 {
		return nil
	}
	sum := 0.0
	for i := range p.Coats {
		sum += p.Coats[i].Film.Millimetres()
	}
	scale := math.Min(perMillimetre, sectionHeight/sum)
	s := &Section{W: sectionWidth, Deep: boardBand}
	var heights []float64
	for i := range p.Coats {
		h := math.Max(leastBand, scale*p.Coats[i].Film.Millimetres())
		heights, s.Board = append(heights, h), s.Board+h
	}
	s.H = s.Board + boardBand
	y, made := s.Board, 0
	said := make([]msg.Text, len(p.Coats))
	for i := range p.Coats {
		c := &p.Coats[i]
		y -= heights[i]
		s.Bands = append(s.Bands, Band{Y: y, H: heights[i], Made: c.Made, Parts: PartsOf(c, sectionWidth)})
		said[i] = msg.F("%s, %s", words.Coat(c), c.Film.Film(sys))
		if c.Made {
			made++
		}
	}
	s.Label = msg.F("From the side: %s; %d of %d poured", msg.Join("; ", said...), made, len(p.Coats))
	return s
}

// PartsOf lays the cups of a coat side by side by their shares.
func PartsOf(c *plan.Coat, width float64) []Part {
	sum := 0.0
	for _, cup := range c.Cups {
		sum += cup.Share
	}
	var out []Part
	x := 0.0
	for _, cup := range c.Cups {
		w := width * cup.Share / sum
		out = append(out, Part{Name: cup.Colour.Name, Fill: cup.Swatch(), X: x, W: w, Part: cup.Share / sum})
		x += w
	}
	return out
}
