package plan

import (
	"cmp"
	"context"
	"runtime"
	"slices"
)

// Plan is the answer to a problem.
type Plan struct {
	Visits   []Visit `json:"visits"`
	Cost     Cost    `json:"cost"`
	Bound    float64 `json:"bound"`    // no allowed plan costs less: docs/planner.md has the proof
	Finished bool    `json:"finished"` // the search ended by itself, not by its limit of time
	Risk     *Risk   `json:"risk,omitempty"`
}

// Progress hears how far a search is, as a share of it.
type Progress func(share float64)

// Solve plans a problem that was checked. It gives the best plan it found when the context ends, and refuses only a problem that
// has no allowed plan. progress may be nil.
func Solve(ctx context.Context, p *Problem, progress Progress) (Plan, error) {
	return Improve(ctx, p, nil, progress)
}

// Improve is Solve that knows a plan already: what it gives is never dearer. Visits that are not allowed are left aside.
func Improve(ctx context.Context, p *Problem, visits []Visit, progress Progress) (Plan, error) {
	s, err := tables(p)
	if err != nil {
		return Plan{}, err
	}
	from, err := ripest(s)
	if err != nil {
		return Plan{}, err
	}
	if visits != nil {
		if known, err := s.followed(visits); err == nil && known.cost < from.cost {
			from = known
		}
	}
	foreseen := s
	if p.Careful {
		foreseen = s.careful(p.Futures)
	}
	best := foreseen.improve(ctx, progress, foreseen.openings(ctx, foreseen.placed(from.loc))...)
	proven := false
	if s.small() {
		best, proven = prove(ctx, best, mostNodes)
	}
	finished := ctx.Err() == nil
	best = s.placed(best.loc)
	bound := best.cost
	if !proven || p.Careful {
		bound = s.byPrice(ctx, best, runtime.GOMAXPROCS(0))
	}
	plan := best.plan()
	plan.Bound, plan.Finished = min(bound, plan.Cost.Total), finished
	if p.Futures > 0 {
		plan.Risk = best.risk(p.Futures)
	}
	return plan, nil
}

// openings are the plans that a search begins with, each chain with the next of them: the one there is, and what a beam finds. Which
// is cheaper at first says little about where they end, except where a problem is too large to get far from either.
func (s *season) openings(ctx context.Context, from *state) []*state {
	if ahead := s.beam(ctx); ahead != nil {
		return []*state{from, ahead}
	}
	return []*state{from}
}

// improve searches from openings.
func (s *season) improve(ctx context.Context, progress Progress, from ...*state) *state {
	return search(ctx, from, s.p.Seed, s.effort(), runtime.GOMAXPROCS(0), progress)
}

// work is how many slots of paddocks a search looks through, by and large: about a second's worth on a small machine.
const work = 1.5e8

// effort is how far the search of a season goes.
func (s *season) effort() effort {
	each := float64(s.slots) + 100 // a try looks along a few rows of the grid
	tries := int(work / each)
	free := 0
	for _, f := range s.free {
		if f {
			free++
		}
	}
	return effort{chains: 2, tries: min(tries, 6000*free)}
}

// mostNodes is how many beginnings of plans a proof may look at.
const mostNodes = 5000000

// small tells whether going through all plans can be hoped for: going through them knows neither followers nor busy days.
func (s *season) small() bool {
	return s.paddocks <= 8 && s.mobs*s.slots <= 48 && len(s.behind) == 0 && s.p.MostMoves == 0
}

// plan tells a state as visits in order, and what they cost.
func (st *state) plan() Plan {
	s := st.season
	stays, cost := st.told()
	slices.SortStableFunc(stays, func(a, b stay) int {
		return cmp.Or(cmp.Compare(a.mob, b.mob), cmp.Compare(a.from, b.from), cmp.Compare(a.to, b.to))
	})
	plan := Plan{Cost: cost, Visits: make([]Visit, 0, len(stays))}
	for _, v := range stays {
		out := Visit{Mob: s.p.Mobs[v.mob].Key, Enter: s.at[s.first[v.from]], Leave: s.at[s.first[v.to]], MassIn: v.in, MassOut: v.out, Eaten: v.eaten,
			Short: missing(v.wanted, v.eaten)}
		if v.fact {
			out.Enter = s.since[v.mob]
		}
		if v.pad != Off {
			out.Paddock = &s.p.Paddocks[v.pad].Key
		} else if s.p.Mobs[v.mob].MayHold {
			out.Short = 0
		}
		if v.rest >= 0 {
			out.Rest = &v.rest
		}
		if v.to > v.from {
			out.Pinned = s.pinned[v.mob*s.slots+v.from] >= 0
		}
		plan.Visits = append(plan.Visits, out)
	}
	return plan
}
