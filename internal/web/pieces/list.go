package pieces

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
)

const pageSize = 12

type listPage struct {
	frame.Pager
	Cards   []card.Card
	Removed int64
	Told    msg.Text // of what was just made of several
	Made    []string // to take back
	Filters frame.Filters
	Chosen  bool // something besides a name is asked
}

// filters are the choices, as they are asked.
func (a *area) filters(c *gin.Context) (frame.Filters, store.PieceFilter, error) {
	ctx := c.Request.Context()
	book, err := a.Studio.Materials.Book(ctx)
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
	page := listPage{Pager: frame.Paged(c, pageSize), Removed: frame.Number(c.Query("removed")),
		Made: c.QueryArray("made")}
	page.Told = told(c, page.Made)
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
