package land

import (
	"fmt"
	"math"
)

// Bed is a paddock as ground that is weighed: Weight a hectare at a growth factor.
type Bed struct {
	Region Region
	AreaHa float64
	Weight float64
	Factor float64
}

// Patch is ground that grows by a factor of its own, whatever bed it lies in.
type Patch struct {
	Name   string
	Region Region
	Factor float64
}

// Weigh lays weights over ground so that they can be shared out: each bed by its own, patches in it by their factor against
// the bed's, and ground that no bed covers by the mean of the beds. The first zone is all the ground; the others add to it
// or take from it.
func Weigh(ground Region, beds []Bed, patches []Patch) ([]Zone, error) {
	area, sum := 0.0, 0.0
	for _, b := range beds {
		area += b.AreaHa
		sum += b.AreaHa * b.Weight
	}
	if area == 0 {
		return nil, nothingThere()
	}
	mean := sum / area
	zones := []Zone{{ground, mean}}
	for _, b := range beds {
		zones = append(zones, Zone{b.Region, b.Weight - mean})
		for _, p := range patches {
			common, err := Common(b.Region, p.Region)
			if err != nil {
				return nil, fmt.Errorf("zone %s: %w", p.Name, err)
			}
			if len(common) > 0 {
				zones = append(zones, Zone{common, b.Weight * (p.Factor/b.Factor - 1)})
			}
		}
	}
	return zones, nil
}

// Carried is the weight of a part of weighed ground.
func Carried(part Region, zones []Zone) (float64, error) {
	if len(zones) == 0 {
		return 0, nil
	}
	sum := part.AreaHa() * zones[0].Weight // the first covers all the ground
	for _, z := range zones[1:] {
		if z.Weight == 0 {
			continue
		}
		common, err := OverlapHa(part, z.Region)
		if err != nil {
			return 0, err
		}
		sum += common * z.Weight
	}
	return math.Max(0, sum), nil
}
