package ground

import (
	"context"
	"errors"
	"fmt"
	"reflect"
	"time"

	"gorm.io/gorm"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// mostSteps is how many edits of the land can be undone.
const mostSteps = 50

// edit is one edit of the land. Every row is written through its rows, so that the whole edit can be undone and done again,
// today or after a reload.
type edit struct {
	*facts.Picture
	*farm.Rows
	actor farm.Actor
	tx    *gorm.DB
	seq   int64 // of the step it becomes
}

// LandTables are the records an edit of the land may write.
var LandTables = map[string]reflect.Type{}

func init() {
	for _, row := range []any{store.Field{}, store.FieldShape{}, store.Exclusion{}, store.Layout{}, store.LayoutSpan{}, store.Paddock{}, store.PaddockShape{},
		store.Mark{}, store.Zone{}, store.Measurement{}, store.Move{}, store.Closure{}, store.Cut{}, store.Dressing{}} {
		LandTables[reflect.TypeOf(row).Name()] = reflect.TypeOf(row)
	}
}

// edit runs one edit of the land and keeps it as a step. what is the kind of edit and in what was asked for: with the
// id, or the client's key where nothing new is made, they tell a repeat. work returns what was done, in words.
func (s *Service) edit(ctx context.Context, a farm.Actor, id, what string, in any, work func(e *edit) (string, error)) error {
	return s.editWithin(ctx, a, id, "", what, nil, in, work)
}

// editWithin is an edit that needs to see only the fields that meet a box of longitudes and latitudes.
func (s *Service) editWithin(ctx context.Context, a farm.Actor, id, batch, what string, box *land.Box, in any, work func(e *edit) (string, error)) error {
	if batch != "" {
		if err := farm.CheckID("batch", batch); err != nil {
			return err
		}
	}
	return s.Write(ctx, a, farm.Request{ID: id, Kind: what, Body: in}, func(tx *facts.Writing) error {
		p, err := tx.PictureWithin(box)
		if err != nil {
			return err
		}
		e := editOf(tx, p, a)
		label, err := work(e)
		if err != nil {
			return err
		}
		return e.keep(label, batch)
	})
}

// editOf is an edit within a write.
func editOf(tx *facts.Writing, p *facts.Picture, a farm.Actor) *edit {
	return &edit{Picture: p, Rows: farm.NewRows(tx.DB), actor: a, tx: tx.DB, seq: tx.Version}
}

func (e *edit) keep(label, batch string) error {
	if err := e.tx.Where("farm_id = ? AND undone", e.actor.FarmID).Delete(&store.LandStep{}).Error; err != nil {
		return err
	}
	step := store.LandStep{FarmID: e.actor.FarmID, ID: farm.NewID(), Seq: e.seq, Batch: batch, Label: label, Changes: store.JSON[[]store.RowChange]{V: e.Changes},
		MadeAt: e.Now.UTC().Truncate(time.Microsecond), MadeBy: e.actor.UserID}
	if step.Batch == "" {
		step.Batch = step.ID
	}
	if err := e.tx.Create(&step).Error; err != nil {
		return fmt.Errorf("keep step: %w", err)
	}
	var batches []string
	if err := e.tx.Model(&store.LandStep{}).Where("farm_id = ?", e.actor.FarmID).Group("batch").Order("MAX(seq) DESC").Pluck("batch", &batches).Error; err != nil {
		return err
	}
	if len(batches) <= mostSteps {
		return nil
	}
	return e.tx.Where("farm_id = ? AND batch IN ?", e.actor.FarmID, batches[mostSteps:]).Delete(&store.LandStep{}).Error
}

// StepView names an edit that can be undone or done again, and whose it was.
type StepView struct {
	ID    string    `json:"id"`
	Label string    `json:"label"`
	By    string    `json:"by" doc:"empty: the farm's own doing, or somebody whose account has gone"`
	Own   bool      `json:"own" doc:"made by whoever asks"`
	At    time.Time `json:"at"`
}

// Undo takes the latest edit of the land back; seen is the step that was shown as the latest, or nothing.
func (s *Service) Undo(ctx context.Context, a farm.Actor, seen string) (LandView, error) {
	return s.replay(ctx, a, seen, true)
}

// Redo does the edit again that was undone last; seen as for Undo.
func (s *Service) Redo(ctx context.Context, a farm.Actor, seen string) (LandView, error) {
	return s.replay(ctx, a, seen, false)
}

// stepView says a step in words; none is nil.
func (s *Service) stepView(ctx context.Context, a farm.Actor, undo bool) (*StepView, error) {
	order := "seq"
	if undo {
		order = "seq DESC"
	}
	var steps []StepView
	err := s.DB.WithContext(ctx).Table("land_steps").Joins("LEFT JOIN users ON users.id = land_steps.made_by").Where("farm_id = ? AND undone = ?", a.FarmID, !undo).
		Select("land_steps.batch AS id, land_steps.label, land_steps.made_at AS `at`, COALESCE(users.name, '') AS `by`, land_steps.made_by = ? AS own", a.UserID).
		Order(order).Limit(1).Scan(&steps).Error
	if err != nil || len(steps) == 0 {
		return nil, err
	}
	return &steps[0], nil
}

func (s *Service) replay(ctx context.Context, a farm.Actor, seen string, undo bool) (LandView, error) {
	what := "redo"
	if undo {
		what = "undo"
	}
	err := s.Write(ctx, a, farm.Request{Kind: what, Body: seen}, func(tx *facts.Writing) error {
		first, err := nextStep(tx.DB, a.FarmID, undo)
		if err != nil {
			return err
		}
		if first == nil {
			if undo {
				return quantity.Refuse("undo", nil, "there is nothing left to undo")
			}
			return quantity.Refuse("redo", nil, "there is nothing to do again")
		}
		if seen != "" && seen != first.Batch {
			return farm.ErrStep
		}
		var steps []store.LandStep
		order := "seq"
		if undo {
			order = "seq DESC"
		}
		if err := tx.Order(order).Find(&steps, "farm_id = ? AND batch = ? AND undone = ?", a.FarmID, first.Batch, !undo).Error; err != nil {
			return err
		}
		for _, step := range steps {
			if err := play(tx.DB, step, undo); err != nil {
				return err
			}
			if err := tx.Model(&store.LandStep{}).Where("farm_id = ? AND id = ?", a.FarmID, step.ID).Update("undone", undo).Error; err != nil {
				return err
			}
		}
		return nil
	})
	return farm.After(err, func() (LandView, error) { return s.Land(ctx, a) })
}

// nextStep is the step that undo or redo would take next, without its rows.
func nextStep(tx *gorm.DB, farmID string, undo bool) (*store.LandStep, error) {
	order := "seq"
	if undo {
		order = "seq DESC"
	}
	var steps []store.LandStep
	err := tx.Omit("changes").Order(order).Limit(1).Find(&steps, "farm_id = ? AND undone = ?", farmID, !undo).Error
	if err != nil || len(steps) == 0 {
		return nil, err
	}
	return &steps[0], nil
}

// play brings the rows of a step to where it left them, or back to where it found them.
func play(tx *gorm.DB, step store.LandStep, undo bool) error {
	err := farm.Replay(tx, LandTables, step.Changes.V, undo)
	switch {
	case errors.Is(err, farm.ErrNeeded):
		return quantity.Refuse("undo", nil, "“%s” cannot be taken back: its paddocks have been walked or grazed since, and that record stays", step.Label)
	case errors.Is(err, farm.ErrChangedSince):
		return quantity.Refuse("undo", nil, "“%s” cannot be taken back: what it did has been changed since", step.Label)
	}
	return err
}
