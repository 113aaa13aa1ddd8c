// Package season makes of a farm's facts what core works on, and keeps what core made of it: what stood up to now, what is
// planned, what is closed, what stock need. Every place is drawn from one. It writes nothing.
package season

import (
	"slices"
	"sync"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/rotation"
	"fjell/core/weather"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Season is the picture as the rotation package works on it.
type Season struct {
	*facts.Picture
	Past     func() rotation.Past // up to now, worked out once
	Ahead    func() rotation.Plan
	Outlook  func() rotation.Outlook // how far the plan may lie off
	graded   *graded
	Farm     rotation.Farm
	Grazers  []rotation.Mob
	gone     []rotation.Mob // taken off the farm; what they ate is gone all the same
	goneAt   map[string]int
	goneStay []rotation.Stay // of theirs; a stay's mob counts on from the grazers
	MobIndex map[string]int
	guesses  []rotation.Standing
	Stays    []rotation.Stay
	Looks    []rotation.Measured
	grazed   []bool // paddocks that some mob grazes
}

// Of works a farm's facts into a season: paddocks, mobs, stays and looks as core knows them.
func Of(p *facts.Picture) (*Season, error) {
	s := &Season{Picture: p, MobIndex: map[string]int{}, graded: &graded{}}
	s.Past = sync.OnceValue(func() rotation.Past { return s.Recount(s.Now) })
	s.Ahead = sync.OnceValue(func() rotation.Plan { return s.Forecast(s.Past()) })
	s.Outlook = sync.OnceValue(func() rotation.Outlook { return rotation.Foresee(s.Farm, s.InRotation(), s.Past().Standing, s.Ahead()) })
	s.Farm = rotation.Farm{Location: p.Location, Southern: p.Climate.Southern(), Hours: hours(p.Row)}
	first, until := span(p)
	if p.Weather != nil {
		s.Farm.Weather, s.Farm.Heat = map[weather.Grass]rotation.Daily{}, map[weather.Grass]rotation.Daily{}
		for _, grass := range weather.Grasses {
			days, heat := rotation.Daily{First: first}, rotation.Daily{First: first}
			for n := first; n < until; n++ {
				hot := 0.0
				if p.Weather.HotAndDry(grass, n) {
					hot = 1
				}
				days.Values, heat.Values = append(days.Values, p.Weather.Growth(grass, n)), append(heat.Values, hot)
			}
			s.Farm.Weather[grass], s.Farm.Heat[grass] = days, heat
		}
	}
	for _, pad := range p.Paddocks {
		curve, _, err := p.Curve(pad.Sward)
		if err != nil {
			return nil, err
		}
		s.Farm.Paddocks = append(s.Farm.Paddocks, rotation.Paddock{ID: pad.ID, Name: pad.Name, AreaHa: pad.Shape.AreaHa, X: pad.Centre.X, Y: pad.Centre.Y,
			Peak: pad.Sward.PeakGrowth * pad.GrowthFactor, Ceiling: pad.Sward.Ceiling, Curve: curve, Grass: weather.Grass(pad.Sward.Season), Loss: pad.Sward.DailyLoss(), CutTo: pad.Sward.Residual, Closures: closures(p, pad, pad.Purpose), Minded: Limits(pad),
			Gifts: gifts(p, pad)})
	}
	for i, m := range p.Mobs {
		rm, err := grazer(p, m)
		if err != nil {
			return nil, err
		}
		s.MobIndex[m.ID] = i
		s.Grazers = append(s.Grazers, rm)
	}
	s.goneAt = map[string]int{}
	for i, m := range p.Gone {
		rm, err := grazer(p, m)
		if err != nil {
			return nil, err
		}
		s.goneAt[m.ID] = i
		s.gone = append(s.gone, rm)
	}
	for i := range p.Paddocks {
		guess := rotation.Guess(s.usual(i), s.Farm.Paddocks[i].Ceiling)
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
	s.Farm.Careful = p.Plan != nil && p.Plan.Careful
	s.Farm.Strays = p.Weather.Chain(s.mostGrass())
	s.Farm = s.Farm.WithAlmanac(s.all(), s.Now.AddDate(-1, -3, 0), s.Now.AddDate(0, 0, ForecastDays+1))
	s.leaveShare()
	return s, nil
}

// mostGrass is the kind of grass of which the farm grazes most.
func (s *Season) mostGrass() weather.Grass {
	area := map[weather.Grass]float64{}
	most := weather.Cool
	for p, pad := range s.Farm.Paddocks {
		if s.grazed[p] {
			if area[pad.Grass] += pad.AreaHa; area[pad.Grass] > area[most] {
				most = pad.Grass
			}
		}
	}
	return most
}

// hours are when the farm moves its stock.
func hours(row store.Farm) rotation.Hours {
	h := rotation.Hours{Minutes: row.MoveMinutes.V, Most: row.MostMoves}
	for _, w := range row.MoveWeekdays.V {
		h.Weekdays = append(h.Weekdays, time.Weekday(w%7))
	}
	for _, a := range row.Away.V {
		h.Away = append(h.Away, rotation.Away{From: facts.DayNumber(a.From), Until: facts.DayNumber(a.Until)})
	}
	return h
}

// grazer is a mob as core knows it: its ground, its limits on each paddock, and what it eats.
func grazer(p *facts.Picture, m facts.Mob) (rotation.Mob, error) {
	rm := rotation.Mob{ID: m.ID, Name: m.Name, In: rotation.Nowhere, Demand: mobDemand(p, m.ID), Follows: p.Follows(m.ID)}
	planned := p.Planned(m.ID)
	for _, pad := range p.Paddocks {
		school := grazing.UsualOn(pad.Sward)
		if planned {
			school = p.School(m.ID)
		}
		limits, err := school.On(pad.Sward)
		if err != nil { // the ground was changed after the plan took its copy of the school: the usual one holds
			usual, _ := grazing.FindSchool(school.Key)
			if limits, err = usual.On(pad.Sward); err != nil {
				return rm, err
			}
		}
		rm.Limits = append(rm.Limits, limits)
		rm.Ground = append(rm.Ground, pad.Purpose == "grazing" && ground(p, m, pad))
	}
	return rm, nil
}

// SharedGround tells whether one mob may graze some paddock that another may.
func SharedGround(p *facts.Picture, mobID, otherID string) bool {
	of := func(id string) *facts.Mob {
		for i := range p.Mobs {
			if p.Mobs[i].ID == id {
				return &p.Mobs[i]
			}
		}
		return nil
	}
	a, b := of(mobID), of(otherID)
	return a != nil && b != nil && slices.ContainsFunc(p.Paddocks, func(pad facts.Paddock) bool {
		return pad.Purpose == "grazing" && ground(p, *a, pad) && ground(p, *b, pad)
	})
}

// ground tells whether a mob may graze a paddock, whatever it is kept for.
func ground(p *facts.Picture, m facts.Mob, pad facts.Paddock) bool {
	return m.Grazes(pad.FieldID) && (!rotation.SheepOnly(Limits(pad)) || onlySheep(p, m.ID))
}

// all are the mobs that are here and those that were.
func (s *Season) all() []rotation.Mob { return slices.Concat(s.Grazers, s.gone) }

// leaveShare sets the residual of stays that are to leave a share of what stood when they began.
func (s *Season) leaveShare() {
	for i, m := range s.Grazers {
		if m.In == rotation.Nowhere || m.Limits[m.In].Leave == 0 {
			continue
		}
		in := rotation.MassAt(s.Past().Trace[m.In], m.Since)
		s.Grazers[i].Limits[m.In] = s.Farm.Asks(m, m.In, s.Now).Entered(in)
	}
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

// Limits of a paddock today are those of the first mob that grazes it, or of the school that suits its sward where none does.
func (s *Season) Limits(paddock int) grazing.Limits {
	return s.usual(paddock).At(s.Now.In(s.Location), s.Farm.HotAndDry(paddock, s.Now))
}

// LimitsOf are what a mob asks of a paddock today.
func (s *Season) LimitsOf(mob, paddock int) grazing.Limits {
	return s.Farm.Asks(s.Grazers[mob], paddock, s.Now)
}

// usual are the limits of a paddock at any time of the year.
func (s *Season) usual(paddock int) grazing.Limits {
	for _, m := range s.Grazers {
		if m.Ground[paddock] && m.Follows == "" { // who comes behind enters at nothing of its own
			return m.Limits[paddock]
		}
	}
	l, _ := grazing.UsualOn(s.Paddocks[paddock].Sward).On(s.Paddocks[paddock].Sward)
	return l
}

// gatherFacts turns the record of moves into stays, and walks and looks back into measurements.
func (s *Season) gatherFacts() {
	open := map[int]int{} // mob → stay
	was := map[int]int{}  // the same of those that are gone
	for _, mv := range s.Moves {
		m, here := s.MobIndex[mv.MobID]
		gone, left := s.goneAt[mv.MobID]
		if !here && !left {
			continue
		}
		if k, ok := open[m]; here && ok {
			s.Stays[k].Leave = mv.MovedAt
			delete(open, m)
		}
		if k, ok := was[gone]; left && ok {
			s.goneStay[k].Leave = mv.MovedAt
			delete(was, gone)
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
		if p, ok := s.ByID[*mv.ToPaddockID]; ok && here {
			open[m] = len(s.Stays)
			s.Stays = append(s.Stays, rotation.Stay{Mob: m, Paddock: p, Enter: mv.MovedAt})
		} else if ok {
			was[gone] = len(s.goneStay)
			s.goneStay = append(s.goneStay, rotation.Stay{Mob: len(s.Grazers) + gone, Paddock: p, Enter: mv.MovedAt})
		}
	}
	for gone, k := range was {
		s.goneStay[k].Leave = *s.Gone[gone].RemovedAt
	}
	for m, k := range open {
		if s.Herd.MobOn(s.Mobs[m].ID, s.Number(s.Now)).Head == 0 {
			s.Stays[k].Leave = s.Now // the last of them was sold, or joined another mob: nobody stands there
			continue
		}
		s.Grazers[m].In, s.Grazers[m].Since = s.Stays[k].Paddock, s.Stays[k].Enter
	}
	for _, ms := range s.Measured {
		if p, ok := s.ByID[ms.PaddockID]; ok {
			s.Looks = append(s.Looks, rotation.Measured{Paddock: p, At: ms.MeasuredAt, Mass: ms.ForageMass, HalfWidth: ms.HalfWidth, Shared: ms.SharedError, Sampling: ms.SamplingError, By: MadeBy(ms), Cut: ms.Method == CutMethod, ID: ms.ID})
		}
	}
}

// MadeBy names what made a measurement: the method, and the line that turned it into mass. What a division carried over is made by
// none.
func MadeBy(m store.Measurement) string {
	switch m.Method {
	case CarriedMethod:
		return ""
	case string(forage.PlateCounter): // the same plate, read otherwise
		m.Method = string(forage.Plate)
	}
	if m.CalibrationID != nil {
		return m.Method + " " + *m.CalibrationID
	}
	return m.Method
}

// pastDays is how far back masses are worked out.
const pastDays = 56

// Recount works out what stood up to a moment from what was measured, eaten and grown.
func (s *Season) Recount(to time.Time) rotation.Past {
	return rotation.Recount(s.Farm, s.all(), s.guesses, slices.Concat(s.Stays, s.goneStay), s.Looks, s.Now.AddDate(0, 0, -pastDays), to)
}

// InRotation marks the paddocks that some mob grazes.
func (s *Season) InRotation() []bool { return s.grazed }
