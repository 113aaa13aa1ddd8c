package rotation

import (
	"fmt"
	"math"
	"slices"
	"time"

	"fjell/core/rotation/plan"
)

// rule is how much heavier than usual it weighs in a farm's own plan to break what its schools ask for: the residual, the rest, the
// longest stay. A search may hold and feed a mob, but it does not buy feed by breaking a rule that somebody has chosen.
const rule = 10

// weights are those of a farm's own plan.
func weights() plan.Weights {
	w := plan.Usual
	w.BelowResidual, w.Rest, w.Stay, w.Many = w.BelowResidual*rule, w.Rest*rule, w.Stay*rule, w.Many*rule
	return w
}

// farAway is as far before or after a plan as an open end needs to be, days.
const farAway = 1e4

// ProblemOf is a farm from a moment to another as a planning problem on its own, for fjell plan: numbers, with the names of paddocks
// and mobs as keys. Day 0 is the day of the moment. What the problem does not know is worked in as well as it can be: growth has
// the factor learned in each paddock and the weather in it, a share to be left is a residual of the entry, and of two mobs that
// stand in one paddock the second is off the pasture. Grass that dies back is not in it.
func ProblemOf(farm Farm, mobs []Mob, standing []Standing, pins []Pin, now, to time.Time) plan.Problem {
	loc := farm.Location
	zero := DayNumber(now, loc)
	day := func(at time.Time) float64 {
		l := at.In(loc)
		clock := time.Duration(l.Hour())*time.Hour + time.Duration(l.Minute())*time.Minute + time.Duration(l.Second())*time.Second
		return float64(DayNumber(at, loc)-zero) + clock.Hours()/24
	}
	start := day(now)
	p := plan.Problem{Days: max(1, DayNumber(to, loc)-zero), Start: &start, Weights: weights(), Seed: 1, Seconds: 2}
	p.MostMoves = farm.Hours.Most
	for _, m := range farm.Hours.clock() {
		p.MoveHours = append(p.MoveHours, float64(m)/60)
	}
	if !farm.Hours.everyDay() {
		p.MoveDays = []int{}
		for d := range p.Days {
			if farm.Hours.On(zero + d) {
				p.MoveDays = append(p.MoveDays, d)
			}
		}
	}
	for _, pin := range pins { // what somebody fixed at another hour is a moment at which stock are moved
		for _, at := range []time.Time{pin.Enter, pin.Leave} {
			if at.After(now) && at.Before(to) {
				allow(&p, day(at))
			}
		}
	}
	days := farm.days(mobs, now, to)
	first := days.day(now)
	keys := map[string]bool{}
	key := func(name, id string) string {
		if name == "" || keys[name] {
			name = fmt.Sprintf("%s (%s)", name, id)
		}
		keys[name] = true
		return name
	}
	p.Strays = strays(farm, standing)
	for i, pad := range farm.Paddocks {
		out := plan.Paddock{Key: key(pad.Name, pad.ID), AreaHa: pad.AreaHa, Mass: standing[i].Mass, Ceiling: pad.Ceiling, Reserve: pad.Reserve, Rest: standing[i].Rest(now), X: pad.X, Y: pad.Y}
		out.MassSpread, out.GrowthSpread = standing[i].spreads()
		share := days.share[days.curve[i]]
		for d := range p.Days {
			out.Peak = append(out.Peak, pad.Peak*standing[i].factor()*share[min(first+d, len(share)-1)])
		}
		for _, c := range pad.Closures {
			closed := plan.Closed{From: -farAway, Until: farAway}
			if !c.From.IsZero() {
				closed.From = math.Max(-farAway, day(c.From))
			}
			if !c.Until.IsZero() {
				closed.Until = math.Min(farAway, day(c.Until))
			}
			if closed.Until > start && closed.From < float64(p.Days) {
				out.Closed = append(out.Closed, closed)
			}
		}
		p.Paddocks = append(p.Paddocks, out)
	}
	taken := map[int]bool{}
	for k, m := range mobs {
		out := plan.Mob{Key: key(m.Name, m.ID), MayHold: true, Ground: []string{}, LimitsByPaddock: map[string]plan.Limits{}}
		for d := range p.Days {
			out.Demand = append(out.Demand, days.demand[k][min(first+d, len(days.demand[k])-1)])
		}
		if m.In != Nowhere && !taken[m.In] {
			taken[m.In] = true
			since := math.Max(-farAway, day(m.Since))
			out.In, out.Since = &p.Paddocks[m.In].Key, &since
		}
		for i := range farm.Paddocks {
			l := m.Limits[i].Entered(m.Limits[i].Entry)
			own := plan.Limits{Entry: l.Entry, TooOld: l.TooOld, Residual: l.Residual, RestMin: l.RestMin, StayMax: l.StayMax, Utilisation: l.U,
				Times: times(farm, m, i, p.Days, now)}
			if out.Limits == nil {
				out.Limits = &own
			}
			if m.Ground[i] {
				out.Ground = append(out.Ground, p.Paddocks[i].Key)
			}
			if m.Ground[i] || m.In == i {
				out.LimitsByPaddock[p.Paddocks[i].Key] = own
			}
		}
		p.Mobs = append(p.Mobs, out)
	}
	for m, f := range behind(mobs) {
		if f != Nowhere {
			p.Mobs[f].Follows = p.Mobs[m].Key
		}
	}
	for _, pin := range pins {
		if !pin.Enter.After(now) || !pin.Enter.Before(to) || mobs[pin.Mob].Follows != "" { // who comes behind goes where the other was
			continue
		}
		out := plan.Pin{Mob: p.Mobs[pin.Mob].Key, Paddock: &p.Paddocks[pin.Paddock].Key, Enter: day(pin.Enter)}
		if !pin.Leave.IsZero() {
			leave := math.Min(day(pin.Leave), float64(p.Days))
			out.Leave = &leave
		}
		p.Pins = append(p.Pins, out)
	}
	return p
}

// strays is how a farm's growth and masses stray in every paddock alike: the weather as it was on record, where enough of it is, and
// what the method of measuring errs by everywhere, in the mean of the paddocks.
func strays(farm Farm, standing []Standing) *plan.Strays {
	out := plan.UsualStrays
	if farm.Strays != nil {
		out.Weather, out.Days = farm.Strays.Spread, farm.Strays.Days
	}
	n := 0.0
	for _, s := range standing {
		if !s.Guessed && s.Mass > 0 {
			n++
			out.Mass += (s.Shared/1.96/s.Mass - out.Mass) / n
		}
	}
	return &out
}

// spreads are how well the mass of a paddock and its growth factor are known, beside what is common to all; nil: nothing is learned of its
// growth.
func (s Standing) spreads() (mass float64, growth *float64) {
	if s.Mass > 0 {
		mass = math.Sqrt(math.Max(0, s.HalfWidth*s.HalfWidth-s.Shared*s.Shared)) / 1.96 / s.Mass
	}
	if s.FactorHalf > 0 {
		own := s.FactorHalf / 1.96 / s.factor()
		growth = &own
	}
	return math.Min(mass, 1), growth
}

// times are the stretches of a problem's days in which a mob asks for other masses than usual.
func times(farm Farm, m Mob, paddock, days int, first time.Time) []plan.Time {
	var out []plan.Time
	if !m.Limits[paddock].Changes() {
		return out
	}
	usual := m.Limits[paddock].Entered(m.Limits[paddock].Entry)
	for d := range days {
		l := farm.Asks(m, paddock, first.In(farm.Location).AddDate(0, 0, d))
		if l = l.Entered(l.Entry); l.Entry == usual.Entry && l.TooOld == usual.TooOld && l.Residual == usual.Residual {
			continue
		}
		if last := len(out) - 1; last >= 0 && out[last].Until == float64(d) {
			out[last].Until++
			continue
		}
		out = append(out, plan.Time{From: float64(d), Until: float64(d + 1), Entry: l.Entry, TooOld: l.TooOld, Residual: l.Residual})
	}
	return out
}

// allow lets stock be moved at a moment.
func allow(p *plan.Problem, at float64) {
	day := math.Floor(at)
	hour := (at - day) * 24
	if !slices.ContainsFunc(p.MoveHours, func(h float64) bool { return math.Abs(h-hour) < 1e-6 }) {
		p.MoveHours = append(p.MoveHours, hour)
		slices.Sort(p.MoveHours)
	}
	if p.MoveDays != nil && !slices.Contains(p.MoveDays, int(day)) {
		p.MoveDays = append(p.MoveDays, int(day))
		slices.Sort(p.MoveDays)
	}
}
