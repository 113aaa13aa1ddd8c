package year

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Round is how ground is grazed: from what mass down to which, at what rest and stay.
type Round struct {
	Entry    float64 `json:"entry_kg_dm_ha"`
	Residual float64 `json:"residual_kg_dm_ha"`
	Rest     float64 `json:"rest_days"`
	Stay     float64 `json:"stay_days"`
	Eaten    float64 `json:"eaten_share" doc:"of what disappears; the longer the stay, the less"`
}

// Divide asks whether to divide the ground there is further, or to buy more. All of it is the user's own figures.
type Divide struct {
	AreaHa     float64 `json:"area_ha"`
	SeasonDays float64 `json:"season_days"`
	Now        Round   `json:"now"`
	Then       Round   `json:"then"`
	Fence      float64 `json:"fence_price" doc:"of a hectare, in the farm's money"`
	Water      float64 `json:"water_price" doc:"of a hectare"`
	Years      float64 `json:"years" doc:"that fence and water last"`
	Land       float64 `json:"land_price" doc:"of a hectare bought"`
	Tonne      float64 `json:"tonne_price" doc:"what a tonne eaten is worth"`
}

// Divided is what comes of it.
type Divided struct {
	TurnsNow, TurnsThen   float64
	TonnesNow, TonnesThen float64 // eaten, t DM/ha in a season
	Extra                 float64 // t DM a year, of all the ground
	Hectares              float64 // of land as it is now that would give as much
	Cost                  float64 // of fence and water
	LandCost              float64 // of so much land
	PerTonne              float64 // cost of an extra tonne, over the years that fence and water last
	Payback               float64 // years until it has paid for itself; +Inf: never
	Figure                working.Figure
}

func (r Round) check(at string) error {
	for _, f := range []struct {
		field       string
		v, low, top float64
		unit        quantity.Unit
	}{{"entry_kg_dm_ha", r.Entry, 300, 20000, quantity.ForageMass}, {"residual_kg_dm_ha", r.Residual, 0, 15000, quantity.ForageMass}, {"rest_days", r.Rest, 1, 730, quantity.Day}, {"stay_days", r.Stay, 0.1, 366, quantity.Day}, {"eaten_share", r.Eaten, 0.1, 1, quantity.Share}} {
		if !(f.v >= f.low && f.v <= f.top) {
			return quantity.Refuse(at+"."+f.field, f.v, "must be %s to %s", quantity.Said{Value: f.low, Unit: f.unit}, quantity.Said{Value: f.top, Unit: f.unit})
		}
	}
	if r.Residual >= r.Entry {
		return quantity.Refuse(at+".residual_kg_dm_ha", r.Residual, "must be less than they go in at")
	}
	return nil
}

// fastest is more than any sward grows day by day over a whole season, kg DM/ha. Assumption, ours.
const fastest = 150

// DivideOrBuy sets a further division against more land: a round's turns are the season's days over rest and stay, and each gives what lies between going in and coming
// out, less what is trodden. None of it is advice to borrow.
func DivideOrBuy(in Divide) (Divided, error) {
	if err := in.Now.check("now"); err != nil {
		return Divided{}, err
	}
	if err := in.Then.check("then"); err != nil {
		return Divided{}, err
	}
	if !(in.AreaHa > 0 && in.AreaHa <= 1e5) {
		return Divided{}, quantity.Refuse("area_ha", in.AreaHa, "must be above 0")
	}
	if !(in.SeasonDays >= 20 && in.SeasonDays <= 366) {
		return Divided{}, quantity.Refuse("season_days", in.SeasonDays, "must be 20 to 366 days")
	}
	if !(in.Years >= 1 && in.Years <= 60) {
		return Divided{}, quantity.Refuse("years", in.Years, "must be 1 to 60")
	}
	for field, v := range map[string]float64{"fence_price": in.Fence, "water_price": in.Water, "land_price": in.Land, "tonne_price": in.Tonne} {
		if err := CheckPrice(field, v); err != nil {
			return Divided{}, err
		}
	}
	for at, r := range map[string]Round{"now": in.Now, "then": in.Then} {
		if grows := (r.Entry - r.Residual) / r.Rest; grows > fastest {
			return Divided{}, quantity.Refuse(at+".rest_days", r.Rest, "would mean growth of %s: nothing grows so fast all season", quantity.Said{Value: grows, Unit: quantity.Growth})
		}
	}
	turns := func(r Round) float64 { return in.SeasonDays / (r.Rest + r.Stay) }
	tonnes := func(r Round) float64 { return turns(r) * (r.Entry - r.Residual) * r.Eaten / 1000 }
	out := Divided{TurnsNow: turns(in.Now), TurnsThen: turns(in.Then), TonnesNow: tonnes(in.Now), TonnesThen: tonnes(in.Then), Cost: in.AreaHa * (in.Fence + in.Water)}
	out.Extra = in.AreaHa * (out.TonnesThen - out.TonnesNow)
	out.Hectares = max(0, out.Extra/out.TonnesNow)
	out.LandCost = out.Hectares * in.Land
	out.Payback, out.PerTonne = math.Inf(1), math.Inf(1)
	if out.Extra > 0 {
		out.PerTonne = out.Cost / (out.Extra * in.Years)
		if in.Tonne > 0 {
			out.Payback = out.Cost / (out.Extra * in.Tonne)
		}
	}
	round := func(name string, r Round, turns, tonnes float64) []working.Step {
		return []working.Step{
			working.New("Turns in a season, "+name, "D ÷ ( r + s )", turns, quantity.Count, working.T("D", "days of the season", in.SeasonDays, quantity.Day), working.T("r", "rest", r.Rest, quantity.Day), working.T("s", "stay", r.Stay, quantity.Day)),
			working.New("Eaten of a hectare, "+name, "t × ( E − R ) × u", tonnes*1000, quantity.ForageMass, working.T("t", "turns", turns, quantity.Count), working.T("E", "grass going in", r.Entry, quantity.ForageMass),
				working.T("R", "grass coming out", r.Residual, quantity.ForageMass), working.T("u", "eaten of what disappears", r.Eaten, quantity.Share))}
	}
	steps := append(round("as now", in.Now, out.TurnsNow, out.TonnesNow), round("divided", in.Then, out.TurnsThen, out.TonnesThen)...)
	steps = append(steps, working.New("More eaten in a year", "A × ( e − n )", out.Extra*1000, quantity.Fodder, working.T("A", "area", in.AreaHa, quantity.Hectare),
		working.T("e", "divided", out.TonnesThen*1000, quantity.ForageMass), working.T("n", "as now", out.TonnesNow*1000, quantity.ForageMass)),
		working.New("As much land as now would be", "x ÷ n", out.Hectares, quantity.Hectare, working.T("x", "more eaten", max(0, out.Extra)*1000, quantity.Fodder), working.T("n", "a hectare as now", out.TonnesNow*1000, quantity.ForageMass)))
	out.Figure = working.Of("your own figures", steps...)
	return out, nil
}
