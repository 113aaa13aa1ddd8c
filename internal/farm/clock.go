package farm

import (
	"context"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm"

	"fjell/core/quantity"
	"fjell/internal/store"
)

// Slot is how long a page of a running clock stays what it is while nobody writes anything down.
const Slot = 5 * time.Minute

// Clock tells Fjell's time. It runs, unless it is held: by a fixed instant, or by the demo's in the database.
type Clock struct {
	Fixed *time.Time
	Demo  bool
	DB    *gorm.DB
}

// Now is the present moment as this farm's program sees it.
func (c *Clock) Now(ctx context.Context) (time.Time, error) {
	if !c.Demo {
		return c.At(nil)
	}
	return c.At(c.DB.WithContext(ctx))
}

// At is the present moment, asked over the connection of a request that has one already.
func (c *Clock) At(db *gorm.DB) (time.Time, error) {
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
