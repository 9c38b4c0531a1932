package picture_test

import (
	"bytes"
	"context"
	"encoding/binary"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"

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
	tiff := append([]byte("II*\x00\x08\x00\x00\x00\x01\x00"), 0x12, 0x01, 3, 0, 1, 0, 0, 0, byte(orientation), 0, 0, 0, 0,
		0, 0, 0)
	return app1(jpg, tiff)
}

func TestPicturesAreTurnedUpright(t *testing.T) {
	jpg := jpegOf(t, halves(80, 40))
	red := func(c color.NRGBA) bool { return c.R > 150 && c.B < 90 }
	for orientation, first := range map[uint16]struct {
		w, h int
		top  bool // red at the top left corner
	}{1: {80, 40, true}, 2: {80, 40, false}, 3: {80, 40, false}, 4: {80, 40, true},
		5: {40, 80, true}, 6: {40, 80, true}, 7: {40, 80, false}, 8: {40, 80, false}} {
		p, err := picture.NewDesk().Read(t.Context(), bytes.NewReader(held(jpg, orientation)))
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
		p, err := picture.NewDesk().Read(t.Context(), bytes.NewReader(data))
		require.NoError(t, err, name)
		assert.NotEmpty(t, p.Pixels(), name)
	}
	clear := image.NewNRGBA(image.Rect(0, 0, 10, 10))
	clear.SetNRGBA(1, 1, color.NRGBA{200, 0, 0, 255})
	b := &bytes.Buffer{}
	require.NoError(t, png.Encode(b, clear))
	p, err := picture.NewDesk().Read(t.Context(), b)
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
	_, err := picture.NewDesk().Read(t.Context(), bytes.NewReader([]byte("<svg/>")))
	assert.ErrorIs(t, err, picture.ErrNoPicture)
	jpg := jpegOf(t, halves(200, 200))
	_, err = picture.NewDesk().Read(t.Context(), bytes.NewReader(jpg[:len(jpg)/2]))
	assert.ErrorIs(t, err, picture.ErrBroken)
	_, err = picture.NewDesk().Read(t.Context(), bytes.NewReader(giant(10_000, 10_000)))
	assert.ErrorContains(t, err, "100 megapixels")
}

// A forged count of values once took 16 GB, and two directories that point at
// each other never ended. Both are read in no time, and the picture still is.
func TestForgedMetadataIsBounded(t *testing.T) {
	plain := jpegOf(t, halves(16, 8))
	forged := held(plain, 6)
	at := bytes.Index(forged, []byte{0x12, 0x01, 3, 0, 1, 0, 0, 0})
	require.Positive(t, at)
	for _, values := range []uint32{0x7fff_ffff, 0xffff_ffff, 1 << 28} {
		count := bytes.Clone(forged)
		binary.LittleEndian.PutUint32(count[at+4:], values)
		withinBounds(t, count)
	}
	for _, tag := range []uint16{0x8769, 0x8825, 0xa005, 0x014a} { // directories below directories
		withinBounds(t, app1(plain, circle(tag)))
	}
}

// withinBounds reads a picture and fails when that takes more memory than the
// picture itself asks for; a loop fails by the test's own deadline.
func withinBounds(t *testing.T, data []byte) {
	t.Helper()
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	p, err := picture.NewDesk().Read(t.Context(), bytes.NewReader(data))
	require.NoError(t, err)
	assert.NotEmpty(t, p.Pixels())
	runtime.ReadMemStats(&after)
	assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(4<<20))
}

// circle is two TIFF directories each of which names the other as the next and
// as the one below it.
func circle(tag uint16) []byte {
	out := []byte("II*\x00\x08\x00\x00\x00")
	for _, other := range []uint32{26, 8} {
		out = binary.LittleEndian.AppendUint16(out, 1)
		out = binary.LittleEndian.AppendUint16(out, tag)
		out = binary.LittleEndian.AppendUint16(out, 4)
		out = binary.LittleEndian.AppendUint32(out, 1)
		out = binary.LittleEndian.AppendUint32(out, other)
		out = binary.LittleEndian.AppendUint32(out, other)
	}
	return out
}

// app1 puts metadata into a JPEG.
func app1(jpg, tiff []byte) []byte {
	app := append([]byte("Exif\x00\x00"), tiff...)
	head := []byte{0xff, 0xd8, 0xff, 0xe1, 0, 0}
	binary.BigEndian.PutUint16(head[4:], uint16(len(app)+2))
	return append(append(head, app...), jpg[2:]...)
}

// What is promised is what is read: JPEG and PNG, though other packages may
// register more.
func TestOnlyWhatIsPromised(t *testing.T) {
	small := image.NewPaletted(image.Rect(0, 0, 4, 4), color.Palette{color.Black, color.White})
	var g, b, f bytes.Buffer
	require.NoError(t, gif.Encode(&g, small, nil))
	require.NoError(t, bmp.Encode(&b, small))
	require.NoError(t, tiff.Encode(&f, small, nil))
	for name, file := range map[string][]byte{"GIF": g.Bytes(), "BMP": b.Bytes(), "TIFF": f.Bytes()} {
		_, err := picture.NewDesk().Read(t.Context(), bytes.NewReader(file))
		assert.ErrorIs(t, err, picture.ErrNoPicture, name)
		_, err = picture.NewDesk().Reduce(t.Context(), bytes.NewReader(file))
		assert.ErrorIs(t, err, picture.ErrNoPicture, name)
	}
	_, err := picture.NewDesk().Read(t.Context(), strings.NewReader("\x00\x00\x00\x18ftypheic\x00\x00\x00\x00mif1"))
	assert.ErrorIs(t, err, picture.ErrHEIC)
}

// A picture that cannot be read gives its turn back, and whoever leaves before
// his turn is not waited for.
func TestTheTurnIsGivenBack(t *testing.T) {
	desk := picture.NewDesk()
	for range 3 {
		_, err := desk.Read(t.Context(), strings.NewReader("\xff\xd8\xffnonsense"))
		assert.ErrorIs(t, err, picture.ErrBroken)
	}
	gone, leave := context.WithCancel(t.Context())
	leave()
	good := jpegOf(t, halves(20, 10))
	_, err := desk.Read(gone, bytes.NewReader(good))
	assert.ErrorIs(t, err, context.Canceled)
	_, err = desk.Read(t.Context(), bytes.NewReader(good))
	assert.NoError(t, err)
}

// A photograph is kept upright, no larger than a screen needs, and what is
// transparent in it becomes white.
func TestPhotographsAreReduced(t *testing.T) {
	data, err := picture.NewDesk().Reduce(t.Context(), bytes.NewReader(held(jpegOf(t, halves(2000, 1000)), 8)))
	require.NoError(t, err)
	cfg, err := jpeg.DecodeConfig(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, [2]int{800, 1600}, [2]int{cfg.Width, cfg.Height})
	var clear bytes.Buffer
	require.NoError(t, png.Encode(&clear, image.NewNRGBA(image.Rect(0, 0, 8, 8))))
	data, err = picture.NewDesk().Reduce(t.Context(), &clear)
	require.NoError(t, err)
	img, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	r, g, b, _ := img.At(4, 4).RGBA()
	assert.Greater(t, min(r, g, b), uint32(0xfa00))
}

func FuzzPicture(f *testing.F) {
	plain := jpegOf(f, halves(16, 8))
	f.Add(held(plain, 6))
	f.Add(app1(plain, circle(0x8769)))
	f.Add(cmyk)
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := picture.NewDesk().Read(t.Context(), bytes.NewReader(data))
		if err == nil && len(p.Small.Pix) == 0 {
			t.Fatal("a picture without pixels")
		}
	})
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
		p, err := picture.NewDesk().Read(b.Context(), bytes.NewReader(jpg))
		require.NoError(b, err)
		require.NotEmpty(b, p.Pixels())
	}
	var s runtime.MemStats
	runtime.ReadMemStats(&s)
	b.ReportMetric(float64(s.HeapSys)/1e6, "MB-held")
}
