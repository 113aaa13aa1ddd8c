package farm

import (
	"context"
	"fmt"
	"math"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/stock"
	"fjell/internal/store"
)

// UpdateMob says how a mob is today. What differs from what is on record is written down as events of today: head that
// were counted, a weight that was checked, a stage that was reached; nothing on record is overwritten.
func (s *Service) UpdateMob(ctx context.Context, a Actor, id string, version int, in MobInput) (MobView, error) {
	err := s.write(ctx, a, request{"", "describe mob", []any{id, version, in}}, func(tx *writing) error {
		row, err := find[store.Mob](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		p, err := tx.picture()
		if err != nil {
			return err
		}
		if err := in.check(p); err != nil {
			return err
		}
		if err := bump[store.Mob](tx.DB, a.FarmID, id, version, row.Version, func() any { return p.mobAsShown(id) }); err != nil {
			return err
		}
		return p.describe(tx.DB, a, id, in)
	})
	return after(err, func() (MobView, error) { return s.mob(ctx, a, id) })
}

// mobAsShown is a mob as its place shows it; nil where it is off the farm.
func (p *picture) mobAsShown(id string) any {
	se, err := p.season()
	if err != nil {
		return nil
	}
	i, ok := se.mobIndex[id]
	if !ok {
		return nil
	}
	view, err := se.mobView(i)
	if err != nil {
		return nil
	}
	return view
}

func (p *picture) describe(tx *gorm.DB, a Actor, id string, in MobInput) error {
	if err := tx.Model(&store.Mob{}).Where("farm_id = ? AND id = ?", a.FarmID, id).
		Updates(map[string]any{"name": in.Name, "letter": in.Letter, "glyph": in.Glyph}).Error; err != nil {
		return err
	}
	today := p.number(p.now)
	seen := map[string]bool{}
	for i, c := range in.Classes {
		if c.ID == "" {
			row := c.group(a.FarmID, newID(), &id, i, dayAt(today))
			if err := tx.Create(&row).Error; err != nil {
				return err
			}
			continue
		}
		row := p.groupRow(c.ID)
		if row == nil || row.MobID == nil || *row.MobID != id {
			return quantity.Refuse(fmt.Sprintf("classes[%d].id", i), c.ID, "is not a class of this mob")
		}
		seen[c.ID] = true
		if err := p.becomes(tx, a, *row, c, today); err != nil {
			return err
		}
	}
	_, ids := p.herd.Mob(id, today)
	for _, gone := range ids {
		if !seen[gone] {
			if err := p.note(tx, a, store.StockEvent{Kind: string(stock.Muster), OfID: &gone, Note: "taken off the mob's list"}, today); err != nil {
				return err
			}
		}
	}
	return in.saveFields(tx, a.FarmID, id)
}

// becomes writes down how a class differs today from what is on record.
func (p *picture) becomes(tx *gorm.DB, a Actor, row store.StockGroup, c ClassInput, today int) error {
	now, ok := p.herd.ClassOn(row.ID, today)
	if !ok {
		return quantity.Refuse("classes", row.Name, "are not on the books yet")
	}
	fresh := dayNumber(row.DescribedOn) == today && !p.touched(row.ID)
	if fresh { // described this morning: it is corrected, nothing has happened
		corrected := c.group(row.FarmID, row.ID, row.MobID, row.Position, row.DescribedOn)
		return tx.Save(&corrected).Error
	}
	if err := tx.Model(&store.StockGroup{}).Where("farm_id = ? AND id = ?", row.FarmID, row.ID).
		Updates(map[string]any{"name": c.Name, "supplements": store.JSON[[]store.Supplement]{V: append([]store.Supplement{}, c.Supplements...)}}).Error; err != nil {
		return err
	}
	if c.ReferenceID != now.ReferenceID || math.Abs(c.IntakeShare-now.IntakeShare) > 1e-6 || math.Abs(c.DailyGain-now.DailyGainKg) > 1e-6 {
		e := store.StockEvent{Kind: string(stock.Stage), OfID: &row.ID, Becomes: c.ReferenceID, IntakeShare: &c.IntakeShare, GainKg: &c.DailyGain}
		if err := p.note(tx, a, e, today); err != nil {
			return err
		}
	}
	if math.Abs(c.LiveWeight-now.LiveWeightKg) > 0.05 {
		if err := p.note(tx, a, store.StockEvent{Kind: string(stock.Weigh), OfID: &row.ID, WeightKg: &c.LiveWeight}, today); err != nil {
			return err
		}
	}
	if c.Count != now.Count {
		return p.note(tx, a, store.StockEvent{Kind: string(stock.Muster), OfID: &row.ID, Head: int(c.Count)}, today)
	}
	return nil
}

// touched tells whether an event names a class.
func (p *picture) touched(id string) bool {
	for _, e := range p.events {
		for _, named := range []*string{e.FromID, e.IntoID, e.OfID} {
			if named != nil && *named == id {
				return true
			}
		}
	}
	return false
}

// note keeps an event that happened on a day.
func (p *picture) note(tx *gorm.DB, a Actor, e store.StockEvent, day int) error {
	on := dayAt(day)
	e.FarmID, e.ID, e.HappenedOn, e.RecordedAt, e.RecordedBy = a.FarmID, newID(), &on, time.Now().UTC(), a.UserID
	if err := p.fits(append(append([]store.StockEvent(nil), p.events...), e)); err != nil {
		return err
	}
	p.events = append(p.events, e)
	return tx.Create(&e).Error
}
