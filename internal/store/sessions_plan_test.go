package store

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Open sessions are found without reading those of years.
func TestOpenSessionsAreFoundByTheirIndex(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir()+"/j.db")
	require.NoError(t, err)
	defer s.Close()
	assert.Contains(t, queryPlan(t, s, `SELECT s.id FROM sessions s JOIN pieces p ON p.id = s.piece_id
		WHERE s.kind = 'bench' AND s.done = 0 AND p.deleted_at IS NULL ORDER BY s.at, s.id`),
		"sessions_open (kind=? AND done=?)")
}

// queryPlan is how SQLite goes about a query, in its own words.
func queryPlan(t *testing.T, s *Store, query string) string {
	rows, err := s.db.QueryContext(t.Context(), "EXPLAIN QUERY PLAN "+query)
	require.NoError(t, err)
	defer rows.Close()
	var plan []string
	for rows.Next() {
		var id, parent, unused int
		var step string
		require.NoError(t, rows.Scan(&id, &parent, &unused, &step))
		plan = append(plan, step)
	}
	require.NoError(t, rows.Err())
	return strings.Join(plan, "; ")
}
