package grazing

import (
	"math"
	"slices"

	"fjell/core/quantity"
	"fjell/core/reference"
)

// School is a named set of rules: when to enter, when to leave, how long to rest and stay. A plan keeps its own
// copy, so that editing it changes that plan alone. Figures that are nil follow the sward.
type School struct {
	Key         string     `json:"key"`
	Name        string     `json:"name"`
	Idea        string     `json:"idea"`
	Method      FeedMethod `json:"method"`
	Entry       *float64   `json:"entry_kg_dm_ha,omitempty"`
	TooOld      *float64   `json:"too_old_kg_dm_ha,omitempty"`
	Residual    *float64   `json:"residual_kg_dm_ha,omitempty"`
	StartHeight *float64   `json:"start_height_cm,omitempty"`
	StopHeight  *float64   `json:"stop_height_cm,omitempty"`
	Leave       *float64   `json:"leave_share,omitempty"` // of what stands on entry
	RestMin     float64    `json:"rest_min_days"`
	StayMax     float64    `json:"stay_max_days"`
	U           float64    `json:"utilisation"`
	Taller      *Taller    `json:"taller,omitempty"`
	Gates       *Gates     `json:"gates,omitempty"` // of a pulse
}

// Limits are a school's rules on one sward, all in forage mass.
type Limits struct {
	Entry    float64 // kg DM/ha to begin at
	TooOld   float64 // kg DM/ha above which it is past its best
	Residual float64 // kg DM/ha to leave
	RestMin  float64 // days
	StayMax  float64 // days
	U        float64 // eaten, of what disappears
	Leave    float64 // share to leave of what stands on entry, where that is more than the residual; 0: the residual alone
	Hot      Hot     // what holds instead in the hot weeks
}

// Entered is the limits of a stay that began at a mass, kg DM/ha: where a share is left, what stood then sets the residual.
func (l Limits) Entered(mass float64) Limits {
	l.Residual = math.Max(l.Residual, l.Leave*mass)
	return l
}

// Usual is what a hectare feeds at each grazing, kg DM: from entry down to the residual, as far as it is eaten, by how well
// it grows.
func (l Limits) Usual(growthFactor float64) float64 {
	return (l.Entry - l.Residual) * l.U * growthFactor
}

// Above is what a hectare feeds now, kg DM: what stands above the residual, as far as it is eaten.
func (l Limits) Above(mass float64) float64 { return math.Max(0, mass-l.Entered(mass).Residual) * l.U }

func ptr(v float64) *float64 { return &v }

// LeafResidual keys the school of short leafy swards; StartStop the one of prescribed heights; LeaveHalf that of rangeland; TallLong
// the one of tall swards and long rests; CleanGround that of sheep and goats that are to meet few worms.
const (
	LeafResidual = "leaf_residual"
	StartStop    = "start_stop"
	LeaveHalf    = "leave_half"
	TallLong     = "tall_long"
	CleanGround  = "clean_ground"
)

// Where the two schools that are no sward's own enter and leave: of the mass at the sward's start height, of its ceiling, and cm.
const (
	tallStart   = 1.4  // as much as at the start height, and
	tallCeiling = 0.75 // no more of the ceiling: mid-mature, not ripe
	cleanStop   = 8    // most larvae sit below 5 cm
	cleanStart  = 12
)

// Schools returns the schools with their usual figures.
func Schools() []School {
	return []School{
		{Key: LeafResidual, Name: "Leaf and residual", Method: ToResidual,
			Idea: "Graze at three leaves, leave a short even residual: quality and fast regrowth, for milk and for finishing on leafy leys; surplus is cut. " +
				"It clashes with all who leave more: what they call cover it calls waste.",
			Entry: ptr(2600), TooOld: ptr(3100), Residual: ptr(1500), RestMin: 18, StayMax: 3, U: 1},
		{Key: StartStop, Name: "Start and stop", Method: ToStopHeight,
			Idea: "Enter at each sward's start height, leave at its stop height, and wait until the start height is back: for mixed farms with many kinds of sward. " +
				"It asks for no days of rest, so in a dry spell the height alone holds stock back.",
			RestMin: 0, StayMax: 5, U: 0.85},
		{Key: LeaveHalf, Name: "Leave half", Method: LeaveShare,
			Idea: "Take half of what stands, of which stock swallow about half and the rest is trodden or lost; stays of weeks, rest of a season: for rangeland. " +
				"Its quarter eaten is of all that grew, which no share above a residual can be held against.",
			Leave: ptr(0.5), RestMin: 90, StayMax: 30, U: 0.5},
		{Key: TallLong, Name: "Tall and long", Method: LeaveShare,
			Idea: "Enter tall and mid-mature, leave half or more with much of it trodden down, and rest it long: for soil cover and strength in drought, with stock that can do on it. " +
				"Those who graze for leaf say it gives away quality; stays over three days spoil it for both.",
			Leave: ptr(0.5), RestMin: 60, StayMax: 2, U: 0.6},
		{Key: CleanGround, Name: "Clean ground", Method: ToStopHeight,
			Idea: "Enter with leaf well above the worms, leave early and high, stay shorter than eggs need to infect, and come back when most larvae have died: for sheep and goats with ground to spare. " +
				"Its rest is longer than the grass asks for, so some of it grows old; the sum on worms says both ends of the days. Not veterinary advice: work with your vet.",
			StartHeight: ptr(cleanStart), StopHeight: ptr(cleanStop), RestMin: 60, StayMax: 4, U: 0.85},
	}
}

// Ways are the schools and the tool.
func Ways() []School { return append(Schools(), PulseTool()) }

// FindSchool returns a fresh copy of a school with its usual figures.
func FindSchool(key string) (School, error) {
	for _, s := range Ways() {
		if s.Key == key {
			return s, nil
		}
	}
	return School{}, quantity.Refuse("school.key", key, "must be %s, %s, %s, %s, %s or %s", LeafResidual, StartStop, LeaveHalf, TallLong, CleanGround, PulseWay)
}

func said(mass float64) quantity.Said { return quantity.Said{Value: mass, Unit: quantity.ForageMass} }

func height(cm float64) quantity.Said { return quantity.Said{Value: cm, Unit: quantity.Centimetre} }

// Check refuses a school whose figures contradict one another.
func (s School) Check() error {
	if _, err := FindSchool(s.Key); err != nil {
		return err
	}
	if s.Key == LeafResidual {
		if s.Entry == nil || s.Residual == nil || s.TooOld == nil {
			return quantity.Refuse("school.entry_kg_dm_ha", nil, "this school needs an entry, a residual and a mass at which grass is past its best")
		}
		if *s.Residual >= *s.Entry {
			return quantity.Refuse("school.residual_kg_dm_ha", said(*s.Residual), "the residual must lie below the entry of %s: there would be nothing to eat", said(*s.Entry))
		}
		if *s.TooOld <= *s.Entry {
			return quantity.Refuse("school.too_old_kg_dm_ha", said(*s.TooOld), "must lie above the entry of %s", said(*s.Entry))
		}
	}
	if (s.Key == LeaveHalf || s.Key == TallLong) && (s.Leave == nil || *s.Leave <= 0 || *s.Leave >= 1) {
		return quantity.Refuse("school.leave_share", s.Leave, "say what share of what stands is to be left, above 0 and below 100 %%")
	}
	if s.Key == PulseWay {
		if err := s.Gates.check(s); err != nil {
			return err
		}
	}
	if s.StartHeight != nil && s.StopHeight != nil && *s.StopHeight >= *s.StartHeight {
		return quantity.Refuse("school.stop_height_cm", height(*s.StopHeight), "the stop height must lie below the start height of %s: there would be nothing to eat", height(*s.StartHeight))
	}
	if s.U <= 0 || s.U > 1 {
		return quantity.Refuse("school.utilisation", s.U, "must be above 0 and at most 100 %%")
	}
	if s.StayMax <= 0 {
		return quantity.Refuse("school.stay_max_days", s.StayMax, "must be above 0 days")
	}
	if s.Taller != nil {
		return s.Taller.check()
	}
	return nil
}

// UsualOn is the school that suits a sward best, with its usual figures.
func UsualOn(sward reference.Sward) School {
	for _, key := range sward.Schools {
		if s, err := FindSchool(key); err == nil {
			return s
		}
	}
	s, _ := FindSchool(StartStop)
	return s
}

// Suits tells whether a school is one of those by which a sward is usually grazed.
func (s School) Suits(sward reference.Sward) bool { return slices.Contains(sward.Schools, s.Key) }

// On gives the school's limits on a sward. Heights become masses through the sward's mass per cm at medium cover.
func (s School) On(sward reference.Sward) (Limits, error) {
	l, err := s.usually(sward)
	if err != nil || s.Taller == nil {
		return l, err
	}
	return s.Taller.raise(l, sward)
}

// usually are the limits outside of the hot weeks.
func (s School) usually(sward reference.Sward) (Limits, error) {
	l := Limits{RestMin: s.RestMin, StayMax: s.StayMax, U: s.U}
	if s.Key == LeafResidual {
		l.Entry, l.TooOld, l.Residual = *s.Entry, *s.TooOld, *s.Residual
		return l, nil
	}
	if s.Key == LeaveHalf {
		// A start height holds a crop worth taking half of; below half of it there is nothing to take.
		l.Entry = sward.AtStart()
		l.Residual, l.Leave = *s.Leave*l.Entry, *s.Leave
		l.TooOld = math.Max(l.Entry*1.05, sward.Ceiling) // cured standing grass is feed, and the reserve
		return l, nil
	}
	if s.Key == PulseWay { // adequate feed, and more rest after
		l.RestMin += s.Gates.Recovery
		l.Entry = sward.AtStart()
		l.Residual, l.Leave = max(*s.Leave*l.Entry, sward.Residual), *s.Leave
		l.TooOld = max(l.Entry*1.05, sward.Ceiling) // old grass and brush may be what it is for
		return l, nil
	}
	if s.Key == TallLong {
		l.Entry = max(sward.AtStart(), min(tallStart*sward.AtStart(), tallCeiling*sward.Ceiling))
		l.Residual, l.Leave = max(*s.Leave*l.Entry, sward.Residual), *s.Leave // half of a height is never below the least height
		l.TooOld = max(l.Entry*1.05, 0.95*sward.Ceiling)
		return l, nil
	}
	start, stop := sward.StartHeight, sward.StopHeight
	if s.StartHeight != nil {
		start = *s.StartHeight
	}
	if s.StopHeight != nil {
		stop = *s.StopHeight
	}
	if s.Key == CleanGround { // the sward's own heights hold where they are the higher
		start, stop = max(start, sward.StartHeight), max(stop, sward.StopHeight)
	}
	if stop >= start {
		return l, quantity.Refuse("school.stop_height_cm", height(stop), "the stop height must lie below the start height, %s on %s", height(start), sward.Name)
	}
	perCm := sward.MassPerCm.Medium
	l.Residual = max(100, sward.Residual+(stop-sward.StopHeight)*perCm)
	l.Entry = l.Residual + (start-stop)*perCm
	if s.Key == CleanGround { // a long rest grows tall grass: that is its price, not a mistake
		l.TooOld = max(l.Entry*1.05, 0.9*sward.Ceiling)
		return l, nil
	}
	// A third more than the start height holds is stalk; the curve flattens close under its ceiling.
	l.TooOld = max(l.Entry*1.05, min(l.Entry+(l.Entry-l.Residual)/2, 0.9*sward.Ceiling))
	return l, nil
}
