// Package store keeps the studio in one SQLite file: one file of this package
// an aggregate, migrations embedded, every change in one transaction.
//
// A change is acknowledged only after it is on disk: the journal is a
// write-ahead log synced at every commit, so neither kill -9 nor a power cut
// takes back what was confirmed.
package store

import (
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"golang.org/x/sync/semaphore"
	"modernc.org/sqlite" // a driver that needs no C compiler
	sqlite3 "modernc.org/sqlite/lib"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Errors callers can tell apart.
var (
	// ErrNotFound means there is no such record.
	ErrNotFound = errors.New("there is no such record")
	// ErrConflict means the record was changed since it was read.
	ErrConflict = errors.New("it was changed on another page in the meantime")
	// ErrTaken means the name is in use.
	ErrTaken = errors.New("that name is taken")
	// ErrDiskFull means nothing could be written.
	ErrDiskFull = errors.New("the disk is full; nothing was changed")
	// ErrBusy means that another program holds the database.
	ErrBusy = errors.New("another program holds the database; nothing was changed")
)

// A Store is an open database. It is safe for concurrent use.
type Store struct {
	Reader
	db *sql.DB
	// Unchecked says that the file is too large to have been checked before it is used:
	// Sound is to be called beside the first use.
	Unchecked bool
	turn      *semaphore.Weighted // of those who write: one at a time, in the order they came
	stuck     atomic.Int64        // how often another program held the file for too long
	closed    func() error        // what is done once it is closed; nil for nothing
}

func newStore(db *sql.DB) *Store {
	return &Store{Reader: Reader{db}, db: db, turn: semaphore.NewWeighted(1)}
}

// Close ends all use of the store and folds the log back into the file.
func (s *Store) Close() error {
	_, err := s.db.Exec("PRAGMA wal_checkpoint(TRUNCATE)")
	err = errors.Join(err, s.db.Close())
	if s.closed != nil {
		err = errors.Join(err, s.closed())
	}
	return err
}

// wrap says what was being done and maps driver errors to this package's.
func wrap(doing string, err error) error {
	if err == nil {
		return nil
	}
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	} else if known := meant(err); known != nil {
		err = known
	}
	return fmt.Errorf("%s: %w", doing, err)
}

// primary is the part of an extended result code that says what kind it is of.
const primary = 0xff

// code is the extended result code of an error of the driver; 0 of any other.
func code(err error) int {
	var of *sqlite.Error
	if errors.As(err, &of) {
		return of.Code()
	}
	return 0
}

// meant is our error for an error of the driver; nil for nothing.
func meant(err error) error {
	switch code := code(err); {
	case code == sqlite3.SQLITE_CONSTRAINT_UNIQUE, code == sqlite3.SQLITE_CONSTRAINT_PRIMARYKEY,
		code == sqlite3.SQLITE_CONSTRAINT_ROWID:
		return ErrTaken
	case code&primary == sqlite3.SQLITE_FULL:
		return ErrDiskFull
	case code&primary == sqlite3.SQLITE_BUSY:
		return ErrBusy
	}
	return nil
}

// stamp is how times are kept: UTC, sortable, to the millisecond.
const stampLayout = "2006-01-02T15:04:05.000Z"

func stamp(t time.Time) string { return t.UTC().Format(stampLayout) }

func parseStamp(s string) time.Time {
	t, err := time.Parse(stampLayout, s)
	if err != nil {
		return time.Time{}
	}
	return t
}
