package plan

import (
	"context"
	"math"
)

// prover goes through every allowed plan of a small problem, slot by slot, and leaves out what cannot become cheaper than the
// best plan known: what a beginning costs so far, the most that its paddocks could be worth at the end if nobody came to them any
// more, and the least that what is still to be eaten must cost. When it has been through, the best plan known is the cheapest there is, and its cost its own bound.
type prover struct {
	*state
	frames []frame
	left   int // nodes it may still look at
	best   *state
	limit  float64
	ctx    context.Context
}

// frame is the ground and the mobs at the beginning of a slot.
type frame struct {
	mass, last []float64 // last: when somebody left; NaN: unknown
	worth      []float64 // the most each paddock can be worth at the end, as a cost: 0 or below
	ripe       []float64 // the mass at the end that it would be worth that for
	at         []int
	entered    []int // slot; −1: stood there at the start
	rest       []float64
	eaten      []float64
	stood      []bool
	cost       float64 // of what has happened, and of rest missed so far
	sum        float64 // of worth
	toCome     float64 // the least that the demand from here on costs
}

func newFrame(s *season) frame {
	return frame{make([]float64, s.paddocks), make([]float64, s.paddocks), make([]float64, s.paddocks), make([]float64, s.paddocks), make([]int, s.mobs), make([]int, s.mobs), make([]float64, s.mobs),
		make([]float64, s.mobs), make([]bool, s.mobs), 0, 0, 0}
}

func (f *frame) take(o *frame) {
	copy(f.mass, o.mass)
	copy(f.last, o.last)
	copy(f.worth, o.worth)
	copy(f.ripe, o.ripe)
	copy(f.at, o.at)
	copy(f.entered, o.entered)
	copy(f.rest, o.rest)
	copy(f.eaten, o.eaten)
	copy(f.stood, o.stood)
	f.cost, f.sum, f.toCome = o.cost, o.sum, o.toCome
}

// prove looks for the cheapest plan by going through all. It gives the best it knows, and whether it went through.
func prove(ctx context.Context, known *state, nodes int) (best *state, proven bool) {
	s := known.season
	pr := &prover{state: newState(s), left: nodes, best: known, limit: known.cost - 1e-9, ctx: ctx}
	for range s.slots + 1 {
		pr.frames = append(pr.frames, newFrame(s), newFrame(s))
	}
	f := &pr.frames[0]
	for p, pad := range s.p.Paddocks {
		f.mass[p], f.last[p] = s.mass[p], math.NaN()
		if pad.Rest != nil {
			f.last[p] = s.at[0] - *pad.Rest
		}
		f.worth[p], f.ripe[p] = s.standing(p, 0, s.mass[p])
		f.sum += f.worth[p]
	}
	for m := range s.mobs {
		f.at[m], f.entered[m], f.rest[m], f.stood[m] = s.in[m], -1, math.NaN(), true
	}
	proven = pr.slot(0)
	return pr.best, proven
}

// worth is what a paddock that is left alone from a piece on counts at the end.
func (s *season) worth(p, piece int, mass float64) float64 {
	worth, _ := s.standing(p, piece, mass)
	return worth
}

// standing is worth, with the mass at the end that it counts, no less than the residual.
func (s *season) standing(p, piece int, mass float64) (worth, ripe float64) {
	if !s.valued[p] {
		return 0, 0
	}
	l := &s.ends[p]
	ripe = max(l.residual, min(s.after(p, piece, s.pieces, mass), l.old))
	return -s.w.End * (ripe - l.residual) * s.p.Paddocks[p].AreaHa, ripe
}

// toCome is the least that the demand from a piece on must cost. What is eaten from a paddock is missing at its end, or was left below a
// residual, but for what it can grow over its end as it is counted; what is not eaten is short or fed.
func (s *season) toCome(piece int, mass, ripe []float64) float64 {
	kg := s.hungry[piece]
	for p, m := range mass {
		free := max(0, m+s.growable[p*(s.pieces+1)+piece]-ripe[p]) + s.slack[p]
		if s.valued[p] || s.stands[p] >= 0 { // nobody's ground counts nothing at the end, but who stands there at the start eats of it
			kg -= s.p.Paddocks[p].AreaHa * free
		}
	}
	return max(0, kg) * s.cheapestKg
}

// slot tries everything that can be done from a slot on; false when it was stopped.
func (pr *prover) slot(t int) bool {
	f := &pr.frames[2*t]
	if t == pr.slots {
		pr.end(f)
		return true
	}
	return pr.choose(t, 0)
}

// choose places mob after mob for a slot.
func (pr *prover) choose(t, m int) bool {
	s := pr.season
	f := &pr.frames[2*t]
	if m == s.mobs {
		return pr.play(t)
	}
	for k := -1; k < s.paddocks+1; k++ {
		p := k
		switch {
		case k == -1:
			p = f.at[m] // first what costs no move
		case k == s.paddocks:
			p = Off
		}
		if k >= 0 && p == f.at[m] || !pr.may(m, p, t, f.at[m], f.stood[m] && p == f.at[m]) {
			continue
		}
		if p != Off && pr.occ[p*s.slots+t] != 0 {
			continue
		}
		pr.loc[m*s.slots+t] = int16(p)
		if p != Off {
			pr.occ[p*s.slots+t] = int16(m + 1)
		}
		went := pr.choose(t, m+1)
		if p != Off {
			pr.occ[p*s.slots+t] = 0
		}
		if !went {
			return false
		}
	}
	return true
}

// play moves the mobs as they were placed, lets the slot pass, and goes on, unless nothing good can come of it.
func (pr *prover) play(t int) bool {
	if pr.left--; pr.left < 0 || pr.left&4095 == 0 && pr.ctx.Err() != nil {
		return false
	}
	s := pr.season
	from, f := &pr.frames[2*t], &pr.frames[2*t+2]
	f.take(from)
	k0, k1 := s.first[t], s.first[t+1]
	for m := range s.mobs {
		if p := int(pr.loc[m*s.slots+t]); p != from.at[m] {
			pr.leave(f, m, t)
		}
	}
	for m := range s.mobs {
		p, was := int(pr.loc[m*s.slots+t]), from.at[m]
		if p == was {
			continue
		}
		f.at[m], f.entered[m], f.eaten[m], f.stood[m], f.rest[m] = p, t, 0, false, math.NaN()
		f.cost += s.w.Move
		if p == Off {
			continue
		}
		if was != Off {
			f.cost += s.w.Distance * s.km[was*s.paddocks+p]
		}
		l := s.limit(m, p, k0)
		f.cost += (s.w.Early*max(0, l.entry-f.mass[p]) + s.w.Late*max(0, f.mass[p]-l.old)) * l.area
		f.rest[m] = s.at[k0] - f.last[p]
	}
	if f.cost+f.sum+f.toCome >= pr.limit {
		return true
	}
	for m := range s.mobs {
		p := f.at[m]
		wanted := s.until[m*(s.pieces+1)+k1] - s.until[m*(s.pieces+1)+k0]
		if p == Off {
			price := s.w.Feed
			if !s.p.Mobs[m].MayHold {
				price = s.w.Short
			}
			f.cost += price * wanted
			continue
		}
		var ate float64
		f.mass[p], ate = s.graze(m, p, k0, k1, f.mass[p])
		f.eaten[m] += ate
		f.cost += s.w.Short * max(0, wanted-ate)
		if s.p.Paddocks[p].Reserve {
			f.cost += s.w.Reserve * ate
		}
		if l := s.limit(m, p, k0); l.restMin > 0 && f.rest[m] < l.restMin {
			f.cost += s.w.Rest * (1 - f.rest[m]/l.restMin) * ate
		}
		f.sum -= f.worth[p]
		f.worth[p], f.ripe[p] = s.standing(p, k1, f.mass[p])
		f.sum += f.worth[p]
	}
	for p := range s.paddocks {
		if pr.occ[p*s.slots+t] == 0 {
			f.mass[p] = s.after(p, k0, k1, f.mass[p])
		}
	}
	f.toCome = s.toCome(k1, f.mass, f.ripe)
	if f.cost+f.sum+f.toCome >= pr.limit {
		return true
	}
	return pr.slot(t + 1)
}

// leave takes a mob out of where it stands, at the beginning of a slot.
func (pr *prover) leave(f *frame, m, t int) {
	s := pr.season
	p := f.at[m]
	if p == Off {
		return
	}
	k1 := s.first[t]
	l := s.limit(m, p, k1)
	f.cost += s.w.BelowResidual * max(0, l.residual-f.mass[p]) * l.area
	k0, since := 0, s.since[m]
	if f.entered[m] >= 0 {
		k0 = s.first[f.entered[m]]
		since = s.at[k0]
	}
	if days := s.at[k1] - s.at[k0]; days > 0 {
		wanted := s.until[m*(s.pieces+1)+k1] - s.until[m*(s.pieces+1)+k0]
		f.cost += s.w.Stay * max(0, s.at[k1]-since-l.stayMax) * wanted / days
	}
	f.last[p] = s.at[k1]
}

// end closes a plan, and keeps it where it is the cheapest yet.
func (pr *prover) end(f *frame) {
	cost := f.cost + f.sum
	if cost >= pr.limit {
		return
	}
	last := &pr.frames[2*pr.slots+1]
	last.take(f)
	for m := range pr.season.mobs {
		pr.leave(last, m, pr.slots)
	}
	if last.cost+last.sum >= pr.limit {
		return
	}
	if found := pr.placed(pr.loc); found.cost < pr.limit+1e-9 {
		pr.best, pr.limit = found, found.cost-1e-9
	}
}
