package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"time"

	"github.com/gofrs/flock"
	"github.com/pressly/goose/v3"
	sqlite3 "modernc.org/sqlite/lib"
)

// Why a database is not opened, in words for who starts the program.
var (
	ErrInUse = errors.New("these data are open in another Jevvo; close that one first, or choose another folder " +
		"with --data")
	ErrNewer = errors.New("these data were written by a newer Jevvo; this one would lose what it does not know. Start " +
		"the newer program")
	ErrDamaged = errors.New("the database is damaged; restore a backup with: jevvo restore FILE --replace")
	ErrFolder  = errors.New("the data folder cannot be written to")
	ErrEmptied = errors.New("the database is empty, but this folder was a studio; restore a backup with: jevvo restore " +
		"FILE --replace")
)

// Open opens or creates the database file and brings it up to date. Before it is
// brought up to date a copy of an older one is kept beside it.
func Open(ctx context.Context, path string) (*Store, error) { return openWith(ctx, path, "FULL") }

// Draft creates a database that is not in its place yet: nothing written to it is waited for
// until it is closed and given to Sync.
func Draft(ctx context.Context, path string) (*Store, error) { return openWith(ctx, path, "OFF") }

// Sync waits until a closed database is on the disk.
func Sync(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// openWith opens or creates a database; synchronous is how its writes are waited for.
func openWith(ctx context.Context, path, synchronous string) (*Store, error) {
	if err := writable(filepath.Dir(path)); err != nil {
		return nil, err
	}
	if err := notEmptied(path); err != nil {
		return nil, err
	}
	if err := ownFile(path); err != nil {
		return nil, err
	}
	db, err := connect(path, synchronous)
	if err != nil {
		return nil, err
	}
	s := newStore(db)
	if err := s.ready(ctx, path); err != nil {
		return nil, errors.Join(fmt.Errorf("open %s: %w", path, err), db.Close())
	}
	return s, nil
}

// connect opens the file as every connection is to use it.
func connect(path, synchronous string) (*sql.DB, error) {
	q := url.Values{}
	for _, p := range []string{"journal_mode(WAL)", "synchronous(" + synchronous + ")", "foreign_keys(1)",
		"busy_timeout(2000)", "trusted_schema(0)",
		"secure_delete(1)"} { // what was taken out is not left readable in the file
		q.Add("_pragma", p)
	}
	q.Set("_txlock", "immediate")
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?"+q.Encode())
	if err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	db.SetMaxOpenConns(8)
	return db, nil
}

// writable makes a folder that is not there, and reports one nothing can be written
// to.
func writable(folder string) error {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return fmt.Errorf("%w: %s (%w)", ErrFolder, folder, plainCause(err))
	}
	probe, err := os.CreateTemp(folder, ".writable-*")
	if err != nil {
		return fmt.Errorf("%w: %s (%w)", ErrFolder, folder, plainCause(err))
	}
	return errors.Join(probe.Close(), os.Remove(probe.Name()))
}

// ownFile makes a database that is not there, for its owner alone; what SQLite writes
// beside it is like it.
func ownFile(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("%w: %s (%w)", ErrFolder, filepath.Dir(path), plainCause(err))
	}
	return f.Close()
}

// traces are the files beside a studio's database after its first use: its log, copies
// from before an update, secrets, a certificate.
func traces(path string) []string {
	folder := filepath.Dir(path)
	return []string{path + "-wal", path + ".before-*", filepath.Join(folder, "secrets.json"),
		filepath.Join(folder, "lan-certificate.pem")}
}

// notEmptied refuses a database of no bytes beside traces of a studio: it is no new one,
// and must not be made one over the log that may still hold it.
func notEmptied(path string) error {
	info, err := os.Stat(path)
	if err != nil || info.Size() > 0 {
		return nil //nolint:nilerr // one that is not there is a new one
	}
	for _, pattern := range traces(path) {
		found, err := filepath.Glob(pattern)
		if err != nil {
			return err
		}
		for _, f := range found {
			if info, err := os.Stat(f); err == nil && info.Size() > 0 {
				return fmt.Errorf("%w (%s is there)", ErrEmptied, filepath.Base(f))
			}
		}
	}
	return nil
}

// plainCause is the system's message, without the name of a probe.
func plainCause(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}

// quickly is up to which size a database is checked before it is used: some tenths of
// a second. A larger one is checked beside its first use.
const quickly = 24 << 20

// ready checks the database and brings it up to date.
func (s *Store) ready(ctx context.Context, path string) error {
	info, err := os.Stat(path)
	if err != nil {
		return err
	}
	if s.Unchecked = info.Size() > quickly; !s.Unchecked && info.Size() > 0 {
		if err := s.Sound(ctx); err != nil {
			return err
		}
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, s.db, files)
	if err != nil {
		return damaged(err)
	}
	has, err := provider.GetDBVersion(ctx)
	if err != nil {
		return damaged(err)
	}
	sources := provider.ListSources()
	newest := sources[len(sources)-1].Version
	switch {
	case has > newest:
		return ErrNewer
	case has == newest:
		return nil
	case has > 0:
		if err := s.keepCopy(ctx, path, has); err != nil {
			return err
		}
	}
	_, err = provider.Up(ctx)
	return damaged(err)
}

// keepCopy keeps the database as it is before it is brought up to date.
func (s *Store) keepCopy(ctx context.Context, path string, version int64) error {
	copied := fmt.Sprintf("%s.before-%d-%s", path, version, time.Now().Format("20060102-150405"))
	return s.Backup(ctx, copied)
}

// Sound reads the file through and returns ErrDamaged when it is not whole.
func (s *Store) Sound(ctx context.Context) error { return s.sound(ctx, "quick_check") }

// sound runs one of SQLite's checks of the file.
func (s *Store) sound(ctx context.Context, pragma string) error {
	rows, err := s.db.QueryContext(ctx, "PRAGMA "+pragma)
	if err != nil {
		return damaged(err)
	}
	defer rows.Close()
	for rows.Next() {
		var said string
		if err := rows.Scan(&said); err != nil {
			return damaged(err)
		}
		if said != "ok" {
			return fmt.Errorf("%w (%s)", ErrDamaged, said)
		}
	}
	return damaged(rows.Err())
}

// damaged says a driver's words about a broken file in ours.
func damaged(err error) error {
	switch code(err) & primary {
	case sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
		return fmt.Errorf("%w (%w)", ErrDamaged, err)
	}
	return err
}

// A Lock keeps other programs off a data folder.
type Lock struct{ file *flock.Flock }

// LockFolder takes a data folder for this program; ErrInUse when another has it.
func LockFolder(folder string) (*Lock, error) {
	if err := writable(folder); err != nil {
		return nil, err
	}
	l := &Lock{flock.New(filepath.Join(folder, "jevvo.lock"))}
	got, err := l.file.TryLock()
	if err != nil {
		return nil, fmt.Errorf("lock %s: %w", folder, err)
	}
	if !got {
		return nil, ErrInUse
	}
	return l, nil
}

// Release lets the folder go. The file stays: another may be waiting for it.
func (l *Lock) Release() error { return l.file.Unlock() }
