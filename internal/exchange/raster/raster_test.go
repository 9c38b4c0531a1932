package raster_test

import (
	"image/color"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/exchange/raster"
)

func square(x, y, s float64) []raster.Point {
	return []raster.Point{{x, y}, {x + s, y}, {x + s, y + s}, {x, y + s}}
}

func TestPaintLiesInOrderAndInsideTheBoard(t *testing.T) {
	m := raster.Paint(10, 10, 2, [][]raster.Point{square(1, 1, 8)},
		[]raster.Fill{{[][]raster.Point{square(0, 0, 10)}, "#ff0000"}, {[][]raster.Point{square(4, 4, 2)}, "#0000ff"},
			{[][]raster.Point{square(0, 0, 10)}, "none"}})
	assert.Equal(t, 20, m.Rect.Dx())
	assert.Equal(t, color.RGBA{}, m.RGBAAt(0, 0), "beside the board")
	assert.Equal(t, color.RGBA{255, 0, 0, 255}, m.RGBAAt(4, 4))
	assert.Equal(t, color.RGBA{0, 0, 255, 255}, m.RGBAAt(10, 10))
	_, ok := raster.Colour("#12345g")
	assert.False(t, ok)
}
