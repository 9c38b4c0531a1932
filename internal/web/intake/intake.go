// Package intake is the page that takes lists of what a studio has: a spreadsheet, a pasted
// text, photographs of swatches. It shows what would be made before anything is.
package intake

import (
	"embed"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/exchange/sheet"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/intake"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// mostSwatches is how many photographs are read at once.
const mostSwatches = 24

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/import", a.blank)
	a.Upload("/import", mostSwatches*picture.MaxBytes, a.read)
	return nil
}

// A kindWords is a kind as pages say it.
type kindWords struct {
	Kind    intake.Kind
	Name    msg.ID
	Example msg.ID // of a list; its heads are read in any language
	At      string // where they are shown
}

var kinds = []kindWords{
	{intake.Pigments, "Pigments", msg.ID("Name; Form; Swatch\nSalt white; paste; #f4f3ee\nSedge green; mica"),
		"/materials/pigments"},
	{intake.Resins, "Resins", msg.ID("Name; Ratio; Working time; Hard after\nBench resin; 2:1; 45 min; 24 h"),
		"/materials"},
	{intake.Goods, "Other goods", msg.ID("Name; Unit; Pack size; Price\nMixing cups 500 mL; pieces; 50; 12.90"), "/stock"},
	{intake.Past, "Past pieces", msg.ID("Title; Size; Technique; Date\nLow tide; 40 x 60 cm; Swipe; 2025-09-14"),
		"/pieces?state=done"},
}

type importPage struct {
	Kinds []kindWords
	Kind  kindWords
	Text  string
	Back  string
	Made  int // of the list before
	List  *intake.List
	Wrong msg.Text
}

// Cell is what a row has in a column, as it is read.
func (p importPage) Cell(r intake.Row, c intake.Column) msg.Text { return r.Shown[c.Key] }

// Says counts the rows of the list by what becomes of them.
func (p importPage) Says() msg.Text {
	var parts []msg.Text
	for _, s := range []struct {
		state intake.State
		words msg.ID
	}{{intake.Fresh, "%d new"}, {intake.Known, "%d already there and left alone"},
		{intake.Refused, "%d with something to mend"}} {
		if n := p.List.Count(s.state); n > 0 {
			parts = append(parts, msg.F(s.words, n))
		}
	}
	return msg.Join(", ", parts...)
}

// Has reports whether the list has a column for a field.
func (p importPage) Has(key string) bool {
	return slices.ContainsFunc(p.List.Columns, func(c intake.Column) bool { return c.Key == key })
}

func pageOf(kind, back string) importPage {
	page := importPage{Kinds: kinds, Kind: kinds[0], Back: back}
	for _, k := range kinds {
		if string(k.Kind) == kind {
			page.Kind = k
		}
	}
	return page
}

func (a *area) send(c *gin.Context, status int, page importPage) error {
	return a.Show(c, status, "import", frame.Page{Title: msg.ID("Import a list"), Nav: "materials", Data: page})
}

func (a *area) blank(c *gin.Context) error {
	page := pageOf(c.Query("kind"), frame.Local(c.Query("back"), ""))
	page.Made = int(frame.Number(c.Query("made")))
	return a.send(c, http.StatusOK, page)
}

// read shows what a list would make, or makes it.
func (a *area) read(c *gin.Context) error {
	page := pageOf(c.PostForm("kind"), frame.Local(c.PostForm("back"), ""))
	text, err := a.text(c)
	page.Text = text
	if err == nil && c.PostForm("do") == "make" {
		return a.make(c, page)
	}
	if err == nil {
		var list intake.List
		if list, err = a.Studio.Intake.Look(c.Request.Context(), page.Kind.Kind, text); err == nil {
			page.List = &list
			return a.send(c, http.StatusOK, page)
		}
	}
	return a.refused(c, page, err)
}

func (a *area) refused(c *gin.Context, page importPage, err error) error {
	refused, ok := frame.Refusal(err)
	if !ok {
		return err
	}
	page.Wrong = msg.Of(refused)
	return a.send(c, http.StatusUnprocessableEntity, page)
}

// make keeps the list and leads on; rows that were refused stay with what is wrong.
func (a *area) make(c *gin.Context, page importPage) error {
	list, err := a.Studio.Intake.Make(c.Request.Context(), page.Kind.Kind, page.Text)
	if err != nil {
		return a.refused(c, page, err)
	}
	if page.Made = list.Count(intake.Kept); list.Count(intake.Refused) > 0 {
		page.List = &list
		return a.send(c, http.StatusUnprocessableEntity, page)
	}
	if page.Back != "" {
		return frame.Go(c, page.Back)
	}
	return frame.Go(c, fmt.Sprintf("/import?kind=%s&made=%d", url.QueryEscape(string(page.Kind.Kind)), page.Made))
}

// text is the list that was sent: a file, else what was pasted, with a line for each
// photograph of a swatch.
func (a *area) text(c *gin.Context) (string, error) {
	text := c.PostForm("list")
	multi, err := c.MultipartForm()
	if err != nil { // a plain form has no files
		return text, nil
	}
	for _, head := range multi.File["file"] {
		file, err := head.Open()
		if err != nil {
			return text, err
		}
		defer file.Close()
		data, err := io.ReadAll(io.LimitReader(file, sheet.MaxBytes+1))
		if err != nil {
			return text, err
		}
		if len(data) == 0 {
			continue
		}
		if text, err = sheet.Text(data); err != nil {
			return "", &form.Refused{Field: "file", Err: err}
		}
	}
	photos := multi.File["photos"]
	if len(photos) > mostSwatches {
		return text, form.Refusef("photos", "send up to %d photographs at once", mostSwatches)
	}
	for _, head := range photos {
		file, err := head.Open()
		if err != nil {
			return text, err
		}
		line, err := a.Studio.Intake.Swatch(c.Request.Context(), head.Filename, file)
		file.Close()
		if _, refused := frame.Refusal(err); refused {
			return text, form.Refusef("photos", "%s cannot be read as a photograph", head.Filename)
		}
		if err != nil {
			return text, err
		}
		text = strings.TrimRight(text, "\n") + "\n" + line
	}
	return strings.TrimLeft(text, "\n"), nil
}
