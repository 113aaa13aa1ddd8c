package grazing

import (
	"math"

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
	RestMin     float64    `json:"rest_min_days"`
	StayMax     float64    `json:"stay_max_days"`
	U           float64    `json:"utilisation"`
}

// Limits are a school's rules on one sward, all in forage mass.
type Limits struct {
	Entry    float64 // kg DM/ha to begin at
	TooOld   float64 // kg DM/ha above which it is past its best
	Residual float64 // kg DM/ha to leave
	RestMin  float64 // days
	StayMax  float64 // days
	U        float64 // eaten, of what disappears
}

// Usual is what a hectare feeds at each grazing, kg DM: from entry down to the residual, as far as it is eaten, by how well
// it grows.
func (l Limits) Usual(growthFactor float64) float64 {
	return (l.Entry - l.Residual) * l.U * growthFactor
}

// Above is what a hectare feeds now, kg DM: what stands above the residual, as far as it is eaten.
func (l Limits) Above(mass float64) float64 { return math.Max(0, mass-l.Residual) * l.U }

func ptr(v float64) *float64 { return &v }

// LeafResidual keys the school of short leafy swards; StartStop the one of prescribed heights.
const (
	LeafResidual = "leaf_residual"
	StartStop    = "start_stop"
)

// Schools returns the schools with their usual figures.
func Schools() []School {
	return []School{
		{Key: LeafResidual, Name: "Leaf and residual", Method: ToResidual,
			Idea:  "Graze at three leaves, leave a short even residual: quality and fast regrowth of leafy swards; surplus is cut.",
			Entry: ptr(2600), TooOld: ptr(3100), Residual: ptr(1500), RestMin: 18, StayMax: 3, U: 1},
		{Key: StartStop, Name: "Start and stop", Method: ToStopHeight,
			Idea:    "Enter at each sward's start height, leave at its stop height, and wait until the start height is back.",
			RestMin: 0, StayMax: 5, U: 0.85},
	}
}

// FindSchool returns a fresh copy of a school with its usual figures.
func FindSchool(key string) (School, error) {
	for _, s := range Schools() {
		if s.Key == key {
			return s, nil
		}
	}
	return School{}, quantity.Refuse("school.key", key, "must be %s or %s", LeafResidual, StartStop)
}

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
			return quantity.Refuse("school.residual_kg_dm_ha", *s.Residual, "the residual must lie below the entry of %g kg/ha: there would be nothing to eat", *s.Entry)
		}
		if *s.TooOld <= *s.Entry {
			return quantity.Refuse("school.too_old_kg_dm_ha", *s.TooOld, "must lie above the entry of %g kg/ha", *s.Entry)
		}
	}
	if s.StartHeight != nil && s.StopHeight != nil && *s.StopHeight >= *s.StartHeight {
		return quantity.Refuse("school.stop_height_cm", *s.StopHeight, "the stop height must lie below the start height of %g cm: there would be nothing to eat", *s.StartHeight)
	}
	if s.U <= 0 || s.U > 1 {
		return quantity.Refuse("school.utilisation", s.U, "must be above 0 and at most 100 %%")
	}
	if s.StayMax <= 0 {
		return quantity.Refuse("school.stay_max_days", s.StayMax, "must be above 0 days")
	}
	return nil
}

// On gives the school's limits on a sward. Heights become masses through the sward's mass per cm at medium cover.
func (s School) On(sward reference.Sward) (Limits, error) {
	l := Limits{RestMin: s.RestMin, StayMax: s.StayMax, U: s.U}
	if s.Key == LeafResidual {
		l.Entry, l.TooOld, l.Residual = *s.Entry, *s.TooOld, *s.Residual
		return l, nil
	}
	start, stop := sward.StartHeight, sward.StopHeight
	if s.StartHeight != nil {
		start = *s.StartHeight
	}
	if s.StopHeight != nil {
		stop = *s.StopHeight
	}
	if stop >= start {
		return l, quantity.Refuse("school.stop_height_cm", stop, "the stop height must lie below the start height, %g cm on %s", start, sward.Name)
	}
	perCm := sward.MassPerCm.Medium
	l.Residual = max(100, sward.Residual+(stop-sward.StopHeight)*perCm)
	l.Entry = l.Residual + (start-stop)*perCm
	// A third more than the start height holds is stalk; the curve flattens close under its ceiling.
	l.TooOld = max(l.Entry*1.05, min(l.Entry+(l.Entry-l.Residual)/2, 0.9*sward.Ceiling))
	return l, nil
}
