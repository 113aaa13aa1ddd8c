// Package plan chooses which paddock each mob grazes when: the planning problem on its own, with nothing of a calendar, a
// school or an interface in it. A Problem is numbers; Solve gives the visits, what they cost part by part, a proven bound on
// what any plan could cost, and the risk over drawn futures. Everything that plans in Fjell plans with this package, and
// fjell plan runs it alone. docs/planner.md has the problem, the cost and the proof.
//
// Time is in days from the midnight that begins day 0; day d is [d, d+1). Masses are kg DM/ha, demands kg DM/day.
package plan

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"slices"
	"sort"
	"strings"

	"fjell/core/quantity"
)

// Off is the paddock of a mob that is not on pasture.
const Off = -1

// Series is a figure by day; its last value holds on. In JSON it is a list, or a number for the same every day.
type Series []float64

// On is the figure on a day.
func (s Series) On(day int) float64 { return s[min(max(day, 0), len(s)-1)] }

// UnmarshalJSON reads a number or a list of them.
func (s *Series) UnmarshalJSON(raw []byte) error {
	var one float64
	if err := json.Unmarshal(raw, &one); err == nil {
		*s = Series{one}
		return nil
	}
	var list []float64
	if err := json.Unmarshal(raw, &list); err != nil {
		return &json.UnmarshalTypeError{Value: fmt.Sprintf("%.40s", raw), Type: reflect.TypeFor[[]float64]()}
	}
	*s = list
	return nil
}

// Closed is a stretch of time in which no planned stay may be in a paddock: from ≤ t < until.
type Closed struct {
	From  float64 `json:"from_day"`
	Until float64 `json:"until_day"`
}

// Paddock is a grazing unit of a problem.
type Paddock struct {
	Key     string   `json:"key"`
	AreaHa  float64  `json:"area_ha"`
	Mass    float64  `json:"forage_mass_kg_dm_ha"`     // at the start
	Ceiling float64  `json:"ceiling_kg_dm_ha"`         // the mass at which growth ends
	Peak    Series   `json:"peak_growth_kg_dm_ha_day"` // at half the ceiling
	Rest    *float64 `json:"rest_days,omitempty"`      // at the start, since anybody left; nil: unknown
	X       float64  `json:"x_m"`                      // centre on a plane, metres
	Y       float64  `json:"y_m"`                      //
	Closed  []Closed `json:"closed,omitempty"`         //
	Reserve bool     `json:"reserve,omitempty"`        // grazed only in need

	MassSpread   float64  `json:"mass_spread,omitempty"`   // standard deviation of the logarithm of the mass: how well it is known
	GrowthSpread *float64 `json:"growth_spread,omitempty"` // that of its own growth factor; nil: as usual
}

// Limits are what a mob's way of grazing asks of a paddock.
type Limits struct {
	Entry       float64 `json:"entry_kg_dm_ha"`    // grazing begins at it, or is early
	TooOld      float64 `json:"too_old_kg_dm_ha"`  // past its best above it
	Residual    float64 `json:"residual_kg_dm_ha"` // to be left
	RestMin     float64 `json:"rest_min_days"`     // least rest; 0: none is asked
	StayMax     float64 `json:"stay_max_days"`     // longest stay
	Utilisation float64 `json:"utilisation"`       // eaten of what disappears
	Times       []Time  `json:"times,omitempty"`   // stretches of time that ask for other masses; the first that holds counts
}

// Time is a stretch of time, from ≤ t < until, in which a way of grazing asks for other masses: a taller sward in the heat. What is
// entered is held to the masses of the moment of entering, what is left to those of leaving.
type Time struct {
	From     float64 `json:"from_day"` // a whole day
	Until    float64 `json:"until_day"`
	Entry    float64 `json:"entry_kg_dm_ha"`
	TooOld   float64 `json:"too_old_kg_dm_ha"`
	Residual float64 `json:"residual_kg_dm_ha"`
}

// On is the limits of a day.
func (l Limits) On(day int) Limits {
	for _, t := range l.Times {
		if d := float64(day); d >= t.From && d < t.Until {
			l.Entry, l.TooOld, l.Residual = t.Entry, t.TooOld, t.Residual
			break
		}
	}
	l.Times = nil
	return l
}

// Mob is animals that graze together.
type Mob struct {
	Key             string            `json:"key"`
	Demand          Series            `json:"demand_kg_dm_day"`
	In              *string           `json:"in"`                  // paddock they stand in at the start; nil: off the pasture
	Since           *float64          `json:"since_day,omitempty"` // when they came there; nil: at the start
	MayHold         bool              `json:"may_hold,omitempty"`  // may be taken off the pasture and fed
	Follows         string            `json:"follows,omitempty"`   // mob whose paddock it gets whenever that goes on; empty: it goes its own way
	Ground          []string          `json:"ground"`              // paddocks they may graze; nil: every one
	Limits          *Limits           `json:"limits"`
	LimitsByPaddock map[string]Limits `json:"limits_by_paddock,omitempty"`
}

// Pin is a visit that a person has fixed.
type Pin struct {
	Mob     string   `json:"mob"`
	Paddock *string  `json:"paddock"` // nil: held off the pasture
	Enter   float64  `json:"enter_day"`
	Leave   *float64 `json:"leave_day,omitempty"` // nil: when the plan likes
}

// Weights are what a unit of each part of the cost counts, in kg DM.
type Weights struct {
	Short         float64 `json:"short"`          // a kg of demand not met
	BelowResidual float64 `json:"below_residual"` // a kg taken below the residual
	Early         float64 `json:"early"`          // a kg that was not yet there on entering
	Late          float64 `json:"late"`           // a kg past its best on entering
	Rest          float64 `json:"rest"`           // a kg eaten, for the share of the least rest that was missing
	Stay          float64 `json:"stay"`           // a day's demand, for each day past the longest stay
	Move          float64 `json:"move"`           // a move
	Distance      float64 `json:"distance"`       // a km walked
	End           float64 `json:"end"`            // a kg that stands above the residual at the end, to the good
	Feed          float64 `json:"feed"`           // a kg fed while held
	Reserve       float64 `json:"reserve"`        // a kg eaten of what is kept in reserve
	Many          float64 `json:"many"`           // a move over the most that a day has hands for
}

// Usual are the weights of a problem that names none.
var Usual = Weights{Short: 4, BelowResidual: 1, Early: 0.25, Late: 0.15, Rest: 3, Stay: 0.5, Move: 15, Distance: 30, End: 0.4, Feed: 1.5, Reserve: 1, Many: 60}

// Strays is how growth and masses stray from what is foreseen in every paddock alike.
type Strays struct {
	Weather float64 `json:"weather_spread"`        // standard deviation of the logarithm of a day's growth
	Days    float64 `json:"weather_days"`          // after which a third of a day's weather is left
	Mass    float64 `json:"mass_spread,omitempty"` // that of all masses at the start: what the method errs by everywhere
}

// UsualStrays are those of a problem that says nothing: assumptions, ours.
var UsualStrays = Strays{Weather: 0.25, Days: 14}

// usualOwn is the spread of a paddock's own growth factor where nothing is said of it: assumption, ours.
const usualOwn = 0.12

// strays are those of the problem.
func (p *Problem) strays() Strays {
	if p.Strays != nil {
		return *p.Strays
	}
	return UsualStrays
}

// own is the spread of the paddock's own growth factor.
func (p *Paddock) own() float64 {
	if p.GrowthSpread != nil {
		return *p.GrowthSpread
	}
	return usualOwn
}

// Problem is everything a plan rests on.
type Problem struct {
	Days      int       `json:"days"`
	Start     *float64  `json:"start_day,omitempty"`        // nil: the first move hour of day 0
	MoveHours []float64 `json:"move_hours"`                 // hours after midnight
	MoveDays  []int     `json:"move_days"`                  // nil: any day
	MostMoves int       `json:"most_moves_a_day,omitempty"` // hands for no more; 0: any number
	Paddocks  []Paddock `json:"paddocks"`
	Mobs      []Mob     `json:"mobs"`
	Pins      []Pin     `json:"pins,omitempty"`
	Weights   Weights   `json:"weights"`
	Futures   int       `json:"futures,omitempty"`
	Strays    *Strays   `json:"strays,omitempty"` // how futures stray from what is foreseen; nil: as usual
	Careful   bool      `json:"careful,omitempty"`
	Seed      int64     `json:"seed"`
	Seconds   float64   `json:"seconds"`
}

// Limits of what a problem may hold.
const (
	mostDays    = 1100
	mostThings  = 2000 // paddocks
	mostMobs    = 200
	mostFutures = 10000
	mostTimes   = 12 // of one way of grazing
)

// Read reads a problem from JSON and checks it. What is wrong is a *quantity.Problem that names the field, the limit and what came.
func Read(raw []byte) (Problem, error) {
	p := Problem{Weights: Usual, Seed: 1, Seconds: 2}
	dec := json.NewDecoder(strings.NewReader(string(raw)))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&p); err != nil {
		return p, quantity.Unreadable(raw, err, "a problem")
	}
	if dec.More() {
		return p, quantity.Refuse("body", nil, "something stands after the end of the problem")
	}
	return p, p.Check()
}

// bounds is a first problem met while figures are looked at in order.
type bounds struct{ err error }

// within refuses a figure outside least … most.
func (b *bounds) within(field string, v, least, most float64) {
	if b.err == nil && !(v >= least && v <= most) { // NaN too
		b.err = quantity.Refuse(field, v, "must be between %s and %s", figure(least), figure(most))
	}
}

// above refuses a figure that is not above least, or is over most.
func (b *bounds) above(field string, v, least, most float64) {
	if b.err == nil && !(v > least && v <= most) {
		b.err = quantity.Refuse(field, v, "must be above %s and at most %s", figure(least), figure(most))
	}
}

func (b *bounds) series(field string, s Series, most float64) {
	if b.err == nil && len(s) == 0 {
		b.err = quantity.Refuse(field, nil, "give a number, or a list with one a day")
	}
	for d, v := range s {
		at := field
		if len(s) > 1 {
			at = fmt.Sprintf("%s[%d]", field, d)
		}
		b.within(at, v, 0, most)
	}
}

func (b *bounds) refuse(field string, came any, format string, args ...any) {
	if b.err == nil {
		b.err = quantity.Refuse(field, came, format, args...)
	}
}

func figure(v float64) string { return quantity.Said{Value: v}.String() }

// Check refuses what cannot be planned with: figures out of all bounds, names that are not there, times that are none.
func (p *Problem) Check() error {
	b := &bounds{}
	b.within("days", float64(p.Days), 1, mostDays)
	if p.Start != nil {
		b.within("start_day", *p.Start, 0, float64(p.Days))
		if *p.Start >= float64(p.Days) {
			b.refuse("start_day", *p.Start, "must lie before the end of day %d", p.Days)
		}
	}
	if len(p.MoveHours) == 0 {
		b.refuse("move_hours", nil, "name at least one hour at which stock are moved")
	}
	for i, h := range p.MoveHours {
		b.within(fmt.Sprintf("move_hours[%d]", i), h, 0, 23.999)
	}
	for i, d := range p.MoveDays {
		b.within(fmt.Sprintf("move_days[%d]", i), float64(d), 0, mostDays)
	}
	if len(p.Paddocks) == 0 || len(p.Paddocks) > mostThings {
		b.refuse("paddocks", len(p.Paddocks), "give 1 to %d paddocks", mostThings)
	}
	paddocks := map[string]int{}
	for i := range p.Paddocks {
		b.paddock(fmt.Sprintf("paddocks[%d].", i), &p.Paddocks[i], paddocks, i)
	}
	if len(p.Mobs) == 0 || len(p.Mobs) > mostMobs {
		b.refuse("mobs", len(p.Mobs), "give 1 to %d mobs", mostMobs)
	}
	mobs, standing := map[string]int{}, map[string]string{}
	for i := range p.Mobs {
		b.mob(fmt.Sprintf("mobs[%d].", i), &p.Mobs[i], p.start(), paddocks, mobs, standing, i)
	}
	keys, follows := make([]string, len(p.Mobs)), make([]string, len(p.Mobs))
	for i, m := range p.Mobs {
		keys[i], follows[i] = m.Key, m.Follows
	}
	if err := CheckTrails(keys, follows); b.err == nil {
		b.err = err
	}
	for i, pin := range p.Pins {
		field := fmt.Sprintf("pins[%d].", i)
		if _, ok := mobs[pin.Mob]; !ok {
			b.refuse(field+"mob", pin.Mob, "is no mob of this problem")
		} else if leader := p.Mobs[mobs[pin.Mob]].Follows; leader != "" {
			b.refuse(field+"mob", pin.Mob, "follow %s and go where those were: pin %s", leader, leader)
		}
		if pin.Paddock != nil {
			if _, ok := paddocks[*pin.Paddock]; !ok {
				b.refuse(field+"paddock", *pin.Paddock, "is no paddock of this problem")
			}
		}
	}
	w := p.Weights
	for _, f := range []struct {
		key string
		v   float64
	}{{"short", w.Short}, {"below_residual", w.BelowResidual}, {"early", w.Early}, {"late", w.Late}, {"rest", w.Rest}, {"stay", w.Stay}, {"move", w.Move},
		{"distance", w.Distance}, {"end", w.End}, {"feed", w.Feed}, {"reserve", w.Reserve}, {"many", w.Many}} {
		b.within("weights."+f.key, f.v, 0, 1e6)
	}
	b.within("most_moves_a_day", float64(p.MostMoves), 0, 1000)
	if st := p.Strays; st != nil {
		b.within("strays.weather_spread", st.Weather, 0, 2)
		b.within("strays.weather_days", st.Days, 0.5, 365)
		b.within("strays.mass_spread", st.Mass, 0, 2)
	}
	b.within("futures", float64(p.Futures), 0, mostFutures)
	b.within("seconds", p.Seconds, 0, 3600)
	return b.err
}

func (b *bounds) paddock(field string, pad *Paddock, known map[string]int, i int) {
	if _, twice := known[pad.Key]; twice || pad.Key == "" {
		b.refuse(field+"key", pad.Key, "every paddock needs a key of its own")
	}
	known[pad.Key] = i
	b.above(field+"area_ha", pad.AreaHa, 0, 1e6)
	b.within(field+"forage_mass_kg_dm_ha", pad.Mass, 0, 30000)
	b.above(field+"ceiling_kg_dm_ha", pad.Ceiling, 0, 30000)
	b.series(field+"peak_growth_kg_dm_ha_day", pad.Peak, 1000)
	if pad.Rest != nil {
		b.within(field+"rest_days", *pad.Rest, 0, 1e5)
	}
	b.within(field+"mass_spread", pad.MassSpread, 0, 2)
	if pad.GrowthSpread != nil {
		b.within(field+"growth_spread", *pad.GrowthSpread, 0, 2)
	}
	b.within(field+"x_m", pad.X, -1e7, 1e7)
	b.within(field+"y_m", pad.Y, -1e7, 1e7)
	for k, c := range pad.Closed {
		at := fmt.Sprintf("%sclosed[%d].", field, k)
		b.within(at+"from_day", c.From, -1e5, 1e5)
		b.within(at+"until_day", c.Until, c.From, 1e5)
	}
}

func (b *bounds) mob(field string, m *Mob, start float64, paddocks, known map[string]int, standing map[string]string, i int) {
	if _, twice := known[m.Key]; twice || m.Key == "" {
		b.refuse(field+"key", m.Key, "every mob needs a key of its own")
	}
	known[m.Key] = i
	b.series(field+"demand_kg_dm_day", m.Demand, 1e7)
	if m.In != nil {
		if _, ok := paddocks[*m.In]; !ok {
			b.refuse(field+"in", *m.In, "is no paddock of this problem")
		}
		if other, taken := standing[*m.In]; taken {
			b.refuse(field+"in", *m.In, "%s stand there already: two mobs in one paddock cannot be planned", other)
		}
		standing[*m.In] = m.Key
	}
	if m.Since != nil {
		b.within(field+"since_day", *m.Since, -1e5, start)
	}
	for k, g := range m.Ground {
		if _, ok := paddocks[g]; !ok {
			b.refuse(fmt.Sprintf("%sground[%d]", field, k), g, "is no paddock of this problem")
		}
	}
	if m.Limits == nil {
		b.refuse(field+"limits", nil, "say the limits of this mob's way of grazing")
		return
	}
	b.limits(field+"limits.", *m.Limits)
	keys := make([]string, 0, len(m.LimitsByPaddock))
	for key := range m.LimitsByPaddock {
		keys = append(keys, key)
	}
	sort.Strings(keys)
	for _, key := range keys {
		if _, ok := paddocks[key]; !ok {
			b.refuse(field+"limits_by_paddock", key, "is no paddock of this problem")
		}
		b.limits(field+"limits_by_paddock."+key+".", m.LimitsByPaddock[key])
	}
}

// CheckTrails refuses a mob that follows nobody there is, two that follow one, since they would be in one paddock, and mobs that follow each
// other in a circle. keys and follows are, mob by mob, its own key and that of the mob it follows, or empty.
func CheckTrails(keys, follows []string) error {
	led, index := map[string]bool{}, make([]int, len(keys))
	for i, leader := range follows {
		field := fmt.Sprintf("mobs[%d].follows", i)
		index[i] = -1
		if leader == "" {
			continue
		}
		if index[i] = slices.Index(keys, leader); index[i] < 0 || index[i] == i {
			return quantity.Refuse(field, leader, "must be another mob of the plan")
		}
		if led[leader] {
			return quantity.Refuse(field, leader, "another mob follows them already, and two would be in one paddock")
		}
		led[leader] = true
	}
	if _, ok := inOrder(index); !ok {
		return quantity.Refuse("mobs", nil, "they follow each other in a circle: one must go first")
	}
	return nil
}

func (b *bounds) limits(field string, l Limits) {
	b.within(field+"entry_kg_dm_ha", l.Entry, 0, 30000)
	b.within(field+"too_old_kg_dm_ha", l.TooOld, 0, 30000)
	b.within(field+"residual_kg_dm_ha", l.Residual, 0, 30000)
	b.within(field+"rest_min_days", l.RestMin, 0, 1e5)
	b.above(field+"stay_max_days", l.StayMax, 0, 1e5)
	b.above(field+"utilisation", l.Utilisation, 0, 1)
	if len(l.Times) > mostTimes {
		b.refuse(field+"times", len(l.Times), "limits have at most %d times", mostTimes)
	}
	for k, t := range l.Times {
		at := fmt.Sprintf("%stimes[%d].", field, k)
		b.within(at+"from_day", t.From, -1e5, 1e5)
		b.within(at+"until_day", t.Until, t.From, 1e5)
		if t.From != math.Trunc(t.From) || t.Until != math.Trunc(t.Until) {
			b.refuse(at+"from_day", t.From, "limits change with the day: from_day and until_day must be whole days")
		}
		b.within(at+"entry_kg_dm_ha", t.Entry, 0, 30000)
		b.within(at+"too_old_kg_dm_ha", t.TooOld, 0, 30000)
		b.within(at+"residual_kg_dm_ha", t.Residual, 0, 30000)
	}
}

// start is the moment the plan begins.
func (p *Problem) start() float64 {
	if p.Start != nil {
		return *p.Start
	}
	first := math.Inf(1)
	for _, h := range p.MoveHours {
		first = math.Min(first, h)
	}
	if math.IsInf(first, 1) {
		return 0
	}
	return first / 24
}

// Demanded is all that the mobs want over the days of the problem, kg DM.
func (p *Problem) Demanded() float64 {
	sum := 0.0
	for _, m := range p.Mobs {
		for d := range p.Days {
			sum += m.Demand.On(d)
		}
	}
	return sum
}
