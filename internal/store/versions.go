package store

import (
	"context"
	"slices"
)

// Scope names a room of the studio whose changes are counted.
type Scope string

// The counted.
const (
	ScopeSettings    Scope = "settings"
	ScopeMaterials   Scope = "shelf" // its stored name: resins, pigments, techniques, what was learnt
	ScopePieces      Scope = "pieces"
	ScopeSessions    Scope = "sessions"
	ScopeMarks       Scope = "marks"
	ScopeCommissions Scope = "commissions"
	ScopePalettes    Scope = "palettes"
	ScopeRoom        Scope = "room"
	ScopeStock       Scope = "stock" // what came, went and was counted
	ScopeOther       Scope = "other"
)

var counted = [...]Scope{ScopeSettings, ScopeMaterials, ScopePieces, ScopeSessions, ScopeMarks, ScopeCommissions,
	ScopePalettes, ScopeRoom, ScopeStock, ScopeOther}

// Versions count the changes of each scope: what depends on the same versions is the same. They can be
// compared, and be the key of a cache.
type Versions [len(counted)]int64

// Of returns the counts of some counted and nothing of the others: the key of what depends on these alone.
func (v Versions) Of(some ...Scope) (out Versions) {
	for _, s := range some {
		i := slices.Index(counted[:], s)
		out[i] = v[i]
	}
	return out
}

// Versions returns the counts as they are now.
func (r Reader) Versions(ctx context.Context) (out Versions, err error) {
	rows, err := r.q.QueryContext(ctx, `SELECT scope, n FROM versions`)
	if err != nil {
		return out, wrap("read the versions", err)
	}
	defer rows.Close()
	for rows.Next() {
		var s Scope
		var n int64
		if err := rows.Scan(&s, &n); err != nil {
			return out, wrap("read the versions", err)
		}
		if i := slices.Index(counted[:], s); i >= 0 {
			out[i] = n
		}
	}
	return out, wrap("read the versions", rows.Err())
}
