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
	return Point{s.head, s.head * w, s.head * math.Max(0, w*s.share-sigma*kg), s.head * w / AnimalUnitKg, s.head * s.lu}
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
