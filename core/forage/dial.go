package forage

import (
	"math"
	"sort"
	"time"

	"fjell/core/working"
)

// Ground is a paddock as growth between walks is measured on it.
type Ground struct {
	Name   string
	AreaHa float64
	Pieces []Piece
}

// WalkGrowth is growth measured up to a walk.
type WalkGrowth struct {
	At   time.Time
	Rate float64 // kg DM/ha/day
	N    int     // paddocks measured at both walks
}

// Dial sets growth against what stock eat.
type Dial struct {
	State    State
	Growth   *working.Figure // up to the last walk; nil until two were made
	Walks    []WalkGrowth
	Sentence string
	Most     float64 // where its scale ends, kg DM/ha/day
}

// ReadDial works out growth from walk to walk over some ground, by area, and holds it against the growth at which what
// stock eat is just replaced; nil: nothing eats there.
func ReadDial(ground []Ground, walks []time.Time, breakEven *working.Figure) Dial {
	d := Dial{State: Above}
	var rates []float64
	for k := 1; k < len(walks); k++ {
		var list []PaddockGrowth
		for _, g := range ground {
			if rate, ok := Between(g.Pieces, walks[k-1], walks[k]); ok {
				list = append(list, PaddockGrowth{Name: g.Name, AreaHa: g.AreaHa, Rate: rate})
			}
		}
		step, err := MeanGrowth(list)
		if err != nil {
			continue // nothing was measured at both
		}
		f := working.Of("walks and looks back of the stretch, what stock ate added back; closed ground counts too", step)
		d.Growth = &f
		rates = append(rates, f.Value)
		d.Walks = append(d.Walks, WalkGrowth{walks[k], f.Value, len(list)})
		d.Most = math.Max(d.Most, f.Value)
	}
	switch {
	case d.Growth == nil:
		d.Sentence = "Growth shows after the second walk."
	case breakEven == nil:
		d.Sentence = "No stock eat here: nothing to set growth against."
	default:
		d.Most = math.Max(d.Most, breakEven.Value)
		d.State = Verdict(rates, breakEven.Value)
		d.Sentence = map[State]string{Above: "More grows than they eat: a surplus is building.",
			Watch: "Less grew than they eat, at one walk: watch the next one.",
			Act:   "Less grew than they eat, two walks in a row: act now: slow the round, feed, or sell."}[d.State]
	}
	d.Most = math.Ceil(d.Most*1.25/10) * 10
	return d
}

// SwardLook is a paddock's growth beside what its curve expects of it.
type SwardLook struct {
	Sward    string
	AreaHa   float64
	Pieces   []Piece
	Expected float64 // kg DM/ha/day
	Factor   float64 // learned
}

// SwardGrowth is growth on one sward between two walks, by area.
type SwardGrowth struct {
	Sward                  string
	Rate, Expected, Factor float64
	N                      int // paddocks measured at both walks
}

// OnSwards is growth between the last two walks, sward by sward, in the order of their names.
func OnSwards(list []SwardLook, walks []time.Time) []SwardGrowth {
	if len(walks) < 2 {
		return nil
	}
	by, area := map[string]*SwardGrowth{}, map[string]float64{}
	for _, l := range list {
		rate, ok := Between(l.Pieces, walks[len(walks)-2], walks[len(walks)-1])
		if !ok {
			continue
		}
		g := by[l.Sward]
		if g == nil {
			g = &SwardGrowth{Sward: l.Sward}
			by[l.Sward] = g
		}
		g.N++
		g.Rate, g.Expected, g.Factor = g.Rate+l.AreaHa*rate, g.Expected+l.AreaHa*l.Expected, g.Factor+l.AreaHa*l.Factor
		area[l.Sward] += l.AreaHa
	}
	out := make([]SwardGrowth, 0, len(by))
	for sward, g := range by {
		a := area[sward]
		out = append(out, SwardGrowth{sward, g.Rate / a, g.Expected / a, g.Factor / a, g.N})
	}
	sort.Slice(out, func(a, b int) bool { return out[a].Sward < out[b].Sward })
	return out
}

// DoubtDays is how long a walk that likely read wrong, or a measurement that is far off, is asked about.
const DoubtDays = 21

// Doubt names a walk that likely read wrong, if there is one not too long before a moment. band is what growth could have
// been over a piece. What stock took is too uncertain to blame a walk for, so pieces they grazed do not count.
func Doubt(pieces []Piece, now time.Time, band func(Piece) (low, high float64)) (look Look, high, found bool) {
	var ungrazed []Piece
	for _, p := range pieces {
		if !p.Grazed {
			ungrazed = append(ungrazed, p)
		}
	}
	look, high, found = Doubtful(ungrazed, func(p Piece) (float64, float64) {
		low, top := band(p)
		return low - p.Slack(), top + p.Slack()
	})
	return look, high, found && look.Walk && !look.At.Before(now.AddDate(0, 0, -DoubtDays))
}
