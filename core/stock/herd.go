package stock

import (
	"math"
	"sort"
	"time"

	"fjell/core/quantity"
)

// Kind is a thing that happens to stock.
type Kind string

// The kinds of event.
const (
	Birth    Kind = "birth"    // Into gains head; the mothers (Of) become what Change says
	Weaning  Kind = "weaning"  // head go From the young Into where they are kept; the mothers (Of) change
	Purchase Kind = "purchase" // Into gains head
	Sale     Kind = "sale"     // From loses head
	Death    Kind = "death"    // From loses head
	Transfer Kind = "move"     // head go From one class Into another
	Mating   Kind = "mating"   // males go in to Of; nothing is counted
	Stage    Kind = "stage"    // Of becomes what Change says
	Weigh    Kind = "weigh"    // Of weighs WeightKg on that day
	Muster   Kind = "count"    // Of is counted: Head is what is there
)

// Kinds are all kinds of event.
var Kinds = []Kind{Birth, Weaning, Purchase, Sale, Death, Transfer, Mating, Stage, Weigh, Muster}

// Roles tells which classes an event of a kind names: the one head leave, the one they come to, the one it is about.
func (k Kind) Roles() (from, into, of bool) {
	switch k {
	case Birth:
		return false, true, false // the mothers may be named
	case Purchase:
		return false, true, false
	case Sale, Death:
		return true, false, false
	case Weaning, Transfer:
		return true, true, false
	}
	return false, false, true
}

// Counted tells whether an event has a number of head.
func (k Kind) Counted() bool { return k != Mating && k != Stage && k != Weigh }

// Change is what a class becomes.
type Change struct {
	ReferenceID string
	IntakeShare float64
	DailyGainKg float64
	LUPerHead   float64
	MostKg      float64
	Young       *Young
	BornWith    float64
}

// Young says by what age young at foot eat grass.
type Young struct {
	BirthKg     float64 // live weight at birth
	From, Fully float64 // days of age up to which they live on milk alone, and from which they eat all that their class does
	UsualKg     float64 // weight at which the usual share holds
	Most        float64 // share of live weight a day that none eats more than
}

// grazing is how much of what it will eat young eat at a weight, 0…1, by the age that their gain says it is.
func (y *Young) grazing(weight, gain float64) float64 {
	if gain <= 0 {
		return 1
	}
	age := (weight - y.BirthKg) / gain
	return math.Min(1, math.Max(0, (age-y.From)/(y.Fully-y.From)))
}

// Event is a dated event in the life of stock, planned or real.
type Event struct {
	ID       string
	Kind     Kind
	Day      int // days since 1 January 1970 at the farm
	Planned  bool
	From     string
	Into     string
	Of       string
	Head     float64
	WeightKg *float64
	Change   *Change
}

// Supplement is feed given beside pasture, from a day until before another.
type Supplement struct {
	From         int
	Until        *int // nil: on
	KgDM         float64
	Substitution float64
}

// Group is a class of animals as it was when first described. Head come and go by events; the group stays.
type Group struct {
	ID          string
	Mob         string // "": kept outside any mob
	Name        string
	From        int // day it was described
	Class       Class
	LUPerHead   float64
	MostKg      float64 // weight at which growth ends; 0: no end
	Young       *Young  // nil: not at foot
	BornWith    float64 // kg that leave a mother with her young; 0: she is not in late pregnancy
	Supplements []Supplement
}

// Stretch is a number of days, from one until before another.
type Stretch struct {
	From  int
	Until *int // nil: on
}

func (s Stretch) holds(day int) bool { return day >= s.From && (s.Until == nil || day < *s.Until) }

// span is a group between two events.
type span struct {
	from      int
	head      float64
	weight    float64 // kg a head on the first day
	share     float64
	gain      float64
	lu        float64
	most      float64
	young     *Young
	told      float64 // weight at which share holds, of young
	bornWith  float64
	reference string
}

// shareOn is what they eat a day at a weight, as a share of it: young by their age.
func (s span) shareOn(weight float64) float64 {
	y := s.young
	if y == nil {
		return s.share
	}
	told := y.grazing(s.told, s.gain)
	if told == 0 {
		if told = y.grazing(y.UsualKg, s.gain); told == 0 {
			told = 1
		}
	}
	return math.Min(math.Max(y.Most, s.share), s.share/told*y.grazing(weight, s.gain))
}

func (s span) weightOn(day int) float64 {
	w := s.weight + s.gain*float64(day-s.from)
	if s.most > 0 && s.gain > 0 {
		w = math.Max(s.weight, math.Min(w, s.most))
	}
	return math.Max(s.weight*0.1, w)
}

// Herd is all groups of a farm with what happens to them, day by day.
type Herd struct {
	Groups []Group
	Events []Event              // in the order in which they count
	Housed map[string][]Stretch // by mob: they eat no grass
	spans  [][]span
	index  map[string]int
}

// before orders events of one day: those that bring animals first, then those that move them, then those that take
// them, the count last.
var before = map[Kind]int{Birth: 0, Purchase: 0, Weaning: 1, Transfer: 1, Sale: 2, Death: 2, Muster: 3}

// Keep applies events to groups. An event that would take more head from a group than it has on that day is refused,
// with the count on that day; one that is only planned takes those that are there.
func Keep(groups []Group, events []Event) (*Herd, error) {
	h, misfits := KeepWhatFits(groups, events)
	if len(misfits) > 0 {
		return nil, misfits[0].Why
	}
	return h, nil
}

// Misfit is an event that cannot have been: it takes head that are not there, or names a class that is not.
type Misfit struct {
	Event Event
	Why   error // a *quantity.Problem
}

// KeepWhatFits applies those events that fit, in their order, and tells the others. It is for books that are there
// already: one impossible line must not shut all the others.
func KeepWhatFits(groups []Group, events []Event) (*Herd, []Misfit) {
	h := &Herd{Groups: groups, Events: append([]Event(nil), events...), spans: make([][]span, len(groups)), index: map[string]int{}}
	for i, g := range groups {
		c := g.Class
		h.index[g.ID] = i
		h.spans[i] = []span{{g.From, c.Count, c.LiveWeightKg, c.IntakeShare, c.DailyGainKg, g.LUPerHead, g.MostKg, g.Young, c.LiveWeightKg, g.BornWith, c.ReferenceID}}
	}
	sort.SliceStable(h.Events, func(a, b int) bool {
		x, y := h.Events[a], h.Events[b]
		if x.Day != y.Day {
			return x.Day < y.Day
		}
		return before[x.Kind] < before[y.Kind]
	})
	var misfits []Misfit
	fit := h.Events[:0]
	for _, e := range h.Events {
		if err := h.possible(e); err != nil {
			misfits = append(misfits, Misfit{e, err})
			continue
		}
		h.apply(&e)
		fit = append(fit, e)
	}
	h.Events = fit
	return h, misfits
}

// possible tells whether an event can be: its classes are on the books by then, and have the head that it takes.
func (h *Herd) possible(e Event) error {
	for _, role := range []struct{ field, id string }{{"from", e.From}, {"into", e.Into}, {"of", e.Of}} {
		if role.id == "" {
			continue
		}
		i, ok := h.index[role.id]
		if !ok {
			return quantity.Refuse(role.field, role.id, "is not a class of this farm's stock")
		}
		last := h.spans[i][len(h.spans[i])-1]
		if e.Day < last.from {
			return quantity.Refuse("day", sayDay(e.Day), "%s are on the books from %s only", h.Groups[i].Name, sayDay(h.Groups[i].From))
		}
		if role.field == "from" && !e.Planned && e.Head > last.head+1e-9 {
			return quantity.Refuse("head", e.Head, "there are only %g %s on %s: %g cannot leave", last.head, h.Groups[i].Name, sayDay(e.Day), e.Head)
		}
	}
	return nil
}

// sayDay writes a day number as people say it.
func sayDay(day int) string {
	return time.Unix(int64(day)*86400, 0).UTC().Format("2 January 2006")
}

// last is the state of a group on a day, ready to be changed.
func (h *Herd) last(id string, day int) *span {
	i := h.index[id]
	list := h.spans[i]
	s := list[len(list)-1]
	if day > s.from {
		s.weight, s.from = s.weightOn(day), day
		h.spans[i] = append(list, s)
	}
	return &h.spans[i][len(h.spans[i])-1]
}

// apply writes an event that is possible into the spans of its classes.
func (h *Herd) apply(e *Event) {
	weight := 0.0
	if e.From != "" {
		s := h.last(e.From, e.Day)
		if e.Planned {
			e.Head = math.Min(e.Head, s.head) // a plan cannot forbid what happened: it takes those that are left
		}
		s.head = math.Max(0, s.head-e.Head)
		weight = s.weight
	}
	if e.Into != "" {
		s := h.last(e.Into, e.Day)
		switch {
		case e.WeightKg != nil:
			weight = *e.WeightKg
		case e.Kind == Birth && s.young != nil:
			weight = s.young.BirthKg
		}
		if weight <= 0 {
			weight = s.weight
		}
		if total := s.head + e.Head; total > 0 {
			s.weight = (s.weight*s.head + weight*e.Head) / total
			s.head = total
		}
	}
	if e.Of == "" {
		return
	}
	s := h.last(e.Of, e.Day)
	switch e.Kind {
	case Birth: // calf or lambs, fluids and membranes leave her
		if s.head > 0 {
			s.weight -= math.Min(s.bornWith, s.weight/2) * math.Min(1, e.Head/s.head)
		}
	case Muster:
		s.head = e.Head
	case Weigh:
		if e.WeightKg != nil {
			s.weight = *e.WeightKg
			s.most = math.Max(s.most, s.weight)
		}
	}
	if c := e.Change; c != nil {
		s.young, s.told, s.bornWith = c.Young, s.weight, c.BornWith
		s.reference, s.share, s.gain, s.lu, s.most = c.ReferenceID, c.IntakeShare, c.DailyGainKg, c.LUPerHead, c.MostKg
		if s.most > 0 {
			s.most = math.Max(s.most, s.weight)
		}
	}
}

// at is the span that holds on a day, or nil before the group was described.
func (h *Herd) at(group, day int) *span {
	list := h.spans[group]
	i := sort.Search(len(list), func(i int) bool { return list[i].from > day }) - 1
	if i < 0 {
		return nil
	}
	return &list[i]
}

// ClassOn is a group as it is on a day; ok is false before it was described.
func (h *Herd) ClassOn(id string, day int) (c Class, ok bool) {
	i, known := h.index[id]
	if !known {
		return c, false
	}
	s := h.at(i, day)
	if s == nil {
		return c, false
	}
	c = h.Groups[i].Class
	c.Count, c.LiveWeightKg, c.IntakeShare, c.DailyGainKg, c.ReferenceID = s.head, s.weightOn(day), s.shareOn(s.weightOn(day)), s.gain, s.reference
	kg, sigma := h.Groups[i].fed(day)
	c.SupplementKg, c.Substitution = kg, &sigma
	return c, true
}

// fed is the supplement of a day, kg DM a head, and the pasture it spares per kilogram.
func (g *Group) fed(day int) (kg, substitution float64) {
	spared := 0.0
	for _, s := range g.Supplements {
		if day >= s.From && (s.Until == nil || day < *s.Until) {
			kg += s.KgDM
			spared += s.KgDM * s.Substitution
		}
	}
	if kg == 0 {
		return 0, 1
	}
	return kg, spared / kg
}

// Ledger is how head came and went over some days: opening + born + bought + in − out − sold − died + found = closing.
type Ledger struct {
	Opening, Born, Bought, In, Out, Sold, Died, Found, Closing float64
}

// Ledger adds up what happened to the groups that belong, from a day until before another. Head that move between two
// groups that both belong are in and out. A group first described in these days counts as found.
func (h *Herd) Ledger(belongs func(Group) bool, from, until int) Ledger {
	var l Ledger
	mine := make([]bool, len(h.Groups))
	for i, g := range h.Groups {
		if mine[i] = belongs(g); !mine[i] {
			continue
		}
		if s := h.at(i, from-1); s != nil {
			l.Opening += s.head
		}
		if g.From >= from && g.From < until {
			l.Found += g.Class.Count
		}
		if s := h.at(i, until-1); s != nil {
			l.Closing += s.head
		}
	}
	is := func(id string) bool { i, ok := h.index[id]; return ok && mine[i] }
	have := map[string]float64{}
	for _, g := range h.Groups {
		have[g.ID] = g.Class.Count
	}
	for _, e := range h.Events {
		inside := e.Day >= from && e.Day < until
		found := 0.0
		if e.Kind == Muster {
			found = e.Head - have[e.Of]
			have[e.Of] = e.Head
		}
		if e.From != "" {
			have[e.From] -= e.Head
		}
		if e.Into != "" {
			have[e.Into] += e.Head
		}
		if !inside {
			continue
		}
		if is(e.Of) {
			l.Found += found
		}
		if is(e.From) {
			switch e.Kind {
			case Sale:
				l.Sold += e.Head
			case Death:
				l.Died += e.Head
			default:
				l.Out += e.Head
			}
		}
		if is(e.Into) {
			switch e.Kind {
			case Birth:
				l.Born += e.Head
			case Purchase:
				l.Bought += e.Head
			default:
				l.In += e.Head
			}
		}
	}
	return l
}

// countSlip is how many times as many, or as few, a count may find before it is read back: fewer than it takes for a digit too
// many or a dozen taken for a head. Assumption, ours.
const countSlip = 3

// CountStrange tells whether a count lies so far from what is on the books that it is more likely a slip: animals come by
// purchase and birth, and go by sale, each of which is an event of its own. None left is no slip.
func CountStrange(onBooks, counted float64) bool {
	return onBooks > 0 && counted > 0 && (counted > countSlip*onBooks || onBooks > countSlip*counted)
}
