package year

import (
	"math"

	"fjell/core/nutrient"
	"fjell/core/quantity"
	"fjell/core/working"
)

// BaleGrazing is bales set out on ground before winter, and opened to stock some days at a time behind a fence.
type BaleGrazing struct {
	AreaHa   float64
	Bales    float64
	BaleKg   float64 // as it lies: weighed
	DryShare float64
	Wants    float64 // kg DM that stock want in a day
	Each     float64 // days for which a set of bales should last
	FeedLoss float64 // share of what is fed that is lost
}

// Baled is how far they go, and what they leave.
type Baled struct {
	Days   float64
	Set    float64 // bales opened at a time, whole ones
	Sets   float64
	Apart  float64 // m between bales that lie evenly
	N      float64 // kg/ha that they leave on the ground
	P, K   float64
	Figure working.Figure
}

// muchN is how much nitrogen a hectare gets from bales at the most in one winter before more is lost than kept, kg. Assumption, ours; the law may say less.
const muchN = 170

// Plan reckons bales that are grazed where they lie. What falls under them stays on the ground, with most of what stock leave of what they eat.
func (b BaleGrazing) Plan() (Baled, error) {
	for _, f := range []struct {
		field      string
		v          float64
		least, top float64
		unit       quantity.Unit
	}{{"bales", b.Bales, 1, 20000, quantity.Count}, {"bale_kg", b.BaleKg, 1, 2000, quantity.Kilogram}, {"dry_matter_share", b.DryShare, 0.1, 1, quantity.Share}, {"days_each", b.Each, 0.5, 30, quantity.Day}} {
		if !(f.v >= f.least && f.v <= f.top) {
			return Baled{}, quantity.Refuse(f.field, f.v, "must be %s to %s", quantity.Said{Value: f.least, Unit: f.unit}, quantity.Said{Value: f.top, Unit: f.unit})
		}
	}
	switch {
	case !(b.AreaHa > 0):
		return Baled{}, quantity.Refuse("field_id", b.AreaHa, "has no ground")
	case !(b.Wants > 0):
		return Baled{}, quantity.Refuse("group", b.Wants, "wants nothing in this time")
	}
	dry := b.BaleKg * b.DryShare
	swallowed := dry * (1 - b.FeedLoss)
	out := Baled{Days: b.Bales * swallowed / b.Wants, Set: math.Ceil(b.Each*b.Wants/swallowed - 1e-9), Apart: math.Sqrt(b.AreaHa * 1e4 / b.Bales)}
	out.Sets = math.Ceil(b.Bales/out.Set - 1e-9)
	out.N, out.P, out.K = nutrient.Hay(b.Bales * dry / b.AreaHa)
	out.Figure = working.Of("what a bale weighs and how dry it is are your own; what is lost under it is as the farm says",
		working.New("Swallowed of a bale", "w × d × ( 1 − f )", swallowed, quantity.Kilogram, working.T("w", "as it lies", b.BaleKg, quantity.Kilogram), working.T("d", "dry matter", b.DryShare, quantity.Share), working.T("f", "lost under it", b.FeedLoss, quantity.Share)),
		working.New("A set, whole bales", "t × W ÷ s, rounded up", out.Set, quantity.Count, working.T("t", "days a set should last", b.Each, quantity.Day), working.T("W", "wanted a day", b.Wants, quantity.Kilogram), working.T("s", "swallowed of a bale", swallowed, quantity.Kilogram)),
		working.New("They feed them for", "n × s ÷ W", out.Days, quantity.Day, working.T("n", "bales", b.Bales, quantity.Count)))
	return out, nil
}

// TooMuch tells whether they leave more nitrogen on the ground than it keeps.
func (b Baled) TooMuch() bool { return b.N > muchN }
