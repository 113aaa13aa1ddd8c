package forage

import (
	"math"
	"time"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Grow is forage mass after so many days of undisturbed growth at a constant peak rate: the closed form of
// dM/dt = 4 · gmax / K · M · (1 − M/K). mass and ceiling in kg DM/ha, peak in kg DM/ha/day. Above the ceiling
// mass declines towards it.
func Grow(mass, peak, ceiling, days float64) float64 {
	if mass <= 0 || peak <= 0 || days <= 0 {
		return mass
	}
	return ceiling / (1 + (ceiling/mass-1)*math.Exp(-4*peak/ceiling*days))
}

// RegrowthIn asks how long a sward needs from residual to entry, and from another residual.
type RegrowthIn struct {
	Residual float64  `json:"residual_kg_dm_ha"`
	Entry    float64  `json:"entry_kg_dm_ha"`
	Ceiling  float64  `json:"ceiling_kg_dm_ha"`
	Peak     float64  `json:"peak_growth_kg_dm_ha_day"`
	Other    *float64 `json:"other_residual_kg_dm_ha,omitempty"`
}

// RegrowthOut is days of rest from each residual, and what the other one costs in rest.
type RegrowthOut struct {
	Days  float64  `json:"days"`
	Other *float64 `json:"other_days,omitempty"`
	Extra *float64 `json:"extra_days,omitempty"`
}

// Regrowth inverts the growth curve: t = ln( M (K − R) / (R (K − M)) ) / (4 · gmax / K).
// The residual must be above zero and the entry below the ceiling.
func Regrowth(in RegrowthIn) (RegrowthOut, []working.Step, error) {
	if in.Residual <= 0 {
		return RegrowthOut{}, nil, quantity.Refuse("residual_kg_dm_ha", in.Residual, "bare ground does not grow back by this curve: leave something")
	}
	if in.Entry >= in.Ceiling {
		return RegrowthOut{}, nil, quantity.Refuse("entry_kg_dm_ha", said(in.Entry), "entry must lie below the ceiling of %s", said(in.Ceiling))
	}
	if in.Residual > in.Entry {
		return RegrowthOut{}, nil, quantity.Refuse("residual_kg_dm_ha", said(in.Residual), "the residual must lie below the entry of %s", said(in.Entry))
	}
	if in.Other != nil && *in.Other > in.Entry {
		return RegrowthOut{}, nil, quantity.Refuse("other_residual_kg_dm_ha", said(*in.Other), "the other residual must lie below the entry of %s", said(in.Entry))
	}
	r := 4 * in.Peak / in.Ceiling
	out := RegrowthOut{Days: DaysToReach(in.Residual, in.Entry, in.Peak, in.Ceiling)}
	step := func(label string, from, days float64) working.Step {
		return working.New(label, "ln ( M × ( K − R ) ÷ ( R × ( K − M ) ) ) ÷ r", days, quantity.Day,
			working.T("M", "entry", in.Entry, quantity.ForageMass), working.T("K", "ceiling", in.Ceiling, quantity.ForageMass),
			working.T("R", "residual", from, quantity.ForageMass), working.T("r", "r", r, quantity.None))
	}
	steps := []working.Step{
		working.New("Rate of the curve", "4 × g ÷ K", r, quantity.None, working.T("g", "peak growth", in.Peak, quantity.Growth),
			working.T("K", "ceiling", in.Ceiling, quantity.ForageMass)),
		step("Rest from the residual", in.Residual, out.Days)}
	if in.Other != nil {
		other := DaysToReach(*in.Other, in.Entry, in.Peak, in.Ceiling)
		extra := other - out.Days
		out.Other, out.Extra = &other, &extra
		steps = append(steps, step("Rest from the other residual", *in.Other, other),
			working.New("What the deeper bite costs in rest", "t₂ − t₁", extra, quantity.Day,
				working.T("t₂", "rest from the other", other, quantity.Day), working.T("t₁", "rest", out.Days, quantity.Day)))
	}
	return out, steps, nil
}

// growthStops is the share of its peak rate below which a sward's dying is no longer made good within its growth: assumption, ours.
const growthStops = 0.15

// Dying is the share of standing mass that a day takes, by the share of its peak rate at which the sward grows on it. loss is the
// share of a day once growth has stopped; while the sward grows, what dies is in its rate of growth already.
func Dying(loss, share float64) float64 { return loss * math.Max(0, 1-share/growthStops) }

// GrowAndDie is Grow of a sward of which a share dies each day as well, dM/dt = 4 · gmax / K · M · (1 − M/K) − dying · M, and how
// much died, kg DM/ha. It is a logistic curve too, so that cutting a stretch of time into pieces changes nothing.
func GrowAndDie(mass, peak, ceiling, dying, days float64) (after, died float64) {
	if dying <= 0 || mass <= 0 || days <= 0 {
		return Grow(mass, peak, ceiling, days), 0
	}
	r := 4 * math.Max(0, peak) / ceiling
	e, g := netGrowth(r-dying, days)
	crowding := r * mass / ceiling * g
	after = mass * e / (1 + crowding)
	stood := mass * g // kg DM/ha × days
	if crowding > 1e-9 {
		stood = ceiling / r * math.Log1p(crowding)
	}
	return after, dying * stood
}

// netGrowth is e^(a·t), and the integral of it from 0 to t.
func netGrowth(a, t float64) (e, integral float64) {
	if math.Abs(a*t) < 1e-9 {
		return 1 + a*t, t
	}
	return math.Exp(a * t), math.Expm1(a*t) / a
}

func said(mass float64) quantity.Said { return quantity.Said{Value: mass, Unit: quantity.ForageMass} }

// DaysToReach is the rest, in days at a constant peak rate, for mass to grow from one figure to a higher one.
// It is zero when already there and +Inf when growth stands still or the target is at or above the ceiling.
func DaysToReach(from, to, peak, ceiling float64) float64 {
	if from >= to {
		return 0
	}
	if from <= 0 || peak <= 0 || to >= ceiling {
		return math.Inf(1)
	}
	return math.Log(to*(ceiling-from)/(from*(ceiling-to))) / (4 * peak / ceiling)
}

// LeavesIn asks after how many days a tiller has so many new leaves.
type LeavesIn struct {
	Leaves      float64   `json:"leaves"`
	Phyllochron float64   `json:"phyllochron_degree_days"`
	Base        float64   `json:"base_temperature_c"`
	Temperature []float64 `json:"mean_temperature_c" label:"Mean temperature, day by day"`
}

// LeavesOut is the day, counted from grazing, on which the leaf stage is reached, or how many leaves there are at the end of
// days that do not bring it.
type LeavesOut struct {
	Days *int     `json:"days"`
	End  *float64 `json:"leaves_at_end,omitempty"`
}

// Leaves sums degree-days above the base temperature until leaves · phyllochron is reached, or the days end.
func Leaves(in LeavesIn) (LeavesOut, []working.Step, error) {
	need, have := in.Leaves*in.Phyllochron, 0.0
	for i, t := range in.Temperature {
		have += math.Max(0, t-in.Base)
		if have >= need {
			day := i + 1
			return LeavesOut{Days: &day}, []working.Step{
				working.New("Warmth needed", "l × φ", need, quantity.DegreeDay, working.T("l", "leaves", in.Leaves, quantity.Leaf),
					working.T("φ", "degree-days a leaf", in.Phyllochron, quantity.DegreeDayLeaf)),
				working.New("Days until it has come", "d", float64(i+1), quantity.Day,
					working.T("d", "days counted", float64(i+1), quantity.Day)),
			}, nil
		}
	}
	end := have / in.Phyllochron
	return LeavesOut{End: &end}, []working.Step{
		working.New("Warmth of these days", "Σ ( T − b )", have, quantity.DegreeDay, working.T("b", "counted above", in.Base, quantity.Celsius)),
		working.New("Leaves at their end", "w ÷ φ", end, quantity.Leaf, working.T("w", "warmth", have, quantity.DegreeDay),
			working.T("φ", "degree-days a leaf", in.Phyllochron, quantity.DegreeDayLeaf)),
	}, nil
}

// Curve is the seasonal shape of growth: twelve relative rates, January to December.
type Curve [12]float64

// At reads the curve between mid-months in a straight line, as a share of its highest month, 0…1.
// A southern farm's season is shifted by half a year.
func (c Curve) At(t time.Time, southern bool) float64 {
	month := int(t.Month()) - 1
	first := time.Date(t.Year(), t.Month(), 1, 0, 0, 0, 0, t.Location())
	length := float64(first.AddDate(0, 1, 0).Sub(first))
	x := float64(month) + float64(t.Sub(first))/length - 0.5
	if southern {
		x += 6
	}
	low := math.Floor(x)
	i := (int(low)%12 + 12) % 12
	v := c[i] + (c[(i+1)%12]-c[i])*(x-low)
	top := 0.0
	for _, m := range c {
		top = math.Max(top, m)
	}
	if top <= 0 {
		return 0
	}
	return v / top
}

// Shifted is the same shape so many months later in the year.
func (c Curve) Shifted(months int) Curve {
	var out Curve
	for i, v := range c {
		out[((i+months)%12+12)%12] = v
	}
	return out
}

// Fullness is the mean of the months against the highest, 0…1: how much of its peak a sward keeps over the year.
func (c Curve) Fullness() float64 {
	sum, top := 0.0, 0.0
	for _, m := range c {
		sum, top = sum+m, math.Max(top, m)
	}
	if top <= 0 {
		return 0
	}
	return sum / 12 / top
}

// Months parts a year's growth into its months, January first, each by the curve's share of the year.
func (c Curve) Months(southern bool) [12]float64 {
	total := 0.0
	for _, m := range c {
		total += m
	}
	var out [12]float64
	if total <= 0 {
		return out
	}
	for i := range out {
		k := i
		if southern {
			k = (i + 6) % 12
		}
		out[i] = c[k] / total
	}
	return out
}
