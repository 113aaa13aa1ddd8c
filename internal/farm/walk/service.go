// Package walk is what a person can do about what stands and grows: measure it by walking, by device or from a file,
// calibrate the meter, and keep the weather.
package walk

import (
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
)

// Service is the place of the walk.
type Service struct{ *season.Service }

// On is the place over a farm's seasons.
func On(s *season.Service) *Service {
	place := &Service{s}
	s.Duties = append(s.Duties, facts.Duty{Due: stationDue, Do: place.followStation})
	return place
}
