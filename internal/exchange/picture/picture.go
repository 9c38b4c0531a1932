// Package picture reads photographs for their colours: JPEG and PNG, of any
// colour model and bit depth, turned upright, within bounded memory.
package picture

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // the two formats that are read
	"image/png"
	"io"

	"github.com/disintegration/imaging"
	"github.com/rwcarlsen/goexif/exif"
	"golang.org/x/image/draw"

	"jevvo/internal/core/colour"
)

// Limits of what is taken in. A picture of MaxPixels takes about 300 MB while
// it is read.
const (
	MaxBytes  = 48 << 20
	MaxPixels = 40_000_000
	// side is the longer side of what is kept of a picture.
	side = 320
)

// Errors in words for the person who chose the picture.
var (
	ErrNoPicture = errors.New("this is not a JPEG or PNG picture")
	ErrBroken    = errors.New("the picture is cut off or damaged; save it again and try once more")
	ErrTooLarge  = errors.New("the file is larger than 48 MB; save the picture smaller and try again")
)

// A Picture is what is kept of one: a small upright copy.
type Picture struct {
	Small         *image.NRGBA
	Width, Height int // of the original, upright
}

// Read reads a JPEG or PNG.
func Read(r io.Reader) (Picture, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxBytes+1))
	if err != nil {
		return Picture{}, err
	}
	if len(data) > MaxBytes {
		return Picture{}, ErrTooLarge
	}
	cfg, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || cfg.Width < 1 || cfg.Height < 1 {
		return Picture{}, ErrNoPicture
	}
	if pixels := int64(cfg.Width) * int64(cfg.Height); pixels > MaxPixels {
		return Picture{}, tooMany(pixels)
	}
	full, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return Picture{}, ErrBroken
	}
	w, h := fit(cfg.Width, cfg.Height)
	small := image.NewNRGBA(image.Rect(0, 0, w, h))
	draw.ApproxBiLinear.Scale(small, small.Bounds(), full, full.Bounds(), draw.Src, nil)
	p := Picture{Small: small, Width: cfg.Width, Height: cfg.Height}
	if format == "jpeg" {
		p.turn(orientation(data))
	}
	return p, nil
}

func fit(w, h int) (int, int) {
	if w <= side && h <= side {
		return w, h
	}
	if w >= h {
		return side, max(1, h*side/w)
	}
	return max(1, w*side/h), side
}

// orientation is the EXIF tag of how the camera was held; 1 when there is none.
func orientation(data []byte) int {
	x, err := exif.Decode(bytes.NewReader(data))
	if err != nil {
		return 1
	}
	tag, err := x.Get(exif.Orientation)
	if err != nil {
		return 1
	}
	v, err := tag.Int(0)
	if err != nil {
		return 1
	}
	return v
}

// turn sets the picture upright; doing it to the small copy saves the large.
func (p *Picture) turn(orientation int) {
	turns := map[int]func(image.Image) *image.NRGBA{
		2: imaging.FlipH, 3: imaging.Rotate180, 4: imaging.FlipV,
		5: imaging.Transpose, 6: imaging.Rotate270, 7: imaging.Transverse, 8: imaging.Rotate90,
	}
	f, ok := turns[orientation]
	if !ok {
		return
	}
	p.Small = f(p.Small)
	if orientation >= 5 {
		p.Width, p.Height = p.Height, p.Width
	}
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
	small := imaging.Clone(img)
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

// photoSide is the longer side of a photograph that is kept.
const photoSide = 1600

// Reduce reads a photograph and returns it upright, no larger than a screen
// needs, as JPEG.
func Reduce(r io.Reader) ([]byte, error) {
	data, err := io.ReadAll(io.LimitReader(r, MaxBytes+1))
	if err != nil {
		return nil, err
	}
	if len(data) > MaxBytes {
		return nil, ErrTooLarge
	}
	cfg, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNoPicture
	}
	if pixels := int64(cfg.Width) * int64(cfg.Height); pixels > MaxPixels {
		return nil, tooMany(pixels)
	}
	full, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(false))
	if err != nil {
		return nil, ErrBroken
	}
	p := Picture{Small: imaging.Fit(full, photoSide, photoSide, imaging.Linear), Width: cfg.Width, Height: cfg.Height}
	p.turn(orientation(data))
	var b bytes.Buffer
	err = imaging.Encode(&b, p.Small, imaging.JPEG, imaging.JPEGQuality(82))
	return b.Bytes(), err
}

func tooMany(pixels int64) error {
	return fmt.Errorf("the picture has %d megapixels; at most %d are taken. Save it smaller and try again", (pixels+500_000)/1_000_000, MaxPixels/1_000_000)
}
