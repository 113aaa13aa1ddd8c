package rotation

import "time"

// Daily is one figure for each day of the calendar, from a first one on; days are numbered since 1 January 1970. Before the
// first day and after the last the nearest holds, and where there is none, 0.
type Daily struct {
	First  int
	Values []float64
}

// Steady is the same figure every day.
func Steady(value float64) Daily { return Daily{Values: []float64{value}} }

// On is the figure of a day.
func (d Daily) On(number int) float64 {
	if len(d.Values) == 0 {
		return 0
	}
	return d.Values[min(max(number-d.First, 0), len(d.Values)-1)]
}

// DayNumber is the number of the calendar day that a moment lies in at a place.
func DayNumber(at time.Time, loc *time.Location) int {
	y, m, d := at.In(loc).Date()
	return int(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}
