package moves

import (
	"fmt"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// PulseView is what a mob's pulse takes at the density that was asked for.
type PulseView struct {
	MobID string         `json:"mob_id"`
	Move  float64        `json:"area_per_move_ha"`
	Day   float64        `json:"area_per_day_ha"`
	Fed   working.Figure `json:"fed_share"` // of what they need in a day, from the top they may take there
}

// matingDays is how long after males went in a pulse is asked about again.
const matingDays = 56

// pulseFits refuses a pulse to those who begin and one without an end, and asks again where growing stock or stock at mating would
// pay for it.
func pulseFits(p *facts.Picture, mobID string, in *PlanInput) error {
	if err := grazing.PulseEnds(in.Days, p.Row.Experience == grazing.Beginner); err != nil {
		return err
	}
	if in.Confirmed {
		return nil
	}
	today := rotation.DayNumber(p.Now, p.Location)
	classes, ids := p.Herd.Mob(mobID, today)
	var asked []quantity.Problem
	ask := func(why string) {
		asked = append(asked, quantity.Problem{Field: "mobs", Message: why + ": a pulse costs them feed and calm. Plan it all the same?"})
	}
	for i, c := range classes {
		name := c.DisplayedName
		if c.DailyGainKg > 0 {
			ask(fmt.Sprintf("%s are to grow", name))
		}
		if mated(p.Events, ids[i], today-matingDays, today+int(in.Days)) {
			ask(fmt.Sprintf("males go in to %s in this time, or did in the eight weeks before", name))
		}
	}
	if len(asked) > 0 {
		return &farm.Unusual{Problems: asked}
	}
	return nil
}

// mated tells whether males go in to a group from one day to before another.
func mated(events []store.StockEvent, group string, from, until int) bool {
	for _, e := range events {
		if stock.Kind(e.Kind) != stock.Mating || e.OfID == nil || *e.OfID != group {
			continue
		}
		on := e.HappenedOn
		if on == nil {
			on = e.PlannedOn
		}
		if on != nil && facts.DayNumber(*on) >= from && facts.DayNumber(*on) < until {
			return true
		}
	}
	return false
}

// pulses are what the pulses of the present plan take.
func pulses(s *season.Season) []PulseView {
	out := []PulseView{}
	if s.Plan == nil {
		return out
	}
	standing := s.Past().Standing
	for _, m := range s.Plan.Mobs {
		school := m.School.V
		i, ok := s.MobIndex[m.MobID]
		if !ok || school.Key != grazing.PulseWay || school.Gates == nil {
			continue
		}
		point := s.Herd.MobOn(m.MobID, s.Number(s.Now))
		mass, area := 0.0, 0.0
		for p, pad := range s.Farm.Paddocks {
			if s.Grazers[i].Ground[p] {
				mass, area = mass+standing[p].Mass*pad.AreaHa, area+pad.AreaHa
			}
		}
		if area == 0 {
			continue
		}
		takes, fed, err := school.PulseFeeds(point.Head, point.Weight, s.Grazers[i].Demand.On(s.Number(s.Now)), mass/area)
		if err != nil {
			continue // nobody is in the mob
		}
		out = append(out, PulseView{m.MobID, takes.Move, takes.Day, fed})
	}
	return out
}
