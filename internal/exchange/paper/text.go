package paper

import (
	"strings"
	"sync"
	"unicode"

	"github.com/go-fonts/dejavu/dejavusanscondensed"
	"github.com/go-fonts/dejavu/dejavusanscondensedbold"
	"github.com/tdewolff/canvas"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/runenames"
)

// faces are the fonts of papers, of Latin, Greek, Cyrillic, Hebrew, Arabic and many
// signs; what they have no letter for is written as its name.
type faces struct {
	family *canvas.FontFamily
	has    *sfnt.Font
	mu     sync.Mutex
	buf    sfnt.Buffer
}

// fonts reads the fonts once.
var fonts = sync.OnceValues(func() (*faces, error) {
	f := &faces{family: canvas.NewFontFamily("paper")}
	if err := f.family.LoadFont(dejavusanscondensed.TTF, 0, canvas.FontRegular); err != nil {
		return nil, err
	}
	if err := f.family.LoadFont(dejavusanscondensedbold.TTF, 0, canvas.FontBold); err != nil {
		return nil, err
	}
	f.family.SetFeatures("-liga") // a word is found by its letters
	var err error
	f.has, err = sfnt.Parse(dejavusanscondensed.TTF)
	return f, err
})

// plain is a text every letter of which can be printed: control signs go, and what the
// fonts do not have is named, such as [artist palette].
func (f *faces) plain(text string) string {
	f.mu.Lock()
	defer f.mu.Unlock()
	var b strings.Builder
	for _, r := range text {
		switch {
		case r == '\n':
			b.WriteRune(r)
		case r == '\t':
			b.WriteByte(' ')
		case r == '\u200d' || unicode.Is(unicode.Variation_Selector, r) || r >= 0x1f3fb && r <= 0x1f3ff:
			// joins and shades of a sign that is written out
		case unicode.IsControl(r) || r == unicode.ReplacementChar:
		default:
			if at, err := f.has.GlyphIndex(&f.buf, r); err == nil && at != 0 {
				b.WriteRune(r)
			} else if name := runenames.Name(r); name != "" && !strings.HasPrefix(name, "<") {
				b.WriteString("[" + strings.ToLower(name) + "]")
			}
		}
	}
	return b.String()
}

func (f *faces) face(size float64, bold bool) *canvas.FontFace {
	style := canvas.FontRegular
	if bold {
		style = canvas.FontBold
	}
	return f.family.Face(size, canvas.Black, style, canvas.FontNormal)
}

// set is one line; its upper edge is where it is put.
func (f *faces) set(line string, size float64, bold bool, width float64, align canvas.TextAlign) *canvas.Text {
	rt := canvas.NewRichText(f.face(size, bold))
	rt.WriteFace(f.face(size, bold), f.plain(line))
	if align == canvas.Right {
		return canvas.NewTextBox(f.face(size, bold), f.plain(line), 0, 0, canvas.Right, canvas.Top, nil)
	}
	return rt.ToText(width, 0, align, canvas.Top, nil)
}

// lines breaks a text at its spaces into lines no wider than width; a word that is
// wider is cut.
func (f *faces) lines(text string, size float64, bold bool, width float64) []string {
	text = strings.TrimRight(f.plain(text), "\n ")
	if text == "" {
		return nil
	}
	face := f.face(size, bold)
	var out []string
	for _, par := range strings.Split(text, "\n") {
		line := ""
		for _, word := range strings.Fields(par) {
			for face.TextWidth(word) > width {
				cut := fitting(face, word, width)
				if line != "" {
					out, line = append(out, line), ""
				}
				out, word = append(out, word[:cut]), word[cut:]
			}
			next := strings.TrimSpace(line + " " + word)
			if line != "" && face.TextWidth(next) > width {
				out, next = append(out, line), word
			}
			line = next
		}
		out = append(out, line)
	}
	return out
}

// fitting is how many bytes of a word fit, at least its first letter.
func fitting(face *canvas.FontFace, word string, width float64) int {
	last := 0
	for i := range word {
		if i > 0 && face.TextWidth(word[:i]) > width {
			break
		}
		last = i
	}
	if last == 0 {
		for i := range word {
			if i > 0 {
				return i
			}
		}
		return len(word)
	}
	return last
}
