//go:build unix

package main

import "golang.org/x/sys/unix"

// freeOn is how many bytes are free where a folder is.
func freeOn(folder string) (free uint64, known bool) {
	var disk unix.Statfs_t
	if err := unix.Statfs(folder, &disk); err != nil {
		return 0, false
	}
	return uint64(disk.Bavail) * uint64(disk.Bsize), true
}
