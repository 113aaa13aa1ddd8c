package year

import (
	"math"

	"fjell/core/nutrient"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Stockpile is ground that is closed up late in summer and fed off in winter in strips, behind a front fence, with some hay beside each.
type Stockpile struct {
	AreaHa   float64
	Stands   float64   // kg DM/ha on the day it is closed
	Grows    []float64 // kg DM/ha on each day from then until it is opened
	Ceiling  float64   // kg DM/ha beyond which no more stands
	Residual float64   // kg DM/ha that are left
	Eaten    float64   // of what disappears
	Loss     float64   // share of what stands that dies in a day
	Wants    float64   // kg DM that stock want in a day
	Window   int       // days for which it should feed them
	Strips   int
	Hay      float64  // share of what they want that is fed as hay beside the strips
	BaleKg   *float64 // as it lies; nil: not known, and not guessed
	DryShare *float64 // of a bale; nil: not known
	FeedLoss float64  // share of what is fed that is lost
}

// Strip is one strip of a stockpile.
type Strip struct {
	Days  float64
	Bales *float64 // to be put out beside it; nil: none, or what one weighs is not known
}

// Stockpiled is how far it goes.
type Stockpiled struct {
	Opens  float64 // kg DM/ha on the day it is opened
	Days   float64 // it feeds them
	Short  float64 // days of the window that are left without it
	Strips []Strip
	HayKg  float64  // DM of hay to be put out, what is lost under it counted
	Bales  *float64 // whole ones
	N, P   float64  // kg/ha that the hay leaves on this ground
	K      float64
	Figure working.Figure
}

// check refuses what cannot be planned.
func (s Stockpile) check() error {
	switch {
	case !(s.AreaHa > 0):
		return quantity.Refuse("field_id", s.AreaHa, "has no ground")
	case s.Window < 1 || s.Window > 366:
		return quantity.Refuse("until_day", s.Window, "the feed window must be 1 to 366 days")
	case s.Strips < 1 || s.Strips > 200:
		return quantity.Refuse("strips", s.Strips, "must be 1 to 200")
	case !(s.Hay >= 0 && s.Hay < 1):
		return quantity.Refuse("hay_share", s.Hay, "must be 0 to 99 %%")
	case s.BaleKg != nil && !(*s.BaleKg >= 1 && *s.BaleKg <= 2000):
		return quantity.Refuse("bale_kg", *s.BaleKg, "must be %s to %s", quantity.Said{Value: 1, Unit: quantity.Kilogram}, quantity.Said{Value: 2000, Unit: quantity.Kilogram})
	case s.DryShare != nil && !(*s.DryShare >= 0.1 && *s.DryShare <= 1):
		return quantity.Refuse("dry_matter_share", *s.DryShare, "must be 10 to 100 %%")
	case !(s.Wants > 0):
		return quantity.Refuse("group", s.Wants, "wants nothing in this time")
	}
	return nil
}

// Plan reckons a stockpile strip by strip: what is opened later has melted longer.
func (s Stockpile) Plan() (Stockpiled, error) {
	if err := s.check(); err != nil {
		return Stockpiled{}, err
	}
	grown := 0.0
	mass := s.Stands
	for _, g := range s.Grows {
		grown += g
		mass = min(s.Ceiling, mass+g)
	}
	out := Stockpiled{Opens: mass}
	grass := s.Wants * (1 - s.Hay)
	day := 0.0
	for range s.Strips {
		there := max(0, mass*math.Pow(1-s.Loss, day)-s.Residual) * s.Eaten * s.AreaHa / float64(s.Strips)
		days := there / grass
		day += days
		strip := Strip{Days: days}
		if s.Hay > 0 {
			kg := s.Wants * s.Hay * days / (1 - s.FeedLoss)
			out.HayKg += kg
			if s.BaleKg != nil && s.DryShare != nil {
				bales := math.Ceil(kg/(*s.BaleKg**s.DryShare) - 1e-9)
				strip.Bales = &bales
			}
		}
		out.Strips = append(out.Strips, strip)
	}
	out.Days = day
	out.Short = max(0, float64(s.Window)-day)
	if s.Hay > 0 && s.BaleKg != nil && s.DryShare != nil {
		all := 0.0
		for _, strip := range out.Strips {
			all += *strip.Bales
		}
		out.Bales = &all
	}
	out.N, out.P, out.K = nutrient.Hay(out.HayKg / s.AreaHa)
	out.Figure = working.Of("an ordinary year's growth after it is closed; what stands melts day by day as its sward does",
		working.New("Stands when it is opened", "s + g, up to the ceiling", out.Opens, quantity.ForageMass, working.T("s", "stands when it is closed", s.Stands, quantity.ForageMass), working.T("g", "grows until it is opened", grown, quantity.ForageMass)),
		working.New("To be eaten on the first day", "( m − R ) × u × A", max(0, out.Opens-s.Residual)*s.Eaten*s.AreaHa, quantity.Kilogram, working.T("m", "stands", out.Opens, quantity.ForageMass), working.T("R", "left", s.Residual, quantity.ForageMass),
			working.T("u", "eaten of what disappears", s.Eaten, quantity.Share), working.T("A", "area", s.AreaHa, quantity.Hectare)),
		working.New("Wanted of it a day", "W × ( 1 − h )", grass, quantity.Kilogram, working.T("W", "wanted in all", s.Wants, quantity.Kilogram), working.T("h", "hay beside it", s.Hay, quantity.Share)),
		working.New("Feeds them for", "strip after strip, each less what has melted", out.Days, quantity.Day, working.T("l", "dies in a day", s.Loss, quantity.Share)))
	return out, nil
}

// Overflow is a trough that is kept open in frost by water that runs through it.
type Overflow struct {
	BucketL float64 `json:"bucket_l" doc:"a bucket held under the overflow"`
	Seconds float64 `json:"seconds" doc:"until it is full"`
	Hours   float64 `json:"hours" doc:"of a night"`
}

// Runs is what an overflow comes to.
type Runs struct {
	Flow  float64 // l/min
	Waste float64 // l a night, that must be led away
}

// Runs tells how much runs, from a bucket and a watch.
func (o Overflow) Runs() (Runs, error) {
	for _, f := range []struct {
		field       string
		v, low, top float64
		unit        quantity.Unit
	}{{"bucket_l", o.BucketL, 0.2, 1000, quantity.Litre}, {"seconds", o.Seconds, 1, 36000, quantity.None}, {"hours", o.Hours, 0, 24, quantity.Hour}} {
		if !(f.v >= f.low && f.v <= f.top) {
			return Runs{}, quantity.Refuse(f.field, f.v, "must be %s to %s", quantity.Said{Value: f.low, Unit: f.unit}, quantity.Said{Value: f.top, Unit: f.unit})
		}
	}
	flow := o.BucketL / o.Seconds * 60
	return Runs{flow, flow * 60 * o.Hours}, nil
}

// Waterer is a drinker and those who come to it at once.
type Waterer struct {
	Head    float64 `json:"head" doc:"that drink at once"`
	Each    float64 `json:"litres_each"`
	Minutes float64 `json:"minutes" doc:"in which they all drink"`
	Flow    float64 `json:"flow_l_min" doc:"that runs in"`
	Holds   float64 `json:"holds_l"`
}

// Short is how much less there is than those who come at once drink, l; 0: it is enough.
func (w Waterer) Short() (float64, error) {
	for _, f := range []struct {
		field  string
		v, top float64
		unit   quantity.Unit
	}{{"head", w.Head, 5000, quantity.Head}, {"litres_each", w.Each, 150, quantity.Litre}, {"minutes", w.Minutes, 1440, quantity.None}, {"flow_l_min", w.Flow, 1000, quantity.LitrePerMinute}, {"holds_l", w.Holds, 1e6, quantity.Litre}} {
		if !(f.v >= 0 && f.v <= f.top) {
			return 0, quantity.Refuse(f.field, f.v, "must be 0 to %s", quantity.Said{Value: f.top, Unit: f.unit})
		}
	}
	return max(0, w.Head*w.Each-w.Holds-w.Flow*w.Minutes), nil
}
