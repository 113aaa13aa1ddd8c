// Package nutrient is what ground is given and what it takes: nitrogen held against the clover that makes its own, slurry as the fertiliser it is, phosphorus and
// potassium by the soil test. What the law allows is the user's own to look up, and less than anything here where it says so.
package nutrient

import (
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Score is a clover score, as it is seen walking in spring.
type Score struct {
	Name  string  `json:"name"`
	From  float64 `json:"from_share"`  // legume share of the sward from which it holds
	Stand float64 `json:"stand_share"` // the share that a score stands for
}

// Scores are from none to too much.
var Scores = []Score{{"none to be seen", 0, 0}, {"a plant here and there", 0.03, 0.06}, {"some in every step", 0.1, 0.15}, {"a good fifth to a third", 0.2, 0.26}, {"a third to nearly half", 0.33, 0.39}, {"half and more", 0.45, 0.52}}

// ScoreOf is the score of a legume share.
func ScoreOf(share float64) (score int) {
	for i, s := range Scores {
		if share >= s.From {
			score = i
		}
	}
	return score
}

// windows are the parts of a season in which nitrogen is spread on grass, by months of the north, with the share of a year's plan that falls in each.
var windows = []struct {
	name        string
	first, last int
	part        float64
}{{"early spring", 2, 4, 0.4}, {"late spring", 5, 6, 0.3}, {"midsummer", 7, 7, 0.2}, {"late summer", 8, 8, 0.1}}

// steps are what is left of each window's part, by score: below a fifth clover does not replace nitrogen; above it is cut back, the latest first, since that is when
// clover makes most of its own; from nearly half on none is left. Assumption, ours, after common practice on mixed swards.
var steps = [][4]float64{{1, 1, 1, 1}, {1, 1, 1, 1}, {1, 1, 1, 1}, {1, 0.5, 0, 0}, {0.5, 0, 0, 0}, {0, 0, 0, 0}}

// response below which a kg of nitrogen is not worth spreading, kg DM; native grass answers with less. Assumption, ours, as of levers on the queue.
const pays = 10

// Ground is a paddock as its nitrogen is planned.
type Ground struct {
	Legume   float64 // share of the sward
	Response float64 // kg DM a kg of nitrogen
	Given    float64 // kg N/ha spread this year, slurry counted as what it is worth
}

// Dressing is what a paddock should get now.
type Dressing struct {
	Now  float64 // kg N/ha
	Year float64 // of the plan, kg N/ha that are left after clover
	Why  grazing.Reason
}

// PlanNitrogen is what is left of a year's plan for a paddock, and how much of it is due by a day.
func PlanNitrogen(g Ground, year float64, at time.Time, southern bool) (Dressing, error) {
	if !(year >= 0 && year <= 500) {
		return Dressing{}, quantity.Refuse("nitrogen_kg_ha_year", year, "must be 0 to %s a year", quantity.Said{Value: 500, Unit: quantity.ForageMass})
	}
	if g.Response < pays {
		return Dressing{Why: grazing.Because("nitrogen does not pay here, as on native grass: it feeds weeds and cool-season strangers")}, nil
	}
	month := int(at.Month())
	if southern {
		month = (month+5)%12 + 1
	}
	score := ScoreOf(g.Legume)
	out := Dressing{}
	due, now, open := 0.0, 0.0, ""
	for w, window := range windows {
		part := year * window.part * steps[score][w]
		out.Year += part
		if month >= window.first && month <= window.last {
			open, now = window.name, part
		}
		if month >= window.first {
			due += part
		}
	}
	legume := working.T("c", "legumes of the sward", g.Legume, quantity.Share)
	switch {
	case open == "":
		out.Why = grazing.Because("none now: what is not taken up before growth stops washes out")
	case steps[score][0] == 0:
		out.Why = grazing.Because("none: {c} of the sward fix their own, if the seed was inoculated (nodules are pink inside), and nitrogen would make them stop", legume)
	case due <= g.Given:
		out.Why = grazing.Because("none now: {c} of the sward, and what was given covers what is due by "+open, legume)
	default:
		out.Now = min(now, due-g.Given) // what was missed is not made up for: it would come when grass has less use for it
		text := "due by " + open
		if score >= 3 {
			text += ", cut back for {c} clover"
		} else {
			text += ": {c} clover does not replace it yet"
		}
		out.Why = grazing.Because(text, legume)
	}
	return out, nil
}

// Answers is the share of nitrogen's yield that a sward answers with in a month of the north: what is left of that window's part for its clover, which makes its own
// and stops when it is fed.
func Answers(legume float64, month int) float64 {
	of := steps[ScoreOf(legume)]
	for w, window := range windows {
		if month >= window.first && month <= window.last {
			return of[w]
		}
	}
	return of[len(of)-1]
}

// uptake is what growing grass builds in of nitrogen in a day, kg/ha. Assumption, ours: slower when it is cold or dry.
const uptake = 2.5

// How long after nitrogen grass is left at the least, days: before it is cut for silage, and before it is grazed. Assumptions, ours.
const (
	beforeCut   = 28
	beforeGraze = 21
)

// Late is the first day on which grass that got nitrogen is cut for silage, and the first on which it is grazed: what is not built in yet spoils the one and can
// poison by the other.
func Late(given time.Time, kg float64) (cut, graze time.Time) {
	days := int(kg/uptake + 0.999)
	return given.AddDate(0, 0, max(beforeCut, days)), given.AddDate(0, 0, max(beforeGraze, days*3/4))
}

// Say is what a score means for the season.
func Say(share float64) grazing.Reason {
	legume := working.T("c", "legumes of the sward", share, quantity.Share)
	switch ScoreOf(share) {
	case 0, 1, 2:
		return grazing.Because("{c}: it cannot replace nitrogen; light at the base brings it on: graze down early, leave no heavy cover in autumn, and cut no heavy crop over it", legume)
	case 3:
		return grazing.Because("{c}: it carries part of the sward; after a heavy cut let light to the base before the next dressing, which is the half of what it was", legume)
	case 4:
		return grazing.Because("{c}: it carries the summer by itself", legume)
	}
	return grazing.Because("{c}: the bloat window: never hungry stock on it in a damp morning; fill them first, look after an hour, ask your vet", legume)
}
