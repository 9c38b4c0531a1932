package materials

import (
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/web/frame"
)

func (a *area) pigmentRoutes() {
	a.GET("/materials/pigments", func(c *gin.Context) error { return a.listPage(c, "pigments", "Pigments", nil) })
	a.GET("/pigments/new", func(c *gin.Context) error {
		return a.sendPigment(c, http.StatusOK, materials.NewPigment(), nil, form.NewNotices())
	})
	a.POST("/pigments", a.savePigment)
	a.GET("/pigments/:id", a.pigment)
	a.POST("/pigments/:id", a.savePigment)
	a.POST("/pigments/:id/drawdown", a.drawdown)
	a.POST("/pigments/:id/undo", a.takeBack(store.Pigments, "/pigments/"))
	a.POST("/pigments/:id/retire", a.retire(a.Studio.Materials.RetirePigment, true, "/materials/pigments#pigment-"))
	a.POST("/pigments/:id/return", a.retire(a.Studio.Materials.RetirePigment, false, "/materials/pigments#pigment-"))
}

type pigmentPage struct {
	Pigment material.Pigment
	Sample  []materials.SampleStep
	Advice  colour.DrawdownAdvice
	Fields  map[string]form.View
	Sys     units.System
	Changed bool // its last change can be taken back
}

// sendPigment shows a pigment; values that were typed overlay its own.
func (a *area) sendPigment(c *gin.Context, status int, p material.Pigment, typed map[string]string,
	n form.Notices) error {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	page := pigmentPage{Pigment: p, Sys: set.Units, Fields: materials.PigmentFields.Views(&p, set.Style(), typed, n, nil)}
	for key, f := range materials.DrawdownViews(set.Style(), typed, n) {
		page.Fields[key] = f
	}
	title := msg.Text(msg.ID("New pigment"))
	if p.ID != 0 {
		title, page.Sample = msg.Own(p.Name), materials.Sample(p, set.Surface())
		if page.Changed, err = a.Studio.Materials.Changed(c.Request.Context(), store.Pigments, p.ID); err != nil {
			return err
		}
		page.Advice = colour.AdviseDrawdown(p.Full, p.LoadLimit)
	}
	return a.Show(c, status, "pigment", frame.Page{Title: title, Nav: "materials", Data: page})
}

func (a *area) pigment(c *gin.Context) error {
	p, err := a.Studio.Materials.Pigment(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.sendPigment(c, http.StatusOK, p, nil, form.NewNotices())
}

func (a *area) savePigment(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Materials.SavePigment(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	return a.keptPigment(c, p, typed, n, err)
}

func (a *area) drawdown(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Materials.SolveDrawdown(c.Request.Context(), frame.ID(c), typed)
	return a.keptPigment(c, p, typed, n, err)
}

func (a *area) keptPigment(c *gin.Context, p material.Pigment, typed map[string]string, n form.Notices,
	err error) error {
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendPigment(c, http.StatusUnprocessableEntity, p, typed, n)
	}
	return frame.Go(c, fmt.Sprintf("/pigments/%d", p.ID))
}
