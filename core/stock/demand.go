// Package stock reckons what a mob eats and how heavily it stocks the land.
package stock

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// AnimalUnitKg is the live weight of one animal unit (AU): 454 kg, in proportion for other weights.
const AnimalUnitKg = 454.0

// Class is a number of like animals inside a mob.
type Class struct {
	Count         float64  `json:"count"`
	LiveWeightKg  float64  `json:"live_weight_kg"`
	IntakeShare   float64  `json:"intake_share"`               // kg DM a day per kg live weight
	SupplementKg  float64  `json:"supplement_kg_dm,omitempty"` // kg DM a head and day
	Substitution  *float64 `json:"substitution,omitempty"`     // 0…1, pasture spared per supplement; 1 when absent
	DailyGainKg   float64  `json:"daily_gain_kg,omitempty"`    // kg live weight a head and day
	ReferenceID   string   `json:"reference_id,omitempty"`     // row of the stock reference
	DisplayedName string   `json:"displayed_name,omitempty"`   // what the farm calls them
}

// ClassDemand is what one class eats.
type ClassDemand struct {
	Intake  float64 `json:"intake_kg_dm_head_day"`
	Pasture float64 `json:"pasture_kg_dm_head_day"`
	Demand  float64 `json:"demand_kg_dm_day"`
}

// DemandIn asks for the demand of a mob.
type DemandIn struct {
	Classes []DemandClass `json:"classes" label:"Kinds of animal in the mob"`
}

// DemandClass is a class as the demand sum takes it.
type DemandClass struct {
	Count        float64  `json:"count"`
	LiveWeightKg float64  `json:"live_weight_kg"`
	IntakeShare  float64  `json:"intake_share"`
	SupplementKg float64  `json:"supplement_kg_dm,omitempty"`
	Substitution *float64 `json:"substitution,omitempty"`
}

// DemandOut is the demand of a mob and of each of its classes, kg dry matter.
type DemandOut struct {
	Classes []ClassDemand `json:"classes"`
	Demand  float64       `json:"demand_kg_dm_day"`
}

// Demand adds up what the classes of a mob take from pasture in a day:
// I = w · p, pasture = I − σ · S (never below zero), D = Σ n · pasture.
func Demand(in DemandIn) (DemandOut, []working.Step, error) {
	if len(in.Classes) == 0 {
		return DemandOut{}, nil, quantity.Refuse("classes", 0, "a mob needs at least one class of animals")
	}
	var out DemandOut
	var steps []working.Step
	heads := 0.0
	for _, c := range in.Classes {
		sigma := 1.0
		if c.Substitution != nil {
			sigma = *c.Substitution
		}
		intake := c.LiveWeightKg * c.IntakeShare
		pasture := math.Max(0, intake-sigma*c.SupplementKg)
		d := ClassDemand{intake, pasture, c.Count * pasture}
		out.Classes = append(out.Classes, d)
		out.Demand += d.Demand
		heads += c.Count
		steps = append(steps, working.New("Intake a head", "w × p", intake, quantity.Intake,
			working.T("w", "live weight", c.LiveWeightKg, quantity.Kilogram),
			working.T("p", "share of live weight a day", c.IntakeShare, quantity.Share)))
		if c.SupplementKg > 0 {
			steps = append(steps, working.New("From pasture, after supplement", "I − σ × S", pasture, quantity.Intake,
				working.T("I", "intake", intake, quantity.Intake), working.T("σ", "substitution", sigma, quantity.Ratio),
				working.T("S", "supplement", c.SupplementKg, quantity.Intake)))
		}
		steps = append(steps, working.New("Demand of the class", "n × I", d.Demand, quantity.Demand,
			working.T("n", "head", c.Count, quantity.Head), working.T("I", "pasture intake a head", pasture, quantity.Intake)))
	}
	if heads <= 0 {
		return DemandOut{}, nil, quantity.Refuse("classes[0].count", heads, "a mob needs at least one animal")
	}
	steps = append(steps, sum("Demand of the mob, per day", out.Classes, out.Demand))
	return out, steps, nil
}

func sum(label string, classes []ClassDemand, total float64) working.Step {
	formula, terms := "", make([]working.Term, len(classes))
	for i, c := range classes {
		symbol := "D" + string(rune('₁'+i%9))
		if i > 0 {
			formula += " + "
		}
		formula += symbol
		terms[i] = working.T(symbol, "demand of a class", c.Demand, quantity.Demand)
	}
	return working.New(label, formula, total, quantity.Demand, terms...)
}

// On returns the class as it is days after it was described: growing stock gain weight, head stay the same.
// Weight never falls below a tenth of what was described.
func (c Class) On(days float64) Class {
	c.LiveWeightKg = math.Max(c.LiveWeightKg*0.1, c.LiveWeightKg+c.DailyGainKg*days)
	return c
}

// Mob is a list of classes that graze together.
type Mob []Class

// DemandOn is the mob's demand for pasture, kg DM/day, so many days after its classes were described.
func (m Mob) DemandOn(days float64) float64 {
	total := 0.0
	for _, c := range m {
		c = c.On(days)
		sigma := 1.0
		if c.Substitution != nil {
			sigma = *c.Substitution
		}
		total += c.Count * math.Max(0, c.LiveWeightKg*c.IntakeShare-sigma*c.SupplementKg)
	}
	return total
}

// DemandFigure is the mob's demand with its working, so many days after its classes were described.
func (m Mob) DemandFigure(days float64, source string) (working.Figure, DemandOut, error) {
	in := DemandIn{}
	for _, c := range m {
		c = c.On(days)
		in.Classes = append(in.Classes, DemandClass{c.Count, c.LiveWeightKg, c.IntakeShare, c.SupplementKg, c.Substitution})
	}
	out, steps, err := Demand(in)
	if err != nil {
		return working.Figure{}, DemandOut{}, err
	}
	return working.Of(source, steps...), out, nil
}
