// Package demo builds the demo farms, by code from a fixed seed, through the same use cases a person uses: fields are
// drawn and divided, paddocks walked, mobs moved, stock born and sold, over two seasons. What grows underneath is a truth of its
// own that strays from the model, so that the records look like records.
package demo

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"

	"fjell/internal/farm"
	"fjell/internal/house"
	"fjell/internal/store"
)

// The demo's sign-in. It opens made-up data only.
const (
	Email    = "ida@skarnvoll.example"
	Password = "grass in june"
)

// Now is the mid-season morning at which the demo's clock is held: Wednesday 10 June 2026, 07:30 at Skarnvoll.
var Now = time.Date(2026, 6, 10, 5, 30, 0, 0, time.UTC)

// Farm is a demo farm's name, and what it shows.
type Farm struct{ Name, About string }

// Farms are the demo farms, in the order in which they are offered.
var Farms = []Farm{
	{"Skarnvoll", "64 ha in the north, metric: leys and rough hill grass, suckler cows, ewes with twins, yearling heifers"},
	{"Quillback Flat", "1 900 acres of dry plateau, in acres and pounds: native grass, irrigated meadows, cow–calf pairs, does"},
}

// building is the demo's account until its farms are there: who finds it found a demo that was stopped while it built.
const building = "building@fjell.invalid"

// Build builds the farms, unless they are there, and holds the demo's clock. Processes that start at once take turns; one
// that was stopped while it built is started over by the next.
func Build(ctx context.Context, house *house.House) error {
	return house.Farm.DB.WithContext(ctx).Connection(func(turn *gorm.DB) error {
		var mine int
		if err := turn.Raw("SELECT GET_LOCK(CONCAT(DATABASE(), '.demo'), 300)").Scan(&mine).Error; err != nil || mine != 1 {
			return fmt.Errorf("another process builds the demo: %w", err)
		}
		defer turn.Exec("DO RELEASE_LOCK(CONCAT(DATABASE(), '.demo'))")
		return build(ctx, house)
	})
}

func build(ctx context.Context, house *house.House) error {
	var there []store.User
	db := house.Farm.DB.WithContext(ctx)
	if err := db.Find(&there, "email IN ?", []string{Email, building}).Error; err != nil {
		return err
	}
	for _, u := range there {
		if u.Email == Email {
			return nil
		}
		if err := house.Farm.GiveUpAccount(ctx, u.ID, Password); err != nil {
			return fmt.Errorf("start the demo over: %w", err)
		}
	}
	account, _, err := house.Farm.SignUp(ctx, building, "Ida Skarn", Password, farm.Visitor{Address: "demo"})
	if err != nil {
		return err
	}
	for _, s := range []site{skarnvoll(), quillback()} {
		if err := s.build(ctx, house, account); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
	}
	if err := house.Farm.Clock.Hold(ctx, Now); err != nil {
		return err
	}
	return db.Model(&store.User{}).Where("id = ?", account.ID).Update("email", Email).Error
}
