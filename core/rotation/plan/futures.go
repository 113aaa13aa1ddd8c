package plan

import (
	"fjell/core/chance"
	"math"
	"slices"
)

// shortShare is the share of a mob's demand of a day that it must miss before the day counts as short: below it nobody would see it.
const shortShare = 0.02

// atRisk is the chance from which a day is named as the first at risk.
const atRisk = 0.05

// Risk is what drawn futures say of a plan that is followed whatever grows.
type Risk struct {
	Futures     int       `json:"futures"`
	ShortChance float64   `json:"short_chance"`        // of some mob being short on some day
	FirstShort  *int      `json:"first_short_day"`     // the first day with a chance of one in twenty or more
	ByDay       []float64 `json:"short_chance_by_day"` // of some mob being short on that day
	Worst       *Worst    `json:"worst,omitempty"`     // where it is likeliest
}

// Worst is the mob and the paddock that are short in most futures.
type Worst struct {
	Mob     string  `json:"mob"`
	Paddock *string `json:"paddock"`
	Chance  float64 `json:"chance"`
}

// future is a season with growth and masses drawn anew. Growth by day has the same factor for all, and by paddock one of its own, so that
// it is foreseen growth times exp(weather + own); what stands at the start strays by what the method errs by everywhere, and by what is not known
// of each paddock. Every factor has a mean of 1. Those of growth are given too, paddock by piece.
func (s *season) future(number int) (*season, []float64) {
	d := chance.Draws(uint64(s.p.Seed)*0xbf58476d1ce4e5b9 + uint64(number)*0x9e3779b97f4a7c15 + 1)
	stray := s.p.strays()
	keep := math.Exp(-1 / stray.Days)
	days := make([]float64, s.p.Days)
	w := stray.Weather * d.Normal()
	for i := range days {
		days[i] = w - stray.Weather*stray.Weather/2
		w = keep*w + stray.Weather*math.Sqrt(1-keep*keep)*d.Normal()
	}
	factors := make([]float64, 0, len(s.decay))
	for p := range s.paddocks {
		own := d.Factor(s.p.Paddocks[p].own())
		for k := range s.pieces {
			factors = append(factors, math.Exp(days[s.day(k)])*own)
		}
	}
	f := s.scaled(factors)
	all := d.Factor(stray.Mass)
	for p := range s.paddocks {
		f.mass[p] = s.mass[p] * all * d.Factor(s.p.Paddocks[p].MassSpread)
	}
	return f, factors
}

// scaled is a season whose growth is multiplied, paddock by piece.
func (s *season) scaled(factors []float64) *season {
	c := *s
	c.mass = slices.Clone(s.mass)
	c.decay = make([]float64, len(s.decay))
	c.grown = make([]float64, len(s.grown))
	c.growable = make([]float64, len(s.growable))
	for p := range s.paddocks {
		for k := range s.pieces {
			at := p*(s.pieces+1) + k
			rate := (s.grown[at+1] - s.grown[at]) * factors[p*s.pieces+k]
			c.decay[p*s.pieces+k] = math.Exp(-rate)
			c.grown[at+1] = c.grown[at] + rate
		}
		for k := s.pieces - 1; k >= 0; k-- {
			at := p*(s.pieces+1) + k
			c.growable[at] = c.growable[at+1] + (s.growable[at]-s.growable[at+1])*factors[p*s.pieces+k]
		}
	}
	return &c
}

// careful is the season that a careful plan is made for: masses and growth as in the worst fifth of the futures, by all that stands and grows in them.
func (s *season) careful(futures int) *season {
	type drawn struct {
		factors, mass []float64
		feed          float64 // all that stands and grows, kg DM
	}
	all := make([]drawn, max(5, futures))
	for i := range all {
		var f *season
		f, all[i].factors = s.future(i)
		all[i].mass = f.mass
		for p, pad := range s.p.Paddocks {
			all[i].feed += (f.mass[p] + f.grown[p*(s.pieces+1)+s.pieces]*pad.Ceiling/4) * pad.AreaHa
		}
	}
	slices.SortStableFunc(all, func(a, b drawn) int {
		switch {
		case a.feed < b.feed:
			return -1
		case a.feed > b.feed:
			return 1
		}
		return 0
	})
	worst := all[:len(all)/5]
	mean, mass := make([]float64, len(s.decay)), make([]float64, s.paddocks)
	for _, w := range worst {
		for i, f := range w.factors {
			mean[i] += f / float64(len(worst))
		}
		for p, m := range w.mass {
			mass[p] += m / float64(len(worst))
		}
	}
	c := s.scaled(mean)
	c.mass = mass
	return c
}

// Poor is the problem in the season that a careful plan is made for, with nothing else changed: what stands and grows, day by day, as in the worst
// fifth of so many futures.
func (p *Problem) Poor(futures int) (Problem, error) {
	s, err := tables(p)
	if err != nil {
		return Problem{}, err
	}
	c := s.careful(futures)
	out := *p
	out.Paddocks = slices.Clone(p.Paddocks)
	for i := range out.Paddocks {
		pad := &out.Paddocks[i]
		pad.Mass = c.mass[i]
		peak := make(Series, p.Days)
		for d := range peak {
			peak[d] = pad.Peak.On(d)
		}
		for k := range s.pieces { // the same all day
			at := i*(s.pieces+1) + k
			if grown := s.grown[at+1] - s.grown[at]; grown > 0 {
				peak[s.day(k)] = p.Paddocks[i].Peak.On(s.day(k)) * (c.grown[at+1] - c.grown[at]) / grown
			}
		}
		pad.Peak = peak
	}
	return out, nil
}

// risk follows a plan through drawn futures.
func (st *state) risk(futures int) *Risk {
	s := st.season
	r := &Risk{Futures: futures, ByDay: make([]float64, s.p.Days)}
	where := make([]int, s.mobs*(s.paddocks+1))
	any := 0
	for i := range futures {
		f := *st
		f.season, _ = s.future(i)
		days := make([]bool, s.p.Days)
		at := make([]bool, len(where))
		f.shortages(func(m, p, day int) {
			days[day] = true
			at[m*(s.paddocks+1)+p+1] = true
		})
		short := false
		for d, is := range days {
			if is {
				r.ByDay[d]++
				short = true
			}
		}
		for w, is := range at {
			if is {
				where[w]++
			}
		}
		if short {
			any++
		}
	}
	n := float64(futures)
	r.ShortChance = float64(any) / n
	for d := range r.ByDay {
		r.ByDay[d] /= n
		if r.FirstShort == nil && r.ByDay[d] >= atRisk {
			r.FirstShort = &d
		}
	}
	if any > 0 {
		w := 0
		for i, c := range where {
			if c > where[w] {
				w = i
			}
		}
		r.Worst = &Worst{Mob: s.p.Mobs[w/(s.paddocks+1)].Key, Chance: float64(where[w]) / n}
		if p := w%(s.paddocks+1) - 1; p != Off {
			r.Worst.Paddock = &s.p.Paddocks[p].Key
		}
	}
	return r
}

// shortages says on which days a mob misses more of its demand than can be overlooked, and where it is then.
func (st *state) shortages(each func(mob, pad, day int)) {
	s := st.season
	missed := make([]float64, s.mobs*s.p.Days)
	place := make([]int, s.mobs*s.p.Days)
	note := func(m, p, piece int, kg float64) {
		i := m*s.p.Days + min(s.day(piece), s.p.Days-1)
		missed[i] += kg
		if kg > 0 {
			place[i] = p
		}
	}
	for p := range s.paddocks {
		mass, at := s.mass[p], 0
		for t := range s.slots {
			m := int(st.occ[p*s.slots+t]) - 1
			if m < 0 {
				continue
			}
			mass = s.after(p, at, s.first[t], mass)
			for k := s.first[t]; k < s.first[t+1]; k++ {
				var eaten float64
				mass, eaten = s.graze(m, p, k, k+1, mass)
				note(m, p, k, s.want[m*s.pieces+k]-eaten)
			}
			at = s.first[t+1]
		}
	}
	for m := range s.mobs {
		for t := range s.slots {
			if st.loc[m*s.slots+t] == Off && !s.p.Mobs[m].MayHold {
				for k := s.first[t]; k < s.first[t+1]; k++ {
					note(m, Off, k, s.want[m*s.pieces+k])
				}
			}
		}
		for d := range s.p.Days {
			if kg := missed[m*s.p.Days+d]; kg > 0 && kg > shortShare*s.p.Mobs[m].Demand.On(d) {
				each(m, place[m*s.p.Days+d], d)
			}
		}
	}
}
