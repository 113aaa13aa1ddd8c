package year

import (
	"math"
	"slices"
	"time"
)

// Critical is a date by which a share of an ordinary year's growth should be there.
type Critical struct {
	At    time.Time
	Month int     // of the case
	Part  float64 // of that month that has passed by then
	Share float64 // of the season's growth that has come by then in an ordinary year
}

// Leave says that some of a group may leave, the share of its head at most.
type Leave struct {
	Group int
	Most  float64
}

// DroughtPlan is what is done when growth lags: below which share of an ordinary year's growth by a critical date, and who leaves, in this order.
type DroughtPlan struct {
	Trigger float64
	Leave   []Leave
}

// seasonStart is the calendar month with which a season of growth begins: January, in the south July.
func (c Case) seasonStart() time.Month {
	if c.Southern {
		return time.July
	}
	return time.January
}

// grows is what all ground grows in each month of an ordinary year, kg DM.
func (c Case) grows() []float64 {
	out := make([]float64, len(c.Months))
	for _, pc := range c.Pieces {
		for m := range out {
			out[m] += pc.Grown[m] + pc.Closed[m]
		}
	}
	return out
}

// soonest is how many days lie at least between today and a critical date: what grew in fewer says little. Assumption, ours.
const soonest = 21

// CriticalDates are the dates ahead, in the first year that is looked at, by which shares of a season's growth should be there, soonest first.
func (c Case) CriticalDates(shares ...float64) (out []Critical) {
	byCalendar, year := [12]float64{}, 0.0 // of whole months: the first one of the case is what is left of it
	grows := c.grows()
	for m := 1; m < min(13, len(grows)); m++ {
		byCalendar[c.Months[m].From.Month()-1] = grows[m]
		year += grows[m]
	}
	if len(grows) < 13 {
		whole := c.Months[0].From.AddDate(0, 0, 1-c.Months[0].From.Day())
		byCalendar[whole.Month()-1] = grows[0] * whole.AddDate(0, 1, 0).Sub(whole).Hours() / max(1, c.Months[0].Until.Sub(c.Months[0].From).Hours())
		year += byCalendar[whole.Month()-1]
	}
	for m := range min(12, len(c.Months)) {
		begin := time.Date(c.Months[m].From.Year(), c.Months[m].From.Month(), 1, 0, 0, 0, 0, c.Months[m].From.Location())
		before := 0.0
		for k := c.seasonStart(); k != begin.Month(); k = k%12 + 1 {
			before += byCalendar[k-1]
		}
		for _, share := range shares {
			of := (share*year - before) / byCalendar[begin.Month()-1]
			if !(of > 0 && of <= 1) {
				continue
			}
			at := begin.AddDate(0, 0, int(of*c.Months[m].Until.Sub(begin).Hours()/24))
			if at.Sub(c.Months[0].From).Hours() < soonest*24 {
				continue
			}
			out = append(out, Critical{At: at, Month: m, Part: at.Sub(c.Months[m].From).Hours() / c.Months[m].Until.Sub(c.Months[m].From).Hours(), Share: share})
		}
	}
	slices.SortStableFunc(out, func(a, b Critical) int { return a.At.Compare(b.At) })
	return out
}

// soFar is what has grown of a season by a date, from its beginning or from today on, against an ordinary year.
func (c Case) soFar(at Critical, grows, growth []float64) float64 {
	grown, ordinary := 0.0, 0.0
	for m := at.Month; m >= 0; m-- {
		part := 1.0
		if m == at.Month {
			part = at.Part
		}
		grown, ordinary = grown+grows[m]*growth[m]*part, ordinary+grows[m]*part
		if c.Months[m].From.Month() == c.seasonStart() {
			break
		}
	}
	if ordinary == 0 {
		return 1
	}
	return grown / ordinary
}

// goesOn is the growth that is reckoned with on a date: as it was until then, and as the season has been so far for the rest of it.
func (c Case) goesOn(at Critical, ratio float64, growth []float64) []float64 {
	out := slices.Clone(growth)
	rest := true
	for m := at.Month; m < len(out); m++ {
		if m > at.Month && c.Months[m].From.Month() == c.seasonStart() {
			rest = false
		}
		switch {
		case m == at.Month:
			out[m] = growth[m]*at.Part + ratio*(1-at.Part)
		case rest:
			out[m] = ratio
		default:
			out[m] = 1
		}
	}
	return out
}

// GoesOn is the growth that is reckoned with today when the season goes on at a share of an ordinary one.
func (c Case) GoesOn(ratio float64) []float64 {
	growth := make([]float64, len(c.Months))
	for m := range growth {
		growth[m] = 1
	}
	return c.goesOn(Critical{}, ratio, growth)
}

// horizon is for how many months after a date stock must be fed with what there is: until the next season's growth has come.
const horizon = 12

// Fit is how many of each group have to leave on a date, in an order and whole head, for what is foreseen to be missing beyond an ordinary year; and how much that
// is, kg DM. What an ordinary year lacks is no drought: options see to it.
func (c Case) Fit(at Critical, growth []float64, leave []Leave) (goes []float64, missing float64) {
	goes = make([]float64, len(c.Groups))
	last := min(len(c.Months), at.Month+horizon)
	missing = max(0, Balance(c, growth).Sum(at.Month, last).Missing-Balance(c, nil).Sum(at.Month, last).Missing)
	need := missing
	for _, l := range leave {
		g := c.Groups[l.Group]
		head := g.Head[at.Month]
		wants := 0.0
		for m := at.Month; m < last; m++ {
			part := 1.0
			if m == at.Month {
				part = 1 - at.Part
			}
			wants += (g.Pasture[m] + g.Indoors[m]) * part
		}
		if need <= 0 || head <= 0 || wants <= 0 {
			continue
		}
		each := wants / head
		n := min(math.Floor(l.Most*head), math.Ceil(need/each-1e-9))
		goes[l.Group] += n
		need -= n * each
	}
	return goes, missing
}

// Without is a case from which some head of each group leave on a date.
func (c Case) Without(at Critical, leave []float64) Case {
	c.Groups = slices.Clone(c.Groups)
	for g, goes := range leave {
		if goes == 0 {
			continue
		}
		group := &c.Groups[g]
		share := goes / group.Head[at.Month]
		group.Pasture, group.Indoors, group.Head = slices.Clone(group.Pasture), slices.Clone(group.Indoors), slices.Clone(group.Head)
		for m := at.Month; m < len(c.Months); m++ {
			left := 1 - share
			if m == at.Month {
				left = 1 - share*(1-at.Part)
			}
			group.Pasture[m], group.Indoors[m], group.Head[m] = group.Pasture[m]*left, group.Indoors[m]*left, group.Head[m]*left
		}
	}
	return c
}

// Rehearsed is a critical date in many years' weather.
type Rehearsed struct {
	Critical
	Acts float64   // chance that stock leave then
	Head []float64 // that leave of each group, the middle of those years
	Mean float64   // what had grown by then, as a share of an ordinary year's
}

// Rehearsal is a drought plan gone through in many years' weather.
type Rehearsal struct {
	Years    int
	Dates    []Rehearsed
	Ever     float64 // chance that stock leave on any date
	Needless float64 // chance that stock leave although no more would have been missing than in an ordinary year
	Without  Outcome
	With     Outcome
}

// Outcome is how years come out.
type Outcome struct {
	Short float64 // chance that feed is missing
	Kg    Band    // missing
}

// Drawn is the growth of so many years' weather, month by month.
func (c Case) Drawn(years int, seed uint64) [][]float64 {
	out := make([][]float64, years)
	for y := range out {
		out[y] = c.Strays.Draw(len(c.Months), seed+uint64(y))
	}
	return out
}

// Rehearse goes through a drought plan in years of some growth, drawn or on record, each month's as a share of an ordinary one's.
func Rehearse(c Case, plan DroughtPlan, dates []Critical, years [][]float64) Rehearsal {
	out := Rehearsal{Years: len(years)}
	grows := c.grows()
	heads := make([][][]float64, len(dates))
	acts, grown := make([]int, len(dates)), make([]float64, len(dates))
	for d := range dates {
		heads[d] = make([][]float64, len(c.Groups))
	}
	ever, needless := 0, 0
	var without, with []float64
	shortWithout, shortWith := 0, 0
	usual := Balance(c, nil).Sum(0, len(c.Months))
	for _, growth := range years {
		year, left := c, false
		for d, at := range dates {
			ratio := year.soFar(at, grows, growth)
			grown[d] += ratio
			if ratio >= plan.Trigger {
				continue
			}
			leave, _ := year.Fit(at, year.goesOn(at, ratio, growth), plan.Leave)
			if slices.Max(leave) == 0 {
				continue
			}
			left = true
			acts[d]++
			for g := range leave {
				heads[d][g] = append(heads[d][g], leave[g])
			}
			year = year.Without(at, leave)
		}
		before, short := missingOf(c, growth)
		after, still := missingOf(year, growth)
		without, with = append(without, before), append(with, after)
		if short {
			shortWithout++
		}
		if still {
			shortWith++
		}
		if left {
			ever++
			if before <= usual.Missing+little*usual.Wanted() {
				needless++
			}
		}
	}
	n := float64(len(years))
	out.Ever, out.Needless = float64(ever)/n, float64(needless)/n
	out.Without, out.With = Outcome{float64(shortWithout) / n, bandOf(without)}, Outcome{float64(shortWith) / n, bandOf(with)}
	for d, at := range dates {
		row := Rehearsed{Critical: at, Acts: float64(acts[d]) / n, Mean: grown[d] / n, Head: make([]float64, len(c.Groups))}
		for g := range c.Groups {
			if acts[d] > 0 {
				row.Head[g] = bandOf(heads[d][g]).Middle
			}
		}
		out.Dates = append(out.Dates, row)
	}
	return out
}

// missingOf is what is missing in a year, and whether anybody would notice.
func missingOf(c Case, growth []float64) (kg float64, short bool) {
	for _, e := range Balance(c, growth).Months {
		kg += e.Missing
		short = short || e.Hungry()
	}
	return kg, short
}
