// Package queue is the week of a farm: its paddocks from the next to be grazed downward against what each is to stand at, and what becomes of them
// over the next weeks when something is done about a surplus or a shortage.
package queue

import (
	"cmp"
	"math"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// Weeks is how far ahead a week is looked at.
const Weeks = 8

// Case is a farm as its week is looked at: its ground and mobs from a moment on, by the present plan.
type Case struct {
	Farm     rotation.Farm
	Mobs     []rotation.Mob
	Standing []rotation.Standing
	Pins     []rotation.Pin
	Moves    []rotation.Move // that a search found
	Now      time.Time
	Of       []int     // the mobs whose queue it is
	Classes  [][]Class // of each mob
	Swards   []Sward   // of each paddock
	Spared   float64   // kg DM a day that supplements spare of what the mobs of the queue would take from pasture
	Schools  []Way     // that a mob may be grazed by instead
}

// Way is a school as it asks of each paddock.
type Way struct {
	Key, Name string
	Limits    []grazing.Limits
}

// Class is a class of stock in a mob.
type Class struct {
	ID     string
	Name   string
	Head   float64
	Demand rotation.Daily // kg DM from pasture, all of it
}

// Sward is what levers ask of the sward of a paddock.
type Sward struct {
	Residual float64 // kg DM/ha that a cut leaves
	Legume   float64 // share of the sward
	Response float64 // kg DM a kg of nitrogen, at a moderate rate in its season
}

// Until is the end of what is looked at.
func (c Case) Until() time.Time { return c.Now.AddDate(0, 0, 7*Weeks) }

// ours tells whether a mob is one of those whose queue it is.
func (c Case) ours(mob int) bool { return slices.Contains(c.Of, mob) }

// ground tells which paddocks the mobs of the queue graze.
func (c Case) ground() []bool {
	out := make([]bool, len(c.Farm.Paddocks))
	for _, m := range c.Of {
		for p, on := range c.Mobs[m].Ground {
			out[p] = out[p] || on
		}
	}
	return out
}

// mobs are those whose queue it is.
func (c Case) mobs() (out []rotation.Mob) {
	for _, m := range c.Of {
		out = append(out, c.Mobs[m])
	}
	return out
}

// eaten is what the mobs of the queue eat on a day, kg DM.
func (c Case) eaten(at time.Time) (kg float64) {
	for _, m := range c.mobs() {
		kg += m.Demand.On(rotation.DayNumber(at, c.Farm.Location))
	}
	return kg
}

// run is the plan of the next weeks.
func (c Case) run() rotation.Plan {
	return rotation.Following(c.Farm, c.Mobs, c.Standing, c.Pins, c.Moves, c.Now, c.Until())
}

// Row is one paddock of the queue.
type Row struct {
	Paddock  int
	Target   float64         // kg DM/ha that it is to stand at, by its turn
	Unfed    float64         // the same if no supplement were fed; 0: none is
	Mark     *working.Figure // the target with its working
	Residual float64         // kg DM/ha that is left in it
	Entry    float64         // kg DM/ha to begin at, by the school
	TooOld   float64         // kg DM/ha above which it is past its best
	Turn     *time.Time      // when it is grazed next; nil: not in these weeks
	TurnMass float64         // kg DM/ha it will stand at then
	By       int             // mob that grazes it next, or now
	Grazed   bool            // stock are in it
	Found    bool
}

// Apart is a paddock of the ground that is out of the round, and why.
type Apart struct {
	Paddock int
	Why     string
}

// Week is a queue and what is to be said of it.
type Week struct {
	Rows    []Row
	Apart   []Apart
	AreaHa  float64         // in the round
	Entry   *working.Figure // the target of the first; nil: nothing eats
	Ahead   *working.Figure // days of feed without growth
	Lasts   float64         // days until stock are short, with growth; +Inf: they are not, in these weeks
	Length  *working.Figure // of the rotation as it is planned, days
	Advised *working.Figure // of the rotation that rest asks for, days; nil: nothing grows back in time
	Balance float64         // kg DM above the targets, or below them
	Demand  float64         // kg DM a day of the mobs of the queue
}

// Of is the week of a case by its plan.
func Of(c Case, plan rotation.Plan) Week {
	w := Week{Lasts: math.Inf(1)}
	w.Demand = c.eaten(c.Now)
	removed := 0.0
	for p, on := range c.ground() {
		if !on {
			continue
		}
		if why, closed := c.Farm.Paddocks[p].ClosedAt(c.Now); closed {
			w.Apart = append(w.Apart, Apart{p, why})
			continue
		}
		if c.Farm.Paddocks[p].Reserve {
			w.Apart = append(w.Apart, Apart{p, "kept in reserve"})
			continue
		}
		w.Rows = append(w.Rows, c.row(p, plan))
		w.AreaHa += c.Farm.Paddocks[p].AreaHa
	}
	slices.SortStableFunc(w.Rows, func(a, b Row) int { return c.before(a, b) })
	if figure := rotation.BreakEven(c.Farm, c.open(w.Rows), c.mobs(), c.Now, ""); figure != nil {
		removed = figure.Value * w.AreaHa
	}
	c.rotation(&w, plan)
	c.targets(&w, removed)
	for _, gap := range Gaps(c, plan) {
		w.Lasts = min(w.Lasts, gap.From.Sub(c.Now).Hours()/24)
	}
	return w
}

// open tells which paddocks are in the round.
func (c Case) open(rows []Row) []bool {
	out := make([]bool, len(c.Farm.Paddocks))
	for _, r := range rows {
		out[r.Paddock] = true
	}
	return out
}

// row is a paddock and its next turn.
func (c Case) row(p int, plan rotation.Plan) Row {
	r := Row{Paddock: p, By: rotation.Nowhere}
	var limits *grazing.Limits
	for _, m := range c.Of {
		if c.Mobs[m].In == p {
			r.Grazed, r.By = true, m
		}
		if c.Mobs[m].Ground[p] && limits == nil {
			l := c.Farm.Asks(c.Mobs[m], p, c.Now)
			limits = &l
		}
	}
	for _, v := range plan.Visits {
		if v.Paddock == p && !v.Fact && c.ours(v.Mob) && (r.Turn == nil || v.Enter.Before(*r.Turn)) {
			at := v.Enter
			r.Turn, r.TurnMass, r.Found = &at, v.MassIn, v.Found
			if !r.Grazed {
				r.By = v.Mob
			}
		}
	}
	l := limits.Entered(c.Standing[p].Mass)
	r.Residual, r.Entry, r.TooOld = l.Residual, l.Entry, l.TooOld
	return r
}

// before puts the next to be grazed first, those whose turn does not come in these weeks after them by what stands, and what is being grazed last.
func (c Case) before(a, b Row) int {
	if a.Grazed != b.Grazed {
		if a.Grazed {
			return 1
		}
		return -1
	}
	switch {
	case a.Turn != nil && b.Turn != nil && !a.Turn.Equal(*b.Turn):
		return a.Turn.Compare(*b.Turn)
	case a.Turn != nil && b.Turn == nil:
		return -1
	case a.Turn == nil && b.Turn != nil:
		return 1
	}
	return cmp.Compare(c.Standing[b.Paddock].Mass, c.Standing[a.Paddock].Mass)
}

// rotation adds how long the round is and how long it should be.
func (c Case) rotation(w *Week, plan rotation.Plan) {
	n := float64(len(w.Rows))
	stays, stay := 0.0, 0.0
	for _, v := range plan.Visits {
		if c.ours(v.Mob) && !v.Fact && v.Leave.Before(plan.To) {
			stay += v.Leave.Sub(v.Enter).Hours() / 24
			stays++
		}
	}
	if n == 0 || stays == 0 {
		return
	}
	mobs := float64(len(c.Of))
	stay /= stays
	length := working.Of("stays of the present plan over the paddocks in the round", working.New("Rotation length", "n × s ÷ m", n*stay/mobs, quantity.Day,
		working.T("n", "paddocks in the round", n, quantity.Count), working.T("s", "mean stay", stay, quantity.Day), working.T("m", "mobs on the round", mobs, quantity.Count)))
	w.Length = &length
	area, rest := 0.0, 0.0
	for _, r := range w.Rows {
		pad := c.Farm.Paddocks[r.Paddock]
		st := c.Standing[r.Paddock]
		st.Mass = max(1, r.Residual)
		days := c.Farm.DaysTo(r.Paddock, st, r.Entry, c.Now)
		for _, m := range c.Of {
			if c.Mobs[m].Ground[r.Paddock] {
				days = max(days, c.Mobs[m].Limits[r.Paddock].RestMin)
				break
			}
		}
		area += pad.AreaHa
		rest += pad.AreaHa * days
	}
	if rest /= area; math.IsInf(rest, 0) || rest > 200 {
		return
	}
	out, steps, err := grazing.Rotation(grazing.RotationIn{Rest: rest, Stay: stay, Mobs: mobs, Area: area})
	if err != nil {
		return
	}
	advised := working.Of("days from residual to entry at the growth of these weeks, or the least rest of the school, whichever is longer", append(steps,
		working.New("Rotation advised", "L ÷ m", out.Length/mobs, quantity.Day, working.T("L", "rotation length", out.Length, quantity.Day), working.T("m", "mobs on the round", mobs, quantity.Count)))...)
	w.Advised = &advised
}

// targets sets what each paddock of the queue is to stand at: the first at its residual and what must grow in a whole round, the last at its residual.
func (c Case) targets(w *Week, removed float64) {
	if len(w.Rows) == 0 || w.Length == nil || removed == 0 {
		return
	}
	in := grazing.QueueIn{Demand: removed, Length: w.Length.Value}
	residual, feed := 0.0, 0.0
	for _, r := range w.Rows {
		pad := c.Farm.Paddocks[r.Paddock]
		in.Paddocks = append(in.Paddocks, grazing.QueuePaddock{Name: pad.Name, Area: pad.AreaHa, Mass: c.Standing[r.Paddock].Mass})
		residual += r.Residual * pad.AreaHa / w.AreaHa
		feed += max(0, c.Standing[r.Paddock].Mass-r.Residual) * pad.AreaHa
	}
	in.Residual = residual
	out, steps, err := grazing.Queue(in)
	if err != nil {
		return
	}
	steps = slices.DeleteFunc(steps, func(s working.Step) bool { return s.Label != "Entry target" && s.Label != "Break-even growth" })
	entry := working.Of("what a whole round must grow, above the residual; paddocks further down have that much less of the round behind them", steps...)
	w.Entry = &entry
	unfed := 0.0 // how many times as much would be taken without supplements
	if w.Demand > 0 && c.Spared > 0 {
		unfed = (w.Demand + c.Spared) / w.Demand
	}
	for k := range w.Rows {
		r := &w.Rows[k]
		above := out.Rows[k].Target - residual
		if r.Target = r.Residual + above; unfed > 0 {
			r.Unfed = r.Residual + above*unfed
		}
		mark := working.Of("the first in the queue is to stand at the residual and what a whole round must grow, the last at its residual, those between in equal steps", working.New("Its mark", "R + ( E − Q ) × ( 1 − k ÷ n )", r.Target, quantity.ForageMass,
			working.T("R", "left in it", r.Residual, quantity.ForageMass), working.T("E", "target of the first", out.Entry, quantity.ForageMass), working.T("Q", "mean residual of the round", residual, quantity.ForageMass),
			working.T("k", "before it in the queue", float64(k), quantity.Count), working.T("n", "behind the first", float64(max(1, len(w.Rows)-1)), quantity.Count)))
		r.Mark = &mark
		w.Balance += (c.Standing[r.Paddock].Mass - r.Target) * c.Farm.Paddocks[r.Paddock].AreaHa
	}
	if w.Demand > 0 {
		ahead := working.Of("what stands above the residuals of the round, eaten and trodden, and nothing grows", working.New("Days ahead, without growth", "F ÷ D", feed/removed, quantity.Day,
			working.T("F", "above the residual", feed, quantity.Kilogram), working.T("D", "eaten and trodden a day", removed, quantity.Demand)))
		w.Ahead = &ahead
	}
}

// Gap is a time in which stock do not get what they need.
type Gap struct {
	From, Until time.Time
	Kg          float64 // DM that is missing
	Days        float64 // of what they eat
	Paddocks    []int   // that come up in it
}

// mouthful is the days of feed below which what is missing is no gap: nobody can tell it from what stands. Assumption, ours.
const mouthful = 0.05

// Gaps are the times of a plan in which the mobs of a queue do not get what they need.
func Gaps(c Case, plan rotation.Plan) []Gap {
	var out []Gap
	mine := rotation.Plan{}
	for _, v := range plan.Visits {
		if c.ours(v.Mob) {
			mine.Visits = append(mine.Visits, v)
		}
	}
	for _, span := range rotation.Short(mine) {
		g := Gap{From: span.From, Until: span.To}
		for _, v := range mine.Visits {
			if v.Short <= 0 || v.Enter.Before(span.From) || v.Enter.After(span.To) {
				continue
			}
			if !v.Held.IsZero() && (g.Kg == 0 || v.Held.Before(g.From)) {
				g.From = v.Held // what they find when they come lasts until then
			}
			g.Kg += v.Short
			if !slices.Contains(g.Paddocks, v.Paddock) {
				g.Paddocks = append(g.Paddocks, v.Paddock)
			}
		}
		if g.From.Before(c.Now) {
			g.From = c.Now
		}
		if eat := c.eaten(g.From); eat > 0 {
			g.Days = g.Kg / eat
		}
		if g.Days >= mouthful || c.eaten(g.From) == 0 {
			out = append(out, g)
		}
	}
	return out
}
