// Package paper sets the papers of a studio as PDF: quotes, invoices, delivery notes,
// care cards, labels and certificates, with their fonts embedded. It knows no sums:
// every amount comes as the text that is printed.
package paper

import (
	"bytes"
	"fmt"
	"image"
	"time"

	"github.com/tdewolff/canvas"
	"github.com/tdewolff/canvas/renderers/pdf"
)

// A Paper is what is set.
type Paper struct {
	Kind, Title, Number string
	Small               bool // a label of 148 × 105 mm, otherwise A4
	Lang                string
	Page, Of            string // words of the page numbers: "page", "of"

	Studio   string
	Lines    []string // of the letterhead
	Logo     image.Image
	To       []string
	Facts    []Fact
	Opening  string
	Heads    [4]string // of the items: what, how many, each, sum
	Items    []Item
	Totals   []Total
	Pictures []Picture
	Options  []Option
	Parts    []Part
	Foot     []string
	At       time.Time
}

// A Fact is a line such as date or number.
type Fact struct{ Label, Value string }

// An Item is a line of what is sold.
type Item struct{ Text, Detail, Count, Each, Sum string }

// A Total is a line of the sum.
type Total struct {
	Label, Amount string
	Strong        bool
}

// A Picture is a board, printed to one scale with the others of its paper.
type Picture struct {
	Caption       string
	Image         image.Image
	Width, Height float64 // of the board, in mm
}

// An Option is one way of a quote, beside the others: a tile with what it is.
type Option struct {
	Name   string
	Image  image.Image
	Text   string
	Amount string
	Chosen bool
}

// A Part is a heading with its text.
type Part struct{ Heading, Text string }

// Margins and sizes in mm and points.
const (
	a4Width, a4Height     = 210.0, 297.0
	cardWidth, cardHeight = 148.0, 105.0
	margin, cardMargin    = 20.0, 10.0
	footHeight            = 16.0
	body, small, large    = 9.5, 7.8, 18.0
	gap                   = 4.0
)

// PDF sets the paper.
func (p Paper) PDF() ([]byte, error) {
	f, err := fonts()
	if err != nil {
		return nil, err
	}
	s := &setter{paper: p, fonts: f, width: a4Width, height: a4Height, margin: margin}
	if p.Small {
		s.width, s.height, s.margin = cardWidth, cardHeight, cardMargin
	}
	s.page()
	s.head()
	s.text(p.Opening, body, false, gap)
	s.options()
	s.items()
	s.pictures()
	for _, part := range p.Parts {
		s.text(part.Heading, body+1, true, 1.2)
		s.text(part.Text, body, false, gap)
	}
	return s.bytes()
}

// setter lays a paper out, from above, page by page.
type setter struct {
	paper                 Paper
	fonts                 *faces
	width, height, margin float64
	pages                 []*canvas.Canvas
	y                     float64 // from above
}

func (s *setter) page() {
	s.pages = append(s.pages, canvas.New(s.width, s.height))
	s.y = s.margin
}

func (s *setter) context() *canvas.Context {
	return canvas.NewContext(s.pages[len(s.pages)-1])
}

// room is the width between the margins, and bottom where the foot begins.
func (s *setter) room() float64 { return s.width - 2*s.margin }

func (s *setter) bottom() float64 {
	if s.paper.Small {
		return s.height - s.margin
	}
	return s.height - s.margin - footHeight
}

// need begins a new page where less than so much is left of this one.
func (s *setter) need(h float64) {
	if s.y+h > s.bottom() && s.y > s.margin+1 {
		s.page()
	}
}

// put draws a set text with its upper edge at y.
func (s *setter) put(x, y float64, t *canvas.Text) { s.context().DrawText(x, s.height-y, t) }

// text sets a paragraph, its lines over as many pages as they take, and what follows
// it by space.
func (s *setter) text(text string, size float64, bold bool, space float64) {
	if text == "" {
		return
	}
	for _, line := range s.fonts.lines(text, size, bold, s.room()) {
		h := size * leading
		s.need(h)
		s.put(s.margin, s.y, s.fonts.set(line, size, bold, 0, canvas.Left))
		s.y += h
	}
	s.y += space
}

// leading is the height of a line in mm for each point of its size.
const leading = 0.3528 * 1.38

func (s *setter) head() {
	top := s.y
	if s.paper.Logo != nil {
		h := s.image(s.paper.Logo, s.margin, s.y, s.room()*0.35, 18)
		s.y += h + 2
	}
	s.text(s.paper.Studio, body+2, true, 0.5)
	for _, l := range s.paper.Lines {
		s.text(l, small, false, 0)
	}
	right := top
	for _, f := range s.paper.Facts {
		s.put(s.margin+s.room()*0.58, right, s.fonts.set(f.Label, small, false, 0, canvas.Left))
		s.put(s.margin+s.room(), right, s.fonts.set(f.Value, small, true, 0, canvas.Right))
		right += small * leading
	}
	s.y = max(s.y, right) + gap
	for _, l := range s.paper.To {
		s.text(l, body, false, 0)
	}
	if len(s.paper.To) > 0 {
		s.y += gap
	}
	title := s.paper.Title
	if s.paper.Number != "" {
		title += " " + s.paper.Number
	}
	s.text(title, large, true, gap)
}

// image draws a picture no larger than w × h and returns its height.
func (s *setter) image(m image.Image, x, y, w, h float64) float64 {
	b := m.Bounds()
	f := min(w/float64(b.Dx()), h/float64(b.Dy())) // mm for each pixel
	high := f * float64(b.Dy())
	s.context().DrawImage(x, s.height-y-high, m, canvas.DPMM(1/f))
	return high
}

func (s *setter) rule(y float64, strong bool) {
	c := s.context()
	c.SetStrokeColor(canvas.Gray)
	c.SetStrokeWidth(0.15)
	if strong {
		c.SetStrokeColor(canvas.Black)
		c.SetStrokeWidth(0.3)
	}
	c.MoveTo(s.margin, s.height-y)
	c.LineTo(s.margin+s.room(), s.height-y)
	c.Stroke()
}

// columns are the right edges of the numbers in an item, as shares of the width.
var columns = [3]float64{0.62, 0.8, 1}

func (s *setter) items() {
	if len(s.paper.Items) == 0 && len(s.paper.Totals) == 0 {
		return
	}
	if len(s.paper.Items) > 0 {
		s.row(small, false, s.paper.Heads[0], s.paper.Heads[1:])
		s.rule(s.y, true)
		s.y += 1.5
	}
	for _, it := range s.paper.Items {
		lines := s.fonts.lines(it.Text, body, false, s.room()*0.5)
		detail := s.fonts.lines(it.Detail, small, false, s.room()*0.5)
		s.need(float64(len(lines))*body*leading + float64(len(detail))*small*leading + 3)
		for i, l := range lines {
			if i == 0 {
				s.row(body, false, l, []string{it.Count, it.Each, it.Sum})
			} else {
				s.row(body, false, l, nil)
			}
		}
		for _, l := range detail {
			s.row(small, false, l, nil)
		}
		s.y += 1
		s.rule(s.y, false)
		s.y += 1.5
	}
	for _, t := range s.paper.Totals {
		s.need(body*leading + 1)
		s.put(s.margin+s.room()*columns[1], s.y, s.fonts.set(t.Label, body, t.Strong, 0, canvas.Right))
		s.put(s.margin+s.room(), s.y, s.fonts.set(t.Amount, body, t.Strong, 0, canvas.Right))
		s.y += body*leading + 0.6
	}
	s.y += gap
}

// row sets a text and numbers in their columns.
func (s *setter) row(size float64, bold bool, text string, numbers []string) {
	s.put(s.margin, s.y, s.fonts.set(text, size, bold, 0, canvas.Left))
	for i, n := range numbers {
		s.put(s.margin+s.room()*columns[i], s.y, s.fonts.set(n, size, bold || i == 2, 0, canvas.Right))
	}
	s.y += size * leading
}

// options stand side by side, three to a row.
func (s *setter) options() {
	const across, high = 3, 42.0
	wide := (s.room() - (across-1)*gap) / across
	for i := 0; i < len(s.paper.Options); i += across {
		row := s.paper.Options[i:min(i+across, len(s.paper.Options))]
		s.need(high + 4*body*leading)
		top, deepest := s.y, s.y
		for k, o := range row {
			x := s.margin + float64(k)*(wide+gap)
			y := top
			if o.Image != nil {
				y += s.image(o.Image, x, y, wide, high) + 1.5
			}
			y = s.column(x, y, wide, o.Name, body, true)
			y = s.column(x, y, wide, o.Text, small, false)
			y = s.column(x, y, wide, o.Amount, body, o.Chosen)
			deepest = max(deepest, y)
		}
		s.y = deepest + gap
	}
}

// column sets a text in a column and returns where it ends.
func (s *setter) column(x, y, width float64, text string, size float64, bold bool) float64 {
	for _, l := range s.fonts.lines(text, size, bold, width) {
		s.put(x, y, s.fonts.set(l, size, bold, 0, canvas.Left))
		y += size * leading
	}
	return y
}

// scales are those boards are printed to, as drawings usually are.
var scales = []float64{1, 2, 5, 10, 20, 50, 100}

// pictures prints boards side by side to one scale, which is said.
func (s *setter) pictures() {
	if len(s.paper.Pictures) == 0 {
		return
	}
	widest, highest := 0.0, 0.0
	for _, p := range s.paper.Pictures {
		widest, highest = max(widest, p.Width), max(highest, p.Height)
	}
	scale := scales[len(scales)-1]
	for _, v := range scales {
		if widest/v <= min(s.room(), 80) && highest/v <= 70 {
			scale = v
			break
		}
	}
	x, rowTop, rowEnd := s.margin, s.y, s.y
	for _, p := range s.paper.Pictures {
		w, h := p.Width/scale, p.Height/scale
		if x+w > s.margin+s.room()+0.1 {
			x, s.y = s.margin, rowEnd+gap
		}
		if x == s.margin {
			s.need(h + 3*small*leading)
			rowTop, rowEnd = s.y, s.y
		}
		s.image(p.Image, x, rowTop, w, h)
		end := s.column(x, rowTop+h+1, max(w, 38), p.Caption, small, false)
		rowEnd = max(rowEnd, end)
		x += max(w, 38) + gap
	}
	s.y = rowEnd + 1
	s.text(fmt.Sprintf("1 : %.0f", scale), small, false, gap)
}

// bytes writes all pages, each with its foot.
func (s *setter) bytes() ([]byte, error) {
	var b bytes.Buffer
	out := pdf.New(&b, s.width, s.height, &pdf.Options{Compress: true, SubsetFonts: true, ImageEncoding: canvas.Lossy})
	title := s.paper.Title
	if s.paper.Number != "" {
		title += " " + s.paper.Number
	}
	out.SetInfo(title, s.paper.Kind, "", s.paper.Studio, "Jevvo")
	out.SetLang(s.paper.Lang)
	for i, c := range s.pages {
		s.foot(c, i)
		if i > 0 {
			out.NewPage(s.width, s.height)
		}
		c.RenderTo(out)
	}
	err := out.Close()
	return b.Bytes(), err
}

func (s *setter) foot(c *canvas.Canvas, page int) {
	if s.paper.Small {
		return
	}
	ctx := canvas.NewContext(c)
	y := s.height - s.margin - footHeight + 4
	for _, l := range s.paper.Foot {
		ctx.DrawText(s.margin, s.height-y, s.fonts.set(l, small, false, 0, canvas.Left))
		y += small * leading
	}
	if len(s.pages) > 1 {
		text := fmt.Sprintf("%s %d %s %d", s.paper.Page, page+1, s.paper.Of, len(s.pages))
		ctx.DrawText(s.margin+s.room(), s.height-(s.height-s.margin), s.fonts.set(text, small, false, 0, canvas.Right))
	}
}
