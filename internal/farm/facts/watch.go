package facts

import (
	"fmt"

	"gorm.io/gorm"
)

// How far back looks and treatments bear on the present, days.
const (
	looksKept      = 120
	treatmentsKept = 60
)

// loadWatch reads what people said of the day, as far as it may still hold.
func (p *Picture) loadWatch(tx *gorm.DB, farmID string) error {
	today := DayAt(p.Number(p.Now))
	if err := tx.Order("said_at, id").Find(&p.Conditions, "farm_id = ? AND (until_day IS NULL OR until_day > ?)", farmID, today).Error; err != nil {
		return fmt.Errorf("load conditions: %w", err)
	}
	if err := tx.Order("due_on IS NULL, due_on, made_at, id").Find(&p.Jobs, "farm_id = ? AND done_at IS NULL AND NOT withdrawn", farmID).Error; err != nil {
		return fmt.Errorf("load jobs: %w", err)
	}
	if err := tx.Order("seen_at DESC, id").Find(&p.LooksAgain, "farm_id = ? AND NOT withdrawn AND seen_at > ?", farmID, p.Now.AddDate(0, 0, -looksKept)).Error; err != nil {
		return fmt.Errorf("load looks: %w", err)
	}
	if err := tx.Order("counted_at, id").Find(&p.Tallies, "farm_id = ? AND NOT withdrawn AND counted_at > ?", farmID, p.Now.AddDate(0, 0, -looksKept)).Error; err != nil {
		return fmt.Errorf("load tallies: %w", err)
	}
	if err := tx.Order("since_on, id").Find(&p.Untrained, "farm_id = ? AND NOT withdrawn AND trained_on IS NULL", farmID).Error; err != nil {
		return fmt.Errorf("load trainings: %w", err)
	}
	return nil
}

// loadTreatments reads what was given that withholds, or did lately.
func (p *Picture) loadTreatments(tx *gorm.DB, farmID string) error {
	if err := tx.Order("given_on, id").Find(&p.Treatments, "farm_id = ? AND NOT withdrawn AND until_day IS NOT NULL AND until_day > ?", farmID, DayAt(p.Number(p.Now)-treatmentsKept)).Error; err != nil {
		return fmt.Errorf("load treatments: %w", err)
	}
	return nil
}
