package moves

import (
	"context"
	"errors"
	"strings"
	"time"

	"fjell/core/quantity"
	"fjell/core/rotation/plan"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
)

// CostPart is a part of what a plan costs, in kg DM as the planner counts it.
type CostPart struct {
	Part string  `json:"part"`
	Kg   float64 `json:"kg"`
}

// InsteadView is another paddock for a move, and what it would cost more.
type InsteadView struct {
	PaddockID string     `json:"paddock_id"`
	Name      string     `json:"name"` // empty: held and fed off the pasture
	More      float64    `json:"more_kg"`
	Parts     []CostPart `json:"parts" nullable:"false"`
	Not       string     `json:"not"` // why it cannot be taken at all
}

// GradeMove is one move of the plan that was found.
type GradeMove struct {
	MobID     string        `json:"mob_id"`
	PaddockID string        `json:"paddock_id"`
	Name      string        `json:"name"` // empty: held and fed off the pasture
	Enter     time.Time     `json:"enter_at"`
	Leave     time.Time     `json:"leave_at"`
	MassIn    float64       `json:"mass_in_kg_dm_ha"`
	MassOut   float64       `json:"mass_out_kg_dm_ha"`
	Rest      *float64      `json:"rest_days" nullable:"true"`
	Same      bool          `json:"as_planned"` // the present plan does the same
	Cost      float64       `json:"cost_kg"`
	Parts     []CostPart    `json:"parts" nullable:"false"`
	Instead   []InsteadView `json:"instead" nullable:"false"`
}

// GradeView says how good the present plan is: what a search spares over it, what no plan can, and how likely it runs short.
type GradeView struct {
	Spares     *working.Figure `json:"spares,omitempty"`      // what the plan found costs less
	MostSpares *working.Figure `json:"most_spares,omitempty"` // no plan can spare more over the present one
	Careful    bool            `json:"careful"`               // by what plans come to in a poor season
	Finished   bool            `json:"finished"`
	From       []CostPart      `json:"from" nullable:"false"` // what is different in the plan found; below zero is spared
	Moves      []GradeMove     `json:"moves" nullable:"false"`
	Short      *working.Figure `json:"short_chance,omitempty"` // share of the drawn futures in which somebody is short
	ShortFrom  *time.Time      `json:"first_short_at" nullable:"true"`
	ShortMob   string          `json:"short_mob"`
	ShortIn    string          `json:"short_paddock"`
	Missing    float64         `json:"missing_kg"` // what stock go without on pasture, even in the plan found
	Takes      []TakeView      `json:"takes" nullable:"false"`
	Not        string          `json:"not"` // why there is no grade
}

// TakeView is one thing that could be eased, and how much less feed would be missing then.
type TakeView struct {
	What string  `json:"what" enum:"less_rest,longer_stays,less_left,fewer_animals,all_open"`
	By   float64 `json:"by"` // days of rest or stay, kg DM/ha left, or a share of the animals
	Less float64 `json:"less_kg"`
}

// gradedMoves is how many moves ahead of each mob are told.
const gradedMoves = 3

// Grade is how good the present plan is.
func (s *Service) Grade(ctx context.Context, a farm.Actor) (GradeView, error) {
	v := GradeView{From: []CostPart{}, Moves: []GradeMove{}, Takes: []TakeView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	if se.Plan == nil || len(se.Grazers) == 0 || len(se.Paddocks) == 0 {
		v.Not = "there is no plan yet"
		return v, nil
	}
	g, err := se.Grade(ctx)
	var refused *quantity.Problem
	switch {
	case errors.As(err, &refused):
		v.Not = refused.Message
		return v, nil
	case err != nil:
		return v, err
	}
	spares, most := g.SparedFigure(), g.MostFigure()
	v.Spares, v.MostSpares = &spares, &most
	v.Careful = se.Farm.Careful
	v.Finished, v.Missing = g.Found.Finished, g.Missing
	for _, t := range g.Takes {
		v.Takes = append(v.Takes, TakeView{What: t.What, By: t.By, Less: t.Less})
	}
	for _, p := range g.Found.Cost.Less(g.Present.Cost).Parts() {
		v.From = append(v.From, CostPart{changed(p), p.Kg})
	}
	if r := g.Present.Risk; r != nil {
		short := g.ShortFigure()
		v.Short = &short
		if r.FirstShort != nil {
			at := g.At(float64(*r.FirstShort))
			v.ShortFrom = &at
		}
		if r.Worst != nil {
			v.ShortMob = r.Worst.Mob
			if r.Worst.Paddock != nil {
				v.ShortIn = *r.Worst.Paddock
			}
		}
	}
	told := map[string]int{}
	for _, y := range g.Why {
		if told[y.Visit.Mob]++; told[y.Visit.Mob] > gradedMoves {
			continue
		}
		m := keyed(g.Problem.Mobs, y.Visit.Mob)
		move := GradeMove{MobID: se.Mobs[m].ID, Enter: g.At(y.Visit.Enter), Leave: g.At(y.Visit.Leave), MassIn: y.Visit.MassIn, MassOut: y.Visit.MassOut, Rest: y.Visit.Rest,
			Cost: y.Cost.Total, Parts: partsOf(y.Cost), Instead: []InsteadView{}}
		move.PaddockID, move.Name = placeOf(se, g.Problem, y.Visit.Paddock)
		for _, w := range g.Present.Visits {
			move.Same = move.Same || w.Mob == y.Visit.Mob && same(w.Paddock, y.Visit.Paddock) && w.Enter == y.Visit.Enter
		}
		for _, in := range y.Instead {
			other := InsteadView{More: in.More.Total, Parts: partsOf(in.More), Not: in.Not}
			other.PaddockID, other.Name = placeOf(se, g.Problem, in.Paddock)
			move.Instead = append(move.Instead, other)
		}
		v.Moves = append(v.Moves, move)
	}
	return v, nil
}

// changed says how a part of the plan found differs from the present one.
func changed(p plan.Part) string {
	switch {
	case p.Name == "standing at the end":
		return "more standing at the end"
	case strings.HasPrefix(p.Name, "less "):
		return p.Name
	case p.Kg < 0:
		return "less " + p.Name
	}
	return "more " + p.Name
}

// WhyNotView is a planned move against every other place there is.
type WhyNotView struct {
	Cost    float64       `json:"cost_kg"`
	Parts   []CostPart    `json:"parts" nullable:"false"`
	Instead []InsteadView `json:"instead" nullable:"false"`
}

// WhyNot says for every other paddock what it would cost to go there instead, with all else of the plan as it is, or why it cannot be.
func (s *Service) WhyNot(ctx context.Context, a farm.Actor, mobID string, enter time.Time) (WhyNotView, error) {
	v := WhyNotView{Parts: []CostPart{}, Instead: []InsteadView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	m, ok := se.MobIndex[mobID]
	if !ok || se.Plan == nil {
		return v, farm.ErrNotFound
	}
	g, err := se.Present()
	if err != nil {
		return v, err
	}
	y, err := plan.WhyOf(&g.Problem, g.Present.Visits, g.Problem.Mobs[m].Key, g.Day(enter))
	if err != nil {
		return v, quantity.Refuse("enter_at", enter.Format(time.RFC3339), "no move of %s is planned for then", se.Mobs[m].Name)
	}
	v.Cost, v.Parts = y.Cost.Total, partsOf(y.Cost)
	for _, in := range y.Instead {
		other := InsteadView{More: in.More.Total, Parts: partsOf(in.More), Not: in.Not}
		other.PaddockID, other.Name = placeOf(se, g.Problem, in.Paddock)
		v.Instead = append(v.Instead, other)
	}
	return v, nil
}

func keyed(mobs []plan.Mob, key string) int {
	for i, m := range mobs {
		if m.Key == key {
			return i
		}
	}
	return -1
}

// placeOf is the paddock of a key, or nothing where they are off the pasture.
func placeOf(s *season.Season, p plan.Problem, key *string) (id, name string) {
	if key == nil {
		return "", ""
	}
	for i, pad := range p.Paddocks {
		if pad.Key == *key {
			return s.Paddocks[i].ID, s.Paddocks[i].Name
		}
	}
	return "", ""
}

func same(a, b *string) bool { return a == nil && b == nil || a != nil && b != nil && *a == *b }

// partsOf are the parts of a cost that count, the largest first, in words.
func partsOf(c plan.Cost) []CostPart {
	out := []CostPart{}
	for _, p := range c.Parts() {
		out = append(out, CostPart{p.Name, p.Kg})
	}
	return out
}
