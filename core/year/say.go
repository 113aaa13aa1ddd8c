package year

import (
	"math"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// monthsOf is a stretch in words: its months, and their year where it is another than that of a day.
func monthsOf(from, until, now time.Time) string {
	last := until.AddDate(0, 0, -1)
	layout := func(at time.Time) string {
		if at.Year() != now.Year() {
			return at.Format("January 2006")
		}
		return at.Format("January")
	}
	if from.Year() == last.Year() && from.Month() == last.Month() {
		return "in " + layout(from)
	}
	return "from " + layout(from) + " to " + layout(last)
}

// Say is what comes of doing nothing, in words: what is missing and when, how likely that is, and what is to spare.
func Say(c Case, b Budget, gaps []Gap, risk Risk) (out []grazing.Reason) {
	now := c.Months[0].From
	kg := func(symbol, label string, v float64) working.Term {
		return working.T(symbol, label, v, quantity.Fodder)
	}
	if len(gaps) == 0 {
		out = append(out, grazing.Because("In an ordinary year nothing is missing: what grows, stands over and is stored is enough"))
	}
	for i, g := range gaps {
		if i == 2 {
			break // the first two are what can be seen to
		}
		text := "Feed is missing " + monthsOf(g.From, g.Until, now) + ": {k}, all that they want for {d}, or what {h} would eat"
		out = append(out, grazing.Because(text, kg("k", "missing", g.Kg), working.T("d", "of feed", g.Days, quantity.Day), working.T("h", "too many for it", g.Head, quantity.Head)))
	}
	switch ever := math.Round(risk.Ever * 10); {
	case ever == 0:
		out = append(out, grazing.Because("Hardly a year's weather makes it fall short"))
	case ever < 10 && len(gaps) == 0:
		out = append(out, grazing.Because("Yet in {n} of 10 years' weather it falls short at some time", working.T("n", "years of ten", ever, quantity.Count)))
	case ever < 10:
		out = append(out, grazing.Because("It falls short at some time in {n} of 10 years' weather", working.T("n", "years of ten", ever, quantity.Count)))
	default:
		out = append(out, grazing.Because("It falls short in any year's weather: {l} in a good one, {h} in a poor one", kg("l", "missing in a good year", risk.Kg.Low), kg("h", "missing in a poor year", risk.Kg.High)))
	}
	year := b.Sum(0, min(12, len(b.Months)))
	months := min(12, len(b.Months))
	if spare := c.standing(b, months); spare > little*year.Grown && year.Wanted() > 0 {
		share := spare / year.Wanted()
		text := "{s} that could be eaten grow in twelve months and nobody comes: they die standing, as much as {d} of all that they want, or as {h} more would eat. A cut would carry some of them to the months that lack"
		if len(gaps) == 0 {
			text = "{s} that could be eaten grow in twelve months and nobody comes: they die standing, as much as {d} of all that they want, or as {h} more would eat. A cut could be sold, or more mouths taken in while it grows"
		}
		out = append(out, grazing.Because(text, kg("s", "dies standing", spare), working.T("d", "of feed", share*c.Months[months-1].Until.Sub(now).Hours()/24, quantity.Day), working.T("h", "it would feed", math.Floor(share*c.Head(0, months)), quantity.Head)))
	}
	return out
}

// standing is what dies standing in the first months, kg DM: all that is lost, but for what is lost on the way to the store and under the trough.
func (c Case) standing(b Budget, months int) float64 {
	e := b.Sum(0, months)
	return max(0, e.Lost-e.Cut*c.CutLoss/(1-c.CutLoss)-e.Fed*c.FeedLoss/(1-c.FeedLoss))
}

// SayCapacity is what a capacity means, in words, and what years on record say to it.
func SayCapacity(k Capacity, proven Proven, now float64) (out []grazing.Reason) {
	head := func(symbol, label string, v float64) working.Term { return working.T(symbol, label, v, quantity.Head) }
	switch {
	case k.ByMonth >= 1:
		out = append(out, grazing.Because("The farm's own feed carries all {n} it has in an ordinary year, and {m} more", head("n", "today's head", now), head("m", "more", max(0, k.Head-math.Ceil(now)))))
	default:
		out = append(out, grazing.Because("The farm's own feed carries {h} of its {n} in every month of an ordinary year: the rest lives on what is bought, or goes", head("h", "carried", k.Head), head("n", "today's head", now)))
	}
	if k.AtGrass > 1.15*k.ByMonth {
		out = append(out, grazing.Because("While they are out at grass it carries {g} of them: winter is what sets the limit", working.T("g", "at grass", k.AtGrass, quantity.Share)))
	}
	if k.BySum > 1.15*k.ByMonth {
		out = append(out, grazing.Because("By the sums of the year it would be {s} of them: the feed is there, but not when it is wanted. A cut, a stockpile or fewer mouths in the months that set the limit bring the two together",
			working.T("s", "by sums", k.BySum, quantity.Share)))
	}
	if proven.Years > 0 {
		text := "On record the farm's own ground fed {p} of what today's stock want in a year, {l} in the poorest of {y} years"
		if proven.Years == 1 {
			text = "In the one whole year on record the farm's own ground fed {p} of what today's stock want"
		}
		out = append(out, grazing.Because(text, working.T("p", "fed by its own ground", proven.Share, quantity.Share), working.T("l", "in the poorest year", proven.Least, quantity.Share), working.T("y", "years on record", float64(proven.Years), quantity.Count)))
	}
	if k.Start < k.Head {
		out = append(out, grazing.Because("Begin with {b}: what is expected of ground is not yet what it has proven. It rises with the years on record", head("b", "to begin with", k.Start)))
	}
	return out
}
