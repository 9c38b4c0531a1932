package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
)

// Backup writes a consistent copy to a new file while the store is in use: under
// another name first, checked, for nobody else to read, and then in its place.
func (s *Store) Backup(ctx context.Context, path string) (err error) {
	if err := fresh(path); err != nil {
		return err
	}
	part := path + ".part"
	if err := os.Remove(part); err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("write the backup: %w", err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, removeAll(part))
		}
	}()
	if _, err := s.db.ExecContext(ctx, "VACUUM INTO ?", part); err != nil {
		return wrap("write the backup", err)
	}
	if err := os.Chmod(part, 0o600); err != nil {
		return fmt.Errorf("write the backup: %w", err)
	}
	if err := CheckFile(ctx, part); err != nil {
		return fmt.Errorf("check the backup: %w", err)
	}
	return place(part, path)
}

// fresh reports a path no new file can be written to.
func fresh(path string) error {
	switch {
	case strings.TrimSpace(path) == "" || strings.HasPrefix(path, ":") || strings.HasPrefix(path, "file:"):
		return errors.New("a backup needs the name of a file")
	}
	if _, err := os.Stat(path); err == nil {
		return fmt.Errorf("%s exists already", path)
	}
	if info, err := os.Stat(filepath.Dir(path)); err != nil || !info.IsDir() {
		return fmt.Errorf("there is no folder %s", filepath.Dir(path))
	}
	return nil
}

// place makes what was written last a file of its own name.
func place(part, path string) error {
	f, err := os.OpenFile(part, os.O_RDWR, 0)
	if err != nil {
		return fmt.Errorf("write %s: %w", path, err)
	}
	if err := errors.Join(f.Sync(), f.Close(), os.Rename(part, path)); err != nil {
		return fmt.Errorf("write %s: %w", path, err)
	}
	return nil
}

// removeAll removes a database with what belongs to it.
func removeAll(path string) error {
	for _, end := range []string{"", "-wal", "-shm", "-journal"} {
		if err := os.Remove(path + end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

// CheckFile reads a database file through and reports what is wrong with it, or that
// it is none of this program's.
func CheckFile(ctx context.Context, path string) error {
	if _, err := os.Stat(path); err != nil {
		return fmt.Errorf("there is no file %s", path)
	}
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro&immutable=1")
	if err != nil {
		return err
	}
	s := newStore(db)
	defer db.Close()
	if err := s.sound(ctx, "integrity_check"); err != nil {
		return err
	}
	var n int
	err = db.QueryRowContext(ctx,
		`SELECT count(*) FROM sqlite_master WHERE name IN ('pieces', 'settings', 'goose_db_version')`).Scan(&n)
	if err != nil {
		return damaged(err)
	}
	if n != 3 {
		return fmt.Errorf("%s is no studio of Jevvo", path)
	}
	return nil
}

// Restore puts a backup in the place of a database that nothing has open. What was
// there is kept beside it; the name it is kept under is returned, "" when there was
// none.
func Restore(ctx context.Context, backup, path string) (kept string, err error) {
	if err := CheckFile(ctx, backup); err != nil {
		return "", err
	}
	data, err := os.ReadFile(backup)
	if err != nil {
		return "", fmt.Errorf("read %s: %w", backup, err)
	}
	if err := writable(filepath.Dir(path)); err != nil {
		return "", err
	}
	part := path + ".part"
	if err := os.WriteFile(part, data, 0o600); err != nil {
		return "", errors.Join(fmt.Errorf("write %s: %w", path, err), removeAll(part))
	}
	if _, err := os.Stat(path); err == nil {
		if kept, err = setAside(ctx, path); err != nil {
			return "", errors.Join(err, removeAll(part))
		}
	}
	// A log left beside the file belongs to what was there, not to the backup.
	if err := removeAll(path); err != nil {
		return kept, err
	}
	return kept, place(part, path)
}

// setAside keeps a database under a name of its own: a sound one as a backup, with
// what is in its log; a damaged one as it lies.
func setAside(ctx context.Context, path string) (string, error) {
	kept := ""
	for n := 1; ; n++ {
		kept = fmt.Sprintf("%s.replaced-%d", path, n)
		if _, err := os.Stat(kept); err != nil {
			break
		}
	}
	if db, err := connect(path, "FULL"); err == nil {
		s := newStore(db)
		err := s.Backup(ctx, kept)
		db.Close()
		if err == nil {
			return kept, nil
		}
	}
	for _, end := range []string{"", "-wal", "-shm"} {
		if err := os.Rename(path+end, kept+end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return "", fmt.Errorf("keep what was there: %w", err)
		}
	}
	return kept, nil
}

// Check verifies the whole database: its pages, its schema, its references and the index
// of the journal. It returns what it found, in words; nothing when all is
// well.
func (s *Store) Check(ctx context.Context) ([]string, error) {
	if err := s.sound(ctx, "integrity_check"); err != nil {
		return nil, err
	}
	found, err := strangers(ctx, s.db)
	if err != nil {
		return nil, err
	}
	tell := func(query, format string) error {
		var n int
		if err := s.db.QueryRowContext(ctx, query).Scan(&n); err != nil {
			return err
		}
		if n > 0 {
			found = append(found, fmt.Sprintf(format, n))
		}
		return nil
	}
	for _, check := range [][2]string{
		{`SELECT count(*) FROM pragma_foreign_key_check`, "%d rows belong to something that is gone"},
		{`SELECT count(*) FROM pieces p WHERE NOT EXISTS (SELECT 1 FROM piece_revisions r WHERE r.piece_id = p.id AND r.rev = p.head)`, "%d pieces have no plan"},
		{`SELECT count(*) FROM photos p WHERE length(p.shown) = 0 OR NOT EXISTS (SELECT 1 FROM photo_originals o WHERE o.photo_id = p.id)`, "%d photographs are not whole"},
		{`SELECT count(*) FROM pictures WHERE length(picture) = 0`, "%d pictures are empty"},
	} {
		if err := tell(check[0], check[1]); err != nil {
			return found, err
		}
	}
	if _, err := s.db.ExecContext(ctx,
		`INSERT INTO journal_text (journal_text, rank) VALUES ('integrity-check', 1)`); err != nil {
		found = append(found, "the index of the journal does not fit its entries; it is made anew by: jevvo check --mend")
	}
	return found, nil
}

// Mend makes the index of the journal anew.
func (s *Store) Mend(ctx context.Context) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO journal_text (journal_text) VALUES ('rebuild')`)
	return wrap("make the index anew", err)
}
