package season

import (
	"context"
	"slices"
	"sync"
	"time"

	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Service works out seasons, each once for a state of a farm's facts and a moment.
type Service struct{ *facts.Service }

// shelf keeps the seasons of one state by the moment they are worked out for.
type shelf struct {
	mu      sync.Mutex
	seasons map[time.Time]*Season
}

func shelfOf(f *facts.State) *shelf {
	return f.Shelf(func() any { return &shelf{seasons: map[time.Time]*Season{}} }).(*shelf)
}

// seasonsKept is how many moments of one state are kept.
const seasonsKept = 4

// Season is the picture of an actor's farm with its past and its plan, each worked out once for a moment.
func (s *Service) Season(ctx context.Context, a farm.Actor) (*Season, error) {
	f, now, err := s.Facts(ctx, a)
	if err != nil {
		return nil, err
	}
	return shelfOf(f).season(f, f.Picture.Moment(now, s.Clock.Held()))
}

func (s *shelf) season(f *facts.State, at time.Time) (*Season, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if se, ok := s.seasons[at]; ok {
		return se, nil
	}
	se := onward(f.Before(), f.Picture, at)
	if se == nil {
		var err error
		if se, err = Of(f.Picture.As(at)); err != nil {
			return nil, err
		}
	}
	for old := range s.seasons {
		if len(s.seasons) < seasonsKept {
			break
		}
		delete(s.seasons, old)
	}
	s.seasons[at] = se
	f.Onward()
	return se, nil
}

// bearing are the parts that a season rests on: all but those that only speak of it. A new part bears until it is said not to.
var bearing = slices.DeleteFunc(slices.Clone(store.Parts), func(p store.Part) bool {
	return p == store.MarksPart || p == store.LinesPart || p == store.WatchPart
})

// onward is the season of an earlier state at a moment, if nothing it rests on was written since; nil otherwise.
func onward(f *facts.State, p *facts.Picture, at time.Time) *Season {
	if f == nil {
		return nil
	}
	for _, part := range bearing {
		if f.Picture.Row.Parts.V[part] != p.Row.Parts.V[part] {
			return nil
		}
	}
	earlier := shelfOf(f)
	earlier.mu.Lock()
	se, ok := earlier.seasons[at]
	earlier.mu.Unlock()
	if !ok {
		return nil
	}
	next := *se // what it works out once goes on being shared
	next.Picture = p.As(at)
	return &next
}
