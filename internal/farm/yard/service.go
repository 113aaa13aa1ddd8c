// Package yard is what is seen, given and done out there: looks, treatments and jobs.
package yard

import "fjell/internal/farm/season"

// Service is the place of the yard.
type Service struct{ *season.Service }
