package farm

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"

	"github.com/go-sql-driver/mysql"
	"gorm.io/gorm"

	"fjell/internal/store"
)

// Rows writes rows of a farm and keeps each as it was and as it is, so that all of it can be taken back together, and done again.
type Rows struct {
	tx      *gorm.DB
	Changes []store.RowChange
	held    *[]any // rows that wait to be written together; nil when each is written at once
}

// NewRows keeps what is written over a transaction.
func NewRows(tx *gorm.DB) *Rows { return &Rows{tx: tx} }

// Around keeps what a piece of work does to a row that it may make, change or remove. The row says which it is by its key.
func (r *Rows) Around(row any, work func() error) error {
	before, err := stored(r.tx, row)
	if err != nil {
		return err
	}
	if err := work(); err != nil {
		return err
	}
	after, err := stored(r.tx, row)
	if err == nil && string(before) != string(after) {
		r.Changes = append(r.Changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), Before: before, After: after})
	}
	return err
}

// Create writes new rows.
func (r *Rows) Create(rows ...any) error {
	for _, row := range rows {
		if r.held != nil {
			*r.held = append(*r.held, row)
		} else if err := r.tx.Create(row).Error; err != nil {
			return fmt.Errorf("save %T: %w", row, err)
		}
		after, err := json.Marshal(row)
		if err != nil {
			return err
		}
		r.Changes = append(r.Changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), After: after})
	}
	return nil
}

// Together writes the new rows of a piece of work in few statements. The work must not read them back.
func (r *Rows) Together(work func() error) error {
	var rows []any
	r.held = &rows
	err := work()
	r.held = nil
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
		if err := r.tx.CreateInBatches(list.Interface(), 250).Error; err != nil {
			return fmt.Errorf("save %s: %w", t.Name(), err)
		}
	}
	return nil
}

// Save writes a row that is there.
func (r *Rows) Save(row any) error {
	before, err := stored(r.tx, row)
	if err != nil {
		return err
	}
	if err := overwrite(r.tx, row); err != nil {
		return fmt.Errorf("save %T: %w", row, err)
	}
	after, err := json.Marshal(row)
	if err != nil {
		return err
	}
	r.Changes = append(r.Changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), Before: before, After: after})
	return nil
}

// overwrite puts a row in the place of the one with its id. One that has a version must be at the version it was read
// at, and is one further then.
func overwrite(tx *gorm.DB, row any) error {
	at := tx.Model(row)
	version := reflect.ValueOf(row).Elem().FieldByName("Version")
	if version.IsValid() {
		at = at.Where("version = ?", version.Int())
		version.SetInt(version.Int() + 1)
	}
	res := at.Select("*").Updates(row)
	if res.Error == nil && res.RowsAffected == 0 && version.IsValid() {
		return &Changed{Yours: int(version.Int() - 1), Stored: int(version.Int())}
	}
	return res.Error
}

// Remove deletes a row.
func (r *Rows) Remove(row any) error {
	before, err := stored(r.tx, row)
	if err != nil {
		return err
	}
	if err := r.tx.Delete(row).Error; err != nil {
		return fmt.Errorf("remove %T: %w", row, err)
	}
	r.Changes = append(r.Changes, store.RowChange{Table: reflect.TypeOf(row).Elem().Name(), Before: before})
	return nil
}

// stored is a row as the database has it, as JSON; nil where there is none.
func stored(tx *gorm.DB, row any) (json.RawMessage, error) {
	fresh, err := alike(tx, row)
	if err != nil {
		return nil, err
	}
	err = tx.First(fresh).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return json.Marshal(fresh)
}

// alike is an empty row with the key of another.
func alike(tx *gorm.DB, row any) (any, error) {
	of := &gorm.Statement{DB: tx}
	if err := of.Parse(row); err != nil {
		return nil, err
	}
	from := reflect.ValueOf(row).Elem()
	fresh := reflect.New(from.Type())
	for _, key := range of.Schema.PrimaryFields {
		fresh.Elem().FieldByName(key.Name).Set(from.FieldByName(key.Name))
	}
	return fresh.Interface(), nil
}

// Refusals of a replay.
var (
	ErrChangedSince = errors.New("what it did has been changed since")
	ErrNeeded       = errors.New("other records rest on what it did")
)

// Replay brings rows to where changes left them, or, to undo, back to where they found them. A row that is no longer as it was
// left is ErrChangedSince, one that others point to is ErrNeeded.
func Replay(tx *gorm.DB, tables map[string]reflect.Type, changes []store.RowChange, undo bool) error {
	for i := range changes {
		c := changes[i]
		from, to := c.Before, c.After
		if undo {
			c = changes[len(changes)-1-i]
			from, to = c.After, c.Before
		}
		if err := playRow(tx, tables, c.Table, from, to); err != nil {
			var fault *mysql.MySQLError
			if errors.As(err, &fault) && fault.Number == 1451 || errors.Is(err, gorm.ErrForeignKeyViolated) {
				return fmt.Errorf("%w: %w", ErrNeeded, err)
			}
			return err
		}
	}
	return nil
}

// playRow brings one row from one state to another, if it still is in the first.
func playRow(tx *gorm.DB, tables map[string]reflect.Type, table string, from, to json.RawMessage) error {
	kind, ok := tables[table]
	if !ok {
		return fmt.Errorf("%q is no table that can be taken back", table)
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
			return ErrChangedSince
		}
		return tx.Create(row).Error
	}
	// A version never goes back: what is undone is a new version that says what an older one did.
	expected, err := versioned(row, 0)
	if err != nil {
		return err
	}
	if now == nil {
		return ErrChangedSince
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
		return ErrChangedSince
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
