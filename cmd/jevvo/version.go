package main

import (
	"fmt"
	"runtime"
	"runtime/debug"
)

// version is set by the release build.
var version = "dev"

// versionText is the version with the commit it was built from and the toolchain.
func versionText() string {
	commit, at, dirty := "", "", ""
	if info, ok := debug.ReadBuildInfo(); ok {
		for _, s := range info.Settings {
			switch {
			case s.Key == "vcs.revision":
				commit = s.Value
			case s.Key == "vcs.time":
				at = s.Value
			case s.Key == "vcs.modified" && s.Value == "true":
				dirty = ", changed since"
			}
		}
	}
	if commit == "" {
		return fmt.Sprintf("%s (commit not known, %s)", version, runtime.Version())
	}
	return fmt.Sprintf("%s (commit %s of %s%s, %s)", version, commit[:min(len(commit), 12)], at, dirty, runtime.Version())
}
