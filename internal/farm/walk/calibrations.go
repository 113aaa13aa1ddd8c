package walk

import (
	"context"
	"math"
	"time"

	"fjell/core/forage"
	"fjell/core/measuring"
	"fjell/core/quantity"
	"fjell/core/working"
	"fjell/internal/farm"
	"fjell/internal/farm/facts"
	"fjell/internal/store"
)

// CalibrationInput is heights with clips, for a sward and a season.
type CalibrationInput struct {
	Name        string        `json:"name"`
	Method      string        `json:"method" enum:"plate,stick"`
	SwardID     string        `json:"sward_id,omitempty" doc:"empty: every sward"`
	SeasonFrom  string        `json:"season_from,omitempty" doc:"MM-DD; empty: all year"`
	SeasonUntil string        `json:"season_until,omitempty" doc:"MM-DD, the first day it no longer holds"`
	Pairs       []forage.Pair `json:"pairs" nullable:"false"`
	RestateFrom string        `json:"restate_from,omitempty" doc:"masses since this day are worked out anew; empty: none"`
	Confirmed   bool          `json:"confirmed,omitempty"`
}

// NewCalibration is a calibration with the id its maker gave it.
type NewCalibration struct {
	ID string `json:"id"`
	CalibrationInput
}

// CalibrationView is a calibration with its line.
type CalibrationView struct {
	ID          string        `json:"id"`
	Version     int           `json:"version"`
	Name        string        `json:"name"`
	Method      string        `json:"method"`
	SwardID     string        `json:"sward_id"`
	SwardName   string        `json:"sward_name"`
	SeasonFrom  string        `json:"season_from"`
	SeasonUntil string        `json:"season_until"`
	MadeOn      string        `json:"made_on"`
	Pairs       []forage.Pair `json:"pairs" nullable:"false"`
	Slope       float64       `json:"slope_kg_per_cm"`
	Intercept   float64       `json:"intercept_kg"`
	R2          float64       `json:"r_squared"`
	Error       float64       `json:"residual_standard_error_kg"`
	Retired     bool          `json:"retired"`
	InUse       bool          `json:"in_use"` // today, on its swards
	Low         float64       `json:"height_low_cm"`
	High        float64       `json:"height_high_cm"`
}

// CalibrationsView is every calibration of the farm, and what the last change did.
type CalibrationsView struct {
	Calibrations []CalibrationView `json:"calibrations" nullable:"false"`
	Restated     int               `json:"restated"` // measurements whose mass was worked out anew
}

// FitCalibration is the line through pairs. Nothing is written.
func (s *Service) FitCalibration(in CalibrationInput) (forage.CalibrateOut, []working.Step, error) {
	if err := farm.Judge(in, true); err != nil {
		return forage.CalibrateOut{}, nil, err
	}
	return forage.Calibrate(forage.CalibrateIn{Pairs: in.Pairs})
}

// KeepCalibration fits a line through pairs and takes it into use; masses since a day can be worked out anew from the
// readings on record, and the earlier ones are kept.
func (s *Service) KeepCalibration(ctx context.Context, a farm.Actor, in NewCalibration) (CalibrationsView, error) {
	if err := farm.CheckID("id", in.ID); err != nil {
		return CalibrationsView{}, err
	}
	var err error
	if in.Name, err = farm.CheckName("name", in.Name); err != nil {
		return CalibrationsView{}, err
	}
	if in.Method != "plate" && in.Method != "stick" {
		return CalibrationsView{}, quantity.Refuse("method", in.Method, "a plate or a height is calibrated")
	}
	if in.SwardID != "" {
		if _, err := facts.FindSward(s.DB.WithContext(ctx), a.FarmID, "sward_id", in.SwardID); err != nil {
			return CalibrationsView{}, err
		}
	}
	for field, day := range map[string]string{"season_from": in.SeasonFrom, "season_until": in.SeasonUntil} {
		if _, err := time.Parse(time.DateOnly, "2024-"+day); day != "" && err != nil {
			return CalibrationsView{}, quantity.Refuse(field, day, "must be a day of the year, such as 06-15")
		}
	}
	if (in.SeasonFrom == "") != (in.SeasonUntil == "") {
		return CalibrationsView{}, quantity.Refuse("season_until", nil, "a season has a first day and an end, or neither")
	}
	if err := farm.Judge(in, in.Confirmed); err != nil {
		return CalibrationsView{}, err
	}
	fit, _, err := forage.Calibrate(forage.CalibrateIn{Pairs: in.Pairs})
	if err != nil {
		return CalibrationsView{}, err
	}
	if fit.Slope <= 0 {
		return CalibrationsView{}, quantity.Refuse("pairs", nil, "by these pairs taller grass weighs less: look at them again")
	}
	restated := 0
	err = s.Write(ctx, a, farm.Request{ID: in.ID, Kind: "calibration", Body: in}, func(tx *facts.Writing) error {
		p, err := tx.Picture()
		if err != nil {
			return err
		}
		today := store.DayOf(p.Now, p.Location)
		if err := tx.Create(&store.Calibration{FarmID: a.FarmID, ID: in.ID, Name: in.Name, Method: in.Method, SwardID: in.SwardID, SeasonFrom: in.SeasonFrom,
			SeasonUntil: in.SeasonUntil, MadeOn: today, Pairs: store.JSON[[]forage.Pair]{V: in.Pairs}, Slope: fit.Slope, Intercept: fit.Intercept, RSquared: fit.R2,
			ErrorKg: fit.Error, Version: 1, CreatedAt: time.Now().UTC()}).Error; err != nil {
			return err
		}
		restated, err = restate(tx, in.RestateFrom)
		return err
	})
	return s.restated(ctx, a, restated, err)
}

// RetireInput takes a calibration out of use, or back into it.
type RetireInput struct {
	Retired     bool   `json:"retired"`
	RestateFrom string `json:"restate_from,omitempty"`
}

// RetireCalibration takes a calibration out of use or back into it; masses can be worked out anew.
func (s *Service) RetireCalibration(ctx context.Context, a farm.Actor, id string, version int, in RetireInput) (CalibrationsView, error) {
	restated := 0
	err := s.Write(ctx, a, farm.Request{Kind: "retire calibration", Body: []any{id, version, in}}, func(tx *facts.Writing) error {
		row, err := farm.Find[store.Calibration](tx.DB, a.FarmID, "", id)
		if err != nil {
			return err
		}
		if err := farm.Bump[store.Calibration](tx.DB, a.FarmID, id, version, row.Version, func() any {
			p, err := tx.Picture()
			if err != nil {
				return nil
			}
			return calibrationView(p, row)
		}); err != nil {
			return err
		}
		if err := tx.Model(&row).Where("farm_id = ? AND id = ?", a.FarmID, id).Update("retired", in.Retired).Error; err != nil {
			return err
		}
		restated, err = restate(tx, in.RestateFrom)
		return err
	})
	return s.restated(ctx, a, restated, err)
}

// restated is the calibrations after a change that worked so many masses out anew, if it did not fail.
func (s *Service) restated(ctx context.Context, a farm.Actor, n int, err error) (CalibrationsView, error) {
	return farm.After(err, func() (CalibrationsView, error) {
		v, err := s.Calibrations(ctx, a)
		v.Restated = n
		return v, err
	})
}

// Calibrations lists the farm's calibrations, newest first.
func (s *Service) Calibrations(ctx context.Context, a farm.Actor) (CalibrationsView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return CalibrationsView{}, err
	}
	out := CalibrationsView{Calibrations: []CalibrationView{}}
	today := store.DayOf(p.Now, p.Location)
	used := map[string]bool{}
	for _, pad := range p.Paddocks {
		for _, m := range []forage.Method{forage.Plate, forage.Stick} {
			if c := calibration(p, m, pad.SwardID, today); c != nil {
				used[c.ID] = true
			}
		}
	}
	for i := len(p.Lines) - 1; i >= 0; i-- {
		c := p.Lines[i]
		v := calibrationView(p, c)
		v.InUse = used[c.ID]
		out.Calibrations = append(out.Calibrations, v)
	}
	return out, nil
}

// calibrationView is a calibration with its line.
func calibrationView(p *facts.Picture, c store.Calibration) CalibrationView {
	v := CalibrationView{ID: c.ID, Version: c.Version, Name: c.Name, Method: c.Method, SwardID: c.SwardID, SeasonFrom: c.SeasonFrom, SeasonUntil: c.SeasonUntil, MadeOn: string(c.MadeOn),
		Pairs: c.Pairs.V, Slope: c.Slope, Intercept: c.Intercept, R2: c.RSquared, Error: c.ErrorKg, Retired: c.Retired,
		Low: math.Inf(1), SwardName: "every sward"}
	if sward, err := p.Sward("sward_id", c.SwardID); err == nil {
		v.SwardName = sward.Name
	}
	for _, pair := range v.Pairs {
		v.Low, v.High = math.Min(v.Low, pair.Height), math.Max(v.High, pair.Height)
	}
	return v
}

// calibration is the line that holds for a method on a sward on a day: the latest in use whose season the day is in,
// one made for the sward before one made for all.
func calibration(p *facts.Picture, method forage.Method, swardID string, day store.Day) *store.Calibration {
	if method == forage.PlateCounter {
		method = forage.Plate
	}
	var best *store.Calibration
	for i := range p.Lines {
		c := &p.Lines[i]
		if c.Retired || c.Method != string(method) || c.SwardID != "" && c.SwardID != swardID || !inSeason(c.SeasonFrom, c.SeasonUntil, day) {
			continue
		}
		if best == nil || best.SwardID == "" || c.SwardID != "" {
			best = c // later in the list is newer
		}
	}
	return best
}

// inSeason tells whether a day lies in a stretch of the year, which may run over new year.
func inSeason(from, until string, day store.Day) bool {
	if from == "" || len(day) < 10 {
		return true
	}
	at := string(day)[5:]
	if from < until {
		return at >= from && at < until
	}
	return at >= from || at < until
}

// line is what turns a height into mass in a paddock today; nil where nothing does.
func line(p *facts.Picture, method forage.Method, pad facts.Paddock) *Line {
	if c := calibration(p, method, pad.SwardID, store.DayOf(p.Now, p.Location)); c != nil {
		return &Line{c.ID, c.Name, c.Slope, c.Intercept}
	}
	if method == forage.Plate && pad.Sward.Plate != nil {
		return &Line{Name: "reference line of the sward", Slope: pad.Sward.Plate.Slope, Intercept: pad.Sward.Plate.Intercept}
	}
	return nil
}

// restate works masses since a day out anew, by the lines that are in use now. Each one that changes is put in the
// place of the one before, which is kept. Lines somebody typed by hand stay as they are.
func restate(tx *facts.Writing, from string) (int, error) {
	a := tx.Actor
	if from == "" {
		return 0, nil
	}
	p, err := tx.Anew()
	if err != nil {
		return 0, err
	}
	since, err := store.Day(from).Time(p.Location)
	if err != nil {
		return 0, quantity.Refuse("restate_from", from, "must be a day, such as 2026-05-01")
	}
	standing := map[string]bool{}
	for _, m := range p.Measured {
		standing[m.ID] = true
	}
	var rows []store.Measurement
	if err := tx.Order("measured_at, id").Find(&rows, "farm_id = ? AND measured_at >= ? AND method IN ?", a.FarmID, since.UTC(), []string{"plate", "plate_counter", "stick"}).Error; err != nil {
		return 0, err
	}
	var paddocks []store.Paddock
	if err := tx.Find(&paddocks, "farm_id = ?", a.FarmID).Error; err != nil {
		return 0, err
	}
	swards := map[string]string{}
	for _, pad := range paddocks {
		swards[pad.ID] = pad.SwardID
	}
	changed := 0
	for _, row := range rows {
		if !standing[row.ID] {
			continue
		}
		again, err := again(p, a, row, swards[row.PaddockID])
		if err != nil || again == nil {
			if err != nil {
				return 0, err
			}
			continue
		}
		if err := tx.Create(again).Error; err != nil {
			return 0, err
		}
		changed++
	}
	return changed, nil
}

// again is a measurement by the line that is in use now; nil where that changes nothing.
func again(p *facts.Picture, a farm.Actor, row store.Measurement, swardID string) (*store.Measurement, error) {
	sward, err := p.Sward("sward_id", swardID)
	if err != nil {
		return nil, err
	}
	if row.CalibrationID == nil && row.Details.V.Slope != nil && (sward.Plate == nil || *row.Details.V.Slope != sward.Plate.Slope) {
		return nil, nil // typed by hand
	}
	in := row.Details.V
	in.Method, in.Readings = forage.Method(row.Method), row.Readings.V
	in.Slope, in.Intercept, in.LineName = nil, nil, ""
	var id *string
	if c := calibration(p, in.Method, swardID, store.DayOf(row.MeasuredAt, p.Location)); c != nil {
		in.Slope, in.Intercept, in.LineName, id = &c.Slope, &c.Intercept, c.Name, &c.ID
	}
	v, err := measuring.Of(in, sward)
	if err != nil {
		return nil, nil // the line does not reach so far down: the mass stays as it was
	}
	if math.Abs(v.Mass.Value-row.ForageMass) < 1e-6 {
		return nil, nil
	}
	out := measurementRow(a, farm.NewID(), row.PaddockID, in, v)
	out.CalibrationID, out.Note, out.MeasuredAt, out.Source, out.Guess, out.RecordedBy = id, row.Note, row.MeasuredAt, row.Source, row.Guess, row.RecordedBy
	out.ReplacesID, out.Reason = &row.ID, "another calibration"
	return &out, nil
}

// MetersInput is spots read with two meters.
type MetersInput struct {
	Spots []forage.Spot `json:"spots" nullable:"false"`
}

// MetersView compares two meters, with the working.
type MetersView struct {
	forage.Trust
	Figure working.Figure `json:"figure"`
}

// CompareMeters says how two meters differ and which to trust.
func (s *Service) CompareMeters(in MetersInput) (MetersView, error) {
	if err := farm.Judge(in, true); err != nil {
		return MetersView{}, err
	}
	trust, steps, err := forage.TrustOf(in.Spots)
	if err != nil {
		return MetersView{}, err
	}
	figure := working.Of("the same spots read with both, in kg DM/ha", steps...)
	figure.Value, figure.Unit = trust.Compare.Mean, quantity.ForageMass
	return MetersView{trust, figure}, nil
}

// WalkerView is how a walker's eye does.
type WalkerView struct {
	forage.Sight
	UserID  string         `json:"user_id"`
	Name    string         `json:"name"`
	Guesses []GuessPoint   `json:"guesses" nullable:"false"`
	Biased  working.Figure `json:"bias_figure"`
	Spreads working.Figure `json:"spread_figure"`
}

// GuessPoint is one guess against what was measured.
type GuessPoint struct {
	At       time.Time `json:"at"`
	Paddock  string    `json:"paddock"`
	Guess    float64   `json:"guess_kg_dm_ha"`
	Measured float64   `json:"measured_kg_dm_ha"`
	Off      float64   `json:"off"` // share by which the guess lies above
	Near     bool      `json:"near"`
}

// guessesShown is how many of a walker's latest guesses are told one by one; all of a year count.
const guessesShown = 200

// guessesOf are what a person guessed before they measured, oldest first.
func guessesOf(p *facts.Picture, userID string) []forage.Guessed {
	var out []forage.Guessed
	for _, r := range p.Measured {
		if guessed(r, userID) {
			out = append(out, forage.Guessed{Guess: *r.Guess, Measured: r.ForageMass})
		}
	}
	return out
}

// guessed tells whether a measurement by a person has a guess that it can be held against.
func guessed(r store.Measurement, userID string) bool {
	return r.RecordedBy == userID && r.Guess != nil && *r.Guess > 0 && r.Method != "plain" && r.Method != "eye"
}

// Eyes tells of every walker who guessed how near the eye comes.
func (s *Service) Eyes(ctx context.Context, a farm.Actor) ([]WalkerView, error) {
	p, err := s.Picture(ctx, a)
	if err != nil {
		return nil, err
	}
	members, err := s.Members(ctx, a)
	if err != nil {
		return nil, err
	}
	out := []WalkerView{}
	for _, m := range members {
		v := WalkerView{UserID: m.UserID, Name: m.Name, Guesses: []GuessPoint{}}
		var list []forage.Guessed
		for _, r := range p.Measured {
			if !guessed(r, m.UserID) {
				continue
			}
			g := forage.Guessed{Guess: *r.Guess, Measured: r.ForageMass}
			off, near := g.Off()
			list = append(list, g)
			v.Guesses = append(v.Guesses, GuessPoint{r.MeasuredAt, p.Names[r.PaddockID], g.Guess, g.Measured, off, near})
		}
		sight, steps, err := forage.JudgeEye(list)
		if err != nil {
			return nil, err
		}
		v.Guesses = v.Guesses[max(0, len(v.Guesses)-guessesShown):]
		if len(list) > 0 {
			const source = "the latest guesses, each against what was measured after it"
			v.Sight, v.Biased, v.Spreads = sight, working.Of(source, steps[0]), working.Of(source, steps[1])
			out = append(out, v)
		}
	}
	return out, nil
}
