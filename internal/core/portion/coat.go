// Package portion turns a coat into cups: how much the board takes, what each
// colour's share of it is, and what goes on the scale, rounded to what can be
// weighed without losing a gram of the lot.
package portion

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Coat is the demand of one layer.
type Coat struct {
	Face       units.Area
	Side       units.Area
	Film       units.Length // on the face
	SideFilm   units.Length
	Absorbed   units.Volume
	Texture    units.Volume // hollows to fill
	Inclusions units.Volume // what stones and leaves displace
	Wall       units.Volume // drawn up along a rim or a dam
	RunOff     float64      // share of what is poured that leaves the board, 0..0.9
	Cups       int
	CupLoss    units.Volume // stays in each cup
}

// An Amount is the resin for a coat, every part of it shown.
type Amount struct {
	Face, Sides, Absorbed, Texture, Inclusions, Wall units.Volume
	RunOff, CupLoss, Total                           units.Volume
}

// OnBoard returns what is meant to stay on the board.
func (a Amount) OnBoard() units.Volume {
	return a.Face + a.Sides + a.Absorbed + a.Texture + a.Wall - a.Inclusions
}

// Poured returns what leaves the cups: the coat with its run-off.
func (a Amount) Poured() units.Volume { return a.OnBoard() + a.RunOff }

// Amount returns
//
//	(face + sides + absorbed + texture + wall − inclusions)/(1 − run-off) + cups·loss
func (c Coat) Amount() (Amount, error) {
	for _, v := range []float64{
		float64(c.Face), float64(c.Side), float64(c.Film), float64(c.SideFilm), float64(c.Absorbed),
		float64(c.Texture), float64(c.Inclusions), float64(c.Wall), float64(c.CupLoss), float64(c.Cups),
	} {
		if !(v >= 0) || v > 1e12 {
			return Amount{}, refusal.New("the parts of a coat must be positive")
		}
	}
	if !(c.RunOff >= 0) || c.RunOff > 0.9 {
		return Amount{}, refusal.New("the run-off share lies between 0 and 90 %")
	}
	a := Amount{
		Face: c.Face.Times(c.Film), Sides: c.Side.Times(c.SideFilm),
		Absorbed: c.Absorbed, Texture: c.Texture, Inclusions: c.Inclusions, Wall: c.Wall,
		CupLoss: units.Volume(c.Cups) * c.CupLoss,
	}
	stays := a.OnBoard()
	if stays < 0 {
		return Amount{}, refusal.New("the inclusions take more room than the coat has")
	}
	a.RunOff = stays * units.Volume(c.RunOff/(1-c.RunOff))
	a.Total = stays + a.RunOff + a.CupLoss
	if math.IsInf(float64(a.Total), 0) {
		return Amount{}, refusal.New("that coat is larger than any board")
	}
	return a, nil
}
