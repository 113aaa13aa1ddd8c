package queue

import (
	"fmt"
	"math"
	"strings"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/core/rotation"
	"fjell/core/working"
)

// Seen is what the words of a week rest on, beside the week itself.
type Seen struct {
	Growth    *float64 // measured, kg DM/ha/day; nil: not known
	BreakEven *float64 // kg DM/ha/day
	Gaps      []Gap
}

// even is the share by which growth and break-even may differ and still keep pace. Assumption, ours.
const even = 0.1

// Say is a week in words: what happened, what is coming, when it bites and where. Every sentence rests on figures of the week.
func Say(c Case, w Week, seen Seen) []grazing.Reason {
	var out []grazing.Reason
	if len(w.Rows) == 0 {
		return append(out, grazing.Because("No open paddock is in this round"))
	}
	if w.Demand == 0 {
		return append(out, grazing.Because("Nothing eats here now: there is no target to stand at"))
	}
	if seen.Growth != nil && seen.BreakEven != nil {
		g, b := working.T("g", "growth", *seen.Growth, quantity.Growth), working.T("b", "break-even growth", *seen.BreakEven, quantity.Growth)
		switch {
		case *seen.Growth > *seen.BreakEven*(1+even):
			out = append(out, grazing.Because("Growth of {g} beats the {b} that they take", g, b))
		case *seen.Growth < *seen.BreakEven*(1-even):
			out = append(out, grazing.Because("Growth of {g} falls short of the {b} that they take", g, b))
		default:
			out = append(out, grazing.Because("Growth of {g} keeps pace with the {b} that they take", g, b))
		}
	}
	var old []int
	for _, r := range w.Rows {
		if !r.Grazed && r.TooOld > 0 && c.Standing[r.Paddock].Mass > r.TooOld {
			old = append(old, r.Paddock)
		}
	}
	switch len(old) {
	case 0:
	case 1:
		out = append(out, grazing.Because(c.names(old)+" is past its best"))
	default:
		out = append(out, grazing.Because(c.names(old)+" are past their best"))
	}
	for i, g := range seen.Gaps {
		d := working.T("d", "days of feed missing", g.Days, quantity.Day)
		when := fmt.Sprintf("in the week of %s", day(monday(g.From, c.Farm.Location), c.Farm.Location))
		if g.From.Sub(c.Now) < 24*time.Hour {
			when = "now"
		}
		text := "A gap of about {d} opens " + when
		if i > 0 {
			text = "Another of {d} opens " + when
		}
		if len(g.Paddocks) > 0 {
			text += ", when " + c.names(g.Paddocks) + plural(len(g.Paddocks), " comes up", " come up")
		}
		if out = append(out, grazing.Because(text, d)); i == 1 {
			break // those after it are not known well enough to be told
		}
	}
	if len(seen.Gaps) == 0 {
		out = append(out, grazing.Because(fmt.Sprintf("No gap opens in the next %d weeks", Weeks)))
	}
	if days := math.Abs(w.Balance) / w.Demand; w.Entry != nil && days >= 1 {
		n := working.T("n", "days of feed", days, quantity.Day)
		if w.Balance > 0 {
			out = append(out, grazing.Because("Together the paddocks stand {n} of feed above their marks: there is something to spare", n))
		} else {
			out = append(out, grazing.Because("Together the paddocks stand {n} of feed below their marks", n))
		}
	}
	if w.Length != nil && w.Advised != nil && math.Abs(w.Length.Value-w.Advised.Value) > 0.15*w.Length.Value {
		now, so := working.T("l", "rotation now", w.Length.Value, quantity.Day), working.T("a", "rotation advised", w.Advised.Value, quantity.Day)
		if w.Advised.Value > w.Length.Value {
			out = append(out, grazing.Because("Growth asks for a round of {a}, you go round in {l}: slow down", so, now))
		} else {
			out = append(out, grazing.Because("Growth would bear a round of {a}, you go round in {l}: grass gets old waiting", so, now))
		}
	}
	return out
}

// names are some paddocks' names as one says them, the first three of them.
func (c Case) names(list []int) string {
	var names []string
	for i, p := range list {
		if i == 3 && len(list) > 4 {
			return strings.Join(names, ", ") + fmt.Sprintf(" and %d more", len(list)-3)
		}
		names = append(names, c.Farm.Paddocks[p].Name)
	}
	if n := len(names); n > 1 {
		return strings.Join(names[:n-1], ", ") + " and " + names[n-1]
	}
	return names[0]
}

func plural(n int, one, more string) string {
	if n == 1 {
		return one
	}
	return more
}

// monday is the Monday of a moment's week.
func monday(at time.Time, loc *time.Location) time.Time {
	at = at.In(loc)
	back := (int(at.Weekday()) + 6) % 7
	return time.Date(at.Year(), at.Month(), at.Day()-back, 0, 0, 0, 0, loc)
}

// GroupsOf parts mobs into queues: those that share ground stand in one, those on ground of their own each in theirs. Mobs that graze nothing have none.
func GroupsOf(mobs []rotation.Mob) [][]int {
	group := make([]int, len(mobs))
	for m := range mobs {
		group[m] = m
	}
	for changed := true; changed; {
		changed = false
		for a := range mobs {
			for b := range mobs {
				if group[a] != group[b] && share(mobs[a], mobs[b]) {
					group[a], group[b], changed = min(group[a], group[b]), min(group[a], group[b]), true
				}
			}
		}
	}
	var out [][]int
	for g := range mobs {
		var of []int
		for m := range mobs {
			if group[m] == g && share(mobs[m], mobs[m]) {
				of = append(of, m)
			}
		}
		if len(of) > 0 {
			out = append(out, of)
		}
	}
	return out
}

// share tells whether two mobs may graze the same paddock.
func share(a, b rotation.Mob) bool {
	for p, on := range a.Ground {
		if on && b.Ground[p] {
			return true
		}
	}
	return false
}
