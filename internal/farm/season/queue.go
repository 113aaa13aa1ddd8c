package season

import (
	"time"

	"fjell/core/grazing"
	"fjell/core/queue"
	"fjell/core/rotation"
)

// Queues are the mobs of each queue: those that share ground stand in one.
func (s *Season) Queues() [][]int { return queue.GroupsOf(s.Grazers) }

// Week is the case of a queue from now on, by the present plan.
func (s *Season) Week(of []int) queue.Case {
	farm, mobs := s.planned()
	past := s.Past()
	for p := range farm.Paddocks {
		farm.Paddocks[p].Today = s.condition(p, past.Standing[p])
	}
	c := queue.Case{Farm: farm, Mobs: mobs, Standing: past.Standing, Pins: s.pins(), Moves: s.found(), Now: s.Now, Of: of, Classes: make([][]queue.Class, len(mobs))}
	for _, pad := range s.Paddocks {
		sward := queue.Sward{Residual: pad.Sward.Residual, Legume: pad.Sward.LegumeShare}
		if pad.LegumeShare != nil {
			sward.Legume = *pad.LegumeShare
		}
		if pad.Sward.Response != nil {
			sward.Response = *pad.Sward.Response
		}
		c.Swards = append(c.Swards, sward)
	}
	for _, school := range grazing.Schools() {
		way := queue.Way{Key: school.Key, Name: school.Name}
		for _, pad := range s.Paddocks {
			limits, err := school.On(pad.Sward)
			if err != nil { // it cannot be followed on this ground: what is usual there holds
				limits, _ = grazing.UsualOn(pad.Sward).On(pad.Sward)
			}
			way.Limits = append(way.Limits, limits)
		}
		c.Schools = append(c.Schools, way)
	}
	for _, m := range of {
		c.Spared += s.spared(m)
	}
	first, until := s.Number(s.Now), s.Number(c.Until())+1
	for g, series := range s.Herd.Series(first, until) {
		group := s.Herd.Groups[g]
		m, here := s.MobIndex[group.Mob]
		if !here || series[0].Head == 0 {
			continue
		}
		class := queue.Class{ID: group.ID, Name: s.ClassName(group.ID), Head: series[0].Head, Demand: rotation.Daily{First: first}}
		for _, point := range series {
			class.Demand.Values = append(class.Demand.Values, point.Demand)
		}
		c.Classes[m] = append(c.Classes[m], class)
	}
	return c
}

// WeekThen is the case of a queue as it was at a moment before now, with what was known then, and the moves that followed as its plan.
func (s *Season) WeekThen(of []int, at time.Time) (queue.Case, rotation.Plan) {
	c := s.Week(of)
	c.Now, c.Standing, c.Pins, c.Moves = at, s.Recount(at).Standing, nil, nil
	plan := rotation.Plan{From: at, To: s.Now}
	for m := range c.Mobs {
		c.Mobs[m].In = rotation.Nowhere
	}
	trace := s.Past().Trace
	for _, stay := range s.Stays {
		switch {
		case stay.Mob >= len(c.Mobs) || !stay.Leave.IsZero() && !stay.Leave.After(at):
		case !stay.Enter.After(at):
			c.Mobs[stay.Mob].In, c.Mobs[stay.Mob].Since = stay.Paddock, stay.Enter
		default:
			leave := stay.Leave
			if leave.IsZero() {
				leave = s.Now
			}
			plan.Visits = append(plan.Visits, rotation.Visit{Mob: stay.Mob, Paddock: stay.Paddock, Enter: stay.Enter, Leave: leave, MassIn: rotation.MassAt(trace[stay.Paddock], stay.Enter)})
		}
	}
	plan.Visits = append(plan.Visits, s.Ahead().Visits...)
	return c, plan
}
