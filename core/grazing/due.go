package grazing

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
)

// Known is what is known where a caution may be due, by the names of the reference's variables: today's value first, then those of the
// days before, as far back as they are known. A value is a number, true or false, a word, or a list of words. What nobody knows is not
// there, and holds for nothing.
type Known map[string][]any

// longestRun is how many days back a caution is followed.
const longestRun = 60

// Lasting is a value that stands today and has stood for so many days before.
func Lasting(value any, days int) []any {
	return slices.Repeat([]any{value}, min(max(days, 0), longestRun)+1)
}

// Due is a caution whose condition is met today.
type Due struct {
	reference.Caution
	Days    int      // for how many days without a break, today being the first
	Because []Reason // each condition that holds
}

// DueAmong are the cautions whose conditions are met for stock of these species; those of people, land and fences go by their
// conditions alone. They come in the order of the reference, the gravest first.
func DueAmong(all []reference.Caution, species []string, known Known) []Due {
	var out []Due
	for _, c := range all {
		concerns := len(species) == 0 || c.Area != "animals" || slices.ContainsFunc(species, func(s string) bool { return slices.Contains(c.AppliesTo, kin(s)) })
		if !concerns || !known.meets(c.Trigger, 0) {
			continue
		}
		due := Due{Caution: c, Days: 1}
		for due.Days < longestRun && known.meets(c.Trigger, due.Days) {
			due.Days++
		}
		for _, cond := range slices.Concat(c.Trigger.All, c.Trigger.Any) {
			if known.holds(cond, 0) {
				is, _ := known.at(cond.Name, 0)
				due.Because = append(due.Because, SayCondition(cond.Name, is))
			}
		}
		out = append(out, due)
	}
	return out
}

// kin is the species of the reference's cautions that another is treated as.
func kin(species string) string {
	switch species {
	case "sheep", "goats", "horses":
		return species
	case "donkeys", "mules":
		return "horses"
	}
	return "cattle" // all that chew the cud and are neither sheep nor goat
}

// meets tells whether a trigger's conditions held so many days ago. A trigger without conditions never does.
func (k Known) meets(t reference.Trigger, ago int) bool {
	holds := func(c reference.Condition) bool { return k.holds(c, ago) }
	fails := func(c reference.Condition) bool { return !holds(c) }
	return len(t.All)+len(t.Any) > 0 && !slices.ContainsFunc(t.All, fails) && (len(t.Any) == 0 || slices.ContainsFunc(t.Any, holds))
}

func (k Known) at(name string, ago int) (any, bool) {
	if days := k[name]; ago < len(days) && days[ago] != nil {
		return days[ago], true
	}
	return nil, false
}

// holds tells whether a condition held so many days ago. What was not known then did not hold.
func (k Known) holds(c reference.Condition, ago int) bool {
	is, known := k.at(c.Name, ago)
	if !known {
		return false
	}
	against := c.Value
	if name, ok := against.(string); ok {
		if _, variable := k[name]; variable {
			if against, known = k.at(name, ago); !known {
				return false
			}
		}
	}
	switch is := is.(type) {
	case float64:
		value, ok := against.(float64)
		return ok && compare(c.Op, cmp.Compare(is, value))
	case []string:
		return slices.ContainsFunc(is, func(word string) bool { return among(word, against) })
	default:
		return among(is, against)
	}
}

// compare tells whether an order is the one that an operator asks for.
func compare(op string, order int) bool {
	switch op {
	case "<":
		return order < 0
	case "<=":
		return order <= 0
	case ">":
		return order > 0
	case ">=":
		return order >= 0
	}
	return op == "==" && order == 0
}

// among tells whether a value is another, or is in a list of them.
func among(is, against any) bool {
	if list, ok := against.([]any); ok {
		return slices.Contains(list, is)
	}
	return is == against
}

// units of the reference's variables that the farm may read in its own.
var units = map[string]quantity.Unit{
	"share of DM, 0-1": quantity.Share, "cm": quantity.Centimetre, "days": quantity.Day, "kg DM/ha/day": quantity.Growth,
	"°C": quantity.Celsius, "mm": quantity.Millimetre, "kg": quantity.Kilogram, "m": quantity.Metre, "kV": quantity.Kilovolt, "hours": quantity.Hour, "kg N/ha": quantity.ForageMass,
}

// SayCondition is what cautions go by, as it is, in words.
func SayCondition(name string, is any) Reason {
	so, truth := is.(bool)
	words := ConditionWords(name, so || !truth)
	value, figure := is.(float64)
	if !figure {
		return Because(words)
	}
	unit := quantity.None
	if i := slices.IndexFunc(reference.Load().Variables, func(v reference.Variable) bool { return v.Name == name }); i >= 0 {
		unit = units[reference.Load().Variables[i].Unit]
	}
	return Because(words, working.T("v", words, value, unit))
}

// Told is all that a due caution rests on, in one sentence.
func (d Due) Told() Reason {
	text, figures := d.Title+": ", []working.Term{}
	for i, b := range d.Because {
		if i > 0 {
			text += ", "
		}
		symbol := "v" + strconv.Itoa(i)
		text += strings.ReplaceAll(b.Text, "{v}", "{"+symbol+"}")
		for _, f := range b.Figures {
			figures = append(figures, working.T(symbol, f.Name, f.Value, f.Unit))
		}
	}
	return Because(text, figures...)
}
