package materials

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/technique"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/web/frame"
)

func (a *area) techniqueRoutes() {
	a.GET("/techniques", func(c *gin.Context) error { return a.listPage(c, "techniques", "Techniques", nil) })
	a.GET("/techniques/:technique", a.technique)
	a.POST("/techniques/:technique", a.saveTechnique)
	a.POST("/techniques/:technique/copy", a.copyTechnique)
	a.POST("/techniques/:technique/undo", a.takeTechniqueBack)
	a.POST("/techniques/:technique/steps/:at/:how", a.changeStep)
}

func toTechnique(id string) string { return "/techniques/" + id }

func (a *area) copyTechnique(c *gin.Context) error {
	fresh, err := a.Studio.Materials.CopyTechnique(c.Request.Context(), c.Param("technique"),
		msg.LangOf(c.Request.Context()))
	if err != nil {
		return err
	}
	return frame.Go(c, toTechnique(fresh))
}

func (a *area) takeTechniqueBack(c *gin.Context) error {
	if err := a.Studio.Materials.TakeTechniqueBack(c.Request.Context(), c.Param("technique")); err != nil {
		return err
	}
	return frame.Go(c, toTechnique(c.Param("technique")))
}

func (a *area) changeStep(c *gin.Context) error {
	at, err := strconv.Atoi(c.Param("at"))
	if err != nil {
		return frame.Missing
	}
	if err := a.Studio.Materials.ChangeStep(c.Request.Context(), c.Param("technique"), at, c.Param("how")); err != nil {
		return err
	}
	return frame.Go(c, toTechnique(c.Param("technique")))
}

// A techniquePage is one technique; a studio's own can be changed.
type techniquePage struct {
	technique.Technique
	Rev    int64
	Fields map[string]form.View
	Brings []msg.Text // what a coat of it brings besides resin and pigment
	Steps  []stepRow
	Lesson lesson

	Changed bool // and can be taken back
}

// Timed reports whether this studio has times of its own for it.
func (p techniquePage) Timed() bool {
	return slices.ContainsFunc(p.Steps, func(s stepRow) bool { return s.Own != nil })
}

// A stepRow is a step with its fields, for a technique of the studio's own.
type stepRow struct {
	technique.Step
	Times []form.View
	Says  []form.View
	Own   *technique.Pace // this studio's own time, where it is known
}

func (a *area) technique(c *gin.Context) error {
	t, rev, err := a.Studio.Materials.Technique(c.Request.Context(), c.Param("technique"))
	if err != nil {
		return err
	}
	return a.sendTechnique(c, http.StatusOK, t, rev, nil, form.NewNotices())
}

func (a *area) sendTechnique(c *gin.Context, status int, t technique.Technique, rev int64, typed map[string]string,
	n form.Notices) error {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	page := techniquePage{Technique: t, Rev: rev, Fields: materials.TechniqueFields(t).Views(&t, set.Style(), typed, n,
		nil)}
	for _, need := range t.Needs {
		if m, ok := technique.FindMaterial(need.Material); ok {
			page.Brings = append(page.Brings, msg.Lower(m.Name))
		}
	}
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	for i, s := range t.Steps {
		at := func(names ...string) []form.View {
			var out []form.View
			for _, name := range names {
				out = append(out, page.Fields[fmt.Sprintf("step.%d.%s", i, name)])
			}
			return out
		}
		page.Steps = append(page.Steps,
			stepRow{s, at("name", "fixed", "cup", "m2", "window"), at("do", "look"), own(book.Paces[t.ID], s.ID)})
	}
	if page.Lesson, err = a.lessonOf(c.Request.Context(), t); err != nil {
		return err
	}
	if page.Changed, err = a.Studio.Materials.TechniqueChanged(c.Request.Context(), t.ID); err != nil {
		return err
	}
	return a.Show(c, status, "technique", frame.Page{Title: t.Name, Nav: "materials", Data: page})
}

func own(paces map[string]technique.Pace, step string) *technique.Pace {
	if p, ok := paces[step]; ok {
		return &p
	}
	return nil
}

func (a *area) saveTechnique(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	rev := frame.Number(typed["rev"])
	t, n, err := a.Studio.Materials.SaveTechnique(c.Request.Context(), c.Param("technique"), rev, typed,
		msg.LangOf(c.Request.Context()))
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendTechnique(c, http.StatusUnprocessableEntity, t, rev, typed, n)
	}
	return frame.Go(c, toTechnique(c.Param("technique")))
}
