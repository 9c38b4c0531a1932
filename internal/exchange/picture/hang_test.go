package picture

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/geom"
)

// A round board casts a round shadow: in the corner of its box the wall is nearly as
// bright as far away, and beyond its reach it is untouched.
func TestARoundBoardCastsARoundShadow(t *testing.T) {
	wall := image.NewRGBA(image.Rect(0, 0, 400, 400))
	for i := range wall.Pix {
		wall.Pix[i] = 210
	}
	var photo bytes.Buffer
	require.NoError(t, jpeg.Encode(&photo, wall, &jpeg.Options{Quality: 100}))
	board := image.NewRGBA(image.Rect(0, 0, 100, 100))
	for y := range 100 {
		for x := range 100 {
			if (x-50)*(x-50)+(y-50)*(y-50) < 50*50 {
				board.SetRGBA(x, y, color.RGBA{200, 30, 30, 255})
			}
		}
	}
	patch := [4]geom.Point{{X: 0, Y: 0}, {X: 1000, Y: 0}, {X: 1000, Y: 1000}, {X: 0, Y: 1000}}
	pixels := [4]geom.Point{{X: 0, Y: 0}, {X: 400, Y: 0}, {X: 400, Y: 400}, {X: 0, Y: 400}}
	there, err := geom.Project(patch, pixels)
	require.NoError(t, err)
	back, err := geom.Project(pixels, patch)
	require.NoError(t, err)
	data, err := Hang(photo.Bytes(), there, back, []Hung{{Picture: board, X: 250, Y: 250, Width: 500, Height: 500}})
	require.NoError(t, err)
	m, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	at := func(x, y int) color.RGBA { return color.RGBAModel.Convert(m.At(x, y)).(color.RGBA) }
	assert.Greater(t, int(at(200, 200).R), 2*int(at(200, 200).G), "the board hangs there")
	assert.InDelta(t, 210, int(at(105, 105).G), 8, "the corner of its box is wall")
	assert.Less(t, int(at(200, 303).G), 190, "just below it lies its shadow")
	assert.InDelta(t, 210, int(at(20, 20).G), 2)
}
