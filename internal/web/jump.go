package web

import (
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
)

// A jumpLink is one place the command line can go to.
type jumpLink struct{ Name, Kind, URL string }

// jumpMost bounds the list shown.
const jumpMost = 12

func (s *Server) jumpRoutes(e *gin.Engine) { e.GET("/jump", s.jump) }

// jump finds pieces, resins, sums and pages by any part of their name.
func (s *Server) jump(c *gin.Context) {
	find := strings.ToLower(strings.TrimSpace(c.Query("q")))
	links, err := s.jumpLinks(c, find)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !fromHTMX(c) && len(links) > 0 {
		c.Redirect(http.StatusSeeOther, links[0].URL)
		return
	}
	s.fragment(c, http.StatusOK, "pieces", "jump-links", links)
}

func (s *Server) jumpLinks(c *gin.Context, find string) ([]jumpLink, error) {
	var links []jumpLink
	add := func(l jumpLink) {
		if len(links) < jumpMost && strings.Contains(strings.ToLower(l.Name), find) {
			links = append(links, l)
		}
	}
	pieces, _, err := s.studio.Pieces(c.Request.Context(), find, 6, 0)
	if err != nil {
		return nil, err
	}
	for _, p := range pieces {
		add(jumpLink{p.Name, "piece", pieceURL(p.ID)})
	}
	commissions, err := s.studio.Commissions(c.Request.Context())
	if err != nil {
		return nil, err
	}
	for _, com := range commissions {
		add(jumpLink{com.Name, "commission", "/commissions/" + strconv.FormatInt(com.ID, 10)})
	}
	products, err := s.studio.Products(c.Request.Context())
	if err != nil {
		return nil, err
	}
	for _, p := range products {
		add(jumpLink{p.Name, "resin", "/shelf/" + strconv.FormatInt(p.ID, 10)})
	}
	pigments, err := s.studio.Pigments(c.Request.Context())
	if err != nil {
		return nil, err
	}
	for _, p := range pigments {
		add(jumpLink{p.Name, "pigment", "/pigments/" + strconv.FormatInt(p.ID, 10)})
	}
	book, err := s.studio.Techniques(c.Request.Context())
	if err != nil {
		return nil, err
	}
	for _, t := range book {
		add(jumpLink{t.Name, "technique", "/techniques/" + t.ID})
	}
	for _, x := range sums {
		add(jumpLink{x.Question, "sum", "/sums/" + x.Name})
	}
	for _, l := range fixedLinks {
		add(l)
	}
	return links, nil
}

var fixedLinks = []jumpLink{
	{"Today", "page", "/"},
	{"Days", "page", "/days"},
	{"Commissions", "page", "/commissions"},
	{"New commission", "page", "/commissions/new"},
	{"Outbox", "page", "/outbox"},
	{"New piece", "page", "/pieces/new"},
	{"Pieces", "page", "/pieces"},
	{"Bench: what is wet", "page", "/bench"},
	{"Palette from a picture", "page", "/palettes"},
	{"Techniques", "page", "/techniques"},
	{"Shelf of resins", "page", "/shelf"},
	{"Shelf of pigments", "page", "/shelf/pigments"},
	{"Sums", "page", "/sums"},
	{"Settings", "page", "/settings"},
}
