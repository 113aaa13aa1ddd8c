package season

import (
	"time"

	"fjell/core/reference"
	"fjell/core/stock"
)

// Harvest is the share of what grows that a species gets hold of on the ground a mob goes round, by area: a way of grazing that
// leaves a share of what stands says it itself, for the rest it is that of land of its kind in so many paddocks. mob -1: the ground
// of all mobs.
func (s *Season) Harvest(mob int, species string) float64 {
	ground, round := s.InRotation(), 0
	if mob >= 0 {
		ground = s.Grazers[mob].Ground
	}
	for _, mine := range ground {
		if mine {
			round++
		}
	}
	var area, sum float64
	for p, mine := range ground {
		if !mine {
			continue
		}
		l := s.Limits(p)
		if mob >= 0 {
			l = s.LimitsOf(mob, p)
		}
		share := (1 - l.Leave) * l.U
		if l.Leave == 0 {
			share, _ = reference.Load().HarvestEfficiency(species, max(1, round), false)
		}
		area, sum = area+s.Farm.Paddocks[p].AreaHa, sum+share*s.Farm.Paddocks[p].AreaHa
	}
	if area == 0 {
		share, _ := reference.Load().HarvestEfficiency(species, 1, false)
		return share
	}
	return sum / area
}

// species is the species that eats most of a mob today.
func (s *Season) species(mob int) string {
	by, most := map[string]float64{}, ""
	for _, c := range s.Classes(s.Mobs[mob].ID) {
		if ref, err := s.Class("", c.ReferenceID); err == nil {
			if by[ref.Species] += c.Count * c.LiveWeightKg * c.IntakeShare; most == "" || by[ref.Species] > by[most] {
				most = ref.Species
			}
		}
	}
	return most
}

// GrowingOn is what every paddock that stock graze is expected to grow in the months of an ordinary year: the sward's yearly yield on
// the curve it follows here times the paddock's productivity, for the days on which it is open. What stock get hold of is that of the
// mobs that graze it, by what they eat.
func (s *Season) GrowingOn(from, until int) []stock.Growing {
	share := make([]float64, len(s.Grazers))
	eats := make([]float64, len(s.Grazers))
	for m := range s.Grazers {
		share[m], eats[m] = s.Harvest(m, s.species(m)), 1e-9
		for n := from; n < until; n += 7 {
			eats[m] += s.Grazers[m].Demand.On(n)
		}
	}
	var out []stock.Growing
	for p, pad := range s.Farm.Paddocks {
		if !s.InRotation()[p] {
			continue
		}
		rec := s.Paddocks[p]
		_, yield, err := s.Curve(rec.Sward)
		if err != nil {
			continue
		}
		g := stock.Growing{AreaHa: pad.AreaHa}
		var open, days [12]float64
		for n := from; n < until; n++ {
			noon := time.Unix(int64(n)*86400+43200, 0).In(s.Location)
			m := noon.Month() - 1
			days[m]++
			if _, closed := pad.ClosedAt(noon); !closed {
				open[m]++
			}
		}
		for m, part := range pad.Curve.Months(s.Farm.Southern) {
			g.Months[m] = yield * rec.GrowthFactor * part * open[m] / max(1, days[m])
		}
		total := 0.0
		for m, mob := range s.Grazers {
			if mob.Ground[p] {
				g.Harvest, total = g.Harvest+share[m]*eats[m], total+eats[m]
			}
		}
		if g.Harvest /= total; total > 0 {
			out = append(out, g)
		}
	}
	return out
}
