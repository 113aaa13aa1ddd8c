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
	ID        string // of its record
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
// Traces begin at `from`.
func Recount(farm Farm, mobs []Mob, guesses []Standing, stays []Stay, measured []Measured, from, to time.Time) Past {
	type event struct {
		at   time.Time
		rank int // leave, then measure, then enter
		do   func(*runner)
	}
	var events []event
	past := Past{Standing: append([]Standing(nil), guesses...), Bites: make([][]forage.Bite, len(farm.Paddocks))}
	bite := func(r *runner, s Stay, until time.Time) {
		if r.in[s.Mob] == s.Paddock && r.removed[s.Mob] > 0 {
			past.Bites[s.Paddock] = append(past.Bites[s.Paddock], forage.Bite{From: s.Enter, Until: until, Removed: r.removed[s.Mob]})
		}
	}
	for _, s := range stays {
		if s.Enter.After(to) {
			continue
		}
		events = append(events, event{s.Enter, 2, func(r *runner) { r.enter(s.Mob, s.Paddock) }})
		if s.Leave.IsZero() || s.Leave.After(to) {
			continue
		}
		left := s.Leave
		events = append(events, event{left, 0, func(r *runner) {
			if r.in[s.Mob] == s.Paddock {
				bite(r, s, left)
				r.leave(s.Mob)
			}
			past.Standing[s.Paddock].LastLeft = &left
		}})
	}
	for _, m := range measured {
		if m.At.After(to) || m.Mass <= 0 {
			continue
		}
		events = append(events, event{m.At, 1, func(r *runner) { r.measure(m, &past) }})
	}
	slices.SortStableFunc(events, func(a, b event) int {
		if c := a.at.Compare(b.at); c != 0 {
			return c
		}
		return a.rank - b.rank
	})
	start := from
	if len(events) > 0 && events[0].at.Before(start) {
		start = events[0].at
	}
	r := newRunner(farm, mobs, guesses, start)
	r.traceFrom, r.beliefs = from, make([]forage.Estimate, len(farm.Paddocks))
	for i := range r.known {
		r.known[i], r.trace[i], r.factor[i] = false, nil, 1
	}
	r.dawn()
	for _, e := range events {
		r.advance(e.at)
		e.do(r)
	}
	r.advance(to)
	for m, p := range r.in {
		if p == Nowhere {
			continue
		}
		for _, s := range stays {
			if s.Mob == m && s.Paddock == p && !s.Enter.After(to) && (s.Leave.IsZero() || s.Leave.After(to)) {
				bite(r, s, to)
			}
		}
	}
	for p := range farm.Paddocks {
		s := &past.Standing[p]
		s.Mass, s.At = r.mass[p], to
		if r.known[p] {
			b := &r.beliefs[p]
			s.HalfWidth, s.Shared = b.HalfWidth(s.Shared), 1.96*s.Shared*s.Mass
			s.Factor, s.FactorHalf = b.Factor, 1.96*b.FactorSpread()
		}
		r.mark(p)
	}
	past.Trace, past.Totals, past.Mass = r.trace, r.totals, r.mass
	return past
}

// measure corrects a paddock by what somebody found standing. Half of the variance of a method's own error is new each
// time; the other half comes back with every walk and stays in the half-width.
func (r *runner) measure(m Measured, past *Past) {
	p := m.Paddock
	method := m.Shared / 1.96 / m.Mass
	fresh, shared := forage.SplitError(method)
	sampling := math.Sqrt(math.Max(0, m.HalfWidth*m.HalfWidth-m.Shared*m.Shared)) / 1.96 / m.Mass
	share := math.Max(0.01, math.Hypot(sampling, fresh))
	before := r.mass[p]
	if r.known[p] {
		r.mark(p)
		believed := r.beliefs[p].Mass()
		if surprise := r.beliefs[p].Measure(m.Mass, share); math.Abs(surprise) > forage.Far {
			past.Odd = append(past.Odd, Odd{p, m.ID, m.At, believed, m.Mass, surprise})
		}
	} else {
		r.beliefs[p], r.known[p] = forage.Believe(m.Mass, share), true
	}
	r.mass[p] = r.beliefs[p].Mass()
	r.totals[p].Corrected += (r.mass[p] - before) * r.farm.Paddocks[p].AreaHa
	r.mark(p)
	s := &past.Standing[p]
	s.Guessed, s.MeasuredAt = false, m.At
	s.Shared = shared // a share, until the recount ends
	s.Looks++
}
