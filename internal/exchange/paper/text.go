package paper

import (
	"strings"
	"sync"
	"unicode"

	"codeberg.org/go-pdf/fpdf"
	"github.com/go-fonts/dejavu/dejavusanscondensed"
	"github.com/go-fonts/dejavu/dejavusanscondensedbold"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/runenames"
)

// family is the name of the documents' fonts in a file: of Latin, Greek, Cyrillic,
// Hebrew, Arabic and many signs.
const family = "paper"

const regular, strong = "", "B"

func addFonts(pdf *fpdf.Fpdf) {
	pdf.AddUTF8FontFromBytes(family, regular, dejavusanscondensed.TTF)
	pdf.AddUTF8FontFromBytes(family, strong, dejavusanscondensedbold.TTF)
}

// letters knows which letters the fonts have.
type letters struct {
	font *sfnt.Font
	mu   sync.Mutex
	buf  sfnt.Buffer
}

// fonts reads the fonts once.
var fonts = sync.OnceValues(func() (*letters, error) {
	f, err := sfnt.Parse(dejavusanscondensed.TTF)
	return &letters{font: f}, err
})

func (l *letters) has(r rune) bool {
	at, err := l.font.GlyphIndex(&l.buf, r)
	return err == nil && at != 0 && r <= 0xffff // the file numbers letters with two bytes
}

// plain is a text every letter of which can be printed: control signs go, and what the
// fonts do not have is named, such as [artist palette].
func (l *letters) plain(text string) string {
	l.mu.Lock()
	defer l.mu.Unlock()
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
		case l.has(r):
			b.WriteRune(r)
		default:
			if name := runenames.Name(r); name != "" && !strings.HasPrefix(name, "<") {
				b.WriteString("[" + strings.ToLower(name) + "]")
			}
		}
	}
	return b.String()
}

// A face is a size in points, and whether it is bold.
type face struct {
	size float64
	bold bool
}

func (s *setter) use(f face) {
	style := regular
	if f.bold {
		style = strong
	}
	s.pdf.SetFont(family, style, f.size)
}

// width is how wide a line is, in mm.
func (s *setter) widthOf(line string) float64 { return s.pdf.GetStringWidth(visual(line)) }

// lines breaks a text at its spaces into lines no wider than width; a word that is
// wider is cut.
func (s *setter) lines(text string, f face, width float64) []string {
	text = strings.TrimRight(s.letters.plain(text), "\n ")
	if text == "" {
		return nil
	}
	s.use(f)
	var out []string
	for par := range strings.SplitSeq(text, "\n") {
		line := ""
		for _, word := range strings.Fields(par) {
			for s.widthOf(word) > width {
				cut := s.fitting(word, width)
				if line != "" {
					out, line = append(out, line), ""
				}
				out, word = append(out, word[:cut]), word[cut:]
			}
			next := strings.TrimSpace(line + " " + word)
			if line != "" && s.widthOf(next) > width {
				out, next = append(out, line), word
			}
			line = next
		}
		out = append(out, line)
	}
	return out
}

// fitting is how many bytes of a word fit, at least its first letter.
func (s *setter) fitting(word string, width float64) int {
	last := 0
	for i := range word {
		if i > 0 && s.widthOf(word[:i]) > width {
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
