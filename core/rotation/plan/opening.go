package plan

import (
	"math"
	"slices"

	"fjell/core/quantity"
)

// may tells whether a mob may be in a paddock, or off the pasture, in a slot, given that it is at before in the slot before
// and that all its slots up to there are as they are. Who else is there is not looked at.
func (st *state) may(m, p, t, before int, stood bool) bool {
	s := st.season
	if i := m*s.slots + t; s.pinned[i] >= 0 {
		if p != s.pinPads[s.pinned[i]] {
			return false
		}
	} else if !s.free[i] && p != s.in[m] {
		return false
	}
	if s.enters[m*s.slots+t] && before == p {
		return false // a pin begins or ends between the two slots
	}
	if next := m*s.slots + t + 1; t+1 < s.slots && s.enters[next] && s.pinned[next] >= 0 && s.pinPads[s.pinned[next]] == p {
		return false // they would not enter it then
	}
	if stood && p == s.in[m] {
		return true // who stands somewhere at the start may be found there until it moves
	}
	if p == Off {
		return s.p.Mobs[m].MayHold || s.follows[m] >= 0 // a follower is off where it cannot be where it would be
	}
	return !s.barred[m*s.paddocks+p] && !s.closed[p*s.slots+t]
}

// ripest is the opening that a person makes by eye: stay while the residual and the longest stay allow, then go to the
// ripest paddock that is rested; hold where nothing is, if that may be. Where the rules leave a mob nowhere to be, it says so:
// but first with mobs that stay where they stand, closed ground or not, for as long as they would have nowhere else.
func ripest(s *season) (*state, error) {
	until := make([]int, s.mobs) // slot before which a mob stays where it stood at the start
	for {
		st, m, t := s.byEye(until)
		if st != nil {
			st.recount()
			return st, nil
		}
		patient := false
		for _, n := range append([]int{m}, seq(s.mobs)...) {
			if until[n] <= t {
				until[n], patient = t+1, true
				break
			}
		}
		if !patient {
			return nil, quantity.Refuse("mobs", nil, "there is no allowed plan: %s have nowhere to be on day %d", s.p.Mobs[m].Key, s.day(s.first[t]))
		}
	}
}

func seq(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// byEye makes the opening, where mobs stay until so and so where they stand; or gives the mob that has nowhere to be, and when.
func (s *season) byEye(until []int) (st *state, stuck, slot int) {
	st = newState(s)
	mass, left := make([]float64, s.paddocks), make([]float64, s.paddocks)
	for p, pad := range s.p.Paddocks {
		mass[p], left[p] = s.mass[p], math.NaN()
		if pad.Rest != nil {
			left[p] = s.at[0] - *pad.Rest
		}
	}
	here, since, stood := append([]int(nil), s.in...), append([]float64(nil), s.since...), make([]bool, s.mobs)
	for m := range stood {
		stood[m] = true
	}
	trails := s.trails()
	for t := range s.slots {
		k0, k1 := s.first[t], s.first[t+1]
		to := make([]int, s.mobs)
		taken, kept := map[int]int{}, s.keptByTrails(trails)
		for m := range s.mobs {
			if s.follows[m] >= 0 {
				continue
			}
			to[m] = st.eye(m, t, until[m], here, since, stood, mass, left, taken, kept)
			if to[m] == nowhere {
				asked := slices.Clone(kept)
				if here[m] != Off {
					asked[here[m]] = false
				}
				if !st.rearrange(m, t, here, stood, to, taken, asked) {
					return nil, m, t
				}
			} else if to[m] != Off {
				taken[to[m]] = m
			}
		}
		for _, m := range s.behind {
			to[m] = trails[m].goes(s, t, to[s.follows[m]])
			if _, other := taken[to[m]]; other {
				return nil, m, t
			}
			if to[m] != Off {
				taken[to[m]] = m
			}
		}
		for m, p := range to {
			if p != here[m] {
				if here[m] != Off {
					left[here[m]] = s.at[k0]
				}
				since[m], stood[m], here[m] = s.at[k0], false, p
			}
			st.loc[m*s.slots+t] = int16(p)
		}
		for p := range mass {
			if m, grazed := taken[p]; grazed {
				st.occ[p*s.slots+t] = int16(m + 1)
				mass[p], _ = s.graze(m, p, k0, k1, mass[p])
			} else {
				mass[p] = s.after(p, k0, k1, mass[p])
			}
		}
	}
	return st, 0, 0
}

// nowhere is the choice of a mob that found no place.
const nowhere = -2

// eye is where a mob goes in a slot by the rule of the ripest, or nowhere.
func (st *state) eye(m, t, until int, here []int, since []float64, stood []bool, mass, left []float64, taken map[int]int, kept []bool) int {
	s := st.season
	k0, k1 := s.first[t], s.first[t+1]
	if p := here[m]; p != Off && st.may(m, p, t, p, stood[m]) {
		_, other := taken[p]
		l := s.limit(m, p, k0)
		after, _ := s.graze(m, p, k0, k1, mass[p])
		if !other && (t < until && stood[m] || after >= l.residual && s.at[k1]-since[m] <= l.stayMax+sameMoment || !s.free[m*s.slots+t]) {
			return p
		}
	}
	if t < until && stood[m] && here[m] == Off && st.may(m, Off, t, Off, true) {
		return Off
	}
	best, score := nowhere, math.Inf(-1)
	for p := range s.paddocks {
		if _, other := taken[p]; other || p == here[m] || kept[p] && s.pinned[m*s.slots+t] < 0 || !st.may(m, p, t, here[m], stood[m]) {
			continue
		}
		if ripe := s.ripe(m, p, k0, here[m], mass[p], left[p]); ripe > score {
			best, score = p, ripe
		}
	}
	if score <= 0 && s.p.Mobs[m].MayHold && st.may(m, Off, t, here[m], stood[m]) {
		return Off
	}
	if p := here[m]; best == nowhere && p != Off {
		if _, other := taken[p]; !other && st.may(m, p, t, p, stood[m]) {
			return p
		}
	}
	if best == nowhere && st.may(m, Off, t, here[m], stood[m]) {
		return Off
	}
	return best
}

// ripe is how ripe a paddock is for a mob that comes from here at a cut: 0 at the residual, 1 at the entry, less for a long way,
// far less before the least rest is over, and next to nothing in a reserve. left is when somebody last did; NaN: unknown.
func (s *season) ripe(m, p, cut, here int, mass, left float64) float64 {
	l := s.limit(m, p, cut)
	ripe := (mass - l.residual) / max(1, l.entry-l.residual)
	if rest := s.at[cut] - left; l.restMin > 0 && rest < l.restMin {
		ripe -= 10 * (1 - rest/l.restMin)
	}
	if s.p.Paddocks[p].Reserve {
		ripe = min(ripe, 0.01*ripe)
	}
	if here != Off {
		ripe -= 0.15 * s.km[here*s.paddocks+p]
	}
	return ripe
}

// rearrange finds a mob a place in a slot by asking those who have one already to go elsewhere, as in a matching.
func (st *state) rearrange(m, t int, here []int, stood []bool, to []int, taken map[int]int, asked []bool) bool {
	for p := Off; p < st.paddocks; p++ {
		if st.follows[m] >= 0 || !st.may(m, p, t, here[m], stood[m]) {
			continue
		}
		if p == Off {
			to[m] = Off
			return true
		}
		if asked[p] {
			continue
		}
		asked[p] = true
		other, there := taken[p]
		if !there || st.rearrange(other, t, here, stood, to, taken, asked) {
			to[m], taken[p] = p, m
			return true
		}
	}
	return false
}
