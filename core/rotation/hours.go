package rotation

import "time"

// Hours are when a farm moves its stock.
type Hours struct {
	Minutes  []int          // after midnight, ascending; none: eight in the morning
	Weekdays []time.Weekday // none: any
	Away     []Away         // when nobody is there to move them
	Most     int            // moves on a day that there are hands for; 0: any number
}

// Away is days on which nobody moves stock, by number, both ends among them.
type Away struct{ From, Until int }

// morning is the move hour of a farm that names none, minutes after midnight.
const morning = 8 * 60

// clock are the minutes after midnight at which stock are moved.
func (h Hours) clock() []int {
	if len(h.Minutes) == 0 {
		return []int{morning}
	}
	return h.Minutes
}

// On tells whether stock are moved on a day, by its number.
func (h Hours) On(day int) bool {
	for _, a := range h.Away {
		if day >= a.From && day <= a.Until {
			return false
		}
	}
	if len(h.Weekdays) == 0 {
		return true
	}
	for _, w := range h.Weekdays {
		if time.Unix(int64(day)*86400, 0).UTC().Weekday() == w {
			return true
		}
	}
	return false
}

// everyDay tells whether stock are moved on every day.
func (h Hours) everyDay() bool { return len(h.Weekdays) == 0 && len(h.Away) == 0 }

// longestWait is how many days a move hour is looked for. Nobody is away longer, as a farm may not say so.
const longestWait = 400

// NextSlot is the first move hour of the farm after a moment.
func (f Farm) NextSlot(after time.Time) time.Time {
	l := after.In(f.Location)
	first := DayNumber(after, f.Location)
	for day := 0; ; day++ {
		if !f.Hours.On(first+day) && day < longestWait {
			continue
		}
		for _, m := range f.Hours.clock() {
			at := time.Date(l.Year(), l.Month(), l.Day()+day, m/60, m%60, 0, 0, f.Location)
			if at.After(after) {
				return at
			}
		}
	}
}
