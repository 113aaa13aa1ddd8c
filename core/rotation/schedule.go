package rotation

import (
	"math"
	"sort"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Pin is a move a person has fixed: this mob into this paddock at that time, and out again if Leave is given.
type Pin struct {
	Mob, Paddock int
	Enter        time.Time
	Leave        time.Time
}

// Alternative is a paddock that could have been taken instead.
type Alternative struct {
	Paddock int
	Mass    float64
	State   grazing.State
	Reasons []grazing.Reason
}

// Visit is one stay of a plan.
type Visit struct {
	Mob, Paddock int
	Enter, Leave time.Time
	Fact         bool // the mob is in there already
	Pinned       bool
	Found        bool    // a search chose this paddock
	MassIn       float64 // kg DM/ha
	MassOut      float64
	Rest         *float64 // days before entering; nil: unknown
	Feed         float64  // kg the school lets them take, standing on entry
	Demand       float64  // kg wanted over the stay
	Eaten        float64
	Short        float64
	State        grazing.State
	Reasons      []grazing.Reason
	Instead      []Alternative
	LingerMass   float64           // kg DM/ha left if they stay one more day
	LingerDays   float64           // days later it is back for that, by the clock that sets its rest; +Inf: not this season
	Broken       bool              // with that day they eat below the residual
	Leaves       *grazing.Reason   // why they leave when they do; nil: the plan ends
	Held         time.Time         // from when they are held and fed, since nothing that is rested has feed; zero: they are not
	Needs        grazing.RestClock // rest it needs after they leave, and which clock sets it
	Limits       grazing.Limits    // that hold for this stay
}

// Plan is a schedule with what it does to every paddock.
type Plan struct {
	From, To time.Time
	Visits   []Visit
	Trace    [][]TracePoint
	Totals   []Totals
	Checks   []Check
}

// Schedule chooses, mob by mob and move by move, where each goes and for how long. It is a straightforward
// forward chooser: a mob stays while feed above the residual lasts and the school allows, then takes the paddock
// that stands ripest by its school. Rest binds: where nothing that is rested has feed, the mob is held where it is and
// fed, and the plan says what is missing. Pins are kept; a paddock pinned for somebody else is left alone before.
func Schedule(farm Farm, mobs []Mob, standing []Standing, pins []Pin, now, to time.Time) Plan {
	return Following(farm, mobs, standing, pins, nil, now, to)
}

func newScheduler(farm Farm, mobs []Mob, standing []Standing, pins []Pin, now, to time.Time) *scheduler {
	days := farm.days(mobs, now, to.AddDate(0, 0, horizonDays+1))
	s := &scheduler{runner: newRunner(farm, mobs, standing, days, now), began: standing, standing: append([]Standing(nil), standing...), to: to}
	s.open = make([]int, len(mobs))
	s.leaveAt = make([]time.Time, len(mobs))
	s.behind = behind(mobs)
	s.pins, s.held, s.found = make([][]Pin, len(mobs)), make([]hold, len(mobs)), make([][]Move, len(mobs))
	for _, p := range pins {
		if p.Enter.After(now) && p.Enter.Before(to) && mobs[p.Mob].Follows == "" {
			s.pins[p.Mob] = append(s.pins[p.Mob], p)
		}
	}
	for m := range mobs {
		sort.SliceStable(s.pins[m], func(a, b int) bool { return s.pins[m][a].Enter.Before(s.pins[m][b].Enter) })
	}
	return s
}

func (s *scheduler) schedule() Plan {
	farm, mobs, now, to := s.farm, s.mobs, s.now, s.to
	for m := range mobs {
		s.open[m] = -1
		if p := mobs[m].In; p != Nowhere {
			s.begin(m, p, mobs[m].Since, false, nil)
			s.visits[s.open[m]].Fact = true
		}
	}
	for m := range mobs {
		switch {
		case mobs[m].Follows != "":
			s.leaveAt[m] = to // they go when the mob before them does
		case s.open[m] >= 0:
			s.leaveAt[m] = s.pairUntil(m, time.Time{})
		default:
			s.leaveAt[m] = farm.NextSlot(now.Add(-time.Second))
		}
	}
	for {
		m := -1
		for k := range mobs {
			if s.leaveAt[k].Before(to) && (m < 0 || s.leaveAt[k].Before(s.leaveAt[m])) {
				m = k
			}
		}
		if m < 0 {
			break
		}
		s.advance(s.leaveAt[m])
		s.move(m)
	}
	s.advance(to)
	for m := range mobs {
		s.release(m, to)
		if s.open[m] >= 0 {
			s.end(m, to)
		}
	}
	for p := range farm.Paddocks {
		s.mark(p)
	}
	plan := Plan{From: now, To: to, Visits: s.visits, Trace: s.trace, Totals: s.totals}
	plan.Checks = append(check(farm, s.days, mobs, s.began, plan.Visits), s.stuck...)
	sort.SliceStable(plan.Checks, func(a, b int) bool { return plan.Checks[a].At.Before(plan.Checks[b].At) })
	return plan
}

type scheduler struct {
	*runner
	began    []Standing // what stood at first
	standing []Standing
	to       time.Time
	visits   []Visit
	open     []int // visit each mob is in, or -1
	leaveAt  []time.Time
	pins     [][]Pin  // still to come, by mob
	found    [][]Move // of a search, still to come, by mob
	behind   []int    // the mob that follows each, or Nowhere
	held     []hold   // of mobs that found no paddock at their last move hour
	stuck    []Check
}

// hold is a mob that is kept where it is and fed, since nothing that is rested has feed.
type hold struct {
	from    time.Time
	missing float64 // of its visit, when the hold began
	why     string
}

// asked is what a mob's way of grazing asks of a stay at a moment: on entering, and again on leaving. Of a stay that is under way what
// they found when they came in is behind them.
func (s *scheduler) asked(m, p int, enter, at time.Time, in float64) grazing.Limits {
	l := s.farm.Asks(s.mobs[m], p, at)
	if p == s.mobs[m].In && enter.Equal(s.mobs[m].Since) {
		return l
	}
	return l.Entered(in)
}

// begin opens a visit of a mob.
func (s *scheduler) begin(m, p int, enter time.Time, pinned bool, instead []Alternative) {
	l := s.asked(m, p, enter, s.now, s.mass[p])
	rest := s.standing[p].Rest(enter)
	state, reasons := s.farm.Readiness(p, s.look(m, p), l)
	s.open[m] = len(s.visits)
	s.visits = append(s.visits, Visit{Mob: m, Paddock: p, Enter: enter, Pinned: pinned, MassIn: s.mass[p], Rest: rest,
		Feed: math.Max(0, s.mass[p]-l.Residual) * s.farm.Paddocks[p].AreaHa * l.U, State: state, Reasons: reasons, Instead: instead, Limits: l})
	s.enter(m, p)
}

// end closes a mob's visit and works out what another day in it would cost.
func (s *scheduler) end(m int, at time.Time) {
	v := &s.visits[s.open[m]]
	s.settle(v.Paddock)
	v.Limits.Residual = s.asked(m, v.Paddock, v.Enter, at, v.MassIn).Residual
	pad, l := s.farm.Paddocks[v.Paddock], v.Limits
	v.Leave, v.MassOut = at, s.mass[v.Paddock]
	v.Demand, v.Eaten = s.wanted[m], s.eaten[m]
	v.Short = math.Max(0, v.Demand-v.Eaten)
	grown := forage.Grow(v.MassOut, pad.Peak*s.growing[v.Paddock], pad.Ceiling, 1)
	v.LingerMass = math.Max(math.Min(v.MassOut, l.Residual/2), grown-s.demand[m]/l.U/pad.AreaHa)
	v.Broken = v.LingerMass < l.Residual*(1-slackShare) && v.Held.IsZero()
	back := s.days.daysTo(v.Paddock, pad, s.factor[v.Paddock], v.MassOut, l.Entry, at)
	v.Needs = grazing.RestNeeded(l.RestMin, back)
	// It is back when the longer of its clocks has run, in both cases.
	later := s.days.daysTo(v.Paddock, pad, s.factor[v.Paddock], v.LingerMass, l.Entry, at.Add(24*time.Hour))
	if v.LingerDays = 1 + math.Max(later, l.RestMin) - math.Max(back, l.RestMin); math.IsNaN(v.LingerDays) {
		v.LingerDays = 1 // it does not come back either way: the day itself is all it costs
	}
	left := at
	s.standing[v.Paddock].LastLeft = &left
	s.leave(m)
	s.open[m] = -1
}

// stayUntil is the move hour at which a mob should leave the paddock it stands in: the last one that keeps the
// residual and the school's longest stay, but never less than one. Pins, its own and others' on this paddock, end
// the stay; so does an explicit leave.
func (s *scheduler) stayUntil(m int, leave time.Time) time.Time {
	v := s.visits[s.open[m]]
	p, l := v.Paddock, v.Limits
	limit := s.to.Add(time.Hour)
	for k := range s.pins {
		for _, pin := range s.pins[k] {
			if (k == m || pin.Paddock == p) && pin.Enter.After(s.now) && pin.Enter.Before(limit) {
				limit = pin.Enter
			}
		}
	}
	if !leave.IsZero() {
		s.because(m, "planned so")
		if leave.Before(limit) {
			return leave
		}
		return limit
	}
	// What is carried forward is this paddock alone, by the growth learned there, the weather, and all who stand in it.
	around := &almanac{midnights: s.days.midnights, curve: s.days.curve[p : p+1], share: s.days.share, sum: s.days.sum, dying: s.days.dying}
	var company []Mob
	for k, in := range s.in {
		if in == p {
			company = append(company, Mob{Limits: []grazing.Limits{s.visits[s.open[k]].Limits}})
			around.demand = append(around.demand, s.days.demand[k])
		}
	}
	alone := newRunner(s.farm.only(p), company, []Standing{{Mass: s.mass[p], Factor: s.factor[p]}}, around, s.now)
	for k := range company {
		alone.enter(k, 0)
	}
	latest := v.Enter.Add(time.Duration(l.StayMax * 24 * float64(time.Hour)))
	found := s.stay(m)
	best := time.Time{}
	first := s.farm.NextSlot(s.now)
	if at := s.farm.NextSlot(s.now.Add(-time.Second)); at.After(v.Enter) {
		first = at // a mob that is due may go this very hour
	}
	for slot := first; !slot.After(limit); slot = s.farm.NextSlot(slot) {
		alone.advance(slot)
		alone.settle(0)
		residual := s.asked(m, p, v.Enter, slot, v.MassIn).Residual
		least := residual
		if found != nil { // the search counts days a little otherwise: a hair below is not sooner
			least *= 1 - slackShare
		}
		eaten, overstayed := alone.mass[0] < least, slot.After(latest)
		if best.IsZero() || !eaten && !overstayed {
			best = slot
		}
		if eaten {
			s.because(m, "by the next move hour they would eat below {R}", working.T("R", "residual", residual, quantity.ForageMass))
		} else if overstayed {
			s.because(m, "{d} is the longest stay: after it they bite the regrowth", working.T("d", "longest stay", l.StayMax, quantity.Day))
		}
		if eaten || overstayed {
			break
		}
		if found != nil && !slot.Before(found.Leave) {
			s.because(m, "of all the ways looked through, the one that costs least goes on then")
			break
		}
	}
	if best.IsZero() || best.After(limit) {
		best = limit
	}
	if best.Equal(limit) && limit.Before(s.to) {
		s.because(m, "planned so")
	}
	return best
}

// because notes why a mob leaves when it does.
func (s *scheduler) because(m int, text string, figures ...working.Term) {
	r := grazing.Because(text, figures...)
	s.visits[s.open[m]].Leaves = &r
}

// move takes a mob out of where it is and into the next paddock.
func (s *scheduler) move(m int) {
	at := s.leaveAt[m]
	var pin *Pin
	if len(s.pins[m]) > 0 && !s.pins[m][0].Enter.After(at) {
		pin = &s.pins[m][0]
		s.pins[m] = s.pins[m][1:]
	}
	ranked, any := s.rank(m, at)
	found := s.next(m, ranked)
	if pin == nil && len(ranked) == 0 {
		why := "nothing that is rested has feed"
		if !any {
			why = "there is no free paddock to go to"
		}
		s.hold(m, at, why)
		for f := s.behind[m]; f != Nowhere; f = s.behind[f] {
			s.hold(f, at, s.mobs[m].Name+" before them do not go on")
		}
		s.leaveAt[m] = s.farm.NextSlot(at)
		return
	}
	was := s.in[m]
	s.release(m, at)
	if s.open[m] >= 0 {
		s.end(m, at)
	}
	target, leave := Nowhere, time.Time{}
	switch {
	case pin != nil:
		target, leave = pin.Paddock, pin.Leave
	case found != nil:
		target = found.Paddock
	default:
		target = ranked[0].Paddock
	}
	var instead []Alternative
	for _, a := range ranked {
		if a.Paddock != target && len(instead) < 2 {
			instead = append(instead, a)
		}
	}
	s.begin(m, target, at, pin != nil, instead)
	s.visits[s.open[m]].Found = pin == nil && found != nil
	s.bringAlong(m, was, at)
	s.leaveAt[m] = s.pairUntil(m, leave)
}

// hold keeps a mob where it is, and feeds it.
func (s *scheduler) hold(m int, at time.Time, why string) {
	if s.fed[m] {
		return
	}
	if p := s.in[m]; p != Nowhere {
		s.settle(p)
	}
	s.fed[m] = true
	s.held[m] = hold{at, s.wanted[m] - s.eaten[m], why}
}

// release ends a hold and says what it took.
func (s *scheduler) release(m int, at time.Time) {
	if !s.fed[m] {
		return
	}
	h, p := s.held[m], s.in[m]
	missing := s.days.demandOver(m, h.from, at)
	where := "keep them off"
	if p != Nowhere {
		s.settle(p)
		s.visits[s.open[m]].Held = h.from
		missing, where = s.wanted[m]-s.eaten[m]-h.missing, "hold them where they are"
	}
	s.fed[m] = false
	why := h.why
	if p != Nowhere {
		if s.because(m, "until then "+why); !at.Before(s.to) {
			s.visits[s.open[m]].Leaves = nil // the plan ends, they do not go
		}
	}
	c := Check{Rule: NoPaddock, Severity: grazing.Stop, At: h.from, Mob: m, Paddock: p,
		Reason: grazing.Because(why+": "+where+" and feed {kg} over {d}, or take stock away", working.T("kg", "missing", missing, quantity.Kilogram),
			working.T("d", "until one is ready, or the plan ends", daysBetween(h.from, at), quantity.Day))}
	if missing < 1 {
		c.Severity, c.Reason = grazing.Mind, grazing.Because(why+": they stay {d} longer", working.T("d", "longer", daysBetween(h.from, at), quantity.Day))
	}
	s.stuck = append(s.stuck, c)
}

func (s *scheduler) look(m, p int) grazing.Look {
	occupied := false
	for k, in := range s.in {
		occupied = occupied || (k != m && in == p)
	}
	pad := s.farm.Paddocks[p]
	look := grazing.Look{Mass: s.mass[p], Half: s.standing[p].HalfWidth, Guessed: s.standing[p].Guessed, Rest: s.standing[p].Rest(s.now), Occupied: occupied,
		DaysToGo: s.days.daysTo(p, pad, s.factor[p], s.mass[p], s.farm.Asks(s.mobs[m], p, s.now).Entry, s.now)}
	pad.see(&look, s.now, s.farm.Location)
	return look
}

// rank orders the paddocks that a mob may enter now: those that are rested, as far as that is known, and have feed; any
// tells whether others were free. What was measured goes before what is guessed, and the ripest first. A paddock's score is
// how far it stands between residual and entry; a long way to walk and a pin that needs it soon count against it.
func (s *scheduler) rank(m int, at time.Time) (ranked []Alternative, any bool) {
	type scored struct {
		Alternative
		score float64
	}
	from, next := s.in[m], s.farm.NextSlot(at)
	wanted, away := s.days.demandOver(m, at, next), next.Sub(at) > 36*time.Hour
	var list []scored
	for p, pad := range s.farm.Paddocks {
		if _, closed := pad.ClosedAt(at); closed || !s.mobs[m].Ground[p] || p == from {
			continue
		}
		look := s.look(m, p)
		if look.Occupied {
			continue
		}
		any = true
		l := s.farm.Asks(s.mobs[m], p, at)
		if !rested(look, l) || s.mass[p] <= l.Residual {
			continue
		}
		score := (s.mass[p] - l.Residual) / (l.Entry - l.Residual)                          // by the school's own residual: a share of more is more
		if missing := wanted - (s.mass[p]-l.Residual)*pad.AreaHa*l.U; away && missing > 0 { // it does not last until somebody is there
			score -= 2 * missing / wanted
		}
		if from != Nowhere {
			here := s.farm.Paddocks[from]
			score -= 0.15 * math.Hypot(pad.X-here.X, pad.Y-here.Y) / 1000
		}
		for _, pins := range s.pins {
			for _, pin := range pins {
				if away := pin.Enter.Sub(at).Hours() / 24; pin.Paddock == p && away < l.RestMin+l.StayMax+7 {
					score -= 1.5
				}
			}
		}
		state, reasons := s.farm.Readiness(p, look, l)
		list = append(list, scored{Alternative{p, s.mass[p], state, reasons}, score})
	}
	sort.SliceStable(list, func(a, b int) bool {
		if keptA, keptB := s.farm.Paddocks[list[a].Paddock].Reserve, s.farm.Paddocks[list[b].Paddock].Reserve; keptA != keptB {
			return keptB
		}
		if guessA, guessB := s.standing[list[a].Paddock].Guessed, s.standing[list[b].Paddock].Guessed; guessA != guessB {
			return guessB
		}
		return list[a].score > list[b].score
	})
	for _, c := range list {
		ranked = append(ranked, c.Alternative)
	}
	return ranked, any
}

// rested tells whether a paddock has had the rest that a school asks for: its least days, or, where it counts none, until the
// mass at which it enters is back. What was never grazed, as far as is known, is rested.
func rested(look grazing.Look, l grazing.Limits) bool {
	switch {
	case look.Rest == nil:
		return true
	case l.RestMin == 0:
		return look.Mass >= l.Entry*(1-slackShare)
	}
	return *look.Rest >= l.RestMin-slackDays
}

// StayFigure is how long the feed of a paddock lasts a mob on a day, with its working; growth during the stay is in
// the schedule, not in this sum.
func StayFigure(pad Paddock, l grazing.Limits, mass, demand float64) working.Figure {
	above := math.Max(0, mass-l.Residual)
	feed := above * l.U * pad.AreaHa
	days := 0.0
	if demand > 0 {
		days = feed / demand
	}
	return working.Of("measured mass carried forward by growth; the school's residual",
		working.New("Above the residual", "M − R", above, quantity.ForageMass, working.T("M", "forage mass", mass, quantity.ForageMass),
			working.T("R", "residual", l.Residual, quantity.ForageMass)),
		working.New("Feed in the paddock", "a × u × A", feed, quantity.Kilogram, working.T("a", "above the residual", above, quantity.ForageMass),
			working.T("u", "eaten of what disappears", l.U, quantity.Share), working.T("A", "area", pad.AreaHa, quantity.Hectare)),
		working.New("Feed lasts, without growth", "F ÷ D", days, quantity.Day, working.T("F", "feed", feed, quantity.Kilogram),
			working.T("D", "demand", demand, quantity.Demand)))
}
