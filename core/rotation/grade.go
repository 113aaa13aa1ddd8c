package rotation

import (
	"context"
	"fmt"
	"math"
	"time"

	"fjell/core/rotation/plan"
)

// Grade holds a plan against the best that a search finds for the same farm, days and pins.
type Grade struct {
	Problem plan.Problem
	Present plan.Plan // the plan as it stands, with the risk of running short
	Found   plan.Plan // what comes of a search on the farm; never dearer
	Why     []plan.Why
	Missing float64     // kg DM that stock go without on pasture, in the plan found
	Takes   []plan.Take // what would lessen that; none where nothing to speak of is missing
	fitted  bool        // futures stray as the weather on record did
	zero    time.Time   // the midnight that begins day 0
}

// GradeRounds is how many rounds of a search a grade makes: the bound of the second holds for every plan.
const GradeRounds = 2

// gradeFutures is how many drawn growths say how likely a plan runs short.
const gradeFutures = 100

// GradeOf grades the visits of a plan from a moment to another. A plan that no problem allows, such as one in which two mobs stand in
// one paddock, has no grade: the error says what is in its way.
func GradeOf(ctx context.Context, farm Farm, mobs []Mob, standing []Standing, pins []Pin, visits []Visit, now, to time.Time) (Grade, error) {
	g, err := PresentOf(farm, mobs, standing, pins, visits, now, to)
	if err != nil {
		return g, err
	}
	foreseen := ProblemOf(farm, mobs, standing, pins, now, to) // whatever season it is weighed in, the risk is of what is foreseen
	foreseen.Futures = gradeFutures
	drawn, err := plan.Follow(&foreseen, g.Present.Visits)
	if err != nil {
		return g, fmt.Errorf("grade the plan: %w", err)
	}
	g.Present.Risk = drawn.Risk
	// As a search goes: first with what people count on left as it is, then with that open too. It promises what a press comes to.
	var found Found
	for round := range GradeRounds {
		if found, err = Find(ctx, farm, mobs, standing, pins, visits, now, to, round); err != nil {
			return g, err
		}
		if found.Changed {
			visits = Following(farm, mobs, standing, pins, found.Moves, now, to).Visits
		}
	}
	g.Found = found.Told
	if g.Missing = g.Problem.Missing(g.Found.Cost); g.Missing > missed*g.Problem.Demanded() {
		easing, stop := context.WithTimeout(context.WithoutCancel(ctx), easeFor)
		defer stop()
		if g.Takes, err = plan.Takes(easing, &g.Problem, g.Found); err != nil {
			return g, err
		}
	}
	g.Why, err = plan.Whys(&g.Problem, g.Found.Visits, 2)
	return g, err
}

// easeFor is how long it is looked for what would lessen the feed that is missing; missed is what is not worth it, as a share of all
// that the mobs want.
const (
	easeFor = 3 * time.Second
	missed  = 0.005
)

// weighed is the problem by which plans of a farm are held against each other: the season as it is foreseen, or a poor one where the farm
// is careful.
func weighed(farm Farm, mobs []Mob, standing []Standing, pins []Pin, now, to time.Time) (plan.Problem, error) {
	p := ProblemOf(farm, mobs, standing, pins, now, to)
	if !farm.Careful {
		return p, nil
	}
	return p.Poor(gradeFutures)
}

// PresentOf is a plan as it stands as a problem and its visits, with what they cost, and nothing searched for.
func PresentOf(farm Farm, mobs []Mob, standing []Standing, pins []Pin, visits []Visit, now, to time.Time) (Grade, error) {
	problem, err := weighed(farm, mobs, standing, pins, now, to)
	if err != nil {
		return Grade{}, err
	}
	g := Grade{Problem: problem, fitted: farm.Strays != nil, zero: midnightBefore(now, farm.Location)}
	if g.Present, err = plan.Follow(&g.Problem, g.visits(visits, mobs)); err != nil {
		return g, fmt.Errorf("grade the plan: %w", err)
	}
	return g, nil
}

// Day is a moment as a day of the problem.
func (g *Grade) Day(at time.Time) float64 {
	loc := g.zero.Location()
	l := at.In(loc)
	return float64(DayNumber(at, loc)-DayNumber(g.zero, loc)) + (time.Duration(l.Hour())*time.Hour+time.Duration(l.Minute())*time.Minute).Hours()/24
}

// At is a day of the problem as a moment at the farm.
func (g *Grade) At(day float64) time.Time {
	whole := math.Floor(day + 1e-7)
	return time.Date(g.zero.Year(), g.zero.Month(), g.zero.Day()+int(whole), 0, int(math.Round((day-whole)*24*60)), 0, 0, g.zero.Location())
}

// visits are stays of the scheduler as the problem knows them: who is held is off the pasture meanwhile.
func (g *Grade) visits(list []Visit, mobs []Mob) []plan.Visit {
	p := &g.Problem
	end := float64(p.Days)
	var out []plan.Visit
	until := make([]float64, len(mobs)) // when the last visit of each ends
	for m := range mobs {
		until[m] = *p.Start
	}
	stay := func(m int, paddock *string, from, to float64) {
		if to = math.Min(to, end); to > from {
			out = append(out, plan.Visit{Mob: p.Mobs[m].Key, Paddock: paddock, Enter: from, Leave: to})
			until[m] = to
		}
	}
	for _, v := range list {
		enter, leave := math.Max(g.Day(v.Enter), *p.Start), g.Day(v.Leave)
		if enter > until[v.Mob] {
			stay(v.Mob, nil, until[v.Mob], enter)
		}
		if held := v.Held; !held.IsZero() {
			stay(v.Mob, &p.Paddocks[v.Paddock].Key, enter, g.Day(held))
			stay(v.Mob, nil, math.Max(enter, g.Day(held)), leave)
			continue
		}
		stay(v.Mob, &p.Paddocks[v.Paddock].Key, enter, leave)
	}
	for m := range mobs {
		stay(m, nil, until[m], end)
	}
	return out
}
