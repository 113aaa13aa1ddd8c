package season

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"fjell/core/reference"
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

// Losses are the shares of conserved feed that are lost before it is stored and under the trough, and whether the farm has said so itself.
func (s *Season) Losses() (cut, feed float64, own bool) {
	cut, feed = cutLoss, feedLoss
	if v := s.Row.CutLoss; v != nil {
		cut, own = *v, true
	}
	if v := s.Row.FeedLoss; v != nil {
		feed, own = *v, true
	}
	return cut, feed, own
}

// Budget is the case of a farm's year: its ground, its stock as Stock has them planned, and its fodder, over so many months from now on. legumes are the shares of
// the sward that were seen lately, by paddock; elsewhere it is what is said of the paddock, or is usual.
func (s *Season) Budget(months int, store float64, legumes map[string]float64) year.Case {
	c := year.Case{Months: calendar(s.Now.In(s.Location), months), Store: store, Strays: usualStrays, Southern: s.Farm.Southern}
	c.CutLoss, c.FeedLoss, _ = s.Losses()
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
		g := year.Group{Pasture: make([]float64, months), Indoors: make([]float64, months), Head: make([]float64, months), Suckled: make([]year.Suckled, months)}
		for i, m := range of {
			if i > 0 {
				g.Name += ", "
			}
			g.Name += s.Mobs[m].Name
			s.suckled(&g, s.Mobs[m].ID, c.Months, all, first)
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
		s.pieces(&c, g, of, legumes)
	}
	return c
}

// suckled adds the young at foot of a mob to its group, and what the milk for them takes: what mothers in milk eat beyond dry ones, of so many mothers as there are
// young.
func (s *Season) suckled(g *year.Group, mob string, months []year.Month, all [][]stock.Point, first int) {
	for month, span := range months {
		for d := s.Number(span.From); d < s.Number(span.Until); d++ {
			var day year.Suckled
			mothers := 0.0
			for k := range s.Herd.Groups {
				p := all[k][d-first]
				if s.Herd.Groups[k].Mob != mob || p.Head == 0 {
					continue
				}
				c, _ := s.Herd.ClassOn(s.Herd.Groups[k].ID, d)
				class, err := reference.Load().Class(c.ReferenceID)
				if err != nil {
					continue
				}
				switch dry := reference.Load().AtStage(class, "dry"); {
				case class.BirthWeight > 0:
					weaned := reference.Load().Weaned(class)
					day.Head, day.Eats = day.Head+p.Head, day.Eats+p.Demand
					day.Weaned += max(p.Demand, p.Weight*weaned.IntakeShare.Typical)
				case strings.HasPrefix(class.Stage, "lactating") && dry.IntakeShare.Typical < class.IntakeShare.Typical:
					mothers += p.Head
					day.Milk += p.Demand * (1 - dry.IntakeShare.Typical/class.IntakeShare.Typical)
				}
			}
			if day.Head == 0 {
				continue
			}
			m := &g.Suckled[month]
			m.Head, m.Eats, m.Weaned = m.Head+day.Head/span.Days(), m.Eats+day.Eats, m.Weaned+day.Weaned
			if mothers > 0 {
				m.Milk += day.Milk * min(1, day.Head/mothers)
			}
		}
	}
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
func (s *Season) pieces(c *year.Case, g int, of []int, legumes map[string]float64) {
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
		pc := &c.Pieces[at[key]]
		before := pc.AreaHa
		s.count(pc, p, yield*pad.GrowthFactor, closed, c.Months)
		pc.Legume = (pc.Legume*before + Legume(pad, legumes)*(pc.AreaHa-before)) / max(pc.AreaHa, 1e-9)
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

// Kept is the share of what all ground grows in an ordinary year that grows on ground kept in reserve.
func (s *Season) Kept() float64 {
	kept, all := 0.0, 0.0
	for _, pad := range s.Paddocks {
		_, yield, err := s.Curve(pad.Sward)
		if err != nil {
			continue
		}
		grows := pad.Shape.AreaHa * yield * pad.GrowthFactor
		if all += grows; pad.Purpose == "reserve" {
			kept += grows
		}
	}
	return kept / max(all, 1e-9)
}

// Legume is the share of legumes in the sward of a paddock: as it was seen lately, as somebody said, or as is usual.
func Legume(pad facts.Paddock, seen map[string]float64) float64 {
	if share, known := seen[pad.ID]; known {
		return share
	}
	if pad.LegumeShare != nil {
		return *pad.LegumeShare
	}
	return pad.Sward.LegumeShare
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
