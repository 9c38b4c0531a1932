package still

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/png"
	"time"

	"jevvo/internal/core/refusal"
)

// Animated PNG (PNG specification, third edition, 2025, chunks acTL, fcTL, fdAT):
// each frame is a picture of its own whose data chunks are renamed, so that the
// standard encoder does all of the work.

// signature begins every PNG.
const signature = "\x89PNG\r\n\x1a\n"

// Moving returns some boards of one size, one after the other, as an animated PNG
// that is played once. Readers that know no animation show the first board.
func Moving(boards []Board) ([]byte, error) {
	if len(boards) == 0 {
		return nil, refusal.New("a moving still needs boards")
	}
	var out bytes.Buffer
	out.WriteString(signature)
	n, size := uint32(0), image.Point{}
	for k, b := range boards {
		m, err := layout(b)
		if err != nil {
			return nil, err
		}
		chunks, err := chunksOf(m)
		if err != nil {
			return nil, err
		}
		if k == 0 {
			size = m.Bounds().Size()
			chunk(&out, "IHDR", chunks.header)
			chunk(&out, "acTL", numbers(uint32(len(boards)), 1))
		} else if m.Bounds().Size() != size {
			return nil, refusal.New("boards of a moving still are of one size")
		}
		chunk(&out, "fcTL", control(n, size, b.For))
		n++
		for _, data := range chunks.data {
			if k == 0 {
				chunk(&out, "IDAT", data)
				continue
			}
			chunk(&out, "fdAT", append(numbers(n), data...))
			n++
		}
	}
	chunk(&out, "IEND", nil)
	return out.Bytes(), nil
}

// parts are the chunks of a PNG.
type parts struct {
	header []byte
	data   [][]byte
}

func chunksOf(m image.Image) (parts, error) {
	var file bytes.Buffer
	if err := png.Encode(&file, m); err != nil {
		return parts{}, err
	}
	var p parts
	for b := file.Bytes()[len(signature):]; len(b) >= 12; {
		long := binary.BigEndian.Uint32(b)
		name, body := string(b[4:8]), b[8:8+long]
		switch name {
		case "IHDR":
			p.header = body
		case "IDAT":
			p.data = append(p.data, body)
		}
		b = b[12+long:]
	}
	return p, nil
}

// control is the content of an fcTL chunk: a whole frame for a while, in ms, that replaces
// what was there.
func control(n uint32, size image.Point, shown time.Duration) []byte {
	b := numbers(n, uint32(size.X), uint32(size.Y), 0, 0)
	b = binary.BigEndian.AppendUint16(b, uint16(shown.Milliseconds()))
	b = binary.BigEndian.AppendUint16(b, 1000)
	return append(b, 0, 0)
}

func numbers(v ...uint32) []byte {
	var b []byte
	for _, n := range v {
		b = binary.BigEndian.AppendUint32(b, n)
	}
	return b
}

// chunk writes one: its length, name, body and checksum.
func chunk(out *bytes.Buffer, name string, body []byte) {
	out.Write(numbers(uint32(len(body))))
	sum := crc32.NewIEEE()
	for _, part := range [][]byte{[]byte(name), body} {
		out.Write(part)
		sum.Write(part)
	}
	out.Write(numbers(sum.Sum32()))
}
