package year

import (
	"fmt"
	"math"
	"slices"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// Option is something that may be done about a year: an input of the reference in a month, on a field where it is for ground, or more or fewer head.
type Option struct {
	Input  string  `json:"input,omitempty" doc:"the id of an input of the reference; rent: ground of somebody else's; divide: a field in more parts; top: a field is topped; behind: sheep or goats follow on it; wean: young leave their mothers; left out: head come or go"`
	Field  string  `json:"field_id,omitempty" doc:"of what is done to ground"`
	Month  int     `json:"month" minimum:"0" doc:"in which it is done, counted from this one"`
	AreaHa float64 `json:"area_ha,omitempty" doc:"left out: all of the field"`
	Tonnes float64 `json:"tonnes,omitempty" doc:"of what is bought, as it is delivered"`
	Group  int     `json:"group,omitempty" minimum:"0" doc:"whose head come or go, or whose young are weaned"`
	Head   float64 `json:"head,omitempty" doc:"that come, or come behind; below 0: that go; of weaning: young that go at once, above 0"`
	Class  string  `json:"class,omitempty" doc:"of those that come behind: the id of a class of sheep or goats"`
	Loss   float64 `json:"loss_share,omitempty" minimum:"0" doc:"of bought feed, between delivery and mouth; left out: as is usual of it"`
	Price  float64 `json:"price,omitempty" doc:"a hectare, a tonne as it is delivered, or a head (below 0: it brings in), in the farm's money"`
	Months int     `json:"months,omitempty" minimum:"0" doc:"for which ground is rented, or others come behind; left out: to the end"`
	Yield  float64 `json:"yield_t_ha,omitempty" minimum:"0" doc:"of rented ground in a year; left out: as the farm's own"`
	Share  float64 `json:"share,omitempty" minimum:"0" doc:"of what grows that is eaten, once a field is divided further or topped; of what those behind eat, the grass that the others would have eaten"`
	Hours  float64 `json:"hours,omitempty" minimum:"0" doc:"of somebody's work, over the months looked at"`
	Anyway bool    `json:"anyway,omitempty" doc:"do it although it is not meant for that ground"`

	Companions []Companion `json:"companions,omitempty" doc:"what it obliges, each at its price: their cost sits with it"`
}

// Companion is an input that another obliges, and its price a hectare; without one its cost is not known.
type Companion struct {
	Input string  `json:"input"`
	Price float64 `json:"price,omitempty" minimum:"0"`
}

// Done is what an option does by itself.
type Done struct {
	Name    string
	Says    []grazing.Reason
	Caution string
	Extra   float64   // kg DM more that stock could swallow of it, over the months looked at
	By      []float64 // the same, month by month, in an ordinary year
	Grows   bool      // it strays with the weather
	Cost    float64   // in the farm's money, of the months looked at: what lasts for years is spread over them, and what it obliges sits with it
	Lacks   []string  // what it obliges and nobody gave a price for
	Arrives *time.Time
}

// Refused is an option that is not meant for its ground: it can be done anyway.
type Refused struct{ Problem quantity.Problem }

func (r *Refused) Error() string { return r.Problem.Error() }

// mostOptions is how many may be tried at once.
const mostOptions = 20

// With is a case with options done, and what each does by itself; the case it began from stays as it is.
func (c Case) With(options []Option) (Case, []Done, error) {
	if len(options) > mostOptions {
		return c, nil, quantity.Refuse("options", len(options), "at most %d at once", mostOptions)
	}
	return c.with(options)
}

func (c Case) with(options []Option) (Case, []Done, error) {
	c.Pieces, c.Groups = slices.Clone(c.Pieces), slices.Clone(c.Groups)
	c.Bought = append(make([]float64, 0, len(c.Months)), c.Bought...)
	c.Bought = append(c.Bought, make([]float64, len(c.Months)-len(c.Bought))...)
	var out []Done
	for i, o := range options {
		done, err := c.do(o, options[:i])
		if err != nil {
			var problem *quantity.Problem
			switch e := err.(type) {
			case *quantity.Problem:
				problem = e
			case *Refused:
				problem = &e.Problem
			}
			if problem != nil {
				problem.Field = fmt.Sprintf("options[%d].%s", i, problem.Field)
			}
			return c, nil, err
		}
		out = append(out, done)
	}
	return c, out, nil
}

func (c *Case) do(o Option, before []Option) (Done, error) {
	if o.Month < 0 || o.Month >= len(c.Months) {
		return Done{}, quantity.Refuse("month", o.Month, "must be 0 to %d", len(c.Months)-1)
	}
	if math.IsNaN(o.Price) || math.Abs(o.Price) > 1e7 {
		return Done{}, quantity.Refuse("price", o.Price, "is no price")
	}
	switch o.Input {
	case "":
		return c.head(o)
	case Rent:
		return c.rent(o)
	case Division, Topping:
		return c.eatMore(o, before)
	case Behind:
		return c.behind(o, before)
	case Weaning:
		return c.wean(o, before)
	}
	in, err := reference.Load().Input(o.Input)
	if err != nil {
		return Done{}, err
	}
	if !slices.Contains(in.Apply, c.north(o.Month)) {
		return Done{}, quantity.Refuse("month", o.Month, "%s is not done in %s", in.Name, c.Months[o.Month].From.Month())
	}
	if in.Kind == "buy" {
		return c.buy(in, o)
	}
	return c.onGround(in, o, before)
}

// north is the calendar month of a month, as it would be in the north.
func (c Case) north(m int) int {
	month := int(c.Months[m].From.Month())
	if c.Southern {
		month = (month+5)%12 + 1
	}
	return month
}

func (c *Case) buy(in reference.Input, o Option) (Done, error) {
	if !(o.Tonnes > 0 && o.Tonnes <= 1e5) {
		return Done{}, quantity.Refuse("tonnes", o.Tonnes, "say how many tonnes are delivered, up to 100 000")
	}
	if o.Loss != 0 {
		if !(o.Loss >= 0.01 && o.Loss <= 0.6) {
			return Done{}, quantity.Refuse("loss_share", quantity.Said{Value: o.Loss, Unit: quantity.Share}, "must be 1 to 60 %%, or left out: as is usual of it")
		}
		in.Eaten = 1 - o.Loss
	}
	swallowed := o.Tonnes * 1000 * in.DryShare * in.Eaten
	c.Bought[o.Month] += swallowed / (1 - c.FeedLoss) // what falls under the trough is taken where it is fed
	by := make([]float64, len(c.Months))
	by[o.Month] = swallowed
	return Done{Name: in.Name, Caution: in.Caution, Extra: swallowed, By: by, Cost: o.Tonnes * o.Price, Arrives: &c.Months[o.Month].From, Says: []grazing.Reason{
		grazing.Because("{t} delivered, of which {s} of dry matter is swallowed: {l} of it is lost on the way to the mouth, and no other loss is taken", working.T("t", "delivered", o.Tonnes*1000, quantity.Fodder), working.T("s", "swallowed", swallowed, quantity.Fodder), working.T("l", "lost between delivery and mouth", 1-in.Eaten, quantity.Share))}}, nil
}

// onGround grows more on a field, or carries its feed into other months. What it grows is ground of its own: its share that is eaten is the option's.
func (c *Case) onGround(in reference.Input, o Option, before []Option) (Done, error) {
	first, area, suits, answers := -1, 0.0, true, 0.0
	for p, pc := range c.Pieces {
		if pc.FieldID != o.Field || pc.FieldID == "" {
			continue
		}
		if first < 0 {
			first = p
		}
		answers += pc.AreaHa * pc.answers(in, c.north(o.Month))
		area, suits = area+pc.AreaHa, suits && in.Suits(pc.Of) && pc.answers(in, c.north(o.Month)) > 0
	}
	if first < 0 {
		return Done{}, quantity.Refuse("field_id", o.Field, "is no field that is grazed")
	}
	field := c.Pieces[first]
	answers /= max(area, 1e-9)
	if !suits && !o.Anyway {
		return Done{}, &Refused{quantity.Problem{Field: "field_id", Message: field.unsuited(in)}}
	}
	on := area
	if o.AreaHa != 0 {
		if on = o.AreaHa; on < 0 || on > 1.001*area {
			return Done{}, quantity.Refuse("area_ha", on, "%s has %s", field.Field, quantity.Said{Value: area, Unit: quantity.Hectare})
		}
	}
	if err := c.spokenFor(in, o, before, on, area); err != nil {
		return Done{}, err
	}
	n := len(c.Months)
	old := c.plough(in, o, before, on, area)
	extra := Piece{Field: field.Field, Sward: in.Name, AreaHa: 0, Of: field.Of, Grown: make([]float64, n), Closed: make([]float64, n), Cut: make([]bool, n), Opens: make([]bool, n), Harvest: in.Eaten, Loss: field.Loss}
	yield := in.Extra.Typical * 1000 * on * answers
	if in.Kind == "move" {
		yield = c.give(in, o, yield)
	}
	done := Done{Name: in.Name, Caution: in.Caution, By: make([]float64, n), Grows: true, Cost: on * o.Price * math.Min(1, c.years(o.Month)/max(1, in.Life))}
	if err := c.oblige(&done, in, o, on); err != nil {
		return Done{}, err
	}
	for m, share := range c.landing(in, o.Month) {
		if share == 0 {
			continue
		}
		extra.Grown[m] = yield * share
		extra.Best = max(extra.Best, extra.Grown[m])
		done.By[m] = extra.Grown[m] * in.Eaten
		done.Extra += done.By[m]
		if done.Arrives == nil {
			done.Arrives = &c.Months[m].From
		}
	}
	extra.Keeps = yield
	for g := range c.Groups {
		if slices.Contains(c.Groups[g].Pieces, first) {
			c.Groups[g].Pieces = append(slices.Clone(c.Groups[g].Pieces), len(c.Pieces))
			break
		}
	}
	c.Pieces = append(c.Pieces, extra)
	if answers < 1 {
		done.Says = append(done.Says, grazing.Because("Clover makes nitrogen of its own there: it answers with {a} of what it would", working.T("a", "of its yield, for the clover", answers, quantity.Share)))
	}
	text := "{A} of " + field.Field + ": {e} more that can be swallowed in these months"
	if done.Arrives == nil {
		text = "{A} of " + field.Field + ": nothing of it comes in these months; it needs {l}"
	}
	done.Says = append(done.Says, grazing.Because(text, working.T("A", "done on", on, quantity.Hectare), working.T("e", "swallowed more", done.Extra, quantity.Fodder), working.T("l", "from doing it to feed", in.Lead, quantity.Day)))
	if last := c.lastOf(in, o.Month); resown(in) && in.Life <= 1 && done.Arrives != nil {
		done.Says = append(done.Says, grazing.Because("After "+c.Months[last].From.Month().String()+" the ground is empty: what it does then is a card of its own"))
	}
	if old > 0 {
		done.Says = append(done.Says, grazing.Because("The old sward goes with it: {o} that could have been eaten of it in these months do not grow", working.T("o", "of the old sward, to be eaten", old, quantity.Fodder)))
	}
	return done, nil
}

func (c Case) fieldName(id string) string {
	for _, pc := range c.Pieces {
		if pc.FieldID == id {
			return pc.Field
		}
	}
	return id
}

// years is how much of the months looked at lies after one, in years.
func (c Case) years(m int) float64 {
	return c.Months[len(c.Months)-1].Until.Sub(c.Months[m].From).Hours() / 24 / 365.25
}

// landing is the part of a year's extra feed that lands in each month: in each season of its life, from the first on in which any of it comes in time. What
// would land before there was time to grow it is lost.
func (c Case) landing(in reference.Input, done int) []float64 {
	out := make([]float64, len(c.Months))
	ready := c.Months[done].From.AddDate(0, 0, int(in.Lead))
	begin := done
	for begin < len(c.Months) && c.north(begin) != in.Lands[0] {
		begin++
	}
	life := math.Max(1, in.Life)
	for season := 0.0; begin < len(c.Months) && season < life; begin += 12 {
		came := false
		for k, month := range in.Lands {
			m := begin + (month-in.Lands[0]+12)%12
			if m >= len(c.Months) {
				came = true // the season goes on beyond what is looked at
				continue
			}
			if c.Months[m].Until.After(ready) {
				out[m] += in.Shares[k]
				came = true
			}
		}
		if came {
			season++
		}
	}
	return out
}

// give takes what is carried over from the months in which it grows, no more than grows there, and is what is carried, kg DM.
func (c *Case) give(in reference.Input, o Option, mass float64) (carried float64) {
	for k, month := range in.Takes {
		m := o.Month
		for m < len(c.Months) && c.north(m) != month {
			m++
		}
		if m >= len(c.Months) {
			continue
		}
		wants, grows := mass*in.Taken[k], 0.0
		for _, pc := range c.Pieces {
			if pc.FieldID == o.Field {
				grows += pc.Grown[m]
			}
		}
		taken := math.Min(wants, grows)
		for p := range c.Pieces {
			if pc := &c.Pieces[p]; pc.FieldID == o.Field && grows > 0 {
				pc.Grown = slices.Clone(pc.Grown)
				pc.Grown[m] -= taken * pc.Grown[m] / grows
			}
		}
		carried += taken
	}
	return carried
}
