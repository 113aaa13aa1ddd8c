package farm

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"

	"fjell/core/forage"
	"fjell/core/quantity"
	"fjell/core/reference"
	"fjell/core/working"
	"fjell/internal/store"
)

// MeasureInput is what was read in a paddock by one method.
type MeasureInput struct {
	PaddockID string        `json:"paddock_id"`
	Method    forage.Method `json:"method" enum:"plate,stick,clip,plain"`
	Readings  []float64     `json:"readings" nullable:"false"`
	// Figures that turn readings into mass; those left out follow the sward.
	Slope     *float64 `json:"slope_kg_per_cm,omitempty"`
	Intercept *float64 `json:"intercept_kg,omitempty"`
	Cover     *float64 `json:"canopy_cover,omitempty"`
	PerCm     *float64 `json:"mass_per_cm,omitempty"`
	DryShare  *float64 `json:"dry_matter_share,omitempty"`
	Quadrat   *float64 `json:"quadrat_m2,omitempty"`
}

// NewMeasurement is a measurement to keep.
type NewMeasurement struct {
	ID string `json:"id"`
	MeasureInput
	Guess      *float64  `json:"guess_kg_dm_ha,omitempty"`
	Note       string    `json:"note,omitempty"`
	MeasuredAt time.Time `json:"measured_at"`
	ReplacesID *string   `json:"replaces_id,omitempty"`
	Confirmed  bool      `json:"confirmed,omitempty"`
}

// MeasureView is what readings come to: statistics of the readings, and forage mass give or take.
type MeasureView struct {
	Sample    forage.SampleOut `json:"sample"`
	Unit      quantity.Unit    `json:"unit"`
	Mass      working.Figure   `json:"mass"`
	HalfWidth float64          `json:"half_width_kg_dm_ha"`
	More      *int             `json:"more_for_ten_percent" nullable:"true"`
	Advised   int              `json:"readings_advised"`
	Advice    string           `json:"advice"`

	figures map[string]float64
	shared  float64
}

// protocols names the sampling protocol behind each method.
var protocols = map[forage.Method]string{forage.Plate: "plate_walk", forage.Stick: "height_and_cover", forage.Clip: "clip_pasture", forage.Plain: "eye_estimate"}

// Measure works out what readings come to. Nothing is written.
func (s *Service) Measure(ctx context.Context, a Actor, in MeasureInput) (MeasureView, error) {
	row, err := find[store.Paddock](s.DB.WithContext(ctx), a.FarmID, "paddock_id", in.PaddockID)
	if err != nil {
		return MeasureView{}, err
	}
	sward, err := reference.Load().Sward(row.SwardID)
	if err != nil {
		return MeasureView{}, err
	}
	return measure(in, sward)
}

func measure(in MeasureInput, sward reference.Sward) (MeasureView, error) {
	if err := judge(in, true); err != nil {
		return MeasureView{}, err
	}
	if len(in.Readings) == 0 {
		return MeasureView{}, quantity.Refuse("readings", 0, "enter at least one reading")
	}
	if len(in.Readings) > 500 {
		return MeasureView{}, quantity.Refuse("readings", len(in.Readings), "at most 500 readings in a paddock")
	}
	one, unit, figures, err := reader(in, sward)
	if err != nil {
		return MeasureView{}, err
	}
	masses := make([]float64, len(in.Readings))
	var steps []working.Step
	for i, r := range in.Readings {
		if unit == quantity.Centimetre {
			if _, p := quantity.Bands["height_cm"].Check(fmt.Sprintf("readings[%d]", i), r); p != nil && r > quantity.Bands["height_cm"].Most {
				return MeasureView{}, p
			}
		}
		out, err := one(r)
		if err != nil {
			return MeasureView{}, err
		}
		masses[i] = out
	}
	byReading, _, err := forage.Sample(forage.SampleIn{Readings: in.Readings})
	if err != nil {
		return MeasureView{}, err
	}
	byMass, massSteps, err := forage.Sample(forage.SampleIn{Readings: masses})
	if err != nil {
		return MeasureView{}, err
	}
	protocol, err := reference.Load().Protocol(protocols[in.Method])
	if err != nil {
		return MeasureView{}, err
	}
	share := protocol.MethodCV.Typical
	hw := forage.HalfWidth(byMass.Mean, byMass, share, protocol.BetweenCV.Typical)
	for _, st := range massSteps {
		terms := make([]working.Term, len(st.Terms))
		for i, t := range st.Terms {
			if t.Unit == quantity.None && t.Symbol != "t" && t.Symbol != "√n" {
				t.Unit = quantity.ForageMass
			}
			terms[i] = t
		}
		steps = append(steps, working.New(st.Label+" of the masses", st.Formula, st.Value, quantity.ForageMass, terms...))
	}
	steps = append(steps,
		working.New("Method's own error, ± at 95 %", "1.96 × e × M", 1.96*share*byMass.Mean, quantity.ForageMass,
			working.T("e", "error of the method", share, quantity.Share), working.T("M", "mean mass", byMass.Mean, quantity.ForageMass)),
		working.New("±, joined by root of squares", "√ ( a² + b² )", hw, quantity.ForageMass),
		working.New("Forage mass", "M", byMass.Mean, quantity.ForageMass, working.T("M", "mean of the masses", byMass.Mean, quantity.ForageMass)))
	v := MeasureView{Sample: byReading, Unit: unit, Mass: working.Of(protocol.Name+"; "+protocol.Source, steps...), HalfWidth: hw,
		Advised: protocol.Readings.Min, Advice: "Keep off " + strings.ReplaceAll(strings.Join(protocol.Avoid[:min(3, len(protocol.Avoid))], ", "), "_", " ") + ".", figures: figures, shared: 1.96 * share * byMass.Mean}
	if byReading.ReadingsFor != nil {
		more := max(0, *byReading.ReadingsFor-byReading.N)
		v.More = &more
	}
	return v, nil
}

// reader gives the function from one reading to forage mass for a method, with the unit read and the figures used.
func reader(in MeasureInput, sward reference.Sward) (func(float64) (float64, error), quantity.Unit, map[string]float64, error) {
	pick := func(given *float64, usual float64) *float64 {
		if given != nil {
			return given
		}
		return &usual
	}
	run := func(m forage.MassIn) (float64, error) {
		out, _, err := forage.Mass(m)
		return out.Mass, err
	}
	switch in.Method {
	case forage.Plate:
		if sward.Plate == nil && (in.Slope == nil || in.Intercept == nil) {
			return nil, "", nil, quantity.Refuse("method", string(in.Method), "a plate does not read %s: measure height and cover, or clip", sward.Name)
		}
		line := reference.PlateLine{}
		if sward.Plate != nil {
			line = *sward.Plate
		}
		slope, intercept := pick(in.Slope, line.Slope), pick(in.Intercept, line.Intercept)
		return func(r float64) (float64, error) {
			return run(forage.MassIn{Method: forage.Plate, Slope: slope, Intercept: intercept, Height: &r})
		}, quantity.Centimetre, map[string]float64{"slope_kg_per_cm": *slope, "intercept_kg": *intercept}, nil
	case forage.Stick:
		cover := pick(in.Cover, 0.85)
		if *cover < 0 || *cover > 1 {
			return nil, "", nil, quantity.Refuse("canopy_cover", *cover, "must be between 0 and 100 %%")
		}
		perCm := pick(in.PerCm, sward.PerCm(*cover))
		return func(r float64) (float64, error) { return heightMass(sward, r, *perCm), nil },
			quantity.Centimetre, map[string]float64{"canopy_cover": *cover, "mass_per_cm": *perCm, "stop_height_cm": sward.StopHeight, "residual_kg_dm_ha": sward.Residual}, nil
	case forage.Clip:
		if in.Quadrat == nil {
			return nil, "", nil, quantity.Refuse("quadrat_m2", nil, "say how large your frame is")
		}
		if in.DryShare == nil {
			return nil, "", nil, quantity.Refuse("dry_matter_share", nil, "say how much of the fresh weight is dry matter: dry one clip to know")
		}
		return func(r float64) (float64, error) {
			return run(forage.MassIn{Method: forage.Clip, Wet: &r, DryShare: in.DryShare, Quadrat: in.Quadrat})
		}, quantity.Gram, map[string]float64{"dry_matter_share": *in.DryShare, "quadrat_m2": *in.Quadrat}, nil
	case forage.Plain:
		return func(r float64) (float64, error) { return r, nil }, quantity.ForageMass, map[string]float64{}, nil
	}
	return nil, "", nil, quantity.Refuse("method", string(in.Method), "must be plate, stick, clip or plain")
}

// heightMass is total mass from a stick height. Below the stop height the stubble is taken in proportion.
func heightMass(sward reference.Sward, height, perCm float64) float64 {
	if height < sward.StopHeight {
		return sward.Residual * height / sward.StopHeight
	}
	return sward.Residual + (height-sward.StopHeight)*perCm
}

// RecordMeasurement keeps a measurement. A correction names the one it replaces, which is kept too.
func (s *Service) RecordMeasurement(ctx context.Context, a Actor, in NewMeasurement) (WalkView, error) {
	if err := clientID("id", in.ID); err != nil {
		return WalkView{}, err
	}
	if err := judge(in, in.Confirmed); err != nil {
		return WalkView{}, err
	}
	if len([]rune(in.Note)) > 500 {
		return WalkView{}, quantity.Refuse("note", nil, "a note has at most 500 letters")
	}
	err := s.atomically(ctx, func(tx *gorm.DB) error {
		repeat, err := once(tx, a.FarmID, in.ID, "measurement", in)
		if err != nil || repeat {
			return err
		}
		now, err := s.Clock.Now(ctx)
		if err != nil {
			return err
		}
		if in.MeasuredAt.After(now.Add(time.Minute)) {
			return quantity.Refuse("measured_at", in.MeasuredAt.Format(time.RFC3339), "a walk cannot lie in the future")
		}
		if in.MeasuredAt.Before(now.AddDate(-5, 0, 0)) {
			return quantity.Refuse("measured_at", in.MeasuredAt.Format(time.RFC3339), "a walk can be written down up to five years later")
		}
		pad, err := find[store.Paddock](tx, a.FarmID, "paddock_id", in.PaddockID)
		if err != nil {
			return err
		}
		sward, err := reference.Load().Sward(pad.SwardID)
		if err != nil {
			return err
		}
		v, err := measure(in.MeasureInput, sward)
		if err != nil {
			return err
		}
		if most := 1.6 * sward.Ceiling; v.Mass.Value > most && !in.Confirmed {
			return &Unusual{[]quantity.Problem{{Field: "readings", Message: fmt.Sprintf("%.0f kg/ha is far more than %s ever carries (about %.0f): right paddock, right meter?", v.Mass.Value, sward.Name, sward.Ceiling)}}}
		}
		if in.ReplacesID != nil {
			if _, err := find[store.Measurement](tx, a.FarmID, "replaces_id", *in.ReplacesID); err != nil {
				return err
			}
		}
		return tx.Create(&store.Measurement{FarmID: a.FarmID, ID: in.ID, PaddockID: in.PaddockID, Method: string(in.Method),
			Figures: store.JSON[map[string]float64]{V: v.figures}, Readings: store.JSON[[]float64]{V: in.Readings}, Guess: in.Guess,
			ForageMass: v.Mass.Value, HalfWidth: v.HalfWidth, SharedError: v.shared, Note: in.Note, MeasuredAt: in.MeasuredAt.UTC(),
			RecordedAt: time.Now().UTC(), RecordedBy: a.UserID, ReplacesID: in.ReplacesID}).Error
	})
	if err != nil {
		return WalkView{}, err
	}
	return s.Walk(ctx, a)
}

// WithdrawMeasurement takes a measurement back; both rows are kept.
func (s *Service) WithdrawMeasurement(ctx context.Context, a Actor, id string) (WalkView, error) {
	err := s.atomically(ctx, func(tx *gorm.DB) error {
		row, err := find[store.Measurement](tx, a.FarmID, "", id)
		if err != nil {
			return err
		}
		row.ID, row.ReplacesID, row.Withdrawn = newID(), &id, true
		row.RecordedAt, row.RecordedBy = time.Now().UTC(), a.UserID
		err = tx.Create(&row).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return quantity.Refuse("measurement", nil, "this measurement was corrected or taken back already")
		}
		return err
	})
	if err != nil {
		return WalkView{}, err
	}
	return s.Walk(ctx, a)
}

// LastMeasurement is the newest measurement of a paddock.
type LastMeasurement struct {
	ID         string        `json:"id"`
	Method     forage.Method `json:"method"`
	Readings   int           `json:"readings"`
	Mass       float64       `json:"forage_mass_kg_dm_ha"`
	HalfWidth  float64       `json:"half_width_kg_dm_ha"`
	Guess      *float64      `json:"guess_kg_dm_ha" nullable:"true"`
	MeasuredAt time.Time     `json:"measured_at"`
}

// WalkStop is one paddock of the walk.
type WalkStop struct {
	PaddockID string           `json:"paddock_id"`
	Name      string           `json:"name"`
	SwardName string           `json:"sward_name"`
	AreaHa    float64          `json:"area_ha"`
	PlateFits bool             `json:"plate_fits"`
	Slope     float64          `json:"slope_kg_per_cm"`
	Intercept float64          `json:"intercept_kg"`
	StopCm    float64          `json:"stop_height_cm"`
	Mass      MassView         `json:"mass"`
	Last      *LastMeasurement `json:"last,omitempty"`
	Today     bool             `json:"measured_today"`
}

// WalkView is the round of paddocks in order of the walk.
type WalkView struct {
	Stops     []WalkStop `json:"stops" nullable:"false"`
	DaysSince *float64   `json:"days_since" nullable:"true"`
}

// Walk lists the paddocks in walking order with what is known of each.
func (s *Service) Walk(ctx context.Context, a Actor) (WalkView, error) {
	se, err := s.season(ctx, a)
	if err != nil {
		return WalkView{}, err
	}
	past := se.recount(se.now)
	last := map[string]store.Measurement{}
	out := WalkView{Stops: []WalkStop{}}
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
	var counts []struct {
		ID string
		N  int
	}
	if err := s.DB.WithContext(ctx).Model(&store.Measurement{}).Select("id, JSON_LENGTH(readings) AS n").
		Where("farm_id = ? AND id IN ?", a.FarmID, ids).Scan(&counts).Error; err != nil {
		return out, err
	}
	readings := map[string]int{}
	for _, c := range counts {
		readings[c.ID] = c.N
	}
	today := store.DayOf(se.now, se.loc)
	for p, pad := range se.paddocks {
		stop := WalkStop{PaddockID: pad.ID, Name: pad.Name, SwardName: pad.sward.Name, AreaHa: pad.shape.AreaHa, PlateFits: pad.sward.Plate != nil,
			StopCm: pad.sward.StopHeight, Mass: se.massView(past.Standing[p])}
		if pad.sward.Plate != nil {
			stop.Slope, stop.Intercept = pad.sward.Plate.Slope, pad.sward.Plate.Intercept
		}
		if m, ok := last[pad.ID]; ok {
			stop.Last = &LastMeasurement{m.ID, forage.Method(m.Method), readings[m.ID], m.ForageMass, m.HalfWidth, m.Guess, m.MeasuredAt}
			stop.Today = store.DayOf(m.MeasuredAt, se.loc) == today
		}
		out.Stops = append(out.Stops, stop)
	}
	return out, nil
}
