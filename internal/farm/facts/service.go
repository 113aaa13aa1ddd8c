// Package facts is what a farm has on record, loaded once for a version of it and shared by everything that reads. It
// works nothing out.
package facts

import (
	"context"

	"fjell/internal/farm"
	"fjell/internal/store"
)

// Service opens the records of farms.
type Service struct {
	*farm.Service
	// Duties are done before a farm is shown, the first that is due first.
	Duties []Duty

	library library
}

// Duty is something that the passing of days brings about, and that nobody has to ask for.
type Duty struct {
	Due func(p *Picture, today store.Day) bool
	Do  func(ctx context.Context, a farm.Actor) error
}
