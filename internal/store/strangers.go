package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"slices"

	"github.com/pressly/goose/v3"
)

// replicators are tables a replicator beside the program keeps its own place in, as the
// beginning of their names (packaging/replica). They are no part of the studio.
const replicators = `\_litestream\_%`

// schemaOf maps each table, view, index and trigger of a database to its SQL.
func schemaOf(ctx context.Context, db *sql.DB) (map[[2]string]string, error) {
	rows, err := db.QueryContext(ctx, `SELECT type, name, coalesce(sql, '') FROM sqlite_master
		WHERE name NOT LIKE 'sqlite\_%' ESCAPE '\' AND NOT (type = 'table' AND name LIKE ? ESCAPE '\')`, replicators)
	if err != nil {
		return nil, damaged(err)
	}
	defer rows.Close()
	out := map[[2]string]string{}
	for rows.Next() {
		var kind, name, text string
		if err := rows.Scan(&kind, &name, &text); err != nil {
			return nil, damaged(err)
		}
		out[[2]string{kind, name}] = text
	}
	return out, damaged(rows.Err())
}

// ours is the schema this program makes of a version.
func ours(ctx context.Context, version int64) (out map[[2]string]string, err error) {
	db, err := sql.Open("sqlite", ":memory:")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1) // each connection would have a database of its own
	defer func() { err = errors.Join(err, db.Close()) }()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return nil, err
	}
	if sources := provider.ListSources(); version > sources[len(sources)-1].Version {
		return nil, ErrNewer
	}
	if _, err := provider.UpTo(ctx, version); err != nil {
		return nil, err
	}
	return schemaOf(ctx, db)
}

// strangers lists what a database has that this program never makes, what was changed of
// what runs by itself, and what is missing.
func strangers(ctx context.Context, db *sql.DB) ([]string, error) {
	var version int64
	if err := db.QueryRowContext(ctx, `SELECT max(version_id) FROM goose_db_version`).Scan(&version); err != nil {
		return nil, damaged(err)
	}
	want, err := ours(ctx, version)
	if err != nil {
		return nil, err
	}
	has, err := schemaOf(ctx, db)
	if err != nil {
		return nil, err
	}
	var found []string
	for what, text := range has {
		is, known := want[what]
		switch {
		case !known:
			found = append(found, fmt.Sprintf("the %s %q is none of this program's", what[0], what[1]))
		case (what[0] == "trigger" || what[0] == "view") && is != text:
			found = append(found, fmt.Sprintf("the %s %q was changed", what[0], what[1]))
		}
	}
	for what := range want {
		if _, there := has[what]; !there {
			found = append(found, fmt.Sprintf("the %s %q is missing", what[0], what[1]))
		}
	}
	slices.Sort(found)
	return found, nil
}
