// Package quantity holds the units Fjell speaks and how one becomes another.
//
// Everything inside Fjell is metric; a farm that thinks in pounds and acres is served by converting at the
// moment of showing and of reading. Switching systems therefore never changes a stored figure.
package quantity

import (
	"fmt"
	"sort"
)

// Unit names what a number counts. Its text is the key used in JSON.
type Unit string

// The units of Fjell. Each comment gives the metric meaning in which core computes.
const (
	None           Unit = ""                 // a bare number or a word
	Share          Unit = "share"            // 0…1, shown as a percentage
	Head           Unit = "head"             // animals
	Count          Unit = "count"            // things counted: readings, drops, paddocks
	Kilogram       Unit = "kg"               // kg live weight or kg dry matter
	Fodder         Unit = "kg_fodder"        // kg dry matter by the load, shown by the tonne (the short ton of 2 000 lb)
	Gram           Unit = "g"                // g fresh weight
	Hectare        Unit = "ha"               // ha
	SquareMetre    Unit = "m2"               // m²
	Metre          Unit = "m"                // m along the ground
	Centimetre     Unit = "cm"               // cm of sward
	Day            Unit = "day"              // days
	Celsius        Unit = "c"                // °C
	DegreeDay      Unit = "degree_day"       // °C · days
	ForageMass     Unit = "kg_ha"            // kg dry matter per ha
	Growth         Unit = "kg_ha_day"        // kg dry matter per ha and day
	Demand         Unit = "kg_day"           // kg dry matter per day
	Intake         Unit = "kg_head_day"      // kg dry matter per head and day
	MassPerHeight  Unit = "kg_ha_cm"         // kg dry matter per ha and cm of height
	HeadPerHectare Unit = "head_ha"          // head per ha
	AUPerHectare   Unit = "au_ha"            // animal units of 454 kg per ha
	Density        Unit = "live_kg_ha"       // kg live weight per ha
	HectarePerDay  Unit = "ha_day"           // ha per day
	CmPerCount     Unit = "cm_count"         // cm of plate travel per count
	Litre          Unit = "l"                // litres
	Kilovolt       Unit = "kv"               // kV of a fence
	Ratio          Unit = "ratio"            // one figure over another of its kind
	DegreeDayLeaf  Unit = "degree_day_leaf"  // °C · days per leaf
	Leaf           Unit = "leaf"             // leaves
	AnimalUnits    Unit = "au"               // animal units of 454 kg
	LivestockUnits Unit = "lu"               // livestock units
	Millimetre     Unit = "mm"               // mm of rain or of water in the soil
	Hour           Unit = "hour"             // hours
	DailyGain      Unit = "kg_head_day_gain" // kg live weight per head and day
	HectarePerAU   Unit = "ha_au"            // ha to each animal unit of 454 kg
	AUMonths       Unit = "aum"              // animal units for a month
	AUMonthsPerHa  Unit = "aum_ha"           // animal unit months per ha
	Tonne          Unit = "t"                // tonnes as they are delivered
	TonnePerHa     Unit = "t_ha"             // tonnes of dry matter per ha
	LitrePerMinute Unit = "l_min"            // litres per minute
	KgPerCubic     Unit = "kg_m3"            // kg in a cubic metre of slurry
	PerHectare     Unit = "per_ha"           // of the farm's money, per ha
	PerTonne       Unit = "per_t"            // of the farm's money, per tonne
)

// System is the set of units a farm reads and writes.
type System string

// The two systems a farm chooses from.
const (
	Metric   System = "metric"
	Imperial System = "imperial"
)

// Scale says how a unit is shown: shown = (stored · Factor) + Offset, in Symbol, with so many Decimals.
type Scale struct {
	Symbol   string  `json:"symbol"`
	Factor   float64 `json:"factor"`
	Offset   float64 `json:"offset"`
	Decimals int     `json:"decimals"`
}

// Exact definitions: the international pound, foot and inch; the acre of 43 560 square feet.
const (
	poundsPerKilogram = 1 / 0.45359237
	acresPerHectare   = 10000 / 4046.8564224
	feetPerMetre      = 1 / 0.3048
	inchesPerCm       = 1 / 2.54
	gallonsPerLitre   = 1 / 3.785411784 // of the United States
	tonsPerTonne      = 1000 * poundsPerKilogram / 2000
)

func same(symbol string, decimals int) [2]Scale {
	s := Scale{symbol, 1, 0, decimals}
	return [2]Scale{s, s}
}

func both(metric string, md int, imperial string, factor float64, id int) [2]Scale {
	return [2]Scale{{metric, 1, 0, md}, {imperial, factor, 0, id}}
}

var scales = map[Unit][2]Scale{
	None:           same("", 2),
	Share:          {{"%", 100, 0, 0}, {"%", 100, 0, 0}},
	Head:           same("head", 0),
	Count:          same("", 0),
	Kilogram:       both("kg", 0, "lb", poundsPerKilogram, 0),
	Fodder:         {{"t", 0.001, 0, 1}, {"tons", tonsPerTonne / 1000, 0, 1}},
	Gram:           same("g", 0),
	Hectare:        both("ha", 2, "ac", acresPerHectare, 2),
	SquareMetre:    both("m²", 2, "ft²", feetPerMetre*feetPerMetre, 1),
	Metre:          both("m", 0, "ft", feetPerMetre, 0),
	Centimetre:     both("cm", 1, "in", inchesPerCm, 1),
	Day:            same("days", 1),
	Celsius:        {{"°C", 1, 0, 1}, {"°F", 1.8, 32, 0}},
	DegreeDay:      both("°C days", 0, "°F days", 1.8, 0),
	ForageMass:     both("kg/ha", 0, "lb/ac", poundsPerKilogram/acresPerHectare, 0),
	Growth:         both("kg/ha/day", 0, "lb/ac/day", poundsPerKilogram/acresPerHectare, 0),
	Demand:         both("kg/day", 0, "lb/day", poundsPerKilogram, 0),
	Intake:         both("kg/head/day", 1, "lb/head/day", poundsPerKilogram, 1),
	MassPerHeight:  both("kg/ha per cm", 0, "lb/ac per in", poundsPerKilogram/acresPerHectare*2.54, 0),
	HeadPerHectare: both("head/ha", 2, "head/ac", 1/acresPerHectare, 2),
	AUPerHectare:   both("AU/ha", 2, "AU/ac", 1/acresPerHectare, 2),
	Density:        both("kg live/ha", 0, "lb live/ac", poundsPerKilogram/acresPerHectare, 0),
	HectarePerDay:  both("ha/day", 2, "ac/day", acresPerHectare, 2),
	CmPerCount:     both("cm/count", 2, "in/count", inchesPerCm, 2),
	Litre:          both("l", 0, "gal", gallonsPerLitre, 0),
	Kilovolt:       same("kV", 1),
	Ratio:          same("×", 2),
	DegreeDayLeaf:  both("°C days/leaf", 0, "°F days/leaf", 1.8, 0),
	Leaf:           same("leaves", 1),
	AnimalUnits:    same("AU", 1),
	LivestockUnits: same("LU", 1),
	Millimetre:     both("mm", 1, "in", 1/25.4, 2),
	Hour:           same("h", 1),
	DailyGain:      both("kg/day", 2, "lb/day", poundsPerKilogram, 2),
	HectarePerAU:   both("ha/AU", 1, "ac/AU", acresPerHectare, 1),
	AUMonths:       same("AUM", 0),
	AUMonthsPerHa:  both("AUM/ha", 2, "AUM/ac", 1/acresPerHectare, 2),
	Tonne:          both("t", 1, "tons", tonsPerTonne, 1),
	TonnePerHa:     both("t/ha", 1, "tons/ac", tonsPerTonne/acresPerHectare, 1),
	LitrePerMinute: both("l/min", 1, "gal/min", gallonsPerLitre, 1),
	KgPerCubic:     both("kg/m³", 1, "lb/1000 US gal", poundsPerKilogram/gallonsPerLitre, 1),
	PerHectare:     both("/ha", 0, "/ac", 1/acresPerHectare, 0),
	PerTonne:       both("/t", 0, "/ton", 1/tonsPerTonne, 0),
}

// ScaleOf returns how a unit is shown in a system. A unit without a scale is an error of the program's own.
func ScaleOf(u Unit, s System) (Scale, error) {
	pair, ok := scales[u]
	if !ok {
		return Scale{}, fmt.Errorf("unit %q has no scale", u)
	}
	if s == Imperial {
		return pair[1], nil
	}
	return pair[0], nil
}

// Show converts a stored figure to the number a person reads.
func (s Scale) Show(stored float64) float64 { return stored*s.Factor + s.Offset }

// Store converts a number a person wrote to the figure Fjell keeps.
func (s Scale) Store(shown float64) float64 { return (shown - s.Offset) / s.Factor }

// Table is one unit in both systems: the rows from which the web app's converter is generated.
type Table struct {
	Unit     Unit  `json:"unit"`
	Metric   Scale `json:"metric"`
	Imperial Scale `json:"imperial"`
}

// Tables lists every unit in a stable order.
func Tables() []Table {
	out := make([]Table, 0, len(scales))
	for u, pair := range scales {
		out = append(out, Table{u, pair[0], pair[1]})
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Unit < out[j].Unit })
	return out
}
