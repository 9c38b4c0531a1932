package wall_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/form"
	"jevvo/internal/studiotest"
)

// A board twice as far along a wall is half as large in the picture when the patch says
// so; the light of the wall falls on it, and beside it nothing changes.
func TestBoardsHangTrueInScale(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	wall := image.NewRGBA(image.Rect(0, 0, 800, 600))
	for i := range wall.Pix {
		wall.Pix[i] = 200
	}
	var photo bytes.Buffer
	require.NoError(t, png.Encode(&photo, wall))
	id, err := r.Wall.AddRoom(r.Ctx(), c.ID, bytes.NewReader(photo.Bytes()))
	require.NoError(t, err)
	hang := func(typed map[string]string) *bounds {
		t.Helper()
		typed["room"] = "1"
		asked, err := r.Wall.Read(r.Ctx(), typed, []string{"1"})
		require.NoError(t, err)
		asked.Room, asked.Pieces = id, []int64{p.ID}
		hung, err := r.Wall.Hang(r.Ctx(), c.ID, asked)
		require.NoError(t, err)
		data, err := r.Wall.Hung(r.Ctx(), c.ID, hung)
		require.NoError(t, err)
		return changed(t, data)
	}
	// A length of 1 m over 400 pixels: 20 × 30 cm are 80 × 120 of them.
	b := hang(map[string]string{"corners": "0.25,0.5 0.75,0.5", "width": "1 m"})
	assert.InDelta(t, 80, b.w, 5)
	assert.InDelta(t, 120, b.h, 5)
	assert.InDelta(t, 400, b.x+b.w/2, 3, "in the middle of the length")
	// The same metre over half the pixels: half as large.
	b = hang(map[string]string{"corners": "0.25,0.5 0.5,0.5", "width": "1 m"})
	assert.InDelta(t, 40, b.w, 5)
	// A patch turned by a right angle turns the board with it.
	b = hang(map[string]string{"corners": "0.75,0.25 0.75,0.75 0.25,0.75 0.25,0.25", "width": "1 m", "height": "1 m"})
	assert.Greater(t, b.w, b.h)
	for _, bad := range []map[string]string{{"corners": "0,0 1,1 2,2 0,1", "width": "1 m", "height": "1 m", "room": "1"},
		{"corners": "0,0", "room": "1"}, {"corners": "0,0 1,1", "width": "0", "room": "1"},
		{"corners": "0,0 1,1", "width": "1 m"}, {"corners": "x,y 1,1", "width": "1 m", "room": "1"}} {
		asked, err := r.Wall.Read(r.Ctx(), bad, []string{"1"})
		if err == nil {
			asked.Room, asked.Pieces = id, []int64{p.ID}
			_, err = r.Wall.Hang(r.Ctx(), c.ID, asked)
		}
		var refused *form.Refused
		assert.ErrorAs(t, err, &refused, "%v", bad)
	}
}

type bounds struct{ x, y, w, h float64 }

// changed is the box of what is not the wall any more, its shadow left out.
func changed(t *testing.T, data []byte) *bounds {
	t.Helper()
	m, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	box := image.Rectangle{}
	for y := m.Bounds().Min.Y; y < m.Bounds().Max.Y; y++ {
		for x := m.Bounds().Min.X; x < m.Bounds().Max.X; x++ {
			c := color.RGBAModel.Convert(m.At(x, y)).(color.RGBA)
			grey := max(c.R, c.G, c.B)-min(c.R, c.G, c.B) < 24
			if grey && c.R > 100 {
				continue
			}
			box = box.Union(image.Rect(x, y, x+1, y+1))
		}
	}
	return &bounds{float64(box.Min.X), float64(box.Min.Y), float64(box.Dx()), float64(box.Dy())}
}
