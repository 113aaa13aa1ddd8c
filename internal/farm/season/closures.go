package season

import (
	"fmt"
	"time"

	"fjell/core/rotation"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// Limits are a paddock's limits as core knows them.
func Limits(pad facts.Paddock) []rotation.Limit {
	out := make([]rotation.Limit, len(pad.Limits.V))
	for i, l := range pad.Limits.V {
		out[i] = rotation.Limit{Kind: l.Kind, Note: l.Note, From: l.From, Until: l.Until}
	}
	return out
}

// closures are the days on which a paddock is out of the rotation, around now, and why: for its purpose, and for the rest.
func closures(p *facts.Picture, pad facts.Paddock, purpose string) []rotation.Closure {
	var cuts []time.Time
	for _, m := range p.Measured {
		if m.PaddockID == pad.ID && m.Method == CutMethod {
			cuts = append(cuts, m.MeasuredAt)
		}
	}
	closed := rotation.Closed(purpose, pad.ClosedFor, Limits(pad), cuts, ahead(p, pad), p.Now, p.Location)
	midnight := func(d *store.Day) (at time.Time) {
		if d != nil {
			at, _ = d.Time(p.Location)
		}
		return at
	}
	for _, c := range p.Closures { // what is opened opens the year's limits, and what was closed before it
		switch {
		case c.PaddockID != pad.ID:
		case c.Opens:
			closed = rotation.Opened(closed, midnight(&c.FromOn), midnight(c.UntilOn))
		default:
			why := c.Why
			if c.UntilOn != nil {
				why += " until " + midnight(c.UntilOn).Format("2 January")
			}
			closed = append(closed, rotation.Closure{From: midnight(&c.FromOn), Until: midnight(c.UntilOn), For: why})
		}
	}
	for _, t := range p.Treatments {
		if t.PaddockID == nil || *t.PaddockID != pad.ID {
			continue
		}
		from, err := t.GivenOn.Time(p.Location)
		until, err2 := t.UntilDay.Time(p.Location)
		if err == nil && err2 == nil {
			closed = append(closed, rotation.Closure{From: from, Until: until, For: "withheld after " + t.Product})
		}
	}
	return closed
}

// ahead is the weather of today and of the days after, as far as plans look, as limits of a paddock speak of it.
func ahead(p *facts.Picture, pad facts.Paddock) []rotation.Weather {
	if len(pad.Limits.V) == 0 || p.Weather == nil {
		return nil
	}
	out := make([]rotation.Weather, ForecastDays+1)
	for i := range out {
		out[i] = rotation.Weather{Wet: p.TooWet(pad.Wetness, p.Number(p.Now)+i), Freezing: p.Weather.Freezing(p.Number(p.Now) + i)}
	}
	return out
}

// Against is why a mob is to stay out of a paddock at a moment: it is closed, for sheep only, or not its ground. Empty: it may.
// A loafing paddock, or one in reserve, is not in the rotation, but it is there to be gone to.
func Against(p *facts.Picture, mobID string, paddock int, at time.Time) string {
	pad := p.Paddocks[paddock]
	if why, closed := (rotation.Paddock{Closures: closures(p, pad, "")}).ClosedAt(at); closed {
		return fmt.Sprintf("%s is closed then: %s", pad.Name, why)
	}
	if rotation.SheepOnly(Limits(pad)) && !onlySheep(p, mobID) {
		return fmt.Sprintf("%s is for sheep only", pad.Name)
	}
	for _, m := range p.Mobs {
		if m.ID == mobID && !m.Grazes(pad.FieldID) {
			return fmt.Sprintf("%s is not ground of %s", pad.Name, m.Name)
		}
	}
	return ""
}

// ClosedNow is why a paddock is out of the rotation at this moment; empty when it is in.
func (s *Season) ClosedNow(p int) string {
	why, _ := s.Farm.Paddocks[p].ClosedAt(s.Now)
	return why
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
