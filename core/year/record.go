package year

import (
	"math"
	"time"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Record is a whole year of a farm's own, kg DM.
type Record struct {
	From, Until time.Time
	Eaten       float64     // at grass, by the stock that was there
	Cut         float64     // carried home
	Bought      float64     // brought from elsewhere
	Stood       float64     // on the ground at its end, less what stood there at its beginning
	Head        float64     // mean
	Kept        float64     // days on which stock were on the books
	Growth      [12]float64 // measured between walks, as a share of an ordinary year's, by calendar month, January first
	Measured    [12]float64 // days of each month on which it was
	Ordinary    [12]float64 // what an ordinary year grows on those days, kg DM/ha
}

// fewDays is how many days of a month must be measured between walks for its growth to count as its own. Assumption, ours.
const fewDays = 10

// Days is on how many days growth was measured.
func (r Record) Days() (days float64) {
	for _, d := range r.Measured {
		days += d
	}
	return days
}

// Ratio is what grew on the days that were measured, as a share of an ordinary year's.
func (r Record) Ratio() float64 {
	grew, ordinary := 0.0, 0.0
	for m, kg := range r.Ordinary {
		grew, ordinary = grew+kg*r.Growth[m], ordinary+kg
	}
	return grew / max(ordinary, 1e-9)
}

// carried is what the farm's own ground fed in a year: what was eaten at grass, and of what was cut what is swallowed; less what was taken from what stood there before.
func (r Record) carried(feedLoss float64) float64 {
	return max(0, r.Eaten+r.Cut*(1-feedLoss)+min(0, r.Stood))
}

// As is the growth of a year on record, month by month of the case: where too few days were measured, as an ordinary year's.
func (c Case) As(r Record) []float64 {
	out := make([]float64, len(c.Months))
	for m, month := range c.Months {
		out[m] = 1
		if k := month.From.Month() - 1; r.Measured[k] >= fewDays {
			out[m] = r.Growth[k]
		}
	}
	return out
}

// Proven is what years on record say about the stock that the farm's own ground carries.
type Proven struct {
	Years  int
	Share  float64 // of what today's stock want in a year, in the mean of the years, a reserve kept back
	Least  float64 // the same, in the poorest of them
	Head   float64 // mixed as today, by the mean
	Figure working.Figure
}

// Proven holds what the farm's own ground fed in years on record against what its stock want in the year to come, with a share kept back for a drought.
func (c Case) Proven(records []Record, reserve float64) Proven {
	last := min(12, len(c.Months))
	wanted := Balance(c, nil).Sum(0, last).Wanted()
	out := Proven{Years: len(records)}
	if len(records) == 0 || wanted <= 0 {
		return out
	}
	mean, least := 0.0, math.Inf(1)
	for _, r := range records {
		fed := r.carried(c.FeedLoss)
		mean, least = mean+fed/float64(len(records)), min(least, fed)
	}
	head := c.Head(0, last)
	out.Share, out.Least = mean*(1-reserve)/wanted, least*(1-reserve)/wanted
	out.Head = math.Floor(out.Share*head + 1e-6)
	out.Figure = working.Of("the farm's own record: what its stock ate at grass, and what was cut, less what was taken from what stood there",
		working.New("Fed by the farm's own ground in a year", "mean of the years", mean, quantity.Fodder, working.T("y", "whole years on record", float64(len(records)), quantity.Count), working.T("l", "in the poorest", least, quantity.Fodder)),
		working.New("Of what today's stock want", "F × ( 1 − R ) ÷ W", out.Share, quantity.Share, working.T("F", "fed by the farm's own ground", mean, quantity.Fodder), working.T("R", "kept back for a drought", reserve, quantity.Share), working.T("W", "wanted in the year to come", wanted, quantity.Fodder)),
		working.New("Head carried, mixed as today", "s × n", out.Head, quantity.Head, working.T("s", "of today's stock", out.Share, quantity.Share), working.T("n", "mean head of the year to come", head, quantity.Head)))
	return out
}
