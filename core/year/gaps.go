package year

import (
	"math"
	"time"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Gap is months in a row in which stock do not get what they want.
type Gap struct {
	From, Until time.Time
	Kg          float64 // DM missing
	Days        float64 // of all that they want
	Head        float64 // that the feed which is there would be too few for
}

// little is the share of what is wanted below which nothing is called missing. Assumption, ours.
const little = 0.02

// Gaps are the months of a book in which feed is missing, those in a row together.
func (c Case) Gaps(b Budget) []Gap {
	var out []Gap
	open := false
	wanted, head, months := 0.0, 0.0, 0.0
	for m, e := range b.Months {
		if !e.Hungry() {
			open = false
			continue
		}
		if !open {
			out = append(out, Gap{From: c.Months[m].From})
			open, wanted, head, months = true, 0, 0, 0
		}
		g := &out[len(out)-1]
		g.Until, g.Kg = c.Months[m].Until, g.Kg+e.Missing
		wanted, months = wanted+e.Wanted(), months+1
		for _, group := range c.Groups {
			head += group.Head[m]
		}
		g.Days = g.Kg / wanted * g.Until.Sub(g.From).Hours() / 24
		g.Head = math.Ceil(g.Kg/wanted*head/months - 1e-9)
	}
	return out
}

// Sum is a time of a book in one: from the month first up to before the month last, kg DM.
func (b Budget) Sum(first, last int) Entry {
	var out Entry
	for _, e := range b.Months[first:last] {
		out.Grown, out.Eatable, out.Pasture, out.Indoors = out.Grown+e.Grown, out.Eatable+e.Eatable, out.Pasture+e.Pasture, out.Indoors+e.Indoors
		out.Eaten, out.Fed, out.Missing, out.Left, out.Lost, out.Cut = out.Eaten+e.Eaten, out.Fed+e.Fed, out.Missing+e.Missing, out.Left+e.Left, out.Lost+e.Lost, out.Cut+e.Cut
		out.Bought += e.Bought
	}
	if last > first {
		end := b.Months[last-1]
		out.Over, out.Stands, out.Waits, out.Store = b.Months[first].Over, end.Stands, end.Waits, end.Store
	}
	return out
}

// Deductions is how much of what grows comes to be swallowed in a time, every step by itself.
func (c Case) Deductions(e Entry) working.Figure {
	kg := func(symbol, label string, v float64) working.Term {
		return working.T(symbol, label, v, quantity.Kilogram)
	}
	open := e.Eatable + e.Left
	return working.Of("an ordinary year's growth of every sward, for the days on which its ground is open; each loss is taken once, of what its step names",
		working.New("Grows", "Σ area × yield × part of the year", e.Grown, quantity.Kilogram),
		working.New("Of that, on ground open to stock", "O", open, quantity.Kilogram),
		working.New("Left, trodden or fouled", "O − O × H", e.Left, quantity.Kilogram, kg("O", "grown on open ground", open),
			working.T("H", "harvest efficiency, of all that grows there", e.Eatable/max(1e-9, open), quantity.Share)),
		working.New("Can be eaten, grazing", "O × H", e.Eatable, quantity.Kilogram, kg("O", "grown on open ground", open),
			working.T("H", "harvest efficiency", e.Eatable/max(1e-9, open), quantity.Share)),
		working.New("Carried home", "cut × ( 1 − l )", e.Cut, quantity.Kilogram, working.T("l", "lost before it is stored", c.CutLoss, quantity.Share)),
		working.New("Eaten from pasture", "never more than is wanted", e.Eaten, quantity.Kilogram, kg("W", "wanted from pasture", e.Pasture)),
		working.New("Swallowed of the store", "taken × ( 1 − f )", e.Fed, quantity.Kilogram, working.T("f", "lost under the trough", c.FeedLoss, quantity.Share)),
	)
}
