// Package rotation simulates forage mass paddock by paddock under growth and grazing, schedules moves, and checks a
// schedule against the rules of a school.
package rotation

import (
	"math"
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
	MoveMinutes []int                       // minutes after midnight at which stock are moved, ascending
	Weather     func(day time.Time) float64 // moisture times warmth, against an ordinary year; nil: 1
}

// Standing is what is known of a paddock at one moment.
type Standing struct {
	Mass       float64 // kg DM/ha
	HalfWidth  float64 // 95 %, kg DM/ha
	Shared     float64 // of the half-width, what the method brings to every paddock alike, kg DM/ha
	Guessed    bool    // nobody has measured it
	MeasuredAt time.Time
	At         time.Time  // the moment for which all this holds; zero: MeasuredAt
	Factor     float64    // growth here against the curve, learned from walks; zero: not learned, 1
	FactorHalf float64    // its 95 % half-width
	Looks      int        // walks and looks back the estimate rests on
	LastLeft   *time.Time // nil: no grazing on record
}

// factor is the learned growth factor, 1 where none is.
func (s Standing) factor() float64 {
	if s.Factor == 0 {
		return 1
	}
	return s.Factor
}

// Rest is the days since the last animal left, or nil when no grazing is on record.
func (s Standing) Rest(at time.Time) *float64 {
	if s.LastLeft == nil {
		return nil
	}
	days := at.Sub(*s.LastLeft).Hours() / 24
	return &days
}

// HalfWidthAt is the 95 % half-width of the mass when it is carried forward to a moment.
func (s Standing) HalfWidthAt(at time.Time, mass float64) float64 {
	if s.Guessed {
		return GuessShare * mass
	}
	return math.Hypot(s.HalfWidth, 1.96*forage.ProcessNoise*math.Sqrt(s.weeksTo(at))*mass)
}

// weeksTo is how many weeks lie between the moment for which a standing holds and a later one.
func (s Standing) weeksTo(at time.Time) float64 {
	from := s.At
	if from.IsZero() {
		from = s.MeasuredAt
	}
	return math.Max(0, at.Sub(from).Hours()/24/7)
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
	growing []float64 // share of peak growth today, by paddock, with the factor learned there and the weather
	factor  []float64 // learned growth factor, by paddock
	// While facts are recounted masses are estimates that measurements correct; in a plan they are plain figures.
	beliefs   []forage.Estimate
	removed   []float64 // kg DM/ha since the mob entered
	traceFrom time.Time
}

func newRunner(farm Farm, mobs []Mob, start []Standing, at time.Time) *runner {
	n := len(farm.Paddocks)
	r := &runner{farm: farm, mobs: mobs, now: at, mass: make([]float64, n), known: make([]bool, n), in: make([]int, len(mobs)),
		demand: make([]float64, len(mobs)), eaten: make([]float64, len(mobs)), wanted: make([]float64, len(mobs)),
		totals: make([]Totals, n), trace: make([][]TracePoint, n), season: newSeason(farm), growing: make([]float64, n),
		factor: make([]float64, n), removed: make([]float64, len(mobs))}
	for i, s := range start {
		r.mass[i], r.known[i], r.factor[i] = s.Mass, true, s.factor()
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
	r.season.day(r.now)
	for i := range r.growing {
		r.growing[i] = r.season.today[r.season.curve[i]] * r.factor[i]
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
	if r.known[p] && !r.now.Before(r.traceFrom) {
		r.trace[p] = append(r.trace[p], TracePoint{r.now, r.mass[p]})
	}
}

func (r *runner) grow(p int, days float64) {
	if !r.known[p] {
		return
	}
	pad := &r.farm.Paddocks[p]
	var after float64
	if r.beliefs != nil {
		after = r.mass[p] + r.beliefs[p].Grow(pad.Peak*r.growing[p], pad.Ceiling, days)
	} else {
		after = forage.Grow(r.mass[p], pad.Peak*r.growing[p], pad.Ceiling, days)
	}
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
	r.removed[m] += eaten / l.U / area
	if r.beliefs != nil && eaten > 0 {
		r.beliefs[p].Remove(eaten / l.U / area)
	}
	r.totals[p].Eaten += eaten
	r.totals[p].Lost += eaten/l.U - eaten
}

func (r *runner) enter(m, p int) {
	r.in[m], r.eaten[m], r.wanted[m], r.removed[m] = p, 0, 0, 0
	if p != Nowhere {
		r.mark(p)
		if r.beliefs != nil {
			r.beliefs[p].Enter()
		}
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
	today  []float64 // share of the peak by curve on the day last asked for, with the weather
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
	s.today = make([]float64, len(s.curves))
	return s
}

// day reads every curve for the day of a moment.
func (s *season) day(at time.Time) {
	local := at.In(s.farm.Location)
	d := local.YearDay()
	weather := 1.0
	if s.farm.Weather != nil {
		weather = s.farm.Weather(at)
	}
	for k := range s.curves {
		if s.shares[k][d] < 0 {
			noon := time.Date(local.Year(), local.Month(), local.Day(), 12, 0, 0, 0, s.farm.Location)
			s.shares[k][d] = s.curves[k].At(noon, s.farm.Southern)
		}
		s.today[k] = s.shares[k][d] * weather
	}
}

// daysTo is the days from a moment until a paddock left alone grows from one mass to another through the season;
// +Inf when it does not within three hundred days.
func (s *season) daysTo(p int, factor, mass, target float64, from time.Time) float64 {
	pad := s.farm.Paddocks[p]
	at := from
	for d := 0.0; d < 300; d++ {
		s.day(at)
		peak := pad.Peak * factor * s.today[s.curve[p]]
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

// FeedUntil is when a mob that stays where it is has eaten down to the residual, and how many days either way the
// error of the mass makes. It looks sixty days ahead.
func FeedUntil(farm Farm, mob Mob, p int, s Standing, now time.Time) (until time.Time, giveDays float64) {
	r := newRunner(farm.only(p),
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
func (f Farm) DaysTo(paddock int, st Standing, target float64, from time.Time) float64 {
	return newSeason(f.only(paddock)).daysTo(0, st.factor(), st.Mass, target, from)
}

// only is the farm with one of its paddocks.
func (f Farm) only(p int) Farm {
	f.Paddocks = f.Paddocks[p : p+1]
	return f
}

// GrowthOn is how fast a paddock is expected to grow on a day at a mass, kg DM/ha/day, and its peak of that day.
func (f Farm) GrowthOn(paddock int, st Standing, at time.Time) (rate, peak float64) {
	s := newSeason(f.only(paddock))
	s.day(at)
	pad := f.Paddocks[paddock]
	peak = pad.Peak * st.factor() * s.today[0]
	return 4 * peak / pad.Ceiling * st.Mass * (1 - st.Mass/pad.Ceiling), peak
}
