package plan

import (
	"context"
	"sync"
)

// The bound of a problem too large to go through. Two things tie the paddocks of a plan together: a mob is in one place at a
// time, and it is always somewhere. The bound lets go of both, and pays each mob's slot a price instead to whoever covers it: a
// paddock, or the yard. Whatever the prices are, their sum plus the cheapest thing that each paddock and each yard can do for
// itself is no more than any allowed plan costs; the prices are raised where nobody comes and lowered where several do, which
// brings the bound up. docs/planner.md has the proof.
//
// The cheapest thing a paddock can do is found backwards over slots and over a grid of masses. Whatever falls between two
// masses of the grid counts as the higher, grass past its best counts nothing, and missing rest counts in steps, each as the
// lesser of its ends: the value found is no more than the true one.

// finest and widest are the step of the grid of masses, in log(K/M − 1), for problems small and large.
const (
	finest    = 0.03
	widest    = 0.12
	mostSteps = 4000
	entries   = 1.5e6 // table entries that a bound may make: what it costs in memory and time
)

// byPrice is the bound by prices. known is the best plan there is, which says how far the prices may be off. Where the problem is
// too large for that too, it is what the paddocks would be worth if nobody grazed them.
func (s *season) byPrice(ctx context.Context, known *state, workers int) float64 {
	grids := make([]*grid, s.paddocks)
	size := 0.0
	for _, step := range []float64{finest, 2 * finest, widest} {
		size = 0
		for p := range grids {
			grids[p] = s.grid(p, step)
			size += grids[p].size()
		}
		if size <= entries {
			break
		}
	}
	best := 0.0 // nothing but what stands at the end makes a plan cheap
	mass, ripe := make([]float64, s.paddocks), make([]float64, s.paddocks)
	for p := range s.paddocks {
		var worth float64
		worth, ripe[p] = s.standing(p, 0, s.mass[p])
		mass[p] = s.mass[p]
		best += worth
	}
	best += s.toCome(0, mass, ripe)
	if size > entries || ctx.Err() != nil {
		return best
	}
	desks := make([]desk, max(1, workers))
	each := func(work func(d *desk, p int)) {
		var wait sync.WaitGroup
		next := make(chan int, s.paddocks)
		for p := range s.paddocks {
			next <- p
		}
		close(next)
		for i := range desks {
			wait.Go(func() {
				for p := range next {
					work(&desks[i], p)
				}
			})
		}
		wait.Wait()
	}
	each(func(_ *desk, p int) { grids[p].fill() })

	price := make([]float64, s.mobs*s.slots)
	for m := range s.mobs {
		for t := range s.slots {
			price[m*s.slots+t] = 0.5 * s.wantedIn(m, t)
		}
	}
	stale, scale := 0, 1.0
	values := make([]float64, s.paddocks)
	covers := make([][]int16, s.paddocks)
	for p := range covers {
		covers[p] = make([]int16, s.mobs*s.slots)
	}
	for range int(max(6, min(80, 4e7/size))) {
		if ctx.Err() != nil {
			break
		}
		paid := make([]float64, s.mobs*(s.slots+1))
		total := 0.0
		for m := range s.mobs {
			for t := range s.slots {
				paid[m*(s.slots+1)+t+1] = paid[m*(s.slots+1)+t] + price[m*s.slots+t]
				total += price[m*s.slots+t]
			}
		}
		each(func(d *desk, p int) {
			clear(covers[p])
			values[p] = grids[p].cheapest(d, paid, covers[p])
		})
		covered := make([]int16, s.mobs*s.slots)
		for p := range values {
			total += values[p]
			for i, c := range covers[p] {
				covered[i] += c
			}
		}
		for m := range s.mobs {
			total += s.yard(m, price, covered)
		}
		if total > best {
			best, stale = total, 0
		} else if stale++; stale > 4 {
			scale, stale = scale/2, 0
		}
		off := 0.0
		for _, c := range covered {
			off += float64(1-c) * float64(1-c)
		}
		if off == 0 || known.cost-total < 1e-9 {
			break
		}
		step := scale * (known.cost - total) / off
		for i, c := range covered {
			price[i] += step * float64(1-c)
		}
	}
	return best
}

func (s *season) wantedIn(m, t int) float64 {
	return s.until[m*(s.pieces+1)+s.first[t+1]] - s.until[m*(s.pieces+1)+s.first[t]]
}

// yard is the cheapest that staying off the pasture can do for a mob at these prices, and which slots it covers then.
func (s *season) yard(m int, price []float64, covered []int16) float64 {
	held := s.p.Mobs[m].MayHold || s.follows[m] >= 0
	if !held && s.in[m] != Off {
		return 0
	}
	each := s.w.Feed
	if !s.p.Mobs[m].MayHold {
		each = s.w.Short
	}
	// The least from each slot on, being off in it or not.
	off, on := make([]float64, s.slots+1), make([]float64, s.slots+1)
	for t := s.slots - 1; t >= 0; t-- {
		stay := each*s.wantedIn(m, t) - price[m*s.slots+t] + min(off[t+1], on[t+1])
		off[t] = stay
		on[t] = on[t+1]
		if held {
			on[t] = min(on[t+1], s.w.Move+off[t])
		}
	}
	least := on[0]
	if s.in[m] == Off {
		least = min(on[0], off[0])
		if s.fixedFirst {
			least = off[0]
		}
	}
	away := s.in[m] == Off && least == off[0]
	for t := 0; t < s.slots; t++ {
		if !away && held && on[t] == s.w.Move+off[t] && on[t] != on[t+1] {
			away = true
		}
		if away {
			covered[m*s.slots+t]++
			away = off[t+1] <= on[t+1]
		}
	}
	return least
}
