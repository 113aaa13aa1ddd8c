// Package season makes of a farm's facts what core works on, and keeps what core made of it: what stood up to now, what is
// planned, what is closed, what stock need. Every place is drawn from one. It writes nothing.
package season

import (
	"sync"
	"time"

	"fjell/core/grazing"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/farm/facts"
)

// Season is the picture as the rotation package works on it.
type Season struct {
	*facts.Picture
	Past     func() rotation.Past // up to now, worked out once
	Ahead    func() rotation.Plan
	Farm     rotation.Farm
	Grazers  []rotation.Mob
	MobIndex map[string]int
	guesses  []rotation.Standing
	Stays    []rotation.Stay
	Looks    []rotation.Measured
	grazed   []bool // paddocks that some mob grazes
}

// Of works a farm's facts into a season: paddocks, mobs, stays and looks as core knows them.
func Of(p *facts.Picture) (*Season, error) {
	s := &Season{Picture: p, MobIndex: map[string]int{}}
	s.Past = sync.OnceValue(func() rotation.Past { return s.Recount(s.Now) })
	s.Ahead = sync.OnceValue(func() rotation.Plan { return s.Forecast(s.Past()) })
	s.Farm = rotation.Farm{Location: p.Location, Southern: p.Row.Latitude < 0, MoveMinutes: p.Row.MoveMinutes.V}
	first, until := span(p)
	if p.Weather != nil {
		s.Farm.Weather = rotation.Daily{First: first}
		for n := first; n < until; n++ {
			s.Farm.Weather.Values = append(s.Farm.Weather.Values, p.Weather.Growth(n))
		}
	}
	lib := reference.Load()
	for _, pad := range p.Paddocks {
		curve, err := lib.Curve(p.CurveOf(pad.Sward))
		if err != nil {
			return nil, err
		}
		s.Farm.Paddocks = append(s.Farm.Paddocks, rotation.Paddock{ID: pad.ID, Name: pad.Name, AreaHa: pad.Shape.AreaHa, X: pad.Centre.X, Y: pad.Centre.Y,
			Peak: pad.Sward.PeakGrowth * pad.GrowthFactor, Ceiling: pad.Sward.Ceiling, Curve: curve, Closures: closures(p, pad, pad.Purpose), Minded: Limits(pad)})
	}
	for i, m := range p.Mobs {
		rm := rotation.Mob{ID: m.ID, Name: m.Name, In: rotation.Nowhere}
		rm.Demand = mobDemand(p, m.ID)
		onlySheep, school := onlySheep(p, m.ID), p.School(m.ID)
		for _, pad := range p.Paddocks {
			limits, err := school.On(pad.Sward)
			if err != nil { // the ground was changed after the plan took its copy of the school: the usual one holds
				usual, _ := grazing.FindSchool(school.Key)
				if limits, err = usual.On(pad.Sward); err != nil {
					return nil, err
				}
			}
			rm.Limits = append(rm.Limits, limits)
			rm.Ground = append(rm.Ground, m.Grazes(pad.FieldID) && pad.Purpose == "grazing" && (!rotation.SheepOnly(Limits(pad)) || onlySheep))
		}
		s.MobIndex[m.ID] = i
		s.Grazers = append(s.Grazers, rm)
	}
	for i := range p.Paddocks {
		guess := rotation.Guess(s.Limits(i))
		guess.LastLeft = p.Paddocks[i].CarriedLeftAt
		if rest := p.Paddocks[i].RestFrom; rest != nil {
			if left, err := rest.Time(p.Location); err == nil && (guess.LastLeft == nil || left.After(*guess.LastLeft)) {
				guess.LastLeft = &left
			}
		}
		s.guesses = append(s.guesses, guess)
	}
	s.gatherFacts()
	s.grazed = make([]bool, len(s.Paddocks))
	for p := range s.grazed {
		for _, m := range s.Grazers {
			s.grazed[p] = s.grazed[p] || m.Ground[p]
		}
	}
	s.Farm = s.Farm.WithAlmanac(s.Grazers, s.Now.AddDate(-1, -3, 0), s.Now.AddDate(0, 0, ForecastDays+1))
	return s, nil
}

// In are the mobs that stand in a paddock.
func (s *Season) In(paddock int) []rotation.Mob {
	var out []rotation.Mob
	for _, m := range s.Grazers {
		if m.In == paddock {
			out = append(out, m)
		}
	}
	return out
}

// Limits of a paddock are those of the first mob that grazes it, or of the usual school where none does.
func (s *Season) Limits(paddock int) grazing.Limits {
	for _, m := range s.Grazers {
		if m.Ground[paddock] {
			return m.Limits[paddock]
		}
	}
	school, _ := grazing.FindSchool(grazing.StartStop)
	l, _ := school.On(s.Paddocks[paddock].Sward)
	return l
}

// gatherFacts turns the record of moves into stays, and walks and looks back into measurements.
func (s *Season) gatherFacts() {
	open := map[int]int{} // mob → stay
	for _, mv := range s.Moves {
		m, ok := s.MobIndex[mv.MobID]
		if !ok {
			continue
		}
		if k, ok := open[m]; ok {
			s.Stays[k].Leave = mv.MovedAt
			delete(open, m)
		}
		if mv.FromPaddockID != nil && mv.LeftMass != nil {
			if p, ok := s.ByID[*mv.FromPaddockID]; ok {
				hw := *mv.LeftMass * 0.4
				if mv.LeftHalfWidth != nil {
					hw = *mv.LeftHalfWidth
				}
				s.Looks = append(s.Looks, rotation.Measured{Paddock: p, At: mv.MovedAt, Mass: *mv.LeftMass, HalfWidth: hw, Shared: hw / 2, ID: mv.ID})
			}
		}
		if mv.ToPaddockID == nil {
			continue
		}
		if p, ok := s.ByID[*mv.ToPaddockID]; ok {
			open[m] = len(s.Stays)
			s.Stays = append(s.Stays, rotation.Stay{Mob: m, Paddock: p, Enter: mv.MovedAt})
		}
	}
	for m, k := range open {
		s.Grazers[m].In, s.Grazers[m].Since = s.Stays[k].Paddock, s.Stays[k].Enter
	}
	for _, ms := range s.Measured {
		if p, ok := s.ByID[ms.PaddockID]; ok {
			s.Looks = append(s.Looks, rotation.Measured{Paddock: p, At: ms.MeasuredAt, Mass: ms.ForageMass, HalfWidth: ms.HalfWidth, Shared: ms.SharedError, ID: ms.ID})
		}
	}
}

// pastDays is how far back masses are worked out.
const pastDays = 56

// Recount works out what stood up to a moment from what was measured, eaten and grown.
func (s *Season) Recount(to time.Time) rotation.Past {
	return rotation.Recount(s.Farm, s.Grazers, s.guesses, s.Stays, s.Looks, s.Now.AddDate(0, 0, -pastDays), to)
}

// InRotation marks the paddocks that some mob grazes.
func (s *Season) InRotation() []bool { return s.grazed }
