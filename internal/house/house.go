// Package house puts the places of a farm together over one database.
package house

import (
	"fjell/internal/farm"
	"fjell/internal/farm/decisions"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/ground"
	"fjell/internal/farm/herd"
	"fjell/internal/farm/moves"
	"fjell/internal/farm/people"
	"fjell/internal/farm/queue"
	"fjell/internal/farm/season"
	"fjell/internal/farm/today"
	"fjell/internal/farm/walk"
	"fjell/internal/farm/yard"
	"fjell/internal/farm/year"
)

// House is every place, each with what a person can do there.
type House struct {
	Farm   *farm.Service
	People *people.Service
	Ground *ground.Service
	Herd   *herd.Service
	Walk   *walk.Service
	Moves  *moves.Service
	Yard   *yard.Service
	Queue  *queue.Service
	Decide *decisions.Service
	Year   *year.Service
	Today  *today.Service
}

// New opens the places over a service, which may have no database when only their shape is wanted.
func New(service *farm.Service) *House {
	seasons := &season.Service{Service: &facts.Service{Service: service}}
	return &House{Farm: service, People: &people.Service{Service: service}, Ground: ground.On(seasons), Herd: &herd.Service{Service: seasons},
		Walk: walk.On(seasons), Moves: &moves.Service{Service: seasons}, Yard: &yard.Service{Service: seasons}, Queue: &queue.Service{Service: seasons}, Decide: &decisions.Service{Service: seasons}, Year: &year.Service{Service: seasons}, Today: &today.Service{Service: seasons}}
}
