package season

import (
	"time"

	"fjell/core/forage"
	"fjell/core/reference"
	"fjell/core/year"
	"fjell/internal/store"
)

// stretch is time between two walks, and what grew in it, kg DM/ha/day.
type stretch struct {
	from, until time.Time
	rate        float64
}

// longest is how many days may lie between walks for what grew to be told apart by months. Assumption, ours.
const longest = 60

// stretches are the times between walks of which growth is known.
func (s *Season) stretches(g Growing) (out []stretch) {
	all := make([]bool, len(s.Paddocks))
	for p := range all {
		all[p] = true
	}
	walks := s.Dial(g, "", "", nil, all).Walks
	for i := 1; i < len(walks); i++ {
		if walks[i].At.Sub(walks[i-1].At).Hours() <= longest*24 {
			out = append(out, stretch{walks[i-1].At, walks[i].At, walks[i].Rate})
		}
	}
	return out
}

// Lately is how growth measured between the walks of the last weeks compares with an ordinary year's in the same days: 1 is as ordinary, over how many days it was
// measured; no days: there are not two walks to measure it between.
func (s *Season) Lately() (ratio, days float64) {
	measured, ordinary := 0.0, 0.0
	for _, k := range s.stretches(s.Growing()) {
		between := k.until.Sub(k.from).Hours() / 24
		measured += k.rate * between
		days += between
		for at := k.from; at.Before(k.until); at = at.AddDate(0, 0, 1) {
			ordinary += s.ordinary(at)
		}
	}
	if days == 0 || ordinary <= 0 {
		return 1, 0
	}
	return measured / ordinary, days
}

// Record is a year of the farm's own, up to the moment of this season: what its stock ate, what was cut and bought, and what grew between walks in the months in which
// grass grows.
func (s *Season) Record(from time.Time) year.Record {
	out := year.Record{From: from, Until: s.Now, Stood: s.stands(s.Now) - s.stands(from)}
	first, last := s.Number(from), s.Number(s.Now)
	kept := make([]bool, last-first)
	for _, days := range s.Herd.Series(first, last) {
		for d, p := range days {
			out.Eaten, out.Head = out.Eaten+p.Demand, out.Head+p.Head/float64(last-first)
			kept[d] = kept[d] || p.Head > 0
		}
	}
	for _, is := range kept {
		if is {
			out.Kept++
		}
	}
	begin, end := store.DayOf(from, s.Location), store.DayOf(s.Now, s.Location)
	for _, l := range s.FodderBook() {
		switch {
		case l.Kg == nil || l.On <= begin || l.On > end:
		case l.Kind == forage.FodderCut:
			out.Cut += *l.Kg
		case l.Kind == forage.FodderBought:
			out.Bought += *l.Kg
		}
	}
	var measured [12]float64
	ordinary := &out.Ordinary
	rates, most := s.months()
	for _, k := range s.stretches(s.grew(from, s.Now)) {
		for at := k.from; at.Before(k.until); at = at.AddDate(0, 0, 1) {
			m := at.In(s.Location).Month() - 1
			if rates[m] < growing*most {
				continue
			}
			measured[m], ordinary[m], out.Measured[m] = measured[m]+max(0, k.rate), ordinary[m]+s.ordinary(at), out.Measured[m]+1
		}
	}
	for m := range ordinary {
		if ordinary[m] > 0 {
			out.Growth[m] = measured[m] / ordinary[m]
		}
	}
	return out
}

// stands is what stands on all ground at a moment, kg DM.
func (s *Season) stands(at time.Time) (kg float64) {
	for p, standing := range s.Recount(at).Standing {
		if p < len(s.Paddocks) {
			kg += standing.Mass * s.Paddocks[p].Shape.AreaHa
		}
	}
	return kg
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

// months are what the ground grows on a day in the middle of each month of an ordinary year, kg DM/ha, and the most of them.
func (s *Season) months() (rates [12]float64, most float64) {
	for m := range rates {
		rates[m] = s.ordinary(time.Date(s.Now.Year(), time.Month(m+1), 15, 12, 0, 0, 0, s.Location))
		most = max(most, rates[m])
	}
	return rates, most
}

// SeasonDays is for how many days of an ordinary year the farm's ground grows.
func (s *Season) SeasonDays() (days float64) {
	rates, most := s.months()
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
