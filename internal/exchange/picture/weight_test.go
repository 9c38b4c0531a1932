package picture_test

import (
	"bytes"
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/picture"
)

// claim makes a JPEG say that it is larger, progressive or without halved colours
// (ITU-T T.81, B.2.2).
func claim(t *testing.T, jpg []byte, w, h uint16, progressive, whole bool) []byte {
	t.Helper()
	out := bytes.Clone(jpg)
	at := bytes.Index(out, []byte{0xff, 0xc0})
	require.Positive(t, at)
	if progressive {
		out[at+1] = 0xc2
	}
	binary.BigEndian.PutUint16(out[at+5:], h)
	binary.BigEndian.PutUint16(out[at+7:], w)
	if whole {
		out[at+11] = 0x11 // the first component sampled like the others
	}
	return out
}

// A picture is refused by what it takes to unpack, before any of it is; one that is
// not goes on to be found cut off.
func TestPicturesAreWeighed(t *testing.T) {
	jpg := jpegOf(t, halves(16, 16))
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"a camera's":                  {claim(t, jpg, 8000, 5000, false, false), "cut off"},
		"progressive, colours halved": {claim(t, jpg, 8000, 5000, true, false), "cut off"},
		"progressive, colours whole":  {claim(t, jpg, 8000, 5000, true, true), "600 MB"},
		"smaller, colours whole":      {claim(t, jpg, 5400, 4000, true, true), "cut off"},
		"four channels, progressive":  {claim(t, cmyk, 5500, 4000, true, false), "528 MB"},
		"a marker before it is filled": {append([]byte("\xff\xd8\xff\xff"), claim(t, jpg, 8000, 5000, true, true)[3:]...),
			"600 MB"},
		"16 bits, interlaced": {interlaced(6000, 6000), "576 MB"},
	} {
		_, err := picture.NewDesk().Read(t.Context(), bytes.NewReader(c.data))
		assert.ErrorContains(t, err, c.says, name)
	}
}

// interlaced is the head of a PNG of 16 bits in four channels that comes in seven
// passes.
func interlaced(w, h uint32) []byte {
	data := giant(w, h)
	data[24], data[25], data[28] = 16, 6, 1
	binary.BigEndian.PutUint32(data[29:], crc(data[12:29]))
	return data
}
