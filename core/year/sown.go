package year

import (
	"fmt"
	"math"
	"slices"

	"fjell/core/grazing"
	"fjell/core/nutrient"
	"fjell/core/quantity"
	"fjell/core/reference"
)

// Suits tells whether an input is meant for ground in any of its months: for its sward, and of nitrogen for its clover, which makes its own.
func (pc Piece) Suits(in reference.Input) bool {
	return in.Suits(pc.Of) && slices.ContainsFunc(in.Apply, func(month int) bool { return pc.answers(in, month) > 0 })
}

// answers is the share of an input's yield that ground answers with in a month of the north: of nitrogen what its clover leaves of it.
func (pc Piece) answers(in reference.Input, month int) float64 {
	if in.Nitrogen == nil || resown(in) {
		return 1
	}
	return nutrient.Answers(pc.Legume, month)
}

// unsuited says why an input is not meant for ground.
func (pc Piece) unsuited(in reference.Input) string {
	if in.Suits(pc.Of) {
		return fmt.Sprintf("%s is not meant for %s then: legumes are %s of its sward, make their own nitrogen, and would stop if they were given it", in.Name, pc.Field, quantity.Said{Value: pc.Legume, Unit: quantity.Share})
	}
	return fmt.Sprintf("%s is not meant for %s, which grows on %s", in.Name, pc.Sward, pc.Field)
}

// resown tells whether an input takes the ground for a sward of its own.
func resown(in reference.Input) bool { return in.ActsOn == "new_sward" }

// empties tells whether an input leaves the ground empty when it is over.
func empties(in reference.Input) bool { return resown(in) && in.Life <= 1 }

// plough takes the old sward from ground that is sown anew: for good where an annual leaves it empty, else until the new sward feeds. It is what could have been eaten
// of it, kg DM. Ground that an annual before has left empty is sown first.
func (c *Case) plough(in reference.Input, o Option, before []Option, on, area float64) (eatable float64) {
	if !resown(in) {
		return 0
	}
	bare := 0.0
	for _, b := range before {
		if other, err := reference.Load().Input(b.Input); err == nil && b.Field == o.Field && empties(other) && c.lastOf(other, b.Month) < o.Month {
			bare = max(bare, orAll(b.AreaHa, area))
		}
	}
	share := min(1, max(0, on-bare)/max(area-bare, 1e-9))
	ready := c.Months[o.Month].From.AddDate(0, 0, int(in.Lead))
	for p := range c.Pieces {
		pc := &c.Pieces[p]
		if pc.FieldID != o.Field || share == 0 {
			continue
		}
		pc.Grown, pc.Closed = slices.Clone(pc.Grown), slices.Clone(pc.Closed)
		for m := o.Month; m < len(c.Months) && (empties(in) || c.Months[m].From.Before(ready)); m++ {
			eatable += pc.Grown[m] * share * pc.Harvest
			pc.Grown[m], pc.Closed[m] = pc.Grown[m]*(1-share), pc.Closed[m]*(1-share)
		}
	}
	return eatable
}

// orAll is an area, or all of it where none is said.
func orAll(on, area float64) float64 {
	if on == 0 {
		return area
	}
	return on
}

// oblige adds what an input obliges: its price sits with it, spread as its own is. What has no price is named, and its cost is not guessed.
func (c Case) oblige(done *Done, in reference.Input, o Option, on float64) error {
	for _, k := range o.Companions {
		if !slices.Contains(in.Obliges, k.Input) {
			return quantity.Refuse("companions", k.Input, "is not what %s obliges", in.Name)
		}
		if err := CheckPrice("companions", k.Price); err != nil {
			return err
		}
	}
	for _, id := range in.Obliges {
		with, err := reference.Load().Input(id)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(o.Companions, func(k Companion) bool { return k.Input == id && k.Price > 0 })
		if i < 0 {
			done.Lacks = append(done.Lacks, with.Name)
			done.Says = append(done.Says, grazing.Because("It obliges "+with.Name+", which has no price: that cost is not in it"))
			continue
		}
		done.Cost += on * o.Companions[i].Price * math.Min(c.years(o.Month), max(1, in.Life)) / max(1, with.Life)
		done.Says = append(done.Says, grazing.Because("It obliges "+with.Name+": that cost sits with it, and its yield is meant with it"))
	}
	return nil
}

// lastOf is the last month in which anything of an input stands, done in one.
func (c Case) lastOf(in reference.Input, done int) int {
	last := done
	for m, share := range c.landing(in, done) {
		if share > 0 {
			last = m
		}
	}
	return last
}

// heldTo is the last month in which what was done in one holds the ground against another input: an annual leaves nothing for what is done to a sward that stays.
func (c Case) heldTo(in reference.Input, done int, against reference.Input) int {
	if empties(in) && !resown(against) {
		return len(c.Months)
	}
	return c.lastOf(in, done)
}

// spokenFor refuses what would be counted twice: ground that a new sward takes is not grazed as the old one meanwhile, and an input works on the same ground
// once in its life.
func (c Case) spokenFor(in reference.Input, o Option, before []Option, on, area float64) error {
	for _, b := range before {
		if b.Field != o.Field || b.Input == "" {
			continue
		}
		if b.Input == Behind {
			b.Input = weeds
		}
		other, err := reference.Load().Input(b.Input)
		if err != nil || other.Kind == "buy" {
			continue
		}
		again := b.Input == in.ID && math.Abs(float64(b.Month-o.Month)) < 12*max(1, in.Life)
		meanwhile := (resown(in) || resown(other)) && o.Month <= c.heldTo(other, b.Month, in) && b.Month <= c.heldTo(in, o.Month, other)
		if !again && !meanwhile {
			continue
		}
		taken := orAll(b.AreaHa, area)
		if area -= taken; on > area+1e-3 {
			return quantity.Refuse("area_ha", on, "%s is spoken for: %s takes %s of it, which leaves %s", c.fieldName(o.Field), other.Name, quantity.Said{Value: taken, Unit: quantity.Hectare}, quantity.Said{Value: math.Round(100*max(0, area)) / 100, Unit: quantity.Hectare})
		}
	}
	return nil
}
