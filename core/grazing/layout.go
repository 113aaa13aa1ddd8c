package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// LayoutPart is one paddock of a way to divide a field.
type LayoutPart struct {
	AreaHa   float64
	Shared   float64 // of what is shared out: ha, or kg DM
	Feed     float64 // kg DM above the residual that stands there now and will be eaten
	ToWaterM float64 // from its farthest corner to the nearest water; NaN when no water is marked
}

// LayoutIn is a way to divide a field, and the mob and the round it is for.
type LayoutIn struct {
	Parts     []LayoutPart
	SharedIs  quantity.Unit // what Shared is measured in
	NewFenceM float64
	Demand    float64 // of the mob, kg DM/day; 0 for none
	Others    int     // paddocks on the round outside this field
	Stay      float64 // days in one paddock; 0 where nobody said
	Rest      float64 // days of rest asked for; 0 where nobody said
}

// LayoutFigures is what a way to divide would cost and give. What cannot be said is nil.
type LayoutFigures struct {
	MeanArea   working.Figure  `json:"mean_area"`
	AreaSpread working.Figure  `json:"area_spread"`
	FeedSpread working.Figure  `json:"feed_spread"`
	NewFence   working.Figure  `json:"new_fence"`
	ToWater    *working.Figure `json:"to_water,omitempty"`
	DaysMean   *working.Figure `json:"days_mean,omitempty"`
	DaysLeast  *working.Figure `json:"days_least,omitempty"`
	DaysMost   *working.Figure `json:"days_most,omitempty"`
	Rest       *working.Figure `json:"rest,omitempty"`
	Needed     *working.Figure `json:"needed,omitempty"`
	Fits       bool            `json:"fits"`
	Why        *Reason         `json:"why,omitempty"` // why it does not fit
}

// Layout weighs a way to divide: spread is (largest − smallest) / mean; days are feed over demand; rest is
// (paddocks on the round − 1) × stay for one mob, and the paddocks a rest needs are ⌈rest ÷ stay⌉ + 1.
func Layout(in LayoutIn) (LayoutFigures, error) {
	if len(in.Parts) == 0 {
		return LayoutFigures{}, quantity.Refuse("parts", 0, "there is no paddock in this layout")
	}
	n := float64(len(in.Parts))
	count := working.T("n", "paddocks", n, quantity.Count)
	var area, shared, feed, far float64
	least := [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)} // area, shared, feed
	most := [3]float64{}
	far = math.NaN()
	for _, p := range in.Parts {
		area += p.AreaHa
		shared += p.Shared
		feed += p.Feed
		for i, v := range [3]float64{p.AreaHa, p.Shared, p.Feed} {
			least[i], most[i] = math.Min(least[i], v), math.Max(most[i], v)
		}
		if !math.IsNaN(p.ToWaterM) && !(far > p.ToWaterM) {
			far = p.ToWaterM
		}
	}
	spread := func(label string, low, high, mean float64, unit quantity.Unit) working.Figure {
		v := 0.0
		if mean > 0 {
			v = (high - low) / mean
		}
		return working.Of("the layout on the map", working.New(label, "( most − least ) ÷ mean", v, quantity.Share, working.T("most", "largest", high, unit),
			working.T("least", "smallest", low, unit), working.T("mean", "mean", mean, unit)))
	}
	out := LayoutFigures{
		MeanArea: working.Of("grazeable ground, without exclusions and lanes", working.New("Mean area", "A ÷ n", area/n, quantity.Hectare,
			working.T("A", "grazeable area", area, quantity.Hectare), count)),
		AreaSpread: spread("Spread of area", least[0], most[0], area/n, quantity.Hectare),
		FeedSpread: spread("Spread of feed", least[1], most[1], shared/n, in.SharedIs),
		NewFence: working.Of("the new fences on the map", working.New("New fence", "F", in.NewFenceM, quantity.Metre,
			working.T("F", "length of all new fences", in.NewFenceM, quantity.Metre))),
		Fits: true,
	}
	if !math.IsNaN(far) {
		f := working.Of("straight, from the farthest corner of any paddock", working.New("Farthest walk to water", "d", far, quantity.Metre,
			working.T("d", "corner to the nearest water", far, quantity.Metre)))
		out.ToWater = &f
	}
	if in.Demand > 0 {
		days := func(label string, feed float64) *working.Figure {
			f := working.Of("what stands above the residual today, without growth", working.New(label, "F ÷ D", feed/in.Demand, quantity.Day,
				working.T("F", "feed", feed, quantity.Kilogram), working.T("D", "demand", in.Demand, quantity.Demand)))
			return &f
		}
		out.DaysMean, out.DaysLeast, out.DaysMost = days("Days in the mean paddock", feed/n), days("Days in the leanest", least[2]), days("Days in the best", most[2])
	}
	return out, out.round(in, n, count)
}

// round adds what the layout gives on its round at a stay, and whether it gives the rest that is asked for.
func (out *LayoutFigures) round(in LayoutIn, n float64, count working.Term) error {
	if in.Stay <= 0 {
		return nil
	}
	others := working.T("o", "other paddocks on the round", float64(in.Others), quantity.Count)
	stay := working.T("stay", "stay", in.Stay, quantity.Day)
	rest := (n + float64(in.Others) - 1) * in.Stay
	f := working.Of("one mob on the round", working.New("Rest", "( n + o − 1 ) × stay", rest, quantity.Day, count, others, stay))
	out.Rest = &f
	if in.Rest <= 0 {
		return nil
	}
	need, steps, err := Rotation(RotationIn{Rest: in.Rest, Stay: in.Stay, Mobs: 1, Area: 1})
	if err != nil {
		return err
	}
	g := working.Of("one mob on the round", steps[0])
	out.Needed = &g
	if need.Paddocks > len(in.Parts)+in.Others {
		out.Fits = false
		why := Because("{all} on the round at {stay} give {rest} of rest, not {asked}: ⌈{asked} ÷ {stay}⌉ + 1 = {need} are needed",
			working.T("all", "paddocks", n+float64(in.Others), quantity.Count), stay, working.T("rest", "rest", rest, quantity.Day),
			working.T("asked", "rest asked for", in.Rest, quantity.Day), working.T("need", "paddocks needed", float64(need.Paddocks), quantity.Count))
		out.Why = &why
	}
	return nil
}

// unequal is the share by which a part must differ before it is said.
const unequal = 0.005

// OffEqual is by what share each of several parts differs from their mean; nil where that is too little to say.
func OffEqual(worth []float64) []*float64 {
	out := make([]*float64, len(worth))
	sum := 0.0
	for _, v := range worth {
		sum += v
	}
	if sum <= 0 {
		return out
	}
	for i, v := range worth {
		if off := v/(sum/float64(len(worth))) - 1; math.Abs(off) >= unequal {
			out[i] = &off
		}
	}
	return out
}
