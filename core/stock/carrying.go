package stock

import (
	"fmt"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Growing is what a piece of land is expected to grow, month by month, January first.
type Growing struct {
	AreaHa float64
	Months [12]float64 // kg DM/ha grown in each month
}

// Carrying is a first look at whether the land carries the stock: what grows and can be eaten against what is eaten.
type Carrying struct {
	Grown    [12]float64    `json:"grown_kg_dm"`
	Eatable  [12]float64    `json:"eatable_kg_dm"`
	Eaten    [12]float64    `json:"eaten_kg_dm"`
	Figure   working.Figure `json:"figure"` // eaten as a share of what can be eaten
	Short    []int          `json:"short_months" nullable:"false"`
	Severity string         `json:"severity" enum:"carries,close,short"`
	Sentence string         `json:"sentence"`
}

var monthNames = [12]string{"January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"}

// Carries compares a year's demand from pasture with what the land is expected to grow, of which stock get hold of a
// share (the harvest efficiency, of all that grows). It is a first warning and no budget: feed standing from one month
// to the next, hay and winter feed are left out.
func Carries(land []Growing, eaten [12]float64, harvest float64) Carrying {
	out := Carrying{Eaten: eaten, Short: []int{}, Severity: "carries"}
	grown, area, need := 0.0, 0.0, 0.0
	for _, g := range land {
		area += g.AreaHa
		for m := range out.Grown {
			out.Grown[m] += g.AreaHa * g.Months[m]
		}
	}
	worst, missing := -1, 0.0
	for m := range out.Grown {
		grown += out.Grown[m]
		need += eaten[m]
		out.Eatable[m] = out.Grown[m] * harvest
		if gap := eaten[m] - out.Eatable[m]; gap > 0.02*eaten[m] {
			out.Short = append(out.Short, m+1)
			if gap > missing {
				worst, missing = m, gap
			}
		}
	}
	eatable := grown * harvest
	share := 0.0
	if eatable > 0 {
		share = need / eatable
	}
	out.Figure = working.Of("yearly yield of each sward, parted by its curve, in an ordinary year; closed ground is not counted; the stock as planned",
		working.New("Grows in the year", "Σ ( g × a )", grown, quantity.Kilogram, working.T("a", "area counted", area, quantity.Hectare)),
		working.New("Of that, stock get hold of", "G × H", eatable, quantity.Kilogram, working.T("G", "grown", grown, quantity.Kilogram),
			working.T("H", "harvest efficiency, of all that grows", harvest, quantity.Share)),
		working.New("Eaten, of what can be eaten", "E ÷ F", share, quantity.Share, working.T("E", "eaten from pasture in the year", need, quantity.Kilogram),
			working.T("F", "can be eaten", eatable, quantity.Kilogram)))
	switch {
	case need == 0:
		out.Sentence = "No stock eat from this land yet."
	case eatable == 0:
		out.Severity, out.Sentence = "short", "No land is drawn yet: nothing grows for them."
	case share > 1:
		out.Severity = "short"
		out.Sentence = fmt.Sprintf("They eat more in the year than this land grows for them: %.0f t of %.0f t are missing. Fewer head, fewer weeks out, or feed from elsewhere.", (need-eatable)/1000, need/1000)
	case share > 0.85:
		out.Severity = "close"
		out.Sentence = "It carries them in an ordinary year with little to spare: a dry one would not."
	default:
		out.Sentence = "It carries them in an ordinary year."
	}
	if worst >= 0 && eatable > 0 {
		out.Sentence += fmt.Sprintf(" The widest gap is in %s, %.0f t: what grew before, or hay, must cover it.", monthNames[worst], missing/1000)
	}
	return out
}

// ImpliedIn is head, area and days with the feed that was there, all that some people remember of a paddock.
type ImpliedIn struct {
	Count        float64 `json:"count"`
	LiveWeightKg float64 `json:"live_weight_kg"`
	Feed         float64 `json:"feed_kg_dm_ha"`
	Area         float64 `json:"area_ha"`
	Days         float64 `json:"days"`
}

// ImpliedOut is the intake these figures would mean.
type ImpliedOut struct {
	Intake float64 `json:"intake_kg_dm_head_day"`
	Share  float64 `json:"intake_share"`
	Query  string  `json:"query,omitempty" label:"Can it be?"`
}

// Implied finds the intake that head, area and days imply, and queries one that cannot be: no grazing animal eats more
// than about six per cent of its weight a day for long, and none lives on less than about eight in a thousand.
func Implied(in ImpliedIn) (ImpliedOut, []working.Step, error) {
	if in.Count <= 0 || in.Days <= 0 || in.LiveWeightKg <= 0 {
		return ImpliedOut{}, nil, quantity.Refuse("count", in.Count, "give head, live weight and days above zero")
	}
	each := in.Feed * in.Area / (in.Count * in.Days)
	out := ImpliedOut{Intake: each, Share: each / in.LiveWeightKg}
	switch {
	case out.Share > 0.06:
		out.Query = "No animal eats so much: there were more head or more days, or a part of the feed was trodden, not eaten."
	case out.Share < 0.008:
		out.Query = "They would starve on so little: there was more feed, or fewer head or days."
	}
	return out, []working.Step{
		working.New("Intake implied, a head", "F × A ÷ ( n × d )", each, quantity.Intake, working.T("F", "feed per hectare", in.Feed, quantity.ForageMass),
			working.T("A", "area", in.Area, quantity.Hectare), working.T("n", "head", in.Count, quantity.Head), working.T("d", "days", in.Days, quantity.Day)),
		working.New("Of live weight", "I ÷ w", out.Share, quantity.Share, working.T("I", "intake", each, quantity.Intake),
			working.T("w", "live weight", in.LiveWeightKg, quantity.Kilogram)),
	}, nil
}

// Eats is an intake said both ways, with what must grow for it.
type Eats struct {
	Intake float64 `json:"intake_kg_dm_head_day"` // swallowed
	Share  float64 `json:"intake_share"`
	Grown  float64 `json:"grown_kg_dm_head_day"` // so that this much is swallowed
}

// Convert says an intake given as a share of live weight (or, with share 0, as kg a head) both ways, and how much must
// grow for it at a harvest efficiency.
func Convert(liveWeight, share, intake, harvest float64) (Eats, error) {
	if liveWeight <= 0 {
		return Eats{}, quantity.Refuse("live_weight_kg", liveWeight, "give the live weight first")
	}
	if harvest <= 0 || harvest > 1 {
		return Eats{}, quantity.Refuse("harvest_efficiency", harvest, "must lie above 0 and at most at 100 %%")
	}
	if share > 0 {
		intake = liveWeight * share
	}
	return Eats{intake, intake / liveWeight, intake / harvest}, nil
}
