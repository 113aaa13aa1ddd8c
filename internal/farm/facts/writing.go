package facts

import (
	"context"
	"fmt"
	"time"

	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/store"
)

// Writing is one write on a farm that can see what the farm has on record.
type Writing struct {
	*farm.Writing
	library *library
}

// Write runs one write on the actor's farm, as the kernel does.
func (s *Service) Write(ctx context.Context, a farm.Actor, in farm.Request, work func(tx *Writing) error) error {
	return s.Service.Write(ctx, a, in, func(tx *farm.Writing) error { return work(&Writing{tx, &s.library}) })
}

// Picture is the farm as it was when the write began, the write's own to change.
func (tx *Writing) Picture() (*Picture, error) {
	loc, err := time.LoadLocation(tx.Farm.TimeZone)
	if err != nil {
		loc = time.UTC
	}
	key := factsKey{tx.Farm.ID, tx.Farm.FactsVersion, store.DayOf(tx.Now, loc)}
	f := tx.library.have(key)
	if f == nil { // not waited for where somebody is loading it: this write holds a lock and a connection
		p, err := PictureAt(tx.DB, tx.Farm, tx.Now, "", nil, tx.library.latest(key))
		if err != nil {
			return nil, err
		}
		f = tx.library.put(key, p)
	}
	p := f.Picture.own()
	p.Now = tx.Now
	return p, nil
}

// PictureWithin is the farm with only the fields that meet a box, where one is given.
func (tx *Writing) PictureWithin(box *land.Box) (*Picture, error) {
	if box == nil {
		return tx.Picture()
	}
	return PictureAt(tx.DB, tx.Farm, tx.Now, "", box, nil)
}

// Anew is the farm with what the write itself has written so far.
func (tx *Writing) Anew() (*Picture, error) {
	return PictureAt(tx.DB, tx.Farm, tx.Now, "", nil, nil)
}

// KnowsPaddocks refuses ids among which one is no paddock of the farm, of any day.
func (tx *Writing) KnowsPaddocks(field string, ids []string) error {
	var known []string
	if err := tx.Model(&store.Paddock{}).Where("farm_id = ?", tx.Farm.ID).Pluck("id", &known).Error; err != nil {
		return err
	}
	ours := map[string]bool{}
	for _, id := range known {
		ours[id] = true
	}
	for i, id := range ids {
		if !ours[id] {
			return quantity.Refuse(fmt.Sprintf("%s[%d]", field, i), id, "is not known on this farm")
		}
	}
	return nil
}
