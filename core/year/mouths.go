package year

import (
	"math"
	"slices"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// Options of those who eat.
const (
	Weaning = "wean"   // young leave their mothers before they would
	Behind  = "behind" // sheep or goats follow on a field, for weeds and browse
)

// Suckled is a month of the young at foot of a group: how many there are, and what they and the milk for them take, kg DM.
type Suckled struct {
	Head   float64 // mean of the month
	Milk   float64 // that their mothers eat beyond what they would eat dry
	Eats   float64 // that they eat themselves
	Weaned float64 // that they would eat without milk
	Gone   float64 // head that have gone by weaning earlier
}

// own makes the series of a group its own, so that they can be changed.
func (g *Group) own() {
	g.Pasture, g.Indoors, g.Head = slices.Clone(g.Pasture), slices.Clone(g.Indoors), slices.Clone(g.Head)
	g.Suckled = append(make([]Suckled, 0, len(g.Head)), g.Suckled...)
	g.Suckled = append(g.Suckled, make([]Suckled, len(g.Head)-len(g.Suckled))...)
}

func (c *Case) head(o Option) (Done, error) {
	if o.Group >= len(c.Groups) || o.Group < 0 {
		return Done{}, quantity.Refuse("group", o.Group, "is no group of mobs")
	}
	g := &c.Groups[o.Group]
	there := g.Head[o.Month]
	if o.Head == 0 || -o.Head > there || o.Head > 1e5 {
		return Done{}, quantity.Refuse("head", o.Head, "say how many come or go: there are %.0f then", there)
	}
	if there <= 0 {
		return Done{}, quantity.Refuse("head", o.Head, "nobody of %s is there then, so that what one more of them eats is not known", g.Name)
	}
	g.own()
	// Those that go are mixed as the group is, young that a card before has sold counted in.
	change := 1 + o.Head/(there+g.Suckled[o.Month].Gone)
	spared, by := 0.0, make([]float64, len(c.Months))
	for m := o.Month; m < len(c.Months); m++ {
		by[m] = (g.Pasture[m] + g.Indoors[m]) * (1 - change)
		spared += by[m]
		for _, series := range []*float64{&g.Pasture[m], &g.Indoors[m], &g.Head[m], &g.Suckled[m].Head, &g.Suckled[m].Milk, &g.Suckled[m].Eats, &g.Suckled[m].Weaned, &g.Suckled[m].Gone} {
			*series *= change
		}
	}
	text := "{n} of " + g.Name + " go: {s} less is wanted"
	if o.Head > 0 {
		text = "{n} come to " + g.Name + ": {s} more is wanted"
	}
	return Done{Name: "Head of " + g.Name, Extra: spared, By: by, Cost: math.Abs(o.Head) * o.Price, Arrives: &c.Months[o.Month].From, Says: []grazing.Reason{
		grazing.Because(text, working.T("n", "head", math.Abs(o.Head), quantity.Head), working.T("s", "wanted in these months", math.Abs(spared), quantity.Fodder))}}, nil
}

// wean takes young from their mothers in a month, as long as they would have been with them. Mothers eat as dry ones then. Young that stay eat more, for the milk they
// lack; those that go eat nothing, up to the day on which they would have been weaned: from then on they are head of their own.
func (c *Case) wean(o Option, before []Option) (Done, error) {
	if o.Group < 0 || o.Group >= len(c.Groups) {
		return Done{}, quantity.Refuse("group", o.Group, "is no group of mobs")
	}
	for _, b := range before {
		if b.Input == Weaning && b.Group == o.Group {
			return Done{}, quantity.Refuse("group", o.Group, "their young are weaned by another card already")
		}
	}
	g := &c.Groups[o.Group]
	g.own()
	first := g.Suckled[o.Month]
	if first.Head < 0.5 {
		return Done{}, quantity.Refuse("month", o.Month, "no young are with their mothers in %s then", g.Name)
	}
	if !(o.Head >= 0 && o.Head <= math.Round(first.Head)) {
		return Done{}, quantity.Refuse("head", o.Head, "say how many of the young go at once: 0 to %.0f", first.Head)
	}
	goes := min(1, o.Head/first.Head)
	done := Done{Name: "Weaning earlier", By: make([]float64, len(c.Months)), Cost: o.Head * o.Price, Arrives: &c.Months[o.Month].From,
		Caution: "Young that are weaned early need better feed than grass alone, a dry and quiet place, and somebody who looks twice a day; very young ones need milk. Fences hold worse for a week. Agree on it with your vet, mothers' udders too."}
	milk, more := 0.0, 0.0
	for m := o.Month; m < len(c.Months) && g.Suckled[m].Head > 0; m++ {
		s := &g.Suckled[m]
		spared := s.Milk + goes*s.Eats - (1-goes)*max(0, s.Weaned-s.Eats)
		milk, more = milk+s.Milk, more+(1-goes)*max(0, s.Weaned-s.Eats)
		spared = min(spared, g.Pasture[m]+g.Indoors[m])
		done.By[m], done.Extra = spared, done.Extra+spared
		if all := g.Pasture[m] + g.Indoors[m]; all > 0 {
			g.Pasture[m], g.Indoors[m] = g.Pasture[m]*(1-spared/all), g.Indoors[m]*(1-spared/all)
		}
		g.Head[m] -= goes * s.Head
		*s = Suckled{Gone: goes * s.Head}
	}
	done.Says = []grazing.Reason{grazing.Because("Mothers without milk want {m} less until their young would have been weaned; young that stay want {y} more for the milk they lack: {s} less in all",
		working.T("m", "for milk", milk, quantity.Fodder), working.T("y", "without milk", more, quantity.Fodder), working.T("s", "spared", done.Extra, quantity.Fodder))}
	if o.Head > 0 {
		done.Says = append(done.Says, grazing.Because("{n} young go at once; what they would have eaten after they would have been weaned is a card of its own: head that go", working.T("n", "young that go", o.Head, quantity.Head)))
	}
	return done, nil
}

// weeds is the input whose ground those that come behind free.
const weeds = "broadleaf_weed_control"

// behind lets sheep or goats follow on a field: what weeds and browse leave free grows as after weed control, and they eat some of the grass beside.
func (c *Case) behind(o Option, before []Option) (Done, error) {
	in, err := reference.Load().Input(weeds)
	if err != nil {
		return Done{}, err
	}
	class, err := reference.Load().Class(o.Class)
	switch {
	case err != nil || class.Species != "sheep" && class.Species != "goats":
		return Done{}, quantity.Refuse("class", o.Class, "must be a class of sheep or goats")
	case !(o.Head >= 1 && o.Head <= 1e4):
		return Done{}, quantity.Refuse("head", o.Head, "say how many come behind, 1 to 10 000")
	case !(o.Share > 0 && o.Share <= 1):
		return Done{}, quantity.Refuse("share", quantity.Said{Value: o.Share, Unit: quantity.Share}, "say how much of what they eat is the grass that the others would have eaten, 1 to 100 %%")
	case o.Months < 0 || o.Months > len(c.Months):
		return Done{}, quantity.Refuse("months", o.Months, "must be 1 to %d, or left out: to the end", len(c.Months))
	}
	ground := o
	ground.Price, ground.Companions = 0, nil
	done, err := c.onGround(in, ground, before)
	if err != nil {
		return Done{}, err
	}
	last := len(c.Months)
	if o.Months > 0 {
		last = min(last, o.Month+o.Months)
	}
	followers := Group{Name: class.Name + " behind", Pasture: make([]float64, len(c.Months)), Indoors: make([]float64, len(c.Months)), Head: make([]float64, len(c.Months))}
	each := class.LiveWeight.Typical * class.IntakeShare.Typical
	grass := 0.0
	for m := o.Month; m < last; m++ {
		followers.Pasture[m] = o.Head * each * o.Share * c.Months[m].Days()
		grass += followers.Pasture[m]
	}
	for _, g := range c.Groups {
		if slices.ContainsFunc(g.Pieces, func(p int) bool { return c.Pieces[p].FieldID == o.Field }) {
			followers.Pieces = g.Pieces
			c.Groups = append(c.Groups, followers)
			break
		}
	}
	c.Pieces[len(c.Pieces)-1].Sward = "Where weeds stood"
	done.Name, done.Cost, done.Extra = followers.Name, o.Head*o.Price, done.Extra-grass
	done.Caution = "Goats and sheep need fences of their own, and a shed or shelter in rain; some weeds and trees kill, wilted ones more: know what grows there first. Worms are shared between sheep and goats, copper in cattle feed kills sheep. Ask your vet before species meet."
	done.Says = []grazing.Reason{grazing.Because("What weeds and browse leave free grows {e} that can be eaten, if there are any; beside them they eat {g} of the grass", working.T("e", "grows where weeds stood", done.Extra+grass, quantity.Fodder), working.T("g", "grass they eat", grass, quantity.Fodder))}
	return done, nil
}
