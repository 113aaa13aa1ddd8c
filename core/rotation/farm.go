// Package rotation simulates forage mass paddock by paddock under growth and grazing, schedules moves, and checks a
// schedule against the rules of a school.
package rotation

import (
	"math"
	"sort"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
)

// Paddock is a grazing unit as the simulation sees it.
type Paddock struct {
	ID       string
	Name     string
	AreaHa   float64
	X, Y     float64      // centre on the farm's plane, metres
	Peak     float64      // peak growth rate of the sward times the paddock's factor, kg DM/ha/day
	Ceiling  float64      // kg DM/ha
	Curve    forage.Curve // season of the sward
	Closures []Closure    // days out of the rotation
}

// Closure is a time a paddock is out of the rotation. Zero times are open ends.
type Closure struct {
	From, Until time.Time
	For         string
}

// ClosedAt tells whether a paddock is out of the rotation at a moment, and why.
func (p Paddock) ClosedAt(at time.Time) (why string, closed bool) {
	for _, c := range p.Closures {
		if !at.Before(c.From) && (c.Until.IsZero() || at.Before(c.Until)) {
			return c.For, true
		}
	}
	return "", false
}

// Mob is a mob as the simulation sees it.
type Mob struct {
	ID     string
	Name   string
	Limits []grazing.Limits            // one a paddock
	Ground []bool                      // paddocks it may graze
	Demand func(day time.Time) float64 // kg DM from pasture on that day
	In     int                         // paddock it stands in, or Nowhere
	Since  time.Time
}

// Nowhere is the paddock of a mob that is off the pasture.
const Nowhere = -1

// Farm is the ground, its season and its habits.
type Farm struct {
	Paddocks    []Paddock
	Location    *time.Location
	Southern    bool
	MoveMinutes []int // minutes after midnight at which stock are moved, ascending
}

// Standing is what is known of a paddock at one moment.
type Standing struct {
	Mass       float64 // kg DM/ha
	HalfWidth  float64 // 95 %, kg DM/ha
	Shared     float64 // of the half-width, what the method brings to every paddock alike, kg DM/ha
	Guessed    bool    // nobody has measured it
	MeasuredAt time.Time
	LastLeft   *time.Time // nil: no grazing on record
}

// Rest is the days since the last animal left, or nil when no grazing is on record.
func (s Standing) Rest(at time.Time) *float64 {
	if s.LastLeft == nil {
		return nil
	}
	days := at.Sub(*s.LastLeft).Hours() / 24
	return &days
}

// growthSpread is the standard deviation by which real growth strays from the curve, as a share of mass and root week.
const growthSpread = 0.05

// HalfWidthAt is the 95 % half-width of the mass when it is carried forward to a moment.
func (s Standing) HalfWidthAt(at time.Time, mass float64) float64 {
	if s.Guessed {
		return GuessShare * mass
	}
	weeks := math.Max(0, at.Sub(s.MeasuredAt).Hours()/24/7)
	return math.Hypot(s.HalfWidth, 1.96*growthSpread*math.Sqrt(weeks)*mass)
}

// GuessShare is the half-width given to a paddock nobody has measured.
const GuessShare = 0.4

// Guess is where a paddock nobody has measured is taken to stand: midway between residual and entry.
func Guess(l grazing.Limits) Standing {
	mass := (l.Residual + l.Entry) / 2
	return Standing{Mass: mass, HalfWidth: GuessShare * mass, Shared: 0, Guessed: true}
}

// TracePoint is forage mass at a moment.
type TracePoint struct {
	At   time.Time
	Mass float64
}

// Totals is what happened to a paddock's forage, kg DM: Grown − Eaten − Lost + Corrected = change of mass · area.
type Totals struct {
	Grown, Eaten, Lost, Corrected float64
}

// runner carries the masses forward from moment to moment.
type runner struct {
	farm    Farm
	mobs    []Mob
	now     time.Time
	night   time.Time // the midnight that ends the current day
	mass    []float64
	known   []bool // an unknown paddock is left as it is until somebody measures it
	in      []int  // paddock of each mob
	demand  []float64
	eaten   []float64 // kg since the mob entered
	wanted  []float64
	totals  []Totals
	trace   [][]TracePoint
	season  *season
	growing []float64 // share of peak growth today, by paddock
}

func newRunner(farm Farm, mobs []Mob, start []Standing, at time.Time) *runner {
	n := len(farm.Paddocks)
	r := &runner{farm: farm, mobs: mobs, now: at, mass: make([]float64, n), known: make([]bool, n), in: make([]int, len(mobs)),
		demand: make([]float64, len(mobs)), eaten: make([]float64, len(mobs)), wanted: make([]float64, len(mobs)),
		totals: make([]Totals, n), trace: make([][]TracePoint, n), season: newSeason(farm), growing: make([]float64, n)}
	for i, s := range start {
		r.mass[i], r.known[i] = s.Mass, true
		r.trace[i] = []TracePoint{{at, s.Mass}}
	}
	for i := range mobs {
		r.in[i] = Nowhere
	}
	r.dawn()
	return r
}

// dawn reads the season and the demand of the day in which the runner stands.
func (r *runner) dawn() {
	r.night = midnightAfter(r.now, r.farm.Location)
	for i := range r.growing {
		r.growing[i] = r.season.share(i, r.now)
	}
	for i := range r.mobs {
		r.demand[i] = r.mobs[i].Demand(r.now)
	}
}

// advance grows and grazes every paddock up to a moment, a day at a time.
func (r *runner) advance(to time.Time) {
	for r.now.Before(to) {
		end := r.night
		if to.Before(end) {
			end = to
		}
		days := end.Sub(r.now).Hours() / 24
		for p := range r.mass {
			r.grow(p, days)
		}
		for m, p := range r.in {
			if p != Nowhere {
				r.graze(m, p, days)
			}
		}
		r.now = end
		if end.Equal(r.night) {
			for p := range r.mass {
				r.mark(p)
			}
			r.dawn()
		}
	}
}

func (r *runner) mark(p int) {
	if r.known[p] {
		r.trace[p] = append(r.trace[p], TracePoint{r.now, r.mass[p]})
	}
}

func (r *runner) grow(p int, days float64) {
	if !r.known[p] {
		return
	}
	pad := &r.farm.Paddocks[p]
	after := forage.Grow(r.mass[p], pad.Peak*r.growing[p], pad.Ceiling, days)
	if change := (after - r.mass[p]) * pad.AreaHa; change >= 0 {
		r.totals[p].Grown += change
	} else {
		r.totals[p].Lost -= change
	}
	r.mass[p] = after
}

// graze lets a mob eat its full demand down to half the residual; what it misses after that is short.
func (r *runner) graze(m, p int, days float64) {
	want := r.demand[m] * days
	r.wanted[m] += want
	if !r.known[p] {
		r.eaten[m] += want
		return
	}
	l := r.mobs[m].Limits[p]
	area := r.farm.Paddocks[p].AreaHa
	reach := math.Max(0, r.mass[p]-l.Residual/2) * area * l.U
	eaten := math.Min(want, reach)
	r.eaten[m] += eaten
	r.mass[p] -= eaten / l.U / area
	r.totals[p].Eaten += eaten
	r.totals[p].Lost += eaten/l.U - eaten
}

func (r *runner) enter(m, p int) {
	r.in[m], r.eaten[m], r.wanted[m] = p, 0, 0
	if p != Nowhere {
		r.mark(p)
	}
}

func (r *runner) leave(m int) {
	if p := r.in[m]; p != Nowhere {
		r.mark(p)
	}
	r.in[m] = Nowhere
}

// season remembers each curve's share of its peak by day of the year.
type season struct {
	farm   Farm
	curve  []int
	curves []forage.Curve
	shares [][]float64
}

func newSeason(farm Farm) *season {
	s := &season{farm: farm, curve: make([]int, len(farm.Paddocks))}
	seen := map[forage.Curve]int{}
	for i, p := range farm.Paddocks {
		k, ok := seen[p.Curve]
		if !ok {
			k = len(s.curves)
			seen[p.Curve] = k
			s.curves = append(s.curves, p.Curve)
			days := make([]float64, 367)
			for d := range days {
				days[d] = -1
			}
			s.shares = append(s.shares, days)
		}
		s.curve[i] = k
	}
	return s
}

func (s *season) share(paddock int, at time.Time) float64 {
	local := at.In(s.farm.Location)
	k, d := s.curve[paddock], local.YearDay()
	if s.shares[k][d] < 0 {
		noon := time.Date(local.Year(), local.Month(), local.Day(), 12, 0, 0, 0, s.farm.Location)
		s.shares[k][d] = s.curves[k].At(noon, s.farm.Southern)
	}
	return s.shares[k][d]
}

// daysTo is the days from a moment until a paddock left alone grows from one mass to another through the season;
// +Inf when it does not within three hundred days.
func (s *season) daysTo(p int, mass, target float64, from time.Time) float64 {
	pad := s.farm.Paddocks[p]
	at := from
	for d := 0.0; d < 300; d++ {
		peak := pad.Peak * s.share(p, at)
		if need := forage.DaysToReach(mass, target, peak, pad.Ceiling); need <= 1 {
			return d + need
		}
		mass = forage.Grow(mass, peak, pad.Ceiling, 1)
		at = at.Add(24 * time.Hour)
	}
	return math.Inf(1)
}

func midnightAfter(t time.Time, loc *time.Location) time.Time {
	l := t.In(loc)
	return time.Date(l.Year(), l.Month(), l.Day()+1, 0, 0, 0, 0, loc)
}

// NextSlot is the first move hour of the farm after a moment.
func (f Farm) NextSlot(after time.Time) time.Time {
	l := after.In(f.Location)
	for day := 0; ; day++ {
		for _, m := range f.MoveMinutes {
			at := time.Date(l.Year(), l.Month(), l.Day()+day, m/60, m%60, 0, 0, f.Location)
			if at.After(after) {
				return at
			}
		}
	}
}

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
}

// Past is what facts say of the farm from a first moment up to now.
type Past struct {
	Standing []Standing
	Trace    [][]TracePoint
	Totals   []Totals
	Mass     []float64
}

// Recount works out, from recorded stays and measurements, what stands in every paddock at a moment and how it came
// to that. A paddock without a measurement stands at its guess. Facts may be in any order; those after `to` are
// left out.
func Recount(farm Farm, mobs []Mob, guesses []Standing, stays []Stay, measured []Measured, from, to time.Time) Past {
	type event struct {
		at   time.Time
		rank int // leave, then measure, then enter
		do   func(*runner)
	}
	var events []event
	past := Past{Standing: append([]Standing(nil), guesses...)}
	for _, s := range stays {
		if !s.Enter.Before(to) && !s.Enter.Equal(to) {
			continue
		}
		events = append(events, event{s.Enter, 2, func(r *runner) { r.enter(s.Mob, s.Paddock) }})
		if !s.Leave.IsZero() && !s.Leave.After(to) {
			left := s.Leave
			events = append(events, event{left, 0, func(r *runner) {
				if r.in[s.Mob] == s.Paddock {
					r.leave(s.Mob)
				}
				past.Standing[s.Paddock].LastLeft = &left
			}})
		}
	}
	for _, m := range measured {
		if m.At.After(to) {
			continue
		}
		events = append(events, event{m.At, 1, func(r *runner) {
			if r.known[m.Paddock] {
				r.mark(m.Paddock)
			}
			r.totals[m.Paddock].Corrected += (m.Mass - r.mass[m.Paddock]) * farm.Paddocks[m.Paddock].AreaHa
			r.mass[m.Paddock], r.known[m.Paddock] = m.Mass, true
			r.mark(m.Paddock)
			s := &past.Standing[m.Paddock]
			s.HalfWidth, s.Shared, s.Guessed, s.MeasuredAt = m.HalfWidth, m.Shared, false, m.At
		}})
	}
	sort.SliceStable(events, func(a, b int) bool {
		if !events[a].at.Equal(events[b].at) {
			return events[a].at.Before(events[b].at)
		}
		return events[a].rank < events[b].rank
	})
	if len(events) > 0 && events[0].at.Before(from) {
		from = events[0].at
	}
	r := newRunner(farm, mobs, guesses, from)
	for i := range r.known {
		r.known[i], r.trace[i] = false, nil
	}
	for _, e := range events {
		r.advance(e.at)
		e.do(r)
	}
	r.advance(to)
	for p := range farm.Paddocks {
		past.Standing[p].Mass = r.mass[p]
		r.mark(p)
	}
	past.Trace, past.Totals, past.Mass = r.trace, r.totals, r.mass
	return past
}

// FeedUntil is when a mob that stays where it is has eaten down to the residual, and how many days either way the
// error of the mass makes. It looks sixty days ahead.
func FeedUntil(farm Farm, mob Mob, p int, s Standing, now time.Time) (until time.Time, giveDays float64) {
	r := newRunner(Farm{Paddocks: farm.Paddocks[p : p+1], Location: farm.Location, Southern: farm.Southern},
		[]Mob{{Limits: mob.Limits[p : p+1], Demand: mob.Demand}}, []Standing{s}, now)
	r.in[0] = 0
	l := mob.Limits[p]
	until = now
	for end := now.Add(60 * 24 * time.Hour); until.Before(end) && r.mass[0] > l.Residual; {
		until = until.Add(time.Hour)
		r.advance(until)
	}
	if d := mob.Demand(now); d > 0 {
		giveDays = s.HalfWidthAt(now, s.Mass) * farm.Paddocks[p].AreaHa * l.U / d
	}
	return until, giveDays
}

// DaysTo is the days of growth, through the season, until a paddock left alone from a moment on stands at a target;
// +Inf when it does not within three hundred days.
func (f Farm) DaysTo(paddock int, mass, target float64, from time.Time) float64 {
	return newSeason(Farm{Paddocks: f.Paddocks[paddock : paddock+1], Location: f.Location, Southern: f.Southern}).daysTo(0, mass, target, from)
}
