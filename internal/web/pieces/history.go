package pieces

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A historyPage is what happened to a piece, the newest first.
type historyPage struct {
	ID      int64
	Name    string
	Changes []changeRow
}

// A changeRow is one change in words.
type changeRow struct {
	pieces.Change
	Lines []differenceRow
}

// A differenceRow is one value that changed.
type differenceRow struct {
	Where    msg.Text // coat and cup; nil for the piece
	Label    msg.Text
	From, To msg.Text
}

func (a *area) history(c *gin.Context) error {
	ctx := c.Request.Context()
	p, err := a.Studio.Pieces.Piece(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	changes, err := a.Studio.Pieces.History(ctx, p.ID)
	if err != nil {
		return err
	}
	page := historyPage{ID: p.ID, Name: p.Name}
	for _, ch := range changes {
		row := changeRow{Change: ch}
		for _, d := range ch.Fields {
			row.Lines = append(row.Lines, differenceRow{where(d), d.Label, d.From, d.To})
		}
		page.Changes = append(page.Changes, row)
	}
	return a.Show(c, http.StatusOK, "history",
		frame.Page{Title: msg.F("History: %s", p.Name), Nav: "pieces", Data: page})
}

// where names the coat, of a piece with several, and the cup.
func where(d pieces.Difference) msg.Text {
	var parts []msg.Text
	if d.Coat > 0 && d.Coats > 1 {
		parts = append(parts, words.Coat(&plan.Coat{Place: d.Coat - 1, Of: d.Coats}))
	}
	if d.Cup != "" {
		parts = append(parts, msg.Own(d.Cup))
	}
	if len(parts) == 0 {
		return nil
	}
	return msg.Join(", ", parts...)
}

func (a *area) goBack(c *gin.Context) error {
	p, err := a.Studio.Pieces.GoBack(c.Request.Context(), frame.ID(c), frame.Number(c.Param("rev")))
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(p.ID))
}
