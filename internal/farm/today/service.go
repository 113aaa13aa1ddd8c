// Package today puts the other places together: what to do now.
package today

import "fjell/internal/farm/season"

// Service is the place of Today.
type Service struct{ *season.Service }
