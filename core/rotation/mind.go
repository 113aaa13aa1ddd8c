package rotation

import (
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// What is pressing: how far ahead a broken rule is told of, and how many of each.
const (
	pressingDays = 21
	pressingEach = 2
)

// Pressing are the checks of a plan that somebody should look at now, in order: those of the next three weeks and of
// yesterday, two of each rule, since the third says no more than the first two.
func Pressing(checks []Check, now time.Time) []Check {
	var out []Check
	seen := map[Rule]int{}
	for _, c := range checks {
		if c.At.After(now.AddDate(0, 0, pressingDays)) || c.At.Before(now.AddDate(0, 0, -1)) {
			continue
		}
		if seen[c.Rule]++; seen[c.Rule] <= pressingEach {
			out = append(out, c)
		}
	}
	return out
}

// Together are the pairs of mobs that stand in one paddock at this moment.
func Together(mobs []Mob) [][2]int {
	var out [][2]int
	at := map[int]int{}
	for i, m := range mobs {
		if m.In == Nowhere {
			continue
		}
		if other, ok := at[m.In]; ok {
			out = append(out, [2]int{other, i})
		}
		at[m.In] = i
	}
	return out
}

// OutOfFeed are the mobs that stand on nothing above the residual.
func OutOfFeed(farm Farm, mobs []Mob, standing []Standing, now time.Time) []int {
	var out []int
	for i, m := range mobs {
		if m.In != Nowhere && standing[m.In].Mass <= farm.Asks(m, m.In, now).Residual {
			out = append(out, i)
		}
	}
	return out
}

// WalkDueDays is how old the oldest measurement of the rotation may be before a walk is due.
const WalkDueDays = 7

// WalkDue says what a walk is due for, over the paddocks of the rotation that are open: those nobody has measured, and the
// age of the oldest measurement. Both are nil where all is well.
func WalkDue(farm Farm, inRotation []bool, standing []Standing, now time.Time) (guessed, old *grazing.Reason) {
	count, oldest := 0, 0.0
	for p, st := range standing {
		if _, closed := farm.Paddocks[p].ClosedAt(now); closed || !inRotation[p] {
			continue
		}
		if st.Guessed {
			count++
		} else {
			oldest = math.Max(oldest, daysBetween(st.MeasuredAt, now))
		}
	}
	if count > 0 {
		r := grazing.Because("{n} paddocks nobody has measured: they stand at a guess, ± 40 %", working.T("n", "paddocks", float64(count), quantity.Count))
		guessed = &r
	}
	if oldest > WalkDueDays {
		r := grazing.Because("due: the oldest measurement is {d} old", working.T("d", "age", oldest, quantity.Day))
		old = &r
	}
	return guessed, old
}

// notThisSeason is how much later a paddock must be back for its grass to count as gone for the season, days.
const notThisSeason = 30

// Linger is what one more day than planned costs a visit; nil where they do not eat below the residual for it, or it costs
// nothing but that day. Past a month the days say less than that it does not come back.
func Linger(v Visit) *grazing.Reason {
	if !v.Broken || v.LingerDays <= 1+slackDays {
		return nil
	}
	left := working.T("M", "left", v.LingerMass, quantity.ForageMass)
	r := grazing.Because("Stay one day longer than planned: leaves {M}, and the paddock is back {d} later.", left, working.T("d", "later", v.LingerDays, quantity.Day))
	if v.LingerDays > notThisSeason {
		r = grazing.Because("Stay one day longer than planned: leaves {M}, and the paddock is not back again this season.", left)
	}
	return &r
}

// Span is a stretch of time.
type Span struct{ From, To time.Time }

// How a want of feed is told: from what share of a visit's demand, and how far apart two are one.
const (
	shortShare   = 0.02
	shortApartBy = 4 // days
)

// Short are the stretches of a plan in which stock do not get what they need.
func Short(plan Plan) []Span {
	var out []Span
	for _, v := range plan.Visits {
		if v.Short <= shortShare*v.Demand {
			continue
		}
		k := len(out) - 1
		if k < 0 || !v.Enter.Before(out[k].To.AddDate(0, 0, shortApartBy)) {
			out = append(out, Span{v.Enter, v.Leave})
		} else if v.Leave.After(out[k].To) {
			out[k].To = v.Leave
		}
	}
	return out
}
