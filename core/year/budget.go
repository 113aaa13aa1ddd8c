// Package year is a farm's feed over one to three years, month by month: what grows and can be eaten, what stands over from one month to the next,
// what is cut and stored, against what stock eat; where it falls short, by how much, and how likely that is.
package year

import (
	"math"
	"time"

	"fjell/core/reference"
)

// Piece is ground that the year counts as one: a sward of a field.
type Piece struct {
	Field   string // its name
	FieldID string
	Sward   string // its name
	Of      reference.Sward
	Legume  float64 // share of the sward, as it was seen last
	AreaHa  float64
	Grown   []float64 // kg DM of each month, while it is open to stock, in an ordinary year
	Closed  []float64 // kg DM of each month, while it is closed
	Waits   float64   // kg DM that stands behind a closure on the first day
	Cut     []bool    // months in which what has grown behind a closure is cut
	Opens   []bool    // months in which it is opened to stock instead
	Harvest float64   // share of what grows that stock get hold of; the rest is left, trodden or fouled
	Stands  float64   // kg DM that can be eaten on the first day
	Best    float64   // kg DM that its best month grows, of a whole year: what melts does so as far as growth falls behind it
	Keeps   float64   // kg DM that can be eaten and stand at most: what grows beyond it is past its best and dies
	Loss    float64   // share of what stands that a month without growth takes
	Ends    int       // the month before which it is given back, with what stands on it; 0: it is the farm's own
}

// Group is mobs that share ground, and what they eat.
type Group struct {
	Name    string
	Pieces  []int
	Pasture []float64 // kg DM of each month, from pasture
	Indoors []float64 // kg DM of each month, in the house or the yard
	Head    []float64 // mean head of each month
	Suckled []Suckled // young at foot in each month; nil: there are none
}

// bought is what comes into the store in a month from elsewhere, kg DM.
func (c Case) bought(m int) float64 {
	if c.Bought == nil {
		return 0
	}
	return c.Bought[m]
}

// Case is a farm as its year is reckoned.
type Case struct {
	Months   []Month
	Pieces   []Piece
	Groups   []Group
	Store    float64   // kg DM of fodder on the first day
	Bought   []float64 // kg DM that come into the store in each month from elsewhere; nil: nothing does
	Southern bool      // its seasons are half a year off
	CutLoss  float64   // share of what is cut that is lost before it is stored
	FeedLoss float64   // share of what is fed that is lost before it is swallowed
	Strays   Strays
}

// Month is a month of the calendar, or what is left of the first one.
type Month struct{ From, Until time.Time }

// Days is its length.
func (m Month) Days() float64 { return math.Round(m.Until.Sub(m.From).Hours()) / 24 }

// Entry is one month of a year's book, kg DM.
type Entry struct {
	Grown   float64   // all that grows, behind closures too
	Eatable float64   // of what grew on ground that is open, or is opened, what stock get hold of
	Over    float64   // what stood over from before
	Pasture float64   // wanted from pasture
	Indoors float64   // wanted in the house
	Eaten   float64   // from pasture
	Fed     float64   // swallowed of the store
	Missing float64   // wanted and not there
	Left    float64   // grown, and left, trodden or fouled
	Lost    float64   // died standing, past its best, on the way to the store, or under the trough
	Cut     float64   // carried home
	Bought  float64   // brought from elsewhere into the store
	Stands  float64   // can be eaten at its end
	Waits   float64   // stands behind closures, at its end
	Store   float64   // at its end
	By      []float64 // eatable, by piece
	Short   []float64 // missing, by group
}

// Head is the mean head of a time, from the month first up to before the month last.
func (c Case) Head(first, last int) (head float64) {
	for m := first; m < last; m++ {
		for _, g := range c.Groups {
			head += g.Head[m] * c.Months[m].Days()
		}
	}
	return head / (c.Months[last-1].Until.Sub(c.Months[first].From).Hours() / 24)
}

// WantedADay is what a group wants on a day of a time, in the mean, at grass and in the house together, kg DM; 0 where the time lies beyond the case.
func (c Case) WantedADay(group int, from, until time.Time) float64 {
	wanted, days := 0.0, 0.0
	g := &c.Groups[group]
	for m, month := range c.Months {
		begin, end := month.From, month.Until
		if begin.Before(from) {
			begin = from
		}
		if end.After(until) {
			end = until
		}
		if part := end.Sub(begin).Hours() / 24; part > 0 {
			wanted, days = wanted+(g.Pasture[m]+g.Indoors[m])*part/month.Days(), days+part
		}
	}
	if days == 0 {
		return 0
	}
	return wanted / days
}

// Wanted is all that stock want in the month.
func (e Entry) Wanted() float64 { return e.Pasture + e.Indoors }

// Supply is all that can be eaten from pasture in the month.
func (e Entry) Supply() float64 { return e.Eatable + e.Over }

// Swallowed is all that they eat in the month, from pasture and of the store.
func (e Entry) Swallowed() float64 { return e.Eaten + e.Fed }

// Hungry tells whether more is missing than nobody would notice.
func (e Entry) Hungry() bool { return e.Missing > little*e.Wanted() }

// HungryGroups are the groups of a month whose feed is missing.
func (c Case) HungryGroups(b Budget, m int) (out []int) {
	for g, short := range b.Months[m].Short {
		if short > little*(c.Groups[g].Pasture[m]+c.Groups[g].Indoors[m]) {
			out = append(out, g)
		}
	}
	return out
}

// Budget is a year's book.
type Budget struct{ Months []Entry }

// book is what a piece stands at while a year is reckoned.
type book struct{ stands, waits []float64 }

// Balance reckons a year: growth is the share of an ordinary month's in each month, 1 where it is left out.
func Balance(c Case, growth []float64) Budget {
	out := Budget{Months: make([]Entry, len(c.Months))}
	b := book{make([]float64, len(c.Pieces)), make([]float64, len(c.Pieces))}
	for p, pc := range c.Pieces {
		b.stands[p], b.waits[p] = pc.Stands, pc.Waits
	}
	store := c.Store
	for m := range c.Months {
		share := 1.0
		if growth != nil {
			share = growth[m]
		}
		e := &out.Months[m]
		e.By, e.Short = make([]float64, len(c.Pieces)), make([]float64, len(c.Groups))
		for p := range c.Pieces {
			c.grow(e, &b, p, m, share)
		}
		e.Bought = c.bought(m)
		store += e.Cut + e.Bought
		for g := range c.Groups {
			e.Short[g] = c.graze(e, &b, g, m)
		}
		store = c.feed(e, store)
		for p := range c.Pieces {
			c.wither(e, &b, p, m, share)
			e.Stands, e.Waits = e.Stands+b.stands[p], e.Waits+b.waits[p]
		}
		e.Store = store
	}
	return out
}

// grow lets a piece grow for a month; what grew behind a closure is cut or opened where that is due.
func (c Case) grow(e *Entry, b *book, p, m int, share float64) {
	pc := &c.Pieces[p]
	e.Over += b.stands[p]
	grown, closed := pc.Grown[m]*share, pc.Closed[m]*share
	e.Grown += grown + closed
	switch b.waits[p] += closed; {
	case pc.Cut[m]:
		home := b.waits[p] * (1 - c.CutLoss)
		e.Cut, e.Lost, b.waits[p] = e.Cut+home, e.Lost+b.waits[p]-home, 0
	case pc.Opens[m]:
		grown, b.waits[p] = grown+b.waits[p], 0
	}
	e.By[p] = grown * pc.Harvest
	e.Eatable, e.Left = e.Eatable+e.By[p], e.Left+grown-e.By[p]
	b.stands[p] += e.By[p]
}

// graze lets a group eat what it wants of what stands on its ground, from each piece by what stands on it, and tells what is missing.
func (c Case) graze(e *Entry, b *book, g, m int) (missing float64) {
	group := &c.Groups[g]
	there := 0.0
	for _, p := range group.Pieces {
		there += b.stands[p]
	}
	wants := group.Pasture[m]
	eaten := math.Min(wants, there)
	e.Pasture, e.Indoors, e.Eaten = e.Pasture+wants, e.Indoors+group.Indoors[m], e.Eaten+eaten
	if there > 0 {
		for _, p := range group.Pieces {
			b.stands[p] *= 1 - eaten/there
		}
	}
	return wants - eaten + group.Indoors[m]
}

// feed gives what is missing out of the store, to each group by what it lacks, and is what the store holds then.
func (c Case) feed(e *Entry, store float64) float64 {
	lacks := 0.0
	for _, short := range e.Short {
		lacks += short
	}
	e.Fed = math.Min(lacks, store*(1-c.FeedLoss))
	taken := e.Fed / (1 - c.FeedLoss)
	e.Lost += taken - e.Fed
	for g := range e.Short {
		if lacks > 0 {
			e.Short[g] -= e.Fed * e.Short[g] / lacks
		}
		e.Missing += e.Short[g]
	}
	return max(0, store-taken)
}

// still is how far growth falls behind the best month's: 0 in such a month, 1 where nothing grows.
func (pc *Piece) still(m int, share float64) float64 {
	if pc.Best <= 0 {
		return 1
	}
	return max(0, 1-(pc.Grown[m]+pc.Closed[m])*share/pc.Best)
}

// wither takes what dies of what is left standing: all that is past its best, and in months of little growth a share of the rest.
func (c Case) wither(e *Entry, b *book, p, m int, share float64) {
	pc := &c.Pieces[p]
	stays := min(b.stands[p], pc.Keeps) * (1 - pc.Loss*pc.still(m, share))
	if pc.Ends > 0 && m+1 >= pc.Ends {
		stays = 0
	}
	e.Lost += b.stands[p] - stays
	b.stands[p] = stays
}
