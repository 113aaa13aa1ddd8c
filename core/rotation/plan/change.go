package plan

// A change of a plan: cells of the grid that get another paddock. What it does is worked out for the paddocks and mobs it
// touches alone, and it is undone where it is not taken.

// cell is one slot of one mob, with where the mob goes and where it was.
type cell struct {
	mob, slot int
	to, was   int16
}

// trial is a state with a change being tried on it.
type trial struct {
	*state
	marks  []mark // paddock × slot, of the state as it is kept
	cells  []cell
	pads   []touched
	mobs   []touched
	cost   []float64 // of the paddocks touched, with the change
	least  []float64 // paddock → the least it can cost: left alone from the start
	seen   []uint32  // paddock → the trial that touched it last
	seenBy []uint32  // mob → likewise
	turn   uint32
	rows   []int16 // all rows with the change, where mobs follow others
	busy   []int16 // moves by day without the change
	strict []bool  // mobs whose whole row is looked at: pins, or a start where they might not stay
}

// touched is a paddock or a mob that a change touches, with the first and last slot of the change there.
type touched struct{ what, from, to int32 }

func newTrial(st *state) *trial {
	t := &trial{state: st, marks: make([]mark, st.paddocks*st.slots), seen: make([]uint32, st.paddocks), seenBy: make([]uint32, st.season.mobs),
		strict: make([]bool, st.season.mobs), busy: make([]int16, len(st.busy))}
	if len(st.behind) > 0 {
		t.rows = make([]int16, len(st.loc))
	}
	for m := range t.strict {
		in := st.in[m]
		t.strict[m] = in == Off && !st.p.Mobs[m].MayHold || in != Off && st.barred[m*st.paddocks+in]
		for s := range st.slots {
			t.strict[m] = t.strict[m] || st.enters[m*st.slots+s] || in != Off && st.closed[in*st.slots+s]
		}
	}
	for p := range st.paddocks {
		t.least = append(t.least, st.worth(p, 0, st.season.mass[p]))
	}
	t.anew()
	return t
}

// anew makes every mark, after the state was changed from outside.
func (t *trial) anew() {
	for p := range t.paddocks {
		t.marked(p, 0, t.marks[p*t.slots:(p+1)*t.slots])
	}
}

// put asks for slots of a mob to be in a paddock. It is false where that slot is not free.
func (t *trial) put(m, from, to int, p int16) bool {
	if t.follows[m] >= 0 {
		return true // it goes where the mob before it was, whatever is asked
	}
	row := m * t.slots
	for s := from; s < to; s++ {
		if t.loc[row+s] == p {
			continue
		}
		if !t.free[row+s] {
			return false
		}
		t.cells = append(t.cells, cell{m, s, p, t.loc[row+s]})
	}
	return true
}

// try makes the change that was put together, if it is allowed, and tells by how much the cost rises. Whoever tries says then
// whether to keep it or to undo it; a change that is not allowed, or that is seen to cost more than most, is undone already.
func (t *trial) try(most float64) (rise float64, taken bool) {
	if len(t.cells) == 0 {
		return 0, false
	}
	if len(t.behind) > 0 {
		t.bringAlong()
	}
	t.turn++
	t.pads, t.mobs = t.pads[:0], t.mobs[:0]
	for i := range t.cells {
		c := &t.cells[i]
		t.mobs = touch(t.mobs, t.seenBy, t.turn, c.mob, c.slot)
		if c.was != Off {
			t.occ[int(c.was)*t.slots+c.slot] = 0
		}
	}
	copy(t.busy, t.state.busy)
	for _, m := range t.mobs {
		rise -= t.between(int(m.what), int(m.from), int(m.to)+1)
		rise += t.count(int(m.what), int(m.from), int(m.to)+1, -1)
	}
	for i := range t.cells {
		c := &t.cells[i]
		if !t.fits(c) {
			t.back(i)
			return 0, false
		}
		t.loc[c.mob*t.slots+c.slot] = c.to
		if c.to != Off {
			t.occ[int(c.to)*t.slots+c.slot] = int16(c.mob + 1)
			t.pads = touch(t.pads, t.seen, t.turn, int(c.to), c.slot)
		}
		if c.was != Off {
			t.pads = touch(t.pads, t.seen, t.turn, int(c.was), c.slot)
		}
	}
	for _, m := range t.mobs {
		if t.strict[m.what] && !t.rowAllowed(int(m.what)) {
			t.back(len(t.cells))
			return 0, false
		}
		rise += t.between(int(m.what), int(m.from), int(m.to)+1)
		rise += t.count(int(m.what), int(m.from), int(m.to)+1, 1)
	}
	// What the paddocks still to be looked at could save at the most: all they cost over being left alone.
	saved := 0.0
	for _, p := range t.pads {
		saved += t.state.pads[p.what] - t.least[p.what]
	}
	t.cost = t.cost[:0]
	for _, p := range t.pads {
		if rise-saved > most {
			t.undo()
			return 0, false
		}
		cost := t.pasture(int(p.what), t.resume(p), t.marks[int(p.what)*t.slots:])
		t.cost = append(t.cost, cost)
		rise += cost - t.state.pads[p.what]
		saved -= t.state.pads[p.what] - t.least[p.what]
	}
	if !(rise <= most) {
		t.undo()
		return 0, false
	}
	return rise, true
}

// touch notes a slot of a paddock or a mob.
func touch(list []touched, seen []uint32, turn uint32, what, slot int) []touched {
	if seen[what] != turn {
		seen[what] = turn
		return append(list, touched{int32(what), int32(slot), int32(slot)})
	}
	for i := range list {
		if int(list[i].what) == what {
			list[i].from, list[i].to = min(list[i].from, int32(slot)), max(list[i].to, int32(slot))
			break
		}
	}
	return list
}

// resume is the slot from which a paddock that was touched is simulated: the beginning of the stay that the change may lengthen or cut.
// Before it, it is as the marks say.
func (t *trial) resume(p touched) int {
	occ := t.occ[int(p.what)*t.slots:]
	from := int(p.from)
	if from == 0 {
		return 0
	}
	for mob := occ[from-1]; mob != 0 && from > 0 && occ[from-1] == mob; {
		from--
	}
	return from
}

// fits tells whether a cell may be so, once the cells of the change are empty. Where a mob stood at the start, and pins, are
// looked at when the row is whole.
func (t *trial) fits(c *cell) bool {
	if c.to == Off {
		return t.p.Mobs[c.mob].MayHold || t.strict[c.mob] || t.follows[c.mob] >= 0
	}
	p := int(c.to)
	if t.occ[p*t.slots+c.slot] != 0 {
		return false
	}
	if t.strict[c.mob] && p == t.in[c.mob] {
		return true
	}
	return !t.barred[c.mob*t.paddocks+p] && !t.closed[p*t.slots+c.slot]
}

// rowAllowed looks a whole row over.
func (t *trial) rowAllowed(m int) bool {
	before, stood := t.in[m], true
	for s := range t.slots {
		p := int(t.loc[m*t.slots+s])
		stood = stood && p == t.in[m]
		if !t.may(m, p, s, before, stood) {
			return false
		}
		before = p
	}
	return true
}

// keep takes the change.
func (t *trial) keep(rise float64) {
	t.state.cost += rise
	for i, p := range t.pads {
		t.state.pads[p.what] = t.cost[i]
		t.marked(int(p.what), t.resume(p), t.marks[int(p.what)*t.slots:(int(p.what)+1)*t.slots])
	}
	t.cells = t.cells[:0]
}

// undo puts everything as it was.
func (t *trial) undo() { t.back(len(t.cells)) }

// back empties the first n cells of the change, which were made, and puts all of them as they were.
func (t *trial) back(n int) {
	copy(t.state.busy, t.busy)
	for i := range t.cells[:n] {
		c := &t.cells[i]
		if c.to != Off {
			t.occ[int(c.to)*t.slots+c.slot] = 0
		}
	}
	for i := range t.cells {
		c := &t.cells[i]
		t.loc[c.mob*t.slots+c.slot] = c.was
		if c.was != Off {
			t.occ[int(c.was)*t.slots+c.slot] = int16(c.mob + 1)
		}
	}
	t.cells = t.cells[:0]
}
