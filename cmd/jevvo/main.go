// Command jevvo plans resin paintings: it serves the studio as a web
// application on this machine and calculates single sums on the command line.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"
)

// Exit codes: 0 done, 1 it failed or an input was refused, 2 wrong usage.
const (
	exitFailed = 1
	exitUsage  = 2
)

// An exitError ends the program with a code and, unless quiet, a message.
type exitError struct {
	code  int
	quiet bool
	err   error
}

func (e *exitError) Error() string { return e.err.Error() }
func (e *exitError) Unwrap() error { return e.err }

func main() { os.Exit(run()) }

// collectEarlier keeps the memory of a program that mostly waits small, for a little
// more of the processor's time; $GOGC goes before it.
const collectEarlier = 50

func run() int {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(collectEarlier)
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	err := rootCommand().ExecuteContext(ctx)
	if err == nil {
		return 0
	}
	var e *exitError
	if errors.As(err, &e) {
		if !e.quiet {
			fmt.Fprintln(os.Stderr, "jevvo:", err)
		}
		return e.code
	}
	// Everything cobra itself refuses is wrong usage.
	fmt.Fprintln(os.Stderr, "jevvo:", err)
	return exitUsage
}

func failed(err error) error {
	if err == nil {
		return nil
	}
	return &exitError{code: exitFailed, err: err}
}
