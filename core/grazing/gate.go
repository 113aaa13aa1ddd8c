package grazing

import (
	"math"
	"slices"
	"time"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// Seen is one figure of what stands in a paddock, read at its gate.
type Seen struct {
	By    string  `json:"by"` // height, mass or fists
	Value float64 `json:"value"`
	// The sward, where leaf height is read.
	StopHeight float64 `json:"stop_height_cm"`
	StopMass   float64 `json:"mass_at_stop_kg_dm_ha"`
	PerCm      float64 `json:"mass_per_cm"`
}

// SeenOn is a figure of a sward; where heights say little of it there are none to be read.
func SeenOn(sward reference.Sward, by string, value float64) Seen {
	s := Seen{By: by, Value: value}
	if sward.ByHeight() {
		s.StopHeight, s.StopMass, s.PerCm = sward.StopHeight, sward.Residual, sward.MassPerCm.Medium
	}
	return s
}

// fist is how wide a hand is across the knuckles, cm.
const fist = 9.0

// Mass is what stands there by it, kg DM/ha.
func (s Seen) Mass() (float64, error) {
	cm := s.Value
	switch s.By {
	case "mass":
		if s.Value < 0 || s.Value > 20000 {
			return 0, quantity.Refuse("value", said(s.Value), "must be a mass from 0 to %s", said(20000))
		}
		return s.Value, nil
	case "fists":
		cm *= fist
	case "height":
	default:
		return 0, quantity.Refuse("by", s.By, "must be height, mass or fists")
	}
	if cm < 0 || cm > 200 {
		return 0, quantity.Refuse("value", height(cm), "must be a height from 0 to %s", height(200))
	}
	if s.StopHeight <= 0 {
		return 0, quantity.Refuse("stop_height_cm", nil, "this sward has no heights: give the mass")
	}
	return forage.HeightMass(cm, s.StopHeight, s.StopMass, s.PerCm), nil
}

// GateHere is the paddock a mob stands in, but for what stands in it.
type GateHere struct {
	AreaHa   float64 `json:"area_ha"`
	Entry    float64 `json:"entry_kg_dm_ha"`
	Residual float64 `json:"residual_kg_dm_ha"`
	Entered  float64 `json:"entered_kg_dm_ha"` // what stood as they came
	U        float64 `json:"utilisation"`
	Ceiling  float64 `json:"ceiling_kg_dm_ha"`
	Peak     float64 `json:"peak_growth_kg_dm_ha_day"` // today's
	Stayed   float64 `json:"stayed_days"`
	StayMax  float64 `json:"stay_max_days"`
	Rest     float64 `json:"rest_days"` // after which the mob is back, by its school
	Demand   float64 `json:"demand_kg_dm_day"`
}

// GateNext is a paddock that waits.
type GateNext struct {
	ID       string  `json:"paddock_id"`
	Name     string  `json:"name"`
	Mass     float64 `json:"forage_mass_kg_dm_ha"`
	Half     float64 `json:"half_width_kg_dm_ha"`
	AreaHa   float64 `json:"area_ha"`
	Residual float64 `json:"residual_kg_dm_ha"`
	U        float64 `json:"utilisation"`
	State    State   `json:"state"`
}

// open tells whether stock may go there now: grass past its best is eaten before ground that is not ready.
func (n GateNext) open() bool { return n.State == Ready || n.State == Mind }

// GateIn asks at the gate: stay or move?
type GateIn struct {
	Now   time.Time   `json:"now"`
	Slots []time.Time `json:"slots"` // the next moments at which stock may be moved
	Seen  Seen        `json:"seen"`
	Here  GateHere    `json:"here"`
	Next  []GateNext  `json:"next"` // in the order of the plan's choice
}

// What can be done at a gate.
const (
	MoveNow = "move"
	StayOn  = "stay"
	SkipOne = "skip" // past the one that was to be next
	HoldOn  = "hold" // nothing that waits is ready
)

// GateOption is one thing that can be done, and what comes of it.
type GateOption struct {
	Do     string     `json:"do" enum:"move,stay,skip,hold"`
	Until  *time.Time `json:"until" nullable:"true"`
	ToID   string     `json:"to_paddock_id"`
	To     string     `json:"to"`
	Intake float64    `json:"intake_share"`                // of what they need until then; on moving, of the first day there
	Left   float64    `json:"left_kg_dm_ha"`               // behind, here
	Regrow *float64   `json:"regrow_days" nullable:"true"` // until it is back at the entry; nil: not within a year
	Later  *float64   `json:"later_days" nullable:"true"`  // than if the residual were left, or what stands now where that is less
	Back   float64    `json:"next_turn_kg_dm_ha"`          // what stands here after the school's rest
	Short  float64    `json:"short_kg_dm"`                 // feed they miss until then
	Right  bool       `json:"within_rules"`                // of the mob's way of grazing
}

// GateOut is the answer.
type GateOut struct {
	Mass    float64      `json:"forage_mass_kg_dm_ha"`
	Do      string       `json:"do" enum:"move,stay,skip,hold"`
	Until   *time.Time   `json:"until" nullable:"true"`
	ToID    string       `json:"to_paddock_id"`
	To      string       `json:"to"`
	Reason  Reason       `json:"reason"` // the one that decides
	Richer  *Reason      `json:"richer,omitempty"`
	Options []GateOption `json:"options"`
}

// longestRegrow is how many days of growth are still told; past it the grass is said not to come back.
const longestRegrow = 365.0

// StayOrMove answers from one figure of what stands here and the estimates of what waits. They stay as long as the residual and the longest stay
// allow, from one moment at which stock may be moved to the next; after that they go to the next paddock that is ready, or nearly. Where none
// is, rest binds: they are held and fed, and it says how much.
func StayOrMove(in GateIn) (GateOut, error) {
	mass, err := in.Seen.Mass()
	if err != nil {
		return GateOut{}, err
	}
	h := in.Here
	if h.AreaHa <= 0 || h.U <= 0 || h.Ceiling <= 0 {
		return GateOut{}, quantity.Refuse("here", nil, "the paddock they stand in is not known well enough for this")
	}
	if len(in.Slots) == 0 {
		return GateOut{}, quantity.Refuse("slots", nil, "nobody moves stock in the days to come: say when, in the rules of the plan")
	}
	out := GateOut{Mass: mass, Options: []GateOption{}}
	stays, longest := in.stays(mass)
	target := in.target()
	if target >= 0 {
		do := MoveNow
		if target > 0 {
			do = SkipOne
		}
		out.Options = append(out.Options, in.move(do, target, mass))
	}
	if longest >= 0 {
		out.Options = append(out.Options, stays[longest])
	}
	if longest+1 < len(stays) {
		out.Options = append(out.Options, stays[longest+1]) // what one more costs
	}
	if target < 0 && len(in.Next) > 0 && longest < 0 {
		out.Options = append(out.Options, in.move(MoveNow, 0, mass))
	}
	out.Richer = in.richer(mass, target)
	out.Do, out.Reason = in.decide(mass, stays, longest, target)
	switch out.Do {
	case StayOn:
		out.Until = stays[longest].Until
	case HoldOn:
		out.Until = stays[0].Until
		stays[0].Do = HoldOn
		for i := range out.Options {
			if out.Options[i].Until != nil {
				out.Options[i].Do = HoldOn
			}
		}
	default:
		out.ToID, out.To = in.Next[target].ID, in.Next[target].Name
	}
	return out, nil
}

// target is the paddock they would go to: the first that is ready, or else the first that will be soon; −1: none.
func (in GateIn) target() int {
	if i := slices.IndexFunc(in.Next, GateNext.open); i >= 0 {
		return i
	}
	return slices.IndexFunc(in.Next, func(n GateNext) bool { return n.State == Soon })
}

// stays are what comes of staying to each slot, and the last of them that keeps the rules; −1: none does.
func (in GateIn) stays(mass float64) (out []GateOption, longest int) {
	h := in.Here
	longest = -1
	at, ate, wanted := in.Now, 0.0, 0.0
	for i, slot := range in.Slots {
		days := slot.Sub(at).Hours() / 24
		at = slot
		mass = forage.Grow(mass, h.Peak, h.Ceiling, days)
		want := h.Demand * days
		kg := math.Min(want, math.Max(0, (mass-h.Residual/2)*h.AreaHa*h.U))
		mass -= kg / (h.AreaHa * h.U)
		ate, wanted = ate+kg, wanted+want
		stayed := h.Stayed + slot.Sub(in.Now).Hours()/24
		o := in.option(StayOn, mass)
		until := slot
		o.Until, o.Intake, o.Short = &until, 1, wanted-ate
		if wanted > 0 {
			o.Intake = ate / wanted
		}
		o.Right = mass >= h.Residual-1 && stayed <= h.StayMax+0.05
		if o.Right && longest == i-1 {
			longest = i
		}
		out = append(out, o)
	}
	return out, longest
}

// option is what comes of leaving a mass behind.
func (in GateIn) option(do string, left float64) GateOption {
	h := in.Here
	o := GateOption{Do: do, Left: left, Back: forage.Grow(left, h.Peak, h.Ceiling, h.Rest)}
	regrow := func(from float64) float64 {
		if from >= h.Entry {
			return 0
		}
		if from <= 0 || h.Peak <= 0 || h.Entry >= h.Ceiling {
			return math.Inf(1)
		}
		return forage.DaysToReach(from, h.Entry, h.Peak, h.Ceiling)
	}
	if days := regrow(left); days <= longestRegrow {
		later := math.Max(0, days-regrow(h.Residual))
		o.Regrow, o.Later = &days, &later
	}
	return o
}

func (in GateIn) move(do string, to int, left float64) GateOption {
	n := in.Next[to]
	o := in.option(do, left)
	o.ToID, o.To, o.Right, o.Intake = n.ID, n.Name, n.open(), 1
	if in.Here.Demand > 0 {
		o.Intake = math.Min(1, math.Max(0, n.Mass-n.Residual)*n.AreaHa*n.U/in.Here.Demand)
	}
	o.Short = (1 - o.Intake) * in.Here.Demand
	return o
}

// decide is what to do, and the one reason that decides.
func (in GateIn) decide(mass float64, stays []GateOption, longest, target int) (string, Reason) {
	h := in.Here
	stands, residual := working.T("M", "stand here", mass, quantity.ForageMass), working.T("R", "to be left", h.Residual, quantity.ForageMass)
	if longest >= 0 {
		switch {
		case longest+1 >= len(stays):
			return StayOn, Because("there is feed for all the days looked ahead", stands)
		case stays[longest+1].Left < h.Residual-1:
			return StayOn, Because("after that they would eat below the {R} to be left", residual)
		}
		return StayOn, Because("after that they would be there longer than {s}, the longest stay", working.T("s", "longest stay", h.StayMax, quantity.Day))
	}
	why := Because("{M} stand here, and {R} are to be left", stands, residual)
	if mass > h.Residual {
		why = Because("{M} stand here: before the next hour of moving they would eat below the {R} to be left", stands, residual)
		if stays[0].Left >= h.Residual-1 {
			why = Because("they would be there longer than {s}, the longest stay", working.T("s", "longest stay", h.StayMax, quantity.Day))
		}
	}
	if target >= 0 && !in.Next[target].open() {
		why.Text += "; nothing that waits is ready, and " + in.Next[target].Name + " is nearest to it"
	}
	switch {
	case target == 0:
		return MoveNow, why
	case target > 0 && !in.Next[target].open():
		return SkipOne, why
	case target > 0:
		why.Text += "; " + in.Next[0].Name + " is not ready yet"
		return SkipOne, why
	}
	kg := math.Max(0, h.Demand-math.Max(0, mass-h.Residual)*h.AreaHa*h.U)
	why.Text += ", but nothing that waits is ready. Hold them and feed {k} a day: going round faster only makes the next turn shorter"
	why.Figures = append(why.Figures, working.T("k", "to be fed a day", kg, quantity.Kilogram))
	return HoldOn, why
}

// richer says whether what is left here is better than what waits, as far as the two are known apart.
func (in GateIn) richer(mass float64, target int) *Reason {
	if len(in.Next) == 0 {
		return nil
	}
	n := in.Next[max(0, target)]
	here, there := mass-in.Here.Residual, n.Mass-n.Residual
	a, b := working.T("a", "above what is left, here", math.Max(0, here), quantity.ForageMass), working.T("b", "above what is left, there", math.Max(0, there), quantity.ForageMass)
	r := Because("What is left here is as good as what waits in "+n.Name+", as far as they are known: {a} above what is to be left against {b}.", a, b)
	apart := math.Hypot(n.Half, 1.96*seenError*mass)
	switch {
	case here > there+apart:
		r.Text = "What is left here is better than what waits in " + n.Name + ": {a} above what is to be left against {b}."
	case there > here+apart:
		r.Text = "What waits in " + n.Name + " is better than what is left here: {b} above what is to be left against {a}."
	}
	return &r
}

// seenError is how far one figure at the gate errs, one standard deviation as a share: as one look back does.
const seenError = 0.15
