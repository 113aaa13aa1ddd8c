package plan

import "slices"

// A mob that follows another gets the paddock that the other leaves, whenever it goes on: dry stock behind young, cattle behind
// sheep. Nothing is to be chosen for it: its row of the grid is made from the row of the mob it follows. While the paddock that it would be
// in is closed, or none of its ground, it is off the pasture; so it is, where it may be held, while the other is.

// trail is where a follower would be, slot by slot.
type trail struct {
	mob, place int
	last       int  // paddock in which the one before it was last
	stood      bool // it has not moved since the start
}

// trails are the beginnings of all followers' trails, by mob.
func (s *season) trails() []trail {
	out := make([]trail, s.mobs)
	for m := range out {
		out[m] = trail{m, s.in[m], Off, true}
		if leader := s.follows[m]; leader >= 0 {
			out[m].last = s.in[leader]
		}
	}
	return out
}

// goes is where the follower is in a slot in which the mob before it is in a paddock, or off.
func (r *trail) goes(s *season, t, is int) int {
	switch {
	case is == Off && r.last != Off && s.p.Mobs[r.mob].MayHold:
		r.stood = false
		return Off
	case is != Off && is != r.last:
		if r.last != Off {
			r.place, r.stood = r.last, false
		}
		r.last = is
	}
	if p := r.place; p != Off && !r.stood && (s.barred[r.mob*s.paddocks+p] || s.closed[p*s.slots+t]) {
		return Off
	}
	return r.place
}

// keptByTrails are the paddocks in which mobs with followers, and those, stand: they go to nobody else by eye.
func (s *season) keptByTrails(trails []trail) []bool {
	kept := make([]bool, s.paddocks)
	for _, m := range s.behind {
		for _, p := range []int{trails[m].last, trails[m].place} {
			if p != Off {
				kept[p] = true
			}
		}
	}
	return kept
}

// trailRows makes the rows of all followers from those of the mobs before them.
func (s *season) trailRows(loc []int16) {
	trails := s.trails()
	for _, m := range s.behind {
		leader := s.follows[m]
		for t := range s.slots {
			loc[m*s.slots+t] = int16(trails[m].goes(s, t, int(loc[leader*s.slots+t])))
		}
	}
}

// bringAlong adds to a change what it makes followers do.
func (t *trial) bringAlong() {
	copy(t.rows, t.loc)
	moved := make([]bool, 0, 16)
	for range t.season.mobs {
		moved = append(moved, false)
	}
	for _, c := range t.cells {
		t.rows[c.mob*t.slots+c.slot] = c.to
		moved[c.mob] = true
	}
	t.trailRows(t.rows)
	for _, m := range t.behind {
		if !moved[t.follows[m]] {
			continue
		}
		for s := range t.slots {
			if i := m*t.slots + s; t.rows[i] != t.loc[i] {
				t.cells = append(t.cells, cell{m, s, t.rows[i], t.loc[i]})
				moved[m] = true
			}
		}
	}
}

// inOrder are the mobs that follow others, each after the one it follows; false where some follow each other in a circle.
func inOrder(follows []int) (order []int, ok bool) {
	placed := make([]bool, len(follows))
	for m, leader := range follows {
		placed[m] = leader < 0
	}
	for {
		n := len(order)
		for m, leader := range follows {
			if !placed[m] && placed[leader] {
				placed[m], order = true, append(order, m)
			}
		}
		if len(order) == n {
			return order, !slices.Contains(placed, false)
		}
	}
}
