package plan

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
)

// What a plan may be given so that stock miss less. Each is one thing that stands in the way, eased by what a grazier might grant.
const (
	LessRest     = "less_rest"     // three days
	LongerStays  = "longer_stays"  // one day
	LessLeft     = "less_left"     // 100 kg DM/ha
	FewerAnimals = "fewer_animals" // a tenth
	AllOpen      = "all_open"      // nothing closed
)

// Take is what would come of easing one thing.
type Take struct {
	What    string
	Missing float64 // kg DM that stock would still go without on pasture
	Less    float64 // kg DM less than they do now
}

// eased are problems with one thing eased, by what it is. A thing that does not stand in the way of anybody is not among them.
func (p *Problem) eased() map[string]*Problem {
	limits := func(change func(l *Limits)) *Problem {
		q := *p
		q.Mobs = slices.Clone(p.Mobs)
		for i, m := range q.Mobs {
			if m.Limits != nil {
				own := *m.Limits
				change(&own)
				q.Mobs[i].Limits = &own
			}
			q.Mobs[i].LimitsByPaddock = maps.Clone(m.LimitsByPaddock)
			for key, own := range q.Mobs[i].LimitsByPaddock {
				change(&own)
				q.Mobs[i].LimitsByPaddock[key] = own
			}
		}
		return &q
	}
	out := map[string]*Problem{
		LessRest:    limits(func(l *Limits) { l.RestMin = max(0, l.RestMin-3) }),
		LongerStays: limits(func(l *Limits) { l.StayMax++ }),
		LessLeft:    limits(func(l *Limits) { l.Residual = max(0, l.Residual-100) }),
	}
	fewer := *p
	fewer.Mobs = slices.Clone(p.Mobs)
	for i, m := range fewer.Mobs {
		fewer.Mobs[i].Demand = slices.Clone(m.Demand)
		for d := range m.Demand {
			fewer.Mobs[i].Demand[d] *= 0.9
		}
	}
	out[FewerAnimals] = &fewer
	open, closed := *p, false
	open.Paddocks = slices.Clone(p.Paddocks)
	for i := range open.Paddocks {
		closed = closed || len(open.Paddocks[i].Closed) > 0
		open.Paddocks[i].Closed = nil
	}
	if closed {
		out[AllOpen] = &open
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
// most first. What helps nothing is left out. It is what a short search finds until the context ends: others may come to more.
func Takes(ctx context.Context, p *Problem, known Plan) ([]Take, error) {
	missing := p.Missing(known.Cost)
	var out []Take
	for what, q := range p.eased() {
		s, err := tables(q)
		if err != nil {
			return nil, err
		}
		from, err := s.followed(known.Visits)
		if err != nil {
			if from, err = ripest(s); err != nil {
				return nil, fmt.Errorf("what it would take: %w", err)
			}
		}
		few := s.effort()
		few.tries /= 4
		best := search(ctx, s.placed(from.loc), p.Seed, few, 2, nil)
		_, cost := best.told()
		if still := q.Missing(cost); missing-still >= 1 {
			out = append(out, Take{what, still, missing - still})
		}
	}
	slices.SortFunc(out, func(a, b Take) int { return cmp.Or(cmp.Compare(b.Less, a.Less), cmp.Compare(a.What, b.What)) })
	return out, nil
}
