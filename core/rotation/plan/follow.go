package plan

import (
	"math"
	"slices"

	"fjell/core/quantity"
)

// Follow tells what given visits do and cost: the plan as it is, with nothing searched for. Only mob, paddock, enter and leave of a
// visit are read. Visits that are not allowed are refused with the reason. Its bound is nothing but its own cost.
func Follow(p *Problem, visits []Visit) (Plan, error) {
	s, err := tables(p)
	if err != nil {
		return Plan{}, err
	}
	st, err := s.followed(visits)
	if err != nil {
		return Plan{}, err
	}
	plan := st.plan()
	plan.Bound, plan.Finished = plan.Cost.Total, true
	if p.Futures > 0 {
		plan.Risk = st.risk(p.Futures)
	}
	return plan, nil
}

// followed is the state of visits.
func (s *season) followed(visits []Visit) (*state, error) {
	const unsaid = -3
	loc := make([]int16, s.mobs*s.slots)
	for i := range loc {
		loc[i] = unsaid
	}
	for i := range visits {
		v := &visits[i]
		refuse := func(format string, args ...any) (*state, error) {
			return nil, quantity.Refuse("visits", nil, "the visit of %s on day %d "+format, append([]any{v.Mob, int(math.Floor(v.Enter + sameMoment))}, args...)...)
		}
		m := slices.IndexFunc(s.p.Mobs, func(x Mob) bool { return x.Key == v.Mob })
		pad := Off
		if v.Paddock != nil {
			pad = slices.IndexFunc(s.p.Paddocks, func(x Paddock) bool { return x.Key == *v.Paddock })
		}
		if m < 0 || pad == Off && v.Paddock != nil {
			return refuse("names a mob or a paddock that is not there")
		}
		from, to := 0, s.slotAt(v.Leave)
		if v.Enter > s.at[0]+sameMoment {
			from = s.slotAt(v.Enter)
		}
		if math.Abs(v.Leave-s.at[0]) <= sameMoment {
			to = 0
		}
		if from < 0 || to < from {
			return refuse("begins or ends at no moment at which stock are moved")
		}
		for t := from; t < to; t++ {
			if loc[m*s.slots+t] != unsaid {
				return refuse("lies over another of theirs")
			}
			loc[m*s.slots+t] = int16(pad)
		}
	}
	taken := map[[2]int]int{}
	for m := range s.mobs {
		before, stood := s.in[m], true
		for t := range s.slots {
			p := int(loc[m*s.slots+t])
			day := s.day(s.first[t])
			stood = stood && p == s.in[m]
			switch other, there := taken[[2]int{p, t}]; {
			case p == unsaid:
				return nil, quantity.Refuse("visits", nil, "nothing says where %s are on day %d", s.p.Mobs[m].Key, day)
			case !s.unruled(m, p, t, before, stood):
				return nil, quantity.Refuse("visits", nil, "%s may not be where they are planned on day %d: %s", s.p.Mobs[m].Key, day, s.why(m, p, t))
			case p != Off && there:
				return nil, quantity.Refuse("visits", nil, "%s and %s are in %s at once on day %d", s.p.Mobs[other].Key, s.p.Mobs[m].Key, s.p.Paddocks[p].Key, day)
			}
			if p != Off {
				taken[[2]int{p, t}] = m
			}
			before = p
		}
	}
	if trailed := slices.Clone(loc); len(s.behind) > 0 {
		s.trailRows(trailed)
		for i, p := range trailed {
			if m := i / s.slots; p != loc[i] {
				return nil, quantity.Refuse("visits", nil, "%s follow %s and are not where those were on day %d", s.p.Mobs[m].Key, s.p.Mobs[m].Follows,
					s.day(s.first[i%s.slots]))
			}
		}
	}
	return s.placed(loc), nil
}

// unruled tells whether nothing but another mob keeps a mob from being somewhere in a slot.
func (s *season) unruled(m, p, t, before int, stood bool) bool {
	st := state{season: s}
	return st.may(m, p, t, before, stood)
}

// why says what keeps a mob from a place in a slot.
func (s *season) why(m, p, t int) string {
	switch i := s.pinned[m*s.slots+t]; {
	case i >= 0 && s.pinPads[i] != p:
		return "they are pinned elsewhere then"
	case !s.free[m*s.slots+t] && i < 0 && p != s.in[m]:
		return "no stock are moved at the start"
	case p == Off:
		return "they may not be held off the pasture"
	case s.barred[m*s.paddocks+p]:
		return "it is not their ground"
	case s.closed[p*s.slots+t]:
		return "it is closed then"
	}
	return "a pin begins or ends there"
}
