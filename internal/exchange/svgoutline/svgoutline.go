// Package svgoutline reads the outline of a board from an uploaded SVG
// drawing. It takes the geometry and nothing else: no script, no reference,
// no entity of the file is ever followed or served again.
package svgoutline

import (
	"encoding/xml"
	"errors"
	"io"
	"strconv"
	"strings"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
)

// MaxBytes is the largest drawing taken.
const MaxBytes = 8 << 20

// ErrTooLarge is returned for a larger drawing.
var ErrTooLarge = refusal.New("the drawing is larger than 8 MB; simplify it")

// Limits against drawings made to hurt.
const (
	maxDepth = 64
	maxParts = 2000
)

// An Outline is a board's shape, read from a drawing.
type Outline struct {
	Shape surface.Shape
	// Sized is false when the file names no real size; then its units were
	// taken as 96 to the inch, as CSS does.
	Sized bool
}

// Read takes the outline from an SVG document.
func Read(r io.Reader) (Outline, error) {
	limited := &io.LimitedReader{R: r, N: MaxBytes + 1}
	d := xml.NewDecoder(limited)
	d.Strict = true
	d.Entity = map[string]string{}
	reader := reader{maps: []surface.Affine{surface.Identity}}
	for {
		token, err := d.Token()
		if limited.N <= 0 {
			return Outline{}, ErrTooLarge
		}
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return Outline{}, refusal.New("this is not an SVG drawing: %w", err)
		}
		if err := reader.take(token); err != nil {
			return Outline{}, err
		}
	}
	if !reader.isSVG {
		return Outline{}, refusal.New("this is not an SVG drawing")
	}
	if len(reader.parts) == 0 {
		return Outline{}, refusal.New("the drawing has no outline: no path, rectangle, circle, ellipse or polygon")
	}
	shape, err := surface.Compose(reader.parts)
	return Outline{shape, reader.sized}, err
}

type reader struct {
	maps   []surface.Affine // one a nesting level
	hidden int              // depth inside <defs> and the like
	parts  []surface.Part
	isSVG  bool
	sized  bool
}

// Elements whose content is not drawn, and those that make a file unfit.
var (
	undrawn = map[string]bool{"defs": true, "clipPath": true, "mask": true, "pattern": true, "symbol": true,
		"marker": true, "metadata": true}
	unfit = map[string]string{
		"script": "a script", "foreignObject": "foreign content", "image": "a picture", "use": "a reference",
		"text": "text that is not an outline",
	}
)

func (r *reader) take(token xml.Token) error {
	switch t := token.(type) {
	case xml.Directive:
		if strings.Contains(strings.ToUpper(string(t)), "ENTITY") || strings.Contains(string(t), "[") {
			return refusal.New("the drawing declares entities; save it as a plain SVG")
		}
	case xml.StartElement:
		return r.start(t)
	case xml.EndElement:
		r.maps = r.maps[:len(r.maps)-1]
		if undrawn[t.Name.Local] {
			r.hidden--
		}
	}
	return nil
}

func (r *reader) start(e xml.StartElement) error {
	name := e.Name.Local
	if len(r.maps) > maxDepth {
		return refusal.New("the drawing is nested too deeply")
	}
	if !r.isSVG && name != "svg" {
		return refusal.New("this is not an SVG drawing")
	}
	if what, bad := unfit[name]; bad {
		return refusal.New("the drawing holds %s; save the outline alone as a plain path", what)
	}
	attrs, err := attributes(e)
	if err != nil {
		return err
	}
	here := r.maps[len(r.maps)-1]
	if name == "svg" && !r.isSVG {
		r.isSVG = true
		here, r.sized, err = page(attrs)
		if err != nil {
			return err
		}
	}
	if text := attrs["transform"]; text != "" {
		m, err := parseTransform(text)
		if err != nil {
			return err
		}
		here = here.Then(m)
	}
	r.maps = append(r.maps, here)
	if undrawn[name] {
		r.hidden++
	}
	if r.hidden > 0 {
		return nil
	}
	path, err := pathOf(name, attrs)
	if err != nil {
		return err
	}
	if path != "" {
		if r.parts = append(r.parts, surface.Part{Path: path, Map: here}); len(r.parts) > maxParts {
			return refusal.New("the drawing has too many parts for an outline")
		}
	}
	return nil
}

// attributes collects an element's attributes and refuses what could act.
func attributes(e xml.StartElement) (map[string]string, error) {
	out := map[string]string{}
	for _, a := range e.Attr {
		key := a.Name.Local
		if strings.HasPrefix(strings.ToLower(key), "on") {
			return nil, refusal.New("the drawing holds a script; save the outline alone as a plain path")
		}
		if key == "href" {
			return nil, refusal.New("the drawing refers to something outside; save the outline alone as a plain path")
		}
		out[key] = strings.TrimSpace(a.Value)
	}
	return out, nil
}

// page returns the map from user units to mm.
func page(attrs map[string]string) (surface.Affine, bool, error) {
	const pixel = 25.4 / 96
	width, real := length(attrs["width"])
	m := surface.Affine{pixel, 0, 0, pixel, 0, 0}
	box := strings.FieldsFunc(attrs["viewBox"],
		func(r rune) bool { return r == ' ' || r == ',' || r == '\n' || r == '\t' })
	if len(box) == 0 {
		return m, false, nil // user units are CSS pixels whatever the page measures
	}
	var v [4]float64
	for i := range v {
		if len(box) != 4 {
			return m, false, refusal.New("the drawing's viewBox needs four numbers")
		}
		var err error
		if v[i], err = strconv.ParseFloat(box[i], 64); err != nil {
			return m, false, refusal.New("the drawing's viewBox needs four numbers")
		}
	}
	if width > 0 && v[2] > 0 {
		k := width / v[2]
		m = surface.Affine{k, 0, 0, k, 0, 0}
	}
	return m, real && width > 0, nil
}

// length reads a CSS length in mm and whether it names a real unit.
func length(s string) (mm float64, real bool) {
	for _, u := range []struct {
		suffix string
		mm     float64
		real   bool
	}{{"mm", 1, true}, {"cm", 10, true}, {"in", 25.4, true}, {"pt", 25.4 / 72, true}, {"px", 25.4 / 96, false}, {"",
		25.4 / 96, false}} {
		if text, ok := strings.CutSuffix(s, u.suffix); ok {
			if v, err := strconv.ParseFloat(strings.TrimSpace(text), 64); err == nil && v > 0 {
				return v * u.mm, u.real
			}
		}
	}
	return 0, false
}
