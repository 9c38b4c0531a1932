package materials

import (
	"github.com/shopspring/decimal"

	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// builtInResins are the data sheets a studio can copy from. All of it is
// invented: thin, medium and thick, fast and slow, in the three ratios
// painters meet.
var builtInResins = []material.Product{
	sheet("Hollin Bench 45", 1, 1, resin.ByVolume, 1130, 1000, 1000, 45, 24, 3, 600, 58, 1800,
		"Medium. The all-rounder: long enough for a swipe, hard next day."),
	sheet("Hollin Slow 60", 2, 1, resin.ByVolume, 1130, 970, 800, 60, 24, 3, 800, 64, 2250,
		"Medium-thin. Goes further before it thickens; good for ribbons and tilting."),
	sheet("Marlpit Quick 20", 3, 1, resin.ByWeight, 1120, 1010, 1300, 20, 8, 2, 250, 39, 1000,
		"Thick and fast. Small batches only; for bucket pours and repairs."),
	sheet("Marlpit Gloss", 2, 1, resin.ByVolume, 1120, 980, 1600, 40, 18, 5, 500, 72, 1500,
		"Thick. Made for clear floods: domes well, holds drawn lines early."),
	sheet("Skerrow Thin Cast", 3, 1, resin.ByWeight, 1100, 960, 300, 180, 48, 5, 3000, 110, 4000,
		"Very thin and slow. Slabs and moulds; runs off open boards."),
	sheet("Skerrow Silk", 1, 1, resin.ByWeight, 1140, 990, 2200, 35, 16, 4, 400, 46, 1200,
		"Very thick. Stays where it is put: barriers, lines, steep edges."),
	sheet("Tansy Studio 90", 100, 45, resin.ByWeight, 1150, 1000, 650, 90, 36, 3, 1000, 88, 2900,
		"Thin. A whole afternoon of working time; overnight before tape."),
}

func sheet(name string, a, b float64, by resin.Measure, da, db units.Density, mu units.Viscosity, working, hard,
	mix float64, lot units.Volume, price float64, kit units.Volume, notes msg.ID) material.Product {
	return material.Product{
		Name: name,
		Product: resin.Product{RatioA: a, RatioB: b, By: by, DensityA: da, DensityB: db, Viscosity: mu,
			WorkingMinutes: working, HardHours: hard, Tolerance: resin.DefaultTolerance},
		MixMinutes: mix, MaxBatch: lot, Price: decimal.NewFromFloat(price), Kit: kit, Notes: string(notes),
	}
}
