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

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/store"
)

// request is what a client asks to be written. Its id is the record's that it makes; where it makes none, the client's
// key for the request stands in. The same id with the same body is answered with the first result; with another body
// it is a conflict.
type request struct {
	id   string
	kind string
	body any
}

// writing is one write on a farm. It holds the farm's row, so that nothing else writes on the farm beside it: what it
// reads stays true until it ends. Its transaction began with that row, before any snapshot, so it sees all that was
// committed before it.
type writing struct {
	*gorm.DB
	service *Service
	actor   Actor
	farm    store.Farm // as it is under the lock
	now     time.Time
	version int64    // of the facts that this write makes; also the farm's own sequence
	noted   []string // for the log, once it is kept
}

// Kept says that a write is kept, though its answer could not be made.
type Kept struct{ Err error }

func (k *Kept) Error() string {
	return "this is kept, but the page could not be made anew: " + k.Err.Error()
}

func (k *Kept) Unwrap() error { return nil } // what the page met is no refusal of the write

// after makes the answer of a write that went well. What goes wrong from here on is no refusal: the write stands.
func after[T any](err error, view func() (T, error)) (T, error) {
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

// write runs one write on the actor's farm: under the farm's lock, once for an id, with the actor's role looked at
// again. The facts' version is raised with it.
func (s *Service) write(ctx context.Context, a Actor, in request, work func(tx *writing) error) error {
	if in.id != "" {
		if err := clientID("id", in.id); err != nil {
			return err
		}
	} else if in.id = a.Key; in.id == "" {
		in.id = newID() // of no use to the client, but the write finds itself again when a commit's answer is lost
	}
	digest, err := digestOf(in.kind, in.body) // before the first try: work may tidy its input up
	if err != nil {
		return err
	}
	leave, err := s.gates.enter(ctx, a.FarmID)
	if err != nil {
		return err
	}
	defer leave()
	var done *writing
	err = store.Atomically(ctx, s.DB, func(db *gorm.DB) error {
		done = nil
		noting, touched := store.WithTouched(db.Statement.Context)
		db = db.WithContext(noting)
		tx, err := s.lock(db, a)
		if err != nil {
			return err
		}
		repeat, err := once(db, a.FarmID, in.id, digest)
		if err != nil || repeat {
			return err
		}
		if err := work(tx); err != nil {
			return err
		}
		done = tx
		parts := map[store.Part]int64{}
		for part, version := range tx.farm.Parts.V {
			parts[part] = version
		}
		for _, part := range touched.List() {
			parts[part] = tx.version
		}
		return db.Model(&store.Farm{}).Where("id = ?", a.FarmID).Updates(map[string]any{"facts_version": tx.version, "parts": store.JSON[map[store.Part]int64]{V: parts}}).Error
	})
	if err == nil && done != nil {
		for _, what := range done.noted {
			slog.InfoContext(ctx, "audit", "farm", a.FarmID, "user", done.actor.UserID, "what", what)
		}
	}
	return say(err)
}

// lock takes the farm's row before anything else is read.
func (s *Service) lock(db *gorm.DB, a Actor) (*writing, error) {
	tx := &writing{DB: db, service: s, actor: a}
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
	tx.farm, tx.version = row.Farm, row.FactsVersion+1
	if a.UserID != "" { // the farm's own doings, such as a layout whose day has come, have no person behind them
		if row.Role == nil {
			return nil, ErrStranger
		}
		if !row.Role.Includes(a.Role) {
			return nil, ErrForbidden
		}
	}
	tx.now, err = s.Clock.at(db)
	return tx, err
}

// picture is the farm as it was when the write began, the write's own to change.
func (tx *writing) picture() (*picture, error) {
	loc, err := time.LoadLocation(tx.farm.TimeZone)
	if err != nil {
		loc = time.UTC
	}
	key := factsKey{tx.farm.ID, tx.farm.FactsVersion, store.DayOf(tx.now, loc)}
	f := tx.service.library.have(key)
	if f == nil { // not waited for where somebody is loading it: this write holds a lock and a connection
		p, err := pictureAt(tx.DB, tx.farm, tx.now, "", nil, tx.service.library.latest(key))
		if err != nil {
			return nil, err
		}
		f = tx.service.library.put(key, p)
	}
	p := f.picture.own()
	p.now = tx.now
	return p, nil
}

// pictureWithin is the farm with only the fields that meet a box, where one is given.
func (tx *writing) pictureWithin(box *land.Box) (*picture, error) {
	if box == nil {
		return tx.picture()
	}
	return pictureAt(tx.DB, tx.farm, tx.now, "", box, nil)
}

// anew is the farm with what the write itself has written so far.
func (tx *writing) anew() (*picture, error) {
	return pictureAt(tx.DB, tx.farm, tx.now, "", nil, nil)
}

// digestOf is the mark of what was asked for.
func digestOf(kind string, body any) (string, error) {
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

// say puts what the database refuses into a sentence a person understands.
func say(err error) error {
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
