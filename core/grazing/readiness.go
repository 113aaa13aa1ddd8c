package grazing

import (
	"math"
	"strings"

	"fjell/core/quantity"
	"fjell/core/working"
)

// State is a verdict on a paddock before grazing.
type State string

// The verdicts.
const (
	Ready   State = "ready"
	Soon    State = "soon"
	Resting State = "resting"
	Mind    State = "mind"
	Stop    State = "stop"
)

// Reason is a sentence whose {symbols} stand for figures, so that a reader sees them in the farm's units.
type Reason struct {
	Text    string         `json:"text"`
	Figures []working.Term `json:"figures"`
}

// Because makes a Reason.
func Because(text string, figures ...working.Term) Reason {
	if figures == nil {
		figures = []working.Term{}
	}
	return Reason{text, figures}
}

// Plain is the sentence in metric, for where no reader can be asked for units.
func (r Reason) Plain() string {
	text := r.Text
	for _, f := range r.Figures {
		text = strings.ReplaceAll(text, "{"+f.Symbol+"}", f.Show())
	}
	return text
}

// In is the sentence in a system of units, for a sheet that is handed on.
func (r Reason) In(system quantity.System) string {
	text := r.Text
	for _, f := range r.Figures {
		text = strings.ReplaceAll(text, "{"+f.Symbol+"}", quantity.Said{Value: f.Value, Unit: f.Unit}.In(system))
	}
	return text
}

// Look is what is known of a paddock when readiness is asked.
type Look struct {
	Mass      float64  // kg DM/ha
	Half      float64  // its 95 % half-width; 0: as if it were exact
	Guessed   bool     // nobody has measured it
	Rest      *float64 // days since the last animal left; nil when no grazing is on record
	DaysToGo  float64  // days of growth until the entry mass, +Inf when it is not coming
	Occupied  bool     // another mob is in it
	Closed    bool     // out of the rotation
	ClosedFor string
	TooWet    bool     // hooves would cut in
	Leaves    *float64 // new leaves a tiller since grazing; nil: not known, or no guide for the sward
	LeafStage float64  // leaves at which it is to be grazed
}

// SoonDays is how near the entry must be for a paddock to count as soon ready.
const SoonDays = 4

// aboutShare is how far from a limit, as a share of it, a mass may still be called about at it, however little is known of
// it. Assumption, ours.
const aboutShare = 0.1

// about is how much may be missing from a limit, or stand over it, that is not known to be.
func about(limit, half float64) float64 { return math.Min(half, aboutShare*limit) }

// PastBest tells whether a mass of a 95 % half-width is past its best for sure.
func (l Limits) PastBest(mass, half float64) bool { return mass-about(l.TooOld, half) > l.TooOld }

// leafSlack is how much of a leaf may be missing from the stage at which a sward is grazed.
const leafSlack = 0.5

// Readiness judges a paddock against a school's limits, with its reasons, the one that binds first. Wet soil and leaf
// stage bind only where the weather is known. A paddock is past its best only when that is sure: within the half-width of
// its mass it is about at its best, so that the next walk's kilogram does not turn a verdict.
func Readiness(look Look, l Limits) (State, []Reason) {
	state, reasons := standing(look, l)
	if look.Leaves != nil && state != Stop {
		leaves := working.T("l", "new leaves a tiller", *look.Leaves, quantity.Leaf)
		if *look.Leaves < look.LeafStage-leafSlack {
			if state == Ready {
				state = Soon
			}
			reasons = append([]Reason{Because("{l} of {n}: roots are not refilled yet", leaves, working.T("n", "leaf stage", look.LeafStage, quantity.Leaf))}, reasons...)
		} else {
			reasons = append(reasons, Because("{l}", leaves))
		}
	}
	if look.TooWet && (state == Ready || state == Soon) {
		return Mind, append([]Reason{Because("too wet: hooves cut in")}, reasons...)
	}
	return state, reasons
}

func standing(look Look, l Limits) (State, []Reason) {
	mass := working.T("M", "forage mass", look.Mass, quantity.ForageMass)
	entry := working.T("E", "entry", l.Entry, quantity.ForageMass)
	half := working.T("h", "half-width", look.Half, quantity.ForageMass)
	rest := Because("rest unknown: no grazing is on record")
	if look.Rest != nil {
		rest = Because("{rest} of rest", working.T("rest", "rest", *look.Rest, quantity.Day))
	}
	if look.Closed {
		return Stop, []Reason{Because("closed: " + look.ClosedFor)}
	}
	if look.Occupied {
		return Stop, []Reason{Because("another mob is in it")}
	}
	var reasons []Reason
	if look.Guessed {
		reasons = append(reasons, Because("guessed: nobody has measured it"))
	}
	if look.Rest != nil && *look.Rest < l.RestMin {
		state := Resting
		if l.RestMin-*look.Rest <= SoonDays {
			state = Soon
		}
		return state, append(reasons, Because("{rest} of rest, {need} asked for", working.T("rest", "rest", *look.Rest, quantity.Day),
			working.T("need", "least rest", l.RestMin, quantity.Day)), Because("stands at {M}", mass))
	}
	switch {
	case l.PastBest(look.Mass, look.Half):
		return Mind, append(reasons, Because("past its best at {M}: take it now or cut it", mass), rest)
	case look.Mass > l.TooOld:
		return Ready, append(reasons, Because("about at its best: {M} ± {h}", mass, half), rest)
	case look.Mass >= l.Entry && look.Mass-about(l.Entry, look.Half) < l.Entry:
		return Ready, append(reasons, Because("about at the entry of {E}: {M} ± {h}", mass, half, entry), rest)
	case look.Mass >= l.Entry:
		return Ready, append(reasons, Because("{M}, at or over the entry of {E}", mass, entry), rest)
	case math.IsInf(look.DaysToGo, 1):
		return Resting, append(reasons, Because("{M}, and growth does not carry it to {E} this season", mass, entry), rest)
	}
	togo := working.T("d", "growth to go", look.DaysToGo, quantity.Day)
	switch {
	case look.Mass+about(l.Entry, look.Half) >= l.Entry:
		return Soon, append(reasons, Because("about at the entry of {E}: {M} ± {h}, {d} of growth short", mass, half, entry, togo), rest)
	case look.DaysToGo <= SoonDays:
		return Soon, append(reasons, Because("{M}, {d} of growth short of {E}", mass, entry, togo), rest)
	}
	return Resting, append(reasons, Because("{M}, {d} of growth short of {E}", mass, entry, togo), rest)
}

// RestClock says which clock sets the rest a paddock needs.
type RestClock struct {
	Days  float64 `json:"days"`
	Binds string  `json:"binds"`
}

// RestNeeded is the longest of the school's least rest and the days until entry mass; leaf stage needs weather and
// does not bind without it.
func RestNeeded(restMin, daysToEntry float64) RestClock {
	if daysToEntry >= restMin {
		return RestClock{daysToEntry, "the days until it stands at entry again"}
	}
	return RestClock{restMin, "the school's least rest"}
}
