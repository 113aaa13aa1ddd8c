package plan

import (
	"fjell/core/chance"
	"math"
)

// ways are the changes that a search tries: what a person with a pencil would do to a plan.
type ways struct {
	*trial
	draws  chance.Draws
	ground [][]int16 // of each mob: where it may be, Off among them if it may be held
	usual  []int     // slots of each mob's usual stay
	rest   []int     // slots of half the least rest it asks for
	saved  []int16
}

func newWays(t *trial, seed uint64) *ways {
	w := &ways{trial: t, draws: chance.Draws(seed), saved: make([]int16, t.slots)}
	for m := range t.season.mobs {
		var ground []int16
		longest, rest := 0.0, 0.0
		for p := range t.paddocks {
			if !t.barred[m*t.paddocks+p] {
				ground = append(ground, int16(p))
				longest = max(longest, t.limit(m, p, 0).stayMax)
				rest = max(rest, t.limit(m, p, 0).restMin)
			}
		}
		if t.p.Mobs[m].MayHold {
			ground = append(ground, Off)
		}
		w.ground = append(w.ground, ground)
		slot := (t.at[t.pieces] - t.at[0]) / float64(t.slots)
		w.rest = append(w.rest, min(t.slots, int(rest/slot/2)))
		w.usual = append(w.usual, max(1, min(t.slots, int(longest/slot+0.5))))
	}
	return w
}

// warmth is how hot an annealing begins: what an ordinary change for the worse costs.
func (w *ways) warmth() float64 {
	var sum float64
	n := 0
	for range 400 {
		if !w.propose() {
			w.cells = w.cells[:0]
			continue
		}
		if rise, taken := w.try(math.Inf(1)); taken {
			if rise > 0 {
				sum += min(rise, 1e5)
				n++
			}
			w.undo()
		}
	}
	if n == 0 {
		return 1
	}
	return max(1, sum/float64(n)/25)
}

// run is the slots around one in which a mob stays where it is.
func (w *ways) run(m, t int) (from, to int) {
	row := w.loc[m*w.slots : (m+1)*w.slots]
	for from = t; from > 0 && row[from-1] == row[t]; from-- {
	}
	for to = t + 1; to < w.slots && row[to] == row[t]; to++ {
	}
	return from, to
}

// propose puts a change together; false where the dice made none.
func (w *ways) propose() bool {
	d := &w.draws
	m := d.Below(w.season.mobs)
	t := d.Below(w.slots)
	row := m * w.slots
	from, to := w.run(m, t)
	switch d.Below(16) {
	case 0, 1, 2: // stretch: move the end of a stay
		if to == w.slots {
			return false
		}
		by := 1 + d.Below(3)
		if d.Below(2) == 0 {
			return w.put(m, to, min(w.slots, to+by), w.loc[row+t])
		}
		return w.put(m, max(from, to-by), to, w.loc[row+to])
	case 3, 4, 5: // change: another paddock for this stay
		return w.put(m, from, to, w.somewhere(m, from, to))
	case 6, 7: // insert: go elsewhere for a while
		length := 1 + d.Below(w.usual[m]+1)
		return w.put(m, t, min(w.slots, t+length), w.somewhere(m, t, min(w.slots, t+length)))
	case 8: // drop: the neighbours of a stay share it
		if from == 0 || to == w.slots {
			return false
		}
		cut := from + d.Below(to-from+1)
		return w.put(m, from, cut, w.loc[row+from-1]) && w.put(m, cut, to, w.loc[row+to])
	case 9, 10: // swap two stays of one mob
		other := d.Below(w.slots)
		a, b := w.run(m, other)
		if a == from {
			return false
		}
		return w.put(m, from, to, w.loc[row+other]) && w.put(m, a, b, w.loc[row+t])
	case 11: // slide: shift what lies between two ends
		return w.slide(m, to)
	case 12: // squeeze a new stay in, and shift what follows
		return w.squeeze(m, from, to)
	case 13: // exchange between two mobs, for a stay
		n := d.Below(w.season.mobs)
		if n == m {
			return false
		}
		for s := from; s < to; s++ {
			if !w.put(m, s, s+1, w.loc[n*w.slots+s]) || !w.put(n, s, s+1, w.loc[row+s]) {
				return false
			}
		}
		return true
	case 14: // from a moment on, two paddocks change places in everybody's plan
		a, b := w.anywhere(m), w.anywhere(m)
		if a == b || a == Off || b == Off {
			return false
		}
		return w.rename(t, a, b)
	default: // take the paddock another mob has then; it goes elsewhere
		p := w.anywhere(m)
		if p == Off {
			return false
		}
		for s := from; s < to; s++ {
			if n := int(w.occ[int(p)*w.slots+s]) - 1; n >= 0 && n != m {
				if !w.put(n, s, s+1, w.loc[row+t]) {
					return false
				}
			}
		}
		return w.put(m, from, to, p)
	}
}

// anywhere is a place where a mob may be.
func (w *ways) anywhere(m int) int16 {
	if len(w.ground[m]) == 0 {
		return Off
	}
	return w.ground[m][w.draws.Below(len(w.ground[m]))]
}

// somewhere is a place for a mob to be from one slot to another: most often one that nobody has grazed for a while before, or
// will for a while after.
func (w *ways) somewhere(m, from, to int) int16 {
	ground := w.ground[m]
	if len(ground) == 0 {
		return Off
	}
	p := ground[w.draws.Below(len(ground))]
	for range 4 {
		if p == Off || w.rested(m, int(p), from, to) {
			return p
		}
		p = ground[w.draws.Below(len(ground))]
	}
	return p
}

// rested tells whether a paddock is left alone around a stay for most of the rest that a mob's way of grazing asks for.
func (w *ways) rested(m, p, from, to int) bool {
	occ := w.occ[p*w.slots : (p+1)*w.slots]
	for s := from; s < to; s++ {
		if occ[s] != 0 {
			return false
		}
	}
	for s := max(0, from-w.rest[m]); s < from; s++ {
		if occ[s] != 0 {
			return false
		}
	}
	for s := to; s < min(w.slots, to+w.rest[m]); s++ {
		if occ[s] != 0 {
			return false
		}
	}
	return true
}

// slide shifts the slots between one end of a stay and another, a few later: the first is that much longer, the last shorter; or
// the other way round.
func (w *ways) slide(m, i int) bool {
	j := i + 1 + w.draws.Below(8*w.usual[m])
	if i >= w.slots || j > w.slots {
		return false
	}
	by := 1 + w.draws.Below(2)
	if by >= j-i {
		return false
	}
	row := w.loc[m*w.slots : (m+1)*w.slots]
	if w.draws.Below(2) == 0 {
		if i == 0 {
			return false
		}
		for s := j - 1; s >= i; s-- {
			from := s - by
			if from < i {
				from = i - 1
			}
			if !w.put(m, s, s+1, row[from]) {
				return false
			}
		}
		return true
	}
	for s := i; s < j; s++ {
		from := s + by
		if from >= j {
			from = j - 1
		}
		if !w.put(m, s, s+1, row[from]) {
			return false
		}
	}
	return true
}

// squeeze puts a stay somewhere at the end of another, and shifts what follows for a while.
func (w *ways) squeeze(m, from, to int) bool {
	length := 1 + w.draws.Below(w.usual[m])
	j := to + length + w.draws.Below(8*w.usual[m])
	if to >= w.slots {
		return false
	}
	j = min(j, w.slots)
	p := w.somewhere(m, to, min(w.slots, to+length))
	row := w.loc[m*w.slots : (m+1)*w.slots]
	copy(w.saved, row)
	for s := to; s < j; s++ {
		q := p
		if s >= to+length {
			q = w.saved[s-length]
		}
		if !w.put(m, s, s+1, q) {
			return false
		}
	}
	return from < to
}

// rename exchanges two paddocks in everybody's plan from a slot on.
func (w *ways) rename(t int, a, b int16) bool {
	for s := t; s < w.slots; s++ {
		x, y := int(w.occ[int(a)*w.slots+s])-1, int(w.occ[int(b)*w.slots+s])-1
		if x >= 0 && !w.put(x, s, s+1, b) || y >= 0 && !w.put(y, s, s+1, a) {
			return false
		}
	}
	return true
}
