package picture_test

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/testsize"
)

// scans is a progressive JPEG (ITU-T T.81, G) of one component that goes over all of its
// blocks so many times, each time in some fifty bytes: runs of blocks in which nothing is
// left to say.
func scans(w, h uint16, n int) []byte {
	segment := func(marker byte, body ...byte) []byte {
		return append([]byte{0xff, marker, byte((len(body) + 2) >> 8), byte(len(body) + 2)}, body...)
	}
	table := func(class, value byte) []byte { // of one value, written as the bit 0
		counts := make([]byte, 16)
		counts[0] = 1
		return segment(0xc4, append(append([]byte{class}, counts...), value)...)
	}
	const runOf14Bits = 0xe0
	frame := []byte{8, byte(h >> 8), byte(h), byte(w >> 8), byte(w), 1, 1, 0x11, 0}
	out := []byte("\xff\xd8")
	out = append(out, segment(0xdb, append([]byte{0}, bytes.Repeat([]byte{1}, 64)...)...)...)
	out = append(out, segment(0xc2, frame...)...)
	out = append(out, table(0x00, 0)...)
	out = append(out, table(0x10, runOf14Bits)...)
	blocks := int(w+7) / 8 * (int(h+7) / 8)
	var said []byte // 15 bits a run of 2¹⁴ blocks, rounded up
	for range blocks>>14 + 1 {
		said = append(said, 0, 0)
	}
	for range n {
		out = append(out, segment(0xda, 1, 1, 0, 1, 63, 0)...)
		out = append(out, said...)
	}
	return append(out, 0xff, 0xd9)
}

// A picture that says little at great length is given up as soon as nobody waits for it:
// it asks at least every 600 000 blocks, which take some two milliseconds.
func TestScansWithoutEndAreGivenUp(t *testing.T) {
	const n, side = 400, 800
	file := scans(side, side, n)
	looks := 1 << 20
	_, err := picture.Reduced(testsize.Patience{Context: t.Context(), Left: &looks}, file)
	require.NoError(t, err)
	looks = 1<<20 - looks
	assert.Greater(t, looks, n*(side/8)*(side/8)/600_000)
	left := looks / 2
	_, err = picture.Reduced(testsize.Patience{Context: t.Context(), Left: &left}, file)
	require.ErrorIs(t, err, context.Canceled)
	assert.Greater(t, left, -5, "it went on after it was told")
}

// Whatever comes as a picture is read or refused in words, within the memory that is
// promised; $JEVVO_HOSTILE files, such as 1000 at night.
func TestHostileFiles(t *testing.T) {
	random := rand.New(rand.NewPCG(40, 4))
	makers := []func(*rand.Rand) []byte{damaged(t), claiming(t), lengthy, forgedMeta(t), swollen, cutOff(t)}
	desk := picture.NewDesk()
	read, refused := 0, map[string]int{}
	for i := range testsize.Of(t, "JEVVO_HOSTILE", 60) {
		file := makers[i%len(makers)](random)
		photo, err := desk.Photo(t.Context(), bytes.NewReader(file))
		if err == nil {
			read++
			assert.NotEmpty(t, photo.Shown)
			continue
		}
		said := err.Error()
		for _, word := range []string{"cut off", "megapixels", "unpacked", "not a JPEG", "too long"} {
			if strings.Contains(said, word) {
				said = word
			}
		}
		refused[said]++
		assert.Less(t, len(said), 12, "refused in words: %v", err)
	}
	peak, err := peakMB()
	require.NoError(t, err)
	t.Logf("%d read, refused %v, %d MB at most", read, refused, peak)
	assert.Less(t, peak, 350)
}

// peakMB is the most memory the process had, as the system counts it.
func peakMB() (int, error) {
	status, err := os.ReadFile("/proc/self/status")
	if errors.Is(err, os.ErrNotExist) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	_, after, _ := strings.Cut(string(status), "VmHWM:")
	kB, err := strconv.Atoi(strings.Fields(after)[0])
	return kB >> 10, err
}

// damaged are pictures with some bytes of others.
func damaged(t *testing.T) func(*rand.Rand) []byte {
	good := [][]byte{jpegOf(t, halves(300, 200)), held(jpegOf(t, halves(64, 64)), 6), cmyk, scans(64, 64, 9)}
	var p bytes.Buffer
	require.NoError(t, png.Encode(&p, halves(120, 90)))
	good = append(good, p.Bytes())
	return func(r *rand.Rand) []byte {
		file := bytes.Clone(good[r.IntN(len(good))])
		for range 1 + r.IntN(30) {
			file[r.IntN(len(file))] = byte(r.Uint32())
		}
		return file
	}
}

// claiming are small JPEGs that say they are large, in all ways.
func claiming(t *testing.T) func(*rand.Rand) []byte {
	small := jpegOf(t, halves(16, 16))
	return func(r *rand.Rand) []byte {
		side := func() uint16 { return uint16(1 + r.IntN(9000)) }
		return claim(t, small, side(), side(), r.IntN(2) == 0, r.IntN(2) == 0)
	}
}

// lengthy are progressive pictures of many scans.
func lengthy(r *rand.Rand) []byte {
	return scans(uint16(8+r.IntN(6000)), uint16(8+r.IntN(6000)), 1+r.IntN(40))
}

// forgedMeta are good pictures with metadata that lies about its sizes and places.
func forgedMeta(t *testing.T) func(*rand.Rand) []byte {
	plain := jpegOf(t, halves(40, 20))
	return func(r *rand.Rand) []byte {
		tiff := []byte("II*\x00\x08\x00\x00\x00")
		entries := 1 + r.IntN(40)
		tiff = binary.LittleEndian.AppendUint16(tiff, uint16(entries))
		for range entries {
			tag := []uint16{0x0112, 0x8769, 0x8825, 0xa005, 0x014a, 0x0111, uint16(r.Uint32())}[r.IntN(7)]
			tiff = binary.LittleEndian.AppendUint16(tiff, tag)
			tiff = binary.LittleEndian.AppendUint16(tiff, uint16(r.IntN(14)))
			tiff = binary.LittleEndian.AppendUint32(tiff, r.Uint32()>>uint(r.IntN(32)))
			tiff = binary.LittleEndian.AppendUint32(tiff, r.Uint32()>>uint(r.IntN(32)))
		}
		return app1(plain, binary.LittleEndian.AppendUint32(tiff, 8))
	}
}

// swollen are PNGs of one colour, of few bytes and many points.
func swollen(r *rand.Rand) []byte {
	size := image.Rect(0, 0, 1+r.IntN(4000), 1+r.IntN(4000))
	var m image.Image
	switch r.IntN(3) {
	case 0:
		m = image.NewPaletted(size, color.Palette{color.Black, color.White})
	case 1:
		m = image.NewGray16(size)
	default:
		m = image.NewNRGBA(size)
	}
	var b bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, m); err != nil {
		panic(err) // into memory
	}
	return b.Bytes()
}

// cutOff are beginnings of good files, and files behind one another.
func cutOff(t *testing.T) func(*rand.Rand) []byte {
	good := [][]byte{jpegOf(t, halves(300, 200)), scans(200, 200, 20), cmyk, giant(3000, 2000)}
	return func(r *rand.Rand) []byte {
		a, b := good[r.IntN(len(good))], good[r.IntN(len(good))]
		return append(bytes.Clone(a[:r.IntN(len(a))]), b...)
	}
}
