package rotation

import (
	"math"
	"time"

	"fjell/core/forage"
)

// Outlook is how far what a plan foresees may lie off: by paddock, at every point of its trace, and for the farm's cover at every
// midnight. It holds what is not known of mass and growth now, of what stock eat, and of the weather to come.
type Outlook struct {
	Half  [][]float64 // 95 % half-width, kg DM/ha, by paddock and point of the plan's trace
	cover []CoverDay  // midnights with the half-width of the mean; its cover is the mean of the trace
}

// Foresee follows every paddock along a plan's trace. inRotation are the paddocks that count in the farm's cover.
func Foresee(farm Farm, inRotation []bool, standing []Standing, plan Plan) Outlook {
	o := Outlook{Half: make([][]float64, len(farm.Paddocks))}
	days := farm.days(nil, plan.From, plan.To)
	weeks := int(daysBetween(plan.From, plan.To)/7) + 1
	type mean struct {
		area, mass, own float64
		common          []float64
	}
	var means []mean
	var nights []time.Time
	for at := midnightAfter(plan.From, farm.Location); !at.After(plan.To); at = midnightAfter(at, farm.Location) {
		nights = append(nights, at)
		means = append(means, mean{})
	}
	for p, pad := range farm.Paddocks {
		s := standing[p]
		f := forage.Foresee(s.belief(), s.Shared/1.96/math.Max(1, s.Mass), weeks)
		c, night := days.curve[p], 0
		trace := plan.Trace[p]
		for i, pt := range trace {
			if i > 0 {
				d := days.day(trace[i-1].At)
				f.Step(pt.Mass, pad.Peak*days.share[c][d], pad.Ceiling, days.dyingOn(c, d), daysBetween(trace[i-1].At, pt.At), int(daysBetween(plan.From, trace[i-1].At)/7))
			}
			o.Half[p] = append(o.Half[p], f.HalfWidth())
			for night < len(nights) && nights[night].Before(pt.At) {
				night++
			}
			if night == len(nights) || !nights[night].Equal(pt.At) {
				continue
			}
			if _, closed := pad.ClosedAt(pt.At); !closed && inRotation[p] && !s.Guessed {
				m := &means[night]
				if m.common == nil {
					m.common = make([]float64, f.Causes())
				}
				m.area, m.mass = m.area+pad.AreaHa, m.mass+pad.AreaHa*pt.Mass
				f.Share(pad.AreaHa, &m.own, m.common)
			}
			night++ // a move at midnight marks it twice
		}
	}
	for i, m := range means {
		if m.area == 0 {
			continue
		}
		sum := m.own
		for _, c := range m.common {
			sum += c * c
		}
		o.cover = append(o.cover, CoverDay{nights[i], m.mass / m.area, 1.96 * math.Sqrt(sum) / m.area})
	}
	return o
}

// halfOfCover is the half-width of the farm's cover at a moment to come, between the midnights about it.
func (o Outlook) halfOfCover(at time.Time, now float64) float64 {
	before := CoverDay{HalfWidth: now}
	for _, d := range o.cover {
		if !d.At.Before(at) {
			if before.At.IsZero() {
				return d.HalfWidth
			}
			return before.HalfWidth + (d.HalfWidth-before.HalfWidth)*at.Sub(before.At).Hours()/d.At.Sub(before.At).Hours()
		}
		before = d
	}
	return before.HalfWidth
}

// belief is a standing as the filter holds it.
func (s Standing) belief() forage.Estimate {
	if s.Guessed || s.Belief.Mass() == 0 {
		own := math.Sqrt(math.Max(0, s.HalfWidth*s.HalfWidth-s.Shared*s.Shared)) / 1.96 / math.Max(1, s.Mass)
		e := forage.Believe(s.Mass, math.Max(0.01, own))
		e.Factor = s.factor()
		return e
	}
	return s.Belief
}
