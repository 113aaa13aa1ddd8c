package facts

import (
	"fmt"

	"gorm.io/gorm"
)

// loadWatch reads what people said of the day, as far as it may still hold.
func (p *Picture) loadWatch(tx *gorm.DB, farmID string) error {
	today := DayAt(p.Number(p.Now))
	if err := tx.Order("said_at, id").Find(&p.Conditions, "farm_id = ? AND (until_day IS NULL OR until_day > ?)", farmID, today).Error; err != nil {
		return fmt.Errorf("load conditions: %w", err)
	}
	return nil
}
