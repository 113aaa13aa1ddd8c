package facts

import (
	"errors"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/internal/store"
)

// Sward finds a sward by id: one of the reference, or the farm's own.
func (p *Picture) Sward(field, id string) (reference.Sward, error) {
	for _, own := range p.OwnSwards {
		if own.ID == id {
			return ownSward(own)
		}
	}
	return known(field, id)
}

// Swards are all that a farm can choose from: its own first.
func (p *Picture) Swards() ([]reference.Sward, error) {
	out := []reference.Sward{}
	for _, own := range p.OwnSwards {
		s, err := ownSward(own)
		if err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return append(out, reference.Load().Swards...), nil
}

// FindSward finds a sward of a farm where there is no picture of it.
func FindSward(tx *gorm.DB, farmID, field, id string) (reference.Sward, error) {
	s, err := known(field, id)
	if err == nil || uuid.Validate(id) != nil {
		return s, err
	}
	var own store.OwnSward
	switch found := tx.First(&own, "farm_id = ? AND id = ?", farmID, id).Error; {
	case errors.Is(found, gorm.ErrRecordNotFound):
		return s, err
	case found != nil:
		return s, found
	}
	return ownSward(own)
}

func known(field, id string) (reference.Sward, error) {
	s, err := reference.Load().Sward(id)
	if err != nil {
		return s, quantity.Refuse(field, id, "is not a sward of the reference list or of this farm")
	}
	return s, nil
}

// ownSward is a sward like another with the farm's figures in place of the book's.
func ownSward(own store.OwnSward) (reference.Sward, error) {
	s, err := reference.Load().Sward(own.LikeID)
	if err != nil {
		return s, err
	}
	s.Note, s.Source = "This farm's own, like "+s.Name+".", "this farm"
	s.ID, s.Name, s.Own = own.ID, own.Name, true
	s.StartHeight, s.StopHeight, s.Residual, s.Ceiling, s.PeakGrowth, s.AnnualYield = own.StartCm, own.StopCm, own.ResidualKg, own.CeilingKg, own.PeakGrowth, own.AnnualYieldT
	by := own.MassPerCm / s.MassPerCm.Medium
	s.MassPerCm.Open, s.MassPerCm.Medium, s.MassPerCm.Dense = s.MassPerCm.Open*by, own.MassPerCm, s.MassPerCm.Dense*by
	return s, nil
}
