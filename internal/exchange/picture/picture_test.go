package picture_test

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/picture"
)

// halves is red on the left, blue on the right.
func halves(w, h int) image.Image {
	m := image.NewNRGBA64(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.NRGBA64{60000, 5000, 5000, 65535}
			if x >= w/2 {
				c = color.NRGBA64{5000, 5000, 60000, 65535}
			}
			m.SetNRGBA64(x, y, c)
		}
	}
	return m
}

func jpegOf(t testing.TB, m image.Image) []byte {
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, m, &jpeg.Options{Quality: 95}))
	return b.Bytes()
}

// held puts an EXIF orientation (JEITA CP-3451) into a JPEG.
func held(jpg []byte, orientation uint16) []byte {
	tiff := append([]byte("II*\x00\x08\x00\x00\x00\x01\x00"), 0x12, 0x01, 3, 0, 1, 0, 0, 0, byte(orientation), 0, 0, 0, 0, 0, 0, 0)
	app := append([]byte("Exif\x00\x00"), tiff...)
	head := []byte{0xff, 0xd8, 0xff, 0xe1, 0, 0}
	binary.BigEndian.PutUint16(head[4:], uint16(len(app)+2))
	return append(append(head, app...), jpg[2:]...)
}

func TestPicturesAreTurnedUpright(t *testing.T) {
	jpg := jpegOf(t, halves(80, 40))
	red := func(c color.NRGBA) bool { return c.R > 150 && c.B < 90 }
	for orientation, first := range map[uint16]struct {
		w, h int
		top  bool // red at the top left corner
	}{1: {80, 40, true}, 2: {80, 40, false}, 3: {80, 40, false}, 6: {40, 80, true}, 8: {40, 80, false}} {
		p, err := picture.Read(bytes.NewReader(held(jpg, orientation)))
		require.NoError(t, err)
		assert.Equal(t, first.w, p.Small.Rect.Dx(), "orientation %d", orientation)
		assert.Equal(t, first.h, p.Small.Rect.Dy())
		assert.Equal(t, first.top, red(p.Small.NRGBAAt(3, 3)), "orientation %d", orientation)
	}
}

func TestAllKindsOfPixels(t *testing.T) {
	deep := &bytes.Buffer{}
	require.NoError(t, png.Encode(deep, halves(60, 30))) // 16 bits a channel
	for name, data := range map[string][]byte{"16-bit PNG": deep.Bytes(), "CMYK JPEG": cmyk, "grey": grey(t)} {
		p, err := picture.Read(bytes.NewReader(data))
		require.NoError(t, err, name)
		assert.NotEmpty(t, p.Pixels(), name)
	}
	clear := image.NewNRGBA(image.Rect(0, 0, 10, 10))
	clear.SetNRGBA(1, 1, color.NRGBA{200, 0, 0, 255})
	b := &bytes.Buffer{}
	require.NoError(t, png.Encode(b, clear))
	p, err := picture.Read(b)
	require.NoError(t, err)
	assert.Len(t, p.Pixels(), 1, "what is transparent is no colour")
	small, err := p.PNG()
	require.NoError(t, err)
	back, err := picture.Small(small)
	require.NoError(t, err)
	assert.Equal(t, p.Pixels(), back.Pixels())
}

func grey(t *testing.T) []byte {
	m := image.NewGray(image.Rect(0, 0, 9, 9))
	for i := range m.Pix {
		m.Pix[i] = 90
	}
	return jpegOf(t, m)
}

func TestRefusals(t *testing.T) {
	_, err := picture.Read(bytes.NewReader([]byte("<svg/>")))
	assert.ErrorIs(t, err, picture.ErrNoPicture)
	jpg := jpegOf(t, halves(200, 200))
	_, err = picture.Read(bytes.NewReader(jpg[:len(jpg)/2]))
	assert.ErrorIs(t, err, picture.ErrBroken)
	_, err = picture.Read(bytes.NewReader(giant(10_000, 10_000)))
	assert.ErrorContains(t, err, "100 megapixels")
}

// giant is the head of a PNG (ISO/IEC 15948) that claims to be large.
func giant(w, h uint32) []byte {
	b := &bytes.Buffer{}
	_ = png.Encode(b, image.NewGray(image.Rect(0, 0, 1, 1)))
	data := b.Bytes()
	binary.BigEndian.PutUint32(data[16:], w)
	binary.BigEndian.PutUint32(data[20:], h)
	binary.BigEndian.PutUint32(data[29:], crc(data[12:29]))
	return data
}

func crc(b []byte) uint32 {
	c := ^uint32(0)
	for _, v := range b {
		c ^= uint32(v)
		for range 8 {
			c = c>>1 ^ 0xedb88320*(c&1)
		}
	}
	return ^c
}

// cmyk is an 8 × 8 JPEG of four components, made by hand after ITU T.81: every
// coefficient is nought; the marker says that no transform was used.
var cmyk = func() []byte {
	q := append([]byte{0xff, 0xdb, 0, 67, 0}, bytes.Repeat([]byte{1}, 64)...)
	sof := []byte{0xff, 0xc0, 0, 20, 8, 0, 8, 0, 8, 4, 1, 0x11, 0, 2, 0x11, 0, 3, 0x11, 0, 4, 0x11, 0}
	table := func(class byte) []byte {
		counts := make([]byte, 16)
		counts[0] = 1
		return append(append([]byte{0xff, 0xc4, 0, 20, class}, counts...), 0)
	}
	sos := []byte{0xff, 0xda, 0, 14, 4, 1, 0, 2, 0, 3, 0, 4, 0, 0, 63, 0}
	adobe := append([]byte{0xff, 0xee, 0, 14}, "Adobe\x00\x64\x00\x00\x00\x00\x00"...)
	out := []byte{0xff, 0xd8}
	for _, part := range [][]byte{adobe, q, sof, table(0), table(0x10), sos, {0x00}, {0xff, 0xd9}} {
		out = append(out, part...)
	}
	return out
}()

// BenchmarkPicture24MP reads a JPEG of 24 megapixels and reports the memory
// that was in use at most (runtime: bytes obtained from the system).
func BenchmarkPicture24MP(b *testing.B) {
	m := image.NewYCbCr(image.Rect(0, 0, 6000, 4000), image.YCbCrSubsampleRatio420)
	for i := range m.Y {
		m.Y[i] = uint8(i*7 + i/6000)
	}
	jpg := jpegOf(b, m)
	m = nil
	runtime.GC()
	b.ResetTimer()
	for range b.N {
		p, err := picture.Read(bytes.NewReader(jpg))
		require.NoError(b, err)
		require.NotEmpty(b, p.Pixels())
	}
	var s runtime.MemStats
	runtime.ReadMemStats(&s)
	b.ReportMetric(float64(s.HeapSys)/1e6, "MB-held")
}
