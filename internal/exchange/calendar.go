package exchange

import (
	"strconv"
	"time"

	ics "github.com/arran4/golang-ical"
)

// Appointment is something at an hour, to be written into a calendar.
type Appointment struct {
	ID    string // the same for the same thing, so that a calendar that has it already takes the newer one
	At    time.Time
	Lasts time.Duration
	What  string
	Where string
	Note  string
	Ahead time.Duration // how long before it the calendar is to remind
}

// Calendar writes appointments as an iCalendar file (RFC 5545), in UTC: a calendar shows them in its own time.
func Calendar(name string, written time.Time, list []Appointment) []byte {
	cal := ics.NewCalendarFor("Fjell")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(name)
	for _, a := range list {
		e := cal.AddEvent(a.ID)
		e.SetDtStampTime(written)
		e.SetStartAt(a.At)
		e.SetEndAt(a.At.Add(a.Lasts))
		e.SetSummary(a.What)
		e.SetLocation(a.Where)
		e.SetDescription(a.Note)
		if a.Ahead > 0 {
			alarm := e.AddAlarm()
			alarm.SetAction(ics.ActionDisplay)
			alarm.SetDescription(a.What)
			alarm.SetTrigger("-PT" + duration(a.Ahead))
		}
	}
	return []byte(cal.Serialize(ics.WithNewLineWindows))
}

// duration is a length of time as a trigger says it, in whole minutes.
func duration(d time.Duration) string { return strconv.Itoa(int(d/time.Minute)) + "M" }
