// Package settings is the page of how a studio is set up, and of what its own
// pours have taught.
package settings

import (
	"embed"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/setup"
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
	a.GET("/settings", a.show)
	a.POST("/settings", a.save)
	a.POST("/settings/undo", a.undo)
	a.POST("/learning/:technique/reset", a.reset)
	return nil
}

type page struct {
	Rev      int64
	Fields   map[string]form.View
	Schools  []question
	Password form.View
	Secret   bool // a mail password is kept
	Learned  []learnt
	Saved    bool
	Undone   bool
	Sys      units.System
}

// A question is one that painters answer differently, with its field and why the default stands.
type question struct {
	school.Question
	Field form.View
}

type learnt struct {
	ID   string
	Name msg.Text
	plan.Learned
}

func (a *area) show(c *gin.Context) error {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, set, nil, form.NewNotices())
}

func (a *area) send(c *gin.Context, status int, set setup.Settings, typed map[string]string, n form.Notices) error {
	kept, err := a.Studio.Setup.Password()
	if err != nil {
		return err
	}
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	p := page{Rev: set.Rev, Fields: setup.Fields.Views(&set, set.Style(), typed, n, nil), Secret: kept != "",
		Saved: c.Query("saved") != "", Undone: c.Query("undone") != "", Sys: set.Units,
		Password: form.View{Key: setup.MailPassword, Label: msg.ID("Password"), Kind: form.Secret,
			Error: n.Errors[setup.MailPassword]}}
	if p.Secret {
		p.Password.Hint = msg.ID("saved; type to change it")
	}
	for _, s := range school.Questions {
		p.Schools = append(p.Schools, question{s, p.Fields[setup.SchoolField(s.Key)]})
	}
	for _, t := range book.Techniques() {
		if l := book.Learned[t.ID].Until(time.Time{}); l.Pours > 0 {
			p.Learned = append(p.Learned, learnt{t.ID, t.Name, l})
		}
	}
	return a.Show(c, status, "settings", frame.Page{Title: msg.ID("Settings"), Nav: "settings", Data: p})
}

func (a *area) save(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	set, n, err := a.Studio.Setup.Edit(c.Request.Context(), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.send(c, http.StatusUnprocessableEntity, set, typed, n)
	}
	return frame.Go(c, "/settings?saved=1")
}

func (a *area) undo(c *gin.Context) error {
	if err := a.Studio.Setup.TakeBack(c.Request.Context()); err != nil {
		return err
	}
	return frame.Go(c, "/settings?undone=1")
}

func (a *area) reset(c *gin.Context) error {
	if err := a.Studio.Materials.ResetLearning(c.Request.Context(), c.Param("technique")); err != nil {
		return err
	}
	return frame.Go(c, "/settings")
}
