package journal

import (
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/learn"
	"jevvo/internal/web/frame"
)

// A strengthPage asks whether what a cured colour says of a pigment is taken over.
type strengthPage struct {
	learn.Strength
	Back  string
	Coat  string
	At    int
	Wrong *form.Refused
}

func (a *area) strength(c *gin.Context) error {
	at, cup := int(frame.Number(c.Query("spot"))), c.Query("cup")
	found, err := a.Studio.Learn.Strength(c.Request.Context(), frame.ID(c), c.Query("coat"), at, cup)
	page := strengthPage{Strength: found, Back: resultPath(c), Coat: c.Query("coat"), At: at}
	status := http.StatusOK
	if err != nil {
		if !errors.As(err, &page.Wrong) {
			return err
		}
		status = http.StatusUnprocessableEntity
	}
	return a.Show(c, status, "strength", frame.Page{Title: msg.ID("Strength"), Nav: "journal", Data: page})
}

func (a *area) strengthen(c *gin.Context) error {
	at, _ := strconv.Atoi(c.PostForm("spot"))
	if err := a.Studio.Learn.Strengthen(c.Request.Context(), frame.ID(c), c.PostForm("coat"), at,
		c.PostForm("cup")); err != nil {
		return err
	}
	return frame.Go(c, resultPath(c))
}
