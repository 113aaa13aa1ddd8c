package queue

import (
	"math"
	"slices"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// eaten is the part of what classes eat on a day that so many of so many head do, kg DM.
func eaten(of []Class, day int, count, there float64) (kg float64) {
	for _, class := range of {
		kg += class.Demand.On(day) * count / there
	}
	return kg
}

// other is another mob of the farm, by its id.
func (c *Case) other(field, id string, m int) (int, error) {
	o := slices.IndexFunc(c.Mobs, func(mob rotation.Mob) bool { return mob.ID == id })
	if o < 0 || o == m {
		return 0, quantity.Refuse(field, id, "must be another mob of this farm")
	}
	return o, nil
}

// join lets a mob go with another from now on: one gate instead of two, and one bite for all of them.
func (c *Case) join(l Lever, m int) (Effect, error) {
	into, err := c.other("into_mob_id", l.Into, m)
	if err != nil {
		return Effect{}, err
	}
	c.known(into)
	mob, with := &c.Mobs[m], &c.Mobs[into]
	added := 0.0
	for k := range with.Demand.Values {
		eats := mob.Demand.On(with.Demand.First + k)
		with.Demand.Values[k] += eats
		if with.Demand.First+k <= rotation.DayNumber(c.Until(), c.Farm.Location) {
			added += eats
		}
	}
	c.Classes = slices.Clone(c.Classes)
	c.Classes[into] = slices.Concat(c.Classes[into], c.Classes[m])
	c.Classes[m], mob.Demand, mob.In = nil, rotation.Steady(0), rotation.Nowhere
	mob.Ground = make([]bool, len(mob.Ground))
	c.Pins = slices.DeleteFunc(slices.Clone(c.Pins), func(p rotation.Pin) bool { return p.Mob == m })
	c.Moves = nil // what a search found was found for two mobs
	effect := Effect{Says: []grazing.Reason{grazing.Because(mob.Name+" go with "+with.Name+", who take {k} more in these weeks", working.T("k", "more in these weeks", added, quantity.Kilogram))}}
	effect.Warns = append(effect.Warns, grazing.Because("stock that meet for the first time fight, and bring their worms and diseases along: in daylight, on plenty of room, and after a word with the vet"))
	return effect, nil
}

// split lets some of a mob go on by themselves from now on, over the same ground.
func (c *Case) split(l Lever, m int, of []Class, there float64) (Effect, error) {
	if l.Count >= there {
		return Effect{}, quantity.Refuse("count", l.Count, "some go and some stay: there are %.0f of them", there)
	}
	mob := &c.Mobs[m]
	part := *mob
	part.ID, part.Name, part.In, part.Follows = "", "those of "+mob.Name+" that split off", rotation.Nowhere, ""
	part.Limits, part.Ground = slices.Clone(mob.Limits), slices.Clone(mob.Ground)
	part.Demand = rotation.Daily{First: mob.Demand.First, Values: make([]float64, len(mob.Demand.Values))}
	for k := range mob.Demand.Values {
		eats := math.Min(mob.Demand.Values[k], eaten(of, mob.Demand.First+k, l.Count, there))
		mob.Demand.Values[k], part.Demand.Values[k] = mob.Demand.Values[k]-eats, eats
	}
	c.Of = append(slices.Clone(c.Of), len(c.Mobs))
	c.Mobs = append(c.Mobs, part)
	var theirs, ours []Class
	for _, class := range c.Classes[m] {
		if gone := class.Head * l.Count / there; l.Class == "" || class.ID == l.Class {
			went := class
			went.Head, went.Demand = gone, scaled(class.Demand, gone/class.Head)
			theirs = append(theirs, went)
			class.Demand, class.Head = scaled(class.Demand, 1-gone/class.Head), class.Head-gone
		}
		ours = append(ours, class)
	}
	c.Classes = append(slices.Clone(c.Classes), theirs)
	c.Classes[m] = ours
	c.Moves = nil // what a search found was found for one mob
	return Effect{Says: []grazing.Reason{grazing.Because("{n} of "+mob.Name+" go round by themselves, on the same ground: more gates, smaller bites", working.T("n", "head", l.Count, quantity.Head))}}, nil
}

// scaled is a series of which each day is so many times what it was.
func scaled(d rotation.Daily, by float64) rotation.Daily {
	out := rotation.Daily{First: d.First, Values: slices.Clone(d.Values)}
	for k := range out.Values {
		out.Values[k] *= by
	}
	return out
}

// wean takes young off their mothers from a day on: off the grass, or to another mob.
func (c *Case) wean(l Lever, m int, of []Class, there float64, first int) (Effect, error) {
	into := rotation.Nowhere
	if l.Into != "" {
		var err error
		if into, err = c.other("into_mob_id", l.Into, m); err != nil {
			return Effect{}, err
		}
		c.known(into)
	}
	if l.Class == "" {
		return Effect{}, quantity.Refuse("class_id", nil, "say which class is weaned")
	}
	mob := &c.Mobs[m]
	spared := 0.0
	for k := max(0, first-mob.Demand.First); k < len(mob.Demand.Values); k++ {
		eats := math.Min(mob.Demand.Values[k], eaten(of, mob.Demand.First+k, there, there))
		mob.Demand.Values[k] -= eats
		if mob.Demand.First+k <= rotation.DayNumber(c.Until(), c.Farm.Location) {
			spared += eats
		}
		if into != rotation.Nowhere {
			theirs := &c.Mobs[into].Demand
			if i := mob.Demand.First + k - theirs.First; i >= 0 && i < len(theirs.Values) {
				theirs.Values[i] += eats
			}
		}
	}
	text := "{n} leave " + mob.Name + " for feed off the grass: {s} of pasture less in these weeks"
	if into != rotation.Nowhere {
		text = "{n} leave " + mob.Name + " for " + c.Mobs[into].Name + ", and eat {s} there in these weeks"
	}
	effect := Effect{Units: there, Says: []grazing.Reason{grazing.Because(text, working.T("n", "head", there, quantity.Head), working.T("s", "of pasture", spared, quantity.Kilogram))}}
	effect.Says = append(effect.Says, grazing.Because("their mothers eat less when they give no milk; that is not counted here until it is on record"))
	return effect, nil
}
