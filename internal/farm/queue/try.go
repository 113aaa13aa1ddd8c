package queue

import (
	"context"
	"errors"
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	core "fjell/core/queue"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
)

// Lever is something that may be tried.
type Lever = core.Lever

// TryInput is levers that are pulled together on a queue.
type TryInput struct {
	MobID  string  `json:"mob_id,omitempty" doc:"whose queue; left out: the first"`
	Levers []Lever `json:"levers" nullable:"false" maxItems:"12"`
}

// TriedDay is what stands on a day over the ground of a queue.
type TriedDay struct {
	At   time.Time `json:"at"`
	Mass float64   `json:"forage_mass_kg_dm_ha"`
}

// TriedGap is a time in which stock do not get what they need.
type TriedGap struct {
	From     time.Time `json:"from"`
	Until    time.Time `json:"until"`
	Kg       float64   `json:"missing_kg_dm"`
	Days     float64   `json:"missing_days"`
	Paddocks []string  `json:"paddocks" nullable:"false"`
}

// TriedRow is a paddock of the queue as it would stand.
type TriedRow struct {
	PaddockID string        `json:"paddock_id"`
	Mass      float64       `json:"forage_mass_kg_dm_ha"`
	Target    float64       `json:"target_kg_dm_ha"`
	State     grazing.State `json:"state"`
	Turn      *time.Time    `json:"turn_at" nullable:"true"`
	TurnMass  float64       `json:"turn_mass_kg_dm_ha"`
}

// QueueOutcome is what comes of a queue in eight weeks.
type QueueOutcome struct {
	Rows    []TriedRow `json:"rows" nullable:"false"`
	Cover   []TriedDay `json:"cover" nullable:"false"`
	Gaps    []TriedGap `json:"gaps" nullable:"false"`
	Missing float64    `json:"missing_days"` // of feed, in all
	Moves   int        `json:"moves"`        //
	Eaten   float64    `json:"eaten_kg_dm"`  //
	Lasts   *float64   `json:"days_until_short" nullable:"true"`
	Rest    float64    `json:"mean_rest_days"`
	Left    float64    `json:"mean_left_kg_dm_ha"`
	EndsAt  float64    `json:"ends_at_kg_dm_ha"`
	AreaHa  float64    `json:"area_ha"`
	Length  *float64   `json:"rotation_length_days" nullable:"true"`
}

// LeverEffect is what a lever takes and gives by itself.
type LeverEffect struct {
	Kg    float64          `json:"kg_dm"` // carried home by a cut, or fed
	Bales *float64         `json:"bales" nullable:"true"`
	Money float64          `json:"money"`
	Hours float64          `json:"hours"`
	Says  []grazing.Reason `json:"says" nullable:"false"`
}

// TryView is a queue without and with what is tried.
type TryView struct {
	Before  QueueOutcome     `json:"before"`
	Behind  QueueOutcome     `json:"behind"`
	Effects []LeverEffect    `json:"effects" nullable:"false"`
	Money   float64          `json:"money"` // in all
	Hours   float64          `json:"hours"`
	Warns   []grazing.Reason `json:"warns" nullable:"false"`
	Says    []grazing.Reason `json:"says" nullable:"false"`
	Needed  float64          `json:"needed_kg_dm_ha"` // cover that a round at the school's figures stands at
}

// Try says what comes of levers, and writes nothing.
func (s *Service) Try(ctx context.Context, a farm.Actor, in TryInput) (TryView, error) {
	v := TryView{Effects: []LeverEffect{}, Warns: []grazing.Reason{}, Says: []grazing.Reason{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	_, of, err := Choose(se, in.MobID)
	if err != nil {
		return v, err
	}
	if of == nil {
		return v, quantity.Refuse("mob_id", nil, "nothing grazes here yet: make a mob, and let it graze")
	}
	c := se.Week(of)
	tried, err := Pulled(core.Try(c, in.Levers))
	if err != nil {
		return v, err
	}
	v.Before, v.Behind = outcomeOf(se, c, tried.Before), outcomeOf(se, tried.Pulled, tried.Behind)
	for i, e := range tried.Effects {
		v.Effects = append(v.Effects, LeverEffect{e.Kg, e.Bales, e.Money, in.Levers[i].Hours, append([]grazing.Reason{}, e.Says...)})
		v.Money, v.Hours = v.Money+e.Money, v.Hours+in.Levers[i].Hours
	}
	v.Warns, v.Says = append(v.Warns, tried.Warns...), append(v.Says, tried.Says...)
	var mobs []rotation.Mob
	for _, m := range c.Of {
		mobs = append(mobs, c.Mobs[m])
	}
	v.Needed = rotation.CoverNeeded(c.Farm, mobs, c.Now)
	return v, nil
}

// Pulled is what was tried, with what is advised against as something to be asked about.
func Pulled(tried core.Tried, err error) (core.Tried, error) {
	var refused *core.Refused
	if errors.As(err, &refused) {
		return tried, &farm.Unusual{Problems: []quantity.Problem{refused.Problem}}
	}
	return tried, err
}

func outcomeOf(se *season.Season, c core.Case, o core.Outcome) QueueOutcome {
	out := QueueOutcome{Rows: []TriedRow{}, Cover: []TriedDay{}, Gaps: []TriedGap{}, Moves: o.Moves, Eaten: o.Eaten, AreaHa: o.Week.AreaHa, Rest: o.Rest, Left: o.Left, EndsAt: o.EndsAt}
	for _, r := range o.Week.Rows {
		if r.Paddock >= len(se.Paddocks) {
			continue // rented ground is no paddock yet
		}
		shown := rowOf(se, c, r)
		row := TriedRow{PaddockID: shown.PaddockID, Mass: shown.Mass, Target: shown.Target, State: shown.State, Turn: shown.Turn, TurnMass: shown.TurnMass}
		out.Rows = append(out.Rows, row)
	}
	for _, day := range o.Cover {
		out.Cover = append(out.Cover, TriedDay{day.At, day.Mass})
	}
	for _, g := range o.Gaps {
		gap := TriedGap{From: g.From, Until: g.Until, Kg: g.Kg, Days: g.Days, Paddocks: []string{}}
		for _, p := range g.Paddocks {
			if p < len(c.Farm.Paddocks) {
				gap.Paddocks = append(gap.Paddocks, c.Farm.Paddocks[p].Name)
			}
		}
		out.Missing += g.Days
		out.Gaps = append(out.Gaps, gap)
	}
	if !math.IsInf(o.Week.Lasts, 0) {
		out.Lasts = &o.Week.Lasts
	}
	if o.Week.Length != nil {
		out.Length = &o.Week.Length.Value
	}
	return out
}
