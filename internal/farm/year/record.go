package year

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"

	"fjell/core/working"
	core "fjell/core/year"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// mostRecords is how many years back are looked at: ground, stock and prices of longer ago say little about the year to come.
const mostRecords = 5

// LandRecord is a whole year of the farm's own.
type LandRecord struct {
	From    time.Time    `json:"from"`
	Until   time.Time    `json:"until"`
	Eaten   float64      `json:"eaten_kg_dm" doc:"at grass"`
	Cut     float64      `json:"cut_kg_dm"`
	Bought  float64      `json:"bought_kg_dm"`
	Head    float64      `json:"head"`
	Growth  float64      `json:"growth_of_ordinary" doc:"on the days on which it was measured"`
	Days    float64      `json:"growth_days"`
	Drought []RecordDate `json:"drought" nullable:"false" doc:"what the plan for droughts would have done in a year that grew like this one"`
}

// RecordDate is a critical date in a year on record.
type RecordDate struct {
	At    time.Time     `json:"at"`
	Grown float64       `json:"grown_of_ordinary" doc:"by then"`
	Leave []DroughtGoes `json:"leave" nullable:"false"`
}

// LandProven is what whole years on record say is carried.
type LandProven struct {
	Years  int            `json:"years"`
	Share  float64        `json:"share" doc:"of today's stock"`
	Least  float64        `json:"least_share" doc:"by the poorest of the years"`
	Head   float64        `json:"head"`
	Figure working.Figure `json:"figure"`
}

// records are the whole years on record, the latest first, and how long moves are on record in years. What is older than the present picture is read anew, as the farm
// stood then.
func (s *Service) records(ctx context.Context, se *season.Season) (out []core.Record, years float64, err error) {
	var began []time.Time
	if err := s.DB.WithContext(ctx).Model(&store.Move{}).Where("farm_id = ? AND NOT withdrawn", se.Row.ID).Order("moved_at").Limit(1).Pluck("moved_at", &began).Error; err != nil {
		return nil, 0, fmt.Errorf("look for the first move: %w", err)
	}
	if len(began) == 0 {
		return nil, 0, nil
	}
	years = max(0, se.Now.Sub(began[0]).Hours()/24/365.25)
	for k := range mostRecords {
		from := se.Now.AddDate(-k-1, 0, 0)
		if from.Before(began[0]) {
			break
		}
		then := se
		if k > 0 {
			if then, err = s.seasonOf(ctx, se, se.Now.AddDate(-k, 0, 0)); err != nil {
				return nil, years, err
			}
		}
		r := then.Record(from)
		if r.Kept < from.AddDate(1, 0, 0).Sub(from).Hours()/24-1 {
			break // stock were described later: nobody knows what was eaten
		}
		out = append(out, r)
	}
	return out, years, nil
}

// seasonOf is the season as it stood on a day gone by.
func (s *Service) seasonOf(ctx context.Context, se *season.Season, at time.Time) (then *season.Season, err error) {
	err = store.Snapshot(ctx, s.DB, func(tx *gorm.DB) error {
		p, err := facts.PictureAt(tx, se.Row, at, "", nil, nil)
		if err != nil {
			return err
		}
		then, err = season.Of(p)
		return err
	})
	return then, err
}

// recall shows years on record, and goes through the plan for droughts in each as if the year to come grew like it.
func (v *StockLandView) recall(c core.Case, records []core.Record, plan core.DroughtPlan, wheres map[int]string) {
	for _, r := range records {
		row := LandRecord{From: r.From, Until: r.Until, Eaten: r.Eaten, Cut: r.Cut, Bought: r.Bought, Head: r.Head, Growth: r.Ratio(), Days: r.Days(), Drought: []RecordDate{}}
		if row.Days > 0 {
			back := c.Months[0].From.Year() - r.From.Year()
			for _, d := range core.Rehearse(c, plan, c.CriticalDates(criticalShares...), [][]float64{c.As(r)}).Dates {
				row.Drought = append(row.Drought, RecordDate{At: d.At.AddDate(-back, 0, 0), Grown: d.Mean, Leave: going(c, d.Head, plan.Leave, wheres)})
			}
		}
		v.Records = append(v.Records, row)
	}
}
