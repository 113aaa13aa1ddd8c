package season

import (
	"time"

	"fjell/core/rotation"
	"fjell/internal/farm/facts"
)

// Limits kinds that keep stock out while they hold, in words.
var ClosingLimits = map[string]string{"hay": "hay", "nesting": "nesting birds", "closed": "closed"}

// closures are the days on which a paddock is out of the rotation, around a moment, and why.
func closures(p facts.Paddock, now time.Time, loc *time.Location) []rotation.Closure {
	var out []rotation.Closure
	switch p.Purpose {
	case "loafing":
		out = append(out, rotation.Closure{For: "kept for loafing, not for feed"})
	case "reserve":
		out = append(out, rotation.Closure{For: "kept in reserve"})
	}
	if p.ClosedFor != "" {
		out = append(out, rotation.Closure{For: p.ClosedFor})
	}
	for _, l := range p.Limits.V {
		words, closing := ClosingLimits[l.Kind]
		if !closing {
			continue
		}
		if l.Note != "" {
			words = l.Note
		}
		if l.From == "" {
			out = append(out, rotation.Closure{For: words})
			continue
		}
		if yearly, err := rotation.Yearly(l.From, l.Until, words, now, loc); err == nil {
			out = append(out, yearly...)
		}
	}
	return out
}

func sheepOnly(p facts.Paddock) bool {
	for _, l := range p.Limits.V {
		if l.Kind == "sheep_only" {
			return true
		}
	}
	return false
}

// ClosedNow is why a paddock is out of the rotation at this moment; empty when it is in.
func (s *Season) ClosedNow(p int) string {
	why, _ := s.Farm.Paddocks[p].ClosedAt(s.Now)
	return why
}

// weatherClosures keep stock for a day off ground whose limits the weather touches.
func weatherClosures(p *facts.Picture, pad facts.Paddock) []rotation.Closure {
	var out []rotation.Closure
	wet, freezing := p.WetNow(pad.Wetness)
	for _, l := range pad.Limits.V {
		switch {
		case l.Kind == "not_wet" && wet:
			out = append(out, rotation.Closure{From: p.Now.Add(-time.Minute), Until: p.Now.AddDate(0, 0, 1), For: "too wet for hooves today"})
		case l.Kind == "no_water_in_frost" && freezing:
			out = append(out, rotation.Closure{From: p.Now.Add(-time.Minute), Until: p.Now.AddDate(0, 0, 1), For: "no water in frost"})
		}
	}
	return out
}

// onlySheep tells whether nothing but sheep goes in a mob.
func onlySheep(p *facts.Picture, mobID string) bool {
	for _, c := range p.Classes(mobID) {
		if ref, err := p.Class("", c.ReferenceID); err != nil || ref.Species != "sheep" {
			return false
		}
	}
	return true
}
