package plan

import "math"

// grid is one paddock over slots and masses. A mass is a step of log(K/M − 1) less what growth has added by then, which stays
// the same while nobody grazes; step 0 is at the ceiling.
type grid struct {
	*season
	pad, steps, longest int
	low, step           float64
	from, to            []int     // slot: the steps that can be
	offset              []int     // slot: where its table begins
	short               []float32 // slot, step, mob, length: kg short, as cost
	next                []uint16  // the step they leave
	enter               []float64 // mob: least cost of a move here
	dull                []float64 // mob: what a day past the longest stay costs at least
	start               [][]float64
	left                [][]int   // mob: for one that stands here at the start, what it is short and leaves, by length
	lost, early         []float64 // slot, step, mob: what leaving there costs for the residual, and entering for the entry
	over                []float64 // mob, slot, length: the least that staying too long costs
	want                []float64 // mob, slot: kg wanted by then
	rested              int       // slots after which rest counts no more
	class               []int     // mob, slots of rest: in which step of missing rest it is
	age                 int       // slots of rest at the start
	perClass, perShort  float64   // cost of a kg eaten, a step of missing rest; kg short, a unit of its cost
}

func (s *season) grid(p int, step float64) *grid {
	g := &grid{season: s, pad: p, step: step}
	pad := &s.p.Paddocks[p]
	slot := (s.at[s.pieces] - s.at[0]) / float64(s.slots)
	stay, lean := 0.0, min(s.mass[p], pad.Ceiling/2)
	for m := range s.mobs {
		if !s.barred[m*s.paddocks+p] || s.in[m] == p {
			stay, lean = max(stay, s.limit(m, p, 0).stayMax), min(lean, s.least(m, p, func(l *table) float64 { return l.floor }))
		}
		near := math.Inf(1)
		for q := range s.paddocks {
			if q != p {
				near = min(near, s.km[q*s.paddocks+p])
			}
		}
		if math.IsInf(near, 1) || s.p.Mobs[m].MayHold || s.in[m] == Off || s.follows[m] >= 0 {
			near = 0 // from the yard it is no way at all
		}
		g.enter = append(g.enter, s.w.Move+s.w.Distance*near)
		least := math.Inf(1)
		for t := range s.slots {
			least = min(least, s.wantedIn(m, t)/(s.at[s.first[t+1]]-s.at[s.first[t]]))
		}
		g.dull = append(g.dull, s.w.Stay*least)
	}
	// A stay as long as the table goes is always past the longest that is asked for.
	g.longest = max(1, min(s.slots, int(math.Ceil(stay/slot))))
	for t := 0; t+g.longest < s.slots; t++ {
		for t+g.longest < s.slots && s.at[s.first[t+g.longest]]-s.at[s.first[t]] < stay {
			g.longest++
		}
	}
	// From what is as good as the ceiling down to what can be left.
	high := math.Log(0.02)
	bottom := math.Log(pad.Ceiling/max(1e-4*pad.Ceiling, 0.9*lean) - 1)
	g.low = high
	grown := s.grown[p*(s.pieces+1):]
	g.steps = int((bottom+grown[s.pieces]-high)/step) + 3
	for t := range s.slots + 1 {
		gone := grown[s.first[min(t, s.slots)]]
		g.from = append(g.from, max(0, int((high+gone-high)/step)))
		g.to = append(g.to, min(g.steps-1, int((bottom+gone-high)/step)+2))
		g.offset = append(g.offset, 0)
	}
	at := 0
	for t := range s.slots {
		g.offset[t] = at
		at += (g.to[t] - g.from[t] + 1) * s.mobs * g.longest
	}
	g.offset[s.slots] = at
	return g
}

// size is how large its table would be. Growth that goes through all masses again and again has no table.
func (g *grid) size() float64 {
	if g.steps > mostSteps {
		return math.Inf(1)
	}
	return float64(g.offset[g.slots])
}

// mass is the highest mass that a step stands for at a piece.
func (g *grid) mass(step, piece int) float64 {
	k := g.p.Paddocks[g.pad].Ceiling
	y := g.low + float64(step)*g.step - g.grown[g.pad*(g.pieces+1)+piece]
	if step == 0 || y <= math.Log(0.02) {
		return max(k, g.season.mass[g.pad])
	}
	return k / (1 + math.Exp(y))
}

// of is the step that a mass at a slot falls into, or the next higher.
func (g *grid) of(mass float64, t int) int {
	k := g.p.Paddocks[g.pad].Ceiling
	if mass >= 0.98*k {
		return g.from[t]
	}
	y := math.Log(k/max(mass, 1e-9)-1) + g.grown[g.pad*(g.pieces+1)+g.first[t]]
	step := int(math.Floor((y - g.low) / g.step))
	return min(max(step, g.from[t]), g.to[t])
}

// fill makes the table of what every stay from every mass is short, and leaves.
func (g *grid) fill() {
	s := g.season
	g.short, g.next = make([]float32, g.offset[g.slots]), make([]uint16, g.offset[g.slots])
	for t := range g.slots {
		for b := g.from[t]; b <= g.to[t]; b++ {
			for m := range s.mobs {
				i := g.index(t, b, m)
				g.run(m, t, g.longest, g.mass(b, g.first[t]), false, func(length int, short float64, out int) {
					g.short[i+length-1], g.next[i+length-1] = float32(short*(1-1e-6)), uint16(out)
				}, func(length int) { g.short[i+length-1] = math.MaxFloat32 })
			}
		}
	}
	g.start, g.left = make([][]float64, s.mobs), make([][]int, s.mobs)
	for m := range s.mobs {
		if s.in[m] != g.pad {
			continue
		}
		g.run(m, 0, s.slots, s.mass[g.pad], true, func(_ int, short float64, out int) {
			g.start[m], g.left[m] = append(g.start[m], short), append(g.left[m], out)
		}, func(int) {})
	}
	g.lost, g.early = make([]float64, (g.slots+1)*g.steps*s.mobs), make([]float64, (g.slots+1)*g.steps*s.mobs)
	for t := range g.slots + 1 {
		for b := g.from[t]; b <= g.to[t]; b++ {
			mass := g.mass(b, s.first[t])
			for m := range s.mobs {
				l := s.limit(m, g.pad, s.first[t])
				g.lost[(t*g.steps+b)*s.mobs+m] = s.w.BelowResidual * max(0, l.residual-mass) * l.area
				if s.follows[m] < 0 {
					g.early[(t*g.steps+b)*s.mobs+m] = s.w.Early * max(0, l.entry-mass) * l.area
				}
			}
		}
	}
	for m := range s.mobs {
		l := s.limit(m, g.pad, 0)
		for t := range g.slots {
			for length := 1; length <= g.longest; length++ {
				days := s.at[s.first[min(g.slots, t+length)]] - s.at[s.first[t]]
				g.over = append(g.over, g.dull[m]*max(0, days-l.stayMax))
			}
		}
		g.want = append(g.want, 0)
		for t := range g.slots {
			g.want = append(g.want, g.want[len(g.want)-1]+s.wantedIn(m, t))
		}
	}
	g.rests()
}

// rests tabulates how much of the least rest is missing after so many slots, never more than is.
func (g *grid) rests() {
	s := g.season
	longest := func(slots int) float64 { // the most days that so many slots and less than one more can be
		most := 0.0
		for t := 0; t+1 <= g.slots; t++ {
			most = max(most, s.at[s.first[min(g.slots, t+slots)]]-s.at[s.first[t]])
		}
		return most
	}
	least := 0.0
	for m := range s.mobs {
		least = max(least, s.limit(m, g.pad, 0).restMin)
	}
	var days []float64
	for a := 0; ; a++ {
		d := longest(a)
		days = append(days, d)
		if d >= least || a >= s.slots {
			break
		}
	}
	g.rested = len(days) - 1
	for m := range s.mobs {
		asked := s.limit(m, g.pad, 0).restMin
		if s.follows[m] >= 0 {
			asked = 0
		}
		for a, d := range days {
			c := 0
			if asked > 0 && a < g.rested {
				c = max(0, int((1-d/asked)*classes-1e-9))
			}
			g.class = append(g.class, min(c, classes-1))
		}
	}
	g.age = g.rested
	if rest := s.p.Paddocks[g.pad].Rest; rest != nil {
		// The fewest slots that never count for less than the rest there has been and will be: more rest costs less.
		enough := func(age int) bool {
			for t := 0; age+t < g.rested; t++ {
				if days[age+t] < *rest+s.at[s.first[min(g.slots, t)]]-s.at[0] {
					return false
				}
			}
			return true
		}
		for g.age = 0; g.age < g.rested && !enough(g.age); g.age++ {
		}
	}
	g.perClass = min(s.w.Rest, s.w.Short) / classes // a kg not eaten for want of rest would be short
	if s.w.Short > 0 {
		g.perShort = 1 / s.w.Short * (1 + 1e-5)
	}
}

func (g *grid) index(t, b, m int) int { return g.offset[t] + ((b-g.from[t])*g.mobs+m)*g.longest }

// run carries a stay from slot to slot. fact: the mob stood there at the start.
func (g *grid) run(m, t, longest int, mass float64, fact bool, each func(length int, short float64, out int), never func(length int)) {
	s := g.season
	short := 0.0
	shut := s.barred[m*s.paddocks+g.pad] && !fact
	for length := 1; length <= longest; length++ {
		e := t + length - 1
		if shut = shut || e >= g.slots || s.closed[g.pad*s.slots+e] && !fact; shut {
			never(length)
			continue
		}
		var ate float64
		mass, ate = s.graze(m, g.pad, s.first[e], s.first[e+1], mass)
		short += s.w.Short * max(0, s.wantedIn(m, e)-ate)
		if s.p.Paddocks[g.pad].Reserve {
			short += min(s.w.Reserve, s.w.Short) * ate // no more than being short of it: from less mass it never is less
		}
		each(length, short, g.of(mass, e+1))
	}
}

// classes is in how many steps the missing share of a least rest is counted, each as the lesser of its ends.
const classes = 6

// desk is what one worker writes on while it looks at one paddock after another.
type desk struct {
	value []float64 // slot, step, slots of rest
	did   []int32
	on    []float64 // slot, step, mob: a stay that has lasted as long as the table goes already
}

func (d *desk) room(g *grid) {
	if n := (g.slots + 1) * g.steps * (g.rested + 1); len(d.value) < n {
		d.value, d.did = make([]float64, n), make([]int32, n)
	}
	if n := (g.slots + 1) * g.steps * g.mobs; len(d.on) < n {
		d.on = make([]float64, n)
	}
}

// cheapest is the least that the paddock can cost at these prices, paid up to each slot, and the slots of mobs that it covers then.
func (g *grid) cheapest(d *desk, paid []float64, covers []int16) float64 {
	s := g.season
	d.room(g)
	n, ages := g.slots, g.rested+1
	end := &s.ends[g.pad]
	for b := g.from[n]; b <= g.to[n]; b++ {
		v := 0.0
		if s.valued[g.pad] {
			v = -s.w.End * max(0, min(g.mass(b, s.pieces), end.old)-end.residual) * s.p.Paddocks[g.pad].AreaHa
		}
		for a := range ages {
			d.value[(n*g.steps+b)*ages+a] = v
		}
		for m := range s.mobs {
			d.on[(n*g.steps+b)*s.mobs+m] = g.lost[(n*g.steps+b)*s.mobs+m] + v
		}
	}
	var least [classes]float64
	var how [classes]int32
	for t := n - 1; t >= 0; t-- {
		for b := g.from[t]; b <= g.to[t]; b++ {
			// Left alone for a slot it keeps its step, as far as the grid still has it, and is a slot older.
			kept := (t+1)*g.steps + min(max(b, g.from[t+1]), g.to[t+1])
			here := d.value[(t*g.steps+b)*ages : (t*g.steps+b+1)*ages]
			did := d.did[(t*g.steps+b)*ages : (t*g.steps+b+1)*ages]
			for a := range here {
				here[a], did[a] = d.value[kept*ages+min(a+1, g.rested)], 0
			}
			for m := range s.mobs {
				i := g.index(t, b, m)
				if g.short[i] == math.MaxFloat32 {
					d.on[(t*g.steps+b)*s.mobs+m] = math.Inf(1)
					continue
				}
				pay := paid[m*(n+1):]
				for c := range least {
					least[c] = math.Inf(1)
				}
				goesOn := math.Inf(1)
				over := g.over[(m*n+t)*g.longest:]
				for length := 1; length <= g.longest; length++ {
					short := float64(g.short[i+length-1])
					if short == math.MaxFloat32 {
						break
					}
					e := t + length
					out := e*g.steps + int(g.next[i+length-1])
					base := short - (pay[e] - pay[t])
					v := g.lost[out*s.mobs+m] + d.value[out*ages]
					if length == g.longest {
						v = min(v, d.on[out*s.mobs+m])
					}
					v += base
					goesOn = min(goesOn, v+g.dull[m]*(s.at[s.first[e]]-s.at[s.first[t]]))
					v += over[length-1]
					ate := max(0, g.want[m*(n+1)+e]-g.want[m*(n+1)+t]-short*g.perShort)
					for c := range least {
						if x := v + float64(c)*g.perClass*ate; x < least[c] {
							least[c], how[c] = x, int32(length)
						}
					}
				}
				d.on[(t*g.steps+b)*s.mobs+m] = goesOn
				enter := g.enter[m] + g.early[(t*g.steps+b)*s.mobs+m]
				for a := range here {
					c := g.class[m*ages+a]
					if x := enter + least[c]; x < here[a] {
						here[a], did[a] = x, int32(m)*int32(g.longest+1)+how[c]
					}
				}
			}
		}
	}
	return g.open(d, paid, covers)
}

// open is the cheapest from the start on, where a mob may stand, and what it covers.
func (g *grid) open(d *desk, paid []float64, covers []int16) float64 {
	s := g.season
	ages := g.rested + 1
	b0 := g.of(s.mass[g.pad], 0)
	stands := -1
	for m, in := range s.in {
		if in == g.pad {
			stands = m
		}
	}
	if stands < 0 {
		g.trace(d, 0, b0, g.age, covers)
		return d.value[b0*ages+g.age]
	}
	m := stands
	lim := s.limit(m, g.pad, 0)
	best, how := math.Inf(1), -1
	if !s.fixedFirst {
		best, how = s.w.BelowResidual*max(0, lim.residual-s.mass[g.pad])*lim.area+d.value[b0*ages], 0
	}
	pay := paid[m*(g.slots+1):]
	for i, short := range g.start[m] {
		e, out := i+1, g.left[m][i]
		over := g.dull[m] * max(0, s.at[s.first[e]]-s.since[m]-lim.stayMax)
		if v := short - pay[e] + over + g.lost[(e*g.steps+out)*s.mobs+m] + d.value[(e*g.steps+out)*ages]; v < best {
			best, how = v, e
		}
	}
	if how > 0 {
		for t := range how {
			covers[m*g.slots+t]++
		}
		g.trace(d, how, g.left[m][how-1], 0, covers)
	} else {
		g.trace(d, 0, b0, 0, covers)
	}
	return best
}

// trace follows the cheapest from a slot, a step and a rest, and counts what it covers. What comes after a stay that goes on past
// the longest of the table is left out: it only says in which direction prices move.
func (g *grid) trace(d *desk, t, b, age int, covers []int16) {
	for t < g.slots {
		did := int(d.did[(t*g.steps+b)*(g.rested+1)+age])
		if did == 0 {
			b = min(max(b, g.from[t+1]), g.to[t+1])
			t, age = t+1, min(age+1, g.rested)
			continue
		}
		m, length := did/(g.longest+1), did%(g.longest+1)
		i := g.index(t, b, m)
		for e := t; e < t+length; e++ {
			covers[m*g.slots+e]++
		}
		b = int(g.next[i+length-1])
		t, age = t+length, 0
	}
}
