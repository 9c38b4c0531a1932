// Package palettefile reads and writes palettes as the plain-text GPL format
// that free drawing programs share: a heading, then one colour a line.
package palettefile

import (
	"bufio"
	"fmt"
	"io"
	"strconv"
	"strings"

	"jevvo/internal/core/refusal"
)

// A Colour is one entry, sRGB as "#rrggbb".
type Colour struct{ Name, Hex string }

// A Palette is a named list of colours.
type Palette struct {
	Name    string
	Colours []Colour
}

// MaxColours bounds a palette that is read.
const MaxColours = 256

const heading = "GIMP Palette"

// Write writes the palette.
func Write(w io.Writer, p Palette) error {
	var b strings.Builder
	fmt.Fprintf(&b, "%s\nName: %s\nColumns: 0\n#\n", heading, oneLine(p.Name))
	for _, c := range p.Colours {
		v, err := strconv.ParseUint(strings.TrimPrefix(c.Hex, "#"), 16, 32)
		if err != nil || v > 0xffffff {
			return refusal.New("%q is not a colour", c.Hex)
		}
		fmt.Fprintf(&b, "%3d %3d %3d\t%s\n", v>>16, v>>8&0xff, v&0xff, oneLine(c.Name))
	}
	_, err := io.WriteString(w, b.String())
	return err
}

// oneLine keeps a name from breaking the file.
func oneLine(s string) string { return strings.Join(strings.Fields(s), " ") }

// Read reads a palette.
func Read(r io.Reader) (Palette, error) {
	var p Palette
	in := bufio.NewScanner(io.LimitReader(r, 1<<20))
	if !in.Scan() || strings.TrimSpace(in.Text()) != heading {
		return p, refusal.New("this is not a GPL palette: its first line should say so")
	}
	for n := 2; in.Scan(); n++ {
		line := strings.TrimSpace(in.Text())
		if line == "" || strings.HasPrefix(line, "#") || strings.HasPrefix(line, "Columns:") {
			continue
		}
		if name, ok := strings.CutPrefix(line, "Name:"); ok {
			p.Name = strings.TrimSpace(name)
			continue
		}
		c, err := entry(line)
		if err != nil {
			return p, refusal.New("line %d: %w", n, err)
		}
		if p.Colours = append(p.Colours, c); len(p.Colours) > MaxColours {
			return p, refusal.New("a palette has at most %d colours", MaxColours)
		}
	}
	if err := in.Err(); err != nil {
		return p, err
	}
	if len(p.Colours) == 0 {
		return p, refusal.New("the palette has no colours")
	}
	return p, nil
}

func entry(line string) (Colour, error) {
	f := strings.Fields(line)
	if len(f) < 3 {
		return Colour{}, refusal.New("a colour has three numbers")
	}
	var v [3]int
	for i := range v {
		n, err := strconv.Atoi(f[i])
		if err != nil || n < 0 || n > 255 {
			return Colour{}, refusal.New("%q is not between 0 and 255", f[i])
		}
		v[i] = n
	}
	return Colour{Name: strings.Join(f[3:], " "), Hex: fmt.Sprintf("#%02x%02x%02x", v[0], v[1], v[2])}, nil
}
