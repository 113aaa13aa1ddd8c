package ground

import (
	"context"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewOwnSward is a sward of the farm's own, with the figures that its own measurements gave.
type NewOwnSward struct {
	ID          string  `json:"id"`
	Name        string  `json:"name"`
	LikeID      string  `json:"like_id"`
	StartHeight float64 `json:"start_height_cm"`
	StopHeight  float64 `json:"stop_height_cm"`
	MassPerCm   float64 `json:"mass_per_cm" doc:"kg dry matter per ha in each cm above the stop height, medium cover"`
	Residual    float64 `json:"residual_kg_dm_ha" doc:"kg dry matter per ha at the stop height"`
	Ceiling     float64 `json:"ceiling_kg_dm_ha"`
	PeakGrowth  float64 `json:"peak_growth_kg_dm_ha_day"`
	AnnualYield float64 `json:"annual_yield_t_ha"`
	Confirmed   bool    `json:"confirmed,omitempty"`
}

// Swards are all that a farm can choose from: its own first, then those of the reference.
func (s *Service) Swards(ctx context.Context, a farm.Actor) ([]reference.Sward, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, err
	}
	return p.Swards()
}

// KeepOwnSward makes a sward of the farm's own.
func (s *Service) KeepOwnSward(ctx context.Context, a farm.Actor, in NewOwnSward) ([]reference.Sward, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return nil, err
	}
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return nil, err
	}
	if _, err := reference.Load().Sward(in.LikeID); err != nil {
		return nil, quantity.Refuse("like_id", in.LikeID, "is not a sward of the reference list")
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return nil, err
	}
	said := func(v float64, unit quantity.Unit) quantity.Said { return quantity.Said{Value: v, Unit: unit} }
	if in.StopHeight >= in.StartHeight {
		return nil, quantity.Refuse("stop_height_cm", said(in.StopHeight, quantity.Centimetre), "the stop height must lie below the start height of %s", said(in.StartHeight, quantity.Centimetre))
	}
	if start := in.Residual + (in.StartHeight-in.StopHeight)*in.MassPerCm; start >= in.Ceiling {
		return nil, quantity.Refuse("ceiling_kg_dm_ha", said(in.Ceiling, quantity.ForageMass), "at the start height %s stand there: the ceiling must lie above that", said(start, quantity.ForageMass))
	}
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "own sward", Body: in}, func(tx *facts.Writing) error {
		var n int64
		if err := tx.Model(&store.OwnSward{}).Where("farm_id = ?", a.FarmID).Count(&n).Error; err != nil {
			return err
		}
		if n >= mostOwnSwards {
			return quantity.Refuse("name", nil, "a farm has at most %d swards of its own", mostOwnSwards)
		}
		return tx.Create(&store.OwnSward{FarmID: a.FarmID, ID: in.ID, Name: in.Name, LikeID: in.LikeID, StartCm: in.StartHeight, StopCm: in.StopHeight, MassPerCm: in.MassPerCm,
			ResidualKg: in.Residual, CeilingKg: in.Ceiling, PeakGrowth: in.PeakGrowth, AnnualYieldT: in.AnnualYield}).Error
	})
	return farm.After(err, func() ([]reference.Sward, error) { return s.Swards(ctx, a) })
}

// mostOwnSwards is how many swards a farm may have of its own.
const mostOwnSwards = 100

// RemoveOwnSward takes a sward of the farm's own away, where nothing grows it.
func (s *Service) RemoveOwnSward(ctx context.Context, a farm.Actor, id string) ([]reference.Sward, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "remove own sward", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.OwnSward](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		for _, table := range []any{&store.Field{}, &store.Paddock{}, &store.Calibration{}} {
			var used int64
			if err := tx.Model(table).Where("farm_id = ? AND sward_id = ?", a.FarmID, id).Count(&used).Error; err != nil {
				return err
			}
			if used > 0 {
				return quantity.Refuse("sward_id", nil, "%s grows on the farm, or did: it stays with its records", row.Name)
			}
		}
		return tx.Where("farm_id = ? AND id = ?", a.FarmID, id).Delete(&store.OwnSward{}).Error
	})
	return farm.After(err, func() ([]reference.Sward, error) { return s.Swards(ctx, a) })
}
