package facts

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"gorm.io/gorm"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/internal/store"
)

// DayNumber counts the days of the calendar since 1 January 1970.
func DayNumber(d store.Day) int {
	t, err := d.Time(time.UTC)
	if err != nil {
		return 0
	}
	return int(t.Unix() / 86400)
}

// DayAt is the calendar day of a number.
func DayAt(number int) store.Day {
	return store.Day(time.Unix(int64(number)*86400, 0).UTC().Format(time.DateOnly))
}

// Number is the farm's calendar day of a moment.
func (p *Picture) Number(at time.Time) int {
	y, m, d := at.In(p.Location).Date()
	return int(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// Class finds a class by id: the farm's own, or one of the reference.
func (p *Picture) Class(field, id string) (reference.StockClass, error) {
	for _, own := range p.OwnClasses {
		if own.ID != id {
			continue
		}
		like, err := reference.Load().Class(own.LikeID)
		if err != nil {
			return like, err
		}
		like.ID, like.Name = own.ID, own.Name
		like.LiveWeight = reference.Range{Low: own.LiveWeightKg * 0.7, Typical: own.LiveWeightKg, High: own.LiveWeightKg * 1.3}
		like.IntakeShare = reference.Range{Low: own.IntakeShare * 0.8, Typical: own.IntakeShare, High: own.IntakeShare * 1.2}
		like.DailyGain, like.LivestockUnit = own.DailyGainKg, own.LivestockUnit
		return like, nil
	}
	c, err := reference.Load().Class(id)
	if err != nil {
		return c, quantity.Refuse(field, id, "is not a class of the reference list or of this farm")
	}
	return c, nil
}

// mostWeight is where growth of a class ends: well above what its heaviest usually weigh.
func mostWeight(c reference.StockClass) float64 { return 1.25 * c.LiveWeight.High }

func (p *Picture) loadHerd(tx *gorm.DB, farmID string) error {
	if err := tx.Order("name, id").Find(&p.OwnClasses, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load own classes: %w", err)
	}
	if err := tx.Order("mob_id, position, id").Find(&p.Groups, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load classes: %w", err)
	}
	var rows []store.StockEvent
	if err := tx.Order("recorded_at, id").Find(&rows, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load events: %w", err)
	}
	replaced := map[string]bool{}
	for _, r := range rows {
		if r.ReplacesID != nil {
			replaced[*r.ReplacesID] = true
		}
	}
	for _, r := range rows {
		if !replaced[r.ID] && !r.Withdrawn {
			p.Events = append(p.Events, r)
		}
	}
	return nil
}

// books apply events to the farm's groups. What does not fit is left out and told.
func (p *Picture) books(events []store.StockEvent) (*stock.Herd, []Misfit) {
	var out []Misfit
	var groups []stock.Group
	for _, g := range p.Groups {
		group, err := p.group(g)
		if err != nil {
			out = append(out, Misfit{g.ID, g.Name, err.Error()})
			continue
		}
		groups = append(groups, group)
	}
	var list []stock.Event
	for _, r := range events {
		e, err := p.event(r)
		if err != nil {
			out = append(out, Misfit{r.ID, r.Kind, err.Error()})
			continue
		}
		list = append(list, e)
	}
	herd, misfits := stock.KeepWhatFits(groups, list)
	herd.Housed = p.housed()
	for _, m := range misfits {
		why := m.Why.Error()
		var refused *quantity.Problem
		if errors.As(m.Why, &refused) {
			why = refused.Message
		}
		out = append(out, Misfit{m.Event.ID, string(m.Event.Kind), why})
	}
	return herd, out
}

// Fits refuses events among which one does not fit that is not on the books as such already.
func (p *Picture) Fits(events []store.StockEvent) error {
	known := map[string]bool{}
	for _, m := range p.Misfits {
		known[m.ID] = true
	}
	_, misfits := p.books(events)
	for _, m := range misfits {
		if !known[m.ID] {
			return quantity.Refuse("event", nil, "%s", m.Why)
		}
	}
	return nil
}

func (p *Picture) group(g store.StockGroup) (stock.Group, error) {
	ref, err := p.Class("reference_id", g.ReferenceID)
	if err != nil {
		return stock.Group{}, err
	}
	out := stock.Group{ID: g.ID, Name: g.Name, From: DayNumber(g.DescribedOn), LUPerHead: ref.LivestockUnit, MostKg: math.Max(mostWeight(ref), g.LiveWeightKg),
		Class: stock.Class{Count: float64(g.Head), LiveWeightKg: g.LiveWeightKg, IntakeShare: g.IntakeShare, DailyGainKg: g.DailyGainKg, ReferenceID: g.ReferenceID, DisplayedName: g.Name}}
	out.Young, out.BornWith = young(ref), ref.BornWith
	if g.MobID != nil {
		out.Mob = *g.MobID
		p.backdate(&out)
	}
	for _, s := range g.Supplements.V {
		fed := stock.Supplement{From: DayNumber(store.Day(s.From)), KgDM: s.KgDM, Substitution: s.Substitution}
		if s.Until != "" {
			until := DayNumber(store.Day(s.Until))
			fed.Until = &until
		}
		out.Supplements = append(out.Supplements, fed)
	}
	return out, nil
}

// young is by what age a class at foot eats grass; nil for others.
func young(c reference.StockClass) *stock.Young {
	if c.GrazesFully == 0 {
		return nil
	}
	return &stock.Young{BirthKg: c.BirthWeight, From: c.GrazesFrom, Fully: c.GrazesFully, UsualKg: c.LiveWeight.Typical, Most: c.IntakeShare.High}
}

// backdate puts a class that came with its mob on the books from the day the mob was here: the one somebody named, or that of its
// first move. What it weighs was said on the day it was described.
func (p *Picture) backdate(g *stock.Group) {
	for _, m := range slices.Concat(p.Mobs, p.Gone) {
		if m.ID != g.Mob || DayNumber(m.DescribedOn) != g.From || g.Class.Count == 0 {
			continue
		}
		from := g.From
		if m.HereSince != nil {
			from = min(from, DayNumber(*m.HereSince))
		}
		for _, mv := range p.Moves {
			if mv.MobID == m.ID {
				from = min(from, p.Number(mv.MovedAt))
				break // they are in order
			}
		}
		g.Class = g.Class.On(float64(from - g.From))
		g.From = from
	}
}

// housed is when mobs stand in the house.
func (p *Picture) housed() map[string][]stock.Stretch {
	out := map[string][]stock.Stretch{}
	for _, m := range slices.Concat(p.Mobs, p.Gone) {
		for _, h := range m.Housed.V {
			s := stock.Stretch{From: DayNumber(store.Day(h.From))}
			if h.Until != "" {
				until := DayNumber(store.Day(h.Until))
				s.Until = &until
			}
			out[m.ID] = append(out[m.ID], s)
		}
		if m.RemovedAt != nil { // from then on they eat elsewhere
			out[m.ID] = append(out[m.ID], stock.Stretch{From: p.Number(*m.RemovedAt) + 1})
		}
	}
	return out
}

// event is a row as the herd counts it. What is planned counts from its day, or, once that is past and nobody has said
// it happened, from today: it may happen any day now.
func (p *Picture) event(r store.StockEvent) (stock.Event, error) {
	e := stock.Event{ID: r.ID, Kind: stock.Kind(r.Kind), Head: float64(r.Head), WeightKg: r.WeightKg}
	switch {
	case r.HappenedOn != nil:
		e.Day = DayNumber(*r.HappenedOn)
	case r.PlannedOn != nil:
		e.Day, e.Planned = max(DayNumber(*r.PlannedOn), p.Number(p.Now)), true
	}
	set := func(to *string, from *string) {
		if from != nil {
			*to = *from
		}
	}
	set(&e.From, r.FromID)
	set(&e.Into, r.IntoID)
	set(&e.Of, r.OfID)
	if r.Becomes == "" || e.Of == "" {
		return e, nil
	}
	ref, err := p.Class("becomes", r.Becomes)
	if err != nil {
		return e, err
	}
	e.Change = &stock.Change{ReferenceID: ref.ID, IntakeShare: ref.IntakeShare.Typical, DailyGainKg: ref.DailyGain, LUPerHead: ref.LivestockUnit, MostKg: mostWeight(ref),
		Young: young(ref), BornWith: ref.BornWith}
	// A farm that says its cows eat less than the book's keeps that ratio through their stages.
	if g := p.GroupRow(e.Of); g != nil {
		if was, err := p.Class("reference_id", g.ReferenceID); err == nil && was.IntakeShare.Typical > 0 {
			e.Change.IntakeShare *= g.IntakeShare / was.IntakeShare.Typical
		}
	}
	if r.IntakeShare != nil {
		e.Change.IntakeShare = *r.IntakeShare
	}
	if r.GainKg != nil {
		e.Change.DailyGainKg = *r.GainKg
	}
	return e, nil
}

// GroupRow is the row of a group of animals; nil where there is none.
func (p *Picture) GroupRow(id string) *store.StockGroup {
	for i := range p.Groups {
		if p.Groups[i].ID == id {
			return &p.Groups[i]
		}
	}
	return nil
}

// Classes are the classes of a mob that have head today.
func (p *Picture) Classes(mobID string) stock.Mob {
	classes, _ := p.Herd.Mob(mobID, p.Number(p.Now))
	return classes
}

// ClassName is what a class of stock is called; empty where there is none.
func (p *Picture) ClassName(id string) string {
	if row := p.GroupRow(id); row != nil {
		return row.Name
	}
	return ""
}

// MobOfClass is the name of the mob that a class of stock is in.
func (p *Picture) MobOfClass(id string) string {
	if row := p.GroupRow(id); row != nil && row.MobID != nil {
		for _, m := range p.Mobs {
			if m.ID == *row.MobID {
				return m.Name
			}
		}
	}
	return ""
}

// TalliesOf are the tallies of the stay in which one was made, up to it: of the same paddock since a mob last came to it. At is when that was; where no
// move is on record, the tallies of a fortnight.
func (p *Picture) TalliesOf(paddockID string, upTo time.Time) (in grazing.TalliesIn) {
	in.Entered = upTo.AddDate(0, 0, -14)
	for _, mv := range p.Moves { // in the order of time
		if mv.ToPaddockID != nil && *mv.ToPaddockID == paddockID && !mv.MovedAt.After(upTo) {
			in.Entered = mv.MovedAt
		}
	}
	for _, t := range p.Tallies {
		if t.PaddockID == paddockID && !t.CountedAt.Before(in.Entered) && !t.CountedAt.After(upTo) {
			in.Tallies = append(in.Tallies, grazing.Tallied{At: t.CountedAt, Tally: t.Tally.V})
		}
	}
	return in
}
