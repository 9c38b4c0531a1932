package picture

import (
	"encoding/binary"
	"image"
	"image/color"
	"runtime/debug"

	"jevvo/internal/core/refusal"
)

// MaxWeight bounds the bytes a picture may take while it is unpacked: one of MaxPixels
// as cameras write them, a plain or progressive JPEG with halved colours, or a PNG of
// 16 bits.
const MaxWeight = 330_000_000

// heavy is from when on the memory a picture took is given back at once.
const heavy = 32_000_000

// light refuses a picture that would take too much memory to unpack.
func light(weight, pixels int64) error {
	if weight <= MaxWeight {
		return nil
	}
	return refusal.New("the picture needs %d MB to be unpacked; at most %d are taken. Save its %d megapixels as a plain "+
		"JPEG, or smaller, and try again",
		weight/1_000_000, MaxWeight/1_000_000, (pixels+500_000)/1_000_000)
}

// giveBack returns the memory of a heavy picture to the system: the next may be long
// in coming.
func giveBack(weight int64) {
	if weight > heavy {
		debug.FreeOSMemory()
	}
}

// weighPNG is the memory a PNG takes: its pixels, twice when they come interlaced.
func weighPNG(data []byte, cfg image.Config) int64 {
	const interlace = 28 // the last byte of IHDR (PNG, third edition, 11.2.1)
	each := int64(1)
	switch cfg.ColorModel {
	case color.RGBA64Model, color.NRGBA64Model:
		each = 8
	case color.RGBAModel, color.NRGBAModel:
		each = 4
	case color.Gray16Model:
		each = 2
	}
	if len(data) > interlace && data[interlace] != 0 {
		each *= 2
	}
	return each * int64(cfg.Width) * int64(cfg.Height)
}

// weighJPEG is the memory a JPEG takes: a byte a sample, four more when it is progressive,
// whose coefficients are held until the last scan, and four a pixel when it has
// four channels.
func weighJPEG(data []byte, cfg image.Config) int64 {
	pixels := int64(cfg.Width) * int64(cfg.Height)
	frame, progressive := frameHeader(data)
	const fixed, each = 6, 3 // bytes before and of the components (ITU-T T.81, B.2.2)
	if len(frame) < fixed {
		return pixels
	}
	n := min(int(frame[fixed-1]), (len(frame)-fixed)/each)
	sizes, most := make([]int64, n), int64(1)
	for i := range n {
		sampling := frame[fixed+i*each+1]
		sizes[i] = int64(sampling>>4) * int64(sampling&15)
		most = max(most, sizes[i])
	}
	samples := int64(0)
	for _, size := range sizes {
		samples += pixels * size / most
	}
	weight := samples
	if progressive {
		weight += 4 * samples
	}
	if n == 4 {
		weight += 4 * pixels
	}
	return weight
}

// frameHeader finds the frame header of a JPEG, from its precision on, and whether the
// frame is progressive; nil when there is none.
func frameHeader(data []byte) (header []byte, progressive bool) {
	const soi = 2
	for at := soi; at+4 <= len(data); {
		if data[at] != 0xff {
			at++ // the decoder looks for the next marker too
			continue
		}
		marker := data[at+1]
		if marker == 0xff || marker == 0 || marker >= 0xd0 && marker <= 0xd8 {
			at++ // filling, or a marker that stands alone
			continue
		}
		length := int(binary.BigEndian.Uint16(data[at+2:]))
		if marker >= 0xc0 && marker <= 0xc2 {
			return data[at+4 : min(len(data), max(at+4, at+2+length))], marker == 0xc2
		}
		at += 2 + max(2, length)
	}
	return nil, false
}
