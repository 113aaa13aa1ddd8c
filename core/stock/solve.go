package stock

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// SolveIn is stock against land with one of its four figures left out: how many head, for how long, on how much ground, of what yield.
type SolveIn struct {
	Head    *float64 `json:"head,omitempty"`
	Days    *float64 `json:"days,omitempty" doc:"of grazing in a year"`
	AreaHa  *float64 `json:"area_ha,omitempty"`
	YieldHa *float64 `json:"yield_kg_dm_ha,omitempty" doc:"that grows in a year, before any of it is lost"`
	Each    float64  `json:"each_kg_dm_day" doc:"that a head eats"`
	Harvest float64  `json:"harvest_efficiency" doc:"of what grows that is eaten"`
}

// SolveOut is the figure that was left out.
type SolveOut struct {
	Unknown string         `json:"unknown" enum:"head,days,area_ha,yield_kg_dm_ha"`
	Value   float64        `json:"value"`
	PerHa   float64        `json:"head_ha"` // stocking rate over those days
	Figure  working.Figure `json:"figure"`
}

// Solve finds whichever of head, days, area and yield is left out, so that what is eaten is what can be: head × each × days = area × yield × harvest efficiency. Head come out
// whole, never one too many; whatever else comes out as it is.
func Solve(in SolveIn) (SolveOut, error) {
	for _, f := range []struct {
		field      string
		v          float64
		least, top float64
	}{{"each_kg_dm_day", in.Each, 0.01, 60}, {"harvest_efficiency", in.Harvest, 0.05, 0.95}} {
		if !(f.v >= f.least && f.v <= f.top) {
			return SolveOut{}, quantity.Refuse(f.field, f.v, "must be %g to %g", f.least, f.top)
		}
	}
	out, left := SolveOut{}, 0
	for _, f := range []struct {
		field string
		v     *float64
		top   float64
	}{{"head", in.Head, 1e6}, {"days", in.Days, 366}, {"area_ha", in.AreaHa, 1e6}, {"yield_kg_dm_ha", in.YieldHa, 40000}} {
		if f.v == nil {
			out.Unknown, left = f.field, left+1
			continue
		}
		if !(*f.v > 0 && *f.v <= f.top) {
			return SolveOut{}, quantity.Refuse(f.field, *f.v, "must lie above 0, and at most at %g", f.top)
		}
	}
	if left != 1 {
		return SolveOut{}, quantity.Refuse("head", left, "leave out exactly one of head, days, area and yield: that one is found")
	}
	say := func(v *float64) float64 {
		if v == nil {
			return 0
		}
		return *v
	}
	head, days, area, yield := say(in.Head), say(in.Days), say(in.AreaHa), say(in.YieldHa)
	each := working.T("e", "a head eats a day", in.Each, quantity.Kilogram)
	harvest := working.T("H", "eaten of what grows", in.Harvest, quantity.Share)
	n, d := func() working.Term { return working.T("n", "head", head, quantity.Head) }, func() working.Term { return working.T("d", "days", days, quantity.Day) }
	a, y := func() working.Term { return working.T("A", "area", area, quantity.Hectare) }, func() working.Term { return working.T("Y", "grows in a year", yield, quantity.ForageMass) }
	var step working.Step
	switch out.Unknown {
	case "head":
		exact := area * yield * in.Harvest / (in.Each * days)
		head = math.Floor(exact + 1e-9)
		out.Value = head
		step = working.New("Head", "A × Y × H ÷ ( e × d ), no one too many", head, quantity.Head, a(), y(), harvest, each, d())
	case "days":
		days = area * yield * in.Harvest / (in.Each * head)
		out.Value = days
		step = working.New("Days", "A × Y × H ÷ ( n × e )", days, quantity.Day, a(), y(), harvest, n(), each)
	case "area_ha":
		area = head * in.Each * days / (yield * in.Harvest)
		out.Value = area
		step = working.New("Area", "n × e × d ÷ ( Y × H )", area, quantity.Hectare, n(), each, d(), y(), harvest)
	default:
		yield = head * in.Each * days / (area * in.Harvest)
		out.Value = yield
		step = working.New("Must grow in a year", "n × e × d ÷ ( A × H )", yield, quantity.ForageMass, n(), each, d(), a(), harvest)
	}
	out.PerHa = head / area
	out.Figure = working.Of("what is eaten is what can be; a head's share is counted once, and nothing is kept back", step)
	return out, nil
}
