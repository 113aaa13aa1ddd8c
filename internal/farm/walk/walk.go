package walk

import (
	"context"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/land"
	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/rotation"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/farm/season"
	"fjell/internal/store"
)

// NewMeasurement is a measurement to keep.
type NewMeasurement struct {
	ID        string `json:"id"`
	PaddockID string `json:"paddock_id"`
	measuring.Input
	CalibrationID *string   `json:"calibration_id,omitempty"`
	Note          string    `json:"note,omitempty"`
	MeasuredAt    time.Time `json:"measured_at"`
	ReplacesID    *string   `json:"replaces_id,omitempty"`
	Confirmed     bool      `json:"confirmed,omitempty"`

	source string // device or file
}

// RecordMeasurement keeps a measurement. A correction names the one it replaces, which is kept too.
// Nothing comes back but that it is kept: the signal may be poor out there.
func (s *Service) RecordMeasurement(ctx context.Context, a farm.Actor, in NewMeasurement) error {
	return s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "measurement", Body: in}, func(tx *facts.Writing) error { return record(tx, in) })
}

func record(tx *facts.Writing, in NewMeasurement) error {
	a, now := tx.Actor, tx.Now
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return err
	}
	if len([]rune(in.Note)) > 500 {
		return quantity.Refuse("note", nil, "a note has at most 500 letters")
	}
	if in.MeasuredAt.After(now.Add(time.Minute)) {
		return quantity.Refuse("measured_at", in.MeasuredAt.Format(time.RFC3339), "a walk cannot lie in the future")
	}
	if in.MeasuredAt.Before(now.AddDate(-5, 0, 0)) {
		return quantity.Refuse("measured_at", in.MeasuredAt.Format(time.RFC3339), "a walk can be written down up to five years later")
	}
	pad, err := farm.Find[store.Paddock](tx.DB, a.FarmID, "paddock_id", in.PaddockID)
	if err != nil {
		return err
	}
	sward, err := facts.FindSward(tx.DB, a.FarmID, "paddock_id", pad.SwardID)
	if err != nil {
		return err
	}
	if in.CalibrationID != nil {
		c, err := farm.Find[store.Calibration](tx.DB, a.FarmID, "calibration_id", *in.CalibrationID)
		if err != nil {
			return err
		}
		in.Slope, in.Intercept, in.LineName = &c.Slope, &c.Intercept, c.Name
	}
	if in.Method == forage.Eye {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		sight, _, err := forage.JudgeEye(guessesOf(p, a.UserID))
		if err != nil {
			return err
		}
		in.EyeError = sight.Error()
	}
	v, err := measuring.Of(in.Input, sward)
	if err != nil {
		return err
	}
	if most := 1.6 * sward.Ceiling; v.Mass.Value > most && !in.Confirmed {
		return &farm.Unusual{Problems: []quantity.Problem{*quantity.Refuse("readings", nil, "%s is far more than %s ever carries (about %s): right paddock, right meter?",
			quantity.Said{Value: math.Round(v.Mass.Value), Unit: quantity.ForageMass}, sward.Name, quantity.Said{Value: sward.Ceiling, Unit: quantity.ForageMass})}}
	}
	if in.ReplacesID != nil {
		if err := farm.CheckID("replaces_id", *in.ReplacesID); err != nil { // it may come before the one it corrects
			return err
		}
		var corrected int64
		if err := tx.Model(&store.Measurement{}).Where("farm_id = ? AND replaces_id = ?", a.FarmID, *in.ReplacesID).Count(&corrected).Error; err != nil {
			return err
		}
		if corrected > 0 {
			return quantity.Refuse("replaces_id", nil, "this measurement was corrected or taken back already: correct the one that stands now")
		}
	}
	row := measurementRow(a, in.ID, in.PaddockID, in.Input, v)
	row.CalibrationID, row.Note, row.MeasuredAt, row.ReplacesID, row.Source = in.CalibrationID, in.Note, in.MeasuredAt.UTC(), in.ReplacesID, in.source
	if err := tx.Create(&row).Error; err != nil {
		return err
	}
	return tx.Model(&store.Reading{}).Where("farm_id = ? AND stop_id = ?", a.FarmID, in.ID).Update("paddock_id", in.PaddockID).Error
}

// measurementRow is what readings came to, as it is kept: the readings and every figure that turned them into mass.
func measurementRow(a farm.Actor, id, paddockID string, in measuring.Input, v measuring.View) store.Measurement {
	details := in
	details.Readings = []float64{}
	return store.Measurement{FarmID: a.FarmID, ID: id, PaddockID: paddockID, Method: string(in.Method), Figures: store.JSON[map[string]float64]{V: v.Figures},
		Readings: store.JSON[[]float64]{V: append([]float64{}, in.Readings...)}, Guess: in.Guess, ForageMass: v.Mass.Value, HalfWidth: v.HalfWidth, SharedError: v.Shared, SamplingError: v.Sampling,
		Details: store.JSON[measuring.Input]{V: details}, RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}
}

// WithdrawMeasurement takes a measurement back; both rows are kept.
func (s *Service) WithdrawMeasurement(ctx context.Context, a farm.Actor, id string) (WalkView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "withdraw measurement", Body: id}, func(tx *facts.Writing) error { return withdraw(tx, id, "") })
	return farm.After(err, func() (WalkView, error) { return s.Walk(ctx, a) })
}

func withdraw(tx *facts.Writing, id, reason string) error {
	a := tx.Actor
	row, err := farm.Find[store.Measurement](tx.DB, a.FarmID, "", id)
	if err != nil {
		return err
	}
	row.ID, row.ReplacesID, row.Withdrawn, row.Reason = farm.NewID(), &id, true, reason
	row.RecordedAt, row.RecordedBy = time.Now().UTC(), a.UserID
	err = tx.Create(&row).Error
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return quantity.Refuse("measurement", nil, "this measurement was corrected or taken back already")
	}
	return err
}

// OddAnswer is what a person says of a measurement that lies far outside what was believed.
type OddAnswer struct {
	Answer    string `json:"answer" enum:"kept,eaten,wrong_paddock,wrong_calibration"`
	PaddockID string `json:"paddock_id,omitempty" doc:"the right one, if it was the wrong paddock"`
}

// AnswerOdd settles a question about a measurement. One of the wrong paddock is taken back, and kept for the right one
// if that is named; otherwise it stands, and is not asked about again.
func (s *Service) AnswerOdd(ctx context.Context, a farm.Actor, id string, in OddAnswer) (WalkView, error) {
	err := s.Write(ctx, a, farm.Request{Kind: "answer odd", Body: []any{id, in}}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Measurement](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		switch in.Answer {
		case "kept", "eaten", "wrong_paddock", "wrong_calibration":
		default:
			return quantity.Refuse("answer", in.Answer, "must be kept, eaten, wrong_paddock or wrong_calibration")
		}
		if in.Answer != "wrong_paddock" {
			return tx.Model(&store.Measurement{}).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("answer", in.Answer).Error
		}
		if err := withdraw(tx, id, "it was another paddock"); err != nil || in.PaddockID == "" {
			return err
		}
		input := row.Details.V
		input.Readings = row.Readings.V
		return record(tx, NewMeasurement{ID: farm.NewID(), PaddockID: in.PaddockID, Input: input, CalibrationID: row.CalibrationID, Note: row.Note,
			MeasuredAt: row.MeasuredAt, Confirmed: true})
	})
	return farm.After(err, func() (WalkView, error) { return s.Walk(ctx, a) })
}

// LastMeasurement is the latest measurement of a paddock.
type LastMeasurement struct {
	ID        string        `json:"id"`
	Method    forage.Method `json:"method"`
	Readings  int           `json:"readings"`
	Mass      float64       `json:"forage_mass_kg_dm_ha"`
	HalfWidth float64       `json:"half_width_kg_dm_ha"`
	Guess     *float64      `json:"guess_kg_dm_ha,omitempty"`
	At        time.Time     `json:"measured_at"`
	Note      string        `json:"note"`
	Photos    []string      `json:"photos" nullable:"false"`
}

// Line turns a height into mass for a paddock today.
type Line struct {
	CalibrationID string  `json:"calibration_id"` // empty: the sward's reference line
	Name          string  `json:"name"`
	Slope         float64 `json:"slope_kg_per_cm"`
	Intercept     float64 `json:"intercept_kg"`
}

// WalkStop is a paddock of the round with everything that measuring it without a signal needs.
type WalkStop struct {
	PaddockID string           `json:"paddock_id"`
	Name      string           `json:"name"`
	SwardID   string           `json:"sward_id"`
	SwardName string           `json:"sward_name"`
	AreaHa    float64          `json:"area_ha"`
	PlateSays string           `json:"plate_unsuited"` // why a plate should not be used here; empty: it fits
	StickSays string           `json:"stick_unsuited"` // the same of a height
	Plate     *Line            `json:"plate_line,omitempty"`
	Stick     *Line            `json:"stick_line,omitempty"` // only where a calibration was made for heights
	StopCm    float64          `json:"stop_height_cm"`
	Zones     []measuring.Zone `json:"zones" nullable:"false"`
	Avoid     []string         `json:"avoid" nullable:"false"`
	Mass      season.MassView  `json:"mass"`
	Growth    float64          `json:"growth_kg_dm_ha_day"`
	Leaves    *float64         `json:"leaves" nullable:"true"`
	Last      *LastMeasurement `json:"last,omitempty"`
	Today     bool             `json:"measured_today"`
}

// WalkView is the round of paddocks in order of the walk.
type WalkView struct {
	Version   int              `json:"version"` // of the farm's settings, the order of the walk among them
	Stops     []WalkStop       `json:"stops" nullable:"false"`
	DaysSince *float64         `json:"days_since" nullable:"true"`
	OwnOrder  bool             `json:"own_order"`
	Odd       []season.OddView `json:"odd" nullable:"false"`
	Waiting   int              `json:"waiting"` // readings of devices and files that nobody has taken in
}

// Walk lists the paddocks in walking order with what is known of each.
func (s *Service) Walk(ctx context.Context, a farm.Actor) (WalkView, error) {
	se, err := s.Season(ctx, a)
	if err != nil {
		return WalkView{}, err
	}
	past := se.Past()
	last := map[string]store.Measurement{}
	out := WalkView{Version: se.Row.Version, Stops: []WalkStop{}, Odd: se.Odd(past), OwnOrder: len(se.Row.WalkOrder.V) > 0}
	for _, m := range se.Measured {
		if m.Method != season.CarriedMethod && m.Method != season.CutMethod {
			last[m.PaddockID] = m
			days := se.Now.Sub(m.MeasuredAt).Hours() / 24
			out.DaysSince = &days
		}
	}
	ids := []string{}
	for _, m := range last {
		ids = append(ids, m.ID)
	}
	db := s.DB.WithContext(ctx)
	var photos []store.Photo
	if len(ids) == 0 {
		ids = append(ids, "")
	}
	if err := db.Omit("content").Order("taken_at, id").Find(&photos, "farm_id = ? AND stop_id IN ?", a.FarmID, ids).Error; err != nil {
		return out, err
	}
	of := map[string][]string{}
	for _, ph := range photos {
		of[ph.StopID] = append(of[ph.StopID], ph.ID)
	}
	var waiting int64
	if err := waitingReadings(db, a.FarmID).Model(&store.Reading{}).Count(&waiting).Error; err != nil {
		return out, err
	}
	out.Waiting = int(waiting)
	today := store.DayOf(se.Now, se.Location)
	for _, p := range walkOrder(se) {
		stop, err := walkStop(se, p, past.Standing[p])
		if err != nil {
			return out, err
		}
		if m, ok := last[stop.PaddockID]; ok {
			stop.Last = &LastMeasurement{m.ID, forage.Method(m.Method), m.ReadingCount, m.ForageMass, m.HalfWidth, m.Guess, m.MeasuredAt, m.Note, []string{}}
			stop.Last.Photos = append(stop.Last.Photos, of[m.ID]...)
			stop.Today = store.DayOf(m.MeasuredAt, se.Location) == today
		}
		out.Stops = append(out.Stops, stop)
	}
	return out, nil
}

func walkStop(s *season.Season, p int, st rotation.Standing) (WalkStop, error) {
	pad := s.Paddocks[p]
	stop := WalkStop{PaddockID: pad.ID, Name: pad.Name, SwardID: pad.SwardID, SwardName: pad.Sward.Name, AreaHa: pad.Shape.AreaHa,
		PlateSays: measuring.UnsuitedPlate(pad.Sward), StickSays: measuring.UnsuitedStick(pad.Sward), StopCm: pad.Sward.StopHeight, Mass: s.MassView(st), Zones: []measuring.Zone{}, Leaves: s.Leaves(p, st)}
	stop.Growth, _ = s.Farm.GrowthOn(p, st, s.Now)
	stop.Plate, stop.Stick = line(s.Picture, forage.Plate, pad), line(s.Picture, forage.Stick, pad)
	if stop.Plate != nil && stop.PlateSays != "" && stop.Plate.CalibrationID != "" {
		stop.PlateSays = ""
	}
	protocol, err := reference.Load().Protocol("plate_walk")
	if err != nil {
		return stop, err
	}
	for _, a := range protocol.Avoid {
		stop.Avoid = append(stop.Avoid, strings.ReplaceAll(a, "_", " "))
	}
	for _, f := range s.Fields {
		if f.ID != pad.FieldID {
			continue
		}
		rest := 1.0
		for _, z := range f.Zones {
			ha, err := land.OverlapHa(pad.Region, s.Plane.Project(z.Shape.Shape))
			if err != nil {
				return stop, fmt.Errorf("zone %s: %w", z.Name, err)
			}
			if share := ha / pad.Shape.AreaHa; share > 0.05 {
				stop.Zones = append(stop.Zones, measuring.Zone{Name: z.Name, Share: share})
				rest -= share
			}
		}
		if len(stop.Zones) > 0 && rest > 0.05 {
			stop.Zones = append(stop.Zones, measuring.Zone{Name: "the rest", Share: rest})
		}
	}
	return stop, nil
}

// walkOrder is the farm's own order of paddocks, those it does not name after it; without one the shortest way round.
func walkOrder(s *season.Season) []int {
	var order []int
	seen := map[int]bool{}
	for _, id := range s.Row.WalkOrder.V {
		if i, ok := s.ByID[id]; ok && !seen[i] {
			seen[i] = true
			order = append(order, i)
		}
	}
	if len(order) > 0 {
		for i := range s.Paddocks {
			if !seen[i] {
				order = append(order, i)
			}
		}
		return order
	}
	places := make([]land.Point, len(s.Paddocks))
	first := 0
	for i, pad := range s.Paddocks {
		places[i] = pad.Centre
		if pad.Centre.X < places[first].X {
			first = i
		}
	}
	return land.Route(places, first)
}

// WalkOrderInput is the farm's own order of paddocks; empty: the shortest way round.
type WalkOrderInput struct {
	PaddockIDs []string `json:"paddock_ids" nullable:"false" maxItems:"5000"`
}

// SetWalkOrder keeps the farm's own order of the walk.
func (s *Service) SetWalkOrder(ctx context.Context, a farm.Actor, version int, in WalkOrderInput) (WalkView, error) {
	if len(in.PaddockIDs) > 5000 {
		return WalkView{}, quantity.Refuse("paddock_ids", len(in.PaddockIDs), "at most 5 000 paddocks")
	}
	err := s.Write(ctx, a, farm.Request{Kind: "walk order", Body: []any{version, in}}, func(tx *facts.Writing) error {
		if err := tx.BumpFarm(version); err != nil {
			return err
		}
		if err := tx.KnowsPaddocks("paddock_ids", in.PaddockIDs); err != nil {
			return err
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("walk_order", store.JSON[[]string]{V: append([]string{}, in.PaddockIDs...)}).Error
	})
	return farm.After(err, func() (WalkView, error) { return s.Walk(ctx, a) })
}
