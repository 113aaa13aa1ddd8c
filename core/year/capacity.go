package year

import (
	"math"
	"slices"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Capacity is how much of today's stock, mixed as it is, the farm carries with its own feed.
type Capacity struct {
	ByMonth float64 // as a share of today's: nothing is missing in any month of an ordinary year, less the reserve
	AtGrass float64 // the same, while they are out: what they are fed in the house left aside
	BySum   float64 // the same, by the sums of a year alone: what can be eaten against what is wanted, whenever
	Head    float64 // that are carried month by month
	Start   float64 // head to begin with: less where little is proven yet
	Months  []int   // that set the limit: they are short first when there are more
	Figure  working.Figure
}

// starts is the share of its capacity that a farm begins with, by years on record. Assumption, ours: what is expected of ground is not what it has proven.
func starts(years int, beginner bool) float64 {
	switch {
	case !beginner:
		return 1
	case years < 1:
		return 0.7
	case years < 2:
		return 0.85
	}
	return 1
}

// mostShare is beyond any share of today's stock that is looked for.
const mostShare = 20

// scaled is a case with so much of its stock.
func (c Case) scaled(share float64) Case {
	groups := make([]Group, len(c.Groups))
	for g, group := range c.Groups {
		n := Group{Name: group.Name, Pieces: group.Pieces}
		for m := range group.Pasture {
			n.Pasture, n.Indoors, n.Head = append(n.Pasture, group.Pasture[m]*share), append(n.Indoors, group.Indoors[m]*share), append(n.Head, group.Head[m]*share)
		}
		groups[g] = n
	}
	c.Groups = groups
	return c
}

// carries is the most of its stock with which no month of a case is short.
func (c Case) carries(growth []float64) float64 {
	low, high := 0.0, float64(mostShare)
	for range 40 {
		mid := (low + high) / 2
		if slices.ContainsFunc(Balance(c.scaled(mid), growth).Months, Entry.Hungry) {
			high = mid
		} else {
			low = mid
		}
	}
	return low
}

// CheckReserve refuses a share of growth that nobody keeps back.
func CheckReserve(reserve float64) error {
	if !(reserve >= 0 && reserve <= 0.9) {
		return quantity.Refuse("reserve", reserve, "must be 0 to 90 %%")
	}
	return nil
}

// CarryingCapacity finds how much stock the farm's own feed carries in an ordinary year, when a share of its growth is kept back for a drought. It looks for the most with
// which no month is short; that is less than the sums of the year allow wherever feed does not keep until it is wanted. What lies in the store today was not grown
// in the year to come, so that it is left out. A beginner starts with less, raised by what whole years on record have proven.
func CarryingCapacity(c Case, reserve float64, proven Proven, beginner bool) (Capacity, error) {
	if err := CheckReserve(reserve); err != nil {
		return Capacity{}, err
	}
	c.Store = 0
	growth := make([]float64, len(c.Months))
	for m := range growth {
		growth[m] = 1 - reserve
	}
	grazing := c.scaled(1)
	for g := range grazing.Groups {
		clear(grazing.Groups[g].Indoors)
	}
	low := c.carries(growth)
	out := Capacity{ByMonth: low, AtGrass: grazing.carries(growth)}
	over := Balance(c.scaled(low*1.02+1e-6), growth)
	for m, e := range over.Months {
		if e.Hungry() {
			out.Months = append(out.Months, m)
		}
	}
	sum := Balance(c, growth).Sum(0, len(c.Months))
	eatable := sum.Over + sum.Eatable + sum.Cut*(1-c.FeedLoss)
	if sum.Wanted() > 0 {
		out.BySum = eatable / sum.Wanted()
	}
	head := c.Head(0, len(c.Months))
	out.Head = math.Floor(low*head + 1e-6)
	begin := max(starts(proven.Years, beginner), min(1, proven.Least/max(low, 1e-9)))
	out.Start = math.Floor(low*head*begin + 1e-6)
	out.Figure = working.Of("an ordinary year's growth of every sward, what stands today, and the cuts that are planned; nothing bought, nothing of today's store",
		working.New("By the sums of the year", "F ÷ W", out.BySum, quantity.Share, working.T("F", "can be eaten in these months, a reserve kept back", eatable, quantity.Fodder), working.T("W", "wanted by today's stock", sum.Wanted(), quantity.Fodder)),
		working.New("While they are at grass", "the most with which no month is short, housed feed left aside", out.AtGrass, quantity.Share, working.T("R", "of growth, kept back for a drought", reserve, quantity.Share)),
		working.New("Month by month", "the most with which no month is short", low, quantity.Share, working.T("R", "of growth, kept back for a drought", reserve, quantity.Share)),
		working.New("Head carried, mixed as today", "s × n", low*head, quantity.Head, working.T("s", "of today's stock", low, quantity.Share), working.T("n", "mean head of these months", head, quantity.Head)),
		working.New("To begin with", "h × b", out.Start, quantity.Head, working.T("b", "for a beginner less, until years on record prove more", begin, quantity.Share)))
	return out, nil
}

// Stocked is stock against land as they are: who grazes, for how long, on how much ground, and what grows there.
type Stocked struct {
	Head    float64 // mean of the days at grass, whole
	Days    float64 // at grass; a month in which they are fed in the house by half counts by half
	AreaHa  float64
	Yield   float64 // kg DM/ha that grow on open ground
	Each    float64 // kg DM that a head eats at grass in a day
	Harvest float64 // share of what grows that is eaten
}

// Stocked is the case as it is, over its months.
func (c Case) Stocked() Stocked {
	out := Stocked{}
	head, eaten, grown, eatable := 0.0, 0.0, 0.0, 0.0 // head-days, kg DM
	for m, month := range c.Months {
		there, grass, all := 0.0, 0.0, 0.0
		for _, g := range c.Groups {
			there, grass, all = there+g.Head[m], grass+g.Pasture[m], all+g.Pasture[m]+g.Indoors[m]
		}
		if all > 0 {
			days := month.Days() * grass / all
			out.Days, head, eaten = out.Days+days, head+there*days, eaten+grass
		}
		for _, pc := range c.Pieces {
			grown, eatable = grown+pc.Grown[m], eatable+pc.Grown[m]*pc.Harvest
		}
	}
	for _, pc := range c.Pieces {
		out.AreaHa += pc.AreaHa
	}
	out.Head, out.Each = math.Round(head/max(out.Days, 1e-9)), eaten/max(head, 1e-9)
	out.Yield, out.Harvest = grown/max(out.AreaHa, 1e-9), eatable/max(grown, 1e-9)
	return out
}
