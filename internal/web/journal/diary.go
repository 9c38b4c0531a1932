package journal

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/learn"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A diaryPage is the journal of one piece, to print or to take along.
type diaryPage struct {
	agenda.View
	Coats   []told
	Entries []line
	Causes  []learn.Confirmed
}

// A told is a coat with what came of it.
type told struct {
	Name   msg.Text
	ID     string
	Result journal.Result
	Photos []journal.Photo
}

// diaryOf gathers the journal of a piece, the oldest entry first.
func (a *area) diaryOf(c *gin.Context) (diaryPage, error) {
	ctx := c.Request.Context()
	var page diaryPage
	first, err := a.Studio.Journal.View(ctx, frame.ID(c), "")
	if err != nil {
		return page, err
	}
	page.View = first.View
	for i := range first.Plan.Coats {
		v, err := a.Studio.Journal.View(ctx, frame.ID(c), first.Plan.Coats[i].ID)
		if err != nil {
			return page, err
		}
		if !v.Result.Filled() {
			v.Result = journal.Result{}
		}
		page.Coats = append(page.Coats, told{words.Coat(v.Coat), v.Coat.ID, v.Result, v.Photos})
	}
	if page.Causes, err = a.Studio.Learn.ConfirmedOf(ctx, frame.ID(c)); err != nil {
		return page, err
	}
	asked := journal.Asked{Piece: frame.ID(c)}
	for {
		entries, more, err := a.Studio.Journal.Find(ctx, asked)
		if err != nil {
			return page, err
		}
		for _, e := range entries {
			page.Entries = append([]line{{msg.Date(e.At.Local(), "Mon 2 Jan 2006 15:04"), e.Kind, e.Title, body(e), "", ""}},
				page.Entries...)
		}
		if !more {
			return page, nil
		}
		asked.Before = entries[len(entries)-1].ID
	}
}

func (a *area) diary(c *gin.Context) error {
	page, err := a.diaryOf(c)
	if err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "diary",
		frame.Page{Title: msg.F("Journal of %s", page.Name), Nav: "journal", Data: page})
}

// export sends the journal of a piece as a folder of open files.
func (a *area) export(c *gin.Context) error {
	page, err := a.diaryOf(c)
	if err != nil {
		return err
	}
	frame.Attach(c, fmt.Sprintf("journal-%d.zip", page.ID))
	c.Header("Content-Type", "application/zip")
	c.Status(http.StatusOK)
	z := zip.NewWriter(c.Writer)
	put := func(name string, data []byte) error {
		w, err := z.Create(name)
		if err == nil {
			_, err = w.Write(data)
		}
		return err
	}
	if err := put("README.md", []byte(page.Markdown(msg.LangOf(c.Request.Context())))); err != nil {
		return nil // the reader has gone
	}
	data, err := json.MarshalIndent(map[string]any{"piece": page.Name, "coats": page.Coats, "entries": page.Entries,
		"causes": page.Causes}, "", "  ")
	if err != nil {
		return err
	}
	if err := put("journal.json", data); err != nil {
		return nil
	}
	for _, t := range page.Coats {
		for _, p := range t.Photos {
			data, err := a.Studio.Journal.PhotoPicture(c.Request.Context(), page.ID, p.ID, false)
			if err != nil {
				return err
			}
			if err := put(photoName(t, p), data); err != nil {
				return nil
			}
		}
	}
	return z.Close()
}

func photoName(t told, p journal.Photo) string {
	return fmt.Sprintf("photos/%s-%d-%s.jpg", t.ID, p.ID, p.Moment)
}

// Markdown is the journal in words.
func (p diaryPage) Markdown(l msg.Lang) string {
	var b strings.Builder
	plain := func(t msg.Text) string { return plain(msg.Say(t, l)) }
	fmt.Fprintf(&b, "# %s\n", plain(msg.Own(p.Name)))
	for _, t := range p.Coats {
		fmt.Fprintf(&b, "\n## %s\n\n", plain(t.Name))
		if t.Result.Filled() {
			fmt.Fprintf(&b, "%s, %s, %s.\n", plain(t.Result.Made.Technique), plain(msg.Own(t.Result.Made.Resin)),
				plain(msg.F("%.1f mm at %.0f °C", float64(t.Result.Made.Film), float64(t.Result.Made.Room))))
			for _, text := range []msg.Text{t.Result.Words(), msg.Own(t.Result.Edges), msg.Own(t.Result.Moments)} {
				if msg.Is(text) {
					fmt.Fprintf(&b, "\n%s\n", plain(text))
				}
			}
		}
		for _, photo := range t.Photos {
			fmt.Fprintf(&b, "\n![%s](%s)\n", plain(msg.ID(photo.Moment)), photoName(t, photo))
		}
	}
	b.WriteString("\n## " + plain(msg.ID("What happened")) + "\n\n")
	for _, e := range p.Entries {
		fmt.Fprintf(&b, "- %s, %s: %s %s\n", plain(e.Hour), plain(msg.ID(e.Kind)), plain(msg.Own(e.Title)),
			plain(e.Body))
	}
	for _, c := range p.Causes {
		fmt.Fprintf(&b, "- %s\n", plain(msg.Own(c.Words)))
	}
	return b.String()
}

// plain keeps words from being read as marks of Markdown.
func plain(text string) string {
	return strings.NewReplacer("\n", " ", "\r", " ", "\\", `\\`, "`", "\\`", "*", `\*`, "_", `\_`, "[", `\[`, "<", "&lt;",
		"#", `\#`).Replace(text)
}
