package plan

// Cost is what a plan costs, part by part, in kg DM as the weights count it. Lower is better; it may be negative, since what
// stands at the end is worth something.
type Cost struct {
	Total         float64 `json:"total"`
	Short         float64 `json:"short"`
	BelowResidual float64 `json:"below_residual"`
	Early         float64 `json:"early"`
	Late          float64 `json:"late"`
	Rest          float64 `json:"rest"`
	Stay          float64 `json:"stay"`
	Move          float64 `json:"move"`
	Distance      float64 `json:"distance"`
	Feed          float64 `json:"feed"`
	End           float64 `json:"end"`
	Reserve       float64 `json:"reserve,omitempty"`
	Many          float64 `json:"many,omitempty"`
}

// sum makes the total of the parts.
func (c *Cost) sum() float64 {
	c.Total = c.Short + c.BelowResidual + c.Early + c.Late + c.Rest + c.Stay + c.Move + c.Distance + c.Feed + c.End + c.Reserve + c.Many
	return c.Total
}

// Visit is one stay of a plan. Of a stay off the pasture only mob, times and what was short hold anything.
type Visit struct {
	Mob     string   `json:"mob"`
	Paddock *string  `json:"paddock"`
	Enter   float64  `json:"enter_day"`
	Leave   float64  `json:"leave_day"`
	MassIn  float64  `json:"mass_in_kg_dm_ha"`
	MassOut float64  `json:"mass_out_kg_dm_ha"`
	Rest    *float64 `json:"rest_days"` // before entering; nil: unknown
	Eaten   float64  `json:"eaten_kg_dm"`
	Short   float64  `json:"short_kg_dm"`
	Pinned  bool     `json:"pinned"`
}

// stay is a visit in numbers: slots, not days.
type stay struct {
	mob, pad, from, to int
	fact               bool // a mob stood there at the start
	in, out            float64
	rest               float64 // days; −1: unknown
	eaten, wanted      float64
	cost               Cost
}

// state is where every mob is in every slot. What a paddock costs rests on the visits to it alone, and what a mob costs beside
// that on its own row alone, so a change costs no more than the paddocks and mobs that it touches.
type state struct {
	*season
	loc  []int16   // mob × slot: its paddock, or Off
	occ  []int16   // paddock × slot: 1 + its mob; 0: nobody
	pads []float64 // cost of each paddock
	busy []int16   // moves on each day, where a day has hands for no more than so many
	cost float64   // of all of them, and of the rows
}

func newState(s *season) *state {
	st := &state{season: s, loc: make([]int16, s.mobs*s.slots), occ: make([]int16, s.paddocks*s.slots), pads: make([]float64, s.paddocks)}
	for i := range st.loc {
		st.loc[i] = Off
	}
	if s.p.MostMoves > 0 {
		st.busy = make([]int16, s.p.Days)
	}
	return st
}

func (st *state) clone() *state {
	c := *st
	c.loc, c.occ = append([]int16(nil), st.loc...), append([]int16(nil), st.occ...)
	c.pads = append([]float64(nil), st.pads...)
	c.busy = append([]int16(nil), st.busy...)
	return &c
}

// placed is the state in which everybody is where loc says.
func (s *season) placed(loc []int16) *state {
	st := newState(s)
	copy(st.loc, loc)
	for m := range s.mobs {
		for t := range s.slots {
			if p := int(loc[m*s.slots+t]); p != Off {
				st.occ[p*s.slots+t] = int16(m + 1)
			}
		}
	}
	st.recount()
	return st
}

// recount works the whole cost out.
func (st *state) recount() float64 {
	st.cost = 0
	for p := range st.paddocks {
		st.pads[p] = st.pasture(p, 0, nil)
		st.cost += st.pads[p]
	}
	clear(st.busy)
	for m := range st.mobs {
		st.cost += st.between(m, 0, st.slots) + st.count(m, 0, st.slots, 1)
	}
	return st.cost
}

// mark is a paddock when somebody has left it, and what its visits have cost by then.
type mark struct {
	mass, last, cost float64
	at               int32 // piece
	known            bool  // last is
}

// pasture is what one paddock costs through the plan, simulated from a slot on whose mark is known, or from the start without marks. Marks
// say for every slot what has been before it; they hold where no stay runs over its beginning.
func (st *state) pasture(p, from int, marks []mark) float64 {
	s := st.season
	occ := st.occ[p*s.slots : (p+1)*s.slots]
	now := mark{mass: s.mass[p]}
	if from > 0 {
		now = marks[from]
	} else {
		st.opened(p, &now)
	}
	var c Cost
	for t := from; t < s.slots; t++ {
		if occ[t] == 0 {
			continue
		}
		t = st.visit(p, t, &now, &c, nil)
	}
	c.End += st.worth(p, int(now.at), now.mass)
	return now.cost + c.sum()
}

// opened is a paddock at the start; who stood there and goes at once has a visit of no length.
func (st *state) opened(p int, now *mark) (gone int) {
	s := st.season
	pad := &s.p.Paddocks[p]
	if pad.Rest != nil {
		now.last, now.known = s.at[0]-*pad.Rest, true
	}
	gone = -1
	if m := s.stands[p]; m >= 0 && int(st.occ[p*s.slots]) != m+1 {
		now.cost = s.w.BelowResidual * max(0, s.limit(m, p, 0).residual-s.mass[p]) * pad.AreaHa
		now.last, now.known = s.at[0], true
		gone = m
	}
	return gone
}

// visit carries a paddock through the stay that begins at a slot, and adds what it costs; it gives the last slot of it.
func (st *state) visit(p, from int, now *mark, c *Cost, stays *[]stay) int {
	s := st.season
	occ := st.occ[p*s.slots : (p+1)*s.slots]
	m, t := int(occ[from])-1, from
	for t+1 < s.slots && occ[t+1] == occ[from] {
		t++
	}
	k0, k1 := s.first[from], s.first[t+1]
	in := s.after(p, int(now.at), k0, now.mass)
	out, eaten := s.graze(m, p, k0, k1, in)
	fact := from == 0 && s.in[m] == p
	rest := -1.0
	if now.known && !fact {
		rest = s.at[k0] - now.last
	}
	if stays == nil {
		s.charge(c, m, p, k0, k1, fact, in, out, rest, eaten)
	} else {
		v := stay{mob: m, pad: p, from: from, to: t + 1, fact: fact, in: in, out: out, rest: rest, eaten: eaten,
			wanted: s.until[m*(s.pieces+1)+k1] - s.until[m*(s.pieces+1)+k0]}
		s.charge(&v.cost, m, p, k0, k1, fact, in, out, rest, eaten)
		c.add(v.cost)
		*stays = append(*stays, v)
	}
	now.mass, now.last, now.at, now.known = out, s.at[k1], int32(k1), true
	return t
}

// marked fills in the marks of a paddock from a slot on.
func (st *state) marked(p, from int, marks []mark) {
	s := st.season
	occ := st.occ[p*s.slots : (p+1)*s.slots]
	now := mark{mass: s.mass[p]}
	if from > 0 {
		now = marks[from]
	} else {
		st.opened(p, &now)
	}
	for t := from; t < s.slots; t++ {
		marks[t] = now
		if occ[t] == 0 {
			continue
		}
		var c Cost
		t = st.visit(p, t, &now, &c, nil)
		now.cost += c.sum()
	}
}

// paddock tells the visits of one paddock, and adds what they cost to c.
func (st *state) paddock(p int, c *Cost, stays *[]stay) {
	s := st.season
	now := mark{mass: s.mass[p]}
	if m := st.opened(p, &now); m >= 0 {
		c.BelowResidual += now.cost
		*stays = append(*stays, stay{mob: m, pad: p, fact: true, in: now.mass, out: now.mass, rest: -1, cost: Cost{BelowResidual: now.cost}})
	}
	for t := 0; t < s.slots; t++ {
		if st.occ[p*s.slots+t] != 0 {
			t = st.visit(p, t, &now, c, stays)
		}
	}
	c.End += st.worth(p, int(now.at), now.mass)
}

func (c *Cost) add(o Cost) {
	c.Short += o.Short
	c.BelowResidual += o.BelowResidual
	c.Early += o.Early
	c.Late += o.Late
	c.Rest += o.Rest
	c.Stay += o.Stay
	c.Move += o.Move
	c.Distance += o.Distance
	c.Feed += o.Feed
	c.End += o.End
	c.Reserve += o.Reserve
	c.Many += o.Many
}

// missing is what was wanted and not eaten; what sums leave behind is nothing.
func missing(wanted, eaten float64) float64 {
	if kg := wanted - eaten; kg > 1e-9*wanted {
		return kg
	}
	return 0
}

// charge adds what one visit costs in its paddock. rest is −1 where it is unknown.
func (s *season) charge(c *Cost, m, p, k0, k1 int, fact bool, in, out, rest, eaten float64) {
	l := s.limit(m, p, k0)
	wanted := s.until[m*(s.pieces+1)+k1] - s.until[m*(s.pieces+1)+k0]
	days := s.at[k1] - s.at[k0]
	c.Short += s.w.Short * missing(wanted, eaten)
	c.BelowResidual += s.w.BelowResidual * max(0, s.limit(m, p, k1).residual-out) * l.area
	if s.p.Paddocks[p].Reserve {
		c.Reserve += s.w.Reserve * eaten
	}
	stayed := days
	if fact {
		stayed = s.at[k1] - s.since[m]
	} else if s.follows[m] < 0 { // what a follower finds is what the mob before it left
		c.Early += s.w.Early * max(0, l.entry-in) * l.area
		c.Late += s.w.Late * max(0, in-l.old) * l.area
		if rest >= 0 && l.restMin > 0 {
			c.Rest += s.w.Rest * max(0, 1-rest/l.restMin) * eaten
		}
	}
	if over := stayed - l.stayMax; over > 0 && days > 0 {
		c.Stay += s.w.Stay * over * wanted / days
	}
}

// between is what a mob's row costs from one slot to before another, the move into the other with it.
func (st *state) between(m, from, to int) float64 {
	var c Cost
	st.row(m, from, to, &c)
	return c.sum()
}

// row adds what a mob's moves cost from one slot to before another, the move into the other with it, and its stays off the pasture.
func (st *state) row(m, from, to int, c *Cost) {
	s := st.season
	loc := st.loc[m*s.slots : (m+1)*s.slots]
	here := s.in[m]
	if from > 0 {
		here = int(loc[from-1])
	}
	fed := s.p.Mobs[m].MayHold
	for t := from; t <= to && t < s.slots; t++ {
		if there := int(loc[t]); there != here {
			c.Move += s.w.Move
			if here != Off && there != Off {
				c.Distance += s.w.Distance * s.km[here*s.paddocks+there]
			}
			here = there
		}
		if here == Off && t < to {
			kg := s.until[m*(s.pieces+1)+s.first[t+1]] - s.until[m*(s.pieces+1)+s.first[t]]
			if fed {
				c.Feed += s.w.Feed * kg
			} else {
				c.Short += s.w.Short * kg
			}
		}
	}
}

// count adds a mob's moves from one slot to before another, and the move into the other, to those of their days, or takes them
// away; it gives by how much what is too much for a day costs more.
func (st *state) count(m, from, to, by int) float64 {
	s := st.season
	if st.busy == nil {
		return 0
	}
	loc := st.loc[m*s.slots : (m+1)*s.slots]
	here := s.in[m]
	if from > 0 {
		here = int(loc[from-1])
	}
	most, more := int16(s.p.MostMoves), 0
	for t := from; t <= to && t < s.slots; t++ {
		there := int(loc[t])
		if there == here {
			continue
		}
		day := &st.busy[s.day(s.first[t])]
		*day += int16(by)
		if by > 0 && *day > most || by < 0 && *day >= most {
			more += by
		}
		here = there
	}
	return s.w.Many * float64(more)
}

// told is a plan as its visits and its cost, with everything worked out anew.
func (st *state) told() ([]stay, Cost) {
	s := st.season
	var stays []stay
	var c Cost
	for p := range st.paddocks {
		st.paddock(p, &c, &stays)
	}
	for m := range st.mobs {
		st.row(m, 0, st.slots, &c)
		stays = append(stays, st.away(m)...)
	}
	for _, n := range st.busy {
		c.Many += s.w.Many * float64(max(0, int(n)-s.p.MostMoves))
	}
	c.sum()
	return stays, c
}

// away is a mob's stays off the pasture.
func (st *state) away(m int) []stay {
	s := st.season
	var out []stay
	for t := 0; t < s.slots; t++ {
		if st.loc[m*s.slots+t] != Off {
			continue
		}
		from := t
		for t+1 < s.slots && st.loc[m*s.slots+t+1] == Off {
			t++
		}
		k0, k1 := s.first[from], s.first[t+1]
		v := stay{mob: m, pad: Off, from: from, to: t + 1, fact: from == 0 && s.in[m] == Off, rest: -1,
			wanted: s.until[m*(s.pieces+1)+k1] - s.until[m*(s.pieces+1)+k0]}
		if s.p.Mobs[m].MayHold {
			v.cost.Feed = s.w.Feed * v.wanted
		} else {
			v.cost.Short = s.w.Short * v.wanted
		}
		out = append(out, v)
	}
	return out
}
