package journal

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/msg"
	"jevvo/internal/studio/journal"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A journalPage is entries of the journal, day by day.
type journalPage struct {
	Asked      journal.Asked
	Days       []day
	Older      string // address of what is older; "" for none
	Kinds      []journal.Choice
	Products   []journal.Choice
	Pigments   []journal.Choice
	Techniques []journal.Choice
}

// A day is the entries of one day.
type day struct {
	Name    msg.Text
	Entries []line
}

// A line is an entry with where it leads and, of a photograph, its picture.
type line struct {
	Hour        msg.Text
	Kind, Title string
	Body        msg.Text // nil for none
	To, Picture string
}

// body is what an entry says below its title. A bench day names its technique, a piece lists its cups: what the
// program filled in there is said in the reader's language.
func body(e journal.Entry) msg.Text {
	switch {
	case e.Body == "":
		return nil
	case e.Kind == "piece" || e.Kind == "bench":
		var parts []msg.Text
		for part := range strings.SplitSeq(e.Body, ", ") {
			parts = append(parts, words.Filled(part))
		}
		return msg.Join(", ", parts...)
	}
	return msg.Own(e.Body)
}

// kinds are the kinds of entries.
var kinds = []journal.Choice{{ID: "result", Name: msg.ID("results")}, {ID: "photo", Name: msg.ID("photographs")},
	{ID: "note", Name: msg.ID("notes")}, {ID: "fault", Name: msg.ID("faults")}, {ID: "bench", Name: msg.ID("bench days")},
	{ID: "weighing", Name: msg.ID("weigh-outs")}, {ID: "piece", Name: msg.ID("pieces begun")},
	{ID: "commission", Name: msg.ID("commissions")}}

func (a *area) journal(c *gin.Context) error {
	asked := journal.Asked{Find: c.Query("q"), Kind: c.Query("kind"), Product: c.Query("product"),
		Pigment: c.Query("pigment"), Technique: c.Query("technique"), Piece: frame.Number(c.Query("piece")),
		Before: frame.Number(c.Query("before"))}
	entries, more, err := a.Studio.Journal.Find(c.Request.Context(), asked)
	if err != nil {
		return err
	}
	page := journalPage{Asked: asked, Kinds: kinds}
	for _, e := range entries {
		name := msg.Date(e.At.Local(), "Monday 2 January 2006")
		if n := len(page.Days); n == 0 || !msg.Same(page.Days[n-1].Name, name) {
			page.Days = append(page.Days, day{Name: name})
		}
		to, picture := leads(e.Ref, e.Piece, e.Coat)
		last := &page.Days[len(page.Days)-1]
		last.Entries = append(last.Entries, line{msg.Date(e.At.Local(), "15:04"), e.Kind, e.Title, body(e), to, picture})
	}
	if more {
		query := c.Request.URL.Query()
		query.Set("before", fmt.Sprint(entries[len(entries)-1].ID))
		page.Older = "/journal?" + query.Encode()
	}
	if err := page.choices(a, c); err != nil {
		return err
	}
	if frame.FromHTMX(c) {
		return a.Part(c, http.StatusOK, "journal", "entries", page)
	}
	return a.Show(c, http.StatusOK, "journal", frame.Page{Title: msg.ID("Journal"), Nav: "journal", Data: page})
}

// choices are the journal's filters.
func (p *journalPage) choices(a *area, c *gin.Context) error {
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	for _, r := range book.Resins {
		p.Products = append(p.Products, journal.Choice{ID: fmt.Sprint(r.ID), Name: msg.Own(r.Name)})
	}
	for _, r := range book.Paints {
		p.Pigments = append(p.Pigments, journal.Choice{ID: fmt.Sprint(r.ID), Name: msg.Own(r.Name)})
	}
	for _, t := range book.Techniques() {
		p.Techniques = append(p.Techniques, journal.Choice{ID: t.ID, Name: t.Name})
	}
	return nil
}

// Leads is where an entry of the journal leads to.
func Leads(e journal.Entry) string {
	to, _ := leads(e.Ref, e.Piece, e.Coat)
	return to
}

// leads is where an entry leads to and, of a photograph, where it is small.
func leads(ref string, piece int64, coat string) (to, picture string) {
	kind, rest, _ := strings.Cut(ref, ":")
	id, _, _ := strings.Cut(rest, ":")
	onCoat := "?" + url.Values{"coat": {coat}}.Encode()
	switch kind {
	case "piece":
		return "/pieces/" + id, ""
	case "commission":
		return "/commissions/" + id, ""
	case "bench": // or one of its events
		return "/benches/" + id, ""
	case "weighing":
		return frame.Piece(piece, "/weigh"), ""
	case "photo":
		return frame.Piece(piece, "/result", onCoat), frame.Piece(piece, "/photos/", id, "/small.jpg")
	case "fault":
		return frame.Piece(piece, "/faults", onCoat), ""
	}
	return frame.Piece(piece, "/result", onCoat), ""
}
