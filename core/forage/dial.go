package forage

import (
	"math"
	"sort"
	"time"

	"fjell/core/quantity"
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
	At     time.Time
	Rate   float64 // kg DM/ha/day
	Half   float64 // its 95 % half-width: errors of the looks, and of each walk as a whole
	N      int     // paddocks measured at both walks
	AreaHa float64 // of those
}

// Dial sets growth against what stock eat.
type Dial struct {
	State    State
	Growth   *working.Figure // up to the last walk; nil until two were made
	Walks    []WalkGrowth
	Sentence string
	Most     float64 // where its scale ends, kg DM/ha/day
}

// between is growth over some ground between two walks, by area, with the working of its ± and of itself; ok is false where
// nothing was measured at both.
func between(ground []Ground, from, to time.Time) (w WalkGrowth, steps []working.Step, ok bool) {
	var list []PaddockGrowth
	own, begin, end, days := 0.0, 0.0, 0.0, 0.0
	for _, g := range ground {
		rate, found := Between(g.Pieces, from, to)
		if !found {
			continue
		}
		list = append(list, PaddockGrowth{Name: g.Name, AreaHa: g.AreaHa, Rate: rate})
		first, last := ends(g.Pieces, from, to)
		d := last.At.Sub(first.At).Hours() / 24
		// What lies between the two ends cancels out: the look that ends one piece begins the next.
		sd := g.AreaHa * lookError * math.Hypot(first.Mass, last.Mass) / d
		own += sd * sd
		begin, end, days = begin+g.AreaHa*first.Mass, end+g.AreaHa*last.Mass, days+g.AreaHa*d
		w.AreaHa += g.AreaHa
	}
	step, err := MeanGrowth(list)
	if err != nil {
		return w, nil, false
	}
	looks, whole := math.Sqrt(own)/w.AreaHa, walkError*math.Hypot(begin, end)/days
	w.At, w.Rate, w.N = to, step.Value, len(list)
	w.Half = 1.96 * math.Hypot(looks, whole)
	doubt := working.New("Error of growth, 95 %", "1.96 × √ ( l² + w² )", w.Half, quantity.Growth, working.T("l", "of the looks, one by one", looks, quantity.Growth),
		working.T("w", "of each walk as a whole", whole, quantity.Growth))
	return w, []working.Step{doubt, step}, true
}

// ends are the first and the last look of the pieces that Between counts.
func ends(pieces []Piece, from, to time.Time) (first, last Look) {
	for _, p := range pieces {
		if p.Until.At.After(to.Add(sameWalk)) || !p.Until.At.After(from) {
			continue
		}
		if first.At.IsZero() {
			first = p.From
		}
		last = p.Until
	}
	return first, last
}

// ReadDial works out growth from walk to walk over some ground, by area, and holds it against the growth at which what
// stock eat is just replaced; nil: nothing eats there. Less than that at one walk is a thing to watch, and at two walks in a
// row, about a fortnight, one to act on: each only where the difference is larger than its own ±. The fortnight is measured
// from its first walk to its last, so that one walk that read too high or low in between turns nothing.
func ReadDial(ground []Ground, walks []time.Time, breakEven *working.Figure) Dial {
	d := Dial{State: Above}
	for k := 1; k < len(walks); k++ {
		w, steps, ok := between(ground, walks[k-1], walks[k])
		if !ok {
			continue
		}
		f := working.Of("walks and looks back of the stretch, what stock ate added back; closed ground counts too", steps...)
		d.Growth = &f
		d.Walks = append(d.Walks, w)
		d.Most = math.Max(d.Most, w.Rate)
	}
	switch {
	case d.Growth == nil:
		d.Sentence = "Growth shows after the second walk."
	case breakEven == nil:
		d.Sentence = "No stock eat here: nothing to set growth against."
	default:
		d.Most = math.Max(d.Most, breakEven.Value)
		d.judge(ground, walks, breakEven.Value)
	}
	d.Most = math.Ceil(d.Most*1.25/10) * 10
	return d
}

func (d *Dial) judge(ground []Ground, walks []time.Time, breakEven float64) {
	n := len(d.Walks)
	last := d.Walks[n-1]
	less := func(w WalkGrowth) bool { return w.Rate < breakEven }
	sure := func(w WalkGrowth) bool { return w.Rate+w.Half < breakEven }
	// Each of the two must point that way by a quarter of its ± too (assumption, ours: with it, a simulated farm that grows a
	// third more than is eaten is told to act once in four hundred seasons, and one that grows half of it always).
	likely := func(w WalkGrowth) bool { return w.Rate+w.Half/4 < breakEven }
	twice := n > 1 && likely(last) && likely(d.Walks[n-2])
	if twice {
		fortnight, _, ok := between(ground, walks[len(walks)-3], walks[len(walks)-1])
		twice = ok && sure(fortnight)
	}
	switch {
	case twice:
		d.State, d.Sentence = Act, "Less grew than they eat, two walks in a row: act now: slow the round, feed, or sell."
	case sure(last):
		d.State, d.Sentence = Watch, "Less grew than they eat, at one walk: watch the next one."
	case less(last):
		d.State, d.Sentence = Even, "Less grew than they eat, by less than the walk can tell: walk again before you act on it."
	case last.Rate-last.Half/2 < breakEven: // a surplus costs less than a shortage: half of the ± is enough to speak of it
		d.State, d.Sentence = Even, "More grew than they eat, by less than the walk can tell: walk again before you count on a surplus."
	default:
		d.Sentence = "More grows than they eat: a surplus is building."
	}
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
