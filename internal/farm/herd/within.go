package herd

import (
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Within writes facts of stock as a part of a larger write, with the same checks as by hand, and keeps the rows as they were.
type Within struct {
	tx *facts.Writing
	*farm.Rows
}

// In is the stock within a write.
func In(tx *facts.Writing) *Within { return &Within{tx, farm.NewRows(tx.DB)} }

// Event writes an event down: of what is planned, the day.
func (w *Within) Event(id string, in EventInput) error {
	return w.Around(&store.StockEvent{FarmID: w.tx.Actor.FarmID, ID: id}, func() error { return saveEvent(w.tx, id, nil, in) })
}

// Feed gives every class of a mob a supplement beside pasture. A mob's own row goes one version on: whoever had it open is told.
func (w *Within) Feed(mobID string, fed store.Supplement) error {
	if err := farm.Judge(fed, true); err != nil {
		return err
	}
	if err := checkSupplement("", fed); err != nil {
		return err
	}
	var rows []store.StockGroup
	if err := w.tx.Find(&rows, "farm_id = ? AND mob_id = ?", w.tx.Actor.FarmID, mobID).Error; err != nil {
		return err
	}
	if len(rows) == 0 {
		return quantity.Refuse("mob_id", mobID, "has no stock to feed")
	}
	for i := range rows {
		rows[i].Supplements.V = append(rows[i].Supplements.V, fed)
		if err := w.Save(&rows[i]); err != nil {
			return err
		}
	}
	return w.onMob(mobID, func(*store.Mob) error { return nil })
}

// House keeps a mob off the grass from a day until before another.
func (w *Within) House(mobID string, h store.Housed) error {
	return w.onMob(mobID, func(row *store.Mob) error {
		row.Housed.V = append(row.Housed.V, h)
		return checkHoused(row.Housed.V)
	})
}

func (w *Within) onMob(mobID string, change func(*store.Mob) error) error {
	row, err := farm.Find[store.Mob](w.tx.DB, w.tx.Actor.FarmID, "mob_id", mobID)
	if err != nil {
		return err
	}
	if err := change(&row); err != nil {
		return err
	}
	return w.Save(&row)
}
