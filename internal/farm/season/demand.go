package season

import (
	"fmt"
	"strings"

	"fjell/core/quantity"
	"fjell/core/rotation"
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
