package pieces

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/frame"
)

// chosen are the pieces of a form that names several.
func chosen(c *gin.Context) []int64 {
	var ids []int64
	for _, text := range c.PostFormArray("piece") {
		if id := frame.Number(text); id > 0 && !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	return ids
}

// finish says that the chosen pieces are done.
func (a *area) finish(c *gin.Context) error {
	made, err := a.Studio.Pieces.Finish(c.Request.Context(), chosen(c))
	return a.severalDone(c, "done", made, err)
}

// later plans the chosen pieces some days later.
func (a *area) later(c *gin.Context) error {
	days, err := strconv.Atoi(strings.TrimSpace(c.PostForm("days")))
	if err != nil {
		return &form.Refused{Field: "days", Err: refusal.New("type a whole number of days")}
	}
	made, err := a.Studio.Agenda.Later(c.Request.Context(), chosen(c), days)
	return a.severalDone(c, "later", made, err)
}

// severalDone leads back to the list, which says what was made and offers to take it back.
func (a *area) severalDone(c *gin.Context, what string, made []pieces.Made, err error) error {
	if err != nil {
		return err
	}
	q := url.Values{what: {""}}
	for _, m := range made {
		q.Add("made", fmt.Sprintf("%d.%d", m.Piece, m.Rev))
	}
	return frame.Go(c, "/pieces?"+q.Encode())
}

// takeBack takes back what was made of several pieces.
func (a *area) takeBack(c *gin.Context) error {
	stay, err := a.Studio.Pieces.TakeBack(c.Request.Context(), madeOf(c.PostFormArray("made")))
	if err != nil {
		return err
	}
	return frame.Go(c, "/pieces?stay="+strconv.Itoa(stay))
}

func madeOf(texts []string) []pieces.Made {
	var out []pieces.Made
	for _, text := range texts {
		id, rev, _ := strings.Cut(text, ".")
		out = append(out, pieces.Made{Piece: frame.Number(id), Rev: frame.Number(rev)})
	}
	return out
}

// told is what to say of what was just made of several pieces; nil for nothing.
func told(c *gin.Context, made []string) msg.Text {
	n := len(made)
	_, done := c.GetQuery("done")
	_, later := c.GetQuery("later")
	stay, back := c.GetQuery("stay")
	switch {
	case (done || later) && n == 0:
		return msg.ID("Nothing was changed.")
	case done:
		return msg.N(n, "piece is done.", "pieces are done.")
	case later:
		return msg.N(n, "piece is planned later.", "pieces are planned later.")
	case back && stay == "0":
		return msg.ID("Taken back.")
	case back:
		return msg.N(int(frame.Number(stay)), "piece was changed since and stays.",
			"pieces were changed since and stay.")
	}
	return nil
}
