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

// Closed are the days around a moment on which a paddock is out of the rotation, and why: for its purpose, for a reason the
// farm gives, for limits that hold at that time of the year, and for a day at a time where the weather touches one.
// A cut ends what is closed for hay at that time.
func Closed(purpose, closedFor string, limits []Limit, cuts []time.Time, wet, freezing bool, now time.Time, loc *time.Location) []Closure {
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
	today := func(why string) Closure {
		return Closure{From: now.Add(-time.Minute), Until: now.AddDate(0, 0, 1), For: why}
	}
	for _, l := range limits {
		switch {
		case l.Kind == "not_wet" && wet:
			out = append(out, today("too wet for hooves today"))
		case l.Kind == "no_water_in_frost" && freezing:
			out = append(out, today("no water in frost"))
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
