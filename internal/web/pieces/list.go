package pieces

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
)

const pageSize = 24

type listPage struct {
	frame.Pager
	Cards   []card.Card
	Removed int64
	Filters frame.Filters
	Chosen  bool // something besides a name is asked
}

// filters are the choices, as they are asked.
func (a *area) filters(c *gin.Context) (frame.Filters, store.PieceFilter, error) {
	ctx := c.Request.Context()
	book, err := a.Studio.Shelf.Book(ctx)
	if err != nil {
		return nil, store.PieceFilter{}, err
	}
	clients, months, err := a.Studio.Pieces.Choices(ctx)
	if err != nil {
		return nil, store.PieceFilter{}, err
	}
	if who, _ := frame.VisitorOf(ctx); !who.Sees("/commissions") {
		clients = nil
	}
	f := frame.WallFilters(c, book, form.Plain("open", "idea", "done"), clients, months)
	return f, store.PieceFilter{State: f.Of("state"), Technique: f.Of("technique"), Pigment: f.Of("pigment"),
		Client: f.Of("client"), Month: f.Of("month")}, nil
}

func (a *area) list(c *gin.Context) error {
	page := listPage{Pager: frame.Paged(c, pageSize), Removed: frame.Number(c.Query("removed"))}
	ctx := c.Request.Context()
	filters, asked, err := a.filters(c)
	if err != nil {
		return err
	}
	page.Filters, page.With = filters, filters.Asked()
	page.Chosen = len(page.With) > 0
	var list []pieces.Piece
	err = page.Load(func(find string, limit, offset int) (total int, err error) {
		asked.Find = find
		list, total, err = a.Studio.Pieces.Found(ctx, asked, limit, offset)
		return total, err
	})
	if err != nil {
		return err
	}
	if page.Cards, err = a.cards.Of(ctx, list); err != nil {
		return err
	}
	if frame.FromHTMX(c) {
		return a.Part(c, http.StatusOK, "pieces", "cards", page)
	}
	return a.Show(c, http.StatusOK, "pieces", frame.Page{Title: msg.ID("Pieces"), Nav: "pieces", Data: page})
}

// A blankPage is the form of a new piece.
type blankPage struct {
	Fields     map[string]form.View
	Techniques []techniqueChoice
	Cups       []cupFields
	Errors     []string // that have no field here
	NoResin    bool     // nothing to pour with is on the shelf
}

// A techniqueChoice is a technique to choose, with what it is.
type techniqueChoice struct {
	ID      string
	Name    msg.Text
	Summary msg.Text
	Chosen  bool
}

func (a *area) blank(c *gin.Context) error {
	spec, _, err := a.Studio.Pieces.Draft(c.Request.Context())
	if err != nil {
		return err
	}
	return a.showBlank(c, http.StatusOK, spec, nil, form.NewNotices())
}

func (a *area) showBlank(c *gin.Context, status int, spec plan.Spec, typed map[string]string, n form.Notices) error {
	book, err := a.Studio.Shelf.Book(c.Request.Context())
	if err != nil {
		return err
	}
	page := blankPage{Fields: pieces.Fields(spec, book).Views(&spec, book.Settings.Style(), typed, n,
		pieces.Options(book))}
	first := spec.First()
	page.NoResin = first.Coat.Product == 0
	page.Cups = cupsOf(page.Fields, *first)
	chosen := page.Fields[pieces.CoatKey(first.ID, "technique")].Value
	for _, t := range book.Techniques().Coats() {
		page.Techniques = append(page.Techniques, techniqueChoice{t.ID, t.Name, t.Summary, t.ID == chosen})
	}
	return a.Show(c, status, "new", frame.Page{Title: msg.ID("New piece"), Nav: "pieces", Data: page})
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
	if !n.OK() {
		return a.showBlank(c, http.StatusUnprocessableEntity, p.Spec, typed, n)
	}
	return frame.Go(c, frame.Piece(p.ID))
}
