package year

import (
	"slices"

	"fjell/core/reference"
)

// Stockpiling is ground that is closed up for days on which no grass of the farm grows.
const Stockpiling = "stockpile"

// Share is what a kind of ground would have to be to feed all stock on the days that fall to it.
type Share struct {
	Kind   string  // cool, warm, tropical, both; stockpile
	Days   float64 // of the year, that fall to it
	Wanted float64 // kg DM that stock want on them
	Eaten  float64 // kg DM/ha that it gives to be eaten on them
	OfDays float64 // share of the year's days
	OfLand float64 // share of the ground that all of it together would take
	Area   float64 // ha that it would take
}

// Shares parts the last twelve months among the kinds of ground that the farm has, and what is stockpiled for the rest: a month is parted among the grasses of whose season it is, by how
// near each is to the best of its own months. By days alone the shares are others than by what a hectare gives and what stock want: days are not land. Ground that is stockpiled feeds in
// spring too; it is counted as if it did not.
func (c Case) Shares() []Share {
	first := max(0, len(c.Months)-12)
	type ground struct {
		area    float64
		grown   []float64 // kg DM/ha
		harvest float64
	}
	kinds, order := map[string]*ground{}, []string{}
	for _, pc := range c.Pieces {
		if pc.Of.Season == "" {
			continue
		}
		k := kinds[pc.Of.Season]
		if k == nil {
			k = &ground{grown: make([]float64, len(c.Months))}
			kinds[pc.Of.Season], order = k, append(order, pc.Of.Season)
		}
		k.area, k.harvest = k.area+pc.AreaHa, k.harvest+pc.Harvest*pc.AreaHa
		for m := range k.grown {
			k.grown[m] += pc.Grown[m] + pc.Closed[m]
		}
	}
	if len(order) == 0 {
		return nil
	}
	out := make([]Share, 0, len(order)+1)
	for _, kind := range append(slices.Clone(order), Stockpiling) {
		out = append(out, Share{Kind: kind})
	}
	days := 0.0
	for m := first; m < len(c.Months); m++ {
		parts, all := make([]float64, len(out)), 0.0
		for i, kind := range order {
			k := kinds[kind]
			if near := k.grown[m] / max(slices.Max(k.grown), 1e-9); near >= grown {
				parts[i], all = near, all+near
				out[i].Eaten += k.grown[m] / k.area * k.harvest / k.area
			}
		}
		if all == 0 {
			parts[len(order)], all = 1, 1
		}
		length, wanted := c.Months[m].Days(), 0.0
		for _, g := range c.Groups {
			wanted += g.Pasture[m] + g.Indoors[m]
		}
		days += length
		for i := range out {
			out[i].Days, out[i].Wanted = out[i].Days+length*parts[i]/all, out[i].Wanted+wanted*parts[i]/all
		}
	}
	out[len(order)].Eaten = stockpiled(order)
	all := 0.0
	for i := range out {
		if s := &out[i]; s.Eaten > 0 {
			s.Area = s.Wanted / s.Eaten
			all += s.Area
		}
	}
	for i := range out {
		out[i].OfDays, out[i].OfLand = out[i].Days/max(days, 1e-9), out[i].Area/max(all, 1e-9)
	}
	return out
}

// stockpiled is what a hectare that is closed up carries into winter to be eaten, kg DM: of cool-season grass where there is some.
func stockpiled(kinds []string) float64 {
	id := "stockpile_dormant_warm_or_native"
	if slices.Contains(kinds, "cool") || slices.Contains(kinds, "both") {
		id = "stockpile_cool"
	}
	in, err := reference.Load().Input(id)
	if err != nil {
		return 0
	}
	return in.Extra.Typical * 1000 * in.Eaten
}
