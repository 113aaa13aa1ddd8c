// Package ground is what a person can do with land: fields, layouts, paddocks, fences, marks, and what lies beneath
// them on the map.
package ground

import (
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
)

// Service is the place of the land.
type Service struct {
	*season.Service

	tiles tileShelf
}

// On is the place over a farm's seasons.
func On(s *season.Service) *Service {
	place := &Service{Service: s}
	s.Duties = append(s.Duties, facts.Duty{Due: layoutsDue, Do: place.turnOver})
	return place
}
