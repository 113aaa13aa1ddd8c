package yard

import (
	"context"
	"slices"
	"strings"
	"time"

	"fjell/core/grazing"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewTally is grazed and ungrazed plants of a key species, measured on one day.
type NewTally struct {
	ID        string    `json:"id"`
	PaddockID string    `json:"paddock_id"`
	MobID     *string   `json:"mob_id,omitempty"`
	CountedAt time.Time `json:"counted_at"`
	grazing.Tally
	Confirmed bool `json:"confirmed,omitempty"`
}

// TallyView is a tally on record and what it says.
type TallyView struct {
	ID          string             `json:"id"`
	PaddockID   string             `json:"paddock_id"`
	PaddockName string             `json:"paddock_name"`
	CountedAt   time.Time          `json:"counted_at"`
	Tally       grazing.Tally      `json:"tally"`
	Says        grazing.TalliesOut `json:"says"`
}

// RecordTally keeps a tally.
func (s *Service) RecordTally(ctx context.Context, a farm.Actor, in NewTally) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "tally", Body: in}, func(tx *facts.Writing) error {
		if err := farm.Judge(in.Tally, in.Confirmed); err != nil {
			return err
		}
		in.Species = strings.TrimSpace(in.Species)
		if err := in.Check(); err != nil {
			return err
		}
		if in.CountedAt.After(tx.Now.Add(time.Minute)) || in.CountedAt.Before(tx.Now.AddDate(-1, 0, 0)) {
			return quantity.Refuse("counted_at", in.CountedAt.Format(time.RFC3339), "lies in the future or more than a year back")
		}
		if _, err := farm.Find[store.Paddock](tx.DB, a.FarmID, "paddock_id", in.PaddockID); err != nil {
			return err
		}
		if in.MobID != nil {
			if _, err := farm.Find[store.Mob](tx.DB, a.FarmID, "mob_id", *in.MobID); err != nil {
				return err
			}
		}
		return tx.Create(&store.Tally{FarmID: a.FarmID, ID: in.ID, PaddockID: in.PaddockID, MobID: in.MobID, CountedAt: in.CountedAt.UTC(), Tally: store.JSON[grazing.Tally]{V: in.Tally},
			RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
}

// TakeTallyBack takes a tally back; it stays on record as taken back.
func (s *Service) TakeTallyBack(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "take tally back", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Tally](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if row.RecordedBy != a.UserID && !a.Role.Includes(farm.Manager) {
			return farm.ErrForbidden
		}
		return tx.Model(&store.Tally{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", true).Error
	})
}

// Tallies are those of the last months, the latest first, each with what it said in its stay.
func (s *Service) Tallies(ctx context.Context, a farm.Actor) ([]TallyView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	out := []TallyView{}
	for _, t := range slices.Backward(se.Tallies) {
		says, err := grazing.Tallies(se.TalliesOf(t.PaddockID, t.CountedAt))
		if err != nil {
			return nil, err
		}
		out = append(out, TallyView{t.ID, t.PaddockID, se.Names[t.PaddockID], t.CountedAt, t.Tally.V, says})
	}
	return out, nil
}

// NewTraining marks a class of stock that does not know electric fence yet.
type NewTraining struct {
	ID      string    `json:"id"`
	ClassID string    `json:"class_id"`
	Why     string    `json:"why" enum:"bought,young,other"`
	Since   store.Day `json:"since_on"`
	Weeks   int       `json:"weeks"`
}

// TrainingView is a mark that stands.
type TrainingView struct {
	NewTraining
	ClassName string         `json:"class_name"`
	MobName   string         `json:"mob_name"`
	Says      grazing.Reason `json:"says"`
}

// MarkUntrained marks a class of stock that does not know electric fence yet.
func (s *Service) MarkUntrained(ctx context.Context, a farm.Actor, in NewTraining) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "training", Body: in}, func(tx *facts.Writing) error {
		if err := grazing.CheckTraining(in.Why, in.Weeks); err != nil {
			return err
		}
		since, err := in.Since.Time(time.UTC)
		if err != nil || in.Since > tx.Today() || since.Before(tx.Now.AddDate(-1, 0, 0)) {
			return quantity.Refuse("since_on", string(in.Since), "must be a day of the last year, up to today")
		}
		if _, err := farm.Find[store.StockGroup](tx.DB, a.FarmID, "class_id", in.ClassID); err != nil {
			return err
		}
		var marked int64
		if err := tx.Model(&store.Training{}).Where("farm_id = ? AND class_id = ? AND NOT withdrawn AND trained_on IS NULL", a.FarmID, in.ClassID).Count(&marked).Error; err != nil {
			return err
		}
		if marked > 0 {
			return quantity.Refuse("class_id", nil, "they are marked already: say that they know the fence, or take the mark back")
		}
		return tx.Create(&store.Training{FarmID: a.FarmID, ID: in.ID, ClassID: in.ClassID, Why: in.Why, SinceOn: in.Since, Weeks: in.Weeks, RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}).Error
	})
}

// Trained says whether a class has been seen to keep off electric fence; said by mistake, it is marked again.
func (s *Service) Trained(ctx context.Context, a farm.Actor, id string, knows bool) error {
	return s.Write(ctx, a, farm.Request{Kind: "trained", Body: []any{id, knows}}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Training](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		var on *store.Day
		if knows {
			today := tx.Today()
			on = &today
		}
		return tx.Model(&store.Training{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("trained_on", on).Error
	})
}

// TakeTrainingBack takes a mark back that was set by mistake: it says nothing of whether they know the fence, and stays on record as taken back.
func (s *Service) TakeTrainingBack(ctx context.Context, a farm.Actor, id string) error {
	return s.Write(ctx, a, farm.Request{Kind: "take training back", Body: id}, func(tx *facts.Writing) error {
		if _, err := farm.Find[store.Training](tx.DB, a.FarmID, "", id); err != nil {
			return err
		}
		return tx.Model(&store.Training{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("withdrawn", true).Error
	})
}

// Trainings are the marks that stand, the oldest first.
func (s *Service) Trainings(ctx context.Context, a farm.Actor) ([]TrainingView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return nil, err
	}
	out := []TrainingView{}
	for _, t := range se.Untrained {
		out = append(out, TrainingView{NewTraining{t.ID, t.ClassID, t.Why, t.SinceOn, t.Weeks}, se.ClassName(t.ClassID), se.MobOfClass(t.ClassID),
			grazing.Training(se.ClassName(t.ClassID), se.Number(se.Now)-facts.DayNumber(t.SinceOn), t.Weeks)})
	}
	return out, nil
}
