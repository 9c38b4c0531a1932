// Package still makes a picture of a board that can leave the program: with a
// scale beside it and a line that says what it is, as PNG.
package still

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math"
	"time"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"jevvo/internal/core/refusal"
)

// A Board is a picture of a board, clear beside the face.
type Board struct {
	Picture image.Image
	Wide    float64       // mm
	Words   string        // under it
	For     time.Duration // how long it is shown in a moving one
}

// Sizes of what stands round the board, in points.
const (
	margin = 28
	foot   = 40
	text   = 14
)

// Colours: the board stands on neutral grey, as a colour is judged.
var (
	mat = color.Gray{0x80}
	ink = color.Gray{0x10}
)

// PNG returns the board with its scale, as a file.
func PNG(b Board) ([]byte, error) {
	m, err := layout(b)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = png.Encode(&out, m)
	return out.Bytes(), err
}

// layout puts a board on its mat.
func layout(b Board) (image.Image, error) {
	if !(b.Wide > 0) || b.Picture.Bounds().Empty() {
		return nil, refusal.New("a still needs a picture and how wide the board is")
	}
	in := b.Picture.Bounds()
	all := image.NewNRGBA(image.Rect(0, 0, max(in.Dx()+2*margin, 420), in.Dy()+2*margin+foot))
	draw.Draw(all, all.Bounds(), image.NewUniform(mat), image.Point{}, draw.Src)
	at := image.Pt((all.Bounds().Dx()-in.Dx())/2, margin)
	draw.Draw(all, image.Rectangle{Min: at, Max: at.Add(in.Size())}, b.Picture, in.Min, draw.Over)
	face, err := lettering()
	if err != nil {
		return nil, err
	}
	bar, words := Scale(b.Wide)
	long := int(math.Round(bar / b.Wide * float64(in.Dx())))
	base := at.Y + in.Dy() + margin
	draw.Draw(all, image.Rect(at.X, base, at.X+long, base+3), image.NewUniform(ink), image.Point{}, draw.Src)
	for _, x := range []int{at.X, at.X + long - 1} {
		draw.Draw(all, image.Rect(x, base-4, x+1, base+7), image.NewUniform(ink), image.Point{}, draw.Src)
	}
	write := font.Drawer{Dst: all, Src: image.NewUniform(ink), Face: face}
	write.Dot = fixed.P(at.X+long+8, base+6)
	write.DrawString(words)
	write.Dot = fixed.P(at.X, base+foot-8)
	write.DrawString(b.Words)
	return all, nil
}

// Scale is a round length that fits three to ten times into a board, in mm, with
// its words.
func Scale(wide float64) (mm float64, words string) {
	mm = math.Pow(10, math.Floor(math.Log10(wide/3)))
	for _, f := range []float64{5, 2} {
		if mm*f <= wide/3 {
			mm *= f
			break
		}
	}
	if mm >= 10 {
		return mm, fmt.Sprintf("%g cm", mm/10)
	}
	return mm, fmt.Sprintf("%g mm", mm)
}

func lettering() (font.Face, error) {
	f, err := opentype.Parse(goregular.TTF)
	if err != nil {
		return nil, err
	}
	return opentype.NewFace(f, &opentype.FaceOptions{Size: text, DPI: 72, Hinting: font.HintingFull})
}
