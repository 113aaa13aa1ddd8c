package rotation

import (
	"math"
	"slices"
	"sort"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Rule names what a check looks at.
type Rule string

// The rules.
const (
	ShortOfFeed   Rule = "short_of_feed"
	TooSoon       Rule = "too_soon"
	TooLate       Rule = "too_late"
	BelowResidual Rule = "below_residual"
	StayTooLong   Rule = "stay_too_long"
	RestTooShort  Rule = "rest_too_short"
	TwoMobs       Rule = "two_mobs"
	NoPaddock     Rule = "no_paddock"
	NeverReady    Rule = "never_ready"
	ReserveGrazed Rule = "reserve_grazed"
	TooManyMoves  Rule = "too_many_moves"
)

// Check is one thing a schedule does that its school would not have: the rule, when, who, where and why.
type Check struct {
	Rule     Rule
	Severity grazing.State // Mind or Stop
	At       time.Time
	Mob      int
	Paddock  int
	Reason   grazing.Reason
}

// A tenth of a move slot, and a hundredth of the mass, are no findings.
const (
	slackDays  = 0.05
	slackShare = 0.01
)

func check(farm Farm, season *almanac, mobs []Mob, standing []Standing, visits []Visit) []Check {
	out := []Check{}
	never := map[[2]int]bool{}
	for _, v := range visits {
		l := v.Limits
		behind := mobs[v.Mob].Follows != "" // what they find is what the mob before them left
		pad := farm.Paddocks[v.Paddock]
		add := func(rule Rule, severity grazing.State, at time.Time, reason grazing.Reason) {
			out = append(out, Check{rule, severity, at, v.Mob, v.Paddock, reason})
		}
		mass := func(symbol string, kg float64) working.Term {
			return working.T(symbol, "forage mass", kg, quantity.ForageMass)
		}
		days := func(symbol string, d float64) working.Term { return working.T(symbol, "days", d, quantity.Day) }
		if v.Short > 0.02*v.Demand && v.Held.IsZero() { // who is held is told of by the hold
			add(ShortOfFeed, grazing.Stop, v.Enter, grazing.Because("short {kg} of feed over the stay", working.T("kg", "short", v.Short, quantity.Kilogram)))
		}
		if pad.Reserve && !v.Fact {
			add(ReserveGrazed, grazing.Mind, v.Enter, grazing.Because("kept in reserve, and grazed here: {kg} of it", working.T("kg", "eaten", v.Eaten, quantity.Kilogram)))
		}
		if l.Entry >= pad.Ceiling && !never[[2]int{v.Mob, v.Paddock}] {
			never[[2]int{v.Mob, v.Paddock}] = true
			add(NeverReady, grazing.Mind, v.Enter, grazing.Because("this sward tops out at {K} and never reaches the entry of {E}: lower the entry for it or leave it out",
				mass("K", pad.Ceiling), mass("E", l.Entry)))
		} else if !v.Fact && !behind && v.MassIn < l.Entry*(1-slackShare) {
			wait := season.daysTo(v.Paddock, pad, standing[v.Paddock].factor(), v.MassIn, l.Entry, v.Enter)
			reason := grazing.Because("entered at {M}, {d} too soon for the entry of {E}", mass("M", v.MassIn), days("d", wait), mass("E", l.Entry))
			if math.IsInf(wait, 1) {
				reason = grazing.Because("entered at {M}, below the entry of {E} that growth does not reach any more", mass("M", v.MassIn), mass("E", l.Entry))
			}
			add(TooSoon, grazing.Mind, v.Enter, reason)
		}
		if !v.Fact && !behind && l.PastBest(v.MassIn/(1+slackShare), standing[v.Paddock].HalfWidth) {
			add(TooLate, grazing.Mind, v.Enter, grazing.Because("entered at {M}, past its best at {O}", mass("M", v.MassIn), mass("O", l.TooOld)))
		}
		if v.MassOut < l.Residual*(1-slackShare) {
			add(BelowResidual, grazing.Mind, v.Leave, grazing.Because("left at {M}, below the residual of {R}", mass("M", v.MassOut), mass("R", l.Residual)))
		}
		if stay := v.Leave.Sub(v.Enter).Hours() / 24; stay > l.StayMax+slackDays && v.Held.IsZero() {
			add(StayTooLong, grazing.Mind, v.Leave, grazing.Because("{d} in one paddock, {most} at most: they bite the regrowth", days("d", stay), days("most", l.StayMax)))
		}
		if !v.Fact && !behind && v.Rest != nil && *v.Rest < l.RestMin-slackDays {
			add(RestTooShort, grazing.Mind, v.Enter, grazing.Because("{d} of rest, {least} asked for", days("d", *v.Rest), days("least", l.RestMin)))
		}
	}
	return slices.Concat(out, shared(visits), busy(farm, visits))
}

// busy finds the days with more moves than there are hands for.
func busy(farm Farm, visits []Visit) []Check {
	var out []Check
	moves := map[int]int{}
	inOrder := slices.SortedStableFunc(slices.Values(visits), func(a, b Visit) int { return a.Enter.Compare(b.Enter) })
	for _, v := range inOrder {
		if v.Fact || farm.Hours.Most == 0 {
			continue
		}
		day := DayNumber(v.Enter, farm.Location)
		if moves[day]++; moves[day] == farm.Hours.Most+1 {
			out = append(out, Check{TooManyMoves, grazing.Mind, v.Enter, v.Mob, v.Paddock,
				grazing.Because("more moves on this day than the {most} there are hands for", working.T("most", "moves", float64(farm.Hours.Most), quantity.Count))})
		}
	}
	return out
}

// shared finds two mobs in one paddock at one time.
func shared(visits []Visit) []Check {
	order := make([]int, len(visits))
	for i := range order {
		order[i] = i
	}
	sort.Slice(order, func(a, b int) bool { return visits[order[a]].Enter.Before(visits[order[b]].Enter) })
	var out []Check
	for k, i := range order {
		for _, j := range order[k+1:] {
			a, b := visits[i], visits[j]
			if !b.Enter.Before(a.Leave) {
				break
			}
			if a.Paddock == b.Paddock && a.Mob != b.Mob {
				out = append(out, Check{TwoMobs, grazing.Stop, b.Enter, b.Mob, b.Paddock,
					grazing.Because("two mobs in one paddock at once")})
			}
		}
	}
	return out
}
