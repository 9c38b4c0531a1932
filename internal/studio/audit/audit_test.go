package audit_test

import (
	"database/sql"
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/demo"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/audit"
	"jevvo/internal/studiotest"
)

// documents are the columns of a database that hold documents, as it says itself.
func allDocuments(t *testing.T, db *sql.DB) [][2]string {
	rows, err := db.Query(`SELECT m.name, c.name FROM sqlite_master m JOIN pragma_table_info(m.name) c
		WHERE m.type = 'table' AND c.name IN ('doc', 'setup')`)
	require.NoError(t, err)
	defer rows.Close()
	var out [][2]string
	for rows.Next() {
		var at [2]string
		require.NoError(t, rows.Scan(&at[0], &at[1]))
		out = append(out, at)
	}
	require.NoError(t, rows.Err())
	return out
}

func column(t *testing.T, db *sql.DB, query string) (out []string) {
	rows, err := db.Query(query)
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		var v string
		require.NoError(t, rows.Scan(&v))
		out = append(out, v)
	}
	require.NoError(t, rows.Err())
	return out
}

// extra puts something into tables the demo leaves empty.
const extra = `
	INSERT INTO faults (piece_id, coat, at, doc) VALUES (1, 'first', '', '{}');
	INSERT INTO judgements (piece_id, coat, doc, at) VALUES (1, 'first', '{}', '');
	INSERT INTO plan_days (day, doc) VALUES ('2026-03-01', '{}');
	INSERT INTO sessions (kind, id, piece_id, coat, setup, at) VALUES ('bench', 1, 1, 'first', '{}', '');
	INSERT INTO session_events (kind, session_id, n, doc) VALUES ('bench', 1, 1, '{"What": "note", "At": "2026-03-01T10:00:00Z"}');
	INSERT INTO flows (piece_id, coat, rev, doc, at) VALUES (1, 'first', 1, '{}', '');
	INSERT INTO piece_prices (piece_id, doc) VALUES (1, '{}');
	INSERT INTO payments (at, amount, doc) VALUES ('', '1', '{}');
	INSERT INTO papers (commission_id, kind, number, at, doc, pdf) VALUES (1, 'quote', 'Z 1', '', '{}', x'00');
	INSERT INTO letters (key, at, doc) VALUES ('a', '', '{}');
	DROP TRIGGER stock_entries_stay; DROP TRIGGER papers_stay;`

// Wherever a document is kept that the program cannot read, it is found: all columns of
// the database with documents are asked for, not those the audit knows.
func TestWhatCannotBeReadIsFound(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, studiotest.Database)
	db, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	defer db.Close()
	st, err := studio.New(t.Context(), db, studio.Options{Now: time.Now, Secrets: studiotest.Secrets(dir)})
	require.NoError(t, err)
	require.NoError(t, demo.Fill(t.Context(), st, nil))
	pigment, n, err := st.Materials.SavePigment(t.Context(), 0, 0, map[string]string{"name": "Sedge"})
	require.NoError(t, err)
	require.True(t, n.OK())
	_, n, err = st.Materials.SavePigment(t.Context(), pigment.ID, 1, map[string]string{"name": "Sedge, dark"})
	require.NoError(t, err)
	require.True(t, n.OK())
	raw, err := sql.Open("sqlite", "file:"+path+"?_pragma=busy_timeout(2000)")
	require.NoError(t, err)
	defer raw.Close()
	_, err = raw.Exec(extra)
	require.NoError(t, err)
	wrong, err := audit.Read(t.Context(), db, st)
	require.NoError(t, err)
	require.Empty(t, wrong)
	for _, at := range allDocuments(t, raw) {
		kept := column(t, raw, fmt.Sprintf(`SELECT DISTINCT %s FROM %s`, at[1], at[0]))
		require.NotEmpty(t, kept, "nothing is in the table %s", at[0])
		set := fmt.Sprintf(`UPDATE %s SET %s = ? WHERE %[2]s = ?`, at[0], at[1])
		for _, was := range kept[:min(len(kept), 40)] {
			_, err := raw.Exec(set, `"ruined"`, was)
			require.NoError(t, err, at)
			wrong, err := audit.Read(t.Context(), db, st)
			require.NoError(t, err)
			assert.NotEmpty(t, wrong, "%s: %s", at, was)
			_, err = raw.Exec(set, was, `"ruined"`)
			require.NoError(t, err, at)
		}
	}
}
