package demo

import (
	"context"
	"fmt"
	"time"

	"fjell/core/grazing"
	"fjell/internal/farm/yard"
	"fjell/internal/store"
)

// lookedUntil is how many days before the demo's morning its people last looked: what they saw is no longer to be minded.
const lookedUntil = 5

// looks are what the people of a farm saw of every third stay of the season, before and after it, and what they have given one another to do.
func (b *builder) looks(ctx context.Context) error {
	if err := b.hold(ctx, Now); err != nil {
		return err
	}
	list, err := b.house.Moves.Moves(ctx, b.actor)
	if err != nil {
		return err
	}
	pick := func(from ...string) string { return from[b.rng.IntN(len(from))] }
	share := func(from, to float64) *float64 {
		v := float64(int((from+(to-from)*b.rng.Float64())*20)) / 20
		return &v
	}
	for i, mv := range list {
		if mv.MovedAt.After(Now.AddDate(0, 0, -lookedUntil)) || mv.MovedAt.Year() != Now.Year() || i%3 != 0 {
			continue
		}
		mob := mv.MobID
		look := func(paddock *string, stage string, at time.Time, answers map[string]string, ground grazing.Ground) error {
			if paddock == nil || *paddock == "" {
				return nil
			}
			return b.house.Yard.RecordLook(ctx, b.actor, yard.NewLook{ID: b.id(), PaddockID: *paddock, MobID: &mob, SeenAt: at, Stage: stage, Answers: answers, Ground: ground})
		}
		if err := look(mv.ToID, grazing.BeforeGrazing, mv.MovedAt.Add(-time.Hour), map[string]string{"maturity": pick("leafy", "leafy", "stem"), "storeys": pick("one", "two", "three"),
			"insects": pick("few", "some", "many"), "footing": pick("firm", "firm", "soft"), "weather": pick("dry", "dew", "rain")}, grazing.Ground{}); err != nil {
			return fmt.Errorf("demo look: %w", err)
		}
		if err := look(mv.FromID, grazing.AfterGrazing, mv.MovedAt.Add(time.Hour), map[string]string{"sward_left": pick("right", "right", "plenty", "short"), "evenness": pick("even", "even", "patchy"),
			"bellies": pick("full", "filling", "full"), "dung": pick("folded", "flat"), "mud": pick("none", "none", "some")}, grazing.Ground{Green: share(0.7, 0.85), Litter: share(0.05, 0.1), Bare: share(0, 0.05), Legume: share(0.15, 0.35)}); err != nil {
			return fmt.Errorf("demo look: %w", err)
		}
	}
	if err := b.winter(ctx); err != nil {
		return err
	}
	for _, job := range b.site.jobs {
		job.ID = b.id()
		if err := b.house.Yard.AddJob(ctx, b.actor, job); err != nil {
			return fmt.Errorf("demo job: %w", err)
		}
	}
	return nil
}

// dueOn is a day for a job of the demo.
func dueOn(day store.Day) *store.Day { return &day }
