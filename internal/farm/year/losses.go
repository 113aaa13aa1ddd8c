package year

import (
	"context"

	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// LossesInput is what a farm loses of the feed it conserves; left out: as is usual.
type LossesInput struct {
	Cut  *float64 `json:"cut_loss,omitempty" doc:"share of a cut that is lost before it is stored"`
	Feed *float64 `json:"feed_loss,omitempty" doc:"share of what is fed that falls under the trough"`
}

// Shares beyond which a loss is none that a farm lives with.
const (
	mostCutLoss  = 0.5
	mostFeedLoss = 0.6
)

// SetLosses keeps what a farm loses of the feed it conserves. Each is taken once: of a cut that is still to come, and of what is fed; bales that were weighed or counted
// have come home, and bought feed has a loss of its own.
func (s *Service) SetLosses(ctx context.Context, a farm.Actor, version int, in LossesInput) (BudgetView, error) {
	for _, l := range []struct {
		field string
		share *float64
		most  float64
	}{{"cut_loss", in.Cut, mostCutLoss}, {"feed_loss", in.Feed, mostFeedLoss}} {
		if l.share != nil && !(*l.share >= 0 && *l.share <= l.most) {
			return BudgetView{}, quantity.Refuse(l.field, quantity.Said{Value: *l.share, Unit: quantity.Share}, "must be 0 to %s", quantity.Said{Value: l.most, Unit: quantity.Share})
		}
	}
	err := s.Write(ctx, a, farm.Request{Kind: "losses", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Updates(map[string]any{"cut_loss": in.Cut, "feed_loss": in.Feed}).Error
	})
	return farm.After(err, func() (BudgetView, error) { return s.Budget(ctx, a, leastMonths) })
}
