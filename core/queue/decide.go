package queue

import (
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// Expected is what was expected of a decision on the day it was made, so that it can be held against what came.
type Expected struct {
	Ground         []ExpectedGround `json:"ground"` // that its cover is of
	Days           []ExpectedDay    `json:"days"`
	MissingWithout float64          `json:"missing_days_without"` // days of feed
	MissingWith    float64          `json:"missing_days_with"`
	Money          float64          `json:"money"` // in all, the user's own prices
	Hours          float64          `json:"hours"`
	Harvest        float64          `json:"harvest_kg_dm"` // carried home by cuts
	Fed            float64          `json:"fed_kg_dm"`
	Says           []grazing.Reason `json:"says"` // of each lever, what it takes and gives
}

// ExpectedGround is a paddock of the ground that a decision is held against.
type ExpectedGround struct {
	Paddock string  `json:"paddock_id"`
	AreaHa  float64 `json:"area_ha"`
}

// ExpectedDay is what the ground was expected to stand at on a day, kg DM/ha.
type ExpectedDay struct {
	At      time.Time `json:"at"`
	Without float64   `json:"without_kg_dm_ha"`
	With    float64   `json:"with_kg_dm_ha"`
}

// Expect is what is expected of what was tried, over the ground of the queue as it was before: ground that is rented is no paddock yet.
func Expect(c Case, t Tried, levers []Lever) Expected {
	e := Expected{MissingWithout: t.Before.missing(), MissingWith: t.Behind.missing()}
	var ground []int
	area := 0.0
	for p, on := range c.ground() {
		if pad := c.Farm.Paddocks[p]; on && pad.ID != "" {
			ground, area = append(ground, p), area+pad.AreaHa
			e.Ground = append(e.Ground, ExpectedGround{pad.ID, pad.AreaHa})
		}
	}
	cover := func(plan rotation.Plan, at time.Time) (mass float64) {
		for _, p := range ground {
			mass += rotation.MassAt(plan.Trace[p], at) * c.Farm.Paddocks[p].AreaHa / area
		}
		return mass
	}
	for day := 0; day <= 7*Weeks && area > 0; day++ {
		at := c.Now.AddDate(0, 0, day)
		e.Days = append(e.Days, ExpectedDay{at, cover(t.Before.Plan, at), cover(t.Behind.Plan, at)})
	}
	for i, effect := range t.Effects {
		e.Money, e.Hours = e.Money+effect.Money, e.Hours+levers[i].Hours
		e.Says = append(e.Says, effect.Says...)
		switch levers[i].Kind {
		case Cut:
			e.Harvest += effect.Kg
		case Supplement, House:
			e.Fed += effect.Kg
		}
	}
	return e
}

// missing is the days of feed that stock do not get.
func (o Outcome) missing() (days float64) {
	for _, g := range o.Gaps {
		days += g.Days
	}
	return days
}

// At is what was expected on a day: of the days that were looked at the last one that is not after it; false before the first.
func (e Expected) At(at time.Time) (day ExpectedDay, ok bool) {
	for _, d := range e.Days {
		if d.At.After(at) {
			break
		}
		day, ok = d, true
	}
	return day, ok
}

// Cover is what the ground of a decision stands at, kg DM/ha, by what each of its paddocks does, and how far off that may be; false where none of them is
// there any more.
func (e Expected) Cover(stands func(paddock string) (mass, half float64, ok bool)) (cover, half float64, ok bool) {
	area := 0.0
	for _, g := range e.Ground {
		if m, h, there := stands(g.Paddock); there {
			cover, half, area = cover+m*g.AreaHa, half+h*g.AreaHa, area+g.AreaHa
		}
	}
	if area == 0 {
		return 0, 0, false
	}
	return cover / area, half / area, true
}

// Came says how what stands compares with what was expected on a day: cover and half-width as measured and worked out since, kg DM/ha.
func Came(day ExpectedDay, cover, half float64) []grazing.Reason {
	c := working.T("c", "stands at", cover, quantity.ForageMass)
	with, without := working.T("e", "expected with it", day.With, quantity.ForageMass), working.T("w", "expected without it", day.Without, quantity.ForageMass)
	off := working.T("d", "off by", math.Abs(cover-day.With), quantity.ForageMass)
	out := []grazing.Reason{}
	switch {
	case math.Abs(cover-day.With) <= half:
		out = append(out, grazing.Because("The ground stands at {c}, as was expected ({e})", c, with))
	case cover > day.With:
		out = append(out, grazing.Because("The ground stands at {c}, {d} more than was expected", c, off))
	default:
		out = append(out, grazing.Because("The ground stands at {c}, {d} less than was expected", c, off))
	}
	if math.Abs(day.With-day.Without) <= half {
		return append(out, grazing.Because("With it or without it ({w}) makes too little difference by now to be told apart", without))
	}
	return append(out, grazing.Because("Without it {w} was expected", without))
}

// Heads are how many of each class come or go when so many do in all, by the share each has: whole animals that add up.
func Heads(count float64, classes []Class) []float64 {
	out, rest, there := make([]float64, len(classes)), make([]float64, len(classes)), 0.0
	for _, class := range classes {
		there += class.Head
	}
	left, sign := math.Round(math.Abs(count)), math.Copysign(1, count)
	all := left
	for i, class := range classes {
		share := all * class.Head / there
		out[i] = math.Floor(share)
		rest[i], left = share-out[i], left-out[i]
	}
	for ; left > 0; left-- {
		most := 0
		for i := range rest {
			if rest[i] > rest[most] {
				most = i
			}
		}
		out[most], rest[most] = out[most]+1, -1
	}
	for i := range out {
		out[i] *= sign
	}
	return out
}

// Paced is a school at the pace of a lever: a longer round rests more and stays longer, a shorter one rests less and enters at less.
func (c Case) Paced(l Lever, m int, school grazing.School) (grazing.School, error) {
	w := Of(c, c.run())
	if w.Length == nil {
		return school, quantity.Refuse("mob_id", c.Mobs[m].Name, "goes round nowhere yet: plan first")
	}
	now := w.Length.Value
	change := l.Days / now
	if change > 1 {
		school.RestMin = math.Max(school.RestMin, l.Days-now/float64(max(1, len(w.Rows))))
		school.StayMax *= change
		return school, nil
	}
	school.RestMin *= change
	nearer := func(from, to *float64) *float64 {
		if from == nil || to == nil {
			return to
		}
		v := *from + (*to-*from)*change
		return &v
	}
	school.Entry, school.StartHeight = nearer(school.Residual, school.Entry), nearer(school.StopHeight, school.StartHeight)
	return school, nil
}
