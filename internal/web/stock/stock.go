// Package stock is the pages of what the studio owns: what is there and what the open
// pieces will take of it, each thing with its entries, and what to order.
package stock

import (
	"embed"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/sheet"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/reorder"
	"jevvo/internal/studio/stock"
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
	a.GET("/stock", a.list)
	a.GET("/stock/orders", a.orders)
	a.GET("/stock/orders.csv", a.ordersFile)
	a.POST("/stock/orders", a.receive)
	a.GET("/stock/goods/new", func(c *gin.Context) error {
		return a.sendGoods(c, http.StatusOK, stock.NewGoods(), nil, form.NewNotices())
	})
	a.POST("/stock/goods", a.saveGoods)
	a.GET("/stock/goods/:id", a.goods)
	a.POST("/stock/goods/:id", a.saveGoods)
	a.POST("/stock/goods/:id/undo", a.undoGoods)
	a.POST("/stock/goods/:id/retire", a.retire(true))
	a.POST("/stock/goods/:id/return", a.retire(false))
	a.GET("/stock/of/:thing", a.thing)
	a.POST("/stock/of/:thing/buy", a.act(func(c *gin.Context, t stock.Thing, typed map[string]string) error {
		return a.Studio.Stock.Buy(c.Request.Context(), t, typed)
	}))
	a.POST("/stock/of/:thing/count", a.act(func(c *gin.Context, t stock.Thing, typed map[string]string) error {
		return a.Studio.Stock.Count(c.Request.Context(), t, typed["amount"], typed["reason"])
	}))
	a.POST("/stock/of/:thing/take", a.act(func(c *gin.Context, t stock.Thing, typed map[string]string) error {
		return a.Studio.Stock.Take(c.Request.Context(), t, typed["back"] == "yes", typed["amount"], typed["reason"])
	}))
	a.POST("/stock/of/:thing/open/:lot", a.act(func(c *gin.Context, t stock.Thing, _ map[string]string) error {
		return a.Studio.Stock.Open(c.Request.Context(), t, frame.Number(c.Param("lot")))
	}))
	return nil
}

// A page is the data all pages of the area share.
type page struct {
	Sys   units.System
	Style form.Style
	Money money.Currency
	Now   time.Time
}

func (a *area) page(c *gin.Context) (page, error) {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return page{}, err
	}
	terms, err := a.Studio.Prices.Terms(c.Request.Context())
	return page{set.Units, set.Style(), terms.Money(), a.Studio.Now()}, err
}

// A group is the lines of one kind.
type group struct {
	Name  msg.ID
	Lines []reorder.Line
}

type listPage struct {
	page
	Groups []group
	Short  int
	Unsure int // that something is planned with, never bought or counted: whether they last is not known
	Orders int
	Value  msg.Figure
	Empty  bool // nothing was ever booked
	All    bool // also what was never bought
}

func (a *area) list(c *gin.Context) error {
	p, err := a.page(c)
	if err != nil {
		return err
	}
	lines, err := a.Studio.Reorder.Lines(c.Request.Context())
	if err != nil {
		return err
	}
	out := listPage{page: p, Short: len(reorder.Short(lines)), Empty: true, All: c.Query("all") != ""}
	for _, o := range reorder.Orders(lines) {
		out.Orders += len(o.Lines)
	}
	groups := map[store.Kind]*group{store.Resins: {Name: "Resins"}, store.Pigments: {Name: "Pigments"},
		store.Goods: {Name: "Boards, additives and consumables"}}
	sum := decimal.Zero
	for _, l := range lines {
		sum = sum.Add(l.Value)
		if len(l.Needs) > 0 && !l.Known() {
			out.Unsure++
		}
		out.Empty = out.Empty && len(l.Entries) == 0
		if out.All || l.Kind == store.Goods && !l.Retired || len(l.Entries) > 0 || len(l.Needs) > 0 {
			groups[l.Kind].Lines = append(groups[l.Kind].Lines, l)
		}
	}
	for _, k := range []store.Kind{store.Resins, store.Pigments, store.Goods} {
		if len(groups[k].Lines) > 0 {
			out.Groups = append(out.Groups, *groups[k])
		}
	}
	out.Value = p.Money.Text(sum)
	return a.Show(c, http.StatusOK, "stock", frame.Page{Title: msg.ID("Stock"), Nav: "materials", Data: out})
}

type thingPage struct {
	page
	reorder.Line
	Entries []stock.Entry // newest first
	Wrong   string
	Typed   map[string]string
	Sheet   string // address of what it is
}

// mostEntries is how many entries a page shows.
const mostEntries = 200

func (a *area) thing(c *gin.Context) error {
	return a.sendThing(c, http.StatusOK, "", map[string]string{})
}

func (a *area) sendThing(c *gin.Context, status int, wrong string, typed map[string]string) error {
	t, ok := stock.ParseThing(c.Param("thing"))
	if !ok {
		return frame.Missing
	}
	p, err := a.page(c)
	if err != nil {
		return err
	}
	lines, err := a.Studio.Reorder.Lines(c.Request.Context())
	if err != nil {
		return err
	}
	for _, l := range lines {
		if l.Thing != t {
			continue
		}
		out := thingPage{page: p, Line: l, Wrong: wrong, Typed: typed, Sheet: sheetOf(t)}
		for i := len(l.Item.Entries) - 1; i >= 0 && len(out.Entries) < mostEntries; i-- {
			out.Entries = append(out.Entries, l.Item.Entries[i])
		}
		return a.Show(c, status, "thing", frame.Page{Title: msg.F("%s, stock", l.Name), Nav: "materials", Data: out})
	}
	return store.ErrNotFound
}

// sheetOf is the address of a thing's own page.
func sheetOf(t stock.Thing) string {
	at := map[store.Kind]string{store.Resins: "/materials/%d", store.Pigments: "/pigments/%d",
		store.Goods: "/stock/goods/%d"}
	return fmt.Sprintf(at[t.Kind], t.ID)
}

// act does something with a thing and shows it again; what is refused stays typed.
func (a *area) act(do func(*gin.Context, stock.Thing, map[string]string) error) frame.Handler {
	return func(c *gin.Context) error {
		t, ok := stock.ParseThing(c.Param("thing"))
		if !ok {
			return frame.Missing
		}
		typed, err := frame.Typed(c)
		if err != nil {
			return err
		}
		err = do(c, t, typed)
		if refused, ok := frame.Refusal(err); ok {
			return a.sendThing(c, http.StatusUnprocessableEntity, refused.Error(), typed)
		}
		if err != nil {
			return err
		}
		return frame.Go(c, "/stock/of/"+t.String())
	}
}

type goodsPage struct {
	stock.Goods
	Fields  map[string]form.View
	Changed bool // its last change can be taken back
}

func (a *area) goods(c *gin.Context) error {
	l, err := a.Studio.Stock.Ledger(c.Request.Context())
	if err != nil {
		return err
	}
	item, ok := l.Of(stock.Thing{Kind: store.Goods, ID: frame.ID(c)})
	if !ok {
		return store.ErrNotFound
	}
	return a.sendGoods(c, http.StatusOK, *item.Goods, nil, form.NewNotices())
}

func (a *area) sendGoods(c *gin.Context, status int, g stock.Goods, typed map[string]string, n form.Notices) error {
	p, err := a.page(c)
	if err != nil {
		return err
	}
	title := msg.Text(msg.Own(g.Name))
	if g.ID == 0 {
		title = msg.ID("New goods")
	}
	changed, err := a.Studio.Materials.Changed(c.Request.Context(), store.Goods, g.ID)
	if err != nil {
		return err
	}
	page := goodsPage{g, stock.GoodsFields.Views(&g, p.Style, typed, n, nil), changed}
	return a.Show(c, status, "goods", frame.Page{Title: title, Nav: "materials", Data: page})
}

func (a *area) saveGoods(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	g, n, err := a.Studio.Stock.SaveGoods(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendGoods(c, http.StatusUnprocessableEntity, g, typed, n)
	}
	return frame.Go(c, "/stock/of/"+stock.Thing{Kind: store.Goods, ID: g.ID}.String())
}

func (a *area) undoGoods(c *gin.Context) error {
	if err := a.Studio.Materials.TakeBack(c.Request.Context(), store.Goods, frame.ID(c)); err != nil {
		return err
	}
	return frame.Go(c, "/stock/goods/"+c.Param("id"))
}

func (a *area) retire(off bool) frame.Handler {
	return func(c *gin.Context) error {
		if err := a.Studio.Stock.RetireGoods(c.Request.Context(), frame.ID(c), off); err != nil {
			return err
		}
		return frame.Go(c, "/stock")
	}
}

type ordersPage struct {
	page
	Orders []reorder.Order
	Wrong  string
	Typed  map[string]string
}

func (a *area) orders(c *gin.Context) error {
	return a.sendOrders(c, http.StatusOK, "", map[string]string{})
}

func (a *area) sendOrders(c *gin.Context, status int, wrong string, typed map[string]string) error {
	p, err := a.page(c)
	if err != nil {
		return err
	}
	lines, err := a.Studio.Reorder.Lines(c.Request.Context())
	if err != nil {
		return err
	}
	return a.Show(c, status, "orders",
		frame.Page{Title: msg.ID("To order"), Nav: "materials", Data: ordersPage{p, reorder.Orders(lines), wrong, typed}})
}

// ordersFile is the order list for a spreadsheet or a supplier.
func (a *area) ordersFile(c *gin.Context) error {
	lines, err := a.Studio.Reorder.Lines(c.Request.Context())
	if err != nil {
		return err
	}
	terms, err := a.Studio.Prices.Terms(c.Request.Context())
	if err != nil {
		return err
	}
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", `attachment; filename="to-order.csv"`)
	rows := [][]string{{"supplier", "what", "packs", "a_pack", "unit", "about_" + terms.Currency, "order_by"}}
	for _, o := range reorder.Orders(lines) {
		for _, l := range o.Lines {
			rows = append(rows, []string{l.Supplier, l.Name, fmt.Sprint(l.Packs()), units.Fixed(l.Pack, 2), l.Unit,
				l.Cost().StringFixed(int32(terms.Digits)), l.OrderBy.Format(time.DateOnly)})
		}
	}
	return sheet.Write(c.Writer, rows)
}

func (a *area) receive(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	amounts, prices := map[stock.Thing]string{}, map[stock.Thing]string{}
	for key, text := range typed {
		field, name, _ := strings.Cut(key, ".")
		t, ok := stock.ParseThing(name)
		switch {
		case ok && field == "amount":
			amounts[t] = text
		case ok && field == "price":
			prices[t] = text
		}
	}
	_, err = a.Studio.Stock.Receive(c.Request.Context(), amounts, prices, typed["supplier"])
	if refused, ok := frame.Refusal(err); ok {
		return a.sendOrders(c, http.StatusUnprocessableEntity, refused.Error(), typed)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, "/stock/orders")
}
