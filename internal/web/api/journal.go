package api

import (
	"encoding/json"
	"net/http"
	"time"

	"jevvo/internal/studio/journal"
	"jevvo/internal/web/frame"
)

// An Entry is a line of the journal.
type Entry struct {
	ID    int64     `json:"id"`
	At    time.Time `json:"at"`
	Kind  string    `json:"kind"`
	Piece int64     `json:"piece,omitempty"`
	Coat  string    `json:"coat,omitempty"`
	Title string    `json:"title"`
	Text  string    `json:"text"`
}

// Entries are lines of the journal, the newest first.
type Entries struct {
	Entries []Entry `json:"entries"`
	More    bool    `json:"more" description:"there are older ones: ask again with before"`
}

// A Note is written into the journal at a bench day that goes on.
type Note struct {
	Bench int64  `json:"bench" required:"true"`
	Text  string `json:"text" required:"true" maxLength:"2000"`
}

func (a *records) journal(r *http.Request, _ []byte) (any, error) {
	q := r.URL.Query()
	list, more, err := a.st.Journal.Find(r.Context(),
		journal.Asked{Find: q.Get("find"), Piece: frame.Number(q.Get("piece")), Before: frame.Number(q.Get("before"))})
	out := Entries{Entries: []Entry{}, More: more}
	for _, e := range list {
		out.Entries = append(out.Entries, Entry{e.ID, e.At, e.Kind, e.Piece, e.Coat, e.Title, e.Body})
	}
	return out, err
}

func (a *records) note(r *http.Request, body []byte) (any, error) {
	var n Note
	if err := json.Unmarshal(body, &n); err != nil {
		return nil, err
	}
	_, err := a.st.Bench.Note(r.Context(), n.Bench, false, n.Text)
	return nil, err
}
