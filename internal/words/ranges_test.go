package words_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// A forecast is said no more precisely than it is known, and never surer.
func TestRangesAreSaidRoughly(t *testing.T) {
	assert.Equal(t, "2 to 9 mm", words.Between(2.23, 8.51, units.Metric).In(msg.English))
	assert.Equal(t, "about 2 mm", words.Between(2.1, 2.4, units.Metric).In(msg.English))
	assert.Equal(t, "0.7 to 2.2 mm", words.Between(0.66, 2.23, units.Metric).In(msg.English))
	assert.Equal(t, "0.09 to 0.34 in", words.Between(2.23, 8.51, units.US).In(msg.English))
	assert.Equal(t, "13 min", words.Roughly(12.7).In(msg.English))
	assert.Equal(t, "40 min", words.Roughly(38.2).In(msg.English))
	assert.Equal(t, "13 days", words.Long(294.2).In(msg.English))
	assert.Equal(t, "7 hours", words.Long(6.1).In(msg.English))
	c := plan.CellForecast{Near: 2.23, Far: 8.51, Soon: 12.4, Late: 41.3, InTime: plan.Surely}
	assert.Equal(t, "cells 2 to 9 mm apart, first seen 12 min to 40 min after mixing; there is time",
		words.Cells(c, units.Metric).In(msg.English))
	c.Late, c.InTime = math.Inf(1), plan.Perhaps
	assert.Contains(t, words.Cells(c, units.Metric).In(msg.English), "perhaps cells")
	assert.NotContains(t, words.Cells(c, units.Metric).In(msg.English), "there is time")
	c.InTime = plan.Never
	assert.Contains(t, words.Cells(c, units.Metric).In(msg.English), "warm it")
	c.Soon = math.Inf(1)
	assert.Contains(t, words.Cells(c, units.Metric).In(msg.English), "longer than the resin flows")
	assert.Equal(t, "no cells by themselves", words.Cells(plan.CellForecast{}, units.Metric).In(msg.English))
}
