// Package farm is what a person can do, one use case a function: it checks what came, loads records, asks core, and
// saves in one transaction. Whether a person may do it at all is decided at the farm's wall, before.
package farm

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Service holds what every use case needs.
type Service struct {
	DB    *gorm.DB
	Clock *Clock
	// PrivateTiles lets map tiles come from machines of the house's own network. Only its keeper can know whether that is
	// wanted: whoever may set a farm's tiles can then ask those machines.
	PrivateTiles bool
	FarmBytes    int64 // room for photos and pictures of one farm; 0: the usual

	gates   gates
	library library
	tiles   tileShelf
	hashing hashing
	studio  studio
	readers studio
}

// Role is what a member may do on a farm; each includes the ones below it.
type Role string

// The roles.
const (
	Viewer  Role = "viewer"  // looks
	Hand    Role = "hand"    // walks and moves
	Manager Role = "manager" // land, stock, plans
	Owner   Role = "owner"   // the farm and its people
)

var rank = map[Role]int{Viewer: 1, Hand: 2, Manager: 3, Owner: 4}

// Includes tells whether a role covers another.
func (r Role) Includes(other Role) bool { return rank[r] >= rank[other] && rank[r] > 0 }

// Actor is who acts, on which farm, as what.
type Actor struct {
	UserID string
	FarmID string
	Role   Role
	Key    string // the client's own id of this request, where it makes no record that has one
}

// Errors a use case can end in, beside a *quantity.Problem for a refused field.
var (
	ErrNotFound  = errors.New("there is no such thing on this farm")
	ErrSameID    = errors.New("this id was already used for something else")
	ErrSignIn    = errors.New("e-mail or password is not right")
	ErrForbidden = errors.New("your role on this farm does not cover this")
)

// Unusual asks a person to confirm figures that are possible but strange.
type Unusual struct{ Problems []quantity.Problem }

func (u *Unusual) Error() string {
	texts := make([]string, len(u.Problems))
	for i, p := range u.Problems {
		texts[i] = p.Message
	}
	return strings.Join(texts, "; ")
}

// Changed says that a record was changed by somebody else since it was read.
type Changed struct {
	Yours  int
	Stored int
	Record any
}

func (c *Changed) Error() string {
	return fmt.Sprintf("somebody changed this meanwhile (you saw version %d, it is at %d): look again before you save", c.Yours, c.Stored)
}

// judge holds a body's figures against their bands: the impossible is refused, the unusual asked about once.
func judge(body any, confirmed bool) error {
	raw, err := json.Marshal(body)
	if err != nil {
		return quantity.Refuse("body", nil, "these figures cannot be written down: %v", err)
	}
	unusual, err := quantity.CheckJSON(raw)
	if err != nil {
		return err
	}
	if len(unusual) > 0 && !confirmed {
		return &Unusual{unusual}
	}
	return nil
}

// name refuses empty and overlong names and returns the trimmed one.
func name(field, value string) (string, error) {
	value = strings.TrimSpace(value)
	if value == "" {
		return "", quantity.Refuse(field, nil, "give it a name")
	}
	if n := len([]rune(value)); n > 80 {
		return "", quantity.Refuse(field, n, "a name has at most 80 letters")
	}
	return value, nil
}

// clientID refuses ids that are not UUIDs.
func clientID(field, id string) error {
	if len(id) != 36 || uuid.Validate(id) != nil {
		return quantity.Refuse(field, id, "must be a UUID")
	}
	return nil
}

func newID() string { return uuid.Must(uuid.NewV7()).String() }

// find loads one record of a farm by id, or says that field names nothing.
func find[T any](tx *gorm.DB, farmID, field, id string) (T, error) {
	var row T
	err := gorm.ErrRecordNotFound
	if uuid.Validate(id) == nil {
		err = tx.First(&row, "farm_id = ? AND id = ?", farmID, id).Error
	}
	if errors.Is(err, gorm.ErrRecordNotFound) {
		if field == "" {
			return row, ErrNotFound
		}
		return row, quantity.Refuse(field, id, "is not known on this farm")
	}
	return row, err
}

// bump raises a record's version if it still is what the person saw.
func bump[T any](tx *gorm.DB, farmID, id string, seen, stored int, view func() any) error {
	if seen != stored {
		return &Changed{seen, stored, view()}
	}
	var row T
	res := tx.Model(&row).Where("farm_id = ? AND id = ? AND version = ?", farmID, id, seen).Update("version", seen+1)
	if res.Error != nil {
		return res.Error
	}
	if res.RowsAffected == 0 {
		return &Changed{seen, seen + 1, nil}
	}
	return nil
}

// Clock tells Fjell's time. It runs, unless it is held: by a fixed instant, or by the demo's in the database.
type Clock struct {
	Fixed *time.Time
	Demo  bool
	DB    *gorm.DB
}

// Now is the present moment as this farm's program sees it.
func (c *Clock) Now(ctx context.Context) (time.Time, error) {
	if !c.Demo {
		return c.at(nil)
	}
	return c.at(c.DB.WithContext(ctx))
}

// at is the present moment, asked over the connection of a request that has one already.
func (c *Clock) at(db *gorm.DB) (time.Time, error) {
	if c.Demo {
		var held store.HeldClock
		if err := db.Limit(1).Find(&held, "id = 1").Error; err != nil {
			return time.Time{}, fmt.Errorf("held clock: %w", err)
		}
		if held.ID == 1 {
			return held.At, nil
		}
	}
	if c.Fixed != nil {
		return *c.Fixed, nil
	}
	return time.Now().UTC(), nil
}

// Held tells whether the clock stands still.
func (c *Clock) Held() bool { return c.Demo || c.Fixed != nil }

// ErrClockRuns says that only the demo's clock can be moved.
var ErrClockRuns = errors.New("only the demo's clock can be moved")

// Forward moves the demo's held clock by whole days and returns the new time.
func (c *Clock) Forward(ctx context.Context, days int) (time.Time, error) {
	if !c.Demo {
		return time.Time{}, ErrClockRuns
	}
	if days < 1 || days > 31 {
		return time.Time{}, quantity.Refuse("days", days, "the demo clock moves 1 to 31 days at a time")
	}
	now, err := c.Now(ctx)
	if err != nil {
		return now, err
	}
	return now.AddDate(0, 0, days), c.Hold(ctx, now.AddDate(0, 0, days))
}

// Hold sets the demo's clock.
func (c *Clock) Hold(ctx context.Context, at time.Time) error {
	return c.DB.WithContext(ctx).Save(&store.HeldClock{ID: 1, At: at.UTC()}).Error
}
