package farm

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"time"

	"github.com/go-sql-driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Request is what a client asks to be written. Its id is the record's that it makes; where it makes none, the client's
// key for the request stands in. The same id with the same body is answered with the first result; with another body
// it is a conflict.
type Request struct {
	ID   string
	Kind string
	Body any
}

// Writing is one write on a farm. It holds the farm's row, so that nothing else writes on the farm beside it: what it
// reads stays true until it ends. Its transaction began with that row, before any snapshot, so it sees all that was
// committed before it.
type Writing struct {
	*gorm.DB
	service *Service
	Actor   Actor
	Farm    store.Farm // as it is under the lock
	Now     time.Time
	Version int64    // of the facts that this write makes; also the farm's own sequence
	noted   []string // for the log, once it is kept
}

// Kept says that a write is kept, though its answer could not be made.
type Kept struct{ Err error }

func (k *Kept) Error() string {
	return "this is kept, but the page could not be made anew: " + k.Err.Error()
}

func (k *Kept) Unwrap() error { return nil } // what the page met is no refusal of the write

// After makes the answer of a write that went well. What goes wrong from here on is no refusal: the write stands.
func After[T any](err error, view func() (T, error)) (T, error) {
	var none T
	if err != nil {
		return none, err
	}
	v, err := view()
	if err != nil {
		return none, &Kept{err}
	}
	return v, nil
}

// Write runs one write on the actor's farm: under the farm's lock, once for an id, with the actor's role looked at
// again. The facts' version is raised with it.
func (s *Service) Write(ctx context.Context, a Actor, in Request, work func(tx *Writing) error) error {
	if in.ID != "" {
		if err := CheckID("id", in.ID); err != nil {
			return err
		}
	} else if in.ID = a.Key; in.ID == "" {
		in.ID = NewID() // of no use to the client, but the write finds itself again when a commit's answer is lost
	}
	digest, err := DigestOf(in.Kind, in.Body) // before the first try: work may tidy its input up
	if err != nil {
		return err
	}
	leave, err := s.gates.enter(ctx, a.FarmID)
	if err != nil {
		return err
	}
	defer leave()
	var done *Writing
	err = store.Atomically(ctx, s.DB, func(db *gorm.DB) error {
		done = nil
		noting, touched := store.WithTouched(db.Statement.Context)
		db = db.WithContext(noting)
		tx, err := s.lock(db, a)
		if err != nil {
			return err
		}
		repeat, err := once(db, a.FarmID, in.ID, digest)
		if err != nil || repeat {
			return err
		}
		if err := work(tx); err != nil {
			return err
		}
		done = tx
		parts := map[store.Part]int64{}
		for part, version := range tx.Farm.Parts.V {
			parts[part] = version
		}
		for _, part := range touched.List() {
			parts[part] = tx.Version
		}
		return db.Model(&store.Farm{}).Where("id = ?", a.FarmID).Updates(map[string]any{"facts_version": tx.Version, "parts": store.JSON[map[store.Part]int64]{V: parts}}).Error
	})
	if err == nil && done != nil {
		for _, what := range done.noted {
			slog.InfoContext(ctx, "audit", "farm", a.FarmID, "user", done.Actor.UserID, "what", what)
		}
	}
	return Say(err)
}

// lock takes the farm's row before anything else is read.
func (s *Service) lock(db *gorm.DB, a Actor) (*Writing, error) {
	tx := &Writing{DB: db, service: s, Actor: a}
	var row struct {
		store.Farm
		Role *Role
	}
	err := db.Clauses(clause.Locking{Strength: clause.LockingStrengthUpdate}).Table("farms").Select("farms.*, members.role AS role").
		Joins("LEFT JOIN members ON members.farm_id = farms.id AND members.user_id = ?", a.UserID).Limit(1).Find(&row, "farms.id = ?", a.FarmID).Error
	if err != nil {
		return nil, err
	}
	if row.ID == "" {
		return nil, ErrStranger
	}
	tx.Farm, tx.Version = row.Farm, row.FactsVersion+1
	if a.UserID != "" { // the farm's own doings, such as a layout whose day has come, have no person behind them
		if row.Role == nil {
			return nil, ErrStranger
		}
		if !row.Role.Includes(a.Role) {
			return nil, ErrForbidden
		}
	}
	tx.Now, err = s.Clock.At(db)
	return tx, err
}

// Today is the farm's day.
func (tx *Writing) Today() store.Day { return tx.DayOf(tx.Now) }

// DayOf is the day of a moment at the farm.
func (tx *Writing) DayOf(at time.Time) store.Day {
	loc, err := time.LoadLocation(tx.Farm.TimeZone)
	if err != nil {
		loc = time.UTC
	}
	return store.DayOf(at, loc)
}

// DigestOf is the mark of what was asked for.
func DigestOf(kind string, body any) (string, error) {
	raw, err := json.Marshal(body)
	if err != nil {
		return "", quantity.Refuse("body", nil, "this cannot be written down: %v", err)
	}
	sum := sha256.Sum256(append([]byte(kind+"\n"), raw...))
	return hex.EncodeToString(sum[:]), nil
}

// once records that an id asks for this. repeat is true when the same was asked before: the answer is then the first
// result. The same id with another body is ErrSameID.
func once(db *gorm.DB, farmID, id, digest string) (repeat bool, err error) {
	res := db.Clauses(clause.Insert{Modifier: "IGNORE"}).Create(&store.Write{FarmID: farmID, ID: id, Digest: digest})
	if res.Error != nil || res.RowsAffected == 1 {
		return false, res.Error
	}
	var before store.Write
	if err := db.Limit(1).Find(&before, "farm_id = ? AND id = ?", farmID, id).Error; err != nil {
		return false, err
	}
	if before.Digest != digest {
		return false, ErrSameID
	}
	return true, nil
}

// Say puts what the database refuses into a sentence a person understands.
func Say(err error) error {
	var e *mysql.MySQLError
	switch {
	case errors.Is(err, gorm.ErrDuplicatedKey):
		return ErrSameID
	case errors.Is(err, gorm.ErrForeignKeyViolated):
		return quantity.Refuse("body", nil, "it names something that is not on this farm, or that other records still need")
	case !errors.As(err, &e):
		return err
	}
	switch e.Number {
	case 1406: // data too long
		return quantity.Refuse("body", nil, "a text in it is longer than can be kept")
	case 1264, 1690: // out of range
		return quantity.Refuse("body", nil, "a figure in it is larger than can be kept")
	case 1366, 1267, 3988: // letters a column cannot hold
		return quantity.Refuse("body", nil, "an id or name in it has letters that cannot be kept")
	case 1021, 1114, 1041, 3675: // disk or table full
		return fmt.Errorf("%w: %w", ErrFull, err)
	}
	return err
}

// ErrFull says that the database has no room left. Nothing was written.
var ErrFull = errors.New("the disk of the database is full")
