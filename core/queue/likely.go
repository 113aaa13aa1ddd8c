package queue

import "math"

// Grown is growth that was measured between two walks, kg DM/ha/day, with its 95 % half-width.
type Grown struct{ Rate, Half float64 }

// fewest is how many stretches between walks tell what a week is likely to grow. Assumption, ours.
const fewest = 3

// Likely is what a week is likely to grow, kg DM/ha/day, by what grew in weeks like it: from the least to the most, each by its half-width less sure, and never
// below nothing. Not ok where too few were measured.
func Likely(grown []Grown) (low, high float64, ok bool) {
	if len(grown) < fewest {
		return 0, 0, false
	}
	low, high = math.Inf(1), math.Inf(-1)
	for _, g := range grown {
		low, high = min(low, g.Rate-g.Half/2), max(high, g.Rate+g.Half/2)
	}
	return max(0, low), max(0, high), true
}

// strays is how far growth of a week strays from its curve, as a share. Assumption, ours.
const strays = 0.35

// LikelyBy is what a week is likely to grow by a rate that its curves expect, kg DM/ha/day.
func LikelyBy(rate float64) (low, high float64) { return rate * (1 - strays), rate * (1 + strays) }

// AreaOf is the area of some ground, ha.
func (c Case) AreaOf(ground []bool) (area float64) {
	for p, on := range ground {
		if on {
			area += c.Farm.Paddocks[p].AreaHa
		}
	}
	return area
}
