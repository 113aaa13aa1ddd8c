package stock

import (
	"fjell/core/quantity"
	"fjell/core/working"
)

// Animals is a number of animals of one weight.
type Animals struct {
	Count        float64 `json:"count"`
	LiveWeightKg float64 `json:"live_weight_kg"`
}

// StockingIn asks for stocking rate and stocking density, which are different things:
// the rate is over the ground of the whole season, the density over the ground open at this moment.
type StockingIn struct {
	Animals      []Animals `json:"animals" label:"Animals"`
	SeasonAreaHa float64   `json:"season_area_ha"`
	OpenAreaHa   float64   `json:"open_area_ha"`
}

// Season is how long a stocking rate holds: days out at grass in the year.
type Season struct {
	AnimalUnits float64
	AreaHa      float64
	Days        float64
}

// monthDays is the month by which animal unit months are counted: a twelfth of a year.
const monthDays = 365.25 / 12

// PerAnimalUnit is the ground to each animal unit, ha.
func (s Season) PerAnimalUnit(source string) working.Figure {
	each := s.AreaHa / s.AnimalUnits
	return working.Of(source, working.New("Ground to each animal unit", "A ÷ U", each, quantity.HectarePerAU, working.T("A", "ground of the whole season", s.AreaHa, quantity.Hectare),
		working.T("U", "animal units", s.AnimalUnits, quantity.AnimalUnits)))
}

// Months is what the season takes of the ground, in animal unit months to the hectare.
func (s Season) Months(source string) working.Figure {
	months := s.AnimalUnits * s.Days / monthDays
	return working.Of(source,
		working.New("Animal unit months", "U × d ÷ m", months, quantity.AUMonths, working.T("U", "animal units", s.AnimalUnits, quantity.AnimalUnits),
			working.T("d", "days out at grass", s.Days, quantity.Day), working.T("m", "days of a month", monthDays, quantity.Day)),
		working.New("To the hectare", "M ÷ A", months/s.AreaHa, quantity.AUMonthsPerHa, working.T("M", "animal unit months", months, quantity.AUMonths),
			working.T("A", "ground of the whole season", s.AreaHa, quantity.Hectare)))
}

// StockingOut holds the rate in three measures and the density.
type StockingOut struct {
	HeadPerHa       float64 `json:"head_per_ha"`
	AUPerHa         float64 `json:"animal_units_per_ha"`
	LiveWeightPerHa float64 `json:"live_weight_kg_per_ha"`
	Density         float64 `json:"density_kg_per_ha"`
}

// Stocking computes stocking rate = animals / season area and stocking density = live weight / open area.
func Stocking(in StockingIn) (StockingOut, []working.Step, error) {
	if len(in.Animals) == 0 {
		return StockingOut{}, nil, quantity.Refuse("animals", 0, "name at least one group of animals")
	}
	if in.OpenAreaHa > in.SeasonAreaHa {
		return StockingOut{}, nil, quantity.Refuse("open_area_ha", in.OpenAreaHa,
			"the ground open now cannot be more than the season's %s", quantity.Said{Value: in.SeasonAreaHa, Unit: quantity.Hectare})
	}
	head, weight := 0.0, 0.0
	for _, a := range in.Animals {
		head += a.Count
		weight += a.Count * a.LiveWeightKg
	}
	out := StockingOut{head / in.SeasonAreaHa, weight / AnimalUnitKg / in.SeasonAreaHa,
		weight / in.SeasonAreaHa, weight / in.OpenAreaHa}
	area := working.T("A", "ground of the whole season", in.SeasonAreaHa, quantity.Hectare)
	live := working.T("W", "live weight of the mob", weight, quantity.Kilogram)
	return out, []working.Step{
		working.New("Stocking rate, head", "n ÷ A", out.HeadPerHa, quantity.HeadPerHectare,
			working.T("n", "head", head, quantity.Head), area),
		working.New("Stocking rate, animal units", "W ÷ AU ÷ A", out.AUPerHa, quantity.AUPerHectare, live,
			working.T("AU", "one animal unit", AnimalUnitKg, quantity.Kilogram), area),
		working.New("Stocking rate, live weight", "W ÷ A", out.LiveWeightPerHa, quantity.Density, live, area),
		working.New("Stocking density now", "W ÷ a", out.Density, quantity.Density, live,
			working.T("a", "ground open now", in.OpenAreaHa, quantity.Hectare)),
	}, nil
}

// Eater is one animal of a species: what it swallows and how much of what grows it gets hold of.
type Eater struct {
	Intake            float64 `json:"intake_kg_dm_head_day"`
	HarvestEfficiency float64 `json:"harvest_efficiency"`
}

// EquivalenceIn asks how many of the second graze as one of the first.
type EquivalenceIn struct {
	First  Eater `json:"first" label:"One of these"`
	Second Eater `json:"second" label:"How many of those"`
}

// EquivalenceOut gives what each needs grown, and the ratio.
type EquivalenceOut struct {
	FirstGrown     float64 `json:"first_grown_kg_dm_day"`
	SecondGrown    float64 `json:"second_grown_kg_dm_day"`
	SecondPerFirst float64 `json:"second_per_first"`
}

// Equivalence compares two kinds of stock by what must grow for each: intake over harvest efficiency.
func Equivalence(in EquivalenceIn) (EquivalenceOut, []working.Step, error) {
	a := in.First.Intake / in.First.HarvestEfficiency
	b := in.Second.Intake / in.Second.HarvestEfficiency
	out := EquivalenceOut{a, b, a / b}
	grown := func(label string, e Eater, v float64) working.Step {
		return working.New(label, "I ÷ H", v, quantity.Intake, working.T("I", "swallowed", e.Intake, quantity.Intake),
			working.T("H", "harvest efficiency, of all that grows", e.HarvestEfficiency, quantity.Share))
	}
	return out, []working.Step{
		grown("Grown for one of the first", in.First, a), grown("Grown for one of the second", in.Second, b),
		working.New("Second that graze as one first (grown)", "G₁ ÷ G₂", out.SecondPerFirst, quantity.Ratio,
			working.T("G₁", "grown for the first", a, quantity.Intake), working.T("G₂", "grown for the second", b, quantity.Intake)),
	}, nil
}
