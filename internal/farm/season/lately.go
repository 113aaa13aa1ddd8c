package season

import (
	"time"

	"fjell/core/reference"
)

// Lately is how growth measured between the walks of the last weeks compares with an ordinary year's in the same days: 1 is as ordinary, over how many days it was
// measured; no days: there are not two walks to measure it between.
func (s *Season) Lately() (ratio, days float64) {
	all := make([]bool, len(s.Paddocks))
	for p := range all {
		all[p] = true
	}
	walks := s.Dial(s.Growing(), "", "", nil, all).Walks
	measured, ordinary := 0.0, 0.0
	for i := 1; i < len(walks); i++ {
		between := walks[i].At.Sub(walks[i-1].At).Hours() / 24
		measured += walks[i].Rate * between
		days += between
		for at := walks[i-1].At; at.Before(walks[i].At); at = at.AddDate(0, 0, 1) {
			ordinary += s.ordinary(at)
		}
	}
	if days == 0 || ordinary <= 0 {
		return 1, 0
	}
	return measured / ordinary, days
}

// ordinary is what the ground grows on a day of an ordinary year, kg DM/ha.
func (s *Season) ordinary(at time.Time) (rate float64) {
	area := 0.0
	begin := time.Date(at.Year(), at.Month(), 1, 0, 0, 0, 0, at.Location())
	length := begin.AddDate(0, 1, 0).Sub(begin).Hours() / 24
	for p, pad := range s.Paddocks {
		_, yield, err := s.Curve(pad.Sward)
		if err != nil {
			continue
		}
		parts := s.Farm.Paddocks[p].Curve.Months(s.Farm.Southern)
		rate += pad.Shape.AreaHa * yield * pad.GrowthFactor * parts[at.Month()-1] / length
		area += pad.Shape.AreaHa
	}
	return rate / max(area, 1e-9)
}

// Days of a season of growth: those of months that grow at least this share of what the best month does. Assumption, ours.
const growing = 0.15

// SeasonDays is for how many days of an ordinary year the farm's ground grows.
func (s *Season) SeasonDays() (days float64) {
	var rates [12]float64
	most := 0.0
	for m := range rates {
		rates[m] = s.ordinary(time.Date(s.Now.Year(), time.Month(m+1), 15, 12, 0, 0, 0, s.Location))
		most = max(most, rates[m])
	}
	for m, rate := range rates {
		if rate >= growing*most && most > 0 {
			days += float64(time.Date(s.Now.Year(), time.Month(m+2), 0, 0, 0, 0, 0, time.UTC).Day())
		}
	}
	return days
}

// Young is the share of what some mobs eat today that growing and fattening stock do: what can leave first without the breeding herd.
func (s *Season) Young(mobs []string) float64 {
	today := s.Number(s.Now)
	day := s.Herd.Series(today, today+1)
	young, all := 0.0, 0.0
	for k := range s.Herd.Groups {
		for _, mob := range mobs {
			if s.Herd.Groups[k].Mob != mob {
				continue
			}
			all += day[k][0].Demand
			if a, err := reference.Load().Class(s.Herd.Groups[k].Class.ReferenceID); err == nil && (a.Stage == "growing" || a.Stage == "finishing") && s.Herd.Groups[k].Young == nil {
				young += day[k][0].Demand
			}
		}
	}
	return young / max(all, 1e-9)
}

// Recorded is for how many years moves are on record.
func (s *Season) Recorded() float64 {
	if len(s.Moves) == 0 {
		return 0
	}
	return s.Now.Sub(s.Moves[0].MovedAt).Hours() / 24 / 365.25
}
