// Package forage turns what is measured in the sward into forage mass, and says how the sward grows.
package forage

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Method is a way of measuring forage. Heights of different methods never meet in one mean.
type Method string

// The methods of a walk.
const (
	Plate        Method = "plate"         // compressed height, cm
	PlateCounter Method = "plate_counter" // first and last counter and the drops between
	Stick        Method = "stick"         // height where the leaves push back, and cover
	Clip         Method = "clip"          // cut, weighed, dried
	Plain        Method = "plain"         // a figure already in kg DM/ha, from elsewhere
	Eye          Method = "eye"           // what a walker judges to stand, kg DM/ha
)

// MassIn asks for forage mass by one method; which fields count depends on the method.
type MassIn struct {
	Method    Method   `json:"method" variant:"plate,plate_counter,stick,clip"`
	Slope     *float64 `json:"slope_kg_per_cm,omitempty" for:"plate,plate_counter"`
	Intercept *float64 `json:"intercept_kg,omitempty" for:"plate,plate_counter"`
	Height    *float64 `json:"height_cm,omitempty" for:"plate,stick"`
	First     *float64 `json:"first,omitempty" for:"plate_counter" label:"First counter"`
	Last      *float64 `json:"last,omitempty" for:"plate_counter"`
	Drops     *float64 `json:"drops,omitempty" for:"plate_counter"`
	CmPer     *float64 `json:"cm_per_count,omitempty" for:"plate_counter"`
	Stop      *float64 `json:"stop_height_cm,omitempty" for:"stick"`
	Residual  *float64 `json:"residual_kg_dm_ha,omitempty" for:"stick"`
	PerCm     *float64 `json:"mass_per_cm,omitempty" for:"stick"`
	Wet       *float64 `json:"wet_g,omitempty" for:"clip"`
	DryShare  *float64 `json:"dry_matter_share,omitempty" for:"clip"`
	Quadrat   *float64 `json:"quadrat_m2,omitempty" for:"clip"`
}

// MassOut is forage mass above ground.
type MassOut struct {
	Mass float64 `json:"forage_mass_kg_dm_ha"`
}

// Mass computes total forage mass, kg DM/ha: plate slope · cm + intercept; stick residual + (height − stop) · mass
// per cm; clip grams / m² · dry share · 10. Fields of the method must be present.
func Mass(in MassIn) (MassOut, []working.Step, error) {
	var m float64
	var steps []working.Step
	plate := func(cm float64) {
		m = *in.Slope*cm + *in.Intercept
		steps = append(steps, working.New("Forage mass", "s × h + i", m, quantity.ForageMass,
			working.T("s", "plate slope", *in.Slope, quantity.MassPerHeight), working.T("h", "compressed height", cm, quantity.Centimetre),
			working.T("i", "intercept", *in.Intercept, quantity.ForageMass)))
	}
	switch in.Method {
	case Plate:
		plate(*in.Height)
	case PlateCounter:
		if *in.Last < *in.First {
			return MassOut{}, nil, quantity.Refuse("last", *in.Last, "the last counter is below the first, %g", *in.First)
		}
		cm := (*in.Last - *in.First) / *in.Drops * *in.CmPer
		steps = append(steps, working.New("Mean compressed height", "( c₂ − c₁ ) ÷ n × k", cm, quantity.Centimetre,
			working.T("c₂", "last counter", *in.Last, quantity.None), working.T("c₁", "first counter", *in.First, quantity.None),
			working.T("n", "drops", *in.Drops, quantity.Count), working.T("k", "travel a count", *in.CmPer, quantity.CmPerCount)))
		plate(cm)
	case Stick:
		grazeable := math.Max(0, *in.Height-*in.Stop) * *in.PerCm
		m = *in.Residual + grazeable
		steps = append(steps,
			working.New("Grazeable, above the stop height", "( h − stop ) × c", grazeable, quantity.ForageMass,
				working.T("h", "height", *in.Height, quantity.Centimetre), working.T("stop", "stop height", *in.Stop, quantity.Centimetre),
				working.T("c", "mass per cm", *in.PerCm, quantity.MassPerHeight)),
			working.New("Forage mass", "R + g", m, quantity.ForageMass,
				working.T("R", "residual", *in.Residual, quantity.ForageMass), working.T("g", "grazeable", grazeable, quantity.ForageMass)))
	case Clip:
		m = *in.Wet / *in.Quadrat * *in.DryShare * 10
		steps = append(steps, working.New("Forage mass", "g ÷ q × d × 10", m, quantity.ForageMass,
			working.T("g", "fresh weight", *in.Wet, quantity.Gram), working.T("q", "frame", *in.Quadrat, quantity.SquareMetre),
			working.T("d", "dry-matter share", *in.DryShare, quantity.Share)))
	default:
		return MassOut{}, nil, quantity.Refuse("method", string(in.Method), "must be plate, plate_counter, stick or clip")
	}
	if m < 0 {
		return MassOut{}, nil, quantity.Refuse("height_cm", in.Height, "this calibration gives a mass below zero at that height")
	}
	return MassOut{m}, steps, nil
}

// CoverIn counts the marks of a stick laid in the sward.
type CoverIn struct {
	Marks float64 `json:"marks"`
	Open  float64 `json:"open_marks"`
}

// CoverOut is canopy cover, 0…1.
type CoverOut struct {
	Cover float64 `json:"canopy_cover"`
}

// Cover is the share of marks at least a quarter covered.
func Cover(in CoverIn) (CoverOut, []working.Step, error) {
	if in.Open > in.Marks {
		return CoverOut{}, nil, quantity.Refuse("open_marks", in.Open, "there are only %g marks", in.Marks)
	}
	c := (in.Marks - in.Open) / in.Marks
	return CoverOut{c}, []working.Step{working.New("Canopy cover", "( N − o ) ÷ N", c, quantity.Share,
		working.T("N", "marks", in.Marks, quantity.Count), working.T("o", "open marks", in.Open, quantity.Count))}, nil
}
