package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// regrowthDay is the day of a stay from which what grows meanwhile counts: before it nothing that was bitten is back.
const regrowthDay = 3

// LastsIn asks how long the grass of a paddock lasts for one kind of animal, from what a person can count and see.
type LastsIn struct {
	Count    float64  `json:"count"`
	Weight   float64  `json:"live_weight_kg"`
	Share    float64  `json:"intake_share"`
	AreaHa   float64  `json:"area_ha"`
	Height   float64  `json:"height_cm"`
	Stop     float64  `json:"stop_height_cm"`
	MassPer  float64  `json:"mass_per_cm"`
	Utilised float64  `json:"utilisation"`
	Growth   *float64 `json:"growth_kg_dm_ha_day,omitempty" label:"Grows a day (0 if it does not)"`
}

// LastsOut is how long the grass lasts, days; nil where it grows as fast as they eat it and does not end.
type LastsOut struct {
	Days   *float64 `json:"days"`
	Feed   float64  `json:"feed_kg_dm"`
	Demand float64  `json:"demand_kg_dm_day"`
}

// Lasts divides the feed above the height to leave, (h − s) × m × A × u, by what they eat a day, n × W × i. What grows
// while they are there counts from the third day on; without a figure for it a longer stay is refused, because any answer
// would be a guess.
func Lasts(in LastsIn) (LastsOut, []working.Step, error) {
	feed := math.Max(0, in.Height-in.Stop) * in.MassPer * in.AreaHa * in.Utilised
	demand := in.Count * in.Weight * in.Share
	if demand <= 0 {
		return LastsOut{}, nil, quantity.Refuse("count", in.Count, "somebody must eat: at least one animal")
	}
	days := feed / demand
	steps := []working.Step{
		working.New("Feed", "( h − s ) × m × A × u", feed, quantity.Kilogram, working.T("h", "height", in.Height, quantity.Centimetre),
			working.T("s", "height to leave", in.Stop, quantity.Centimetre), working.T("m", "mass in a centimetre", in.MassPer, quantity.MassPerHeight),
			working.T("A", "area", in.AreaHa, quantity.Hectare), working.T("u", "share really eaten", in.Utilised, quantity.Share)),
		working.New("They eat a day", "n × W × i", demand, quantity.Demand, working.T("n", "animals", in.Count, quantity.Head),
			working.T("W", "live weight", in.Weight, quantity.Kilogram), working.T("i", "eaten a day, of it", in.Share, quantity.Share)),
		working.New("Lasts, without growth", "F ÷ D", days, quantity.Day, working.T("F", "feed", feed, quantity.Kilogram), working.T("D", "eaten a day", demand, quantity.Demand)),
	}
	out := LastsOut{&days, feed, demand}
	if days <= regrowthDay {
		return out, steps, nil
	}
	if in.Growth == nil {
		return LastsOut{}, nil, quantity.Refuse("growth_kg_dm_ha_day", nil, "it lasts more than %d days, and what grows meanwhile counts: say how much it grows a day, 0 if it does not", regrowthDay)
	}
	grown := math.Max(0, *in.Growth) * in.AreaHa * in.Utilised
	steps = append(steps, working.New("Grows for them a day", "g × A × u", grown, quantity.Demand, working.T("g", "growth", *in.Growth, quantity.Growth),
		working.T("A", "area", in.AreaHa, quantity.Hectare), working.T("u", "share really eaten", in.Utilised, quantity.Share)))
	if grown >= demand {
		out.Days = nil
		return out, steps, nil
	}
	longer := regrowthDay + (feed-regrowthDay*demand)/(demand-grown)
	out.Days = &longer
	return out, append(steps, working.New("Lasts, with growth from day 3", "3 + ( F − 3 × D ) ÷ ( D − G )", longer, quantity.Day,
		working.T("F", "feed", feed, quantity.Kilogram), working.T("D", "eaten a day", demand, quantity.Demand), working.T("G", "grows for them a day", grown, quantity.Demand))), nil
}
