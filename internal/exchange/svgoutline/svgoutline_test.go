package svgoutline_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/exchange/svgoutline"
)

func svg(attrs, body string) string {
	return `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" ` + attrs + `>` + body + `</svg>`
}

const page = `width="300mm" height="200mm" viewBox="0 0 300 200"`

// Areas by plane geometry; lengths by the page's own scale (SVG 2, published).
func TestReadsShapes(t *testing.T) {
	for name, c := range map[string]struct {
		drawing string
		area    float64
		sized   bool
	}{
		"path in mm":          {svg(page, `<path d="M0 0H100V50H0Z"/>`), 5000, true},
		"half the page scale": {svg(`width="150mm" viewBox="0 0 300 200"`, `<path d="M0 0H100V50H0Z"/>`), 1250, true},
		"inches":              {svg(`width="3in" viewBox="0 0 3 2"`, `<rect width="3" height="2"/>`), 6 * 25.4 * 25.4, true},
		"pixels": {svg(`width="96px" viewBox="0 0 96 96"`, `<rect width="96" height="96"/>`), 25.4 * 25.4,
			false},
		"no size at all":    {svg(``, `<rect width="96" height="96"/>`), 25.4 * 25.4, false},
		"circle":            {svg(page, `<circle cx="100" cy="100" r="50"/>`), math.Pi * 2500, true},
		"ellipse":           {svg(page, `<ellipse cx="100" cy="100" rx="50" ry="20"/>`), math.Pi * 1000, true},
		"rounded rectangle": {svg(page, `<rect width="100" height="80" rx="10"/>`), 8000 - (4-math.Pi)*100, true},
		"polygon":           {svg(page, `<polygon points="0,0 100,0 0,100"/>`), 5000, true},
		"two make a hole": {svg(page, `<rect width="100" height="100"/><circle cx="50" cy="50" r="10"/>`),
			10000 - math.Pi*100, true},
		"nested transforms": {svg(page,
			`<g transform="translate(10 20) scale(2)"><g transform="rotate(30, 5, 5)"><rect width="10" height="10"/></g></g>`), 400, true},
		"matrix and skew": {svg(page, `<g transform="matrix(2 0 0 3 1 1) skewX(20)"><rect width="10" height="10"/></g>`),
			600, true},
		"a scaled circle": {svg(page, `<circle r="10" transform="scale(3 2)"/>`), math.Pi * 600, true},
		"defs are not drawn": {svg(page, `<defs><rect width="300" height="300"/></defs><rect width="10" height="10"/>`), 100,
			true},
	} {
		o, err := svgoutline.Read(strings.NewReader(c.drawing))
		require.NoError(t, err, name)
		assert.InEpsilon(t, c.area, float64(o.Shape.Area()), 1e-6, name)
		assert.Equal(t, c.sized, o.Sized, name)
	}
}

func TestRefusesUnfitDrawings(t *testing.T) {
	bomb := `<?xml version="1.0"?><!DOCTYPE lolz [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>`
	for name, c := range map[string]struct{ drawing, says string }{
		"script":    {svg(page, `<script>alert(1)</script><rect width="10" height="10"/>`), "script"},
		"handler":   {svg(page, `<rect onload="x()" width="10" height="10"/>`), "script"},
		"foreign":   {svg(page, `<foreignObject/>`), "foreign"},
		"picture":   {svg(page, `<image href="http://example.invalid/x.png"/>`), "picture"},
		"reference": {svg(page, `<use href="#a"/>`), "reference"},
		"link": {svg(page, `<path xlink:href="file:///etc/passwd" d="M0 0H9V9Z"/>`),
			"refers to something outside"},
		"entity bomb":     {bomb, "entities"},
		"unknown entity":  {svg(page, `<desc>&nosuch;</desc>`), "not an SVG"},
		"external dtd":    {`<!DOCTYPE svg SYSTEM "file:///etc/passwd" [ ]><svg/>`, "entities"},
		"open path":       {svg(page, `<path d="M0 0H100V100"/>`), "open"},
		"polyline":        {svg(page, `<polyline points="0,0 5,5"/>`), "open line"},
		"crossing":        {svg(page, `<path d="M0 0L100 100L100 0L0 100Z"/>`), "crosses itself"},
		"nothing":         {svg(page, ``), "no outline"},
		"another format":  {`<html><body/></html>`, "not an SVG"},
		"not xml":         {"\x89PNG\r\n", "not an SVG"},
		"empty":           {"", "not an SVG"},
		"cut off":         {`<svg><rect width="1"`, "not an SVG"},
		"bad transform":   {svg(page, `<rect transform="spin(3)" width="10" height="10"/>`), "transformation"},
		"bad view box":    {svg(`viewBox="0 0 x"`, `<rect width="10" height="10"/>`), "viewBox"},
		"nested too deep": {svg(page, strings.Repeat("<g>", 200)+strings.Repeat("</g>", 200)), "deeply"},
		"too many parts":  {svg(page, strings.Repeat(`<rect width="1" height="1"/>`, 3000)), "too many parts"},
	} {
		_, err := svgoutline.Read(strings.NewReader(c.drawing))
		assert.ErrorContains(t, err, c.says, name)
	}
}

func TestRefusesTwentyMegabytes(t *testing.T) {
	big := svg(page, "<!--"+strings.Repeat("x", 20<<20)+"--><rect width='10' height='10'/>")
	_, err := svgoutline.Read(strings.NewReader(big))
	assert.ErrorIs(t, err, svgoutline.ErrTooLarge)
}

func FuzzRead(f *testing.F) {
	f.Add(svg(page, `<g transform="rotate(3)"><path d="M0 0H9V9Z"/></g>`))
	f.Add(svg(`viewBox="0 0 1 1"`, `<circle r="1e300"/>`))
	f.Fuzz(func(t *testing.T, s string) {
		o, err := svgoutline.Read(strings.NewReader(s))
		if err == nil && !(o.Shape.Area() > 0) {
			t.Fatalf("%q has no area", s)
		}
	})
}
