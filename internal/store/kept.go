package store

import (
	"context"
	"database/sql"
	"encoding/json"
)

// A Kept is one document as it lies in the database.
type Kept struct {
	Of   string // "piece", "paper", a Kind, a SessionKind …
	ID   int64
	At   string // a revision, a coat, a moment: which of those of the same ID
	Name string
	Doc  json.RawMessage
}

// everyDocument lists all that is kept as a document, also what was removed.
const everyDocument = `
	SELECT 'setting', 0, '', key, doc FROM settings
	UNION ALL SELECT kind, id, '', name, doc FROM documents
	UNION ALL SELECT 'before', id, kind, name, doc FROM document_before
	UNION ALL SELECT 'piece', r.piece_id, r.rev, p.name, r.doc FROM piece_revisions r JOIN pieces p ON p.id = r.piece_id
	UNION ALL SELECT kind, id, '', coat, setup FROM sessions
	UNION ALL SELECT 'result', piece_id, coat, '', doc FROM results
	UNION ALL SELECT 'judgement', piece_id, coat, '', doc FROM judgements
	UNION ALL SELECT 'fault', piece_id, coat, '', doc FROM faults
	UNION ALL SELECT 'preview', piece_id, coat, '', doc FROM flows
	UNION ALL SELECT 'price', piece_id, '', '', doc FROM piece_prices
	UNION ALL SELECT 'paper', id, '', number, doc FROM papers
	UNION ALL SELECT 'payment', id, '', '', doc FROM payments
	UNION ALL SELECT 'stock entry', id, '', '', doc FROM stock_entries
	UNION ALL SELECT 'letter', id, '', '', doc FROM letters
	UNION ALL SELECT 'plan of the day', 0, '', day, doc FROM plan_days`

// EachKept gives every document there is to do, and ends with its error.
func (r Reader) EachKept(ctx context.Context, do func(Kept) error) error {
	rows, err := r.q.QueryContext(ctx, everyDocument)
	if err != nil {
		return wrap("read every document", err)
	}
	defer rows.Close()
	for rows.Next() {
		var k Kept
		var doc sql.RawBytes
		if err := rows.Scan(&k.Of, &k.ID, &k.At, &k.Name, &doc); err != nil {
			return wrap("read every document", err)
		}
		k.Doc = json.RawMessage(doc)
		if err := do(k); err != nil {
			return err
		}
	}
	return wrap("read every document", rows.Err())
}
