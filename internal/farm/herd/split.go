package herd

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/stock"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// NewSplit takes some of a mob off on the way, into a mob of their own.
type NewSplit struct {
	ID        string      `json:"id"` // of the mob they become
	Name      string      `json:"name"`
	Letter    string      `json:"letter,omitempty" doc:"left out: that of the mob they leave, in another shape"`
	Glyph     string      `json:"glyph,omitempty"`
	At        time.Time   `json:"at"`
	ToID      *string     `json:"to_paddock_id,omitempty"` // left out: off the pasture
	Parts     []SplitPart `json:"parts" nullable:"false"`
	Confirmed bool        `json:"confirmed,omitempty"`
}

// SplitPart is how many of a class go.
type SplitPart struct {
	ClassID string  `json:"class_id"`
	Head    float64 `json:"head"`
}

// NewJoin lets a mob join another.
type NewJoin struct {
	ID     string    `json:"id"` // of the write
	IntoID string    `json:"into_mob_id"`
	At     time.Time `json:"at"`
}

// SplitMob makes a mob of some of another, and says where they went: in one step, so that nobody is in two places or none.
func (s *Service) SplitMob(ctx context.Context, a farm.Actor, mobID string, in NewSplit) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "split mob", Body: []any{mobID, in}}, func(tx *facts.Writing) error {
		if err := farm.Judge(in, in.Confirmed); err != nil {
			return err
		}
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		day, err := atGate(p, in.At)
		if err != nil {
			return err
		}
		from, err := mobOf(p, "mob", mobID)
		if err != nil {
			return err
		}
		if err := in.mark(p, from); err != nil {
			return err
		}
		row := store.Mob{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Letter: in.Letter, Glyph: in.Glyph, DescribedOn: facts.DayAt(day), Housed: from.Housed, Version: 1}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		for field := range from.Fields {
			if err := tx.Create(&store.MobField{FarmID: a.FarmID, MobID: in.ID, FieldID: field}).Error; err != nil {
				return err
			}
		}
		if err := in.take(tx, p, mobID, day); err != nil {
			return err
		}
		if in.ToID == nil {
			return nil
		}
		to, ok := p.ByID[*in.ToID]
		if !ok {
			return quantity.Refuse("to_paddock_id", *in.ToID, "is not a paddock of this farm")
		}
		if why := season.Against(p, mobID, to, in.At); why != "" && !in.Confirmed {
			return &farm.Unusual{Problems: []quantity.Problem{{Field: "to_paddock_id", Message: why + ": do they go there all the same?"}}}
		}
		return tx.Create(&store.Move{FarmID: a.FarmID, ID: farm.NewID(), MobID: in.ID, ToPaddockID: in.ToID, MovedAt: in.At.UTC(), Note: "split off " + from.Name,
			RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
}

// mark names the new mob and gives it a mark that nobody carries.
func (in *NewSplit) mark(p *facts.Picture, from facts.Mob) error {
	mob := MobInput{Name: in.Name, Letter: in.Letter, Glyph: in.Glyph, Confirmed: in.Confirmed}
	var err error
	if mob.Name, err = farm.CheckName("name", mob.Name); err != nil {
		return err
	}
	if mob.Letter == "" {
		mob.Letter = from.Letter
	}
	if mob.Glyph == "" {
		if mob.Glyph = freeGlyph(marks(p, in.ID), mob.Letter); mob.Glyph == "" {
			return quantity.Refuse("letter", mob.Letter, "every shape carries this letter: choose another")
		}
	}
	if err := mob.checkMark(p, in.ID); err != nil {
		return err
	}
	in.Name, in.Letter, in.Glyph = mob.Name, mob.Letter, mob.Glyph
	return nil
}

// take moves the head over, class by class.
func (in *NewSplit) take(tx *facts.Writing, p *facts.Picture, mobID string, day int) error {
	total, left := 0.0, p.Herd.MobOn(mobID, day).Head
	seen := map[string]bool{}
	for i, part := range in.Parts {
		field := fmt.Sprintf("parts[%d].", i)
		row := p.GroupRow(part.ClassID)
		if row == nil || row.MobID == nil || *row.MobID != mobID || seen[part.ClassID] {
			return quantity.Refuse(field+"class_id", part.ClassID, "is not a class of this mob, or is named twice")
		}
		seen[part.ClassID] = true
		now, ok := p.Herd.ClassOn(part.ClassID, day)
		if !ok || part.Head < 0 || part.Head > now.Count {
			return quantity.Refuse(field+"head", part.Head, "there are %.0f of them", now.Count)
		}
		if part.Head == 0 {
			continue
		}
		total += part.Head
		if err := transfer(tx, p, *row, now, part.Head, in.ID, day); err != nil {
			return err
		}
	}
	if total == 0 || total >= left {
		return quantity.Refuse("parts", total, "some go and some stay: from 1 to %.0f head", left-1)
	}
	return nil
}

// transfer moves head of a class into the class of another mob that is like it, or into a new one that is.
func transfer(tx *facts.Writing, p *facts.Picture, from store.StockGroup, now stock.Class, head float64, mobID string, day int) error {
	into := ""
	for _, g := range p.Groups {
		c, ok := p.Herd.ClassOn(g.ID, day)
		if g.MobID != nil && *g.MobID == mobID && ok && c.ReferenceID == now.ReferenceID && g.Name == from.Name {
			into = g.ID
		}
	}
	if into == "" {
		group := from
		group.ID, group.MobID, group.Head, group.DescribedOn = farm.NewID(), &mobID, 0, facts.DayAt(day-366)
		group.ReferenceID, group.LiveWeightKg, group.IntakeShare, group.DailyGainKg = now.ReferenceID, now.LiveWeightKg, now.IntakeShare, now.DailyGainKg
		if err := tx.Create(&group).Error; err != nil {
			return err
		}
		p.Groups = append(p.Groups, group)
		into = group.ID
	}
	return note(p, tx.DB, tx.Actor, store.StockEvent{Kind: string(stock.Transfer), FromID: &from.ID, IntoID: &into, Head: int(head)}, day)
}

// JoinMobs lets all of a mob join another where that stands: the mob ends, what it did stays on record.
func (s *Service) JoinMobs(ctx context.Context, a farm.Actor, mobID string, in NewJoin) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "join mobs", Body: []any{mobID, in}}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		day, err := atGate(p, in.At)
		if err != nil {
			return err
		}
		if _, err := mobOf(p, "mob", mobID); err != nil {
			return err
		}
		if _, err := mobOf(p, "into_mob_id", in.IntoID); err != nil {
			return err
		}
		if in.IntoID == mobID {
			return quantity.Refuse("into_mob_id", in.IntoID, "they are that mob")
		}
		for _, row := range append([]store.StockGroup(nil), p.Groups...) {
			if row.MobID == nil || *row.MobID != mobID {
				continue
			}
			now, ok := p.Herd.ClassOn(row.ID, day)
			if !ok || now.Count == 0 {
				continue
			}
			if err := transfer(tx, p, row, now, now.Count, in.IntoID, day); err != nil {
				return err
			}
		}
		return tx.Model(&store.Mob{}).Where("farm_id = ? AND id = ?", a.FarmID, mobID).
			Updates(map[string]any{"removed_at": in.At.UTC(), "version": gorm.Expr("version + 1")}).Error
	})
}

// mobOf is a mob that is on the farm.
func mobOf(p *facts.Picture, field, id string) (facts.Mob, error) {
	for _, m := range p.Mobs {
		if m.ID == id {
			return m, nil
		}
	}
	return facts.Mob{}, quantity.Refuse(field, id, "is not a mob of this farm")
}

// atGate is the day of something that happened at a gate, up to a week ago.
func atGate(p *facts.Picture, at time.Time) (int, error) {
	if at.After(p.Now.Add(time.Minute)) || at.Before(p.Now.AddDate(0, 0, -7)) {
		return 0, quantity.Refuse("at", at.Format(time.RFC3339), "lies in the future, or more than a week back: write it down in Stock then")
	}
	return p.Number(at), nil
}
