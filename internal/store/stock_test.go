package store

import (
	"fmt"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func openHere(t testing.TB) *Store {
	t.Helper()
	db, err := Open(t.Context(), filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	return db
}

// What stands in the ledger or on a paper is never changed and never taken away, by
// any statement.
func TestEntriesAndPapersStayAsTheyAre(t *testing.T) {
	db := openHere(t)
	require.NoError(t, db.Write(t.Context(), "add", func(tx *Tx) error {
		if _, err := tx.AddStock(t.Context(),
			StockEntry{At: time.Now(), Kind: "buy", Thing: Resins, ThingID: 1, Amount: 5}); err != nil {
			return err
		}
		_, err := tx.AddPaper(t.Context(),
			Paper{Commission: 1, Kind: "quote", Number: "Q1", At: time.Now(), Doc: []byte(`{}`)}, []byte("%PDF"))
		return err
	}))
	for _, table := range []string{"stock_entries", "papers"} {
		for _, change := range []string{`UPDATE %s SET at = ''`, `DELETE FROM %s`} {
			_, err := db.db.ExecContext(t.Context(), fmt.Sprintf(change, table))
			assert.ErrorContains(t, err, "never", change+table)
		}
	}
	list, err := db.Stock(t.Context())
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, 5.0, list[0].Amount)
}

// Fifty requests at once, of which every third fails after it took its number, leave
// numbers without a gap.
func TestNumbersHaveNoGaps(t *testing.T) {
	db := openHere(t)
	broke := fmt.Errorf("the disk was full")
	var wait sync.WaitGroup
	for i := range 50 {
		wait.Go(func() {
			_ = db.Write(t.Context(), "number", func(tx *Tx) error {
				n, err := tx.NextNumber(t.Context(), "invoice")
				if err != nil {
					return err
				}
				if i%3 == 0 {
					return broke
				}
				_, err = tx.AddPaper(t.Context(), Paper{Kind: "invoice", Number: fmt.Sprint(n), At: time.Now(), Doc: []byte(`{}`)},
					anyPDF)
				return err
			})
		})
	}
	wait.Wait()
	papers, err := db.Papers(t.Context(), 0)
	require.NoError(t, err)
	require.Len(t, papers, 33)
	for i, p := range papers {
		assert.Equal(t, fmt.Sprint(i+1), p.Number)
	}
}

var anyPDF = []byte("%PDF")
