package stock

import (
	"time"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Growing is what a piece of land is expected to grow, month by month, January first.
type Growing struct {
	AreaHa  float64
	Months  [12]float64 // kg DM/ha grown in each month while it is open to stock
	Harvest float64     // share of that which those who graze it get hold of
}

// Carrying is a first look at whether the land carries the stock: what grows and can be eaten against what is eaten.
type Carrying struct {
	Grown    [12]float64    `json:"grown_kg_dm"`
	Eatable  [12]float64    `json:"eatable_kg_dm"`
	Eaten    [12]float64    `json:"eaten_kg_dm"`
	Figure   working.Figure `json:"figure"` // eaten as a share of what can be eaten
	Short    []int          `json:"short_months" nullable:"false"`
	From     string         `json:"from"` // first day of the twelve months it covers
	Severity string         `json:"severity" enum:"carries,close,short"`
	Sentence string         `json:"sentence"` // its {symbols} stand for the figures
	Figures  []working.Term `json:"figures" nullable:"false"`
}

// say adds to the sentence; figures are shown in the farm's units where it is read.
func (c *Carrying) say(text string, figures ...working.Term) {
	c.Sentence += text
	c.Figures = append(c.Figures, figures...)
}

// covers says which twelve months were counted.
func covers(from time.Time) string {
	return "from " + from.Format("2 January 2006") + " to " + from.AddDate(1, 0, -1).Format("2 January 2006")
}

var monthNames = [12]string{"January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"}

// Carries compares the demand from pasture of twelve months, from a first day on, with what the land is expected to grow, of which
// stock get hold of a share (the harvest efficiency, of all that grows, of those who graze it). It is a first warning and no
// budget: feed standing from one month to the next, hay and winter feed are left out.
func Carries(land []Growing, eaten [12]float64, from time.Time) Carrying {
	out := Carrying{Eaten: eaten, Short: []int{}, Figures: []working.Term{}, Severity: "carries", From: from.Format(time.DateOnly)}
	grown, eatable, area, need := 0.0, 0.0, 0.0, 0.0
	for _, g := range land {
		area += g.AreaHa
		for m := range out.Grown {
			out.Grown[m] += g.AreaHa * g.Months[m]
			out.Eatable[m] += g.AreaHa * g.Months[m] * g.Harvest
		}
	}
	worst, missing := -1, 0.0
	for m := range out.Grown {
		grown += out.Grown[m]
		need += eaten[m]
		eatable += out.Eatable[m]
		if gap := eaten[m] - out.Eatable[m]; gap > 0.02*eaten[m] {
			out.Short = append(out.Short, m+1)
			if gap > missing {
				worst, missing = m, gap
			}
		}
	}
	share, harvest := 0.0, 0.0
	if grown > 0 {
		harvest = eatable / grown
	}
	if eatable > 0 {
		share = need / eatable
	}
	out.Figure = working.Of("yearly yield of each sward, parted by its curve, in an ordinary year; ground is counted while it is open; the stock as planned, "+covers(from),
		working.New("Grows in the year", "Σ ( g × a )", grown, quantity.Kilogram, working.T("a", "area counted", area, quantity.Hectare)),
		working.New("Of that, stock get hold of", "G × H", eatable, quantity.Kilogram, working.T("G", "grown", grown, quantity.Kilogram),
			working.T("H", "harvest efficiency, of all that grows, of those who graze it", harvest, quantity.Share)),
		working.New("Eaten, of what can be eaten", "E ÷ F", share, quantity.Share, working.T("E", "eaten from pasture in the year", need, quantity.Kilogram),
			working.T("F", "can be eaten", eatable, quantity.Kilogram)))
	switch {
	case need == 0:
		out.say("No stock eat from this land yet.")
	case eatable == 0:
		out.Severity = "short"
		out.say("No land is drawn yet: nothing grows for them.")
	case share > 1:
		out.Severity = "short"
		out.say("They eat more in the year than this land grows for them: {gap} of {need} are missing. Fewer head, fewer weeks out, or feed from elsewhere.",
			working.T("gap", "missing", need-eatable, quantity.Kilogram), working.T("need", "eaten in the year", need, quantity.Kilogram))
	case share > 0.85:
		out.Severity = "close"
		out.say("It carries them in an ordinary year with little to spare: a dry one would not.")
	default:
		out.say("It carries them in an ordinary year.")
	}
	if worst >= 0 && eatable > 0 {
		out.say(" The widest gap is in "+monthNames[worst]+", {month}: what grew before, or hay, must cover it.", working.T("month", "missing in that month", missing, quantity.Kilogram))
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
