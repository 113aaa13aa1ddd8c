package plan

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
)

// What may be eased so that stock miss less.
const (
	LessRest     = "less_rest"     // days
	LongerStays  = "longer_stays"  // days
	LessLeft     = "less_left"     // kg DM/ha
	FewerAnimals = "fewer_animals" // share
	AllOpen      = "all_open"      // nothing closed
)

// Take is what would come of easing one thing by what a grazier might grant.
type Take struct {
	What    string
	By      float64 // in the unit of what is eased
	Missing float64 // kg DM that stock would still go without on pasture
	Less    float64 // kg DM less than with nothing eased
}

// easing is one thing eased, and the problem that is then.
type easing struct {
	what    string
	by      float64
	problem *Problem
}

// eased are a problem with one thing eased each. What is in nobody's way is not among them.
func (p *Problem) eased() []easing {
	limits := func(what string, by float64, ease func(l *Limits, by float64)) easing {
		q := *p
		q.Mobs = slices.Clone(p.Mobs)
		for i, m := range q.Mobs {
			if m.Limits != nil {
				own := *m.Limits
				ease(&own, by)
				q.Mobs[i].Limits = &own
			}
			q.Mobs[i].LimitsByPaddock = maps.Clone(m.LimitsByPaddock)
			for key, own := range q.Mobs[i].LimitsByPaddock {
				ease(&own, by)
				q.Mobs[i].LimitsByPaddock[key] = own
			}
		}
		return easing{what, by, &q}
	}
	out := []easing{
		limits(LessRest, 3, func(l *Limits, by float64) { l.RestMin = max(0, l.RestMin-by) }),
		limits(LongerStays, 1, func(l *Limits, by float64) { l.StayMax += by }),
		limits(LessLeft, 100, func(l *Limits, by float64) {
			l.Residual = max(0, l.Residual-by)
			l.Times = slices.Clone(l.Times)
			for i := range l.Times {
				l.Times[i].Residual = max(0, l.Times[i].Residual-by)
			}
		}),
	}
	const fewer = 0.1
	less := *p
	less.Mobs = slices.Clone(p.Mobs)
	for i, m := range less.Mobs {
		less.Mobs[i].Demand = slices.Clone(m.Demand)
		for d := range m.Demand {
			less.Mobs[i].Demand[d] *= 1 - fewer
		}
	}
	out = append(out, easing{FewerAnimals, fewer, &less})
	open, closed := *p, false
	open.Paddocks = slices.Clone(p.Paddocks)
	for i := range open.Paddocks {
		closed = closed || len(open.Paddocks[i].Closed) > 0
		open.Paddocks[i].Closed = nil
	}
	if closed {
		out = append(out, easing{AllOpen, 0, &open})
	}
	return out
}

// Missing is the feed that stock go without on pasture in a plan of the problem, kg DM: what they are short of, and what they are fed.
func (p *Problem) Missing(c Cost) float64 {
	missing := 0.0
	if p.Weights.Short > 0 {
		missing += c.Short / p.Weights.Short
	}
	if p.Weights.Feed > 0 {
		missing += c.Feed / p.Weights.Feed
	}
	return missing
}

// Takes says what it would take for stock to miss less than in a plan: what would come of easing one thing or another, what helps
// most first. What helps nothing is left out. Each is what a short search finds until the context ends, held against the same search
// with nothing eased; longer ones may come to more.
func Takes(ctx context.Context, p *Problem, known Plan) ([]Take, error) {
	missing, err := p.missingAfter(ctx, known.Visits)
	if err != nil {
		return nil, err
	}
	var out []Take
	for _, e := range p.eased() {
		still, err := e.problem.missingAfter(ctx, known.Visits)
		if err != nil {
			return nil, err
		}
		if missing-still >= 1 {
			out = append(out, Take{What: e.what, By: e.by, Missing: still, Less: missing - still})
		}
	}
	slices.SortFunc(out, func(a, b Take) int { return cmp.Or(cmp.Compare(b.Less, a.Less), cmp.Compare(a.What, b.What)) })
	return out, nil
}

// missingAfter is what stock still miss after a short search from visits, where the problem allows them.
func (p *Problem) missingAfter(ctx context.Context, visits []Visit) (float64, error) {
	s, err := tables(p)
	if err != nil {
		return 0, err
	}
	from, err := s.followed(visits)
	if err != nil {
		if from, err = ripest(s); err != nil {
			return 0, fmt.Errorf("what it would take: %w", err)
		}
	}
	few := s.effort()
	few.tries /= 4
	_, cost := search(ctx, []*state{s.placed(from.loc)}, p.Seed, few, 2, nil).told()
	return p.Missing(cost), nil
}
