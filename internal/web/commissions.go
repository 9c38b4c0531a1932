package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/technique"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/studio"
)

func (s *Server) commissionRoutes(e *gin.Engine) {
	e.GET("/commissions", s.listCommissions)
	e.GET("/commissions/new", s.newCommission)
	e.POST("/commissions", s.saveCommission)
	g := e.Group("/commissions/:id")
	g.GET("", s.showCommission)
	g.POST("", s.saveCommission)
	g.POST("/tiles", func(c *gin.Context) {
		p, err := s.studio.AddTile(c.Request.Context(), id(c), c.PostForm("name"), c.PostForm("technique"))
		s.toPiece(c, p, err)
	})
	g.POST("/boards", func(c *gin.Context) {
		p, err := s.studio.AddBoard(c.Request.Context(), id(c))
		s.toPiece(c, p, err)
	})
	g.POST("/from-tile", s.boardsFromTile)
	g.POST("/choose", func(c *gin.Context) {
		tile, _ := strconv.ParseInt(c.PostForm("tile"), 10, 64)
		s.backToCommission(c, s.studio.ChooseTile(c.Request.Context(), id(c), tile, c.PostForm("why")))
	})
	g.POST("/pictures", s.addCommissionPicture)
	g.GET("/pictures/:picture", func(c *gin.Context) {
		n, _ := strconv.ParseInt(c.Param("picture"), 10, 64)
		data, err := s.studio.CommissionPicture(c.Request.Context(), id(c), n)
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Data(http.StatusOK, "image/jpeg", data)
	})
	g.POST("/remove", func(c *gin.Context) {
		if err := s.studio.RemoveCommission(c.Request.Context(), id(c), false); err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/commissions?removed="+c.Param("id"))
	})
	g.POST("/restore", func(c *gin.Context) {
		s.backToCommission(c, s.studio.RemoveCommission(c.Request.Context(), id(c), true))
	})
}

func (s *Server) toPiece(c *gin.Context, p studio.Piece, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID))
}

func (s *Server) backToCommission(c *gin.Context, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/commissions/"+c.Param("id"))
}

type commissionList struct {
	Commissions []studio.Commission
	Removed     int64
}

func (s *Server) listCommissions(c *gin.Context) {
	list, err := s.studio.Commissions(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := commissionList{Commissions: list}
	page.Removed, _ = strconv.ParseInt(c.Query("removed"), 10, 64)
	s.show(c, http.StatusOK, "commissions", Page{Title: "Commissions", Nav: "commissions", Data: page})
}

// A commissionPage is a commission with its tiles and boards.
type commissionPage struct {
	studio.Commission
	Values     map[string]string
	Notices    studio.Notices
	States     [][]any
	Tiles      []pieceCard
	Boards     []pieceCard
	Pictures   []int64
	Techniques technique.Book
	Wrong      string
}

func (s *Server) newCommission(c *gin.Context) {
	s.sendCommission(c, http.StatusOK, studio.Commission{State: studio.CommissionAsked}, studio.Notices{}, nil, "")
}

func (s *Server) showCommission(c *gin.Context) {
	com, err := s.studio.Commission(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendCommission(c, http.StatusOK, com, studio.Notices{}, nil, "")
}

func (s *Server) sendCommission(c *gin.Context, status int, com studio.Commission, n studio.Notices, typed map[string]string, wrong string) {
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := commissionPage{Commission: com, Values: com.Values(set.Units), Notices: n, Wrong: wrong}
	for k, v := range typed {
		page.Values[k] = v
	}
	for _, state := range studio.CommissionStates {
		page.States = append(page.States, []any{string(state), string(state)})
	}
	title := "New commission"
	if com.ID != 0 {
		title = com.Name
		if err := s.fillCommission(c, &page); err != nil {
			s.fail(c, err)
			return
		}
	}
	s.show(c, status, "commission", Page{Title: title, Nav: "commissions", Data: page})
}

func (s *Server) fillCommission(c *gin.Context, page *commissionPage) error {
	pieces, err := s.studio.PiecesOf(c.Request.Context(), page.ID)
	if err != nil {
		return err
	}
	for _, p := range pieces {
		card := s.card(c, p)
		if p.Tile {
			page.Tiles = append(page.Tiles, card)
		} else {
			page.Boards = append(page.Boards, card)
		}
	}
	if page.Pictures, err = s.studio.CommissionPictures(c.Request.Context(), page.ID); err != nil {
		return err
	}
	book, err := s.studio.Techniques(c.Request.Context())
	page.Techniques = book.Coats()
	return err
}

func (s *Server) saveCommission(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(typed["rev"], 10, 64)
	com, n, err := s.studio.SaveCommission(c.Request.Context(), id(c), rev, typed)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !n.OK() {
		s.sendCommission(c, http.StatusUnprocessableEntity, com, n, typed, "")
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/commissions/%d", com.ID))
}

func (s *Server) boardsFromTile(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	p, n, err := s.studio.BoardsFromTile(c.Request.Context(), id(c), typed)
	if err == nil && n.OK() {
		c.Redirect(http.StatusSeeOther, pieceURL(p.ID))
		return
	}
	words, refused := asRefused(err)
	if err != nil && !refused {
		s.fail(c, err)
		return
	}
	for _, e := range n.Errors {
		words = e
	}
	s.commissionAgain(c, words, typed)
}

// commissionAgain shows the commission with what was refused.
func (s *Server) commissionAgain(c *gin.Context, wrong string, typed map[string]string) {
	com, err := s.studio.Commission(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendCommission(c, http.StatusUnprocessableEntity, com, studio.Notices{}, typed, wrong)
}

func (s *Server) addCommissionPicture(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, picture.MaxBytes+64<<10)
	file, _, err := c.Request.FormFile("picture")
	if err != nil {
		s.commissionAgain(c, "choose a picture first", nil)
		return
	}
	defer file.Close()
	err = s.studio.AddCommissionPicture(c.Request.Context(), id(c), file)
	var refused *studio.RefusedError
	if errors.As(err, &refused) {
		s.commissionAgain(c, refused.Error(), nil)
		return
	}
	s.backToCommission(c, err)
}
