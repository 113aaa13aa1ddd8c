package nutrient

import (
	"fjell/core/quantity"
	"fjell/core/working"
)

// Litres in a gallon, and hectares in an acre: a gallon is named, or it is no figure.
const (
	usGallon       = 3.785411784
	imperialGallon = 4.54609
	acre           = 0.40468564224
)

// Rates are the ways in which a rate of slurry is said, by what is one of them in m³/ha (t/ha of solid manure, counted as m³).
var Rates = map[string]float64{"m3_ha": 1, "us_gal_ac": usGallon / 1000 / acre, "imp_gal_ac": imperialGallon / 1000 / acre}

// available is the share of its nitrogen that a crop gets in the year, by when it is spread. Assumptions, ours, for a splash plate; what is injected or trailed loses less.
var available = map[string]float64{"spring": 0.45, "summer": 0.3, "autumn": 0.15}

// Manure is slurry, or dirty water, that is spread. What a m³ holds is the user's own: a sample, or a meter.
type Manure struct {
	Rate   float64 `json:"rate"`
	Unit   string  `json:"unit" enum:"m3_ha,us_gal_ac,imp_gal_ac"`
	Season string  `json:"season" enum:"spring,summer,autumn"`
	N      float64 `json:"nitrogen_kg_m3"`
	P      float64 `json:"phosphorus_kg_m3"`
	K      float64 `json:"potassium_kg_m3"`
}

// Credit is what manure is worth in the year, kg/ha.
type Credit struct {
	Cubic   float64 // m³/ha
	N, P, K float64
	Figure  working.Figure
}

// Credits counts manure as the fertiliser it is.
func (m Manure) Credits() (Credit, error) {
	cubic, known := Rates[m.Unit]
	share, when := available[m.Season]
	switch {
	case !known:
		return Credit{}, quantity.Refuse("unit", m.Unit, "must be m3_ha, us_gal_ac or imp_gal_ac: a gallon of one is five parts of six of the other's")
	case !when:
		return Credit{}, quantity.Refuse("season", m.Season, "must be spring, summer or autumn")
	case !(m.Rate > 0 && m.Rate*cubic <= 200):
		return Credit{}, quantity.Refuse("rate", m.Rate, "must be above 0, and no more than 200 m³ a hectare")
	}
	for field, v := range map[string]float64{"nitrogen_kg_m3": m.N, "phosphorus_kg_m3": m.P, "potassium_kg_m3": m.K} {
		if !(v >= 0 && v <= 20) {
			return Credit{}, quantity.Refuse(field, v, "must be 0 to %s: have a sample looked at", quantity.Said{Value: 20, Unit: quantity.KgPerCubic})
		}
	}
	out := Credit{Cubic: m.Rate * cubic}
	out.N, out.P, out.K = out.Cubic*m.N*share, out.Cubic*m.P, out.Cubic*m.K
	kg := func(symbol, label string, v float64) working.Term { return working.T(symbol, label, v, quantity.None) }
	out.Figure = working.Of("what a m³ holds is your own figure; of its nitrogen a crop gets the less the later it is spread",
		working.New("Spread, m³ a hectare", "r × g", out.Cubic, quantity.None, kg("r", "rate as said", m.Rate), kg("g", "one of them in m³/ha", cubic)),
		working.New("Nitrogen that counts, kg a hectare", "m × n × a", out.N, quantity.None, kg("n", "kg in a m³", m.N), working.T("a", "that a crop gets of it", share, quantity.Share)),
		working.New("Phosphorus, kg a hectare", "m × p", out.P, quantity.None, kg("p", "kg in a m³", m.P)),
		working.New("Potassium, kg a hectare", "m × k", out.K, quantity.None, kg("k", "kg in a m³", m.K)))
	return out, nil
}

// What leaves a hectare of grass, kg: with each tonne of dry matter that is carried home, and with a year's grazing, of which nearly all comes back as dung. Assumptions, ours,
// of common tables.
const (
	cutP, cutK     = 3.0, 21.0
	grazeP, grazeK = 4.0, 6.0
)

// What a kg of dry matter of middling grass hay holds, kg, of which stock leave nearly all where they eat it. Assumptions, ours: have your own tested.
const (
	hayN, hayP, hayK = 0.018, 0.0025, 0.018
	leftThere        = 0.85
)

// Hay is what hay that is fed on ground leaves there, kg of nitrogen, phosphorus and potassium, of so many kg DM.
func Hay(kg float64) (n, p, k float64) {
	kg *= leftThere
	return kg * hayN, kg * hayP, kg * hayK
}

// CarriedOff is what leaves ground with a cut, kg of phosphorus and potassium, of so many kg DM.
func CarriedOff(kg float64) (p, k float64) { return kg / 1000 * cutP, kg / 1000 * cutK }

// Soil is a soil test in the lab's own words: is there too little, enough, or plenty?
type Soil struct {
	P     string  `json:"phosphorus" enum:"low,right,high"`
	K     string  `json:"potassium" enum:"low,right,high"`
	Cut   float64 `json:"cut_t_ha" doc:"t DM that are carried home in the year"`
	UpP   float64 `json:"build_phosphorus_kg_ha" doc:"what the lab says to add in a year where there is too little"`
	UpK   float64 `json:"build_potassium_kg_ha"`
	Given Credit  `json:"-"`
}

// Wants is the phosphorus and potassium that a hectare wants in a year, kg: what leaves it, more where the test is low, and none where it is high.
func (s Soil) Wants() (p, k float64, err error) {
	if !(s.Cut >= 0 && s.Cut <= 25) {
		return 0, 0, quantity.Refuse("cut_t_ha", s.Cut, "must be 0 to %s", quantity.Said{Value: 25, Unit: quantity.TonnePerHa})
	}
	of := func(field, is string, leaves, up, given float64) (float64, error) {
		if !(up >= 0 && up <= 200) {
			return 0, quantity.Refuse("build_"+field+"_kg_ha", up, "must be 0 to %s", quantity.Said{Value: 200, Unit: quantity.ForageMass})
		}
		switch is {
		case "low":
			return max(0, leaves+up-given), nil
		case "right":
			return max(0, leaves-given), nil
		case "high":
			return 0, nil
		}
		return 0, quantity.Refuse(field, is, "must be low, right or high, as the lab says")
	}
	if p, err = of("phosphorus", s.P, grazeP+cutP*s.Cut, s.UpP, s.Given.P); err != nil {
		return 0, 0, err
	}
	k, err = of("potassium", s.K, grazeK+cutK*s.Cut, s.UpK, s.Given.K)
	return p, k, err
}
