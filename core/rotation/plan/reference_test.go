package plan

import (
	"fjell/core/chance"
	"fmt"
	"math"
	"sort"
	"testing"

	"github.com/stretchr/testify/require"
)

// What stands here is written apart from the engine, from the words of the problem alone and slowly: a judge of plans, and an
// enumerator of every plan there is.

// judged is the cost of a plan by the words of the problem; it fails the test where the plan is not allowed.
func judged(t *testing.T, p *Problem, visits []Visit) Cost {
	t.Helper()
	start := p.start()
	pad := map[string]int{}
	for i, x := range p.Paddocks {
		pad[x.Key] = i
	}
	cuts := moments(p, start, true)
	mass, left, known := make([]float64, len(p.Paddocks)), make([]float64, len(p.Paddocks)), make([]bool, len(p.Paddocks))
	for i, x := range p.Paddocks {
		mass[i] = x.Mass
		if x.Rest != nil {
			left[i], known[i] = start-*x.Rest, true
		}
	}
	type running struct {
		v        *Visit
		planned  bool
		from     float64
		in       float64
		rest     *float64
		ate, had float64
	}
	byMob := make([][]*Visit, len(p.Mobs))
	mobs := map[string]int{}
	for m, x := range p.Mobs {
		mobs[x.Key] = m
	}
	for i := range visits {
		v := &visits[i]
		byMob[mobs[v.Mob]] = append(byMob[mobs[v.Mob]], v)
	}
	var c Cost
	moved := map[int]int{}
	behind, followed := make([]*string, len(p.Mobs)), make([]bool, len(p.Mobs)) // where a follower would be, and that it went there
	before := make([]*string, len(p.Mobs))                                      // where the mob before a follower was last on pasture
	for m, x := range p.Mobs {
		behind[m] = x.In
		for _, o := range p.Mobs {
			if o.Key == x.Follows {
				before[m] = o.In
			}
		}
	}
	now := make([]*running, len(p.Mobs))
	next := make([]int, len(p.Mobs))
	same := func(a, b float64) bool { return math.Abs(a-b) < 1e-9 }
	allowedAt := moments(p, start, false)
	isMove := func(at float64) bool {
		i := sort.SearchFloat64s(allowedAt, at-1e-9)
		return i < len(allowedAt) && same(allowedAt[i], at)
	}
	leave := func(m int, at float64) {
		r := now[m]
		if r.v.Paddock != nil {
			i := pad[*r.v.Paddock]
			l := limitsOf(p, m, i, at)
			require.InDelta(t, mass[i], r.v.MassOut, 1e-6*(1+mass[i]), "mass out of %v", *r.v)
			require.InDelta(t, r.ate, r.v.Eaten, 1e-6*(1+r.ate))
			require.InDelta(t, r.had-r.ate, r.v.Short, 1e-6*(1+r.had))
			c.BelowResidual += p.Weights.BelowResidual * math.Max(0, l.Residual-mass[i]) * p.Paddocks[i].AreaHa
			since := r.from
			if !r.planned {
				since = r.v.Enter
			}
			if days := at - r.from; days > 0 {
				c.Stay += p.Weights.Stay * math.Max(0, at-since-l.StayMax) * r.had / days
			}
			if r.planned && r.rest != nil && l.RestMin > 0 && p.Mobs[m].Follows == "" {
				c.Rest += p.Weights.Rest * math.Max(0, 1-*r.rest/l.RestMin) * r.ate
			}
			left[i], known[i] = at, true
		}
		now[m] = nil
	}
	for k := 0; k+1 < len(cuts); k++ {
		at := cuts[k]
		var moving []int
		for m := range p.Mobs {
			if r := now[m]; r != nil && same(r.v.Leave, at) {
				leave(m, at)
			}
			for k == 0 && now[m] == nil && next[m] < len(byMob[m]) { // who stands there at the start
				v := byMob[m][0]
				if (v.Paddock == nil) != (p.Mobs[m].In == nil) || v.Paddock != nil && *v.Paddock != *p.Mobs[m].In || !(v.Enter <= at+1e-9) {
					require.Nil(t, p.Mobs[m].In, "%s stand in a paddock and nothing says so", p.Mobs[m].Key)
					break
				}
				next[m] = 1
				r := &running{v: v, from: at}
				if v.Paddock != nil {
					r.in = mass[pad[*v.Paddock]]
					if p.Mobs[m].Since != nil {
						require.InDelta(t, *p.Mobs[m].Since, v.Enter, 1e-9)
					}
				}
				now[m] = r
				if !same(v.Leave, at) {
					break
				}
				leave(m, at)
				break
			}
			if now[m] == nil {
				moving = append(moving, m)
			}
		}
		for _, m := range moving {
			require.Less(t, next[m], len(byMob[m]), "a gap of %s on day %g", p.Mobs[m].Key, at)
			v := byMob[m][next[m]]
			require.InDelta(t, at, v.Enter, 1e-9, "a gap of %s", p.Mobs[m].Key)
			require.True(t, isMove(at), "day %g is no moment to move", at)
			r := &running{v: v, planned: true, from: at}
			c.Move += p.Weights.Move
			moved[int(math.Floor(at+1e-9))]++
			before := p.Mobs[m].In
			if next[m] > 0 {
				before = byMob[m][next[m]-1].Paddock
			}
			next[m]++
			if v.Paddock != nil {
				i := pad[*v.Paddock]
				l := limitsOf(p, m, i, at)
				if p.Mobs[m].Ground != nil {
					require.Contains(t, p.Mobs[m].Ground, *v.Paddock)
				}
				if before != nil {
					require.NotEqual(t, *before, *v.Paddock, "from a paddock to itself")
					b := p.Paddocks[pad[*before]]
					c.Distance += p.Weights.Distance * math.Hypot(b.X-p.Paddocks[i].X, b.Y-p.Paddocks[i].Y) / 1000
				}
				r.in = mass[i]
				require.InDelta(t, mass[i], v.MassIn, 1e-6*(1+mass[i]))
				if p.Mobs[m].Follows == "" {
					c.Early += p.Weights.Early * math.Max(0, l.Entry-mass[i]) * p.Paddocks[i].AreaHa
					c.Late += p.Weights.Late * math.Max(0, mass[i]-l.TooOld) * p.Paddocks[i].AreaHa
				}
				if known[i] {
					rest := at - left[i]
					r.rest = &rest
					require.NotNil(t, v.Rest)
					require.InDelta(t, rest, *v.Rest, 1e-9)
				} else {
					require.Nil(t, v.Rest)
				}
			} else {
				require.True(t, p.Mobs[m].MayHold || p.Mobs[m].Follows != "", "%s may not be held", p.Mobs[m].Key)
			}
			now[m] = r
		}
		for m, x := range p.Mobs { // a follower is where the mob before it was last, as far as it may
			if x.Follows == "" {
				continue
			}
			lead := mobs[x.Follows]
			here := now[lead].v.Paddock
			if was := before[m]; here != nil && was != nil && *here != *was {
				behind[m], followed[m] = was, true
			}
			off := here == nil && before[m] != nil && x.MayHold
			if here != nil {
				before[m] = here
			}
			want := behind[m]
			if off {
				want, followed[m] = nil, true
			}
			if followed[m] && want != nil {
				open := x.Ground == nil || contains(x.Ground, *want)
				for _, cl := range p.Paddocks[pad[*want]].Closed {
					for j := k; j+1 < len(cuts) && (j == k || !isMove(cuts[j])); j++ {
						open = open && !(cuts[j] >= cl.From-1e-9 && cuts[j] < cl.Until-1e-9)
					}
				}
				if isMove(at) && !open {
					want = nil
				} else if !isMove(at) {
					want = now[m].v.Paddock
				}
			}
			require.Equal(t, want, now[m].v.Paddock, "%s follow %s on day %g", x.Key, x.Follows, at)
		}
		// The piece: everything grows, then mob after mob eats.
		days, day := cuts[k+1]-at, int(math.Floor(at+1e-9))
		for i, x := range p.Paddocks {
			if mass[i] > 0 {
				mass[i] = x.Ceiling / (1 + (x.Ceiling/mass[i]-1)*math.Exp(-4*x.Peak.On(day)/x.Ceiling*days))
			}
		}
		taken := map[int]bool{}
		for m := range p.Mobs {
			r := now[m]
			want := p.Mobs[m].Demand.On(day) * days
			if r.v.Paddock == nil {
				if p.Mobs[m].MayHold {
					c.Feed += p.Weights.Feed * want
				} else {
					c.Short += p.Weights.Short * want
				}
				continue
			}
			i := pad[*r.v.Paddock]
			require.False(t, taken[i], "two mobs in %s", *r.v.Paddock)
			taken[i] = true
			for _, cl := range p.Paddocks[i].Closed {
				if r.planned {
					require.False(t, at >= cl.From-1e-9 && at < cl.Until-1e-9, "%s is closed on day %g", *r.v.Paddock, at)
				}
			}
			l := limitsOf(p, m, i, at)
			eaten := math.Min(want, math.Max(0, mass[i]-l.Residual/2)*p.Paddocks[i].AreaHa*l.Utilisation)
			mass[i] -= eaten / l.Utilisation / p.Paddocks[i].AreaHa
			r.ate, r.had = r.ate+eaten, r.had+want
			c.Short += p.Weights.Short * (want - eaten)
			if p.Paddocks[i].Reserve {
				c.Reserve += p.Weights.Reserve * eaten
			}
		}
	}
	end := cuts[len(cuts)-1]
	for m := range p.Mobs {
		require.NotNil(t, now[m])
		require.InDelta(t, end, now[m].v.Leave, 1e-9)
		leave(m, end)
		require.Equal(t, len(byMob[m]), next[m])
	}
	for i := range p.Paddocks {
		for m := range p.Mobs {
			if p.Mobs[m].Ground == nil || contains(p.Mobs[m].Ground, p.Paddocks[i].Key) {
				l := limitsOf(p, m, i, end)
				c.End -= p.Weights.End * math.Max(0, math.Min(mass[i], l.TooOld)-l.Residual) * p.Paddocks[i].AreaHa
				break
			}
		}
	}
	for _, n := range moved {
		if p.MostMoves > 0 {
			c.Many += p.Weights.Many * math.Max(0, float64(n-p.MostMoves))
		}
	}
	for _, pin := range p.Pins {
		kept := false
		for _, v := range byMob[mobs[pin.Mob]] {
			kept = kept || same(v.Enter, pin.Enter) && (pin.Leave == nil || same(v.Leave, *pin.Leave)) &&
				(v.Paddock == nil) == (pin.Paddock == nil) && (v.Paddock == nil || *v.Paddock == *pin.Paddock)
		}
		require.True(t, kept, "the pin of %s on day %g", pin.Mob, pin.Enter)
	}
	c.sum()
	return c
}

func contains(list []string, key string) bool {
	for _, k := range list {
		if k == key {
			return true
		}
	}
	return false
}

// limitsOf are the limits of a mob in a paddock at a moment; at the end those of the last day.
func limitsOf(p *Problem, m, i int, at float64) Limits {
	l := *p.Mobs[m].Limits
	if own, ok := p.Mobs[m].LimitsByPaddock[p.Paddocks[i].Key]; ok {
		l = own
	}
	day := math.Min(math.Floor(at+1e-9), float64(p.Days-1))
	for k := len(l.Times) - 1; k >= 0; k-- {
		if x := l.Times[k]; day >= x.From && day < x.Until {
			l.Entry, l.TooOld, l.Residual = x.Entry, x.TooOld, x.Residual
		}
	}
	return l
}

// moments are the cuts of a problem, its start and end among them; or, without midnights, the moments at which stock may be moved.
func moments(p *Problem, start float64, all bool) []float64 {
	var out []float64
	if all {
		out = []float64{start, float64(p.Days)}
	}
	for d := 0; d < p.Days; d++ {
		if all && float64(d) > start+1e-9 {
			out = append(out, float64(d))
		}
		for _, h := range p.MoveHours {
			may := p.MoveDays == nil
			for _, x := range p.MoveDays {
				may = may || x == d
			}
			if at := float64(d) + h/24; at > start-1e-9 && (all || may) {
				out = append(out, at)
			}
		}
	}
	sort.Float64s(out)
	var once []float64
	for _, at := range out {
		if len(once) == 0 || at-once[len(once)-1] > 1e-9 {
			once = append(once, at)
		}
	}
	return once
}

// cheapest is what the cheapest of all plans costs, by going through them: who is where between two moments at which stock may be moved.
func cheapest(p *Problem) float64 {
	start := p.start()
	cuts, moves := moments(p, start, true), moments(p, start, false)
	e := &enumerator{p: p, cuts: cuts, best: math.Inf(1)}
	e.begins = map[int]bool{}
	for k, at := range cuts[:len(cuts)-1] {
		for _, mv := range moves {
			if math.Abs(at-mv) < 1e-9 {
				e.begins[k] = true
			}
		}
	}
	index := map[string]int{}
	for i, x := range p.Paddocks {
		index[x.Key] = i
	}
	for _, follows := range []bool{false, true} {
		for m, x := range p.Mobs {
			if (x.Follows != "") == follows {
				e.order = append(e.order, m)
			}
		}
	}
	s := enumerated{}
	for _, x := range p.Paddocks {
		s.mass = append(s.mass, x.Mass)
		last := math.NaN()
		if x.Rest != nil {
			last = start - *x.Rest
		}
		s.left = append(s.left, last)
		e.most += p.Weights.End * x.Ceiling * x.AreaHa
	}
	for _, x := range p.Mobs {
		g := grazing{at: Off, since: start, entered: start}
		if x.In != nil {
			g.at = index[*x.In]
			if x.Since != nil {
				g.since = *x.Since
			}
		}
		g.place, g.last, g.stood = g.at, g.at, true
		s.mobs = append(s.mobs, g)
	}
	e.moment(0, s)
	return e.best
}

type grazing struct {
	at             int
	last           int  // the paddock it was in last
	place          int  // of a follower: where it would be
	stood          bool // and whether it has moved since the start
	planned        bool
	since, entered float64
	rest           float64 // NaN: unknown
	ate, had       float64
}

type enumerated struct {
	mass, left []float64
	mobs       []grazing
	cost       float64
	moved      []int // day of each move
}

func (s enumerated) copied() enumerated {
	return enumerated{append([]float64(nil), s.mass...), append([]float64(nil), s.left...), append([]grazing(nil), s.mobs...), s.cost, s.moved}
}

type enumerator struct {
	p      *Problem
	cuts   []float64
	begins map[int]bool
	best   float64
	most   float64
	order  []int // who goes their own way first
}

func (e *enumerator) leave(s *enumerated, m int, at float64) {
	g := &s.mobs[m]
	if g.at == Off {
		return
	}
	l, w := limitsOf(e.p, m, g.at, at), e.p.Weights
	s.cost += w.BelowResidual * math.Max(0, l.Residual-s.mass[g.at]) * e.p.Paddocks[g.at].AreaHa
	if days := at - g.entered; days > 0 {
		s.cost += w.Stay * math.Max(0, at-g.since-l.StayMax) * g.had / days
	}
	if g.planned && !math.IsNaN(g.rest) && l.RestMin > 0 && e.p.Mobs[m].Follows == "" {
		s.cost += w.Rest * math.Max(0, 1-g.rest/l.RestMin) * g.ate
	}
	s.left[g.at] = at
}

// moment is what can be done at a cut, and all that follows.
func (e *enumerator) moment(k int, s enumerated) {
	if s.cost-e.most >= e.best {
		return // everything but the end only adds
	}
	at := e.cuts[k]
	if k == len(e.cuts)-1 {
		for m := range s.mobs {
			e.leave(&s, m, at)
		}
		for i, x := range e.p.Paddocks {
			for m, mob := range e.p.Mobs {
				if mob.Ground == nil || contains(mob.Ground, x.Key) {
					l := limitsOf(e.p, m, i, at)
					s.cost -= e.p.Weights.End * math.Max(0, math.Min(s.mass[i], l.TooOld)-l.Residual) * x.AreaHa
					break
				}
			}
		}
		e.best = math.Min(e.best, s.cost)
		return
	}
	if !e.begins[k] {
		e.piece(k, s.copied())
		return
	}
	e.choose(k, 0, make([]int, len(s.mobs)), s)
}

func (e *enumerator) choose(k, i int, to []int, s enumerated) {
	m := len(to)
	if i < len(to) {
		m = e.order[i]
	}
	if m < len(to) && e.p.Mobs[m].Follows != "" {
		s = s.copied()
		lead, g := 0, &s.mobs[m]
		for i, x := range e.p.Mobs {
			if x.Key == e.p.Mobs[m].Follows {
				lead = i
			}
		}
		if was := s.mobs[lead].last; to[lead] != Off && to[lead] != was && was != Off {
			g.place, g.stood = was, false
		}
		q := g.place
		if to[lead] == Off && s.mobs[lead].last != Off && e.p.Mobs[m].MayHold {
			q, g.stood = Off, false
		}
		if q != Off && !g.stood {
			x := e.p.Paddocks[q]
			shut := e.p.Mobs[m].Ground != nil && !contains(e.p.Mobs[m].Ground, x.Key)
			for j := k; j+1 < len(e.cuts) && (j == k || !e.begins[j]); j++ {
				for _, c := range x.Closed {
					shut = shut || e.cuts[j] >= c.From-1e-9 && e.cuts[j] < c.Until-1e-9
				}
			}
			if shut {
				q = Off
			}
		}
		for _, n := range e.order[:i] {
			if q != Off && to[n] == q {
				return
			}
		}
		to[m] = q
		e.choose(k, i+1, to, s)
		return
	}
	if m < len(to) {
		for q := Off; q < len(e.p.Paddocks); q++ {
			if q == Off && q != s.mobs[m].at && !e.p.Mobs[m].MayHold || q != Off && q != s.mobs[m].at && e.p.Mobs[m].Ground != nil && !contains(e.p.Mobs[m].Ground, e.p.Paddocks[q].Key) {
				continue
			}
			free := true
			for _, n := range e.order[:i] {
				free = free && (q == Off || to[n] != q)
			}
			if free {
				to[m] = q
				e.choose(k, i+1, to, s)
			}
		}
		return
	}
	s = s.copied()
	at, w := e.cuts[k], e.p.Weights
	var moving []int
	from := make([]int, len(to))
	for n := range to {
		from[n] = s.mobs[n].at
		if to[n] != s.mobs[n].at {
			e.leave(&s, n, at)
			moving = append(moving, n)
		}
	}
	for _, n := range moving {
		q := to[n]
		g := grazing{at: q, last: s.mobs[n].last, place: s.mobs[n].place, stood: s.mobs[n].stood, planned: true, since: at, entered: at, rest: math.NaN()}
		s.cost += w.Move
		if d := int(math.Floor(at + 1e-9)); e.p.MostMoves > 0 {
			s.moved = append(append([]int(nil), s.moved...), d)
			n := 0
			for _, other := range s.moved {
				if other == d {
					n++
				}
			}
			if n > e.p.MostMoves {
				s.cost += w.Many
			}
		}
		if q != Off {
			g.last = q
			x, l := e.p.Paddocks[q], limitsOf(e.p, n, q, at)
			if from[n] != Off {
				s.cost += w.Distance * math.Hypot(x.X-e.p.Paddocks[from[n]].X, x.Y-e.p.Paddocks[from[n]].Y) / 1000
			}
			if e.p.Mobs[n].Follows == "" {
				s.cost += w.Early*math.Max(0, l.Entry-s.mass[q])*x.AreaHa + w.Late*math.Max(0, s.mass[q]-l.TooOld)*x.AreaHa
			}
			g.rest = at - s.left[q]
		}
		s.mobs[n] = g
	}
	e.piece(k, s)
}

func (e *enumerator) piece(k int, s enumerated) {
	at, days, day := e.cuts[k], e.cuts[k+1]-e.cuts[k], int(math.Floor(e.cuts[k]+1e-9))
	for i, x := range e.p.Paddocks {
		if s.mass[i] > 0 {
			s.mass[i] = x.Ceiling / (1 + (x.Ceiling/s.mass[i]-1)*math.Exp(-4*x.Peak.On(day)/x.Ceiling*days))
		}
	}
	for m := range s.mobs {
		g := &s.mobs[m]
		want := e.p.Mobs[m].Demand.On(day) * days
		if g.at == Off {
			if e.p.Mobs[m].MayHold {
				s.cost += e.p.Weights.Feed * want
			} else {
				s.cost += e.p.Weights.Short * want
			}
			continue
		}
		for _, c := range e.p.Paddocks[g.at].Closed {
			if g.planned && at >= c.From-1e-9 && at < c.Until-1e-9 {
				return
			}
		}
		l, area := limitsOf(e.p, m, g.at, at), e.p.Paddocks[g.at].AreaHa
		eaten := math.Min(want, math.Max(0, s.mass[g.at]-l.Residual/2)*area*l.Utilisation)
		s.mass[g.at] -= eaten / l.Utilisation / area
		g.ate, g.had = g.ate+eaten, g.had+want
		s.cost += e.p.Weights.Short * (want - eaten)
		if e.p.Paddocks[g.at].Reserve {
			s.cost += e.p.Weights.Reserve * eaten
		}
	}
	e.moment(k+1, s)
}

// anyProblem is a made-up problem: paddocks of many masses and rests, mobs of all kinds.
func anyProblem(seed uint64, paddocks, mobs, days int, hours ...float64) *Problem {
	d := chance.Draws(seed * 7919)
	between := func(a, b float64) float64 { return a + (b-a)*d.Share() }
	p := &Problem{Days: days, MoveHours: hours, Weights: Usual, Seed: 1, Seconds: 2}
	area := 0.0
	for i := range paddocks {
		pad := Paddock{Key: fmt.Sprintf("p%d", i+1), AreaHa: between(0.8, 3), Mass: between(1300, 3000), Ceiling: between(4000, 6000), X: between(0, 1200), Y: between(0, 1200)}
		growth := between(20, 70)
		for range days {
			growth = math.Max(2, growth+between(-3, 2.8))
			pad.Peak = append(pad.Peak, growth)
		}
		if d.Below(3) > 0 {
			rest := between(0, 40)
			pad.Rest = &rest
		}
		if d.Below(5) == 0 {
			from := between(0, float64(days))
			pad.Closed = []Closed{{from, from + between(1, 10)}}
		}
		area += pad.AreaHa
		kept := chance.Draws(seed*15485863 + uint64(i))
		pad.Reserve = kept.Below(6) == 0
		p.Paddocks = append(p.Paddocks, pad)
	}
	for m := range mobs {
		mob := Mob{Key: fmt.Sprintf("m%d", m+1), MayHold: d.Below(2) == 0, Demand: Series{area / float64(mobs) * between(15, 60)},
			Limits: &Limits{between(2300, 2800), between(2900, 3300), between(1200, 1700), between(5, 25), between(1, 4), between(0.7, 1), nil}}
		if d.Below(4) > 0 {
			key, since := p.Paddocks[m].Key, -between(0, 2)
			mob.In, mob.Since = &key, &since
		}
		if d.Below(5) == 0 {
			for i := m; i < paddocks; i++ {
				mob.Ground = append(mob.Ground, p.Paddocks[i].Key)
			}
		}
		if times := chance.Draws(seed*104729 + uint64(m)); times.Below(3) == 0 { // taller for a time
			from, l := float64(times.Below(days)), mob.Limits
			more := 900*times.Share() - 400
			l.Times = []Time{{from, from + 1 + float64(times.Below(days)), l.Entry + more, l.TooOld + more, l.Residual + more}}
		}
		p.Mobs = append(p.Mobs, mob)
	}
	return p
}
