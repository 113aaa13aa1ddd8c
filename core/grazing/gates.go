package grazing

import (
	"fjell/core/working"
	"strings"

	"fjell/core/quantity"
)

// PulseWay keys the tool, not a school, of many animals on little ground for a named purpose and an end.
const PulseWay = "pulse"

// leastLeft is the least share of what stands that a pulse leaves: stock take the top third only.
const leastLeft = 0.67

// longestPulse is the longest that a plan with a pulse in it may run, days: it is a tool with an end, not a way of grazing.
const longestPulse = 30

// PulseTool is the pulse with its usual figures. Its gates are for whoever plans one to answer.
func PulseTool() School {
	return School{Key: PulseWay, Name: "Pulse (a tool)", Method: LeaveShare,
		Idea: "Many animals on little ground for hours, for a named purpose and an end: trodden litter, brush, bare ground. Those who graze it as a system say density " +
			"itself does good; others find no more than purpose, rest and labour explain. Not at mating, nor for growing stock in season.",
		Leave: ptr(0.7), RestMin: 60, StayMax: 1, U: 0.4, Gates: &Gates{}}
}

// Gates are the five things asked before a pulse is planned: experience, labour and facilities; a purpose, a place and how it is judged;
// the top third only, and more rest after; feed all the same, with some in hand; and a density that follows from the purpose and from who is
// there to move them. And what is done when it is wet.
type Gates struct {
	Hands    float64 `json:"hands"`             // people there at every move
	Water    bool    `json:"water_for_all"`     // for the whole mob at once
	Power    bool    `json:"power_at_far_end"`  // checked with a meter, at the fence's far end
	Purpose  string  `json:"purpose"`           // what is to change
	Place    string  `json:"place"`             // where
	Measure  string  `json:"measure"`           // how it is seen that it did
	Recovery float64 `json:"recovery_days"`     // rest after it, beside the least rest
	Reserve  float64 `json:"reserve_feed_days"` // feed in hand elsewhere
	Density  float64 `json:"wanted_density_kg_per_ha"`
	Moves    float64 `json:"moves_a_day"`
	Wet      string  `json:"wet_plan"`
}

// longestAnswer is how much may be said to a gate, letters.
const longestAnswer = 300

// check refuses the first gate that is not passed.
func (g *Gates) check(s School) error {
	at := func(key string) string { return "school.gates." + key }
	if g == nil {
		return quantity.Refuse(at("purpose"), nil, "answer the five gates of a pulse first")
	}
	said := func(key, text, ask string) error {
		if n := len([]rune(strings.TrimSpace(text))); n < 3 || n > longestAnswer {
			return quantity.Refuse(at(key), nil, "%s, in 3 to %d letters", ask, longestAnswer)
		}
		return nil
	}
	switch {
	case g.Hands < 1:
		return quantity.Refuse(at("hands"), g.Hands, "somebody must be there at every move: name at least one")
	case !g.Water:
		return quantity.Refuse(at("water_for_all"), nil, "without water for the whole mob at once they stand thirsty, or trample each other for it")
	case !g.Power:
		return quantity.Refuse(at("power_at_far_end"), nil, "a mob that dense goes through a fence that does not bite: measure it at the far end first")
	}
	for _, err := range []error{said("purpose", g.Purpose, "say what is to change"), said("place", g.Place, "say where"), said("measure", g.Measure, "say how you will see that it did")} {
		if err != nil {
			return err
		}
	}
	switch {
	case s.Leave == nil || *s.Leave < leastLeft || *s.Leave >= 1:
		return quantity.Refuse("school.leave_share", s.Leave, "a pulse takes the top third only: leave at least 67 %%, and less than 100 %%")
	case g.Recovery <= 0:
		return quantity.Refuse(at("recovery_days"), g.Recovery, "ground that was hit hard wants more rest than usual: say how many days more")
	case g.Reserve < 1:
		return quantity.Refuse(at("reserve_feed_days"), g.Reserve, "they are to be fed all the same: have at least a day of feed in hand elsewhere")
	case g.Density <= 0:
		return quantity.Refuse(at("wanted_density_kg_per_ha"), g.Density, "no density is magic: say which your purpose needs")
	case g.Moves < 1:
		return quantity.Refuse(at("moves_a_day"), g.Moves, "must be at least 1")
	}
	return said("wet_plan", g.Wet, "say what you do when it is wet")
}

// PulseEnds refuses a plan with a pulse in it that runs too long, and people who begin: it takes an eye that they do not have yet.
func PulseEnds(days float64, beginner bool) error {
	if beginner {
		return quantity.Refuse("school.key", nil, "a pulse wants an eye for stock and grass that a first season does not give: start with another way, and let somebody who knows it show you")
	}
	if days > longestPulse {
		return quantity.Refuse("plan_days", days, "a pulse has an end: a plan with one in it runs at most %d days", longestPulse)
	}
	return nil
}

// PulseFeeds is what a pulse of the school takes, and how much of what the mob needs in a day stands in the top that it may take there. weight is
// of the whole mob; demand what it needs in a day; mass what stands on its ground, kg DM/ha.
func (s School) PulseFeeds(head, weight, demand, mass float64) (PulseOut, working.Figure, error) {
	in := PulseIn{Count: head, Density: s.Gates.Density, Moves: s.Gates.Moves, Mass: mass, Top: 1 - *s.Leave, Exponent: 1, Eaten: s.U}
	if weight > 0 && head > 0 {
		in.Weight, in.Share = weight/head, demand/weight
	}
	out, steps, err := Pulse(in)
	if err != nil {
		return out, working.Figure{}, err
	}
	fed := 1.0
	if out.Demand > 0 {
		fed = out.Feed / out.Demand
	}
	water := len(steps) - 1 // nobody said what each drinks
	return out, working.Of("what stands on their ground today", append(steps[:water],
		working.New("Fed, of what they need", "F ÷ D", fed, quantity.Share, working.T("F", "that feeds", out.Feed, quantity.Demand), working.T("D", "they eat", out.Demand, quantity.Demand)))...), nil
}
