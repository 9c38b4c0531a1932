package pieces

import (
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
)

// A blankPage is the form of a new piece.
type blankPage struct {
	Fields     map[string]form.View
	Techniques []techniqueChoice
	Chosen     techniqueChoice
	Cups       []cupFields
	Open       bool // one of the folded fields was refused
	NoResin    bool // nothing to pour with is owned
	Paints     bool // there are pigments to choose
	Anew       bool // only what follows from a choice is sent
}

// A techniqueChoice is a technique to choose, with what it is.
type techniqueChoice struct {
	ID      string
	Name    msg.Text
	Summary msg.Text
	Chosen  bool
}

// folded are the fields of a new piece that have a proposal most painters leave.
var folded = []string{"outline", "corners", "points", "path", "edge", "edge_height", "coat.first.amount",
	"coat.first.product"}

func (a *area) blank(c *gin.Context) error {
	typed := map[string]string{}
	for key := range c.Request.URL.Query() {
		typed[key] = c.Query(key)
	}
	spec, n, err := a.Studio.Pieces.Begun(c.Request.Context(), typed)
	if err != nil {
		return err
	}
	page, err := a.blankPage(c, spec, refusedOnly(typed, n), n)
	if err != nil {
		return err
	}
	if frame.FromHTMX(c) {
		page.Anew = true
		return a.Part(c, http.StatusOK, "new", "new-anew", page)
	}
	return a.showBlank(c, http.StatusOK, page)
}

func (a *area) showBlank(c *gin.Context, status int, page blankPage) error {
	return a.Show(c, status, "new", frame.Page{Title: msg.ID("New piece"), Nav: "pieces", Data: page})
}

func (a *area) blankPage(c *gin.Context, spec plan.Spec, typed map[string]string, n form.Notices) (blankPage, error) {
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return blankPage{}, err
	}
	page := blankPage{Fields: pieces.Fields(spec, book).Views(&spec, book.Settings.Style(), typed, n,
		pieces.Options(book))}
	first := spec.First()
	page.NoResin, page.Paints = first.Coat.Product == 0, len(book.Paints) > 0
	page.Cups = cupsOf(page.Fields, *first, nil)
	page.Open = slices.ContainsFunc(folded, func(key string) bool { return page.Fields[key].Error != nil })
	for _, t := range book.Techniques().Coats() {
		choice := techniqueChoice{t.ID, t.Name, t.Summary, t.ID == first.What}
		page.Techniques = append(page.Techniques, choice)
		if choice.Chosen {
			page.Chosen = choice
		}
	}
	return page, nil
}

func (a *area) create(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Pieces.Create(c.Request.Context(), typed)
	if err != nil {
		return err
	}
	if n.OK() {
		return frame.Go(c, frame.Piece(p.ID))
	}
	page, err := a.blankPage(c, p.Spec, typed, n)
	if err != nil {
		return err
	}
	return a.showBlank(c, http.StatusUnprocessableEntity, page)
}

// picture answers with a technique's picture: its drawing, or what it lays on a board where it has none.
func (a *area) picture(c *gin.Context) error {
	ctx := c.Request.Context()
	c.Header("Cache-Control", "private, max-age=3600")
	c.Header("Content-Type", "image/svg+xml")
	if drawn, err := pictures.ReadFile("pictures/" + c.Param("technique") + ".svg"); err == nil {
		c.Data(http.StatusOK, "image/svg+xml", drawn)
		return nil
	}
	book, err := a.Studio.Materials.Book(ctx)
	if err != nil {
		return err
	}
	t, _, err := a.Studio.Materials.Technique(ctx, c.Param("technique"))
	if err != nil {
		return err
	}
	p, err := drawing.OfTechnique(book.Context, t)
	if err != nil {
		return err
	}
	return a.Part(c, http.StatusOK, "picture", "technique-picture", p)
}
