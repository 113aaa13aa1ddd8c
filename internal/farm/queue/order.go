package queue

import (
	"context"

	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// OrderInput is the farm's own order of its paddocks; empty: none.
type OrderInput struct {
	PaddockIDs []string `json:"paddock_ids" nullable:"false" maxItems:"5000"`
}

// SetOrder keeps the farm's own order of the queue. It is a way of looking: no plan follows it.
func (s *Service) SetOrder(ctx context.Context, a farm.Actor, version int, in OrderInput) (QueueView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "queue order", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		if err := tx.KnowsPaddocks("paddock_ids", in.PaddockIDs); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("queue_order", store.JSON[[]string]{V: append([]string{}, in.PaddockIDs...)}).Error
	})
	return farm.After(err, func() (QueueView, error) { return s.Queue(ctx, a, "", 0) })
}
