package farm

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Moving is when a farm's stock are moved.
type Moving struct {
	Minutes  []int        `json:"minutes" nullable:"false"`   // after midnight, ascending
	Weekdays []int        `json:"weekdays" nullable:"false"`  // Monday is 1, Sunday 7
	Away     []store.Away `json:"away" nullable:"false"`      // when nobody is there to move them
	Most     int          `json:"most_moves_a_day,omitempty"` // hands for no more; 0: any number
}

const (
	mostMoveHours = 12  // a day
	mostMoves     = 200 // on one day
	mostAway      = 30  // spans that are kept
	longestAway   = 120 // days of one
)

func (in *Moving) check() error {
	if n := len(in.Minutes); n == 0 || n > mostMoveHours {
		return quantity.Refuse("minutes", n, "name 1 to %d hours of the day at which stock are moved", mostMoveHours)
	}
	for i, m := range in.Minutes {
		if m < 0 || m >= 24*60 {
			return quantity.Refuse(fmt.Sprintf("minutes[%d]", i), m, "must be minutes after midnight, 0 to 1 439")
		}
	}
	in.Minutes = slices.Sorted(slices.Values(in.Minutes))
	for i := range in.Minutes[1:] {
		if in.Minutes[i+1]-in.Minutes[i] < 15 {
			return quantity.Refuse("minutes", in.Minutes[i+1], "two move hours are at least a quarter of an hour apart")
		}
	}
	in.Weekdays = slices.Compact(append([]int{}, slices.Sorted(slices.Values(in.Weekdays))...))
	for _, w := range in.Weekdays {
		if w < 1 || w > 7 {
			return quantity.Refuse("weekdays", w, "must be 1, Monday, to 7, Sunday")
		}
	}
	if len(in.Weekdays) == 0 {
		return quantity.Refuse("weekdays", 0, "name at least one day of the week on which stock are moved")
	}
	if in.Most < 0 || in.Most > mostMoves {
		return quantity.Refuse("most_moves_a_day", in.Most, "must be 1 to %d, or empty for any number", mostMoves)
	}
	if len(in.Away) > mostAway {
		return quantity.Refuse("away", len(in.Away), "keep at most %d spans: delete those that are over", mostAway)
	}
	in.Away = append([]store.Away{}, in.Away...)
	for i, a := range in.Away {
		at := fmt.Sprintf("away[%d].", i)
		from, err := a.From.Time(time.UTC)
		if err != nil {
			return quantity.Refuse(at+"from_on", a.From, "must be a day, such as 2026-06-10")
		}
		until, err := a.Until.Time(time.UTC)
		if err != nil {
			return quantity.Refuse(at+"until_on", a.Until, "must be a day, such as 2026-06-10")
		}
		if until.Before(from) {
			return quantity.Refuse(at+"until_on", a.Until, "the last day away comes before the first")
		}
		if until.Sub(from) >= longestAway*24*time.Hour {
			return quantity.Refuse(at+"until_on", a.Until, "nobody is away more than %d days at a stretch", longestAway)
		}
	}
	slices.SortFunc(in.Away, func(a, b store.Away) int { return cmp.Compare(a.From, b.From) })
	return nil
}

// SetMoving says when the farm's stock are moved.
func (s *Service) SetMoving(ctx context.Context, a Actor, version int, in Moving) (FarmView, error) {
	if err := in.check(); err != nil {
		return FarmView{}, err
	}
	err := s.Write(ctx, a, Request{"", "moving", []any{version, in}}, func(tx *Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Updates(map[string]any{"move_minutes": store.JSON[[]int]{V: in.Minutes},
			"move_weekdays": store.JSON[[]int]{V: in.Weekdays}, "away": store.JSON[[]store.Away]{V: in.Away},
			"most_moves": in.Most}).Error
	})
	return After(err, func() (FarmView, error) { return s.Farm(ctx, a) })
}

// movingOf is when a farm's stock are moved, as it is on record. A farm that has never said otherwise moves them on any day.
func movingOf(row store.Farm) Moving {
	m := Moving{Minutes: row.MoveMinutes.V, Weekdays: row.MoveWeekdays.V, Away: append([]store.Away{}, row.Away.V...), Most: row.MostMoves}
	if len(m.Weekdays) == 0 {
		m.Weekdays = []int{1, 2, 3, 4, 5, 6, 7}
	}
	return m
}
