package queue

import (
	"fmt"
	"math"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// Kinds of levers.
const (
	Pass       = "pass"       // leave a paddock out until a day
	Cut        = "cut"        // cut it now
	Close      = "close"      // close it up until a day, out of the round
	Reopen     = "reopen"     // take a closed one back into the round
	Top        = "top"        // top it: rank grass goes down, nothing is carried home
	Supplement = "supplement" // feed beside pasture
	Pace       = "pace"       // another length of the rotation
	Head       = "head"       // more or fewer of a class, from a day
	Nitrogen   = "nitrogen"   // on a paddock, from a day
	Rent       = "rent"       // ground that is not the farm's
	Reserve    = "reserve"    // open what is kept in reserve
	House      = "house"      // fed in the yard, off the pasture
	Loafing    = "loafing"    // fed on ground that is kept for lying
	Split      = "split"      // some of a mob go on by themselves
	Join       = "join"       // a mob goes with another
	Wean       = "wean"       // young leave their mothers, for another mob or off the grass
	School     = "school"     // another school: same grass, other targets
)

// Kinds are all of them, surplus first.
var Kinds = []string{Pass, Cut, Close, Reopen, Top, Pace, Supplement, Head, Wean, Nitrogen, Rent, Reserve, House, Loafing, Split, Join, School}

// Lever is something that may be done about a surplus or a shortage. What it is not asked for is left out.
type Lever struct {
	Kind    string  `json:"kind" enum:"pass,cut,close,reopen,top,pace,supplement,head,wean,nitrogen,rent,reserve,house,loafing,split,join,school"`
	Paddock string  `json:"paddock_id,omitempty"`
	Mob     string  `json:"mob_id,omitempty"`
	Class   string  `json:"class_id,omitempty" doc:"left out: of all classes of the mob alike"`
	Into    string  `json:"into_mob_id,omitempty" doc:"the mob that is joined, or that the weaned go to; left out of weaning: off the grass"`
	School  string  `json:"school,omitempty" doc:"the key of another school"`
	Days    float64 `json:"days,omitempty" doc:"for how long, from its day on; of pace: the length of the rotation"`
	After   float64 `json:"after_days,omitempty" doc:"days from now at which it begins; left out: now"`
	Kg      float64 `json:"kg,omitempty" doc:"of supplement: kg DM a head and day; of nitrogen: kg N a hectare"`
	Waste   float64 `json:"waste,omitempty" doc:"share of what is fed that is wasted, or of a cut that is lost on the way"`
	Count   float64 `json:"count,omitempty" doc:"head that come; below 0: that go"`
	Area    float64 `json:"area_ha,omitempty" doc:"of rented ground"`
	Bale    float64 `json:"bale_kg_dm,omitempty" doc:"dry matter of a bale, weighed; left out: bales are not told"`
	Price   float64 `json:"price,omitempty" doc:"what a unit of it costs, in the farm's money: a hectare cut, topped or rented, a tonne fed, a head (below 0: it brings in), a kg of nitrogen"`
	Hours   float64 `json:"hours,omitempty" doc:"labour, in all"`
	Anyway  bool    `json:"anyway,omitempty" doc:"do it although it is advised against"`
}

// Limits of levers: beyond them a slip of the keyboard is likelier than a decision.
const (
	mostLevers     = 12
	mostDays       = 7 * Weeks
	mostNitrogen   = 150
	mostSupplement = 30
)

// clover is the legume share from which nitrogen is money thrown after what the clover fixes, and heavy cuts shade clover out. Assumption, ours.
const clover = 0.3

// pays is the kg DM a kg of nitrogen below which it is not worth spreading; native grass answers with less. Assumption, ours.
const pays = 9

// Effect is what a lever takes and gives by itself.
type Effect struct {
	Units float64          // of what its price is for
	Kg    float64          // DM: of a cut what is carried home, of feed what is fed
	Bales *float64         // nil: not known
	Money float64          // units times price
	Says  []grazing.Reason // of it, in words
	Warns []grazing.Reason // what speaks against it
}

// Refused is a lever that is advised against, and why: it can be done anyway.
type Refused struct {
	Lever   int
	Problem quantity.Problem
}

func (r *Refused) Error() string { return r.Problem.Error() }

// Pull is the case with levers pulled, in the order in which they stand, and what each takes and gives. The case it began from stays as it is.
func (c Case) Pull(levers []Lever) (Case, []Effect, error) {
	if len(levers) > mostLevers {
		return c, nil, quantity.Refuse("levers", len(levers), "at most %d at once: nobody would know which of them did what", mostLevers)
	}
	c.Farm.Paddocks = slices.Clone(c.Farm.Paddocks)
	c.Standing, c.Swards = slices.Clone(c.Standing), slices.Clone(c.Swards)
	c.Mobs, c.Schools = slices.Clone(c.Mobs), slices.Clone(c.Schools)
	for m := range c.Mobs {
		c.Mobs[m].Limits, c.Mobs[m].Ground = slices.Clone(c.Mobs[m].Limits), slices.Clone(c.Mobs[m].Ground)
		c.Mobs[m].Demand.Values = slices.Clone(c.Mobs[m].Demand.Values)
	}
	var effects []Effect
	for i, l := range levers {
		effect, err := c.pull(l)
		if err != nil {
			return c, nil, at(err, i)
		}
		effect.Money = effect.Units * l.Price
		effects = append(effects, effect)
	}
	c.Farm = c.Farm.WithMobs(c.Mobs)
	return c, effects, nil
}

// at says of which lever a problem is.
func at(err error, i int) error {
	switch p := err.(type) {
	case *quantity.Problem:
		out := *p
		out.Field = fmt.Sprintf("levers[%d].%s", i, p.Field)
		return &out
	case *Refused:
		p.Lever, p.Problem.Field = i, fmt.Sprintf("levers[%d].%s", i, p.Problem.Field)
	}
	return err
}

// against is a lever that is advised against, unless it is done anyway.
func against(l Lever, field, why string) error {
	if l.Anyway {
		return nil
	}
	return &Refused{Problem: quantity.Problem{Field: field, Message: why}}
}

func (c *Case) pull(l Lever) (Effect, error) {
	if err := l.check(); err != nil {
		return Effect{}, err
	}
	begin := c.Now.Add(hours(l.After))
	end := begin.Add(hours(l.Days))
	switch l.Kind {
	case Pass, Close, Cut, Reopen, Top, Nitrogen:
		p := slices.IndexFunc(c.Farm.Paddocks, func(p rotation.Paddock) bool { return p.ID == l.Paddock })
		if p < 0 {
			return Effect{}, quantity.Refuse("paddock_id", l.Paddock, "is not a paddock of this farm")
		}
		return c.onGround(l, p, begin, end)
	case Rent:
		return c.rent(l)
	case Reserve:
		return c.openReserve()
	}
	m := slices.IndexFunc(c.Mobs, func(m rotation.Mob) bool { return m.ID == l.Mob })
	if m < 0 {
		return Effect{}, quantity.Refuse("mob_id", l.Mob, "is not a mob of this farm")
	}
	return c.onStock(l, m, begin, end)
}

func hours(days float64) time.Duration { return time.Duration(days * 24 * float64(time.Hour)) }

// check refuses what no lever can be.
func (l Lever) check() error {
	between := func(field string, v, least, most float64, unit quantity.Unit) error {
		if !(v >= least && v <= most) {
			return quantity.Refuse(field, quantity.Said{Value: v, Unit: unit}, "must be %s to %s", quantity.Said{Value: least, Unit: unit}, quantity.Said{Value: most, Unit: unit})
		}
		return nil
	}
	var err error
	first := func(e error) {
		if err == nil {
			err = e
		}
	}
	if !slices.Contains(Kinds, l.Kind) {
		return quantity.Refuse("kind", l.Kind, "is not something that can be tried here")
	}
	first(between("after_days", l.After, 0, mostDays, quantity.Day))
	first(between("waste", l.Waste, 0, 0.9, quantity.Share))
	switch l.Kind {
	case Pass, Close, Supplement, House, Loafing:
		first(between("days", l.Days, 1, mostDays, quantity.Day))
	case Pace:
		first(between("days", l.Days, 3, 200, quantity.Day))
	case Rent:
		first(between("area_ha", l.Area, 0.05, 1000, quantity.Hectare))
	}
	switch l.Kind {
	case Supplement:
		first(between("kg", l.Kg, 0.1, mostSupplement, quantity.Intake))
	case Nitrogen:
		first(between("kg", l.Kg, 1, mostNitrogen, quantity.None))
	case Split:
		if l.Count < 1 {
			first(quantity.Refuse("count", l.Count, "say how many go on by themselves"))
		}
	case Head:
		if l.Count == 0 || math.Abs(l.Count) > 100000 {
			first(quantity.Refuse("count", l.Count, "say how many come, or how many go"))
		}
	case Cut:
		if l.Bale < 0 || l.Bale > 2000 {
			first(quantity.Refuse("bale_kg_dm", l.Bale, "must be 0 to 2 000 kg of dry matter"))
		}
	}
	if math.IsNaN(l.Price) || math.Abs(l.Price) > 1e7 || l.Hours < 0 || l.Hours > 10000 {
		first(quantity.Refuse("price", l.Price, "is no price, or no labour"))
	}
	return err
}

// onGround pulls a lever on a paddock.
func (c *Case) onGround(l Lever, p int, begin, end time.Time) (Effect, error) {
	pad, sward, stands := &c.Farm.Paddocks[p], c.Swards[p], c.Standing[p].Mass
	grazed := slices.ContainsFunc(c.Mobs, func(m rotation.Mob) bool { return m.In == p })
	name, area := pad.Name, pad.AreaHa
	effect := Effect{Units: area}
	if grazed && l.Kind != Nitrogen {
		return effect, quantity.Refuse("paddock_id", name, "stock are in it: when they have left")
	}
	shut := func(why string) {
		pad.Closures = append(slices.Clone(pad.Closures), rotation.Closure{From: begin, Until: end, For: why})
	}
	switch l.Kind {
	case Pass:
		shut("passed over")
		effect.Units = 0
		effect.Says = append(effect.Says, grazing.Because(name+" is passed over until "+day(end, c.Farm.Location)))
	case Close:
		shut("closed up")
		effect.Units = 0
		effect.Says = append(effect.Says, grazing.Because(name+" is out of the round until "+day(end, c.Farm.Location)+": what stock eat comes off {A} less", working.T("A", "closed up", area, quantity.Hectare)))
	case Reopen:
		if _, closed := pad.ClosedAt(c.Now); !closed {
			return effect, quantity.Refuse("paddock_id", name, "is open")
		}
		pad.Closures = slices.DeleteFunc(slices.Clone(pad.Closures), func(cl rotation.Closure) bool {
			return !c.Now.Before(cl.From) && (cl.Until.IsZero() || c.Now.Before(cl.Until))
		})
		effect.Units = 0
		effect.Says = append(effect.Says, grazing.Because(name+" is back in the round"))
	case Cut, Top:
		if stands <= sward.Residual {
			return effect, quantity.Refuse("paddock_id", name, "stands no higher than a cut leaves it")
		}
		gone := (stands - sward.Residual) * area
		left := c.Now
		c.Standing[p].Mass, c.Standing[p].HalfWidth, c.Standing[p].LastLeft = sward.Residual, c.Standing[p].HalfWidth/2, &left
		if l.Kind == Top {
			effect.Says = append(effect.Says, grazing.Because("{k} is topped off "+name+" and stays on it", working.T("k", "topped", gone, quantity.Kilogram)))
			break
		}
		effect.Kg = gone * (1 - l.Waste)
		effect.Says = append(effect.Says, grazing.Because("{k} cut off "+name+", back at {R}: it comes back slower, and leafier", working.T("k", "dry matter carried home", effect.Kg, quantity.Kilogram),
			working.T("R", "left by the cut", sward.Residual, quantity.ForageMass)))
		if l.Bale > 0 {
			bales := math.Floor(effect.Kg / l.Bale)
			effect.Bales = &bales
		}
		if sward.Legume >= clover && stands > 1.2*heavy(c, p) {
			effect.Warns = append(effect.Warns, grazing.Because("a heavy cut on {L} of clover: the dark base under it sets the clover back", working.T("L", "legumes", sward.Legume, quantity.Share)))
		}
	case Nitrogen:
		switch {
		case sward.Response < pays && sward.Legume < clover:
			if err := against(l, "paddock_id", name+" is ground on which nitrogen does not pay, as native grass is: it feeds weeds and cool-season strangers"); err != nil {
				return effect, err
			}
		case sward.Legume >= clover:
			if err := against(l, "paddock_id", fmt.Sprintf("%s has %.0f %% legumes, which fix their own: nitrogen makes them stop, and the grass shade them out", name, 100*sward.Legume)); err != nil {
				return effect, err
			}
		}
		pad.Gifts = append(slices.Clone(pad.Gifts), rotation.Nitrogen(l.Kg, sward.Response, begin))
		effect.Units = l.Kg * area
		effect.Says = append(effect.Says, grazing.Because("{r} of dry matter for each kg of nitrogen on "+name+", over six weeks. How much may be spread, and when, is law in many places: that is yours to check",
			working.T("r", "response", sward.Response, quantity.Kilogram)))
	}
	return effect, nil
}

// heavy is a usual mass to cut at: past its best for those who graze it.
func heavy(c *Case, p int) float64 {
	for _, m := range c.Of {
		if c.Mobs[m].Ground[p] {
			return c.Mobs[m].Limits[p].TooOld
		}
	}
	return c.Farm.Paddocks[p].Ceiling
}

// day is a day in words.
func day(at time.Time, loc *time.Location) string { return at.In(loc).Format("2 January") }

// onStock pulls a lever on a mob.
func (c *Case) onStock(l Lever, m int, begin, end time.Time) (Effect, error) {
	mob := &c.Mobs[m]
	first, last := rotation.DayNumber(begin, c.Farm.Location), rotation.DayNumber(end, c.Farm.Location)
	if l.Kind == Head || l.Kind == Wean {
		last = math.MaxInt // they do not come back
	}
	c.known(m)
	spare := func(kg func(day int) float64) (spared float64) {
		for k := max(0, first-mob.Demand.First); k < min(len(mob.Demand.Values), last-mob.Demand.First); k++ {
			d := mob.Demand.First + k
			less := math.Min(mob.Demand.Values[k], kg(d))
			mob.Demand.Values[k] -= less
			if d <= rotation.DayNumber(c.Until(), c.Farm.Location) {
				spared += less
			}
		}
		return spared
	}
	head := 0.0
	for _, class := range c.Classes[m] {
		head += class.Head
	}
	switch l.Kind {
	case Supplement:
		spared := spare(func(int) float64 { return head * l.Kg * (1 - l.Waste) })
		fed := head * l.Kg * l.Days
		return Effect{Units: fed / 1000, Kg: fed, Says: []grazing.Reason{grazing.Because("{f} fed to "+mob.Name+" spares {s} of pasture",
			working.T("f", "fed", fed, quantity.Kilogram), working.T("s", "spared", spared, quantity.Kilogram))}}, nil
	case House, Loafing:
		spared := spare(func(d int) float64 { return math.Inf(1) })
		fed := spared / (1 - l.Waste)
		effect := Effect{Units: fed / 1000, Kg: fed}
		if l.Kind == House {
			effect.Says = append(effect.Says, grazing.Because(mob.Name+" are in the yard and eat {f} there", working.T("f", "fed", fed, quantity.Kilogram)))
			return effect, nil
		}
		effect.Says = append(effect.Says, grazing.Because(mob.Name+" lie on resting ground and eat {f} there: what they leave behind feeds that ground, and not the round", working.T("f", "fed", fed, quantity.Kilogram)))
		effect.Warns = append(effect.Warns, grazing.Because("ground that stock are fed on is trodden bare: keep them off it where water runs off to a stream or a well"))
		return effect, nil
	case Join:
		return c.join(l, m)
	case Pace:
		return c.pace(l, m)
	case School:
		i := slices.IndexFunc(c.Schools, func(w Way) bool { return w.Key == l.School })
		if i < 0 {
			return Effect{}, quantity.Refuse("school", l.School, "is no school that can be tried here")
		}
		mob.Limits = slices.Clone(c.Schools[i].Limits)
		return Effect{Says: []grazing.Reason{grazing.Because(mob.Name + " by " + c.Schools[i].Name + ", with its usual figures: same grass, other targets")}}, nil
	}
	var of []Class
	for _, class := range c.Classes[m] {
		if l.Class == "" || class.ID == l.Class {
			of = append(of, class)
		}
	}
	there := 0.0
	for _, class := range of {
		there += class.Head
	}
	if there == 0 {
		return Effect{}, quantity.Refuse("class_id", l.Class, "is not a class of this mob")
	}
	switch l.Kind {
	case Split:
		return c.split(l, m, of, there)
	case Wean:
		return c.wean(l, m, of, there, first)
	}
	if -l.Count > there {
		return Effect{}, quantity.Refuse("count", l.Count, "there are %.0f of them", there)
	}
	spared := spare(func(d int) float64 {
		eats := 0.0
		for _, class := range of {
			eats += class.Demand.On(d)
		}
		return -l.Count / there * eats
	})
	text := "{n} of " + mob.Name + " go: {s} of pasture less in these weeks"
	if l.Count > 0 {
		text, spared = "{n} come to "+mob.Name+": {s} of pasture more in these weeks", -spared
	}
	return Effect{Units: math.Abs(l.Count), Says: []grazing.Reason{grazing.Because(text, working.T("n", "head", math.Abs(l.Count), quantity.Head), working.T("s", "of pasture", spared, quantity.Kilogram))}}, nil
}

// known writes a mob's demand out day by day over what is looked at, where it is not.
func (c *Case) known(m int) {
	d := c.Mobs[m].Demand
	first, last := rotation.DayNumber(c.Now, c.Farm.Location), rotation.DayNumber(c.Until(), c.Farm.Location)+1
	if d.First <= first && d.First+len(d.Values) > last {
		return
	}
	out := rotation.Daily{First: first}
	for n := first; n <= last; n++ {
		out.Values = append(out.Values, d.On(n))
	}
	c.Mobs[m].Demand = out
}

// pace sets another length of the rotation for a mob: a longer one by more rest, a shorter one by less, and by entering at less.
func (c *Case) pace(l Lever, m int) (Effect, error) {
	w := Of(*c, c.run())
	if w.Length == nil {
		return Effect{}, quantity.Refuse("mob_id", c.Mobs[m].Name, "goes round nowhere yet: plan first")
	}
	now := w.Length.Value
	change := l.Days / now
	effect := Effect{Says: []grazing.Reason{grazing.Because("round in {d}, now {n}", working.T("d", "tried", l.Days, quantity.Day), working.T("n", "rotation now", now, quantity.Day))}}
	for p := range c.Mobs[m].Limits {
		limits := &c.Mobs[m].Limits[p]
		if stay := now / float64(max(1, len(w.Rows))); change > 1 {
			limits.RestMin = max(limits.RestMin, l.Days-stay)
			limits.StayMax *= change
			continue
		}
		limits.RestMin *= change
		limits.Entry = limits.Residual + (limits.Entry-limits.Residual)*change
	}
	if change < 1 && !math.IsInf(w.Lasts, 0) {
		effect.Warns = append(effect.Warns, grazing.Because("speeding up when short is the classic wreck: each paddock comes back with less on it, sooner"))
	}
	return effect, nil
}

// rent adds ground like the first of the queue's, standing at what that is entered at.
func (c *Case) rent(l Lever) (Effect, error) {
	ground := c.ground()
	like := slices.Index(ground, true)
	if like < 0 {
		return Effect{}, quantity.Refuse("kind", l.Kind, "no paddock to compare it with")
	}
	pad := c.Farm.Paddocks[like]
	pad.ID, pad.Name, pad.AreaHa, pad.Closures, pad.Minded, pad.Gifts = "", "rented ground", l.Area, nil, nil, nil
	st := rotation.Standing{Mass: 0, At: c.Now, MeasuredAt: c.Now}
	for m := range c.Mobs {
		c.Mobs[m].Limits = append(c.Mobs[m].Limits, c.Mobs[m].Limits[like])
		c.Mobs[m].Ground = append(c.Mobs[m].Ground, c.ours(m))
		if c.ours(m) && st.Mass == 0 {
			st.Mass = c.Mobs[m].Limits[like].Entry
		}
	}
	for i := range c.Schools {
		c.Schools[i].Limits = append(slices.Clone(c.Schools[i].Limits), c.Schools[i].Limits[like])
	}
	c.Farm.Paddocks = append(c.Farm.Paddocks, pad)
	c.Standing = append(c.Standing, st)
	c.Swards = append(c.Swards, c.Swards[like])
	return Effect{Units: l.Area, Says: []grazing.Reason{grazing.Because("{A} of rented ground, taken to stand at {M} until somebody measures it", working.T("A", "rented", l.Area, quantity.Hectare),
		working.T("M", "taken to stand at", st.Mass, quantity.ForageMass))}}, nil
}

// openReserve takes what is kept in reserve into the round.
func (c *Case) openReserve() (Effect, error) {
	area := 0.0
	for p := range c.Farm.Paddocks {
		if c.Farm.Paddocks[p].Reserve {
			c.Farm.Paddocks[p].Reserve = false
			area += c.Farm.Paddocks[p].AreaHa
		}
	}
	if area == 0 {
		return Effect{}, quantity.Refuse("kind", Reserve, "nothing is kept in reserve")
	}
	return Effect{Says: []grazing.Reason{grazing.Because("{A} of reserve is spent: it is not there when the next dry time comes", working.T("A", "opened", area, quantity.Hectare))}}, nil
}
