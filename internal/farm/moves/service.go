// Package moves is what a person can do about where stock go: record moves, plan them, pin them.
package moves

import "fjell/internal/farm/season"

// Service is the place of the moves.
type Service struct{ *season.Service }
