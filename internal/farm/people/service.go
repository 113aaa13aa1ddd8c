// Package people is what a farm's owners can do about who works on it.
package people

import "fjell/internal/farm"

// Service is the place of the people.
type Service struct{ *farm.Service }
