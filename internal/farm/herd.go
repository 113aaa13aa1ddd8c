package farm

import (
	"errors"
	"fmt"
	"math"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/stock"
	"fjell/internal/store"
)

// dayNumber counts the days of the calendar since 1 January 1970.
func dayNumber(d store.Day) int {
	t, err := d.Time(time.UTC)
	if err != nil {
		return 0
	}
	return int(t.Unix() / 86400)
}

// dayAt is the calendar day of a number.
func dayAt(number int) store.Day {
	return store.Day(time.Unix(int64(number)*86400, 0).UTC().Format(time.DateOnly))
}

// number is the farm's calendar day of a moment.
func (p *picture) number(at time.Time) int {
	y, m, d := at.In(p.loc).Date()
	return int(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// class finds a class by id: the farm's own, or one of the reference.
func (p *picture) class(field, id string) (reference.StockClass, error) {
	for _, own := range p.ownClasses {
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

func (p *picture) loadHerd(tx *gorm.DB, farmID string) error {
	if err := tx.Order("name, id").Find(&p.ownClasses, "farm_id = ?", farmID).Error; err != nil {
		return fmt.Errorf("load own classes: %w", err)
	}
	if err := tx.Order("mob_id, position, id").Find(&p.groups, "farm_id = ?", farmID).Error; err != nil {
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
			p.events = append(p.events, r)
		}
	}
	var misfits []misfit
	p.herd, misfits = p.books(p.events)
	p.misfits = misfits
	return nil
}

// books apply events to the farm's groups. What does not fit is left out and told.
func (p *picture) books(events []store.StockEvent) (*stock.Herd, []misfit) {
	var out []misfit
	var groups []stock.Group
	for _, g := range p.groups {
		group, err := p.group(g)
		if err != nil {
			out = append(out, misfit{g.ID, g.Name, err.Error()})
			continue
		}
		groups = append(groups, group)
	}
	var list []stock.Event
	for _, r := range events {
		e, err := p.event(r)
		if err != nil {
			out = append(out, misfit{r.ID, r.Kind, err.Error()})
			continue
		}
		list = append(list, e)
	}
	herd, misfits := stock.KeepWhatFits(groups, list)
	for _, m := range misfits {
		why := m.Why.Error()
		var refused *quantity.Problem
		if errors.As(m.Why, &refused) {
			why = refused.Message
		}
		out = append(out, misfit{m.Event.ID, string(m.Event.Kind), why})
	}
	return herd, out
}

// fits refuses events among which one does not fit that is not on the books as such already.
func (p *picture) fits(events []store.StockEvent) error {
	known := map[string]bool{}
	for _, m := range p.misfits {
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

func (p *picture) group(g store.StockGroup) (stock.Group, error) {
	ref, err := p.class("reference_id", g.ReferenceID)
	if err != nil {
		return stock.Group{}, err
	}
	out := stock.Group{ID: g.ID, Name: g.Name, From: dayNumber(g.DescribedOn), LUPerHead: ref.LivestockUnit, MostKg: math.Max(mostWeight(ref), g.LiveWeightKg),
		Class: stock.Class{Count: float64(g.Head), LiveWeightKg: g.LiveWeightKg, IntakeShare: g.IntakeShare, DailyGainKg: g.DailyGainKg, ReferenceID: g.ReferenceID, DisplayedName: g.Name}}
	if g.MobID != nil {
		out.Mob = *g.MobID
	}
	for _, s := range g.Supplements.V {
		fed := stock.Supplement{From: dayNumber(store.Day(s.From)), KgDM: s.KgDM, Substitution: s.Substitution}
		if s.Until != "" {
			until := dayNumber(store.Day(s.Until))
			fed.Until = &until
		}
		out.Supplements = append(out.Supplements, fed)
	}
	return out, nil
}

// event is a row as the herd counts it. What is planned counts from its day, or, once that is past and nobody has said
// it happened, from today: it may happen any day now.
func (p *picture) event(r store.StockEvent) (stock.Event, error) {
	e := stock.Event{ID: r.ID, Kind: stock.Kind(r.Kind), Head: float64(r.Head), WeightKg: r.WeightKg}
	switch {
	case r.HappenedOn != nil:
		e.Day = dayNumber(*r.HappenedOn)
	case r.PlannedOn != nil:
		e.Day, e.Planned = max(dayNumber(*r.PlannedOn), p.number(p.now)), true
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
	ref, err := p.class("becomes", r.Becomes)
	if err != nil {
		return e, err
	}
	e.Change = &stock.Change{ReferenceID: ref.ID, IntakeShare: ref.IntakeShare.Typical, DailyGainKg: ref.DailyGain, LUPerHead: ref.LivestockUnit, MostKg: mostWeight(ref)}
	// A farm that says its cows eat less than the book's keeps that ratio through their stages.
	if g := p.groupRow(e.Of); g != nil {
		if was, err := p.class("reference_id", g.ReferenceID); err == nil && was.IntakeShare.Typical > 0 {
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

func (p *picture) groupRow(id string) *store.StockGroup {
	for i := range p.groups {
		if p.groups[i].ID == id {
			return &p.groups[i]
		}
	}
	return nil
}

// mobDemand is what a mob eats from pasture on the day of a moment, kg DM.
func (p *picture) mobDemand(mobID string) func(time.Time) float64 {
	today := p.number(p.now)
	first, until := today-450, today+forecastDays+310
	days := make([]float64, until-first) // worked out at once: it is read by many at a time
	for g, series := range p.herd.Series(first, until) {
		if p.herd.Groups[g].Mob == mobID {
			for d, point := range series {
				days[d] += point.Demand
			}
		}
	}
	return func(at time.Time) float64 {
		return days[min(max(p.number(at)-first, 0), len(days)-1)]
	}
}

// classes are the classes of a mob that have head today.
func (p *picture) classes(mobID string) stock.Mob {
	classes, _ := p.herd.Mob(mobID, p.number(p.now))
	return classes
}
