// Package rotation simulates forage mass paddock by paddock under growth and grazing, schedules moves, and checks a
// schedule against the rules of a school.
package rotation

import (
	"fmt"
	"math"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/weather"
)

// Paddock is a grazing unit as the simulation sees it.
type Paddock struct {
	ID       string
	Name     string
	AreaHa   float64
	X, Y     float64       // centre on the farm's plane, metres
	Peak     float64       // peak growth rate of the sward times the paddock's factor, kg DM/ha/day
	Ceiling  float64       // kg DM/ha
	Curve    forage.Curve  // season of the sward
	Grass    weather.Grass // how warmth acts on it
	Loss     float64       // share of what stands that a day takes once growth has stopped
	Closures []Closure     // days out of the rotation
	CutTo    float64       // kg DM/ha that a cut for hay leaves; 0: nothing is cut
	Reserve  bool          // grazed only in need: nothing else that is rested has feed
	Today    Condition
	Minded   []Limit // limits that do not close it but are to be thought of
	Gifts    []Gift  // what is to grow beside what the season lets it
}

// Gift is growth beside what the season lets a paddock grow, as nitrogen brings it, from a time until another, kg DM/ha/day.
type Gift struct {
	From, Until time.Time
	Rate        float64
}

// Nitrogen as it acts: it shows after some days, over some weeks. Assumption, ours.
const (
	nitrogenAfter = 5  // days
	nitrogenOver  = 42 // days
)

// Nitrogen is what a dressing of nitrogen brings, kg N/ha, where each kg of it brings so many kg DM.
func Nitrogen(kgHa, response float64, on time.Time) Gift {
	from := on.AddDate(0, 0, nitrogenAfter)
	return Gift{From: from, Until: from.AddDate(0, 0, nitrogenOver), Rate: kgHa * response / nitrogenOver}
}

// giftOn is what a paddock is given to grow at a moment, kg DM/ha/day.
func (p *Paddock) giftOn(at time.Time) (rate float64) {
	for _, g := range p.Gifts {
		if !at.Before(g.From) && at.Before(g.Until) {
			rate += g.Rate
		}
	}
	return rate
}

// Condition is what is known of a paddock on one day and cannot be foreseen after it. The zero value knows nothing.
type Condition struct {
	Day       int      // its number, see DayNumber
	TooWet    bool     // hooves would cut in
	Leaves    *float64 // new leaves a tiller since stock left; nil: not known, or no guide for the sward
	LeafStage float64  // leaves at which the sward is to be grazed
}

// Closure is a time a paddock is out of the rotation. Zero times are open ends.
type Closure struct {
	From, Until time.Time
	For         string
	Hay         bool // it ends with a cut
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

// Yearly is the closures of the years about a moment that come back every year from one day to before another, each as
// month and day, "04-15"; it may run over new year. The 29 February of a common year is 1 March.
func Yearly(from, until, why string, about time.Time, loc *time.Location) ([]Closure, error) {
	first, err := time.Parse("2006-01-02", "2024-"+from)
	if err != nil {
		return nil, quantity.Refuse("from", from, "is a day of the year as month and day, such as 04-15")
	}
	last, err := time.Parse("2006-01-02", "2024-"+until)
	if err != nil {
		return nil, quantity.Refuse("until", until, "is a day of the year as month and day, such as 04-15")
	}
	var out []Closure
	year := about.In(loc).Year()
	for y := year - 1; y <= year+1; y++ {
		c := Closure{From: time.Date(y, first.Month(), first.Day(), 0, 0, 0, 0, loc), Until: time.Date(y, last.Month(), last.Day(), 0, 0, 0, 0, loc)}
		if !c.Until.After(c.From) {
			c.Until = time.Date(y+1, last.Month(), last.Day(), 0, 0, 0, 0, loc)
		}
		c.For = why + " until " + c.Until.Format("2 January")
		out = append(out, c)
	}
	return out, nil
}

// Mob is a mob as the simulation sees it.
type Mob struct {
	ID      string
	Name    string
	Limits  []grazing.Limits // one a paddock
	Ground  []bool           // paddocks it may graze
	Demand  Daily            // kg DM from pasture
	In      int              // paddock it stands in, or Nowhere
	Since   time.Time
	Follows string // ID of the mob whose paddocks it gets when that goes on; empty: it goes its own way
}

// Asks is what a mob's way of grazing asks of a paddock at a moment.
func (f Farm) Asks(m Mob, paddock int, at time.Time) grazing.Limits {
	l := m.Limits[paddock]
	if !l.Changes() {
		return l
	}
	return l.At(at.In(f.Location), f.HotAndDry(paddock, at))
}

// HotAndDry tells whether the weather of a day is too hot and dry for the grass of a paddock; what is not known is not.
func (f Farm) HotAndDry(paddock int, at time.Time) bool {
	return f.Heat[f.Paddocks[paddock].Grass].On(DayNumber(at, f.Location)) > 0
}

// Nowhere is the paddock of a mob that is off the pasture.
const Nowhere = -1

// Farm is the ground, its season and its habits.
type Farm struct {
	Paddocks []Paddock
	Location *time.Location
	Southern bool
	Hours    Hours                   // when stock are moved
	Weather  map[weather.Grass]Daily // moisture times warmth, against an ordinary year, by kind of grass; none: 1
	Careful  bool                    // searches weigh moves by what they come to in a poor season
	Heat     map[weather.Grass]Daily // above 0 on days that are hot and dry, by kind of grass; none: no day
	Strays   *weather.Chain          // how the weather strays here, fitted to what is on record; nil: too little is

	almanac *almanac // see WithAlmanac
}

// Standing is what is known of a paddock at one moment.
type Standing struct {
	Mass       float64 // kg DM/ha
	HalfWidth  float64 // 95 %, kg DM/ha
	Shared     float64 // of the half-width, what the method brings to every paddock alike, kg DM/ha
	Guessed    bool    // nobody has measured it
	MeasuredAt time.Time
	At         time.Time       // the moment for which all this holds; zero: MeasuredAt
	Factor     float64         // growth here against the curve, learned from walks; zero: not learned, 1
	FactorHalf float64         // its 95 % half-width
	Looks      int             // walks and looks back the estimate rests on
	Belief     forage.Estimate // what the filter holds of it; zero where nobody measured
	LastLeft   *time.Time      // nil: no grazing on record
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

// carriedNoise is what a mass carried past the moment it was worked out for strays by in a week, share of it: assumption, ours.
const carriedNoise = 0.05

// HalfWidthAt is the 95 % half-width of the mass when it is carried forward to a moment.
func (s Standing) HalfWidthAt(at time.Time, mass float64) float64 {
	if s.Guessed {
		return GuessShare * mass
	}
	return math.Hypot(s.HalfWidth, 1.96*carriedNoise*math.Sqrt(s.weeksTo(at))*mass)
}

// weeksTo is how many weeks lie between the moment for which a standing holds and a later one.
func (s Standing) weeksTo(at time.Time) float64 {
	from := s.At
	if from.IsZero() {
		from = s.MeasuredAt
	}
	return math.Max(0, at.Sub(from).Hours()/24/7)
}

// Sources says in words where an estimate comes from, by a moment. weather tells whether growth since followed the weather.
func (s Standing) Sources(now time.Time, weather bool) string {
	if s.Guessed {
		return "nobody has measured it: midway between residual and entry"
	}
	days := daysBetween(s.MeasuredAt, now)
	from := fmt.Sprintf("%d walks and looks", s.Looks)
	if s.Looks == 1 {
		from = "one walk"
	}
	out := fmt.Sprintf("%s, the last %s", from, ago(days))
	if days < 1 {
		return out
	}
	out += fmt.Sprintf("; since then growth by the curve × %.2f", s.Factor)
	if weather {
		out += " and the weather"
	}
	return out + ", less what stock ate"
}

func ago(days float64) string {
	switch d := math.Floor(days); {
	case d < 1:
		return "today"
	case d < 2:
		return "yesterday"
	default:
		return fmt.Sprintf("%.0f days ago", d)
	}
}

// mostGuessed is the share of its ceiling up to which a sward is taken to stand unseen: assumption, ours.
const mostGuessed = 0.8

// GuessShare is the half-width given to a paddock nobody has measured.
const GuessShare = 0.4

// Guess is where a paddock nobody has measured is taken to stand: midway between residual and entry, and below what its sward
// can hold, kg DM/ha.
func Guess(l grazing.Limits, ceiling float64) Standing {
	most := mostGuessed * ceiling
	mass := (math.Min(l.Residual, most) + math.Min(l.Entry, most)) / 2
	return Standing{Mass: mass, HalfWidth: GuessShare * mass, Shared: 0, Guessed: true}
}

// TracePoint is forage mass at a moment.
type TracePoint struct {
	At   time.Time
	Mass float64
	Half float64 // 95 % half-width then, of what was; 0 in what is foreseen, see Outlook
}

// MassAt is what stood in a paddock at a moment, by its trace, kg DM/ha; 0 before it begins.
func MassAt(trace []TracePoint, at time.Time) float64 {
	mass := 0.0
	for _, pt := range trace {
		if pt.At.After(at) {
			break
		}
		mass = pt.Mass
	}
	return mass
}

// Totals is what happened to a paddock's forage, kg DM: Grown − Eaten − Lost + Corrected = change of mass · area.
type Totals struct {
	Grown, Eaten, Lost, Corrected float64
}

// runner carries the masses of a plan forward from moment to moment.
type runner struct {
	farm    Farm
	mobs    []Mob
	now     time.Time
	night   time.Time // the midnight that ends the current day
	mass    []float64
	in      []int     // paddock of each mob
	stock   []int     // mobs in each paddock
	behind  []float64 // days that a grazed paddock is still to be carried on
	demand  []float64
	eaten   []float64 // kg since the mob entered
	wanted  []float64
	totals  []Totals
	trace   [][]TracePoint
	days    *almanac
	fed     []bool    // mobs that are held and fed: they take nothing below the residual
	growing []float64 // share of peak growth today, by paddock, with the factor learned there and the weather
	dying   []float64 // share of what stands that today takes, by paddock
	factor  []float64 // learned growth factor, by paddock
	gift    []float64 // given to grow today, kg DM/ha/day, by paddock
}

func newRunner(farm Farm, mobs []Mob, start []Standing, days *almanac, at time.Time) *runner {
	n := len(farm.Paddocks)
	r := &runner{farm: farm, mobs: mobs, now: at, mass: make([]float64, n), in: make([]int, len(mobs)), stock: make([]int, n), behind: make([]float64, n),
		demand: make([]float64, len(mobs)), fed: make([]bool, len(mobs)), eaten: make([]float64, len(mobs)), wanted: make([]float64, len(mobs)),
		totals: make([]Totals, n), trace: make([][]TracePoint, n), days: days, growing: make([]float64, n), dying: make([]float64, n), factor: make([]float64, n), gift: make([]float64, n)}
	for i, s := range start {
		r.mass[i], r.factor[i] = s.Mass, s.factor()
		r.trace[i] = []TracePoint{{At: at, Mass: s.Mass}}
	}
	for i := range mobs {
		r.in[i] = Nowhere
	}
	r.dawn()
	return r
}

// dawn reads the season and the demand of the day in which the runner stands.
func (r *runner) dawn() {
	d := r.days.day(r.now)
	r.night = midnightAfter(r.now, r.farm.Location)
	for i := range r.growing {
		c := r.days.curve[i]
		r.growing[i] = r.days.share[c][d] * r.factor[i]
		r.dying[i] = r.days.dyingOn(c, d)
		r.gift[i] = r.farm.Paddocks[i].giftOn(r.now)
	}
	for i := range r.mobs {
		r.demand[i] = r.days.demand[i][d]
	}
}

// advance carries every paddock up to a moment, a day at a time. What is grazed is carried on only as far as the last
// midnight, or the last time stock came or went: how its growth and grazing are cut into steps does not depend on what
// happens elsewhere. See settle.
func (r *runner) advance(to time.Time) {
	for r.now.Before(to) {
		end := r.night
		if to.Before(end) {
			end = to
		}
		days := daysBetween(r.now, end)
		for p := range r.mass {
			if r.stock[p] == 0 {
				r.grow(p, days)
			} else {
				r.behind[p] += days
			}
		}
		r.now = end
		if end.Equal(r.night) {
			for p := range r.mass {
				r.settle(p)
				r.mark(p)
				r.mow(p)
			}
			r.dawn()
		}
	}
}

// mow cuts a paddock whose closure for hay ends at this midnight.
func (r *runner) mow(p int) {
	pad := &r.farm.Paddocks[p]
	for _, c := range pad.Closures {
		if !c.Hay || pad.CutTo == 0 || !c.Until.Equal(r.now) || r.mass[p] <= pad.CutTo {
			continue
		}
		r.totals[p].Corrected -= (r.mass[p] - pad.CutTo) * pad.AreaHa
		r.mass[p] = pad.CutTo
		r.mark(p)
	}
}

// settle carries a grazed paddock on to the present moment.
func (r *runner) settle(p int) {
	days := r.behind[p]
	if days == 0 {
		return
	}
	r.behind[p] = 0
	r.grow(p, days)
	for m, in := range r.in {
		if in == p {
			r.graze(m, p, days)
		}
	}
}

func (r *runner) mark(p int) {
	r.trace[p] = append(r.trace[p], TracePoint{At: r.now, Mass: r.mass[p]})
}

func (r *runner) grow(p int, days float64) {
	pad := &r.farm.Paddocks[p]
	after, died := forage.GrowAndDie(r.mass[p], pad.Peak*r.growing[p], pad.Ceiling, r.dying[p], days)
	if given := math.Min(r.gift[p]*days, math.Max(0, pad.Ceiling-after)); given > 0 {
		after += given
	}
	r.totals[p].Lost += died * pad.AreaHa
	if change := (after + died - r.mass[p]) * pad.AreaHa; change >= 0 {
		r.totals[p].Grown += change
	} else {
		r.totals[p].Lost -= change
	}
	r.mass[p] = after
}

// graze lets a mob eat its full demand down to half the residual, or to the residual where it is fed; what it misses after
// that is short.
func (r *runner) graze(m, p int, days float64) {
	want := r.demand[m] * days
	r.wanted[m] += want
	l := r.farm.Asks(r.mobs[m], p, r.now)
	area := r.farm.Paddocks[p].AreaHa
	floor := l.Residual / 2
	if r.fed[m] {
		floor = l.Residual
	}
	reach := math.Max(0, r.mass[p]-floor) * area * l.U
	eaten := math.Min(want, reach)
	r.eaten[m] += eaten
	r.mass[p] -= eaten / l.U / area
	r.totals[p].Eaten += eaten
	r.totals[p].Lost += eaten/l.U - eaten
}

func (r *runner) enter(m, p int) {
	if p != Nowhere {
		r.settle(p)
		r.stock[p]++
		r.mark(p)
	}
	r.in[m], r.eaten[m], r.wanted[m] = p, 0, 0
}

func (r *runner) leave(m int) {
	if p := r.in[m]; p != Nowhere {
		r.settle(p)
		r.stock[p]--
		r.mark(p)
	}
	r.in[m] = Nowhere
}

// DaysTo is the days of growth, through the season, until a paddock left alone from a moment on stands at a target;
// +Inf when it does not within three hundred days.
func (f Farm) DaysTo(paddock int, st Standing, target float64, from time.Time) float64 {
	pad := f.Paddocks[paddock]
	if f.almanac == nil {
		f, paddock = f.only(paddock), 0
	}
	return f.days(nil, from, from.AddDate(0, 0, horizonDays)).daysTo(paddock, pad, st.factor(), st.Mass, target, from)
}

// Look is a paddock as readiness is judged by, at a moment, against the mass at which a school grazes it.
func (f Farm) Look(paddock int, st Standing, entry float64, now time.Time) grazing.Look {
	look := grazing.Look{Mass: st.Mass, Half: st.HalfWidth, Guessed: st.Guessed, Rest: st.Rest(now), DaysToGo: f.DaysTo(paddock, st, entry, now)}
	f.Paddocks[paddock].see(&look, now, f.Location)
	return look
}

// see adds what is known of the paddock itself at a moment.
func (p Paddock) see(look *grazing.Look, at time.Time, loc *time.Location) {
	look.ClosedFor, look.Closed = p.ClosedAt(at)
	if p.Today.Day == DayNumber(at, loc) {
		look.TooWet, look.Leaves, look.LeafStage = p.Today.TooWet, p.Today.Leaves, p.Today.LeafStage
	}
}

// Readiness judges a paddock by a look at it: one judgement for every place that shows it, and for the plan.
func (f Farm) Readiness(paddock int, look grazing.Look, l grazing.Limits) (grazing.State, []grazing.Reason) {
	state, reasons := grazing.Readiness(look, l)
	return state, append(reasons, Minded(f.Paddocks[paddock].Minded)...)
}

// only is the farm with one of its paddocks.
func (f Farm) only(p int) Farm {
	f.Paddocks, f.almanac = f.Paddocks[p:p+1], nil
	return f
}

// GrowthOn is how fast a paddock is expected to grow on a day at a mass, kg DM/ha/day, and its peak of that day.
func (f Farm) GrowthOn(paddock int, st Standing, at time.Time) (rate, peak float64) {
	pad := f.Paddocks[paddock]
	if f.almanac == nil {
		f, paddock = f.only(paddock), 0
	}
	a := f.days(nil, at, at)
	peak = pad.Peak * st.factor() * a.share[a.curve[paddock]][a.day(at)]
	return 4 * peak / pad.Ceiling * st.Mass * (1 - st.Mass/pad.Ceiling), peak
}
