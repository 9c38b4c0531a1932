// Package commissions is the pages of what clients order.
package commissions

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/money"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct {
	*frame.Area
	cards *card.Maker
}

// Routes adds the area to the frame.
func Routes(f *frame.Frame, cards *card.Maker) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages, cards}
	a.GET("/commissions", a.list)
	a.GET("/commissions/new", a.blank)
	a.POST("/commissions", a.save)
	const one = "/commissions/:id"
	a.GET(one, a.show)
	a.POST(one, a.save)
	a.POST(one+"/undo", func(c *gin.Context) error {
		return a.back(c, a.Studio.Commissions.TakeBack(c.Request.Context(), frame.ID(c)))
	})
	a.POST(one+"/tiles", a.addTile)
	a.POST(one+"/boards", a.addBoard)
	a.POST(one+"/from-tile", a.fromTile)
	a.POST(one+"/choose", a.choose)
	a.Upload(one+"/pictures", picture.MaxBytes, a.addPicture)
	a.GET(one+"/pictures/:picture", a.picture)
	a.POST(one+"/remove", a.remove)
	a.POST(one+"/restore", a.restore)
	a.moneyRoutes()
	a.wallRoutes()
	return nil
}

const pageSize = 50

type listPage struct {
	frame.Pager
	Deals   []billing.Deal
	Boards  map[int64]card.Card // the first of each commission
	Removed int64
	Filters frame.Filters
	Chosen  bool // something besides a name is asked
}

// looks draws the first board of each commission.
func (a *area) looks(ctx context.Context, deals []billing.Deal) (map[int64]card.Card, error) {
	var list []pieces.Piece
	for _, d := range deals {
		if len(d.Boards) > 0 {
			list = append(list, d.Boards[0].Piece)
		}
	}
	cards, err := a.cards.Of(ctx, list)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]card.Card, len(cards))
	for _, k := range cards {
		out[k.View.Commission] = k
	}
	return out, nil
}

// filters are the choices, as they are asked.
func (a *area) filters(c *gin.Context) (frame.Filters, commissions.Filter, error) {
	ctx := c.Request.Context()
	book, err := a.Studio.Materials.Book(ctx)
	if err != nil {
		return nil, commissions.Filter{}, err
	}
	clients, months, err := a.Studio.Commissions.Choices(ctx)
	if err != nil {
		return nil, commissions.Filter{}, err
	}
	f := frame.WallFilters(c, book, form.Plain(commissions.States...), clients, months)
	return f, commissions.Filter{State: f.Of("state"), Technique: f.Of("technique"), Pigment: f.Of("pigment"),
		Client: f.Of("client"), Month: f.Of("month")}, nil
}

func (a *area) list(c *gin.Context) error {
	page := listPage{Pager: frame.Paged(c, pageSize), Removed: frame.Number(c.Query("removed"))}
	filters, asked, err := a.filters(c)
	if err != nil {
		return err
	}
	page.Filters, page.With = filters, filters.Asked()
	page.Chosen = len(page.With) > 0
	err = page.Load(func(find string, limit, offset int) (total int, err error) {
		asked.Find = find
		page.Deals, total, err = a.Studio.Billing.Deals(c.Request.Context(), asked, limit, offset)
		return total, err
	})
	if err != nil {
		return err
	}
	if page.Boards, err = a.looks(c.Request.Context(), page.Deals); err != nil {
		return err
	}
	if frame.FromHTMX(c) {
		return a.Part(c, http.StatusOK, "commissions", "rows", page)
	}
	return a.Show(c, http.StatusOK, "commissions",
		frame.Page{Title: msg.ID("Commissions"), Nav: "commissions", Data: page})
}

// A commissionPage is a commission with its tiles and boards.
type commissionPage struct {
	commissions.Commission
	Fields     map[string]form.View
	Sys        units.System
	Doubts     []msg.ID
	Tiles      []card.Card
	Boards     []card.Card
	Pictures   []int64
	Techniques technique.Book
	Wrong      msg.Text
	Deal       billing.Deal
	Money      money.Currency
	Changed    msg.Text // since it was agreed, in words
	Kinds      []documents.Kind
	Tongues    []documents.Tongue
	Tongue     string // the studio's
	Hung       []int64
	Undoable   bool // the last change was of the brief
}

// UsualDepth is how deep the sides of boards are that nobody has said (common practice).
func (p commissionPage) UsualDepth() msg.Figure {
	if p.Sys == units.US {
		return "3/4 in"
	}
	return (20 * units.Millimetre).Text(p.Sys)
}

// Named is the name of a kind of paper.
func (p commissionPage) Named(kind string) msg.ID { return named(kind) }

func named(kind string) msg.ID {
	if name := documents.Name(kind); name != "" {
		return name
	}
	return "Label for the back"
}

// doubtWords say what does not go together.
var doubtWords = map[commissions.Doubt]msg.ID{
	commissions.NoBoard:  "It has no board yet.",
	commissions.Unpoured: "Not all coats of its boards are poured.",
	commissions.NoChoice: "No test tile is chosen yet.",
}

func (a *area) blank(c *gin.Context) error {
	return a.send(c, http.StatusOK, commissions.Commission{State: commissions.Asked, Count: 1}, nil, form.NewNotices(),
		nil)
}

func (a *area) show(c *gin.Context) error {
	com, err := a.Studio.Commissions.Commission(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, com, nil, form.NewNotices(), nil)
}

func (a *area) send(c *gin.Context, status int, com commissions.Commission, typed map[string]string, n form.Notices,
	wrong msg.Text) error {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	page := commissionPage{Commission: com, Sys: set.Units, Wrong: wrong, Tongues: documents.Tongues,
		Tongue: string(set.Language),
		Fields: commissions.Fields.Views(&com, set.Style(), typed, n, nil)}
	title := msg.Text(msg.ID("New commission"))
	if com.ID != 0 {
		title = msg.Own(com.Name)
		if err := a.fill(c, &page); err != nil {
			return err
		}
	}
	return a.Show(c, status, "commission", frame.Page{Title: title, Nav: "commissions", Data: page})
}

// fill reads the pieces and pictures of a commission.
func (a *area) fill(c *gin.Context, page *commissionPage) error {
	ctx := c.Request.Context()
	list, err := a.Studio.Pieces.Of(ctx, page.ID)
	if err != nil {
		return err
	}
	cards, err := a.cards.Of(ctx, list)
	if err != nil {
		return err
	}
	for _, k := range cards {
		if k.View.Tile {
			page.Tiles = append(page.Tiles, k)
		} else {
			page.Boards = append(page.Boards, k)
		}
	}
	for _, d := range page.Commission.Doubts(len(page.Boards), func(i int) bool { return page.Boards[i].Made() }) {
		page.Doubts = append(page.Doubts, doubtWords[d])
	}
	if page.Pictures, err = a.Studio.Commissions.Pictures(ctx, page.ID); err != nil {
		return err
	}
	if page.Deal, err = a.Studio.Billing.Deal(ctx, page.ID); err != nil {
		return err
	}
	page.Money, page.Kinds = page.Deal.Total.Money(), documents.Kinds
	if page.Deal.Changes != nil {
		page.Changed = page.Deal.Changes.Words(page.Money.Text)
	}
	if _, page.Hung, err = a.Studio.Wall.Rooms(ctx, page.ID); err != nil {
		return err
	}
	backwards(page.Hung)
	if page.Undoable, err = a.Studio.Commissions.Changed(ctx, page.ID); err != nil {
		return err
	}
	book, err := a.Studio.Materials.Book(ctx)
	if err != nil {
		return err
	}
	page.Techniques = book.Techniques().Coats()
	return nil
}

// again shows the commission with what was refused.
func (a *area) again(c *gin.Context, wrong msg.Text) error {
	com, err := a.Studio.Commissions.Commission(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.send(c, http.StatusUnprocessableEntity, com, nil, form.NewNotices(), wrong)
}

func (a *area) save(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	com, n, err := a.Studio.Commissions.Save(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.send(c, http.StatusUnprocessableEntity, com, typed, n, nil)
	}
	return frame.Go(c, at(com.ID))
}

// at is the address of a commission.
func at(id int64) string { return fmt.Sprintf("/commissions/%d", id) }

func (a *area) back(c *gin.Context, err error) error {
	if refused, ok := frame.Refusal(err); ok {
		return a.again(c, msg.Own(refused.Error()))
	}
	if err != nil {
		return err
	}
	return frame.Go(c, at(frame.ID(c)))
}

func (a *area) toPiece(c *gin.Context, p pieces.Piece, err error) error {
	if refused, ok := frame.Refusal(err); ok {
		return a.again(c, msg.Own(refused.Error()))
	}
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(p.ID))
}

func (a *area) addTile(c *gin.Context) error {
	p, err := a.Studio.Commissions.AddTile(c.Request.Context(), frame.ID(c), c.PostForm("name"), c.PostForm("technique"))
	return a.toPiece(c, p, err)
}

func (a *area) addBoard(c *gin.Context) error {
	p, err := a.Studio.Commissions.AddBoard(c.Request.Context(), frame.ID(c))
	return a.toPiece(c, p, err)
}

func (a *area) fromTile(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Commissions.BoardsFromTile(c.Request.Context(), frame.ID(c), typed)
	for _, wrong := range n.Errors {
		return a.again(c, wrong)
	}
	return a.toPiece(c, p, err)
}

func (a *area) choose(c *gin.Context) error {
	return a.back(c, a.Studio.Commissions.ChooseTile(c.Request.Context(), frame.ID(c), frame.Number(c.PostForm("tile")),
		c.PostForm("why")))
}

func (a *area) addPicture(c *gin.Context) error {
	file, _, err := c.Request.FormFile("picture")
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return err
	}
	if err != nil {
		return a.again(c, msg.ID("choose a picture first"))
	}
	defer file.Close()
	return a.back(c, a.Studio.Commissions.AddPicture(c.Request.Context(), frame.ID(c), file))
}

func (a *area) picture(c *gin.Context) error {
	data, err := a.Studio.Commissions.Picture(c.Request.Context(), frame.ID(c), frame.Number(c.Param("picture")))
	if err != nil {
		return err
	}
	c.Data(http.StatusOK, "image/jpeg", data)
	return nil
}

func (a *area) remove(c *gin.Context) error {
	if err := a.Studio.Commissions.Remove(c.Request.Context(), frame.ID(c), false); err != nil {
		return err
	}
	return frame.Go(c, "/commissions?removed="+c.Param("id"))
}

func (a *area) restore(c *gin.Context) error {
	return a.back(c, a.Studio.Commissions.Remove(c.Request.Context(), frame.ID(c), true))
}
