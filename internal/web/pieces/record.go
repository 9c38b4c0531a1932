package pieces

import (
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/verdict"
	"jevvo/internal/exchange/svgoutline"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/web/frame"
)

func (a *area) recordUse(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	id, coat := frame.ID(c), c.Param("coat")
	said, status := form.NewNotices(), http.StatusOK
	note, err := a.Studio.Bench.RecordUse(c.Request.Context(), id, coat, typed["used"])
	if refused, ok := frame.Refusal(err); ok {
		said, status = frame.At(refused, "used"), http.StatusUnprocessableEntity
	} else if err != nil {
		return err
	} else {
		said.Notes["used"] = msg.Sentences(msg.ID("recorded; the next estimate learns from it."), note)
	}
	return a.sendUse(c, status, id, coat, typed, said)
}

// sendUse shows the piece with what is said beside the record.
func (a *area) sendUse(c *gin.Context, status int, id int64, coat string, typed map[string]string,
	said form.Notices) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), id)
	if err != nil {
		return err
	}
	page, err := a.page(c.Request.Context(), sending{Piece: p, Coat: coat, Said: said, Parts: askedParts(c)})
	if err != nil {
		return err
	}
	page.Fields["used"] = form.View{Key: "used", Value: refusedOnly(typed, said)["used"], Error: said.Errors["used"],
		Note: said.Notes["used"]}
	if frame.FromHTMX(c) {
		page.Live = true
		return a.Part(c, status, "piece", "piece-live", page)
	}
	return a.whole(c, status, page)
}

// outline takes a board's outline from an SVG drawing.
func (a *area) outline(c *gin.Context) error {
	file, _, err := c.Request.FormFile("drawing")
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		return a.refuseOutline(c, http.StatusRequestEntityTooLarge, svgoutline.ErrTooLarge)
	case err != nil:
		return a.refuseOutline(c, http.StatusUnprocessableEntity, refusal.New("choose an SVG drawing first"))
	}
	defer file.Close()
	p, sized, err := a.Studio.Pieces.UploadOutline(c.Request.Context(), frame.ID(c), file)
	if refused, ok := frame.Refusal(err); ok {
		status := http.StatusUnprocessableEntity
		if errors.Is(refused.Err, svgoutline.ErrTooLarge) {
			status = http.StatusRequestEntityTooLarge
		}
		return a.refuseOutline(c, status, refused.Err)
	}
	if err != nil {
		return err
	}
	note := "?part=surface"
	if !sized {
		note += "&unsized=1"
	}
	return frame.Go(c, frame.Piece(p.ID, note, "#surface"))
}

// refuseOutline shows the piece as it was, with what is wrong at the field.
func (a *area) refuseOutline(c *gin.Context, status int, why error) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	page, err := a.page(c.Request.Context(), sending{Piece: p, Said: form.NewNotices(),
		Parts: []string{string(verdict.PartSurface)}})
	if err != nil {
		return err
	}
	page.Fields["drawing"] = form.View{Key: "drawing", Error: msg.Of(why)}
	return a.whole(c, status, page)
}
