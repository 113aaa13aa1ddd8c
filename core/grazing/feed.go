// Package grazing reckons feed, stays, areas, strips, head, rest and use, and holds the schools' rules.
package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// FeedMethod is the one way by which feed is counted. A school picks one; stacking two counts a deduction twice.
type FeedMethod string

// The five methods.
const (
	ToResidual        FeedMethod = "residual"
	ToStopHeight      FeedMethod = "stop_height"
	LeaveShare        FeedMethod = "leave_share"
	HarvestEfficiency FeedMethod = "harvest_efficiency"
	TopPart           FeedMethod = "top_part"
)

// FeedIn asks for the feed of a paddock; which fields count depends on the method.
type FeedIn struct {
	Method     FeedMethod `json:"method" variant:"residual,stop_height,leave_share,harvest_efficiency,top_part"`
	Mass       *float64   `json:"forage_mass_kg_dm_ha,omitempty" for:"residual,leave_share,harvest_efficiency,top_part"`
	Residual   *float64   `json:"residual_kg_dm_ha,omitempty" for:"residual"`
	Height     *float64   `json:"height_cm,omitempty" for:"stop_height"`
	Stop       *float64   `json:"stop_height_cm,omitempty" for:"stop_height"`
	PerCm      *float64   `json:"mass_per_cm,omitempty" for:"stop_height"`
	U          *float64   `json:"utilisation,omitempty" for:"residual,stop_height"`
	Removed    *float64   `json:"removed_share,omitempty" for:"leave_share"`
	Eaten      *float64   `json:"eaten_share,omitempty" for:"leave_share,top_part"`
	Efficiency *float64   `json:"harvest_efficiency,omitempty" for:"harvest_efficiency"`
	Top        *float64   `json:"top_share,omitempty" for:"top_part"`
	Exponent   *float64   `json:"height_weight_exponent,omitempty" for:"top_part"`
	AreaHa     float64    `json:"area_ha"`
}

// FeedOut is what stock can swallow, per hectare and in the paddock.
type FeedOut struct {
	PerHa float64 `json:"feed_kg_dm_ha"`
	Feed  float64 `json:"feed_kg_dm"`
}

// Feed computes feed by the method named; the method's fields must be present. Feed never goes below zero.
func Feed(in FeedIn) (FeedOut, []working.Step, error) {
	var perHa float64
	var steps []working.Step
	switch in.Method {
	case ToResidual:
		above := math.Max(0, *in.Mass-*in.Residual)
		perHa = above * *in.U
		steps = append(steps,
			working.New("Above the residual", "M − R", above, quantity.ForageMass, working.T("M", "forage mass", *in.Mass, quantity.ForageMass),
				working.T("R", "residual", *in.Residual, quantity.ForageMass)),
			working.New("Eaten, of what disappears", "a × u", perHa, quantity.ForageMass, working.T("a", "above the residual", above, quantity.ForageMass),
				working.T("u", "eaten of what disappears", *in.U, quantity.Share)))
	case ToStopHeight:
		above := math.Max(0, *in.Height-*in.Stop)
		perHa = above * *in.PerCm * *in.U
		steps = append(steps,
			working.New("Above the stop height", "h − stop", above, quantity.Centimetre, working.T("h", "height", *in.Height, quantity.Centimetre),
				working.T("stop", "stop height", *in.Stop, quantity.Centimetre)),
			working.New("Eaten, of what disappears", "a × c × u", perHa, quantity.ForageMass, working.T("a", "above the stop", above, quantity.Centimetre),
				working.T("c", "mass per cm", *in.PerCm, quantity.MassPerHeight), working.T("u", "eaten of what disappears", *in.U, quantity.Share)))
	case LeaveShare:
		perHa = *in.Mass * *in.Removed * *in.Eaten
		steps = append(steps, working.New("Removed, and eaten of that", "M × f × e", perHa, quantity.ForageMass,
			working.T("M", "forage mass", *in.Mass, quantity.ForageMass), working.T("f", "removed, of what stands", *in.Removed, quantity.Share),
			working.T("e", "eaten, of what is removed", *in.Eaten, quantity.Share)))
	case HarvestEfficiency:
		perHa = *in.Mass * *in.Efficiency
		steps = append(steps, working.New("Harvested, of what stands", "M × H", perHa, quantity.ForageMass,
			working.T("M", "forage mass", *in.Mass, quantity.ForageMass), working.T("H", "harvest efficiency", *in.Efficiency, quantity.Share)))
	case TopPart:
		share := math.Pow(*in.Top, *in.Exponent)
		perHa = *in.Mass * share * *in.Eaten
		steps = append(steps,
			working.New("Weight in the top part", "x ^ k", share, quantity.Share, working.T("x", "top share of the height", *in.Top, quantity.Share),
				working.T("k", "growth form", *in.Exponent, quantity.None)),
			working.New("Removed, and eaten of that", "M × w × e", perHa, quantity.ForageMass, working.T("M", "forage mass", *in.Mass, quantity.ForageMass),
				working.T("w", "weight in the top part", share, quantity.Share), working.T("e", "eaten, of what is removed", *in.Eaten, quantity.Share)))
	default:
		return FeedOut{}, nil, quantity.Refuse("method", string(in.Method),
			"must be residual, stop_height, leave_share, harvest_efficiency or top_part")
	}
	total := perHa * in.AreaHa
	return FeedOut{perHa, total}, append(steps, working.New("Feed in the paddock", "f × A", total, quantity.Kilogram,
		working.T("f", "feed per hectare", perHa, quantity.ForageMass), working.T("A", "area", in.AreaHa, quantity.Hectare))), nil
}

// StayIn asks how long a paddock's feed lasts.
type StayIn struct {
	Feed   float64 `json:"feed_kg_dm"`
	Demand float64 `json:"demand_kg_dm_day"`
}

// DaysOut is a number of days.
type DaysOut struct {
	Days float64 `json:"days"`
}

// Stay = feed / demand. Growth during the stay is not counted: past three days the schedule does it.
func Stay(in StayIn) (DaysOut, []working.Step, error) {
	d := in.Feed / in.Demand
	return DaysOut{d}, []working.Step{working.New("Feed lasts", "F ÷ D", d, quantity.Day,
		working.T("F", "feed", in.Feed, quantity.Kilogram), working.T("D", "demand", in.Demand, quantity.Demand))}, nil
}

// AreaIn asks how much ground feeds a mob for so many days.
type AreaIn struct {
	Demand float64 `json:"demand_kg_dm_day"`
	Days   float64 `json:"days"`
	PerHa  float64 `json:"feed_kg_dm_ha"`
}

// AreaOut is an area.
type AreaOut struct {
	Area float64 `json:"area_ha"`
}

// AreaNeeded = demand · days / feed per hectare.
func AreaNeeded(in AreaIn) (AreaOut, []working.Step, error) {
	a := in.Demand * in.Days / in.PerHa
	return AreaOut{a}, []working.Step{areaStep(in.Demand, in.Days, in.PerHa, a)}, nil
}

func areaStep(demand, days, perHa, area float64) working.Step {
	return working.New("Area", "D × d ÷ f", area, quantity.Hectare, working.T("D", "demand of the whole mob", demand, quantity.Demand),
		working.T("d", "days", days, quantity.Day), working.T("f", "feed per hectare", perHa, quantity.ForageMass))
}

// StripIn asks how far the front fence moves.
type StripIn struct {
	Demand float64 `json:"demand_kg_dm_day"`
	Days   float64 `json:"days"`
	PerHa  float64 `json:"feed_kg_dm_ha"`
	Width  float64 `json:"width_m"`
}

// StripOut is the strip's area and the travel of its front fence.
type StripOut struct {
	Area   float64 `json:"area_ha"`
	Length float64 `json:"length_m"`
}

// Strip length = area / width. The working rounds it up to what one can pace and says how short of feed a metre less is.
func Strip(in StripIn) (StripOut, []working.Step, error) {
	a := in.Demand * in.Days / in.PerHa
	l := a * 10000 / in.Width
	paced := math.Ceil(l)
	missing := l - (paced - 1)
	w := working.T("w", "width", in.Width, quantity.Metre)
	return StripOut{a, l}, []working.Step{areaStep(in.Demand, in.Days, in.PerHa, a),
		working.New("Front fence moves", "A ÷ w", l, quantity.Metre, working.T("A", "area", a, quantity.Hectare), w),
		working.New("Pace it out, rounded up", "l to the next whole metre", paced, quantity.Metre, working.T("l", "front fence moves", l, quantity.Metre)),
		working.New("Feed short with a metre less", "m × w × f", missing*in.Width/10000*in.PerHa, quantity.Kilogram,
			working.T("m", "missing of what is needed", missing, quantity.Metre), w, working.T("f", "feed per hectare", in.PerHa, quantity.ForageMass))}, nil
}

// HeadIn asks how many head a feed carries for so many days.
type HeadIn struct {
	Feed   float64 `json:"feed_kg_dm"`
	Intake float64 `json:"intake_kg_dm_head_day"`
	Days   float64 `json:"days"`
}

// HeadOut is a number of head, not rounded.
type HeadOut struct {
	Head float64 `json:"head"`
}

// HeadCarried = feed / (intake of one · days).
func HeadCarried(in HeadIn) (HeadOut, []working.Step, error) {
	h := in.Feed / (in.Intake * in.Days)
	return HeadOut{h}, []working.Step{working.New("Head carried", "F ÷ ( I × d )", h, quantity.Head,
		working.T("F", "feed", in.Feed, quantity.Kilogram), working.T("I", "intake of one head", in.Intake, quantity.Intake),
		working.T("d", "days", in.Days, quantity.Day))}, nil
}

// BreakEvenIn asks what growth the mob eats up.
type BreakEvenIn struct {
	Demand float64  `json:"demand_kg_dm_day"`
	Area   float64  `json:"area_ha"`
	U      *float64 `json:"utilisation,omitempty"` // eaten of what disappears; nil: all of it
}

// GrowthOut is a growth rate.
type GrowthOut struct {
	Growth float64 `json:"growth_kg_dm_ha_day"`
}

// BreakEven growth G* = demand / (u × area in the rotation). More growth builds a surplus, less runs it down. Growth that is
// measured between walks is what was removed, trodden grass with it, so treading counts on this side too.
func BreakEven(in BreakEvenIn) (GrowthOut, []working.Step, error) {
	if in.U == nil || *in.U == 1 {
		g := in.Demand / in.Area
		return GrowthOut{g}, []working.Step{working.New("Break-even growth", "D ÷ A", g, quantity.Growth,
			working.T("D", "demand", in.Demand, quantity.Demand), working.T("A", "area in the rotation", in.Area, quantity.Hectare))}, nil
	}
	removed := in.Demand / *in.U
	g := removed / in.Area
	return GrowthOut{g}, []working.Step{
		working.New("Removed, trodden grass with it", "D ÷ u", removed, quantity.Demand, working.T("D", "demand", in.Demand, quantity.Demand),
			working.T("u", "eaten of what disappears", *in.U, quantity.Share)),
		working.New("Break-even growth", "r ÷ A", g, quantity.Growth, working.T("r", "removed", removed, quantity.Demand), working.T("A", "area in the rotation", in.Area, quantity.Hectare)),
	}, nil
}

// UtilisationIn compares grazed with ungrazed plants of one key species, same day and stage.
type UtilisationIn struct {
	Ungrazed []float64 `json:"ungrazed_cm" label:"Ungrazed plants"`
	Grazed   []float64 `json:"grazed_cm" label:"Grazed plants"`
	Exponent float64   `json:"height_weight_exponent"`
	Limit    float64   `json:"limit"`
}

// UtilisationOut is the use by height and by weight; only the use by weight meets the limit.
type UtilisationOut struct {
	ByHeight float64 `json:"by_height"`
	ByWeight float64 `json:"by_weight"`
	Over     bool    `json:"over_limit"`
}

// Utilisation by height = 1 − mean grazed / mean ungrazed; by weight = (by height)^k. Over only when strictly above.
func Utilisation(in UtilisationIn) (UtilisationOut, []working.Step, error) {
	if len(in.Ungrazed) == 0 {
		return UtilisationOut{}, nil, quantity.Refuse("ungrazed_cm", 0, "measure ungrazed plants too: about 30")
	}
	if len(in.Grazed) == 0 {
		return UtilisationOut{}, nil, quantity.Refuse("grazed_cm", 0, "measure grazed plants too: about 30")
	}
	g, u := mean(in.Grazed), mean(in.Ungrazed)
	h := math.Max(0, 1-g/u)
	w := math.Pow(h, in.Exponent)
	return UtilisationOut{h, w, w > in.Limit}, []working.Step{
		working.New("Use by height", "1 − g ÷ u", h, quantity.Share, working.T("g", "mean grazed", g, quantity.Centimetre),
			working.T("u", "mean ungrazed", u, quantity.Centimetre)),
		working.New("Use by weight", "h ^ k", w, quantity.Share, working.T("h", "use by height", h, quantity.None),
			working.T("k", "growth form", in.Exponent, quantity.None)),
	}, nil
}

func mean(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v
	}
	return sum / float64(len(values))
}
