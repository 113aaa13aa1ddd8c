package rotation

import (
	"math"
	"slices"
	"time"

	"fjell/core/forage"
)

// Stay is a mob in a paddock from one moment to another; a zero Leave means it is still there.
type Stay struct {
	Mob, Paddock int
	Enter, Leave time.Time
}

// Measured is a measurement of one paddock.
type Measured struct {
	Paddock   int
	At        time.Time
	Mass      float64
	HalfWidth float64
	Shared    float64
	Sampling  float64 // one standard deviation of the mean itself; 0: what the half-widths leave of it
	Cut       bool    // not what was found, but what a cut left
	By        string  // method, meter and line that made it; "": not told
	ID        string  // of its record
}

// Odd is a measurement that lies far outside what was believed to stand there.
type Odd struct {
	Paddock  int
	ID       string
	At       time.Time
	Believed float64 // kg DM/ha, before it
	Measured float64
	Surprise float64 // standard deviations; negative: less than believed
}

// Past is what facts say of the farm from a first moment up to now.
type Past struct {
	Standing []Standing
	Trace    [][]TracePoint
	Totals   []Totals
	Mass     []float64
	Odd      []Odd
	Bites    [][]forage.Bite // what stock took, by paddock
}

// Recount works out, from recorded stays and measurements, what stands in every paddock at a moment and how it came
// to that. Each paddock is estimated by a filter: grown by its curve, eaten down by stays, corrected by every walk and
// look. A paddock without a measurement stands at its guess. Facts may be in any order; those after `to` are left out.
// Traces begin at `from`. Paddocks are worked out one by one, since none bears on another once it is known who stood
// in it when.
func Recount(farm Farm, mobs []Mob, guesses []Standing, stays []Stay, measured []Measured, from, to time.Time) Past {
	n := len(farm.Paddocks)
	past := Past{Standing: append([]Standing(nil), guesses...), Bites: make([][]forage.Bite, n), Trace: make([][]TracePoint, n), Totals: make([]Totals, n), Mass: make([]float64, n)}
	events := make([][]happening, n)
	start := from
	add := func(p int, e happening) {
		events[p] = append(events[p], e)
		if e.at.Before(start) {
			start = e.at
		}
	}
	for _, s := range endAtNext(stays, len(mobs)) {
		if s.Enter.After(to) {
			continue
		}
		add(s.Paddock, happening{at: s.Enter, kind: entered, mob: s.Mob})
		if !s.Leave.IsZero() && !s.Leave.After(to) {
			add(s.Paddock, happening{at: s.Leave, kind: left, mob: s.Mob})
		}
	}
	for i := range measured {
		if m := &measured[i]; !m.At.After(to) && m.Mass > 0 {
			add(m.Paddock, happening{at: m.At, kind: looked, look: m})
		}
	}
	days := farm.days(mobs, start, to)
	for p := range farm.Paddocks {
		slices.SortStableFunc(events[p], func(a, b happening) int {
			if c := a.at.Compare(b.at); c != 0 {
				return c
			}
			return int(a.kind) - int(b.kind)
		})
		r := recounting{farm: farm, mobs: mobs, days: days, past: &past, p: p, traceFrom: from, mass: guesses[p].Mass, entered: map[int]time.Time{}, removed: map[int]float64{}}
		r.run(events[p], to)
	}
	slices.SortStableFunc(past.Odd, func(a, b Odd) int { return a.At.Compare(b.At) })
	return past
}

// kind orders what happens at one moment: leave, then look, then enter.
type kind int

const (
	left kind = iota
	looked
	entered
)

type happening struct {
	at   time.Time
	kind kind
	mob  int
	look *Measured
}

// endAtNext ends stays that go on where the mob is said to be elsewhere: a mob stands in one paddock.
func endAtNext(stays []Stay, mobs int) []Stay {
	out := append([]Stay(nil), stays...)
	slices.SortStableFunc(out, func(a, b Stay) int { return a.Enter.Compare(b.Enter) })
	last := make([]int, mobs)
	for m := range last {
		last[m] = -1
	}
	for i := range out {
		if k := last[out[i].Mob]; k >= 0 && (out[k].Leave.IsZero() || out[k].Leave.After(out[i].Enter)) {
			out[k].Leave = out[i].Enter
		}
		last[out[i].Mob] = i
	}
	return out
}

// recounting carries one paddock through what happened in it.
type recounting struct {
	farm      Farm
	mobs      []Mob
	days      *almanac
	past      *Past
	p         int
	traceFrom time.Time

	now     time.Time
	day     int
	known   bool // an unknown paddock is left as it is until somebody measures it
	mass    float64
	belief  forage.Estimate
	by      string  // what made the last look that says so
	shared  float64 // share of the mass that the method of the last look errs by everywhere alike
	in      []int   // mobs that stand in it
	entered map[int]time.Time
	removed map[int]float64 // kg DM/ha since the mob entered
}

func (r *recounting) run(events []happening, to time.Time) {
	s := &r.past.Standing[r.p]
	for _, e := range events {
		r.advance(e.at)
		switch e.kind {
		case left:
			r.mark()
			r.bite(e.mob, e.at)
			r.in = slices.DeleteFunc(r.in, func(m int) bool { return m == e.mob })
			at := e.at
			s.LastLeft = &at
		case looked:
			r.look(*e.look)
		case entered:
			r.in = append(r.in, e.mob)
			r.entered[e.mob], r.removed[e.mob] = e.at, 0
			r.mark()
			r.belief.Enter()
		}
	}
	r.advance(to)
	for _, m := range r.in {
		r.bite(m, to)
	}
	s.Mass, s.At = r.mass, to
	if r.known {
		s.HalfWidth, s.Shared, s.Belief = r.belief.HalfWidth(r.shared), 1.96*r.shared*s.Mass, r.belief
		s.Factor, s.FactorHalf = r.belief.Factor, 1.96*r.belief.FactorSpread()
	}
	r.past.Mass[r.p] = r.mass
	r.mark()
}

// bite notes what a mob took of the paddock.
func (r *recounting) bite(mob int, until time.Time) {
	if r.removed[mob] > 0 {
		r.past.Bites[r.p] = append(r.past.Bites[r.p], forage.Bite{From: r.entered[mob], Until: until, Removed: r.removed[mob]})
	}
}

func (r *recounting) mark() {
	if r.known && !r.now.Before(r.traceFrom) {
		r.past.Trace[r.p] = append(r.past.Trace[r.p], TracePoint{r.now, r.mass, r.belief.HalfWidth(r.shared)})
	}
}

// advance grows and grazes the paddock up to a moment, a day at a time.
func (r *recounting) advance(to time.Time) {
	if !r.known {
		r.now, r.day = to, r.days.day(to) // nothing is known of it yet
		return
	}
	for r.now.Before(to) {
		end := r.days.midnights[r.day+1]
		last := r.day+2 == len(r.days.midnights)
		if to.Before(end) || last {
			end = to
		}
		r.grow(daysBetween(r.now, end))
		r.graze(daysBetween(r.now, end))
		r.now = end
		if !last && end.Equal(r.days.midnights[r.day+1]) {
			r.mark()
			r.day++
		}
	}
}

func (r *recounting) grow(days float64) {
	pad := &r.farm.Paddocks[r.p]
	c := r.days.curve[r.p]
	grown, died := r.belief.Grow(pad.Peak*r.days.share[c][r.day], pad.Ceiling, r.days.dyingOn(c, r.day), days)
	r.mass += grown - died
	if given := math.Min(pad.giftOn(r.now)*days, math.Max(0, pad.Ceiling-r.mass)); given > 0 {
		r.mass += given
		r.belief.Remove(-given)
		r.past.Totals[r.p].Grown += given * pad.AreaHa
	}
	r.past.Totals[r.p].Lost += died * pad.AreaHa
	if t := &r.past.Totals[r.p]; grown >= 0 {
		t.Grown += grown * pad.AreaHa
	} else {
		t.Lost -= grown * pad.AreaHa
	}
}

// graze lets the mobs eat their full demand down to half the residual; what they miss after that is short.
func (r *recounting) graze(days float64) {
	area, t := r.farm.Paddocks[r.p].AreaHa, &r.past.Totals[r.p]
	for _, m := range r.in {
		l := r.farm.Asks(r.mobs[m], r.p, r.now)
		eaten := math.Min(r.days.demand[m][r.day]*days, math.Max(0, r.mass-l.Residual/2)*area*l.U)
		if eaten <= 0 {
			continue
		}
		gone := eaten / l.U / area
		r.mass -= gone
		r.removed[m] += gone
		r.belief.Remove(gone)
		t.Eaten += eaten
		t.Lost += eaten/l.U - eaten
	}
}

// look corrects the paddock by what somebody found standing. Half of the variance of a method's own error is new each
// time; the other half comes back with every walk and stays in the half-width.
func (r *recounting) look(m Measured) {
	method := m.Shared / 1.96 / m.Mass
	fresh, shared := forage.SplitError(method)
	sampling := m.Sampling / m.Mass
	if m.Sampling == 0 {
		sampling = math.Sqrt(math.Max(0, m.HalfWidth*m.HalfWidth-m.Shared*m.Shared)) / 1.96 / m.Mass
	}
	share := math.Max(0.01, math.Hypot(sampling, fresh))
	before := r.mass
	if r.known && m.Cut {
		r.mark()
		r.belief.Cut(m.Mass, share)
		r.by, r.mass = "", r.belief.Mass()
		r.past.Totals[r.p].Corrected += (r.mass - before) * r.farm.Paddocks[r.p].AreaHa
		r.mark()
		return
	}
	if r.known && forage.Broken(r.by, m.By) {
		r.belief.Break(r.shared)
	}
	if m.By != "" {
		r.by = m.By
	}
	if r.known {
		r.mark()
		believed := r.belief.Mass()
		if surprise := r.belief.Measure(m.Mass, share); math.Abs(surprise) > forage.Far {
			r.past.Odd = append(r.past.Odd, Odd{r.p, m.ID, m.At, believed, m.Mass, surprise})
		}
	} else {
		r.belief, r.known = forage.Believe(m.Mass, share), true
	}
	r.mass = r.belief.Mass()
	r.shared = shared
	r.past.Totals[r.p].Corrected += (r.mass - before) * r.farm.Paddocks[r.p].AreaHa
	r.mark()
	s := &r.past.Standing[r.p]
	s.Guessed, s.MeasuredAt = false, m.At
	s.Looks++
}
