package grazing

import (
	"slices"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// WormsIn asks how long stock may stay, and when they may be back, for the sake of worms.
type WormsIn struct {
	Host        string  `json:"host" variant:"sheep_goats,cattle" label:"Whose worms"`
	Temperature float64 `json:"mean_temperature_c" label:"Mean of day and night"`
}

// WormsOut is both ends of the time in which eggs become larvae that infect, the longest stay, and the returns; days, nil where worms
// do not set them.
type WormsOut struct {
	Stay     *float64 `json:"longest_stay_days"`
	Earliest *float64 `json:"infective_earliest_days"`
	Typical  *float64 `json:"infective_typical_days"`
	Shortest float64  `json:"shortest_return_days"`
	LowRisk  float64  `json:"low_risk_return_days"`
}

// coldest and hottest are the mean temperatures between which there are figures, °C.
const (
	coldest = 5
	hottest = 30
)

// seasonsOf are the seasons whose days have a mean like this one, °C. Which of them it is nobody says, so the longest return counts.
func seasonsOf(mean float64) []string {
	switch {
	case mean < 8:
		return []string{"winter_mild"}
	case mean < 15:
		return []string{"spring", "autumn"}
	case mean < 25:
		return []string{"summer_warm_moist"}
	}
	return []string{"summer_hot_dry", "hot_humid"}
}

// Worms reads the table of the quickest of the main worms at a temperature, in a straight line between two of its rows; who stays shorter
// than the earliest eats nobody's larvae of this stay. The returns are those of the season, the longest where two have such days. Rough
// figures: shade, rain and dung shift them by half and more. They do not treat a sick animal.
func Worms(in WormsIn) (WormsOut, []working.Step, error) {
	if in.Temperature < coldest || in.Temperature > hottest {
		return WormsOut{}, nil, quantity.Refuse("mean_temperature_c", quantity.Said{Value: in.Temperature, Unit: quantity.Celsius},
			"there are figures between %s and %s only", quantity.Said{Value: coldest, Unit: quantity.Celsius}, quantity.Said{Value: hottest, Unit: quantity.Celsius})
	}
	host := "cattle"
	if in.Host == "sheep_goats" {
		host = "sheep"
	}
	var earliest, typical, stay []point
	out := WormsOut{}
	for _, row := range reference.Load().Parasites {
		if !slices.Contains(row.Hosts, host) {
			continue
		}
		switch {
		case row.ID == "planning_development_"+in.Host:
			for _, d := range row.Infective {
				earliest, typical = append(earliest, point{d.Temperature, d.Earliest}), append(typical, point{d.Temperature, d.Typical})
			}
		case row.Kind == "longest_stay":
			stay = append(stay, point{row.Temperature, row.Stay})
		case row.Kind == "return_interval" && slices.Contains(seasonsOf(in.Temperature), row.Season):
			out.Shortest, out.LowRisk = max(out.Shortest, row.Shortest), max(out.LowRisk, row.LowRisk)
		}
	}
	out.Earliest, out.Typical, out.Stay = between(earliest, in.Temperature), between(typical, in.Temperature), between(stay, in.Temperature)
	t := working.T("t", "mean of day and night", in.Temperature, quantity.Celsius)
	var steps []working.Step
	for _, s := range []struct {
		label string
		days  *float64
	}{{"First eggs infect, at the earliest", out.Earliest}, {"The bulk of them", out.Typical}, {"Longest stay, all animals out before", out.Stay}} {
		if s.days != nil {
			steps = append(steps, working.New(s.label, "table at t", *s.days, quantity.Day, t))
		}
	}
	steps = append(steps,
		working.New("Back not before, where larvae are clearly fewer", "table of the season at t", out.Shortest, quantity.Day, t),
		working.New("Low risk for young stock from", "table of the season at t", out.LowRisk, quantity.Day, t))
	return out, steps, nil
}

type point struct {
	at   float64
	days *float64
}

// between reads a table in a straight line; nil where one of the two rows has no figure.
func between(table []point, at float64) *float64 {
	slices.SortFunc(table, func(a, b point) int { return int(a.at - b.at) })
	for i, p := range table {
		if p.at == at {
			return p.days
		}
		if i+1 < len(table) && at < table[i+1].at && at > p.at {
			next := table[i+1]
			if p.days == nil || next.days == nil {
				return nil
			}
			return ptr(*p.days + (*next.days-*p.days)*(at-p.at)/(next.at-p.at))
		}
	}
	return nil
}
