package rotation

import (
	"time"

	"fjell/core/grazing"
)

// Limit is what keeps stock, or some of them, off a paddock: for days of the year, in a kind of weather, or for good.
type Limit struct {
	Kind        string // hay, nesting, closed, not_wet, no_water_in_frost, sheep_only
	Note        string // the farm's own words for it
	From, Until string // days of every year, 04-15; empty: all year
}

// shutting are the limits that close a paddock while they hold, in words.
var shutting = map[string]string{"hay": "hay", "nesting": "nesting birds", "closed": "closed"}

// Shuts tells whether a kind of limit closes a paddock while it holds.
func Shuts(kind string) bool { return shutting[kind] != "" }

// Weather is what of a day's weather limits speak of.
type Weather struct {
	Wet      bool // hooves would cut in
	Freezing bool // standing water is frozen
}

// Closed are the days around a moment on which a paddock is out of the rotation, and why: for its purpose, for a reason the
// farm gives, for limits that hold at that time of the year, and for as long as the weather touches one: ahead is what is known of it today, and
// what is expected of the days after. A cut ends what is closed for hay at that time.
func Closed(purpose, closedFor string, limits []Limit, cuts []time.Time, ahead []Weather, now time.Time, loc *time.Location) []Closure {
	var out []Closure
	switch purpose {
	case "loafing":
		out = append(out, Closure{For: "kept as a resting place, not for feed"})
	case "reserve":
		out = append(out, Closure{For: "kept in reserve"})
	}
	if closedFor != "" {
		out = append(out, Closure{For: closedFor})
	}
	for _, l := range limits {
		switch l.Kind {
		case "not_wet":
			out = append(out, touched(ahead, func(w Weather) bool { return w.Wet }, "too wet for hooves", now, loc)...)
		case "no_water_in_frost":
			out = append(out, touched(ahead, func(w Weather) bool { return w.Freezing }, "no water in frost", now, loc)...)
		}
		words, shuts := shutting[l.Kind]
		if !shuts {
			continue
		}
		if l.Note != "" {
			words = l.Note
		}
		closed := []Closure{{For: words}}
		if l.From != "" {
			yearly, err := Yearly(l.From, l.Until, words, now, loc)
			if err != nil {
				continue
			}
			closed = yearly
		}
		for _, c := range closed {
			if c.Hay = l.Kind == "hay"; c.Hay {
				c = c.cut(cuts)
			}
			out = append(out, c)
		}
	}
	return out
}

// touched are the runs of days on which the weather closes a paddock, from midnight to midnight at the farm.
func touched(ahead []Weather, closes func(Weather) bool, why string, now time.Time, loc *time.Location) (out []Closure) {
	y, m, d := now.In(loc).Date()
	for i := 0; i < len(ahead); i++ {
		if !closes(ahead[i]) {
			continue
		}
		from := i
		for i < len(ahead) && closes(ahead[i]) {
			i++
		}
		out = append(out, Closure{From: time.Date(y, m, d+from, 0, 0, 0, 0, loc), Until: time.Date(y, m, d+i, 0, 0, 0, 0, loc), For: why})
	}
	return out
}

// cut ends a closure at the first cut that was made while it held.
func (c Closure) cut(cuts []time.Time) Closure {
	for _, at := range cuts {
		if !at.Before(c.From) && (c.Until.IsZero() || at.Before(c.Until)) {
			c.Until, c.Hay = at, false
			return c
		}
	}
	return c
}

// Opened is closures without the days from a moment until another, on which somebody opened the ground all the same; zero: for good.
func Opened(closures []Closure, from, until time.Time) []Closure {
	var out []Closure
	for _, c := range closures {
		ends := func(a, b time.Time) bool { return !a.IsZero() && !a.After(b) } // whether what ends at a is over at b
		if ends(c.Until, from) || ends(until, c.From) {
			out = append(out, c)
			continue
		}
		if c.From.Before(from) {
			before := c
			before.Until, before.Hay = from, false
			out = append(out, before)
		}
		if !until.IsZero() && !ends(c.Until, until) {
			after := c
			after.From = until
			out = append(out, after)
		}
	}
	return out
}

// Minded are the limits of a paddock that do not close it but are to be thought of, as reasons.
func Minded(limits []Limit) []grazing.Reason {
	var out []grazing.Reason
	for _, l := range limits {
		words := map[string]string{"not_wet": "not when it is wet", "no_water_in_frost": "no water in frost: carry it or go elsewhere", "sheep_only": "sheep only"}[l.Kind]
		if words == "" {
			continue
		}
		if l.Note != "" {
			words += " (" + l.Note + ")"
		}
		out = append(out, grazing.Because(words))
	}
	return out
}

// SheepOnly tells whether nothing but sheep may go into a paddock.
func SheepOnly(limits []Limit) bool {
	for _, l := range limits {
		if l.Kind == "sheep_only" {
			return true
		}
	}
	return false
}
