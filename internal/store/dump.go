package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"strings"

	"github.com/pressly/goose/v3"
)

// A Dump is where all that a studio keeps is written, file by file, and read from:
// tables as JSON, pictures as they are.
type Dump struct {
	Put func(name string, data []byte) error
	Get func(name string) ([]byte, error)
}

// Manifest says what a dump holds; it is its first file.
type Manifest struct {
	Format int              `json:"format"` // of the dump
	Schema int64            `json:"schema"` // of the tables
	Tables map[string]int   `json:"tables"` // rows of each
	Files  map[string]int64 `json:"files"`  // sizes of pictures
}

// DumpFormat is the format that is written, and the newest that is read.
const DumpFormat = 1

// MostFile is how large a file of a dump may be, in bytes.
const MostFile = 256 << 20

// ManifestFile is its name.
const ManifestFile = "studio.json"

// A cell that is a file of its own.
type fileCell struct {
	File string `json:"file"`
}

// pictureName is the name of a picture's file in a dump.
func pictureName(table, column string, data []byte, n int) string {
	end := ".bin"
	switch {
	case len(data) > 3 && data[0] == 0xff && data[1] == 0xd8:
		end = ".jpg"
	case len(data) > 3 && string(data[1:4]) == "PNG":
		end = ".png"
	case len(data) > 4 && string(data[:4]) == "%PDF":
		end = ".pdf"
	}
	return fmt.Sprintf("pictures/%s-%s-%06d%s", table, column, n, end)
}

// DumpTo writes all tables, read at one moment.
func (s *Store) DumpTo(ctx context.Context, d Dump) (m Manifest, err error) {
	tx, err := s.db.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return m, wrap("read the studio", err)
	}
	defer tx.Rollback()
	m = Manifest{Format: DumpFormat, Tables: map[string]int{}, Files: map[string]int64{}}
	if err := tx.QueryRowContext(ctx, `SELECT max(version_id) FROM goose_db_version`).Scan(&m.Schema); err != nil {
		return m, wrap("read the studio", err)
	}
	tables, err := tablesOf(ctx, tx)
	if err != nil {
		return m, err
	}
	for _, t := range tables {
		rows, err := dumpTable(ctx, tx, t, func(name string, data []byte) error {
			m.Files[name] = int64(len(data))
			return d.Put(name, data)
		})
		if err != nil {
			return m, fmt.Errorf("write the table %s: %w", t.name, err)
		}
		m.Tables[t.name] = len(rows)
		text, err := json.MarshalIndent(rows, "", " ")
		if err == nil && len(text) > MostFile {
			err = fmt.Errorf("the table %s has %d MB, more than an export is read back with; a backup keeps it", t.name,
				len(text)>>20)
		}
		if err == nil {
			err = d.Put("tables/"+t.name+".json", text)
		}
		if err != nil {
			return m, err
		}
	}
	if err := dumpSchema(ctx, tx, tables, d); err != nil {
		return m, err
	}
	text, err := json.MarshalIndent(m, "", " ")
	if err != nil {
		return m, err
	}
	return m, d.Put(ManifestFile, text)
}

// dumpSchema writes what the tables are, as SQLite understands it.
func dumpSchema(ctx context.Context, tx *sql.Tx, tables []table, d Dump) error {
	var all strings.Builder
	for _, t := range tables {
		var text string
		if err := tx.QueryRowContext(ctx, `SELECT sql FROM sqlite_master WHERE type = 'table' AND name = ?`,
			t.name).Scan(&text); err != nil {
			return wrap("read the schema", err)
		}
		all.WriteString(text + ";\n\n")
	}
	return d.Put("schema.sql", []byte(all.String()))
}

// A table of the database, with its columns and those of its key.
type table struct {
	name    string
	columns []string
	key     []string
}

// tablesOf returns all that holds what cannot be made anew.
func tablesOf(ctx context.Context, tx *sql.Tx) ([]table, error) {
	rows, err := tx.QueryContext(ctx, `SELECT m.name, c.name, c.pk FROM sqlite_master m JOIN pragma_table_info(m.name) c
		WHERE m.type = 'table' AND m.name NOT LIKE 'sqlite_%' AND m.name NOT LIKE 'journal_text%'
			AND m.name NOT IN ('goose_db_version', 'presses', 'visitors', 'pair_codes')
		AND m.name NOT LIKE ? ESCAPE '\' ORDER BY m.name, c.cid`, replicators)
	if err != nil {
		return nil, wrap("list the tables", err)
	}
	defer rows.Close()
	var out []table
	for rows.Next() {
		var name, column string
		var pk int
		if err := rows.Scan(&name, &column, &pk); err != nil {
			return nil, wrap("list the tables", err)
		}
		if len(out) == 0 || out[len(out)-1].name != name {
			out = append(out, table{name: name})
		}
		t := &out[len(out)-1]
		t.columns = append(t.columns, column)
		if pk > 0 {
			t.key = append(t.key, column)
		}
	}
	return out, wrap("list the tables", rows.Err())
}

// CalendarSecret is the setting with the secret part of the calendar's address. An export
// leaves it out: who is given one could read the days from then on.
const CalendarSecret = "feed"

// leaves is which rows leave the studio, as SQL.
func (t table) leaves() string {
	if t.name == "settings" {
		return `key <> '` + CalendarSecret + `'`
	}
	return "TRUE"
}

func quoted(names []string) string {
	out := make([]string, len(names))
	for k, n := range names {
		out[k] = `"` + n + `"`
	}
	return strings.Join(out, ", ")
}

// dumpTable reads a table in the order of its key; what is not text or a number
// becomes a file.
func dumpTable(ctx context.Context, tx *sql.Tx, t table, put func(string, []byte) error) ([]map[string]any, error) {
	order := t.key
	if len(order) == 0 {
		order = t.columns
	}
	rows, err := tx.QueryContext(ctx, fmt.Sprintf(`SELECT %s FROM "%s" WHERE %s ORDER BY %s`,
		quoted(t.columns), t.name, t.leaves(), quoted(order)))
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := []map[string]any{}
	for rows.Next() {
		cells := make([]any, len(t.columns))
		at := make([]any, len(cells))
		for k := range cells {
			at[k] = &cells[k]
		}
		if err := rows.Scan(at...); err != nil {
			return nil, err
		}
		row := map[string]any{}
		for k, c := range cells {
			if data, ok := c.([]byte); ok {
				name := pictureName(t.name, t.columns[k], data, len(out)+1)
				if err := put(name, data); err != nil {
					return nil, err
				}
				c = fileCell{name}
			}
			row[t.columns[k]] = c
		}
		out = append(out, row)
	}
	return out, rows.Err()
}

// Load makes a new database of a dump, at the schema it was written with, and brings
// it up to date.
func Load(ctx context.Context, path string, d Dump) (err error) {
	text, err := d.Get(ManifestFile)
	if err != nil {
		return errors.New("this is no export of Jevvo: it has no " + ManifestFile)
	}
	var m Manifest
	if err := json.Unmarshal(text, &m); err != nil || m.Format < 1 {
		return fmt.Errorf("this is no export of Jevvo: %s cannot be read", ManifestFile)
	}
	if m.Format > DumpFormat {
		return ErrNewer
	}
	db, err := connect(path, "FULL")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, newStore(db).Close()) }()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return err
	}
	if sources := provider.ListSources(); m.Schema > sources[len(sources)-1].Version {
		return ErrNewer
	}
	if _, err := provider.UpTo(ctx, m.Schema); err != nil {
		return err
	}
	if err := loadAll(ctx, db, m, d); err != nil {
		return err
	}
	_, err = provider.Up(ctx)
	return err
}

func loadAll(ctx context.Context, db *sql.DB, m Manifest, d Dump) error {
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if _, err := tx.ExecContext(ctx, `PRAGMA defer_foreign_keys = 1`); err != nil {
		return err
	}
	tables, err := tablesOf(ctx, tx)
	if err != nil {
		return err
	}
	// What triggers make of other tables comes last: it is replaced by what was kept.
	slices.SortStableFunc(tables, func(a, b table) int { return made(a.name) - made(b.name) })
	for _, t := range tables {
		if _, err := tx.ExecContext(ctx, fmt.Sprintf(`DELETE FROM "%s"`, t.name)); err != nil {
			return err
		}
		if err := loadTable(ctx, tx, t, m.Tables[t.name], d); err != nil {
			return fmt.Errorf("read the table %s: %w", t.name, err)
		}
	}
	for name := range m.Tables {
		if !slices.ContainsFunc(tables, func(t table) bool { return t.name == name }) {
			return fmt.Errorf("the export has a table %q that this program does not know", name)
		}
	}
	return tx.Commit()
}

// made is 1 for what triggers keep.
func made(table string) int {
	if table == "journal" || table == "piece_uses" || table == "versions" {
		return 1
	}
	return 0
}

func loadTable(ctx context.Context, tx *sql.Tx, t table, want int, d Dump) error {
	text, err := d.Get("tables/" + t.name + ".json")
	if err != nil {
		if want == 0 {
			return nil
		}
		return errors.New("it is missing")
	}
	read := json.NewDecoder(strings.NewReader(string(text)))
	read.UseNumber()
	var rows []map[string]any
	if err := read.Decode(&rows); err != nil {
		return fmt.Errorf("it is no JSON: %w", err)
	}
	if len(rows) != want {
		return fmt.Errorf("it has %d rows, not %d", len(rows), want)
	}
	insert, err := tx.PrepareContext(ctx,
		fmt.Sprintf(`INSERT INTO "%s" (%s) VALUES (?%s)`, t.name, quoted(t.columns), strings.Repeat(", ?", len(t.columns)-1)))
	if err != nil {
		return err
	}
	defer insert.Close()
	for k, row := range rows {
		cells := make([]any, len(t.columns))
		for i, c := range t.columns {
			if cells[i], err = cellOf(row[c], d); err != nil {
				return fmt.Errorf("row %d, %s: %w", k+1, c, err)
			}
		}
		if _, err := insert.ExecContext(ctx, cells...); err != nil {
			return fmt.Errorf("row %d: %w", k+1, err)
		}
	}
	return nil
}

// cellOf is a value as the database has it.
func cellOf(v any, d Dump) (any, error) {
	switch v := v.(type) {
	case json.Number:
		if n, err := v.Int64(); err == nil {
			return n, nil
		}
		return v.Float64()
	case map[string]any:
		name, ok := v["file"].(string)
		if !ok || len(v) != 1 {
			return nil, errors.New("it is neither text nor a number nor a file")
		}
		return d.Get(name)
	case []any, bool:
		return nil, errors.New("it is neither text nor a number nor a file")
	}
	return v, nil
}
