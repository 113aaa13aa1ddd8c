package year

import (
	"math"
	"slices"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/working"
)

// Options that are no input of the reference.
const (
	Rent     = "rent"   // ground of somebody else's for some months
	Division = "divide" // a field grazed in more parts, so that more of what grows there is eaten
	Topping  = "top"    // a field is topped, so that more of what comes after is eaten
)

// rent adds ground that grows as the farm's own does in the mean, or what its yield is said to be, for some months; what stands when it is given back is lost.
func (c *Case) rent(o Option) (Done, error) {
	last := len(c.Months)
	switch {
	case !(o.AreaHa > 0 && o.AreaHa <= 1e5):
		return Done{}, quantity.Refuse("area_ha", o.AreaHa, "say how much ground is rented")
	case o.Group < 0 || o.Group >= len(c.Groups):
		return Done{}, quantity.Refuse("group", o.Group, "is no group of mobs")
	case o.Months < 0 || o.Months > len(c.Months):
		return Done{}, quantity.Refuse("months", o.Months, "must be 1 to %d, or left out: to the end", len(c.Months))
	case !(o.Yield >= 0 && o.Yield <= 30):
		return Done{}, quantity.Refuse("yield_t_ha", o.Yield, "must be %s to %s, or left out: as the farm's own ground", quantity.Said{Value: 0.1, Unit: quantity.TonnePerHa}, quantity.Said{Value: 30, Unit: quantity.TonnePerHa})
	}
	if o.Months > 0 {
		last = min(last, o.Month+o.Months)
	}
	area, keeps, harvest, loss, year := 0.0, 0.0, 0.0, 0.0, 0.0
	grows := c.grows()
	for _, pc := range c.Pieces {
		area += pc.AreaHa
		keeps, harvest, loss = keeps+pc.Keeps, harvest+pc.Harvest*pc.AreaHa, loss+pc.Loss*pc.AreaHa
	}
	if area == 0 {
		return Done{}, quantity.Refuse("area_ha", o.AreaHa, "has no ground of the farm's own to be held against")
	}
	for m := max(0, len(grows)-12); m < len(grows); m++ {
		year += grows[m] / area
	}
	scale := o.AreaHa / area
	if o.Yield > 0 && year > 0 {
		scale *= 1000 * o.Yield / year
	}
	n := len(c.Months)
	pc := Piece{Field: "Rented ground", Sward: "Rented ground", AreaHa: o.AreaHa, Grown: make([]float64, n), Closed: make([]float64, n), Cut: make([]bool, n), Opens: make([]bool, n),
		Harvest: harvest / area, Loss: loss / area, Keeps: keeps * scale, Ends: last}
	done := Done{Name: "Rented ground", By: make([]float64, n), Grows: true, Cost: o.AreaHa * o.Price, Arrives: &c.Months[o.Month].From}
	for m := o.Month; m < last; m++ {
		pc.Grown[m] = grows[m] * scale
		pc.Best = max(pc.Best, pc.Grown[m])
		done.By[m] = pc.Grown[m] * pc.Harvest
		done.Extra += done.By[m]
	}
	c.Groups[o.Group].Pieces = append(slices.Clone(c.Groups[o.Group].Pieces), len(c.Pieces))
	c.Pieces = append(c.Pieces, pc)
	done.Says = []grazing.Reason{grazing.Because("{A} that grow as your own ground does, for {d} months: {e} to be eaten. What stands when it is given back is lost",
		working.T("A", "rented", o.AreaHa, quantity.Hectare), working.T("d", "months", float64(last-o.Month), quantity.Count), working.T("e", "to be eaten", done.Extra, quantity.Fodder))}
	return done, nil
}

// leafy is for how many months a topped sward comes leafy. Assumption, ours.
const leafy = 2

// sharesTo is the month before which a card says what is eaten of a field.
func (c Case) sharesTo(o Option) int {
	if o.Input == Topping {
		return min(len(c.Months), o.Month+leafy)
	}
	return len(c.Months)
}

// eatMore grazes a field in more parts from a month on, or tops it so that it comes leafy for a while: a larger share of what grows there is eaten. The share is the
// user's own.
func (c *Case) eatMore(o Option, before []Option) (Done, error) {
	area, now, field := 0.0, 0.0, ""
	for _, pc := range c.Pieces {
		if pc.FieldID == o.Field && o.Field != "" {
			area, now, field = area+pc.AreaHa, now+pc.Harvest*pc.AreaHa, pc.Field
		}
	}
	if area == 0 {
		return Done{}, quantity.Refuse("field_id", o.Field, "is no field that is grazed")
	}
	last := c.sharesTo(o)
	for _, b := range before {
		if b.Field == o.Field && (b.Input == Division || b.Input == Topping) && o.Month < c.sharesTo(b) && b.Month < last {
			return Done{}, quantity.Refuse("field_id", field, "another card says already how much of %s is eaten then: a second share would count it twice", field)
		}
	}
	if now /= area; !(o.Share > now && o.Share <= 0.95) {
		return Done{}, quantity.Refuse("share", quantity.Said{Value: o.Share, Unit: quantity.Share}, "must lie above the %s of what grows that is eaten of %s now, and at most at 95 %%", quantity.Said{Value: now, Unit: quantity.Share}, field)
	}
	done := Done{Name: "A further division", By: make([]float64, len(c.Months)), Grows: true, Cost: area * o.Price, Arrives: &c.Months[o.Month].From}
	if o.Input == Topping {
		done.Name, done.Caution = "Topping", "Nobody near the mower or behind it, animals out of the field, nests and fawns looked for first; slopes are for who knows them. What is cut off is no feed, and poisonous weeds are eaten once they wilt."
	}
	for p := range c.Pieces {
		pc := &c.Pieces[p]
		if pc.FieldID != o.Field || pc.Harvest >= o.Share {
			continue
		}
		// So much of what grows that all of it eaten, and the rest eaten as now, makes the new share.
		part := (o.Share - pc.Harvest) / (1 - pc.Harvest)
		then := *pc
		then.AreaHa, then.Stands, then.Waits, then.Harvest = 0, 0, 0, 1
		then.Best, then.Keeps = pc.Best*part, pc.Keeps*(o.Share/pc.Harvest-1)
		then.Grown, then.Closed, then.Cut, then.Opens = make([]float64, len(c.Months)), make([]float64, len(c.Months)), make([]bool, len(c.Months)), make([]bool, len(c.Months))
		pc.Grown = slices.Clone(pc.Grown)
		for m := o.Month; m < last; m++ {
			then.Grown[m] = pc.Grown[m] * part
			done.By[m] += pc.Grown[m] * (o.Share - pc.Harvest)
			pc.Grown[m] -= then.Grown[m]
		}
		for g := range c.Groups {
			if slices.Contains(c.Groups[g].Pieces, p) {
				c.Groups[g].Pieces = append(slices.Clone(c.Groups[g].Pieces), len(c.Pieces))
				break
			}
		}
		c.Pieces = append(c.Pieces, then)
	}
	for _, kg := range done.By {
		done.Extra += kg
	}
	text := "{A} of " + field + " grazed in more parts: {s} of what grows is eaten, {n} now; {e} more in these months"
	if o.Input == Topping {
		text = "{A} of " + field + " topped: what comes after is leafy, {s} of it is eaten for two months, {n} now; {e} more. Nothing more grows by it"
	}
	done.Says = []grazing.Reason{grazing.Because(text, working.T("A", "divided further", area, quantity.Hectare),
		working.T("s", "eaten then", o.Share, quantity.Share), working.T("n", "eaten now", now, quantity.Share), working.T("e", "eaten more", done.Extra, quantity.Fodder))}
	return done, nil
}

// Season is ground whose grass grows in one season: its share of the ground, of the days on which the farm's grass grows, and of what grows.
type Season struct {
	Kind   string // cool, warm, tropical, both
	Area   float64
	Days   float64
	Yield  float64
	PerDay float64 // kg DM/ha on a day of its growth
}

// grown is the share of its best month below which a month is no growing time. Assumption, ours.
const grown = 0.15

// Seasons are the farm's ground by when its grass grows, over its last twelve months: days are not land, nor is land feed, and the three shares say so.
func (c Case) Seasons() (out []Season) {
	first := max(0, len(c.Months)-12)
	area, days, yield := 0.0, 0.0, 0.0
	kinds := map[string][]float64{}
	at := map[string]int{}
	for _, pc := range c.Pieces {
		kind := pc.Of.Season
		if kind == "" {
			continue // rented, or a crop
		}
		if _, known := at[kind]; !known {
			at[kind] = len(out)
			out, kinds[kind] = append(out, Season{Kind: kind}), make([]float64, len(c.Months))
		}
		out[at[kind]].Area += pc.AreaHa
		area += pc.AreaHa
		for m := first; m < len(c.Months); m++ {
			kinds[kind][m] += pc.Grown[m] + pc.Closed[m]
		}
	}
	for i := range out {
		s := &out[i]
		best := slices.Max(kinds[s.Kind])
		for m := first; m < len(c.Months); m++ {
			s.Yield += kinds[s.Kind][m]
			if best > 0 && kinds[s.Kind][m] >= grown*best {
				s.Days += c.Months[m].Days()
			}
		}
		days, yield = days+s.Days, yield+s.Yield
		s.PerDay = s.Yield / math.Max(1e-9, s.Area*s.Days)
	}
	for i := range out {
		out[i].Area, out[i].Days, out[i].Yield = out[i].Area/max(area, 1e-9), out[i].Days/max(days, 1e-9), out[i].Yield/max(yield, 1e-9)
	}
	return out
}
