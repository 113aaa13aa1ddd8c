package queue

import (
	"fmt"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// Outcome is what comes of a farm in the next weeks.
type Outcome struct {
	Week    Week
	Plan    rotation.Plan
	Gaps    []Gap
	Cover   []Cover // day by day, over the ground of the queue
	Moves   int     // of the mobs of the queue
	ShortKg float64 // DM that stock do not get
	Eaten   float64 // kg DM of pasture
	Grown   float64 // kg DM
	Lost    float64 // kg DM
	EndsAt  float64 // kg DM/ha that the ground stands at in the end
	Rest    float64 // mean days that paddocks rested before they were entered; 0: nobody knows of any
	Left    float64 // mean kg DM/ha that is left behind
}

// Cover is what stands on a day, over all the ground of the queue.
type Cover struct {
	At   time.Time
	Mass float64 // kg DM/ha
}

// Tried is a case without and with levers.
type Tried struct {
	Before, Behind Outcome
	Pulled         Case     // the farm with the levers pulled
	Effects        []Effect // of each lever
	Warns          []grazing.Reason
	Says           []grazing.Reason // what they do together
}

// Look is what comes of a case as it is.
func (c Case) Look() Outcome {
	plan := c.run()
	out := Outcome{Week: Of(c, plan), Plan: plan, Gaps: Gaps(c, plan)}
	ground := c.ground()
	for _, g := range out.Gaps {
		out.ShortKg += g.Kg
	}
	rested, ended := 0.0, 0.0
	for _, v := range plan.Visits {
		if !c.ours(v.Mob) || v.Fact {
			continue
		}
		out.Moves++
		if v.Rest != nil {
			out.Rest += *v.Rest
			rested++
		}
		if v.Leave.Before(plan.To) {
			out.Left += v.MassOut
			ended++
		}
	}
	out.Rest, out.Left = out.Rest/max(1, rested), out.Left/max(1, ended)
	area := 0.0
	for p, on := range ground {
		if on {
			area += c.Farm.Paddocks[p].AreaHa
			out.Eaten += plan.Totals[p].Eaten
			out.Grown += plan.Totals[p].Grown
			out.Lost += plan.Totals[p].Lost
		}
	}
	for day := 0; day <= 7*Weeks && area > 0; day++ {
		at, mass := c.Now.AddDate(0, 0, day), 0.0
		for p, on := range ground {
			if on {
				mass += rotation.MassAt(plan.Trace[p], at) * c.Farm.Paddocks[p].AreaHa
			}
		}
		out.Cover = append(out.Cover, Cover{at, mass / area})
	}
	if n := len(out.Cover); n > 0 {
		out.EndsAt = out.Cover[n-1].Mass
	}
	return out
}

// Try is what comes of a case when levers are pulled, beside what comes of it when they are not.
func Try(c Case, levers []Lever) (Tried, error) { return c.try(c.Look(), levers) }

// try is Try where what comes of the case as it is is known.
func (c Case) try(before Outcome, levers []Lever) (Tried, error) {
	pulled, effects, err := c.Pull(levers)
	if err != nil {
		return Tried{}, err
	}
	t := Tried{Before: before, Effects: effects, Pulled: pulled}
	if t.Behind = t.Before; len(levers) > 0 {
		t.Behind = pulled.Look()
	}
	t.warn(pulled, levers)
	t.say(c)
	return t, nil
}

// atOnce is the share of the round that may be taken out of it at once without a word. Assumption, ours.
const atOnce = 0.25

// lateNitrogen is within how many days of nitrogen grass is not cut for silage: what it has not built in yet spoils the silage and can poison.
const lateNitrogen = 28

// warn says which of the classic wrecks is made.
func (t *Tried) warn(pulled Case, levers []Lever) {
	for _, e := range t.Effects {
		t.Warns = append(t.Warns, e.Warns...)
	}
	out := 0.0
	cut, fed := map[string]bool{}, map[string]bool{}
	for _, l := range levers {
		switch l.Kind {
		case Cut, Close, Pass:
			p := slices.IndexFunc(pulled.Farm.Paddocks, func(p rotation.Paddock) bool { return p.ID == l.Paddock })
			out += pulled.Farm.Paddocks[p].AreaHa
			cut[l.Paddock] = l.Kind != Pass
		case Nitrogen:
			fed[l.Paddock] = l.After < lateNitrogen
		}
	}
	for id := range cut {
		if cut[id] && fed[id] {
			t.Warns = append(t.Warns, grazing.Because(fmt.Sprintf("nitrogen less than %d days before a cut: what is not built in yet spoils the silage, and can poison", lateNitrogen)))
			break
		}
	}
	area := t.Before.Week.AreaHa
	worse := t.Behind.ShortKg > t.Before.ShortKg+0.01*t.Before.Week.Demand*7*Weeks
	share := working.T("S", "taken out at once", out/max(area, out, 1e-9), quantity.Share)
	switch {
	case worse && len(t.Behind.Gaps) > 0:
		g := t.Behind.Gaps[0]
		t.Warns = append(t.Warns, grazing.Because("too much at once: a hole of {d} opens in the week of "+day(g.From, pulled.Farm.Location), working.T("d", "of feed missing", g.Days, quantity.Day)))
	case area > 0 && out > atOnce*area:
		t.Warns = append(t.Warns, grazing.Because("{S} of the round is taken out at once: cut ground comes back slower, with less on it; a second cut now is a hole in a month", share))
	}
}

// say says what levers do together.
func (t *Tried) say(c Case) {
	if len(t.Effects) == 0 {
		return
	}
	before, behind := t.Before.ShortKg, t.Behind.ShortKg
	b, h := working.T("b", "days of feed missing as it is", t.Before.missing(), quantity.Day), working.T("h", "days of feed missing so", t.Behind.missing(), quantity.Day)
	little := 0.02 * t.Before.Week.Demand
	switch {
	case before <= little && behind <= little:
		t.Says = append(t.Says, grazing.Because("No gap in these eight weeks, as it is or so"))
	case behind <= little:
		t.Says = append(t.Says, grazing.Because("The gap of {b} closes", b))
	case behind < before-little:
		t.Says = append(t.Says, grazing.Because("The gap shrinks from {b} of feed to {h}", b, h))
	case behind > before+little:
		t.Says = append(t.Says, grazing.Because("The gap grows from {b} of feed to {h}", b, h))
	default:
		t.Says = append(t.Says, grazing.Because("It does nothing for the gap of {b}", b))
	}
	more := t.Behind.EndsAt - t.Before.EndsAt
	month := "the ground stands {m} higher"
	if more < 0 {
		month, more = "the ground stands {m} lower", -more
	}
	t.Says = append(t.Says, grazing.Because("In eight weeks "+month+" than without", working.T("m", "difference of cover", more, quantity.ForageMass)))
}
