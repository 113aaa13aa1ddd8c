package plan

import (
	"math"
	"slices"
	"sort"

	"fjell/core/quantity"
)

// season is a problem as flat tables, made once. Pieces are the stretches between cuts, at every midnight and every move
// hour; slots are the stretches between moments at which stock may be moved. A paddock that nobody grazes is carried
// over any number of pieces at once, for in K/M − 1 growth is a factor a piece.
type season struct {
	p                             *Problem
	paddocks, mobs, slots, pieces int
	at                            []float64 // cuts, pieces+1
	first                         []int     // first piece of each slot, slots+1
	fixedFirst                    bool      // nobody can be moved at the start: the first slot is as they stand

	mass  []float64 // of each paddock at the start
	decay []float64 // paddock × piece: what K/M − 1 is multiplied by
	grown []float64 // paddock × cut: what growth has added to −log(K/M − 1) by then
	want  []float64 // mob × piece, kg
	until []float64 // mob × cut: kg wanted from the start

	closed  []bool    // paddock × slot: no planned stay may hold it
	barred  []bool    // mob × paddock: not its ground
	free    []bool    // mob × slot: may be moved about; a pinned slot is not
	pinned  []int     // mob × slot: index of the pin that holds the slot, or −1
	pinPads []int     // paddock of each pin
	enters  []bool    // mob × slot: a pin begins here, so the slot before is elsewhere
	limits  []table   // period × mob × paddock: see limit
	period  []int     // piece: in which stretch of time it lies, where limits change with the time
	ends    []table   // of each paddock at the end: those of the first mob whose ground it is
	valued  []bool    // a paddock is some mob's ground
	km      []float64 // paddock × paddock

	stands     []int     // mob that stands in each paddock at the start, or −1
	hungry     []float64 // cut: kg that all mobs want from then on
	growable   []float64 // paddock × cut: kg/ha that it can grow at the most from then on
	slack      []float64 // kg/ha between the residual that counts at the end and the least that some mob may leave
	cheapestKg float64   // the least that a kg of demand costs: missing at the end, below a residual, fed or short

	follows []int // mob: the one it follows, or −1
	behind  []int // mobs that follow another, each after the one it follows

	in    []int     // paddock of each mob at the start, or Off
	since []float64 // when it came there
	w     Weights
}

// table is limits as the simulation needs them.
type table struct {
	entry, old, residual, restMin, stayMax float64
	floor                                  float64 // mass below which nothing can be reached
	reach                                  float64 // kg that a kg/ha of mass is, as eaten: area times utilisation
	area                                   float64
}

const sameMoment = 1e-7 // days

// tables makes a season of a problem that was checked.
func tables(p *Problem) (*season, error) {
	s := &season{p: p, paddocks: len(p.Paddocks), mobs: len(p.Mobs), w: p.Weights}
	s.cut()
	index := map[string]int{}
	for i, pad := range p.Paddocks {
		index[pad.Key] = i
	}
	s.grow()
	s.line()
	s.settle(index)
	s.reckonLeast()
	s.close()
	if err := s.pin(index); err != nil {
		return nil, err
	}
	return s, nil
}

// cut makes pieces and slots.
func (s *season) cut() {
	p, start, end := s.p, s.p.start(), float64(s.p.Days)
	hours := slices.Clone(p.MoveHours)
	sort.Float64s(hours)
	var moments []float64
	moves := map[float64]bool{}
	for d := int(math.Floor(start)); d < p.Days; d++ {
		day := float64(d)
		moments = append(moments, day)
		for _, h := range hours {
			at := day + h/24
			moments = append(moments, at)
			if p.MoveDays == nil || slices.Contains(p.MoveDays, d) {
				moves[at] = true
			}
		}
	}
	s.at = []float64{start}
	s.first = []int{0}
	s.fixedFirst = true
	for _, at := range moments {
		last := len(s.at) - 1
		switch {
		case at < start-sameMoment || at >= end-sameMoment:
			continue
		case math.Abs(at-s.at[last]) <= sameMoment:
			if moves[at] && last == 0 {
				s.fixedFirst = false
			}
			if moves[at] && last > 0 && s.first[len(s.first)-1] != last {
				s.first = append(s.first, last)
			}
			continue
		}
		s.at = append(s.at, at)
		if moves[at] {
			s.first = append(s.first, last+1)
		}
	}
	s.pieces = len(s.at)
	s.slots = len(s.first)
	s.at = append(s.at, end)
	s.first = append(s.first, s.pieces)
}

// grow tabulates growth and demand by piece.
func (s *season) grow() {
	s.decay = make([]float64, s.paddocks*s.pieces)
	s.grown = make([]float64, s.paddocks*(s.pieces+1))
	for i, pad := range s.p.Paddocks {
		s.mass = append(s.mass, pad.Mass)
		for k := range s.pieces {
			rate := 4 * pad.Peak.On(s.day(k)) / pad.Ceiling * (s.at[k+1] - s.at[k])
			s.decay[i*s.pieces+k] = math.Exp(-rate)
			s.grown[i*(s.pieces+1)+k+1] = s.grown[i*(s.pieces+1)+k] + rate
		}
	}
	s.want = make([]float64, s.mobs*s.pieces)
	s.until = make([]float64, s.mobs*(s.pieces+1))
	for m, mob := range s.p.Mobs {
		for k := range s.pieces {
			kg := mob.Demand.On(s.day(k)) * (s.at[k+1] - s.at[k])
			s.want[m*s.pieces+k] = kg
			s.until[m*(s.pieces+1)+k+1] = s.until[m*(s.pieces+1)+k] + kg
		}
	}
}

// day is the day of a piece.
func (s *season) day(piece int) int { return int(math.Floor(s.at[piece] + sameMoment)) }

// periods parts the pieces where some limit changes, and gives a day of each part.
func (s *season) periods() []int {
	var changes []float64
	note := func(l Limits) {
		for _, t := range l.Times {
			changes = append(changes, t.From, t.Until)
		}
	}
	for _, m := range s.p.Mobs {
		note(*m.Limits)
		for _, l := range m.LimitsByPaddock {
			note(l)
		}
	}
	slices.Sort(changes)
	changes = slices.Compact(changes)
	var days []int
	was := -1
	for k := range s.pieces {
		day := s.day(k)
		in := sort.Search(len(changes), func(i int) bool { return changes[i] > float64(day) })
		if in != was {
			days, was = append(days, day), in
		}
		s.period = append(s.period, len(days)-1)
	}
	return days
}

// limit is what a mob's way of grazing asks of a paddock at a cut.
func (s *season) limit(m, p, cut int) *table {
	return &s.limits[(s.period[min(cut, s.pieces-1)]*s.mobs+m)*s.paddocks+p]
}

// least is the lowest of something that a mob's limits of a paddock say at any time.
func (s *season) least(m, p int, of func(*table) float64) float64 {
	least := math.Inf(1)
	for i := m*s.paddocks + p; i < len(s.limits); i += s.mobs * s.paddocks {
		least = min(least, of(&s.limits[i]))
	}
	return least
}

// line tabulates who follows whom.
func (s *season) line() {
	for _, mob := range s.p.Mobs {
		s.follows = append(s.follows, slices.IndexFunc(s.p.Mobs, func(o Mob) bool { return mob.Follows != "" && o.Key == mob.Follows }))
	}
	s.behind, _ = inOrder(s.follows)
}

// settle tabulates limits, ground, distances and where everybody stands.
func (s *season) settle(index map[string]int) {
	n := s.paddocks
	days := s.periods()
	s.limits, s.barred = make([]table, len(days)*s.mobs*n), make([]bool, s.mobs*n)
	s.ends, s.valued, s.km = make([]table, n), make([]bool, n), make([]float64, n*n)
	s.stands = make([]int, n)
	for a, pa := range s.p.Paddocks {
		s.stands[a] = -1
		for b, pb := range s.p.Paddocks {
			s.km[a*n+b] = math.Hypot(pa.X-pb.X, pa.Y-pb.Y) / 1000
		}
	}
	for m, mob := range s.p.Mobs {
		for i, pad := range s.p.Paddocks {
			l := *mob.Limits
			if own, ok := mob.LimitsByPaddock[pad.Key]; ok {
				l = own
			}
			for k, day := range days {
				l := l.On(day)
				s.limits[(k*s.mobs+m)*n+i] = table{l.Entry, l.TooOld, l.Residual, l.RestMin, l.StayMax, l.Residual / 2, pad.AreaHa * l.Utilisation, pad.AreaHa}
			}
			s.barred[m*n+i] = mob.Ground != nil && !slices.Contains(mob.Ground, pad.Key)
			if !s.barred[m*n+i] && !s.valued[i] {
				s.valued[i], s.ends[i] = true, *s.limit(m, i, s.pieces)
			}
		}
		in, since := Off, s.at[0]
		if mob.In != nil {
			in = index[*mob.In]
			if mob.Since != nil {
				since = *mob.Since
			}
		}
		s.in, s.since = append(s.in, in), append(s.since, since)
		if in != Off {
			s.stands[in] = m
		}
	}
}

// reckonLeast tabulates what toCome needs.
func (s *season) reckonLeast() {
	s.hungry = make([]float64, s.pieces+1)
	s.growable = make([]float64, s.paddocks*(s.pieces+1))
	s.cheapestKg = min(s.w.End, s.w.BelowResidual)
	for m, mob := range s.p.Mobs {
		out := s.w.Short
		if mob.MayHold {
			out = min(out, s.w.Feed)
		}
		s.cheapestKg = min(s.cheapestKg, out)
		for k := s.pieces - 1; k >= 0; k-- {
			s.hungry[k] += s.until[m*(s.pieces+1)+s.pieces] - s.until[m*(s.pieces+1)+k]
		}
	}
	for p, pad := range s.p.Paddocks {
		row := s.growable[p*(s.pieces+1):]
		for k := s.pieces - 1; k >= 0; k-- {
			row[k] = row[k+1] + pad.Peak.On(s.day(k))*(s.at[k+1]-s.at[k])
		}
		least := s.ends[p].residual
		for m := range s.mobs {
			if !s.barred[m*s.paddocks+p] || s.in[m] == p {
				least = min(least, s.least(m, p, func(l *table) float64 { return l.residual }))
			}
		}
		s.slack = append(s.slack, s.ends[p].residual-least)
	}
}

// close marks the slots that closures bar.
func (s *season) close() {
	s.closed = make([]bool, s.paddocks*s.slots)
	for i, pad := range s.p.Paddocks {
		for _, c := range pad.Closed {
			for t := range s.slots {
				for k := s.first[t]; k < s.first[t+1]; k++ {
					if s.at[k] >= c.From-sameMoment && s.at[k] < c.Until-sameMoment {
						s.closed[i*s.slots+t] = true
					}
				}
			}
		}
	}
}

// slotAt is the slot that begins at a moment; slots where the moment is the end; −1 where it is none.
func (s *season) slotAt(at float64) int {
	if math.Abs(at-s.at[s.pieces]) <= sameMoment {
		return s.slots
	}
	for t := range s.slots {
		if math.Abs(at-s.at[s.first[t]]) <= sameMoment {
			if t == 0 && s.fixedFirst {
				return -1
			}
			return t
		}
	}
	return -1
}

// pin marks the slots that pins hold, and refuses pins that no plan can keep.
func (s *season) pin(index map[string]int) error {
	s.pinPads = make([]int, len(s.p.Pins))
	s.free, s.enters, s.pinned = make([]bool, s.mobs*s.slots), make([]bool, s.mobs*s.slots), make([]int, s.mobs*s.slots)
	for i := range s.free {
		s.free[i], s.pinned[i] = !(s.fixedFirst && i%s.slots == 0), -1
	}
	mobs := map[string]int{}
	for m, mob := range s.p.Mobs {
		mobs[mob.Key] = m
	}
	held := map[[2]int]int{} // paddock and slot → pin
	for i, pin := range s.p.Pins {
		m, pad := mobs[pin.Mob], Off
		if pin.Paddock != nil {
			pad = index[*pin.Paddock]
		}
		refuse := func(at float64, why string) error {
			return quantity.Refuse("pins", nil, "no plan can keep the pin of %s on day %d: %s", pin.Mob, int(math.Floor(at+sameMoment)), why)
		}
		from := s.slotAt(pin.Enter)
		if from < 0 || from == s.slots {
			return refuse(pin.Enter, "that is no moment at which stock are moved")
		}
		to := from + 1 // an end that is left open is the plan's to choose
		if pin.Leave != nil {
			if to = s.slotAt(*pin.Leave); to <= from {
				return refuse(pin.Enter, "it ends at no moment, after it began, at which stock are moved")
			}
		}
		switch {
		case pad == Off && !s.p.Mobs[m].MayHold:
			return refuse(pin.Enter, "they may not be held off the pasture")
		case pad != Off && s.barred[m*s.paddocks+pad]:
			return refuse(pin.Enter, *pin.Paddock+" is not their ground")
		case from == 0 && s.in[m] == pad:
			return refuse(pin.Enter, "they stand there already")
		}
		for t := from; t < to; t++ {
			switch {
			case s.pinned[m*s.slots+t] >= 0:
				return refuse(s.at[s.first[t]], "they are pinned elsewhere then")
			case pad != Off && s.closed[pad*s.slots+t]:
				return refuse(s.at[s.first[t]], *pin.Paddock+" is closed then")
			}
			if pad != Off {
				if other, taken := held[[2]int{pad, t}]; taken {
					return refuse(s.at[s.first[t]], s.p.Pins[other].Mob+" are pinned there then")
				}
				held[[2]int{pad, t}] = i
			}
			s.pinned[m*s.slots+t], s.free[m*s.slots+t] = i, false
		}
		s.pinPads[i] = pad
		s.enters[m*s.slots+from] = true
		if pin.Leave != nil && to < s.slots {
			s.enters[m*s.slots+to] = true
		}
	}
	return nil
}

// after is what a mass becomes over pieces in which nobody grazes.
func (s *season) after(pad, from, to int, mass float64) float64 {
	if from == to || mass == 0 {
		return mass
	}
	g := s.grown[pad*(s.pieces+1):]
	k := s.p.Paddocks[pad].Ceiling
	return mass * k / (mass + (k-mass)*math.Exp(g[from]-g[to]))
}

// graze lets a mob stand in a paddock over pieces: the mass it leaves, and the kg it ate.
func (s *season) graze(mob, pad, from, to int, mass float64) (left, eaten float64) {
	l := s.limit(mob, pad, from)
	k := s.p.Paddocks[pad].Ceiling
	decay, want := s.decay[pad*s.pieces:], s.want[mob*s.pieces:]
	last := s.period[from:to]
	for i := from; i < to; i++ {
		if last[i-from] != last[0] {
			l = s.limit(mob, pad, i)
		}
		if mass > 0 {
			mass = mass * k / (mass + (k-mass)*decay[i])
		}
		kg := want[i]
		if can := (mass - l.floor) * l.reach; can < kg {
			kg = max(0, can)
		}
		mass -= kg / l.reach
		eaten += kg
	}
	return mass, eaten
}
