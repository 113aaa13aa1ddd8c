package walk

import (
	"context"
	"errors"
	"math"
	"time"

	"fjell/core/forage"
	"fjell/core/land"
	"fjell/core/quantity"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/standin"
	"fjell/internal/store"
)

// NewDevice is a device that is to send readings.
type NewDevice struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Kind string `json:"kind" enum:"plate"`
}

// DeviceView is a device. Its token is shown once, when it is made.
type DeviceView struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Kind     string `json:"kind"`
	Revoked  bool   `json:"revoked"`
	Readings int    `json:"readings"`
	Token    string `json:"token,omitempty"`
}

// AddDevice makes a device and its token.
func (s *Service) AddDevice(ctx context.Context, a farm.Actor, in NewDevice) (DeviceView, error) {
	err := farm.CheckID("id", in.ID)
	if err != nil {
		return DeviceView{}, err
	}
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return DeviceView{}, err
	}
	if in.Kind != "plate" {
		return DeviceView{}, quantity.Refuse("kind", in.Kind, "must be plate")
	}
	// A repeat whose first answer was lost gets a token of its own, and the one nobody saw is dead: the device has not
	// sent with it yet.
	token := farm.Secret()
	row := store.Device{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Kind: "plate", TokenDigest: farm.Digest(token), CreatedAt: time.Now().UTC()}
	err = s.Write(ctx, a, farm.Request{ID: farm.NewID(), Kind: "device", Body: in}, func(tx *facts.Writing) error { // each try is its own: it makes a token
		var before store.Device
		if err := tx.Limit(1).Find(&before, "farm_id = ? AND id = ?", a.FarmID, in.ID).Error; err != nil {
			return err
		}
		if before.ID == "" {
			return tx.Note("device made", in.Name, tx.Create(&row).Error)
		}
		var sent int64
		if err := tx.Model(&store.Reading{}).Where("farm_id = ? AND device_id = ?", a.FarmID, in.ID).Limit(1).Count(&sent).Error; err != nil {
			return err
		}
		if before.Name != in.Name || before.Revoked || sent > 0 {
			return farm.ErrSameID
		}
		return tx.Model(&store.Device{}).Where("farm_id = ? AND id = ?", a.FarmID, in.ID).Update("token_digest", row.TokenDigest).Error
	})
	return DeviceView{ID: row.ID, Name: row.Name, Kind: row.Kind, Token: token}, err
}

// Devices lists the farm's devices.
func (s *Service) Devices(ctx context.Context, a farm.Actor) ([]DeviceView, error) {
	db := s.DB.WithContext(ctx)
	var rows []store.Device
	if err := db.Order("created_at, id").Find(&rows, "farm_id = ?", a.FarmID).Error; err != nil {
		return nil, err
	}
	out := []DeviceView{}
	for _, r := range rows {
		var n int64
		if err := db.Model(&store.Reading{}).Where("farm_id = ? AND device_id = ?", a.FarmID, r.ID).Count(&n).Error; err != nil {
			return nil, err
		}
		out = append(out, DeviceView{ID: r.ID, Name: r.Name, Kind: r.Kind, Revoked: r.Revoked, Readings: int(n)})
	}
	return out, nil
}

// RevokeDevice shuts a device out; what it sent stays.
func (s *Service) RevokeDevice(ctx context.Context, a farm.Actor, id string) ([]DeviceView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "revoke device", Body: id}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Device](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		return tx.Note("device shut out", row.Name, tx.Model(&row).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("revoked", true).Error)
	})
	return farm.After(err, func() ([]DeviceView, error) { return s.Devices(ctx, a) })
}

// ErrToken says that a device is not known, or was shut out.
var ErrToken = errors.New("this token belongs to no device that may send readings")

// Sender is the device a token belongs to, or ErrToken.
func (s *Service) Sender(ctx context.Context, token string) (store.Device, error) {
	var device store.Device
	err := s.DB.WithContext(ctx).Limit(1).Find(&device, "token_digest = ? AND NOT revoked", farm.Digest(token)).Error
	if err == nil && device.ID == "" {
		err = ErrToken
	}
	return device, err
}

// Ingest keeps what a device sends.
func (s *Service) Ingest(ctx context.Context, device store.Device, in ReadingsInput) (ReadingsView, error) {
	if err := in.check(); err != nil {
		return ReadingsView{Refused: []RefusedReading{}}, err
	}
	for i := range in.Readings { // a device knows where it stands, not whose paddock that is
		in.Readings[i].StopID, in.Readings[i].PaddockID = "", ""
	}
	return s.keepReadings(ctx, device.FarmID, in.Readings, func(row *store.Reading) { row.DeviceID, row.Source = &device.ID, device.Name })
}

// StandInGround is the ground the stand-in plate walks over, with the heights that what is believed to stand there
// comes to.
func (s *Service) StandInGround(ctx context.Context, a farm.Actor) (land.Plane, []standin.Patch, time.Time, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return land.Plane{}, nil, time.Time{}, err
	}
	past := se.Past()
	var out []standin.Patch
	for p, pad := range se.Paddocks {
		if line := line(se.Picture, forage.Plate, pad); line != nil {
			out = append(out, standin.Patch{Ground: pad.Region, Cm: math.Max(2, (past.Standing[p].Mass-line.Intercept)/line.Slope)})
		}
	}
	return se.Plane, out, se.Now, nil
}
