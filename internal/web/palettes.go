package web

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/studio"
)

func (s *Server) paletteRoutes(e *gin.Engine) {
	e.GET("/palettes", s.listPalettes)
	e.POST("/palettes", s.uploadPalette)
	g := e.Group("/palettes/:id")
	g.GET("", s.showPalette)
	g.POST("", s.editPalette)
	g.GET("/picture.png", s.palettePicture)
	g.GET("/palette.gpl", s.exportPalette)
	g.GET("/colours/:at/recipes", s.paletteRecipes)
	g.POST("/colours/:at/remove", func(c *gin.Context) {
		at, err := strconv.Atoi(c.Param("at"))
		if err != nil {
			at = -1
		}
		s.backToPalette(c, s.studio.RemovePaletteColour(c.Request.Context(), id(c), at))
	})
	g.POST("/remove", func(c *gin.Context) { s.backToPalettes(c, s.studio.RemovePalette(c.Request.Context(), id(c), false)) })
	g.POST("/restore", func(c *gin.Context) { s.backToPalette(c, s.studio.RemovePalette(c.Request.Context(), id(c), true)) })
	g.POST("/piece", s.pieceFromPalette)
}

func (s *Server) backToPalette(c *gin.Context, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/palettes/"+c.Param("id"))
}

func (s *Server) backToPalettes(c *gin.Context, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/palettes?removed="+c.Param("id"))
}

type palettesPage struct {
	Palettes []studio.Palette
	Wrong    string
	Removed  int64
}

func (s *Server) listPalettes(c *gin.Context) { s.sendPalettes(c, http.StatusOK, "") }

func (s *Server) sendPalettes(c *gin.Context, status int, wrong string) {
	list, err := s.studio.Palettes(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := palettesPage{Palettes: list, Wrong: wrong}
	page.Removed, _ = strconv.ParseInt(c.Query("removed"), 10, 64)
	s.show(c, status, "palettes", Page{Title: "Palette from a picture", Nav: "palettes", Data: page})
}

// uploadPalette takes a picture or a palette file, by what is in it.
func (s *Server) uploadPalette(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, picture.MaxBytes+64<<10)
	file, head, err := c.Request.FormFile("picture")
	if err != nil {
		status, words := http.StatusUnprocessableEntity, "choose a picture first"
		var tooLarge *http.MaxBytesError
		if errors.As(err, &tooLarge) {
			status, words = http.StatusRequestEntityTooLarge, picture.ErrTooLarge.Error()
		}
		s.sendPalettes(c, status, words)
		return
	}
	defer file.Close()
	start := make([]byte, 12)
	n, _ := file.ReadAt(start, 0)
	var p studio.Palette
	if bytes.HasPrefix(start[:n], []byte("GIMP Palette")) {
		p, err = s.studio.ImportPalette(c.Request.Context(), head.Filename, file)
	} else {
		p, err = s.studio.ReadPicture(c.Request.Context(), head.Filename, file)
	}
	if words, ok := asRefused(err); ok {
		s.sendPalettes(c, http.StatusUnprocessableEntity, words)
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/palettes/%d", p.ID))
}

// asRefused returns the words of a refusal.
func asRefused(err error) (string, bool) {
	var refused *studio.RefusedError
	if errors.As(err, &refused) {
		return refused.Error(), true
	}
	return "", false
}

type palettePage struct {
	studio.Palette
	Values  map[string]string
	Notices studio.Notices
	Pieces  []studio.Piece
}

// NameOf is a colour's name as it was typed, or as it is kept.
func (p palettePage) NameOf(i int) string {
	key := fmt.Sprintf("colour.%d.name", i)
	if typed, ok := p.Values[key]; ok && p.Notices.Errors[key] != "" {
		return typed
	}
	return p.Colours[i].Name
}

// WrongAt is what was refused of a colour.
func (p palettePage) WrongAt(i int) string {
	key := fmt.Sprintf("colour.%d.", i)
	return cmp.Or(p.Notices.Errors[key+"name"], p.Notices.Errors[key+"hex"])
}

func (s *Server) showPalette(c *gin.Context) {
	p, err := s.studio.Palette(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendPalette(c, http.StatusOK, p, studio.Notices{}, nil)
}

func (s *Server) sendPalette(c *gin.Context, status int, p studio.Palette, n studio.Notices, typed map[string]string) {
	page := palettePage{Palette: p, Notices: n, Values: map[string]string{"name": p.Name, "count": strconv.Itoa(p.Count)}}
	for key := range n.Errors {
		if v, ok := typed[key]; ok {
			page.Values[key] = v
		}
	}
	var err error
	if page.Pieces, _, err = s.studio.Pieces(c.Request.Context(), "", 50, 0); err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, status, "palette", Page{Title: p.Name, Nav: "palettes", Data: page})
}

func (s *Server) editPalette(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(typed["rev"], 10, 64)
	p, notices, err := s.studio.EditPalette(c.Request.Context(), id(c), rev, typed)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() || len(notices.Notes) > 0 {
		status := http.StatusOK
		if !notices.OK() {
			status = http.StatusUnprocessableEntity
		}
		s.sendPalette(c, status, p, notices, typed)
		return
	}
	s.backToPalette(c, nil)
}

func (s *Server) palettePicture(c *gin.Context) {
	data, err := s.studio.PalettePicture(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Data(http.StatusOK, "image/png", data)
}

func (s *Server) exportPalette(c *gin.Context) {
	var b bytes.Buffer
	p, err := s.studio.ExportPalette(c.Request.Context(), id(c), &b)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="palette-%d.gpl"`, p.ID))
	c.Data(http.StatusOK, "text/plain; charset=utf-8", b.Bytes())
}

func (s *Server) paletteRecipes(c *gin.Context) {
	p, err := s.studio.Palette(c.Request.Context(), id(c))
	at, bad := strconv.Atoi(c.Param("at"))
	if err == nil && (bad != nil || at < 0 || at >= len(p.Colours)) {
		err = errNoPage
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	r, err := s.studio.Match(c.Request.Context(), p.Colours[at].Hex)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.fragment(c, http.StatusOK, "palette", "recipes", r)
}

// pieceFromPalette makes the cups of a chosen piece, or of a new one.
func (s *Server) pieceFromPalette(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	var p studio.Piece
	var err error
	if piece, bad := strconv.ParseInt(typed["piece"], 10, 64); bad == nil && piece > 0 {
		p, err = s.studio.CupsFromPalette(c.Request.Context(), id(c), piece)
	} else {
		p, err = s.studio.PieceFromPalette(c.Request.Context(), id(c))
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID)+"#composition")
}
