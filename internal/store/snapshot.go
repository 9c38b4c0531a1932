package store

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// Snapshots are kept for a week, those of Mondays for five weeks, those of the first
// of a month for a year, and the newest whatever it is.
const (
	keepDays   = 7
	keepWeeks  = 5 * 7
	keepMonths = 366
)

const (
	snapshotName   = "jevvo-"
	snapshotLayout = "2006-01-02"
)

// Snapshot keeps a copy of today in a folder, unless there is one, and removes those
// that are no longer kept. It reports whether it wrote one.
func (s *Store) Snapshot(ctx context.Context, folder string, now time.Time) (bool, error) {
	if info, err := os.Stat(folder); err != nil || !info.IsDir() {
		return false, fmt.Errorf("the folder of snapshots %s is not there", folder)
	}
	path := filepath.Join(folder, snapshotName+now.Format(snapshotLayout)+".db")
	if _, err := os.Stat(path); err == nil {
		return false, nil
	}
	if err := s.Backup(ctx, path); err != nil {
		return false, err
	}
	return true, prune(folder, now)
}

// prune removes snapshots that are no longer kept; other files are left alone.
func prune(folder string, now time.Time) error {
	names, err := filepath.Glob(filepath.Join(folder, snapshotName+"*.db"))
	if err != nil {
		return err
	}
	slices.Sort(names)
	for k, name := range names {
		day, err := time.ParseInLocation(snapshotLayout,
			strings.TrimSuffix(strings.TrimPrefix(filepath.Base(name), snapshotName), ".db"), now.Location())
		if err != nil || k == len(names)-1 || kept(day, now) {
			continue
		}
		if err := os.Remove(name); err != nil {
			return fmt.Errorf("remove an old snapshot: %w", err)
		}
	}
	return nil
}

func kept(day, now time.Time) bool {
	age := int(now.Sub(day).Hours() / 24)
	switch {
	case age < keepDays:
		return true
	case age < keepWeeks && day.Weekday() == time.Monday:
		return true
	}
	return age < keepMonths && day.Day() == 1
}
