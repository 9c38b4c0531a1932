//go:build !unix

package main

// freeOn is not known on this system.
func freeOn(string) (free uint64, known bool) { return 0, false }
