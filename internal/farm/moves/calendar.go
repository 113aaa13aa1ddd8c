package moves

import (
	"context"
	"time"

	"fjell/internal/exchange"
	"fjell/internal/farm"
)

// How a move stands in a calendar.
const (
	moveLasts = 30 * time.Minute
	remindsAt = 18 // hour of the evening before
)

// Calendar is the moves of the present plan as a file for calendars, each with a reminder the evening before.
func (s *Service) Calendar(ctx context.Context, a farm.Actor) ([]byte, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	var list []exchange.Appointment
	for _, v := range se.Ahead().Visits {
		if v.Fact || v.Enter.After(se.PlanEnd()) {
			continue
		}
		mob, paddock := se.Mobs[v.Mob], se.Paddocks[v.Paddock]
		note := ""
		for _, r := range v.Reasons {
			note += r.Plain() + "\n"
		}
		y, m, d := v.Enter.In(se.Location).Date()
		evening := time.Date(y, m, d-1, remindsAt, 0, 0, 0, se.Location)
		list = append(list, exchange.Appointment{ID: mob.ID + "." + paddock.ID + "." + v.Enter.UTC().Format("20060102T1504"), At: v.Enter, Lasts: moveLasts,
			What: mob.Name + " to " + paddock.Name, Where: paddock.Name, Note: note, Ahead: v.Enter.Sub(evening)})
	}
	return exchange.Calendar(se.Row.Name, se.Now, list), nil
}
