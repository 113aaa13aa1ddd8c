package season

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"fjell/core/forage"
	"fjell/core/rotation"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// gifts are what nitrogen brings that was spread on a paddock: nothing where nobody knows how its sward answers.
func gifts(p *facts.Picture, pad facts.Paddock) (out []rotation.Gift) {
	for _, d := range p.Dressings {
		if d.PaddockID != pad.ID || pad.Sward.Response == nil {
			continue
		}
		if on, err := d.GivenOn.Time(p.Location); err == nil {
			out = append(out, rotation.Nitrogen(d.KgNHa, *pad.Sward.Response, on))
		}
	}
	return out
}

// carted is what cuts took off each paddock where somebody weighed it, as bites, and the ids of the looks that say what these cuts left: growth is measured
// across such a cut as it is across a grazing. Across a cut that nobody weighed it is not.
func (s *Season) carted() (bites map[int][]forage.Bite, weighed map[string]bool) {
	bites, weighed = map[int][]forage.Bite{}, map[string]bool{}
	for _, c := range s.Cuts {
		i, stands := s.MeasurementAt[c.MeasurementID]
		p, here := s.ByID[c.PaddockID]
		if c.KgDM == nil || !stands || !here {
			continue
		}
		at := s.Measured[i].MeasuredAt
		weighed[c.MeasurementID] = true
		bites[p] = append(bites[p], forage.Bite{From: at.Add(-time.Minute), Until: at, Removed: *c.KgDM / s.Paddocks[p].Shape.AreaHa})
	}
	return bites, weighed
}

// unweighed says of cuts between two moments that nobody weighed.
func (s *Season) unweighed(since, until time.Time, weighed map[string]bool) (out []string) {
	for _, m := range s.Measured {
		if m.Method == CutMethod && !weighed[m.ID] && m.MeasuredAt.After(since) && !m.MeasuredAt.After(until) {
			out = append(out, fmt.Sprintf("%s was cut on %s and nobody weighed it: what it grew since the walk before is not counted.", s.Names[m.PaddockID], m.MeasuredAt.In(s.Location).Format("2 January")))
		}
	}
	return out
}

// Closed is a paddock that somebody closed from a day until before another, as it is on record; nil where nothing of that kind holds.
func (s *Season) Closed(p int) *store.Closure {
	today := store.DayOf(s.Now, s.Location)
	for i := range s.Closures {
		c := &s.Closures[i]
		if c.PaddockID == s.Paddocks[p].ID && !c.Opens && (c.UntilOn == nil || *c.UntilOn > today) {
			return c
		}
	}
	return nil
}

// FodderLine is a line of the fodder store's book: a cut that came home, or what somebody wrote.
type FodderLine struct {
	On    store.Day
	Kind  string
	Kg    *float64 // nil: a cut that nobody weighed
	Cut   *store.Cut
	Line  *store.Fodder
	Holds float64 // the store after it, kg DM
}

// FodderBook is the book of the fodder store, the oldest line first.
func (s *Season) FodderBook() (out []FodderLine) {
	for i := range s.Cuts {
		c := &s.Cuts[i]
		if c.KgDM != nil && *c.KgDM == 0 {
			continue // topped: nothing came home
		}
		out = append(out, FodderLine{On: c.CutOn, Kind: forage.FodderCut, Kg: c.KgDM, Cut: c})
	}
	for i := range s.Fodder {
		f := &s.Fodder[i]
		out = append(out, FodderLine{On: f.OnDay, Kind: f.Kind, Kg: &f.KgDM, Line: f})
	}
	slices.SortStableFunc(out, func(x, y FodderLine) int { return strings.Compare(string(x.On), string(y.On)) })
	lots := make([]forage.Lot, len(out))
	for i, l := range out {
		if lots[i].Kind = l.Kind; l.Kg != nil {
			lots[i].Kg = *l.Kg
		}
	}
	for i, holds := range forage.Stored(lots) {
		out[i].Holds = holds
	}
	return out
}
