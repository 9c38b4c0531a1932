// Package secrets keeps passwords in a file of their own that only its owner
// can read, outside the database and so outside every backup of it.
package secrets

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
)

// A File keeps secrets by their names. One that stands in the environment, as
// JEVVO_MAIL_PASSWORD for mail_password, goes before the file.
type File struct {
	Path string
	mu   sync.Mutex
}

func variable(name string) string { return "JEVVO_" + strings.ToUpper(name) }

// Get returns a secret, "" when there is none.
func (f *File) Get(name string) (string, error) {
	if v, ok := os.LookupEnv(variable(name)); ok {
		return v, nil
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	all, err := f.read()
	return all[name], err
}

func (f *File) read() (map[string]string, error) {
	all := map[string]string{}
	data, err := os.ReadFile(f.Path)
	if errors.Is(err, fs.ErrNotExist) {
		return all, nil
	}
	if err != nil {
		return all, fmt.Errorf("read the secrets: %w", err)
	}
	if err := json.Unmarshal(data, &all); err != nil {
		return all, fmt.Errorf("read the secrets in %s: %w", f.Path, err)
	}
	return all, nil
}

// Set keeps a secret, or forgets it when it is "". The file is replaced whole,
// so that a program that dies meanwhile leaves the old one.
func (f *File) Set(name, value string) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	all, err := f.read()
	if err != nil {
		return err
	}
	if value == "" {
		delete(all, name)
	} else {
		all[name] = value
	}
	data, err := json.Marshal(all)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(f.Path), 0o700); err != nil {
		return fmt.Errorf("make the folder of the secrets: %w", err)
	}
	fresh, err := os.CreateTemp(filepath.Dir(f.Path), ".secrets-*") // made readable by its owner alone
	if err != nil {
		return fmt.Errorf("keep the secrets: %w", err)
	}
	_, err = fresh.Write(data)
	err = errors.Join(err, fresh.Sync(), fresh.Close())
	if err == nil {
		err = os.Rename(fresh.Name(), f.Path)
	}
	if err != nil {
		return errors.Join(fmt.Errorf("keep the secrets: %w", err), os.Remove(fresh.Name()))
	}
	return nil
}
