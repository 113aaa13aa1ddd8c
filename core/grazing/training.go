package grazing

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Why a class is marked as new to electric fence.
const (
	NewlyBought = "bought"
	BornHere    = "young"
	LongHoused  = "other"
)

// TrainingWeeks is how long stock usually need in a training pen, behind a fence that holds them should they run through the wire. Assumption, ours.
const TrainingWeeks = 2

// mostTrainingWeeks is more than any stock need.
const mostTrainingWeeks = 26

// CheckTraining refuses a mark that says nothing.
func CheckTraining(why string, weeks int) error {
	if why != NewlyBought && why != BornHere && why != LongHoused {
		return quantity.Refuse("why", why, "must be bought, young or other")
	}
	if weeks < 1 || weeks > mostTrainingWeeks {
		return quantity.Refuse("weeks", weeks, "must be 1 to %d weeks", mostTrainingWeeks)
	}
	return nil
}

// Training says of a class that was put to learn the fence so many days ago, for so many weeks, how far it is. A mark is taken off by a person who has
// seen them keep off the wire, never by the calendar.
func Training(name string, days, weeks int) Reason {
	week := min(days/7+1, weeks)
	w, n := working.T("w", "week", float64(week), quantity.Count), working.T("n", "weeks in all", float64(weeks), quantity.Count)
	if left := weeks*7 - days; left > 0 {
		return Because(name+" are learning the fence, week {w} of {n}: a pen that holds them, and no single wire yet", w, n)
	}
	over := math.Floor(float64(days-weeks*7) / 7)
	return Because(name+" have had their {n} weeks with the fence"+map[bool]string{true: ", and {o} more", false: ""}[over > 0]+": have you seen them keep off it? Say so, and the mark goes",
		n, working.T("o", "weeks more", over, quantity.Count))
}
