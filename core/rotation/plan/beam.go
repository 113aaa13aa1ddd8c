package plan

import (
	"cmp"
	"context"
	"math"
	"slices"
)

// A beam makes an opening that looks further than the eye: where a mob's stay ends it may go to any of a few paddocks, for as long as
// the residual and the longest stay allow, or half of that, or a slot more, or twice. Of all the beginnings of plans that come to the
// same moment only the best few go on.

const (
	widestBeam = 8      // beginnings that are kept at a moment
	beamWork   = 150000 // slots of paddocks and mobs that all of them may be: fewer are kept where a problem is large
	ripestFew  = 4      // paddocks that each of them tries for a mob
)

// stem is the beginning of a plan: one stay more than the stem before it.
type stem struct {
	before *stem
	mob    int // −1: no stay, the start
	pad    int
	from   int       // slot
	mass   []float64 // of each paddock when somebody last left it, or will have
	at     []int     // piece of that
	busy   []int     // slot until which each paddock is taken
	last   []float64 // when somebody left it; NaN: unknown
	worth  []float64 // as a cost
	here   []int     // of each mob
	until  []int     // slot in which it goes on
	cost   float64   // of its stays
	score  float64   // and of what is to come, by and large
}

func (b *stem) clone() *stem {
	c := *b
	c.before = b
	c.mass, c.at, c.busy, c.last = slices.Clone(b.mass), slices.Clone(b.at), slices.Clone(b.busy), slices.Clone(b.last)
	c.worth, c.here, c.until = slices.Clone(b.worth), slices.Clone(b.here), slices.Clone(b.until)
	return &c
}

// beamer grows stems.
type beamer struct {
	*state
	width int
	stems [][]*stem // by the slot in which somebody goes on next
	asked []int16   // paddock × slot: 1 + the mob that a pin has there
}

// beam is the opening that a beam finds, or nil where it finds none, or no time is left: it knows neither followers nor how many moves a day has hands for.
func (s *season) beam(ctx context.Context) *state {
	end := s.ahead(ctx)
	if end == nil {
		return nil
	}
	loc := newState(s).loc
	for st := end; st.mob >= 0; st = st.before {
		for t := st.from; t < st.until[st.mob]; t++ {
			loc[st.mob*s.slots+t] = int16(st.pad)
		}
	}
	return s.placed(loc)
}

// ahead grows stems up to the end, and gives the best of them.
func (s *season) ahead(ctx context.Context) *stem {
	if len(s.behind) > 0 || s.p.MostMoves > 0 {
		return nil
	}
	b := &beamer{state: newState(s), stems: make([][]*stem, s.slots+1), asked: make([]int16, s.paddocks*s.slots)}
	b.width = max(1, min(widestBeam, beamWork/(s.paddocks*s.mobs*s.slots)))
	for i, pin := range s.pinned {
		if pin >= 0 && s.pinPads[pin] != Off {
			b.asked[s.pinPads[pin]*s.slots+i%s.slots] = int16(i/s.slots + 1)
		}
	}
	b.stems[0] = []*stem{b.start()}
	for t := range s.slots {
		if ctx.Err() != nil {
			return nil
		}
		for len(b.stems[t]) > 0 { // several mobs may go on at once
			best := b.best(b.stems[t])
			b.stems[t] = nil
			for _, st := range best {
				b.grow(st, t)
			}
		}
	}
	if len(b.stems[s.slots]) == 0 {
		return nil
	}
	return b.best(b.stems[s.slots])[0]
}

// start is the stem of no stay.
func (b *beamer) start() *stem {
	s := b.season
	st := &stem{mob: -1, mass: slices.Clone(s.mass), at: make([]int, s.paddocks), busy: make([]int, s.paddocks), here: slices.Clone(s.in), until: make([]int, s.mobs)}
	for p, pad := range s.p.Paddocks {
		last := math.NaN()
		if pad.Rest != nil {
			last = s.at[0] - *pad.Rest
		}
		st.last = append(st.last, last)
		worth := s.worth(p, 0, s.mass[p])
		st.worth, st.cost = append(st.worth, worth), st.cost+worth
	}
	return st
}

// best are the few best of stems. Where two are as good and leave the mobs at the same place, one is enough.
func (b *beamer) best(stems []*stem) []*stem {
	slices.SortStableFunc(stems, func(x, y *stem) int { return cmp.Compare(x.score, y.score) })
	var out []*stem
	for _, st := range stems {
		same := slices.ContainsFunc(out, func(o *stem) bool {
			return math.Abs(o.score-st.score) < 1e-9 && slices.Equal(o.here, st.here) && slices.Equal(o.until, st.until)
		})
		if !same {
			out = append(out, st)
		}
		if len(out) == b.width {
			break
		}
	}
	return out
}

// grow lets the first mob that goes on in a slot do what it may.
func (b *beamer) grow(st *stem, t int) {
	s := b.season
	m := slices.Index(st.until, t)
	stood := t == 0 && s.in[m] == st.here[m]
	if stood {
		b.stay(st, m, st.here[m], t, true)
		if !s.free[m*s.slots] {
			return
		}
	}
	type option struct {
		pad  int
		ripe float64
	}
	var options []option
	for p := range s.paddocks {
		if p == st.here[m] || !b.open(st, m, p, t, st.here[m], false) {
			continue
		}
		k := s.first[t]
		options = append(options, option{p, s.ripe(m, p, k, st.here[m], s.after(p, st.at[p], k, st.mass[p]), st.last[p])})
	}
	slices.SortStableFunc(options, func(x, y option) int { return cmp.Compare(y.ripe, x.ripe) })
	for _, o := range options[:min(ripestFew, len(options))] {
		b.stay(st, m, o.pad, t, false)
	}
	if st.here[m] != Off && b.may(m, Off, t, st.here[m], false) {
		b.stay(st, m, Off, t, false)
	}
}

// open tells whether a mob may be in a paddock in a slot, where others stand and are pinned.
func (b *beamer) open(st *stem, m, p, t, before int, fact bool) bool {
	if p != Off {
		if other := int(b.asked[p*b.slots+t]); st.busy[p] > t || other != 0 && other != m+1 {
			return false
		}
	}
	return b.may(m, p, t, before, fact)
}

// stay adds stays of several lengths to a stem, each from slot t on. fact: the mob stood there at the start.
func (b *beamer) stay(st *stem, m, p, t int, fact bool) {
	s := b.season
	mass, since := 0.0, s.at[s.first[t]]
	if fact {
		since = s.since[m]
	}
	if p != Off {
		mass = s.after(p, st.at[p], s.first[t], st.mass[p])
	}
	// right: as long as residual and longest stay allow, off the pasture a day; most: as long as it may be, up to twice that.
	right, most, before := 0, 0, p
	if !fact {
		before = st.here[m]
	}
	for e := t; e < s.slots && b.open(st, m, p, e, before, fact); e++ {
		before, most = p, e+1-t
		k0, k1 := s.first[e], s.first[e+1]
		within := s.at[k1]-since <= 1+sameMoment
		if p != Off {
			mass, _ = s.graze(m, p, k0, k1, mass)
			l := s.limit(m, p, k0)
			within = mass >= l.residual && s.at[k1]-since <= l.stayMax+sameMoment
		}
		if right == e-t && within || e == t || !s.free[m*s.slots+e] {
			right = most
		} else if most >= 2*right {
			break
		}
	}
	lengths := []int{right, (right + 1) / 2, min(most, right+1), min(most, 2*right)}
	for i, n := range lengths {
		goesOn := t+n == s.slots || s.free[m*s.slots+t+n] || s.enters[m*s.slots+t+n]
		if n > 0 && goesOn && !slices.Contains(lengths[:i], n) {
			b.add(st, m, p, t, n, fact)
		}
	}
}

// add is a stem with one stay more.
func (b *beamer) add(st *stem, m, p, t, n int, fact bool) {
	s := b.season
	c := st.clone()
	c.mob, c.pad, c.from = m, p, t
	k0, k1 := s.first[t], s.first[t+n]
	wanted := s.until[m*(s.pieces+1)+k1] - s.until[m*(s.pieces+1)+k0]
	if !fact {
		c.cost += s.w.Move
		if was := st.here[m]; was != Off && p != Off {
			c.cost += s.w.Distance * s.km[was*s.paddocks+p]
		}
		if was := st.here[m]; t == 0 && was != Off { // it goes at once from where it stood
			c.cost += s.w.BelowResidual * max(0, s.limit(m, was, 0).residual-s.mass[was]) * s.p.Paddocks[was].AreaHa
			if c.busy[was] == 0 {
				c.last[was] = s.at[0]
			}
		}
	}
	if p == Off {
		price := s.w.Short
		if s.p.Mobs[m].MayHold {
			price = s.w.Feed
		}
		c.cost += price * wanted
	} else {
		in := s.after(p, st.at[p], k0, st.mass[p])
		out, eaten := s.graze(m, p, k0, k1, in)
		rest := -1.0
		if t == 0 && !fact && s.stands[p] >= 0 {
			rest = 0 // whoever stands there goes as they come
		} else if !fact && !math.IsNaN(st.last[p]) {
			rest = s.at[k0] - st.last[p]
		}
		var cost Cost
		s.charge(&cost, m, p, k0, k1, fact, in, out, rest, eaten)
		c.cost += cost.sum()
		was := c.worth[p]
		c.worth[p] = s.worth(p, k1, out)
		c.cost += c.worth[p] - was
		c.mass[p], c.at[p], c.last[p], c.busy[p] = out, k1, s.at[k1], t+n
	}
	c.here[m], c.until[m] = p, t+n
	next := slices.Min(c.until)
	c.score = c.cost
	for o := range s.mobs { // what some have eaten ahead of the next moment is not held against the stem
		c.score -= s.w.End * (s.until[o*(s.pieces+1)+s.first[c.until[o]]] - s.until[o*(s.pieces+1)+s.first[next]])
	}
	b.stems[next] = append(b.stems[next], c)
}
