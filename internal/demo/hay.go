package demo

import (
	"context"
	"fmt"
	"math"

	"github.com/google/uuid"

	"fjell/core/forage"
	"fjell/core/queue"
	"fjell/internal/farm/decisions"
	"fjell/internal/farm/yard"
	"fjell/internal/store"
)

// bales are what a cut that took so many kg DM comes to: what lies too low to be raked up is lost.
func (b *builder) bales(kg float64) forage.Bales {
	const lost, weighs, dry = 0.15, 240.0, 0.85
	count, w, d := math.Max(1, math.Floor(kg*(1-lost)/(weighs*dry))), weighs, dry
	return forage.Bales{Count: &count, Kg: &w, DryShare: &d}
}

// named is an id that is the same each time and draws no lot, so that what comes after it is as it would be without.
func (b *builder) named(what string) string {
	return uuid.NewSHA1(uuid.NameSpaceOID, []byte(b.name+"/"+what)).String()
}

// winter feeds most of what was cut, and counts what is left in spring.
func (b *builder) winter(ctx context.Context) error {
	held, err := b.house.Yard.Fodder(ctx, b.actor)
	if err != nil || held.Holds <= 0 {
		return err
	}
	for _, line := range []struct {
		kind, what string
		on         store.Day
		share      float64
	}{{forage.FodderFed, "since October", "2025-12-31", 0.35}, {forage.FodderFed, "January and February", "2026-02-28", 0.32}, {forage.FodderFed, "until turnout", "2026-04-28", 0.21}, {forage.FodderCounted, "in the barn", "2026-05-02", 0.09}} {
		kg := math.Round(held.Holds*line.share/10) * 10
		if _, err := b.house.Yard.KeepFodder(ctx, b.actor, yard.NewFodder{ID: b.named(line.what), Kind: line.kind, On: line.on, What: line.what, KgDM: &kg, Confirmed: true}); err != nil {
			return fmt.Errorf("demo fodder: %w", err)
		}
	}
	count, kg, dry := 400.0, 650.0, 0.45
	_, err = b.house.Yard.KeepFodder(ctx, b.actor, yard.NewFodder{ID: b.named("silage"), Kind: forage.FodderBought, On: "2026-06-08", What: "silage off the meadows over the brook", Bales: forage.Bales{Count: &count, Kg: &kg, DryShare: &dry}, Confirmed: true})
	return err
}

// decide passes over the paddock whose turn comes last, until just before it, on the day of a walk: it changes no move.
func (b *builder) decide(ctx context.Context) error {
	q, err := b.house.Queue.Queue(ctx, b.actor, "", 0)
	if err != nil {
		return err
	}
	last, days := "", 0.0
	for _, r := range q.Rows {
		if r.Grazed || r.Turn == nil {
			continue
		}
		if until := math.Floor(r.Turn.Sub(q.At).Hours()/24) - 1; until > days {
			last, days = r.PaddockID, until
		}
	}
	if last == "" {
		return nil
	}
	_, err = b.house.Decide.Decide(ctx, b.actor, decisions.NewDecision{ID: b.named("pass over"), MobID: q.Queues[q.Chosen].MobIDs[0], Reason: "Lapwings have their nest there.",
		Levers: []queue.Lever{{Kind: queue.Pass, Paddock: last, Days: days}}})
	return err
}
