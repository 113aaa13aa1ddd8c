package forage

import (
	"fmt"
	"math"
	"sort"

	"fjell/core/quantity"
	"fjell/core/working"
)

// ZoneSample is the masses read in one zone of a paddock and the share of the paddock's ground it is.
type ZoneSample struct {
	Name   string
	Share  float64 // of the paddock's ground
	Masses []float64
}

// ByZone is the mean over zones, each by its share of the ground, with the standard error of that mean; nil when a
// zone has a single reading. freedom are its degrees of freedom after Satterthwaite, (Σ v)² ÷ Σ v² ÷ (n − 1) with v the part of
// the variance that each zone brings. Zones without readings leave their share to the others, and are named.
func ByZone(zones []ZoneSample) (mean float64, se *float64, freedom float64, steps []working.Step, missing []string, err error) {
	total := 0.0
	for _, z := range zones {
		if len(z.Masses) > 0 {
			total += z.Share
		} else {
			missing = append(missing, z.Name)
		}
	}
	if total <= 0 {
		return 0, nil, 0, nil, missing, quantity.Refuse("readings", 0, "no zone of this paddock has a reading")
	}
	variance, spread, most, known := 0.0, 0.0, 0.0, true
	var terms []working.Term
	for _, z := range zones {
		if len(z.Masses) == 0 {
			continue
		}
		s, _, err := Sample(SampleIn{z.Masses})
		if err != nil {
			return 0, nil, 0, nil, missing, err
		}
		w := z.Share / total
		mean += w * s.Mean
		terms = append(terms, working.T(z.Name, "mean there, on "+percent(w)+" of the ground", s.Mean, quantity.ForageMass))
		if s.SE == nil {
			known = false
			continue
		}
		v := w * w * *s.SE * *s.SE
		variance += v
		spread += v * v / s.Freedom
		most += s.Freedom
	}
	if known {
		v := math.Sqrt(variance)
		se, freedom = &v, most
		if spread > 0 {
			freedom = variance * variance / spread
		}
	}
	steps = []working.Step{working.New("Mean over the zones, by their ground", "Σ ( share × mean )", mean, quantity.ForageMass, terms...)}
	return mean, se, freedom, steps, missing, nil
}

func percent(share float64) string {
	return fmt.Sprintf("%.0f %%", share*100)
}

func sortedNames(m map[string]float64) []string {
	names := make([]string, 0, len(m))
	for n := range m {
		names = append(names, n)
	}
	sort.Strings(names)
	return names
}
