package still_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/png"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/still"
)

// The scale is a round length, three to ten of which are the board.
func TestScalesAreRound(t *testing.T) {
	for wide, want := range map[float64]string{600: "20 cm", 457: "10 cm", 100: "2 cm", 40: "1 cm", 25: "5 mm",
		2000: "50 cm"} {
		mm, words := still.Scale(wide)
		assert.Equal(t, want, words)
		assert.GreaterOrEqual(t, wide/mm, 3.0)
		assert.Less(t, wide/mm, 10.0)
	}
}

// The bar is as long as it says, the board is untouched, and beside the face is
// neutral grey.
func TestAStillKeepsTheBoard(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 600, 300))
	for i := range 600 * 300 {
		if i%600 > 20 {
			m.SetNRGBA(i%600, i/600, color.NRGBA{20, 60, 200, 255})
		}
	}
	data, err := still.PNG(still.Board{Picture: m, Wide: 600, Words: "Mudflat, first pour"})
	require.NoError(t, err)
	got, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	at := func(x, y int) color.NRGBA { return color.NRGBAModel.Convert(got.At(x, y)).(color.NRGBA) }
	assert.Equal(t, color.NRGBA{20, 60, 200, 255}, at(28+300, 28+150))
	assert.Equal(t, color.NRGBA{128, 128, 128, 255}, at(28+5, 28+150), "beside the face")
	long := 0
	for x := 28; at(x, 28+300+28+1).R < 0x40; x++ {
		long++
	}
	assert.InDelta(t, 200, long, 1, "20 cm of 60 on 600 points")
	_, err = still.PNG(still.Board{Picture: m})
	assert.Error(t, err)
}

// A moving still has every board once, in order, with its time; readers that know
// no animation see the first (PNG specification, third edition, 2025).
func TestAMovingStillHoldsEveryBoard(t *testing.T) {
	face := func(c color.NRGBA) still.Board {
		m := image.NewNRGBA(image.Rect(0, 0, 500, 40))
		for i := range 500 * 40 {
			m.SetNRGBA(i%500, i/500, c)
		}
		return still.Board{Picture: m, Wide: 500, Words: "Mudflat", For: 250 * time.Millisecond}
	}
	red, blue := color.NRGBA{200, 10, 10, 255}, color.NRGBA{10, 10, 200, 255}
	data, err := still.Moving([]still.Board{face(red), face(blue), face(red)})
	require.NoError(t, err)
	first, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, red, color.NRGBAModel.Convert(first.At(28+250, 28+20)))
	var names []string
	order := uint32(0)
	for b := data[8:]; len(b) > 0; {
		long := binary.BigEndian.Uint32(b)
		name, body := string(b[4:8]), b[8:8+long]
		names = append(names, name)
		assert.Equal(t, crc32.ChecksumIEEE(b[4:8+long]), binary.BigEndian.Uint32(b[8+long:]), "checksum of "+name)
		switch name {
		case "acTL":
			assert.Equal(t, uint32(3), binary.BigEndian.Uint32(body), "frames")
		case "fcTL", "fdAT":
			assert.Equal(t, order, binary.BigEndian.Uint32(body), "sequence number")
			order++
		}
		if name == "fcTL" {
			assert.Equal(t, uint16(250), binary.BigEndian.Uint16(body[20:]), "ms of each")
			assert.Equal(t, uint16(1000), binary.BigEndian.Uint16(body[22:]))
		}
		b = b[12+long:]
	}
	assert.Equal(t, []string{"IHDR", "acTL", "fcTL", "IDAT"}, names[:4])
	assert.Equal(t, "IEND", names[len(names)-1])
	_, err = still.Moving(nil)
	assert.Error(t, err)
	odd := face(blue)
	odd.Picture = image.NewNRGBA(image.Rect(0, 0, 900, 40))
	_, err = still.Moving([]still.Board{face(red), odd})
	assert.Error(t, err, "boards of two sizes")
}
