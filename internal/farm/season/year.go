package season

import (
	"fmt"
	"math"
	"slices"
	"time"

	"fjell/core/rotation"
	"fjell/core/stock"
	"fjell/core/year"
	"fjell/internal/farm/facts"
)

// Losses of conserved feed where the farm has not weighed its own. Assumptions, ours: hay that is made and stored well loses about this much dry matter on its
// way, and a trough or a ring feeder lets about this much fall.
const (
	cutLoss  = 0.15
	feedLoss = 0.1
)

// usualStrays are how days stray where too few are on record to see it. Assumption, ours, as of plans.
var usualStrays = year.StraysOf(0.25, 10)

// Budget is the case of a farm's year: its ground, its stock as Stock has them planned, and its fodder, over so many months from now on.
func (s *Season) Budget(months int, store float64) year.Case {
	c := year.Case{Months: calendar(s.Now.In(s.Location), months), Store: store, CutLoss: cutLoss, FeedLoss: feedLoss, Strays: usualStrays, Southern: s.Farm.Southern}
	if k := s.Farm.Strays; k != nil {
		c.Strays = year.StraysOf(k.Spread, k.Days)
	}
	groups := s.Queues()
	for m := range s.Grazers { // who has no ground eats all the same
		if !slices.ContainsFunc(groups, func(of []int) bool { return slices.Contains(of, m) }) {
			groups = append(groups, []int{m})
		}
	}
	first, until := s.Number(c.Months[0].From), s.Number(c.Months[months-1].Until)
	winters, free := *s.Herd, *s.Herd
	winters.Housed, free.Housed = s.winters(until), nil
	out, all := winters.Series(first, until), free.Series(first, until)
	for _, of := range groups {
		g := year.Group{Pasture: make([]float64, months), Indoors: make([]float64, months), Head: make([]float64, months)}
		for i, m := range of {
			if i > 0 {
				g.Name += ", "
			}
			g.Name += s.Mobs[m].Name
			for k := range s.Herd.Groups {
				if s.Herd.Groups[k].Mob != s.Mobs[m].ID {
					continue
				}
				for month, span := range c.Months {
					for d := s.Number(span.From); d < s.Number(span.Until); d++ {
						grass := out[k][d-first].Demand
						g.Pasture[month] += grass
						g.Indoors[month] += all[k][d-first].Demand - grass
						g.Head[month] += all[k][d-first].Head / span.Days()
					}
				}
			}
		}
		c.Groups = append(c.Groups, g)
	}
	for g, of := range groups {
		s.pieces(&c, g, of)
	}
	return c
}

// winters are when mobs stand in the house up to a day: as it is on record, and, after that, as the last stretch with an end, each year again.
func (s *Season) winters(until int) map[string][]stock.Stretch {
	out := map[string][]stock.Stretch{}
	for mob, known := range s.Herd.Housed {
		out[mob] = slices.Clone(known)
		if len(known) == 0 || known[len(known)-1].Until == nil {
			continue
		}
		next := func(n, years int) int { return s.Number(time.Unix(int64(n)*86400+43200, 0).UTC().AddDate(years, 0, 0)) }
		last := known[len(known)-1]
		for years := 1; next(last.From, years) < until; years++ {
			ends := next(*last.Until, years)
			out[mob] = append(out[mob], stock.Stretch{From: next(last.From, years), Until: &ends})
		}
	}
	return out
}

// calendar is what is left of this month, and the months after it.
func calendar(now time.Time, months int) (out []year.Month) {
	from := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
	for range months {
		until := time.Date(from.Year(), from.Month()+1, 1, 0, 0, 0, 0, from.Location())
		out = append(out, year.Month{From: from, Until: until})
		from = until
	}
	return out
}

// pieces adds the ground of a group of mobs: what is never closed by field and sward, what is for a time paddock by paddock.
func (s *Season) pieces(c *year.Case, g int, of []int) {
	at := map[string]int{}
	today := s.Number(s.Now)
	harvest, eats := 0.0, 0.0
	for _, m := range of {
		eat := 1e-9
		for n := today; n < today+365; n += 7 { // of a year, however far is looked
			eat += s.Grazers[m].Demand.On(n)
		}
		harvest, eats = harvest+eat*s.Harvest(m, s.species(m)), eats+eat
	}
	for p, pad := range s.Paddocks {
		if !slices.ContainsFunc(of, func(m int) bool { return s.Grazers[m].Ground[p] }) {
			continue
		}
		_, yield, err := s.Curve(pad.Sward)
		if err != nil {
			continue
		}
		closed := s.closedIn(pad, c.Months)
		key := pad.FieldID + pad.Sward.ID
		if len(closed) > 0 {
			key = pad.ID
		}
		if _, known := at[key]; !known {
			at[key] = len(c.Pieces)
			c.Groups[g].Pieces = append(c.Groups[g].Pieces, len(c.Pieces))
			n := len(c.Months)
			c.Pieces = append(c.Pieces, year.Piece{Field: s.FieldName(pad.FieldID), FieldID: pad.FieldID, Sward: pad.Sward.Name, Of: pad.Sward, Grown: make([]float64, n), Closed: make([]float64, n), Cut: make([]bool, n), Opens: make([]bool, n),
				Harvest: harvest / eats, Loss: -math.Expm1(-pad.Sward.DailyLoss() * 365.25 / 12)})
		}
		s.count(&c.Pieces[at[key]], p, yield*pad.GrowthFactor, closed, c.Months)
	}
}

// count adds a paddock to a piece: what stands on it, and what it grows in each month, open or closed.
func (s *Season) count(pc *year.Piece, p int, yield float64, closed []rotation.Closure, months []year.Month) {
	pad, limits := s.Farm.Paddocks[p], s.Limits(p)
	stands := math.Max(0, s.Past().Standing[p].Mass-limits.Residual) * pad.AreaHa
	pc.AreaHa += pad.AreaHa
	pc.Keeps += math.Max(0, pad.Ceiling-limits.Residual) * limits.U * pad.AreaHa
	shut := func(at time.Time) *rotation.Closure {
		for i, c := range closed {
			if !at.Before(c.From) && (c.Until.IsZero() || at.Before(c.Until)) {
				return &closed[i]
			}
		}
		return nil
	}
	if shut(s.Now) != nil {
		pc.Waits += stands
	} else {
		pc.Stands += stands * limits.U
	}
	parts := pad.Curve.Months(s.Farm.Southern)
	pc.Best += pad.AreaHa * yield * slices.Max(parts[:])
	for m, span := range months {
		begin := time.Date(span.From.Year(), span.From.Month(), 1, 0, 0, 0, 0, span.From.Location())
		day := pad.AreaHa * yield * parts[span.From.Month()-1] / math.Round(span.Until.Sub(begin).Hours()/24)
		for at := span.From.Add(12 * time.Hour); at.Before(span.Until); at = at.AddDate(0, 0, 1) {
			if shut(at) != nil {
				pc.Closed[m] += day
			} else {
				pc.Grown[m] += day
			}
		}
		for _, c := range closed {
			if ends := c.Until; !ends.IsZero() && ends.After(span.From) && !ends.After(span.Until) {
				pc.Cut[m], pc.Opens[m] = pc.Cut[m] || c.Hay, pc.Opens[m] || !c.Hay
			}
		}
	}
}

// closedIn are the times in some months in which a paddock is closed, of the limits of each year too. What the weather closes is not foreseen so far.
func (s *Season) closedIn(pad facts.Paddock, months []year.Month) (out []rotation.Closure) {
	first, last := months[0].From, months[len(months)-1].Until
	seen := map[string]bool{}
	for about := s.Now; about.Before(last.AddDate(1, 0, 0)); about = about.AddDate(1, 0, 0) {
		p := *s.Picture
		if p.Now = about; about.After(s.Now) {
			p.Weather = nil
		}
		for _, c := range closures(&p, pad, "") {
			key := fmt.Sprint(c.From, c.Until, c.For)
			if over := !c.Until.IsZero() && !c.Until.After(first) || !c.From.Before(last); over || seen[key] {
				continue
			}
			seen[key] = true
			out = append(out, c)
		}
	}
	return out
}

// Close adds a paddock to ground that is closed up from a day on: what stands there then, what it grows in each day of an ordinary year until it is opened, and how it
// melts. It is grazed down before it is closed, unless it is closed by now.
func (s *Season) Close(plan *year.Stockpile, p int, closes time.Time) {
	pad, limits := s.Paddocks[p], s.Limits(p)
	_, yield, err := s.Curve(pad.Sward)
	if err != nil {
		return
	}
	stands, begin := limits.Residual, closes
	if !closes.After(s.Now) {
		stands, begin = s.Past().Standing[p].Mass, s.Now
	}
	parts := s.Farm.Paddocks[p].Curve.Months(s.Farm.Southern)
	before, area := plan.AreaHa, pad.Shape.AreaHa
	plan.AreaHa += area
	mean := func(of *float64, v float64) { *of = (*of*before + v*area) / plan.AreaHa }
	mean(&plan.Stands, stands)
	mean(&plan.Residual, limits.Residual)
	mean(&plan.Eaten, limits.U)
	mean(&plan.Ceiling, s.Farm.Paddocks[p].Ceiling)
	mean(&plan.Loss, pad.Sward.DailyLoss())
	for d := range plan.Grows {
		at := begin.AddDate(0, 0, d)
		length := time.Date(at.Year(), at.Month()+1, 0, 0, 0, 0, 0, time.UTC).Day()
		mean(&plan.Grows[d], yield*pad.GrowthFactor*parts[at.Month()-1]/float64(length))
	}
}

// FieldName is the name of a field.
func (s *Season) FieldName(id string) string {
	for _, f := range s.Fields {
		if f.ID == id {
			return f.Name
		}
	}
	return ""
}
