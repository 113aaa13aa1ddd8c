package farm

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
func (s *Service) RecordMeasurement(ctx context.Context, a Actor, in NewMeasurement) error {
	return s.write(ctx, a, request{in.ID, "measurement", in}, func(tx *writing) error { return tx.record(in) })
}

func (tx *writing) record(in NewMeasurement) error {
	a, now := tx.actor, tx.now
	if err := judge(in, in.Confirmed); err != nil {
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
	pad, err := find[store.Paddock](tx.DB, a.FarmID, "paddock_id", in.PaddockID)
	if err != nil {
		return err
	}
	sward, err := reference.Load().Sward(pad.SwardID)
	if err != nil {
		return err
	}
	if in.CalibrationID != nil {
		c, err := find[store.Calibration](tx.DB, a.FarmID, "calibration_id", *in.CalibrationID)
		if err != nil {
			return err
		}
		in.Slope, in.Intercept, in.LineName = &c.Slope, &c.Intercept, c.Name
	}
	v, err := measuring.Of(in.Input, sward)
	if err != nil {
		return err
	}
	if most := 1.6 * sward.Ceiling; v.Mass.Value > most && !in.Confirmed {
		return &Unusual{[]quantity.Problem{{Field: "readings", Message: fmt.Sprintf("%.0f kg/ha is far more than %s ever carries (about %.0f): right paddock, right meter?", v.Mass.Value, sward.Name, sward.Ceiling)}}}
	}
	if in.ReplacesID != nil {
		if err := clientID("replaces_id", *in.ReplacesID); err != nil { // it may come before the one it corrects
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
func measurementRow(a Actor, id, paddockID string, in measuring.Input, v measuring.View) store.Measurement {
	details := in
	details.Readings = []float64{}
	return store.Measurement{FarmID: a.FarmID, ID: id, PaddockID: paddockID, Method: string(in.Method), Figures: store.JSON[map[string]float64]{V: v.Figures},
		Readings: store.JSON[[]float64]{V: append([]float64{}, in.Readings...)}, Guess: in.Guess, ForageMass: v.Mass.Value, HalfWidth: v.HalfWidth, SharedError: v.Shared,
		Details: store.JSON[measuring.Input]{V: details}, RecordedAt: time.Now().UTC(), RecordedBy: a.UserID}
}

// WithdrawMeasurement takes a measurement back; both rows are kept.
func (s *Service) WithdrawMeasurement(ctx context.Context, a Actor, id string) (WalkView, error) {
	err := s.write(ctx, a, request{"", "withdraw measurement", id}, func(tx *writing) error { return tx.withdraw(id, "") })
	return after(err, func() (WalkView, error) { return s.Walk(ctx, a) })
}

func (tx *writing) withdraw(id, reason string) error {
	a := tx.actor
	row, err := find[store.Measurement](tx.DB, a.FarmID, "", id)
	if err != nil {
		return err
	}
	row.ID, row.ReplacesID, row.Withdrawn, row.Reason = newID(), &id, true, reason
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
func (s *Service) AnswerOdd(ctx context.Context, a Actor, id string, in OddAnswer) (WalkView, error) {
	err := s.write(ctx, a, request{"", "answer odd", []any{id, in}}, func(tx *writing) error {
		row, err := find[store.Measurement](tx.DB, a.FarmID, "", id)
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
		if err := tx.withdraw(id, "it was another paddock"); err != nil || in.PaddockID == "" {
			return err
		}
		input := row.Details.V
		input.Readings = row.Readings.V
		return tx.record(NewMeasurement{ID: newID(), PaddockID: in.PaddockID, Input: input, CalibrationID: row.CalibrationID, Note: row.Note,
			MeasuredAt: row.MeasuredAt, Confirmed: true})
	})
	return after(err, func() (WalkView, error) { return s.Walk(ctx, a) })
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
	Plate     *Line            `json:"plate_line,omitempty"`
	Stick     *Line            `json:"stick_line,omitempty"` // only where a calibration was made for heights
	StopCm    float64          `json:"stop_height_cm"`
	Zones     []measuring.Zone `json:"zones" nullable:"false"`
	Avoid     []string         `json:"avoid" nullable:"false"`
	Mass      MassView         `json:"mass"`
	Growth    float64          `json:"growth_kg_dm_ha_day"`
	Leaves    *float64         `json:"leaves" nullable:"true"`
	Last      *LastMeasurement `json:"last,omitempty"`
	Today     bool             `json:"measured_today"`
}

// OddView is a measurement that lies far outside what was believed, with the question it raises.
type OddView struct {
	ID        string    `json:"id"`
	PaddockID string    `json:"paddock_id"`
	Paddock   string    `json:"paddock"`
	At        time.Time `json:"at"`
	Believed  float64   `json:"believed_kg_dm_ha"`
	Measured  float64   `json:"measured_kg_dm_ha"`
	Question  string    `json:"question"`
}

// WalkView is the round of paddocks in order of the walk.
type WalkView struct {
	Version   int        `json:"version"` // of the farm's settings, the order of the walk among them
	Stops     []WalkStop `json:"stops" nullable:"false"`
	DaysSince *float64   `json:"days_since" nullable:"true"`
	OwnOrder  bool       `json:"own_order"`
	Odd       []OddView  `json:"odd" nullable:"false"`
	Waiting   int        `json:"waiting"` // readings of devices and files that nobody has taken in
}

// Walk lists the paddocks in walking order with what is known of each.
func (s *Service) Walk(ctx context.Context, a Actor) (WalkView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return WalkView{}, err
	}
	past := se.past()
	last := map[string]store.Measurement{}
	out := WalkView{Version: se.row.Version, Stops: []WalkStop{}, Odd: se.odd(past), OwnOrder: len(se.row.WalkOrder.V) > 0}
	for _, m := range se.measured {
		if m.Method != carriedMethod {
			last[m.PaddockID] = m
			days := se.now.Sub(m.MeasuredAt).Hours() / 24
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
	today := store.DayOf(se.now, se.loc)
	for _, p := range se.walkOrder() {
		stop, err := se.walkStop(p, past.Standing[p])
		if err != nil {
			return out, err
		}
		if m, ok := last[stop.PaddockID]; ok {
			stop.Last = &LastMeasurement{m.ID, forage.Method(m.Method), m.ReadingCount, m.ForageMass, m.HalfWidth, m.Guess, m.MeasuredAt, m.Note, []string{}}
			stop.Last.Photos = append(stop.Last.Photos, of[m.ID]...)
			stop.Today = store.DayOf(m.MeasuredAt, se.loc) == today
		}
		out.Stops = append(out.Stops, stop)
	}
	return out, nil
}

func (s *season) walkStop(p int, st rotation.Standing) (WalkStop, error) {
	pad := s.paddocks[p]
	stop := WalkStop{PaddockID: pad.ID, Name: pad.Name, SwardID: pad.SwardID, SwardName: pad.sward.Name, AreaHa: pad.shape.AreaHa,
		PlateSays: measuring.UnsuitedPlate(pad.sward), StopCm: pad.sward.StopHeight, Mass: s.massView(st), Zones: []measuring.Zone{}, Leaves: s.leaves(p, st)}
	stop.Growth, _ = s.farm.GrowthOn(p, st, s.now)
	stop.Plate, stop.Stick = s.line(forage.Plate, pad), s.line(forage.Stick, pad)
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
	for _, f := range s.fields {
		if f.ID != pad.fieldID {
			continue
		}
		rest := 1.0
		for _, z := range f.zones {
			ha, err := land.OverlapHa(pad.region, s.plane.Project(z.Shape.Shape))
			if err != nil {
				return stop, fmt.Errorf("zone %s: %w", z.Name, err)
			}
			if share := ha / pad.shape.AreaHa; share > 0.05 {
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

// leaves is how many new leaves a tiller has put out since stock left, where the sward counts by leaves and the weather
// of every day since is on record.
func (s *season) leaves(p int, st rotation.Standing) *float64 {
	sward := s.paddocks[p].sward
	if sward.LeafStage == nil || sward.Phyllochron == nil || sward.LeafBase == nil || st.LastLeft == nil {
		return nil
	}
	for _, m := range s.rotMobs {
		if m.In == p {
			return nil
		}
	}
	sum, known := s.weather.DegreeDays(s.number(*st.LastLeft), s.number(s.now)-1, *sward.LeafBase)
	if !known {
		return nil
	}
	leaves := sum / *sward.Phyllochron
	return &leaves
}

// walkOrder is the farm's own order of paddocks, those it does not name after it; without one the shortest way round.
func (s *season) walkOrder() []int {
	var order []int
	seen := map[int]bool{}
	for _, id := range s.row.WalkOrder.V {
		if i, ok := s.byID[id]; ok && !seen[i] {
			seen[i] = true
			order = append(order, i)
		}
	}
	if len(order) > 0 {
		for i := range s.paddocks {
			if !seen[i] {
				order = append(order, i)
			}
		}
		return order
	}
	places := make([]land.Point, len(s.paddocks))
	first := 0
	for i, pad := range s.paddocks {
		places[i] = pad.centre
		if pad.centre.X < places[first].X {
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
func (s *Service) SetWalkOrder(ctx context.Context, a Actor, version int, in WalkOrderInput) (WalkView, error) {
	if len(in.PaddockIDs) > 5000 {
		return WalkView{}, quantity.Refuse("paddock_ids", len(in.PaddockIDs), "at most 5 000 paddocks")
	}
	err := s.write(ctx, a, request{"", "walk order", []any{version, in}}, func(tx *writing) error {
		if err := tx.bumpFarm(version); err != nil {
			return err
		}
		var known []string
		if err := tx.Model(&store.Paddock{}).Where("farm_id = ?", a.FarmID).Pluck("id", &known).Error; err != nil {
			return err
		}
		ours := map[string]bool{}
		for _, id := range known {
			ours[id] = true
		}
		for i, id := range in.PaddockIDs {
			if !ours[id] {
				return quantity.Refuse(fmt.Sprintf("paddock_ids[%d]", i), id, "is not known on this farm")
			}
		}
		return tx.Model(&store.Farm{}).Where("id = ?", a.FarmID).Update("walk_order", store.JSON[[]string]{V: append([]string{}, in.PaddockIDs...)}).Error
	})
	return after(err, func() (WalkView, error) { return s.Walk(ctx, a) })
}

// oddDays is how long a measurement that is far off is asked about.
const oddDays = 21

// odd lists measurements that lie far outside what was believed and that nobody has spoken of.
func (s *season) odd(past rotation.Past) []OddView {
	out := []OddView{}
	for _, o := range past.Odd {
		i, ok := s.measuredAt[o.ID]
		if !ok || s.measured[i].Answer != "" || o.At.Before(s.now.AddDate(0, 0, -oddDays)) {
			continue
		}
		m := s.measured[i]
		v := OddView{ID: o.ID, PaddockID: m.PaddockID, Paddock: s.names[m.PaddockID], At: o.At, Believed: o.Believed, Measured: o.Measured}
		v.Question = "More than growth can have made: another paddock, or another calibration?"
		if o.Surprise < 0 {
			v.Question = "Less than was left to grow: another paddock, another calibration, or did something eat it?"
		}
		out = append(out, v)
	}
	return out
}

func (s *season) massView(st rotation.Standing) MassView {
	v := MassView{Mass: st.Mass, HalfWidth: st.HalfWidthAt(s.now, st.Mass), Guessed: st.Guessed}
	if st.Guessed {
		v.Sources = "nobody has measured it: midway between residual and entry"
		return v
	}
	at := st.MeasuredAt
	v.MeasuredAt, v.Looks, v.Factor, v.FactorHalf = &at, st.Looks, st.Factor, st.FactorHalf
	days := s.now.Sub(at).Hours() / 24
	from := fmt.Sprintf("%d walks and looks", st.Looks)
	if st.Looks == 1 {
		from = "one walk"
	}
	v.Sources = fmt.Sprintf("%s, the last %s", from, ago(days))
	if days >= 1 {
		v.Sources += fmt.Sprintf("; since then growth by the curve × %.2f", st.Factor)
		if s.weather != nil && len(s.weather.Days) > 0 {
			v.Sources += " and the weather"
		}
		v.Sources += ", less what stock ate"
	}
	return v
}

func ago(days float64) string {
	switch d := math.Floor(days); {
	case d < 1:
		return "today"
	case d < 2:
		return "yesterday"
	default:
		return fmt.Sprintf("%.0f days ago", d)
	}
}
