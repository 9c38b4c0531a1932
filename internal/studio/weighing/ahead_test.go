package weighing

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/msg"
)

// What is foreseen leads to the end, through every cup, and changes nothing.
func TestAheadGoesToTheEnd(t *testing.T) {
	mixed := resin.Product{RatioA: 1, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 1000, Tolerance: 0.02}
	w := Weighing{Product: material.Product{Product: mixed}, Step: 0.1, Stage: Tare, Cups: []Cup{
		{Name: "Bed", PlanA: 50, PlanB: 44.2},
		{Name: "White", PlanA: 20, PlanB: 17.7, Load: 0.05,
			Dyes: []Dye{{Name: msg.Store(msg.Own("White")), Load: 0.05}}},
	}}
	ahead := w.Ahead()
	require.Len(t, ahead, 7)
	var cups, what []string
	for _, a := range ahead {
		cups, what = append(cups, msg.Say(a.Cup, msg.English)), append(what, msg.Say(a.What, msg.English))
	}
	assert.Equal(t, []string{"Bed", "Bed", "Bed", "White", "White", "White", "White"}, cups)
	assert.Equal(t, []string{"empty cup", "part A", "part B", "empty cup", "part A", "part B", "White"}, what)
	assert.InDelta(t, 50, ahead[1].Reach.Grams(), 0.05)
	assert.Equal(t, Tare, w.Stage)
	assert.Empty(t, w.Cups[0].Pours)
}
