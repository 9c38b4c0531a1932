package commissions

import (
	"errors"
	"fmt"
	"io"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/money"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/documents"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
)

// moneyRoutes are offer, approval, papers and payments of a commission.
func (a *area) moneyRoutes() {
	const one = "/commissions/:id"
	a.POST(one+"/shown", a.shown)
	a.Upload(one+"/approve", picture.MaxBytes, a.approve)
	a.GET(one+"/letters/:letter", a.letter)
	a.POST(one+"/payments", a.pay)
	a.POST(one+"/papers", a.makePaper)
	a.GET("/papers/:id", a.paper)
	a.GET("/papers/:id/paper.pdf", a.paperFile)
	a.GET("/papers/:id/pictures/:n", a.paperPicture)
	a.POST("/papers/:id/send", a.sendPaper)
	a.GET("/client", a.client)
}

func (a *area) shown(c *gin.Context) error {
	return a.back(c, a.Studio.Billing.Show(c.Request.Context(), frame.ID(c), c.PostForm("what")))
}

// sent opens an uploaded file, nil where none was chosen.
func sent(c *gin.Context, field string) (io.ReadCloser, error) {
	file, _, err := c.Request.FormFile(field)
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		return nil, &form.Refused{Field: field, Err: picture.ErrTooLarge}
	case errors.Is(err, http.ErrMissingFile):
		return nil, nil
	case err != nil:
		return nil, form.Refusef(field, "the form could not be read; send it again")
	}
	return file, nil
}

func (a *area) approve(c *gin.Context) error {
	file, err := sent(c, "letter")
	if err != nil {
		return a.back(c, err)
	}
	var letter io.Reader
	if file != nil {
		defer file.Close()
		letter = file
	}
	return a.back(c, a.Studio.Billing.Approve(c.Request.Context(), frame.ID(c), c.PostForm("note"), letter))
}

func (a *area) letter(c *gin.Context) error {
	data, err := a.Studio.Billing.Letter(c.Request.Context(), frame.ID(c), frame.Number(c.Param("letter")))
	return jpegOr(c, data, err)
}

func jpegOr(c *gin.Context, data []byte, err error) error {
	if err != nil {
		return err
	}
	c.Data(http.StatusOK, "image/jpeg", data)
	return nil
}

func (a *area) pay(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	return a.back(c, a.Studio.Billing.Pay(c.Request.Context(), frame.ID(c), typed["way"] == "back", typed))
}

func (a *area) makePaper(c *gin.Context) error {
	p, err := a.Studio.Documents.Make(c.Request.Context(), frame.ID(c), c.PostForm("kind"), c.PostForm("lang"),
		c.PostForm("opening"))
	if err != nil {
		return a.back(c, err)
	}
	return frame.Go(c, fmt.Sprintf("/papers/%d", p.ID))
}

// A paperPage is a paper as a page that prints.
type paperPage struct {
	documents.Kept
	Small bool
	To    string // an address it can be sent to
	Wrong string
	Sent  bool
}

func (a *area) paper(c *gin.Context) error {
	return a.showPaper(c, http.StatusOK, "", "")
}

func (a *area) showPaper(c *gin.Context, status int, to, wrong string) error {
	p, err := a.Studio.Documents.Kept(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	k, _ := documents.FindKind(p.Kind)
	page := paperPage{Kept: p, Small: k.Small, To: to, Wrong: wrong, Sent: c.Query("sent") != ""}
	if page.To == "" {
		if com, err := a.Studio.Commissions.Commission(c.Request.Context(), p.Commission); err == nil {
			page.To = com.Contact
		}
	}
	return a.Show(c, status, "paper", frame.Page{Title: msg.Own(p.Title + " " + p.Number), Nav: "commissions", Data: page})
}

func (a *area) paperFile(c *gin.Context) error {
	p, err := a.Studio.Documents.Kept(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	data, err := a.Studio.Documents.PDF(c.Request.Context(), p.ID)
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", `inline; filename="`+p.Number+`.pdf"`)
	c.Data(http.StatusOK, "application/pdf", data)
	return nil
}

// paperPicture is a board, an option or the logo of a paper as it was made.
func (a *area) paperPicture(c *gin.Context) error {
	p, err := a.Studio.Documents.Kept(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	data, ok := p.Shown(c.Param("n"))
	if !ok {
		return frame.Missing
	}
	return jpegOr(c, data, nil)
}

func (a *area) sendPaper(c *gin.Context) error {
	to := c.PostForm("to")
	err := a.Studio.Documents.Send(c.Request.Context(), frame.ID(c), to, c.PostForm("text"))
	if refused, ok := frame.Refusal(err); ok {
		return a.showPaper(c, http.StatusUnprocessableEntity, to, refused.Error())
	}
	if err != nil {
		return err
	}
	return frame.Go(c, fmt.Sprintf("/papers/%d?sent=1", frame.ID(c)))
}

type clientPage struct {
	billing.Client
	Money  money.Currency
	Boards []card.Card
	Named  func(string) msg.ID
}

// client is all that a client ordered and bought.
func (a *area) client(c *gin.Context) error {
	ctx := c.Request.Context()
	cl, err := a.Studio.Billing.Client(ctx, c.Query("name"))
	if err != nil {
		return err
	}
	terms, err := a.Studio.Prices.Terms(ctx)
	if err != nil {
		return err
	}
	page := clientPage{Client: cl, Money: terms.Money(), Named: named}
	if page.Boards, err = a.cards.Of(ctx, cl.Pieces); err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "client", frame.Page{Title: msg.Own(cl.Name), Nav: "commissions", Data: page})
}
