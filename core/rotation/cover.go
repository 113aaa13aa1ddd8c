package rotation

import (
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// CoverDay is the farm's mean forage mass on one day, with its 95 % half-width, kg DM/ha.
type CoverDay struct {
	At        time.Time
	Cover     float64
	HalfWidth float64
}

// Cover is the farm cover day by day over the paddocks of the rotation, from what was and what is planned, with the ± it had then and
// the one it is foreseen with. Guessed and closed paddocks stay out. The method's error is shared by all paddocks, so it is not
// averaged away.
func Cover(farm Farm, inRotation []bool, standing []Standing, past, planned [][]TracePoint, ahead Outlook, now, from, to time.Time) []CoverDay {
	out := []CoverDay{}
	cursor := make([]int, len(farm.Paddocks))
	traces := make([][]TracePoint, len(farm.Paddocks))
	for p := range farm.Paddocks {
		traces[p] = append(append([]TracePoint(nil), past[p]...), planned[p]...)
	}
	for at := from; !at.After(to); at = at.AddDate(0, 0, 1) {
		var area, mass, shared, sampling float64
		for p, pad := range farm.Paddocks {
			if _, closed := pad.ClosedAt(at); closed || !inRotation[p] || standing[p].Guessed {
				continue
			}
			tr := traces[p]
			if len(tr) == 0 || tr[0].At.After(at) {
				continue
			}
			for cursor[p]+1 < len(tr) && !tr[cursor[p]+1].At.After(at) {
				cursor[p]++
			}
			s, pt := standing[p], tr[cursor[p]]
			if pt.Half == 0 {
				pt.Half = s.HalfWidth
			}
			alike := math.Min(pt.Half, s.Shared/math.Max(1, s.Mass)*pt.Mass)
			area += pad.AreaHa
			mass += pad.AreaHa * pt.Mass
			shared += pad.AreaHa * alike
			sampling += math.Pow(pad.AreaHa, 2) * (pt.Half*pt.Half - alike*alike)
		}
		if area == 0 {
			continue
		}
		half := math.Hypot(shared, math.Sqrt(sampling)) / area
		if at.After(now) {
			half = ahead.halfOfCover(at, half)
		}
		out = append(out, CoverDay{at, mass / area, half})
	}
	return out
}

// CoverFigure is the cover of one moment with its working: what stands on the open, measured paddocks of the rotation over
// their area. nil where none was measured.
func CoverFigure(farm Farm, inRotation []bool, standing []Standing, now time.Time) *working.Figure {
	var area, mass float64
	for p, pad := range farm.Paddocks {
		if _, closed := pad.ClosedAt(now); !closed && inRotation[p] && !standing[p].Guessed {
			area += pad.AreaHa
			mass += pad.AreaHa * standing[p].Mass
		}
	}
	if area == 0 {
		return nil
	}
	f := working.Of("measured paddocks of the rotation, carried forward by growth and grazing",
		working.New("Farm cover", "ΣMa ÷ A", mass/area, quantity.ForageMass, working.T("ΣMa", "standing on measured paddocks", mass, quantity.Kilogram),
			working.T("A", "their area", area, quantity.Hectare)))
	return &f
}

// BreakEven is what must grow, kg DM/ha/day, for what mobs eat and tread on a day, over the ground of theirs that is open; nil
// where nothing eats or nothing is open. source says whose it is.
func BreakEven(farm Farm, ground []bool, mobs []Mob, now time.Time, source string) *working.Figure {
	area := 0.0
	for p, pad := range farm.Paddocks {
		if _, closed := pad.ClosedAt(now); !closed && ground[p] {
			area += pad.AreaHa
		}
	}
	demand, removed := 0.0, 0.0
	for _, m := range mobs {
		eats := m.Demand.On(DayNumber(now, farm.Location))
		demand += eats
		removed += eats / eatenOf(farm, m, now)
	}
	if area == 0 || demand == 0 {
		return nil
	}
	u := demand / removed
	_, steps, err := grazing.BreakEven(grazing.BreakEvenIn{Demand: demand, Area: area, U: &u})
	if err != nil {
		return nil
	}
	f := working.Of(source, steps...)
	return &f
}

// eatenOf is the share of what disappears that a mob eats, over its open ground by area; 1 where it has none.
func eatenOf(farm Farm, m Mob, now time.Time) float64 {
	var area, sum float64
	for p, pad := range farm.Paddocks {
		if _, closed := pad.ClosedAt(now); !closed && m.Ground[p] && m.Limits[p].U > 0 {
			area += pad.AreaHa
			sum += pad.AreaHa * m.Limits[p].U
		}
	}
	if area == 0 {
		return 1
	}
	return sum / area
}

// CoverNeeded is the mean cover a rotation at its school's figures stands at, (entry + residual) / 2, over the
// paddocks the mobs graze at that time, weighted by area.
func CoverNeeded(farm Farm, mobs []Mob, at time.Time) float64 {
	var area, sum float64
	for p, pad := range farm.Paddocks {
		if _, closed := pad.ClosedAt(at); closed {
			continue
		}
		for _, m := range mobs {
			if m.Ground[p] {
				sum += pad.AreaHa * middle(farm.Asks(m, p, at))
				area += pad.AreaHa
			}
		}
	}
	if area == 0 {
		return 0
	}
	return sum / area
}

func middle(l grazing.Limits) float64 { return (l.Entry + l.Residual) / 2 }
