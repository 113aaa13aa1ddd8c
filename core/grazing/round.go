package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// RotationIn asks how many paddocks a rest needs.
type RotationIn struct {
	Rest float64 `json:"rest_days"`
	Stay float64 `json:"stay_days"`
	Mobs float64 `json:"mobs"`
	Area float64 `json:"area_ha"`
}

// RotationOut is the round that keeps the rest.
type RotationOut struct {
	Paddocks   int     `json:"paddocks"`
	Length     float64 `json:"rotation_length_days"`
	AreaPerDay float64 `json:"area_per_day_ha"`
}

// Rotation: paddocks = ⌈rest / stay⌉ + mobs, for mobs nose to tail on one round; length = paddocks · stay.
// Mobs apart need a round each.
func Rotation(in RotationIn) (RotationOut, []working.Step, error) {
	// A quotient that is whole but for the last bit of a float must not cost a fence.
	resting := math.Ceil(in.Rest/in.Stay - 1e-9)
	n := resting + in.Mobs
	if n > 10000 {
		return RotationOut{}, nil, quantity.Refuse("stay_days", in.Stay, "%g days of rest at this stay would need %.0f paddocks: stay longer or rest less", in.Rest, n)
	}
	length := n * in.Stay
	out := RotationOut{int(n), length, in.Area / length}
	return out, []working.Step{
		working.New("Paddocks", "⌈ rest ÷ stay ⌉ + m", n, quantity.Count, working.T("rest", "rest", in.Rest, quantity.Day),
			working.T("stay", "stay", in.Stay, quantity.Day), working.T("m", "mobs", in.Mobs, quantity.Count)),
		working.New("Rotation length (rest and stay)", "n × stay", length, quantity.Day, working.T("n", "paddocks", n, quantity.Count),
			working.T("stay", "stay", in.Stay, quantity.Day)),
		working.New("Area a day", "A ÷ L", out.AreaPerDay, quantity.HectarePerDay, working.T("A", "area", in.Area, quantity.Hectare),
			working.T("L", "rotation length", length, quantity.Day)),
	}, nil
}

// WeekPaddock is one paddock at this walk and the last.
type WeekPaddock struct {
	Name     string   `json:"name"`
	Area     float64  `json:"area_ha"`
	Mass     float64  `json:"forage_mass_kg_dm_ha"`
	Previous *float64 `json:"previous_kg_dm_ha,omitempty"`
	Touched  bool     `json:"touched,omitempty" label:"Grazed or cut between the walks"`
	Closed   bool     `json:"closed,omitempty" label:"Closed, out of the rotation"`
}

// WeekIn is the weekly look.
type WeekIn struct {
	Paddocks []WeekPaddock `json:"paddocks" label:"Paddocks"`
	Days     float64       `json:"days_between"`
	Residual float64       `json:"residual_kg_dm_ha"`
	Demand   float64       `json:"demand_kg_dm_day"`
	U        float64       `json:"utilisation"`
}

// WeekOut is cover, growth and days ahead. Growth is null when no untouched paddock was walked twice.
type WeekOut struct {
	Cover     float64  `json:"farm_cover_kg_dm_ha"`
	Growth    *float64 `json:"growth_kg_dm_ha_day"`
	BreakEven float64  `json:"break_even_growth_kg_dm_ha_day"`
	Ahead     float64  `json:"days_ahead"`
	Area      float64  `json:"area_in_rotation_ha"`
}

// Week gives farm cover (area-weighted), growth over paddocks untouched between the walks, break-even growth and
// days of feed ahead. Closed ground counts for growth alone.
func Week(in WeekIn) (WeekOut, []working.Step, error) {
	var area, mass, grown, grownArea, feed float64
	for _, p := range in.Paddocks {
		if p.Previous != nil && !p.Touched {
			grown += (p.Mass - *p.Previous) / in.Days * p.Area
			grownArea += p.Area
		}
		if p.Closed {
			continue
		}
		area += p.Area
		mass += p.Mass * p.Area
		feed += math.Max(0, p.Mass-in.Residual) * p.Area * in.U
	}
	if area == 0 {
		return WeekOut{}, nil, quantity.Refuse("paddocks", len(in.Paddocks), "at least one paddock must be in the rotation")
	}
	out := WeekOut{Cover: mass / area, BreakEven: in.Demand / area, Ahead: feed / in.Demand, Area: area}
	a := working.T("A", "area in the rotation", area, quantity.Hectare)
	d := working.T("D", "demand", in.Demand, quantity.Demand)
	steps := []working.Step{
		working.New("Farm cover", "ΣMa ÷ A", out.Cover, quantity.ForageMass, working.T("ΣMa", "standing in the rotation", mass, quantity.Kilogram), a),
		working.New("Break-even growth", "D ÷ A", out.BreakEven, quantity.Growth, d, a),
		working.New("Days ahead, without growth", "F ÷ D", out.Ahead, quantity.Day,
			working.T("F", "feed above the residual", feed, quantity.Kilogram), d)}
	if grownArea > 0 {
		g := grown / grownArea
		out.Growth = &g
		steps = append(steps, working.New("Growth, untouched paddocks", "Σga ÷ a", g, quantity.Growth,
			working.T("Σga", "grown a day", grown, quantity.Demand), working.T("a", "untouched area", grownArea, quantity.Hectare)))
	}
	return out, steps, nil
}

// QueuePaddock is one paddock of the queue, in grazing order.
type QueuePaddock struct {
	Name string  `json:"name"`
	Area float64 `json:"area_ha"`
	Mass float64 `json:"forage_mass_kg_dm_ha"`
}

// QueueIn is the queue against its targets.
type QueueIn struct {
	Paddocks []QueuePaddock `json:"paddocks" label:"Paddocks in grazing order"`
	Demand   float64        `json:"demand_kg_dm_day"`
	Length   float64        `json:"rotation_length_days"`
	Residual float64        `json:"residual_kg_dm_ha"`
}

// QueueRow is one paddock against its target.
type QueueRow struct {
	Name       string  `json:"name"`
	Target     float64 `json:"target_kg_dm_ha"`
	Difference float64 `json:"difference_kg_dm_ha"`
	Kg         float64 `json:"difference_kg_dm"`
}

// QueueOut is the entry target, every row, and the whole surplus (above zero) or shortage.
type QueueOut struct {
	Entry   float64    `json:"entry_target_kg_dm_ha"`
	Rows    []QueueRow `json:"rows"`
	Balance float64    `json:"balance_kg_dm"`
}

// Queue: entry target = R + G* · rotation length; the k-th of n paddocks should stand at
// entry − (entry − R) · k / (n − 1).
func Queue(in QueueIn) (QueueOut, []working.Step, error) {
	n := len(in.Paddocks)
	if n == 0 {
		return QueueOut{}, nil, quantity.Refuse("paddocks", 0, "name the paddocks in grazing order")
	}
	area := 0.0
	for _, p := range in.Paddocks {
		area += p.Area
	}
	breakEven := in.Demand / area
	out := QueueOut{Entry: in.Residual + breakEven*in.Length}
	for k, p := range in.Paddocks {
		target := out.Entry
		if n > 1 {
			target = out.Entry - (out.Entry-in.Residual)*float64(k)/float64(n-1)
		}
		row := QueueRow{p.Name, target, p.Mass - target, (p.Mass - target) * p.Area}
		out.Rows = append(out.Rows, row)
		out.Balance += row.Kg
	}
	return out, []working.Step{
		working.New("Break-even growth", "D ÷ A", breakEven, quantity.Growth, working.T("D", "demand", in.Demand, quantity.Demand),
			working.T("A", "area in the queue", area, quantity.Hectare)),
		working.New("Entry target", "R + G × L", out.Entry, quantity.ForageMass, working.T("R", "residual", in.Residual, quantity.ForageMass),
			working.T("G", "break-even growth", breakEven, quantity.Growth), working.T("L", "rotation length", in.Length, quantity.Day)),
		working.New("Balance of the queue", "Σ ( M − target ) × a", out.Balance, quantity.Kilogram),
	}, nil
}
