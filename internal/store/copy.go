package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
)

// OpenToRead opens a database that is to be read: where its folder cannot be written to,
// a copy of it, which is gone once it is closed.
func OpenToRead(ctx context.Context, path string) (*Store, error) {
	if _, err := os.Stat(path); err != nil {
		return nil, fmt.Errorf("there is no file %s", path)
	}
	s, err := Open(ctx, path)
	if errors.Is(err, ErrFolder) {
		return OpenCopy(ctx, path)
	}
	return s, err
}

// OpenCopy opens a copy of a database with what its log holds, brought up to date; what
// it was copied from stays as it is, and the copy is gone once it is closed.
func OpenCopy(ctx context.Context, path string) (*Store, error) {
	dir, err := os.MkdirTemp("", "jevvo-copy-*")
	if err != nil {
		return nil, err
	}
	away := func() error { return os.RemoveAll(dir) }
	copied := filepath.Join(dir, filepath.Base(path))
	for _, end := range []string{"", "-wal"} {
		if err := copyFile(path+end, copied+end); err != nil && (end == "" || !errors.Is(err, os.ErrNotExist)) {
			return nil, errors.Join(err, away())
		}
	}
	s, err := Open(ctx, copied)
	if err != nil {
		return nil, errors.Join(err, away())
	}
	s.closed = away
	return s, nil
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}
