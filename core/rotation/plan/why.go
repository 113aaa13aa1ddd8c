package plan

import (
	"cmp"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"fjell/core/quantity"
)

// Instead is a paddock that could have been taken for a visit, with all else as it is, and by how much each part of the cost
// would have been higher.
type Instead struct {
	Paddock *string `json:"paddock"`
	More    Cost    `json:"more"`
	Not     string  `json:"not,omitempty"` // why it could not be taken at all
}

// Why is a planned visit with the parts of its own cost, the move included, and what else could have been done, the best first.
type Why struct {
	Visit   Visit     `json:"visit"`
	Cost    Cost      `json:"cost"`
	Instead []Instead `json:"instead"`
}

// Whys explains every planned visit of a plan, with so many of the best that could have been instead; with what cannot be after those
// that can, where there is room.
func Whys(p *Problem, visits []Visit, most int) ([]Why, error) {
	s, err := tables(p)
	if err != nil {
		return nil, err
	}
	st, err := s.followed(visits)
	if err != nil {
		return nil, err
	}
	return st.whys(most, func(Visit) bool { return true }), nil
}

// WhyOf explains the planned visit of a mob that begins at a moment, against every other place there is.
func WhyOf(p *Problem, visits []Visit, mob string, enter float64) (Why, error) {
	s, err := tables(p)
	if err != nil {
		return Why{}, err
	}
	st, err := s.followed(visits)
	if err != nil {
		return Why{}, err
	}
	whys := st.whys(len(p.Paddocks)+1, func(v Visit) bool { return v.Mob == mob && math.Abs(v.Enter-enter) <= sameMoment })
	if len(whys) > 0 {
		return whys[0], nil
	}
	return Why{}, quantity.Refuse("enter_day", enter, "no move of %s is planned for then", mob)
}

// whys explains those planned visits that are asked for.
func (st *state) whys(most int, asked func(Visit) bool) []Why {
	stays, cost := st.told()
	slices.SortStableFunc(stays, func(a, b stay) int { return cmp.Or(cmp.Compare(a.mob, b.mob), cmp.Compare(a.from, b.from)) })
	told := st.plan().Visits
	t := newTrial(st)
	var out []Why
	for i, v := range stays {
		if v.fact || !asked(told[i]) {
			continue
		}
		w := Why{Visit: told[i], Cost: v.cost}
		st.row(v.mob, v.from, v.from, &w.Cost)
		w.Cost.sum()
		w.Instead = t.instead(v, cost, most)
		out = append(out, w)
	}
	return out
}

// instead tries every other place for a visit.
func (t *trial) instead(v stay, cost Cost, most int) []Instead {
	var can, cannot []Instead
	for p := Off; p < t.paddocks; p++ {
		if p == v.pad {
			continue
		}
		in := Instead{}
		if p != Off {
			in.Paddock = &t.p.Paddocks[p].Key
		} else if !t.p.Mobs[v.mob].MayHold {
			continue
		}
		if in.Not = t.hindered(v, p); in.Not == "" && t.put(v.mob, v.from, v.to, int16(p)) {
			if _, taken := t.try(math.Inf(1)); taken {
				_, now := t.told()
				in.More = now.Less(cost)
				t.undo()
				can = append(can, in)
				continue
			}
			in.Not = "it cannot be put together with the rest of the plan"
		}
		t.cells = t.cells[:0]
		cannot = append(cannot, in)
	}
	slices.SortStableFunc(can, func(a, b Instead) int { return cmp.Compare(a.More.Total, b.More.Total) })
	all := append(can, cannot...)
	return all[:min(len(all), most)]
}

// hindered says what keeps a visit from being in another place; empty where nothing does.
func (t *trial) hindered(v stay, p int) string {
	if leader := t.follows[v.mob]; leader >= 0 {
		return "they go where " + t.p.Mobs[leader].Key + " were"
	}
	for s := v.from; s < v.to; s++ {
		if !t.free[v.mob*t.slots+s] {
			return "this visit is pinned"
		}
		if p == Off {
			continue
		}
		if t.barred[v.mob*t.paddocks+p] || t.closed[p*t.slots+s] {
			return t.why(v.mob, p, s)
		}
		if other := int(t.occ[p*t.slots+s]); other != 0 {
			return t.p.Mobs[other-1].Key + " are there then"
		}
	}
	return ""
}

// Less is what a cost is more than another, part by part.
func (c Cost) Less(o Cost) Cost {
	d := Cost{Short: c.Short - o.Short, BelowResidual: c.BelowResidual - o.BelowResidual, Early: c.Early - o.Early, Late: c.Late - o.Late, Rest: c.Rest - o.Rest,
		Stay: c.Stay - o.Stay, Move: c.Move - o.Move, Distance: c.Distance - o.Distance, Feed: c.Feed - o.Feed, End: c.End - o.End, Reserve: c.Reserve - o.Reserve,
		Many: c.Many - o.Many}
	d.sum()
	return d
}

// Part is a part of a cost by its name in words.
type Part struct {
	Name string
	Kg   float64
}

// lessAtEnd is what a difference says of what stands at the end where that costs: less of it.
const lessAtEnd = "less standing at the end"

// Parts are the parts of a cost that count, the largest first.
func (c Cost) Parts() []Part {
	list := []Part{{"short of feed", c.Short}, {"below the residual", c.BelowResidual}, {"early", c.Early}, {"past its best", c.Late}, {"too little rest", c.Rest},
		{"too long a stay", c.Stay}, {"moves", c.Move}, {"distance", c.Distance}, {"feeding", c.Feed}, {"out of the reserve", c.Reserve}, {"too many moves on a day", c.Many}, {"standing at the end", c.End}}
	if c.End > 0 {
		list[len(list)-1].Name = lessAtEnd
	}
	slices.SortStableFunc(list, func(a, b Part) int { return cmp.Compare(math.Abs(b.Kg), math.Abs(a.Kg)) })
	return slices.DeleteFunc(list, func(p Part) bool { return math.Abs(p.Kg) < 0.5 })
}

// parts says them.
func (c Cost) parts() string {
	var said []string
	for _, p := range c.Parts() {
		said = append(said, fmt.Sprintf("%s %.0f", p.Name, p.Kg))
	}
	if len(said) == 0 {
		return "nothing"
	}
	return strings.Join(said, ", ")
}

// Explain says a plan in sentences: what it costs, how good that is, and why each move is as it is.
func Explain(w io.Writer, p *Problem, plan Plan) error {
	whys, err := Whys(p, plan.Visits, 2)
	if err != nil {
		return err
	}
	var b strings.Builder
	fmt.Fprintf(&b, "This plan costs %.0f kg DM: %s.\n", plan.Cost.Total, plan.Cost.parts())
	switch spare := plan.Cost.Total - plan.Bound; {
	case spare < 0.5:
		fmt.Fprintf(&b, "No plan is cheaper: all of them were gone through.\n")
	default:
		fmt.Fprintf(&b, "No plan can spare more than %.0f kg over this one.\n", spare)
	}
	if !plan.Finished {
		fmt.Fprintf(&b, "The search was stopped by its limit of %g seconds.\n", p.Seconds)
	}
	if r := plan.Risk; r != nil {
		fmt.Fprintf(&b, "In %.0f of 100 futures somebody is short", 100*r.ShortChance)
		if r.FirstShort != nil {
			fmt.Fprintf(&b, ", from day %d on", *r.FirstShort)
		}
		b.WriteString(".\n")
	}
	mob := ""
	for _, y := range whys {
		v := y.Visit
		if v.Mob != mob {
			mob = v.Mob
			fmt.Fprintf(&b, "\n%s\n", mob)
		}
		fmt.Fprintf(&b, "  %s to %s, %s", moment(v.Enter), moment(v.Leave), place(v.Paddock))
		if v.Paddock != nil {
			fmt.Fprintf(&b, ": %.0f kg/ha down to %.0f", v.MassIn, v.MassOut)
			if v.Rest != nil {
				fmt.Fprintf(&b, ", rested %.1f days", *v.Rest)
			}
		}
		if v.Pinned {
			b.WriteString(", pinned")
		}
		fmt.Fprintf(&b, ". Costs %.0f: %s.", y.Cost.Total, y.Cost.parts())
		for _, in := range y.Instead {
			if in.Not != "" {
				fmt.Fprintf(&b, " Not %s: %s.", place(in.Paddock), in.Not)
				continue
			}
			fmt.Fprintf(&b, " Instead %s: %+.0f (%s).", place(in.Paddock), in.More.Total, in.More.parts())
		}
		b.WriteString("\n")
	}
	_, err = io.WriteString(w, b.String())
	return err
}

func place(key *string) string {
	if key == nil {
		return "held off the pasture"
	}
	return *key
}

// moment says a time as a day and a clock.
func moment(at float64) string {
	day := math.Floor(at + sameMoment)
	minutes := int(math.Round((at - day) * 24 * 60))
	return fmt.Sprintf("day %.0f %02d:%02d", day, minutes/60, minutes%60)
}
