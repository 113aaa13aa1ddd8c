package farm

import (
	"context"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/internal/store"
)

// SetRoutine says what a farm makes of the usual steps of a move day.
func (s *Service) SetRoutine(ctx context.Context, a Actor, version int, in grazing.RoutineEdits) (FarmView, error) {
	if err := in.Check(); err != nil {
		return FarmView{}, err
	}
	err := s.Write(ctx, a, Request{"", "routine", []any{version, in}}, func(tx *Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("routine", store.JSON[grazing.RoutineEdits]{V: in}).Error
	})
	return After(err, func() (FarmView, error) { return s.Farm(ctx, a) })
}

// SetTargets says what a farm wants of its ground and its fences.
func (s *Service) SetTargets(ctx context.Context, a Actor, version int, in store.Targets) (FarmView, error) {
	if err := in.Ground.Check(); err != nil {
		return FarmView{}, err
	}
	if v := in.LeastKV; v != nil && !(*v >= 0.5 && *v <= 10) {
		return FarmView{}, quantity.Refuse("least_kv", *v, "must be 0.5 to 10 kV")
	}
	err := s.Write(ctx, a, Request{"", "targets", []any{version, in}}, func(tx *Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("targets", store.JSON[store.Targets]{V: in}).Error
	})
	return After(err, func() (FarmView, error) { return s.Farm(ctx, a) })
}

// routineOf is what a farm makes of the usual steps, as it is on record.
func routineOf(row store.Farm) grazing.RoutineEdits {
	e := row.Routine.V
	return grazing.RoutineEdits{Own: append([]grazing.OwnStep{}, e.Own...), Left: append([]string{}, e.Left...)}
}
