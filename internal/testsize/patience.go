package testsize

import "context"

// A Patience is a context that ends after so many looks at it, and counts on below nought:
// how far below it is in the end says how long the work went on after it was told. It is not
// safe for concurrent use.
type Patience struct {
	context.Context
	Left *int
}

// Err is context.Canceled once the looks are used up.
func (p Patience) Err() error {
	if *p.Left--; *p.Left < 0 {
		return context.Canceled
	}
	return nil
}
