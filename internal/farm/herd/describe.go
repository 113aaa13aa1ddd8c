package herd

import (
	"context"
	"fmt"
	"math"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/stock"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// UpdateMob says how a mob is today. What differs from what is on record is written down as events of today: head that
// were counted, a weight that was checked, a stage that was reached; nothing on record is overwritten.
func (s *Service) UpdateMob(ctx context.Context, a farm.Actor, id string, version int, in MobInput) (MobView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "describe mob", Body: []any{id, version, in}}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Mob](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		if err := in.check(p); err != nil {
			return err
		}
		if err := in.checkMark(p, id); err != nil {
			return err
		}
		if err := in.checkCounts(p); err != nil {
			return err
		}
		if err := farm.Bump[store.Mob](tx.DB, a.FarmID, id, version, row.Version, func() any { return mobAsShown(p, id) }); err != nil {
			return err
		}
		return describe(p, tx.DB, a, id, in)
	})
	return farm.After(err, func() (MobView, error) { return s.mob(ctx, a, id) })
}

// mobAsShown is a mob as its place shows it; nil where it is off the farm.
func mobAsShown(p *facts.Picture, id string) any {
	se, err := season.Of(p)
	if err != nil {
		return nil
	}
	i, ok := se.MobIndex[id]
	if !ok {
		return nil
	}
	view, err := mobView(se, i)
	if err != nil {
		return nil
	}
	return view
}

func describe(p *facts.Picture, tx *gorm.DB, a farm.Actor, id string, in MobInput) error {
	row := store.Mob{Name: in.Name, Letter: in.Letter, Glyph: in.Glyph}
	in.fillDays(&row)
	if err := tx.Model(&store.Mob{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Select("name", "letter", "glyph", "here_since", "housed").Updates(&row).Error; err != nil {
		return err
	}
	today := p.Number(p.Now)
	seen := map[string]bool{}
	for i, c := range in.Classes {
		if c.ID == "" {
			row := c.group(a.FarmID, farm.NewID(), &id, i, facts.DayAt(today))
			if err := tx.Create(&row).Error; err != nil {
				return err
			}
			continue
		}
		row := p.GroupRow(c.ID)
		if row == nil || row.MobID == nil || *row.MobID != id {
			return quantity.Refuse(fmt.Sprintf("classes[%d].id", i), c.ID, "is not a class of this mob")
		}
		seen[c.ID] = true
		if err := becomes(p, tx, a, *row, c, today); err != nil {
			return err
		}
	}
	_, ids := p.Herd.Mob(id, today)
	for _, gone := range ids {
		if !seen[gone] {
			if err := note(p, tx, a, store.StockEvent{Kind: string(stock.Muster), OfID: &gone, Note: "taken off the mob's list"}, today); err != nil {
				return err
			}
		}
	}
	return in.saveFields(tx, a.FarmID, id)
}

// becomes writes down how a class differs today from what is on record.
func becomes(p *facts.Picture, tx *gorm.DB, a farm.Actor, row store.StockGroup, c ClassInput, today int) error {
	now, ok := p.Herd.ClassOn(row.ID, today)
	if !ok {
		return quantity.Refuse("classes", row.Name, "are not on the books yet")
	}
	fresh := facts.DayNumber(row.DescribedOn) == today && !touched(p, row.ID)
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
		if err := note(p, tx, a, e, today); err != nil {
			return err
		}
	}
	if math.Abs(c.LiveWeight-now.LiveWeightKg) > 0.05 {
		if err := note(p, tx, a, store.StockEvent{Kind: string(stock.Weigh), OfID: &row.ID, WeightKg: &c.LiveWeight}, today); err != nil {
			return err
		}
	}
	if c.Count != now.Count {
		return note(p, tx, a, store.StockEvent{Kind: string(stock.Muster), OfID: &row.ID, Head: int(c.Count)}, today)
	}
	return nil
}

// touched tells whether an event names a class.
func touched(p *facts.Picture, id string) bool {
	for _, e := range p.Events {
		for _, named := range []*string{e.FromID, e.IntoID, e.OfID} {
			if named != nil && *named == id {
				return true
			}
		}
	}
	return false
}

// note keeps an event that happened on a day.
func note(p *facts.Picture, tx *gorm.DB, a farm.Actor, e store.StockEvent, day int) error {
	on := facts.DayAt(day)
	e.FarmID, e.ID, e.HappenedOn, e.RecordedAt, e.RecordedBy = a.FarmID, farm.NewID(), &on, time.Now().UTC(), a.UserID
	if err := p.Fits(append(append([]store.StockEvent(nil), p.Events...), e)); err != nil {
		return err
	}
	p.Events = append(p.Events, e)
	return tx.Create(&e).Error
}
