package forage

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Spot is one place read with two meters, kg DM/ha, and clipped where somebody did.
type Spot struct {
	First  float64  `json:"first"`
	Second float64  `json:"second"`
	Clip   *float64 `json:"clip_kg_dm_ha,omitempty"`
}

// Trust tells which of two meters agrees with clips.
type Trust struct {
	Compare     CompareOut `json:"compare"`
	Clips       int        `json:"clips"`
	FirstError  float64    `json:"first_error_kg_dm_ha"`  // root mean square against the clips
	SecondError float64    `json:"second_error_kg_dm_ha"` // the same of the second
	Side        int        `json:"side"`                  // 1 or 2; 0: cannot be told
	Sentence    string     `json:"sentence"`
}

// leastClips is how many clips it takes to side with a meter.
const leastClips = 4

// TrustOf compares two meters and, against clips on the same spots, says which to trust: the one whose root mean
// square error against the clips is at least a fifth smaller, over at least four clips.
func TrustOf(spots []Spot) (Trust, []working.Step, error) {
	var pairs []MeterPair
	var out Trust
	one, two := 0.0, 0.0
	for _, s := range spots {
		pairs = append(pairs, MeterPair{s.First, s.Second})
		if s.Clip != nil {
			out.Clips++
			one += math.Pow(s.First-*s.Clip, 2)
			two += math.Pow(s.Second-*s.Clip, 2)
		}
	}
	compare, steps, err := Compare(CompareIn{pairs})
	if err != nil {
		return out, nil, err
	}
	out.Compare = compare
	if out.Clips < leastClips {
		out.Sentence = "Clip at least four of the spots: without clips nobody can say which meter is right. Until then plan with the lower one."
		return out, steps, nil
	}
	n := float64(out.Clips)
	out.FirstError, out.SecondError = math.Sqrt(one/n), math.Sqrt(two/n)
	steps = append(steps,
		working.New("Error of the first against clips", "√ ( Σd² ÷ n )", out.FirstError, quantity.ForageMass, working.T("n", "clips", n, quantity.Count)),
		working.New("Error of the second against clips", "√ ( Σd² ÷ n )", out.SecondError, quantity.ForageMass, working.T("n", "clips", n, quantity.Count)))
	switch {
	case out.FirstError < 0.8*out.SecondError:
		out.Side, out.Sentence = 1, "The clips side with the first: trust it, and calibrate the second anew."
	case out.SecondError < 0.8*out.FirstError:
		out.Side, out.Sentence = 2, "The clips side with the second: trust it, and calibrate the first anew."
	default:
		out.Sentence = "Against the clips they do equally well: keep either, and keep to it."
	}
	return out, steps, nil
}

// HandIn is a height measured by fists stacked in the sward, beside what meters said of the same ground.
type HandIn struct {
	Fists     float64
	CmPerFist float64
	PerCm     float64 // mass per cm above the stop height
	Stop      float64 // cm
	Residual  float64 // kg DM/ha at the stop height
	Meters    map[string]float64
}

// HandOut is the mass a hand finds and the meter it sides with.
type HandOut struct {
	Mass     float64 `json:"forage_mass_kg_dm_ha"`
	Sides    string  `json:"sides_with"`
	Off      float64 `json:"off"` // share by which that meter lies above the hand
	Sentence string  `json:"sentence"`
}

// Hand is one-sided: its slips all read high, and the sentence says so. It is a check of sanity, not a measurement: fists times their width is a height where the leaves push back, which
// comes to a mass as a stick's does. It sides with the meter that lies nearest, if one lies within a third.
func Hand(in HandIn) (HandOut, error) {
	if in.Fists <= 0 || in.CmPerFist <= 0 {
		return HandOut{}, quantity.Refuse("fists", in.Fists, "count the fists from the ground to where the leaves push back")
	}
	out := HandOut{Mass: HeightMass(in.Fists*in.CmPerFist, in.Stop, in.Residual, in.PerCm)}
	best := math.Inf(1)
	for _, name := range sortedNames(in.Meters) {
		if off := in.Meters[name]/out.Mass - 1; math.Abs(off) < math.Abs(best) {
			best, out.Sides = off, name
		}
	}
	out.Off = best
	switch {
	case out.Sides == "":
		out.Off, out.Sentence = 0, "The hand stands alone here."
	case math.Abs(best) > 1.0/3:
		out.Sides, out.Sentence = "", "The hand agrees with none of them: look at the ground again before you believe a figure."
	default:
		out.Sentence = "The hand agrees with the " + out.Sides + "."
	}
	out.Sentence += " When a hand errs it reads high, since it takes the tallest leaf: there is rather less than that."
	return out, nil
}

// HeightMass is total mass from a height where the leaves push back, kg DM/ha: what stands at the stop height and so
// much a cm above it. Below the stop height the stubble is taken in proportion.
func HeightMass(height, stop, residual, perCm float64) float64 {
	if height < stop {
		return residual * height / stop
	}
	return residual + (height-stop)*perCm
}
