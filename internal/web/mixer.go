package web

import (
	"bytes"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/cupsheet"
	"jevvo/internal/studio"
)

func (s *Server) mixerRoutes(e *gin.Engine) {
	g := e.Group("/pieces/:id/cups")
	g.GET("/:coat/:colour", s.showMixer)
	g.POST("/:coat/:colour/dose", s.mixing(func(c *gin.Context, typed map[string]string) error {
		pigment, _ := strconv.ParseInt(typed["pigment"], 10, 64)
		_, err := s.studio.Dose(c.Request.Context(), id(c), c.Param("coat"), c.Param("colour"), pigment, typed["amount"])
		return err
	}))
	g.POST("/:coat/:colour/recipe", s.mixing(func(c *gin.Context, _ map[string]string) error {
		_, err := s.studio.TakeRecipe(c.Request.Context(), id(c), c.Param("colour"))
		return err
	}))
	g.POST("/:coat/:colour/undo", s.mixing(func(c *gin.Context, _ map[string]string) error {
		_, err := s.studio.Undo(c.Request.Context(), id(c))
		return err
	}))
	e.GET("/pieces/:id/cups.csv", s.cupsCSV)
	e.GET("/pieces/:id/card", s.showCard)
	e.GET("/pieces/:id/rescale", s.showRescale)
	e.POST("/pieces/:id/rescale", s.keepRescaled)
}

// A mixerPage is one cup with its pigments.
type mixerPage struct {
	studio.Mixer
	Pigments []studio.Pigment
	Ground   string
	Wrong    string
	Amount   string
	Chosen   string
}

func (s *Server) showMixer(c *gin.Context) {
	s.sendMixer(c, http.StatusOK, c.Query("ground"), "", nil)
}

// mixing runs a change of the cup; a refused amount stays in its field.
func (s *Server) mixing(do func(*gin.Context, map[string]string) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		typed, ok := s.typed(c)
		if !ok {
			return
		}
		err := do(c, typed)
		if refused, ok := asRefused(err); ok {
			s.sendMixer(c, http.StatusUnprocessableEntity, typed["ground"], refused, typed)
			return
		}
		if err != nil {
			s.fail(c, err)
			return
		}
		s.sendMixer(c, http.StatusOK, typed["ground"], "", nil)
	}
}

func (s *Server) sendMixer(c *gin.Context, status int, ground, wrong string, typed map[string]string) {
	m, err := s.studio.Mixer(c.Request.Context(), id(c), c.Param("coat"), c.Param("colour"), ground)
	if err != nil {
		s.fail(c, err)
		return
	}
	page := mixerPage{Mixer: m, Ground: ground, Wrong: wrong, Amount: typed["amount"], Chosen: typed["pigment"]}
	if page.Pigments, err = s.studio.Pigments(c.Request.Context()); err != nil {
		s.fail(c, err)
		return
	}
	if fromHTMX(c) {
		s.fragment(c, status, "mixer", "mixer", page)
		return
	}
	s.show(c, status, "mixer", Page{Title: "Mix " + m.Cup.Colour.Name, Nav: "pieces", Data: page})
}

func (s *Server) cupsCSV(c *gin.Context) {
	plan, err := s.studio.Plan(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	pigments, err := s.studio.PigmentsByID(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	var b bytes.Buffer
	if err := cupsheet.Write(&b, plan.CupRows(pigments)); err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="cups-%d.csv"`, plan.Piece.ID))
	c.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
}

// A cardPage is the weigh-out card: what stands beside the scale, on paper.
type cardPage struct {
	studio.Plan
	Coats   []cardCoat
	Drawing Drawing
	Printed string
}

type cardCoat struct {
	studio.CoatPlan
	Cups    []cardCup
	Surplus studio.Surplus
}

type cardCup struct {
	studio.CupInOrder
	Doses []cardDose
}

type cardDose struct{ Name, Grams, Measure string }

func (s *Server) showCard(c *gin.Context) {
	plan, err := s.studio.Plan(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	page := cardPage{Plan: plan, Drawing: draw(plan), Printed: s.studio.Now().Local().Format("Mon 2 Jan 2006 15:04")}
	if page.Coats, err = s.cardCoats(c, plan); err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "card", Page{Title: "Weigh-out card: " + plan.Piece.Name, Nav: "pieces", Data: page})
}

func (s *Server) cardCoats(c *gin.Context, plan studio.Plan) ([]cardCoat, error) {
	pigments, err := s.studio.PigmentsByID(c.Request.Context())
	if err != nil {
		return nil, err
	}
	var out []cardCoat
	for _, coat := range plan.Coats {
		card := cardCoat{CoatPlan: coat, Surplus: plan.Surplus(coat)}
		for _, cup := range plan.InOrder(coat) {
			row := cardCup{CupInOrder: cup}
			for _, d := range cup.Doses() {
				p := pigments[d.Pigment]
				row.Doses = append(row.Doses, cardDose{p.Name, d.Mass.Text(plan.Settings.Units), p.Measure(d.Mass)})
			}
			card.Cups = append(card.Cups, row)
		}
		out = append(out, card)
	}
	return out, nil
}

func (s *Server) showRescale(c *gin.Context) {
	r, err := s.studio.Rescale(c.Request.Context(), id(c), flat(c.Request.URL.Query()))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendRescale(c, http.StatusOK, r)
}

// A rescalePage is a recipe on another board.
type rescalePage struct {
	studio.Rescale
	Drawing Drawing
}

func (s *Server) sendRescale(c *gin.Context, status int, r studio.Rescale) {
	page := rescalePage{Rescale: r, Drawing: draw(r.To)}
	if fromHTMX(c) {
		s.fragment(c, status, "rescale", "rescaled", page)
		return
	}
	s.show(c, status, "rescale", Page{Title: "On another board: " + r.From.Piece.Name, Nav: "pieces", Data: page})
}

func (s *Server) keepRescaled(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	p, notices, err := s.studio.KeepRescaled(c.Request.Context(), id(c), typed)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		r, err := s.studio.Rescale(c.Request.Context(), id(c), typed)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.sendRescale(c, http.StatusUnprocessableEntity, r)
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID))
}
