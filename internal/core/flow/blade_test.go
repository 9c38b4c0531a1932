package flow_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// Behind a sheet lies half its gap (the mean of a linear velocity profile) wherever the film
// beside its way has not flowed back yet: however slowly it is drawn and however its way
// lies, what is ahead of it does not run back under it, in no seam.
func TestASheetLeavesNoSeams(t *testing.T) {
	const cells, leaves = 100, 1.2e-3
	for name, to := range map[string]geom.Point{"along the cells": at(180, 100), "aslant": at(150, 150)} {
		s := board(200, cells, 1100)
		s.Moves = []flow.Move{
			{Kind: flow.Bed, Film: 3e-3},
			{Kind: flow.Swipe, At: 1, Points: []geom.Point{at(20, 100), to}, Width: 0.15, Gap: 2 * leaves, Speed: 0.02},
		}
		h := play(t, s, 5).Coat().Film().H()
		for x := 60.0; x < 90; x += 2 {
			way := to.Sub(at(20, 100))
			i := s.Grid.CellAt(at(20, 100).Add(way.Scale((x - 20) / 160)))
			assert.InEpsilon(t, leaves, h[i], 0.01, "%s, %g mm", name, x)
		}
		assert.InEpsilon(t, 3e-3, h[s.Grid.CellAt(to)], 1e-6, "ahead of it nothing has moved yet, %s", name)
	}
}
