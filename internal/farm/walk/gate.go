package walk

import (
	"context"
	"strings"
	"time"

	"fjell/core/forage"
	"fjell/core/grazing"
	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// NewGateCall is one figure seen at a gate, what was said of it there, and what was done.
type NewGateCall struct {
	ID        string    `json:"id"`
	MobID     string    `json:"mob_id"`
	PaddockID string    `json:"paddock_id"`
	SeenAt    time.Time `json:"seen_at"`
	Height    *float64  `json:"seen_height_cm,omitempty"` // of leaf; or
	Fists     *float64  `json:"seen_fists,omitempty"`     // stacked in it; or
	Mass      *float64  `json:"seen_kg_dm_ha,omitempty"`
	Said      string    `json:"said" enum:"move,stay,skip,hold"`
	Did       string    `json:"did" enum:"move,stay,skip,hold"`
	Otherwise bool      `json:"otherwise,omitempty"` // than was said, be it only longer
	Reason    string    `json:"reason,omitempty"`
	Confirmed bool      `json:"confirmed,omitempty"`
}

// RecordGateCall keeps what was decided at a gate. The figure counts as a measurement of the paddock. Whoever does other than was said says why:
// the farm learns from it.
func (s *Service) RecordGateCall(ctx context.Context, a farm.Actor, in NewGateCall) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "gate call", Body: in}, func(tx *facts.Writing) error {
		if err := farm.Judge(in, in.Confirmed); err != nil {
			return err
		}
		measured := NewMeasurement{ID: in.ID, PaddockID: in.PaddockID, MeasuredAt: in.SeenAt, Note: in.Reason, Confirmed: in.Confirmed}
		if err := in.seen(tx, &measured.Input); err != nil {
			return err
		}
		for field, do := range map[string]string{"said": in.Said, "did": in.Did} {
			if do != grazing.MoveNow && do != grazing.StayOn && do != grazing.SkipOne && do != grazing.HoldOn {
				return quantity.Refuse(field, do, "must be move, stay, skip or hold")
			}
		}
		reason := strings.TrimSpace(in.Reason)
		if (in.Otherwise || in.Did != in.Said) && reason == "" {
			return quantity.Refuse("reason", nil, "say why you do other than was said: it is kept, and the next answer can be held against it")
		}
		if _, err := farm.Find[store.Mob](tx.DB, tx.Actor.FarmID, "mob_id", in.MobID); err != nil {
			return err
		}
		if err := record(tx, measured); err != nil {
			return err
		}
		var row store.Measurement
		if err := tx.Select("forage_mass").First(&row, "farm_id = ? AND id = ?", tx.Actor.FarmID, in.ID).Error; err != nil {
			return err
		}
		return tx.Create(&store.GateCall{FarmID: tx.Actor.FarmID, ID: in.ID, MobID: in.MobID, PaddockID: in.PaddockID, SeenAt: in.SeenAt.UTC(), Mass: row.ForageMass,
			Said: in.Said, Did: in.Did, Reason: reason, RecordedAt: time.Now().UTC(), RecordedBy: tx.Actor.UserID}).Error
	})
}

// seen is what was seen as a measurement: a height by the stick, fists and masses by eye.
func (in NewGateCall) seen(tx *facts.Writing, out *measuring.Input) error {
	said := 0
	for _, v := range []*float64{in.Height, in.Fists, in.Mass} {
		if v != nil {
			said++
		}
	}
	if said != 1 {
		return quantity.Refuse("seen_height_cm", nil, "say what stands there by one of a height, fists and a mass")
	}
	switch {
	case in.Height != nil:
		*out = measuring.Input{Method: forage.Stick, Readings: []float64{*in.Height}}
	case in.Mass != nil:
		*out = measuring.Input{Method: forage.Eye, Readings: []float64{*in.Mass}}
	default:
		pad, err := farm.Find[store.Paddock](tx.DB, tx.Actor.FarmID, "paddock_id", in.PaddockID)
		if err != nil {
			return err
		}
		sward, err := facts.FindSward(tx.DB, tx.Actor.FarmID, "paddock_id", pad.SwardID)
		if err != nil {
			return err
		}
		mass, err := grazing.SeenOn(sward, "fists", *in.Fists).Mass()
		if err != nil {
			return err
		}
		*out = measuring.Input{Method: forage.Eye, Readings: []float64{mass}}
	}
	return nil
}
