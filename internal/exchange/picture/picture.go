// Package picture reads photographs: JPEG and PNG, of any colour model and bit
// depth, turned upright. One is read at a time, within bounds of bytes, pixels
// and seconds, so that no file can take the memory or the turn of the others:
//
//	desk := picture.NewDesk()
//	p, err := desk.Read(ctx, file) // a small copy, for its colours
package picture

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"math"
	"time"

	"golang.org/x/image/draw"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/refusal"
)

// Limits of what is taken in, besides MaxWeight.
const (
	MaxBytes  = 48 << 20
	MaxPixels = 40_000_000
	// MaxTime is how long one picture may take to unpack.
	MaxTime = 20 * time.Second
	// smallSide and photoSide are the longer sides of what is kept: of a picture
	// read for its colours, and of a photograph.
	smallSide = 320
	photoSide = 1600
	thumbSide = 360
	quality   = 82 // of a kept photograph
)

// Errors in words for the person who chose the picture.
var (
	ErrNoPicture = refusal.New("this is not a JPEG or PNG picture")
	ErrHEIC      = refusal.New("this is a HEIC picture, which is not read; let the camera save JPEG, or send it as JPEG")
	ErrBroken    = refusal.New("the picture is cut off or damaged; save it again and try once more")
	ErrTooLarge  = refusal.New("the file is larger than 48 MB; save the picture smaller and try again")
	ErrTooSlow   = refusal.New("the picture takes too long to unpack; save it again as a plain JPEG and try once more")
)

// A Picture is the stored picture: a small upright copy.
type Picture struct {
	Small         *image.NRGBA
	Width, Height int // of the original, upright
}

// A Desk reads pictures one after the other: that bounds the memory however
// many are sent.
type Desk struct{ turn chan struct{} }

// NewDesk returns a free desk.
func NewDesk() *Desk { return &Desk{turn: make(chan struct{}, 1)} }

// Read reads a JPEG or PNG for its colours. It returns ctx's error when ctx
// ends before the picture's turn.
func (d *Desk) Read(ctx context.Context, r io.Reader) (Picture, error) {
	return d.read(ctx, r, smallSide)
}

// Reduce reads a photograph and returns it upright, no larger than a screen
// needs, as JPEG. What is transparent becomes white.
func (d *Desk) Reduce(ctx context.Context, r io.Reader) ([]byte, error) {
	p, err := d.read(ctx, r, photoSide)
	if err != nil {
		return nil, err
	}
	return asJPEG(p.Small)
}

// A Photo is a photograph as it came, for a screen, and small: both upright JPEGs
// without what the camera wrote beside them.
type Photo struct{ Original, Shown, Small []byte }

// Photo reads a photograph that is kept whole.
func (d *Desk) Photo(ctx context.Context, r io.Reader) (Photo, error) {
	p, data, err := d.open(ctx, r, photoSide)
	if err != nil {
		return Photo{}, err
	}
	out := Photo{Original: data}
	if out.Shown, err = asJPEG(p.Small); err != nil {
		return Photo{}, err
	}
	thumb, err := scaled(ctx, p.Small, thumbSide)
	if err != nil {
		return Photo{}, err
	}
	out.Small, err = asJPEG(thumb)
	return out, err
}

func asJPEG(m *image.NRGBA) ([]byte, error) {
	flat := (*image.RGBA)(m) // where nothing shows through
	if !m.Opaque() {
		flat = image.NewRGBA(m.Rect)
		draw.Draw(flat, flat.Rect, image.White, image.Point{}, draw.Src)
		draw.Draw(flat, flat.Rect, m, image.Point{}, draw.Over)
	}
	var b bytes.Buffer
	err := jpeg.Encode(&b, flat, &jpeg.Options{Quality: quality})
	return b.Bytes(), err
}

// Spot is the mean colour of a kept photograph about a point, in shares of its width
// and height from the upper left, over a circle of a share of its width.
func Spot(photo []byte, x, y, radius float64) (colour.RGB, error) {
	m, err := jpeg.Decode(bytes.NewReader(photo))
	if err != nil {
		return colour.RGB{}, ErrBroken
	}
	b := m.Bounds()
	w, h := float64(b.Dx()), float64(b.Dy())
	if !(x >= 0 && x <= 1 && y >= 0 && y <= 1) {
		return colour.RGB{}, ErrBeside
	}
	reach := math.Max(1, radius*w)
	var sum colour.RGB
	n := 0.0
	for py := max(0, int(y*h-reach)); py <= min(b.Dy()-1, int(y*h+reach)); py++ {
		for px := max(0, int(x*w-reach)); px <= min(b.Dx()-1, int(x*w+reach)); px++ {
			if math.Hypot(float64(px)+0.5-x*w, float64(py)+0.5-y*h) > reach {
				continue
			}
			c := color.NRGBAModel.Convert(m.At(b.Min.X+px, b.Min.Y+py)).(color.NRGBA)
			sum = sum.Plus(colour.Encoded(c.R, c.G, c.B))
			n++
		}
	}
	if n == 0 {
		return colour.RGB{}, ErrBeside
	}
	return sum.Times(1 / n), nil
}

// ErrBeside says that a spot is not on the picture.
var ErrBeside = refusal.New("that spot is outside the picture")

func (d *Desk) read(ctx context.Context, r io.Reader, side int) (Picture, error) {
	p, _, err := d.open(ctx, r, side)
	return p, err
}

// open reads a picture, and returns the file as it came beside it. The file is read
// only when it is its turn: many that wait hold nothing.
func (d *Desk) open(ctx context.Context, r io.Reader, side int) (Picture, []byte, error) {
	select {
	case d.turn <- struct{}{}:
		defer func() { <-d.turn }()
	case <-ctx.Done():
		return Picture{}, nil, ctx.Err()
	}
	data, err := io.ReadAll(io.LimitReader(r, MaxBytes+1))
	if err != nil {
		return Picture{}, nil, err
	}
	if len(data) > MaxBytes {
		return Picture{}, nil, ErrTooLarge
	}
	kind, weight, err := kindOf(data)
	if err != nil {
		return Picture{}, nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, MaxTime)
	defer cancel()
	defer giveBack(weight)
	p, err := kind.reduced(ctx, data, side)
	return p, data, err
}

// reduced unpacks a picture and returns its small copy, upright.
func (k kind) reduced(ctx context.Context, data []byte, side int) (Picture, error) {
	full, err := k.unpack(ctx, data)
	if err != nil {
		return Picture{}, err
	}
	size := full.Bounds().Size()
	small, err := scaled(ctx, full, side)
	if err != nil {
		return Picture{}, err
	}
	p := Picture{Small: small, Width: size.X, Height: size.Y}
	if k.turns {
		p.turn(orientation(data))
	}
	return p, nil
}

// A kind is a format that is read, told by its first bytes and never by what
// other packages may have registered.
type kind struct {
	magic  string
	turns  bool // says how the camera was held
	config func(io.Reader) (image.Config, error)
	decode func(io.Reader) (image.Image, error)
	weigh  func(data []byte, cfg image.Config) int64 // bytes while it is unpacked
}

var kinds = []kind{
	{"\xff\xd8\xff", true, jpeg.DecodeConfig, jpeg.Decode, weighJPEG},
	{"\x89PNG\r\n\x1a\n", false, png.DecodeConfig, png.Decode, weighPNG},
}

// kindOf returns the format of a file within the bounds of its pixels, and the bytes
// it takes to unpack.
func kindOf(data []byte) (kind, int64, error) {
	for _, k := range kinds {
		if !bytes.HasPrefix(data, []byte(k.magic)) {
			continue
		}
		cfg, err := k.config(bytes.NewReader(data))
		if err != nil || cfg.Width < 1 || cfg.Height < 1 {
			return k, 0, ErrBroken
		}
		pixels := int64(cfg.Width) * int64(cfg.Height)
		if pixels > MaxPixels {
			return k, 0, refusal.New("the picture has %d megapixels; at most %d are taken. Save it smaller and try again",
				(pixels+500_000)/1_000_000, MaxPixels/1_000_000)
		}
		weight := k.weigh(data, cfg)
		return k, weight, light(weight, pixels)
	}
	if len(data) > 12 && string(data[4:8]) == "ftyp" && (string(data[8:11]) == "hei" || string(data[8:11]) == "mif") {
		return kind{}, 0, ErrHEIC
	}
	return kind{}, 0, ErrNoPicture
}

func (k kind) unpack(ctx context.Context, data []byte) (image.Image, error) {
	img, err := k.decode(&patient{ctx, bytes.NewReader(data)})
	switch {
	case err == nil:
		return img, nil
	case errors.Is(ctx.Err(), context.DeadlineExceeded):
		return nil, ErrTooSlow
	case ctx.Err() != nil:
		return nil, ctx.Err()
	}
	return nil, ErrBroken
}

// patient stops reading when its context ends, and with it the decoder. It reads by
// few bytes: some fifty of them can be a scan of a whole progressive picture.
type patient struct {
	ctx context.Context
	r   io.Reader
}

const mouthful = 64

func (p *patient) Read(b []byte) (int, error) {
	if err := p.ctx.Err(); err != nil {
		return 0, err
	}
	return p.r.Read(b[:min(len(b), mouthful)])
}

// scaled returns a copy whose longer side is at most side, band by band.
func scaled(ctx context.Context, full image.Image, side int) (*image.NRGBA, error) {
	const band = 64
	w, h := fit(full.Bounds().Dx(), full.Bounds().Dy(), side)
	small := image.NewNRGBA(image.Rect(0, 0, w, h))
	within := small.SubImage
	if o, ok := full.(interface{ Opaque() bool }); ok && o.Opaque() {
		within = (*image.RGBA)(small).SubImage // the same where nothing shows through, and four times as fast
	}
	for y := 0; y < h; y += band {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		part, _ := within(image.Rect(0, y, w, min(h, y+band))).(draw.Image)
		draw.ApproxBiLinear.Scale(part, small.Rect, full, full.Bounds(), draw.Src, nil)
	}
	return small, nil
}

func fit(w, h, side int) (int, int) {
	switch {
	case w <= side && h <= side:
		return w, h
	case w >= h:
		return side, max(1, h*side/w)
	}
	return max(1, w*side/h), side
}

// PNG returns the small copy as a file.
func (p Picture) PNG() ([]byte, error) {
	var b bytes.Buffer
	err := png.Encode(&b, p.Small)
	return b.Bytes(), err
}

// Small reads a kept copy back.
func Small(data []byte) (Picture, error) {
	img, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		return Picture{}, ErrBroken
	}
	small, err := scaled(context.Background(), img, smallSide) // a few thousand points
	if err != nil {
		return Picture{}, err
	}
	return Picture{Small: small, Width: small.Rect.Dx(), Height: small.Rect.Dy()}, nil
}

// seeThrough is the alpha below which a pixel shows nothing.
const seeThrough = 128

// Pixels returns the small copy's pixels that show something.
func (p Picture) Pixels() []colour.Pixel {
	out := make([]colour.Pixel, 0, len(p.Small.Pix)/4)
	for i := 0; i+3 < len(p.Small.Pix); i += 4 {
		if q := p.Small.Pix[i : i+4]; q[3] >= seeThrough {
			out = append(out, colour.Pixel{q[0], q[1], q[2]})
		}
	}
	return out
}

// turn sets the picture upright by its EXIF orientation (JEITA CP-3451);
// turning the small copy spares the large one.
func (p *Picture) turn(orientation int) {
	if orientation < 2 || orientation > 8 {
		return
	}
	across, down, swaps := orientation&2 != 0, orientation == 3 || orientation == 4, orientation >= 5
	if swaps {
		across, down = orientation == 6 || orientation == 7, orientation >= 7
	}
	old := p.Small
	w, h := old.Rect.Dx(), old.Rect.Dy()
	if swaps {
		w, h, p.Width, p.Height = h, w, p.Height, p.Width
	}
	p.Small = image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			p.Small.SetNRGBA(x, y, source(old, x, y, w, h, across, down, swaps))
		}
	}
}

// source is the pixel of the picture as it was held that stands at x, y of the
// upright one.
func source(old *image.NRGBA, x, y, w, h int, across, down, swaps bool) color.NRGBA {
	if across {
		x = w - 1 - x
	}
	if down {
		y = h - 1 - y
	}
	if swaps {
		x, y = y, x
	}
	return old.NRGBAAt(x, y)
}
