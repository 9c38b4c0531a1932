// Package palettes is the pages of palettes read from pictures.
package palettes

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/colours"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/palettes", func(c *gin.Context) error { return a.list(c, http.StatusOK, nil) })
	a.Upload("/palettes", picture.MaxBytes, a.upload)
	const one = "/palettes/:id"
	a.GET(one, a.show)
	a.POST(one, a.edit)
	a.GET(one+"/picture.png", a.picture)
	a.GET(one+"/palette.gpl", a.export)
	a.GET(one+"/colours/:at/recipes", a.recipes)
	a.POST(one+"/colours/:at/remove", a.removeColour)
	a.POST(one+"/undo", func(c *gin.Context) error {
		return a.back(c, a.Studio.Colours.TakeBack(c.Request.Context(), frame.ID(c)))
	})
	a.POST(one+"/remove", a.remove)
	a.POST(one+"/restore", a.restore)
	a.POST(one+"/piece", a.piece)
	return nil
}

func at(id int64) string { return fmt.Sprintf("/palettes/%d", id) }

func (a *area) back(c *gin.Context, err error) error {
	if err != nil {
		return err
	}
	return frame.Go(c, at(frame.ID(c)))
}

const pageSize = 24

type listPage struct {
	frame.Pager
	Palettes []colours.Palette
	Wrong    msg.Text
	Removed  int64
}

func (a *area) list(c *gin.Context, status int, wrong msg.Text) error {
	page := listPage{Pager: frame.Paged(c, pageSize), Wrong: wrong, Removed: frame.Number(c.Query("removed"))}
	err := page.Load(func(_ string, limit, offset int) (total int, err error) {
		page.Palettes, total, err = a.Studio.Colours.Palettes(c.Request.Context(), limit, offset)
		return total, err
	})
	if err != nil {
		return err
	}
	return a.Show(c, status, "palettes", frame.Page{Title: msg.ID("Palette from a picture"), Nav: "palettes", Data: page})
}

// paletteFile is how a palette file begins.
var paletteFile = []byte("GIMP Palette")

// upload takes a picture or a palette file, by what is in it.
func (a *area) upload(c *gin.Context) error {
	file, head, err := c.Request.FormFile("picture")
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return a.list(c, http.StatusRequestEntityTooLarge, msg.Of(picture.ErrTooLarge))
	}
	if err != nil {
		return a.list(c, http.StatusUnprocessableEntity, msg.ID("choose a picture first"))
	}
	defer file.Close()
	start := make([]byte, len(paletteFile))
	n, _ := file.ReadAt(start, 0) // a shorter file is no palette
	read := a.Studio.Colours.ReadPicture
	if bytes.Equal(start[:n], paletteFile) {
		read = a.Studio.Colours.ImportPalette
	}
	p, err := read(c.Request.Context(), head.Filename, file)
	if refused, ok := frame.Refusal(err); ok {
		return a.list(c, http.StatusUnprocessableEntity, msg.Own(refused.Error()))
	}
	if err != nil {
		return err
	}
	return frame.Go(c, at(p.ID))
}

type palettePage struct {
	colours.Palette
	Name   form.View
	Count  form.View
	Rows   []colourRow
	Pieces []pieces.Piece

	Changed bool // and can be taken back
}

// A colourRow is one colour with its fields.
type colourRow struct {
	colours.PaletteColour
	Label, Hex form.View
}

func (a *area) show(c *gin.Context) error {
	p, err := a.Studio.Colours.Palette(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, p, form.NewNotices(), nil)
}

// piecesOffered is how many of the newest pieces can take a palette's cups.
const piecesOffered = 50

func (a *area) send(c *gin.Context, status int, p colours.Palette, n form.Notices, typed map[string]string) error {
	fields := colours.Fields(p).Views(&p, form.Style{Units: units.Metric, Lang: msg.LangOf(c.Request.Context())}, typed, n,
		nil)
	page := palettePage{Palette: p, Name: fields["name"], Count: fields["count"]}
	for i, col := range p.Colours {
		key := fmt.Sprintf("colour.%d.", i)
		page.Rows = append(page.Rows, colourRow{col, fields[key+"name"], fields[key+"hex"]})
	}
	var err error
	if page.Pieces, _, err = a.Studio.Pieces.Pieces(c.Request.Context(), "", piecesOffered, 0); err != nil {
		return err
	}
	if page.Changed, err = a.Studio.Colours.Changed(c.Request.Context(), p.ID); err != nil {
		return err
	}
	return a.Show(c, status, "palette", frame.Page{Title: msg.Own(p.Name), Nav: "palettes", Data: page})
}

func (a *area) edit(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Colours.EditPalette(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	switch {
	case !n.OK():
		return a.send(c, http.StatusUnprocessableEntity, p, n, typed)
	case len(n.Notes) > 0:
		return a.send(c, http.StatusOK, p, n, nil)
	}
	return a.back(c, nil)
}

func (a *area) picture(c *gin.Context) error {
	data, err := a.Studio.Colours.Picture(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	c.Data(http.StatusOK, "image/png", data)
	return nil
}

func (a *area) export(c *gin.Context) error {
	var b bytes.Buffer
	p, err := a.Studio.Colours.ExportPalette(c.Request.Context(), frame.ID(c), &b)
	if err != nil {
		return err
	}
	frame.Attach(c, fmt.Sprintf("palette-%d.gpl", p.ID))
	c.Data(http.StatusOK, "text/plain; charset=utf-8", b.Bytes())
	return nil
}

// place is which colour of a palette is meant, −1 for none.
func place(c *gin.Context) int {
	n, err := strconv.Atoi(c.Param("at"))
	if err != nil {
		return -1
	}
	return n
}

func (a *area) recipes(c *gin.Context) error {
	p, err := a.Studio.Colours.Palette(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	i := place(c)
	if i < 0 || i >= len(p.Colours) {
		return frame.Missing
	}
	r, err := a.Studio.Colours.Match(c.Request.Context(), p.Colours[i].Hex)
	if err != nil {
		return err
	}
	return a.Part(c, http.StatusOK, "palette", "recipes", r)
}

func (a *area) removeColour(c *gin.Context) error {
	return a.back(c, a.Studio.Colours.RemoveColour(c.Request.Context(), frame.ID(c), place(c)))
}

func (a *area) remove(c *gin.Context) error {
	if err := a.Studio.Colours.Remove(c.Request.Context(), frame.ID(c), false); err != nil {
		return err
	}
	return frame.Go(c, "/palettes?removed="+c.Param("id"))
}

func (a *area) restore(c *gin.Context) error {
	return a.back(c, a.Studio.Colours.Remove(c.Request.Context(), frame.ID(c), true))
}

// piece makes the cups of a chosen piece, or of a new one.
func (a *area) piece(c *gin.Context) error {
	var p pieces.Piece
	var err error
	if piece := frame.Number(c.PostForm("piece")); piece > 0 {
		p, err = a.Studio.Colours.CupsFromPalette(c.Request.Context(), frame.ID(c), piece)
	} else {
		p, err = a.Studio.Colours.PieceFromPalette(c.Request.Context(), frame.ID(c))
	}
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(p.ID, "#composition"))
}
