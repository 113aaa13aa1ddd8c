package ground

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"time"

	"github.com/go-sql-driver/mysql"
	"gorm.io/gorm"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// mostSteps is how many edits of the land can be undone.
const mostSteps = 50

// edit is one edit of the land. Every row is written through it, and kept as it was and as it is, so that the whole
// edit can be undone and done again, today or after a reload.
type edit struct {
	*facts.Picture
	actor   farm.Actor
	tx      *gorm.DB
	changes []store.RowChange
	seq     int64  // of the step it becomes
	held    *[]any // rows that wait to be written together; nil when each is written at once
}

// LandTables are the records an edit of the land may write.
var LandTables = map[string]reflect.Type{}

func init() {
	for _, row := range []any{store.Field{}, store.FieldShape{}, store.Exclusion{}, store.Layout{}, store.LayoutSpan{}, store.Paddock{}, store.PaddockShape{},
		store.Mark{}, store.Zone{}, store.Measurement{}, store.Move{}} {
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
		e := &edit{Picture: p, actor: a, tx: tx.DB, seq: tx.Version}
		label, err := work(e)
		if err != nil {
			return err
		}
		return e.keep(label, batch)
	})
}

func (e *edit) keep(label, batch string) error {
	if err := e.tx.Where("farm_id = ? AND undone", e.actor.FarmID).Delete(&store.LandStep{}).Error; err != nil {
		return err
	}
	step := store.LandStep{FarmID: e.actor.FarmID, ID: farm.NewID(), Seq: e.seq, Batch: batch, Label: label, Changes: store.JSON[[]store.RowChange]{V: e.changes},
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

// create writes new rows.
func (e *edit) create(rows ...any) error {
	for _, row := range rows {
		if e.held != nil {
			*e.held = append(*e.held, row)
		} else if err := e.tx.Create(row).Error; err != nil {
			return fmt.Errorf("save %T: %w", row, err)
		}
		after, err := json.Marshal(row)
		if err != nil {
			return err
		}
		e.changes = append(e.changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), After: after})
	}
	return nil
}

// together writes the new rows of a piece of work in few statements. The work must not read them back.
func (e *edit) together(work func() error) error {
	var rows []any
	e.held = &rows
	err := work()
	e.held = nil
	if err != nil {
		return err
	}
	byType := map[reflect.Type]reflect.Value{}
	var order []reflect.Type
	for _, row := range rows {
		t := reflect.TypeOf(row).Elem()
		if _, seen := byType[t]; !seen {
			order = append(order, t)
			byType[t] = reflect.MakeSlice(reflect.SliceOf(t), 0, len(rows))
		}
		byType[t] = reflect.Append(byType[t], reflect.ValueOf(row).Elem())
	}
	for _, t := range order {
		list := reflect.New(byType[t].Type())
		list.Elem().Set(byType[t])
		if err := e.tx.CreateInBatches(list.Interface(), 250).Error; err != nil {
			return fmt.Errorf("save %s: %w", t.Name(), err)
		}
	}
	return nil
}

// save writes a row that is there.
func (e *edit) save(row any) error {
	before, err := stored(e.tx, row)
	if err != nil {
		return err
	}
	if err := overwrite(e.tx, row); err != nil {
		return fmt.Errorf("save %T: %w", row, err)
	}
	after, err := json.Marshal(row)
	if err != nil {
		return err
	}
	e.changes = append(e.changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), Before: before, After: after})
	return nil
}

// overwrite puts a row in the place of the one with its id. One that has a version must be at the version it was read
// at, and is one further then.
func overwrite(tx *gorm.DB, row any) error {
	v := reflect.ValueOf(row).Elem()
	at := tx.Model(row).Where("farm_id = ? AND id = ?", v.FieldByName("FarmID").String(), v.FieldByName("ID").String())
	version := v.FieldByName("Version")
	if version.IsValid() {
		at = at.Where("version = ?", version.Int())
		version.SetInt(version.Int() + 1)
	}
	res := at.Select("*").Updates(row)
	if res.Error == nil && res.RowsAffected == 0 && version.IsValid() {
		return &farm.Changed{Yours: int(version.Int() - 1), Stored: int(version.Int())}
	}
	return res.Error
}

// remove deletes a row.
func (e *edit) remove(row any) error {
	before, err := stored(e.tx, row)
	if err != nil {
		return err
	}
	if err := e.tx.Delete(row).Error; err != nil {
		return fmt.Errorf("remove %T: %w", row, err)
	}
	e.changes = append(e.changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), Before: before})
	return nil
}

// stored is a row as the database has it, as JSON; nil where there is none.
func stored(tx *gorm.DB, row any) (json.RawMessage, error) {
	v := reflect.ValueOf(row).Elem()
	fresh := reflect.New(v.Type()).Interface()
	err := tx.First(fresh, "farm_id = ? AND id = ?", v.FieldByName("FarmID").String(), v.FieldByName("ID").String()).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return json.Marshal(fresh)
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

func play(tx *gorm.DB, step store.LandStep, undo bool) error {
	changes := step.Changes.V
	for i := range changes {
		c := changes[i]
		from, to := c.Before, c.After
		if undo {
			c = changes[len(changes)-1-i]
			from, to = c.After, c.Before
		}
		if err := playRow(tx, c.Table, from, to); err != nil {
			var fault *mysql.MySQLError
			if errors.As(err, &fault) && fault.Number == 1451 || errors.Is(err, gorm.ErrForeignKeyViolated) {
				return quantity.Refuse("undo", nil, "“%s” cannot be taken back: its paddocks have been walked or grazed since, and that record stays", step.Label)
			}
			if errors.Is(err, errChangedSince) {
				return quantity.Refuse("undo", nil, "“%s” cannot be taken back: what it did has been changed since", step.Label)
			}
			return err
		}
	}
	return nil
}

var errChangedSince = errors.New("changed since")

// playRow brings one row from one state to another, if it still is in the first.
func playRow(tx *gorm.DB, table string, from, to json.RawMessage) error {
	kind, ok := LandTables[table]
	if !ok {
		return fmt.Errorf("a step wrote %q", table)
	}
	read := func(raw json.RawMessage) (any, error) {
		row := reflect.New(kind).Interface()
		return row, json.Unmarshal(raw, row)
	}
	present := to
	if from != nil {
		present = from
	}
	row, err := read(present)
	if err != nil {
		return err
	}
	now, err := stored(tx, row)
	if err != nil {
		return err
	}
	if from == nil {
		if now != nil {
			return errChangedSince
		}
		return tx.Create(row).Error
	}
	// A version never goes back: what is undone is a new version that says what an older one did.
	expected, err := versioned(row, 0)
	if err != nil {
		return err
	}
	if now == nil {
		return errChangedSince
	}
	there, err := read(now)
	if err != nil {
		return err
	}
	version := versionOf(there)
	found, err := versioned(there, 0)
	if err != nil {
		return err
	}
	if string(found) != string(expected) {
		return errChangedSince
	}
	if to == nil {
		return tx.Delete(row).Error
	}
	if row, err = read(to); err != nil {
		return err
	}
	if _, err := versioned(row, version); err != nil {
		return err
	}
	return overwrite(tx, row)
}

// versioned gives a row a version, where it has one, and is the row as JSON.
func versioned(row any, version int) (json.RawMessage, error) {
	if v := reflect.ValueOf(row).Elem().FieldByName("Version"); v.IsValid() {
		v.SetInt(int64(version))
	}
	return json.Marshal(row)
}

func versionOf(row any) int {
	if v := reflect.ValueOf(row).Elem().FieldByName("Version"); v.IsValid() {
		return int(v.Int())
	}
	return 0
}
