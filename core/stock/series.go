package stock

import "math"

// Point is a group on one day.
type Point struct {
	Head   float64
	Weight float64 // kg live weight of all of them
	Demand float64 // kg DM from pasture
	AU     float64 // animal units of 454 kg
	LU     float64 // livestock units, by the class's coefficient
}

func (p *Point) add(q Point) {
	p.Head += q.Head
	p.Weight += q.Weight
	p.Demand += q.Demand
	p.AU += q.AU
	p.LU += q.LU
}

func (h *Herd) point(group int, s *span, day int) Point {
	if s == nil || s.head == 0 {
		return Point{}
	}
	w := s.weightOn(day)
	kg, sigma := h.Groups[group].fed(day)
	eaten := s.head * math.Max(0, w*s.shareOn(w)-sigma*kg)
	if h.HousedOn(h.Groups[group].Mob, day) {
		eaten = 0
	}
	return Point{s.head, s.head * w, eaten, s.head * w / AnimalUnitKg, s.head * s.lu}
}

// HousedOn tells whether a mob stands in the house on a day, where it eats no grass.
func (h *Herd) HousedOn(mob string, day int) bool {
	for _, s := range h.Housed[mob] {
		if s.holds(day) {
			return true
		}
	}
	return false
}

// lateDays is how long late pregnancy, the last part in which a mother is counted by a class of its own, lasts at most, by species.
// Others: as cattle. Assumption, ours: a third of the usual gestation and a few weeks more.
var lateDays = map[string]int{"sheep": 70, "goats": 70, "deer": 90, "reindeer": 90, "pigs": 50, "geese": 0}

// Overdue is for how many days mothers of a species have been in late pregnancy on a day, where that is longer than it lasts: the
// birth is likely to have been forgotten.
func (h *Herd) Overdue(id, species string, day int) (days int, overdue bool) {
	most, ok := lateDays[species]
	if !ok {
		most = 115
	}
	since, pregnant := h.PregnantSince(id, day)
	return day - since, pregnant && day-since > most
}

// PregnantSince is the day on which a group came into late pregnancy, where it is in it on a day still.
func (h *Herd) PregnantSince(id string, day int) (since int, pregnant bool) {
	i, ok := h.index[id]
	if !ok {
		return 0, false
	}
	for _, s := range h.spans[i] {
		if s.from > day {
			break
		}
		if was := pregnant; s.bornWith > 0 && s.head > 0 {
			if pregnant = true; !was {
				since = s.from
			}
		} else {
			pregnant = false
		}
	}
	return since, pregnant
}

// Series is every group on every day from one until before another.
func (h *Herd) Series(from, until int) [][]Point {
	out := make([][]Point, len(h.Groups))
	days := max(0, until-from)
	all := make([]Point, days*len(h.Groups))
	for g := range h.Groups {
		row := all[g*days : (g+1)*days]
		list := h.spans[g]
		k := -1
		for d := range row {
			for k+1 < len(list) && list[k+1].from <= from+d {
				k++
			}
			if k >= 0 {
				row[d] = h.point(g, &list[k], from+d)
			}
		}
		out[g] = row
	}
	return out
}

// MobOn is a mob on a day; "" is what stands outside any mob.
func (h *Herd) MobOn(mob string, day int) Point {
	var p Point
	for i := range h.Groups {
		if h.Groups[i].Mob == mob {
			p.add(h.point(i, h.at(i, day), day))
		}
	}
	return p
}

// Mob lists the classes of a mob as they are on a day, those with head first described first, with their groups' ids.
func (h *Herd) Mob(mob string, day int) (classes Mob, ids []string) {
	for _, g := range h.Groups {
		if g.Mob != mob {
			continue
		}
		if c, ok := h.ClassOn(g.ID, day); ok && c.Count > 0 {
			classes, ids = append(classes, c), append(ids, g.ID)
		}
	}
	return classes, ids
}
