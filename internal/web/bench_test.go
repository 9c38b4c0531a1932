package web_test

import (
	"database/sql"
	"fmt"
	"html/template"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/frame"
)

// Sizes of the full studio: pieces in all, those that are open, and what a thousand
// of them left: with pieces and bench days 50 000 entries of the journal.
const (
	allPieces  = 5000
	openPieces = 300
	madePieces = 1000
	notesEach  = 24
	photosEach = 20
)

// bare is the page everything is measured by: Gin, 300 rows of SQLite, and a
// template that lists them.
func bare(b *testing.B) http.Handler {
	b.Helper()
	db, err := sql.Open("sqlite", filepath.Join(b.TempDir(), "bare.db"))
	require.NoError(b, err)
	b.Cleanup(func() { db.Close() })
	_, err = db.Exec(`CREATE TABLE pieces (id INTEGER PRIMARY KEY, name TEXT NOT NULL, doc TEXT NOT NULL, at TEXT NOT NULL)`)
	require.NoError(b, err)
	for i := range openPieces {
		_, err = db.Exec(`INSERT INTO pieces (name, doc, at) VALUES (?, ?, ?)`, fmt.Sprintf("Piece %d", i),
			`{"Brief":"what is wanted of it"}`, monday.Format(time.RFC3339))
		require.NoError(b, err)
	}
	type row struct {
		ID            int64
		Name, Doc, At string
	}
	page := template.Must(template.New("").Parse(
		`<!doctype html><title>Pieces</title><table>{{range .}}<tr><td><a href="/pieces/{{.ID}}">{{.Name}}</a></td><td>{{.Doc}}</td><td>{{.At}}</td></tr>{{end}}</table>`))
	gin.SetMode(gin.ReleaseMode)
	e := gin.New()
	e.GET("/", func(c *gin.Context) {
		rows, err := db.QueryContext(c.Request.Context(), `SELECT id, name, doc, at FROM pieces ORDER BY at DESC`)
		if err != nil {
			c.AbortWithStatus(http.StatusInternalServerError)
			return
		}
		defer rows.Close()
		var list []row
		for rows.Next() {
			var r row
			if err := rows.Scan(&r.ID, &r.Name, &r.Doc, &r.At); err != nil {
				c.AbortWithStatus(http.StatusInternalServerError)
				return
			}
			list = append(list, r)
		}
		if err := page.Execute(c.Writer, list); err != nil {
			c.AbortWithStatus(http.StatusInternalServerError)
		}
	})
	return e
}

// full is a studio with 5 000 pieces of which 300 are open, 50 000 entries in the
// journal and 20 000 photographs.
func full(b *testing.B) *site {
	b.Helper()
	s := open(b)
	draft, book, err := s.Pieces.Draft(b.Context())
	require.NoError(b, err)
	coats := book.Techniques().Coats()
	c, _, err := s.Commissions.Save(b.Context(), 0, 0,
		map[string]string{"name": "Ferry line", "size": "40 x 50 cm", "count": "2"})
	require.NoError(b, err)
	require.NoError(b, s.addMany(b, func(i int) plan.Spec {
		spec := draft.Clone()
		spec.Name = fmt.Sprintf("Piece %04d", i)
		spec.State = plan.Done
		spec.Width, spec.Height = units.Length(150+7*(i%50)), units.Length(150+11*(i%40))
		if i >= allPieces-openPieces {
			spec.State = plan.Open
			spec.Due = monday.AddDate(0, 0, 14+i%90)
			first := spec.First()
			before, _ := book.Techniques().Find(first.What)
			first.Retechnique(coats[i%3], before)
			if i%40 == 0 {
				spec.Commission = c.ID
			}
		}
		return spec
	}))
	require.NoError(b, s.addPast(b))
	return s
}

// addPast lays out bench days that are over, with what was noted and photographed.
func (s *site) addPast(b *testing.B) error {
	b.Helper()
	lines := []string{"laced at the left edge", "honey on the tilt", "cells closed again", "white sank",
		"foam reached the rim"}
	return s.db.Write(b.Context(), "fill the journal", func(tx *store.Tx) error {
		for k := range madePieces {
			piece, at := int64(k+1), monday.Add(-time.Duration(madePieces-k)*24*time.Hour)
			id, err := tx.StartSession(b.Context(), store.Benches, piece, plan.FirstCoat,
				map[string]string{"Piece": fmt.Sprintf("Piece %04d", k), "Name": "First pour"}, at)
			if err != nil {
				return err
			}
			var events []any
			for n := range notesEach {
				events = append(events, map[string]any{"At": at.Add(time.Duration(n) * time.Minute), "What": "note",
					"Text": fmt.Sprint(lines[(k+n)%len(lines)], " ", n)})
			}
			if err := tx.AppendEvents(b.Context(), store.Benches, id, 1, events, true); err != nil {
				return err
			}
			for n := range photosEach {
				photo := store.PhotoRow{Piece: piece, Coat: plan.FirstCoat, Moment: "wet", At: at.Add(time.Duration(n) * time.Hour)}
				if _, err := tx.KeepPhoto(b.Context(), photo, fmt.Sprint(n), make([]byte, 4000), make([]byte, 2000),
					make([]byte, 800)); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

func (s *site) addMany(b *testing.B, spec func(i int) plan.Spec) error {
	b.Helper()
	return s.db.Write(b.Context(), "fill the studio", func(tx *store.Tx) error {
		for i := range allPieces {
			if _, err := pieces.AddTo(b.Context(), tx, spec(i), monday.Add(time.Duration(i)*time.Second)); err != nil {
				return err
			}
		}
		return nil
	})
}

// BenchmarkPages measures every main page of a full studio beside a bare Gin
// page that reads 300 rows of SQLite and renders them, in one run:
//
//	go test -run=NONE -bench=Pages ./internal/web
func BenchmarkPages(b *testing.B) {
	base := bare(b)
	s := full(b)
	last := int64(allPieces)
	day, err := s.Bench.Start(b.Context(), last, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(b, err)
	visit := func(h http.Handler, path string) func(b *testing.B) {
		return func(b *testing.B) {
			r := httptest.NewRequestWithContext(b.Context(), http.MethodGet, "http://localhost"+path, nil)
			ask := func() {
				w := httptest.NewRecorder()
				h.ServeHTTP(w, r)
				if w.Code != http.StatusOK {
					b.Fatalf("%s answers %d", path, w.Code)
				}
			}
			ask() // the first visit makes the plans
			for b.Loop() {
				ask()
			}
		}
	}
	b.Run("bare", visit(base, "/"))
	for _, p := range []struct{ name, path string }{
		{"today", "/"}, {"pieces", "/pieces"}, {"a piece", frame.Piece(last)}, {"days", "/days"},
		{"commissions", "/commissions"},
		{"a commission", "/commissions/1"}, {"pigments", "/materials/pigments"}, {"run sheet", frame.Piece(last,
			"/run-sheet")},
		{"bench", fmt.Sprintf("/benches/%d", day.ID)},
		{"journal", "/journal"}, {"journal, found", "/journal?find=honey"}, {"a piece's journal", "/pieces/500/journal"},
		{"findings", "/findings"}, {"all at the bench", "/bench"}, {"labels", "/labels"},
		{"pieces, their last page", fmt.Sprintf("/pieces?page=%d", allPieces)}, {"what would help", "/days/ways"},
	} {
		b.Run(p.name, visit(s.h, p.path))
	}
}

// BenchmarkPlanningAnew is one change of a full studio until the days stand
// again.
func BenchmarkPlanningAnew(b *testing.B) {
	s := full(b)
	i := 0
	for b.Loop() {
		i++
		_, err := s.Pieces.Change(b.Context(), allPieces, func(p *plan.Spec) error { p.Brief = fmt.Sprint(i); return nil })
		require.NoError(b, err)
		_, err = s.Agenda.Current(b.Context())
		require.NoError(b, err)
	}
}
