package season

import (
	"fmt"
	"slices"
	"strings"

	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/core/working"
	"fjell/internal/farm/facts"
)

// FarmBreakEven is what must grow for all mobs on the ground they graze.
func (s *Season) FarmBreakEven() *working.Figure {
	return rotation.BreakEven(s.Farm, s.InRotation(), s.Grazers, s.Now, "all mobs over the ground they really graze; closed paddocks are not counted")
}

// MobBreakEven is what must grow for one mob on the ground it grazes.
func (s *Season) MobBreakEven(i int) *working.Figure {
	return rotation.BreakEven(s.Farm, s.Grazers[i].Ground, s.Grazers[i:i+1], s.Now, "growth below this runs the grass down, growth above builds a surplus")
}

// span is the days that may be asked about: those of records that bear on the present, and those that a forecast sees
// grow.
func span(p *facts.Picture) (first, until int) {
	today := p.Number(p.Now)
	return today - 450, today + ForecastDays + 310
}

// DemandNow is what a mob eats from pasture today, kg DM.
func (s *Season) DemandNow(mob int) float64 { return s.Grazers[mob].Demand.On(s.Number(s.Now)) }

// mobDemand is what a mob eats from pasture on each day, kg DM.
func mobDemand(p *facts.Picture, mobID string) rotation.Daily {
	first, until := span(p)
	days := make([]float64, until-first)
	for g, series := range p.Herd.Series(first, until) {
		if p.Herd.Groups[g].Mob == mobID {
			for d, point := range series {
				days[d] += point.Demand
			}
		}
	}
	return rotation.Daily{First: first, Values: days}
}

// FarmDemand is what all mobs together eat from pasture on a day, with its working.
func FarmDemand(p *facts.Picture, day int) working.Figure {
	var terms []working.Term
	var symbols []string
	total := 0.0
	for i, m := range p.Mobs {
		demand := p.Herd.MobOn(m.ID, day).Demand
		symbol := fmt.Sprintf("D%d", i+1)
		terms, symbols = append(terms, working.T(symbol, m.Name, demand, quantity.Demand)), append(symbols, symbol)
		total += demand
	}
	return working.Of("the mobs as they are on this day", working.New("Demand of all mobs", strings.Join(symbols, " + "), total, quantity.Demand, terms...))
}

// spared is what supplements spare today of what a mob would eat from pasture, kg DM.
func (s *Season) spared(mob int) float64 {
	fed, _ := s.Herd.Mob(s.Mobs[mob].ID, s.Number(s.Now))
	if s.Herd.HousedOn(s.Mobs[mob].ID, s.Number(s.Now)) {
		return 0
	}
	unfed := slices.Clone(fed)
	for i := range unfed {
		unfed[i].SupplementKg = 0
	}
	return unfed.DemandOn(0) - fed.DemandOn(0)
}

// DaysOut is how many of the next 365 days a mob is out at grass.
func (s *Season) DaysOut(mob int) int {
	days := 0
	for d := range 365 {
		if !s.Herd.HousedOn(s.Mobs[mob].ID, s.Number(s.Now)+d) {
			days++
		}
	}
	return days
}

// Stocked is the stocking of some mobs: their animals of today over the ground that they go round, with the days and the ground it is over in words.
type Stocked struct {
	Animals []stock.Animals
	AreaHa  float64  // what is closed now, or kept for need, is not counted
	Fields  []string // that it lies in
	Over    string
}

// Stocking is how some mobs are stocked: the one figure that Stock and Queue show.
func (s *Season) Stocking(mobs []int) Stocked {
	out := Stocked{Fields: []string{}}
	counted := map[string]bool{}
	for p, pad := range s.Farm.Paddocks {
		on := slices.ContainsFunc(mobs, func(m int) bool { return s.Grazers[m].Ground[p] })
		if on && s.ClosedNow(p) == "" {
			out.AreaHa += pad.AreaHa
			counted[s.Paddocks[p].FieldID] = true
		}
	}
	for _, f := range s.Fields {
		if counted[f.ID] {
			out.Fields = append(out.Fields, f.Name)
		}
	}
	least, most := 365, 0
	for _, m := range mobs {
		classes, _ := s.Herd.Mob(s.Mobs[m].ID, s.Number(s.Now))
		for _, c := range classes {
			out.Animals = append(out.Animals, stock.Animals{Count: c.Count, LiveWeightKg: c.LiveWeightKg})
		}
		days := s.DaysOut(m)
		least, most = min(least, days), max(most, days)
	}
	days := fmt.Sprint(most)
	if least < most {
		days = fmt.Sprintf("%d to %d", least, most)
	}
	out.Over = fmt.Sprintf("animals of today over the ground they graze (%s; what is closed now is not counted), for %s days out at grass in the year from today", strings.Join(out.Fields, ", "), days)
	return out
}

// RateAU is the stocking rate in animal units; nil where nothing grazes, or no ground is open.
func (k Stocked) RateAU() *working.Figure {
	if k.AreaHa <= 0 || len(k.Animals) == 0 {
		return nil
	}
	_, steps, err := stock.Stocking(stock.StockingIn{Animals: k.Animals, SeasonAreaHa: k.AreaHa, OpenAreaHa: k.AreaHa})
	if err != nil {
		return nil
	}
	rate := working.Of(k.Over, steps[1])
	return &rate
}
