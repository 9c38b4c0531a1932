package qr_test

import (
	"image"
	"image/color"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/makiuchi-d/gozxing"
	reader "github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/qr"
)

// What is drawn is read back by an independent reader (gozxing), also when a corner of
// it is smudged.
func TestAnIndependentReaderReadsIt(t *testing.T) {
	for _, text := range []string{"https://192.168.1.20:8017/scan/piece/7",
		"https://bench.local:8017/pair?code=" + strings.Repeat("A", 60), "x"} {
		svg, err := qr.SVG(text, `a "label" & more`)
		require.NoError(t, err)
		assert.Contains(t, svg, `aria-label="a &#34;label&#34; &amp; more"`)
		m := drawn(t, svg)
		assert.Equal(t, text, read(t, m))
		b := m.Bounds()
		for y := range b.Dy() / 14 { // a smudge in the middle
			for x := range b.Dx() / 14 {
				m.SetGray(b.Dx()/2+x, b.Dy()/2+y, color.Gray{Y: 128})
			}
		}
		assert.Equal(t, text, read(t, m))
	}
}

func read(t *testing.T, m image.Image) string {
	t.Helper()
	bits, err := gozxing.NewBinaryBitmapFromImage(m)
	require.NoError(t, err)
	got, err := reader.NewQRCodeReader().Decode(bits, nil)
	require.NoError(t, err)
	return got.GetText()
}

// drawn paints the modules of the SVG, eight points each.
func drawn(t *testing.T, svg string) *image.Gray {
	t.Helper()
	side, err := strconv.Atoi(regexp.MustCompile(`viewBox="0 0 (\d+) `).FindStringSubmatch(svg)[1])
	require.NoError(t, err)
	m := image.NewGray(image.Rect(0, 0, 8*side, 8*side))
	for i := range m.Pix {
		m.Pix[i] = 255
	}
	for _, at := range regexp.MustCompile(`M(\d+) (\d+)h(\d+)v1h-\d+z`).FindAllStringSubmatch(svg, -1) {
		x, _ := strconv.Atoi(at[1])
		y, _ := strconv.Atoi(at[2])
		wide, _ := strconv.Atoi(at[3])
		for k := range 64 * wide {
			m.SetGray(8*x+k%(8*wide), 8*y+k/(8*wide), color.Gray{})
		}
	}
	return m
}
