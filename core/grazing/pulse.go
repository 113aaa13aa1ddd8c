package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// PulseIn asks what a wanted density takes: a tool for a named purpose, with an end, not a system.
type PulseIn struct {
	Count    float64 `json:"count"`
	Weight   float64 `json:"live_weight_kg"`
	Share    float64 `json:"intake_share"`
	Density  float64 `json:"wanted_density_kg_per_ha"`
	Moves    float64 `json:"moves_a_day"`
	Mass     float64 `json:"forage_mass_kg_dm_ha"`
	Top      float64 `json:"top_share"`
	Exponent float64 `json:"height_weight_exponent"`
	Eaten    float64 `json:"eaten_share"`
	Water    float64 `json:"water_l_head_day"`
}

// PulseOut is the ground of one move and of a day, what it feeds against what they eat, and the water they drink.
type PulseOut struct {
	Move   float64 `json:"area_per_move_ha"`
	Day    float64 `json:"area_per_day_ha"`
	Feed   float64 `json:"feed_kg_dm_day"`
	Demand float64 `json:"demand_kg_dm_day"`
	Short  float64 `json:"short_kg_dm_day"`
	Water  float64 `json:"water_l_day"`
}

// Pulse is n × W ÷ density of ground for each move, and as many moves a day. Only the top of the sward is to be taken: xᵏ of its weight, and
// what is eaten of that. No density is magic: it follows from the purpose and from who is there to move them, and they are to be fed all the
// same. Where a day's ground feeds less than they eat, the sum says by how much.
func Pulse(in PulseIn) (PulseOut, []working.Step, error) {
	weight := in.Count * in.Weight
	if weight <= 0 {
		return PulseOut{}, nil, quantity.Refuse("count", in.Count, "a density is made of at least one animal")
	}
	out := PulseOut{Move: weight / in.Density, Demand: weight * in.Share, Water: in.Count * in.Water}
	out.Day = out.Move * in.Moves
	top := math.Pow(in.Top, in.Exponent)
	out.Feed = in.Mass * top * in.Eaten * out.Day
	out.Short = math.Max(0, out.Demand-out.Feed)
	n := working.T("n", "animals", in.Count, quantity.Head)
	area := working.T("A", "ground of a day", out.Day, quantity.Hectare)
	return out, []working.Step{
		working.New("Ground of one move", "n × W ÷ D", out.Move, quantity.Hectare, n, working.T("W", "live weight of one", in.Weight, quantity.Kilogram),
			working.T("D", "wanted density", in.Density, quantity.Density)),
		working.New("Ground of a day", "a × m", out.Day, quantity.Hectare, working.T("a", "ground of one move", out.Move, quantity.Hectare), working.T("m", "moves a day", in.Moves, quantity.Count)),
		working.New("Weight in the top part", "x ^ k", top, quantity.Share, working.T("x", "top share of the height", in.Top, quantity.Share), working.T("k", "of the growth form", in.Exponent, quantity.None)),
		working.New("That feeds, a day", "M × t × e × A", out.Feed, quantity.Demand, working.T("M", "forage mass", in.Mass, quantity.ForageMass), working.T("t", "weight in the top part", top, quantity.Share),
			working.T("e", "eaten, of what is taken", in.Eaten, quantity.Share), area),
		working.New("They eat, a day", "n × W × i", out.Demand, quantity.Demand, n, working.T("W", "live weight of one", in.Weight, quantity.Kilogram), working.T("i", "eaten a day, of it", in.Share, quantity.Share)),
		working.New("Missing, a day", "max( 0, D − F )", out.Short, quantity.Demand, working.T("D", "they eat", out.Demand, quantity.Demand), working.T("F", "that feeds", out.Feed, quantity.Demand)),
		working.New("Water, a day, for all of them at once", "n × w", out.Water, quantity.Litre, n, working.T("w", "each drinks", in.Water, quantity.Litre)),
	}, nil
}

// AwayIn asks what to set ahead for days on which nobody can move stock.
type AwayIn struct {
	Demand float64 `json:"demand_kg_dm_day"`
	Days   float64 `json:"days"`
	Spare  float64 `json:"spare_days"`
	PerHa  float64 `json:"feed_kg_dm_ha"`
	AreaHa float64 `json:"area_ha" label:"Paddock you have in mind"`
	Stay   float64 `json:"stay_max_days"`
}

// AwayOut is the ground that feeds them while nobody is there, how long the paddock lasts, and into how many strips it goes.
type AwayOut struct {
	Area   float64 `json:"area_needed_ha"`
	Lasts  float64 `json:"lasts_days"`
	Short  float64 `json:"short_kg_dm"`
	Strips float64 `json:"strips"`
}

// Away is demand × (days + days in hand) ÷ feed per hectare. A stay longer than the longest lets them bite the regrowth: then the ground is
// laid out in that many strips beforehand, ⌈(days + spare) ÷ longest stay⌉, for whoever looks in to open one after the other. Growth
// meanwhile is left out: it is the margin.
func Away(in AwayIn) (AwayOut, []working.Step, error) {
	days := in.Days + in.Spare
	out := AwayOut{Area: in.Demand * days / in.PerHa, Lasts: in.AreaHa * in.PerHa / in.Demand, Strips: math.Ceil(days / in.Stay)}
	out.Short = math.Max(0, in.Demand*days-in.AreaHa*in.PerHa)
	d, f := working.T("D", "eaten a day", in.Demand, quantity.Demand), working.T("f", "feed per hectare", in.PerHa, quantity.ForageMass)
	t := working.T("t", "days, with those in hand", days, quantity.Day)
	return out, []working.Step{
		working.New("Ground they need", "D × t ÷ f", out.Area, quantity.Hectare, d, t, f),
		working.New("The paddock lasts", "A × f ÷ D", out.Lasts, quantity.Day, working.T("A", "area", in.AreaHa, quantity.Hectare), f, d),
		working.New("Missing there", "max( 0, D × t − A × f )", out.Short, quantity.Kilogram, d, t, working.T("A", "area", in.AreaHa, quantity.Hectare), f),
		working.New("Strips set ahead", "⌈ t ÷ s ⌉", out.Strips, quantity.Count, t, working.T("s", "longest stay", in.Stay, quantity.Day)),
	}, nil
}

// NextStripIn asks for tomorrow's strip from what was left on today's.
type NextStripIn struct {
	Length   float64  `json:"strip_length_m"`
	Mass     float64  `json:"forage_mass_kg_dm_ha" label:"Stood on it before"`
	Left     float64  `json:"mass_left_kg_dm_ha" label:"Left on it now"`
	Residual float64  `json:"residual_kg_dm_ha" label:"Meant to be left"`
	Next     *float64 `json:"next_mass_kg_dm_ha,omitempty"`
}

// NextStripOut is how far the front fence moves next.
type NextStripOut struct {
	Length float64 `json:"length_m"`
}

// NextStrip takes what went from today's strip, (M − L) × l, from the next one down to the residual: l × (M − L) ÷ (M′ − R). What they ate is
// thus read off the ground, and tomorrow's length needs no demand. The working rounds it up to what one can pace.
func NextStrip(in NextStripIn) (NextStripOut, []working.Step, error) {
	next := in.Mass
	if in.Next != nil {
		next = *in.Next
	}
	kg := func(v float64) quantity.Said { return quantity.Said{Value: v, Unit: quantity.ForageMass} }
	switch {
	case in.Left >= in.Mass:
		return NextStripOut{}, nil, quantity.Refuse("mass_left_kg_dm_ha", kg(in.Left), "less must be left than the %s that stood there, or nothing was eaten", kg(in.Mass))
	case next <= in.Residual:
		return NextStripOut{}, nil, quantity.Refuse("residual_kg_dm_ha", kg(in.Residual), "more than that must stand on the next strip, where %s stand", kg(next))
	}
	l := in.Length * (in.Mass - in.Left) / (next - in.Residual)
	return NextStripOut{l}, []working.Step{
		working.New("Gone from each hectare", "M − L", in.Mass-in.Left, quantity.ForageMass, working.T("M", "stood before", in.Mass, quantity.ForageMass), working.T("L", "left now", in.Left, quantity.ForageMass)),
		working.New("There for them on the next", "M′ − R", next-in.Residual, quantity.ForageMass, working.T("M′", "stands on the next", next, quantity.ForageMass), working.T("R", "to be left", in.Residual, quantity.ForageMass)),
		working.New("Front fence moves", "l × g ÷ a", l, quantity.Metre, working.T("l", "today's strip", in.Length, quantity.Metre), working.T("g", "gone", in.Mass-in.Left, quantity.ForageMass),
			working.T("a", "there on the next", next-in.Residual, quantity.ForageMass)),
		working.New("Pace it out, rounded up", "l to the next whole metre", math.Ceil(l), quantity.Metre, working.T("l", "front fence moves", l, quantity.Metre)),
	}, nil
}
