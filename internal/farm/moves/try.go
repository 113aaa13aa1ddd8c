package moves

import (
	"context"
	"slices"

	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/season"
)

// TriedView is what would come of a move of the plan being put elsewhere.
type TriedView struct {
	Visit  VisitView   `json:"visit"`                   // the stay as it would be
	More   float64     `json:"more_kg"`                 // by how much the plan would be dearer; below 0: cheaper
	Parts  []CostPart  `json:"parts" nullable:"false"`  // of it, the largest first
	Checks []CheckView `json:"checks" nullable:"false"` // that the plan would bring up and does not now
}

// Try works the plan out as it would be with a move fixed, and writes nothing. It refuses what PinMove refuses.
func (s *Service) Try(ctx context.Context, a farm.Actor, in NewPin) (TriedView, error) {
	v := TriedView{Parts: []CostPart{}, Checks: []CheckView{}}
	se, err := s.Season(ctx, a)
	if err != nil {
		return v, err
	}
	without, err := withoutPin(se.Picture, in.Instead)
	if err != nil {
		return v, err
	}
	tried, err := season.Of(without)
	if err != nil {
		return v, err
	}
	if err := checkPin(tried, in); err != nil {
		return v, err
	}
	m, p := tried.MobIndex[in.MobID], tried.ByID[in.PaddockID]
	in.Enter = in.Enter.UTC() // as it would be kept
	pin := season.RotationPin(m, p, in.Enter, in.Leave)
	after := tried.Forecast(tried.Past(), pin)
	for _, vis := range after.Visits {
		if vis.Mob == m && vis.Paddock == p && vis.Enter.Equal(in.Enter) {
			v.Visit = VisitOf(tried, vis)
		}
	}
	for _, c := range after.Checks {
		known := func(b rotation.Check) bool { return b.Rule == c.Rule && b.Mob == c.Mob && b.Paddock == c.Paddock }
		if c.At.Before(se.PlanEnd()) && !slices.ContainsFunc(se.Ahead().Checks, known) {
			v.Checks = append(v.Checks, checkView(tried, c))
		}
	}
	before, err := se.Present()
	if err != nil {
		return v, err
	}
	then, err := tried.With(after, pin)
	if err != nil {
		return v, err
	}
	less := then.Present.Cost.Less(before.Present.Cost)
	v.More = less.Total
	for _, part := range less.Parts() {
		v.Parts = append(v.Parts, CostPart{changed(part), part.Kg})
	}
	return v, nil
}
