package forage

import (
	"math"
	"sort"
	"time"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Look is what was found standing in a paddock at one moment.
type Look struct {
	At   time.Time
	Mass float64 // kg DM/ha
	ID   string  // of the record, so that a doubtful one can be named
	Walk bool    // false for a look back as stock left
	By   string  // method, meter and line that made it; "": not told
}

// Bite is what stock took from a paddock between two moments, kg DM/ha.
type Bite struct {
	From, Until time.Time
	Removed     float64
}

// Piece is growth measured between two looks at one paddock, with what was eaten in between added back.
type Piece struct {
	From, Until Look
	Rate        float64 // kg DM/ha/day
	Grazed      bool    // stock were in between
}

// leastPiece is the shortest time between two looks over which a growth rate says anything.
const leastPiece = 2.5

// Broken tells whether what lies between two looks is a change of method, meter or conversion, and so no growth.
func Broken(before, after string) bool { return before != "" && after != "" && before != after }

// Pieces are the stretches between successive looks over which growth was measured. A stretch in which stock were in
// counts with what they took added back; one with a cut is left out by the caller. Stretches shorter than two and a
// half days say more about the error of the meter than about grass.
func Pieces(looks []Look, bites []Bite) []Piece {
	looks = append([]Look(nil), looks...)
	sort.SliceStable(looks, func(a, b int) bool { return looks[a].At.Before(looks[b].At) })
	var out []Piece
	for i := 1; i < len(looks); i++ {
		a, b := looks[i-1], looks[i]
		days := b.At.Sub(a.At).Hours() / 24
		if days < leastPiece || Broken(a.By, b.By) {
			continue
		}
		p := Piece{From: a, Until: b}
		removed := 0.0
		for _, bite := range bites {
			length := bite.Until.Sub(bite.From)
			if length <= 0 || !bite.From.Before(b.At) || !bite.Until.After(a.At) {
				continue
			}
			from, until := bite.From, bite.Until
			if from.Before(a.At) {
				from = a.At
			}
			if until.After(b.At) {
				until = b.At
			}
			removed += bite.Removed * float64(until.Sub(from)) / float64(length)
			p.Grazed = true
		}
		p.Rate = (b.Mass - a.Mass + removed) / days
		out = append(out, p)
	}
	return out
}

// Plausible is the band in which growth can lie, kg DM/ha/day, where the sward's curve expects so much: grass does not
// shrink by more than dying leaf, nor grow at twice its best.
func Plausible(expected, peak float64) (low, high float64) {
	return -0.25*peak - 5, math.Max(1.2*peak, 2*expected) + 5
}

// Doubtful names the look that is likely wrong where growth is implausible. One too high makes growth before it too
// fast and after it too slow; a look that explains both neighbours is blamed before one that explains one.
func Doubtful(pieces []Piece, band func(Piece) (low, high float64)) (look Look, high, found bool) {
	worst := 0.0
	for i, p := range pieces {
		low, top := band(p)
		off := 0.0
		if p.Rate > top {
			off = p.Rate - top
		} else if p.Rate < low {
			off = p.Rate - low
		}
		if off == 0 || math.Abs(off) <= worst {
			continue
		}
		worst, found = math.Abs(off), true
		// Too fast: the later look too high or the earlier too low. Too slow: the other way about.
		look, high = p.Until, off > 0
		middle := (low + top) / 2
		if i+1 < len(pieces) && (pieces[i+1].Rate-middle)*off < 0 {
			continue // the next stretch swings back: the look between is the one
		}
		if i > 0 && (pieces[i-1].Rate-middle)*off < 0 {
			look, high = p.From, off < 0
		}
	}
	return look, high, found
}

// State is how growth stands against what stock eat.
type State string

// The states of the dial.
const (
	Above State = "above" // more grows than is eaten
	Even  State = "even"  // less, by no more than can be told
	Watch State = "watch" // less, at one walk
	Act   State = "act"   // less, at two walks in a row
)

// PaddockGrowth is a paddock's growth with its area, for a mean.
type PaddockGrowth struct {
	Name   string
	AreaHa float64
	Rate   float64
}

// MeanGrowth is growth over several paddocks, weighted by area, kg DM/ha/day, with its working.
func MeanGrowth(paddocks []PaddockGrowth) (working.Step, error) {
	area, sum := 0.0, 0.0
	for _, p := range paddocks {
		area += p.AreaHa
		sum += p.AreaHa * p.Rate
	}
	if area <= 0 {
		return working.Step{}, quantity.Refuse("paddocks", len(paddocks), "growth needs two walks over at least one paddock")
	}
	return working.New("Growth, by area", "Σ ( g × a ) ÷ A", sum/area, quantity.Growth,
		working.T("Σ", "growth of each paddock times its area", sum, quantity.Demand), working.T("A", "their area", area, quantity.Hectare),
		working.T("n", "paddocks measured twice", float64(len(paddocks)), quantity.Count)), nil
}

// oneWalk is how far apart days may lie that are one walk: a farm is walked over two or three.
const oneWalk = 60 * time.Hour

// WalkDays are the moments by which walks were done, of the moments at which paddocks were measured, in order: those that
// follow on each other are one walk.
func WalkDays(measured []time.Time) []time.Time {
	var out []time.Time
	for _, at := range measured {
		if k := len(out) - 1; k >= 0 && at.Sub(out[k]) < oneWalk {
			out[k] = at
			continue
		}
		out = append(out, at)
	}
	return out
}

// sameWalk is how much later than its walk a look may lie and belong to it.
const sameWalk = 12 * time.Hour

// Between is a paddock's growth between two walks, kg DM/ha/day, by pieces, weighted by their days; ok is false where it
// was not looked at in both.
func Between(pieces []Piece, from, to time.Time) (rate float64, ok bool) {
	days, sum := 0.0, 0.0
	for _, p := range pieces {
		if p.Until.At.After(to.Add(sameWalk)) || !p.Until.At.After(from) {
			continue
		}
		d := p.Until.At.Sub(p.From.At).Hours() / 24
		days, sum = days+d, sum+d*p.Rate
	}
	if days == 0 {
		return 0, false
	}
	return sum / days, true
}

// lookError is the error of one look, and walkError what a whole walk reads too high or low together (how the meter was held,
// wet grass, who walked), one standard deviation each, as a share (assumptions, ours).
const (
	lookError = 0.1
	walkError = 0.025
)

// Slack is how far a rate may lie outside what is plausible before its looks are doubted, kg DM/ha/day: a rate is only
// as sure as the two masses it comes from.
func (p Piece) Slack() float64 {
	return 1.96 * lookError * math.Hypot(p.From.Mass, p.Until.Mass) / (p.Until.At.Sub(p.From.At).Hours() / 24)
}
