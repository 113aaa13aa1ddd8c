package facts

import (
	"fmt"
	"slices"

	"gorm.io/gorm"

	"fjell/internal/store"
)

// closuresKept is for how many days after its end a closure bears on the present: as long as what stood is worked out again.
const closuresKept = 400

// loadHay reads what was closed, cut, dressed and stored. A cut stands as long as the measurement of what it left does, so walks are
// loaded before.
func (p *Picture) loadHay(tx *gorm.DB, farmID string) error {
	lately := DayAt(p.Number(p.Now) - closuresKept)
	if err := tx.Order("from_on, id").Find(&p.Closures, "farm_id = ? AND (until_on IS NULL OR until_on > ?)", farmID, lately).Error; err != nil {
		return fmt.Errorf("load closures: %w", err)
	}
	if err := tx.Order("cut_on, id").Find(&p.Cuts, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load cuts: %w", err)
	}
	p.Cuts = slices.DeleteFunc(p.Cuts, func(c store.Cut) bool { _, stands := p.MeasurementAt[c.MeasurementID]; return !stands })
	if err := tx.Order("on_day, recorded_at, id").Find(&p.Fodder, "farm_id = ? AND NOT withdrawn", farmID).Error; err != nil {
		return fmt.Errorf("load fodder: %w", err)
	}
	if err := tx.Order("given_on, id").Find(&p.Dressings, "farm_id = ? AND given_on > ?", farmID, lately).Error; err != nil {
		return fmt.Errorf("load dressings: %w", err)
	}
	return nil
}
