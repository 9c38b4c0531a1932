// Package prices is the pages of money: what a piece costs and is asked, the studio's
// terms, and the year's sums.
package prices

import (
	"cmp"
	"context"
	"embed"
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/exchange/sheet"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/prices"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
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
	a.GET("/pieces/:id/price", a.price)
	a.POST("/pieces/:id/price", a.ask)
	a.GET("/settings/money", a.terms)
	a.POST("/settings/money", a.saveTerms)
	a.GET("/settings/money/logo.jpg", a.logo)
	a.Upload("/settings/money/logo", picture.MaxBytes, a.setLogo)
	a.POST("/settings/money/logo/remove", a.dropLogo)
	a.GET("/year", a.year)
	a.GET("/year.csv", a.yearFile)
	a.POST("/year/payments", a.pay)
	return nil
}

type pricePage struct {
	prices.Price
	Piece  pieces.Piece
	Sys    units.System
	Money  money.Currency
	Fields map[string]form.View
}

// Share prints a part of the whole.
func (p pricePage) Share(part decimal.Decimal) string {
	if !p.Quote.Net.IsPositive() {
		return "–"
	}
	return part.Mul(decimal.NewFromInt(100)).DivRound(p.Quote.Net, 0).String() + " %"
}

func (a *area) price(c *gin.Context) error {
	return a.sendPrice(c, http.StatusOK, nil, nil, form.NewNotices())
}

func (a *area) sendPrice(c *gin.Context, status int, asked *prices.Asked, typed map[string]string,
	n form.Notices) error {
	ctx := c.Request.Context()
	p, err := a.Studio.Pieces.Piece(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	v, err := a.Studio.Agenda.Plan(ctx, p)
	if err != nil {
		return err
	}
	price, err := a.Studio.Prices.Price(ctx, v)
	if err != nil {
		return err
	}
	if asked == nil {
		asked = &price.Asked
	}
	sys := v.Agenda.Book.Settings.Units
	page := pricePage{price, p, sys, price.Terms.Money(),
		prices.AskedFields.Views(asked, v.Agenda.Book.Settings.Style(), typed, n, nil)}
	return a.Show(c, status, "price", frame.Page{Title: msg.F("%s, price", p.Name), Nav: "pieces", Data: page})
}

func (a *area) ask(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	asked, n, err := a.Studio.Prices.Ask(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendPrice(c, http.StatusUnprocessableEntity, &asked, typed, n)
	}
	return frame.Go(c, frame.Piece(frame.ID(c), "/price"))
}

// A text is one that a studio can write itself.
type text struct {
	Key   string
	Kind  msg.ID
	Place string
	Usual string
	Own   string
}

type termsPage struct {
	prices.Terms
	Fields map[string]form.View
	Texts  []text
	Lang   string
	Logo   bool
	Saved  bool
	Wrong  string
}

func (a *area) terms(c *gin.Context) error {
	t, err := a.Studio.Prices.Terms(c.Request.Context())
	if err != nil {
		return err
	}
	return a.sendTerms(c, http.StatusOK, t, nil, form.NewNotices(), "")
}

func (a *area) sendTerms(c *gin.Context, status int, t prices.Terms, typed map[string]string, n form.Notices,
	wrong string) error {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	logo, err := a.Studio.Documents.Logo(c.Request.Context())
	if err != nil {
		return err
	}
	page := termsPage{Terms: t, Fields: prices.TermsFields.Views(&t, set.Style(), typed, n, nil), Lang: "en",
		Logo: logo != nil, Saved: c.Query("saved") != "", Wrong: wrong}
	if set.Language == words.German {
		page.Lang = string(words.German)
	}
	if asked := cmp.Or(typed["texts_lang"], c.Query("lang")); documents.TongueOf(asked).Texts == asked {
		page.Lang = asked
	}
	for _, key := range documents.Editable() {
		own := t.Texts[page.Lang+"."+key]
		if sent, ok := typed["text."+key]; ok {
			own = sent
		}
		page.Texts = append(page.Texts,
			text{Key: key, Kind: documents.Name(key[len("opening."):]), Place: key[:len("opening")],
				Usual: documents.Usual(page.Lang, key), Own: own})
	}
	return a.Show(c, status, "terms", frame.Page{Title: msg.ID("Money and documents"), Nav: "settings", Data: page})
}

func (a *area) saveTerms(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	before, err := a.Studio.Prices.Terms(c.Request.Context())
	if err != nil {
		return err
	}
	t, n, err := a.Studio.Prices.SaveTerms(c.Request.Context(), frame.Number(typed["rev"]), typed,
		ownTexts(before.Texts, typed))
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendTerms(c, http.StatusUnprocessableEntity, t, typed, n, "")
	}
	return frame.Go(c, "/settings/money?saved=1&lang="+langOf(typed))
}

func langOf(typed map[string]string) string {
	if typed["texts_lang"] == "de" {
		return "de"
	}
	return "en"
}

// longestText bounds a text of a paper.
const longestText = 2000

// ownTexts are the studio's texts with those of one language as typed.
func ownTexts(before, typed map[string]string) map[string]string {
	out := map[string]string{}
	for k, v := range before {
		out[k] = v
	}
	for _, key := range documents.Editable() {
		if sent, ok := typed["text."+key]; ok {
			out[langOf(typed)+"."+key] = pieces.Shorten(sent, longestText)
		}
	}
	return out
}

func (a *area) logo(c *gin.Context) error {
	data, err := a.Studio.Documents.Logo(c.Request.Context())
	if err != nil {
		return err
	}
	if data == nil {
		return frame.Missing
	}
	c.Data(http.StatusOK, "image/jpeg", data)
	return nil
}

func (a *area) setLogo(c *gin.Context) error {
	file, _, err := c.Request.FormFile("logo")
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		err = &form.Refused{Field: "logo", Err: picture.ErrTooLarge}
	case err != nil:
		err = form.Refusef("logo", "choose a picture first")
	default:
		defer file.Close()
		err = a.Studio.Documents.SetLogo(c.Request.Context(), file)
	}
	if refused, ok := frame.Refusal(err); ok {
		t, err := a.Studio.Prices.Terms(c.Request.Context())
		if err != nil {
			return err
		}
		return a.sendTerms(c, http.StatusUnprocessableEntity, t, nil, form.NewNotices(), refused.Error())
	}
	if err != nil {
		return err
	}
	return frame.Go(c, "/settings/money#letterhead")
}

func (a *area) dropLogo(c *gin.Context) error {
	if err := a.Studio.Documents.SetLogo(c.Request.Context(), nil); err != nil {
		return err
	}
	return frame.Go(c, "/settings/money#letterhead")
}

// A bar is a month in the plot: heights in shares of the highest.
type bar struct {
	billing.Month
	X, In, Out float64
}

// A row is what was made in a month, as it hangs.
type row struct {
	Name  msg.Text
	Cards []card.Card
	More  int // than hang there
}

// mostHung are shown of a month.
const mostHung = 24

// hang shows the pieces that were made, month by month.
func (a *area) hang(ctx context.Context, y billing.Year) ([]row, error) {
	var out []row
	for _, m := range y.Months {
		if len(m.Pieces) == 0 {
			continue
		}
		shown := m.Pieces[:min(len(m.Pieces), mostHung)]
		cards, err := a.cards.Of(ctx, shown)
		if err != nil {
			return nil, err
		}
		out = append(out, row{m.Name, cards, len(m.Pieces) - len(shown)})
	}
	return out, nil
}

type yearPage struct {
	billing.Year
	Money money.Currency
	Bars  []bar
	Wall  []row
	Top   msg.Figure
	Wrong string
	Typed map[string]string
}

func (a *area) year(c *gin.Context) error {
	return a.sendYear(c, http.StatusOK, "", map[string]string{})
}

func (a *area) asked(c *gin.Context) int {
	y, err := strconv.Atoi(c.Query("year"))
	if err != nil || y < 2000 || y > 2200 {
		return a.Studio.Now().Local().Year()
	}
	return y
}

func (a *area) sendYear(c *gin.Context, status int, wrong string, typed map[string]string) error {
	y, err := a.Studio.Billing.Year(c.Request.Context(), a.asked(c))
	if err != nil {
		return err
	}
	page := yearPage{Year: y, Money: y.Terms.Money(), Wrong: wrong, Typed: typed}
	top := decimal.NewFromInt(1)
	for _, m := range y.Months {
		top = decimal.Max(top, m.Income, m.Spent)
	}
	high := func(v decimal.Decimal) float64 { return v.Div(top).InexactFloat64() * plotHeight }
	for i, m := range y.Months {
		page.Bars = append(page.Bars, bar{m, float64(i) * plotStep, high(m.Income), high(m.Spent)})
	}
	page.Top = page.Money.Text(top)
	if page.Wall, err = a.hang(c.Request.Context(), y); err != nil {
		return err
	}
	return a.Show(c, status, "year", frame.Page{Title: msg.F("The year %d", y.Year), Nav: "commissions", Data: page})
}

// Of the plot, in its own units.
const (
	plotHeight = 100.0
	plotStep   = 50.0
)

// From is where a bar of a height begins, from above.
func (b bar) From(h float64) float64 { return plotHeight - h }

func (a *area) yearFile(c *gin.Context) error {
	y, err := a.Studio.Billing.Year(c.Request.Context(), a.asked(c))
	if err != nil {
		return err
	}
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", `attachment; filename="year-`+strconv.Itoa(y.Year)+`.csv"`)
	return sheet.Write(c.Writer, y.Rows())
}

// pay keeps what was spent or came in outside of commissions.
func (a *area) pay(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	err = a.Studio.Billing.Pay(c.Request.Context(), 0, typed["way"] == "out", typed)
	if refused, ok := frame.Refusal(err); ok {
		return a.sendYear(c, http.StatusUnprocessableEntity, refused.Error(), typed)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, "/year")
}
