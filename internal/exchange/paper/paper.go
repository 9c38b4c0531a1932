// Package paper sets the papers of a studio as PDF: quotes, invoices, delivery notes,
// care cards, labels and certificates, with their fonts embedded. It knows no sums:
// every amount comes as the text that is printed.
package paper

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// A Paper is a document to be set.
type Paper struct {
	Kind, Title, Number string
	Small               bool // a label of 148 × 105 mm
	Letter              bool // otherwise A4
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
	a4Width, a4Height     = 210.0, 297.0 // ISO 216
	letterWidth           = 215.9        // ANSI A
	letterHeight          = 279.4
	cardWidth, cardHeight = 148.0, 105.0
	margin, cardMargin    = 20.0, 10.0
	footHeight            = 16.0
	body, small, large    = 9.5, 7.8, 18.0
	gap                   = 4.0
)

// PDF sets the paper, with its structure for those who have it read to them. It ends with
// its context.
func (p Paper) PDF(ctx context.Context) ([]byte, error) {
	f, err := fonts()
	if err != nil {
		return nil, err
	}
	s := &setter{paper: p, letters: f, width: a4Width, height: a4Height, margin: margin, images: map[image.Image]string{}}
	s.ctx, s.marks, s.at = ctx, map[int]int{}, &tag{kind: "Document"}
	if p.Letter {
		s.width, s.height = letterWidth, letterHeight
	}
	if p.Small {
		s.width, s.height, s.margin = cardWidth, cardHeight, cardMargin
	}
	s.begin()
	s.page()
	s.head()
	s.text("P", p.Opening, face{body, false}, gap)
	s.options()
	s.items()
	s.pictures()
	for _, part := range p.Parts {
		s.text("H2", part.Heading, face{body + 1, true}, 1.2)
		s.text("P", part.Text, face{body, false}, gap)
	}
	return s.bytes()
}

// setter lays a paper out, from above, page by page.
type setter struct {
	paper                 Paper
	letters               *letters
	width, height, margin float64
	pdf                   *fpdf.Fpdf
	images                map[image.Image]string // what each is called in the file
	y                     float64                // from above
	ctx                   context.Context
	at                    *tag        // what is drawn belongs to it
	marks                 map[int]int // on each page
}

// begin makes an empty file that says what it is.
func (s *setter) begin() {
	s.pdf = fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: s.width, Ht: s.height}})
	s.pdf.SetAutoPageBreak(false, 0)
	s.pdf.SetTitle(s.title(), true)
	s.pdf.SetSubject(s.paper.Kind, true)
	s.pdf.SetAuthor(s.paper.Studio, true)
	s.pdf.SetCreator("Jevvo", true)
	s.pdf.SetLang(s.paper.Lang)
	s.pdf.SetCatalogSort(true)
	if !s.paper.At.IsZero() {
		s.pdf.SetCreationDate(s.paper.At)
		s.pdf.SetModificationDate(s.paper.At)
	}
	addFonts(s.pdf)
}

func (s *setter) title() string {
	if s.paper.Number == "" {
		return s.paper.Title
	}
	return s.paper.Title + " " + s.paper.Number
}

func (s *setter) page() {
	s.pdf.AddPage()
	s.y = s.margin
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

// ascent is how far the fonts reach above their line, in mm for each point of size.
const ascent = 0.3528 * 0.928

// put writes a line with its upper edge at y, from x on.
func (s *setter) put(x, y float64, line string, f face) {
	if err := s.ctx.Err(); err != nil {
		s.pdf.SetError(err)
	}
	s.use(f)
	said := s.letters.plain(line)
	drawn := visual(said)
	if drawn == said {
		said = ""
	}
	s.marked(said, func() { s.pdf.Text(x, y+f.size*ascent, drawn) })
}

// putRight writes a line that ends at x.
func (s *setter) putRight(x, y float64, line string, f face) {
	s.use(f)
	s.put(x-s.widthOf(s.letters.plain(line)), y, line, f)
}

// text sets a paragraph or a heading, its lines over as many pages as they take, and
// what follows it by space.
func (s *setter) text(kind, text string, f face, space float64) {
	if text == "" {
		return
	}
	s.tagged(kind, func() {
		for _, line := range s.lines(text, f, s.room()) {
			h := f.size * leading
			s.need(h)
			s.put(s.margin, s.y, line, f)
			s.y += h
		}
	})
	s.y += space
}

// leading is the height of a line in mm for each point of its size.
const leading = 0.3528 * 1.38

func (s *setter) head() {
	top := s.y
	if s.paper.Logo != nil {
		h := s.image(s.paper.Logo, s.paper.Studio, s.margin, s.y, s.room()*0.35, 18)
		s.y += h + 2
	}
	s.text("P", s.paper.Studio, face{body + 2, true}, 0.5)
	for _, l := range s.paper.Lines {
		s.text("P", l, face{small, false}, 0)
	}
	right := top
	for _, f := range s.paper.Facts {
		s.tagged("P", func() {
			s.put(s.margin+s.room()*0.58, right, f.Label, face{small, false})
			s.putRight(s.margin+s.room(), right, f.Value, face{small, true})
		})
		right += small * leading
	}
	s.y = max(s.y, right) + gap
	for _, l := range s.paper.To {
		s.text("P", l, face{body, false}, 0)
	}
	if len(s.paper.To) > 0 {
		s.y += gap
	}
	s.text("H1", s.title(), face{large, true}, gap)
}

// image draws a picture no larger than w × h and returns its height; it is read as alt.
func (s *setter) image(m image.Image, alt string, x, y, w, h float64) float64 {
	b := m.Bounds()
	f := min(w/float64(b.Dx()), h/float64(b.Dy())) // mm for each pixel
	w, high := f*float64(b.Dx()), f*float64(b.Dy())
	figure := s.tagged("Figure", func() {
		name := s.imageName(m)
		s.marked("", func() { s.pdf.ImageOptions(name, x, y, w, high, false, jpegs, 0, "") })
	})
	figure.alt = alt
	return high
}

var jpegs = fpdf.ImageOptions{ImageType: "JPG"}

const imageQuality = 88

// imageName puts a picture into the file once, on the white of the paper, and returns
// what it is called there.
func (s *setter) imageName(m image.Image) string {
	if name, has := s.images[m]; has {
		return name
	}
	name := fmt.Sprint("image ", len(s.images))
	s.images[m] = name
	onWhite := image.NewRGBA(m.Bounds())
	draw.Draw(onWhite, onWhite.Rect, image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(onWhite, onWhite.Rect, m, m.Bounds().Min, draw.Over)
	var b bytes.Buffer
	if err := jpeg.Encode(&b, onWhite, &jpeg.Options{Quality: imageQuality}); err != nil {
		s.pdf.SetError(err)
	}
	s.pdf.RegisterImageOptionsReader(name, jpegs, &b)
	return name
}

func (s *setter) rule(y float64, strong bool) {
	grey, width := 128, 0.15
	if strong {
		grey, width = 0, 0.3
	}
	s.pdf.SetDrawColor(grey, grey, grey)
	s.pdf.SetLineWidth(width)
	s.ornament(func() { s.pdf.Line(s.margin, y, s.margin+s.room(), y) })
}

// columns are the right edges of the numbers in an item, as shares of the width.
var columns = [3]float64{0.62, 0.8, 1}

func (s *setter) items() {
	if len(s.paper.Items) > 0 || len(s.paper.Totals) > 0 {
		s.tagged("Table", s.rows)
		s.y += gap
	}
}

func (s *setter) rows() {
	if len(s.paper.Items) > 0 {
		s.row("TH", face{small, false}, s.paper.Heads[0], s.paper.Heads[1:])
		s.rule(s.y, true)
		s.y += 1.5
	}
	for _, it := range s.paper.Items {
		s.item(it)
	}
	for _, t := range s.paper.Totals {
		s.need(body*leading + 1)
		s.tagged("TR", func() {
			s.cell("TD", s.room()*columns[1], t.Label, face{body, t.Strong})
			s.cell("TD", s.room(), t.Amount, face{body, t.Strong})
		})
		s.y += body*leading + 0.6
	}
}

// item sets what is sold: its numbers beside its first line.
func (s *setter) item(it Item) {
	text, detail := face{body, false}, face{small, false}
	lines, below := s.lines(it.Text, text, s.room()*0.5), s.lines(it.Detail, detail, s.room()*0.5)
	s.need(float64(len(lines))*body*leading + float64(len(below))*small*leading + 3)
	first := ""
	if len(lines) > 0 {
		first, lines = lines[0], lines[1:]
	}
	name := s.row("TD", text, first, []string{it.Count, it.Each, it.Sum})
	s.within(name, func() {
		s.more(lines, text)
		s.more(below, detail)
	})
	s.y += 1
	s.rule(s.y, false)
	s.y += 1.5
}

// more sets further lines of a cell.
func (s *setter) more(lines []string, f face) {
	for _, l := range lines {
		s.put(s.margin, s.y, l, f)
		s.y += f.size * leading
	}
}

// row sets a text and numbers in their columns, and returns the text's cell.
func (s *setter) row(kind string, f face, text string, numbers []string) (name *tag) {
	s.tagged("TR", func() {
		name = s.tagged(kind, func() { s.put(s.margin, s.y, text, f) })
		for i, n := range numbers {
			s.cell(kind, s.room()*columns[i], n, face{f.size, i == 2})
		}
	})
	s.y += f.size * leading
	return name
}

// cell sets a number that ends so far from the margin.
func (s *setter) cell(kind string, end float64, text string, f face) {
	s.tagged(kind, func() { s.putRight(s.margin+end, s.y, text, f) })
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
				y += s.image(o.Image, o.Name, x, y, wide, high) + 1.5
			}
			y = s.column(x, y, wide, o.Name, face{body, true})
			y = s.column(x, y, wide, o.Text, face{small, false})
			y = s.column(x, y, wide, o.Amount, face{body, o.Chosen})
			deepest = max(deepest, y)
		}
		s.y = deepest + gap
	}
}

// column sets a text in a column and returns where it ends.
func (s *setter) column(x, y, width float64, text string, f face) float64 {
	s.tagged("P", func() {
		for _, l := range s.lines(text, f, width) {
			s.put(x, y, l, f)
			y += f.size * leading
		}
	})
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
		s.image(p.Image, p.Caption, x, rowTop, w, h)
		end := s.column(x, rowTop+h+1, max(w, 38), p.Caption, face{small, false})
		rowEnd = max(rowEnd, end)
		x += max(w, 38) + gap
	}
	s.y = rowEnd + 1
	s.text("P", fmt.Sprintf("1 : %.0f", scale), face{small, false}, gap)
}

// bytes writes all pages, each with its foot, and the structure.
func (s *setter) bytes() ([]byte, error) {
	document := s.at
	s.at = nil // what stands on every page is not read
	for page := range s.pdf.PageCount() {
		s.pdf.SetPage(page + 1)
		s.foot(page + 1)
	}
	var b bytes.Buffer
	if err := s.pdf.Output(&b); err != nil {
		return nil, err
	}
	if err := s.ctx.Err(); err != nil {
		return nil, err
	}
	return withTags(b.Bytes(), document, s.marks)
}

func (s *setter) foot(page int) {
	if s.paper.Small {
		return
	}
	y := s.height - s.margin - footHeight + 4
	for _, l := range s.paper.Foot {
		s.put(s.margin, y, l, face{small, false})
		y += small * leading
	}
	if pages := s.pdf.PageCount(); pages > 1 {
		text := fmt.Sprintf("%s %d %s %d", s.paper.Page, page, s.paper.Of, pages)
		s.putRight(s.margin+s.room(), s.height-s.margin, text, face{small, false})
	}
}
