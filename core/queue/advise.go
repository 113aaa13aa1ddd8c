package queue

import (
	"cmp"
	"context"
	"math"
	"slices"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// Advice is levers that are worth pulling together, and why.
type Advice struct {
	Levers []Lever
	Tried  Tried
	Spares float64 // kg DM that it is better than doing nothing, as advice counts it
	Why    []grazing.Reason
}

// What a kilogram of dry matter counts in advice, against one that stock miss: what is bought or sold to make up for it costs, what is carried home keeps
// some of its worth, what is past its best has lost some. Assumptions, ours; the money on the screen is the user's own.
const (
	countsFed      = 0.5  // bought and carried out
	countsHoused   = 0.6  // and the yard cleaned
	countsSold     = 0.3  // of what those that go would have eaten: they are gone
	countsBrought  = 0.25 // of what those that come eat beyond what is lost otherwise: bought, and to be sold again
	countsNitrogen = 0.3  // of what it makes grow
	countsRent     = 0.35 // of what the ground feeds
	countsReserve  = 0.35 // of what stands there: not there in the next dry time
	countsHay      = 0.4  // of what would have been cut
	countsHome     = 0.5  // of what is carried home
	countsOld      = 0.4  // of what stands past its best when it is grazed
	countsPass     = 0.02 // of what stands: it grows old
)

// How far advice goes.
const (
	mostAdvice  = 4
	paired      = 5   // single remedies that are tried together
	spareMost   = 3   // paddocks that are looked at for a surplus
	closedFor   = 35  // days
	passedFor   = 21  // days
	nitrogenKg  = 30  // kg N a hectare, moderate
	ahead       = 21  // days a supplement begins before a gap: what is spared then is there in it
	fedMost     = 0.4 // of what an animal eats, as supplement
	worthSaying = 0.5 // days of feed below which nothing is advised
)

// Advise searches the remedies of a surplus or a shortage, each by itself and the best of them together, and ranks the few that do most against what they
// take. Empty: nothing beats leaving it as it is. It ends early with what it has when the context does.
func Advise(ctx context.Context, c Case) []Advice {
	before := c.Look()
	base := c.counts(before, nil, nil)
	var all []Advice
	add := func(levers []Lever) bool {
		t, err := c.try(before, levers)
		if err != nil || wrecks(t) {
			return false
		}
		all = append(all, Advice{Levers: levers, Tried: t, Spares: base - c.counts(t.Behind, levers, t.Effects)})
		return true
	}
	for _, levers := range c.remedies(before) {
		if ctx.Err() != nil {
			break
		}
		add(levers)
	}
	best := func() {
		slices.SortStableFunc(all, func(a, b Advice) int { return cmp.Compare(b.Spares, a.Spares) })
	}
	best()
	singles := slices.Clone(all[:min(paired, len(all))])
	for i, a := range singles {
		for _, b := range singles[i+1:] {
			if ctx.Err() != nil || a.Levers[0].Kind == b.Levers[0].Kind && a.Levers[0].Paddock == b.Levers[0].Paddock || a.Levers[0].Paddock != "" && a.Levers[0].Paddock == b.Levers[0].Paddock {
				continue
			}
			add(slices.Concat(a.Levers, b.Levers))
		}
	}
	best()
	var out []Advice
	for _, a := range all {
		if a.Spares < worthSaying*max(1, before.Week.Demand) || len(out) == mostAdvice {
			break
		}
		if slices.ContainsFunc(out, func(o Advice) bool { return kinds(o.Levers) == kinds(a.Levers) }) {
			continue // the best of its kind is there
		}
		a.Why = a.why(c, before)
		out = append(out, a)
	}
	return out
}

// wrecks tells whether a remedy makes a hole that was not there.
func wrecks(t Tried) bool {
	return t.Behind.ShortKg > t.Before.ShortKg+0.01*t.Before.Week.Demand*7*Weeks
}

// kinds are the kinds of some levers, for telling advice apart.
func kinds(levers []Lever) (out string) {
	list := []string{}
	for _, l := range levers {
		list = append(list, l.Kind)
	}
	slices.Sort(list)
	for _, k := range slices.Compact(list) {
		out += k + " "
	}
	return out
}

// counts is what an outcome and the levers that brought it come to, kg DM: what stock miss, what is grazed past its best, and what the levers take.
func (c Case) counts(o Outcome, levers []Lever, effects []Effect) float64 {
	sum := o.ShortKg
	for _, v := range o.Plan.Visits {
		if c.ours(v.Mob) && !v.Fact && v.Limits.TooOld > 0 {
			sum += countsOld * max(0, v.MassIn-v.Limits.TooOld) * c.areaOf(v.Paddock)
		}
	}
	for i, l := range levers {
		p := slices.IndexFunc(c.Farm.Paddocks, func(p rotation.Paddock) bool { return p.ID == l.Paddock })
		standing := func() float64 { return max(0, c.Standing[p].Mass-c.Swards[p].Residual) * c.areaOf(p) }
		switch l.Kind {
		case Supplement:
			sum += countsFed * effects[i].Kg
		case House:
			sum += countsHoused * effects[i].Kg
		case Head:
			share := math.Abs(l.Count) / max(1, c.headOf(l.Mob))
			counts := countsSold
			if l.Count > 0 {
				counts = countsBrought
			}
			sum += counts * share * o.Week.Demand * 7 * Weeks
		case Nitrogen:
			sum += countsNitrogen * l.Kg * c.Swards[p].Response * c.areaOf(p)
		case Rent:
			sum += countsRent * l.Area * o.Grown / max(1, o.Week.AreaHa)
		case Reserve:
			for q := range c.Farm.Paddocks {
				if c.Farm.Paddocks[q].Reserve {
					sum += countsReserve * max(0, c.Standing[q].Mass-c.Swards[q].Residual) * c.areaOf(q)
				}
			}
		case Reopen:
			sum += countsHay * standing()
		case Cut:
			sum -= countsHome * effects[i].Kg
		case Pass:
			sum += countsPass * standing()
		}
	}
	return sum
}

// areaOf is the area of a paddock; that of rented ground, which is no paddock of the farm, is not known here.
func (c Case) areaOf(p int) float64 {
	if p < 0 || p >= len(c.Farm.Paddocks) {
		return 0
	}
	return c.Farm.Paddocks[p].AreaHa
}

// headOf is how many head a mob has.
func (c Case) headOf(id string) (head float64) {
	for m := range c.Mobs {
		if c.Mobs[m].ID == id {
			for _, class := range c.Classes[m] {
				head += class.Head
			}
		}
	}
	return head
}

// remedies are what may be worth trying in a week: of a surplus, of a shortage.
func (c Case) remedies(before Outcome) [][]Lever {
	var out [][]Lever
	w := before.Week
	var spare []Row
	for _, r := range w.Rows {
		if mass := c.Standing[r.Paddock].Mass; !r.Grazed && (r.TooOld > 0 && mass > r.TooOld || r.TurnMass > r.TooOld || mass > r.Target+100) {
			spare = append(spare, r)
		}
	}
	slices.SortStableFunc(spare, func(a, b Row) int { return cmp.Compare(c.ripe(b), c.ripe(a)) })
	for _, r := range spare[:min(spareMost, len(spare))] {
		id := c.Farm.Paddocks[r.Paddock].ID
		out = append(out, []Lever{{Kind: Cut, Paddock: id}}, []Lever{{Kind: Close, Paddock: id, Days: closedFor}}, []Lever{{Kind: Pass, Paddock: id, Days: passedFor}})
	}
	for _, m := range c.Of {
		head, id := c.headOf(c.Mobs[m].ID), c.Mobs[m].ID
		if head == 0 {
			continue
		}
		if len(before.Gaps) == 0 {
			if w.Balance > 3*w.Demand {
				out = append(out, []Lever{{Kind: Head, Mob: id, Count: math.Ceil(0.15 * head)}})
			}
			continue
		}
		out = append(out, c.shortOf(m, head, before)...)
	}
	if len(before.Gaps) == 0 {
		return out
	}
	var respond []Lever
	for _, r := range w.Rows {
		if s := c.Swards[r.Paddock]; !r.Grazed && s.Response >= pays && s.Legume < clover && len(respond) < spareMost {
			respond = append(respond, Lever{Kind: Nitrogen, Paddock: c.Farm.Paddocks[r.Paddock].ID, Kg: nitrogenKg})
		}
	}
	if len(respond) > 0 {
		out = append(out, respond)
	}
	for _, a := range w.Apart {
		if c.Farm.Paddocks[a.Paddock].Reserve {
			out = append(out, []Lever{{Kind: Reserve}})
			break
		}
	}
	for _, a := range w.Apart {
		if !c.Farm.Paddocks[a.Paddock].Reserve {
			out = append(out, []Lever{{Kind: Reopen, Paddock: c.Farm.Paddocks[a.Paddock].ID}})
		}
	}
	return append(out, []Lever{{Kind: Rent, Area: math.Max(0.5, 0.15*w.AreaHa)}})
}

// ripe is how much a paddock stands past what is wanted of it, kg DM.
func (c Case) ripe(r Row) float64 {
	return (c.Standing[r.Paddock].Mass - max(r.Target, r.Residual)) * c.Farm.Paddocks[r.Paddock].AreaHa
}

// shortOf is what may be done about one mob in a shortage.
func (c Case) shortOf(m int, head float64, before Outcome) [][]Lever {
	id, gap := c.Mobs[m].ID, before.Gaps[0]
	begin := max(0, gap.From.Sub(c.Now).Hours()/24-ahead)
	last := before.Gaps[len(before.Gaps)-1].Until.Sub(c.Now).Hours() / 24
	days := math.Round(min(mostDays-begin, max(7, last-begin)))
	each := c.Mobs[m].Demand.On(rotation.DayNumber(gap.From, c.Farm.Location)) / head
	kg := math.Round(10*min(fedMost*each, max(0.1*each, before.ShortKg/head/days))) / 10
	out := [][]Lever{
		{{Kind: Supplement, Mob: id, Kg: max(0.1, kg), Days: days, After: math.Round(begin)}},
		{{Kind: Head, Mob: id, Count: -math.Ceil(0.1 * head)}}, {{Kind: Head, Mob: id, Count: -math.Ceil(0.2 * head)}},
	}
	if w := before.Week; w.Advised != nil && w.Length != nil && w.Advised.Value > 1.1*w.Length.Value && w.Advised.Value <= 200 {
		out = append(out, []Lever{{Kind: Pace, Mob: id, Days: math.Round(w.Advised.Value)}})
	}
	if list := c.Classes[m]; len(list) > 1 { // the lightest eaters are the young: weaned, they go
		young := slices.MinFunc(list, func(a, b Class) int {
			return cmp.Compare(a.Demand.On(rotation.DayNumber(c.Now, c.Farm.Location))/max(1, a.Head), b.Demand.On(rotation.DayNumber(c.Now, c.Farm.Location))/max(1, b.Head))
		})
		out = append(out, []Lever{{Kind: Head, Mob: id, Class: young.ID, Count: -young.Head}})
	}
	return out
}

// why says what an advice does, what it takes, and what it risks.
func (a Advice) why(c Case, before Outcome) []grazing.Reason {
	out := slices.Clone(a.Tried.Says)
	old := func(o Outcome) (n float64) {
		for _, v := range o.Plan.Visits {
			if c.ours(v.Mob) && !v.Fact && v.Limits.TooOld > 0 && v.MassIn > v.Limits.TooOld {
				n++
			}
		}
		return n
	}
	if was, is := old(before), old(a.Tried.Behind); is < was {
		out = append(out, grazing.Because("{i} paddocks are past their best when their turn comes, and {w} as it is", working.T("i", "past their best so", is, quantity.Count), working.T("w", "past their best as it is", was, quantity.Count)))
	}
	return append(out, a.Tried.Warns...)
}
